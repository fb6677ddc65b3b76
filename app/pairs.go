package app

import (
	"bytes"
	"context"
	"math"

	"copperlark/core/chart"
	"copperlark/core/pairs"
	"copperlark/core/reading"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// PairsWanted is what is asked of a look at columns two at a time.
type PairsWanted struct {
	Columns  []string   `json:"columns,omitempty" doc:"columns of numbers; none: the first ones"`
	By       string     `json:"by,omitempty" doc:"the column of groups; empty: the one whose groups stand furthest apart; none: none"`
	Straight bool       `json:"straight,omitempty" doc:"skewed columns stay as they are, not on a log scale"`
	Rank     pairs.Rank `json:"rank,omitempty" enum:"strength,difference"`
	Outcome  string     `json:"outcome,omitempty" doc:"only pairs with this column are ranked"`
	Rows     int        `json:"rows,omitempty" minimum:"0" doc:"a sample of so many rows, drawn at random, for a first look; 0: all"`
	Side     float64    `json:"side,omitempty" minimum:"0" maximum:"4000" doc:"how long the picture is, in pixels; 0 is 600"`
}

// Pairs tells every pair of columns; the picture comes with it.
type Pairs struct {
	Columns    []PairColumn `json:"columns"`
	Candidates []PairColumn `json:"candidates" doc:"what can be looked at"`
	By         string       `json:"by" doc:"the column of groups, or none"`
	ByName     string       `json:"by_name,omitempty"`
	Groups     []PairColumn `json:"groups" doc:"columns whose groups can be looked into"`
	Pairs      []PairRow    `json:"pairs" doc:"every one, by row and column of the picture"`
	Ranked     []int        `json:"ranked" doc:"places in pairs, the most telling first"`
	Rows       int          `json:"rows" doc:"that were looked at"`
	Total      int          `json:"total"`
	Dots       int          `json:"dots" doc:"rows that the picture draws as dots, drawn at random, of each group its share"`
	Margin     float64      `json:"margin" doc:"the share of a square that stays free about its dots"`
	Most       int          `json:"most" doc:"columns that can be looked at together"`
}

// PairColumn is a column of a look.
type PairColumn struct {
	Column string `json:"column"`
	Name   string `json:"name"`
	Log    bool   `json:"log,omitempty"`
	// Of numbers: where in their units a row stands in a square.
	From *float64 `json:"from,omitempty" doc:"the least of the rows that are drawn"`
	To   *float64 `json:"to,omitempty" doc:"the largest of them"`
}

// PairRow is a pair; R and Within are shown as Overall and Inside, which are empty where
// there is none.
type PairRow struct {
	X       int             `json:"x"`
	Y       int             `json:"y"`
	N       string          `json:"n"`
	R       float64         `json:"r"`
	Within  float64         `json:"within"`
	Overall string          `json:"overall"`
	Inside  string          `json:"inside"`
	Turns   bool            `json:"turns"`
	Measure pairs.Measure   `json:"measure" enum:"r,η,V"`
	Words   string          `json:"words"`
	Chart   *chart.Document `json:"chart" doc:"what opening the pair plots"`
}

// Pairs looks at columns two at a time; it gives the encoded picture with what was found.
func (a *App) Pairs(ctx context.Context, spaceID, versionID int64, wanted PairsWanted) (encoded []byte, err error) {
	each := int64(weighPairs)
	if wanted.Rows > 0 {
		each = 0 // a sample is light
	}
	err = a.onSpelled(ctx, spaceID, versionID, "pairs of columns", each, func(ctx context.Context, t *shown, _ Dataset) error {
		found, err := pairs.Look(
			ctx,
			t.Table,
			pairs.Question{
				Columns:  wanted.Columns,
				By:       wanted.By,
				Straight: wanted.Straight,
				Rank:     wanted.Rank,
				Outcome:  wanted.Outcome,
				Rows:     wanted.Rows,
			},
		)
		if err != nil {
			return err
		}
		side := wanted.Side
		if side == 0 {
			side = 600
		}
		picture := found.Picture(ctx, side)
		if err := ctx.Err(); err != nil {
			return err
		}
		var out bytes.Buffer
		err = picture.Encode(&out, map[string]any{"pairs": toldPairs(found, t.Table, wanted.Outcome)})
		encoded = out.Bytes()
		return err
	})
	return encoded, err
}

func toldPairs(found *pairs.Found, t *table.Table, outcome string) *Pairs {
	out := &Pairs{
		Columns:    []PairColumn{},
		Candidates: []PairColumn{},
		Groups:     []PairColumn{},
		Pairs:      []PairRow{},
		Ranked:     append([]int{}, found.List...),
		Rows:       found.Rows,
		Total:      t.Rows(),
		Dots:       found.Dots(),
		By:         pairs.None,
		Most:       pairs.MostColumns,
		Margin:     pairs.Margin,
	}
	for i, c := range found.Columns {
		column := PairColumn{Column: c.Name, Name: c.ReadableName(), Log: c.Log}
		if low, high := found.Span(i); low < high {
			column.From, column.To = &low, &high
		}
		out.Columns = append(out.Columns, column)
	}
	for _, c := range append(pairs.Candidates(t), pairs.GroupCandidates(t)...) {
		out.Candidates = append(out.Candidates, PairColumn{Column: c.Name, Name: c.ReadableName()})
	}
	for _, c := range pairs.GroupCandidates(t) {
		out.Groups = append(out.Groups, PairColumn{Column: c.Name, Name: c.ReadableName()})
	}
	if found.By != nil {
		out.By, out.ByName = found.By.Name, found.By.Prose()
	}
	for _, p := range found.Pairs {
		row := PairRow{
			X:       p.X,
			Y:       p.Y,
			N:       scale.Number(float64(p.N), 0),
			Turns:   p.Turns,
			Measure: p.Measure,
			Words:   reading.PairWords(p, found.By),
		}
		if !math.IsNaN(p.R) {
			row.R, row.Overall = p.R, scale.Number(p.R, 2)
		}
		if !math.IsNaN(p.Within) {
			row.Within, row.Inside = p.Within, scale.Number(p.Within, 2)
		}
		row.Chart = chartOf(found, p, outcome)
		out.Pairs = append(out.Pairs, row)
	}
	return out
}

// chartOf is what opening a pair plots: the outcome, or the later column, along y, with a
// line of all rows beside those of the groups.
func chartOf(found *pairs.Found, p pairs.Pair, outcome string) *chart.Document {
	x, y := found.Columns[p.X], found.Columns[p.Y]
	if x.Name == outcome {
		x, y = y, x
	}
	if y.Grouped() && !x.Grouped() { // a number stands above its groups
		x, y = y, x
	}
	d := &chart.Document{Version: chart.Version, X: chart.Variable{Column: x.Name}, Y: chart.Variable{Column: y.Name}}
	if x.Log {
		d.Scales.X.Scale = chart.LogScale
	}
	if y.Log {
		d.Scales.Y.Scale = chart.LogScale
	}
	if p.Measure != pairs.R {
		return d
	}
	fit := &chart.Fit{Kind: chart.FitLine, Overall: true}
	if found.By != nil {
		d.Colour, fit.Each = found.By.Name, found.By.Name
	}
	d.Layers = []chart.Layer{{Mark: "fit", Fit: fit}}
	return d
}
