package chart

import (
	"encoding/json"
	"reflect"
	"strings"
	"testing"
)

func column(name string) Variable { return Variable{Column: name} }

func TestReadMigratesAndRefuses(t *testing.T) {
	first := `{"version":1,"y":"a","x":"b","log_x":true,"colour":"g","opacity":0.5,"fits":[{"kind":"line","overall":true}],"x_axis":{"limits":{"from":1,"to":9},"unit":"ha"},"title":"T"}`
	d, err := Read([]byte(first))
	want := &Document{Version: Version, Y: column("a"), X: column("b"), Colouring: Colouring{Colour: "g"},
		Manner: Manner{Opacity: 0.5, Title: "T"}, Scales: Scales{X: Axis{Scale: LogScale, Unit: "ha", Limits: &Limits{From: 1, To: 9}}},
		Layers: []Layer{{Mark: DotsMark}, {Mark: FitLayer, Fit: &Fit{Kind: FitLine, Overall: true}}}}
	if err != nil || !reflect.DeepEqual(d, want) {
		t.Errorf("%v %+v", err, d)
	}
	written, _ := json.Marshal(d)
	if again, err := Read(written); err != nil || !reflect.DeepEqual(again, d) {
		t.Errorf("written anew: %v %+v", err, again)
	}
	if d, err = Read([]byte(`{"y":"a","x":"b"}`)); err != nil || d.Y.Column != "a" { // the first ones had no version
		t.Errorf("%v %+v", err, d)
	}
	for _, stored := range []string{`{"version":99}`, `[]`, `{"version":`, `{"version":1,"y":{}}`} {
		if _, err := Read([]byte(stored)); err == nil {
			t.Errorf("%s was read", stored)
		}
	}
}

// two is a document of version 2 that says something in every field that lay flat then.
const two = `{"version":2,"y":{"column":"a","of":"mean"},"also_y":["k"],"x":{"column":"b"},
"where":"a > 1","chosen":{"rows":[1,2],"without":true},"take_out":"g","step":"s","follow":"f",
"colour":"c","colour_paired":"d","colour_top":3,"gradient":{"darker_for_less":true},"size":"z","sizes":{"smallest":1,"largest":9},"shape":"h",
"palette":["#112233"],"patterns":true,"in_front":["N"],"fixed":{"size":4},"outline":{"off":true},"opacity":0.5,"jitter":["x"],"overlap":"off",
"look":"ink","grid":"off","text":"large","weight":"bold","key":"top","key_order":["M"],"paper":{"width":900,"height":560},
"title":"T","title_centred":true,"subtitle":"S","note":"N",
"contours":[50],"interval":{"level":95},"centres":"g","edges":["curve"],
"layers":[{"mark":"dots"},{"mark":"contours"},{"mark":"fit","fit":{"kind":"line","overall":true}}],
"scales":{"x":{"scale":"log"}},"panels":{"by":["p"]}}`

// three is the same in this version.
const three = `{"version":3,"rows":{"where":"a > 1","chosen":{"rows":[1,2],"without":true},"take_out":"g","step":"s","follow":"f"},
"y":{"column":"a","of":"mean"},"also_y":["k"],"x":{"column":"b"},
"colour":{"column":"c","paired":"d","top":3,"gradient":{"darker_for_less":true}},"size":{"column":"z","radii":{"smallest":1,"largest":9}},"shape":{"column":"h"},
"layers":[{"mark":"dots"},{"mark":"contours","shares":[50]},{"mark":"fit","fit":{"kind":"line","overall":true}},
{"mark":"interval","interval":{"level":95}},{"mark":"centres","by":"g"},{"mark":"edges","ways":["curve"]}],
"scales":{"x":{"scale":"log"}},"panels":{"by":["p"]},
"manner":{"palette":["#112233"],"patterns":true,"in_front":["N"],"fixed":{"size":4},"outline":{"off":true},"opacity":0.5,"jitter":["x"],"overlap":"off",
"look":"ink","grid":"off","text":"large","weight":"bold","key":"top","key_order":["M"],"paper":{"width":900,"height":560},
"title":"T","title_centred":true,"subtitle":"S","note":"N"}}`

// TestVersionTwoIsBroughtForward holds every field of it, with and without its version said; a row of the table that is taken
// out is missed.
func TestVersionTwoIsBroughtForward(t *testing.T) {
	want, err := Read([]byte(three))
	if err != nil {
		t.Fatal(err)
	}
	for _, stored := range []string{two, strings.Replace(two, `"version":2,`, "", 1)} {
		if got, err := Read([]byte(stored)); err != nil || !reflect.DeepEqual(got, want) {
			t.Errorf("%v\n%+v\nis not\n%+v", err, got, want)
		}
		var decoded map[string]any
		if err := json.Unmarshal([]byte(stored), &decoded); err != nil || !Outdated(decoded) {
			t.Error(err, "a document of version 2 is not seen to be older")
		}
	}
	written, _ := json.Marshal(want)
	var decoded map[string]any
	if err := json.Unmarshal(written, &decoded); err != nil || Outdated(decoded) {
		t.Error(err, "a document of this version is taken for an older one")
	}
	for name := range movedTwo {
		if !strings.Contains(two, `"`+name+`":`) {
			t.Errorf("nobody tries %s", name)
		}
	}
	if d, err := Read([]byte(`{"version":2,"y":{"column":"a"},"x":{"column":"b"},"contours":[50]}`)); err != nil || len(d.Layers) > 0 {
		t.Error("contours that were not drawn are drawn", err)
	}
}

// TestALayerKeepsWhatIsSaidOfIt changes marks about one that is there.
func TestALayerKeepsWhatIsSaidOfIt(t *testing.T) {
	d := &Document{}
	d.SetContours([]float64{50})
	d.SetInterval(&Interval{Level: 95})
	d.SetMarks("dots", ContoursMark)
	if got := d.Contours(); len(got) != 1 || len(d.Marks()) != 2 || d.Interval() == nil {
		t.Errorf("%+v", d.Layers)
	}
	d.SetMarks("dots")
	d.SetInterval(nil)
	d.SetCentres("g")
	d.SetCentres("")
	d.SetEdges([]string{"curve"})
	d.SetEdges(nil)
	if d.Contours() != nil || d.Interval() != nil || d.Centres() != "" || d.Edges() != nil || len(d.Layers) != 1 {
		t.Errorf("%+v", d.Layers)
	}
}

func TestColumnsAreListedOnce(t *testing.T) {
	d := &Document{Y: column("a"), AlsoY: []string{"c"}, X: column("b"), Colouring: Colouring{Colour: "g"}, Sizing: Sizing{Size: "a"},
		Panels: Panels{By: []string{"p", "g"}}}
	d.AddFit(Fit{Each: "g"})
	d.AddFit(Fit{Each: "h"})
	if got := d.Columns(); !reflect.DeepEqual(got, []string{"a", "c", "b", "g", "h", "p"}) {
		t.Errorf("%v", got)
	}
}

// TestLayersStandInTheOrderOfDrawing holds it however they are added.
func TestLayersStandInTheOrderOfDrawing(t *testing.T) {
	d := &Document{}
	d.AddReference(Reference{Axis: "y", To: new(float64)})
	d.AddReference(Reference{Axis: "y"})
	d.AddFit(Fit{Kind: FitSpline})
	d.SetMarks("bars")
	d.AddFit(Fit{Kind: FitLine})
	var marks []string
	for _, l := range d.Layers {
		marks = append(marks, l.Mark)
	}
	if !reflect.DeepEqual(marks, []string{"bars", "fit", "fit", "reference", "reference"}) || d.Fits()[1].Kind != FitLine ||
		d.References()[0].To != nil {
		t.Errorf("%v", marks)
	}
	d.DropFits()
	if d.SetMarks(); len(d.Layers) != 2 || len(d.Marks()) != 0 {
		t.Errorf("%+v", d.Layers)
	}
}
