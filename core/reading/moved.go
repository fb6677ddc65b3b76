package reading

import (
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/words"
)

// State is a chart over one version of its table, as it is drawn and read.
type State struct {
	Taken   *figure.Taken
	Bound   *mark.Bound
	Figure  *figure.Figure
	Reading *Reading
}

// Moved is what became of a chart by a new version of its table.
type Moved struct {
	Score   float64  `json:"score" doc:"how much it moved, to rank charts by; 0: nothing is otherwise"`
	Words   []string `json:"words" nullable:"false" doc:"what moved, what matters most first"`
	Verdict bool     `json:"verdict" doc:"whether it warns of something else than before"`
	Clear   bool     `json:"clear" doc:"whether a slope is clearly another"`
}

// What each kind of movement adds to the rank: a warning that came or went is more than any slope, a slope that clearly differs more
// than groups, groups more than rows.
const (
	verdictMoved = 100.0
	clearMoved   = 20.0
	groupsMoved  = 8.0
	rowsMoved    = 4.0 // times the share of rows that are more or fewer
	mostApart    = 10.0
)

// mostMovedWords is how many of the slopes, or groups, that moved are named.
const mostMovedWords = 3

// MovedBy tells what a chart becomes by another version of its table: warnings that came and went, slopes with how they were, groups,
// and rows. A slope is called clearly another as in Compare, rows being taken as independent, since which is which is not known.
func MovedBy(ctx context.Context, before, after State) (*Moved, error) {
	m := &Moved{Words: []string{}}
	m.verdict(before.Reading, after.Reading)
	if err := m.slopes(ctx, before, after); err != nil {
		return nil, err
	}
	m.groups(before.Figure, after.Figure)
	if was, is := before.Taken.Drawn, after.Taken.Drawn; was != is {
		m.Score += rowsMoved * math.Abs(float64(is-was)) / float64(max(is, was))
		m.Words = append(m.Words, fmt.Sprintf("%s drawn, %s before", scale.Counted(is, "row"), scale.Number(float64(was), 0)))
	}
	return m, ctx.Err()
}

// verdict tells of warnings that one of two readings has and the other has not.
func (m *Moved) verdict(before, after *Reading) {
	warnings := func(r *Reading) (keys []string, said map[string]string) {
		said = map[string]string{}
		for _, p := range r.Paragraphs {
			if p.Kind == "warning" {
				keys = append(keys, p.Key)
				said[p.Key] = p.Text()
			}
		}
		return keys, said
	}
	was, saidBefore := warnings(before)
	is, saidNow := warnings(after)
	for _, key := range is {
		if _, there := saidBefore[key]; !there {
			m.Verdict = true
			m.Words = append(m.Words, "now: "+saidNow[key])
		}
	}
	for _, key := range was {
		if _, there := saidNow[key]; !there {
			m.Verdict = true
			m.Words = append(m.Words, "no longer: "+saidBefore[key])
		}
	}
	if m.Verdict {
		m.Score += verdictMoved
	}
}

// slopes tells of those that differ most, in intervals of their difference.
func (m *Moved) slopes(ctx context.Context, before, after State) error {
	if len(before.Taken.Lines) == 0 && len(after.Taken.Lines) == 0 {
		return nil
	}
	c, err := Compare(ctx, before.Taken, after.Taken, before.Bound, after.Bound, false)
	if err != nil || c.Problem != "" {
		return err
	}
	fits := slices.DeleteFunc(c.Fits, func(f ComparedFit) bool { return f.A == nil || f.B == nil || f.apart == 0 })
	slices.SortStableFunc(fits, func(a, b ComparedFit) int {
		switch {
		case a.Clear != b.Clear && a.Clear, a.Clear == b.Clear && a.apart > b.apart:
			return -1
		case a.Clear != b.Clear || a.apart != b.apart:
			return 1
		}
		return 0
	})
	for i, f := range fits {
		if i < mostMovedWords && (f.Clear || i == 0) {
			clearly := ""
			if f.Clear {
				clearly = ", clearly"
			}
			m.Words = append(m.Words, fmt.Sprintf("%s: %s %s, was %s%s", f.Name, f.B.Slope, c.Unit, f.A.Slope, clearly))
		}
		m.Clear = m.Clear || f.Clear
	}
	if len(fits) > 0 {
		m.Score += min(fits[0].apart, mostApart)
	}
	if m.Clear {
		m.Score += clearMoved
	}
	return nil
}

// groups tells of entries of keys that came and went.
func (m *Moved) groups(before, after *figure.Figure) {
	named := func(f *figure.Figure) (names []string) {
		for _, key := range f.Keys {
			for _, e := range key.Entries {
				if key.Column != "" && !slices.Contains(names, e.Name) {
					names = append(names, e.Name)
				}
			}
		}
		return names
	}
	was, is := named(before), named(after)
	for _, side := range []struct {
		says        string
		these, less []string
	}{{"new groups: ", is, was}, {"groups that are gone: ", was, is}} {
		only := slices.DeleteFunc(slices.Clone(side.these), func(name string) bool { return slices.Contains(side.less, name) })
		if len(only) == 0 {
			continue
		}
		m.Score += groupsMoved
		more := ""
		if len(only) > mostMovedWords {
			more = fmt.Sprintf(" and %d more", len(only)-mostMovedWords)
		}
		m.Words = append(m.Words, side.says+words.And(only[:min(len(only), mostMovedWords)])+more)
	}
}
