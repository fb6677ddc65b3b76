package mark

import (
	"cmp"
	"fmt"
	"slices"

	"copperlark/core/describe"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// Profile is what all rows of a table tell of a column.
type Profile struct {
	Rows, N int64           // of the table, and how many have a value
	Moments summary.Moments // of numbers, as those of x
	Box     *describe.Box   // of numbers; nil where quartiles are not known
	Levels  []describe.Bar  // of groups, the most frequent first; nil where they are too many to be asked
}

// mostLevels is how many different values a column of the sample may have whose values are counted in all rows; each must stand in
// five rows there, on average, as texts that are all different make a group of each row.
const mostLevels = 1000

// ProfileOf asks all rows about a column; false while they have not told how many there are and have a value.
func ProfileOf(whole *summary.Whole, c *table.Column) (p Profile, known bool) {
	if whole.Bars != "" {
		return p, false
	}
	e := &Elsewhere{Whole: whole, Unknown: map[string]map[string]int64{}}
	rows := whole.Ask("how many rows there are", e.question(nil, nil))
	if c.Kind.Coded() {
		return e.groups(p, rows, c)
	}
	if !whole.Reads(c) {
		return p, false
	}
	answer := whole.Ask(fmt.Sprintf("sums of %s", c.Prose()), e.question(&summary.Value{Column: c.Name}, nil))
	if rows == nil || answer == nil {
		return p, false
	}
	p.Rows, p.Moments = rows.Rows(), answer.All()
	if p.N = p.Moments.N; c.Kind != table.Number || p.N == 0 {
		return p, p.N > 0
	}
	var values []float64
	for _, v := range c.Numbers {
		if c.Drawable(v) {
			values = append(values, v)
		}
	}
	if boxes, found := e.boxesOf(nil, c, map[int32][]float64{0: values}); found {
		p.Box = boxes[0].Box
	}
	return p, true
}

// groups is the profile of a column of groups.
func (e *Elsewhere) groups(p Profile, rows *summary.Answer, c *table.Column) (Profile, bool) {
	spelling := e.spelling(c)
	if spelling.Bars != "" {
		return p, false
	}
	if used := len(c.UsedLevels().Levels); used > mostLevels || 5*used > len(c.Codes) {
		one := *e
		one.Needs = []summary.Need{{Column: c.Name}}
		answer := e.Whole.Ask(fmt.Sprintf("how many rows have %s", c.Prose()), one.question(nil, nil))
		if rows == nil || answer == nil {
			return p, false
		}
		p.Rows, p.N = rows.Rows(), answer.Rows()
		return p, true
	}
	answer := e.Whole.Ask(fmt.Sprintf("how many rows each value of %s has", c.Prose()),
		e.question(nil, nil, summary.Key{Kind: summary.Level, Column: c.Name}))
	if rows == nil || answer == nil {
		return p, false
	}
	p.Rows, p.N, p.Levels = rows.Rows(), answer.Rows(), []describe.Bar{}
	for _, g := range answer.Groups {
		name := g.Texts[0]
		if code, known := spelling.Code(name); known {
			name = c.Levels[code]
		}
		p.Levels = append(p.Levels, describe.Bar{Name: name, Count: int(g.N)})
	}
	slices.SortStableFunc(p.Levels, func(a, b describe.Bar) int { return cmp.Compare(b.Count, a.Count) })
	return p, true
}
