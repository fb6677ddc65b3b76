package primitive

import (
	"encoding/json"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"
)

var nan = math.NaN()

// arrays are one of each type of the same numbers, as far as it holds them.
func arrays() map[string]Array {
	return map[string]Array{
		"f32": NewArray([]float32{0, 1, 0.1, 250}), "f64": NewArray([]float64{0, 1, 0.1, 250}), "u8": NewArray([]uint8{0, 1, 9, 250}),
		"u16": NewArray([]uint16{0, PositionSteps, 13107, 1}), "u32": NewArray([]uint32{0, 1, 4e9, 250}), "i32": NewArray([]int32{0, 1, -9, 250}),
	}
}

func TestArraysOfEveryTypeGiveWhatTheyHold(t *testing.T) {
	wanted := map[string]string{"f32": "[0,1,0.1,250]", "f64": "[0,1,0.1,250]", "u8": "[0,1,9,250]",
		"u16": "[0,1,0.2,0.000015259021896696422]", "u32": "[0,1,4000000000,250]", "i32": "[0,1,-9,250]"}
	for name, a := range arrays() {
		if a.Type() != name || a.Len() != 4 || a.IsZero() {
			t.Errorf("%s is a %s of %d values", name, a.Type(), a.Len())
		}
		if text, err := json.Marshal(a); err != nil || string(text) != wanted[name] {
			t.Errorf("%s is written as %s, %v; want %s", name, text, err, wanted[name])
		}
		a.Pack(7)
		if text, err := json.Marshal(a); err != nil || string(text) != `{"buffer":7}` {
			t.Errorf("%s, packed, is written as %s, %v", name, text, err)
		}
		a.Unpack()
		picked := a.Pick([]int{3, 0, 0})
		if picked.Type() != name || picked.Len() != 3 || picked.At(0) != a.At(3) || picked.At(1) != a.At(0) || picked.At(2) != a.At(0) {
			t.Errorf("of %s, %v is picked", name, picked.Values())
		}
		if none := a.Pick(nil); !none.IsZero() || none.Len() != 0 {
			t.Errorf("of %s, picking none leaves %v", name, none.Values())
		}
		for other, b := range arrays() {
			if a.Equal(b) != (name == other) || a.Equal(b.Pick([]int{0, 1, 2})) || a.Equal(b.Pick([]int{0, 1, 2, 2})) {
				t.Errorf("%s and %s: equal is %v", name, other, a.Equal(b))
			}
		}
	}
	empty := NewArray([]float32{})
	if text, _ := json.Marshal(empty); string(text) != "[]" || !empty.IsZero() || !empty.Equal(Array{}) || !empty.Pick(nil).IsZero() {
		t.Errorf("an empty array is written as %s", text)
	}
	gaps := Shares([]float64{nan, math.Inf(1), 0.5})
	if text, _ := json.Marshal(gaps); string(text) != "[null,null,0.5]" || !gaps.Equal(Shares([]float64{nan, math.Inf(1), 0.5})) {
		t.Errorf("gaps are written as %s", text)
	}
}

// TestPointsArePaintedInTheirOrder holds it to sorting.
func TestPointsArePaintedInTheirOrder(t *testing.T) {
	source := rand.New(rand.NewPCG(8, 8))
	for _, rows := range []int{0, 1, 2, 40, 700} {
		radius, colour, plain := make([]uint8, rows), make([]uint8, rows), make([]float32, rows)
		for i := range rows {
			radius[i], colour[i] = uint8(source.IntN(256)), uint8(source.IntN(5))
		}
		for _, front := range [][]int{nil, {3}, {4, 0}} {
			for name, l := range map[string]*Layer{
				"sized": {Kind: Points, Count: rows, X: NewArray(plain), Radius: NewArray(radius), Colour: NewArray(colour), Front: front},
				"even":  {Kind: Points, Count: rows, X: NewArray(plain), Colour: NewArray(colour), Front: front},
				"rects": {Kind: Rects, Count: rows, X: NewArray(plain), Radius: NewArray(radius), Colour: NewArray(colour), Front: front},
			} {
				want := make([]int, rows)
				for i := range want {
					want[i] = i
				}
				sized := name == "sized"
				slices.SortStableFunc(want, func(a, b int) int {
					if d := slices.Index(front, int(colour[a])) - slices.Index(front, int(colour[b])); d != 0 {
						return d
					}
					if sized {
						return int(radius[b]) - int(radius[a])
					}
					return 0
				})
				got := l.Order()
				if got == nil {
					got = make([]int, rows)
					for i := range got {
						got[i] = i
					}
				}
				if !slices.Equal(got, want) {
					t.Errorf("%d %s, %v in front: %v, want %v", rows, name, front, got, want)
				}
			}
		}
	}
}

func TestVerticesFollowEachOther(t *testing.T) {
	l := &Layer{Kind: Paths, Count: 3, X: NewArray(make([]float32, 9)), Start: NewArray([]uint32{0, 4, 4})}
	var got []string
	for i := range l.Count {
		from, to := l.Vertices(i)
		got = append(got, fmt.Sprint(from, "-", to))
	}
	if fmt.Sprint(got) != "[0-4 4-4 4-9]" {
		t.Errorf("paths have the vertices %v", got)
	}
	if n := len(l.Arrays()); n != 13 {
		t.Errorf("a layer lists %d arrays", n)
	}
}
