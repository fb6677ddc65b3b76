package prepare

import (
	"fmt"
	"math/rand/v2"

	"copperlark/core/clause"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// asideName begins the clause.
const asideName = "set aside"

var setAsideClause = says(
	clause.Clause[Step]{
		Name:    asideName,
		Help:    "keeps a share of the rows unseen, until a chart asks them whether it holds",
		Example: "set aside 20% of rows",
		Pieces: []clause.Piece{
			clause.Number(
				func(a *setAside) *float64 { return &a.Percent },
				clause.Range{
					From:     0,
					To:       90,
					Above:    true,
					Expected: "a share such as 20%",
					Message:  "set aside more than 0 % and at most 90 %",
					Advice:   "a fifth is common: set aside 20% of rows",
				},
			),
			clause.Mark("%"),
			clause.Say("of rows"),
		},
	},
	func(a *setAside, s *clause.Speech) {
		s.Sentence("Set aside ")
		s.Way(table.FormatNumber(a.Percent)+" % of the rows", slot)
	},
)

// setAside takes rows away by chance, each with the same probability, from a seed that is
// kept: the same ones each time, whatever share they are of other rows. They are listed nowhere;
// a preparation that is run for the rows set aside keeps these alone.
type setAside struct{ Percent float64 }

func (a *setAside) do(w *work) (*table.Table, Effect) {
	source := rand.New(rand.NewPCG(w.environment.Seed, asideSeed))
	aside := make([]bool, w.table.Rows())
	for row := range aside {
		aside[row] = source.Float64() < a.Percent/100
	}
	w.unseen = !w.environment.Aside
	t, away := w.chosen(func(row int) bool { return aside[row] == w.environment.Aside })
	if w.environment.Aside {
		return t, Effect{Words: scale.Counted(t.Rows(), "row")}
	}
	return t, Effect{Words: fmt.Sprintf("%s set aside", scale.Counted(away, "row"))}
}

// asideSeed tells the draw of the rows set aside from other draws.
const asideSeed = 0xa51de

// SetsAside reports whether a preparation sets rows aside.
func SetsAside(clauses []Clause) bool {
	for _, c := range clauses {
		step, mistakes := grammar.Parse(c.Text, nil)
		if _, sets := step.Action.(*setAside); mistakes == nil && sets && !c.Off {
			return true
		}
	}
	return false
}
