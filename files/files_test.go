package files

import (
	"archive/zip"
	"bytes"
	"compress/gzip"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"os"
	"path/filepath"
	"reflect"
	"slices"
	"strings"
	"testing"

	"github.com/hamba/avro/v2/ocf"

	"copperlark/core/reader"
	"copperlark/core/table"
)

const samples = "../testdata/files"

func sample(t testing.TB, name string) []byte {
	t.Helper()
	raw, err := os.ReadFile(filepath.Join(samples, name))
	if err != nil {
		t.Fatal(err)
	}
	return raw
}

// shown writes a table a line a column: name|kind|unit|values.
func shown(t *table.Table) string {
	var lines []string
	for _, c := range t.Columns() {
		values := make([]string, min(c.Len(), 6))
		for i := range values {
			values[i] = c.Value(i)
		}
		lines = append(lines, fmt.Sprintf("%s|%s|%s|%s", c.Name, c.Kind, c.Unit, strings.Join(values, "~")))
	}
	return strings.Join(lines, "\n")
}

const hiveRows = "hive|category||A~B~~A~B\nkg|number||1.5~~3~4~-0.25\nframes|number||10~12~14~16~1000000\n"

func TestFilesOfOtherSoftwareAreRead(t *testing.T) {
	for _, test := range []struct {
		file, sheet, want string
		titleRow          int
		notes             []string
	}{
		{file: "openpyxl.xlsx", titleRow: 4,
			want: "hive|category||A-01~A-02~A-03~A-04\nchecked on|date||2031-03-01 00:00:00~2031-03-02 14:30:00~~2031-03-04 00:00:00\nweight (kg)|number|kg|31.25~28.12345678901234~~17\nfed|yes / no||true~false~true~false\nremarks|category||strong~two lines\nof text~~\"quoted\", with comma\nshare|number||0.07~0.5~0.333~1"},
		{file: "openpyxl.xlsx", sheet: "Prices", titleRow: 1, want: "season|number||2030~2031\nprice|number||4.5~5"},
		{file: "odfpy.ods", titleRow: 4, // a hidden sheet stands before it
			want: "hive|category||A-01~A-02  b~A-03~A-03~A-04\nchecked on|date||2031-03-01 00:00:00~2031-03-02 14:30:00~~~2031-03-04 00:00:00\n" +
				"weight (kg)|number|kg|31.25~28.12345678901234~17~17~\nshare|number||0.25~0.3~17~17~\nfed|yes / no||true~false~~~\n" +
				"took|duration||12:30:00~36:00:05~~~",
			notes: []string{"0: values such as 12:30:00 were read as durations", "9: cell C9 holds the error #DIV/0! and was read as missing"}},
		{file: "odfpy.ods", sheet: "Prices", titleRow: 1, want: "season|number||2030~2031\nprice|number||4.5~5\nmarket|category||Brindle~Brindle",
			notes: []string{"2: the cells C2 to C3 were one: its value holds for each of its rows"}},
		{file: "xlsxwriter.xlsx", titleRow: 1,
			want: "lot|category||007~008~009\nsold on|date||2031-09-01~2031-09-02~1904-01-02\nat|category||12:00:00~18:00:00~00:00:00\nprice|number||12.5~-3.25~1234567.125\ndouble|number||25~-6.5~2469134.25\nratio|category||~~",
			notes: []string{"0: these are codes", "2: cell F2 holds the error #DIV/0! and was read as missing", "3: cell F3 holds",
				"4: cell F4 holds"}},
		{file: "exceljs.xlsx", titleRow: 1,
			want: "day|date||2031-05-01~2031-05-02~2031-05-03\nscale|category||S1~S2~S1\ngain kg|number||0.4~-0.1~0.3\nnote|category||rich text~a link~plain"},
		{file: "apache-arrow-js.arrow",
			want: hiveRows +
				"fed|yes / no||yes~no~~yes~no\nday|date||2031-01-01~~2031-01-03~2031-01-04~1969-12-31\nat|date||2001-09-09 01:46:40~2033-05-18 03:33:20~~1970-01-01 00:00:00~2017-07-14 02:40:00\nremark|category||<b>~~=1+1~~naïve"},
		{file: "apache-arrow-js.arrows",
			want: hiveRows +
				"fed|yes / no||yes~no~~yes~no\nday|date||2031-01-01~~2031-01-03~2031-01-04~1969-12-31\nat|date||2001-09-09 01:46:40~2033-05-18 03:33:20~~1970-01-01 00:00:00~2017-07-14 02:40:00\nremark|category||<b>~~=1+1~~naïve"},
		{file: "hyparquet-writer.parquet",
			want: hiveRows +
				"big|category||1~9007199254740993~3~4~5\nfed|yes / no||yes~no~~yes~no\nat|date||2001-09-09 01:46:40~2033-05-18 03:33:20~~1970-01-01 00:00:00~2017-07-14 02:40:00",
			notes: []string{"0: some whole numbers have more digits than a number keeps"}},
		{file: "readstat.xpt",
			want: "hive|category||A-01~A-02~A-03~A-04\nkg|number||31.25~~-0.125~1234567.125\nframes|number||10~12~14~16\n" +
				"queen|number||1~2~1~3\nchecked|number||25992~25993~~25995\nremark|category||strong~naïve, with comma~~<b>"},
		{file: "readstat.dta",
			want: "hive|category||A-01~A-02~A-03~A-04\nkg|number||31.25~~-0.125~1234567.125\nframes|number||10~12~14~16\n" +
				"queen|category||one year~two years~one year~three years\n" +
				"checked|number||25992~25993~~25995\nremark|category||strong~naïve, with comma~~<b>",
			notes: []string{"0: the names of the values were read in place of the numbers: 1 is one year, 2 is two years, 3 is"}},
		{file: "readstat.sav",
			want: "hive_of_the_apiary|category||A-01~A-02~A-03~A-04\ncode|category||Tarn~Brimble~Tarn~Brimble\n" +
				"kg|number||31.25~~-0.125~1234567.125\n" +
				"score|category||good~bad~~none\nstory|category||" + strings.Repeat("zz ", 150) + "end~short~~x",
			notes: []string{"0: the names of the texts", "0: codes for missing values were read as missing: 99 refused (1)", "0: the names of"}},
		{file: "readstat.zsav",
			want: "hive_of_the_apiary|category||A-01~A-02~A-03~A-04\ncode|category||Tarn~Brimble~Tarn~Brimble\n" +
				"kg|number||31.25~~-0.125~1234567.125\n" +
				"score|category||good~bad~~none\nstory|category||" + strings.Repeat("zz ", 150) + "end~short~~x",
			notes: []string{"0: the names of the texts", "0: codes for missing values were read as missing: 99 refused (1)", "0: the names of"}},
		{file: "wellio.las", titleRow: 1,
			want: "DEPT|number|M|100~100.25~100.5~100.75~101~101.25\nGR|number|API|89.628~90.322~89.781~91.101~92.404~95.603\nNPHI|number|V/V|0.396~0.392~0.389~0.389~0.396~0.403\nDPHI|number|V/V|0.332~0.338~0.333~0.326~0.314~0.292\nILD|number|OHMM|14.499~13.976~13.729~13.502~13.269~13.29"},
	} {
		raw := sample(t, test.file)
		for _, packed := range []bool{false, true} {
			name := test.file
			if packed {
				raw, name = zipped(raw), name+".gz"
			}
			got, report, err := Read(context.Background(), name, raw, reader.Options{Sheet: test.sheet})
			if err != nil {
				t.Errorf("%s: %v", name, err)
				continue
			}
			if have := shown(got); have != test.want || report.TitleRow != test.titleRow {
				t.Errorf("%s, title row %d: got\n%s\nwant\n%s", name, report.TitleRow, have, test.want)
			}
			if report.NoteCount != len(test.notes) {
				t.Errorf("%s: notes %+v", name, report.Notes)
				continue
			}
			for i, want := range test.notes {
				if have := fmt.Sprintf("%d: %s", report.Notes[i].Line, report.Notes[i].Message); !strings.HasPrefix(have, want) {
					t.Errorf("%s: note %q, want %q", name, have, want)
				}
			}
		}
	}
}

func zipped(raw []byte) []byte {
	var out bytes.Buffer
	w := gzip.NewWriter(&out)
	_, _ = w.Write(raw)
	_ = w.Close()
	return out.Bytes()
}

// The records that csv-spectrum says its files hold, value by value as text.
func TestTheTortureFilesOfDelimitedText(t *testing.T) {
	files, _ := filepath.Glob(samples + "/csv-spectrum/*.csv")
	if len(files) != 12 {
		t.Fatalf("%d files", len(files))
	}
	for _, file := range files {
		name := strings.TrimSuffix(filepath.Base(file), ".csv")
		var want []map[string]string
		records := bytes.TrimSpace(sample(t, "csv-spectrum/json/"+name+".json"))
		if records[0] == '{' { // one record stands without its list
			records = slices.Concat([]byte("["), records, []byte("]"))
		}
		if err := json.Unmarshal(records, &want); err != nil {
			t.Fatal(err)
		}
		got, _, err := Read(context.Background(), file, sample(t, "csv-spectrum/"+name+".csv"), reader.Options{})
		if err != nil {
			t.Errorf("%s: %v", name, err)
			continue
		}
		have := make([]map[string]string, got.Rows())
		for row := range have {
			have[row] = map[string]string{}
			for _, c := range got.Columns() {
				have[row][c.Name] = c.Value(row)
			}
		}
		if !reflect.DeepEqual(have, want) {
			t.Errorf("%s: got %q, want %q", name, have, want)
		}
	}
}

func TestLogsWithTheirHeader(t *testing.T) {
	const log = "# a comment\n~Version\nVERS. 2.0 : v\nWRAP. YES : wrapped\n~Well\nNULL. -9999 : null\nWELL. Brindle no. 3 : WELL\nFLD . Low Fen : FIELD\n~Curve\nDEPT.M : Depth\nT .degC 1 2 : Temperature: inside\nON. : pump on\n~Other\nanything . at all\n~A\n1800\n20.5 1\n1801\n-9999.0 0\n1802 21 1\n"
	got, report, err := Read(context.Background(), "hive.las", []byte(log), reader.Options{})
	if err != nil {
		t.Fatal(err)
	}
	if have := shown(got); have != "DEPT|number|M|1800~1801~1802\nT|number|degC|20.5~~21\nON|number||1~0~1" {
		t.Errorf("got\n%s", have)
	}
	if got.Column("T").Meaning != "inside" || report.About != "well Brindle no. 3; field Low Fen" {
		t.Errorf("meaning %q, about %q", got.Column("T").Meaning, report.About)
	}
}

// workbookOf makes an archive with parts of a workbook.
func workbookOf(t testing.TB, parts map[string]string) []byte {
	t.Helper()
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for name, content := range parts {
		part, err := w.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		_, _ = part.Write([]byte(content))
	}
	_ = w.Close()
	return out.Bytes()
}

// plainBook are the parts of a workbook with one sheet.
func plainBook(sheet string, more map[string]string) map[string]string {
	parts := map[string]string{
		"xl/workbook.xml":            `<workbook xmlns:r="r"><sheets><sheet name="S" sheetId="1" r:id="a"/></sheets></workbook>`,
		"xl/_rels/workbook.xml.rels": `<Relationships><Relationship Id="a" Type="x/worksheet" Target="/xl/worksheets/s.xml"/></Relationships>`,
		"xl/worksheets/s.xml":        sheet,
	}
	for name, content := range more {
		parts[name] = content
	}
	return parts
}

func TestHostileFilesAreRefusedInWords(t *testing.T) {
	row := `<row><c t="inlineStr"><is><t>a</t></is></c></row><row><c><v>1</v></c></row>`
	wide := `<row><c r="XFD1"><v>1</v></c><c r="A1"><v>2</v></c></row>`
	shared := strings.Repeat(`<c t="s"><v>0</v></c>`, 400)
	deep := strings.Repeat(`{"a":`, 40) + "1" + strings.Repeat("}", 40)
	for _, test := range []struct {
		what, name string
		raw        []byte
		want       string
	}{
		{"macros", "a.xlsx", workbookOf(t, plainBook(row, map[string]string{"xl/vbaProject.bin": "x"})), "holds macros"},
		{"external links", "a.xlsx", workbookOf(t, plainBook(row, map[string]string{"xl/externalLinks/externalLink1.xml": "x"})),
			"values from other files"},
		{"zip bomb", "a.xlsx", workbookOf(t, plainBook(strings.Repeat(" ", 3<<20)+row, nil)), "larger than 1 MB"},
		{"one text a million times", "a.xlsx", workbookOf(t, plainBook("<row>"+shared+"</row><row>"+shared+"</row>",
			map[string]string{"xl/sharedStrings.xml": "<si><t>" + strings.Repeat("x", 5000) + "</t></si>"})), "larger than 1 MB"},
		{"absurd width", "a.xlsx", workbookOf(t, plainBook(wide, nil)), "the sheet has 16384 columns; the limit is 50"},
		{"no sheet", "a.xlsx", workbookOf(t, map[string]string{"xl/workbook.xml": "<workbook/>"}), "no sheets"},
		{"broken XML", "a.xlsx", workbookOf(t, plainBook("<row><c><v>1", nil)), "middle of a cell"},
		{"another archive", "a.zip", workbookOf(t, map[string]string{"a.csv": "a,b\n1,2\n", "b.csv": "a\n1\n"}), "the zip file holds 2 files"},
		{"cut archive", "a.xlsx", workbookOf(t, plainBook(row, nil))[:100], "damaged"},
		{"an old workbook", "a.xls", []byte("\xd0\xcf\x11\xe0rest"), "old binary format"},
		{"a text called a workbook", "a.xlsx", []byte("a,b\n1,2\n"), "ends in .xlsx, and the file is a text"},
		{"a workbook called a text", "a.csv", workbookOf(t, plainBook(row, nil)), "ends in .csv, and the file is a workbook"},
		{"a page called a text", "a.csv", []byte("<!DOCTYPE html><title>Sign in</title>"), "is a page of the web"},
		{"a picture", "a", []byte("\x89PNG\r\n"), "this is a picture"},
		{"gzip bomb", "a.csv.gz", zipped(bytes.Repeat([]byte("1,2\n"), 1<<20)), "larger than 1 MB"},
		{"cut gzip", "a.csv.gz", zipped([]byte("a,b\n1,2\n"))[:20], "gzip file is damaged"},
		{"cut Parquet", "a.parquet", sample(t, "hyparquet-writer.parquet")[:400], "damaged"},
		{"cut Arrow", "a.arrow", sample(t, "apache-arrow-js.arrow")[:900], "damaged"},
		{"deep JSON", "a.json", []byte("[" + deep + "]"), "nest deeper than 8"},
		{"a wide text", "a.csv", []byte(strings.Repeat("x,", 60) + "\n" + strings.Repeat("1,", 60)), "has 60 columns; the limit is 50"},
		{"a log of version 3", "a.las", []byte("~V\nVERS. 3.0 :\n~C\nA.B :\n~A\n1\n"), "version 2.0 can be read"},
		{"a log without numbers", "a.las", []byte("~V\nVERS. 2.0 :\n~C\nA.B :\n"), "no section ~A"},
		{"a log without a null", "a.las", []byte("~V\nVERS. 2.0 :\n~W\nNULL. none :\n~C\nA.B :\n~A\n1\n"), `null value "none" is not a number`},
	} {
		got, _, err := Read(context.Background(), test.name, test.raw, reader.Options{MaxBytes: 1 << 20, MaxColumns: 50})
		var refused *reader.Error
		if got != nil || !errors.As(err, &refused) || !strings.Contains(refused.Error(), test.want) || refused.Advice == "" {
			t.Errorf("%s: %v, want %s", test.what, err, test.want)
		}
	}
}

// What a file of ours holds is what was put in, by our reader.
func TestTablesComeBackAsTheyWere(t *testing.T) {
	nan := math.NaN()
	data, err := table.New(
		&table.Column{
			Name:    "kg",
			Label:   "Honey",
			Unit:    "kg",
			Meaning: "weighed",
			Kind:    table.Number,
			Numbers: []float64{1.5, nan, -0.1, 1e300},
		},
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: []float64{0, nan, -86400, 86400 * 20000}},
		&table.Column{Name: "at", Kind: table.Date, Grain: table.Second, Numbers: []float64{0, nan, -1, 1.5}},
		&table.Column{Name: "took", Kind: table.Duration, Numbers: []float64{5400, nan, -2.5, 0}},
		&table.Column{Name: "fed", Kind: table.YesNo, Codes: []int32{1, -1, 0, 1}, Levels: []string{"no", "yes"}},
		&table.Column{Name: "size", Kind: table.Ordered, Codes: []int32{2, -1, 0, 1}, Levels: []string{"small", "middling", "large"}},
		&table.Column{Name: "district", Kind: table.Category, Codes: []int32{0, -1, 1, 0}, Levels: []string{"<b>", "Tarn"}},
	)
	if err != nil {
		t.Fatal(err)
	}
	type writer = func(context.Context, io.Writer, *table.Table) error
	told := Told{Drawn: "4 of 9 rows", Notes: []string{"blob: left out", strings.Repeat("long", 500)}}
	tells := func(ctx context.Context, w io.Writer, t *table.Table) error { return WriteParquetOf(ctx, w, t, told) }
	for name, write := range map[string]writer{"a.parquet": WriteParquet, "told.parquet": tells, "a.arrows": WriteArrow} {
		var out bytes.Buffer
		if err := write(context.Background(), &out, data); err != nil {
			t.Fatal(err)
		}
		back, report, err := Read(context.Background(), name, out.Bytes(), reader.Options{})
		if err != nil {
			t.Fatal(err)
		}
		if name == "told.parquet" != (report.Drawn == told.Drawn && len(report.Notes) == 1 && report.Notes[0].Message == told.Notes[0]) {
			t.Errorf("%s tells %q and %v", name, report.Drawn, report.Notes)
		}
		for i, c := range back.Columns() {
			if want := data.Columns()[i]; !equal(c, want) {
				t.Errorf("%s came back as %+v, was %+v", name, c, want)
			}
		}
	}
}

func equal(a, b *table.Column) bool {
	if a.Name != b.Name || a.Label != b.Label || a.Unit != b.Unit || a.Meaning != b.Meaning || a.Kind != b.Kind || a.Grain != b.Grain {
		return false
	}
	for i := range b.Len() {
		if a.Value(i) != b.Value(i) || a.Missing(i) != b.Missing(i) {
			return false
		}
	}
	return reflect.DeepEqual(a.Levels, b.Levels)
}

// Every byte of a file is damaged in turn: the reader answers with a table or with
// words, and takes no more memory than the limit lets it.
func TestDamagedFilesAreAnsweredInWords(t *testing.T) {
	for name, least := range map[string]int{"apache-arrow-js.arrow": 4, "apache-arrow-js.arrows": 4,
		"hyparquet-writer.parquet": 4, "odfpy.ods": 4, "readstat.xpt": 40, "readstat.dta": 40, "readstat.sav": 20} {
		whole := sample(t, name)
		refused := 0
		for at := range whole {
			for _, damage := range []byte{0x00, 0xff, whole[at] ^ 0x10} {
				raw := slices.Clone(whole)
				raw[at] = damage
				got, _, err := Read(context.Background(), "", raw, reader.Options{MaxBytes: 1 << 16, MaxColumns: 100})
				var known *reader.Error
				if err != nil && (!errors.As(err, &known) || known.Advice == "") {
					t.Fatalf("%s with byte %d made %x: %v", name, at, damage, err)
				}
				if err != nil {
					refused++
				} else if got.Rows() > 1<<16 {
					t.Fatalf("%s with byte %d made %x has %d rows", name, at, damage, got.Rows())
				}
			}
		}
		if refused < len(whole)/least {
			t.Errorf("%s: of %d damaged files only %d were refused", name, 3*len(whole), refused)
		}
	}
}

// FuzzRead holds for every format: no panic, no table beyond the limits, and an
// error that says what to do.
func FuzzRead(f *testing.F) {
	for _, name := range []string{"openpyxl.xlsx", "odfpy.ods", "xlsxwriter.xlsx", "exceljs.xlsx",
		"apache-arrow-js.arrow", "apache-arrow-js.arrows",
		"hyparquet-writer.parquet", "readstat.xpt", "readstat.dta", "readstat.sav", "readstat.zsav", "wellio.las", "csv-spectrum/utf8.csv"} {
		f.Add(sample(f, name))
	}
	f.Add([]byte(`<table:table-row table:number-rows-repeated="3"><table:table-cell table:number-rows-spanned="2"
		table:number-columns-repeated="2"><text:p>a<text:s text:c="3"/></text:p></table:table-cell></table:table-row>`))
	f.Add(avroFileOf(f, avroHives, ocf.Deflate, hives()...))
	f.Add(sqliteOf(f, sqliteHives))
	f.Add(zipped([]byte("[{\"a\":1}]")))
	// Archives are packed: their inside is reached through parts of a workbook.
	f.Add(workbookOf(f, plainBook(`<row r="3"><c r="B3" t="s"><v>0</v></c></row><row r="5"><c r="B5" s="1"><v>1</v></c></row>`,
		map[string]string{"xl/sharedStrings.xml": "<si><t>_x000D_a</t></si>", "xl/styles.xml": `<cellXfs><xf/><xf numFmtId="14"/></cellXfs>`})))
	f.Fuzz(func(t *testing.T, raw []byte) {
		limits := reader.Options{MaxBytes: 1 << 16, MaxColumns: 100}
		check(t, raw, limits)
		check(t, workbookOf(t, map[string]string{"content.xml": documentOf(string(raw))}), limits)
		check(t, workbookOf(t, plainBook(string(raw), map[string]string{"xl/sharedStrings.xml": string(raw), "xl/styles.xml": string(raw)})),
			limits)
	})
}

func check(t *testing.T, raw []byte, limits reader.Options) {
	got, _, err := Read(context.Background(), "", raw, limits)
	if err != nil {
		var refused *reader.Error
		if !errors.As(err, &refused) || refused.Advice == "" {
			t.Fatalf("an error without advice: %v", err)
		}
		return
	}
	if len(got.Columns()) > limits.MaxColumns || int64(got.Rows()) > 4*limits.MaxBytes {
		t.Fatalf("%d columns, %d rows", len(got.Columns()), got.Rows())
	}
}
