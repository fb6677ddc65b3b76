package app

import (
	"bytes"
	"compress/gzip"
	"context"
	"errors"
	"fmt"
	"io"
	"math"
	"slices"
	"strings"
	"sync"
	"testing"
	"time"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/sentence"
	"copperlark/core/table"
)

func TestPasswords(t *testing.T) {
	hash := HashPassword("correct horse")
	if !passwordMatches("correct horse", hash) || passwordMatches("correct hors", hash) || passwordMatches("", "") ||
		passwordMatches("x", "$argon2id$v=19$m=1$x$y") {
		t.Error("a password is judged wrongly")
	}
	if hash == HashPassword("correct horse") || strings.Contains(hash, "horse") {
		t.Error("two hashes of a password are the same, or show it")
	}
}

// TestGuessingIsSlowedDown holds that tries are counted before they are looked at, that
// guesses wait longer and longer, and that somebody else's guesses keep the owner waiting
// only a little.
func TestGuessingIsSlowedDown(t *testing.T) {
	now := time.Date(2029, 1, 1, 0, 0, 0, 0, time.UTC)
	s := newSignIns(1, func() time.Time { return now })
	var waits []time.Duration
	refused := 0
	for range 12 { // one guesser, all at once
		wait, _, err := s.count("anwen", "6.6.6.6")
		if err != nil {
			refused++
			continue
		}
		waits = append(waits, wait)
	}
	if len(waits) < 7 || waits[4] != 0 || waits[5] < time.Second || waits[6] < 3*time.Second || refused == 0 {
		t.Errorf("the guesser waits %v, and is refused %d times", waits, refused)
	}
	if wait, _, err := s.count("anwen", "1.2.3.4"); err != nil || wait > longestAccount {
		t.Errorf("the owner waits %v (%v)", wait, err)
	}
	s.right("anwen", "1.2.3.4")
	if wait, _, err := s.count("anwen", "1.2.3.4"); err != nil || wait != 0 {
		t.Errorf("after the right password: %v, %v", wait, err)
	}
	now = now.Add(forgetTries)
	if wait, _, err := s.count("anwen", "6.6.6.6"); err != nil || wait != 0 {
		t.Errorf("after a while: %v, %v", wait, err)
	}
}

// TestPasswordsAreCheckedAFewAtOnce holds the places, and that whoever goes away frees theirs.
func TestPasswordsAreCheckedAFewAtOnce(t *testing.T) {
	s := newSignIns(2, time.Now)
	s.pause = func(context.Context, time.Duration) error { return nil }
	var mutex sync.Mutex
	var all sync.WaitGroup
	checking, most := 0, 0
	for i := range 40 {
		all.Go(func() {
			if _, _, err := s.count(fmt.Sprint(i), fmt.Sprint(i)); err != nil {
				t.Error(err)
			}
			_ = s.turn(t.Context(), 0, func() {
				mutex.Lock()
				checking++
				most = max(most, checking)
				mutex.Unlock()
				time.Sleep(time.Millisecond)
				mutex.Lock()
				checking--
				mutex.Unlock()
			})
		})
	}
	all.Wait()
	if most > 2 || s.queued != 0 {
		t.Errorf("%d were checked at once; %d are queued after all", most, s.queued)
	}
}

func TestFileNames(t *testing.T) {
	for name, want := range map[string]string{"../../etc/passwd": "passwd", `C:\data\hives.csv`: "hives.csv", "a\x00b\n.csv": "ab.csv",
		"": "table", "/": "table", strings.Repeat("é", 300): strings.Repeat("é", 200)} {
		if got := cleanFileName(name); got != want {
			t.Errorf("%q is called %q", name, got)
		}
	}
	for file, want := range map[string]string{"hive_seasons.csv.gz": "Hive seasons", "élan.tsv": "Élan", ".csv": "Table",
		"noEnding": "No ending"} {
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
	skewed := column("skewed", func(i int) float64 { return math.Exp(float64(i) / 6) })
	days := &table.Column{Name: "days", Kind: table.Date, Numbers: column("", func(i int) float64 { return float64(i/3) * 86400 }).Numbers}
	for _, test := range []struct {
		columns []*table.Column
		x, y    string
		says    string // among what is typed
	}{
		{[]*table.Column{group, rising, noise, curved, code}, "rising", "curved", "plot curved against rising\n"},
		{[]*table.Column{rising, day, group}, "day", "rising", "plot rising against day"},
		{[]*table.Column{rising, days}, "days", "rising", "plot mean(rising) against days\nas line"},
		{[]*table.Column{group, rising}, "group", "rising", "as boxes"},
		{[]*table.Column{rising}, "rising", "", "as histogram"},
		{[]*table.Column{skewed}, "skewed", "", "log x"},
		{[]*table.Column{skewed, rising}, "skewed", "rising", "log x"},
		{[]*table.Column{group}, "group", "", "order group by count() descending"},
		{[]*table.Column{code}, "code", "", "as histogram"},
	} {
		data, err := table.New(test.columns...)
		if err != nil {
			t.Fatal(err)
		}
		if d := firstLook(data); d.X.Column != test.x || d.Y.Column != test.y {
			t.Errorf("of %v the first look is %s against %s", data.Names(), d.Y.Column, d.X.Column)
		} else if typed := sentence.Print(d); !strings.Contains(typed, test.says) {
			t.Errorf("of %v the first look is\n%s", data.Names(), typed)
		} else if wrong := chart.Check(d, data); wrong != nil {
			t.Errorf("of %v the first look cannot be drawn: %v", data.Names(), wrong)
		}
	}
}

// TestColoursThatAreHardToSeeAreTold holds what is said of own colours of values.
func TestColoursThatAreHardToSeeAreTold(t *testing.T) {
	for _, test := range []struct {
		colours map[string]string
		want    []string
	}{
		{map[string]string{"Tarn": "#004488", "Brindle": "#b4531a"}, nil},
		{map[string]string{"Tarn": "#ffffee"}, []string{"Tarn is hard to see on white paper"}},
		{map[string]string{"Tarn": "#3c7d22", "Brindle": "#a8501a"}, []string{"Brindle and Tarn are hard to tell apart for some readers"}}, // green and red for many men
	} {
		if got := hard(test.colours); !slices.Equal(got, test.want) {
			t.Errorf("%v: %q, want %q", test.colours, got, test.want)
		}
	}
	column := &table.Column{Name: "district", Kind: table.Category, Levels: []string{"t", "b"}, Codes: []int32{0, 1}}
	spelled := Meaning{Codes: map[string]string{"t": "Tarn"}, Colours: map[string]string{"t": "#004488"}}.spelled(column)
	if light, dark := colour.OfGroups(spelled.Levels, spelled.Colours); light[0] != "#004488" || dark[0] == "#004488" ||
		light[1] != colour.Hedgerow.Light[1] {
		t.Errorf("Tarn is %s and %s, b is %s", light[0], dark[0], light[1])
	}
}

// TestPackingTwiceIsNoWayAroundTheAllowance lets files of a few kilobytes arrive, each of which would be
// gigabytes: none is written to disk beyond what its size allows.
func TestPackingTwiceIsNoWayAroundTheAllowance(t *testing.T) {
	pack := func(raw []byte) []byte {
		var out bytes.Buffer
		w := gzip.NewWriter(&out)
		_, _ = w.Write(raw)
		_ = w.Close()
		return out.Bytes()
	}
	table := bytes.Repeat([]byte("1,2,3\n"), 30<<20)
	once := pack(table)
	for name, test := range map[string]struct {
		raw     []byte
		most    int64
		refused bool
	}{
		"a table":           {pack(table[:6<<20]), 6 << 20, false},
		"a large one":       {once, 64 << 20, true},
		"packed twice":      {pack(bytes.Repeat(once, 40)), 3 << 20, true},
		"a packed workbook": {pack(append([]byte("PK\x03\x04"), bytes.Repeat([]byte{7}, 900_000)...)), 1 << 20, false},
	} {
		written := int64(0)
		err := spooled(io.Discard, bytes.NewReader(test.raw), func(n int64) error { written += n; return nil })
		var invalid *Invalid
		if errors.As(err, &invalid) != test.refused || written > test.most {
			t.Errorf("%s: of %d bytes %d were written: %v", name, len(test.raw), written, err)
		}
	}
}
