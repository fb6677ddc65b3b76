package table

import (
	"math"
	"sort"
	"strconv"
	"sync"

	"copperlark/core/sample"
)

// AsGroups gives a column read as groups: itself when it holds groups already,
// and a new category column with one level for each distinct value when it is a
// column of numbers with at most limit distinct values. Levels of numbers stand
// in numerical order. It gives nil when there would be more than limit groups.
// The groups of a column that stands in a table are found once.
func (c *Column) AsGroups(limit int) *Column {
	if c.Kind.Coded() {
		if len(c.Levels) > limit {
			return nil
		}
		return c
	}
	found := c.facts()
	found.mutex.Lock()
	defer found.mutex.Unlock()
	if found.levels == nil && found.beyond < limit {
		found.find(c, limit)
	}
	if found.levels == nil || len(found.levels) > limit {
		return nil
	}
	groups := &Column{
		Name:    c.Name,
		Label:   c.Label,
		Unit:    c.Unit,
		Meaning: c.Meaning,
		Kind:    Category,
		Codes:   found.codes,
		Levels:  found.levels,
		Exact:   found.exact,
		Colours: c.Colours,
	}
	if len(found.levels) > mostKept {
		found.codes, found.levels, found.exact = nil, nil, nil
	}
	return groups
}

// mostKept is how many groups are kept for the next who asks: of more, as a column of measurements has, the names would
// take more room than the column.
const mostKept = 10_000

// facts are what was found out about a column of numbers or dates: copies of the column share them for as long as they
// share its values.
type facts struct {
	numbers []float64 // whose
	kind    Kind
	grain   Grain

	mutex  sync.Mutex
	beyond int // there are more groups than so many
	codes  []int32
	levels []string // nil until they are found
	exact  map[string]string

	looked, whole, years bool

	counted, repeats bool
}

func factsOf(c *Column) *facts {
	return &facts{numbers: c.Numbers, kind: c.Kind, grain: c.Grain, beyond: -1}
}

// facts are what is known of a column, or room for it where its values are others by now.
func (c *Column) facts() *facts {
	if c.known.isOf(c) {
		return c.known
	}
	return factsOf(c)
}

// isOf reports whether the facts are those of a column as it is now.
func (f *facts) isOf(c *Column) bool {
	return f != nil && f.kind == c.Kind && f.grain == c.Grain && len(f.numbers) == len(c.Numbers) &&
		(len(c.Numbers) == 0 || &f.numbers[0] == &c.Numbers[0])
}

// sampledWhole is how many rows are looked at for whether a column holds whole numbers.
const sampledWhole = 5000

// Whole reports whether all numbers of a column are whole, and whether they are years: all of them from 1600 to 2200.
// 5,000 rows are looked at, drawn at random. Missing values are passed over; without any other it is neither.
func (c *Column) Whole() (whole, years bool) {
	if c == nil || c.Kind != Number {
		return false, false
	}
	found := c.facts()
	found.mutex.Lock()
	defer found.mutex.Unlock()
	if !found.looked {
		found.looked = true
		found.whole, found.years = wholeAndYears(sample.Of(c.Numbers, sample.Rows(len(c.Numbers), sampledWhole, nil)))
	}
	return found.whole, found.years
}

// mostCompared is how many rows are looked at for whether a value stands in several of them.
const mostCompared = 200_000

// Repeats reports whether a value of a column of numbers or dates stands in several rows, among the first 200,000. Missing values
// are passed over.
func (c *Column) Repeats() bool {
	if c == nil || c.Kind.Coded() {
		return false
	}
	found := c.facts()
	found.mutex.Lock()
	defer found.mutex.Unlock()
	if !found.counted {
		found.counted, found.repeats = true, repeats(c)
	}
	return found.repeats
}

func repeats(c *Column) bool {
	values := c.Numbers[:min(len(c.Numbers), mostCompared)]
	seen := make(map[float64]struct{}, min(len(values), 1024))
	rising, last := true, math.Inf(-1)
	for i, v := range values {
		if c.Missing(i) {
			continue
		}
		if rising = rising && v > last; rising { // as long as values rise, none stood before
			last = v
			continue
		}
		if len(seen) == 0 {
			for j, before := range values[:i] {
				if !c.Missing(j) {
					seen[before] = struct{}{}
				}
			}
		}
		if _, is := seen[v]; is {
			return true
		}
		seen[v] = struct{}{}
	}
	return false
}

func wholeAndYears(values []float64) (whole, years bool) {
	some := false
	whole, years = true, true
	for _, v := range values {
		if v != v {
			continue
		}
		some = true
		if v != math.Trunc(v) {
			return false, false
		}
		years = years && v >= 1600 && v <= 2200
	}
	return whole && some, years && some
}

// find finds the groups, where there are no more than so many.
func (f *facts) find(c *Column, limit int) {
	seen := map[float64]struct{}{}
	for i, v := range c.Numbers {
		if c.Missing(i) {
			continue
		}
		if _, ok := seen[v]; !ok {
			if len(seen) == limit {
				f.beyond = limit
				return
			}
			seen[v] = struct{}{}
		}
	}
	values := make([]float64, 0, len(seen))
	for v := range seen {
		values = append(values, v)
	}
	sort.Float64s(values)
	code := make(map[float64]int32, len(values))
	for i, v := range values {
		code[v] = int32(i)
	}
	f.levels, f.exact = c.names(values)
	f.codes = make([]int32, len(c.Numbers))
	for i, v := range c.Numbers {
		f.codes[i] = MissingCode
		if !c.Missing(i) {
			f.codes[i] = code[v]
		}
	}
}

// shownDigits is how many digits numbers that are groups are named with, where that tells them
// apart: what lies behind is what computing left there.
const shownDigits = 9

// names are the names of the different values of a column of numbers or dates as groups, and the
// exact values of those whose name is shorter.
func (c *Column) names(values []float64) (names []string, exact map[string]string) {
	names = make([]string, len(values))
	whole := make([]string, len(values))
	known := map[string]bool{}
	for i, v := range values {
		if whole[i] = FormatNumber(v); c.Kind != Number {
			if whole[i] = c.Kind.of().write(v, c.Grain); whole[i] == "" {
				whole[i] = "beyond 9999: " + FormatNumber(v)
			}
		} else if short, err := strconv.ParseFloat(strconv.FormatFloat(v, 'g', shownDigits, 64), 64); err == nil && !math.IsInf(short, 0) {
			names[i] = FormatNumber(short)
			known[names[i]] = true
		}
	}
	if len(known) < len(values) {
		return whole, nil
	}
	for i, name := range names {
		if name != whole[i] {
			if exact == nil {
				exact = map[string]string{}
			}
			exact[name] = whole[i]
		}
	}
	return names, exact
}
