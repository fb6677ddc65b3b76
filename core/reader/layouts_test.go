package reader

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"strconv"
	"strings"
	"testing"

	"copperlark/core/table"
)

// dialect is one way of writing a table.
type dialect struct {
	separator, decimal string
	ends               string
	preamble, footer   []string
	comment            string
	quoted, trailing   bool
	unitsRow           bool
	missing            string
}

// someDialect draws one at random.
func someDialect(source *rand.Rand) dialect {
	pick := func(list ...string) string { return list[source.IntN(len(list))] }
	d := dialect{separator: pick(",", ";", "\t", "|"), decimal: ".", ends: pick("\n", "\r\n"), missing: pick("", "NA", "n/a", "?", "--"),
		quoted: source.IntN(3) == 0, trailing: source.IntN(4) == 0, unitsRow: source.IntN(4) == 0}
	if d.separator != "," && source.IntN(2) == 0 {
		d.decimal = ","
	}
	if source.IntN(3) == 0 {
		d.preamble = [][]string{{"Weights of the autumn check"}, {"Thornwick apiaries", "station 7 of the valley"}}[source.IntN(2)]
	}
	if source.IntN(3) == 0 {
		d.footer = [][]string{{"", "Source: the keepers"}, {"Note: preliminary"}}[source.IntN(2)]
	}
	if source.IntN(4) == 0 {
		d.comment = "# scale was changed"
	}
	return d
}

// write writes rows of hive, kg, on and fed, each in its kind.
func (d dialect) write(hives []string, kg []float64, days []int, fed []bool, gone []bool) string {
	var out strings.Builder
	line := func(fields ...string) {
		for i, field := range fields {
			if i > 0 {
				out.WriteString(d.separator)
			}
			if d.quoted || strings.Contains(field, d.separator) {
				field = `"` + strings.ReplaceAll(field, `"`, `""`) + `"`
			}
			out.WriteString(field)
		}
		if d.trailing {
			out.WriteString(d.separator)
		}
		out.WriteString(d.ends)
	}
	for _, text := range d.preamble {
		out.WriteString(text + d.ends)
	}
	line("hive", "weight", "on", "fed")
	if d.unitsRow {
		line("", "kg", "", "")
	}
	for i := range hives {
		if i == len(hives)/2 && d.comment != "" {
			out.WriteString(d.comment + d.ends)
		}
		weight := strings.Replace(strconv.FormatFloat(kg[i], 'f', 2, 64), ".", d.decimal, 1)
		if gone[i] {
			weight = d.missing
		}
		line(hives[i], weight, fmt.Sprintf("2029-%02d-%02d", 1+days[i]/28, 1+days[i]%28), map[bool]string{true: "yes", false: "no"}[fed[i]])
	}
	for _, text := range d.footer {
		out.WriteString(text + d.ends)
	}
	return out.String()
}

// TestEveryDialectReadsAsTheSameTable writes tables in ways drawn at random, with what stands
// around them in files of others, and holds that values, kinds, titles and units are the same.
func TestEveryDialectReadsAsTheSameTable(t *testing.T) {
	for seed := range uint64(300) {
		source := rand.New(rand.NewPCG(seed, 12))
		n := 6 + source.IntN(60)
		hives, kg, days, fed, gone := make([]string, n), make([]float64, n), make([]int, n), make([]bool, n), make([]bool, n)
		for i := range n {
			hives[i], kg[i], days[i] = []string{"Low Fen", "Tarn", "O'Neil's", "A, B"}[source.IntN(4)], float64(source.IntN(9000))/100+1,
				source.IntN(300)
			fed[i], gone[i] = i%2 == 0, source.IntN(9) == 0
		}
		gone[0], gone[1], gone[2] = false, false, false
		d := someDialect(source)
		text := d.write(hives, kg, days, fed, gone)
		got, report, err := Read(context.Background(), strings.NewReader(text), Options{})
		if err != nil {
			t.Fatalf("%+v: %v\n%s", d, err, text)
		}
		if wrong := differs(got, d, hives, kg, days, fed, gone); wrong != "" {
			t.Fatalf("dialect %d %+v: %s; notes %+v\n%s", seed, d, wrong, report.Notes, text)
		}
		for _, said := range append(append([]string{}, d.preamble...), d.comment) {
			if said != "" && !strings.Contains(fmt.Sprint(report.Notes), said) {
				t.Fatalf("dialect %d: %q is left out and not told: %+v", seed, said, report.Notes)
			}
		}
	}
}

func differs(got *table.Table, d dialect, hives []string, kg []float64, days []int, fed, gone []bool) string {
	if names := strings.Join(got.Names(), ","); names != "hive,weight,on,fed" || got.Rows() != len(hives) {
		return fmt.Sprintf("columns %s, %d rows of %d", names, got.Rows(), len(hives))
	}
	weight, on, answers := got.Column("weight"), got.Column("on"), got.Column("fed")
	if weight.Kind != table.Number || on.Kind != table.Date || answers.Kind != table.YesNo {
		return fmt.Sprintf("kinds %s, %s, %s", weight.Kind, on.Kind, answers.Kind)
	}
	if d.unitsRow != (weight.Unit == "kg") {
		return "the unit is " + weight.Unit
	}
	for i := range hives {
		day := fmt.Sprintf("2029-%02d-%02d", 1+days[i]/28, 1+days[i]%28)
		switch {
		case got.Column("hive").Value(i) != hives[i]:
			return fmt.Sprintf("row %d is of %s, not %s", i, got.Column("hive").Value(i), hives[i])
		case weight.Missing(i) != gone[i], !gone[i] && math.Abs(weight.Numbers[i]-kg[i]) > 1e-9:
			return fmt.Sprintf("row %d weighs %v, not %v (missing %v)", i, weight.Numbers[i], kg[i], gone[i])
		case on.Value(i) != day:
			return fmt.Sprintf("row %d is of %s, not %s", i, on.Value(i), day)
		case (answers.Codes[i] == 1) != fed[i]:
			return fmt.Sprintf("row %d: fed is read otherwise", i)
		}
	}
	return ""
}

func TestNumbersAsPeopleWriteThem(t *testing.T) {
	for _, test := range []struct {
		text    string
		decimal byte
		want    float64
		sign    string
		ok      bool
	}{
		{"12", '.', 12, "", true}, {"-12.5", '.', -12.5, "", true}, {"−3", '.', -3, "", true}, {"+3", '.', 3, "", true},
		{"1e3", '.', 1000, "", true}, {"1.5E-2", '.', 0.015, "", true},
		{"1,234", '.', 1234, "", true}, {"1,234.5", '.', 1234.5, "", true}, {"1.234,5", ',', 1234.5, "", true},
		{"1 234,5", ',', 1234.5, "", true}, {"1'234.5", '.', 1234.5, "", true},
		{"12,34,567", '.', 1234567, "", true}, {"1,23,45,678.25", '.', 12345678.25, "", true}, {"1,2345", '.', 0, "", false},
		{"12,34", '.', 0, "", false}, {"1,23,456,789", '.', 0, "", false},
		{"(1,234)", '.', -1234, "", true}, {"10.5-", '.', -10.5, "", true}, {"-10.5-", '.', 0, "", false}, {"£5", '.', 5, "£", true},
		{"-£5", '.', -5, "£", true}, {"£-5", '.', -5, "£", true}, {"5 €", '.', 5, "€", true}, {"25 %", '.', 25, "%", true},
		{"25%", '.', 25, "%", true},
		{"5 kg", '.', 5, "kg", true}, {"5kg", '.', 5, "kg", true}, {"-0.5 °C", '.', -0.5, "°C", true}, {"3 kg/ha", '.', 3, "kg/ha", true},
		{"5 m", '.', 5, "m", true}, {"5m", '.', 0, "", false}, {"5 hats", '.', 0, "", false}, {"kg 5", '.', 0, "", false},
		{"1.2M", '.', 1.2e6, "", true}, {"350k", '.', 350_000, "", true}, {"1.5bn", '.', 1.5e9, "", true}, {"M", '.', 0, "", false},
		{"k5", '.', 0, "", false},
		{"0x1F", '.', 0, "", false}, {"1_000", '.', 0, "", false}, {"inf", '.', 0, "", false}, {"nan", '.', 0, "", false},
		{"1e999", '.', 0, "", false}, {"--5", '.', 0, "", false}, {"5 5", '.', 0, "", false}, {"", '.', 0, "", false},
		{"1.2.3", '.', 0, "", false},
	} {
		got, sign, ok := number([]byte(test.text), test.decimal)
		if ok != test.ok || ok && (got != test.want || sign != test.sign) {
			t.Errorf("%q is %v %q %v, want %v %q %v", test.text, got, sign, ok, test.want, test.sign, test.ok)
		}
	}
	for text, long := range map[string]bool{"9007199254740992": false, "9007199254740993": true, "-12345678901234567890": true,
		"0000000000000000001": false, "1234567890.1234567": false, "123": false, "99999999999999999999999": true} {
		if isLong([]byte(text)) != long {
			t.Errorf("%s is long: %v", text, !long)
		}
	}
}

func TestDatesAsPeopleWriteThem(t *testing.T) {
	for _, test := range []struct {
		text string
		form dateForm
		want string // empty: it is none
	}{
		{"2029-03-14", yearFirst, "2029-03-14 00:00:00"}, {"2029/3/4", yearFirst, "2029-03-04 00:00:00"}, {"29-03-14", yearFirst, ""},
		{"2029-02-30", yearFirst, ""}, {"2029-13-01", yearFirst, ""},
		{"14/03/2029", dayFirst, "2029-03-14 00:00:00"}, {"14.3.29", dayFirst, "2029-03-14 00:00:00"},
		{"14/3/70", dayFirst, "1970-03-14 00:00:00"}, {"3/14/2029", dayFirst, ""}, {"3/14/2029", monthFirst, "2029-03-14 00:00:00"},
		{"1/31/24", monthFirst, "2024-01-31 00:00:00"},
		{"14 March 2029", namedMonth, "2029-03-14 00:00:00"}, {"Mar 14, 2029", namedMonth, "2029-03-14 00:00:00"},
		{"14-Mar-29", namedMonth, "2029-03-14 00:00:00"}, {"Wed 14 Mar 2029", namedMonth, "2029-03-14 00:00:00"},
		{"14th March 2029", namedMonth, "2029-03-14 00:00:00"},
		{"14 mars 2029", namedMonth, "2029-03-14 00:00:00"}, {"14. März 2029", namedMonth, "2029-03-14 00:00:00"},
		{"14 de marzo de 2029", namedMonth, "2029-03-14 00:00:00"}, {"14 марта 2029", namedMonth, "2029-03-14 00:00:00"},
		{"14 Marble 2029", namedMonth, "2029-03-14 00:00:00"}, {"14 Blue 2029", namedMonth, ""},
		{"2029-03", yearMonth, "2029-03-01 00:00:00"}, {"Mar 2029", yearMonth, "2029-03-01 00:00:00"},
		{"2029 March", yearMonth, "2029-03-01 00:00:00"}, {"2029-25", yearMonth, ""},
		{"2029Q1", quarter, "2029-01-01 00:00:00"}, {"Q4 2029", quarter, "2029-10-01 00:00:00"}, {"2029-Q3", quarter, "2029-07-01 00:00:00"},
		{"2029Q5", quarter, ""},
		{"2029-W01", week, "2029-01-01 00:00:00"}, {"2029-W11-3", week, "2029-03-14 00:00:00"}, {"2026-W53", week, "2026-12-28 00:00:00"},
		{"2029-W54", week, ""},
		{"2029-03-14 10:30", yearFirst, "2029-03-14 10:30:00"}, {"2029-03-14T10:30:15Z", yearFirst, "2029-03-14 10:30:15"},
		{"2029-03-14T10:30:15.5+02:00", yearFirst, "2029-03-14 08:30:15.500"}, {"3/14/2029 2:05 PM", monthFirst, "2029-03-14 14:05:00"},
		{"2029-03-14 25:00", yearFirst, ""},
		{"2029年3月14日", yearFirst, "2029-03-14 00:00:00"}, {"hello", yearFirst, ""}, {"1.2.3", dayFirst, ""},
	} {
		seconds, _, ok := date([]byte(test.text), test.form)
		got := ""
		if ok {
			got = table.FormatDate(seconds, table.Second)
		}
		if got != test.want {
			t.Errorf("%q in form %d is %q, want %q", test.text, test.form, got, test.want)
		}
	}
}

// TestEncodingsAreToldByTheirLetters writes words of each language in its encodings.
func TestEncodingsAreToldByTheirLetters(t *testing.T) {
	for text, names := range map[string][]string{
		"Besançon, Orléans, Nîmes, crème brûlée": {"Windows-1252", "Mac Roman", "ISO 8859-15"},
		"München, Köln, Gießen, Übergröße":       {"Windows-1252", "Mac Roman"},
		"Łódź, Kraków, Gdańsk, źródło, żółw":     {"Windows-1250", "ISO 8859-2"},
		"Příliš žluťoučký kůň, Plzeň, Ústí":      {"Windows-1250"},
		"Москва, Тверь, Казань, мёд и пчёлы":     {"Windows-1251", "KOI8-R", "DOS 866", "Mac Cyrillic"},
		"Αθήνα, Πάτρα, Θεσσαλονίκη, μέλι":        {"Windows-1253"},
		"İstanbul, Muğla, Çeşme, şehir":          {"Windows-1254"},
		"חיפה, ירושלים, דבש ודבורים":             {"Windows-1255"},
		"القاهرة، عسل النحل، مدينة":              {"Windows-1256"},
		"東京, さいたま, はちみつの産地":                      {"Shift-JIS", "EUC-JP"},
		"北京, 上海, 广州, 蜂蜜的产地":                      {"GBK"},
		"서울, 부산, 벌꿀의 산지":                         {"EUC-KR"},
	} {
		for _, name := range names {
			entry := encodingNamed(name)
			raw, err := entry.coding.NewEncoder().Bytes([]byte("name\n" + strings.ReplaceAll(text, ", ", "\n") + "\n"))
			if err != nil {
				t.Errorf("%s cannot be written in %s: %v", text, name, err)
				continue
			}
			got, found, err := decode(raw, Options{MaxBytes: 1 << 20})
			if err != nil || string(got) != "name\n"+strings.ReplaceAll(text, ", ", "\n")+"\n" {
				t.Errorf("%s in %s is taken for %s: %s (%v)", text, name, found, strings.ReplaceAll(string(got), "\n", " "), err)
			}
			if said, _, err := decode(raw, Options{MaxBytes: 1 << 20, Encoding: name}); err != nil ||
				!strings.Contains(string(said), strings.Split(text, ", ")[0]) {
				t.Errorf("%s, said to be %s: %s (%v)", text, name, said, err)
			}
		}
	}
	if _, _, err := decode([]byte("a"), Options{MaxBytes: 10, Encoding: "klingon"}); err == nil ||
		!strings.Contains(err.(*Error).Advice, "Windows-1252") {
		t.Errorf("an unknown encoding: %v", err)
	}
	for _, name := range []string{"cp1252", "latin1", "ISO-8859-1", "shift_jis", "windows 1251", "KOI8R"} {
		if encodingNamed(name) == nil {
			t.Errorf("%s is not known", name)
		}
	}
}
