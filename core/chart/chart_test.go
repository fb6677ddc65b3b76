package chart

import (
	"encoding/json"
	"reflect"
	"testing"
)

func column(name string) Variable { return Variable{Column: name} }

func TestReadMigratesAndRefuses(t *testing.T) {
	first := `{"version":1,"y":"a","x":"b","log_x":true,"colour":"g","opacity":0.5,"fits":[{"kind":"line","overall":true}],"x_axis":{"limits":{"from":1,"to":9},"unit":"ha"},"title":"T"}`
	d, err := Read([]byte(first))
	want := &Document{Version: Version, Y: column("a"), X: column("b"), Colour: "g", Opacity: 0.5, Title: "T", Scales: Scales{X: Axis{Scale: LogScale, Unit: "ha", Limits: &Limits{From: 1, To: 9}}},
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

func TestColumnsAreListedOnce(t *testing.T) {
	d := &Document{Y: column("a"), AlsoY: []string{"c"}, X: column("b"), Colour: "g", Size: "a", Panels: Panels{By: []string{"p", "g"}}}
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
	if !reflect.DeepEqual(marks, []string{"bars", "fit", "fit", "reference", "reference"}) || d.Fits()[1].Kind != FitLine || d.References()[0].To != nil {
		t.Errorf("%v", marks)
	}
	d.DropFits()
	if d.SetMarks(); len(d.Layers) != 2 || len(d.Marks()) != 0 {
		t.Errorf("%+v", d.Layers)
	}
}
