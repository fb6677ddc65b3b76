package reader

import (
	"math"
	"sort"
	"strings"

	"copperlark/core/table"
)

// A column is still one of numbers when at most one value in a hundred cannot
// be read as one; those are reported, with their lines, and become missing.
const misfitShare = 0.01

func mostlyNumbers(values, misfits int) bool {
	return values > 0 && float64(misfits) <= misfitShare*float64(values)
}

// isCode reports whether a number is written with zeros before it, as codes of places
// and articles are. 0.5, 007.5 and 0 are no codes.
func isCode(field []byte) bool {
	if len(field) < 2 || field[0] != '0' {
		return false
	}
	for _, c := range field[1:] {
		if c < '0' || c > '9' {
			return false
		}
	}
	return true
}

// settle makes a column of what a walk found, or says how it must be read again.
func (b *building) settle(c *table.Column, p *piece) attempt {
	switch p.attempt {
	case asNumbers:
		if !p.final && (p.failed || p.isCode || !mostlyNumbers(p.values, p.misfits)) {
			return asTexts
		}
		c.Numbers = p.numbers
		b.finishNumbers(c, p)
	case asDates:
		if p.failed {
			return asTexts
		}
		c.Numbers = p.numbers
		b.finishDates(c, p)
	default:
		return b.settleTexts(c, p)
	}
	splitUnit(c)
	return settled
}

// settleTexts finds out what texts are, from each different one and how often it
// stands there.
func (b *building) settleTexts(c *table.Column, p *piece) attempt {
	found := *p
	found.levels = p.coder.Levels()
	values := make([]float64, len(found.levels))
	tried := false
	for code, level := range found.levels {
		found.values += p.counts[code]
		v, sign, ok := number([]byte(level), b.layout.decimal)
		if ok {
			values[code] = v
			found.isCode = found.isCode || !b.measured && isCode([]byte(level))
			found.dates = [dateForms]bool{}
			if sign != "" {
				found.signs[sign] += p.counts[code]
			}
			continue
		}
		found.misfits += p.counts[code]
		if len(found.firstBad) == 0 {
			found.firstBad = append(found.firstBad, misfit{0, level})
		}
		found.tryDates([]byte(level))
		tried = true
	}
	form, isDate := found.dateForm()
	switch {
	case !found.isCode && mostlyNumbers(found.values, found.misfits):
		if found.misfits > 0 {
			return asNumbers // once more, for the lines of the misfits
		}
		c.Numbers = decoded(p.codes, values)
		b.finishNumbers(c, &found)
	case tried && isDate:
		for code, level := range found.levels {
			values[code], _, _ = date([]byte(level), form)
		}
		c.Numbers = decoded(p.codes, values)
		b.finishDates(c, &found)
	default:
		c.Kind, c.Codes, c.Levels = table.Text, p.codes, found.levels
		SettleTexts(c)
	}
	splitUnit(c)
	return settled
}

// decoded gives each row the value of its code.
func decoded(codes []int32, values []float64) []float64 {
	numbers := make([]float64, len(codes))
	for row, code := range codes {
		numbers[row] = math.NaN()
		if code >= 0 {
			numbers[row] = values[code]
		}
	}
	return numbers
}

func (p *piece) tryDates(field []byte) {
	for form := range dateForms {
		if !p.dates[form] {
			continue
		}
		_, withTime, ok := date(field, form)
		p.dates[form] = ok
		p.withTime = p.withTime || (ok && withTime)
	}
}

// dateForm is the first form in which every value can be read.
func (p *piece) dateForm() (dateForm, bool) {
	for form, possible := range p.dates {
		if possible {
			return dateForm(form), true
		}
	}
	return dateForms, false
}

func (b *building) finishDates(c *table.Column, p *piece) {
	c.Kind, c.Grain = table.Date, table.Day
	if p.withTime {
		c.Grain = table.Second
	}
	if p.dates[dayFirst] && p.dates[monthFirst] {
		b.report.Note(0, c.Name, "dates such as %s can be read two ways; the day was taken to come first", p.firstBad[0].text)
	}
}

func (b *building) finishNumbers(c *table.Column, p *piece) {
	c.Kind = table.Number
	for _, bad := range p.firstBad {
		b.report.Note(bad.line, c.Name, "%q is not a number and was read as missing", bad.text)
	}
	if hidden := p.misfits - len(p.firstBad); hidden > 0 {
		b.report.Note(0, c.Name, "%d more values are not numbers and were read as missing", hidden)
	}
	for sign, count := range p.signs {
		if 2*count > p.values {
			c.Unit = sign
		}
	}
	if !b.measured {
		SettleNumbers(c)
	}
}

// SettleNumbers reads a column of numbers under construction as what people mean by
// them: a few years are ordered groups, 0 and 1 are no and yes.
func SettleNumbers(c *table.Column) {
	if years := yearLevels(c.Numbers); years != nil {
		c.Kind, c.Levels, c.Codes, c.Numbers = table.Ordered, years.Levels, years.Codes, nil
		return
	}
	zeros, ones := false, false
	for _, v := range c.Numbers {
		switch {
		case v == 0:
			zeros = true
		case v == 1:
			ones = true
		case !math.IsNaN(v):
			return
		}
	}
	if zeros && ones {
		c.Kind, c.Levels = table.YesNo, []string{"no", "yes"}
		c.Codes = make([]int32, len(c.Numbers))
		for i, v := range c.Numbers {
			c.Codes[i] = table.MissingCode
			if !math.IsNaN(v) {
				c.Codes[i] = int32(v)
			}
		}
		c.Numbers = nil
	}
}

// yearLevels reads a column of a few years as ordered groups: at most 12 whole
// numbers from 1800 to 2200, more than one of them. It gives nil for others.
func yearLevels(values []float64) *table.Column {
	for _, v := range values {
		if !math.IsNaN(v) && (v < 1800 || v > 2200 || v != math.Trunc(v)) {
			return nil
		}
	}
	groups := table.NewNumbers("", values).AsGroups(12)
	if groups == nil || len(groups.Levels) < 2 {
		return nil
	}
	return groups
}

var (
	yesWords = map[string]string{"yes": "no", "true": "false", "y": "n"}
	// knownOrders are words whose order everybody knows.
	knownOrders = [][]string{
		{"very low", "low", "medium", "high", "very high"},
		{"none", "low", "middle", "high"},
		{"tiny", "small", "medium", "large", "huge"},
		{"never", "rarely", "sometimes", "often", "always"},
		{"poor", "fair", "good", "very good", "excellent"},
		{"mon", "tue", "wed", "thu", "fri", "sat", "sun"},
		{"monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday"},
		{"jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec"},
		{"january", "february", "march", "april", "may", "june", "july", "august", "september", "october", "november", "december"},
	}
)

// maxCategoryLevels is the most levels that still make a category by itself;
// beyond it a column is text until somebody says otherwise.
const maxCategoryLevels = 100

// SettleTexts reads a column of texts under construction as groups where it has few
// different ones: yes / no, words with a known order, or categories.
func SettleTexts(c *table.Column) {
	present := len(c.Codes) - c.MissingCount()
	if len(c.Levels) == 0 {
		c.Kind = table.Category // nothing but missing values
		return
	}
	if len(c.Levels) > maxCategoryLevels || (2*len(c.Levels) > present && present > 10) {
		return // stays text, in order of appearance
	}
	c.Kind = table.Category
	if len(c.Levels) == 2 {
		for yes, no := range yesWords {
			if isPair(c.Levels, yes, no) {
				c.Kind = table.YesNo
				c.SortLevels(func(a, b string) bool { return strings.EqualFold(a, no) && !strings.EqualFold(b, no) })
				return
			}
		}
	}
	for _, order := range knownOrders {
		rank := map[string]int{}
		for i, word := range order {
			rank[word] = i
		}
		known := len(c.Levels) >= 2
		for _, level := range c.Levels {
			_, ok := rank[strings.ToLower(level)]
			known = known && ok
		}
		if known {
			c.Kind = table.Ordered
			c.SortLevels(func(a, b string) bool { return rank[strings.ToLower(a)] < rank[strings.ToLower(b)] })
			return
		}
	}
	c.SortLevels(nil)
}

func isPair(levels []string, yes, no string) bool {
	pair := []string{strings.ToLower(levels[0]), strings.ToLower(levels[1])}
	sort.Strings(pair)
	want := []string{yes, no}
	sort.Strings(want)
	return pair[0] == want[0] && pair[1] == want[1]
}

// splitUnit takes a unit from a name such as "Honey yield (kg per hive)" or
// "width [mm]" into the column's unit; the name itself stays as it is.
func splitUnit(c *table.Column) {
	if c.Unit != "" || c.Kind.Coded() {
		return
	}
	for _, brackets := range []string{"()", "[]"} {
		open := strings.IndexByte(c.Name, brackets[0])
		if open > 0 && strings.HasSuffix(c.Name, brackets[1:]) {
			c.Unit = strings.TrimSpace(c.Name[open+1 : len(c.Name)-1])
			c.Label = table.Readable(strings.TrimSpace(c.Name[:open]))
			return
		}
	}
}

func clip(text string) string {
	if runes := []rune(text); len(runes) > 40 {
		return string(runes[:40]) + "…"
	}
	return text
}
