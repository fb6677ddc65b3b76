package reader

import (
	"math"
	"regexp"
	"slices"
	"strings"
	"time"

	"copperlark/core/table"
)

// timeNames begin or end the names of columns that hold moments.
var timeNames = regexp.MustCompile(
	`(?i)(^|[^a-z])(date|time|timestamp|datetime|day|epoch|ts|created|updated|when)($|[^a-z])|(_at|Time|Date|Timestamp)$`,
)

// moments reads whole numbers as what they stand for: 20290314 as a day, and seconds or
// milliseconds since 1970 where the name says that it is a time.
func (b *building) moments(c *table.Column) bool {
	n := 0
	compact, seconds, milliseconds := true, true, true
	for _, v := range c.Numbers {
		if math.IsNaN(v) {
			continue
		}
		n++
		whole := v == math.Trunc(v)
		compact = compact && whole && isCompact(v)
		seconds = seconds && v >= 5e8 && v < 4.2e9
		milliseconds = milliseconds && v >= 5e11 && v < 4.2e12
		if !compact && !seconds && !milliseconds {
			return false
		}
	}
	said := timeNames.MatchString(c.Name)
	if n == 0 || !(compact && (n > 1 || said)) && !said {
		return false
	}
	how := "days written without marks, as 20290314"
	grain, divisor := table.Day, 1.0
	if !compact {
		how, grain = "seconds since 1970", table.Second
		if milliseconds {
			how, divisor = "milliseconds since 1970", 1000
		}
	}
	for i, v := range c.Numbers {
		if compact && !math.IsNaN(v) {
			v = compactSeconds(v)
		}
		c.Numbers[i] = v / divisor
	}
	c.Kind, c.Grain, c.Unit = table.Date, grain, ""
	b.report.Note(0, c.Name, "the numbers were read as %s", how)
	return true
}

// compactSeconds is when a day such as 20290314 begins; NaN where there is no such day.
func compactSeconds(v float64) float64 {
	n := int(v)
	day := time.Date(n/10000, time.Month(n/100%100), n%100, 0, 0, 0, 0, time.UTC)
	if day.Day() != n%100 || int(day.Month()) != n/100%100 {
		return math.NaN()
	}
	return float64(day.Unix())
}

func isCompact(v float64) bool {
	return v >= 1900_01_01 && v <= 2100_12_31 && compactSeconds(v) == compactSeconds(v)
}

// SettleNumbers reads a column of numbers under construction as what people mean by
// them: 0 and 1 are no and yes.
func SettleNumbers(c *table.Column) {
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

var (
	yesWords = map[string]string{"yes": "no", "true": "false"}
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
	if foldYesNo(c) {
		return
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

// foldYesNo reads a column as yes / no whose texts are two answers of one kind, however
// they are written: Yes, NO, y and no.
func foldYesNo(c *table.Column) bool {
	for yes, no := range yesWords {
		meant := make([]int32, len(c.Levels))
		yeses, noes := 0, 0
		for i, level := range c.Levels {
			switch lower := strings.ToLower(level); lower {
			case yes, yes[:1]:
				meant[i] = 1
				yeses++
			case no, no[:1]:
				noes++
			default:
				meant[i] = -2
			}
		}
		if yeses == 0 || noes == 0 || slices.Contains(meant, -2) {
			continue
		}
		names := []string{no, yes}
		for i, level := range c.Levels { // as they were written, where that is one way
			if yeses == 1 && meant[i] == 1 || noes == 1 && meant[i] == 0 {
				names[meant[i]] = level
			}
		}
		if yeses+noes > 2 {
			names = []string{no, yes}
		}
		codes := make([]int32, len(c.Codes)) // the codes may be shared with another reading
		for row, code := range c.Codes {
			codes[row] = table.MissingCode
			if code >= 0 {
				codes[row] = meant[code]
			}
		}
		c.Kind, c.Levels, c.Codes = table.YesNo, names, codes
		return true
	}
	return false
}
