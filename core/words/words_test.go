package words

import (
	"math/rand/v2"
	"strings"
	"testing"
)

func TestNearest(t *testing.T) {
	names := []string{"honey_kg", "forage_ha", "district", "season", "fox"}
	for word, want := range map[string]string{"honey_kgs": "honey_kg", "distirct": "district", "FORAGE_HA": "forage_ha", "sesaon": "season",
		"wholly_other": "", "": "", "for": "forage_ha", "fo": "fox", "Dis": "district"} {
		if got := Nearest(word, names); got != want {
			t.Errorf("nearest to %q is %q, want %q", word, got, want)
		}
	}
}

func TestListsAreEnglish(t *testing.T) {
	for _, test := range []struct {
		list    []string
		or, and string
	}{
		{nil, "", ""}, {[]string{"a"}, "a", "a"}, {[]string{"a", "b"}, "a or b", "a and b"},
		{[]string{"a", "b", "c", "d"}, "a, b, c or d", "a, b, c and d"},
	} {
		if or, and := Or(test.list), And(test.list); or != test.or || and != test.and {
			t.Errorf("%v: %q and %q", test.list, or, and)
		}
	}
}

func TestAColumnThatIsNotThereIsAdvisedOn(t *testing.T) {
	names := []string{"honey_kg", "district"}
	for name, want := range map[string]string{"honey_gk": "did you mean honey_kg?", "colony": "choose one of the table's columns",
		strings.Repeat("x", 5000): "choose one of the table's columns"} {
		if message, advice := UnknownColumn(name, names); message != "no column "+name || advice != want {
			t.Errorf("%.20s: %.40q, %q", name, message, advice)
		}
	}
}

// distanceByTrying is the least number of single changes between two short words, by trying all: the slow way.
func distanceByTrying(a, b []rune, most int) int {
	switch {
	case most < 0:
		return 100
	case len(a) == 0:
		return len(b)
	case len(b) == 0:
		return len(a)
	case a[0] == b[0]:
		return distanceByTrying(a[1:], b[1:], most)
	}
	best := 1 + min(distanceByTrying(a[1:], b, most-1), distanceByTrying(a, b[1:], most-1), distanceByTrying(a[1:], b[1:], most-1))
	if len(a) > 1 && len(b) > 1 && a[0] == b[1] && a[1] == b[0] {
		best = min(best, 1+distanceByTrying(a[2:], b[2:], most-1))
	}
	return best
}

func TestDistancesAgreeWithTryingAllChanges(t *testing.T) {
	source := rand.New(rand.NewPCG(6, 6))
	word := func() []rune {
		out := make([]rune, source.IntN(7))
		for i := range out {
			out[i] = []rune("abç")[source.IntN(3)]
		}
		return out
	}
	for range 3000 {
		a, b := word(), word()
		if got, want := editDistance(a, b), distanceByTrying(a, b, 7); got != want || got != editDistance(b, a) {
			t.Fatalf("%q and %q are %d apart, want %d", string(a), string(b), got, want)
		}
	}
}
