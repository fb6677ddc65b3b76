package table

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

// TestRowsAreFoundByTheirKeys in random tables of words, whole numbers, dates and missing values, by looking at every row for every
// key as the slow obvious twin; among the keys are some that no row has, and some that no column can hold.
func TestRowsAreFoundByTheirKeys(t *testing.T) {
	source := rand.New(rand.NewPCG(27, 4))
	for range 300 {
		rows := source.IntN(40)
		words, numbers, days := make([]string, rows), make([]float64, rows), make([]float64, rows)
		for i := range rows {
			words[i] = []string{"", "Tarn", "Brindle", "שדה", "一"}[source.IntN(5)]
			numbers[i] = []float64{0, math.Copysign(0, -1), 7, 1e308, -2, math.NaN()}[source.IntN(6)]
			days[i] = float64(source.IntN(3)) * 86400
		}
		columns := []*Column{NewCategory("district", words), NewNumbers("season", numbers),
			{Name: "day", Kind: Date, Grain: Day, Numbers: days}}[:1+source.IntN(3)]
		var keys [][]string
		for range source.IntN(12) {
			key := []string{"Tarn", "7.0", "1970-01-02"}[:len(columns)]
			if rows > 0 && source.IntN(3) > 0 {
				key = KeyOf(columns, source.IntN(rows))
			}
			if source.IntN(6) == 0 {
				key = []string{"nowhere", "no number", "no day"}[:len(columns)]
			}
			keys = append(keys, key)
		}
		got := RowsOfKeys(columns, keys)
		for k, key := range keys {
			want := -1
			for row := rows - 1; row >= 0; row-- {
				held := KeyOf(columns, row)
				if slices.Equal(held, key) || len(key) > 1 && key[1] == "7.0" &&
					slices.Equal(held, append([]string{key[0], "7"}, key[2:]...)) {
					want = row
				}
			}
			if got[k] != want {
				t.Fatalf("key %q of %d columns: row %d, want %d", key, len(columns), got[k], want)
			}
		}
	}
}

// TestWhatTellsRowsApart of a table is a column, or two; no measure, nothing with a gap, no counter.
func TestWhatTellsRowsApart(t *testing.T) {
	hive := NewCategory("hive", []string{"a", "a", "b", "b"})
	season := NewNumbers("season", []float64{2030, 2031, 2030, 2031})
	for _, test := range []struct {
		columns []*Column
		want    string
	}{
		{[]*Column{hive, season}, "[hive season]"},
		{[]*Column{hive, NewNumbers("line", []float64{1, 2, 3, 4}), NewNumbers("kg", []float64{0.5, 1.5, 2.5, 3.5})}, "[]"},
		{[]*Column{hive, NewCategory("tag", []string{"x", "y", "z", ""})}, "[]"},
		{[]*Column{hive, season, NewCategory("tag", []string{"x", "y", "z", "w"})}, "[tag]"},
	} {
		data, err := New(test.columns...)
		if err != nil {
			t.Fatal(err)
		}
		key, err := TellApart(t.Context(), data)
		names := []string{}
		for _, c := range key {
			names = append(names, c.Name)
		}
		if err != nil || fmt.Sprint(names) != test.want {
			t.Errorf("%v: %v (%v), want %s", data.Names(), names, err, test.want)
		}
	}
}
