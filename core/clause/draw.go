package clause

import (
	"math"
	"math/rand/v2"
)

// drawing draws what can be said at random.
type drawing struct {
	source  *rand.Rand
	columns []string // that are named; none: names that are hard to write
}

// Draw gives a D that the grammar can say, at random: for holding what reads and writes it
// to each other over everything that there is.
func (g *Grammar[D]) Draw(source *rand.Rand) *D {
	into := new(D)
	for i := range g.Clauses {
		c := &g.Clauses[i]
		times := source.IntN(2)
		if c.Name == g.First {
			times = 1
		}
		if c.New != nil {
			times = source.IntN(3)
		}
		for range times {
			c.DrawInto(source, into, nil)
		}
	}
	return into
}

// DrawInto lets a D say the clause at random, of columns of these names or, without any, of
// columns whose names are hard to write.
func (c *Clause[D]) DrawInto(source *rand.Rand, into *D, columns []string) {
	if len(columns) == 0 {
		columns = names
	}
	about := any(into)
	if c.New != nil {
		about = c.New(into)
	}
	for _, piece := range c.Pieces {
		piece.draw(&drawing{source, columns}, about)
	}
}

// names are column names that are hard to write.
var names = []string{
	"honey_kg",
	"log",
	"Fit",
	"größe in ha",
	`say "so"`,
	"7",
	"a b",
	"漢字",
	"ש",
	"x'y",
	"plot",
	"from",
	"-",
	"a\nb",
	"ｆｕｌｌ",
	"_",
}

func (d *drawing) name() string { return d.columns[d.source.IntN(len(d.columns))] }

func (d *drawing) text() string {
	return []string{"More forage, more honey", "it's", "''", "two\nlines", `"`, "漢字 ש", "%", " "}[d.source.IntN(8)]
}

func (d *drawing) number(limit Range) float64 {
	if limit.From == 0 && limit.To == 0 {
		return []float64{0, 1, -2.5, 1e-9, 1e12, 1e300, -5e-324, 0.1 + 0.2}[d.source.IntN(8)]
	}
	v := limit.From + (limit.To-limit.From)*d.source.Float64()
	if limit.Whole {
		v = math.Round(v)
	}
	if limit.Above && v == limit.From {
		v = limit.To
	}
	return v
}
