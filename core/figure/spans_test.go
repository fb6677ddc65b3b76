package figure

import (
	"context"
	"math"
	"strconv"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/sentence"
	"copperlark/core/text"
)

// TestChartsOfOneColumnShareItsAxis draws charts of a table anew with the ends that they have in common, and finds them equal there;
// an axis of another column, of another kind, of groups, with limits of its own or one for each panel stays as it was.
func TestChartsOfOneColumnShareItsAxis(t *testing.T) {
	data := small(t)
	typed := []string{
		"plot y against x",
		"of rows where x < 60\nplot y against x",
		"of rows where y > 2\nplot x against s",
		"of rows where x > 5\nplot y against x\nlog x",
		"plot y against x\nx from 20 to 30",
		"plot y against x\npanels by g each with its own x axis",
		"plot y against g",
	}
	spansOf := func(d *chart.Document) []Span {
		f, problems, err := Build(context.Background(), mark.Bind(d, data), Options{Metrics: text.Hanken()})
		if err != nil || problems != nil {
			t.Fatal(problems, err)
		}
		return f.Spans()
	}
	var documents []*chart.Document
	var all [][]Span
	for _, one := range typed {
		d, mistakes := sentence.Parse(one, data)
		if mistakes != nil {
			t.Fatalf("%q: %v", one, mistakes[0])
		}
		documents, all = append(documents, d), append(all, spansOf(d))
	}
	together := TogetherOf(all)
	ends := func(i int) map[string][2]float64 {
		out := map[string][2]float64{}
		for _, s := range spansOf(together.On(documents[i], all[i])) {
			out[s.Axis] = [2]float64{s.From, s.To}
		}
		return out
	}
	first := ends(0)
	for i, same := range []string{"xy", "xy", "", "y", "y", "y", "y"} {
		now := ends(i)
		for _, axis := range []string{"x", "y"} {
			was := [2]float64{}
			for _, s := range all[i] {
				if s.Axis == axis {
					was = [2]float64{s.From, s.To}
				}
			}
			wanted := was
			if (axis == "x" && (same == "xy" || same == "x")) || (axis == "y" && same != "" && same != "x") {
				wanted = first[axis]
			}
			if now[axis] != wanted {
				t.Errorf("%q: %s from %v, want %v", typed[i], axis, now[axis], wanted)
			}
		}
	}
	if len(all[1]) != 2 || all[1][0].To >= first["x"][1] {
		t.Errorf("the second chart spans %v by itself", all[1])
	}
	if alone := TogetherOf(all[2:3]); len(alone) != 0 || alone.On(documents[2], all[2]) != documents[2] {
		t.Errorf("one chart alone shares %v", alone)
	}
}

// TestEndsInFewDigits holds that ends are further out, by less than a hundredth of the span, and short to say.
func TestEndsInFewDigits(t *testing.T) {
	for _, c := range []struct {
		kind     scale.Kind
		from, to float64
	}{
		{scale.Linear, 6.275420077552779, 44.22457992244723}, {scale.Log, 1.0197913049578418, 2639.4616103451435},
		{scale.Linear, -1e-9, 3.3333333e-9}, {scale.Linear, 1e12 + 1.0/3, 1e12 + 777.7}, {scale.Linear, -8e307, 8e307},
		{scale.Log, 1e-300, 1e300}, {scale.Linear, 1999.1, 2026.9}, {scale.Date, 1.6e9 + 11, 1.7e9 + 7}, {scale.Date, 1.7e9 + 1, 1.7e9 + 99},
	} {
		low, high := rounded(c.kind, c.from, c.to)
		off, span := math.Max(c.from-low, high-c.to), c.to-c.from
		if c.kind == scale.Log {
			off, span = math.Log(c.from/low)+math.Log(high/c.to), math.Log(c.to/c.from)
		}
		if low > c.from || high < c.to || off > span/50 && c.kind != scale.Date {
			t.Errorf("%v from %v to %v became %v to %v", c.kind, c.from, c.to, low, high)
		}
		if said := strconv.FormatFloat(low, 'g', -1, 64); len(said) > 16 && c.kind != scale.Date {
			t.Errorf("an end is %s", said)
		}
	}
}
