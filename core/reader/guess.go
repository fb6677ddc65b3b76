package reader

import (
	"bytes"
	"regexp"
	"slices"
	"strings"
)

// layout is what must be known of a file before its columns can be read.
type layout struct {
	separator byte
	decimal   byte
	titleRow  int // -1: none
	names     []string
	units     []string // nil: no row of them
	// singleQuotes: fields may stand in single quotes, which are taken off.
	singleQuotes bool
	firstData    int // how many records stand before the first row of values
}

const sampleRecords = 1000

// record is a row of the head of a file.
type record struct {
	fields []string
	line   int
}

// guessLayout finds out what the options leave open, from the first records, and reports
// what is passed over.
func guessLayout(text []byte, options Options, report *Report) layout {
	found := layout{separator: options.Separator, decimal: options.Decimal, titleRow: options.TitleRow}
	if found.separator == 0 {
		found.separator = guessSeparator(text)
	}
	records := sample(text, found.separator)
	if found.decimal == 0 {
		found.decimal = guessDecimal(records)
		if example := twoWays(records); example != "" {
			mark := map[byte]string{'.': "point", ',': "comma"}[found.decimal]
			report.Note(0, "", "values such as %s can be read two ways; the %s was taken as the decimal mark", example, mark)
		}
	}
	width := tableWidth(records)
	title := found.titleRow - 1
	if found.titleRow == 0 {
		title = guessTitles(records, width, found.decimal)
		found.titleRow = title + 1
		if title < 0 {
			found.titleRow = -1
		}
		if len(records) == 1 && title < 0 && !onlyNumbers(records[0].fields, found.decimal) {
			title, found.titleRow = 0, 1
		}
	}
	if found.titleRow < 0 {
		found.firstData = bodyBegins(records, width)
		found.names = make([]string, width)
		report.above(records[:found.firstData])
		return found
	}
	if options.TitleRow == 0 && title > 0 && len(records[title-1].trimmed(width)) == width && filled(records[title-1].fields) == width {
		under := columnsBelow(records[title+1:], width, found.decimal)
		if unitsBelow(records[title].trimmed(width), under, found.decimal) != nil { // the titles stand above their units
			title--
			found.titleRow--
		}
	}
	found.titles(records, min(title, len(records)-1), width, options.TitleRow == 0, report)
	return found
}

// titles reads the row of titles and what belongs to it.
func (l *layout) titles(records []record, title, width int, guessed bool, report *Report) {
	if title < 0 {
		l.names = make([]string, width)
		return
	}
	l.firstData = title + 1
	l.names = slices.Clone(records[title].trimmed(width))
	if l.singleQuotes = guessed && allQuoted(l.names); l.singleQuotes {
		for i, name := range l.names {
			l.names[i] = name[1 : len(name)-1]
		}
	}
	if len(l.names) == width-1 && width > 1 && shortTitles(records, title, width) {
		l.names = append([]string{rowNames}, l.names...)
		report.Note(records[title].line, rowNames, "the titles are one fewer than the values: the first column names the rows")
	}
	for len(l.names) < width {
		l.names = append(l.names, "")
	}
	if !guessed {
		return
	}
	above := title
	if upper := upperTitles(records, title, len(l.names), l.decimal); upper != nil {
		l.names = joinTitles(upper, l.names)
		above--
		report.Note(records[above].line, "", "these titles stand over several columns and were put before the ones below them")
	}
	report.above(records[:above])
	if title+2 < len(records) && len(l.names) == width {
		under := columnsBelow(records[title+2:], width, l.decimal)
		if units := unitsBelow(records[title+1].trimmed(width), under, l.decimal); units != nil {
			l.units = units
			l.firstData++
			report.Note(records[title+1].line, "", "this row holds the units of the columns")
		}
	}
}

// allQuoted reports whether every name stands in single quotes: then values do too.
func allQuoted(names []string) bool {
	for _, name := range names {
		if len(name) < 2 || name[0] != '\'' || name[len(name)-1] != '\'' {
			return false
		}
	}
	return len(names) > 0
}

// rowNames is what a first column without a title is called.
const rowNames = "row_name"

// above tells of the rows that stand above the table.
func (r *Report) above(records []record) {
	for _, one := range records {
		text := strings.TrimSpace(strings.Join(one.fields, " "))
		if text == "" {
			continue
		}
		r.Note(one.line, "", "%q stands above the table and was left out", clip(text))
		if r.About != "" {
			r.About += "; "
		}
		r.About += clip(text)
	}
}

func onlyNumbers(fields []string, decimal byte) bool {
	for _, field := range fields {
		if !isNumber([]byte(field), decimal) {
			return false
		}
	}
	return true
}

// bodyBegins is how many of the first records are no rows of a table without titles.
func bodyBegins(records []record, width int) int {
	for i, r := range records[:min(len(records), headRows)] {
		if len(r.trimmed(width)) == width && (width < 3 || filled(r.fields) > 1) {
			return i
		}
	}
	return 0
}

// sample copies the first records. A quote left open ends it early: the full
// read reports it.
func sample(text []byte, separator byte) []record {
	scan := newScanner(text, separator)
	var records []record
	for len(records) < sampleRecords {
		if more, err := scan.next(); !more || err != nil {
			break
		}
		fields := make([]string, len(scan.fields))
		for i, field := range scan.fields {
			fields[i] = string(bytes.TrimSpace(field))
		}
		records = append(records, record{fields, scan.line})
	}
	return records
}

// separators are those that are looked for, apart from blanks.
var separators = []byte{',', ';', '\t', '|'}

// guessSeparator takes the separator under which most of the first records have the same
// number of fields, more than one, and few fields hold another separator in a way that no
// number does; with equal standing the one that gives more fields.
func guessSeparator(text []byte) byte {
	best, bestScore := byte(','), 0.0
	head := text[:min(len(text), 1<<18)]
	for _, candidate := range separators {
		records := sample(head, candidate)
		width := usualWidth(records)
		if width < 2 {
			continue
		}
		agree, odd, all := 0, 0, 0
		for _, r := range records {
			if len(r.fields) == width {
				agree++
			}
			if len(r.fields) < 2 {
				continue
			}
			for _, field := range r.fields {
				all++
				if parts.MatchString(field) {
					odd++
				}
			}
		}
		score := float64(agree)/float64(len(records)) + float64(min(width, 50))/1000 - 0.5*float64(odd)/float64(max(all, 1))
		if score > bestScore {
			best, bestScore = candidate, score
		}
	}
	return best
}

// parts matches a field that another separator still divides; in prose a blank follows it.
var parts = regexp.MustCompile(`[;\t|][^\s;|]`)

// grouped is a number that may have a decimal mark, or a mark between thousands.
var grouped = regexp.MustCompile(`^-?[1-9]\d{0,2}[.,]\d{3}$`)

// twoWays gives a number that can be read two ways, where every number with a mark is one.
func twoWays(records []record) (example string) {
	for _, r := range records {
		for _, field := range r.fields {
			if !strings.ContainsAny(field, ".,") || !isNumber([]byte(field), '.') && !isNumber([]byte(field), ',') {
				continue
			}
			if !grouped.MatchString(field) {
				return ""
			}
			example = field
		}
	}
	return example
}

// usualWidth is the most frequent number of fields.
func usualWidth(records []record) int {
	count := map[int]int{}
	usual := 0
	for _, r := range records {
		width := len(r.fields)
		count[width]++
		if count[width] > count[usual] || (count[width] == count[usual] && width > usual) {
			usual = width
		}
	}
	return usual
}

// guessDecimal counts fields that can only be read with a decimal point and
// fields that can only be read with a decimal comma.
func guessDecimal(records []record) byte {
	points, commas := 0, 0
	for _, r := range records {
		for _, field := range r.fields {
			if !strings.ContainsAny(field, ".,") || len(field) > 40 {
				continue
			}
			_, _, asPoint := number([]byte(field), '.')
			_, _, asComma := number([]byte(field), ',')
			switch {
			case asPoint && !asComma:
				points++
			case asComma && !asPoint:
				commas++
			case asPoint && asComma && (strings.HasPrefix(field, "0,") || strings.HasPrefix(field, "-0,")):
				commas++ // nobody groups the thousands of 0,125
			case asPoint && asComma && (strings.HasPrefix(field, "0.") || strings.HasPrefix(field, "-0.")):
				points++
			}
		}
	}
	if commas > points {
		return ','
	}
	return '.'
}
