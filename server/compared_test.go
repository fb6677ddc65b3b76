package server

import (
	"fmt"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/app"
	"copperlark/core/figure"
)

// TestTwoStepsAreCompared compares a chart of all rows with one of fewer, in which one group has another slope: what they say
// otherwise, which rows only one leaves out and why, slopes with their difference, and the figures on the same axes.
func TestTwoStepsAreCompared(t *testing.T) {
	anwen, bram, _ := world(t)
	source := rand.New(rand.NewPCG(1, 2))
	file := strings.Builder{}
	file.WriteString("x,y,season,district,frames\n")
	for i := range 400 {
		x, season, district := source.Float64()*10, 2027+i%4, []string{"Tarn", "Brindle"}[i/4%2]
		y := x
		if district == "Tarn" && season >= 2029 {
			y = 3 * x
		}
		frames := fmt.Sprint(i % 9)
		if i%40 == 7 {
			frames = ""
		}
		fmt.Fprintf(&file, "%.3f,%.3f,%d,%s,%s\n", x, y+source.NormFloat64()/4, season, district, frames)
	}
	dataset := anwen.upload("seasons.csv", file.String(), "Seasons")
	const plot = "plot y against x\ncolour by district\nfit line for each district and overall"
	script := anwen.withKey(nil, app.ScopeMake)
	made := want[object](script, 200, "POST", "/api/v1/charts", object{"version": dataset["version_id"], "typed": plot + "\nsize by frames"})
	id := number(made, "id")
	chart := want[object](anwen, 200, "GET", fmt.Sprintf("/api/charts/%d", id), nil)
	first := number(chart, "head_step_id")
	want[object](script, 200, "PATCH", fmt.Sprintf("/api/v1/charts/%d", id), object{"typed": "of rows where season >= 2029\n" + plot})
	path := fmt.Sprintf("/api/compared?a=%d&a_step=%d&b=%d", id, first, id)
	c := want[app.Comparison](anwen, 200, "GET", path, nil)
	if fmt.Sprint(c.Differs) != "[of rows where size]" || c.A.Drawn != 390 || c.B.Drawn != 200 {
		t.Errorf("they differ in %v, %d and %d rows", c.Differs, c.A.Drawn, c.B.Drawn)
	}
	marked := 0
	for _, part := range c.B.Spoken {
		if part.Clause == "of rows where" {
			marked++
		}
	}
	if marked == 0 {
		t.Errorf("no words are of the clause that differs: %+v", c.B.Spoken)
	}
	if c.OnlyA.Count != 10 || len(c.OnlyA.Reasons) != 1 || c.OnlyA.Reasons[0].Reason != "missing frames" || c.OnlyA.Rows[0] != 8 {
		t.Errorf("only A leaves out %+v", c.OnlyA)
	}
	if c.OnlyB.Count != 200 || c.OnlyB.Reasons[0].Count != 200 {
		t.Errorf("only B leaves out %d, %+v", c.OnlyB.Count, c.OnlyB.Reasons)
	}
	s := c.Slopes
	if len(s.Fits) != 3 || s.Problem != "" || !strings.Contains(s.Words, "Tarn") || strings.Contains(s.Words, "Brindle") {
		t.Fatalf("slopes: %+v", s)
	}
	for _, f := range s.Fits {
		if f.A == nil || f.B == nil || f.Clear != (f.Name == "Tarn" || f.Overall) || f.Interval == "" {
			t.Errorf("%s: %+v", f.Name, f)
		}
	}
	// The same axes for both, each its own when asked.
	ends := func(of, more string) [2]float64 {
		answer := anwen.send("GET", strings.Replace(path, "?", "/figure?", 1)+"&of="+of+more, nil)
		f, _, err := figure.Decode(answer.Body.Bytes())
		if err != nil {
			t.Fatalf("%d: %v", answer.Code, err)
		}
		y := f.Scales[f.Panels[0].Y]
		return [2]float64{y.From, y.To}
	}
	if a, b := ends("a", ""), ends("b", ""); a != b || math.IsNaN(a[0]) {
		t.Errorf("the axes span %v and %v", a, b)
	}
	if a, b := ends("a", "&own=true"), ends("b", "&own=true"); a == b {
		t.Errorf("axes of their own span %v and %v", a, b)
	}
	same := want[app.Comparison](anwen, 200, "GET", fmt.Sprintf("/api/compared?a=%d&b=%d", id, id), nil)
	if len(same.Differs) != 0 || same.OnlyA.Count+same.OnlyB.Count != 0 ||
		!strings.HasPrefix(same.Slopes.Words, "No slope differs clearly, as 3 are compared") {
		t.Errorf("a chart and itself: %+v", same)
	}
	want[object](bram, 404, "GET", path, nil)
}
