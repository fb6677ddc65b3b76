package figure

import (
	"encoding/binary"
	"encoding/json"
	"errors"
	"fmt"
	"math"
)

// split gives the parts of the head of an encoded figure, and the bytes of its buffers.
func split(encoded []byte) (head map[string]json.RawMessage, buffers []byte, err error) {
	const fixed = len(Magic) + 4
	if len(encoded) < fixed || string(encoded[:len(Magic)]) != Magic {
		return nil, nil, errors.New("this is not a figure")
	}
	length := int(binary.LittleEndian.Uint32(encoded[len(Magic):]))
	if length < 0 || length > len(encoded)-fixed {
		return nil, nil, errors.New("the figure is cut short")
	}
	if err := json.Unmarshal(encoded[fixed:fixed+length], &head); err != nil {
		return nil, nil, fmt.Errorf("the figure's head cannot be read: %w", err)
	}
	return head, encoded[min((fixed+length+7)&^7, len(encoded)):], nil
}

// Head gives the parts of the head of an encoded figure, without its arrays.
func Head(encoded []byte) (map[string]json.RawMessage, error) {
	head, _, err := split(encoded)
	return head, err
}

// Decode reads an encoded figure of any version of the program, as it can be drawn: what is not sent (its relation, fits and
// cautions) is not there. Extra gives the other parts of its head.
func Decode(encoded []byte) (f *Figure, extra map[string]json.RawMessage, err error) {
	if encoded, err = Upgrade(encoded); err != nil {
		return nil, nil, err
	}
	extra, buffers, err := split(encoded)
	if err != nil {
		return nil, nil, err
	}
	f = &Figure{}
	var list []Buffer
	if err := errors.Join(json.Unmarshal(extra["figure"], f), json.Unmarshal(extra["buffers"], &list)); err != nil {
		return nil, nil, fmt.Errorf("the figure cannot be read: %w", err)
	}
	if len(f.Panels) == 0 || len(f.Scales) == 0 {
		return nil, nil, errors.New("the figure has no panel")
	}
	for _, a := range f.arrays() {
		index, refers := a.Buffer()
		if !refers {
			continue
		}
		if index < 0 || index >= len(list) {
			return nil, nil, errors.New("the figure names a buffer that it does not have")
		}
		values, err := list[index].values(buffers)
		if err != nil {
			return nil, nil, err
		}
		a.Fill(values)
	}
	return f, extra, nil
}

// values reads the values of a buffer.
func (b Buffer) values(buffers []byte) (any, error) {
	sizes := map[string]int{"f32": 4, "f64": 8, "u8": 1, "u16": 2, "u32": 4, "i32": 4}
	size, known := sizes[b.Type]
	if !known || b.Offset < 0 || b.Length < 0 || b.Offset > len(buffers) || b.Length > (len(buffers)-b.Offset)/size {
		return nil, errors.New("a buffer of the figure is cut short")
	}
	bytes := buffers[b.Offset : b.Offset+b.Length*size]
	switch b.Type {
	case "f32":
		return read(bytes, size, func(v []byte) float32 { return math.Float32frombits(binary.LittleEndian.Uint32(v)) }), nil
	case "f64":
		return read(bytes, size, func(v []byte) float64 { return math.Float64frombits(binary.LittleEndian.Uint64(v)) }), nil
	case "u8":
		return append([]uint8{}, bytes...), nil
	case "u16":
		return read(bytes, size, binary.LittleEndian.Uint16), nil
	case "u32":
		return read(bytes, size, binary.LittleEndian.Uint32), nil
	}
	return read(bytes, size, func(v []byte) int32 { return int32(binary.LittleEndian.Uint32(v)) }), nil
}

func read[T any](bytes []byte, size int, one func([]byte) T) []T {
	out := make([]T, len(bytes)/size)
	for i := range out {
		out[i] = one(bytes[i*size:])
	}
	return out
}
