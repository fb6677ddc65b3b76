package mark

import (
	"context"
	"fmt"
	"math"

	"copperlark/core/chart"
	"copperlark/core/model"
	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/smooth"
	"copperlark/core/summary"
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
	Line       *model.Line      // of a straight least-squares line
	Called     string           // what the fit is called beside others: spline, 7.2 coefficients
	Facts      []primitive.Fact // what the kind of fit has to say beside its equation
	Terms      []Term           // the coefficients, where there are some; in drawn space
	Residual   float64          // the spread of the residuals: √(RSS/df); NaN where it is not defined
	DF         float64          // degrees of freedom of the residuals
	Effective  float64          // how many coefficients a smooth fit is worth; 0: it has coefficients
	AdjustedR2 float64          // NaN where there is none
	Exact      bool             // of all rows, where the chart's own are a sample
	LeftOut    int              // outliers left out
	AllSlope   float64          // with these, where some were left out
}

// Term is a coefficient of a fit, of a power of x.
type Term struct {
	Power int
	Value float64
	SE    float64        // NaN where there is none
	Of    model.Interval // at 95 %, of a fit that gives an interval and no standard error
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
			f.Called = "line without outliers"
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
		return polynomialLine(p), nil
	case chart.FitRobust:
		l, err := model.FitRobustLine(ctx, x, y, 1)
		if err != nil {
			return nil, err
		}
		f := &FittedLine{
			N:        l.N,
			XMin:     l.XMin,
			XMax:     l.XMax,
			At:       l.At,
			Called:   "robust line",
			Straight: true,
			Slope:    l.Slope,
			R2:       math.NaN(),
			Terms: []Term{{Power: 0, Value: l.Intercept, SE: math.NaN(), Of: model.Interval{Low: math.NaN(), High: math.NaN()}},
				{Power: 1, Value: l.Slope, SE: math.NaN(), Of: l.Interval}},
			Residual:   math.NaN(),
			AdjustedR2: math.NaN(),
			Interval:   func(float64) model.Interval { return l.Interval },
		}
		f.Facts = append(f.Facts, primitive.Fact{Name: "method", Value: "Theil-Sen"})
		if l.Sampled {
			f.Facts = append(f.Facts, primitive.Fact{Name: "slopes", Value: scale.Number(float64(l.Slopes), 0) + " pairs, drawn at random"})
		}
		return f, nil
	}
	if fit.Kind == chart.FitLocal {
		return localModel(ctx, fit, x, y)
	}
	return splineModel(ctx, x, y)
}

// polynomialLine is a polynomial as a fit.
func polynomialLine(p *model.Polynomial) *FittedLine {
	return &FittedLine{
		N:          p.N,
		XMin:       p.XMin,
		XMax:       p.XMax,
		At:         p.At,
		Called:     fmt.Sprintf("curve, degree %d", p.Degree),
		Slope:      math.NaN(),
		R2:         p.R2,
		AdjustedR2: p.AdjustedR2,
		Terms:      powers(p),
		Residual:   p.RSE,
		DF:         float64(p.DF),
		Confidence: func(level float64) func(float64) model.Interval { c, _ := p.Band(level); return c },
		Prediction: func(level float64) func(float64) model.Interval { _, s := p.Band(level); return s },
	}
}

// fromBins fits the moments of narrow bins of x. Only kinds that follow from these come here.
func fromBins(ctx context.Context, fit chart.Fit, bins []summary.Moments) (*FittedLine, error) {
	var f *FittedLine
	switch sums := summary.Bins(bins); fit.Kind {
	case chart.FitCurve:
		p, err := model.PolynomialOf(sums, fit.Degree)
		if err != nil {
			return nil, err
		}
		f = polynomialLine(p)
	case chart.FitLocal:
		l, err := smooth.FitLocalOf(ctx, sums, spanOf(fit), 1)
		if err != nil {
			return nil, err
		}
		f = localLine(l, spanOf(fit))
	default:
		s, err := smooth.FitSplineOf(ctx, sums, smooth.Usual)
		if err != nil {
			return nil, err
		}
		f = splineLine(s)
	}
	f.Exact = true
	return f, nil
}

func spanOf(fit chart.Fit) float64 {
	if fit.Span == 0 {
		return chart.DefaultSpan
	}
	return fit.Span
}

func localModel(ctx context.Context, fit chart.Fit, x, y []float64) (*FittedLine, error) {
	span := spanOf(fit)
	l, err := smooth.FitLocal(ctx, x, y, span, 1)
	if err != nil {
		return nil, err
	}
	return localLine(l, span), nil
}

func localLine(l *smooth.Local, span float64) *FittedLine {
	return &FittedLine{
		N:          l.N,
		XMin:       l.XMin,
		XMax:       l.XMax,
		At:         l.At,
		Called:     "local, span " + table.FormatNumber(span),
		Slope:      math.NaN(),
		R2:         l.R2(),
		AdjustedR2: math.NaN(),
		Residual:   l.S,
		DF:         l.DF,
		Effective:  l.Trace,
		Confidence: l.Band,
		Facts: []primitive.Fact{
			{Name: "method", Value: fmt.Sprintf("local regression, span %s", table.FormatNumber(span))},
			{Name: "effective coefficients", Value: scale.Number(l.Trace, 1)},
		},
	}
}

func splineModel(ctx context.Context, x, y []float64) (*FittedLine, error) {
	s, err := smooth.FitSpline(ctx, x, y, smooth.Usual)
	if err != nil {
		return nil, err
	}
	return splineLine(s), nil
}

func splineLine(s *smooth.Spline) *FittedLine {
	return &FittedLine{
		N:          s.N,
		XMin:       s.XMin,
		XMax:       s.XMax,
		At:         s.At,
		Called:     fmt.Sprintf("spline, %s coefficients", scale.Number(s.EDF, 1)),
		Slope:      math.NaN(),
		R2:         s.R2(),
		AdjustedR2: math.NaN(),
		Residual:   math.Sqrt(s.Sigma2),
		DF:         float64(s.N) - s.EDF,
		Effective:  s.EDF,
		Confidence: s.Band,
		Facts: []primitive.Fact{
			{Name: "method", Value: "smoothing spline, by cross-validation"},
			{Name: "effective coefficients", Value: scale.Number(s.EDF, 1)},
		},
	}
}

func straight(l *model.Line) *FittedLine {
	return &FittedLine{
		N:          l.N,
		XMin:       l.XMin,
		XMax:       l.XMax,
		At:         l.At,
		Called:     "line",
		Straight:   true,
		Slope:      l.Slope,
		R2:         l.R2,
		AdjustedR2: l.AdjustedR2,
		Terms:      []Term{{Power: 0, Value: l.Intercept, SE: l.SEIntercept}, {Power: 1, Value: l.Slope, SE: l.SESlope}},
		Residual:   l.RSE,
		DF:         float64(l.DF),
		Line:       l,
		Interval:   l.SlopeInterval,
		Confidence: func(level float64) func(float64) model.Interval { c, _ := l.Band(level); return c },
		Prediction: func(level float64) func(float64) model.Interval { _, s := l.Band(level); return s },
	}
}

// powers are the coefficients of a polynomial, the lowest power first.
func powers(p *model.Polynomial) []Term {
	terms := make([]Term, len(p.Coefficients))
	for i, value := range p.Coefficients {
		terms[i] = Term{Power: i, Value: value, SE: p.SE[i]}
	}
	return terms
}
