package files

import (
	"encoding/binary"
	"errors"
	"fmt"
)

// Apache Arrow keeps what it says of its columns and batches in FlatBuffers, and the
// library believes what stands there: a list that says it has three thousand million
// members is allocated before it is read. So the FlatBuffers are walked over first;
// every offset and every list must lie inside them (as the verifier of the C++
// library does; the tables are those of Arrow's Schema.fbs, Message.fbs, File.fbs).

// layout says what a table's slots hold, by number.
type layout map[int]slot

// slot is a field of a table: a number of some bytes, a text, a table, a list, or a
// table whose layout the slot before it tells.
type slot struct {
	bytes     int
	text      bool
	table     *layout
	list      int     // bytes of one member
	tables    *layout // members of a list of tables
	oneOf     map[byte]*layout
	otherwise *layout // of oneOf, for tags that are not named
}

var (
	keyValue   = layout{0: {text: true}, 1: {text: true}}
	plainType  = layout{0: {bytes: 1}, 1: {bytes: 1}, 2: {bytes: 1}}
	timestamp  = layout{0: {bytes: 2}, 1: {text: true}}
	unionType  = layout{0: {bytes: 2}, 1: {list: 4}}
	intType    = layout{0: {bytes: 4}, 1: {bytes: 1}}
	dictionary = layout{0: {bytes: 8}, 1: {table: &intType}, 2: {bytes: 1}, 3: {bytes: 2}}
	field      = layout{
		0: {text: true},
		1: {bytes: 1},
		2: {bytes: 1},
		3: {oneOf: map[byte]*layout{10: &timestamp, 14: &unionType}, otherwise: &plainType},
		4: {table: &dictionary},
		6: {tables: &keyValue},
	}
	schema  = layout{0: {bytes: 2}, 1: {tables: &field}, 2: {tables: &keyValue}, 3: {list: 8}}
	body    = layout{0: {bytes: 1}, 1: {bytes: 1}}
	batch   = layout{0: {bytes: 8}, 1: {list: 16}, 2: {list: 16}, 3: {table: &body}, 4: {list: 8}}
	words   = layout{0: {bytes: 8}, 1: {table: &batch}, 2: {bytes: 1}}
	message = layout{
		0: {bytes: 2},
		1: {bytes: 1},
		2: {oneOf: map[byte]*layout{1: &schema, 2: &words, 3: &batch}},
		3: {bytes: 8},
		4: {tables: &keyValue},
	}
	footer = layout{0: {bytes: 2}, 1: {table: &schema}, 2: {list: blockBytes}, 3: {list: blockBytes}, 4: {tables: &keyValue}}
)

func init() { field[5] = slot{tables: &field} } // children

// blockBytes is the length of a place in a file: an offset, the length of a message
// and that of its body, each of 8 bytes with padding.
const blockBytes = 24

const maxTableDepth = 64

// verifier walks over one FlatBuffer.
type verifier struct {
	data   []byte
	tables int // visited; one can be reached on many ways
}

var errOutside = errors.New("what it says of itself lies outside the file")

func (v *verifier) u16(at int) (int, error) {
	if at < 0 || at > len(v.data)-2 {
		return 0, errOutside
	}
	return int(binary.LittleEndian.Uint16(v.data[at:])), nil
}

func (v *verifier) u32(at int) (int, error) {
	if at < 0 || at > len(v.data)-4 {
		return 0, errOutside
	}
	return int(binary.LittleEndian.Uint32(v.data[at:])), nil
}

// follow reads an offset and gives the place that it leads to.
func (v *verifier) follow(at int) (int, error) {
	offset, err := v.u32(at)
	if err != nil || offset == 0 || at+offset > len(v.data)-4 {
		return 0, errOutside
	}
	return at + offset, nil
}

func (v *verifier) inside(at, bytes int) error {
	if at < 0 || bytes < 0 || at > len(v.data)-bytes {
		return errOutside
	}
	return nil
}

// list checks the list at a place and gives where its members begin and how many.
func (v *verifier) list(at, bytes int) (first, n int, err error) {
	n, err = v.u32(at)
	if err != nil || n > len(v.data)/bytes || v.inside(at+4, n*bytes) != nil {
		return 0, 0, errOutside
	}
	return at + 4, n, nil
}

// place gives where the value of a slot stands in a table; 0: it is not set.
func (v *verifier) place(table, slot int) (int, error) {
	back, err := v.u32(table)
	if err != nil {
		return 0, err
	}
	slots := table - int(int32(back))
	length, err := v.u16(slots)
	if err != nil {
		return 0, err
	}
	at := 4 + 2*slot
	if at+2 > length {
		return 0, nil
	}
	offset, err := v.u16(slots + at)
	if err != nil || offset == 0 {
		return 0, err
	}
	return table + offset, nil
}

func (v *verifier) table(at int, l *layout, depth int) error {
	v.tables++
	if depth > maxTableDepth || v.tables > len(v.data) {
		return errors.New("what it says of itself is nested too deep")
	}
	for number, s := range *l {
		place, err := v.place(at, number)
		if err != nil {
			return err
		}
		if place == 0 {
			continue
		}
		if err := v.slot(at, place, number, s, depth); err != nil {
			return err
		}
	}
	return nil
}

func (v *verifier) slot(table, place, number int, s slot, depth int) error {
	if s.bytes > 0 {
		return v.inside(place, s.bytes)
	}
	there, err := v.follow(place)
	if err != nil {
		return err
	}
	switch {
	case s.text:
		_, _, err = v.list(there, 1)
		return err
	case s.list > 0:
		_, _, err = v.list(there, s.list)
		return err
	case s.table != nil:
		return v.table(there, s.table, depth+1)
	case s.tables != nil:
		first, n, err := v.list(there, 4)
		for i := 0; err == nil && i < n; i++ {
			var member int
			if member, err = v.follow(first + 4*i); err == nil {
				err = v.table(member, s.tables, depth+1)
			}
		}
		return err
	}
	tagAt, err := v.place(table, number-1)
	if err != nil || tagAt == 0 || v.inside(tagAt, 1) != nil {
		return errOutside
	}
	inner := s.oneOf[v.data[tagAt]]
	if inner == nil {
		inner = s.otherwise
	}
	if inner == nil {
		return fmt.Errorf("it holds a part of the unknown sort %d", v.data[tagAt])
	}
	return v.table(there, inner, depth+1)
}

func verify(data []byte, l *layout) error {
	v := &verifier{data: data}
	root, err := v.follow(0)
	if err != nil {
		return err
	}
	return v.table(root, l, 0)
}

// metadata gives the FlatBuffer of the message at a place, and where its body begins.
// An empty one is the end of a stream.
func metadata(raw []byte, at int) (inner []byte, body int, err error) {
	if at < 0 || at > len(raw)-8 || binary.LittleEndian.Uint32(raw[at:]) != 0xffffffff {
		return nil, 0, errOutside
	}
	length := int(int32(binary.LittleEndian.Uint32(raw[at+4:])))
	if length < 0 || at+8 > len(raw)-length {
		return nil, 0, errOutside
	}
	return raw[at+8 : at+8+length], at + 8 + length, nil
}

// verifyArrowStream checks every message of a stream; a body must lie in the file.
func verifyArrowStream(raw []byte) error {
	for at := 0; at < len(raw); {
		inner, next, err := metadata(raw, at)
		if err != nil {
			return err
		}
		if len(inner) == 0 {
			return nil
		}
		if err := verify(inner, &message); err != nil {
			return err
		}
		v := &verifier{data: inner}
		root, _ := v.follow(0)
		length := uint64(0)
		if place, _ := v.place(root, 3); place > 0 {
			length = binary.LittleEndian.Uint64(inner[place:])
		}
		if length > uint64(len(raw)-next) {
			return errOutside
		}
		at = next + int(length)
	}
	return nil
}

// verifyArrowFile checks the footer of a file and the messages that it points to.
func verifyArrowFile(raw []byte) error {
	const magic = "ARROW1"
	end := len(raw) - len(magic) - 4
	if end < 8 || string(raw[end+4:]) != magic {
		return errors.New("its end is missing")
	}
	length := int(int32(binary.LittleEndian.Uint32(raw[end:])))
	if length <= 0 || length > end {
		return errOutside
	}
	foot := raw[end-length : end]
	if err := verify(foot, &footer); err != nil {
		return err
	}
	v := &verifier{data: foot}
	root, _ := v.follow(0)
	for _, number := range []int{2, 3} {
		place, _ := v.place(root, number)
		if place == 0 {
			continue
		}
		there, _ := v.follow(place)
		first, n, _ := v.list(there, blockBytes)
		for i := range n {
			block := foot[first+i*blockBytes:]
			offset := binary.LittleEndian.Uint64(block)
			size := int64(int32(binary.LittleEndian.Uint32(block[8:])))
			length := binary.LittleEndian.Uint64(block[16:])
			if offset > uint64(len(raw)) || length > uint64(len(raw)) || size < 0 || int64(offset)+size+int64(length) > int64(len(raw)) {
				return errOutside
			}
			inner, _, err := metadata(raw, int(offset))
			if err == nil {
				err = verify(inner, &message)
			}
			if err != nil {
				return err
			}
		}
	}
	return nil
}
