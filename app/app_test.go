package app

import (
	"strings"
	"testing"
	"time"

	"copperlark/core/table"
)

func TestPasswords(t *testing.T) {
	hash := HashPassword("correct horse")
	if !passwordMatches("correct horse", hash) || passwordMatches("correct hors", hash) || passwordMatches("", "") || passwordMatches("x", "$argon2id$v=19$m=1$x$y") {
		t.Error("a password is judged wrongly")
	}
	if hash == HashPassword("correct horse") || strings.Contains(hash, "horse") {
		t.Error("two hashes of a password are the same, or show it")
	}
}

func TestGuessingIsSlowedDown(t *testing.T) {
	tries, now := &signInTries{failed: map[string][]time.Time{}}, time.Date(2029, 1, 1, 0, 0, 0, 0, time.UTC)
	for range 5 {
		if !tries.allowed("a", now) {
			t.Fatal("refused too early")
		}
		tries.note("a", now)
	}
	if tries.allowed("a", now.Add(30*time.Second)) || !tries.allowed("b", now) || !tries.allowed("a", now.Add(61*time.Second)) {
		t.Error("guessing is judged wrongly")
	}
}

func TestFileNames(t *testing.T) {
	for name, want := range map[string]string{"../../etc/passwd": "passwd", `C:\data\hives.csv`: "hives.csv", "a\x00b\n.csv": "ab.csv", "": "table", "/": "table", strings.Repeat("é", 300): strings.Repeat("é", 200)} {
		if got := cleanFileName(name); got != want {
			t.Errorf("%q is called %q", name, got)
		}
	}
	for file, want := range map[string]string{"hive_seasons.csv.gz": "Hive seasons", "élan.tsv": "Élan", ".csv": "Table", "noEnding": "No ending"} {
		if got := NameOfFile(file); got != want {
			t.Errorf("%q becomes %q, want %q", file, got, want)
		}
	}
}

func TestTheFirstLook(t *testing.T) {
	column := func(name string, of func(i int) float64) *table.Column {
		values := make([]float64, 60)
		for i := range values {
			values[i] = of(i)
		}
		return table.NewNumbers(name, values)
	}
	rising := column("rising", func(i int) float64 { return float64(i) + float64((i*7)%13)*2 })
	curved := column("curved", func(i int) float64 { return float64(i*i) + float64(i%5)*9 })
	noise := column("noise", func(i int) float64 { return float64((i * 37) % 61) })
	code := column("code", func(i int) float64 { return float64(i % 2) })
	day := &table.Column{Name: "day", Kind: table.Date, Numbers: noise.Numbers}
	names := make([]string, 60)
	for i := range names {
		names[i] = []string{"a", "b"}[i%2]
	}
	group := table.NewCategory("group", names)
	for _, test := range []struct {
		columns []*table.Column
		x, y    string
	}{
		{[]*table.Column{group, rising, noise, curved, code}, "rising", "curved"},
		{[]*table.Column{rising, day, group}, "day", "rising"},
		{[]*table.Column{group, rising}, "group", "rising"},
		{[]*table.Column{rising}, "", "rising"},
		{[]*table.Column{group}, "", ""},
	} {
		data, err := table.New(test.columns...)
		if err != nil {
			t.Fatal(err)
		}
		if d := firstLook(data); d.X != test.x || d.Y != test.y {
			t.Errorf("of %v the first look is %s against %s", data.Names(), d.Y, d.X)
		}
	}
}

// TestTheCacheForgetsWhatWasUsedLeast fills it beyond its limit.
func TestTheCacheForgetsWhatWasUsedLeast(t *testing.T) {
	make100 := func() *table.Table {
		data, _ := table.New(table.NewNumbers("x", make([]float64, 100)))
		return data
	}
	c := &tableCache{limit: 2000, entries: map[int64]*cachedTable{}}
	for id := range int64(3) {
		c.put(id+1, &cachedTable{table: make100(), spaceID: 1, dataset: Dataset{ID: id + 1}})
		c.get(1, 1)
	}
	if _, ok := c.get(1, 1); !ok {
		t.Error("what was used last is gone")
	}
	if _, ok := c.get(1, 2); ok || c.size > c.limit {
		t.Errorf("what was used least is still there; %d bytes", c.size)
	}
	if _, ok := c.get(2, 1); ok {
		t.Error("another space sees a cached table")
	}
	c.drop(1)
	if _, ok := c.get(1, 1); ok {
		t.Error("a dropped dataset is still there")
	}
}
