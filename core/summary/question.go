// Package summary holds the statistics that follow from summaries of rows: what can be told of a table that nobody
// reads row by row. A Question asks for rows by groups with their moments; whoever has the table answers it, a
// database or this package (see Of); fits, cells and counts follow from the answer, whoever gave it.
package summary

import (
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
)

// Question asks for the rows of a table, taken together by keys, with the moments of two values. Rows count where the
// condition is true, and where nothing that is needed is missing.
type Question struct {
	// Within is what rows are of the table at all, and With what columns are worked out, both by the columns that the table
	// has: a preparation that nobody did there.
	Within string            `json:"within,omitempty"`
	With   map[string]string `json:"with,omitempty"`

	Where string `json:"where,omitempty"` // a condition, as it stands in a sentence; empty: none
	Needs []Need `json:"needs,omitempty"`
	X     *Value `json:"x,omitempty"` // whose moments are wanted; nil: rows are counted alone
	Y     *Value `json:"y,omitempty"`
	By    []Key  `json:"by,omitempty"`
}

// Need is a column in which a row must have a value: a finite number, a text that is not empty, a date of the calendar.
type Need struct {
	Column   string `json:"column"`
	Positive bool   `json:"positive,omitempty"` // and one above zero
}

// Value is a number of a row: of a column, or its logarithm.
type Value struct {
	Column string `json:"column"`
	Log    bool   `json:"log,omitempty"` // log10
}

// The kinds of keys. Each gives one number or one text a row.
const (
	Level   = "level"   // the value of a column itself: a text
	Step    = "step"    // ⌊(v - From)/Width⌋
	Edges   = "edges"   // which of the places between edges: the last whose lower edge is not above v, the highest edge belonging to the last
	Hexagon = "hexagon" // of two values, the column and the row of the hexagon with the nearest centre (see density.Lattice): two numbers
	Reason  = "reason"  // why a row does not count: 0 it does, 1 the condition, then one for each need. Takes the other rows in
)

// Key takes rows together.
type Key struct {
	Kind   string    `json:"kind"`
	Column string    `json:"column,omitempty"` // of a level
	Of     *Value    `json:"of,omitempty"`
	And    *Value    `json:"and,omitempty"` // the second of a hexagon
	From   float64   `json:"from,omitempty"`
	Width  float64   `json:"width,omitempty"`
	FromY  float64   `json:"from_y,omitempty"` // of a hexagon
	WidthY float64   `json:"width_y,omitempty"`
	Edges  []float64 `json:"edges,omitempty"`
}

// Numbers is how many numbers a key gives; a level gives a text.
func (k Key) Numbers() int {
	switch k.Kind {
	case Level:
		return 0
	case Hexagon:
		return 2
	}
	return 1
}

// MostEdges is between how many edges values are counted at the most.
const MostEdges = 4096

// Check says what is wrong with a question; a program asked it, so that nobody reads it.
func (q *Question) Check() error {
	for _, k := range q.By {
		good := false
		switch k.Kind {
		case Level:
			good = k.Column != ""
		case Step:
			good = k.Of != nil && k.Width > 0
		case Edges:
			good = k.Of != nil && len(k.Edges) > 1 && len(k.Edges) <= MostEdges
		case Hexagon:
			good = k.Of != nil && k.And != nil && k.Width > 0 && k.WidthY > 0
		case Reason:
			good = len(q.By) == 1
		}
		if !good {
			return fmt.Errorf("no rows can be taken together by %+v", k)
		}
	}
	if q.Y != nil && q.X == nil {
		return fmt.Errorf("moments of y need an x")
	}
	return nil
}

// Name tells a question from all others.
func (q *Question) Name() string {
	name, err := json.Marshal(q)
	if err != nil { // an edge that is no number
		return fmt.Sprintf("%+v", *q)
	}
	return string(name)
}

// Key is a short name of it, as good as unique.
func (q *Question) Key() string {
	sum := sha256.Sum256([]byte(q.Name()))
	return hex.EncodeToString(sum[:16])
}

// Columns are all columns that the question reads, but for those of its condition.
func (q *Question) Columns() (names []string) {
	seen := map[string]bool{"": true}
	add := func(name string) {
		if !seen[name] {
			seen[name] = true
			names = append(names, name)
		}
	}
	for _, n := range q.Needs {
		add(n.Column)
	}
	values := []*Value{q.X, q.Y}
	for _, k := range q.By {
		add(k.Column)
		values = append(values, k.Of, k.And)
	}
	for _, v := range values {
		if v != nil {
			add(v.Column)
		}
	}
	return names
}

// ByReason reports whether rows that do not count are told too, by why.
func (q *Question) ByReason() bool { return len(q.By) == 1 && q.By[0].Kind == Reason }
