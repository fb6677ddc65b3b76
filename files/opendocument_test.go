package files

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"

	"copperlark/core/reader"
)

// documentOf is the part of an OpenDocument spreadsheet that holds the rows of its one sheet.
func documentOf(rows string) string {
	return `<office:document-content><office:body><office:spreadsheet><table:table table:name="S">` + rows +
		`</table:table></office:spreadsheet></office:body></office:document-content>`
}

// TestCellsOfOpenDocuments are read as what they hold, whatever is shown of them.
func TestCellsOfOpenDocuments(t *testing.T) {
	for cell, want := range map[string]string{
		`office:value-type="float" office:value="1.50"><text:p>2</text:p>`:                                        "1.50",
		`office:value-type="string"><text:p>a</text:p><text:p>b<text:tab/>c</text:p>`:                             "a\nb\tc",
		`office:value-type="string" office:string-value="whole"><text:p>cut</text:p>`:                             "whole",
		`office:value-type="string"><office:annotation><text:p>no</text:p></office:annotation><text:p>x</text:p>`: "x",
		`office:value-type="string"><table:table><table:table-row><table:table-cell><text:p>in</text:p>` +
			`</table:table-cell></table:table-row></table:table><text:p>x</text:p>`: "x",
		`office:value-type="date" office:date-value="2031-03-02T14:30:00.000000000"><text:p>2 March</text:p>`: "2031-03-02 14:30:00",
		`office:value-type="time" office:time-value="PT01H02M03.4S"><text:p>1</text:p>`:                       "01:02:03",
		`office:value-type="time" office:time-value="soon"><text:p>1</text:p>`:                                "soon",
		`><text:p>plain</text:p>`: "plain",
		`table:formula="of:=A1" office:value-type="string"><text:p>Err:502</text:p>`:  "",
		`calcext:value-type="error" office:value-type="string"><text:p>#N/A</text:p>`: "",
		`office:value-type="string"><text:p>#1</text:p>`:                              "#1",
	} {
		rows := `<table:table-row><table:table-cell><text:p>k</text:p></table:table-cell>` +
			`<table:table-cell><text:p>v</text:p></table:table-cell></table:table-row><table:table-row><table:table-cell><text:p>1</text:p></table:table-cell><table:table-cell ` + cell +
			`</table:table-cell></table:table-row>`
		got, _, err := Read(context.Background(), "a.ods", workbookOf(t, map[string]string{"content.xml": documentOf(rows)}),
			reader.Options{As: map[string]string{"v": "text"}})
		if err != nil {
			t.Errorf("%s: %v", cell, err)
		} else if v := got.Column("v"); v == nil && want != "" || v != nil && v.Value(0) != want {
			t.Errorf("%s is read as %v, want %q", cell, shown(got), want)
		}
	}
}

func TestHostileOpenDocumentsAreRefusedInWords(t *testing.T) {
	const cell = `<table:table-cell office:value-type="float" office:value="1"><text:p>1</text:p></table:table-cell>`
	many := func(what string, n int, inside string) string {
		return fmt.Sprintf(`<table:table-row table:number-rows-repeated="%d"><table:table-cell table:number-%s-repeated="%d" `, n, what, n) +
			`office:value-type="float" office:value="1">` + inside + `</table:table-cell></table:table-row>`
	}
	for name, test := range map[string]struct {
		parts map[string]string
		want  string
	}{
		"a million rows of a word": {map[string]string{"content.xml": documentOf(many("rows", 1_000_000, ""))}, "larger than 1 MB"},
		"rows beyond the end":      {map[string]string{"content.xml": documentOf(many("rows", 2_000_000_000, ""))}, "more rows than"},
		"a thousand columns":       {map[string]string{"content.xml": documentOf(many("columns", 1_000, ""))}, "larger than 1 MB"},
		"columns beyond the end":   {map[string]string{"content.xml": documentOf(many("columns", 99_999, ""))}, "more columns than"},
		"ten thousand sheets": {map[string]string{"content.xml": documentOf(strings.Repeat(
			`</table:table><table:table table:name="S"><table:table-row>`+cell+`</table:table-row>`, 10_000))}, "larger than 1 MB"},
		"spaces": {map[string]string{"content.xml": documentOf("<table:table-row><table:table-cell><text:p>" +
			strings.Repeat(`<text:s text:c="99999"/>`, 2_000) + "</text:p></table:table-cell></table:table-row>")}, "larger than 1 MB"},
		"a cut cell":  {map[string]string{"content.xml": documentOf("<table:table-row><table:table-cell><text:p>1")}, "middle of a cell"},
		"a cut sheet": {map[string]string{"content.xml": strings.Split(documentOf("<table:table-row>"+cell), "</table:table>")[0]}, "damaged"},
		"a letter": {map[string]string{"content.xml": "<office:text><table:table><table:table-row>" + cell +
			"</table:table-row></table:table></office:text>"}, "no sheets"},
		"no sheet":     {map[string]string{"content.xml": "x"}, "no sheets"},
		"an empty one": {map[string]string{"content.xml": documentOf("")}, "no sheet of the workbook holds anything"},
		"a password":   {map[string]string{"content.xml": "\x00", "META-INF/manifest.xml": "<manifest:encryption-data/>"}, "has a password"},
		"macros":       {map[string]string{"content.xml": documentOf(""), "Basic/Standard/script-lb.xml": "x"}, "holds macros"},
	} {
		got, _, err := Read(context.Background(), "a.ods", workbookOf(t, test.parts), reader.Options{MaxBytes: 1 << 20, MaxColumns: 50})
		var refused *reader.Error
		if got != nil || !errors.As(err, &refused) || !strings.Contains(refused.Error(), test.want) || refused.Advice == "" {
			t.Errorf("%s: %v, want %s", name, err, test.want)
		}
	}
}
