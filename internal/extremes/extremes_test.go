// Package extremes holds every exported function of core that takes columns to values at
// the ends of what a float64 can hold: none panics, and each ends soon after its context.
package extremes

import (
	"context"
	"encoding/json"
	"fmt"
	"go/ast"
	"go/parser"
	"go/token"
	"io"
	"io/fs"
	"math"
	"math/rand/v2"
	"path/filepath"
	"slices"
	"strings"
	"testing"
	"time"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/confound"
	"copperlark/core/density"
	"copperlark/core/describe"
	"copperlark/core/draw"
	"copperlark/core/figure"
	"copperlark/core/formula"
	"copperlark/core/magnitude"
	"copperlark/core/mark"
	"copperlark/core/model"
	"copperlark/core/pairs"
	"copperlark/core/parallel"
	"copperlark/core/pattern"
	"copperlark/core/prepare"
	"copperlark/core/primitive"
	"copperlark/core/reader"
	"copperlark/core/reading"
	"copperlark/core/render"
	"copperlark/core/sample"
	"copperlark/core/scale"
	"copperlark/core/sentence"
	"copperlark/core/smooth"
	"copperlark/core/summary"
	"copperlark/core/table"
	"copperlark/core/text"
	"copperlark/core/window"
)

// columns are what every function is given: three columns of numbers, one of groups, and
// the table of them.
type columns struct {
	x, y, z []float64
	group   []int32
	table   *table.Table
}

const groups = 3

func rowsOf(c columns) []uint32 {
	rows := make([]uint32, len(c.x))
	for i := range rows {
		rows[i] = uint32(i)
	}
	return rows
}

func columnsOf(x, y, z []float64) columns {
	c := columns{x: x, y: y, z: z, group: make([]int32, len(x))}
	for i := range c.group {
		c.group[i] = int32(i % groups)
	}
	c.table, _ = table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewNumbers("z", z),
		&table.Column{Name: "g", Kind: table.Category, Codes: c.group, Levels: []string{"a", "b", "c"}},
		&table.Column{Name: "when", Kind: table.Date, Grain: table.Second, Numbers: x},
		&table.Column{Name: "said", Kind: table.Text, Codes: c.group, Levels: []string{"a", "b", "c"}})
	return c
}

// finite leaves out rows with NaN, for functions that take complete pairs.
func (c columns) finite() columns {
	var x, y, z []float64
	for i := range c.x {
		if !math.IsNaN(c.x[i]) && !math.IsNaN(c.y[i]) && !math.IsNaN(c.z[i]) {
			x, y, z = append(x, c.x[i]), append(y, c.y[i]), append(z, c.z[i])
		}
	}
	return columnsOf(x, y, z)
}

// built draws a document and writes all that is made of it.
func built(ctx context.Context, c columns, d *chart.Document) error {
	f, problems, err := figure.Build(ctx, mark.Bind(d, c.table), figure.Options{Metrics: text.Hanken()})
	if err != nil || problems != nil {
		return err
	}
	var out strings.Builder
	if err := f.Encode(&out, map[string]any{"reading": reading.Of(f), "spoken": sentence.Spoken(mark.Bind(d, c.table)),
		"change": sentence.Change(nil, mark.Bind(d, c.table))}); err != nil {
		panic(fmt.Sprintf("%+v cannot be written: %v", d, err))
	}
	if len(c.x) > 1000 { // as JSON only ever in small
		return nil
	}
	if _, err := json.Marshal(f); err != nil {
		panic(fmt.Sprintf("%+v cannot be written as JSON: %v", d, err))
	}
	return nil
}

// comparedWithFewer compares lines of groups and of all rows with those of fewer rows.
func comparedWithFewer(ctx context.Context, c columns) error {
	d := &chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}
	d.AddFit(chart.Fit{Kind: chart.FitLine, Each: "g", Overall: true})
	fewer := d.Clone()
	fewer.Where = "z > 0"
	a, b := mark.Bind(d, c.table), mark.Bind(fewer, c.table)
	first, err := figure.Take(ctx, a)
	if err != nil {
		return err
	}
	second, err := figure.Take(ctx, b)
	if err != nil {
		return err
	}
	out, err := reading.Compare(ctx, first, second, a, b, true)
	if err == nil {
		if _, wrong := json.Marshal(out); wrong != nil {
			panic(fmt.Sprintf("a comparison cannot be written: %v", wrong))
		}
	}
	return err
}

// functions names every function once; a new one must be added here.
var functions = map[string]func(ctx context.Context, c columns) error{
	"model.FitLine": func(ctx context.Context, c columns) error {
		l, err := model.FitLine(ctx, c.x, c.y)
		if err == nil {
			l.Band(0.95)
			l.PSlope()
		}
		return err
	},
	"model.FitLines": func(ctx context.Context, c columns) error {
		_, errs := model.FitLines(ctx, c.x, c.y, c.group, groups)
		return errs[0]
	},
	"model.FitLineThroughOrigin": func(_ context.Context, c columns) error {
		_, err := model.FitLineThroughOrigin(c.x, c.y)
		return err
	},
	"model.FitLineLeaving": func(ctx context.Context, c columns) error {
		_, err := model.FitLineLeaving(ctx, c.x, c.y, []int{0})
		return err
	},
	"model.FitLineWithoutOutliers": func(ctx context.Context, c columns) error {
		_, _, _, err := model.FitLineWithoutOutliers(ctx, c.x, c.y)
		return err
	},
	"model.InfluenceOn": func(ctx context.Context, c columns) error {
		if l, err := model.FitLine(ctx, c.x, c.y); err == nil {
			model.InfluenceOn(l, c.x, c.y).Outliers()
		}
		return nil
	},
	"model.FitPolynomial": func(ctx context.Context, c columns) error {
		p, err := model.FitPolynomial(ctx, c.x, c.y, 3)
		if err == nil {
			p.Band(0.95)
		}
		return err
	},
	"model.FitMultiple": func(_ context.Context, c columns) error {
		rows := make([][]float64, len(c.x))
		for i := range rows {
			rows[i] = []float64{c.x[i], c.z[i]}
		}
		_, err := model.FitMultiple(rows, c.y)
		return err
	},
	"model.FitRobustLine": func(ctx context.Context, c columns) error {
		_, err := model.FitRobustLine(ctx, c.x, c.y, 1)
		return err
	},
	"model.Complete": func(_ context.Context, c columns) error { model.Complete(c.x, c.y); return nil },
	"model.Logged":   func(_ context.Context, c columns) error { model.Logged(c.x, c.y, true, true); return nil },
	"smooth.FitSpline": func(ctx context.Context, c columns) error {
		s, err := smooth.FitSpline(ctx, c.x, c.y, smooth.Usual)
		if err == nil {
			s.Band(0.95)(s.At(s.XMin))
		}
		return err
	},
	"smooth.FitLocal": func(ctx context.Context, c columns) error {
		l, err := smooth.FitLocal(ctx, c.x, c.y, 0.5, 1)
		if err == nil {
			l.Band(0.95)(l.XMin)
		}
		return err
	},
	"density.BinBy": func(_ context.Context, c columns) error { _, err := density.BinBy(c.x, 20); return err },
	"density.BinOf": func(_ context.Context, c columns) error {
		for _, width := range []float64{1e-300, 5, 1e300} {
			if _, err := density.BinOf(c.x, width); err != nil {
				return err
			}
		}
		return nil
	},
	"density.Bin": func(_ context.Context, c columns) error {
		_, err := density.Bin(c.x, density.FreedmanDiaconis)
		return err
	},
	"density.Estimate": func(ctx context.Context, c columns) error {
		d, err := density.Estimate(ctx, c.x, density.Silverman)
		if err != nil {
			return err
		}
		if _, err := d.Grid(ctx, -1, 1, 20); err != nil {
			return err
		}
		if len(c.x) < 1000 {
			_, err = d.Level(ctx, 0.5)
		}
		return err
	},
	"density.EstimateTwoWay": func(ctx context.Context, c columns) error {
		d, err := density.EstimateTwoWay(ctx, c.x, c.y)
		if err == nil {
			_, err = d.Levels(ctx, []float64{0.5})
		}
		return err
	},
	"density.Contours": func(ctx context.Context, c columns) error {
		side := int(math.Sqrt(float64(len(c.x))))
		for _, line := range density.Contours(ctx, c.x, side, side, 0) {
			for i, x := range line.X {
				if y := line.Y[i]; x-x != 0 || y-y != 0 {
					return fmt.Errorf("a line goes through %v, %v", x, y)
				}
			}
		}
		return nil
	},
	"formula.CurveAt": func(_ context.Context, c columns) error { _, err := formula.CurveAt("x ^ 2 - 1 / x", c.x); return err },
	"formula.Curve": func(ctx context.Context, c columns) error {
		_, err := formula.Curve(ctx, "x ^ 2 / 3 - ln(x)", c.x)
		return err
	},
	"density.Count": func(ctx context.Context, c columns) error {
		_, err := density.Lattice{StepX: 0.5, StepY: 0.5}.Count(ctx, c.x, c.y)
		return err
	},
	"describe.Decimals":       func(_ context.Context, c columns) error { describe.Decimals(c.x); return nil },
	"describe.Shown":          func(_ context.Context, c columns) error { describe.Shown(c.table.Column("x")); return nil },
	"describe.Summarise":      func(_ context.Context, c columns) error { describe.Summarise(c.x); return nil },
	"describe.Present":        func(_ context.Context, c columns) error { describe.Present(c.x); return nil },
	"describe.Quantile":       func(_ context.Context, c columns) error { describe.Quantile(c.x, 0.3); return nil },
	"describe.Spread":         func(ctx context.Context, c columns) error { describe.Spread(ctx, c.x); return nil },
	"describe.Moments":        func(ctx context.Context, c columns) error { describe.Moments(ctx, c.x); return nil },
	"describe.Quantiles":      func(_ context.Context, c columns) error { describe.Quantiles(c.x, 0.25, 0.5); return nil },
	"describe.TukeyBox":       func(_ context.Context, c columns) error { _, err := describe.TukeyBox(c.x); return err },
	"describe.IntervalOfMean": func(_ context.Context, c columns) error { _, err := describe.IntervalOfMean(c.x, 0.95); return err },
	"describe.Correlate":      func(_ context.Context, c columns) error { _, err := describe.Correlate(c.x, c.y); return err },
	"describe.PearsonOf":      func(_ context.Context, c columns) error { _, err := describe.PearsonOf(c.x, c.y); return err },
	"describe.SpearmanOf":     func(_ context.Context, c columns) error { _, err := describe.SpearmanOf(c.x, c.y); return err },
	"describe.PearsonMatrix": func(ctx context.Context, c columns) error {
		_, err := describe.PearsonMatrix(ctx, [][]float64{c.x, c.y, c.z})
		return err
	},
	"describe.Ranks":      func(_ context.Context, c columns) error { describe.Ranks(c.x); return nil },
	"describe.EtaSquared": func(_ context.Context, c columns) error { describe.EtaSquared(c.group, groups, c.x); return nil },
	"describe.CramersV": func(_ context.Context, c columns) error {
		describe.CramersV(c.group, groups, c.group, groups)
		return nil
	},
	"describe.Picture": func(_ context.Context, c columns) error { return written(describe.Picture(c.table.Column("x"), 16)) },
	"describe.Gaps":    func(_ context.Context, c columns) error { return written(describe.Gaps(c.table.Column("x"), 28)) },
	"describe.GoesWith": func(_ context.Context, c columns) error {
		describe.GoesWith(c.table.Column("x"), c.table.Column("y"))
		return nil
	},
	"confound.Adjust": func(ctx context.Context, c columns) error { _, err := confound.Adjust(ctx, c.x, c.y, c.z); return err },
	"confound.TakeOutGroups": func(_ context.Context, c columns) error {
		confound.TakeOutGroups(c.x, c.y, c.group, groups)
		return nil
	},
	"confound.TakeOutNumber": func(ctx context.Context, c columns) error {
		_, _, err := confound.TakeOutNumber(ctx, c.x, c.y, c.z)
		return err
	},
	"confound.Standardise": func(_ context.Context, c columns) error {
		confound.Standardise(c.group, groups, c.y, c.group, groups)
		return nil
	},
	"confound.Compare": func(ctx context.Context, c columns) error {
		_, err := confound.Compare(ctx, c.x, c.y, c.group, groups)
		return err
	},
	"confound.CompareLines": func(ctx context.Context, c columns) error {
		all, errs := model.FitLines(ctx, c.x, c.y, nil, 1)
		lines, problems := model.FitLines(ctx, c.x, c.y, c.group, groups)
		if errs[0] == nil {
			confound.CompareLines(c.x, c.y, c.group, all[0], lines, problems)
		}
		return nil
	},
	"confound.Rank": func(ctx context.Context, c columns) error {
		rows := make([]uint32, len(c.x))
		for i := range rows {
			rows[i] = uint32(i)
		}
		_, err := confound.Rank(ctx, c.x, c.y, rows, []*table.Column{c.table.Column("z"), c.table.Column("g")}, nil)
		return err
	},
	"confound.FindAlike": func(ctx context.Context, c columns) error {
		confound.FindAlike(ctx, c.x, c.y, rowsOf(c), c.table, "x", "y")
		return nil
	},
	"confound.RankAlike": func(ctx context.Context, c columns) error {
		alike := confound.FindAlike(ctx, c.x, c.y, rowsOf(c), c.table, "x", "y")
		candidates := []*table.Column{c.table.Column("z"), c.table.Column("g")}
		_, err := confound.RankAlike(ctx, c.x, c.y, rowsOf(c), candidates, alike, confound.NoOthers, nil)
		return err
	},
	"describe.DifferencesOf": func(_ context.Context, c columns) error {
		some := min(len(c.x), 3)
		describe.DifferencesOf([]float64{3, 0, 2}[:some], c.x[:some], c.y[:some])
		return nil
	},
	"describe.CramersVOf": func(_ context.Context, c columns) error {
		describe.CramersVOf([]float64{1, 2, 0, 4}, 2, 2)
		return nil
	},
	"summary.Of": func(ctx context.Context, c columns) error {
		x, y := &summary.Value{Column: "x"}, &summary.Value{Column: "y"}
		for _, by := range []summary.Key{{Kind: summary.Level, Column: "g"}, {Kind: summary.Step, Of: x, From: -5, Width: 0.1},
			{Kind: summary.Level, Column: "x"}, {Kind: summary.Hexagon, Of: x, And: y, Width: 0.1, WidthY: 0.1}} {
			answer, err := summary.Of(ctx, c.table, &summary.Question{X: x, Y: y, By: []summary.Key{by}})
			if err != nil {
				return err
			}
			if err := written(answer); err != nil {
				return err
			}
			var all []summary.Moments
			for _, g := range answer.Groups {
				all = append(all, g.Moments)
			}
			bins := summary.Bins(all)
			for _, fit := range []func() error{
				func() error { _, err := answer.All().Line(); return err },
				func() error {
					_, err := confound.AdjustMoments(&confound.Three{XY: answer.All(), XZ: answer.All(), ZY: answer.All()})
					return err
				},
				func() error { _, err := model.PolynomialOf(bins, 3); return err },
				func() error { _, err := smooth.FitLocalOf(ctx, bins, 0.5, 1); return err },
				func() error { _, err := smooth.FitSplineOf(ctx, bins, smooth.Usual); return err },
			} {
				if err := fit(); err != nil {
					return err
				}
			}
		}
		return nil
	},
	"mark.ProfileOf": func(ctx context.Context, c columns) error {
		return answering(ctx, c, func(whole *summary.Whole) error {
			for _, column := range c.table.Columns() {
				if p, known := mark.ProfileOf(whole, column); known {
					if err := written(p); err != nil {
						return err
					}
				}
			}
			return nil
		})
	},
	"figure.RelatedElsewhere": func(ctx context.Context, c columns) error {
		bound := mark.Bind(&chart.Document{Version: chart.Version, X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}, c.table)
		return answering(ctx, c, func(whole *summary.Whole) error {
			x, y, rows, err := figure.Relate(ctx, bound)
			if err != nil {
				return err
			}
			_, err = confound.RankAlike(ctx, x, y, rows, []*table.Column{c.table.Column("z"), c.table.Column("g")}, nil,
				figure.RelatedElsewhere(bound, whole), nil)
			return err
		})
	},
	"figure.Under": func(_ context.Context, c columns) error {
		bound := mark.Bind(&chart.Document{Version: chart.Version, X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}, c.table)
		figure.Under(bound, &summary.Whole{Raw: c.table}, figure.SeenPart{X: []float64{-1e308, 1e308}, Y: []float64{-1e-9, 1e-12}})
		return nil
	},
	"prepare.AskedElsewhere": func(_ context.Context, c columns) error {
		prepare.AskedElsewhere(prepare.Parse("bin x at -1e308, 1e-9 into band\nread g as text"), c.table)
		return nil
	},
	"describe.GroupDifferences": func(_ context.Context, c columns) error {
		describe.GroupDifferences(c.group, groups, c.x)
		return nil
	},
	"model.FitClusters": func(ctx context.Context, c columns) error {
		f := c.finite()
		_, err := model.FitClusters(ctx, f.x, f.y, f.group)
		return err
	},
	"model.ClustersOf": func(ctx context.Context, c columns) error {
		return onLine(ctx, c, func(l *model.Line, f columns) { model.ClustersOf(l, f.x, f.y, f.group) })
	},
	"model.FitSeries": func(ctx context.Context, c columns) error {
		f := c.finite()
		s, err := model.FitSeries(ctx, f.x, f.y, math.NaN())
		if err == nil {
			s.Widest(f.x, 0.95)
		}
		return err
	},
	"model.SeriesOf": func(ctx context.Context, c columns) error {
		return onLine(ctx, c, func(l *model.Line, f columns) { model.SeriesOf(ctx, l, f.x, f.y, 2) })
	},
	"model.FollowingOf": func(_ context.Context, c columns) error { model.FollowingOf(c.x); return nil },
	"sample.Of": func(_ context.Context, c columns) error {
		sample.Of(c.x, sample.Rows(len(c.x), 2, c.group))
		return nil
	},
	"model.Carriers": func(ctx context.Context, c columns) error {
		return onLine(ctx, c, func(l *model.Line, f columns) {
			for _, c := range model.Carriers(l, f.x, f.y, 3) {
				c.Weigh(l, f.x, f.y)
			}
		})
	},
	"model.Bends": func(ctx context.Context, c columns) error {
		return onLine(ctx, c, func(l *model.Line, f columns) { model.Bends(ctx, l, f.x, f.y) })
	},
	"model.Differ": func(_ context.Context, c columns) error { f := c.finite(); model.Differ(f.x, f.y); return nil },
	"confound.Checks": func(ctx context.Context, c columns) error {
		rows := make([]uint32, len(c.x))
		for i := range rows {
			rows[i] = uint32(i)
		}
		f := c.finite()
		candidates := []*table.Column{f.table.Column("z"), f.table.Column("g")}
		checks, err := confound.Checks(ctx, f.x, f.y, rows[:len(f.x)], candidates, confound.NoOthers)
		if err != nil {
			return err
		}
		d := &chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}
		named := func(string) string { return "a" }
		return written(reading.HoldsOf(checks, mark.Bind(d, c.table).X, mark.Bind(d, c.table).Y, slices.Min(f.x), slices.Max(f.x), named,
			func(int) string { return "b" }, nil, false))
	},
	"confound.Examine":      examined,
	"pairs.Look":            paired,
	"pairs.Candidates":      paired,
	"pairs.GroupCandidates": paired,
	"reading.PairWords":     paired,
	"describe.Skew":         func(_ context.Context, c columns) error { describe.Skew(c.x); return nil },
	"reading.EvidenceOf":    examined,
	"figure.RowName": func(_ context.Context, c columns) error {
		if c.table.Rows() > 0 {
			figure.RowName(c.table, c.table.Rows()-1)
		}
		return nil
	},
	"figure.Relate": func(ctx context.Context, c columns) error {
		_, _, _, err := figure.Relate(ctx, mark.Bind(&chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"},
			Scales: chart.Scales{X: chart.Axis{Scale: chart.LogScale}}}, c.table))
		return err
	},
	"confound.StandardisedDifference": func(ctx context.Context, c columns) error {
		x, y, rows, err := figure.Relate(ctx, mark.Bind(&chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}, c.table))
		if err != nil {
			return err
		}
		x = slices.Clone(x) // they are the column's own
		for i := range x {
			x[i] = float64(i % 2)
		}
		confound.StandardisedDifference(x, y, rows, c.table.Column("g"))
		return nil
	},
	"confound.RatesOf": func(ctx context.Context, c columns) error {
		x, y, rows, err := figure.Relate(ctx, mark.Bind(&chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}, c.table))
		if err != nil {
			return err
		}
		x = slices.Clone(x) // they are the column's own
		for i := range x {
			x[i] = float64(i % 2)
		}
		confound.RatesOf(x, y, rows, c.table.Column("g"))
		return nil
	},
	"figure.RelateGroups": func(ctx context.Context, c columns) error {
		_, _, _, err := figure.RelateGroups(ctx, mark.Bind(&chart.Document{X: chart.Variable{Column: "g"}, Y: chart.Variable{Column: "y"},
			Scales: chart.Scales{Y: chart.Axis{Scale: chart.LogScale}}}, c.table))
		return err
	},
	"figure.Prepare": func(ctx context.Context, c columns) error {
		for _, d := range documents() {
			if computed, problems, err := figure.Prepare(ctx, mark.Bind(d, c.table), figure.Options{Metrics: text.Hanken()}); problems == nil &&
				err == nil {
				_, _, _ = computed.Figure(ctx, 300, 2000)
			}
		}
		return ctx.Err()
	},
	"figure.Take":     comparedWithFewer,
	"reading.Compare": comparedWithFewer,
	"figure.Build": func(ctx context.Context, c columns) error {
		for _, d := range documents() {
			if err := built(ctx, c, d); err != nil {
				return err
			}
		}
		return nil
	},
	"chart.ColumnOf": func(_ context.Context, c columns) error {
		for _, name := range c.table.Names() {
			chart.ColumnOf(chart.Variable{Column: name, As: chart.AsGroups}, c.table)
			chart.ColumnOf(chart.Variable{Column: name, As: chart.AsNumber}, c.table)
		}
		return nil
	},
	"mark.Positions": func(ctx context.Context, c columns) error {
		mark.Positions(ctx, &scale.Scale{From: -1, To: 1}, c.x)
		return nil
	},
	"mark.ComputeAlso": func(ctx context.Context, c columns) error {
		names := c.table.Names()
		return settled(c, func(d *chart.Document) {
			on := &mark.Case{Document: d, Table: c.table, X: mark.Bind(d, c.table).X, Y: mark.Bind(d, c.table).Y}
			if on.X.Column != nil && on.Y.Column != nil {
				_, _, _ = mark.ComputeAlso(ctx, on, &chart.Also{X: names[0], Y: names[1], Table: "other", As: "dots"}, c.table, mark.Dress{})
			}
		})
	},
	"mark.OtherUnit": func(_ context.Context, c columns) error {
		mark.OtherUnit(mark.Bind(&chart.Document{}, c.table).Y, c.table.Columns()[0])
		return nil
	},
	"mark.Bind": func(_ context.Context, c columns) error {
		return settled(c, func(d *chart.Document) {
			bound := mark.Bind(d, c.table)
			bound.X.Scale().Ticks(5)
			bound.Problems()
		})
	},
	"confound.Bend": func(ctx context.Context, c columns) error {
		f := c.finite()
		_, err := confound.Bend(ctx, f.x, f.y, f.z)
		return err
	},
	"confound.Hold": func(ctx context.Context, c columns) error {
		f := c.finite()
		_, err := confound.Hold(ctx, f.x, f.y, [][]int32{f.group}, []int{groups}, f.z)
		return err
	},
	"confound.Moderate": func(ctx context.Context, c columns) error {
		f := c.finite()
		_, err := confound.Moderate(ctx, f.x, f.y, f.z)
		return err
	},
	"confound.Benchmark": func(ctx context.Context, c columns) error {
		f := c.finite()
		_, err := confound.Benchmark(ctx, f.x, f.y, f.z, nil, []float64{1, 2, 3})
		return err
	},
	"confound.TestSlopes": func(ctx context.Context, c columns) error {
		f := c.finite()
		_, err := confound.TestSlopes(ctx, f.x, f.y, f.group, groups)
		return err
	},
	"describe.MedianOf": func(_ context.Context, c columns) error {
		if f := c.finite(); len(f.x) > 0 {
			describe.MedianOf(f.x, 0.95)
		}
		return nil
	},
	"describe.SummariseGroups": func(ctx context.Context, c columns) error {
		f := c.finite()
		_, err := describe.SummariseGroups(ctx, f.x, f.group, groups, 0.95)
		return err
	},
	"window.Arrange": func(ctx context.Context, c columns) error {
		rows, err := window.Arrange(ctx, len(c.x), c.group, c.y)
		if err == nil {
			rows.RunningSum(c.x)
			rows.ZScore(c.x)
			rows.Share(c.x)
			rows.Rank(c.x, true)
			_, err = rows.MovingMean(c.x, 3, true)
		}
		return err
	},
	"clause.VoiceOf": func(_ context.Context, c columns) error {
		clause.VoiceOf(c.table).Readable(c.table.Columns()[0].Name)
		return nil
	},
	"mark.FormOf": func(_ context.Context, c columns) error { mark.FormOf(c.table.Columns()[0]); return nil },
	"sentence.Amended": func(_ context.Context, c columns) error {
		return settled(c, func(d *chart.Document) {
			sentence.Amended(d, c.table, sentence.Amendment{Change: clause.Change{Drop: []string{"title"},
				Say: []string{"colour by x", "x from 1 to 2"}}, Split: "x"})
		})
	},
	"sentence.Heard": func(_ context.Context, c columns) error {
		for _, typed := range []string{"the mean of y by x as bars",
			"y against x, coloured by x, only x, with 95 % bands", "fit a line to each x and all"} {
			sentence.Heard(typed, c.table)
		}
		return nil
	},
	"sentence.Sayables": func(_ context.Context, c columns) error { sentence.Sayables(c.table); return nil },
	"sentence.Parse":    func(_ context.Context, c columns) error { sentence.Parse("plot y against x", c.table); return nil },
	"draw.Stroked": func(_ context.Context, c columns) error {
		p := &draw.Path{}
		for i := range min(len(c.x), 50) {
			p.Line(c.x[i], c.y[i])
		}
		draw.Stroked(p, 2, c.z[:min(len(c.z), 4)])
		return nil
	},
	"render.Chart": func(ctx context.Context, c columns) error {
		for _, d := range documents() {
			var out strings.Builder
			if problems, err := render.Chart(ctx, mark.Bind(d, c.table), render.FormatNamed("svg"), render.Options{Metrics: text.Hanken()},
				&out); err != nil {
				return err
			} else if problems != nil {
				continue
			}
			if whole := out.String(); len(c.x) < 1000 && (strings.Contains(whole, "NaN") || strings.Contains(whole, "Inf")) {
				panic(fmt.Sprintf("%s is drawn with what is no number", sentence.Print(d)))
			}
		}
		return nil
	},
	"render.Small": func(ctx context.Context, c columns) error {
		for _, d := range documents()[:8] {
			var out strings.Builder
			if _, err := render.Small(ctx, mark.Bind(d, c.table), 104, 54, text.Hanken(), &out); err != nil {
				return err
			}
		}
		return nil
	},
	"primitive.NewArray": func(_ context.Context, c columns) error {
		return written(primitive.NewArray(c.x[:min(len(c.x), 1000)]))
	},
	"primitive.Shares":     func(_ context.Context, c columns) error { return written(primitive.Shares(c.x[:min(len(c.x), 1000)])) },
	"figure.HeadingColumn": func(_ context.Context, c columns) error { figure.HeadingColumn(c.table); return nil },
	"chart.Check":          func(_ context.Context, c columns) error { chart.Check(documents()[0], c.table); return nil },
	"sentence.Spoken": func(_ context.Context, c columns) error {
		sentence.Spoken(mark.Bind(documents()[1], c.table))
		return nil
	},
	"sentence.Open": func(_ context.Context, c columns) error {
		for _, slot := range []string{"x", "y", "colour", "shape", "size", "scale-x", "fit-kind:0", "fit-for:0", "fit-band:0", "fit-outliers:0",
			"fit-kind:99", "fit-kind:-1", "opacity"} {
			sentence.Open(slot, documents()[1], c.table)
		}
		return nil
	},
	"sentence.Additions": func(_ context.Context, c columns) error { sentence.Additions(documents()[1], c.table); return nil },
	"sentence.Change": func(_ context.Context, c columns) error {
		sentence.Change(nil, mark.Bind(documents()[1], c.table))
		return nil
	},
	"formula.Column": func(ctx context.Context, c columns) error {
		for _, expression := range []string{"x * 1e308 + y / z", "power(x, 3) - ln(y)", "when + x", "date_trunc('month', when)",
			"extract(year from when)", "cast(x as text) || 'a'",
			"add_months(when, 5)", "add_business_days(when, 5)", "round(x, 3)", "running_sum(x)", "mod(x, y)", "case when x > y then x end",
			"cast(x as date)"} {
			f, err := formula.Parse(expression)
			if err != nil {
				continue
			}
			column, _, err := f.Column(ctx, c.table, "new", 1)
			if err != nil {
				continue
			}
			for i := range column.Len() {
				column.Value(i)
				if !column.Kind.Coded() && math.IsInf(column.Numbers[i], 0) && !slices.ContainsFunc(c.x,
					func(v float64) bool { return math.IsInf(v, 0) }) {
					panic(expression + " gives an infinite value")
				}
			}
		}
		return ctx.Err()
	},
	"formula.Rows": func(ctx context.Context, c columns) error {
		f, err := formula.Parse("x > y * 1e308")
		if err == nil {
			_, err = f.Rows(ctx, c.table, 1)
		}
		return err
	},
	"prepare.Begin": func(_ context.Context, c columns) error { prepare.Begin(c.table); return nil },
	"prepare.Run": func(ctx context.Context, c columns) error {
		for _, example := range append(prepare.Examples(), [2]string{"", "sort by x, y descending"},
			[2]string{"", "for each g: m = mean(x), s = sum(x), d = stddev(x), q = quantile(x, 0.4)"},
			[2]string{"", "keep top 2 g by sum(x), rest as 'o'"}, [2]string{"", "stack x to z into n, v"}, [2]string{"", "read x as category"},
			[2]string{"", "read when as number"}) {
			_, _ = prepare.Run(ctx, c.table, []prepare.Clause{{Text: example[1]}}, prepare.Environment{MaxRows: 10_000_000})
		}
		return ctx.Err()
	},
	"reader.Kept": func(_ context.Context, c columns) error {
		_, err := reader.Kept(c.table.Columns(), []string{"x"})
		return err
	},
	"reader.SettleNumbers": func(_ context.Context, c columns) error {
		reader.SettleNumbers(table.NewNumbers("x", slices.Clone(c.x)))
		return nil
	},
	"reader.SettleTexts": func(_ context.Context, c columns) error {
		reader.SettleTexts(&table.Column{Name: "g", Kind: table.Text, Codes: slices.Clone(c.group), Levels: []string{"a", "b", "c"}})
		return nil
	},
	"table.New":       func(_ context.Context, c columns) error { _, err := table.New(c.table.Columns()...); return err },
	"table.TellApart": func(ctx context.Context, c columns) error { _, err := table.TellApart(ctx, c.table); return err },
	"table.RowsOfKeys": func(_ context.Context, c columns) error {
		keys := [][]string{{"1", "a"}, {"", ""}, {"1e308", "c"}}
		for row := range min(c.table.Rows(), 40) {
			keys = append(keys, table.KeyOf([]*table.Column{c.table.Column("x"), c.table.Column("g")}, row))
		}
		table.RowsOfKeys([]*table.Column{c.table.Column("x"), c.table.Column("g")}, keys)
		return nil
	},
	"pattern.Blanks": func(_ context.Context, c columns) error { pattern.Blanks(c.table.Names(), c.table); return nil },
	"pattern.Propose": func(_ context.Context, c columns) error {
		return written(pattern.Propose(pattern.Blanks(c.table.Names(), c.table), c.table, nil))
	},
	"table.NewNumbers":  func(_ context.Context, c columns) error { table.NewNumbers("x", c.x); return nil },
	"magnitude.InRange": func(_ context.Context, c columns) error { return magnitude.InRange(c.x) },
	"magnitude.Most":    func(_ context.Context, c columns) error { magnitude.Most(c.x); return nil },
	"magnitude.Scaled":  func(_ context.Context, c columns) error { magnitude.Scaled(c.x); return nil },
	"parallel.Sort":     func(ctx context.Context, c columns) error { return parallel.Sort(ctx, slices.Clone(c.x)) },
	"parallel.SortStable": func(ctx context.Context, c columns) error {
		return parallel.SortStable(ctx, slices.Clone(c.group), func(a, b int32) int { return int(a - b) })
	},
}

// examined tells the evidence of a number and of groups.
func examined(ctx context.Context, c columns) error {
	d := &chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}
	x, y, rows, err := figure.Relate(ctx, mark.Bind(d, c.table))
	if err != nil {
		return err
	}
	for _, name := range []string{"z", "g"} {
		column := c.table.Column(name)
		found, err := confound.Examine(ctx, x, y, rows, column, []*table.Column{c.table.Column("z")}, confound.NoOthers)
		if err != nil {
			return err
		}
		e := reading.EvidenceOf(found, column, mark.Bind(d, c.table).X, mark.Bind(d, c.table).Y, func(name string) string { return name })
		if err := written(e); err != nil {
			return err
		}
	}
	return nil
}

// onLine does something with the line of complete pairs.
func onLine(ctx context.Context, c columns, do func(l *model.Line, f columns)) error {
	f := c.finite()
	l, err := model.FitLine(ctx, f.x, f.y)
	if err == nil {
		do(l, f)
	}
	return err
}

// paired looks at columns two at a time, and draws them.
func paired(ctx context.Context, c columns) error {
	found, err := pairs.Look(ctx, c.table, pairs.Question{By: "g"})
	if err != nil {
		return err
	}
	for _, p := range found.Pairs {
		reading.PairWords(p, found.By)
	}
	pairs.Candidates(c.table)
	pairs.GroupCandidates(c.table)
	return found.Picture(ctx, 600).Encode(io.Discard, nil)
}

func written(value any) error {
	if _, err := json.Marshal(value); err != nil {
		panic(err)
	}
	return nil
}

// settled does something with every document.
func settled(_ columns, act func(*chart.Document)) error {
	for _, d := range documents() {
		act(d)
	}
	return nil
}

// taken are the parameter types that make a function one of these.
var taken = []string{"[]float64", "[][]float64", "...[]float64", "*table.Column", "[]*table.Column", "*table.Table", "...*Column", "[]T",
	"*mark.Bound"}

// answering does something that asks all rows, which are those of the columns, until all is known.
func answering(ctx context.Context, c columns, do func(whole *summary.Whole) error) error {
	known := map[string]*summary.Answer{}
	for range 8 {
		whole := &summary.Whole{Raw: c.table, Known: func(q *summary.Question) *summary.Answer { return known[q.Name()] }}
		if err := do(whole); err != nil {
			return err
		}
		for _, one := range whole.Asked() {
			if one.Answer == nil {
				answer, err := summary.Of(ctx, c.table, one.Question)
				if err != nil {
					return err
				}
				known[one.Question.Name()] = answer
			}
		}
	}
	return nil
}

// TestEveryFunctionThatTakesColumnsIsHere reads core and compares it with the list.
func TestEveryFunctionThatTakesColumnsIsHere(t *testing.T) {
	found := 0
	files := token.NewFileSet()
	err := filepath.WalkDir(filepath.Join("..", "..", "core"), func(path string, entry fs.DirEntry, err error) error {
		if err != nil || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		file, err := parser.ParseFile(files, path, nil, 0)
		if err != nil {
			return err
		}
		for _, declaration := range file.Decls {
			f, ok := declaration.(*ast.FuncDecl)
			if !ok || !f.Name.IsExported() || f.Recv != nil && f.Name.Name != "Count" {
				continue
			}
			for _, field := range f.Type.Params.List {
				if slices.Contains(taken, typeText(field.Type)) {
					found++
					if name := file.Name.Name + "." + f.Name.Name; functions[name] == nil {
						t.Errorf("%s takes columns and is not held to extreme values", name)
					}
					break
				}
			}
		}
		return nil
	})
	if err != nil || found < 40 {
		t.Errorf("%d functions found: %v", found, err)
	}
}

func typeText(e ast.Expr) string {
	switch e := e.(type) {
	case *ast.Ident:
		return e.Name
	case *ast.SelectorExpr:
		return typeText(e.X) + "." + e.Sel.Name
	case *ast.StarExpr:
		return "*" + typeText(e.X)
	case *ast.ArrayType:
		return "[]" + typeText(e.Elt)
	case *ast.Ellipsis:
		return "..." + typeText(e.Elt)
	}
	return ""
}

var extremes = []float64{math.MaxFloat64, -math.MaxFloat64, 1e308, -1e308, math.SmallestNonzeroFloat64, -math.SmallestNonzeroFloat64,
	2e-308, math.Inf(1), math.Inf(-1),
	math.NaN(), math.Copysign(0, -1), 0, 1, -1, 2, 1e-9, 1e12, 1e150, 1e-150, 1e15, 3}

// TestExtremeValuesPanicNowhere gives each function columns drawn from the extremes.
func TestExtremeValuesPanicNowhere(t *testing.T) {
	source := rand.New(rand.NewPCG(8, 1))
	cases := map[string]columns{"none": columnsOf(nil, nil, nil), "all missing": columnsOf([]float64{math.NaN(), math.NaN()}, []float64{1, 2},
		[]float64{1, 2}),
		"file of two": columnsOf([]float64{1e308, -1e308}, []float64{1, 2}, []float64{-1e308, 1e308})}
	for _, v := range extremes {
		cases[fmt.Sprintf("one row of %g", v)] = columnsOf([]float64{v}, []float64{v}, []float64{v})
		same := slices.Repeat([]float64{v}, 12)
		cases[fmt.Sprintf("rows of %g", v)] = columnsOf(same, same, same)
	}
	for round := range 60 {
		n := 2 + source.IntN(40)
		draw := func() []float64 {
			few := extremes
			if round%2 == 0 { // two values often meet
				few = []float64{extremes[source.IntN(len(extremes))], extremes[source.IntN(len(extremes))], float64(round)}
			}
			values := make([]float64, n)
			for i := range values {
				values[i] = few[source.IntN(len(few))]
			}
			return values
		}
		cases[fmt.Sprintf("draw %d", round)] = columnsOf(draw(), draw(), draw())
	}
	for name, c := range cases {
		for function, call := range functions {
			given := c
			if strings.HasPrefix(function, "model.Fit") || strings.HasPrefix(function, "smooth.") || strings.HasPrefix(function, "confound.") ||
				function == "model.InfluenceOn" {
				given = c.finite()
			}
			func() {
				defer func() {
					if fault := recover(); fault != nil {
						t.Errorf("%s of %s: %v\nx %v\ny %v\nz %v", function, name, fault, given.x, given.y, given.z)
					}
				}()
				_ = call(t.Context(), given)
			}()
		}
	}
}

// TestWorkEndsWithItsContext begins each function on many rows and takes its context
// away. What is shorter than the patience anyway passes.
func TestWorkEndsWithItsContext(t *testing.T) {
	const rows = 1_000_000
	source := rand.New(rand.NewPCG(9, 1))
	x, y, z := make([]float64, rows), make([]float64, rows), make([]float64, rows)
	for i := range x {
		x[i], z[i] = source.NormFloat64(), source.NormFloat64()
		y[i] = x[i] + source.NormFloat64()
	}
	c := columnsOf(x, y, z)
	for function, call := range functions {
		if function == "describe.Correlate" { // bounded by its callers to samples
			continue
		}
		var took, patience time.Duration
		for range 3 { // another program may have had the processors once
			patience = patienceNow(x)
			if took = beyondContext(t.Context(), func(ctx context.Context) { _ = call(ctx, c) }); took <= patience {
				break
			}
		}
		if took > patience {
			t.Errorf("%s goes on for %v after its context", function, took)
		} else if took > 100*time.Millisecond {
			t.Logf("%s: %v", function, took)
		}
	}
}

// patienceNow is how long work may go on, in the time of a machine that is shared: that of sorting all rows ten times, and no less than
// a second. A stopped request ends within a tenth of that.
func patienceNow(values []float64) time.Duration {
	sorted, began := slices.Clone(values), time.Now()
	slices.Sort(sorted)
	return max(time.Second, 10*time.Since(began))
}

// beyondContext begins work, takes its context away after a tenth of a second and tells
// how long the work went on; 0 if it had ended.
func beyondContext(ctx context.Context, work func(context.Context)) time.Duration {
	ctx, stop := context.WithCancel(ctx)
	defer stop()
	ended := make(chan struct{})
	go func() { work(ctx); close(ended) }()
	select {
	case <-ended:
		return 0
	case <-time.After(100 * time.Millisecond):
	}
	stop()
	begun := time.Now()
	<-ended
	return time.Since(begun)
}
