package mark

import (
	"fmt"
	"math"
	"slices"
	"sync"

	"copperlark/core/confound"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// Related asks all rows what they tell of a relation of two numbers and of other columns held fixed: it is what all rows
// answer to package confound. Its rows are those that have x and y. Columns may be tried at the same time.
type Related struct {
	*Elsewhere
	one sync.Mutex // what groups the sample has no row of is noted
}

// Line implements confound.All.
func (r *Related) Line() *summary.Moments {
	r.one.Lock()
	defer r.one.Unlock()
	return r.line()
}

func (r *Related) line() *summary.Moments {
	if sums := r.Sums(nil); sums != nil {
		return &sums.All
	}
	return nil
}

// Groups implements confound.All.
func (r *Related) Groups(groups *table.Column) []summary.Moments {
	r.one.Lock()
	defer r.one.Unlock()
	if !r.Whole.Reads(groups) {
		return nil
	}
	if sums := r.Sums(groups); sums != nil {
		return sums.Groups
	}
	return nil
}

// Number implements confound.All. Of a number that no row is without, all rows tell x and y already.
func (r *Related) Number(z *table.Column) *confound.Three {
	r.one.Lock()
	defer r.one.Unlock()
	if !r.Whole.Reads(z) {
		return nil
	}
	with := &summary.Value{Column: z.Name}
	ask := func(words string, x, y *summary.Value) *summary.Moments {
		if answer := r.Whole.Ask(words, r.question(x, y)); answer != nil {
			all := answer.All()
			return &all
		}
		return nil
	}
	whole, xz := r.line(), ask(fmt.Sprintf("how x goes with %s", z.Prose()), r.X, with)
	zy := ask(fmt.Sprintf("how %s goes with y", z.Prose()), with, r.Y)
	if whole == nil || xz == nil || zy == nil {
		return nil
	}
	if xz.N == whole.N {
		return &confound.Three{XY: *whole, XZ: *xz, ZY: *zy}
	}
	has := *r.Elsewhere
	has.Needs = append(slices.Clip(has.Needs), summary.Need{Column: z.Name})
	xy := has.sums(fmt.Sprintf("sums of rows that have %s", z.Prose()), r.X, r.Y, nil)
	if xy == nil {
		return nil
	}
	return &confound.Three{XY: xy.All, XZ: *xz, ZY: *zy}
}

// Parts implements confound.All.
func (r *Related) Parts(z *table.Column, cuts []float64) []summary.Moments {
	r.one.Lock()
	defer r.one.Unlock()
	if !r.Whole.Reads(z) {
		return nil
	}
	edges := make([]float64, len(cuts))
	for i, cut := range cuts {
		edges[i] = math.Nextafter(cut, math.Inf(1)) // a value at a cut lies below it
		if i > 0 && edges[i] <= edges[i-1] {
			return nil
		}
	}
	answer := r.Whole.Ask(fmt.Sprintf("sums in each of %d parts of %s", len(cuts)+1, z.Prose()),
		r.question(r.X, r.Y, summary.Key{Kind: summary.Edges, Of: &summary.Value{Column: z.Name}, Edges: edges}))
	if answer == nil {
		return nil
	}
	out := make([]summary.Moments, len(cuts)+1)
	for _, g := range answer.Groups {
		at := min(max(int(g.Numbers[0])+1, 0), len(cuts)) // below the first edge -1
		out[at] = out[at].With(g.Moments)
	}
	return out
}
