package figure

import (
	"context"
	"errors"
	"fmt"
	"math"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/magnitude"
	"copperlark/core/model"
	"copperlark/core/scale"
	"copperlark/core/smooth"
	"copperlark/core/table"
)

// FittedLine is a fit of any kind in drawn space, as far as painting and reading
// need it.
type FittedLine struct {
	N          int
	XMin, XMax float64 // drawn space
	At         func(x float64) float64
	Straight   bool
	Slope      float64                            // NaN where the fit has none
	Interval   func(level float64) model.Interval // of the slope; nil where there is none
	R2         float64
	Confidence func(level float64) func(x float64) model.Interval // nil where there is none
	Prediction func(level float64) func(x float64) model.Interval
	Line       *model.Line // of a straight least-squares line
	Facts      []Fact      // what the kind of fit has to say beside its equation
	LeftOut    int         // outliers left out
	AllSlope   float64     // with these, where some were left out
}

// fitModel fits rows in drawn space in the way that was said.
func fitModel(ctx context.Context, fit chart.Fit, x, y []float64) (*FittedLine, error) {
	switch fit.Kind {
	case chart.FitLine:
		if fit.LeavingOutliers {
			all, without, left, err := model.FitLineWithoutOutliers(ctx, x, y)
			if err != nil {
				return nil, err
			}
			f := straight(without)
			f.LeftOut, f.AllSlope = len(left), all.Slope
			return f, nil
		}
		lines, errs := model.FitLines(ctx, x, y, nil, 1)
		if errs[0] != nil {
			return nil, errs[0]
		}
		return straight(lines[0]), nil
	case chart.FitCurve:
		p, err := model.FitPolynomial(ctx, x, y, fit.Degree)
		if err != nil {
			return nil, err
		}
		return &FittedLine{N: p.N, XMin: p.XMin, XMax: p.XMax, At: p.At, Slope: math.NaN(), R2: p.R2,
			Confidence: func(level float64) func(float64) model.Interval { c, _ := p.Band(level); return c },
			Prediction: func(level float64) func(float64) model.Interval { _, s := p.Band(level); return s }}, nil
	case chart.FitRobust:
		l, err := model.FitRobustLine(ctx, x, y, 1)
		if err != nil {
			return nil, err
		}
		f := &FittedLine{N: l.N, XMin: l.XMin, XMax: l.XMax, At: l.At, Straight: true, Slope: l.Slope, R2: math.NaN(),
			Interval: func(float64) model.Interval { return l.Interval }}
		f.Facts = append(f.Facts, Fact{"method", "Theil-Sen"})
		if l.Sampled {
			f.Facts = append(f.Facts, Fact{"slopes", scale.Number(float64(l.Slopes), 0) + " pairs, drawn at random"})
		}
		return f, nil
	}
	if fit.Kind == chart.FitLocal {
		return localModel(ctx, fit, x, y)
	}
	return splineModel(ctx, x, y)
}

func localModel(ctx context.Context, fit chart.Fit, x, y []float64) (*FittedLine, error) {
	span := fit.Span
	if span == 0 {
		span = chart.DefaultSpan
	}
	l, err := smooth.FitLocal(ctx, x, y, span, 1)
	if err != nil {
		return nil, err
	}
	return &FittedLine{N: l.N, XMin: l.XMin, XMax: l.XMax, At: l.At, Slope: math.NaN(), R2: l.R2(), Confidence: l.Band,
		Facts: []Fact{{"method", fmt.Sprintf("local regression, span %s", table.FormatNumber(span))}, {"effective coefficients", scale.Number(l.Trace, 1)}}}, nil
}

func splineModel(ctx context.Context, x, y []float64) (*FittedLine, error) {
	s, err := smooth.FitSpline(ctx, x, y, 0)
	if err != nil {
		return nil, err
	}
	return &FittedLine{N: s.N, XMin: s.XMin, XMax: s.XMax, At: s.At, Slope: math.NaN(), R2: s.R2(), Confidence: s.Band,
		Facts: []Fact{{"method", "smoothing spline, by cross-validation"}, {"effective coefficients", scale.Number(s.EDF, 1)}}}, nil
}

func straight(l *model.Line) *FittedLine {
	return &FittedLine{N: l.N, XMin: l.XMin, XMax: l.XMax, At: l.At, Straight: true, Slope: l.Slope, R2: l.R2, Line: l, Interval: l.SlopeInterval,
		Confidence: func(level float64) func(float64) model.Interval { c, _ := l.Band(level); return c },
		Prediction: func(level float64) func(float64) model.Interval { _, s := l.Band(level); return s }}
}

// AllRows names the fit of all rows.
const AllRows = "all rows"

func (b *builder) fits() {
	for index, fit := range b.document.Fits {
		if b.ctx.Err() != nil {
			return
		}
		if fit.Each != "" {
			b.groupFits(index, fit)
		}
		if fit.Overall {
			out := Fit{Kind: fit.Kind, Name: AllRows, Group: -1, Light: InkLight, Dark: InkDark, Dashed: fit.Each != "", Index: index}
			if fit.Each != "" {
				out.Name = "all " + Plural(b.table.Column(fit.Each).Prose())
			}
			if plainLine(fit) {
				b.addFitted(out, fit, b.overall)
			} else {
				b.addFitted(out, fit, func() (*FittedLine, error) { return fitModel(b.ctx, fit, b.rows.x, b.rows.y) })
			}
		}
	}
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

// plainLine reports whether a fit is the least-squares line of all its rows, which
// the reading needs too: it is made once.
func plainLine(fit chart.Fit) bool { return fit.Kind == chart.FitLine && !fit.LeavingOutliers }

// overall is the line of all rows.
func (b *builder) overall() (*FittedLine, error) {
	if b.line == nil && b.lineError == nil {
		lines, errs := model.FitLines(b.ctx, b.rows.x, b.rows.y, nil, 1)
		if b.lineError = errs[0]; b.lineError == nil {
			b.line = straight(lines[0])
		}
	}
	return b.line, b.lineError
}

// groupLines are the rows' groups by a column, with the line of each group.
type groupLines struct {
	column *table.Column // read as groups
	codes  []int32
	counts []int
	lines  []*model.Line
	errs   []error
}

// inGroups divides the rows by a column.
func (b *builder) inGroups(name string) *groupLines {
	if known := b.divided[name]; known != nil {
		return known
	}
	g := &groupLines{column: b.table.Column(name).AsGroups(chart.MaxFitGroups)}
	g.codes, g.counts = b.rows.codes(g.column), make([]int, len(g.column.Levels))
	for _, code := range g.codes {
		g.counts[code]++
	}
	if b.divided == nil {
		b.divided = map[string]*groupLines{}
	}
	b.divided[name] = g
	return g
}

// fitted gives the groups with their lines.
func (g *groupLines) fitted(b *builder) *groupLines {
	if g.lines == nil {
		g.lines, g.errs = model.FitLines(b.ctx, b.rows.x, b.rows.y, g.codes, len(g.counts))
	}
	return g
}

func (b *builder) groupFits(index int, fit chart.Fit) {
	groups := b.inGroups(fit.Each)
	x, y := make([][]float64, len(groups.counts)), make([][]float64, len(groups.counts))
	if plainLine(fit) {
		groups.fitted(b)
	} else {
		for g, n := range groups.counts {
			x[g], y[g] = make([]float64, 0, n), make([]float64, 0, n)
		}
		for i, code := range groups.codes {
			x[code] = append(x[code], b.rows.x[i])
			y[code] = append(y[code], b.rows.y[i])
		}
	}
	for g, level := range groups.column.Levels {
		if groups.counts[g] == 0 {
			continue // the key says that none of its rows is drawn
		}
		if b.ctx.Err() != nil {
			return
		}
		out := Fit{Kind: fit.Kind, Name: level, Group: g, Index: index, Light: InkLight, Dark: InkDark}
		if b.document.Colour == "" || b.document.Colour == fit.Each {
			out.Light, out.Dark = colour.Hedgerow.Light[g%len(colour.Hedgerow.Light)], colour.Hedgerow.Dark[g%len(colour.Hedgerow.Dark)]
		} // else the colours mean something else, and the names at the line ends must do
		b.addFitted(out, fit, func() (*FittedLine, error) {
			if !plainLine(fit) {
				return fitModel(b.ctx, fit, x[g], y[g])
			}
			if groups.errs[g] != nil {
				return nil, groups.errs[g]
			}
			return straight(groups.lines[g]), nil
		})
	}
}

// smallestFit is the fewest rows that a fit is shown for: two points always lie on
// a line.
const smallestFit = 3

var errTooFewForFit = fmt.Errorf("a fit needs at least %d rows", smallestFit)

// curvePoints is how many points a curve or a band is drawn through.
const curvePoints = 97

func (b *builder) addFitted(out Fit, fit chart.Fit, made func() (*FittedLine, error)) {
	fitted, err := made()
	if err == nil && fitted.N < smallestFit {
		err = errTooFewForFit
	}
	if err != nil {
		out.Problem = b.plainReason(err)
		out.Facts = []Fact{}
		b.figure.Fits = append(b.figure.Fits, out)
		return
	}
	var band func(float64) model.Interval
	if fit.Band != nil {
		of := fitted.Confidence
		if fit.Band.Kind == chart.Prediction {
			of = fitted.Prediction
		}
		if of != nil {
			band = of(fit.Band.Level / 100)
			out.Band = fmt.Sprintf("%s %% %s band", table.FormatNumber(fit.Band.Level), fit.Band.Kind)
		}
	}
	points := curvePoints
	if fitted.Straight && band == nil {
		points = 2
	}
	xs, ys := make([]float64, points), make([]float64, points)
	var low, high []float64
	for i := range points {
		if b.ctx.Err() != nil { // a point of a local regression is a fit of its own
			return
		}
		u := fitted.XMin + (fitted.XMax-fitted.XMin)*float64(i)/float64(points-1)
		xs[i], ys[i] = u, fitted.At(u)
		if band != nil {
			interval := band(u)
			low, high = append(low, interval.Low), append(high, interval.High)
		}
	}
	if band != nil && math.IsNaN(low[0]) { // two points: a line and no band
		low, high, out.Band = nil, nil, ""
	}
	// Fits are few: float32 keeps them sharp at any zoom.
	out.X, out.Y = linePositions(&b.figure.X, xs), linePositions(&b.figure.Y, ys)
	out.Low, out.High = linePositions(&b.figure.Y, low), linePositions(&b.figure.Y, high)
	out.Facts, out.Model = b.facts(fitted, fit), fitted
	b.figure.Fits = append(b.figure.Fits, out)
}

func linePositions(a *Axis, drawn []float64) Array {
	from, to := a.Drawn(a.From), a.Drawn(a.To)
	positions := make([]float32, len(drawn))
	for i, v := range drawn {
		positions[i] = float32(magnitude.Share(v, from, to))
	}
	return NewArray(positions)
}

// facts are the lines of the card over a fit, in the data's units.
func (b *builder) facts(f *FittedLine, fit chart.Fit) []Fact {
	facts := []Fact{}
	if f.Straight {
		facts = append(facts, Fact{"equation", b.equation(f)})
	}
	if !math.IsNaN(f.R2) {
		facts = append(facts, Fact{"R squared", scale.Number(f.R2, 3)})
	}
	facts = append(facts, Fact{"rows", scale.Number(float64(f.N), 0)})
	facts = append(facts, f.Facts...)
	if fit.LeavingOutliers {
		facts = append(facts, Fact{"outliers left out", scale.Number(float64(f.LeftOut), 0)}, Fact{"slope with them", scale.Signed(f.AllSlope, 3)})
	}
	if b.document.LogY {
		facts = append(facts, Fact{"level", "geometric, not a mean"})
	}
	return facts
}

// equation writes a straight line in drawn space in the data's units.
func (b *builder) equation(f *FittedLine) string {
	intercept := f.At(0)
	y, x := b.y.Prose(), b.x.Prose()
	switch {
	case b.document.LogX && b.document.LogY:
		return fmt.Sprintf("%s = %s × %s^%s", y, scale.Value(math.Pow(10, intercept), 4), x, scale.Value(f.Slope, 4))
	case b.document.LogX:
		return fmt.Sprintf("%s = %s %s × log10(%s)", y, scale.Value(intercept, 4), plusMinus(f.Slope), x)
	case b.document.LogY:
		return fmt.Sprintf("%s = %s × %s^%s", y, scale.Value(math.Pow(10, intercept), 4), scale.Value(math.Pow(10, f.Slope), 5), x)
	}
	return fmt.Sprintf("%s = %s %s × %s", y, scale.Value(intercept, 4), plusMinus(f.Slope), x)
}

func plusMinus(v float64) string {
	if v < 0 {
		return scale.Minus + " " + scale.Value(-v, 4)
	}
	return "+ " + scale.Value(v, 4)
}

// plainReason words a model's refusal with the columns' own names.
func (b *builder) plainReason(err error) string {
	switch {
	case errors.Is(err, model.ErrXNoSpread):
		return fmt.Sprintf("%s has no spread", b.x.Prose())
	case errors.Is(err, model.ErrTooFewRows):
		return "a fit needs at least 2 rows"
	case errors.Is(err, model.ErrTooFewDistinct):
		return fmt.Sprintf("too few different values of %s for such a curve", b.x.Prose())
	}
	return err.Error()
}
