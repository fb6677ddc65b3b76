package reader

import (
	"archive/zip"
	"bytes"
	"context"
	"errors"
	"fmt"
	"strings"
	"testing"
)

func TestDayNumbersOfSpreadsheets(t *testing.T) {
	for _, test := range []struct {
		serial float64
		from04 bool
		style  dateStyle
		want   string
	}{
		{1, false, dateAndTime, "1900-01-01"},
		{59, false, dateAndTime, "1900-02-28"},
		{60, false, dateAndTime, "1900-02-28"}, // the day that never was
		{61, false, dateAndTime, "1900-03-01"},
		{25_569, false, dateAndTime, "1970-01-01"},
		{47_908, false, dateAndTime, "2031-03-01"},
		{47_908.75, false, dateAndTime, "2031-03-01 18:00:00"},
		{47_909.60416666666, false, dateAndTime, "2031-03-02 14:30:00"}, // what a half hour becomes in binary
		{0, true, dateAndTime, "1904-01-01"},
		{46_446, true, dateAndTime, "2031-03-01"},
		{0.5, false, timeAlone, "12:00:00"},
		{1.5, false, timeAlone, "1900-01-01 12:00:00"},
		{-1, false, dateAndTime, "-1"},
		{1e300, false, dateAndTime, "1e+300"},
	} {
		if got := serialDate(test.serial, test.from04, test.style); got != test.want {
			t.Errorf("day %v (from 1904: %v) is %s, want %s", test.serial, test.from04, got, test.want)
		}
	}
}

func TestNumberFormatsThatShowDates(t *testing.T) {
	for code, want := range map[string]dateStyle{
		"General": noDate, "0.00": noDate, "#,##0;[Red]-#,##0": noDate, "0.00E+00": noDate, `0 "days"`: noDate, `\d0`: noDate, "[h]:mm": noDate,
		"[ss]": noDate, "0_d": noDate, "[": noDate,
		"yyyy-mm-dd": dateAndTime, "d. mmm yyyy": dateAndTime, "mmm": dateAndTime, `[$-409]d\-mmm\-yy;@`: dateAndTime,
		"dd/mm/yyyy hh:mm": dateAndTime, "[Blue]yyyy": dateAndTime,
		"hh:mm:ss": timeAlone, "h:mm AM/PM": timeAlone, "mm:ss.0": timeAlone,
	} {
		if got := dateFormat(code); got != want {
			t.Errorf("%q is a format of sort %d, want %d", code, got, want)
		}
	}
}

func TestReferencesOfCells(t *testing.T) {
	for reference, want := range map[string]int{"A1": 0, "Z9": 25, "AA1": 26, "bc12": 54, "XFD1048576": 16_383} {
		if got, ok := columnOf(reference); !ok || got != want || want > 25 &&
			columnLetters(want) != strings.ToUpper(strings.TrimRight(reference, "0123456789")) {
			t.Errorf("%s is column %d, %v, want %d", reference, got, ok, want)
		}
	}
	for _, reference := range []string{"", "12", "A", "Ä1"} {
		if _, ok := columnOf(reference); ok {
			t.Errorf("%q is taken for a reference", reference)
		}
	}
	if column, _ := columnOf(strings.Repeat("Z", 40) + "1"); column < maxSheetColumns {
		t.Errorf("an endless reference is column %d", column)
	}
}

// book makes a workbook of one sheet with its rows, and styles: 1 is a date.
func book(t *testing.T, rows, shared string) []byte {
	t.Helper()
	var out bytes.Buffer
	w := zip.NewWriter(&out)
	for name, content := range map[string]string{
		"xl/workbook.xml":            `<x:workbook xmlns:x="m" xmlns:r="r"><x:sheets><x:sheet name="hidden one" r:id="h" state="veryHidden"/><x:sheet name="chart" r:id="c"/><x:sheet name="S" r:id="s"/></x:sheets></x:workbook>`,
		"xl/_rels/workbook.xml.rels": `<Relationships><Relationship Id="h" Type="o/worksheet" Target="worksheets/h.xml"/><Relationship Id="c" Type="o/chartsheet" Target="c.xml"/><Relationship Id="s" Type="o/worksheet" Target="worksheets/s.xml"/></Relationships>`,
		"xl/worksheets/h.xml":        `<worksheet><sheetData><row><c t="inlineStr"><is><t>secret</t></is></c></row><row><c><v>1</v></c></row></sheetData></worksheet>`,
		"xl/worksheets/s.xml":        "<worksheet><sheetData>" + rows + "</sheetData></worksheet>",
		"xl/sharedStrings.xml":       "<sst>" + shared + "</sst>",
		"xl/styles.xml":              `<styleSheet><numFmts><numFmt numFmtId="170" formatCode="d.m.yyyy"/></numFmts><cellStyleXfs><xf numFmtId="14"/></cellStyleXfs><cellXfs><xf numFmtId="0"/><xf numFmtId="170"/></cellXfs></styleSheet>`,
	} {
		part, err := w.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		_, _ = part.Write([]byte(content))
	}
	_ = w.Close()
	return out.Bytes()
}

// text is a cell with a text.
func text(reference, content string) string {
	return fmt.Sprintf(`<c r="%s" t="inlineStr"><is><t xml:space="preserve">%s</t></is></c>`, reference, content)
}

func TestSheetsAsPeopleWriteThem(t *testing.T) {
	for _, test := range []struct {
		name, rows, shared string
		options            Options
		want               string
		titleRow, notes    int
	}{
		{name: "shared, rich and spoken texts",
			rows:   `<row r="1"><c r="A1" t="s"><v>0</v></c><c r="B1" t="s"><v>1</v></c></row><row r="2"><c r="A2" t="s"><v>2</v></c><c r="B2"><v>1.5</v></c></row><row r="3"><c r="A3" t="s"><v>99</v></c><c r="B3"><v>2E-3</v></c></row>`,
			shared: "<si><t>name</t></si><si><r><t>k</t></r><r><rPr/><t>g</t></r></si><si><t>東</t><rPh><t>ひがし</t></rPh></si>",
			want:   "name|category||東~\nkg|number||1.5~0.002", titleRow: 1},
		{name: "no references at all", rows: "<row>" + text("", "a") + text("", "b") + `</row><row><c><v>1</v></c><c><v>2</v></c></row>`,
			want: "a|number||1\nb|number||2", titleRow: 1},
		{name: "headings above, blank rows between, a remark below", rows: `<row r="2">` + text("C2", "Checks") + `</row><row r="4">` +
			text("C4", "hive") + text("D4", "kg") + text("E4", "on") + `</row><row r="5">` + text("C5", "A") +
			`<c r="D5"><v>3</v></c><c r="E5" s="1"><v>47908</v></c></row><row r="6"/><row r="8">` + text("C8", "B") +
			`<c r="D8"><v>4</v></c><c r="E8" s="1"/></row>`,
			want: "hive|category||A~B\nkg|number||3~4\non|date||2031-03-01~", titleRow: 4},
		{name: "a title row that was chosen", rows: "<row>" + text("A1", "x") + text("B1", "y") + "</row><row>" + text("A2", "a") +
			text("B2", "b") + "</row><row><c><v>1</v></c><c><v>2</v></c></row>", options: Options{TitleRow: 2}, want: "a|number||1\nb|number||2",
			titleRow: 2},
		{name: "no title row", rows: `<row><c><v>1</v></c><c><v>20</v></c></row><row><c><v>3</v></c><c><v>40</v></c></row>`,
			options: Options{TitleRow: -1}, want: "column_1|number||1~3\ncolumn_2|number||20~40", titleRow: -1},
		{name: "columns that were chosen", rows: "<row>" + text("A1", "a") + text("B1", "b") + "</row><row><c><v>1</v></c><c><v>2</v></c></row>",
			options: Options{Keep: []string{"b"}}, want: "b|number||2", titleRow: 1},
		{name: "yes and no, errors, formulas and escapes", rows: "<row>" + text("A1", "ok") + text("B1", "f") + text("C1", "e") +
			`</row><row><c t="b"><v>1</v></c><c t="str"><f>"a"</f><v>a_x000D_b</v></c><c t="e"><v>#N/A</v></c></row><row><c t="b"><v>0</v></c><c t="str"><v>_x0041_</v></c><c t="e"><v>#REF!</v></c></row>`,
			want: "ok|yes / no||true~false\nf|category||ab~A\ne|category||~", titleRow: 1, notes: 1},
		{name: "texts with line breaks, and a misfit below them", rows: "<row>" + text("A1", "t") + text("B1", "n") + "</row>" +
			strings.Repeat("<row>"+text("", "two\nlines")+`<c><v>7</v></c></row>`, 150) + "<row>" + text("", "x") + text("", "broken") + "</row>",
			options: Options{Keep: []string{"n"}},
			want:    "n|number||" + strings.Repeat("7~", 150), titleRow: 1, notes: 1},
		{name: "the hidden sheet, when it is asked for", options: Options{Sheet: "hidden one"}, want: "secret|number||1", titleRow: 1},
	} {
		got, report, err := ReadWorkbook(context.Background(), book(t, test.rows, test.shared), test.options)
		if err != nil {
			t.Errorf("%s: %v", test.name, err)
			continue
		}
		if have := cells(got); have != test.want || report.TitleRow != test.titleRow || report.NoteCount != test.notes {
			t.Errorf("%s: title row %d, notes %+v, got\n%s\nwant\n%s", test.name, report.TitleRow, report.Notes, have, test.want)
		}
		if test.name == "texts with line breaks, and a misfit below them" && report.Notes[0].Line != 152 {
			t.Errorf("%s: the misfit stands in row %d", test.name, report.Notes[0].Line)
		}
		if strings.Join(report.Sheets, "|") != "hidden one|S" {
			t.Errorf("%s: sheets %q", test.name, report.Sheets)
		}
	}
}

func TestSheetsThatHoldNothing(t *testing.T) {
	for name, test := range map[string]struct {
		options Options
		want    string
	}{"all shown ones are empty": {Options{}, "no sheet of the workbook holds anything"},
		"the chosen one": {Options{Sheet: "S"}, "the sheet holds nothing"}, "one that is not there": {Options{Sheet: "T"}, `has no sheet "T"`}} {
		_, _, err := ReadWorkbook(context.Background(), book(t, `<row><c s="1"/></row>`, ""), test.options)
		var refused *Error
		if !errors.As(err, &refused) || !strings.Contains(refused.Problem, test.want) || refused.Advice == "" {
			t.Errorf("%s: %v", name, err)
		}
	}
	stopped, stop := context.WithCancel(context.Background())
	stop()
	if _, _, err := ReadWorkbook(stopped, book(t, "<row>"+text("A1", "a")+"</row>", ""), Options{}); !errors.Is(err, context.Canceled) {
		t.Errorf("stopped: %v", err)
	}
}

func TestLinesOfLogHeaders(t *testing.T) {
	for line, want := range map[string]lasLine{
		"DEPT.M   1670.0 : Depth":                        {"DEPT", "M", "1670.0", "Depth"},
		" GR  .API      00 310 00 00  : GR - GAMMA: RAY": {"GR", "API", "00 310 00 00  : GR - GAMMA", "RAY"},
		"NULL. -999.2500:NULL Value":                     {"NULL", "", "-999.2500", "NULL Value"},
		"X.:":                                            {"X", "", "", ""},
		"UNITLESS .   7":                                 {"UNITLESS", "", "7", ""},
	} {
		if got, ok := lasLineOf(line); !ok || got != want {
			t.Errorf("%q is read as %+v, want %+v", line, got, want)
		}
	}
	for _, line := range []string{"no point here", ".M 1 : nameless"} {
		if got, ok := lasLineOf(line); ok {
			t.Errorf("%q is read as %+v", line, got)
		}
	}
}
