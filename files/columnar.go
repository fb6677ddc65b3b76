package files

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"

	"github.com/apache/arrow-go/v18/arrow"
	"github.com/apache/arrow-go/v18/arrow/ipc"
	"github.com/apache/arrow-go/v18/arrow/memory"
	"github.com/apache/arrow-go/v18/parquet"
	"github.com/apache/arrow-go/v18/parquet/file"
	"github.com/apache/arrow-go/v18/parquet/pqarrow"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// batchRows is how many rows are taken from a file at a time.
const batchRows = 1 << 16

// readParquet reads an Apache Parquet file.
func readParquet(ctx context.Context, raw []byte, options reader.Options) (*table.Table, *reader.Report, error) {
	pool := &boundedMemory{limit: options.MaxBytes}
	properties := parquet.NewReaderProperties(pool)
	opened, err := file.NewParquetReader(bytes.NewReader(raw), file.WithReadProps(properties))
	if err != nil {
		return nil, nil, damaged("Parquet file", err)
	}
	defer func() { _ = opened.Close() }()
	rows, leaves := opened.NumRows(), opened.MetaData().Schema.NumColumns()
	if leaves > options.MaxColumns {
		return nil, nil, reader.TooWide("file", leaves, options.MaxColumns)
	}
	if tooMany(rows, leaves, options.MaxBytes) {
		return nil, nil, reader.TooLarge(options.MaxBytes)
	}
	// Not in parallel: a panic of another goroutine could not be met.
	columns, err := pqarrow.NewFileReader(opened, pqarrow.ArrowReadProperties{BatchSize: batchRows}, pool)
	if err != nil {
		return nil, nil, damaged("Parquet file", err)
	}
	records, err := columns.GetRecordReader(ctx, nil, nil)
	if err != nil {
		return nil, nil, damaged("Parquet file", err)
	}
	defer records.Release()
	whole, err := columns.Schema() // that of the records leaves out what is told of the whole table
	if err != nil {
		return nil, nil, damaged("Parquet file", err)
	}
	metadata := whole.Metadata()
	schema := arrow.NewSchema(records.Schema().Fields(), &metadata)
	return collected(ctx, "Parquet", schema, int(rows), options, func() (arrow.RecordBatch, error) {
		if records.Next() {
			return records.RecordBatch(), nil
		}
		return nil, endOf(records.Err())
	})
}

// tooMany reports whether a table would take more than twice the limit of a file: a
// few bytes can stand for millions of equal rows.
func tooMany(rows int64, columns int, limit int64) bool {
	return rows < 0 || rows > limit || rows*int64(columns)*8 > 2*limit
}

// endOf makes the end of the records of a reader out of its last error.
func endOf(err error) error {
	if err == nil {
		return io.EOF
	}
	return err
}

// readArrowFile reads an Apache Arrow file (the random access format).
func readArrowFile(ctx context.Context, raw []byte, options reader.Options) (*table.Table, *reader.Report, error) {
	if err := verifyArrowFile(raw); err != nil {
		return nil, nil, damaged("Arrow file", err)
	}
	pool := &boundedMemory{limit: options.MaxBytes}
	opened, err := ipc.NewFileReader(bytes.NewReader(raw), ipc.WithAllocator(pool))
	if err != nil {
		return nil, nil, damaged("Arrow file", err)
	}
	defer func() { _ = opened.Close() }()
	next := 0
	return collected(ctx, "Arrow", opened.Schema(), 0, options, func() (arrow.RecordBatch, error) {
		if next >= opened.NumRecords() {
			return nil, io.EOF
		}
		next++
		return opened.RecordBatchAt(next - 1)
	})
}

// readArrowStream reads an Apache Arrow stream.
func readArrowStream(ctx context.Context, raw []byte, options reader.Options) (*table.Table, *reader.Report, error) {
	if err := verifyArrowStream(raw); err != nil {
		return nil, nil, damaged("Arrow stream", err)
	}
	pool := &boundedMemory{limit: options.MaxBytes}
	opened, err := ipc.NewReader(bytes.NewReader(raw), ipc.WithAllocator(pool))
	if err != nil {
		return nil, nil, damaged("Arrow stream", err)
	}
	defer opened.Release()
	return collected(ctx, "Arrow", opened.Schema(), 0, options, func() (arrow.RecordBatch, error) {
		if opened.Next() {
			return opened.RecordBatch(), nil
		}
		return nil, endOf(opened.Err())
	})
}

// collected puts the batches of a file together into a table. rows is how many are
// expected, 0 where that is not known.
func collected(
	ctx context.Context,
	name string,
	schema *arrow.Schema,
	rows int,
	options reader.Options,
	next func() (arrow.RecordBatch, error),
) (*table.Table, *reader.Report, error) {
	report := &reader.Report{Format: name, Encoding: name, Notes: []reader.Remark{}}
	told(schema.Metadata(), report)
	gather, err := gatherOf(schema, report, options)
	if err != nil {
		return nil, nil, err
	}
	done := 0
	for {
		if err := ctx.Err(); err != nil {
			return nil, nil, err
		}
		batch, err := next()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			if ctx.Err() != nil {
				return nil, nil, ctx.Err()
			}
			return nil, nil, damaged(name+" file", err)
		}
		done += int(batch.NumRows())
		if tooMany(int64(done), len(gather.columns), options.MaxBytes) {
			return nil, nil, reader.TooLarge(options.MaxBytes)
		}
		if err := gather.add(batch); err != nil {
			return nil, nil, err
		}
		if options.Progress != nil && rows > 0 {
			options.Progress(int64(done), int64(rows))
		}
	}
	if done == 0 {
		return nil, nil, &reader.Error{Problem: "the file has no rows", Advice: "check that the whole table was exported"}
	}
	t, err := gather.table(options.Keep)
	return t, report, err
}

// boundedMemory gives memory up to a limit; beyond it, it panics with the error that
// people are to see. Files say themselves how large their parts are.
type boundedMemory struct {
	limit, used int64
}

var plainMemory = memory.NewGoAllocator()

func (b *boundedMemory) take(size int) {
	// Batches come and go while a table is read: what is held at once counts.
	if b.used += int64(size); b.used > 4*b.limit {
		panic(reader.TooLarge(b.limit))
	}
}

// Allocate implements memory.Allocator.
func (b *boundedMemory) Allocate(size int) []byte {
	if size < 0 {
		panic(fmt.Errorf("a part says that it has %d bytes", size))
	}
	b.take(size)
	return plainMemory.Allocate(size)
}

// Reallocate implements memory.Allocator.
func (b *boundedMemory) Reallocate(size int, held []byte) []byte {
	if size < 0 {
		panic(fmt.Errorf("a part says that it has %d bytes", size))
	}
	b.take(size - len(held))
	return plainMemory.Reallocate(size, held)
}

// Free implements memory.Allocator.
func (b *boundedMemory) Free(held []byte) {
	b.used -= int64(len(held))
	plainMemory.Free(held)
}
