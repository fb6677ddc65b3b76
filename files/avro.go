package files

import (
	"bytes"
	"compress/flate"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"hash/crc32"
	"io"
	"iter"
	"math"
	"math/big"
	"strconv"
	"strings"
	"time"

	"github.com/golang/snappy"
	"github.com/hamba/avro/v2"
	"github.com/klauspost/compress/zstd"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// An Avro object container file is a heading (a map of texts, among them the schema as JSON and the name of the compression, and
// a mark of 16 bytes), and blocks of records: how many, how many bytes, the bytes, the mark. Source: Apache Avro specification 1.11,
// "Object Container Files". What records hold is decoded by the library, value by value.
const avroBegins, avroMark = "Obj\x01", 16

// How deep records may nest, how many types a schema may have with all that it refers to, and how long a decimal number may be.
const maxAvroDepth, maxAvroTypes, maxAvroDigits = 8, 100_000, 100

var errAvro = errors.New("it ends in the middle, or a length in it is wrong")

// readAvro reads an Avro object container file.
func readAvro(ctx context.Context, raw []byte, options reader.Options) (*table.Table, *reader.Report, error) {
	report := &reader.Report{Format: "Avro file", Encoding: "UTF-8", Notes: []reader.Remark{}}
	a := &avroFile{rest: raw[len(avroBegins):], limit: options.MaxBytes, report: report}
	heading, err := a.heading()
	if err != nil {
		return nil, nil, damaged("Avro file", err)
	}
	if a.unpack = avroCodecs[heading["avro.codec"]]; a.unpack == nil {
		return nil, nil, &reader.Error{Problem: fmt.Sprintf("the Avro file is packed by %.40q, which is not read", heading["avro.codec"]),
			Advice: "write it with deflate, snappy or zstandard, or unpacked"}
	}
	schema, err := avro.ParseWithCache(heading["avro.schema"], "", &avro.SchemaCache{})
	if err != nil {
		return nil, nil, damaged("Avro file", errors.New("its schema cannot be read"))
	}
	if schema.Type() != avro.Record {
		return nil, nil, &reader.Error{Problem: "the Avro file holds no records", Advice: "write a table as records with fields"}
	}
	record, err := a.plan("", schema, 0)
	if err != nil {
		return nil, nil, err
	}
	if len(a.titles) == 0 {
		return nil, nil, &reader.Error{Problem: "the file has no column of numbers, texts or dates",
			Advice: "bring a table with one value in each cell"}
	}
	return inAllowance(int64(len(raw)), options, func(options reader.Options) (*table.Table, *reader.Report, error) {
		a.limit = options.MaxBytes
		return reader.ReadRecords(ctx, a.titles, a.rows(record), report, options)
	})
}

type avroFile struct {
	rest   []byte
	limit  int64
	report *reader.Report
	unpack func(packed []byte, limit int64) ([]byte, error)
	mark   []byte
	titles []string
	muted  bool  // what is planned is read past
	items  int64 // of lists, by now
	kinds  int   // that were planned for
	row    []string
}

func (a *avroFile) long() (int64, error) {
	v, n := binary.Varint(a.rest)
	if n <= 0 {
		return 0, errAvro
	}
	a.rest = a.rest[n:]
	return v, nil
}

func (a *avroFile) take(n int64) ([]byte, error) {
	if n < 0 || n > int64(len(a.rest)) {
		return nil, errAvro
	}
	taken := a.rest[:n]
	a.rest = a.rest[n:]
	return taken, nil
}

// sized is bytes behind their length.
func (a *avroFile) sized() ([]byte, error) {
	n, err := a.long()
	if err != nil {
		return nil, err
	}
	return a.take(n)
}

func (a *avroFile) heading() (map[string]string, error) {
	heading := map[string]string{}
	for {
		n, err := a.long()
		if n < 0 && err == nil { // then the bytes of the entries follow
			n = -n
			_, err = a.long()
		}
		if err != nil || n > int64(len(a.rest)) {
			return nil, errAvro
		}
		if n == 0 {
			break
		}
		for range n {
			key, err := a.sized()
			if err != nil {
				return nil, err
			}
			value, err := a.sized()
			if err != nil {
				return nil, err
			}
			heading[string(key)] = string(value)
		}
	}
	mark, err := a.take(avroMark)
	a.mark = mark
	return heading, err
}

// avroCodecs unpack blocks, within a limit.
var avroCodecs = map[string]func(packed []byte, limit int64) ([]byte, error){
	"":     func(packed []byte, _ int64) ([]byte, error) { return packed, nil },
	"null": func(packed []byte, _ int64) ([]byte, error) { return packed, nil },
	"deflate": func(packed []byte, limit int64) ([]byte, error) {
		return within(flate.NewReader(bytes.NewReader(packed)), limit)
	},
	"zstandard": func(packed []byte, limit int64) ([]byte, error) {
		unpacking, err := zstd.NewReader(bytes.NewReader(packed), zstd.WithDecoderConcurrency(1), zstd.WithDecoderMaxMemory(uint64(limit)))
		if err != nil {
			return nil, err
		}
		defer unpacking.Close()
		return within(unpacking, limit)
	},
	"snappy": func(packed []byte, limit int64) ([]byte, error) {
		if len(packed) < crc32.Size { // a checksum stands behind each block
			return nil, errAvro
		}
		packed = packed[:len(packed)-crc32.Size]
		if n, err := snappy.DecodedLen(packed); err != nil || int64(n) > limit {
			return nil, errors.Join(err, reader.TooLarge(limit))
		}
		return snappy.Decode(nil, packed)
	},
}

func within(r io.Reader, limit int64) ([]byte, error) {
	out, err := io.ReadAll(io.LimitReader(r, limit+1))
	if err == nil && int64(len(out)) > limit {
		err = reader.TooLarge(limit)
	}
	return out, err
}

// rows are the records of all blocks.
func (a *avroFile) rows(record func(*avro.Reader)) iter.Seq2[[]string, error] {
	return func(yield func([]string, error) bool) {
		a.row = make([]string, len(a.titles))
		values := avro.NewReader(nil, 0, avro.WithReaderConfig(avro.Config{MaxByteSliceSize: int(min(a.limit, math.MaxInt32))}.Freeze()))
		for len(a.rest) > 0 {
			n, block, err := a.block()
			if err == nil && tooMany(n, len(a.titles), a.limit) {
				err = reader.TooLarge(a.limit)
			}
			if err == nil && n > int64(len(block)) { // records of no bytes hold nothing
				err = errAvro
			}
			if err != nil {
				yield(nil, damaged("Avro file", err))
				return
			}
			values.Reset(block)
			for range n {
				clear(a.row)
				if record(values); values.Error != nil || a.items > a.limit {
					yield(nil, damaged("Avro file", errAvro))
					return
				}
				if !yield(a.row, nil) {
					return
				}
			}
		}
	}
}

// block is the next one: how many records it holds, and their bytes.
func (a *avroFile) block() (n int64, block []byte, err error) {
	if n, err = a.long(); err != nil {
		return 0, nil, err
	}
	packed, err := a.sized()
	if err != nil {
		return 0, nil, err
	}
	if mark, err := a.take(avroMark); err != nil || !bytes.Equal(mark, a.mark) {
		return 0, nil, errAvro
	}
	block, err = a.unpack(packed, a.limit)
	return n, block, err
}

// column makes one, and gives what puts a value into it.
func (a *avroFile) column(name string) func(text string) {
	if a.muted {
		return func(string) {}
	}
	at := len(a.titles)
	a.titles = append(a.titles, name)
	return func(text string) { a.row[at] = text }
}

// past plans to read past values of a type, and says so.
func (a *avroFile) past(name string, s avro.Schema, depth int) (func(*avro.Reader), error) {
	if !a.muted {
		a.report.Note(0, name, "the column holds values of the type %s and was left out", s.Type())
	}
	before := a.muted
	a.muted = true
	defer func() { a.muted = before }()
	return a.plan(name, s, depth)
}

// plan makes columns of a schema, and gives what reads a value of it into these.
func (a *avroFile) plan(name string, s avro.Schema, depth int) (func(*avro.Reader), error) {
	if depth > maxAvroDepth {
		return nil, &reader.Error{Problem: fmt.Sprintf("records lie more than %d deep in each other", maxAvroDepth),
			Advice: "write a table with one value in each cell"}
	}
	if a.kinds++; a.kinds > maxAvroTypes {
		return nil, reader.TooWide("file", a.kinds, maxAvroTypes)
	}
	switch s := s.(type) {
	case *avro.RefSchema:
		return a.plan(name, s.Schema(), depth+1) // a record within itself is too deep
	case *avro.RecordSchema:
		return a.record(name, s, depth)
	case *avro.UnionSchema:
		return a.union(name, s, depth)
	case *avro.ArraySchema:
		return a.list(name, s, depth)
	case *avro.MapSchema:
		if !a.muted {
			return a.past(name, s, depth)
		}
		return a.repeated(s.Values(), depth, func(r *avro.Reader) { _ = r.ReadString() })
	}
	read, told := avroScalar(s)
	if !told && !a.muted {
		return a.past(name, s, depth)
	}
	put := a.column(name)
	return func(r *avro.Reader) { put(read(r)) }, nil
}

func (a *avroFile) record(name string, s *avro.RecordSchema, depth int) (func(*avro.Reader), error) {
	var fields []func(*avro.Reader)
	for _, f := range s.Fields() {
		title := f.Name()
		if name != "" {
			title = name + "." + title
		}
		field, err := a.plan(title, f.Type(), depth+1)
		if err != nil {
			return nil, err
		}
		fields = append(fields, field)
	}
	return func(r *avro.Reader) {
		for _, field := range fields {
			field(r)
		}
	}, nil
}

// union is a value of one of several types: those of one value each share a column.
func (a *avroFile) union(name string, s *avro.UnionSchema, depth int) (func(*avro.Reader), error) {
	var put func(string)
	branches := make([]func(*avro.Reader), len(s.Types()))
	for i, one := range s.Types() {
		read, told := avroScalar(one)
		if !told {
			branch, err := a.plan(name, one, depth+1)
			if err != nil {
				return nil, err
			}
			branches[i] = branch
			continue
		}
		if one.Type() == avro.Null {
			branches[i] = func(*avro.Reader) {}
			continue
		}
		if put == nil {
			put = a.column(name)
		}
		branches[i] = func(r *avro.Reader) { put(read(r)) }
	}
	return func(r *avro.Reader) {
		at := r.ReadLong()
		if at < 0 || at >= int64(len(branches)) {
			r.ReportError("union", "no such type")
			return
		}
		branches[at](r)
	}, nil
}

// list is a text of all values of one; one of records is left out.
func (a *avroFile) list(name string, s *avro.ArraySchema, depth int) (func(*avro.Reader), error) {
	read, told := avroScalar(s.Items())
	if !told && !a.muted {
		return a.past(name, s, depth)
	}
	if !told {
		return a.repeated(s.Items(), depth, func(*avro.Reader) {})
	}
	put := a.column(name)
	return func(r *avro.Reader) {
		var texts []string
		a.each(r, func() { texts = append(texts, read(r)) })
		put(strings.Join(texts, "; "))
	}, nil
}

func (a *avroFile) repeated(s avro.Schema, depth int, before func(*avro.Reader)) (func(*avro.Reader), error) {
	item, err := a.plan("", s, depth+1)
	return func(r *avro.Reader) { a.each(r, func() { before(r); item(r) }) }, err
}

// each reads the items of a list, which come in blocks; as many as a file may have bytes are no list.
func (a *avroFile) each(r *avro.Reader, item func()) {
	for {
		n, _ := r.ReadBlockHeader()
		if a.items += n; n <= 0 || r.Error != nil || a.items > a.limit || a.items < 0 {
			return
		}
		for range n {
			if item(); r.Error != nil {
				return
			}
		}
	}
}

// avroScalar reads one value as a text; told is false where it is none, or bytes that say nothing.
func avroScalar(s avro.Schema) (read func(*avro.Reader) string, told bool) {
	if ref, is := s.(*avro.RefSchema); is {
		s = ref.Schema()
	}
	switch s := s.(type) {
	case *avro.EnumSchema:
		return func(r *avro.Reader) string {
			at := r.ReadInt()
			if at < 0 || int(at) >= len(s.Symbols()) {
				r.ReportError("enum", "no such value")
				return ""
			}
			return s.Symbols()[at]
		}, true
	case *avro.FixedSchema:
		if scale, is := avroScale(s.Logical()); is && s.Size() <= maxAvroDigits {
			return func(r *avro.Reader) string {
				value := make([]byte, s.Size())
				r.Read(value)
				return avroDecimal(value, scale)
			}, true
		}
		return func(r *avro.Reader) string { r.SkipNBytes(s.Size()); return "" }, false
	case *avro.NullSchema:
		return func(*avro.Reader) string { return "" }, true
	case *avro.PrimitiveSchema:
		return avroPrimitive(s)
	}
	return nil, false
}

func avroPrimitive(s *avro.PrimitiveSchema) (read func(*avro.Reader) string, told bool) {
	whole := avroWhole(s)
	switch s.Type() {
	case avro.Boolean:
		return func(r *avro.Reader) string { return strconv.FormatBool(r.ReadBool()) }, true
	case avro.Int:
		return func(r *avro.Reader) string { return whole(int64(r.ReadInt())) }, true
	case avro.Long:
		return func(r *avro.Reader) string { return whole(r.ReadLong()) }, true
	case avro.Float:
		return func(r *avro.Reader) string {
			short, _ := strconv.ParseFloat(strconv.FormatFloat(float64(r.ReadFloat()), 'g', -1, 32), 64)
			return avroNumber(short)
		}, true
	case avro.Double:
		return func(r *avro.Reader) string { return avroNumber(r.ReadDouble()) }, true
	case avro.String:
		return func(r *avro.Reader) string { return strings.ToValidUTF8(r.ReadString(), "\uFFFD") }, true
	case avro.Bytes:
		if scale, is := avroScale(s.Logical()); is {
			return func(r *avro.Reader) string { return avroDecimal(r.ReadBytes(), scale) }, true
		}
	}
	return func(r *avro.Reader) string { r.SkipBytes(); return "" }, false
}

func avroNumber(v float64) string {
	if math.IsNaN(v) || math.IsInf(v, 0) {
		return ""
	}
	return table.FormatNumber(v)
}

// avroWhole writes a whole number: itself, or the date or the time of the day that it stands for.
func avroWhole(s *avro.PrimitiveSchema) func(int64) string {
	logical := avro.LogicalType("")
	if s.Logical() != nil {
		logical = s.Logical().Type()
	}
	date := func(perSecond, each float64, grain table.Grain) func(int64) string {
		return func(v int64) string {
			if seconds := float64(v) * each / perSecond; seconds >= table.EarliestDate && seconds <= table.LatestDate {
				return table.FormatDate(seconds, grain)
			}
			return ""
		}
	}
	switch logical {
	case avro.Date:
		return date(1, 86_400, table.Day)
	case avro.TimestampMillis, avro.LocalTimestampMillis:
		return date(1e3, 1, table.Second)
	case avro.TimestampMicros, avro.LocalTimestampMicros:
		return date(1e6, 1, table.Second)
	case avro.TimeMillis:
		return func(v int64) string { return time.UnixMilli(v).UTC().Format(time.TimeOnly) }
	case avro.TimeMicros:
		return func(v int64) string { return time.UnixMicro(v).UTC().Format(time.TimeOnly) }
	}
	return func(v int64) string { return strconv.FormatInt(v, 10) }
}

// avroScale is how many decimals bytes have that are a decimal number.
func avroScale(logical avro.LogicalSchema) (scale int, is bool) {
	decimal, is := logical.(*avro.DecimalLogicalSchema)
	if !is || decimal.Scale() < 0 || decimal.Scale() > maxAvroDigits {
		return 0, false
	}
	return decimal.Scale(), true
}

// avroDecimal is a number in two's complement, the highest byte first.
func avroDecimal(raw []byte, scale int) string {
	if len(raw) == 0 || len(raw) > maxAvroDigits {
		return ""
	}
	n := new(big.Int).SetBytes(raw)
	if raw[0] >= 0x80 {
		n.Sub(n, new(big.Int).Lsh(big.NewInt(1), uint(8*len(raw))))
	}
	return new(big.Rat).SetFrac(n, new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(scale)), nil)).FloatString(scale)
}
