package table

import (
	"fmt"
	"math"
	"slices"
	"strings"
)

// Appended gives a table with the rows of another one behind its own, and how many of its own rows they took the place of.
// Columns go together by their names; one that the other table lacks is missing in its rows, one that only it has is an error,
// as is one whose values are of another kind. With keys, columns whose values together tell the rows of t apart, a row of the
// other table that is there already takes the place of the earlier one, where it stood; of two such rows the last counts. A
// missing value is a value of a key like others. Both tables stay as they are.
func Appended(t, more *Table, keys []string) (out *Table, replaced int, err error) {
	for _, c := range more.Columns() {
		if t.Column(c.Name) == nil {
			return nil, 0, fmt.Errorf("the table has no column %q", c.Name)
		}
	}
	from, replaced, err := placesOf(t, more, keys)
	if err != nil {
		return nil, 0, err
	}
	columns := make([]*Column, len(t.Columns()))
	for i, c := range t.Columns() {
		if columns[i], err = c.with(more.Column(c.Name), t.Rows(), from); err != nil {
			return nil, 0, err
		}
	}
	out, err = New(columns...)
	return out, replaced, err
}

// placesOf gives, for each row of the table that is made, which row it is: of t, or, from t.Rows() on, of more.
func placesOf(t, more *Table, keys []string) (from []int, replaced int, err error) {
	from = make([]int, t.Rows(), t.Rows()+more.Rows())
	for i := range from {
		from[i] = i
	}
	if len(keys) == 0 {
		for i := range more.Rows() {
			from = append(from, t.Rows()+i)
		}
		return from, 0, nil
	}
	var own, others []*Column
	for _, name := range keys {
		own, others = append(own, t.Column(name)), append(others, more.Column(name))
		if own[len(own)-1] == nil || others[len(others)-1] == nil {
			return nil, 0, fmt.Errorf("%q tells rows apart, and is not a column of both", name)
		}
	}
	at := make(map[string]int, len(from))
	for i := range t.Rows() {
		key := keyOf(own, i)
		if _, twice := at[key]; twice {
			return nil, 0, fmt.Errorf("%s does not tell the rows apart: %s stands in two", strings.Join(keys, ", "), readableKey(own, i))
		}
		at[key] = i
	}
	for i := range more.Rows() {
		key := keyOf(others, i)
		place, there := at[key]
		if !there {
			at[key] = len(from)
			from = append(from, t.Rows()+i)
			continue
		}
		if from[place] < t.Rows() {
			replaced++
		}
		from[place] = t.Rows() + i
	}
	return from, replaced, nil
}

// keyOf is what stands in the columns of a key in a row, so that no two different ones are alike.
func keyOf(columns []*Column, row int) string {
	var key strings.Builder
	for _, c := range columns {
		value := c.Value(row)
		if c.Missing(row) {
			value = "\x00"
		}
		fmt.Fprintf(&key, "%d:%s", len(value), value)
	}
	return key.String()
}

func readableKey(columns []*Column, row int) string {
	var values []string
	for _, c := range columns {
		values = append(values, c.Value(row))
	}
	return strings.Join(values, ", ")
}

// with gives a column of rows of its own and, from own on, of another one; nil: missing.
func (c *Column) with(other *Column, own int, from []int) (*Column, error) {
	out := *c
	out.known = nil
	if !c.Kind.Coded() {
		if other != nil && other.Kind != c.Kind && other.MissingCount() < other.Len() {
			return nil, fmt.Errorf("%s holds %ss, and the rows that come have %s there, such as %q", c.Name, c.Kind, other.Kind, firstValue(other))
		}
		out.Numbers = make([]float64, len(from))
		for i, row := range from {
			switch {
			case row < own:
				out.Numbers[i] = c.Numbers[row]
			case other == nil || other.Kind.Coded():
				out.Numbers[i] = math.NaN()
			default:
				out.Numbers[i] = other.Numbers[row-own]
			}
		}
		if other != nil && !other.Kind.Coded() {
			out.Decimals = max(c.Decimals, other.Decimals)
			if other.Grain == Second {
				out.Grain = other.Grain
			}
		}
		return &out, nil
	}
	out.Codes, out.Levels = make([]int32, len(from)), slices.Clone(c.Levels)
	known := make(map[string]int32, len(c.Levels))
	for code, level := range c.Levels {
		known[level] = int32(code)
	}
	for i, row := range from {
		switch {
		case row < own:
			out.Codes[i] = c.Codes[row]
		case other == nil || other.Missing(row-own):
			out.Codes[i] = MissingCode
		default:
			value := other.Value(row - own)
			code, is := known[value]
			if !is {
				if c.Kind == YesNo {
					return nil, fmt.Errorf("%s is %s, and a row that comes has %q", c.Name, strings.Join(c.Levels, " or "), value)
				}
				code = int32(len(out.Levels))
				known[value] = code
				out.Levels = append(out.Levels, value)
			}
			out.Codes[i] = code
		}
	}
	return &out, nil
}

func firstValue(c *Column) string {
	for i := range c.Len() {
		if !c.Missing(i) {
			return c.Value(i)
		}
	}
	return ""
}
