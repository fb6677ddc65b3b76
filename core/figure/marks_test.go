package figure

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"copperlark/core/primitive"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// worked is a table that can be worked out by hand: district a has the yields 1, 2 and 6,
// b has 4 and one that is missing, c has 10, without a size.
func worked(t *testing.T) *table.Table {
	t.Helper()
	data, err := table.New(
		table.NewCategory("g", []string{"a", "a", "a", "b", "b", "c"}),
		table.NewCategory("h", []string{"u", "v", "u", "u", "v", "u"}),
		table.NewNumbers("y", []float64{1, 2, 6, 4, nan, 10}),
		table.NewNumbers("z", []float64{3, 2, 1, 0, -1, -2}),
		table.NewNumbers("x", []float64{1, 2, 3, 1, 2, nan}),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: []float64{0, 86400, 172800, 0, 86400, 172800}},
	)
	if err != nil {
		t.Fatal(err)
	}
	return data
}

// told writes what a layer draws in the units of the data: groups by name, numbers by at
// most four digits.
func told(f *Figure, l *primitive.Layer) string {
	panel := f.Panels[l.Panel]
	write := func(s *Scale, share float64) string {
		if share != share {
			return "gap"
		}
		low, high := s.Place(s.From), s.Place(s.To)
		v := s.Undrawn(low + share*(high-low))
		switch {
		case s.Kind == scale.Date:
			return table.FormatDate(math.Round(v), table.Second)[:10]
		case math.Abs(share) > 10:
			return "far"
		case s.Kind != scale.Groups:
			return scale.Value(math.Round(1000*v)/1000, 4)
		}
		at := int(math.Round(v))
		if at < 0 || at >= len(s.Levels) {
			return scale.Value(v, 3)
		}
		if rest := math.Round(100*(v-float64(at))) / 100; rest != 0 {
			return s.Levels[at] + scale.Signed(rest, 2)
		}
		return s.Levels[at]
	}
	x, y := &f.Scales[panel.X], &f.Scales[panel.Y]
	place := func(xs, ys primitive.Array, i int) string { return write(x, xs.At(i)) + "," + write(y, ys.At(i)) }
	var parts []string
	for i := range l.Count {
		part := ""
		switch l.Kind {
		case primitive.Areas:
			from, to := l.Vertices(i)
			var run []string
			for k := from; k < to; k++ {
				run = append(run, place(l.X, l.Y, k)+" to "+write(y, l.Y2.At(k)))
			}
			part = strings.Join(run, "–")
		case primitive.Paths:
			from, to := l.Vertices(i)
			var run []string
			for k := from; k < to; k++ {
				run = append(run, place(l.X, l.Y, k))
			}
			part = strings.Join(run, "–")
		case primitive.Rects, primitive.Segments:
			part = place(l.X, l.Y, i) + " to " + place(l.X2, l.Y2, i)
		case primitive.Texts:
			part = place(l.X, l.Y, i) + " " + l.Words[i]
		default:
			part = place(l.X, l.Y, i)
		}
		if l.Keys.Colour > 0 && l.Colour.Len() > 0 {
			part = f.Keys[l.Keys.Colour-1].Entries[int(l.Colour.At(i))].Name + ": " + part
		}
		parts = append(parts, part)
	}
	return fmt.Sprintf("%s %s | %s", l.Mark, l.Kind, strings.Join(parts, " | "))
}

// TestMarksDrawWhatTheySay works every mark out by hand on six rows.
func TestMarksDrawWhatTheySay(t *testing.T) {
	for _, test := range []struct {
		typed string
		want  []string
	}{
		{"plot y against x\nas dots", []string{"dots points | 1,1 | 2,2 | 3,6 | 1,4"}},
		{"plot y against x\ncolour by h\nas dots", []string{"dots points | u: 1,1 | v: 2,2 | u: 3,6 | u: 1,4"}},
		{"plot y against g\nas dots", []string{"dots points | a,1 | a,2 | a,6 | b,4 | c,10"}},
		{"plot mean(z) against g\nas dots\nlog y", []string{"dots points | a,2"}}, // a log scale has no place for those below zero
		{"plot count() against g\nas bars", []string{
			"bars rects | a−0.36,0 to a+0.36,3 | b−0.36,0 to b+0.36,2 | c−0.36,0 to c+0.36,1", "bars texts | a,3 3 | b,2 2 | c,1 1"}},
		{"plot sum(z) against g\nas bars", []string{
			"bars rects | a−0.36,0 to a+0.36,6 | b−0.36,0 to b+0.36,−1 | c−0.36,0 to c+0.36,−2", "bars texts | a,6 6 | b,−1 −1 | c,−2 −2"}},
		{"plot mean(y) against g\nas bars\norder g by mean(y) descending", []string{
			"bars rects | c−0.36,0 to c+0.36,10 | b−0.36,0 to b+0.36,4 | a−0.36,0 to a+0.36,3", "bars texts | c,10 10 | b,4 4 | a,3 3"}},
		{"plot g against median(y)\nas bars", []string{
			"bars rects | 0,a−0.36 to 2,a+0.36 | 0,b−0.36 to 4,b+0.36 | 0,c−0.36 to 10,c+0.36", "bars texts | 2,a 2 | 4,b 4 | 10,c 10"}},
		{"plot count() against g\ncolour by h\nas bars", []string{
			"bars rects | u: a−0.35,0 to a−0.01,2 | v: a+0.01,0 to a+0.35,1 | u: b−0.35,0 to b−0.01,1 | v: b+0.01,0 to b+0.35,1 | u: c−0.35,0 to c−0.01,1",
			"bars texts | a−0.18,2 2 | a+0.18,1 1 | b−0.18,1 1 | b+0.18,1 1 | c−0.18,1 1"}},
		{"plot y against g\nas boxes", []string{
			"boxes segments | a,1.5 to a,1 | a,4 to a,6 | b,4 to b,4 | b,4 to b,4 | c,10 to c,10 | c,10 to c,10",
			"boxes rects | a−0.25,1.5 to a+0.25,4 | b−0.25,4 to b+0.25,4 | c−0.25,10 to c+0.25,10",
			"boxes segments | a−0.25,2 to a+0.25,2 | b−0.25,4 to b+0.25,4 | c−0.25,10 to c+0.25,10",
			"boxes texts | a+0.25,2 2 | b+0.25,4 4 | c+0.25,10 10"}},
		{"plot spread of y\nas histogram", []string{"histogram rects | 1,0 to 3.25,2 | 3.25,0 to 5.5,1 | 5.5,0 to 7.75,1 | 7.75,0 to 10,1"}},
		{"plot spread of z\ncolour by h\nas histogram",
			[]string{"histogram rects | u: −2,0 to −0.75,1 | v: −2,1 to −0.75,2 | u: −0.75,0 to 0.5,1 | u: 0.5,0 to 1.75,1 | " +
				"u: 1.75,0 to 3,1 | v: 1.75,1 to 3,2"}},
		{"plot spread of y\nbins of 5", []string{"histogram rects | 0,0 to 5,3 | 5,0 to 10,2"}},
		{"plot spread of y\nbins 3", []string{"histogram rects | 1,0 to 4,2 | 4,0 to 7,2 | 7,0 to 10,1"}},
		{"plot h against g\nas counts", []string{"counts points | a,u | b,u | c,u | a,v | b,v",
			"counts texts | a,u 2 | b,u 1 | c,u 1 | a,v 1 | b,v 1"}},
		{"plot y against x\nas line", []string{"line paths | 1,1–1,4–2,2", "line points | 3,6"}},
		{"plot y against x\ncolour by g\nas line", []string{"line paths | a: 1,1–2,2–3,6", "line points | b: 1,4"}},
		{"plot y, z against x\nas line", []string{"line paths | y: 1,1–1,4–2,2 | z: 1,3–1,0–2,2–2,−1–3,1", "line points | y: 3,6"}},
		{"plot mean(z) against day\nas line", []string{"line paths | 1970-01-01,1.5–1970-01-02,0.5–1970-01-03,−0.5"}},
		{"plot sum(y) against g\nas line", []string{"line paths | a,9–b,4–c,10"}},
		{"plot y against x\ncolour by g\nas steps", []string{"steps paths | a: 1,1–2,1–2,2–3,2–3,6", "steps points | b: 1,4"}},
		{"plot z against x\nas stems", []string{"stems segments | 1,0 to 1,3 | 2,0 to 2,2 | 3,0 to 3,1 | 1,0 to 1,0 | 2,0 to 2,−1",
			"stems points | 1,3 | 2,2 | 3,1 | 1,0 | 2,−1"}},
		{"plot sum(y) against g\nas stacked bars\ncolour by h",
			[]string{"stacked bars rects | u: a−0.36,0 to a+0.36,7 | v: a−0.36,7 to a+0.36,9 | u: b−0.36,0 to b+0.36,4 | u: c−0.36,0 to c+0.36,10"}},
		{"plot count() against g\nas share bars\ncolour by h",
			[]string{"share bars rects | u: a−0.36,0 to a+0.36,0.667 | v: a−0.36,0.667 to a+0.36,1 | u: b−0.36,0 to b+0.36,0.5 | v: b−0.36,0.5 to b+0.36,1 | u: c−0.36,0 to c+0.36,1", "share bars texts | u: a,0.333 67 % | v: a,0.833 33 % | u: b,0.25 50 % | v: b,0.75 50 % | u: c,0.5 100 %"}},
		{"plot mean(z) against x\nas area", []string{"area areas | 1,0 to 1.5–2,0 to 0.5–3,0 to 1", "area paths | 1,1.5–2,0.5–3,1"}},
		{"plot y against x\ncolour by g\nas area", []string{"area areas | a: 1,0 to 1–2,0 to 2–3,0 to 6", "area paths | a: 1,1–2,2–3,6",
			"area points | b: 1,4"}},
		{"plot y against x\nas dots and line", []string{"dots points | 1,1 | 2,2 | 3,6 | 1,4", "line paths | 1,1–1,4–2,2", "line points | 3,6"}},
		{"plot y against x\nline at mean(y)", []string{"dots points | 1,1 | 2,2 | 3,6 | 1,4", "reference segments | far,3.25 to far,3.25"}},
		{"plot y against x\nline at x = 2.5", []string{"dots points | 1,1 | 2,2 | 3,6 | 1,4", "reference segments | 2.5,far to 2.5,far"}},
		{"plot y against x\nband y from 2 to 5 named 'target'", []string{"reference rects | far,2 to far,5",
			"dots points | 1,1 | 2,2 | 3,6 | 1,4"}},
		{"of rows where g = 'a'\nplot y against x", []string{"dots points | 1,1 | 2,2 | 3,6"}},
		{"plot y against x as groups\nas boxes", []string{
			"boxes segments | 1,1.75 to 1,1 | 1,3.25 to 1,4 | 2,2 to 2,2 | 2,2 to 2,2 | 3,6 to 3,6 | 3,6 to 3,6",
			"boxes rects | 1−0.25,1.75 to 1+0.25,3.25 | 2−0.25,2 to 2+0.25,2 | 3−0.25,6 to 3+0.25,6",
			"boxes segments | 1−0.25,2.5 to 1+0.25,2.5 | 2−0.25,2 to 2+0.25,2 | 3−0.25,6 to 3+0.25,6",
			"boxes texts | 1+0.25,2.5 2.50 | 2+0.25,2 2.00 | 3+0.25,6 6.00"}},
	} {
		f, problems := draw(t, worked(t), test.typed)
		if problems != nil {
			t.Errorf("%s: %+v", test.typed, problems)
			continue
		}
		var got []string
		for i := range f.Layers {
			if !(f.Layers[i].Kind == primitive.Areas && f.Layers[i].Mark == "fit") &&
				!(f.Layers[i].Kind == primitive.Texts && f.Layers[i].Mark == "reference") && f.Layers[i].Along == 0 {
				got = append(got, told(f, &f.Layers[i]))
			}
		}
		if strings.Join(got, "\n") != strings.Join(test.want, "\n") {
			t.Errorf("%s\ndraws\n\t%s\nwant\n\t%s", test.typed, strings.Join(got, "\n\t"), strings.Join(test.want, "\n\t"))
		}
	}
}
