package reader

import (
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/scale"
	"copperlark/core/table"
)

// A column is still one of numbers when at most one value in twenty cannot be read as one;
// those are reported, with their lines, and become missing. From halfWay on it is told how
// many are numbers in a column that stays text.
const (
	misfitShare = 0.05
	halfWay     = 0.5
)

// mostlyNumbers reports whether what was found is a column of numbers: at most half of its
// values may be limits.
func (p *piece) mostlyNumbers() bool {
	return p.values > p.misfits+p.bounds && float64(p.misfits) <= misfitShare*float64(p.values) &&
		float64(p.bounds) <= halfWay*float64(p.values)
}

// mixed reports whether numbers carry different units: they are no column of numbers.
func mixed(signs map[string]int) bool { return len(signs) > 1 }

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
		if p.isCode || p.failed && !p.final ||
			!p.final && (mixed(p.signs) || !p.mostlyNumbers() || p.exponents && !p.marked && !b.measured) {
			return asTexts
		}
		c.Numbers = p.numbers
		b.marksNoted(c, p.marks)
		b.finishNumbers(c, p)
	case asDates:
		if p.failed {
			return asTexts
		}
		c.Numbers = p.numbers
		b.finishDates(c, p, p.form)
	default:
		return b.settleTexts(c, p)
	}
	b.splitUnit(c)
	return settled
}

// settleTexts finds out what texts are, from each different one and how often it
// stands there.
func (b *building) settleTexts(c *table.Column, p *piece) attempt {
	if b.settleDurations(c, p) {
		return settled
	}
	found := *p
	found.levels, found.times = p.coder.Levels(), b.times(c.Name)
	values := make([]float64, len(found.levels))
	tried, marks, hidden := false, map[string]int{}, map[string]int{}
	for code, level := range found.levels {
		if level == notAvailable {
			values[code] = math.NaN()
			continue
		}
		if isMark([]byte(level)) {
			marks[level], values[code] = p.counts[code], math.NaN()
			continue
		}
		if isHidden(level) && (len(level) > 1 || p.counts[code] > 1) { // a letter alone, once, may be anything
			hidden[level], values[code] = p.counts[code], math.NaN()
			continue
		}
		found.values += p.counts[code]
		v, sign, ok := number([]byte(level), b.layout.decimal)
		if ok {
			values[code] = v
			found.seen(v)
			found.written([]byte(level), b.layout.decimal)
			found.exponents = found.exponents || isExponent([]byte(level))
			found.marked = found.marked || !isExponent([]byte(level)) && !isDigits([]byte(level))
			found.isCode = found.isCode || !b.measured && isCode([]byte(level)) || isLong([]byte(level))
			found.dates = [dateForms]bool{}
			if sign != "" {
				found.signs[sign] += p.counts[code]
			}
			continue
		}
		if limit, ok := bounded([]byte(level), b.layout.decimal); ok {
			if found.bounds += p.counts[code]; found.bound == "" {
				found.bound = level
			}
			if values[code] = math.NaN(); found.times > 0 {
				values[code] = found.taken([]byte(level), limit)
			}
			found.dates = [dateForms]bool{}
			continue
		}
		found.misfits += p.counts[code]
		if len(found.firstBad) == 0 {
			found.firstBad = append(found.firstBad, misfit{0, level})
		}
		found.tryDates([]byte(level))
		tried = true
	}
	keptBack := 0
	for _, n := range hidden {
		keptBack += n
	}
	if keptBack > 0 &&
		(found.values <= found.misfits || keptBack > found.values || !found.mostlyNumbers()) { // they are words as others are
		found.values, found.misfits, tried = found.values+keptBack, found.misfits+keptBack, true
		for level := range hidden {
			found.tryDates([]byte(level))
			found.firstBad = append(found.firstBad, misfit{0, level})
		}
		clear(hidden)
	}
	form, isDate := found.dateForm(b.monthFirst)
	seasons := isDate && form == yearMonth && areSeasons(found.levels)
	asNumber := b.asNumber(c.Name)
	codes := found.isCode || found.exponents && !found.marked && !b.measured
	switch {
	case b.wanted[c.Name] == string(OfferText):
		c.Kind, c.Codes, c.Levels = table.Text, p.codes, found.levels
		b.namibia(c)
		SettleTexts(c)
	case asNumber || !codes && !mixed(found.signs) && found.mostlyNumbers():
		if found.misfits > 0 {
			return asNumbers // once more, for the lines of the misfits
		}
		c.Numbers = decoded(p.codes, values)
		b.marksNoted(c, marks)
		b.hiddenNoted(c, hidden)
		b.finishNumbers(c, &found)
	case tried && isDate && found.values > 0 && (!seasons || b.wanted[c.Name] == string(OfferDate)):
		for code, level := range found.levels {
			if marks[level] == 0 && level != notAvailable {
				values[code], _, _ = date([]byte(level), form)
			}
		}
		c.Numbers = decoded(p.codes, values)
		b.marksNoted(c, marks)
		b.finishDates(c, &found, form)
	default:
		numbers := found.values - found.misfits - found.bounds
		switch {
		case found.bounds > 0 && found.misfits == 0 && numbers > 0 && !found.isCode:
			b.report.Note(
				0,
				c.Name,
				"%d of %d values only say on which side of a limit they lie, as %q: the column was kept as text",
				found.bounds,
				found.values,
				clip(found.bound),
			)
			b.report.Offer(OfferNumber, OfferLimit, OfferHalf)
		case float64(numbers) >= halfWay*float64(found.values) && !found.isCode && found.misfits > 0:
			b.report.Note(
				0,
				c.Name,
				"%d of %d values are numbers, and %q is none: the column was kept as text",
				numbers,
				found.values,
				clip(found.firstBad[0].text),
			)
			b.report.Offer(OfferNumber)
		case seasons:
			b.report.Note(
				0,
				c.Name,
				"values such as %s go from each year to the next: they were read as seasons, not as months",
				clip(found.levels[0]),
			)
			b.report.Offer(OfferDate)
		case mixed(found.signs) && found.misfits == 0:
			b.unitsDiffer(c, found.signs, "the column was kept as text")
			b.report.Offer(OfferNumber)
		case found.isCode && found.misfits == 0:
			b.report.Note(0, c.Name, "these are codes, not numbers: they have zeros before them, or more digits than a number keeps")
		case codes && found.misfits == 0:
			b.report.Note(
				0,
				c.Name,
				"values such as %s may be codes, or numbers with an exponent: the column was kept as text",
				clip(string(exponentOf(found.levels))),
			)
			b.report.Offer(OfferNumber)
		}
		c.Kind, c.Codes, c.Levels = table.Text, p.codes, found.levels
		b.namibia(c)
		SettleTexts(c)
	}
	b.splitUnit(c)
	return settled
}

// asNumber reports whether a person said that a column is one of numbers, whatever else stands in it.
func (b *building) asNumber(name string) bool {
	switch Offer(b.wanted[name]) {
	case OfferNumber, OfferLimit, OfferHalf:
		return true
	}
	return false
}

// exponentOf is the first of some texts that may be a number with an exponent.
func exponentOf(levels []string) string {
	at := slices.IndexFunc(levels, func(level string) bool { return isExponent([]byte(level)) })
	return levels[max(at, 0)]
}

// hiddenNoted tells which marks of values that are not told were read as missing.
func (b *building) hiddenNoted(c *table.Column, hidden map[string]int) {
	for _, mark := range slices.Sorted(maps.Keys(hidden)) {
		b.report.Note(
			0,
			c.Name,
			"%q stands for a value that is not told and was read as missing, in %s",
			mark,
			scale.Counted(hidden[mark], "row"),
		)
		b.report.Offer(OfferText)
	}
}

// areSeasons reports whether texts such as 2001-02, 2002-03 go from each year to the next:
// they name seasons, not months.
func areSeasons(levels []string) bool {
	for _, level := range levels {
		year, err := strconv.Atoi(level[:min(4, len(level))])
		if err != nil || len(level) != 7 || level[5:] != fmt.Sprintf("%02d", (year+1)%100) {
			return false
		}
	}
	return len(levels) > 1
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

// dateForm is the first form in which every value can be read; the month comes first where
// that was said and both are possible.
func (p *piece) dateForm(monthsFirst bool) (dateForm, bool) {
	if monthsFirst && p.dates[monthFirst] {
		return monthFirst, true
	}
	for form, possible := range p.dates {
		if possible {
			return dateForm(form), true
		}
	}
	return dateForms, false
}

// times is what limits in a column are taken times, as a person wants it; 0: they are missing.
func (b *building) times(name string) float64 { return limitTimes[Offer(b.wanted[name])] }

// limitTimes is what a limit is taken times by the offers that say so.
var limitTimes = map[Offer]float64{OfferLimit: 1, OfferHalf: 0.5}

// marksNoted tells which marks were read as missing.
func (b *building) marksNoted(c *table.Column, marks map[string]int) {
	for _, mark := range slices.Sorted(maps.Keys(marks)) {
		b.report.Note(
			0,
			c.Name,
			"%q was read as missing, in %d %s",
			mark,
			marks[mark],
			map[bool]string{true: "row", false: "rows"}[marks[mark] == 1],
		)
	}
}

func (b *building) finishDates(c *table.Column, p *piece, form dateForm) {
	c.Kind, c.Grain = table.Date, table.Day
	if p.withTime {
		c.Grain = table.Second
	}
	if (form == dayFirst || form == monthFirst) && p.dates[dayFirst] && p.dates[monthFirst] {
		first := map[dateForm]string{dayFirst: "day", monthFirst: "month"}[form]
		b.report.Note(0, c.Name, "dates such as %s can be read two ways; the %s was taken to come first", p.firstBad[0].text, first)
		b.report.Offer(map[dateForm]Offer{dayFirst: OfferMonth, monthFirst: OfferDay}[form])
	}
}

// fewestKept is from how many decimals on they are kept with a column: 2029.0 is what programs make of whole numbers.
const fewestKept = 2

func (b *building) finishNumbers(c *table.Column, p *piece) {
	c.Kind = table.Number
	for _, bad := range p.firstBad {
		b.report.Note(bad.line, c.Name, "%q is not a number and was read as missing", bad.text)
		b.report.Offer(OfferText)
	}
	if p.bounds > 0 {
		how := "missing"
		if p.times == 1 {
			how = "that limit"
		} else if p.times > 0 {
			how = "half of that limit, those above one as the limit"
		}
		b.report.Note(
			0,
			c.Name,
			"%d of %d values only say on which side of a limit they lie, as %q: they were read as %s",
			p.bounds,
			p.values,
			clip(p.bound),
			how,
		)
		for _, o := range []Offer{OfferNumber, OfferLimit, OfferHalf} {
			if limitTimes[o] != p.times {
				b.report.Offer(o)
			}
		}
		b.report.Offer(OfferText)
	}
	if hidden := p.misfits - len(p.firstBad); hidden > 0 {
		b.report.Note(0, c.Name, "%d more values are not numbers and were read as missing", hidden)
	}
	if mixed(p.signs) {
		b.unitsDiffer(c, p.signs, "they were taken off")
		b.report.Offer(OfferText)
	}
	for sign, count := range p.signs {
		if 2*count > p.values {
			c.Unit = sign
			b.partlySigned(c, count, p.values-p.misfits-p.bounds)
		}
	}
	b.sentinelNoted(c, p.low, p.high)
	if p.decimals >= fewestKept {
		c.Decimals = p.decimals
	}
	if !b.measured && !b.moments(c) {
		SettleNumbers(c)
	}
}

// splitUnit takes a unit from a name such as "Honey yield (kg per hive)", "width [mm]" or dose_mg into the column's
// unit; the name itself stays as it is. One that stands in no brackets is said, and can be left in the name.
func (b *building) splitUnit(c *table.Column) {
	if c.Unit != "" || c.Kind != table.Number {
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
	at := strings.LastIndexByte(c.Name, '_')
	if at < 2 || b.measured || b.hasUnit(c.Name) || b.wanted[c.Name] == string(OfferBare) {
		return
	}
	if unit, known := namedUnits[strings.ToLower(c.Name[at+1:])]; known {
		c.Unit, c.Label = unit, table.Readable(c.Name[:at])
		b.report.Note(0, c.Name, "the end of the name was read as the unit %s", unit)
		b.report.Offer(OfferBare)
	}
}

// hasUnit reports whether a row of units says that of a column.
func (b *building) hasUnit(name string) bool {
	at := slices.Index(b.names, name)
	return at >= 0 && at < len(b.layout.units) && b.layout.units[at] != ""
}

// namedUnits are units as names of columns end in them; letters that could as well mean something else are none.
var namedUnits = map[string]string{
	"kg":      "kg",
	"mg":      "mg",
	"ug":      "µg",
	"ng":      "ng",
	"lb":      "lb",
	"lbs":     "lb",
	"oz":      "oz",
	"cm":      "cm",
	"mm":      "mm",
	"um":      "µm",
	"km":      "km",
	"ft":      "ft",
	"ha":      "ha",
	"m2":      "m²",
	"km2":     "km²",
	"m3":      "m³",
	"ml":      "ml",
	"kw":      "kW",
	"kwh":     "kWh",
	"mwh":     "MWh",
	"hz":      "Hz",
	"khz":     "kHz",
	"hpa":     "hPa",
	"kpa":     "kPa",
	"mbar":    "mbar",
	"psi":     "psi",
	"kj":      "kJ",
	"kcal":    "kcal",
	"mmol":    "mmol",
	"ppm":     "ppm",
	"ppb":     "ppb",
	"db":      "dB",
	"pct":     "%",
	"percent": "%",
	"gbp":     "£",
	"eur":     "€",
	"usd":     "$",
	"degc":    "°C",
	"degf":    "°F",
}

func clip(text string) string {
	if runes := []rune(text); len(runes) > 40 {
		return string(runes[:40]) + "…"
	}
	return text
}
