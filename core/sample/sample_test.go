package sample

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// TestGroupsInTurnAreAllSeen has rows that go through their groups again and again, of periods that divide the
// step between rows that are drawn: each group has its share, also where nobody says which groups there are.
func TestGroupsInTurnAreAllSeen(t *testing.T) {
	for _, period := range []int{2, 3, 5, 7, 10, 100} {
		const n, most = 90_000, 900
		codes, counts, blind := make([]int32, n), make([]int, period), make([]int, period)
		for i := range codes {
			codes[i] = int32(i % period)
		}
		for _, row := range Rows(n, most, codes) {
			counts[codes[row]]++
		}
		for _, row := range Rows(n, most, nil) {
			blind[codes[row]]++
		}
		for g := range period {
			if share := most / period; counts[g] < share-1 || counts[g] > share+1 {
				t.Errorf("of %d groups in turn the %d. has %d rows of %d", period, g+1, counts[g], share)
			}
			if blind[g] == 0 {
				t.Errorf("of %d groups in turn the %d. is not seen by whoever does not know them", period, g+1)
			}
		}
	}
}

// TestSamplesAreRowsOfTheTable holds size, order, repetition, small groups and rows without one.
func TestSamplesAreRowsOfTheTable(t *testing.T) {
	source := rand.New(rand.NewPCG(1, 2))
	for range 400 {
		n := 1 + source.IntN(3000)
		most, groups := 1+source.IntN(n+10), 1+source.IntN(40)
		codes := make([]int32, n)
		seen := map[int32]bool{}
		for i := range codes {
			codes[i] = int32(source.IntN(groups)*source.IntN(2)) - 1
			seen[codes[i]] = true
		}
		for _, of := range [][]int32{nil, codes} {
			rows := Rows(n, most, of)
			if n <= most {
				if rows != nil {
					t.Fatalf("%d of %d rows", most, n)
				}
				continue
			}
			if !slices.Equal(rows, Rows(n, most, of)) || !slices.IsSorted(rows) || len(slices.Compact(slices.Clone(rows))) != len(rows) ||
				rows[0] < 0 || rows[len(rows)-1] >= n {
				t.Fatalf("%d of %d rows are %v", most, n, rows)
			}
			if of == nil && len(rows) != most {
				t.Fatalf("%d rows instead of %d", len(rows), most)
			}
			found := map[int32]bool{}
			for _, row := range rows {
				found[codes[row]] = true
			}
			if of != nil && (len(found) != len(seen) || len(rows) > most+len(seen)) {
				t.Fatalf("%d groups of %d are in %d rows of %d", len(found), len(seen), len(rows), most)
			}
		}
	}
	if got := Of([]string{"a", "b", "c"}, []int{2, 0}); got[0] != "c" || got[1] != "a" || len(Of([]int{1, 2}, nil)) != 2 {
		t.Error("values of rows")
	}
}
