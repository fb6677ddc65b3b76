package files

import (
	"context"
	"encoding/json"
	"io"
	"math"
	"slices"

	"github.com/apache/arrow-go/v18/arrow"
	"github.com/apache/arrow-go/v18/arrow/array"
	"github.com/apache/arrow-go/v18/arrow/ipc"
	"github.com/apache/arrow-go/v18/arrow/memory"
	"github.com/apache/arrow-go/v18/parquet"
	"github.com/apache/arrow-go/v18/parquet/compress"
	"github.com/apache/arrow-go/v18/parquet/pqarrow"

	"copperlark/core/table"
)

// WriteParquet writes a table as an Apache Parquet file, compressed with zstd:
// numbers as doubles, days as dates, moments as timestamps in UTC, yes / no as
// booleans, all other columns as texts; ordered groups keep their order. Units,
// meanings and spoken names go along as metadata of the columns.
func WriteParquet(ctx context.Context, w io.Writer, t *table.Table) error {
	return WriteParquetOf(ctx, w, t, Told{})
}

// Told is what a file tells of its table as a whole.
type Told struct {
	Drawn string   // which rows of a larger table these are; empty: all that there were
	Notes []string // what was read otherwise than it stood where it came from
}

// WriteParquetOf is WriteParquet with what is told of the table, which a reading of the file tells again.
func WriteParquetOf(ctx context.Context, w io.Writer, t *table.Table, told Told) error {
	said := map[string]string{} // what there is nothing of is left out
	if told.Drawn != "" {
		said[drawnKey] = told.Drawn
	}
	if len(told.Notes) > 0 {
		notes, err := json.Marshal(told.Notes)
		if err != nil {
			return err
		}
		said[notesKey] = string(notes)
	}
	metadata := arrow.MetadataFrom(said)
	schema := arrow.NewSchema(schemaOf(t).Fields(), &metadata)
	out, err := pqarrow.NewFileWriter(
		schema,
		w,
		parquet.NewWriterProperties(parquet.WithCompression(compress.Codecs.Zstd)),
		pqarrow.NewArrowWriterProperties(pqarrow.WithStoreSchema()),
	)
	if err != nil {
		return err
	}
	if err := batches(ctx, schema, t, out.WriteBuffered); err != nil {
		return err
	}
	return out.Close()
}

// WriteArrow writes a table as a stream of Arrow (IPC streaming format), with the same types and metadata.
func WriteArrow(ctx context.Context, w io.Writer, t *table.Table) error {
	schema := schemaOf(t)
	out := ipc.NewWriter(w, ipc.WithSchema(schema))
	if err := batches(ctx, schema, t, out.Write); err != nil {
		return err
	}
	return out.Close()
}

// schemaOf is what a table's columns are called and hold, with what is known of them.
func schemaOf(t *table.Table) *arrow.Schema {
	fields := make([]arrow.Field, len(t.Columns()))
	for i, c := range t.Columns() {
		fields[i] = arrow.Field{
			Name:     c.Name,
			Type:     arrowType(c),
			Nullable: true,
			Metadata: arrow.MetadataFrom(
				map[string]string{unitKey: c.Unit, meaningKey: c.Meaning, labelKey: c.Label, kindKey: string(c.Kind)},
			),
		}
	}
	return arrow.NewSchema(fields, nil)
}

// batches writes the rows of a table, some at a time.
func batches(ctx context.Context, schema *arrow.Schema, t *table.Table, write func(arrow.RecordBatch) error) error {
	for from := 0; from < t.Rows(); from += batchRows {
		if err := ctx.Err(); err != nil {
			return err
		}
		to := min(from+batchRows, t.Rows())
		columns := make([]arrow.Array, len(t.Columns()))
		for i, c := range t.Columns() {
			columns[i] = arrowArray(c, from, to)
		}
		if err := write(array.NewRecordBatch(schema, columns, int64(to-from))); err != nil {
			return err
		}
	}
	return nil
}

func plainYesNo(c *table.Column) bool {
	return c.Kind == table.YesNo && slices.Equal(c.Levels, []string{"no", "yes"})
}

func arrowType(c *table.Column) arrow.DataType {
	switch {
	case c.Kind.Quantity(): // of a duration the seconds: its kind stands beside it
		return arrow.PrimitiveTypes.Float64
	case c.Kind == table.Date && c.Grain == table.Day:
		return arrow.FixedWidthTypes.Date32
	case c.Kind == table.Date:
		return arrow.FixedWidthTypes.Timestamp_ms
	case plainYesNo(c):
		return arrow.FixedWidthTypes.Boolean
	case c.Kind == table.Ordered:
		return &arrow.DictionaryType{IndexType: arrow.PrimitiveTypes.Int32, ValueType: arrow.BinaryTypes.String, Ordered: true}
	}
	return arrow.BinaryTypes.String
}

func arrowArray(c *table.Column, from, to int) arrow.Array {
	b := array.NewBuilder(memory.DefaultAllocator, arrowType(c))
	defer b.Release()
	if ordered, ok := b.(*array.BinaryDictionaryBuilder); ok {
		levels := array.NewStringBuilder(memory.DefaultAllocator)
		levels.AppendValues(c.Levels, nil)
		_ = ordered.InsertStringDictValues(levels.NewStringArray())
	}
	b.Reserve(to - from)
	for row := from; row < to; row++ {
		if c.Missing(row) {
			b.AppendNull()
			continue
		}
		switch b := b.(type) {
		case *array.Float64Builder:
			b.Append(c.Numbers[row])
		case *array.Date32Builder:
			b.Append(arrow.Date32(math.Floor(c.Numbers[row] / 86_400)))
		case *array.TimestampBuilder:
			b.Append(arrow.Timestamp(math.Round(c.Numbers[row] * 1000)))
		case *array.BooleanBuilder:
			b.Append(c.Codes[row] == 1)
		case *array.StringBuilder:
			b.Append(c.Levels[c.Codes[row]])
		case *array.BinaryDictionaryBuilder:
			_ = b.AppendString(c.Levels[c.Codes[row]])
		}
	}
	return b.NewArray()
}
