package files

import (
	"context"
	"fmt"
	"maps"
	"math"
	"slices"
	"strings"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// variables collects the values of a file of a statistics package, row by row, into
// columns: numbers whose codes for what is missing have names, values that have names,
// dates counted from a day of the package's own, texts padded to one width.
type variables struct {
	list   []*variable
	report *reader.Report
}

// variable is one of them. read gives the value of a row from its bytes.
type variable struct {
	column    *table.Column
	coder     *table.Coder            // of texts
	names     map[float64]string      // of values
	textNames map[string]string       // of texts that are codes
	codes     map[string]int          // how many values each code for missing ones stands for
	strange   int                     // dates outside of any calendar
	dated     func(v float64) float64 // of dates that are counted in no seconds: seconds from 1970
	epoch     float64                 // of dates: seconds from 1970 to the day from which they are counted
	scale     float64                 // seconds a unit, of dates and durations; 0: a plain number
}

// The days from which packages count, as seconds from 1970.
const (
	from1960 = -3653 * 86_400
	from1582 = -141_428 * 86_400 // 14 October
)

// Dates are those from the year 1 to 9999, in seconds from 1970.
const firstDate, lastDate = -62_135_596_800, 253_402_300_799

// number keeps a value; math.NaN() is a missing one, for which code may be the name.
func (v *variable) number(value float64, code string) {
	if code != "" {
		if v.codes == nil {
			v.codes = map[string]int{}
		}
		v.codes[code]++
	}
	if math.IsInf(value, 0) {
		value = math.NaN()
	}
	switch {
	case v.dated != nil:
		value = v.dated(value)
	case v.scale != 0:
		value = value*v.scale + v.epoch
	}
	if v.column.Kind == table.Date {
		if v.column.Grain == table.Day {
			value = math.Floor(value/86_400) * 86_400
		}
		if value < firstDate || value > lastDate {
			value = math.NaN()
			v.strange++
		}
	}
	v.column.Numbers = append(v.column.Numbers, value)
}

// text keeps a text as its bytes stand in the file, without what pads it; an empty one
// is missing.
func (v *variable) text(raw []byte) {
	code := table.MissingCode
	if raw = trimmed(raw); len(raw) > 0 {
		code = v.coder.Code(raw)
	}
	v.column.Codes = append(v.column.Codes, code)
}

// missingText is a text that stands for a missing one.
func (v *variable) missingText(code string) {
	if v.codes == nil {
		v.codes = map[string]int{}
	}
	v.codes[code]++
	v.column.Codes = append(v.column.Codes, table.MissingCode)
}

// nameText gives a text that is a code its name.
func (v *variable) nameText(text, name string) {
	if v.textNames == nil {
		v.textNames = map[string]string{}
	}
	v.textNames[text] = name
}

// trimmed is a padded text without its padding: zero bytes end it, blanks fill it up.
func trimmed(raw []byte) []byte {
	for i, b := range raw {
		if b == 0 {
			raw = raw[:i]
			break
		}
	}
	for len(raw) > 0 && raw[len(raw)-1] == ' ' {
		raw = raw[:len(raw)-1]
	}
	return raw
}

// table finishes the columns. encoding is that of the texts where the file says it,
// or what a person chose; empty: found out from all of them.
func (vs *variables) table(ctx context.Context, encoding string, options reader.Options) (*table.Table, error) {
	if err := vs.decode(encoding); err != nil {
		return nil, err
	}
	names := make([]string, len(vs.list))
	for i, v := range vs.list {
		names[i] = v.column.Name
	}
	for i, name := range reader.DistinctNames(names, vs.report) {
		vs.list[i].column.Name = name
	}
	columns := make([]*table.Column, len(vs.list))
	for i, v := range vs.list {
		if err := ctx.Err(); err != nil {
			return nil, err
		}
		vs.settle(v, options.As[v.column.Name])
		columns[i] = v.column
	}
	columns, err := reader.Kept(columns, options.Keep)
	if err != nil {
		return nil, err
	}
	return table.New(columns...)
}

// decode turns the bytes of names, meanings and texts into letters, all by one encoding.
func (vs *variables) decode(encoding string) error {
	var all []byte
	for _, v := range vs.list {
		all = append(append(append(all, v.column.Name...), v.column.Meaning...), '\n')
		for _, name := range v.names {
			all = append(append(all, name...), '\n')
		}
		for text, name := range v.textNames {
			all = append(append(append(all, text...), name...), '\n')
		}
		if v.coder != nil {
			for _, level := range v.coder.Levels() {
				all = append(append(all, level...), '\n')
			}
		}
	}
	name, letters, err := reader.Letters(all, encoding)
	if err != nil {
		return err
	}
	vs.report.Encoding = name
	for _, v := range vs.list {
		v.column.Name, v.column.Meaning = letters(v.column.Name), letters(v.column.Meaning)
		for value, name := range v.names {
			v.names[value] = letters(name)
		}
		v.codes = inLetters(v.codes, letters, func(n int) int { return n })
		v.textNames = inLetters(v.textNames, letters, letters)
		if v.coder == nil {
			continue
		}
		coder, meant := table.NewCoder(), []int32{}
		for _, level := range v.coder.Levels() {
			meant = append(meant, coder.Code([]byte(letters(level))))
		}
		for row, code := range v.column.Codes {
			if code >= 0 {
				v.column.Codes[row] = meant[code]
			}
		}
		v.column.Levels = coder.Levels()
	}
	return nil
}

// settle decides what a column is, and says what was read otherwise than it stands there.
func (vs *variables) settle(v *variable, wanted string) {
	c := v.column
	if len(v.codes) > 0 {
		var said []string
		for _, code := range slices.Sorted(maps.Keys(v.codes)) {
			said = append(said, fmt.Sprintf("%s (%d)", code, v.codes[code]))
		}
		vs.report.Note(0, c.Name, "codes for missing values were read as missing: %s", strings.Join(said[:min(len(said), 12)], ", "))
	}
	if v.strange > 0 {
		vs.report.Note(0, c.Name, "dates before the year 1 or after 9999 were read as missing: %d", v.strange)
	}
	switch {
	case v.coder != nil:
		vs.namedTexts(v, wanted)
		reader.SettleTexts(c)
	case c.Kind == table.Number && len(v.names) > 0 && vs.named(v, wanted):
	case c.Kind == table.Number && wanted == "":
		reader.SettleNumbers(c)
	}
}

// named makes groups of a column whose values all have names, in the order of the values;
// false: it stays a column of numbers, since some have none or a person wants numbers.
func (vs *variables) named(v *variable, wanted string) bool {
	c := v.column
	present, bare := map[float64]bool{}, 0
	for _, value := range c.Numbers {
		if value != value || present[value] {
			continue
		}
		if _, has := v.names[value]; !has {
			bare++
		}
		present[value] = true
		if bare > 0 && len(present) > len(v.names)+bare {
			break
		}
	}
	if len(present) == 0 {
		return false
	}
	if wanted == string(reader.OfferUnnamed) || wanted == string(reader.OfferNumber) {
		vs.report.Note(0, c.Name, "the values have names, which were left out: the column is read as numbers")
		return true
	}
	if bare > 0 {
		vs.report.Note(0, c.Name, "some values have names and others have none, so that the column holds numbers; named are %s", namesOf(v.names))
		return false
	}
	rank, coder := map[string]float64{}, table.NewCoder()
	known := map[float64]int32{}
	for _, value := range slices.Sorted(maps.Keys(present)) {
		name := v.names[value]
		if _, twice := rank[name]; !twice {
			rank[name] = value
		}
		known[value] = coder.Code([]byte(name))
	}
	for _, value := range c.Numbers {
		code := table.MissingCode
		if value == value {
			code = known[value]
		}
		c.Codes = append(c.Codes, code)
	}
	c.Kind, c.Levels, c.Numbers, c.Decimals = table.Text, coder.Levels(), nil, 0
	reader.SettleTexts(c)
	if c.Kind == table.Text {
		c.Kind = table.Category // somebody gave each of them a name
	}
	if c.Kind == table.Category {
		c.SortLevels(func(a, b string) bool { return rank[a] < rank[b] })
	}
	vs.report.Note(0, c.Name, "the names of the values were read in place of the numbers: %s", namesOf(v.names))
	vs.report.Offer(reader.OfferUnnamed)
	return true
}

// namedTexts puts names in place of texts that are codes, where all of them have one.
func (vs *variables) namedTexts(v *variable, wanted string) {
	c := v.column
	if len(v.textNames) == 0 || wanted == string(reader.OfferUnnamed) {
		return
	}
	coder, meant := table.NewCoder(), make([]int32, len(c.Levels))
	for i, level := range c.Levels {
		name, has := v.textNames[level]
		if !has {
			vs.report.Note(0, c.Name, "some texts have names and others have none, so that the texts stay as they are")
			return
		}
		meant[i] = coder.Code([]byte(name))
	}
	for row, code := range c.Codes {
		if code >= 0 {
			c.Codes[row] = meant[code]
		}
	}
	c.Levels = coder.Levels()
	vs.report.Note(0, c.Name, "the names of the texts were read in place of them")
	vs.report.Offer(reader.OfferUnnamed)
}

// inLetters reads the keys of a list, and what they stand for, as letters.
func inLetters[V any](list map[string]V, key func(string) string, value func(V) V) map[string]V {
	if list == nil {
		return nil
	}
	out := make(map[string]V, len(list))
	for k, v := range list {
		out[key(k)] = value(v)
	}
	return out
}

// namesOf lists a few names of values, in their order.
func namesOf(names map[float64]string) string {
	var said []string
	for _, value := range slices.Sorted(maps.Keys(names)) {
		if len(said) == 6 {
			return strings.Join(said, ", ") + fmt.Sprintf(" and %d more", len(names)-6)
		}
		letters := []rune(names[value])
		if len(letters) > 40 {
			letters = append(letters[:39], '…')
		}
		said = append(said, fmt.Sprintf("%g is %s", value, string(letters)))
	}
	return strings.Join(said, ", ")
}
