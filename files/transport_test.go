package files

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"math"
	"math/rand"
	"strings"
	"testing"

	"copperlark/core/reader"
)

// transported is a number as transport files hold it, by dividing until it fits: the slow way round.
func transported(v float64) []byte {
	out := make([]byte, 8)
	if v == 0 {
		return out
	}
	exponent, fraction := 64, math.Abs(v)
	for ; fraction >= 1; fraction /= 16 {
		exponent++
	}
	for ; fraction < 1.0/16; fraction *= 16 {
		exponent--
	}
	binary.BigEndian.PutUint64(out, uint64(math.Ldexp(fraction, 56)))
	out[0] = byte(exponent)
	if v < 0 {
		out[0] |= 0x80
	}
	return out
}

func TestHexadecimalNumbersComeBack(t *testing.T) {
	random := rand.New(rand.NewSource(7))
	for range 20_000 {
		v := (random.Float64() - 0.5) * math.Pow(10, float64(random.Intn(140)-70))
		if got, code := hexadecimal(transported(v)); got != v || code != "" {
			t.Fatalf("%g comes back as %g %s", v, got, code)
		}
	}
	for _, test := range []struct {
		raw  string
		want float64
		code string
	}{{"\x41\x10", 1, ""}, {"\xc2\x76\xa0", -118.625, ""}, {"\x00\x00\x00", 0, ""}, {".\x00\x00", math.NaN(), ""},
		{"_\x00\x00\x00", math.NaN(), "._"}, {"B\x00", math.NaN(), ".B"}, {"B\x10", 16, ""}} {
		if got, code := hexadecimal([]byte(test.raw)); code != test.code || got != test.want && (got == got || test.want == test.want) {
			t.Errorf("%q is %g %s, want %g %s", test.raw, got, code, test.want, test.code)
		}
	}
}

// transportMember is a table as its description lays it out.
type transportMember struct {
	name, about string
	variables   []transportColumn
	rows        []string // as bytes
	said        int      // of version 8
}

type transportColumn struct {
	name, label, format string
	width               int // of a text; below 0: a number of so many bytes
}

func fill(text string, width int) string {
	return (text + strings.Repeat(" ", width))[:width]
}

// transportFile writes a file of version 5 or 8.
func transportFile(version int, members ...transportMember) []byte {
	var b bytes.Buffer
	whole := func() {
		for b.Len()%80 != 0 {
			b.WriteByte(' ')
		}
	}
	heading := func(five, eight, rest string) {
		name := five
		if version == 8 {
			name = eight
		}
		b.WriteString(fill("HEADER RECORD*******"+fill(name, 8)+"HEADER RECORD!!!!!!!"+rest, 80))
	}
	heading("LIBRARY", "LIBV8", strings.Repeat("0", 30))
	b.WriteString(strings.Repeat(" ", 160))
	for _, m := range members {
		heading("MEMBER", "MEMBV8", "000000000000000001600000000140")
		heading("DSCRPTR", "DSCPTV8", strings.Repeat("0", 30))
		b.WriteString(fill("SAS     "+fill(m.name, map[int]int{5: 8, 8: 32}[version])+"SASDATA", 80))
		b.WriteString(fill(strings.Repeat(" ", 32)+fill(m.about, 40), 80))
		heading("NAMESTR", "NAMSTV8", fmt.Sprintf("%010d%020d", len(m.variables), 0))
		from := 0
		var long bytes.Buffer
		longer := 0
		for i, v := range m.variables {
			about, kind, width := make([]byte, 140), 2, v.width
			if width < 0 {
				kind, width = 1, -width
			}
			binary.BigEndian.PutUint16(about[0:], uint16(kind))
			binary.BigEndian.PutUint16(about[4:], uint16(width))
			copy(about[8:], fill(v.name, 8))
			copy(about[16:], fill(v.label, 40))
			copy(about[56:], fill(v.format, 8))
			binary.BigEndian.PutUint32(about[84:], uint32(from))
			if version == 8 {
				copy(about[88:], fill(v.name, 32))
			}
			if len(v.label) > 40 {
				longer++
				for _, n := range []int{i + 1, len(v.name), len(v.label)} {
					_ = binary.Write(&long, binary.BigEndian, uint16(n))
				}
				long.WriteString(v.name + v.label)
			}
			from += width
			b.Write(about)
		}
		whole()
		if longer > 0 {
			heading("", "LABELV8", fmt.Sprint(longer))
			b.Write(long.Bytes())
			whole()
		}
		said := strings.Repeat("0", 30)
		if m.said > 0 {
			said = fmt.Sprintf("%15d", m.said)
		}
		heading("OBS", "OBSV8", said)
		b.WriteString(strings.Join(m.rows, ""))
		whole()
	}
	return b.Bytes()
}

func TestTransportFilesAreRead(t *testing.T) {
	number := func(v float64, bytes int) string { return string(transported(v)[:bytes]) }
	harvest := transportMember{name: "HARVEST", about: "made up", variables: []transportColumn{
		{"HIVE", "which", "$CHAR", 6}, {"KG", "Weight (kg)", "BEST", -8}, {"N", "", "", -3}, {"DAY", "", "DATE9.", -8},
		{"AT", "", "DATETIME", -8}, {"TOOK", "", "TIME", -8}}}
	day := number(26_000, 8) // 2031-03-09
	for _, row := range []struct {
		hive  string
		kg, n string
	}{{"Tarn", number(31.25, 8), number(3, 3)}, {"Brim\xfc", "A\x00\x00\x00\x00\x00\x00\x00", number(4, 3)},
		{"", ".\x00\x00\x00\x00\x00\x00\x00", number(-65536, 3)}} {
		harvest.rows = append(harvest.rows, fill(row.hive, 6)+row.kg+row.n+day+number(26_000*86_400+3661, 8)+number(5400, 8))
	}
	harvest.rows[2] = harvest.rows[2][:17] + number(9e6, 8) + harvest.rows[2][25:]
	long := transportMember{name: "letters_of_a_longer_name", said: 3, variables: []transportColumn{
		{"a_name_of_more_than_8_letters", strings.Repeat("long label ", 6), "", 2}}, rows: []string{"b ", "a ", "  "}}
	for _, test := range []struct {
		what, sheet, want string
		raw               []byte
		sheets            int
		notes             []string
	}{
		{what: "the first of two", raw: transportFile(5, harvest, transportMember{name: "X", variables: []transportColumn{{"T", "", "", 3}},
			rows: []string{"a  ", "b  ", "   "}}), sheets: 2,
			want: "HIVE|category||Tarn~Brimü~\nKG|number||31.25~~\nN|number||3~4~-65536\nDAY|date||2031-03-09~2031-03-09~\n" +
				"AT|date||2031-03-09 01:01:01~2031-03-09 01:01:01~2031-03-09 01:01:01\nTOOK|duration||1:30:00~1:30:00~1:30:00",
			notes: []string{"codes for missing values were read as missing: .A (1)", "dates before the year 1"}},
		{what: "the second: blank rows at the end are what fills it up", sheet: "X", sheets: 2, raw: transportFile(5, harvest,
			transportMember{name: "X", variables: []transportColumn{{"T", "", "", 3}}, rows: []string{"a  ", "b  ", "   "}}),
			want: "T|category||a~b"},
		{what: "version 8: as many rows as the file says", raw: transportFile(8, long), want: "a_name_of_more_than_8_letters|category||b~a~"},
		{what: "a file that was cut off", raw: transportFile(8,
			transportMember{name: "C", said: 90, variables: long.variables, rows: []string{"b "}}),
			want: "a_name_of_more_than_8_letters|category||b", notes: []string{"the file says that it has 90 rows, and 1 are in it"}},
	} {
		got, report, err := Read(context.Background(), "t.xpt", test.raw, reader.Options{Sheet: test.sheet})
		if err != nil {
			t.Errorf("%s: %v", test.what, err)
			continue
		}
		if have := shown(got); have != test.want || len(report.Sheets) != test.sheets || report.NoteCount != len(test.notes) {
			t.Errorf("%s: got\n%s\nwant\n%s\n%+v", test.what, have, test.want, report)
			continue
		}
		for i, want := range test.notes {
			if !strings.HasPrefix(report.Notes[i].Message, want) {
				t.Errorf("%s: note %q, want %q", test.what, report.Notes[i].Message, want)
			}
		}
	}
	got, _, err := Read(context.Background(), "", transportFile(8, long), reader.Options{})
	if err != nil || got.Columns()[0].Meaning != strings.TrimSpace(long.variables[0].label) {
		t.Errorf("a long label: %v", err)
	}
}

func TestTransportFilesThatAreRefused(t *testing.T) {
	column := []transportColumn{{"T", "", "", 3}}
	for _, test := range []struct {
		raw  []byte
		want string
	}{
		{transportFile(5), "no table"},
		{transportFile(5, transportMember{name: "E", variables: column}), "no rows"},
		{transportFile(5, transportMember{name: "E", rows: []string{"a"}}), "damaged"},
		{transportFile(5, transportMember{name: "E", variables: []transportColumn{{"N", "", "", -9}}, rows: []string{"a"}}), "damaged"},
		{transportFile(5, transportMember{name: "E", variables: make([]transportColumn, 101)}), "columns"},
	} {
		_, _, err := Read(context.Background(), "", test.raw, reader.Options{MaxColumns: 100})
		var refused *reader.Error
		if !errors.As(err, &refused) || !strings.Contains(refused.Problem, test.want) || refused.Advice == "" {
			t.Errorf("%v, want %s", err, test.want)
		}
	}
	_, _, err := Read(context.Background(), "", transportFile(5, transportMember{name: "E", variables: column, rows: []string{"abc"}}),
		reader.Options{Sheet: "Z"})
	if err == nil || !strings.Contains(err.Error(), `no table "Z"`) {
		t.Errorf("another table: %v", err)
	}
}
