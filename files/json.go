package files

import (
	"encoding/json"
	"io"
	"math"
	"strings"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// WrittenColumn is a column of a table that is written as JSON.
type WrittenColumn struct {
	Name    string `json:"name"`
	Label   string `json:"label"`
	Kind    string `json:"kind"`
	Unit    string `json:"unit"`
	Missing int    `json:"missing"`
}

// WriteJSON writes what would be kept of a file: columns, rows, and the notes of reading.
// Numbers are numbers, dates are ISO 8601, yes / no are true and false, and what is missing
// is null.
func WriteJSON(w io.Writer, t *table.Table, report *reader.Report) error {
	columns := make([]WrittenColumn, len(t.Columns()))
	for i, c := range t.Columns() {
		columns[i] = WrittenColumn{c.Name, c.ReadableName(), string(c.Kind), c.Unit, c.MissingCount()}
	}
	rows := make([][]any, t.Rows())
	for i := range rows {
		rows[i] = make([]any, len(columns))
		for j, c := range t.Columns() {
			rows[i][j] = jsonValue(c, i)
		}
	}
	encoder := json.NewEncoder(w)
	encoder.SetEscapeHTML(false)
	return encoder.Encode(struct {
		Columns []WrittenColumn `json:"columns"`
		Rows    [][]any         `json:"rows"`
		Notes   []reader.Remark `json:"notes"`
	}{columns, rows, report.Notes})
}

// jsonValue is a value as JSON writes it.
func jsonValue(c *table.Column, row int) any {
	switch {
	case c.Missing(row):
		return nil
	case c.Kind == table.Number:
		if v := c.Numbers[row]; !math.IsInf(v, 0) {
			return v
		}
		return nil
	case c.Kind == table.Duration:
		return c.Value(row)
	case c.Kind == table.Date:
		return strings.Replace(table.FormatDate(c.Numbers[row], c.Grain), " ", "T", 1)
	case c.Kind == table.YesNo && len(c.Levels) == 2:
		return c.Codes[row] == 1
	}
	return c.Levels[c.Codes[row]]
}
