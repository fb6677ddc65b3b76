package app

import (
	"context"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/reading"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// Explanation is a column that was tried as a hidden explanation of the relation
// on screen.
type Explanation struct {
	Column  string           `json:"column"`
	Name    string           `json:"name"`
	With    string           `json:"with,omitempty" doc:"a second column that is held fixed together with the first"`
	Verdict confound.Verdict `json:"verdict" enum:"reverses,explains away,hides,differs,weakens,strengthens,holds,cannot tell,too alike,too little to say"`
	Words   string           `json:"words"`
	Groups  int              `json:"groups" doc:"0 for a number, which is held fixed as itself"`
	Overall float64          `json:"overall" doc:"slope in drawn space"`
	Within  float64          `json:"within"`
	Splits  bool             `json:"splits" doc:"whether the chart can be split by it"`
	Basis   reading.Basis    `json:"basis,omitempty" enum:"all,sample" doc:"of a table that stays elsewhere: which rows the words are of"`
}

// Explanations is what was found, the most telling first.
type Explanations struct {
	Tried    int           `json:"tried"`
	Told     string        `json:"told" doc:"what slopes are told in: Slopes in kg per ×10 ha"`
	Groups   bool          `json:"groups,omitempty" doc:"two groups along an axis are compared"`
	Findings []Explanation `json:"findings"`
	Alike    string        `json:"alike,omitempty" doc:"how rows are not independent of each other, which is counted"`
	Rows     int           `json:"rows" doc:"that have x and y: what was tried is tried on these"`
	Problem  string        `json:"problem,omitempty" doc:"why nothing could be tried"`
	Looked   string        `json:"looked,omitempty" doc:"how many relations of the dataset the space has looked at, where there are several"`

	Elsewhere *figure.Elsewhere `json:"elsewhere,omitempty" doc:"of a table that stays elsewhere: what all its rows are asked"`
}

// Explain tries every other column as a hidden explanation of the relation that a
// chart shows.
func (a *App) Explain(ctx context.Context, spaceID, versionID int64, document *chart.Document) (out *Explanations, err error) {
	err = a.onSpelled(
		ctx,
		spaceID,
		versionID,
		"what else could explain it",
		weighExplain,
		func(ctx context.Context, t *shown, d Dataset) error {
			bound, err := t.suits(document)
			if err != nil {
				return err
			}
			if out, err = explain(ctx, bound, a.wholeOf(ctx, spaceID, t, d)); err != nil {
				return err
			}
			looked, err := a.store.RelationsLooked(ctx, spaceID, d.ID)
			out.Looked = reading.LookedWords(looked)
			return err
		},
	)
	return out, err
}

// tried is what was found of every other column of a chart's table.
type tried struct {
	relation
	findings []confound.Finding
	columns  int // that were tried
	among    int // rows
	alike    *confound.Alike
	units    *reading.Units
	problem  string // why nothing could be tried
}

// try tries every other column as a hidden explanation of what a chart shows. What is known of all rows is told of these.
func try(ctx context.Context, b *mark.Bound, whole *summary.Whole) (*tried, error) {
	t, document := b.Table, b.Document
	r, err := relate(ctx, b)
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err != nil {
		return &tried{problem: err.Error()}, nil
	}
	candidates := candidatesOf(t, document)
	alike := confound.FindAlike(ctx, r.x, r.y, r.rows, t, document.X.Column, document.Y.Column, document.TakeOut)
	all := r.elsewhere(b, whole)
	findings, err := confound.RankAlike(ctx, r.x, r.y, r.rows, candidates, alike, all, nil)
	if err != nil {
		return nil, err
	}
	rows := len(r.rows)
	if line := all.Line(); line != nil {
		rows = int(line.N)
		if alike != nil {
			alike = alike.Among(len(r.rows), rows)
		}
	}
	low, high := math.Inf(1), math.Inf(-1)
	for _, v := range r.x {
		low, high = min(low, v), max(high, v)
	}
	return &tried{
		relation: *r,
		findings: findings,
		columns:  len(candidates),
		among:    rows,
		alike:    alike,
		units:    reading.UnitsOf(r.xAxis, r.yAxis, low, high),
	}, nil
}

func explain(ctx context.Context, b *mark.Bound, whole *summary.Whole) (*Explanations, error) {
	t, document := b.Table, b.Document
	out := &Explanations{Findings: []Explanation{}}
	r, err := try(ctx, b, whole)
	if err != nil {
		return nil, err
	}
	out.Elsewhere = figure.AskedOf(whole)
	if out.Problem = r.problem; r.problem != "" {
		return out, nil
	}
	findings, units := r.findings, r.units
	if r.alike != nil {
		out.Alike = reading.AlikeNote(r.alike)
	}
	out.Rows = r.among
	out.Tried = r.columns
	out.Told, out.Groups = units.Told(), r.groups
	if len(document.AlsoY) > 0 {
		out.Told = fmt.Sprintf("This is of %s, the first of the columns. %s", units.Y, out.Told)
	}
	for _, f := range findings {
		c := t.Column(f.Column)
		e := Explanation{Column: f.Column, Name: c.Prose(), Verdict: f.Verdict, Words: units.Finding(f), Groups: f.Groups,
			Splits: c.Kind.Coded() && len(c.Levels) <= chart.MaxColours || !c.Kind.Coded() && c.SuggestsGroups()}
		if f.With != "" {
			e.With, e.Splits = f.With, false
			e.Name += " and " + t.Column(f.With).Prose() + " together"
		}
		if !math.IsNaN(f.Within) && f.Missing == "" {
			e.Overall, e.Within = f.Overall, f.Within
		}
		if whole != nil {
			e.Basis = reading.BasisOf(f.OfAll())
		}
		out.Findings = append(out.Findings, e)
	}
	return out, nil
}

// candidatesOf are the columns that are tried.
func candidatesOf(t *table.Table, document *chart.Document) (list []*table.Column) {
	for _, c := range t.Columns() {
		if c.Name != document.X.Column && c.Name != document.Y.Column && !slices.Contains(document.AlsoY, c.Name) && canExplain(c) &&
			len(list) < mostCandidates {
			list = append(list, c)
		}
	}
	return list
}

// Evidence tells what the finding of one column rests on, whether or not the chart has it
// taken out.
func (a *App) Evidence(
	ctx context.Context,
	spaceID, versionID int64,
	document *chart.Document,
	column string,
) (out *reading.Evidence, err error) {
	err = a.onSpelled(
		ctx,
		spaceID,
		versionID,
		"the evidence of a column",
		weighExplain,
		func(ctx context.Context, t *shown, d Dataset) error {
			bound, err := t.suits(document)
			if err == nil {
				out, err = evidence(ctx, bound, column, a.wholeOf(ctx, spaceID, t, d))
			}
			return err
		},
	)
	return out, err
}

func evidence(ctx context.Context, b *mark.Bound, column string, whole *summary.Whole) (*reading.Evidence, error) {
	t, document := b.Table, b.Document
	candidates := candidatesOf(t, document)
	at := slices.IndexFunc(candidates, func(c *table.Column) bool { return c.Name == column })
	if at < 0 {
		return nil, &Invalid{
			Message: fmt.Sprintf("%s is no column that could explain this chart", column),
			Advice:  "choose one of those that were tried",
		}
	}
	c := candidates[at]
	if document.TakeOut == column {
		document = document.Clone()
		document.TakeOut = ""
		b = b.With(document)
	}
	r, err := relate(ctx, b)
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	if err != nil {
		return nil, &Invalid{Message: err.Error(), Advice: "choose numbers for both axes, or a number by groups"}
	}
	numbers := slices.DeleteFunc(candidates, func(other *table.Column) bool { return other == c || other.Kind.Coded() })
	found, err := confound.Examine(ctx, r.x, r.y, r.rows, c, numbers, r.elsewhere(b, whole))
	if err != nil {
		return nil, err
	}
	out := reading.EvidenceOf(found, c, r.xAxis, r.yAxis, func(name string) string { return t.Column(name).Prose() })
	if out.Elsewhere = figure.AskedOf(whole); whole != nil {
		out.Basis = reading.BasisOf(found.Exact)
	}
	if size := t.Column(document.Size); size != nil && size != c && whole == nil {
		out.Sized(found, c, size, r.rows)
	}
	if r.groups && out.Problem == "" {
		d, share := confound.StandardisedDifference(r.x, r.y, r.rows, c)
		var rates *confound.Rates
		if r.shares {
			rates = confound.RatesOf(r.x, r.y, r.rows, c)
		}
		out.Standard = reading.Standardised(reading.UnitsOf(r.xAxis, r.yAxis, 0, 1), c.Prose(), d, share, rates)
	}
	return out, nil
}

// Holds looks at the slope of a chart in many ways.
func (a *App) Holds(ctx context.Context, spaceID, versionID int64, document *chart.Document) (out *reading.Holds, err error) {
	err = a.onSpelled(ctx, spaceID, versionID, "does it hold", weighExplain, func(ctx context.Context, t *shown, d Dataset) error {
		bound, err := t.suits(document)
		if err == nil {
			out, err = holds(ctx, bound, a.wholeOf(ctx, spaceID, t, d))
		}
		return err
	})
	return out, err
}

func holds(ctx context.Context, b *mark.Bound, whole *summary.Whole) (*reading.Holds, error) {
	t, document := b.Table, b.Document
	out := &reading.Holds{Words: []reading.Span{}, Rows: []reading.HoldRow{}, Ticks: []reading.IntervalTick{}}
	r, err := relate(ctx, b)
	if err == nil {
		var checks []confound.Check
		if checks, err = confound.Checks(ctx, r.x, r.y, r.rows, candidatesOf(t, document), r.elsewhere(b, whole)); err == nil {
			named := func(place int) string { return figure.RowName(t, int(r.rows[place])) }
			column := func(name string) string { return t.Column(name).Prose() }
			alike := confound.FindAlike(ctx, r.x, r.y, r.rows, t, document.X.Column, document.Y.Column, document.TakeOut)
			if checks[0].Exact && alike != nil {
				alike = alike.Among(len(r.rows), checks[0].N)
			}
			out = reading.HoldsOf(checks, r.xAxis, r.yAxis, slices.Min(r.x), slices.Max(r.x), column, named, alike, whole != nil)
			out.Elsewhere = figure.AskedOf(whole)
			return out, ctx.Err()
		}
	}
	if ctx.Err() != nil {
		return nil, ctx.Err()
	}
	out.Problem = err.Error()
	return out, nil
}

// canExplain reports whether a column can be tried: texts only where few of them recur, and
// no numbers of rows.
func canExplain(c *table.Column) bool {
	if c.Kind != table.Text {
		return !c.CountsRows()
	}
	return len(c.Levels) <= mostTexts && 5*len(c.Levels) <= len(c.Codes)
}

// mostTexts is how many different texts a column may have to be tried as groups.
const mostTexts = 60
