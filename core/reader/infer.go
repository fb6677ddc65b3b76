package reader

import (
	"bytes"
	"context"
	"fmt"
	"math"
	"runtime"
	"sort"
	"strings"
	"sync"

	"copperlark/core/table"
)

// building holds one read of a file. The text is walked over twice: first
// every column is tried as numbers, and what else it could be is noted; then
// the columns that are not numbers are read as dates, yes / no or texts.
type building struct {
	text     []byte
	layout   layout
	names    []string
	report   *Report
	progress func(done, total int64)
	measured bool
	guesses  []*guess
	rows     int
}

// guess is what is known of one column after the first walk.
type guess struct {
	numbers  []float64
	values   int // fields that are not missing
	misfits  int // of these, not numbers
	firstBad []misfit
	signs    map[string]int
	dates    [dateForms]bool // every value so far can be read so
	withTime bool
	tried    int  // values tried as dates
	given    bool // up as a column of numbers
	codes    bool // a value such as 08123: a code, whose zeros belong to it
}

type misfit struct {
	line int
	text string
}

// A column is still one of numbers when at most one value in a hundred cannot
// be read as one; those are reported, with their lines, and become missing.
const misfitShare = 0.01

// giveUp stops the collecting of numbers for a column that is plainly not one of
// numbers. It holds for good: the numbers kept so far have gaps from then on.
func (g *guess) giveUp() {
	if g.misfits > 100 && float64(g.misfits) > 0.2*float64(g.values) {
		g.given, g.numbers = true, nil
	}
}

func (g *guess) isNumber() bool {
	return !g.given && !g.codes && g.values > 0 && float64(g.misfits) <= misfitShare*float64(g.values)
}

func (b *building) columns(ctx context.Context) ([]*table.Column, error) {
	b.guesses = make([]*guess, len(b.names))
	for i := range b.guesses {
		b.guesses[i] = &guess{signs: map[string]int{}, dates: [dateForms]bool{true, true, true, true}}
	}
	if err := b.walk(ctx, 0, b.first); err != nil {
		return nil, err
	}
	columns := make([]*table.Column, len(b.names))
	coders := make([]*table.Coder, len(b.names))
	forms := make([]dateForm, len(b.names))
	for i, g := range b.guesses {
		columns[i] = &table.Column{Name: b.names[i]}
		forms[i] = dateForms
		switch form, isDate := g.dateForm(); {
		case g.isNumber():
			b.finishNumbers(columns[i], g)
		case isDate:
			columns[i].Kind, columns[i].Grain, forms[i] = table.Date, table.Day, form
			if g.withTime {
				columns[i].Grain = table.Second
			}
			columns[i].Numbers = make([]float64, b.rows)
			b.noteAmbiguous(columns[i], g)
		default:
			columns[i].Kind = table.Text
			columns[i].Codes = make([]int32, b.rows)
			coders[i] = table.NewCoder()
		}
		g.numbers = nil
		splitUnit(columns[i])
	}
	err := b.walk(ctx, 1, func(row, _, column int, field []byte) {
		c := columns[column]
		switch {
		case forms[column] != dateForms:
			seconds, _, ok := date(field, forms[column])
			if !ok {
				seconds = math.NaN()
			}
			c.Numbers[row] = seconds
		case coders[column] != nil:
			c.Codes[row] = table.MissingCode
			if !isMissing(field) {
				c.Codes[row] = coders[column].Code(field)
			}
		}
	})
	if err != nil {
		return nil, err
	}
	for i, coder := range coders {
		if coder != nil {
			columns[i].Levels = coder.Levels()
			SettleTexts(columns[i])
		}
	}
	return columns, nil
}

// ragSlack bounds how much larger than the file a table of mostly empty rows may
// become: a file in which every cell is written has a separator for each.
const ragSlack = 100_000

// walk calls visit with every trimmed field of every row of values, missing ones
// included, and pads rows that are too short. Each core walks over the whole text
// and visits columns of its own: finding the fields is quick, reading them is not.
func (b *building) walk(ctx context.Context, pass int64, visit func(row, line, column int, field []byte)) error {
	workers := max(1, min(runtime.GOMAXPROCS(0), len(b.names)))
	if len(b.text) < parallelBytes {
		workers = 1
	}
	errs := make([]error, workers)
	var wait sync.WaitGroup
	for worker := 1; worker < workers; worker++ {
		wait.Add(1)
		go func() {
			defer wait.Done()
			_, errs[worker] = b.walkColumns(ctx, pass, worker, workers, visit)
		}()
	}
	b.rows, errs[0] = b.walkColumns(ctx, pass, 0, workers, visit)
	wait.Wait()
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	if b.rows == 0 {
		return &Error{Line: 1, Problem: "the file has a title row and no rows of values",
			Advice: "check that the whole table was exported"}
	}
	return nil
}

// parallelBytes is the size from which a text is read on all cores.
const parallelBytes = 1 << 18

// walkColumns visits every workers-th column from the worker's own on; worker 0 also
// reports progress and rows of another width.
func (b *building) walkColumns(ctx context.Context, pass int64, worker, workers int, visit func(row, line, column int, field []byte)) (rows int, err error) {
	scan := newScanner(b.text, b.layout.separator)
	for range b.layout.firstData {
		if more, err := scan.next(); !more || err != nil {
			return 0, err
		}
	}
	for row := 0; ; row++ {
		if row%4096 == 0 {
			if err := ctx.Err(); err != nil {
				return 0, err
			}
			if b.progress != nil && worker == 0 {
				b.progress(pass*int64(len(b.text))+int64(scan.position), 2*int64(len(b.text)))
			}
		}
		more, err := scan.next()
		if err != nil || !more {
			return row, err
		}
		if cells := (row + 1) * len(b.names); cells > len(b.text)+ragSlack {
			return 0, &Error{Line: scan.line, Problem: fmt.Sprintf("the title row has %d names and most rows have far fewer values", len(b.names)),
				Advice: "choose another separator or title row"}
		}
		for column := worker; column < len(b.names); column += workers {
			var field []byte
			if column < len(scan.fields) {
				field = trim(scan.fields[column])
			}
			visit(row, scan.line, column, field)
		}
		if pass == 0 && worker == 0 {
			b.noteWidth(scan)
		}
	}
}

func trim(field []byte) []byte {
	if len(field) > 0 && (field[0] <= ' ' || field[len(field)-1] <= ' ' || field[0] >= 0x80 || field[len(field)-1] >= 0x80) {
		return bytes.TrimSpace(field)
	}
	return field
}

func (b *building) noteWidth(scan *scanner) {
	if got, want := len(scan.fields), len(b.names); got < want {
		b.report.note(scan.line, "", "the row has %d of %d values; the rest is missing", got, want)
	} else if got > want {
		for _, extra := range scan.fields[want:] {
			if len(bytes.TrimSpace(extra)) > 0 {
				b.report.note(scan.line, "", "the row has %d values for %d columns; from %q on it was left out", got, want, clip(string(extra)))
				return
			}
		}
	}
}

// first is the visit of the first walk.
func (b *building) first(_, line, column int, field []byte) {
	g := b.guesses[column]
	if g.given && !g.anyDate() {
		return
	}
	value := math.NaN()
	if !isMissing(field) {
		g.values++
		if v, sign, ok := number(field, b.layout.decimal); ok {
			g.codes = g.codes || !b.measured && isCode(field)
			value = v
			if sign != "" {
				g.signs[sign]++
			}
			g.dates = [dateForms]bool{}
		} else {
			g.misfits++
			if len(g.firstBad) < 5 {
				g.firstBad = append(g.firstBad, misfit{line, clip(string(field))})
			}
			g.tryDates(field)
			g.giveUp()
		}
	}
	if !g.given {
		g.numbers = append(g.numbers, value)
	}
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

func (g *guess) anyDate() bool {
	for _, possible := range g.dates {
		if possible {
			return true
		}
	}
	return false
}

func (g *guess) tryDates(field []byte) {
	g.tried++
	for form := range dateForms {
		if !g.dates[form] {
			continue
		}
		_, withTime, ok := date(field, form)
		g.dates[form] = ok
		g.withTime = g.withTime || (ok && withTime)
	}
}

func (g *guess) dateForm() (dateForm, bool) {
	if g.tried == 0 {
		return dateForms, false
	}
	for form, possible := range g.dates {
		if possible {
			return dateForm(form), true
		}
	}
	return dateForms, false
}

func (b *building) noteAmbiguous(c *table.Column, g *guess) {
	if g.dates[dayFirst] && g.dates[monthFirst] {
		b.report.note(0, c.Name, "dates such as %s can be read two ways; the day was taken to come first", g.firstBad[0].text)
	}
}

func (b *building) finishNumbers(c *table.Column, g *guess) {
	c.Kind, c.Numbers = table.Number, g.numbers
	for _, bad := range g.firstBad {
		b.report.note(bad.line, c.Name, "%q is not a number and was read as missing", bad.text)
	}
	if hidden := g.misfits - len(g.firstBad); hidden > 0 {
		b.report.note(0, c.Name, "%d more values are not numbers and were read as missing", hidden)
	}
	for sign, count := range g.signs {
		if 2*count > g.values {
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
