package table

import (
	"math"
	"slices"
	"strings"
	"testing"
)

func texts(t *Table) (rows []string) {
	for i := range t.Rows() {
		var row []string
		for _, c := range t.Columns() {
			row = append(row, c.Value(i))
		}
		rows = append(rows, strings.Join(row, "|"))
	}
	return rows
}

func made(t *testing.T, columns ...*Column) *Table {
	t.Helper()
	out, err := New(columns...)
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func groups(name string, kind Kind, values ...string) *Column {
	c := &Column{Name: name, Kind: kind}
	for _, v := range values {
		code := int32(slices.Index(c.Levels, v))
		if v == "" {
			code = MissingCode
		} else if code < 0 {
			code = int32(len(c.Levels))
			c.Levels = append(c.Levels, v)
		}
		c.Codes = append(c.Codes, code)
	}
	return c
}

// TestAppended holds what rows that come make of a table, by texts: with keys and without.
func TestAppended(t *testing.T) {
	nan := math.NaN()
	base := made(t, groups("hive", Category, "A", "B", "C"), NewNumbers("kg", []float64{1, 2, nan}), groups("ill", YesNo, "no", "yes", ""))
	before := texts(base)
	more := made(t, NewNumbers("kg", []float64{9, 8, 7}), groups("hive", Category, "D", "B", "D"))
	for _, one := range []struct {
		name     string
		more     *Table
		keys     []string
		rows     string
		replaced int
		problem  string
	}{
		{"behind", more, nil, "A|1|no;B|2|yes;C||;D|9|;B|8|;D|7|", 0, ""},
		{"by key, the last counts", more, []string{"hive"}, "A|1|no;B|8|;C||;D|7|", 1, ""},
		{"nothing", made(t, NewNumbers("kg", nil), groups("hive", Category)), []string{"hive"}, "A|1|no;B|2|yes;C||", 0, ""},
		{"a missing key is a value", made(t, groups("ill", YesNo, "", "yes"), NewNumbers("kg", []float64{5, 6})), []string{"ill"},
			"A|1|no;|6|yes;|5|", 2, ""},
		{"a number as a group", made(t, NewNumbers("hive", []float64{7})), nil, "A|1|no;B|2|yes;C||;7||", 0, ""},
		{"all missing fits any kind", made(t, groups("kg", Text, "", ""), groups("hive", Category, "E", "F")), nil,
			"A|1|no;B|2|yes;C||;E||;F||", 0, ""},
		{"another kind", made(t, groups("kg", Category, "", "much")), nil, "", 0,
			`kg holds numbers, and the rows that come have category there, such as "much"`},
		{"another column", made(t, NewNumbers("weight", []float64{1})), nil, "", 0, `no column "weight"`},
		{"a third answer", made(t, groups("ill", Category, "perhaps")), nil, "", 0, `ill is no or yes`},
		{"no key there", made(t, NewNumbers("kg", []float64{1})), []string{"hive"}, "", 0, "not a column of both"},
		{"no key here", more, []string{"bees"}, "", 0, "not a column of both"},
	} {
		out, replaced, err := Appended(base, one.more, one.keys)
		if one.problem != "" {
			if err == nil || !strings.Contains(err.Error(), one.problem) {
				t.Errorf("%s: %v", one.name, err)
			}
			continue
		}
		if err != nil || strings.Join(texts(out), ";") != one.rows || replaced != one.replaced {
			t.Errorf("%s: %v, %d, %v", one.name, texts(out), replaced, err)
		}
	}
	if !slices.Equal(texts(base), before) {
		t.Error("the table itself was changed")
	}
	twice := made(t, groups("hive", Category, "A", "A"), NewNumbers("kg", []float64{1, 2}))
	if _, _, err := Appended(twice, more, []string{"hive"}); err == nil || !strings.Contains(err.Error(), "A stands in two") {
		t.Errorf("a key that tells nothing apart: %v", err)
	}
	// Two columns never run into each other: a|bc is not ab|c.
	pairs := made(t, groups("x", Text, "a"), groups("y", Text, "bc"))
	if out, replaced, err := Appended(pairs, made(t, groups("x", Text, "ab"), groups("y", Text, "c")), []string{"x", "y"}); err != nil ||
		replaced != 0 || out.Rows() != 2 {
		t.Errorf("keys run together: %d, %v", replaced, err)
	}
}

// FuzzAppended holds that sending the same rows twice by key is as sending them once, and that no row goes.
func FuzzAppended(f *testing.F) {
	f.Add("abc", "bcd")
	f.Add("", "zz")
	f.Fuzz(func(t *testing.T, first, second string) {
		column := func(text string) *Column {
			seen := map[string]bool{}
			var values []string
			for _, r := range text {
				if v := string(r); !seen[v] {
					seen[v] = true
					values = append(values, v)
				}
			}
			return groups("k", Text, values...)
		}
		base, more := made(t, column(first)), made(t, column(second))
		once, replaced, err := Appended(base, more, []string{"k"})
		if err != nil {
			t.Fatal(err)
		}
		again, all, err := Appended(once, more, []string{"k"})
		if err != nil || !slices.Equal(texts(once), texts(again)) || all != more.Rows() || once.Rows() != base.Rows()+more.Rows()-replaced {
			t.Fatalf("%v, then %v: %d, %d, %v", texts(once), texts(again), replaced, all, err)
		}
	})
}
