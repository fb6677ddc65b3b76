package reader

import (
	"bytes"
	"context"
	"encoding/csv"
	"fmt"
	"math"
	"reflect"
	"strings"
	"testing"
	"unicode/utf16"

	"copperlark/core/table"
)

func read(t *testing.T, text string, options Options) (*table.Table, *Report) {
	t.Helper()
	got, report, err := Read(context.Background(), strings.NewReader(text), options)
	if err != nil {
		t.Fatalf("Read: %v", err)
	}
	return got, report
}

// cells writes a table the way the tests below state it: a line a column.
func cells(t *table.Table) string {
	var lines []string
	for _, c := range t.Columns() {
		values := make([]string, c.Len())
		for i := range values {
			values[i] = c.Value(i)
		}
		lines = append(lines, fmt.Sprintf("%s|%s|%s|%s", c.Name, c.Kind, c.Unit, strings.Join(values, "~")))
	}
	return strings.Join(lines, "\n")
}

func TestOddities(t *testing.T) {
	for _, test := range []struct{ name, text, want string }{
		{"plain", "a,b\n1,x\n2,y\n1,x\n", "a|number||1~2~1\nb|category||x~y~x"},
		{"CRLF and no last line end", "a,b\r\n1,x\r\n2,x", "a|number||1~2\nb|category||x~x"},
		{"CR alone", "a,b\r1,x\r2,x\r", "a|number||1~2\nb|category||x~x"},
		{"quotes, separators and line breaks inside", "a,b\n1,\"x, \"\"y\"\"\nz\"\n2,q\n", "a|number||1~2\nb|category||x, \"y\"\nz~q"},
		{"semicolons and decimal commas", "a;b\n1,5;1.234,5\n0,25;12\n", "a|number||1.5~0.25\nb|number||1234.5~12"},
		{"thousands commas", "a;b\n1,234.5;2\n1,234,567;3\n", "a|number||1234.5~1234567\nb|number||2~3"},
		{"tabs", "a\tb\n1\t2\n", "a|number||1\nb|number||2"},
		{"missing in all its forms", "a,b\n1,NA\n–,x\nn/a,x\n-,\nNULL,x\n3,x\n", "a|number||1~~~~~3\nb|category||~x~x~~x~x"},
		{"ragged", "a,b,c\n1,2\n3,4,5,6\n7,8,9\n", "a|number||1~3~7\nb|number||2~4~8\nc|number||~5~9"},
		{"repeated and empty names", "a,,a,A\n1,2,3,4\n", "a|number||1\ncolumn_2|number||2\na_2|number||3\nA_3|number||4"},
		{"money and percent", "p,q\n£1.50,25 %\n£2,30%\n-£3,5%\n", "p|number|£|1.5~2~-3\nq|number|%|25~30~5"},
		{"true minus and accountants' brackets", "a,b\n−4,(5)\n2,1\n", "a|number||-4~2\nb|number||-5~1"},
		{"unit in the name", "honey (kg),x\n3,1\n4,2\n", "honey (kg)|number|kg|3~4\nx|number||1~2"},
		{"ISO dates and times", "d,e\n2029-03-01,2029-03-01T10:30\n2029-12-31,2029-03-01 10:30:15\n",
			"d|date||2029-03-01~2029-12-31\ne|date||2029-03-01 10:30:00~2029-03-01 10:30:15"},
		{"day first", "d,e\n01/03/2029,1\n31/03/2029,5\n", "d|date||2029-03-01~2029-03-31\ne|number||1~5"},
		{"month first", "d,e\n01/03/2029,1\n01/31/2029,5\n", "d|date||2029-01-03~2029-01-31\ne|number||1~5"},
		{"named months", "d,e\n3 Mar 2029,1\nApril 12 2029,4\n", "d|date||2029-03-03~2029-04-12\ne|number||1~4"},
		{"no such day", "d,e\n2029-02-30,1\n2029-02-01,4\n", "d|category||2029-02-30~2029-02-01\ne|number||1~4"},
		{"nought and one", "f,g\n0,yes\n1,no\n1,\n", "f|yes / no||no~yes~yes\ng|yes / no||yes~no~"},
		{"a few years", "y,v\n2029,1.5\n2027,2.5\n2029,\n", "y|number||2029~2027~2029\nv|number||1.5~2.5~"},
		{"an order that all know", "s,t\nhigh,1\nlow,2\nmedium,3\nlow,4\n", "s|ordered||high~low~medium~low\nt|number||1~2~3~4"},
		{"no title row", "1,2\n3,4\n", "column_1|number||1~3\ncolumn_2|number||2~4"},
		{"title lines above the table", "Hive weights 2029,,\nname,kg,n\nx,1,2\ny,2,3\n", "name|category||x~y\nkg|number||1~2\nn|number||2~3"},
		{"nothing but missing", "a,b\n,1\nNA,2\n", "a|category||~\nb|number||1~2"},
		{"formula-like and markup cells stay text", "a,b\n=1+1,<b>\n@x,<b>\n", "a|category||=1+1~@x\nb|category||<b>~<b>"},
		{"blank lines", "a,b\n\n1,2\n   \n3,4\n\n", "a|number||1~3\nb|number||2~4"},
	} {
		t.Run(test.name, func(t *testing.T) {
			options := Options{}
			if strings.HasPrefix(test.name, "title lines") {
				options.TitleRow = 2
			}
			got, _ := read(t, test.text, options)
			if have := cells(got); have != test.want {
				t.Errorf("got\n%s\nwant\n%s", have, test.want)
			}
		})
	}
}

func TestJSON(t *testing.T) {
	const want = "hive|category||A~B~A\nkg|number||12.5~~3\nok|yes / no||true~false~\nweather.rain|number||~0.5~"
	for name, text := range map[string]string{
		"an array": `[{"hive":"A","kg":12.5,"ok":true},{"hive":"B","kg":null,"ok":false,"weather":{"rain":0.5}}, {"hive":"A","kg":3}]`,
		"lines":    "{\"hive\":\"A\",\"kg\":12.5,\"ok\":true}\n{\"hive\":\"B\",\"ok\":false,\"weather\":{\"rain\":0.5}}\n\n{\"kg\":3,\"hive\":\"A\"}\n",
	} {
		got, report := read(t, text, Options{})
		if have := cells(got); have != want || report.Encoding != "JSON" {
			t.Errorf("%s: got\n%s", name, have)
		}
	}
	for text, problem := range map[string]string{
		`[{"a":1},{"a":`:            "ends in the middle",
		`[{"a":1}, 5]`:              "expected a record",
		"{\"a\":1}\n{\"a\" 2}":      "line 2: this is not readable JSON",
		"[]":                        "no records",
		strings.Repeat(`{"a":`, 20): "nest deeper",
	} {
		_, _, err := Read(context.Background(), strings.NewReader(text), Options{})
		if err == nil || !strings.Contains(err.Error(), problem) {
			t.Errorf("%s: %v", text, err)
		}
	}
}

// FuzzJSON holds that no JSON makes the reader panic or grow beyond reason.
func FuzzJSON(f *testing.F) {
	for _, seed := range []string{`[{"a":1}]`, `{"a":{"b":null}}`, `[{"":""},{}]`, `{"a":1}{"b":2}`} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		got, _, err := Read(context.Background(), strings.NewReader(text), Options{MaxBytes: 1 << 16, MaxColumns: 50})
		if err == nil && got.Rows() == 0 {
			t.Fatal("a table without rows")
		}
	})
}

func TestEncodings(t *testing.T) {
	const text = "name,kg\nÉlan Bryn,1\nMôr,2\n"
	want := "name|category||Élan Bryn~Môr\nkg|number||1~2"
	units := utf16.Encode([]rune(text))
	little, big := []byte{0xFF, 0xFE}, []byte{}
	for _, u := range units {
		little = append(little, byte(u), byte(u>>8))
		big = append(big, byte(u>>8), byte(u))
	}
	latin := []byte{}
	for _, r := range text {
		latin = append(latin, byte(r))
	}
	for name, raw := range map[string][]byte{
		"UTF-8 with mark": append([]byte{0xEF, 0xBB, 0xBF}, text...), "UTF-16 with mark": little,
		"UTF-16 big-endian without mark": big, "Latin-1": latin,
	} {
		got, _, err := Read(context.Background(), bytes.NewReader(raw), Options{})
		if err != nil {
			t.Errorf("%s: %v", name, err)
		} else if have := cells(got); have != want {
			t.Errorf("%s: got\n%s", name, have)
		}
	}
}

func TestRefusals(t *testing.T) {
	for _, test := range []struct{ name, text, want string }{
		{"empty", " \n ", "the file is empty"},
		{"titles only", "a,b\n", "no rows of values"},
		{"open quote", "a,b\n1,2\n3,\"4\n5,6\n", "line 3: a double quote is opened and never closed"},
		{"binary", "PK\x03\x04\x00\x00\x00\x01\x02\x00\x00\x05\x00", "zero bytes"},
	} {
		_, _, err := Read(context.Background(), strings.NewReader(test.text), Options{})
		if err == nil || !strings.Contains(err.Error(), test.want) {
			t.Errorf("%s: got %v, want %q", test.name, err, test.want)
		}
	}
	_, _, err := Read(context.Background(), strings.NewReader(strings.Repeat("a,b\n", 1000)), Options{MaxBytes: 100})
	if err == nil || !strings.Contains(err.Error(), "limit") {
		t.Errorf("over the limit: got %v", err)
	}
	stopped, stop := context.WithCancel(context.Background())
	stop()
	if _, _, err := Read(stopped, strings.NewReader("a\n1\n"), Options{}); err != context.Canceled {
		t.Errorf("stopped: got %v", err)
	}
}

func TestMisfitsAreReportedByLineAndColumn(t *testing.T) {
	var text strings.Builder
	text.WriteString("id,kg\n")
	for i := range 300 {
		value := fmt.Sprint(i)
		if i == 41 {
			value = "broken scale"
		}
		fmt.Fprintf(&text, "%d,%s\n", i, value)
	}
	got, report := read(t, text.String(), Options{})
	if c := got.Column("kg"); c.Kind != table.Number || !math.IsNaN(c.Numbers[41]) || c.MissingCount() != 1 {
		t.Errorf("kg is %s with %d missing", c.Kind, c.MissingCount())
	}
	if len(report.Notes) != 1 || report.Notes[0].Line != 43 || report.Notes[0].Column != "kg" {
		t.Errorf("notes: %+v", report.Notes)
	}
}

// A text that is cut into stretches reads as in one: kinds, values, notes and all,
// also where a cut falls inside quotes, into blank lines, or where a column turns out
// otherwise than its first rows promise.
func TestTextsReadInStretchesAsInOne(t *testing.T) {
	late := func(i int, early, later string) string {
		if i < 1200 {
			return early
		}
		return later
	}
	var rows strings.Builder
	rows.WriteString("n,\"dist\nrict\",moment,text,flag,late text,late date,code,unclear\n")
	for i := range 3000 {
		kg := fmt.Sprint(i)
		if i%200 == 7 {
			kg = "broken"
		}
		fmt.Fprintf(&rows, "%s,%s,2029-01-%02d %02d:%02d,\"x, %d\n\"\"y\"\"\",%d,%s,%s,%s,%s\n", kg, []string{"Tarn", "Brindle", ""}[i%3],
			1+i%28, i%24, i%60, i%7, i%2,
			late(i, fmt.Sprint(i%9), "many"), late(i, "", fmt.Sprintf("2029-02-%02d", 1+i%28)), late(i, fmt.Sprint(100+i%50), "007"),
			late(i, "01/02/2029", fmt.Sprintf("%02d/02/2029", 1+i%28)))
		if i%500 == 0 {
			rows.WriteString("\n\n")
		}
		if i%700 == 0 {
			rows.WriteString("1,2\n")
		}
	}
	for name, text := range map[string]string{"LF": rows.String(), "CRLF": strings.ReplaceAll(rows.String(), "\n", "\r\n"),
		"no end": strings.TrimSuffix(rows.String(), "\n")} {
		whole, report := read(t, text, Options{TitleRow: 1, Separator: ','})
		if len(text) > parallelBytes {
			whole, report = read(t, text, Options{TitleRow: 1, Separator: ',', stretch: len(text) + 1})
		}
		for _, bytes := range []int{50, 1001, 20_000} {
			parts, partly := read(t, text, Options{TitleRow: 1, Separator: ',', stretch: bytes})
			if cells(parts) != cells(whole) {
				t.Errorf("%s in stretches of %d: other values", name, bytes)
			}
			if !reflect.DeepEqual(partly, report) {
				t.Errorf("%s in stretches of %d: %+v, in one %+v", name, bytes, partly, report)
			}
		}
		kinds := ""
		for _, c := range whole.Columns() {
			kinds += string(c.Kind) + " "
		}
		if kinds != "number category date category yes / no category date category date " || report.NoteCount != 12 {
			t.Errorf("%s: %s, %d notes", name, kinds, report.NoteCount)
		}
	}
}

// FuzzRead holds that no input makes the reader panic, and that whatever it
// accepts has columns of one length. Where encoding/csv also reads the text as
// a plain table, both see equally many rows.
func FuzzRead(f *testing.F) {
	for _, seed := range []string{"a,b\n1,2\n", "a;b\n\"1;2\";3\n", "\xff\xfea\x00", "a\n\"\n", "a,b\n1,\"x\ny\"\n", "d\n2029-01-01\n"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, text string) {
		got, report, err := Read(context.Background(), strings.NewReader(text), Options{Separator: ',', TitleRow: 1, MaxBytes: 1 << 16})
		if err != nil {
			return
		}
		for _, c := range got.Columns() {
			if c.Len() != got.Rows() {
				t.Fatalf("column %q has %d of %d rows", c.Name, c.Len(), got.Rows())
			}
		}
		if report.Encoding != "UTF-8" || strings.ContainsAny(text, "\r\x00\v\f\ufeff") || strings.Contains(text, "\u00a0") ||
			strings.Contains(text, "\u0085") {
			return
		}
		other := csv.NewReader(strings.NewReader(text))
		other.FieldsPerRecord = -1
		records, err := other.ReadAll()
		if err != nil {
			return
		}
		rows := 0
		for _, record := range records {
			if len(record) > 1 || strings.TrimSpace(record[0]) != "" {
				rows++
			}
		}
		if rows > 1 && got.Rows() != rows-1 {
			t.Fatalf("%d rows, encoding/csv sees %d", got.Rows(), rows-1)
		}
	})
}
