package mark

import (
	"context"
	"math"
	"slices"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/primitive"
	"copperlark/core/table"
	"copperlark/core/text"
)

// roundOf draws a table of groups with the sum of a column as sectors, on a panel of 600 by 400 pixels.
func roundOf(t *testing.T, names []string, values []float64) (sectors []*Placed, words []*Placed, err error) {
	t.Helper()
	data, _ := table.New(table.NewCategory("g", names), table.NewNumbers("kg", values))
	d := &chart.Document{Version: chart.Version, Y: chart.Variable{Column: "kg", Of: chart.Sum}, X: column("g")}
	d.SetMarks("sectors")
	bound := Bind(d, data)
	if problems := bound.Problems(); problems != nil {
		t.Fatal(problems[0])
	}
	u := make([]float64, len(names))
	for i := range u {
		u[i] = float64(data.Column("g").Codes[i])
	}
	c := &Case{Document: bound.Document, Table: data, X: bound.X, Y: bound.Y, U: u, V: values}
	found, err := computeSectors(context.Background(), c)
	if err != nil {
		return nil, nil, err
	}
	sink := &Sink{}
	found.Draw(&Panel{X: bound.X.Scale(), Y: bound.Y.Scale(), Width: 600, Height: 400, Metrics: text.Hanken()}, sink)
	for _, l := range sink.Layers {
		if l.Kind == primitive.Texts {
			words = append(words, l)
		} else {
			sectors = append(sectors, l)
		}
	}
	return sectors, words, nil
}

// TestSectorsAreTheirSharesOfACircle holds that the area of each sector, in pixels, is its share of the whole, that shares
// are told as they are drawn, and that no name stands over another or beyond the panel.
func TestSectorsAreTheirSharesOfACircle(t *testing.T) {
	for _, values := range [][]float64{{1, 1}, {5, 3, 2}, {1, 0, 99}, {1e300, 3e300, 1e300}, {1e-9, 2e-9}, {7}, {97, 1, 1, 1},
		{1, 1, 1, 1, 1, 1, 1, 93}, {12.5, 12.5, 12.5, 12.5, 12.5, 12.5, 12.5, 12.5}} {
		var names []string
		total, some := 0.0, 0
		for i, v := range values {
			names = append(names, strings.Repeat(string(rune('a'+i)), 1+17*i))
			total += v
			if v > 0 {
				some++
			}
		}
		sectors, words, err := roundOf(t, names, values)
		if err != nil || len(sectors) != some {
			t.Fatalf("%v: %d sectors (%v)", values, len(sectors), err)
		}
		circle, widest, areas := 0.0, 0.0, []float64{}
		for _, l := range sectors {
			area := 0.0 // of a polygon, by its corners
			n := l.X.Len()
			for k := range n {
				widest = max(widest, math.Hypot(600*l.X.At(k)-300, 400*l.Y.At(k)-200))
				next := (k + 1) % n
				area += 600 * 400 * (l.X.At(k)*l.Y.At(next) - l.X.At(next)*l.Y.At(k)) / 2
			}
			areas, circle = append(areas, math.Abs(area)), circle+math.Abs(area)
		}
		at := 0
		for _, v := range values {
			if v > 0 {
				if got, want := areas[at]/circle, v/total; math.Abs(got-want) > 0.002 {
					t.Errorf("%v: %v takes %.4f of the circle, not %.4f", values, v, got, want)
				}
				if facts := sectors[at].Cards[0].Facts; facts[len(facts)-1].Value != partOf(v, total) {
					t.Errorf("%v: told as %s", values, facts[len(facts)-1].Value)
				}
				at++
			}
		}
		standing := 0
		for _, side := range words {
			standing += side.Count
			var ys []float64
			for k := range side.Count {
				x, y := 600*side.X.At(k), 400*side.Y.At(k)
				ys = append(ys, y)
				reach := text.Hanken().Width(side.Words[k], sectorLabel, true)
				if side.Style.Anchor == "end" {
					reach = -reach
				}
				if from := math.Hypot(x-300, y-200); from > widest+sectorGap+2 || from < widest {
					t.Errorf("%v: %s stands %.0f pixels from the middle of a circle of %.0f", values, side.Words[k], from, widest)
				}
				if x+reach < 0 || x+reach > 600 || y < 0 || y > 400 {
					t.Errorf("%v: %s stands beyond the panel", values, side.Words[k])
				}
			}
			slices.Sort(ys)
			for k := 1; k < len(ys); k++ {
				if ys[k]-ys[k-1] < sectorLine-0.1 {
					t.Errorf("%v: names stand %.1f pixels apart", values, ys[k]-ys[k-1])
				}
			}
		}
		if standing != some {
			t.Errorf("%v: %d names", values, standing)
		}
	}
}

// TestWhatNoCircleShowsIsRefused holds what to draw instead.
func TestWhatNoCircleShowsIsRefused(t *testing.T) {
	nine := strings.Split("abcdefghi", "")
	for reason, values := range map[string][]float64{"at most 8 shares": {1, 1, 1, 1, 1, 1, 1, 1, 1}, "parts below zero": {3, -1},
		"add up to nothing": {0, 0}} {
		if _, _, err := roundOf(t, nine[:len(values)], values); err == nil || !strings.Contains(err.Error(), reason) ||
			!strings.Contains(err.Error(), "say as bars") {
			t.Errorf("%v: %v", values, err)
		}
	}
	data := hives(60)
	for of, reason := range map[chart.Aggregate]string{chart.Mean: "do not add up to a whole", chart.Sum: ""} {
		d := &chart.Document{Version: chart.Version, Y: chart.Variable{Column: "kg", Of: of}, X: column("district")}
		d.SetMarks("sectors")
		if problems := Bind(d, data).Problems(); (problems == nil) != (reason == "") || problems != nil &&
			!strings.Contains(problems[0].Message, reason) {
			t.Errorf("%s: %v", of, problems)
		}
		if d.SetMarks("sectors", "bars"); Bind(d, data).Problems() == nil {
			t.Error("sectors share their axes with bars")
		}
	}
}
