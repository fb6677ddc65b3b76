package draw

import (
	"bytes"
	"compress/zlib"
	"encoding/binary"
	"io"
)

// TrueType unpacks a font of the house from WOFF (W3C Recommendation, WOFF File Format
// 1.0): its tables, each deflated, behind each other as TrueType has them.
func TrueType(f FontFile) []byte {
	raw := f.Woff()
	u16 := func(at int) int { return int(binary.BigEndian.Uint16(raw[at:])) }
	u32 := func(at int) int { return int(binary.BigEndian.Uint32(raw[at:])) }
	count := u16(12)
	out := append([]byte{}, raw[4:8]...)
	out = binary.BigEndian.AppendUint16(out, uint16(count))
	power, log := 1, 0
	for power*2 <= count {
		power, log = power*2, log+1
	}
	for _, v := range []int{power * 16, log, count*16 - power*16} {
		out = binary.BigEndian.AppendUint16(out, uint16(v))
	}
	offset := 12 + 16*count
	var tables []byte
	for i := range count {
		entry := 44 + 20*i
		from, packed, length := u32(entry+4), u32(entry+8), u32(entry+12)
		table := raw[from : from+packed]
		if packed < length {
			reader, err := zlib.NewReader(bytes.NewReader(table))
			if err != nil {
				panic("draw: a font that is built in cannot be unpacked: " + err.Error())
			}
			if table, err = io.ReadAll(reader); err != nil {
				panic("draw: a font that is built in cannot be unpacked: " + err.Error())
			}
		}
		out = append(out, raw[entry:entry+4]...)
		out = append(out, raw[entry+16:entry+20]...)
		out = binary.BigEndian.AppendUint32(out, uint32(offset+len(tables)))
		out = binary.BigEndian.AppendUint32(out, uint32(length))
		tables = append(tables, table...)
		for len(tables)%4 != 0 {
			tables = append(tables, 0)
		}
	}
	return append(out, tables...)
}

// Covers reports whether the first file of a house face has every letter of a text.
func Covers(text string, bold, serif bool) bool {
	f := facesFor(bold, serif)
	face := f.face(fonts.named(f.base[0]))
	for _, r := range text {
		if _, has := face.NominalGlyph(r); !has {
			return false
		}
	}
	return true
}
