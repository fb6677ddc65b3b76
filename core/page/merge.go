package page

import (
	"fmt"
	"slices"
)

// Merge makes one page of two that were written from the same one: base is what both began with, mine what somebody sends,
// theirs what is kept by now. Title, lead, what is said of axes, and text, chart and place of each block are taken from whoever
// changed them; what both changed stays as theirs is, and a block whose text both changed is kept twice: theirs, and mine behind it. A block that
// one changed and the other took out stays. Nothing that anybody wrote is lost. Kept tells of how many blocks and lines both
// versions are kept.
func Merge(base, mine, theirs *Contents) (merged *Contents, kept int) {
	merged = &Contents{Version: Version, Blocks: []Block{}}
	title, twice := either(base.Title, mine.Title, theirs.Title)
	merged.Title = title
	lead, leadTwice := either(base.Lead, mine.Lead, theirs.Lead)
	merged.Lead = lead
	merged.SameAxes, _ = either(base.SameAxes, mine.SameAxes, theirs.SameAxes)
	var lost []string // words of mine that have no place of their own
	if twice {
		lost = append(lost, mine.Title)
	}
	if leadTwice {
		lost = append(lost, mine.Lead)
	}
	for _, id := range order(base, mine, theirs) {
		was, m, t := base.Block(id), mine.Block(id), theirs.Block(id)
		switch {
		case m != nil && t != nil:
			one, other := mergedBlock(was, m, t)
			merged.Blocks = append(merged.Blocks, one)
			if other != nil {
				other.ID = unused(id, mine, theirs, merged)
				merged.Blocks = append(merged.Blocks, *other)
				kept++
			}
		case m != nil && (was == nil || !m.Same(*was)):
			merged.Blocks = append(merged.Blocks, *m)
		case t != nil && (was == nil || !t.Same(*was)):
			merged.Blocks = append(merged.Blocks, *t)
		}
	}
	for _, words := range lost {
		merged.Blocks = slices.Insert(merged.Blocks, 0, Block{ID: unused("kept", mine, theirs, merged), Text: Escape(words)})
		kept++
	}
	return merged.Clone(), kept
}

// either is what one of two made of something; both: they made different things of it.
func either[T comparable](was, mine, theirs T) (value T, both bool) {
	switch {
	case mine == theirs || mine == was:
		return theirs, false
	case theirs == was:
		return mine, false
	}
	return theirs, true
}

// mergedBlock is a block of both; other holds what of mine has no room in it, nil where all of it has.
func mergedBlock(was, mine, theirs *Block) (one Block, other *Block) {
	if was == nil {
		was = &Block{}
	}
	one = *theirs
	var both bool
	if one.Text, both = either(was.Text, mine.Text, theirs.Text); both {
		other = &Block{Text: mine.Text}
	}
	one.Place, _ = either(was.Place, mine.Place, theirs.Place)
	switch {
	case sameChart(mine.Chart, theirs.Chart) || sameChart(mine.Chart, was.Chart):
	case sameChart(theirs.Chart, was.Chart):
		one.Chart = mine.Chart
	case mine.Chart != nil:
		if other == nil {
			other = &Block{}
		}
		other.Chart = mine.Chart
	}
	return one, other
}

// order is in which order the blocks of both stand: as theirs do, or as mine where only mine were moved; a block of one alone
// stands behind the one that it stood behind there.
func order(base, mine, theirs *Contents) []string {
	first, second := ids(theirs), ids(mine)
	if slices.Equal(common(ids(theirs), ids(base)), common(ids(base), ids(theirs))) { // theirs were not moved
		first, second = second, first
	}
	out := slices.Clone(first)
	for i, id := range second {
		if slices.Contains(out, id) {
			continue
		}
		at := 0
		if i > 0 {
			at = slices.Index(out, second[i-1]) + 1
		}
		out = slices.Insert(out, at, id)
	}
	return out
}

func ids(d *Contents) (list []string) {
	for _, b := range d.Blocks {
		list = append(list, b.ID)
	}
	return list
}

// common are those of a list that another has too, in the order of the first.
func common(list, other []string) (out []string) {
	for _, id := range list {
		if slices.Contains(other, id) {
			out = append(out, id)
		}
	}
	return out
}

// unused is a name for a block that none of the documents has.
func unused(like string, documents ...*Contents) string {
	for i := 2; ; i++ {
		id := fmt.Sprintf("%.30s-%d", like, i)
		if !slices.ContainsFunc(documents, func(d *Contents) bool { return d.Block(id) != nil }) {
			return id
		}
	}
}
