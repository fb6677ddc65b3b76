package reader

import (
	"math"
	"regexp"
	"strings"
	"unicode"

	"copperlark/core/table"
)

// durationNames are in the names of columns that say how long something took.
var durationNames = regexp.MustCompile(`(?i)duration|elapsed|took|taken|lasted|length|runtime|_for$`)

// settleDurations reads texts as durations, where each of them is one and their form says so: hours, minutes and seconds,
// several units, or ISO 8601. Numbers that all have one unit stay numbers in that unit. What may be times of a day, as
// 08:15:00, are no durations unless the column is called one.
func (b *building) settleDurations(c *table.Column, p *piece) bool {
	if b.wanted[c.Name] == string(OfferText) {
		return false
	}
	levels := p.coder.Levels()
	values := make([]float64, len(levels))
	forms, units, first, clock := map[table.DurationForm]int{}, map[string]bool{}, "", true
	marks := map[string]int{}
	for code, level := range levels {
		if values[code] = math.NaN(); level == notAvailable || isMark([]byte(level)) {
			marks[level] = p.counts[code]
			continue
		}
		seconds, form := table.ParseDuration(level)
		if form == table.NoDuration {
			return false
		}
		if first == "" {
			first = level
		}
		values[code], clock = seconds, clock && form == table.ClockDuration && strings.Index(level, ":") == 2 && seconds < 86400
		forms[form]++
		if form == table.OneUnit {
			units[strings.TrimLeftFunc(level, func(r rune) bool { return !unicode.IsLetter(r) })] = true
		}
	}
	said := forms[table.ClockDuration]+forms[table.SeveralUnits]+forms[table.ISODuration] > 0 || len(units) > 1
	if !said || forms[table.ShortClock] > 0 && forms[table.ClockDuration] == 0 || clock && !durationNames.MatchString(c.Name) {
		return false
	}
	delete(marks, notAvailable)
	c.Kind, c.Numbers = table.Duration, decoded(p.codes, values)
	b.marksNoted(c, marks)
	b.report.Note(0, c.Name, "values such as %s were read as durations", clip(first))
	b.report.Offer(OfferText)
	return true
}
