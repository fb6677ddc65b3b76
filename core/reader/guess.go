package reader

import (
	"bytes"
	"strings"
)

// layout is what must be known of a file before its columns can be read.
type layout struct {
	separator byte
	decimal   byte
	titleRow  int // -1: none
	names     []string
	firstData int // how many records stand before the first row of values
}

const sampleRecords = 1000

// guessLayout finds out what the options leave open, from the first records.
func guessLayout(text []byte, options Options) layout {
	found := layout{separator: options.Separator, decimal: options.Decimal, titleRow: options.TitleRow}
	if found.separator == 0 {
		found.separator = guessSeparator(text)
	}
	records := sample(text, found.separator)
	if found.decimal == 0 {
		found.decimal = guessDecimal(records)
	}
	if found.titleRow == 0 {
		found.titleRow = guessTitleRow(records, found.decimal)
	}
	width := usualWidth(records)
	if found.titleRow > 0 {
		index := min(found.titleRow, len(records)) - 1
		found.firstData = index + 1
		if index >= 0 {
			found.names = records[index]
		}
	}
	for len(found.names) < width {
		found.names = append(found.names, "")
	}
	return found
}

// sample copies the first records. A quote left open ends it early: the full
// read reports it.
func sample(text []byte, separator byte) [][]string {
	scan := newScanner(text, separator)
	var records [][]string
	for len(records) < sampleRecords {
		if more, err := scan.next(); !more || err != nil {
			break
		}
		record := make([]string, len(scan.fields))
		for i, field := range scan.fields {
			record[i] = string(bytes.TrimSpace(field))
		}
		records = append(records, record)
	}
	return records
}

// guessSeparator takes the separator under which most of the first records
// have the same number of fields, more than one; with equal standing the one
// that gives more fields.
func guessSeparator(text []byte) byte {
	best, bestScore := byte(','), 0.0
	head := text[:min(len(text), 1<<18)]
	for _, candidate := range []byte{',', ';', '\t', '|'} {
		records := sample(head, candidate)
		width := usualWidth(records)
		if width < 2 {
			continue
		}
		agree := 0
		for _, record := range records {
			if len(record) == width {
				agree++
			}
		}
		score := float64(agree)/float64(len(records)) + float64(min(width, 50))/1000
		if score > bestScore {
			best, bestScore = candidate, score
		}
	}
	return best
}

// usualWidth is the most frequent number of fields.
func usualWidth(records [][]string) int {
	count := map[int]int{}
	usual := 0
	for _, record := range records {
		width := len(record)
		count[width]++
		if count[width] > count[usual] || (count[width] == count[usual] && width > usual) {
			usual = width
		}
	}
	return usual
}

// guessDecimal counts fields that can only be read with a decimal point and
// fields that can only be read with a decimal comma.
func guessDecimal(records [][]string) byte {
	points, commas := 0, 0
	for _, record := range records {
		for _, field := range record {
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

// guessTitleRow takes the first record of the usual width as the title row,
// unless it holds a number or a missing value where the others do too.
func guessTitleRow(records [][]string, decimal byte) int {
	width := usualWidth(records)
	for i, record := range records {
		if len(record) != width {
			continue
		}
		numbers := 0
		for _, field := range record {
			if _, _, ok := number([]byte(field), decimal); ok {
				numbers++
			}
		}
		if numbers > 0 && numbers*2 >= width && len(records) > 1 {
			return -1
		}
		return i + 1
	}
	return 1
}
