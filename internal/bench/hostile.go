package main

import (
	"archive/zip"
	"bytes"
	"compress/gzip"
	"context"
	"fmt"
	"io"
	"os"
	"strings"
	"time"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/prepare"
	"copperlark/core/reader"
	"copperlark/core/render"
	"copperlark/core/table"
	"copperlark/core/text"
	"copperlark/files"
)

// mostHostile is the memory that an ask of a few kilobytes, or of a table of ten rows, may take.
const mostHostile = 300

// benchHostile measures what little asks can make the program do: time and memory, whether they are answered or
// refused.
func benchHostile(r *report) {
	measure := func(what string, do func() error) {
		begun := time.Now()
		var err error
		peak := peakMemory(func() { err = do() })
		took, end := time.Since(begun), "answered"
		if err != nil {
			end = "refused"
		}
		r.lines = append(
			r.lines,
			fmt.Sprintf("| %s (%s): %d MB of memory | %s |  | %d MB |", what, end, peak>>20, milliseconds(took), mostHostile),
		)
		fmt.Fprintln(os.Stderr, r.lines[len(r.lines)-1])
	}
	read := func(name string, raw []byte) func() error {
		return func() error {
			_, _, err := files.Read(ctx, name, raw, reader.Options{})
			return err
		}
	}
	once := packed(strings.Repeat("1,2,3\n", 100<<20))
	twice := packed(string(once))
	measure(fmt.Sprintf("%.1f KB of gzip in gzip, 600 MB in all", float64(len(twice))/1000), read("a.csv.gz", twice))
	measure("19.5 MB of commas in one line", read("a.csv", bytes.Repeat([]byte(","), 19_500_000)))
	measure("19.5 MB of commas under two titles", read("a.csv", append([]byte("a,b\n"), bytes.Repeat([]byte(",\n"), 9_750_000)...)))
	measure("a workbook of 120 million cells, nearly all blank", read("a.xlsx", blankWorkbook(120_000, "ALL")))
	measure("64 MB of commas and digits in 0.2 MB of gzip", read("a.csv.gz", packed("a,b\n"+strings.Repeat("1,1\n", 16<<20))))

	ten := tenRows()
	draw := func(typed *chart.Document, form string, o render.Options) func() error {
		return func() error {
			o.Metrics = text.Hanken()
			_, err := render.Chart(ctx, mark.Bind(typed, ten), render.FormatNamed(form), o, io.Discard)
			return err
		}
	}
	plotted := &chart.Document{Version: chart.Version, X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"},
		Colouring: chart.Colouring{Colour: "g"}}
	measure("a PNG of 8000 by 8000 at 2 pixels a pixel", draw(plotted, "png", render.Options{Width: 8000, Height: 8000, Scale: 2}))
	measure("an SVG of 10 names of 10,000 letters", draw(plotted, "svg", render.Options{}))
	measure("`add rows` eight times, of a table of 1,000,000 rows, to one of 10", func() error {
		values := make([]float64, rows)
		large, err := table.New(table.NewNumbers("x", values), table.NewNumbers("y", values))
		check(err)
		limit := prepare.Environment{Dataset: func(context.Context, string, int) (*table.Table, error) { return large, nil }}
		_, err = prepare.Run(ctx, ten, prepare.Parse(strings.Repeat("add rows of large\n", 8)), limit)
		return err
	})
}

func packed(content string) []byte {
	var out bytes.Buffer
	w := gzip.NewWriter(&out)
	_, err := io.WriteString(w, content)
	check(err)
	check(w.Close())
	return out.Bytes()
}

func tenRows() *table.Table {
	x, y, g := make([]float64, 10), make([]float64, 10), make([]string, 10)
	for i := range x {
		x[i], y[i], g[i] = float64(i), float64(i*i%7), strings.Repeat("Imkerei", 1428)+fmt.Sprintf("%04d", i)
	}
	t, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("g", g))
	check(err)
	return t
}

// blankWorkbook is a workbook of which each row holds its first cell and one far to the right.
func blankWorkbook(rows int, last string) []byte {
	var sheet strings.Builder
	for i := 1; i <= rows; i++ {
		fmt.Fprintf(&sheet, `<row r="%d"><c r="A%d"><v>1</v></c><c r="%s%d"><v>3</v></c></row>`, i, i, last, i)
	}
	var out bytes.Buffer
	archive := zip.NewWriter(&out)
	for name, content := range map[string]string{
		"[Content_Types].xml":        `<Types/>`,
		"xl/workbook.xml":            `<workbook xmlns:r="r"><sheets><sheet name="S" sheetId="1" r:id="rId1"/></sheets></workbook>`,
		"xl/_rels/workbook.xml.rels": `<Relationships><Relationship Id="rId1" Type="x/worksheet" Target="worksheets/sheet1.xml"/></Relationships>`,
		"xl/worksheets/sheet1.xml":   `<worksheet><sheetData>` + sheet.String() + `</sheetData></worksheet>`,
	} {
		w, err := archive.Create(name)
		check(err)
		_, err = io.WriteString(w, content)
		check(err)
	}
	check(archive.Close())
	return out.Bytes()
}
