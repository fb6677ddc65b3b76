package mark

import (
	"cmp"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/describe"
	"copperlark/core/formula"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// Quartiles of all rows of a table that stays elsewhere are found by scans: the sample says about where they are; how many
// rows lie in narrow places about them is counted, until few are left; and the values of these are asked, each with how many
// rows have it. What comes of it is the order statistics themselves, and no estimate.

// The bounds of the scans: how far about a quartile of the sample is looked at first, in standard deviations of its rank;
// into how many places each stretch is cut; how many rows are left before values are asked; and how often it is cut.
const (
	rankDeviations = 5
	placesEach     = 200
	fewValues      = 60_000
	mostCuts       = 4
	mostBoxGroups  = 40
)

var quartiles = [3]float64{0.25, 0.5, 0.75}

// stretch is where a quartile of a group lies: from low up to and without high, with how many rows of the group are below.
type stretch struct {
	low, high float64
	below     int64
	rows      int64
	values    int64 // how many different ones it holds at the most
}

// exactBox is a box of all rows, and how many lie beyond its whiskers, of which few are drawn.
type exactBox struct {
	*describe.Box
	beyond int64
}

// boxesOf finds the boxes of the groups of a column, by their codes, or of all rows under 0 where there is none; values are
// those of the sample, by group. false: not all is known yet, or it cannot be.
func (e *Elsewhere) boxesOf(across *table.Column, value *table.Column, values map[int32][]float64) (map[int32]exactBox, bool) {
	if e == nil || value.Kind != table.Number || len(values) > mostBoxGroups || across != nil && e.spelling(across).Bars != "" {
		return nil, false
	}
	s := &boxScan{e: e, across: across, of: &summary.Value{Column: value.Name}, at: map[int32]*[3]stretch{}, sorted: map[int32][]float64{}}
	for g, list := range values {
		s.sorted[g] = slices.Sorted(slices.Values(list))
	}
	if !s.begin() {
		return nil, false
	}
	for cut := 0; s.left() > fewValues && cut < mostCuts; cut++ {
		if !s.narrow() {
			return nil, false
		}
	}
	found, known := s.values()
	if !known {
		return nil, false
	}
	return s.boxes(found)
}

// boxScan is the boxes while they are found.
type boxScan struct {
	e      *Elsewhere
	across *table.Column
	of     *summary.Value
	at     map[int32]*[3]stretch
	sorted map[int32][]float64 // of the sample
	n      map[int32]int64
}

// question is one by the groups and another key.
func (s *boxScan) question(x *summary.Value, key summary.Key) *summary.Question {
	if s.across == nil {
		return s.e.question(x, nil, key)
	}
	return s.e.question(x, nil, summary.Key{Kind: summary.Level, Column: s.across.Name}, key)
}

// ask asks it: "kg: how many rows …".
func (s *boxScan) ask(words string, q *summary.Question) *summary.Answer {
	return s.e.Whole.Ask(s.of.Column+": "+words, q)
}

// code is the group of this panel that a group of an answer is of; false where it is of none.
func (s *boxScan) code(g *summary.Group) (code int32, known bool) {
	if s.across == nil {
		return 0, s.e.here(g)
	}
	code, known = s.e.code(s.across, len(s.e.Panels), g)
	return code, known && s.e.here(g)
}

// counted asks how many rows of each group lie between edges in their order, -1 being below the first.
func (s *boxScan) counted(words string, edges []float64) map[int32]map[int64]summary.Moments {
	if len(edges) < 2 || len(edges) > summary.MostEdges {
		return nil
	}
	answer := s.ask(words, s.question(s.of, summary.Key{Kind: summary.Edges, Of: s.of, Edges: edges}))
	if answer == nil {
		return nil
	}
	out := map[int32]map[int64]summary.Moments{}
	for i := range answer.Groups {
		g := &answer.Groups[i]
		code, known := s.code(g)
		if !known {
			continue
		}
		if out[code] == nil {
			out[code] = map[int64]summary.Moments{}
		}
		out[code][g.Numbers[0]] = out[code][g.Numbers[0]].With(g.Moments)
	}
	return out
}

// begin looks about the quartiles of the sample.
func (s *boxScan) begin() bool {
	var edges []float64
	for _, values := range s.sorted {
		n := float64(len(values))
		for _, p := range quartiles {
			far := rankDeviations*math.Sqrt(n*p*(1-p)) + 2
			low, high := max(0, int(p*(n-1)-far)), min(len(values)-1, int(p*(n-1)+far)+1)
			edges = append(edges, values[low], math.Nextafter(values[high], math.Inf(1)))
		}
	}
	return s.settle("how many rows lie about the quartiles of the sample", edges)
}

// narrow cuts each stretch into places of equal width.
func (s *boxScan) narrow() bool {
	var edges []float64
	each := min(placesEach, summary.MostEdges/(3*len(s.at))-2)
	for _, three := range s.at {
		for _, one := range three {
			for i := range each + 1 {
				edges = append(edges, one.low+(one.high-one.low)*float64(i)/float64(each))
			}
			edges = append(edges, one.high)
		}
	}
	return s.settle("how many rows lie in narrower places about the quartiles", edges)
}

// settle asks between edges, and finds for each quartile the places that hold its one or two rows.
func (s *boxScan) settle(words string, edges []float64) bool {
	slices.Sort(edges)
	edges = slices.Compact(edges)
	counts := s.counted(words, edges)
	if counts == nil {
		return false
	}
	s.n = map[int32]int64{}
	at := map[int32]*[3]stretch{}
	for g, bins := range counts {
		for _, m := range bins {
			s.n[g] += m.N
		}
		at[g] = &[3]stretch{}
		for q, p := range quartiles {
			one, held := holding(bins, edges, ranks(s.n[g], p))
			if !held {
				return false
			}
			at[g][q] = one
		}
	}
	s.at = at
	return len(at) > 0
}

// ranks are those of the one or two rows between which a quantile lies, by linear interpolation.
func ranks(n int64, p float64) [2]int64 {
	low := int64(math.Floor(p * float64(n-1)))
	return [2]int64{low, min(low+1, n-1)}
}

// holding is the stretch between edges that holds two ranks; false where they lie beyond the edges.
func holding(bins map[int64]summary.Moments, edges []float64, ranks [2]int64) (out stretch, held bool) {
	below := bins[-1].N
	if ranks[0] < below {
		return out, false
	}
	begun := false
	var within summary.Moments
	for i := range len(edges) - 1 {
		n := bins[int64(i)].N
		if !begun && ranks[0] < below+n {
			begun = true
			out.low, out.below = edges[i], below
		}
		below += n
		if begun {
			within = within.With(bins[int64(i)])
		}
		if begun && ranks[1] < below {
			out.high, out.rows, out.values = edges[i+1], within.N, within.N
			if within.XMin == within.XMax {
				out.values = 1
			}
			return out, true
		}
	}
	return out, false
}

// left is how many values all stretches hold at the most.
func (s *boxScan) left() (n int64) {
	for _, three := range s.at {
		for _, one := range three {
			n += one.values
		}
	}
	return n
}

// values asks for the values in the stretches, with how many rows of each group have them.
func (s *boxScan) values() (map[int32][]summary.Group, bool) {
	column := formula.Quoted(s.of.Column)
	if worked, is := s.e.Whole.With[s.of.Column]; is {
		column = "(" + worked + ")"
	}
	var conditions []string
	for _, g := range slices.Sorted(maps.Keys(s.at)) {
		for _, one := range s.at[g] {
			if one.rows > 0 {
				conditions = append(conditions, fmt.Sprintf("%s >= %s and %s < %s", column, table.FormatNumber(one.low), column,
					table.FormatNumber(one.high)))
			}
		}
	}
	within := "(" + strings.Join(slices.Compact(conditions), ") or (") + ")"
	if s.e.Whole.Within != "" {
		within = "(" + s.e.Whole.Within + ") and (" + within + ")"
	}
	if _, err := formula.Parse(within); err != nil {
		return nil, false
	}
	q := s.question(nil, summary.Key{Kind: summary.Level, Column: s.of.Column})
	q.Within = within
	answer := s.ask("the values about the quartiles", q)
	if answer == nil {
		return nil, false
	}
	out := map[int32][]summary.Group{}
	for i := range answer.Groups {
		g := answer.Groups[i]
		code, known := s.code(&g)
		v, err := strconv.ParseFloat(g.Texts[len(g.Texts)-1], 64)
		if known && err == nil {
			g.X = v
			out[code] = append(out[code], g)
		}
	}
	for _, list := range out {
		slices.SortFunc(list, func(a, b summary.Group) int { return cmp.Compare(a.X, b.X) })
	}
	return out, true
}

// ranked is the row of a rank, of those of a stretch.
func ranked(values []summary.Group, one stretch, rank int64) (v float64, found bool) {
	below := one.below
	for _, g := range values {
		if g.X < one.low || g.X >= one.high {
			continue
		}
		if below += g.N; rank < below {
			return g.X, true
		}
	}
	return 0, false
}

// boxes are the quartiles, and what lies beyond the whiskers, which is asked last.
func (s *boxScan) boxes(values map[int32][]summary.Group) (map[int32]exactBox, bool) {
	out := map[int32]exactBox{}
	var edges []float64
	for g, three := range s.at {
		var at [3]float64
		for q, p := range quartiles {
			two := ranks(s.n[g], p)
			low, held := ranked(values[g], three[q], two[0])
			high, too := ranked(values[g], three[q], two[1])
			if !held || !too {
				return nil, false
			}
			at[q] = low + (high-low)*(p*float64(s.n[g]-1)-float64(two[0]))
		}
		b := &describe.Box{N: int(s.n[g]), Q1: at[0], Median: at[1], Q3: at[2], IQR: at[2] - at[0]}
		out[g] = exactBox{Box: b}
		edges = append(edges, b.Q1-1.5*b.IQR, math.Nextafter(b.Q3+1.5*b.IQR, math.Inf(1)))
	}
	slices.Sort(edges)
	edges = slices.Compact(edges)
	counts := s.counted("how far the whiskers reach, and what lies beyond", edges)
	if counts == nil {
		return nil, false
	}
	for g, b := range out {
		out[g] = b.whiskers(counts[g], edges, s.sorted[g])
	}
	return out, true
}

// whiskers finds how far rows within 1.5 interquartile ranges reach, and what lies beyond: the furthest on each side, and those
// of the sample, of as many as there are.
func (b exactBox) whiskers(bins map[int64]summary.Moments, edges, sample []float64) exactBox {
	low, high := b.Q1-1.5*b.IQR, b.Q3+1.5*b.IQR
	b.WhiskerLow, b.WhiskerHigh = math.Inf(1), math.Inf(-1)
	far := map[float64]bool{}
	for bin, m := range bins {
		from := math.Inf(-1)
		if bin >= 0 {
			from = edges[min(int(bin), len(edges)-1)]
		}
		if from >= low && from <= high {
			b.WhiskerLow, b.WhiskerHigh = min(b.WhiskerLow, m.XMin), max(b.WhiskerHigh, m.XMax)
			continue
		}
		b.beyond += m.N
		if from < low {
			far[m.XMin] = true
		} else {
			far[m.XMax] = true
		}
	}
	for _, v := range sample {
		if v < low || v > high {
			far[v] = true
		}
	}
	b.Outliers = slices.Sorted(maps.Keys(far))
	return b
}
