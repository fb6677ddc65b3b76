package confound

import (
	"context"
	"math"
	"slices"
	"sort"
	"sync"

	"copperlark/core/distribution"
	"copperlark/core/model"
	"copperlark/core/parallel"
	"copperlark/core/table"
)

// Verdict says what a column does to the relation of x and y.
type Verdict string

// The verdicts, in the order in which they are told. A slope is clear when its 95 % interval
// leaves zero out.
const (
	Reverses     Verdict = "reverses"      // the signs differ, and both are clear
	ExplainsAway Verdict = "explains away" // the slope is clear overall, and not within
	Hides        Verdict = "hides"         // the slope is clear within, and not overall
	Differs      Verdict = "differs"       // the groups have slopes of their own, or the slope changes with a number
	Weakens      Verdict = "weakens"       // within, the slope is at least a quarter nearer zero
	Strengthens  Verdict = "strengthens"   // within, it is at least a quarter further from zero
	Holds        Verdict = "holds"         // clear overall and within, and about the same
	CannotTell   Verdict = "cannot tell"   // none of these is clear
	TooAlike     Verdict = "too alike"     // a copy, or near copy, of x or of y: it is set aside
	TooLittle    Verdict = "too little to say"
)

// Verdicts lists them in that order.
var Verdicts = []Verdict{Reverses, ExplainsAway, Hides, Differs, Weakens, Strengthens, Holds, CannotTell, TooAlike, TooLittle}

// Claims reports whether a verdict says that a column does something to the relation.
func (v Verdict) Claims() bool { return slices.Index(Verdicts, v) < slices.Index(Verdicts, Holds) }

// Finding is what was found of one candidate, or of two together.
type Finding struct {
	Column  string
	With    string // a second column, held fixed together with the first
	Verdict Verdict

	Overall, Within                 float64 // slope of y on x over the rows that have the candidate; within groups, or at a fixed value of a number
	OverallInterval, WithinInterval model.Interval
	Change                          float64 // (Within - Overall)/|Overall|
	Groups                          int     // groups that were large enough; 0 for a number
	Slopes                          []GroupSlope
	Moved                           *Moderated // of a number: how the slope changes with it
	Bent                            bool       // the number was held fixed along a curve
	BetweenX                        float64    // share of the spread of x that lies between the groups
	Rows                            int
	Exact                           bool   // slopes and intervals are of all rows, of which those at hand are a sample
	AlikeTo                         string // of TooAlike: x or y
	Missing                         string // of TooLittle: what there is too little of

	pWithin, pOverall, pEqual float64
	df                        int // of Within
	sampled                   int // of what is of all rows: how many rows at hand have the candidate
	wider                     wider
	difference                model.Interval
}

// GroupSlope is the slope of one group.
type GroupSlope struct {
	Level    string
	N        int
	Slope    float64
	Interval model.Interval
}

// The thresholds of a verdict.
const (
	level         = 0.95
	differsAt     = 0.01
	smallestGroup = 5
	notedChange   = 0.25
	mostGroups    = 60
	alike         = 0.98 // a correlation, or the root of eta squared
	mostTested    = 30_000
)

// Rank tries each column as a hidden explanation of the relation between x and y
// and gives the findings, the most telling first. x, y are in drawn space, one for
// each entry of rows, which are the rows of the columns. done is told each time a
// candidate is ready, one at a time, and may be nil. Candidates are tried on all
// cores.
//
// A column of groups is compared within its groups of at least 5 rows with a
// spread of x; a column of numbers is held fixed as itself, or along a curve where that
// matters. The two strongest are taken together too, and told where they do together what
// neither does alone. Claims that need a slope or a difference to be clear use p values
// adjusted for all candidates (Holm 1979, Scandinavian Journal of Statistics 6). Whether
// slopes differ is tested over a common curve, whatever the spread (TestSlopes, Moderate),
// above 30,000 rows by a sample of these. A change counts when Within - Overall
// is other than zero, by a bootstrap over rows.
func Rank(ctx context.Context, x, y []float64, rows []uint32, candidates []*table.Column, done func(Finding)) ([]Finding, error) {
	return RankAlike(ctx, x, y, rows, candidates, nil, NoOthers, done)
}

// RankAlike is Rank where rows are alike: intervals and p values are those of so many fewer rows; and where they are a
// sample of all, as far as these answer.
func RankAlike(
	ctx context.Context,
	x, y []float64,
	rows []uint32,
	candidates []*table.Column,
	alike *Alike,
	all All,
	done func(Finding),
) ([]Finding, error) {
	findings := make([]Finding, len(candidates))
	var telling sync.Mutex
	err := parallel.Each(ctx, len(candidates), func(i int) error {
		findings[i] = try(ctx, x, y, rows, candidates[i], all)
		if alike != nil {
			alike.widen(ctx, &findings[i], x, y, rows, candidates[i])
		}
		if done != nil {
			telling.Lock()
			defer telling.Unlock()
			done(findings[i])
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	if both := together(ctx, x, y, rows, candidates, findings); both != nil {
		if alike != nil {
			both.wider = widestOf(findings)
			both.applyWider()
		}
		findings = append(findings, *both)
	}
	judge(findings)
	findings = withoutEmptyPairs(findings)
	sort.SliceStable(findings, func(i, j int) bool {
		a, b := slices.Index(Verdicts, findings[i].Verdict), slices.Index(Verdicts, findings[j].Verdict)
		if a != b {
			return a < b
		}
		return math.Abs(findings[i].Change) > math.Abs(findings[j].Change)
	})
	return findings, ctx.Err()
}

// withoutEmptyPairs leaves out two columns together that do no more than one of them.
func withoutEmptyPairs(findings []Finding) []Finding {
	alone := map[string]Verdict{}
	for _, f := range findings {
		if f.With == "" {
			alone[f.Column] = f.Verdict
		}
	}
	return slices.DeleteFunc(findings, func(f Finding) bool {
		if f.With == "" {
			return false
		}
		strong := f.Verdict == Reverses || f.Verdict == ExplainsAway || f.Verdict == Hides
		return !strong || alone[f.Column] == f.Verdict || alone[f.With] == f.Verdict || alone[f.Column] == Reverses ||
			alone[f.With] == Reverses
	})
}

// judge turns what was computed into verdicts, with p values adjusted over all
// candidates.
func judge(findings []Finding) {
	within, equal, moved := make([]float64, len(findings)), make([]float64, len(findings)), make([]float64, len(findings))
	for i, f := range findings {
		within[i], equal[i], moved[i] = f.pWithin, f.pEqual, f.pMoved()
	}
	within, equal, moved = bonferroni(within), holm(equal), holm(moved)
	for i := range findings {
		if f := &findings[i]; f.Missing == "" && f.AlikeTo == "" {
			f.Change = (f.Within - f.Overall) / math.Abs(f.Overall)
			f.Verdict = f.judged(within[i], equal[i], moved[i])
		}
	}
}

// pMoved is how probable a change of the slope as large as this one is by chance, from the
// width of its 95 % interval.
func (f *Finding) pMoved() float64 {
	half := (f.difference.High - f.difference.Low) / 2
	if f.Missing != "" || f.AlikeTo != "" || !(half > 0) {
		return math.NaN()
	}
	return 2 * distribution.NormalSurvival(math.Abs(f.Within-f.Overall)*normal975/half)
}

func (f *Finding) judged(adjustedWithin, adjustedEqual, adjustedMoved float64) Verdict {
	clearOverall, clearWithin := f.pOverall < 1-level, f.pWithin < 1-level
	sameSign := f.Overall*f.Within > 0
	moved := adjustedMoved < 1-level
	noted := moved && math.Abs(f.Change) >= notedChange
	switch {
	case clearOverall && adjustedWithin < 1-level && f.Overall*f.Within < 0:
		return Reverses
	case clearOverall && noted && (!clearWithin || !sameSign):
		return ExplainsAway
	case !clearOverall && adjustedWithin < 1-level && noted:
		return Hides
	case adjustedEqual < differsAt:
		return Differs
	case clearOverall && sameSign && noted && math.Abs(f.Within) < math.Abs(f.Overall):
		return Weakens
	case clearOverall && sameSign && noted:
		return Strengthens
	case clearOverall && clearWithin && sameSign && math.Abs(f.Change) < notedChange:
		return Holds
	}
	return CannotTell
}

// bonferroni multiplies p values by how many there are: that the slopes within other columns
// are clear says nothing of whether this one is.
func bonferroni(p []float64) []float64 {
	known := 0.0
	for _, v := range p {
		if !math.IsNaN(v) {
			known++
		}
	}
	adjusted := slices.Clone(p)
	for i := range adjusted {
		adjusted[i] = min(1, adjusted[i]*known)
	}
	return adjusted
}

// holm adjusts p values so that the chance of one false claim among all is below
// the level; NaN stays and does not count.
func holm(p []float64) []float64 {
	adjusted := slices.Clone(p)
	var known []int
	for i, v := range p {
		if !math.IsNaN(v) {
			known = append(known, i)
		}
	}
	sort.Slice(known, func(a, b int) bool { return p[known[a]] < p[known[b]] })
	largest := 0.0
	for rank, i := range known {
		largest = max(largest, min(1, p[i]*float64(len(known)-rank)))
		adjusted[i] = largest
	}
	return adjusted
}
