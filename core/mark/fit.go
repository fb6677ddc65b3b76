package mark

import (
	"context"
	"errors"
	"fmt"
	"math"
	"slices"

	"copperlark/core/chart"
	"copperlark/core/model"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// Fit is a fitted line, or the reason why there is none.
type Fit struct {
	Kind        chart.FitKind
	Name        string // the group, or all rows
	Group       int    // of the column in each; -1 for all rows
	Light, Dark string
	Dash        []float64
	Index       int // which fit of the sentence this is
	Panel       int
	Band        string // 95 % confidence band
	Facts       []primitive.Fact
	Problem     string
	Model       *FittedLine // nil where there is a problem
	x, y        []float64   // drawn space
	low, high   []float64
	entry       int // of the colour key, -1 for none
}

// AllRows names the fit of all rows.
const AllRows = "all rows"

// plainLine reports whether a fit is the least-squares line of all its rows, which
// the reading needs too: it is made once.
func plainLine(fit *chart.Fit) bool { return fit.Kind == chart.FitLine && !fit.LeavingOutliers }

// Patterns tell lines apart: those of groups, and several fits of all rows.
var Patterns = [][]float64{nil, {7, 5}, {2, 4}, {11, 4, 2, 4}, {14, 6}, {4, 3}, {8, 3, 2, 3, 2, 3}, {1, 3}}

// ComputeFit fits the rows of a case in the way that was said. index is which fit of the
// sentence it is, beside how many of all rows before it.
func ComputeFit(ctx context.Context, c *Case, fit *chart.Fit, index, before int) (*Computed, error) {
	f := &fitting{c: c, fit: fit, index: index}
	if fit.Each != "" {
		f.groups(ctx)
	} else if len(c.Y.More) > 0 {
		f.columns(ctx)
	}
	if fit.Overall && len(c.Y.More) == 0 {
		one := &Fit{
			Kind:  fit.Kind,
			Name:  AllRows,
			Group: -1,
			Light: primitive.InkLight,
			Dark:  primitive.InkDark,
			Index: index,
			entry: -1,
			Dash:  Patterns[before%len(Patterns)],
		}
		if fit.Each != "" {
			one.Name = "all " + Plural(c.Table.Column(fit.Each).Prose())
			one.Dash = Patterns[1] // overall is always dashed beside its groups
		}
		if plainLine(fit) {
			f.add(ctx, one, func() (*FittedLine, error) { return c.Shared.Overall(ctx) })
		} else {
			f.add(ctx, one, func() (*FittedLine, error) {
				if bins := f.bins(); bins != nil {
					return fromBins(ctx, *fit, bins[allRows])
				}
				return fitModel(ctx, *fit, c.U, c.V)
			})
		}
	}
	out := &Computed{X: None(), Y: None(), Fits: f.found, Draw: f.draw}
	for _, one := range f.found {
		if n := len(one.x); n > 0 && one.Group >= 0 {
			out.Ends = append(out.Ends, EndAt{one.Name, one.x[n-1]})
		}
		if one.Model != nil && one.Model.Exact { // it may go beyond the rows of the sample
			out.X, out.Y = out.X.Of(one.x...), out.Y.Of(one.y...)
		}
	}
	return out, ctx.Err()
}

// bins are the sums that curves follow from; nil where the rows at hand are all, or no more is known, or the kind needs rows.
func (f *fitting) bins() map[int32][]summary.Moments {
	if f.c.Elsewhere == nil || f.fit.LeavingOutliers || !slices.Contains(binnable, f.fit.Kind) {
		return nil
	}
	var by *table.Column
	if f.fit.Each != "" {
		by = f.c.Shared.Groups(f.fit.Each).Column
	}
	return f.c.Elsewhere.Bins(by)
}

// binnable are the kinds of fits that follow from sums in narrow bins of x.
var binnable = []chart.FitKind{chart.FitCurve, chart.FitLocal, chart.FitSpline}

type fitting struct {
	c     *Case
	fit   *chart.Fit
	index int
	found []*Fit
}

// groups fits each group of a column.
func (f *fitting) groups(ctx context.Context) {
	groups := f.c.Shared.Groups(f.fit.Each)
	own := f.c.Groups.Are(groups.Column.Name)
	light, dark := f.c.Document.GroupColours().OfGroups(groups.Column.Levels, groups.Column.Colours)
	f.each(ctx, groups.Column.Levels, groups.Codes, groups.Counts, func(g int, out *Fit) {
		switch {
		case own:
			out.Light, out.Dark, out.entry = f.c.Groups.Light[g], f.c.Groups.Dark[g], g
		case f.c.Document.Colour == "": // nothing else is coloured
			out.Light, out.Dark = light[g], dark[g]
		default: // the colours mean something else: the names at the line ends and the patterns must do
			out.Dash = Patterns[g%len(Patterns)]
		}
	}, func() *GroupLines { return f.c.Shared.Fitted(ctx, f.fit.Each) })
}

// columns fits each of several columns along y.
func (f *fitting) columns(ctx context.Context) {
	groups := f.c.Groups
	counts := make([]int, len(groups.Levels))
	for _, code := range f.c.Codes {
		counts[code]++
	}
	f.each(ctx, groups.Levels, f.c.Codes, counts, func(g int, out *Fit) {
		out.Light, out.Dark, out.entry = groups.Light[g], groups.Dark[g], g
	}, func() *GroupLines {
		lines, errs := model.FitLines(ctx, f.c.U, f.c.V, f.c.Codes, len(counts))
		return &GroupLines{Lines: lines, Errs: errs}
	})
}

func (f *fitting) each(
	ctx context.Context,
	levels []string,
	codes []int32,
	counts []int,
	dress func(int, *Fit),
	fitted func() *GroupLines,
) {
	var lines *GroupLines
	x, y := make([][]float64, len(counts)), make([][]float64, len(counts))
	if plainLine(f.fit) {
		lines = fitted()
	} else {
		for g, n := range counts {
			x[g], y[g] = make([]float64, 0, n), make([]float64, 0, n)
		}
		for i, code := range codes {
			x[code], y[code] = append(x[code], f.c.U[i]), append(y[code], f.c.V[i])
		}
	}
	bins := f.bins()
	for g, level := range levels {
		if counts[g] == 0 {
			continue // the key says that none of its rows is drawn
		}
		if ctx.Err() != nil {
			return
		}
		out := &Fit{Kind: f.fit.Kind, Name: level, Group: g, Index: f.index, Light: primitive.InkLight, Dark: primitive.InkDark, entry: -1}
		dress(g, out)
		f.add(ctx, out, func() (*FittedLine, error) {
			switch {
			case plainLine(f.fit):
			case bins != nil:
				return fromBins(ctx, *f.fit, bins[int32(g)])
			default:
				return fitModel(ctx, *f.fit, x[g], y[g])
			}
			if lines.Errs[g] != nil {
				return nil, lines.Errs[g]
			}
			line := straight(lines.Lines[g])
			line.Exact = lines.Sums != nil
			return line, nil
		})
	}
}

// SmallestFit is the fewest rows that a fit is shown for: two points always lie on
// a line, which says nothing.
const SmallestFit = 3

var errTooFewForFit = fmt.Errorf("a fit needs at least %d rows", SmallestFit)

// curvePoints is how many points a curve or a band is drawn through.
const curvePoints = 97

func (f *fitting) add(ctx context.Context, out *Fit, fitted func() (*FittedLine, error)) {
	m, err := fitted()
	if err == nil && m.N < SmallestFit {
		err = errTooFewForFit
	}
	f.found = append(f.found, out)
	if err != nil {
		out.Problem, out.Facts = PlainReason(f.c, err), []primitive.Fact{}
		return
	}
	var band func(float64) model.Interval
	if said := f.fit.Band; said != nil {
		of := m.Confidence
		if said.Kind == chart.Prediction {
			of = m.Prediction
		}
		if of != nil {
			band = of(said.Level / 100)
			out.Band = BandName(said)
		}
	}
	points := curvePoints
	if m.Straight && band == nil {
		points = 2
	}
	out.x, out.y = make([]float64, points), make([]float64, points)
	for i := range points {
		if ctx.Err() != nil { // a point of a local regression is a fit of its own
			return
		}
		u := m.XMin + (m.XMax-m.XMin)*float64(i)/float64(points-1)
		out.x[i], out.y[i] = u, m.At(u)
		if band != nil {
			interval := band(u)
			out.low, out.high = append(out.low, interval.Low), append(out.high, interval.High)
		}
	}
	if band != nil && math.IsNaN(out.low[0]) { // two points: a line and no band
		out.low, out.high, out.Band = nil, nil, ""
	}
	out.Facts, out.Model = f.facts(m), m
}

const (
	fitWidth     = 2.4
	overallWidth = 2.0
	rimWidth     = 2.2 // of both sides together, where lines lie over cells
	rimOpacity   = 0.8
)

// draw draws bands under the dots and lines over them: those of groups that the key
// explains together, others each for itself.
func (f *fitting) draw(p *Panel, s *Sink) {
	f.drawBands(p, s)
	for _, fit := range f.found {
		if len(fit.x) == 0 {
			continue
		}
		width := fitWidth
		if fit.Group < 0 {
			width = overallWidth
		}
		l := primitive.Layer{
			Kind:  primitive.Paths,
			Count: 1,
			X:     p.ShareX(fit.x),
			Y:     p.ShareY(fit.y),
			Start: primitive.NewArray([]uint32{0}),
			Style: primitive.Style{Light: fit.Light, Dark: fit.Dark, Width: width, Dash: fit.Dash},
			Cards: []primitive.Card{fit.card()},
		}
		if slices.ContainsFunc(f.c.Document.Marks(), func(name string) bool { m := Named(name); return m != nil && m.Covers }) {
			rim := l
			rim.Cards = nil
			rim.Style = primitive.Style{Light: primitive.PaperLight, Dark: primitive.PaperDark, Width: width + rimWidth, Opacity: rimOpacity}
			s.Add(Over, rim)
		}
		f.explain(fit, &l)
		end := End{Name: fit.Name, Light: fit.Light, Dark: fit.Dark, Start: fit.Group < 0}
		if fit.Group < 0 && f.fit.Each == "" {
			end.Name = "" // named where there are several
			if overallFits(f.c.Document) > 1 {
				end.Name = fit.Model.Called
			}
		}
		s.Add(Over, l).End = []End{end}
	}
}

// overallFits counts the fits of all rows.
func overallFits(d *chart.Document) (n int) {
	for _, fit := range d.Fits() {
		if fit.Overall {
			n++
		}
	}
	return n
}

func (f *fitting) drawBands(p *Panel, s *Sink) {
	for _, fit := range f.found {
		if len(fit.low) == 0 {
			continue
		}
		opacity := 0.18
		if fit.Group < 0 {
			opacity = 0.1
		}
		l := primitive.Layer{
			Kind:  primitive.Areas,
			Count: 1,
			X:     p.ShareX(fit.x),
			Y:     p.ShareY(fit.low),
			Y2:    p.ShareY(fit.high),
			Start: primitive.NewArray([]uint32{0}),
			Style: primitive.Style{Light: fit.Light, Dark: fit.Dark, Opacity: opacity},
		}
		f.explain(fit, &l)
		s.Add(Under, l)
	}
}

// explain says which entry of the colour key a layer of a group belongs to.
func (f *fitting) explain(fit *Fit, l *primitive.Layer) {
	if fit.entry >= 0 {
		l.Keys.Colour = f.c.Groups.Key
		l.Colour = primitive.NewArray([]uint8{uint8(fit.entry)})
	}
}

func (f *Fit) card() primitive.Card {
	card := primitive.Card{Heading: f.Name, Facts: f.Facts}
	if f.Band != "" {
		card.Facts = append(card.Facts[:len(card.Facts):len(card.Facts)], primitive.Fact{Name: "band", Value: f.Band})
	}
	return card
}

// facts are the lines of the card over a fit, in the data's units.
func (f *fitting) facts(m *FittedLine) []primitive.Fact {
	facts := []primitive.Fact{}
	if m.Straight {
		facts = append(facts, primitive.Fact{Name: "equation", Value: f.equation(m)})
	}
	if !math.IsNaN(m.R2) {
		facts = append(facts, primitive.Fact{Name: "R squared", Value: scale.Number(m.R2, 3)})
	}
	facts = append(facts, primitive.Fact{Name: "rows", Value: scale.Number(float64(m.N), 0)})
	facts = append(facts, m.Facts...)
	if m.XMax > m.XMin { // it stops there, and why
		said := func(u float64) string { return ValueText(f.c.X, f.c.X.Scale().Undrawn(u)) }
		facts = append(facts, primitive.Fact{Name: "where its rows are", Value: said(m.XMin) + " to " + said(m.XMax)})
	}
	if f.fit.LeavingOutliers {
		facts = append(
			facts,
			primitive.Fact{Name: "outliers left out", Value: scale.Number(float64(m.LeftOut), 0)},
			primitive.Fact{Name: "slope with them", Value: scale.Signed(m.AllSlope, 3)},
		)
	}
	if f.c.Y.Kind == scale.Log {
		facts = append(facts, primitive.Fact{Name: "level", Value: "geometric, not a mean"})
	}
	return facts
}

// equation writes a straight line in drawn space in the data's units: of dates in the steps in which people count
// time, and about a round value near the first x where 0 lies far from all of them.
func (f *fitting) equation(m *FittedLine) string {
	intercept := m.At(0)
	y, x := f.c.Y.Prose(), f.c.X.Prose()
	logX, logY := f.c.X.Kind == scale.Log, f.c.Y.Kind == scale.Log
	slope, from := m.Slope, math.NaN()
	switch {
	case f.c.X.Dated():
		for _, unit := range table.DateSteps {
			if x, slope = unit.Name+"s", m.Slope*unit.Seconds; m.XMax-m.XMin >= 2*unit.Seconds {
				break
			}
		}
		from = math.Floor(m.XMin/86_400) * 86_400
		x += " since " + table.FormatDate(from, table.Day)
	case f.c.X.Kind == scale.Linear && min(math.Abs(m.XMin), math.Abs(m.XMax)) > farFromZero*(m.XMax-m.XMin) && m.XMax > m.XMin:
		step := math.Pow(10, math.Floor(math.Log10(m.XMax-m.XMin)))
		from = math.Floor(m.XMin/step) * step
		x = fmt.Sprintf(
			"(%s %s %s)",
			x,
			map[bool]string{true: scale.Minus, false: "+"}[from > 0],
			scale.InForm(f.c.X.Form, math.Abs(from), scale.Number(math.Abs(from), max(0, -int(math.Log10(step))))),
		)
	}
	if from == from {
		intercept = m.At(from)
	}
	if step := f.c.X.TimeStep(); step.Seconds > 0 && f.c.X.Kind == scale.Linear && from != from {
		slope, x = slope*step.Seconds, x+" in "+step.Name
	}
	if step := f.c.Y.TimeStep(); step.Seconds > 0 && f.c.Y.Kind == scale.Linear {
		intercept, slope, y = intercept/step.Seconds, slope/step.Seconds, y+" in "+step.Name
	}
	value := func(v float64) string {
		if f.c.Y.Dated() {
			return ValueText(f.c.Y, v)
		}
		return scale.Value(v, 4)
	}
	change := plusMinus(slope)
	if f.c.Y.Dated() {
		change = plusMinus(slope/86_400) + " days"
	}
	switch {
	case logX && logY:
		return fmt.Sprintf("%s = %s × %s^%s", y, scale.Value(math.Pow(10, intercept), 4), x, scale.Value(m.Slope, 4))
	case logX:
		return fmt.Sprintf("%s = %s %s × log10(%s)", y, value(intercept), change, x)
	case logY:
		return fmt.Sprintf("%s = %s × %s^%s", y, scale.Value(math.Pow(10, intercept), 4), scale.Value(math.Pow(10, slope), 5), x)
	}
	return fmt.Sprintf("%s = %s %s × %s", y, value(intercept), change, x)
}

// farFromZero is how many times their own span values of x lie from zero where an equation begins near them.
const farFromZero = 10

func plusMinus(v float64) string {
	if v < 0 {
		return scale.Minus + " " + scale.Value(-v, 4)
	}
	return "+ " + scale.Value(v, 4)
}

// PlainReason words a model's refusal with the columns' own names.
func PlainReason(c *Case, err error) string {
	switch {
	case errors.Is(err, model.ErrXNoSpread):
		return fmt.Sprintf("%s has no spread", c.X.Prose())
	case errors.Is(err, model.ErrTooFewRows):
		return "a fit needs at least 2 rows"
	case errors.Is(err, model.ErrTooFewDistinct):
		return fmt.Sprintf("too few different values of %s for such a curve", c.X.Prose())
	}
	return err.Error()
}

// Plural is the regular English plural, for column names in labels.
func Plural(word string) string {
	n := len(word)
	switch {
	case n > 1 && word[n-1] == 'y' && !isVowel(word[n-2]):
		return word[:n-1] + "ies"
	case n > 0 && (word[n-1] == 's' || word[n-1] == 'x' || (n > 1 && (word[n-2:] == "ch" || word[n-2:] == "sh"))):
		return word + "es"
	}
	return word + "s"
}

func isVowel(c byte) bool { return c == 'a' || c == 'e' || c == 'i' || c == 'o' || c == 'u' }

// BandName is what a band is called: 95 % confidence band.
func BandName(said *chart.Band) string {
	return fmt.Sprintf("%s %% %s band", table.FormatNumber(said.Level), said.Kind)
}
