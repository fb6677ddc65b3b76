package files

import (
	"bytes"
	"context"
	"fmt"
	"iter"
	"math"
	"slices"
	"strconv"
	"strings"
	"sync/atomic"

	"github.com/ncruces/go-sqlite3"
	"github.com/ncruces/go-sqlite3/util/ioutil"
	"github.com/ncruces/go-sqlite3/vfs/readervfs"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// A file of an SQLite database is read by SQLite itself, where it lies in memory. Its tables alone are read: views, virtual
// tables and columns that are worked out are programs of whoever wrote the file. The memory that SQLite works in is not the
// program's own (it runs as translated WebAssembly), so that a file made to break it breaks nothing else.

// The bounds of SQLite: tables that are offered, and the memory that it may take for itself.
const (
	maxSQLiteTables = 1000
	sqliteMemory    = 256 << 20
)

var sqliteFiles atomic.Int64

// readSQLite reads a table of a database file; of several in it one is chosen as a sheet of a workbook is.
func readSQLite(ctx context.Context, raw []byte, options reader.Options) (*table.Table, *reader.Report, error) {
	name := fmt.Sprintf("file-%d.db", sqliteFiles.Add(1))
	readervfs.Create(name, ioutil.NewSizeReaderAt(bytes.NewReader(raw)))
	defer readervfs.Delete(name)
	c, err := sqlite3.OpenFlags("file:"+name+"?vfs=reader&immutable=1", sqlite3.OPEN_READONLY|sqlite3.OPEN_URI)
	if err != nil {
		return nil, nil, damaged("SQLite file", err)
	}
	defer func() { _ = c.Close() }()
	c.HardHeapLimit(sqliteMemory)
	c.SetInterrupt(ctx)
	d := &sqliteFile{ctx: ctx, c: c, report: &reader.Report{Format: "SQLite file", Encoding: "UTF-8", Notes: []reader.Remark{}}}
	t, report, err := inAllowance(int64(len(raw)), options, d.read)
	if ctx.Err() != nil {
		return nil, nil, ctx.Err()
	}
	return t, report, err
}

type sqliteFile struct {
	ctx    context.Context
	c      *sqlite3.Conn
	report *reader.Report
	bytes  map[string]int // values that are bytes and no text, by the title of their column
}

func (d *sqliteFile) read(options reader.Options) (*table.Table, *reader.Report, error) {
	if err := d.c.Exec("pragma trusted_schema = off; pragma cell_size_check = on"); err != nil {
		return nil, nil, damaged("SQLite file", err)
	}
	names, err := d.texts("select name from pragma_table_list where schema = 'main' and type = 'table' and name not like 'sqlite\\_%' " +
		"escape '\\' order by rowid limit " + strconv.Itoa(maxSQLiteTables+1))
	switch {
	case err != nil:
		return nil, nil, damaged("SQLite file", err)
	case len(names) == 0:
		return nil, nil, &reader.Error{Problem: "the SQLite file has no table", Advice: "choose another file; views are not read"}
	case len(names) > maxSQLiteTables:
		return nil, nil, &reader.Error{Problem: fmt.Sprintf("the file has more than %d tables", maxSQLiteTables), Advice: "export fewer of them"}
	}
	slices.Sort(names)
	chosen := options.Sheet
	if chosen == "" {
		if chosen, err = d.firstWithRows(names); err != nil {
			return nil, nil, damaged("SQLite file", err)
		}
	} else if !slices.Contains(names, chosen) {
		return nil, nil, noTable(chosen, names)
	}
	if d.report.Sheet = chosen; len(names) > 1 {
		d.report.Sheets = names
	}
	titles, err := d.columns(chosen)
	if err != nil {
		return nil, nil, err
	}
	t, report, err := reader.ReadRecords(d.ctx, titles, d.rows(chosen, titles), d.report, options)
	if err != nil {
		return nil, nil, err
	}
	var kept []*table.Column
	for _, c := range t.Columns() {
		n := d.bytes[c.Name]
		if n > 0 && c.MissingCount() == c.Len() && len(t.Columns()) > 1 {
			report.Note(0, c.Name, "the column holds bytes, and no text, and was left out")
			continue
		}
		if n > 0 {
			report.Note(0, c.Name, "values that are bytes, and no text, count as missing: %d", n)
		}
		kept = append(kept, c)
	}
	t, err = table.New(kept...)
	return t, report, err
}

// texts are the texts of the first column of an answer.
func (d *sqliteFile) texts(asked string) (list []string, err error) {
	s, _, err := d.c.Prepare(asked)
	if err != nil {
		return nil, err
	}
	defer func() { _ = s.Close() }()
	for s.Step() {
		list = append(list, strings.ToValidUTF8(s.ColumnText(0), "\uFFFD"))
	}
	return list, s.Err()
}

// firstWithRows is the first table that holds something, or the first.
func (d *sqliteFile) firstWithRows(names []string) (string, error) {
	for _, name := range names {
		found, err := d.texts("select 1 from " + sqlite3.QuoteIdentifier(name) + " limit 1")
		if err != nil {
			return "", err
		}
		if len(found) > 0 {
			return name, nil
		}
	}
	return names[0], nil
}

// columns are the columns of a table that hold values: those that are worked out are said to be left out.
func (d *sqliteFile) columns(name string) (titles []string, err error) {
	s, _, err := d.c.Prepare("select name, hidden from pragma_table_xinfo(" + sqlite3.Quote(name) + ") where hidden <> 1")
	if err != nil {
		return nil, damaged("SQLite file", err)
	}
	defer func() { _ = s.Close() }()
	const workedOut = 2
	for s.Step() {
		title := s.ColumnText(0)
		if s.ColumnInt(1) == workedOut {
			d.report.Note(0, strings.ToValidUTF8(title, "\uFFFD"), "the column is worked out from others, and was left out")
			continue
		}
		titles = append(titles, title)
	}
	if err := s.Err(); err != nil {
		return nil, damaged("SQLite file", err)
	}
	return titles, nil
}

// rows are the rows of a table, as texts.
func (d *sqliteFile) rows(name string, titles []string) iter.Seq2[[]string, error] {
	d.bytes = map[string]int{}
	quoted := make([]string, len(titles))
	for i, title := range titles {
		quoted[i] = sqlite3.QuoteIdentifier(title)
	}
	return func(yield func([]string, error) bool) {
		s, _, err := d.c.Prepare("select " + strings.Join(quoted, ", ") + " from " + sqlite3.QuoteIdentifier(name))
		if err != nil {
			yield(nil, damaged("SQLite file", err))
			return
		}
		defer func() { _ = s.Close() }()
		row := make([]string, len(titles))
		for s.Step() {
			for i := range row {
				row[i] = d.value(s, i, titles[i])
			}
			if !yield(row, nil) {
				return
			}
		}
		if err := s.Err(); err != nil {
			yield(nil, damaged("SQLite file", err))
		}
	}
}

func (d *sqliteFile) value(s *sqlite3.Stmt, at int, title string) string {
	switch s.ColumnType(at) {
	case sqlite3.INTEGER:
		return strconv.FormatInt(s.ColumnInt64(at), 10)
	case sqlite3.FLOAT:
		if v := s.ColumnFloat(at); !math.IsInf(v, 0) {
			return table.FormatNumber(v)
		}
	case sqlite3.TEXT:
		return strings.ToValidUTF8(s.ColumnText(at), "\uFFFD")
	case sqlite3.BLOB:
		d.bytes[title]++
	}
	return ""
}
