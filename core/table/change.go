package table

import (
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"
)

// writtenDates are how a date is typed into a cell.
var writtenDates = []string{"2006-01-02 15:04:05", "2006-01-02 15:04", "2006-01-02", "2006-01", "2006"}

// Changed gives a copy of a column with another value in a row, counted from 0, typed as people write it; empty: missing. What
// does not suit the column's kind is an error that says what does. A new word becomes a level, but of yes / no.
func (c *Column) Changed(row int, typed string) (*Column, error) {
	out := *c
	typed = strings.TrimSpace(typed)
	if c.Kind.Coded() {
		out.Codes = slices.Clone(c.Codes)
		code, err := c.codeOf(typed)
		if err != nil {
			return nil, err
		}
		if code == int32(len(c.Levels)) {
			out.Levels = append(slices.Clone(c.Levels), typed)
		}
		out.Codes[row] = code
		return &out, nil
	}
	v, err := c.numberOf(typed)
	if err != nil {
		return nil, err
	}
	out.Numbers = slices.Clone(c.Numbers)
	out.Numbers[row] = v
	return &out, nil
}

// codeOf is the code of a level; one more than there are of a new one.
func (c *Column) codeOf(typed string) (int32, error) {
	if typed == "" {
		return MissingCode, nil
	}
	at := slices.Index(c.Levels, typed)
	switch {
	case at < 0 && c.Kind == YesNo:
		return 0, fmt.Errorf("%s is %s", c.ReadableName(), strings.Join(c.Levels, " or "))
	case at < 0:
		return int32(len(c.Levels)), nil
	}
	return int32(at), nil
}

func (c *Column) numberOf(typed string) (float64, error) {
	if typed == "" {
		return math.NaN(), nil
	}
	switch c.Kind {
	case Date:
		for _, layout := range writtenDates {
			if at, err := time.Parse(layout, typed); err == nil && float64(at.Unix()) >= EarliestDate && float64(at.Unix()) <= LatestDate {
				return float64(at.Unix()), nil
			}
		}
		return 0, fmt.Errorf("“%s” is no date: write it as 2031-05-04", typed)
	case Duration:
		if v, form := ParseDuration(typed); form != NoDuration {
			return v, nil
		}
		return 0, fmt.Errorf("“%s” is no duration: write it as 1:45:00 or 90 min", typed)
	}
	v, err := strconv.ParseFloat(strings.ReplaceAll(strings.ReplaceAll(typed, ",", ""), "−", "-"), 64)
	if err != nil {
		return 0, fmt.Errorf("“%s” is no number, and %s holds numbers: read it as text first, or write it as 12.5", typed, c.ReadableName())
	}
	return v, nil
}
