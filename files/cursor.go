package files

import (
	"encoding/binary"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// cursor reads the parts of a binary file one after the other. A part that does not fit is met with a panic of
// type brokenPart, which answered turns into words.
type cursor struct {
	raw   []byte
	at    int // what is read next
	order binary.ByteOrder
}

// brokenPart is what a part that does not fit is met with.
type brokenPart struct{ what string }

// bytes are the next n.
func (c *cursor) bytes(n int) []byte {
	if n < 0 || n > len(c.raw)-c.at {
		panic(brokenPart{"a part reaches beyond its end"})
	}
	c.at += n
	return c.raw[c.at-n : c.at]
}

// number is the next one, of so many bytes.
func (c *cursor) number(bytes int) uint64 { return c.bits(c.bytes(bytes)) }

// bits are those of up to 8 bytes, in the file's order.
func (c *cursor) bits(raw []byte) (bits uint64) {
	for i := range raw {
		b := raw[i]
		if c.order == binary.LittleEndian {
			b = raw[len(raw)-1-i]
		}
		bits = bits<<8 | uint64(b)
	}
	return bits
}

// whole is the next number, of things that are counted.
func (c *cursor) whole(bytes int) int {
	n := c.number(bytes)
	if n > 1<<40 {
		panic(brokenPart{"a count is too large"})
	}
	return int(n)
}

// words are a text that is padded to so many bytes.
func (c *cursor) words(bytes int) string { return string(trimmed(c.bytes(bytes))) }

// answered makes an error of a part that does not fit, when reading ends.
func answered(format string, t **table.Table, report **reader.Report, err *error) {
	if fault := recover(); fault != nil {
		broken, is := fault.(brokenPart)
		if !is {
			panic(fault)
		}
		*t, *report, *err = nil, nil, damaged(format, broken.what)
	}
}
