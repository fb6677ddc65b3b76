// Package pattern uses the sentence of one table over another: what its columns are becomes blanks, and for each blank the columns of
// the other table are proposed, by name, label, unit, meaning and kind.
package pattern

import (
	"slices"
	"strings"
	"unicode"

	"copperlark/core/table"
)

// Blank is a column that a sentence names, as it was in the table that the sentence was made with.
type Blank struct {
	Column  string     `json:"column" doc:"what it was called where the sentence was made"`
	Label   string     `json:"label" doc:"as people say it"`
	Unit    string     `json:"unit,omitempty"`
	Meaning string     `json:"meaning,omitempty"`
	Kind    table.Kind `json:"kind"`
}

// Candidate is a column that can stand in a blank.
type Candidate struct {
	Column string     `json:"column"`
	Label  string     `json:"label"`
	Unit   string     `json:"unit,omitempty"`
	Kind   table.Kind `json:"kind"`
	Why    string     `json:"why" doc:"by what it is proposed: same name, same unit, kind alone …"`

	score, at int
}

// Proposal is a blank with the columns that can stand in it, the likeliest first, and the one that is proposed; "": none.
type Proposal struct {
	Blank
	Candidates []Candidate `json:"candidates" nullable:"false"`
	Chosen     string      `json:"chosen"`
}

// MostCandidates is how many columns are offered for one blank.
const MostCandidates = 200

// Blanks are the columns of a table that are named, in order; of one that the table does not have its name is known alone.
func Blanks(names []string, t *table.Table) []Blank {
	out := make([]Blank, 0, len(names))
	for _, name := range names {
		b := Blank{Column: name, Label: table.Readable(name), Kind: table.Text}
		if c := t.Column(name); c != nil {
			b.Label, b.Unit, b.Meaning, b.Kind = c.ReadableName(), c.Unit, c.Meaning, c.Kind
		}
		out = append(out, b)
	}
	return out
}

// What a column has in common with a blank, and how much that says; none is as much as two of those below it.
var alike = []struct {
	why   string
	score int
	is    func(b *Blank, c *table.Column) bool
}{
	{"same name", 16, func(b *Blank, c *table.Column) bool { return plain(b.Column) == plain(c.Name) }},
	{"said as the same", 8, func(b *Blank, c *table.Column) bool {
		return plain(b.Label) == plain(c.ReadableName()) || plain(b.Label) == plain(c.Name) || plain(b.Column) == plain(c.ReadableName())
	}},
	{"same unit", 4, func(b *Blank, c *table.Column) bool { return b.Unit != "" && b.Unit == c.Unit }},
	{"alike in meaning", 3, func(b *Blank, c *table.Column) bool {
		return shared(b.Meaning+" "+b.Label, c.Meaning+" "+c.ReadableName()) >= 0.5
	}},
	{"same kind", 1, func(b *Blank, c *table.Column) bool { return b.Kind == c.Kind }},
}

// told is from which score on something else than the kind speaks for a column.
const told = 2

// plain is a name without what people write differently: capitals, spaces, signs.
func plain(name string) string {
	return strings.Map(func(r rune) rune {
		if unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r) {
			return unicode.ToLower(r)
		}
		return -1
	}, name)
}

// shared is the share of the words of the shorter of two texts that the other has as well; short words say nothing.
func shared(a, b string) float64 {
	words := func(text string) []string {
		all := strings.FieldsFunc(strings.ToLower(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
		all = slices.DeleteFunc(all, func(w string) bool { return len([]rune(w)) < 4 })
		slices.Sort(all)
		return slices.Compact(all)
	}
	first, second := words(a), words(b)
	if len(first) == 0 || len(second) == 0 {
		return 0
	}
	both := 0
	for _, w := range first {
		if slices.Contains(second, w) {
			both++
		}
	}
	return float64(both) / float64(min(len(first), len(second)))
}

// stands is whether a column of a kind can stand where one of another did: amounts for amounts, moments for moments, groups and words
// for groups and words.
func stands(was, is table.Kind) bool {
	return was.Quantity() == is.Quantity() && was.Moment() == is.Moment()
}

// Propose proposes columns of a table for blanks. A column is proposed for one blank at most: the pairs that have the most in common
// first, of pairs alike in that the one whose blank, and then whose column, stands first; where nothing but the kind speaks for any,
// the first columns of that kind that are left, in order. taken are choices that somebody made: they stay, "" as well.
func Propose(blanks []Blank, t *table.Table, taken map[string]string) []Proposal {
	out := make([]Proposal, len(blanks))
	used := map[string]bool{}
	type pair struct{ blank, score, column int }
	var pairs []pair
	for i, b := range blanks {
		out[i] = Proposal{Blank: b, Candidates: candidates(b, t)}
		if column, made := taken[b.Column]; made {
			out[i].Chosen = column
			used[column] = true
			continue
		}
		for _, c := range out[i].Candidates {
			pairs = append(pairs, pair{i, c.score, c.at})
		}
	}
	slices.SortStableFunc(pairs, func(a, b pair) int {
		if a.score != b.score {
			return b.score - a.score
		}
		if a.blank != b.blank {
			return a.blank - b.blank
		}
		return a.column - b.column
	})
	for _, p := range pairs {
		name := t.Columns()[p.column].Name
		_, made := taken[blanks[p.blank].Column]
		if out[p.blank].Chosen == "" && !made && !used[name] {
			out[p.blank].Chosen, used[name] = name, true
		}
	}
	return out
}

// candidates are the columns that can stand in a blank, the likeliest first.
func candidates(b Blank, t *table.Table) []Candidate {
	list := []Candidate{}
	for at, c := range t.Columns() {
		if !stands(b.Kind, c.Kind) {
			continue
		}
		one := Candidate{Column: c.Name, Label: c.ReadableName(), Unit: c.Unit, Kind: c.Kind, at: at}
		var why []string
		for _, a := range alike {
			if a.is(&b, c) {
				one.score += a.score
				if a.score >= told {
					why = append(why, a.why)
				}
			}
		}
		one.Why = "kind alone" // nothing else speaks for it
		if len(why) > 0 {
			one.Why = why[0]
		}
		list = append(list, one)
	}
	slices.SortStableFunc(list, func(a, b Candidate) int { return b.score - a.score })
	return list[:min(len(list), MostCandidates)]
}
