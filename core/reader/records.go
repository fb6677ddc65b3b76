package reader

import (
	"bytes"
	"context"
	"encoding/csv"
	"iter"

	"copperlark/core/table"
)

// ReadRecords reads rows that a library took from a file, as texts under titles, so that kinds are inferred in one way for every
// format; an empty text is missing. A row is not held on to once the next one is asked for.
func ReadRecords(
	ctx context.Context, titles []string, rows iter.Seq2[[]string, error], report *Report, options Options,
) (*table.Table, *Report, error) {
	if len(titles) > options.MaxColumns {
		return nil, nil, TooWide("file", len(titles), options.MaxColumns)
	}
	var out bytes.Buffer
	w := csv.NewWriter(&out)
	if err := w.Write(titles); err != nil {
		return nil, nil, err
	}
	n := 0
	for row, err := range rows {
		if err == nil && n%1024 == 0 {
			err = ctx.Err()
		}
		if err == nil {
			err = w.Write(row)
		}
		if err != nil {
			return nil, nil, err
		}
		if n++; int64(out.Len()) > options.MaxBytes {
			return nil, nil, TooLarge(options.MaxBytes)
		}
	}
	w.Flush()
	if n == 0 {
		return nil, nil, &Error{Problem: "the table has no row", Advice: "choose another, or bring one with rows"}
	}
	options.Separator, options.Decimal, options.TitleRow, options.records = ',', '.', 1, true
	t, report, err := readRows(ctx, normalized{text: out.Bytes()}, options, report)
	if err == nil {
		report.TitleRow = 0 // the titles are no row of the file
	}
	return t, report, err
}
