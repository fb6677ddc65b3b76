// Package primitive holds what pictures are made of: points, paths, areas, rects,
// polygons, segments and texts, as typed arrays with a style. Marks emit them, the
// painter in the browser and the pens of core/draw know these alone.
//
// Positions are shares of a panel's axes in drawn space: 0 at the axis's From, 1 at
// its To. Sizes, widths and offsets are pixels.
package primitive

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math"
	"slices"
)

// Array is a list of numbers of one type. In JSON it is a list; in an encoded
// figure it is a reference to a buffer behind the head.
type Array struct {
	values any // []float32, []float64, []uint16, []uint8, []uint32, []int32 or nil
	packed *int
}

// Number is what arrays hold.
type Number interface {
	float32 | float64 | uint8 | uint16 | uint32 | int32
}

// NewArray keeps a slice of float32, float64, uint8, uint16, uint32 or int32.
func NewArray[T Number](values []T) Array {
	if len(values) == 0 {
		return Array{}
	}
	return Array{values: values}
}

// Shares keeps positions as float32, which a deep zoom stays sharp with.
func Shares(values []float64) Array {
	out := make([]float32, len(values))
	for i, v := range values {
		out[i] = float32(v)
	}
	return NewArray(out)
}

// Values gives the slice that the array holds.
func (a Array) Values() any { return a.values }

// IsZero reports an array without values, which is not written.
func (a Array) IsZero() bool { return a.values == nil }

// Len is the number of values.
func (a Array) Len() int {
	switch v := a.values.(type) {
	case []float32:
		return len(v)
	case []float64:
		return len(v)
	case []uint8:
		return len(v)
	case []uint16:
		return len(v)
	case []uint32:
		return len(v)
	case []int32:
		return len(v)
	}
	return 0
}

// At gives value i; positions kept as whole numbers come back as shares.
func (a Array) At(i int) float64 {
	switch v := a.values.(type) {
	case []float32:
		return float64(v[i])
	case []float64:
		return v[i]
	case []uint8:
		return float64(v[i])
	case []uint16:
		return float64(v[i]) / PositionSteps
	case []uint32:
		return float64(v[i])
	case []int32:
		return float64(v[i])
	}
	panic(fmt.Sprintf("primitive: value %d of an empty array", i))
}

// Type names the type of the values: f32, f64, u8, u16, u32 or i32.
func (a Array) Type() string {
	switch a.values.(type) {
	case []float32:
		return "f32"
	case []float64:
		return "f64"
	case []uint8:
		return "u8"
	case []uint16:
		return "u16"
	case []uint32:
		return "u32"
	case []int32:
		return "i32"
	}
	return ""
}

// PositionSteps is what 1 is in an array of uint16 positions.
const PositionSteps = 65535

// Pack makes the array write itself as a reference to a buffer; Unpack takes that back.
func (a *Array) Pack(buffer int) { a.packed = &buffer }

// Unpack makes the array write its values again.
func (a *Array) Unpack() { a.packed = nil }

// MarshalJSON writes a list; NaN is written as null, and shares as shares.
func (a Array) MarshalJSON() ([]byte, error) {
	if a.packed != nil {
		return fmt.Appendf(nil, `{"buffer":%d}`, *a.packed), nil
	}
	var list bytes.Buffer
	list.WriteByte('[')
	for i := range a.Len() {
		if i > 0 {
			list.WriteByte(',')
		}
		v := a.At(i)
		if math.IsNaN(v) || math.IsInf(v, 0) {
			list.WriteString("null")
			continue
		}
		var text []byte
		var err error
		if _, single := a.values.([]float32); single {
			text, err = json.Marshal(float32(v))
		} else {
			text, err = json.Marshal(v)
		}
		if err != nil {
			return nil, err
		}
		list.Write(text)
	}
	list.WriteByte(']')
	return list.Bytes(), nil
}

// UnmarshalJSON reads a reference to a buffer, as encoded figures have it; Buffer gives it, and Fill the values. A list of
// numbers is not read back: figures that travel keep their arrays in buffers.
func (a *Array) UnmarshalJSON(data []byte) error {
	var at struct{ Buffer *int }
	if len(data) > 0 && data[0] == '[' || string(data) == "null" {
		return nil
	}
	if err := json.Unmarshal(data, &at); err != nil {
		return err
	}
	a.packed = at.Buffer
	return nil
}

// Buffer is the buffer that the array refers to, where it was read from an encoded figure.
func (a *Array) Buffer() (index int, refers bool) {
	if a.packed == nil {
		return 0, false
	}
	return *a.packed, true
}

// Fill gives an array that was read its values, a slice of one of the types of Number.
func (a *Array) Fill(values any) { a.values, a.packed = values, nil }

// Pick gives the values at some places; an empty array stays empty.
func (a Array) Pick(at []int) Array {
	switch v := a.values.(type) {
	case []float32:
		return picked(v, at)
	case []float64:
		return picked(v, at)
	case []uint8:
		return picked(v, at)
	case []uint16:
		return picked(v, at)
	case []uint32:
		return picked(v, at)
	case []int32:
		return picked(v, at)
	}
	return a
}

func picked[T Number](values []T, at []int) Array {
	out := make([]T, len(at))
	for i, place := range at {
		out[i] = values[place]
	}
	return NewArray(out)
}

// Equal reports whether two arrays hold the same values of one type; a missing value is the same as another.
func (a Array) Equal(b Array) bool {
	if a.Type() != b.Type() {
		return false
	}
	switch v := a.values.(type) {
	case []float32:
		return same(v, b.values.([]float32))
	case []float64:
		return same(v, b.values.([]float64))
	case []uint8:
		return same(v, b.values.([]uint8))
	case []uint16:
		return same(v, b.values.([]uint16))
	case []uint32:
		return same(v, b.values.([]uint32))
	case []int32:
		return same(v, b.values.([]int32))
	}
	return true // both are empty
}

func same[T Number](a, b []T) bool {
	return slices.EqualFunc(a, b, func(v, w T) bool { return v == w || v != v && w != w })
}
