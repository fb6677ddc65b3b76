package figure

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"
	"math"
)

// Array is a list of numbers of one type. In JSON it is a list; in an encoded
// figure it is a reference to a buffer behind the head.
type Array struct {
	values any // []float32, []float64, []uint16, []uint8, []uint32, []int32 or nil
	packed *int
}

// NewArray keeps a slice of float32, float64, uint8, uint16, uint32 or int32.
func NewArray[T float32 | float64 | uint8 | uint16 | uint32 | int32](values []T) Array {
	if len(values) == 0 {
		return Array{}
	}
	return Array{values: values}
}

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
		return float64(v[i]) / positionSteps
	case []uint32:
		return float64(v[i])
	case []int32:
		return float64(v[i])
	}
	panic(fmt.Sprintf("figure: value %d of an empty array", i))
}

func (a Array) typeName() string {
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

// positionSteps is what 1 is in an array of uint16 positions.
const positionSteps = 65535

func (f *Figure) arrays() []*Array {
	d := &f.Dots
	list := []*Array{&d.X, &d.Y, &d.Colour, &d.Shape, &d.Radius, &d.Row, &d.LeftOut}
	for i := range f.Fits {
		fit := &f.Fits[i]
		list = append(list, &fit.X, &fit.Y, &fit.Low, &fit.High)
	}
	for i := range f.Card.Columns {
		column := &f.Card.Columns[i]
		list = append(list, &column.Numbers, &column.Codes)
	}
	return list
}

// Buffer tells where an array lies behind the head.
type Buffer struct {
	Type   string `json:"type" doc:"f32, f64, u8, u16, u32 or i32; u16 holds shares in steps of 1/65535"`
	Offset int    `json:"offset" doc:"in bytes from the first buffer, a multiple of 8"`
	Length int    `json:"length" doc:"in values"`
}

// Magic begins every encoded figure.
const Magic = "LARKFIG1"

// Encode writes a head and the figure's arrays:
//
//	8 bytes    "LARKFIG1"
//	4 bytes    length of the head, little-endian
//	head       JSON: {"figure": …, "buffers": [{type, offset, length} …], and what extra adds}
//	padding    zero bytes up to a multiple of 8
//	buffers    little-endian values, each beginning at a multiple of 8
//
// The figure must not be used by anybody else meanwhile.
func (f *Figure) Encode(w io.Writer, extra map[string]any) error {
	arrays := f.arrays()
	buffers := make([]Buffer, 0, len(arrays))
	var used []*Array
	offset := 0
	for _, a := range arrays {
		if a.Len() == 0 {
			continue
		}
		index := len(buffers)
		a.packed = &index
		used = append(used, a)
		buffers = append(buffers, Buffer{a.typeName(), offset, a.Len()})
		offset += (binary.Size(a.values) + 7) &^ 7
	}
	defer func() {
		for _, a := range used {
			a.packed = nil
		}
	}()
	fields := map[string]any{"figure": f, "buffers": buffers}
	for name, value := range extra {
		fields[name] = value
	}
	head, err := json.Marshal(fields)
	if err != nil {
		return fmt.Errorf("encoding the figure's head: %w", err)
	}
	out := bytes.NewBuffer(make([]byte, 0, len(Magic)+4+len(head)+8+offset))
	out.WriteString(Magic)
	_ = binary.Write(out, binary.LittleEndian, uint32(len(head)))
	out.Write(head)
	pad(out)
	for _, a := range used {
		if err := binary.Write(out, binary.LittleEndian, a.values); err != nil {
			return fmt.Errorf("encoding an array: %w", err)
		}
		pad(out)
	}
	_, err = w.Write(out.Bytes())
	return err
}

func pad(out *bytes.Buffer) {
	for out.Len()%8 != 0 {
		out.WriteByte(0)
	}
}
