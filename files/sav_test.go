package files

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"math"
	"strings"
	"testing"

	"copperlark/core/reader"
)

// savColumn is a variable of a file that is made here: a width of texts, or 0 for numbers.
type savColumn struct {
	name   string
	width  int
	shown  int
	gaps   []any // float64 or string; after a nil a range of two, and one more
	values []any
}

// savOf writes a file in either order, with its rows as they stand or with bytes that say which are written out.
func savOf(order binary.AppendByteOrder, packed bool, columns []savColumn, names map[float64]string, letters string) []byte {
	var b []byte
	count := func(n int) { b = order.AppendUint32(b, uint32(int32(n))) }
	piece := func(v any) []byte {
		if text, is := v.(string); is {
			return []byte(fill(text, 8))
		}
		return order.AppendUint64(nil, math.Float64bits(v.(float64)))
	}
	rows := len(columns[0].values)
	b = append(b, fill("$FL2@(#) made here", 64)...)
	for _, n := range []int{2, -1, map[bool]int{true: 1}[packed], 0, rows} {
		count(n)
	}
	b = append(append(b, piece(100.0)...), fill("30 Nov 3109:00:00about", 84)...)
	for _, c := range columns {
		gaps, list := len(c.gaps), c.gaps
		if gaps > 3 {
			gaps, list = 1-gaps, list[1:]
		}
		for _, n := range []int{2, c.width, 1, gaps, c.shown<<16 | 8<<8, c.shown << 16} {
			count(n)
		}
		b = append(b, fill(strings.ToUpper(c.name), 8)...)
		count(5)
		b = append(b, "about\x00\x00\x00"...)
		for _, gap := range list {
			b = append(b, piece(gap)...)
		}
		for range (c.width - 1) / 8 {
			for _, n := range []int{2, -1, 0, 0, 0, 0} {
				count(n)
			}
			b = append(b, "        "...)
		}
	}
	count(savNames)
	count(len(names))
	for value, name := range names {
		b = append(append(append(b, piece(value)...), byte(len(name))), fill(name, (len(name)+8)/8*8-1)...)
	}
	for _, n := range []int{savNamesOf, 1, 3, savDocument, 1} { // of the third piece
		count(n)
	}
	b = append(b, fill("a word", 80)...)
	for _, n := range []int{savExtension, savEncoding, 1, len(letters)} {
		count(n)
	}
	b = append(b, letters...)
	count(savDictionary)
	count(0)
	var codes, written []byte
	put := func(code byte, raw []byte) {
		if !packed {
			b = append(b, raw...)
			return
		}
		codes = append(codes, code)
		if code == 253 {
			written = append(written, raw...)
		}
		if len(codes) == 8 {
			b = append(append(b, codes...), written...)
			codes, written = nil, nil
		}
	}
	for row := range rows {
		for _, c := range columns {
			switch v := c.values[row].(type) {
			case nil:
				put(255, order.AppendUint64(nil, math.Float64bits(-math.MaxFloat64)))
			case string:
				for text := fill(v, (c.width+7)/8*8); text != ""; text = text[8:] {
					put(map[bool]byte{true: 254, false: 253}[text[:8] == "        "], []byte(text[:8]))
				}
			case float64:
				code := byte(253)
				if v == math.Trunc(v) && v > -99 && v < 151 {
					code = byte(v + 100)
				}
				put(code, piece(v))
			}
		}
	}
	if packed {
		codes = append(codes, 252)
		b = append(append(append(b, codes...), make([]byte, 8-len(codes))...), written...)
	}
	return b
}

func savSample() []savColumn {
	day := 163_767.0 * 86_400 // 2031-03-01
	return []savColumn{
		{name: "hive", width: 12, values: []any{"Brim\xfc of Tarn", "", "Oxlea"}},
		{name: "queen", values: []any{2.0, 1.0, nil}},
		{name: "kg", gaps: []any{nil, -9.0, -1.0, 999.0}, values: []any{-0.125, -5.0, 999.0}},
		{name: "score", gaps: []any{8.0, 9.0}, values: []any{8.0, 1e300, 3.0}},
		{name: "day", shown: 23, values: []any{day, nil, day + 3600}},
		{name: "at", shown: 22, values: []any{day + 61, 1e300, nil}},
		{name: "took", shown: 21, values: []any{5400.0, 60.0, nil}},
		{name: "code", width: 2, gaps: []any{"zz"}, values: []any{"zz", "a", "b"}},
	}
}

func TestSavFilesAreReadInEitherOrderAndPacking(t *testing.T) {
	want := "HIVE|category||Brimü of Ta~~Oxlea\nQUEEN|category||second~first~\nKG|number||-0.125~~\nSCORE|number||~1e+300~3\n" +
		"DAY|date||2031-03-01~~2031-03-01\nAT|date||2031-03-01 00:01:01~~\nTOOK|duration||1:30:00~0:01:00~\nCODE|category||~a~b"
	want = strings.Replace(want, "of Ta~", "of Tar~", 1)
	for _, order := range []binary.AppendByteOrder{binary.LittleEndian, binary.BigEndian} {
		for _, packed := range []bool{false, true} {
			for _, letters := range []string{"windows-1252", "nobody knows", ""} {
				raw := savOf(order, packed, savSample(), map[float64]string{1: "first", 2: "second"}, letters)
				got, report, err := Read(context.Background(), "t.sav", raw, reader.Options{})
				if err != nil {
					t.Errorf("%v %t: %v", order, packed, err)
					continue
				}
				if have := shown(got); have != want || got.Columns()[1].Meaning != "about" || report.About != "about" {
					t.Errorf("%v %t: got\n%s\nwant\n%s", order, packed, have, want)
				}
				var said []string
				for _, note := range report.Notes {
					said = append(said, note.Column+": "+note.Message)
				}
				for _, want := range []string{"KG: codes for missing values were read as missing: -5 (1), 999 (1)",
					"SCORE: codes for missing values were read as missing: 8 (1)", "QUEEN: the names", "AT: dates before the year 1",
					"CODE: codes for missing values were read as missing: zz (1)"} {
					if !strings.Contains(strings.Join(said, "\n"), want) {
						t.Errorf("%q is not said in %q", want, said)
					}
				}
			}
		}
	}
}

func TestSavFilesThatAreRefused(t *testing.T) {
	whole := savOf(binary.LittleEndian, true, savSample(), nil, "UTF-8")
	for what, test := range map[string]struct {
		raw  []byte
		want string
	}{
		"another packing": {append(append(bytes.Clone(whole[:72]), 7), whole[73:]...), "not known"},
		"no rows":         {savOf(binary.LittleEndian, false, []savColumn{{name: "a"}}, nil, ""), "no rows"},
		"too wide":        {savOf(binary.LittleEndian, false, make([]savColumn, 101), nil, ""), "columns"},
		"another record": {
			bytes.Replace(whole, []byte{6, 0, 0, 0, 1, 0, 0, 0, 'a'}, []byte{5, 0, 0, 0, 1, 0, 0, 0, 'a'}, 1),
			"record of kind 5",
		},
	} {
		_, _, err := Read(context.Background(), "", test.raw, reader.Options{MaxColumns: 100})
		var refused *reader.Error
		if !errors.As(err, &refused) || !strings.Contains(refused.Problem, test.want) || refused.Advice == "" {
			t.Errorf("%s: %v", what, err)
		}
	}
	for at := range whole { // cut off anywhere, it is answered in words, and what is missing is said
		_, report, err := Read(context.Background(), "", whole[:at], reader.Options{})
		var refused *reader.Error
		silent := err == nil && at > 3 && at < len(whole)-16 && !strings.Contains(report.Notes[0].Message, "cut off")
		if err != nil && !errors.As(err, &refused) || silent {
			t.Fatalf("cut at %d: %v, %+v", at, err, report)
		}
	}
}
