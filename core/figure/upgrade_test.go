package figure

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"os"
	"slices"
	"testing"

	"copperlark/core/primitive"
)

// TestFiguresOfVersionOneAreUpgraded holds it of a figure that was stored by the first
// version of the program: its arrays stay byte for byte, and its head says the same.
func TestFiguresOfVersionOneAreUpgraded(t *testing.T) {
	first, err := os.ReadFile("../../contract/figure-1.bin")
	if err != nil {
		t.Fatal(err)
	}
	upgraded, err := Upgrade(first)
	if err != nil {
		t.Fatal(err)
	}
	headOf := func(encoded []byte) ([]byte, []byte) {
		length := int(binary.LittleEndian.Uint32(encoded[8:]))
		return encoded[12 : 12+length], encoded[(12+length+7)&^7:]
	}
	_, before := headOf(first)
	head, after := headOf(upgraded)
	if !bytes.Equal(before, after) {
		t.Error("the arrays changed")
	}
	var got struct {
		Typed  string
		Figure struct {
			Version int
			Scales  []Scale
			Panels  []Panel
			Keys    []Key
			Layers  []struct {
				Mark      string
				Primitive primitive.Kind
				Count     int
				X         json.RawMessage
				Keys      primitive.Keys
				Words     []string
				Along     int
				Rows      bool
			}
		}
	}
	if err := json.Unmarshal(head, &got); err != nil {
		t.Fatal(err)
	}
	f := got.Figure
	var marks []string
	for _, l := range f.Layers {
		marks = append(marks, l.Mark+" "+string(l.Primitive))
	}
	want := []string{"fit areas", "fit areas", "dots points", "fit paths", "fit paths", "fit texts", "fit texts"}
	if f.Version != Version || got.Typed != "…" || len(f.Scales) != 2 || f.Scales[0].Kind != "log" || f.Panels[0].Box.Width != 812 ||
		!slices.Equal(marks, want) {
		t.Errorf("version %d, %q, %+v, layers %v", f.Version, got.Typed, f.Scales, marks)
	}
	if dots := f.Layers[2]; dots.Count != 5 || !dots.Rows || string(dots.X) != `{"buffer":0}` || dots.Keys.Colour != 2 ||
		dots.Keys.Size != 1 || f.Keys[1].Entries[1].Name != "b" {
		t.Errorf("the dots: %+v, keys %+v", dots, f.Keys)
	}
	if label := f.Layers[5]; label.Words[0] != "a" || label.Along != 4 || label.Keys.Colour != 2 || f.Layers[4].Keys.Colour != 0 {
		t.Errorf("the label: %+v", label)
	}
	if again, err := Upgrade(upgraded); err != nil || !bytes.Equal(again, upgraded) {
		t.Error("a figure of this version does not stay as it is")
	}
	for _, broken := range [][]byte{nil, first[:20], []byte("LARKFIG1\xff\xff\xff\x7f{}"), []byte("LARKFIG1\x02\x00\x00\x00{}")} {
		if _, err := Upgrade(broken); err == nil {
			t.Errorf("%q is upgraded", broken)
		}
	}
}
