package figure

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"fmt"
	"io"

	"copperlark/core/primitive"
)

func (f *Figure) arrays() (list []*primitive.Array) {
	for i := range f.Layers {
		list = append(list, f.Layers[i].Arrays()...)
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
	var used []*primitive.Array
	offset := 0
	for _, a := range arrays {
		if a.Len() == 0 {
			continue
		}
		index := len(buffers)
		a.Pack(index)
		used = append(used, a)
		buffers = append(buffers, Buffer{a.Type(), offset, a.Len()})
		offset += (binary.Size(a.Values()) + 7) &^ 7
	}
	defer func() {
		for _, a := range used {
			a.Unpack()
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
		if err := binary.Write(out, binary.LittleEndian, a.Values()); err != nil {
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
