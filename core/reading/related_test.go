package reading

import (
	"fmt"
	"math"
	"testing"

	"copperlark/core/confound"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// relatedOf is the relation of a table, with its columns that are tried.
func relatedOf(t *testing.T, of *table.Table, typed string, whole *summary.Whole) (
	x, y []float64, rows []uint32, candidates []*table.Column, all confound.All,
) {
	t.Helper()
	document, mistakes := sentence.Parse(typed, of)
	if mistakes != nil {
		t.Fatal(typed, mistakes[0])
	}
	bound := mark.Bind(document, of)
	x, y, rows, err := figure.Relate(t.Context(), bound)
	if err != nil {
		t.Fatal(typed, err)
	}
	return x, y, rows, []*table.Column{of.Column("district"), of.Column("fed"), of.Column("season"), of.Column("height")},
		figure.RelatedElsewhere(bound, whole)
}

// untilKnown does something until all that it asks of all rows is known.
func untilKnown(t *testing.T, whole, sample *table.Table, do func(all *summary.Whole)) {
	t.Helper()
	known := map[string]*summary.Answer{}
	for range 5 {
		asking := &summary.Whole{Raw: sample, Known: func(q *summary.Question) *summary.Answer { return known[q.Name()] }}
		do(asking)
		open := false
		for _, one := range asking.Asked() {
			if one.Answer == nil {
				answer, err := summary.Of(t.Context(), whole, one.Question)
				if err != nil {
					t.Fatal(one.Words, err)
				}
				open, known[one.Question.Name()] = true, answer
			}
		}
		if !open {
			return
		}
	}
	t.Fatal("it asks for ever")
}

// TestAllRowsTellWhatAColumnHeldFixedDoes holds findings, evidence and checks of a sample that asks all rows against those of
// all rows.
func TestAllRowsTellWhatAColumnHeldFixedDoes(t *testing.T) {
	whole, sample := flown(t, 20_000, false)
	for _, typed := range []string{"plot load against metres\nlog x", "plot load against metres\nlog x\nof rows where fed"} {
		x, y, rows, candidates, _ := relatedOf(t, whole, typed, nil)
		want, err := confound.Rank(t.Context(), x, y, rows, candidates, nil)
		if err != nil {
			t.Fatal(err)
		}
		var got []confound.Finding
		untilKnown(t, whole, sample, func(asking *summary.Whole) {
			x, y, rows, candidates, all := relatedOf(t, sample, typed, asking)
			if got, err = confound.RankAlike(t.Context(), x, y, rows, candidates, nil, all, nil); err != nil {
				t.Fatal(err)
			}
		})
		exact := 0
		for _, f := range got {
			if !f.OfAll() {
				continue
			}
			exact++
			for _, other := range want {
				if other.Column == f.Column && other.With == f.With && heldNumbers(f) != heldNumbers(other) {
					t.Errorf("%s: of all rows is said\n%s, want\n%s", typed, heldNumbers(f), heldNumbers(other))
				}
			}
		}
		if exact < 2 {
			t.Errorf("%s: %d findings are of all rows", typed, exact)
		}
		for i, c := range candidates {
			want, err := confound.Examine(t.Context(), x, y, rows, c, nil, confound.NoOthers)
			if err != nil {
				t.Fatal(err)
			}
			var got *confound.Evidence
			untilKnown(t, whole, sample, func(asking *summary.Whole) {
				x, y, rows, candidates, all := relatedOf(t, sample, typed, asking)
				if got, err = confound.Examine(t.Context(), x, y, rows, candidates[i], nil, all); err != nil {
					t.Fatal(err)
				}
			})
			if want.Missing != "" { // within a condition a column may have one group
				continue
			}
			if !got.Exact || heldNumbers(got.Finding) != heldNumbers(want.Finding) || got.GroupsLeft != want.GroupsLeft {
				t.Errorf("%s: %s is %+v, want %+v", typed, c.Name, got.Finding, want.Finding)
			}
			if have, wanted := groupNumbers(got), groupNumbers(want); !got.Quarters && have != wanted {
				t.Errorf("%s: groups of %s are\n%s, want\n%s", typed, c.Name, have, wanted)
			}
			n, of := 0, 0
			for _, one := range got.Each {
				n, of = n+one.N, of+1
			}
			if got.Quarters && (n != want.Rows || of != 4 || math.Abs(got.WithX-want.WithX) > 1e-9 || got.All.N != want.All.N) {
				t.Errorf("%s: %s has %d rows in %d quarters: %+v", typed, c.Name, n, of, got)
			}
		}
		var checks []confound.Check
		untilKnown(t, whole, sample, func(asking *summary.Whole) {
			x, y, rows, candidates, all := relatedOf(t, sample, typed, asking)
			if checks, err = confound.Checks(t.Context(), x, y, rows, candidates, all); err != nil {
				t.Fatal(err)
			}
		})
		if c := checks[0]; !c.Exact || c.N != len(rows) {
			t.Errorf("%s: the slope of all rows is %+v", typed, c)
		}
	}
}

// heldNumbers is what a finding tells in numbers.
func heldNumbers(f confound.Finding) string {
	words := fmt.Sprintf("%s %d rows, %d groups: %.9g (%.9g) within %.9g (%.9g), %.9g", f.Column, f.Rows, f.Groups, f.Overall,
		f.OverallInterval, f.Within, f.WithinInterval, f.BetweenX)
	for _, one := range f.Slopes {
		words += fmt.Sprintf("\n%s %d: %.9g (%.9g)", one.Level, one.N, one.Slope, one.Interval)
	}
	return words
}

// groupNumbers is what evidence tells of groups.
func groupNumbers(e *confound.Evidence) (words string) {
	for _, one := range append([]confound.OneGroup{e.All}, e.Each...) {
		words += fmt.Sprintf("%s %d at %.9g %.9g from %.9g to %.9g: %.9g (%.9g)\n", one.Level, one.N, one.XMean, one.YMean, one.XLow,
			one.XHigh, one.Slope, one.Interval)
	}
	return words
}
