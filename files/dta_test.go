package files

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"strings"
	"testing"

	"copperlark/core/reader"
)

// dtaColumn is a variable of a file that is made here: its type is the index in dtaTypes, or a width of texts above 0
// with kind -1; kind -2 is a long text.
type dtaColumn struct {
	name, format, labels string
	kind, width          int
	values               []any // uint64 as bits, or string
}

// dtaOf writes a file of any release and order.
func dtaOf(layout dtaLayout, order binary.AppendByteOrder, columns []dtaColumn, names map[int32]string) []byte {
	var b, long []byte
	put := func(bytes int, bits uint64) {
		whole := order.AppendUint64(nil, bits)
		if order == binary.LittleEndian {
			b = append(b, whole[:bytes]...)
		} else {
			b = append(b, whole[8-bytes:]...)
		}
	}
	padded := func(text string, width int) { b = append(b, (text + strings.Repeat("\x00", width))[:width]...) }
	tag := func(name string) {
		if layout.tagged {
			b = append(b, "<"+name+">"...)
		}
	}
	each := func(part string, do func(c dtaColumn)) {
		tag(part)
		for _, c := range columns {
			do(c)
		}
		tag("/" + part)
	}
	rows := len(columns[0].values)
	if layout.tagged {
		word := map[bool]string{true: "LSF", false: "MSF"}[order == binary.LittleEndian]
		b = fmt.Appendf(b, "<stata_dta><header><release>%d</release><byteorder>%s</byteorder><K>", layout.release, word)
		put(layout.variables, uint64(len(columns)))
		b = append(b, "</K><N>"...)
		put(layout.rows, uint64(rows))
		b = append(b, "</N><label>"...)
		put(layout.label, 3)
		b = append(b, "abc</label><timestamp>\x00</timestamp></header><map>"...)
		padded("", 112)
		b = append(b, "</map>"...)
	} else {
		b = append(b, byte(layout.release), map[bool]byte{true: 2, false: 1}[order == binary.LittleEndian], 1, 0)
		put(2, uint64(len(columns)))
		put(4, uint64(rows))
		padded("abc", 81+18)
	}
	each("variable_types", func(c dtaColumn) {
		code, width := c.width, 1
		if c.kind >= 0 {
			code = dtaTypes[c.kind].old
		}
		if layout.tagged {
			width = 2
			if c.kind >= 0 {
				code = dtaTypes[c.kind].tagged
			} else if c.kind == -2 {
				code = dtaLongText
			}
		}
		put(width, uint64(code))
	})
	each("varnames", func(c dtaColumn) { padded(c.name, layout.name) })
	tag("sortlist")
	padded("", layout.sorted*(len(columns)+1))
	tag("/sortlist")
	each("formats", func(c dtaColumn) { padded(c.format, layout.format) })
	each("value_label_names", func(c dtaColumn) { padded(c.labels, layout.name) })
	each("variable_labels", func(c dtaColumn) { padded("about "+c.name, layout.meaning) })
	tag("characteristics")
	if !layout.tagged {
		padded("\x01", 1)
		put(4, 3)
		padded("own", 3+5)
	}
	tag("/characteristics")
	tag("data")
	for row := range rows {
		for i, c := range columns {
			switch v := c.values[row].(type) {
			case uint64:
				put(dtaTypes[c.kind].bytes, v)
			case string:
				if c.kind == -1 {
					padded(v, c.width)
					continue
				}
				put(layout.pointer, uint64(i+1))
				put(8-layout.pointer, uint64(row+1))
				kept := b
				b = append(long, "GSO"...)
				put(4, uint64(i+1))
				put(map[bool]int{true: 4, false: 8}[layout.release == 117], uint64(row+1))
				b = append(b, 130)
				put(4, uint64(len(v)+1))
				b = append(b, v+"\x00"...)
				long, b = b, kept
			}
		}
	}
	tag("/data")
	tag("strls")
	b = append(b, long...)
	tag("/strls")
	tag("value_labels")
	tag("lbl")
	var begins, values, text []byte
	for value, name := range names {
		begins = order.AppendUint32(begins, uint32(len(text)))
		values = order.AppendUint32(values, uint32(value))
		text = append(text, name+"\x00"...)
	}
	put(4, uint64(8+len(begins)*2+len(text)))
	padded("age", layout.name+3)
	put(4, uint64(len(names)))
	put(4, uint64(len(text)))
	b = append(append(append(b, begins...), values...), text...)
	tag("/lbl")
	tag("/value_labels")
	tag("/stata_dta")
	return b
}

func dtaSample(long bool) []dtaColumn {
	bits := func(v float64) any { return math.Float64bits(v) }
	columns := []dtaColumn{
		{name: "hive", kind: -1, width: 6, values: []any{"Brim\xfc", "", "Tarn"}},
		{name: "queen", labels: "age", values: []any{uint64(2), uint64(1), uint64(103)}},
		{name: "again", labels: "age", values: []any{uint64(1), uint64(7), uint64(101)}},
		{name: "small", kind: 1, values: []any{uint64(0xffff), uint64(32_740), uint64(32_741)}},
		{name: "large", kind: 2, values: []any{uint64(0x80000001), uint64(2_147_483_620), uint64(2_147_483_623)}},
		{name: "share", kind: 3, values: []any{uint64(math.Float32bits(0.1)), uint64(math.Float32bits(-1e30)), uint64(0x7f000800)}},
		{name: "kg", kind: 4, values: []any{bits(-0.125), bits(1e300), uint64(0x7fe0000000000000 + 26*0x0000010000000000)}},
		{name: "day", kind: 1, format: "%td", values: []any{uint64(0), uint64(26_000), uint64(32_741)}},
		{name: "at", kind: 4, format: "%tcDD", values: []any{bits(0), bits(26_000*86_400e3 + 1e3), bits(1e300)}},
		{name: "month", kind: 1, format: "%tm", values: []any{uint64(0xffff), uint64(854), uint64(32_741)}},
		{name: "week", kind: 1, format: "%tw", values: []any{uint64(0), uint64(3_701), uint64(0xffff)}},
		{name: "leap", kind: 4, format: "%tC", values: []any{bits(0), bits((26_000*86_400 + 1 + 27) * 1e3), bits(394_416_000e3)}},
		{name: "quarter", kind: 4, format: "%tq", values: []any{bits(5), bits(-1), bits(1e9)}},
	}
	if long {
		columns = append(columns, dtaColumn{name: "said", kind: -2, values: []any{strings.Repeat("long ", 3000), "brief", ""}})
	}
	return columns
}

func TestDtaFilesAreReadInEveryReleaseAndOrder(t *testing.T) {
	for _, layout := range dtaLayouts {
		for _, order := range []binary.AppendByteOrder{binary.LittleEndian, binary.BigEndian} {
			raw := dtaOf(layout, order, dtaSample(layout.tagged), map[int32]string{1: "first", 2: "s\xe9cond"})
			if layout.letters != "" {
				raw = bytes.ReplaceAll(raw, []byte("Brim\xfc"), []byte("Brim\xff"))
			}
			got, report, err := Read(context.Background(), "t.dta", raw, reader.Options{})
			if err != nil {
				t.Errorf("%d: %v", layout.release, err)
				continue
			}
			want := "hive|category||Brimü~~Tarn\nqueen|category||sécond~first~\nagain|number||1~7~\nsmall|number||-1~32740~\n" +
				"large|number||-2147483647~2147483620~\nshare|number||0.1~-1e+30~\nkg|number||-0.125~1e+300~\n" +
				"day|date||1960-01-01~2031-03-09~\nat|date||1960-01-01 00:00:00~2031-03-09 00:00:01~\nmonth|date||1959-12-01~2031-03-01~\n" +
				"week|date||1960-01-01~2031-03-05~1959-12-24\nleap|date||1960-01-01 00:00:00~2031-03-09 00:00:01~1972-07-01 00:00:00\n" +
				"quarter|date||1961-04-01~1959-10-01~"
			if layout.letters != "" {
				want = strings.NewReplacer("ü", "\uFFFD", "é", "\uFFFD").Replace(want)
			}
			have := shown(got)
			if layout.tagged {
				want += "\nsaid|category||" + strings.Repeat("long ", 2999) + "long~brief~"
			}
			if have != want || got.Columns()[1].Meaning != "about queen" || report.About != "abc" {
				t.Errorf("%d %v: got\n%.900s\nwant\n%.900s", layout.release, order, have, want)
			}
			var said []string
			for _, note := range report.Notes {
				said = append(said, note.Column+": "+note.Message)
			}
			for _, want := range []string{"queen: codes for missing values were read as missing: .b (1)", "queen: the names of the values were read",
				"again: some values have names", "large: codes for missing values were read as missing: .b (1)", "share: codes", "kg: codes",
				"at: dates before the year 1", "quarter: dates before the year 1"} {
				if !strings.Contains(strings.Join(said, "\n"), want) {
					t.Errorf("%d: %q is not said in %q", layout.release, want, said)
				}
			}
		}
	}
}

func TestDtaFilesThatAreRefused(t *testing.T) {
	whole := dtaOf(dtaLayouts[4], binary.LittleEndian, dtaSample(true), map[int32]string{1: "first"})
	for what, test := range map[string]struct {
		raw  []byte
		want string
	}{
		"another release":         {bytes.Replace(whole, []byte("<release>118"), []byte("<release>121"), 1), "release 121"},
		"no rows":                 {dtaOf(dtaLayouts[1], binary.LittleEndian, []dtaColumn{{name: "a"}}, nil), "no rows"},
		"too wide":                {dtaOf(dtaLayouts[1], binary.LittleEndian, make([]dtaColumn, 101), nil), "columns"},
		"rows that are not there": {bytes.Replace(whole, []byte("<N>\x03\x00"), []byte("<N>\x03\x10"), 1), "damaged"},
	} {
		_, _, err := Read(context.Background(), "", test.raw, reader.Options{MaxColumns: 100})
		var refused *reader.Error
		if !errors.As(err, &refused) || !strings.Contains(refused.Problem, test.want) || refused.Advice == "" {
			t.Errorf("%s: %v", what, err)
		}
	}
	for at := range whole { // cut off anywhere, it is answered in words
		if _, _, err := Read(context.Background(), "", whole[:at], reader.Options{}); err != nil {
			var refused *reader.Error
			if !errors.As(err, &refused) {
				t.Fatalf("cut at %d: %v", at, err)
			}
		}
	}
}

func TestNamedValuesAreReadAsNumbersWhereSomebodyWants(t *testing.T) {
	raw := sample(t, "readstat.dta")
	got, _, err := Read(context.Background(), "", raw, reader.Options{As: map[string]string{"queen": string(reader.OfferUnnamed)}})
	if err != nil || !strings.Contains(shown(got), "queen|number||1~2~1~3") {
		t.Errorf("%v: %v", err, shown(got))
	}
}
