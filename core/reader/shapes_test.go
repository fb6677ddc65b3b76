package reader

import (
	"context"
	"fmt"
	"strings"
	"testing"
)

// asText gives the columns of a table with their kinds and values, or why it is refused.
func asText(text string, options Options) string {
	got, _, err := Read(context.Background(), strings.NewReader(text), options)
	if err != nil {
		return "refused: " + err.Error()
	}
	return cells(got)
}

// TestShapesOfJSON holds every shape that a table in JSON may have, and what is said of those
// that are none.
func TestShapesOfJSON(t *testing.T) {
	hives := "hive|category||A~B\nkg|number||1.5~2"
	for text, want := range map[string]string{
		`[{"hive":"A","kg":1.5},{"hive":"B","kg":2}]`:                                                  hives,
		"{\"hive\":\"A\",\"kg\":1.5}\n{\"hive\":\"B\",\"kg\":2}\n":                                     hives,
		`{"data":[{"hive":"A","kg":1.5},{"hive":"B","kg":2}],"page":1,"of":["x"]}`:                     hives,
		`{"meta":{"rows":2},"results":{"ok":true},"rows":[["A",1.5],["B",2]],"columns":["hive","kg"]}`: hives,
		`[["hive","kg"],["A",1.5],["B",2]]`:                                                            hives,
		`{"hive":["A","B"],"kg":[1.5,2]}`:                                                              hives,
		`{"type":"FeatureCollection","features":[{"properties":{"hive":"A","kg":1.5}},{"properties":{"hive":"B","kg":2}},{"properties":null}]}`: "hive|category||A~B~\nkg|number||1.5~2~",
		`[[1,2.5],[3,4.5]]`:                         "column_1|number||1~3\ncolumn_2|number||2.5~4.5",
		`[{"a":{"b":1}},{"a":{"b":2}}]`:             "a.b|number||1~2",
		`{"hive":"A","kg":1.5}`:                     "hive|category||A\nkg|number||1.5",
		`[{"a":true,"b":null},{"a":false,"b":"x"}]`: "a|yes / no||true~false\nb|category||~x",
	} {
		if got := asText(text, Options{}); got != want {
			t.Errorf("%s\nis read as\n%s\nwant\n%s", text, got, want)
		}
	}
	for text, want := range map[string]string{
		`{"hive":["A","B"],"kg":[1.5]}`:       "kg has 1 values, and hive has 2",
		`{"hive":["A",{"x":1}],"kg":[1.5,2]}`: "a list or a record stands in a cell",
		`[["a"],[[1]]]`:                       "a list or a record stands in a cell",
		`[["a"],7]`:                           "a row is no list of values",
		`[{"a":[1,{"b":2}]}]`:                 "a list holds records and values",
		`[{"a":[{"b":1}],"c":[{"d":1}]}]`:     "a second list of records",
		`[{"a":1},`:                           "line 1",
		`{"data":[]}`:                         "no rows of values",
		`[]`:                                  "no records",
		`{"type":"FeatureCollection","features":[{"properties":7}]}`: "",
	} {
		if got := asText(text, Options{}); !strings.HasPrefix(got, "refused: ") && want != "" || !strings.Contains(got, want) {
			t.Errorf("%s: %s, want %q", text, got, want)
		}
	}
}

// TestTitlesAreToldFromValues holds which row of a few holds the titles.
func TestTitlesAreToldFromValues(t *testing.T) {
	for text, want := range map[string]int{
		"a,b\n1,2\n3,4\n":                                     1,
		"1,2\n3,4\n5,6\n":                                     -1,
		"hive,2028,2029\nA,3,4\nB,5,6\n":                      1,
		"2028,2029\n3.5,4.5\n5.5,6.5\n":                       1,
		"2028,2029\n2030,2031\n2032,2033\n":                   -1,
		"id,1,2,3\nx,10,20,30\ny,11,21,31\n":                  1,
		"A,1\nB,2\nC,3\n":                                     -1,
		"report of the year\nhive,kg\nA,1\nB,2\n":             2,
		"report,,\nof the year,,\nhive,kg,on\nA,1,2\nB,2,3\n": 3,
		"hive,hive\nA,B\nC,D\n":                               1,
		"name,remark\nOdo,calm\nWen,lively\nOdo,calm\n":       1,
		"yes\nno\nyes\nno\n":                                  -1,
		"on,kg\n2029-01-01,1\n2029-01-02,2\n":                 1,
		"2029-01-01,1\n2029-01-02,2\n2029-01-03,4\n":          -1,
		"kg\n1\n2\n":                                          1,
		"x,y,z\nA,,1\nB,,2\n":                                 1,
	} {
		_, report, err := Read(context.Background(), strings.NewReader(text), Options{})
		if err != nil {
			t.Errorf("%q: %v", text, err)
			continue
		}
		if report.TitleRow != want {
			t.Errorf("%q: titles in row %d, want %d", text, report.TitleRow, want)
		}
	}
}

// TestColumnsAreReadAsWanted holds what a person says of columns and of dates, and that each
// note that offers another way offers the one that then is read.
func TestColumnsAreReadAsWanted(t *testing.T) {
	text := "n,kg,on,ppm\n1,12,3/4/2029,< 0.1\n2,x,5/6/2029,2\n3,14,7/8/2029,3\n4,15,9/10/2029,≥9\n"
	_, report, err := Read(context.Background(), strings.NewReader(text), Options{})
	if err != nil {
		t.Fatal(err)
	}
	offers := map[Offer]string{}
	for _, note := range report.Notes {
		for _, offer := range note.Offers {
			offers[offer] = note.Column
		}
	}
	if offers[OfferNumber] != "kg" || offers[OfferMonth] != "on" {
		t.Errorf("offered: %v of %+v", offers, report.Notes)
	}
	for _, test := range []struct {
		options Options
		want    string
	}{
		{Options{As: map[string]string{"kg": "number"}}, "kg|number||12~~14~15"},
		{Options{As: map[string]string{"n": "text"}}, "n|category||1~2~3~4"},
		{Options{As: map[string]string{"ppm": "number"}}, "ppm|number||~2~3~"},
		{Options{As: map[string]string{"ppm": "limit"}}, "ppm|number||0.1~2~3~9"},
		{Options{As: map[string]string{"ppm": "half"}}, "ppm|number||0.05~2~3~9"},
		{Options{As: map[string]string{"ppm": "text"}}, "ppm|category||< 0.1~2~3~≥9"},
		{Options{MonthFirst: true}, "on|date||2029-03-04~2029-05-06~2029-07-08~2029-09-10"},
		{Options{}, "on|date||2029-04-03~2029-06-05~2029-08-07~2029-10-09"},
	} {
		if got := asText(text, test.options); !strings.Contains(got, test.want) {
			t.Errorf("%s: %s, want %s", fmt.Sprintf("%+v", test.options.As), got, test.want)
		}
	}
	sum := "hive,kg\nA,1\nB,2\nTotal,3\nSource: hives\n"
	if got := asText(sum, Options{LeaveSum: true}); !strings.Contains(got, "hive|category||A~B\n") {
		t.Errorf("without the sum: %s", got)
	}
	below := "hive,kg\nA,1\nB,2\n\nNote: none\n"
	if got := asText(below, Options{KeepBelow: true}); !strings.Contains(got, "Note: none") {
		t.Errorf("kept below: %s", got)
	}
}

// TestBlankTablesCostLittle reads files of separators, of blanks and of nothing: each is refused before memory
// is taken for its cells, and a table of which some columns are blank is read.
func TestBlankTablesCostLittle(t *testing.T) {
	for name, test := range map[string]struct{ text, want string }{
		"one line of commas":       {strings.Repeat(",", 2_000_000), "the row has more than 65536 values"},
		"commas under two titles":  {"a,b\n" + strings.Repeat(",\n", 3_000_000), "6 million cells, and nearly all of them are blank"},
		"commas under many titles": {strings.Repeat("t,", 999) + "t\n" + strings.Repeat(strings.Repeat(",", 999)+"\n", 6000), "6 million cells"},
		"half of them blank":       {"a,b,c,d\n" + strings.Repeat("12345,,,1\n", 1_200_000), ""},
	} {
		table, _, err := Read(t.Context(), strings.NewReader(test.text), Options{})
		switch {
		case test.want == "" && (err != nil || table.Rows() != 1_200_000):
			t.Errorf("%s: %v", name, err)
		case test.want != "" && (err == nil || !strings.Contains(err.Error(), test.want)):
			t.Errorf("%s: %v, want %q", name, err, test.want)
		}
	}
}
