package summary

import (
	"cmp"
	"encoding/binary"
	"fmt"
	"slices"

	"copperlark/core/magnitude"
)

// Answer is what is known of a table after a question: its groups, by their keys.
type Answer struct {
	Groups []Group `json:"groups"`
}

// Group is rows with the same keys: the texts of levels, and the numbers of the other keys, in the order of the keys.
type Group struct {
	Texts   []string `json:"t,omitempty"`
	Numbers []int64  `json:"k,omitempty"`
	Moments
}

// The most that an answer may hold.
const (
	MostGroups  = 200_000
	MostLetters = 16 << 20 // bytes of texts
)

// ErrManyGroups is met where a question has more groups than an answer may hold.
var ErrManyGroups = fmt.Errorf("there are more than %d groups", MostGroups)

// Gathering takes the parts of an answer together: the answers of several servers, or of parts of a table.
type Gathering struct {
	places  map[string]int
	groups  []Group
	letters int
}

// Add takes in a group, or more rows of one. Sums of squares beyond a float64 are an error.
func (g *Gathering) Add(one Group) error {
	name := []byte{}
	for _, n := range one.Numbers {
		name = binary.AppendVarint(name, n)
	}
	for _, t := range one.Texts {
		name = append(binary.AppendUvarint(name, uint64(len(t))), t...)
	}
	place, known := g.places[string(name)]
	if known {
		one.Moments = g.groups[place].With(one.Moments)
	}
	for _, v := range []float64{one.X, one.Y, one.XX, one.XY, one.YY, one.XMin, one.XMax, one.YMin, one.YMax} {
		if !magnitude.Finite(v) {
			return magnitude.ErrOutOfRange
		}
	}
	if known {
		g.groups[place].Moments = one.Moments
		return nil
	}
	if g.letters += len(name); len(g.groups) == MostGroups || g.letters > MostLetters {
		return ErrManyGroups
	}
	if g.places == nil {
		g.places = map[string]int{}
	}
	g.places[string(name)] = len(g.groups)
	g.groups = append(g.groups, one)
	return nil
}

// Answer is what was gathered, in the order of the keys.
func (g *Gathering) Answer() *Answer {
	slices.SortFunc(g.groups, func(a, b Group) int {
		return cmp.Or(slices.Compare(a.Texts, b.Texts), slices.Compare(a.Numbers, b.Numbers))
	})
	if g.groups == nil {
		g.groups = []Group{}
	}
	return &Answer{g.groups}
}

// Bytes is about how much memory it takes.
func (a *Answer) Bytes() int64 {
	total := int64(0)
	for _, g := range a.Groups {
		total += 150 + int64(8*len(g.Numbers))
		for _, t := range g.Texts {
			total += int64(len(t)) + 16
		}
	}
	return total
}

// All are the moments of all groups together.
func (a *Answer) All() (all Moments) {
	for _, g := range a.Groups {
		all = all.With(g.Moments)
	}
	return all
}

// Rows is how many rows all groups have.
func (a *Answer) Rows() (n int64) {
	for _, g := range a.Groups {
		n += g.N
	}
	return n
}
