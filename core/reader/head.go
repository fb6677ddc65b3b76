package reader

import (
	"math"
	"slices"
	"strconv"
	"strings"
)

// The head of a file: which row holds the titles is told by comparing the first rows with
// the kinds below them, column by column. What stands above is no part of the table; a
// second row of titles is joined to the first, and a row of units becomes units.

// headRows is among how many rows the titles are looked for.
const headRows = 40

// fieldKind is what a single field looks like.
type fieldKind byte

const (
	nothing  fieldKind = iota
	aNumber            // also a moment written as a number
	aDate              // in any form
	someText           // anything else
)

func kindOfField(field string, decimal byte) fieldKind {
	raw := []byte(field)
	switch {
	case isMissing(raw) || isMark(raw):
		return nothing
	case isNumber(raw, decimal), isLimit(raw, decimal):
		return aNumber
	case isAnyDate(raw):
		return aDate
	}
	return someText
}

func isNumber(field []byte, decimal byte) bool {
	_, _, ok := number(field, decimal)
	return ok
}

func isLimit(field []byte, decimal byte) bool {
	_, is := bounded(field, decimal)
	return is
}

func isAnyDate(field []byte) bool {
	for form := range dateForms {
		if _, _, ok := date(field, form); ok {
			return true
		}
	}
	return false
}

// below is what the rows under a row hold in one column.
type below struct {
	numbers, dates, texts int
	years                 int // numbers that are whole and from 1500 to 2200
	levels                map[string]int
}

// mostBelow is how many rows under a row it is compared with.
const mostBelow = 200

func columnsBelow(records []record, width int, decimal byte) []below {
	out := make([]below, width)
	for i := range out {
		out[i].levels = map[string]int{}
	}
	for _, r := range records[:min(len(records), mostBelow)] {
		if len(r.fields) < width-1 {
			continue
		}
		for i, field := range r.fields[:min(width, len(r.fields))] {
			b := &out[i]
			switch kindOfField(field, decimal) {
			case aNumber:
				b.numbers++
				if isYear(field) {
					b.years++
				}
			case aDate:
				b.dates++
			case someText:
				b.texts++
				b.levels[field]++
			}
		}
	}
	return out
}

func isYear(field string) bool {
	n, err := strconv.Atoi(field)
	return err == nil && n >= 1500 && n <= 2200
}

// hidden counts the texts that are marks of values which are not told.
func (b *below) hidden() (n int) {
	for level, count := range b.levels {
		if isHidden(level) || count > 1 && len(level) <= 3 {
			n += count
		}
	}
	return n
}

// kind is what most of the values are; nothing where there are none.
func (b *below) kind() fieldKind {
	all := b.numbers + b.dates + b.texts
	if hidden := b.hidden(); hidden > 0 && b.numbers >= b.texts { // marks of what is kept from readers
		all -= hidden
	}
	switch {
	case all == 0:
		return nothing
	case 10*b.numbers >= 7*all:
		return aNumber
	case 10*b.dates >= 7*all:
		return aDate
	}
	return someText
}

// titleScore tells how much a row differs from what is below it, as titles do. Above zero
// it is more likely titles than values.
func titleScore(fields []string, under []below, decimal byte) float64 {
	score := 0.0
	counting := isCounting(fields, decimal)
	seen := map[string]bool{}
	for i, field := range fields {
		kind, column := kindOfField(field, decimal), &under[i]
		want := column.kind()
		switch {
		case field == "":
			if i > 0 {
				score -= 0.25
			}
		case kind == nothing:
			score -= 0.5
		case kind == someText && (want == aNumber || want == aDate):
			if bare, brackets := bracketed(field); column.levels[field] > 0 || len([]rune(bare)) > 1 && isHidden(field) ||
				brackets && isHidden(field) {
				score -= 1.5 // no title, but a mark of what is not told
			} else {
				score += 2
			}
		case kind == someText && want == someText:
			if column.levels[field] > 0 {
				score -= 1.5
			} else {
				score += 0.3
			}
		case kind == someText:
			score += 0.2
		case kind == aNumber && isYear(field) && 2*column.years < column.numbers+column.texts+column.dates:
			score++
		case kind == aNumber && counting:
		case kind == aNumber && want == aNumber:
			score--
		case kind == aDate && want == aNumber:
			score++
		case kind == aDate && want == aDate:
			score--
		}
		if lower := strings.ToLower(field); lower != "" {
			if seen[lower] {
				score -= 0.5
			}
			seen[lower] = true
		}
	}
	return score
}

// isCounting reports whether the numbers of a row behind a text count up by one.
func isCounting(fields []string, decimal byte) bool {
	last, counted := math.NaN(), 0
	for _, field := range fields {
		v, _, ok := number([]byte(field), decimal)
		if !ok {
			if counted > 0 {
				return false
			}
			continue
		}
		if counted > 0 && v != last+1 {
			return false
		}
		last = v
		counted++
	}
	return counted > 1 && counted < len(fields)
}

// clearlyBetter is by how much a later row must be more like titles than an earlier one.
const clearlyBetter = 0.9

// behindBlank is how much more a row is like titles where an empty line stands before it.
const behindBlank = 1

// guessTitles finds the row of titles among the first rows: its place, or -1 where there
// is none.
func guessTitles(records []record, width int, decimal byte) int {
	best, bestScore := -1, 0.0
	for i, r := range records[:min(len(records), headRows)] {
		fields := r.trimmed(width)
		if len(fields) != width && !(len(fields) == width-1 && width > 1 && shortTitles(records, i, width)) ||
			filled(fields)*2 < width && filled(fields) < width-1 ||
			width > 2 && filled(fields) == 1 {
			continue
		}
		if i+1 == len(records) {
			break
		}
		under := columnsBelow(records[i+1:], width, decimal)
		if best >= 0 && slices.ContainsFunc(fields, isHidden) {
			continue // titles stand above: this is a row, with a mark of what is not told
		}
		if rowsAbove(records[best+1:i], under, width, decimal)*2 > len(records)-1-i {
			continue // what stands above are the rows
		}
		if len(fields) == width-1 {
			under = under[1:]
		}
		for _, other := range records[:i] { // what stands above too is no title of it
			for j, field := range other.fields[:min(len(other.fields), len(under))] {
				if len(other.fields) == width && field != "" && field == fields[min(j, len(fields)-1)] {
					under[j].levels[field]++
				}
			}
		}
		score := titleScore(fields, under, decimal)
		if i > 0 && r.line > records[i-1].line+1 && best >= 0 && score > 0 {
			score += behindBlank
		}
		if score > 0 && (best < 0 || score > bestScore+clearlyBetter) {
			best, bestScore = i, score
		}
	}
	return best
}

// rowsAbove counts the records that are like what stands below: as wide, with numbers where there are numbers.
func rowsAbove(records []record, under []below, width int, decimal byte) (n int) {
	for _, r := range records {
		fields := r.trimmed(width)
		if len(fields) != width || filled(fields) < min(width, 2) {
			continue
		}
		like := 0
		for i, field := range fields {
			if under[i].kind() == aNumber && kindOfField(field, decimal) == aNumber {
				like++
			}
		}
		if like > 0 {
			n++
		}
	}
	return n
}

// shortTitles reports whether all rows below a row are one field longer: the first one has
// no title, and names the rows.
func shortTitles(records []record, at, width int) bool {
	n := 0
	for _, r := range records[at+1:] {
		if len(r.fields) == width {
			n++
		}
	}
	return n > 0 && 10*n >= 9*(len(records)-at-1)
}

func filled(fields []string) (n int) {
	for _, field := range fields {
		if field != "" {
			n++
		}
	}
	return n
}

// trimmed are the fields without empty ones behind the width of the table.
func (r record) trimmed(width int) []string {
	fields := r.fields
	for len(fields) > width && fields[len(fields)-1] == "" {
		fields = fields[:len(fields)-1]
	}
	return fields
}

// tableWidth is the usual number of fields, without those at the end that are empty in
// every row, as where rows end in a separator.
func tableWidth(records []record) int {
	width := usualWidth(records)
	for width > 1 {
		for _, r := range records {
			if len(r.fields) >= width && r.fields[width-1] != "" {
				return width
			}
		}
		width--
	}
	return width
}

// upperTitles are titles that stand over several columns, in the row above the titles;
// nil where there are none. A title holds for the empty places behind it.
func upperTitles(records []record, title, width int, decimal byte) []string {
	if title < 1 || width < 3 {
		return nil
	}
	fields := slices.Clone(records[title-1].trimmed(width))
	if n := filled(fields); len(fields) < 2 || len(fields) > width || n < 2 || n == width {
		return nil
	}
	if whole := len(records[title-1].fields); whole < width && width-len(fields) > widestSpan(fields) {
		return nil // a remark with a separator in it: the last title would stand over more columns than any other
	}
	for len(fields) < width {
		fields = append(fields, "")
	}
	for _, field := range fields {
		if field != "" && kindOfField(field, decimal) != someText && !isYear(field) {
			return nil
		}
	}
	for i := 1; i < width; i++ {
		if fields[i] == "" {
			fields[i] = fields[i-1]
		}
	}
	return fields
}

// widestSpan is how many columns without a title follow one of the titles but the last, at
// most.
func widestSpan(fields []string) int {
	widest, from := 0, 0
	for i := 1; i < len(fields); i++ {
		if fields[i] != "" {
			widest, from = max(widest, i-from), i
		}
	}
	return widest - 1
}

// joinTitles puts an upper title before the one below it.
func joinTitles(upper, lower []string) []string {
	out := make([]string, len(lower))
	for i, name := range lower {
		out[i] = strings.TrimSpace(upper[i] + " " + name)
		if strings.EqualFold(upper[i], name) || i > 0 && name != "" && upper[i] == upper[0] && upper[0] == lower[0] {
			out[i] = name
		}
	}
	return out
}

// knownUnits are units as they stand alone under a title.
var knownUnits = func() map[string]bool {
	known := map[string]bool{}
	for _, unit := range strings.Fields(`kg g mg µg ug ng t lb lbs oz m cm mm µm um nm km mi ft in yd s sec ms µs min h hr hrs d day days wk week weeks month months yr yrs year years
		% ‰ °C °F ℃ degC degF deg ° rad C F K ha ac m2 m² km2 km² m3 m³ cm3 l L dl ml mL µl gal W kW MW Wh kWh MWh V mV A mA Hz kHz MHz GHz Pa hPa kPa MPa bar mbar psi atm N kN J kJ MJ cal kcal
		mol mmol µmol M mM ppm ppb pH dB lx lm cd px B kB MB GB count counts number n no # ratio index rank score units unit each € $ £ ¥ USD EUR GBP CHF SEK NOK DKK JPY CNY INR gapi ohmm v/v g/cc us/ft`) {
		known[unit] = true
	}
	return known
}()

// unitOf gives what a field says as a unit, without its brackets; empty if it is none.
func unitOf(field string) string {
	bare, bracketed := field, false
	for _, pair := range []string{"()", "[]", "{}"} {
		if len(field) > 2 && field[0] == pair[0] && field[len(field)-1] == pair[1] {
			bare, bracketed = strings.TrimSpace(field[1:len(field)-1]), true
		}
	}
	switch {
	case bracketed && len(bare) <= 30, knownUnits[bare], knownUnits[strings.ToLower(bare)] && len(bare) > 1:
		return bare
	}
	for _, sign := range []string{" per ", "/", "·", "*", "^", " "} {
		if parts := strings.Split(bare, sign); len(parts) > 1 && len(parts) < 4 && len(bare) <= 30 &&
			knownUnits[strings.TrimRight(strings.TrimSpace(parts[0]), "0123456789⁻¹²³-")] {
			return bare
		}
	}
	return ""
}

// unitsBelow reads the row under the titles as units; nil where it holds none: every field
// over numbers that is filled must be a unit, and there must be one.
func unitsBelow(fields []string, under []below, decimal byte) []string {
	units, found, words, marks := make([]string, len(under)), false, false, false
	if len(fields) > len(under) {
		return nil
	}
	for i, field := range fields {
		kind := kindOfField(field, decimal)
		if kind == aNumber || kind == aDate {
			return nil
		}
		if under[i].kind() != aNumber {
			if bare, brackets := bracketed(field); kind == someText && !brackets && !knownUnits[bare] {
				words = true
			}
			continue
		}
		if bare, brackets := bracketed(field); brackets && isHidden(field) && !knownUnits[bare] {
			marks = true
		}
		if units[i] = unitOf(field); units[i] == "" && kind == someText && field != "-" && field != "–" && field != "none" {
			return nil
		}
		found = found || units[i] != ""
	}
	if !found || words && marks { // a row with a name, and marks of what is not told
		return nil
	}
	return units
}
