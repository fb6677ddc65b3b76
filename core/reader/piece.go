package reader

import (
	"bytes"
	"math"

	"copperlark/core/table"
)

// attempt is a way of reading a column.
type attempt int

const (
	settled attempt = iota // it is read already
	asNumbers
	asDates
	asTexts
)

// piece is what a stretch of the text gives of one column, or all of them together.
type piece struct {
	attempt attempt
	final   bool // numbers, however many misfits
	failed  bool // must be read otherwise

	numbers []float64
	codes   []int32
	coder   *table.Coder
	// The memory of the whole column, of which numbers or codes are a part.
	allNumbers []float64
	allCodes   []int32

	counts []int // of each code
	levels []string

	values   int     // that are not missing; of texts these are counted later
	misfits  int     // of these, not numbers
	bounds   int     // of these, only limits, as <0.1
	bound    string  // the first of them
	times    float64 // what a limit is taken times; 0: limits are missing
	firstBad []misfit
	signs    map[string]int
	marks    map[string]int // of missing values
	isCode   bool

	low, high float64 // of the numbers
	exponents bool    // some are digits, an E and digits
	decimals  int     // that all numbers were written with; undecided before the first, 0 where they differ
	marked    bool    // some have a sign or a decimal mark, as codes have not
	form      dateForm
	last      string // the last date that was another than the one before
	lastRow   int
	dates     [dateForms]bool // every value so far can be read so
	withTime  bool
}

type misfit struct {
	line int
	text string
}

// mostMisfits is how many misfits are told one by one.
const mostMisfits = 5

// take reads one field.
func (p *piece) take(field []byte, line int, b *building) {
	if p.failed && !p.final {
		return
	}
	switch p.attempt {
	case asTexts:
		if isMissing(field) && string(field) != notAvailable {
			p.codes = append(p.codes, table.MissingCode)
			return
		}
		code := p.coder.Code(field)
		if int(code) == len(p.counts) {
			p.counts = append(p.counts, 0)
		}
		p.counts[code]++
		p.codes = append(p.codes, code)
	case asDates:
		p.takeDate(field, line)
	default:
		p.takeNumber(field, line, b)
	}
}

func (p *piece) takeNumber(field []byte, line int, b *building) {
	if v, ok := plainNumber(field, b.layout.decimal); ok { // most fields, in the fewest steps
		p.values++
		if field[0] == '0' && !b.measured && isCode(field) {
			p.isCode = true
		}
		p.seen(v)
		p.written(field, b.layout.decimal)
		p.numbers = append(p.numbers, v)
		return
	}
	value := math.NaN()
	if isMark(field) {
		if p.marks == nil {
			p.marks = map[string]int{}
		}
		p.marks[string(field)]++
	} else if !isMissing(field) {
		p.values++
		v, sign, ok := number(field, b.layout.decimal)
		if ok {
			value = v
			p.seen(v)
			p.written(field, b.layout.decimal)
			p.isCode = p.isCode || isLong(field)
			p.exponents = p.exponents || isExponent(field)
			p.marked = p.marked || !isExponent(field) && !isDigits(field)
			if sign != "" {
				p.signs[sign]++
			}
		} else if limit, ok := bounded(field, b.layout.decimal); ok {
			if p.bounds++; p.bounds == 1 {
				p.bound = string(field)
			}
			if p.times > 0 {
				value = p.taken(field, limit)
			}
		} else {
			p.misfits++
			if len(p.firstBad) < mostMisfits {
				p.firstBad = append(p.firstBad, misfit{line, clip(string(field))})
			}
			p.failed = p.misfits > 100 && float64(p.misfits) > 0.2*float64(p.values)
		}
	}
	p.numbers = append(p.numbers, value)
}

// seen is told of each number.
func (p *piece) seen(v float64) {
	if v < p.low {
		p.low = v
	}
	if v > p.high {
		p.high = v
	}
	p.marked = p.marked || v < 0 || v != math.Trunc(v)
}

// undecided is how many decimals a column has before its first number.
const undecided = -1

// written is told of each number as it stands in the text.
func (p *piece) written(field []byte, decimal byte) {
	if p.decimals != 0 { // most columns have lost theirs by the first or second number
		p.decimals = sameDecimals(p.decimals, decimalsOf(field, decimal))
	}
}

// sameDecimals joins what two parts of a column were written with.
func sameDecimals(a, b int) int {
	switch {
	case a == undecided:
		return b
	case b == undecided || a == b:
		return a
	}
	return 0
}

// decimalsOf is how many digits stand behind the decimal mark of a number; 0 for one with an exponent or a letter of
// thousands, which say another number than their digits.
func decimalsOf(field []byte, decimal byte) int {
	at := bytes.LastIndexByte(field, decimal)
	if at < 0 {
		return 0
	}
	end := at + 1
	for end < len(field) && field[end] >= '0' && field[end] <= '9' {
		end++
	}
	if end < len(field) && bytes.IndexByte([]byte("eEkKMbm"), field[end]) >= 0 {
		return 0
	}
	return end - at - 1
}

// taken is what a limit is read as: itself, or, of what lies below it, a share of it.
func (p *piece) taken(field []byte, limit float64) float64 {
	if field[0] == '>' || bytes.HasPrefix(field, []byte("≥")) || limit < 0 {
		return limit
	}
	return p.times * limit
}

func (p *piece) takeDate(field []byte, line int) {
	if isMissing(field) || isMark(field) {
		p.numbers = append(p.numbers, math.NaN())
		return
	}
	p.values++
	if string(field) == p.last { // rows are often in the order of their dates
		p.numbers = append(p.numbers, p.numbers[p.lastRow])
		return
	}
	if len(p.firstBad) == 0 {
		p.firstBad = append(p.firstBad, misfit{line, clip(string(field))})
	}
	seconds, withTime, ok := date(field, p.form)
	p.failed, p.withTime = !ok, p.withTime || withTime
	for form := range dateForms { // could it be read otherwise too?
		if p.dates[form] && form != p.form {
			_, _, p.dates[form] = date(field, form)
		}
	}
	p.last, p.lastRow = string(field), len(p.numbers)
	p.numbers = append(p.numbers, seconds)
}

// merged puts the pieces of a column together.
func merged(stretches []*stretch, column int) *piece {
	whole := stretches[0].pieces[column]
	if len(stretches) == 1 {
		return whole
	}
	for _, s := range stretches[1:] {
		p := s.pieces[column]
		whole.failed, whole.isCode, whole.withTime = whole.failed || p.failed, whole.isCode || p.isCode, whole.withTime || p.withTime
		whole.low, whole.high = min(whole.low, p.low), max(whole.high, p.high)
		whole.decimals = sameDecimals(whole.decimals, p.decimals)
		whole.exponents, whole.marked = whole.exponents || p.exponents, whole.marked || p.marked
		whole.values, whole.misfits, whole.bounds = whole.values+p.values, whole.misfits+p.misfits, whole.bounds+p.bounds
		if whole.bound == "" {
			whole.bound = p.bound
		}
		whole.firstBad = append(whole.firstBad, p.firstBad[:min(len(p.firstBad), mostMisfits-min(len(whole.firstBad), mostMisfits))]...)
		for sign, n := range p.signs {
			whole.signs[sign] += n
		}
		for mark, n := range p.marks {
			if whole.marks == nil {
				whole.marks = map[string]int{}
			}
			whole.marks[mark] += n
		}
		for form := range whole.dates {
			whole.dates[form] = whole.dates[form] && p.dates[form]
		}
	}
	if whole.failed && !whole.final {
		return whole
	}
	n := len(stretches)
	if whole.attempt != asTexts {
		whole.numbers = joined(whole.allNumbers, func(i int) []float64 { return stretches[i].pieces[column].numbers }, n)
		return whole
	}
	for _, s := range stretches[1:] {
		s.pieces[column].recode(whole)
	}
	whole.codes = joined(whole.allCodes, func(i int) []int32 { return stretches[i].pieces[column].codes }, n)
	return whole
}

// recode gives the texts of a later piece the codes that they have in the whole.
func (p *piece) recode(whole *piece) {
	codeOf := make([]int32, len(p.counts))
	for old, level := range p.coder.Levels() {
		code := whole.coder.Code([]byte(level))
		if int(code) == len(whole.counts) {
			whole.counts = append(whole.counts, 0)
		}
		whole.counts[code] += p.counts[old]
		codeOf[old] = code
	}
	for row, old := range p.codes {
		if old >= 0 {
			p.codes[row] = codeOf[old]
		}
	}
}
