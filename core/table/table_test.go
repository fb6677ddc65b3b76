package table

import (
	"fmt"
	"math"
	"math/rand/v2"
	"reflect"
	"slices"
	"strings"
	"testing"
)

var nan = math.NaN()

func TestTablesAreWhole(t *testing.T) {
	a, b := NewNumbers("a", []float64{1, 2}), NewCategory("b", []string{"x", ""})
	data, err := New(a, b)
	if err != nil || data.Rows() != 2 || data.Column("B") != b || data.Column("c") != nil {
		t.Fatalf("%v, %d rows", err, data.Rows())
	}
	for name, columns := range map[string][]*Column{
		"unequal": {a, NewNumbers("c", []float64{1})}, "twice": {a, NewNumbers("a", []float64{1, 2})}, "nameless": {NewNumbers("", nil)},
	} {
		if _, err := New(columns...); err == nil {
			t.Errorf("%s columns make a table", name)
		}
	}
}

func TestReadable(t *testing.T) {
	for name, want := range map[string]string{"hive_type": "Hive type", "queenAge": "Queen age", "  a__b.c ": "a b c", "pH": "pH",
		"GDP": "GDP", "kg": "kg", "élan": "Élan", "___": "___", "Größe": "Größe", "x": "x"} {
		if got := Readable(name); got != want {
			t.Errorf("%q is read as %q, want %q", name, got, want)
		}
	}
	for name, want := range map[string]string{"Honey yield": "honey yield", "GDP": "GDP", "": "", "Élan": "élan"} {
		if got := Prose(name); got != want {
			t.Errorf("%q stands in prose as %q, want %q", name, got, want)
		}
	}
}

func TestNumbersReadBackAsTheyWere(t *testing.T) {
	for v, want := range map[float64]string{0: "0", math.Copysign(0, -1): "0", 1: "1", -2.5: "-2.5", 1e14: "100000000000000",
		1e15: "1000000000000000", 1e16: "1e+16", 1e-7: "0.0000001", 1e-8: "1e-08", 0.30000000000000004: "0.30000000000000004"} {
		if got := FormatNumber(v); got != want {
			t.Errorf("%v is written %q, want %q", v, got, want)
		}
	}
}

func TestValuesAsText(t *testing.T) {
	day := &Column{Name: "d", Kind: Date, Grain: Day, Numbers: []float64{86400, nan, -86400}}
	second := &Column{Name: "d", Kind: Date, Grain: Second, Numbers: []float64{3661}}
	if day.Value(0) != "1970-01-02" || day.Value(1) != "" || day.Value(2) != "1969-12-31" || second.Value(0) != "1970-01-01 01:01:01" {
		t.Errorf("%q %q %q %q", day.Value(0), day.Value(1), day.Value(2), second.Value(0))
	}
	if c := NewCategory("c", []string{"b", "", "a", "b"}); c.MissingCount() != 1 || !reflect.DeepEqual(c.Levels, []string{"a", "b"}) ||
		c.Value(0) != "b" || c.Value(1) != "" {
		t.Errorf("%+v", c)
	}
}

func TestSortingLevelsKeepsTheRows(t *testing.T) {
	c := &Column{Kind: Category, Levels: []string{"low", "high", "middle"}, Codes: []int32{0, 1, -1, 2, 1}}
	before := make([]string, c.Len())
	for i := range before {
		before[i] = c.Value(i)
	}
	c.SortLevels(func(a, b string) bool { return a < b })
	for i := range before {
		if c.Value(i) != before[i] {
			t.Errorf("row %d became %q", i, c.Value(i))
		}
	}
	if !reflect.DeepEqual(c.Levels, []string{"high", "low", "middle"}) {
		t.Errorf("levels %v", c.Levels)
	}
}

func TestNumbersAsGroups(t *testing.T) {
	c := NewNumbers("n", []float64{10, 2, nan, 10, -1.5})
	groups := c.AsGroups(3)
	if groups == nil || !reflect.DeepEqual(groups.Levels, []string{"-1.5", "2", "10"}) ||
		!reflect.DeepEqual(groups.Codes, []int32{2, 1, -1, 2, 0}) {
		t.Errorf("%+v", groups)
	}
	if c.AsGroups(2) != nil {
		t.Error("three values make two groups")
	}
	for want, values := range map[bool][][]float64{true: {{0, 1, 1, nan}, {2, 4, 6}},
		false: {{0.5, 1}, {nan}, {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13}}} {
		for _, v := range values {
			if got := NewNumbers("n", v).SuggestsGroups(); got != want {
				t.Errorf("%v suggests groups: %v", v, got)
			}
		}
	}
}

func TestWholeNumbersAndYearsAreToldApart(t *testing.T) {
	for _, test := range []struct {
		values       []float64
		whole, years bool
	}{{[]float64{1600, nan, 2200}, true, true}, {[]float64{1599, 2029}, true, false}, {[]float64{2029, 2201}, true, false},
		{[]float64{2029, 2029.5}, false, false}, {[]float64{nan}, false, false}, {nil, false, false}} {
		if whole, years := NewNumbers("n", test.values).Whole(); whole != test.whole || years != test.years {
			t.Errorf("%v: whole %v, years %v", test.values, whole, years)
		}
	}
}

func TestSelectCopies(t *testing.T) {
	a := NewNumbers("a", []float64{1, 2, 3})
	data, _ := New(a, NewCategory("b", []string{"x", "y", "z"}))
	picked := data.Select([]int{2, 0, 2})
	if picked.Rows() != 3 || picked.Column("a").Value(0) != "3" || picked.Column("b").Value(1) != "x" {
		t.Errorf("%v", picked.Column("a").Numbers)
	}
	picked.Column("a").Numbers[0] = 99
	if a.Numbers[2] != 3 {
		t.Error("a selection shares its values with the table")
	}
}

func TestPickedRowsAndMissingOnes(t *testing.T) {
	for _, c := range []*Column{NewNumbers("x", []float64{1, nan, 3}), NewCategory("c", []string{"b", "", "a"})} {
		picked := c.Pick([]int{2, -1, 0, 1, 2})
		want := []int{2, -1, 0, -1, 2}
		for i, row := range want {
			if picked.Missing(i) != (row < 0) || row >= 0 && picked.Value(i) != c.Value(row) {
				t.Errorf("%s: row %d is %q, missing %v", c.Name, i, picked.Value(i), picked.Missing(i))
			}
		}
	}
}

func TestOrderingOfRows(t *testing.T) {
	for name, test := range map[string]struct {
		column   *Column
		up, down string
	}{
		"numbers": {NewNumbers("x", []float64{2, nan, -1, 2}), "2 0 3 1", "0 3 2 1"},
		"groups stand in their own order": {&Column{Kind: Ordered, Codes: []int32{1, 0, -1, 2}, Levels: []string{"small", "large", "huge"}},
			"1 0 3 2", "3 0 1 2"},
		"texts stand by the alphabet": {&Column{Kind: Text, Codes: []int32{0, 1, -1, 2}, Levels: []string{"m", "z", "a"}}, "3 0 1 2",
			"1 0 3 2"},
		"yes comes after no": {&Column{Kind: YesNo, Codes: []int32{1, 0, -1, 1}, Levels: []string{"no", "yes"}}, "1 0 3 2",
			"0 3 1 2"},
	} {
		for _, descending := range []bool{false, true} {
			rows := []int{0, 1, 2, 3}
			slices.SortStableFunc(rows, test.column.Ordering(descending))
			want := test.up
			if descending {
				want = test.down
			}
			if got := strings.Trim(fmt.Sprint(rows), "[]"); got != want {
				t.Errorf("%s, descending %v: %s, want %s", name, descending, got, want)
			}
		}
	}
}

// Texts of all lengths keep their codes, those that share a hash or their bytes too.
func TestCoderAgainstAMap(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 3))
	coder, known := NewCoder(), map[string]int32{}
	for range 20_000 {
		text := make([]byte, source.IntN(11))
		for i := range text {
			text[i] = "ab\x00\xff"[source.IntN(4)]
		}
		code, seen := known[string(text)]
		if !seen {
			code = int32(len(known))
			known[string(text)] = code
		}
		if got := coder.Code(text); got != code || coder.Levels()[got] != string(text) {
			t.Fatalf("%q has code %d, want %d", text, got, code)
		}
	}
}

// TestGroupsOfNumbersAreFoundOnce holds that the groups of a column are shared by those who ask, by copies of it under
// other names, and never by a copy whose values are others; and that limits hold whoever asked before.
func TestGroupsOfNumbersAreFoundOnce(t *testing.T) {
	c := NewNumbers("dose", []float64{2, 1, nan, 2, 3})
	if _, err := New(c); err != nil {
		t.Fatal(err)
	}
	if c.AsGroups(2) != nil || c.AsGroups(3) == nil || c.AsGroups(2) != nil {
		t.Error("a limit holds only for who asks first")
	}
	renamed, changed := *c, *c
	renamed.Label, changed.Numbers = "Dose", []float64{5, 6, 7, 8, 9}
	first, again := c.AsGroups(9), renamed.AsGroups(9)
	if &first.Codes[0] != &again.Codes[0] || again.Label != "Dose" || first.Label != "" {
		t.Error("a copy under another name finds its groups anew, or loses its name")
	}
	if other := changed.AsGroups(9); len(other.Levels) != 5 || other.Levels[0] != "5" {
		t.Errorf("a copy with other values has the groups %v", other.Levels)
	}
}
