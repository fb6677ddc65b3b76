package chart

import (
	"encoding/json"
	"reflect"
	"testing"
)

func TestReadMigratesAndRefuses(t *testing.T) {
	d, err := Read([]byte(`{"y":"a","x":"b","fits":[{"kind":"line","overall":true}]}`))
	if err != nil || d.Version != Version || d.Fits[0].Kind != FitLine {
		t.Errorf("%v %+v", err, d)
	}
	for _, stored := range []string{`{"version":99}`, `[]`, `{"version":`} {
		if _, err := Read([]byte(stored)); err == nil {
			t.Errorf("%s was read", stored)
		}
	}
}

func TestACloneSharesNothing(t *testing.T) {
	d := &Document{Version: 1, Y: "a", X: "b", Fits: []Fit{{Kind: FitLine, Band: &Band{Confidence, 95}}}, XAxis: Axis{Limits: &Limits{1, 2}}}
	before, _ := json.Marshal(d)
	copied := d.Clone()
	if !reflect.DeepEqual(copied, d) {
		t.Fatal("the clone differs")
	}
	copied.Fits[0].Band.Level, copied.Fits[0].Each, copied.XAxis.Limits.From = 50, "g", 9
	if after, _ := json.Marshal(d); string(after) != string(before) {
		t.Error("changing the clone changed the document")
	}
}

func TestColumnsAreListedOnce(t *testing.T) {
	d := &Document{Y: "a", X: "b", Colour: "g", Size: "a", Fits: []Fit{{Each: "g"}, {Each: "h"}}}
	if got := d.Columns(); !reflect.DeepEqual(got, []string{"a", "b", "g", "h"}) {
		t.Errorf("%v", got)
	}
}
