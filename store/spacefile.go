package store

import (
	"archive/zip"
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"slices"
	"time"

	"github.com/jackc/pgx/v5"
	"github.com/klauspost/compress/zstd"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/prepare"
	"copperlark/core/reader"
	"copperlark/core/table"
)

// A whole space as one file is a ZIP archive: space.json says what it is, datasets.json the datasets with their versions,
// columns and meanings, charts.json the charts with their trails, pages.json the pages as they stand, again.json what is kept to be
// used again (patterns, looks, comparisons), and columns/VERSION/POSITION.data and .levels hold the columns as they are stored (see
// packedColumn). People, what they wrote to each other in notes, shared copies, drafts and the audit stay where they are: they are of
// that server.
const (
	spaceFormat  = "copper-lark-space"
	spaceVersion = 1
)

type fileSpace struct {
	Format  string      `json:"format"`
	Version int         `json:"version"`
	Name    string      `json:"name"`
	MadeAt  time.Time   `json:"made_at"`
	Style   chart.Style `json:"style"`
}

type fileDataset struct {
	ID        int64         `json:"id"`
	Name      string        `json:"name"`
	About     string        `json:"about"`
	Origin    string        `json:"origin"`
	OneRow    string        `json:"one_row"`
	CreatedAt time.Time     `json:"created_at"`
	Meanings  []app.Meaning `json:"meanings"`
	Versions  []fileVersion `json:"versions"` // the oldest first
}

type fileVersion struct {
	ID           int64            `json:"id"`
	Number       int              `json:"number"`
	Rows         int              `json:"rows"`
	FileName     string           `json:"file_name"`
	Report       *reader.Report   `json:"report"`
	Reading      reader.Options   `json:"reading"`
	PreparedFrom int64            `json:"prepared_from,omitempty"`
	Preparation  []prepare.Clause `json:"preparation,omitempty"`
	CreatedAt    time.Time        `json:"created_at"`
	Columns      []fileColumn     `json:"columns"`
}

type fileColumn struct {
	Name     string `json:"name"`
	Label    string `json:"label"`
	Unit     string `json:"unit"`
	Meaning  string `json:"meaning"`
	Kind     string `json:"kind"`
	Grain    string `json:"grain"`
	Encoding string `json:"encoding"`
	Decimals int    `json:"decimals"`
}

type fileChart struct {
	ID        int64      `json:"id"`
	Name      string     `json:"name"`
	Named     bool       `json:"named"`
	VersionID int64      `json:"version_id"`
	CreatedAt time.Time  `json:"created_at"`
	ChangedAt time.Time  `json:"changed_at"`
	Head      int64      `json:"head"`
	Steps     []fileStep `json:"steps"` // the oldest first
}

type fileStep struct {
	ID        int64           `json:"id"`
	Parent    int64           `json:"parent,omitempty"`
	Document  *chart.Document `json:"document"`
	Words     string          `json:"words"`
	Name      string          `json:"name,omitempty"`
	Pinned    bool            `json:"pinned,omitempty"`
	TakenOut  *time.Time      `json:"taken_out_at,omitempty"`
	CreatedAt time.Time       `json:"created_at"`
}

// WriteSpace writes a whole space, as it is at one moment, one column in memory at a time.
func (s *Store) WriteSpace(ctx context.Context, spaceID int64, into io.Writer) error {
	out := zip.NewWriter(into)
	err := pgx.BeginTxFunc(ctx, s.pool.Pool, pgx.TxOptions{IsoLevel: pgx.RepeatableRead, AccessMode: pgx.ReadOnly}, func(tx pgx.Tx) error {
		space := fileSpace{Format: spaceFormat, Version: spaceVersion}
		if err := tx.QueryRow(ctx, `select name, now(), style from spaces where id = $1`, spaceID).Scan(&space.Name, &space.MadeAt,
			&space.Style); err != nil {
			return found(err)
		}
		datasets, err := fileDatasets(ctx, tx, spaceID)
		if err != nil {
			return err
		}
		charts, err := fileCharts(ctx, tx, spaceID)
		if err != nil {
			return err
		}
		pages, err := filePages(ctx, tx, spaceID)
		if err != nil {
			return err
		}
		again, err := fileAgainOf(ctx, tx, spaceID)
		if err != nil {
			return err
		}
		for name, value := range map[string]any{"space.json": space, "datasets.json": datasets, "charts.json": charts, "pages.json": pages,
			"again.json": again} {
			file, err := out.Create(name)
			if err != nil {
				return err
			}
			if err := json.NewEncoder(file).Encode(value); err != nil {
				return err
			}
		}
		for _, dataset := range datasets {
			for _, version := range dataset.Versions {
				if err := writeColumns(ctx, tx, out, version); err != nil {
					return err
				}
			}
		}
		return nil
	})
	if err != nil {
		return translated(err)
	}
	return out.Close()
}

func gathered[T any](
	ctx context.Context,
	tx pgx.Tx,
	scan func(pgx.CollectableRow) (T, error),
	query string,
	arguments ...any,
) ([]T, error) {
	rows, err := tx.Query(ctx, query, arguments...)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, scan)
}

func fileDatasets(ctx context.Context, tx pgx.Tx, spaceID int64) ([]fileDataset, error) {
	list, err := gathered(ctx, tx, func(row pgx.CollectableRow) (d fileDataset, err error) {
		return d, row.Scan(&d.ID, &d.Name, &d.About, &d.Origin, &d.OneRow, &d.CreatedAt)
	}, `select id, name, about, origin, one_row, created_at from datasets where space_id = $1 order by id`, spaceID)
	for i := range list {
		d := &list[i]
		if d.Meanings, err = gathered(ctx, tx, func(row pgx.CollectableRow) (m app.Meaning, err error) {
			return m, row.Scan(&m.Column, &m.Label, &m.Unit, &m.Meaning, &m.Form, &m.Codes, &m.Colours)
		}, `select name, label, unit, meaning, form, codes, colours from column_meanings where dataset_id = $1 order by name`, d.ID); err != nil {
			return nil, err
		}
		if d.Versions, err = gathered(ctx, tx, scanFileVersion, `select id, number, row_count, file_name, report, reading,
			coalesce(prepared_from, 0),
			coalesce(preparation, '[]'), created_at from dataset_versions where dataset_id = $1 order by id`, d.ID); err != nil {
			return nil, err
		}
		for j := range d.Versions {
			if d.Versions[j].Columns, err = gathered(ctx, tx, func(row pgx.CollectableRow) (c fileColumn, err error) {
				return c, row.Scan(&c.Name, &c.Label, &c.Unit, &c.Meaning, &c.Kind, &c.Grain, &c.Encoding, &c.Decimals)
			}, `select name, label, unit, meaning, kind, grain, encoding, decimals from dataset_columns where version_id = $1 order by position`,
				d.Versions[j].ID); err != nil {
				return nil, err
			}
		}
	}
	return list, err
}

func scanFileVersion(row pgx.CollectableRow) (v fileVersion, err error) {
	var report, reading, preparation []byte
	if err := row.Scan(&v.ID, &v.Number, &v.Rows, &v.FileName, &report, &reading, &v.PreparedFrom, &preparation, &v.CreatedAt); err != nil {
		return v, err
	}
	return v, errors.Join(
		json.Unmarshal(report, &v.Report),
		json.Unmarshal(reading, &v.Reading),
		json.Unmarshal(preparation, &v.Preparation),
	)
}

func fileCharts(ctx context.Context, tx pgx.Tx, spaceID int64) ([]fileChart, error) {
	list, err := gathered(ctx, tx, func(row pgx.CollectableRow) (c fileChart, err error) {
		return c, row.Scan(&c.ID, &c.Name, &c.Named, &c.VersionID, &c.CreatedAt, &c.ChangedAt, &c.Head)
	}, `select id, name, named, version_id, created_at, changed_at, coalesce(head_step_id, 0) from charts
		where space_id = $1 order by id`, spaceID)
	for i := range list {
		if list[i].Steps, err = gathered(ctx, tx, func(row pgx.CollectableRow) (t fileStep, err error) {
			var stored []byte
			if err := row.Scan(&t.ID, &t.Parent, &stored, &t.Words, &t.Name, &t.Pinned, &t.TakenOut, &t.CreatedAt); err != nil {
				return t, err
			}
			t.Document, err = chart.Read(stored)
			return t, err
		}, `select id, coalesce(parent_id, 0), document, words, name, pinned, taken_out_at, created_at from steps where chart_id = $1
			order by id`, list[i].ID); err != nil {
			return nil, err
		}
	}
	return list, err
}

func columnName(version int64, position int, part string) string {
	return fmt.Sprintf("columns/%d/%d.%s", version, position, part)
}

func writeColumns(ctx context.Context, tx pgx.Tx, out *zip.Writer, version fileVersion) error {
	for position := range version.Columns {
		var data, levels []byte
		if err := tx.QueryRow(ctx, `select data, levels from dataset_columns where version_id = $1
			order by position offset $2 limit 1`, version.ID,
			position).Scan(&data, &levels); err != nil {
			return err
		}
		for part, content := range map[string][]byte{"data": data, "levels": levels} {
			file, err := out.CreateHeader(&zip.FileHeader{Name: columnName(version.ID, position, part), Method: zip.Store}) // packed already
			if err != nil {
				return err
			}
			if _, err := file.Write(content); err != nil {
				return err
			}
		}
	}
	return nil
}

// Of a file that somebody brings: how large its lists may be, how many rows and columns a version may have, and how long texts
// are.
const (
	mostSpaceJSON    = 256 << 20
	mostFileRows     = 20_000_000
	mostFileColumns  = 2000
	mostFileVersions = 100_000
	mostFileText     = 10_000
)

func notASpace(format string, arguments ...any) error {
	return &app.Invalid{Message: "the file is no space that this program can read: " + fmt.Sprintf(format, arguments...),
		Advice: "bring a file that was taken out of Copper Lark under People, as it came"}
}

// ReadSpace makes a space of such a file, all of it or nothing, owned by whoever brings it. Nothing of the file is believed:
// every column is unpacked and packed anew, every chart read as a typed one is.
func (s *Store) ReadSpace(ctx context.Context, personID int64, file io.ReaderAt, size int64) (app.Place, error) {
	in, err := zip.NewReader(file, size)
	if err != nil {
		return app.Place{}, notASpace("%v", err)
	}
	var space fileSpace
	var datasets []fileDataset
	var charts []fileChart
	var pages []filePage
	var again fileAgain
	later := []string{"pages.json", "again.json"} // a file of an earlier program has none
	for name, into := range map[string]any{"space.json": &space, "datasets.json": &datasets, "charts.json": &charts, "pages.json": &pages,
		"again.json": &again} {
		if slices.Contains(later, name) && !holds(in, name) {
			continue
		}
		content, err := content(in, name, mostSpaceJSON)
		if err != nil {
			return app.Place{}, err
		}
		if err := json.Unmarshal(content, into); err != nil {
			return app.Place{}, notASpace("%s: %v", name, err)
		}
	}
	switch {
	case space.Format != spaceFormat:
		return app.Place{}, notASpace("it is something else")
	case space.Version > spaceVersion:
		return app.Place{}, notASpace("a newer program wrote it (%d; this one knows %d)", space.Version, spaceVersion)
	case space.Name == "" || len(space.Name) > 400:
		return app.Place{}, notASpace("it has no name")
	}
	place := app.Place{Name: space.Name, Role: app.Owner}
	err = s.pool.in(ctx, func(tx pgx.Tx) error {
		if place.ID, err = addSpace(ctx, tx, personID, space.Name); err != nil {
			return err
		}
		if _, err := tx.Exec(ctx, `update spaces set style = $2 where id = $1`, place.ID, space.Style); err != nil {
			return err
		}
		versions := map[int64]int64{} // as they are numbered in the file, and here
		for _, dataset := range datasets {
			if err := readDataset(ctx, tx, in, place.ID, personID, dataset, versions); err != nil {
				return err
			}
		}
		charted := map[int64]readTrail{}
		for _, c := range charts {
			if charted[c.ID], err = readChart(ctx, tx, place.ID, personID, c, versions); err != nil {
				return err
			}
		}
		for _, g := range pages {
			if err := readPage(ctx, tx, place.ID, personID, g, charted); err != nil {
				return err
			}
		}
		return readAgain(ctx, tx, place.ID, personID, again, charted, versions)
	})
	return place, err
}

// content reads a file of the archive, of at most so many bytes, however small it says it is.
func content(in *zip.Reader, name string, most int64) ([]byte, error) {
	file, err := in.Open(name)
	if err != nil {
		return nil, notASpace("%s is missing", name)
	}
	defer func() { _ = file.Close() }()
	read, err := io.ReadAll(io.LimitReader(file, most+1))
	if err != nil {
		return nil, notASpace("%s: %v", name, err)
	}
	if int64(len(read)) > most {
		return nil, notASpace("%s is larger than %d MB", name, most>>20)
	}
	return read, nil
}

func readDataset(ctx context.Context, tx pgx.Tx, in *zip.Reader, spaceID, personID int64, d fileDataset, versions map[int64]int64) error {
	if len(d.Versions) == 0 || len(d.Name)+len(d.About)+len(d.Origin)+len(d.OneRow) > 4*mostFileText {
		return notASpace("a dataset has no version, or too long a text")
	}
	var id int64
	if err := tx.QueryRow(ctx, `insert into datasets (space_id, name, about, origin, one_row, created_by, created_at)
		values ($1, $2, $3, $4, $5, $6, $7) returning id`,
		spaceID, d.Name, d.About, d.Origin, d.OneRow, personID, d.CreatedAt).Scan(&id); err != nil {
		return err
	}
	for _, m := range d.Meanings {
		if m.Codes == nil {
			m.Codes = map[string]string{}
		}
		if m.Colours == nil {
			m.Colours = map[string]string{}
		}
		if _, err := tx.Exec(ctx, `insert into column_meanings (dataset_id, name, label, unit, meaning, form, codes, colours)
			values ($1, $2, $3, $4, $5, $6, $7, $8)`, id, m.Column, m.Label, m.Unit, m.Meaning, m.Form, m.Codes, m.Colours); err != nil {
			return err
		}
	}
	for _, v := range d.Versions {
		if err := readVersion(ctx, tx, in, id, v, versions); err != nil {
			return err
		}
	}
	return nil
}

func readVersion(ctx context.Context, tx pgx.Tx, in *zip.Reader, datasetID int64, v fileVersion, versions map[int64]int64) error {
	from, known := versions[v.PreparedFrom]
	switch _, twice := versions[v.ID]; {
	case twice || len(versions) >= mostFileVersions || v.PreparedFrom != 0 && !known:
		return notASpace("the versions of a dataset do not follow each other")
	case v.Rows < 0 || v.Rows > mostFileRows || len(v.Columns) > mostFileColumns:
		return notASpace("a version has %d rows and %d columns", v.Rows, len(v.Columns))
	}
	t, err := readTable(ctx, in, v)
	if err != nil {
		return err
	}
	report, err1 := json.Marshal(v.Report)
	reading, err2 := json.Marshal(v.Reading)
	var preparation []byte
	var err3 error
	if from != 0 {
		preparation, err3 = json.Marshal(v.Preparation)
	}
	if err := errors.Join(err1, err2, err3); err != nil {
		return err
	}
	var id int64
	if err := tx.QueryRow(ctx, `insert into dataset_versions (dataset_id, number, row_count, file_name, report, reading,
		prepared_from, preparation, created_at) values ($1, $2, $3, $4, $5, $6, nullif($7::bigint, 0), $8, $9) returning id`,
		datasetID, v.Number, v.Rows, v.FileName, report, reading, from,
		preparation, v.CreatedAt).Scan(&id); err != nil {
		return err
	}
	versions[v.ID] = id
	return addColumns(ctx, tx, id, t)
}

// readTable unpacks the columns of a version, one after the other, and looks whether they are what they say.
func readTable(ctx context.Context, in *zip.Reader, v fileVersion) (*table.Table, error) {
	columns := make([]*table.Column, len(v.Columns))
	for i, c := range v.Columns {
		most := int64(v.Rows)*9 + 1<<16 // a number or a code, and what stands before them
		packed := packedColumn{
			name:     c.Name,
			label:    c.Label,
			unit:     c.Unit,
			meaning:  c.Meaning,
			kind:     c.Kind,
			grain:    c.Grain,
			encoding: c.Encoding,
			decimals: c.Decimals,
		}
		for _, part := range []struct {
			name string
			into *[]byte
			most int64
		}{{"data", &packed.data, most}, {"levels", &packed.levels, mostSpaceJSON}} {
			read, err := content(in, columnName(v.ID, i, part.name), part.most)
			if err == nil {
				*part.into, err = unpackedWithin(read, part.most)
			}
			if err != nil {
				return nil, err
			}
		}
		t, err := unpackColumns(ctx, []packedColumn{packed}, v.Rows)
		if err != nil {
			return nil, notASpace("%v", err)
		}
		columns[i] = t.Columns()[0]
		for _, code := range columns[i].Codes {
			if int(code) >= len(columns[i].Levels) || code < -1 {
				return nil, notASpace("the column %q names a group that it does not have", c.Name)
			}
		}
		if !slices.ContainsFunc(table.Kinds, func(k table.KindOf) bool { return k.Kind == columns[i].Kind }) || c.Decimals < 0 ||
			c.Decimals > mostDecimals ||
			len(c.Name)+len(c.Label)+len(c.Unit)+len(c.Meaning) > 4*mostFileText {
			return nil, notASpace("the column %q is of a kind that there is not, or says too much", c.Name)
		}
	}
	return table.New(columns...)
}

// unpackedWithin looks that what is packed unpacks to so much at most, and gives it as it is.
func unpackedWithin(packed []byte, most int64) ([]byte, error) {
	if len(packed) == 0 {
		return packed, nil
	}
	in, err := zstd.NewReader(bytes.NewReader(packed), zstd.WithDecoderConcurrency(1), zstd.WithDecoderMaxMemory(uint64(most)+1<<20))
	if err != nil {
		return nil, err
	}
	defer in.Close()
	if n, err := io.Copy(io.Discard, io.LimitReader(in, most+1)); err != nil || n > most {
		return nil, notASpace("a column unpacks to more than its rows (%v)", err)
	}
	return packed, nil
}

// readTrail is a chart that was read: its number here, and those of its steps by those of the file.
type readTrail struct {
	id    int64
	steps map[int64]int64
}

func readChart(ctx context.Context, tx pgx.Tx, spaceID, personID int64, c fileChart, versions map[int64]int64) (read readTrail, err error) {
	version, known := versions[c.VersionID]
	if !known || len(c.Steps) == 0 || len(c.Name) > mostFileText {
		return read, notASpace("a chart has no steps, or no table")
	}
	var id int64
	if err := tx.QueryRow(ctx, `insert into charts (space_id, version_id, name, named, created_by, created_at, changed_at)
		values ($1, $2, $3, $4, $5, $6, $7) returning id`,
		spaceID, version, c.Name, c.Named, personID, c.CreatedAt, c.ChangedAt).Scan(&id); err != nil {
		return read, err
	}
	steps := map[int64]int64{}
	for _, t := range c.Steps {
		parent, known := steps[t.Parent]
		if t.Document == nil || t.Parent != 0 && !known || len(t.Words) > mostFileText || len(t.Name) > mostFileText {
			return read, notASpace("the trail of a chart does not hold together")
		}
		stored, err := json.Marshal(t.Document)
		if err != nil {
			return read, err
		}
		var step int64
		if err := tx.QueryRow(ctx, `insert into steps (chart_id, parent_id, document, words, created_by, created_at, name, pinned, taken_out_at)
			values ($1, nullif($2::bigint, 0), $3, $4, $5, $6, $7, $8, $9) returning id`,
			id, parent, stored, t.Words, personID, t.CreatedAt, t.Name, t.Pinned, t.TakenOut).Scan(&step); err != nil {
			return read, err
		}
		steps[t.ID] = step
	}
	head, known := steps[c.Head]
	if !known {
		head = steps[c.Steps[len(c.Steps)-1].ID]
	}
	_, err = tx.Exec(ctx, `update charts set head_step_id = $2 where id = $1`, id, head)
	return readTrail{id, steps}, err
}
