package chart

import (
	"math"
	"strconv"
	"strings"

	"copperlark/core/magnitude"
	"copperlark/core/table"
)

// ColumnOf gives the column of a variable as the variable reads it: itself, its groups, or
// its levels as numbers. nil when the table has no such column, or when it cannot be
// read so.
func ColumnOf(v Variable, t *table.Table) *table.Column {
	c := t.Column(v.Column)
	if c == nil {
		return nil
	}
	switch v.As {
	case AsGroups:
		return c.AsGroups(MaxAxisGroups)
	case AsNumber:
		return asNumber(c)
	}
	return c
}

var nan = math.NaN()

// asNumber reads the levels of a column of groups as numbers; levels that are none are
// missing. nil when none is.
func asNumber(c *table.Column) *table.Column {
	if !c.Kind.Coded() {
		return c
	}
	values := make([]float64, len(c.Levels))
	some := false
	for i, level := range c.Levels {
		v, err := strconv.ParseFloat(strings.TrimSpace(level), 64)
		if err != nil || !magnitude.Finite(v) {
			v = nan
		} else {
			some = true
		}
		values[i] = v
	}
	if !some {
		return nil
	}
	numbers := make([]float64, len(c.Codes))
	for i, code := range c.Codes {
		numbers[i] = nan
		if code >= 0 {
			numbers[i] = values[code]
		}
	}
	return &table.Column{Name: c.Name, Label: c.Label, Unit: c.Unit, Meaning: c.Meaning, Form: c.Form, Kind: table.Number, Numbers: numbers}
}
