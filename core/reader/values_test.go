package reader

import (
	"math"
	"strconv"
	"strings"
	"testing"
	"time"

	"copperlark/core/table"
)

func TestNumberForms(t *testing.T) {
	for _, test := range []struct {
		field   string
		decimal byte
		value   float64
		sign    string
		ok      bool
	}{
		{"12", '.', 12, "", true}, {"-0.5", '.', -0.5, "", true}, {"+7", '.', 7, "", true}, {".5", '.', 0.5, "", true}, {"5.", '.', 5, "", true},
		{"1e3", '.', 1000, "", true}, {"-1.5E-3", '.', -0.0015, "", true}, {"1,234.5", '.', 1234.5, "", true}, {"1.234,5", ',', 1234.5, "", true},
		{"1 234", '.', 1234, "", true}, {"1\u00a0234,5", ',', 1234.5, "", true}, {"1'234", '.', 1234, "", true}, {"12,34", '.', 0, "", false},
		{"1,2345", '.', 0, "", false}, {"£1.5", '.', 1.5, "£", true}, {"1,5 €", ',', 1.5, "€", true}, {"12%", '.', 12, "%", true},
		{"-£3", '.', -3, "£", true},
		{"(12.5)", '.', -12.5, "", true}, {"−4", '.', -4, "", true}, {"--4", '.', 0, "", false}, {"", '.', 0, "", false},
		{"-", '.', 0, "", false},
		{"inf", '.', 0, "", false}, {"0x1F", '.', 0, "", false}, {"1_000", '.', 0, "", false}, {"1e999", '.', 0, "", false},
		{"1.2.3", '.', 0, "", false},
		{"12345678901234567890", '.', 12345678901234567890, "", true}, {"0.1234567890123456", '.', 0.1234567890123456, "", true},
	} {
		value, sign, ok := number([]byte(test.field), test.decimal)
		if ok != test.ok || (ok && (value != test.value || sign != test.sign)) {
			t.Errorf("%q with %c: %v %q %v", test.field, test.decimal, value, sign, ok)
		}
	}
}

// FuzzPlainNumber holds the fast way against strconv, to the last bit.
func FuzzPlainNumber(f *testing.F) {
	for _, seed := range []string{"0", "-12.50", "999999999999999", "0.000000000000001", "1.7976931348623157"} {
		f.Add(seed)
	}
	f.Fuzz(func(t *testing.T, field string) {
		got, ok := plainNumber([]byte(field), '.')
		if !ok {
			return
		}
		want, err := strconv.ParseFloat(field, 64)
		if err != nil || got != want && !(math.Abs(got) == 0 && math.Abs(want) == 0) {
			t.Errorf("%q is %v, strconv says %v (%v)", field, got, want, err)
		}
	})
}

func TestDateForms(t *testing.T) {
	at := func(year int, month time.Month, day, hour, minute, second int) float64 {
		return float64(time.Date(year, month, day, hour, minute, second, 0, time.UTC).Unix())
	}
	for _, test := range []struct {
		field    string
		form     dateForm
		want     float64
		withTime bool
		ok       bool
	}{
		{"2029-03-14", yearFirst, at(2029, 3, 14, 0, 0, 0), false, true}, {"2029/3/4", yearFirst, at(2029, 3, 4, 0, 0, 0), false, true},
		{"14.03.2029", dayFirst, at(2029, 3, 14, 0, 0, 0), false, true}, {"14-3-2029", dayFirst, at(2029, 3, 14, 0, 0, 0), false, true},
		{"3/14/2029", monthFirst, at(2029, 3, 14, 0, 0, 0), false, true}, {"14 March 2029", namedMonth, at(2029, 3, 14, 0, 0, 0), false, true},
		{"Mar 14, 2029", namedMonth, at(2029, 3, 14, 0, 0, 0), false, true}, {"14-Mar-2029", namedMonth, at(2029, 3, 14, 0, 0, 0), false, true},
		{"2029-03-14T10:30:15Z", yearFirst, at(2029, 3, 14, 10, 30, 15), true, true},
		{"2029-03-14 10:30", yearFirst, at(2029, 3, 14, 10, 30, 0), true, true},
		{"2029-03-14T10:30:00+02:00", yearFirst, at(2029, 3, 14, 8, 30, 0), true, true},
		{"14/03/2029 3:04 PM", dayFirst, at(2029, 3, 14, 15, 4, 0), true, true},
		{"2029-02-29", yearFirst, 0, false, false}, {"2028-02-29", yearFirst, at(2028, 2, 29, 0, 0, 0), false, true},
		{"14/13/2029", dayFirst, 0, false, false},
		{"2029-03", yearFirst, 0, false, false}, {"2029-03/14", yearFirst, 0, false, false}, {"2029-03-14 25:00", yearFirst, 0, false, false},
		{"12 Foo 2029", namedMonth, 0, false, false}, {"20290314", yearFirst, 0, false, false},
	} {
		got, withTime, ok := date([]byte(test.field), test.form)
		if ok != test.ok || (ok && (got != test.want || withTime != test.withTime)) {
			t.Errorf("%q: %v %v %v", test.field, got, withTime, ok)
		}
	}
}

// TestDatesKeepTheTimesThatSomeHave holds the grain of a column in which not all dates have a time, whichever comes first.
func TestDatesKeepTheTimesThatSomeHave(t *testing.T) {
	for text, want := range map[string]table.Grain{"2029-03-14 10:00\n2029-03-15\n2029-03-16": table.Second,
		"2029-03-14\n2029-03-15\n2029-03-16 10:00": table.Second, "2029-03-14\n2029-03-15": table.Day} {
		if read, _ := read(t, "hive,day\nA,"+strings.ReplaceAll(text, "\n", "\nB,")+"\n", Options{}); read.Column("day").Grain != want {
			t.Errorf("%q has the grain %s", text, read.Column("day").Grain)
		}
	}
}

// TestTextsAreReadAsDurations holds which are, in seconds, and what may be a time of a day or has one unit.
func TestTextsAreReadAsDurations(t *testing.T) {
	for text, want := range map[string]string{
		"run\n1:30:00\n0:45:10\nNA\n": "run|duration||1:30:00~0:45:10~", "run\n58:20\n1:02:05\n": "run|duration||0:58:20~1:02:05",
		"run\n90 min\n2 h\n":       "run|duration||1:30:00~2:00:00",
		"run\n2 h 5 min\n40 min\n": "run|duration||2:05:00~0:40:00", "run\nPT1H\nPT90M\n": "run|duration||1:00:00~1:30:00",
		"run\n90 min\n60 min\n":    "run|number|min|90~60",
		"at\n08:15:00\n14:30:00\n": "at|category||08:15:00~14:30:00", "took\n08:15:00\n14:30:00\n": "took|duration||8:15:00~14:30:00",
		"at\n1:30\n2:45\n":     "at|category||1:30~2:45",
		"run\n1:30:00\nlate\n": "run|category||1:30:00~late",
	} {
		if got := lastColumn(asText(beside(text), Options{})); got != want {
			t.Errorf("%q is read as %s, not %s", text, got, want)
		}
	}
	if got := lastColumn(asText(beside("run\n1:30:00\n0:45:10\n"),
		Options{As: map[string]string{"run": "text"}})); got != "run|category||1:30:00~0:45:10" {
		t.Errorf("turned to text it is %s", got)
	}
}

// beside puts a column of names before the lines of another one, so that blanks divide nothing.
func beside(lines string) string {
	return "hive," + strings.ReplaceAll(strings.TrimSuffix(lines, "\n"), "\n", "\nA,") + "\n"
}

func lastColumn(cells string) string {
	lines := strings.Split(strings.TrimSpace(cells), "\n")
	return lines[len(lines)-1]
}

// TestAColumnStaysOneOfNumbersWithSomeWords holds that a tenth of words, however many they are, leaves numbers, and that a
// half does not.
func TestAColumnStaysOneOfNumbersWithSomeWords(t *testing.T) {
	for words, want := range map[int]table.Kind{150: table.Number, 1500: table.Text} {
		var text strings.Builder
		text.WriteString("kg\n")
		for i := range 3000 {
			if i%(3000/words) == 1 {
				text.WriteString("not weighed " + strconv.Itoa(i) + "\n")
			} else {
				text.WriteString(strconv.Itoa(i) + ".5\n")
			}
		}
		read, report := read(t, text.String(), Options{})
		if got := read.Columns()[0].Kind; got != want || len(report.Notes) == 0 {
			t.Errorf("%d words of 3,000 values: %s, %d notes", words, got, len(report.Notes))
		}
	}
}

// TestDecimalsThatAllAreWrittenWith holds that 7.00 beside 8.00 is kept as two decimals, and what is not: one decimal,
// which programs add to whole numbers, decimals that differ, exponents, letters of thousands.
func TestDecimalsThatAllAreWrittenWith(t *testing.T) {
	long := strings.Repeat("\n12.50", 300_000) // read in several pieces, as the next with one other value at its end
	for text, want := range map[string]int{
		"7.00\n8.00\n": 2, "7.00\nNA\n\n8.25\n": 2, "£7.00\n£8.00": 2, "\"1,207.00\"\n8.00": 2, "7.0\n8.0": 0, "7.00\n8.5": 0, "7.00\n8": 0,
		"1.50e3\n2.50e3": 0,
		"1.25k\n2.50k":   0, "7\n8": 0, "-0.125\n1.000": 3, "7.00 kg\n9.00 kg": 2, long[1:]: 2, long[1:] + "\n9.5": 0,
	} {
		read, _ := read(t, "price\n"+text+"\n", Options{})
		if got := read.Columns()[0].Decimals; got != want {
			t.Errorf("%.40q is kept with %d decimals, not %d", text, got, want)
		}
	}
	if semicolons, _ := read(t, "place;price\nTarn;7,00\nWick;8,50\n", Options{}); semicolons.Column("price").Decimals != 2 {
		t.Error("decimals behind a comma are not kept")
	}
}
