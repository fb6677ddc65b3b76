package table

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"testing"
)

// TestTheMostFrequentGroupsAndTheRest compares with counting by hand, on columns at random.
func TestTheMostFrequentGroupsAndTheRest(t *testing.T) {
	s := rand.New(rand.NewPCG(8, 1))
	for range 200 {
		k, n := 1+s.IntN(20), s.IntN(60)
		c := &Column{Name: "g", Kind: Category}
		counts := make([]int, k)
		for i := range k {
			c.Levels = append(c.Levels, fmt.Sprint("level ", i))
		}
		for range n {
			code := int32(s.IntN(k+1) - 1)
			c.Codes = append(c.Codes, code)
			if code >= 0 {
				counts[code]++
			}
		}
		top := 1 + s.IntN(9)
		got := c.TopGroups(top)
		if k <= top {
			if got != c {
				t.Fatalf("%d groups of %d are another column", k, top)
			}
			continue
		}
		if len(got.Levels) != top+1 || got.Levels[top] != fmt.Sprintf("%d others", k-top) || !slices.IsSorted(positions(c, got.Levels[:top])) {
			t.Fatalf("the top %d of %d are %q", top, k, got.Levels)
		}
		least := n
		for _, level := range got.Levels[:top] {
			least = min(least, counts[slices.Index(c.Levels, level)])
		}
		for i, code := range c.Codes {
			switch {
			case code < 0 && got.Codes[i] != MissingCode, code >= 0 && got.Codes[i] < 0:
				t.Fatal("a missing value has a group, or a group is missing")
			case code >= 0 && got.Codes[i] < int32(top) && got.Levels[got.Codes[i]] != c.Levels[code]:
				t.Fatal("a row is in another group than before")
			case code >= 0 && got.Codes[i] == int32(top) && counts[code] > least:
				t.Fatalf("%s stands with the rest and is more frequent than one that does not", c.Levels[code])
			}
		}
	}
}

// positions are where levels stand in a column.
func positions(c *Column, levels []string) (at []int) {
	for _, level := range levels {
		at = append(at, slices.Index(c.Levels, level))
	}
	return at
}

// TestNumbersThatAreGroupsAreNamedInFewDigits holds that what computing left behind is not named,
// that values that only it tells apart are, and that the exact value is kept beside its name.
func TestNumbersThatAreGroupsAreNamedInFewDigits(t *testing.T) {
	sum := 0.1
	sum += 0.2
	for _, test := range []struct {
		values []float64
		levels []string
		exact  map[string]string
	}{
		{[]float64{0.1, sum, 2031}, []string{"0.1", "0.3", "2031"}, map[string]string{"0.3": "0.30000000000000004"}},
		{[]float64{0.3, sum}, []string{"0.3", "0.30000000000000004"}, nil},
		{[]float64{1.0 / 3, 1e300}, []string{"0.333333333", "1e+300"}, map[string]string{"0.333333333": "0.3333333333333333"}},
	} {
		got := NewNumbers("dose", test.values).AsGroups(10)
		if !slices.Equal(got.Levels, test.levels) || !maps.Equal(got.Exact, test.exact) {
			t.Errorf("%v: %q, %v", test.values, got.Levels, got.Exact)
		}
	}
}
