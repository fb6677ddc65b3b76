package smooth

import (
	"context"
	"math"
	"math/rand/v2"
	"testing"

	"copperlark/core/model"
	"copperlark/internal/test/oracle"
)

type input struct {
	X      oracle.Numbers `json:"x"`
	Y      oracle.Numbers `json:"y"`
	X0     []float64      `json:"x0"`
	Span   float64        `json:"span"`
	Degree int            `json:"degree"`
	Lambda *float64       `json:"lambda"`
	Limit  string         `json:"limit"`
}

func TestOracles(t *testing.T) {
	ctx := context.Background()
	oracle.Run(t, map[string]func(*testing.T, oracle.Case) any{
		"local_regression": func(t *testing.T, c oracle.Case) any {
			in := oracle.Decode[input](t, c)
			x, y, _ := model.Complete(in.X, in.Y)
			l, err := FitLocal(ctx, x, y, in.Span, in.Degree)
			if err != nil {
				return oracle.Refused(err)
			}
			band := l.Band(0.95)
			return map[string]any{"n": l.N, "k": l.K, "trace": l.Trace, "delta1": l.Delta1, "delta2": l.Delta2, "s": l.S, "df": l.DF,
				"at": oracle.List(in.X0, func(x0 float64) any {
					b := band(x0)
					return map[string]any{"x0": x0, "fit": l.At(x0), "se": l.SE(x0), "lo": b.Low, "hi": b.High}
				})}
		},
		"smoothing_spline": func(t *testing.T, c oracle.Case) any {
			in := oracle.Decode[input](t, c)
			x, y, _ := model.Complete(in.X, in.Y)
			penalty := Penalty{}
			if in.Lambda != nil {
				penalty.Lambda = *in.Lambda
			}
			s, err := FitSpline(ctx, x, y, penalty)
			if err != nil {
				return oracle.Refused(err)
			}
			return splineAnswer(s, in.X0)
		},
		"smoothing_spline_gamma": func(t *testing.T, c oracle.Case) any {
			in := oracle.Decode[gammaInput](t, c)
			x, y, _ := model.Complete(in.X, in.Y)
			s, err := FitSpline(ctx, x, y, Penalty{Gamma: in.Gamma, Capped: true})
			if err != nil {
				return oracle.Refused(err)
			}
			out := splineAnswer(s, in.X0)
			out["cap"], out["capped"] = s.Cap(), s.AtCap
			return out
		},
	})
}

type gammaInput struct {
	X     oracle.Numbers `json:"x"`
	Y     oracle.Numbers `json:"y"`
	Gamma float64        `json:"gamma"`
	X0    []float64      `json:"x0"`
	Limit string         `json:"limit"`
}

func splineAnswer(s *Spline, x0 []float64) map[string]any {
	band := s.Band(0.95)
	at := func(name string, x float64) any {
		b := band(x)
		return map[string]any{name: x, "fit": s.At(x), "se": s.SE(x), "lo": b.Low, "hi": b.High}
	}
	chosen := any(s.Lambda)
	if math.IsInf(s.Lambda, 1) {
		chosen = nil
	}
	return map[string]any{"n": s.N, "knots": s.Knots, "lambda": chosen, "edf": s.EDF, "rss": s.RSS, "gcv": s.GCV, "sigma2": s.Sigma2,
		"fitted": oracle.List(s.points.x, func(x float64) any { return at("x", x) }),
		"at":     oracle.List(x0, func(x float64) any { return at("x0", x) })}
}

// wave is a curve with noise, on a skewed x.
func wave(n int, seed uint64) (x, y []float64) {
	source := rand.New(rand.NewPCG(seed, 1))
	x, y = make([]float64, n), make([]float64, n)
	for i := range x {
		x[i] = 10 * source.Float64() * source.Float64()
		y[i] = math.Sin(x[i]) + 0.3*source.NormFloat64()
	}
	return x, y
}

// TestGatheringIsBelowAPixel holds the way for many rows against the exact one
// over the same rows: within a pixel of a chart 1,000 pixels high.
func TestGatheringIsBelowAPixel(t *testing.T) {
	x, y := wave(exactRows, 3)
	ctx := context.Background()
	local, err := FitLocal(ctx, x, y, 0.3, 1)
	if err != nil {
		t.Fatal(err)
	}
	gathered := *local
	gathered.points = gatherMany(x, y)
	for _, lambda := range []float64{0.001, 0.3} {
		spline, err := FitSpline(ctx, x, y, Penalty{Lambda: lambda})
		if err != nil {
			t.Fatal(err)
		}
		p := gathered.points
		quick := &Spline{N: len(x), points: p, Knots: len(p.x), XMin: p.x[0], XMax: p.x[len(p.x)-1], h: make([]float64, len(p.x)-1)}
		if quick.Knots > 1960 {
			t.Fatalf("%d of %d knots are left: nothing was gathered", quick.Knots, len(x))
		}
		for i := range quick.h {
			quick.h[i] = p.x[i+1] - p.x[i]
		}
		quick.solve(lambda)
		pixel := 4.0 / 1000
		for i := range 50 {
			at := local.XMin + (local.XMax-local.XMin)*float64(i)/49
			if off := math.Abs(local.At(at) - gathered.At(at)); off > pixel {
				t.Errorf("local regression at %.2f is %.4f off", at, off)
			}
			if off := math.Abs(spline.At(at) - quick.At(at)); off > pixel {
				t.Errorf("the spline of %v at %.2f is %.4f off", lambda, at, off)
			}
		}
		if off := math.Abs(quick.EDF - spline.EDF); off > 0.01*spline.EDF {
			t.Errorf("edf is %.2f, exactly %.2f", quick.EDF, spline.EDF)
		}
	}
}

// TestManyRowsStayStable fits what once lost its digits: thousands of rows with
// nearly equal x. The smooth curve must be near the truth.
func TestManyRowsStayStable(t *testing.T) {
	x, y := wave(100_000, 4)
	s, err := FitSpline(context.Background(), x, y, Usual)
	if err != nil {
		t.Fatal(err)
	}
	l, err := FitLocal(context.Background(), x, y, 0.1, 2)
	if err != nil {
		t.Fatal(err)
	}
	for _, at := range []float64{0.5, 1, 2, 4} {
		if off := math.Abs(s.At(at) - math.Sin(at)); off > 5*s.SE(at)+0.005 || s.SE(at) > 0.03 {
			t.Errorf("the spline at %v is %.4f off, its error says %.4f", at, off, s.SE(at))
		}
		if off := math.Abs(l.At(at) - math.Sin(at)); off > 0.03 {
			t.Errorf("local regression at %v is %.4f off", at, off)
		}
	}
}

// TestSmoothersOfALineAreTheLine: a straight line has no curvature to smooth.
func TestSmoothersOfALineAreTheLine(t *testing.T) {
	x, _ := wave(300, 5)
	y := make([]float64, len(x))
	for i, v := range x {
		y[i] = 1e6 - 3*v
	}
	ctx := context.Background()
	local, err := FitLocal(ctx, x, y, 0.5, 2)
	if err != nil {
		t.Fatal(err)
	}
	spline, err := FitSpline(ctx, x, y, Penalty{Lambda: 1})
	if err != nil {
		t.Fatal(err)
	}
	for _, at := range []float64{0.1, 1, 5, 8} {
		for name, got := range map[string]float64{"local": local.At(at), "spline": spline.At(at)} {
			if want := 1e6 - 3*at; math.Abs(got-want) > 1e-6 {
				t.Errorf("%s at %v: %v, want %v", name, at, got, want)
			}
		}
	}
}

// FuzzSmoothers holds that nothing panics or hangs, and that what is fitted is a
// number.
func FuzzSmoothers(f *testing.F) {
	f.Add(uint64(1), 10, 3, 0.5)
	f.Add(uint64(2), 50, 1, 1.0)
	f.Add(uint64(3), 4, 2, 1e9)
	f.Fuzz(func(t *testing.T, seed uint64, n, distinct int, scale float64) {
		if n < 0 || n > 300 || distinct < 1 || math.IsNaN(scale) || math.Abs(scale) > 1e12 || math.Abs(scale) < 1e-9 {
			return
		}
		source := rand.New(rand.NewPCG(seed, 2))
		x, y := make([]float64, n), make([]float64, n)
		for i := range x {
			x[i], y[i] = scale*float64(source.IntN(distinct)), scale*source.NormFloat64()
		}
		ctx := context.Background()
		for degree := 1; degree <= 2; degree++ {
			if l, err := FitLocal(ctx, x, y, 0.4, degree); err == nil {
				if v := l.At(x[0]); math.IsNaN(v) || math.IsInf(v, 0) {
					t.Errorf("local regression of degree %d gives %v", degree, v)
				}
			}
		}
		if s, err := FitSpline(ctx, x, y, Usual); err == nil {
			if v := s.At(x[0]); math.IsNaN(v) || math.IsInf(v, 0) {
				t.Errorf("the spline gives %v", v)
			}
		}
	})
}
