package reader

import (
	"fmt"
	"maps"
	"math"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"time"

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
	return p.values > p.misfits+p.bounds && float64(p.misfits) <= misfitShare*float64(p.values) && float64(p.bounds) <= halfWay*float64(p.values)
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
		if p.isCode || p.failed && !p.final || !p.final && (mixed(p.signs) || !p.mostlyNumbers() || p.exponents && !p.marked && !b.measured) {
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
	if keptBack > 0 && (found.values <= found.misfits || keptBack > found.values || !found.mostlyNumbers()) { // they are words as others are
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
			b.report.Note(0, c.Name, "%d of %d values only say on which side of a limit they lie, as %q: the column was kept as text", found.bounds, found.values, clip(found.bound))
			b.report.Offer(OfferNumber, OfferLimit, OfferHalf)
		case float64(numbers) >= halfWay*float64(found.values) && !found.isCode && found.misfits > 0:
			b.report.Note(0, c.Name, "%d of %d values are numbers, and %q is none: the column was kept as text", numbers, found.values, clip(found.firstBad[0].text))
			b.report.Offer(OfferNumber)
		case seasons:
			b.report.Note(0, c.Name, "values such as %s go from each year to the next: they were read as seasons, not as months", clip(found.levels[0]))
			b.report.Offer(OfferDate)
		case mixed(found.signs) && found.misfits == 0:
			b.unitsDiffer(c, found.signs, "the column was kept as text")
			b.report.Offer(OfferNumber)
		case found.isCode && found.misfits == 0:
			b.report.Note(0, c.Name, "these are codes, not numbers: they have zeros before them, or more digits than a number keeps")
		case codes && found.misfits == 0:
			b.report.Note(0, c.Name, "values such as %s may be codes, or numbers with an exponent: the column was kept as text", clip(string(exponentOf(found.levels))))
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
		b.report.Note(0, c.Name, "%q stands for a value that is not told and was read as missing, in %s", mark, scale.Counted(hidden[mark], "row"))
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
		b.report.Note(0, c.Name, "%q was read as missing, in %d %s", mark, marks[mark], map[bool]string{true: "row", false: "rows"}[marks[mark] == 1])
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
		b.report.Note(0, c.Name, "%d of %d values only say on which side of a limit they lie, as %q: they were read as %s", p.bounds, p.values, clip(p.bound), how)
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
	if !b.measured && !b.moments(c) {
		SettleNumbers(c)
	}
}

// timeNames begin or end the names of columns that hold moments.
var timeNames = regexp.MustCompile(`(?i)(^|[^a-z])(date|time|timestamp|datetime|day|epoch|ts|created|updated|when)($|[^a-z])|(_at|Time|Date|Timestamp)$`)

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

// splitUnit takes a unit from a name such as "Honey yield (kg per hive)", "width [mm]" or dose_mg into the column's
// unit; the name itself stays as it is. One that stands in no brackets is said, and can be left in the name.
func (b *building) splitUnit(c *table.Column) {
	if c.Unit != "" || c.Kind.Coded() || c.Kind == table.Date {
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
var namedUnits = map[string]string{"kg": "kg", "mg": "mg", "ug": "µg", "ng": "ng", "lb": "lb", "lbs": "lb", "oz": "oz", "cm": "cm", "mm": "mm", "um": "µm", "km": "km", "ft": "ft", "ha": "ha", "m2": "m²", "km2": "km²", "m3": "m³",
	"ml": "ml", "kw": "kW", "kwh": "kWh", "mwh": "MWh", "hz": "Hz", "khz": "kHz", "hpa": "hPa", "kpa": "kPa", "mbar": "mbar", "psi": "psi", "kj": "kJ", "kcal": "kcal", "mmol": "mmol", "ppm": "ppm", "ppb": "ppb", "db": "dB",
	"pct": "%", "percent": "%", "gbp": "£", "eur": "€", "usd": "$", "degc": "°C", "degf": "°F"}

func clip(text string) string {
	if runes := []rune(text); len(runes) > 40 {
		return string(runes[:40]) + "…"
	}
	return text
}
