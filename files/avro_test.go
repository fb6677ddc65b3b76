package files

import (
	"bytes"
	"compress/flate"
	"context"
	"fmt"
	"math/big"
	"strings"
	"testing"
	"time"

	"github.com/hamba/avro/v2"
	"github.com/hamba/avro/v2/ocf"

	"copperlark/core/reader"
)

const avroHives = `{"type": "record", "name": "hive", "fields": [
	{"name": "name", "type": "string"}, {"name": "kg", "type": ["null", "double"]}, {"name": "frames", "type": "int"},
	{"name": "fed", "type": "boolean"}, {"name": "day", "type": {"type": "int", "logicalType": "date"}},
	{"name": "seen", "type": ["null", {"type": "long", "logicalType": "timestamp-millis"}]},
	{"name": "district", "type": {"type": "enum", "name": "district", "symbols": ["Tarn", "Dee"]}},
	{"name": "before", "type": ["null", "district"]},
	{"name": "price", "type": {"type": "bytes", "logicalType": "decimal", "precision": 8, "scale": 2}},
	{"name": "queen", "type": {"type": "record", "name": "queen", "fields": [{"name": "year", "type": "long"},
		{"name": "mark", "type": "bytes"}]}},
	{"name": "counts", "type": {"type": "array", "items": "int"}}, {"name": "more", "type": {"type": "map", "values": "string"}},
	{"name": "visits", "type": {"type": "array", "items": "queen"}}]}`

// avroFileOf writes records of hives.
func avroFileOf(t testing.TB, schema string, codec ocf.CodecName, records ...any) []byte {
	t.Helper()
	var out bytes.Buffer
	e, err := ocf.NewEncoder(schema, &out, ocf.WithCodec(codec))
	if err != nil {
		t.Fatal(err)
	}
	for _, r := range records {
		if err := e.Encode(r); err != nil {
			t.Fatal(err)
		}
	}
	if err := e.Close(); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func hives() (list []any) {
	for i := range 4 {
		queen := map[string]any{"year": int64(2029 + i), "mark": []byte{1, 2}}
		one := map[string]any{"name": fmt.Sprintf("hive %d", i), "kg": nil, "frames": 10 + i, "fed": i%2 == 0,
			"day": time.Date(2031, 3, 1+i, 0, 0, 0, 0, time.UTC), "seen": nil, "district": []string{"Tarn", "Dee"}[i%2], "before": nil,
			"price": big.NewRat(int64(450-200*i), 100), "queen": queen, "counts": []any{i, 2 * i}, "more": map[string]any{"a": "b"},
			"visits": []any{queen, queen}}
		if i > 0 {
			one["kg"], one["seen"] = float64(i)/4, map[string]any{"long.timestamp-millis": time.Date(2031, 3, 1, 12, i, 0, 0, time.UTC)}
			one["before"] = map[string]any{"district": "Dee"}
		}
		list = append(list, one)
	}
	return list
}

func TestAvroFilesAreRead(t *testing.T) {
	const want = "name|text||hive 0~hive 1~hive 2~hive 3\nkg|number||~0.25~0.5~0.75\nframes|number||10~11~12~13\n" +
		"fed|yes / no||true~false~true~false\n" +
		"day|date||2031-03-01~2031-03-02~2031-03-03~2031-03-04\nseen|date||~2031-03-01 12:01:00~2031-03-01 12:02:00~2031-03-01 12:03:00\n" +
		"district|category||Tarn~Dee~Tarn~Dee\nbefore|category||~Dee~Dee~Dee\nprice|number||4.5~2.5~0.5~-1.5\n" +
		"queen.year|number||2029~2030~2031~2032\n" +
		"counts|category||0; 0~1; 2~2; 4~3; 6"
	for _, codec := range []ocf.CodecName{ocf.Null, ocf.Deflate, ocf.Snappy, ocf.ZStandard} {
		got, report, err := Read(t.Context(), "hives.avro", avroFileOf(t, avroHives, codec, hives()...), reader.Options{})
		if err != nil {
			t.Fatal(codec, err)
		}
		if have := shown(got); strings.ReplaceAll(have, "|category|", "|text|") != strings.ReplaceAll(want, "|category|", "|text|") ||
			report.Format != "Avro file" || report.NoteCount != 3 {
			t.Errorf("%s: got\n%s\nwant\n%s\n%+v", codec, have, want, report.Notes)
		}
	}
	raw := avroFileOf(t, avroHives, ocf.Null, hives()...)
	for at := range raw { // cut anywhere, and with a byte that is another
		_, _, _ = Read(context.Background(), "a.avro", raw[:at], reader.Options{MaxBytes: 1 << 20})
		other := bytes.Clone(raw)
		other[at] ^= 0xa5
		_, _, _ = Read(context.Background(), "a.avro", other, reader.Options{MaxBytes: 1 << 20})
	}
}

// TestAvroFilesThatMeanHarmAreRefused holds that what a file says of itself costs no more than the file.
func TestAvroFilesThatMeanHarmAreRefused(t *testing.T) {
	header := func(schema, codec string) []byte {
		out := []byte(avroBegins)
		w := avro.NewWriter(nil, 512)
		w.WriteLong(2)
		w.WriteString("avro.schema")
		w.WriteString(schema)
		w.WriteString("avro.codec")
		w.WriteString(codec)
		w.WriteLong(0)
		out = append(out, w.Buffer()...)
		return append(out, strings.Repeat("m", avroMark)...)
	}
	blocks := func(head []byte, n int64, block []byte) []byte {
		w := avro.NewWriter(nil, 512)
		w.WriteLong(n)
		w.WriteLong(int64(len(block)))
		return append(append(append(head, w.Buffer()...), block...), strings.Repeat("m", avroMark)...)
	}
	wide := `{"type": "record", "name": "r0", "fields": [{"name": "x", "type": "int"}]}`
	for i := 1; i < 4; i++ {
		var fields []string
		for f := range 60 {
			one := fmt.Sprintf("%q", fmt.Sprintf("r%d", i-1))
			if f == 0 {
				one = wide
			}
			fields = append(fields, fmt.Sprintf(`{"name": "f%d", "type": %s}`, f, one))
		}
		wide = fmt.Sprintf(`{"type": "record", "name": "r%d", "fields": [%s]}`, i, strings.Join(fields, ","))
	}
	ints := `{"type": "record", "name": "r", "fields": [{"name": "a", "type": {"type": "array", "items": "null"}},
		{"name": "x", "type": "int"}]}`
	one := `{"type": "record", "name": "r", "fields": [{"name": "x", "type": "int"}]}`
	endless := `{"type": "record", "name": "r", "fields": [{"name": "x", "type": "int"}, {"name": "next", "type": ["null", "r"]}]}`
	many := avro.NewWriter(nil, 64)
	many.WriteLong(1 << 60)
	for what, test := range map[string]struct {
		raw  []byte
		says string
	}{
		"records within themselves": {blocks(header(endless, "null"), 1, bytes.Repeat([]byte{2}, 1<<20)), "deep in each other"},
		"types that multiply":       {header(wide, "null"), "columns"},
		"a list of nothing":         {blocks(header(ints, "null"), 1, many.Buffer()), "wrong"},
		"more records than bytes":   {blocks(header(one, "null"), 1<<50, []byte{2}), "larger than"},
		"records of nothing": {blocks(header(`{"type": "record", "name": "r", "fields": [{"name": "x", "type": "null"}]}`, "null"), 1<<17, nil),
			"wrong"},
		"a bomb":              {blocks(header(one, "deflate"), 4, deflated(64<<20)), "larger than"},
		"another codec":       {header(one, "bzip2"), "packed by"},
		"no record":           {header(`"int"`, "null"), "no records"},
		"no row":              {header(one, "null"), "no row"},
		"nothing to be shown": {header(`{"type": "record", "name": "r", "fields": [{"name": "x", "type": "bytes"}]}`, "null"), "no column"},
	} {
		_, _, err := Read(t.Context(), "a.avro", test.raw, reader.Options{MaxBytes: 1 << 20})
		if err == nil || !strings.Contains(err.Error(), test.says) {
			t.Errorf("%s: %v, want %q", what, err, test.says)
		}
	}
}

// deflated are so many zeros, packed.
func deflated(n int) []byte {
	var out bytes.Buffer
	w, _ := flate.NewWriter(&out, flate.BestCompression)
	_, _ = w.Write(make([]byte, n))
	_ = w.Close()
	return out.Bytes()
}
