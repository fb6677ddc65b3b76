package table

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"
)

// NewNumbers makes a column of numbers; NaN is missing. The slice is kept.
func NewNumbers(name string, values []float64) *Column {
	return &Column{Name: name, Kind: Number, Numbers: values}
}

// NewCategory makes a column of categories with its levels in alphabetical
// order; "" is missing.
func NewCategory(name string, values []string) *Column {
	coder := NewCoder()
	codes := make([]int32, len(values))
	for i, v := range values {
		if v == "" {
			codes[i] = MissingCode
			continue
		}
		codes[i] = coder.Code([]byte(v))
	}
	c := &Column{Name: name, Kind: Category, Codes: codes, Levels: coder.Levels()}
	c.SortLevels(nil)
	return c
}

// Coder gives each different text a code, in order of first appearance.
type Coder struct {
	codes  map[string]int32
	levels []string
	recent [512]shortText
}

// shortText is a text of at most 7 bytes that was seen lately: the bytes and their
// number in one word, and its code.
type shortText struct {
	word uint64
	code int32
}

// NewCoder makes an empty coder.
func NewCoder() *Coder { return &Coder{codes: map[string]int32{}} }

// Code gives the code of a text, making a new one when it was not seen before.
func (c *Coder) Code(text []byte) int32 {
	var recent *shortText
	word := uint64(len(text))
	if len(text) < 8 {
		for _, b := range text {
			word = word<<8 | uint64(b)
		}
		recent = &c.recent[word*0x9E3779B97F4A7C15>>55] // Fibonacci hashing: Knuth, vol. 3, 6.4
		if recent.word == word && word != 0 {
			return recent.code
		}
	}
	if code, ok := c.codes[string(text)]; ok { // no allocation: the compiler knows this form
		if recent != nil {
			*recent = shortText{word, code}
		}
		return code
	}
	level := string(text)
	code := int32(len(c.levels))
	c.codes[level] = code
	c.levels = append(c.levels, level)
	return code
}

// Levels lists the texts by code.
func (c *Coder) Levels() []string { return c.levels }

// SortLevels puts the levels of a column under construction in order and
// rewrites its codes. A nil less means alphabetical order. It is for builders:
// a column that is part of a table is not to be changed.
func (c *Column) SortLevels(less func(a, b string) bool) {
	if less == nil {
		less = func(a, b string) bool { return a < b }
	}
	order := make([]int, len(c.Levels))
	for i := range order {
		order[i] = i
	}
	sort.SliceStable(order, func(i, j int) bool { return less(c.Levels[order[i]], c.Levels[order[j]]) })
	levels := make([]string, len(order))
	newCode := make([]int32, len(order))
	for position, old := range order {
		levels[position] = c.Levels[old]
		newCode[old] = int32(position)
	}
	for i, code := range c.Codes {
		if code >= 0 {
			c.Codes[i] = newCode[code]
		}
	}
	c.Levels = levels
}

// TopGroups gives a column of groups with the n most frequent of them, in the order of its
// levels, and the rest as one that says how many they are. Of groups that are as frequent the
// first count. Where there are no more than n it is the column itself.
func (c *Column) TopGroups(n int) *Column {
	if len(c.Levels) <= n {
		return c
	}
	counts, order := make([]int, len(c.Levels)), make([]int, len(c.Levels))
	for i := range order {
		order[i] = i
	}
	for _, code := range c.Codes {
		if code >= 0 {
			counts[code]++
		}
	}
	sort.SliceStable(order, func(i, j int) bool { return counts[order[i]] > counts[order[j]] })
	top := order[:n]
	sort.Ints(top)
	place := make([]int32, len(c.Levels))
	for i := range place {
		place[i] = int32(n)
	}
	levels := make([]string, 0, n+1)
	for i, level := range top {
		place[level] = int32(i)
		levels = append(levels, c.Levels[level])
	}
	codes := make([]int32, len(c.Codes))
	for i, code := range c.Codes {
		codes[i] = MissingCode
		if code >= 0 {
			codes[i] = place[code]
		}
	}
	return &Column{
		Name:    c.Name,
		Label:   c.Label,
		Unit:    c.Unit,
		Meaning: c.Meaning,
		Kind:    Category,
		Codes:   codes,
		Levels:  append(levels, fmt.Sprintf("%d others", len(c.Levels)-n)),
		Colours: c.Colours,
	}
}

// SuggestsGroups reports whether a column of numbers is better read as groups:
// at most 12 distinct values, all whole.
func (c *Column) SuggestsGroups() bool {
	if c.Kind != Number {
		return false
	}
	var seen [12]float64
	distinct := 0
next:
	for i, v := range c.Numbers {
		if c.Missing(i) {
			continue
		}
		if v != float64(int64(v)) {
			return false
		}
		for _, s := range seen[:distinct] {
			if s == v {
				continue next
			}
		}
		if distinct == len(seen) {
			return false
		}
		seen[distinct] = v
		distinct++
	}
	return distinct > 0
}

// Select gives a new table with the given rows, in the given order.
func (t *Table) Select(rows []int) *Table {
	columns := make([]*Column, len(t.columns))
	for i, c := range t.columns {
		columns[i] = c.Pick(rows)
	}
	return &Table{columns: columns, byName: t.byName, rows: len(rows)}
}

// Pick gives a new column with the given rows, in the given order; a row below 0
// gives a missing value.
func (c *Column) Pick(rows []int) *Column {
	picked := *c
	if c.Kind.Coded() {
		picked.Codes = make([]int32, len(rows))
		for j, r := range rows {
			picked.Codes[j] = MissingCode
			if r >= 0 {
				picked.Codes[j] = c.Codes[r]
			}
		}
		return &picked
	}
	picked.Numbers = make([]float64, len(rows))
	for j, r := range rows {
		picked.Numbers[j] = math.NaN()
		if r >= 0 {
			picked.Numbers[j] = c.Numbers[r]
		}
	}
	return &picked
}

// Ordering compares rows by a column, for sorting: numbers and dates by size, groups in
// the order of their levels, texts by the alphabet; missing values last either way.
func (c *Column) Ordering(descending bool) func(i, j int) int {
	sign := 1
	if descending {
		sign = -1
	}
	value := func(row int) float64 { return c.Numbers[row] }
	if c.Kind.Coded() {
		place := make([]float64, len(c.Levels))
		order := make([]int, len(c.Levels))
		for i := range order {
			order[i] = i
		}
		if c.Kind == Text {
			slices.SortStableFunc(order, func(i, j int) int { return strings.Compare(c.Levels[i], c.Levels[j]) })
		}
		for i, level := range order {
			place[level] = float64(i)
		}
		value = func(row int) float64 { return place[c.Codes[row]] }
	}
	return func(i, j int) int {
		switch a, b := c.Missing(i), c.Missing(j); {
		case a && b:
			return 0
		case a:
			return 1
		case b:
			return -1
		}
		return sign * cmp.Compare(value(i), value(j))
	}
}

// UsedLevels gives the column without the levels that no row has; a column of numbers as
// it is.
func (c *Column) UsedLevels() *Column {
	if !c.Kind.Coded() {
		return c
	}
	used := make([]bool, len(c.Levels))
	for _, code := range c.Codes {
		if code >= 0 {
			used[code] = true
		}
	}
	out, place := *c, make([]int32, len(c.Levels))
	out.Levels, out.Codes = []string{}, make([]int32, len(c.Codes))
	for level, is := range used {
		if is {
			place[level] = int32(len(out.Levels))
			out.Levels = append(out.Levels, c.Levels[level])
		}
	}
	for i, code := range c.Codes {
		out.Codes[i] = MissingCode
		if code >= 0 {
			out.Codes[i] = place[code]
		}
	}
	return &out
}
