package clause

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"copperlark/core/table"
)

// sign is a sign that must stand there.
type sign string

// Sign is a piece of one sign that must stand there, right behind the piece before it:
// brackets, commas. What follows an opening bracket stands right behind it.
func Sign(s string) Piece { return sign(s) }

func (s sign) parse(p *parser, _ any) {
	if p.failed {
		return
	}
	if !s.begins(p) {
		p.fail(p.here(), "expected "+string(s), "")
		return
	}
	p.position++
}
func (s sign) begins(p *parser) bool {
	if p.here().kind == endToken {
		p.expect(Expectation{ExpectWord, Suggestion{Text: string(s)}})
	}
	return p.here().kind == markToken && p.here().text == string(s)
}
func (s sign) print(w *writer, _ any) {
	if s == "=" {
		w.add(string(s))
		return
	}
	w.text.WriteString(string(s))
	w.tight = s == "(" || s == "/"
}
func (s sign) words(func(string)) {}
func (s sign) opening() string    { return string(s) }
func (s sign) draw(*drawing, any) {}

type columns[T any] struct {
	at   func(*T) *[]string
	from int // the first that is not said elsewhere
}

// MoreColumns is a piece of any number of columns, each behind a comma.
func MoreColumns[T any](at func(*T) *[]string) Piece { return columns[T]{at, 0} }

// Columns are pieces of one or more columns, with commas between them.
func Columns[T any](at func(*T) *[]string) []Piece {
	return []Piece{firstColumn[T]{at}, columns[T]{at, 1}}
}

func (c columns[T]) parse(p *parser, into any) {
	for !p.failed && sign(",").begins(p) {
		p.position++
		list := c.at(into.(*T))
		t := p.here()
		*list = append(*list, p.column())
		p.placed(Item{list, len(*list) - 1}, t.from, t.to)
	}
}
func (c columns[T]) begins(p *parser) bool { return sign(",").begins(p) }
func (c columns[T]) print(w *writer, from any) {
	for _, name := range (*c.at(from.(*T)))[c.from:] {
		w.text.WriteByte(',')
		w.add(w.column(name))
	}
}
func (c columns[T]) words(func(string)) {}
func (c columns[T]) opening() string    { return "" }
func (c columns[T]) draw(d *drawing, into any) {
	for range max(d.source.IntN(4)-1, 0) {
		list := c.at(into.(*T))
		*list = append(*list, d.name())
	}
}

type numbers[T any] struct{ at func(*T) *[]float64 }

// Numbers is a piece of one or more numbers, with commas between them.
func Numbers[T any](at func(*T) *[]float64) Piece { return numbers[T]{at} }

func (n numbers[T]) parse(p *parser, into any) {
	list := n.at(into.(*T))
	*list = nil // a change says it anew
	for {
		v := p.number()
		if p.failed {
			return
		}
		*list = append(*list, v)
		if !sign(",").begins(p) {
			return
		}
		p.position++
	}
}
func (n numbers[T]) begins(p *parser) bool { return p.here().kind == numberToken }
func (n numbers[T]) print(w *writer, from any) {
	for i, v := range *n.at(from.(*T)) {
		if i > 0 {
			w.text.WriteByte(',')
		}
		w.add(table.FormatNumber(v))
	}
}
func (n numbers[T]) words(func(string)) {}
func (n numbers[T]) opening() string    { return "" }
func (n numbers[T]) draw(d *drawing, into any) {
	list := n.at(into.(*T))
	for range 1 + d.source.IntN(3) {
		*list = append(*list, d.number(Range{}))
	}
}

// Word is one of a list of words.
type Word struct{ Text, Help string }

type wordList[T any] struct {
	get      func(*T) []string
	set      func(*T, []string)
	list     []Word
	expected string
	most     int
}

// WordList is a piece of different words of a list, joined by and; expected names them in
// a mistake.
func WordList[T any](get func(*T) []string, set func(*T, []string), most int, expected string, list ...Word) Piece {
	return wordList[T]{get, set, list, expected, most}
}

func (l wordList[T]) parse(p *parser, into any) {
	var said []string
	for {
		at := p.here()
		word := l.next(p)
		if word == "" {
			p.fail(p.here(), "expected "+l.expected, "")
			return
		}
		for _, before := range said {
			if before == word {
				p.fail(at, word+" is said twice", "say it once")
			}
		}
		if said = append(said, word); len(said) == l.most || !p.take("and") {
			break
		}
	}
	l.set(into.(*T), said)
}

func (l wordList[T]) next(p *parser) string {
	for _, w := range l.list {
		if p.proposing(Suggestion(w), func() bool { return p.ahead(w.Text) }) {
			p.take(w.Text)
			return w.Text
		}
	}
	return ""
}

func (l wordList[T]) begins(p *parser) bool {
	for _, w := range l.list {
		if p.ahead(w.Text) {
			return true
		}
	}
	return false
}
func (l wordList[T]) print(w *writer, from any) { w.add(strings.Join(l.get(from.(*T)), " and ")) }
func (l wordList[T]) words(add func(string)) {
	for _, w := range l.list {
		add(w.Text)
	}
	add("and")
}
func (l wordList[T]) opening() string { return "" }

// mostDrawn is how many words of a list are drawn at random: of more, few are ever honoured.
const mostDrawn = 3

func (l wordList[T]) draw(d *drawing, into any) {
	var said []string
	for _, at := range d.source.Perm(len(l.list))[:1+d.source.IntN(min(l.most, len(l.list), mostDrawn))] {
		said = append(said, l.list[at].Text)
	}
	l.set(into.(*T), said)
}

// joining are the words of an expression behind which another part of it begins.
var joining = []string{"and", "or", "not"}

// comparing are words that may stand behind a column.
var comparing = []Suggestion{
	{"in (", "one of several values"},
	{"between", "from one value to another"},
	{"like", "a pattern: % stands for any letters"},
	{"is null", "missing"},
	{"is not null", "not missing"},
}

// ExpressionOf is an expression about a T.
type ExpressionOf[T any] struct {
	At    func(*T) *string
	What  string   // names it in a mistake: "a condition"
	Until []string // words and signs outside brackets that it ends before; none: it takes the rest of the line
	// Check tells a mistake in it, with its place in characters, or an empty message.
	Check  func(text string) (from, to int, message, advice string)
	Own    bool     // its names are no columns
	Joins  []string // words and signs that may stand behind a value; none: those of conditions
	Begins []Word   // what completion proposes at its beginning; none: columns and functions
	Drawn  []string // expressions for drawing at random
}

type expression[T any] struct{ ExpressionOf[T] }

// Expression is a piece that is kept as it is typed.
func Expression[T any](e ExpressionOf[T]) Piece { return expression[T]{e} }

func (e expression[T]) parse(p *parser, into any) {
	if p.failed {
		return
	}
	first, start := p.here(), p.position
	e.take(p)
	if p.position == start {
		e.propose(p)
		p.fail(first, "expected "+e.What, "")
		return
	}
	last := p.tokens[p.position-1]
	text := string(p.runes[first.from:last.to])
	if last.kind == markToken && last.text != ")" || last.kind == wordToken && slices.Contains(joining, strings.ToLower(last.text)) {
		p.expect(Expectation{Kind: ExpectValue})
		p.failed = p.failed || p.completing && p.position == len(p.tokens) // nothing else can stand there
	} else if e.Joins != nil {
		for _, word := range e.Joins {
			p.expect(Expectation{ExpectWord, Suggestion{Text: word}})
		}
	} else {
		for _, word := range joining {
			p.expect(Expectation{ExpectWord, Suggestion{Text: word}})
		}
		if last.kind == wordToken || last.kind == nameToken {
			for _, word := range comparing {
				p.expect(Expectation{ExpectWord, word})
			}
		}
	}
	at := e.At(into.(*T))
	*at = text
	p.placed(at, first.from, last.to)
	if p.completing {
		return
	}
	if from, to, message, advice := e.Check(text); message != "" {
		wrong := first
		wrong.column, wrong.from, wrong.length = first.column+from, first.from+from, max(1, to-from)
		p.fail(wrong, message, advice)
	}
}

// take goes over the tokens of the expression.
func (e expression[T]) take(p *parser) {
	for depth := 0; p.position < len(p.tokens); p.position++ {
		t := p.here()
		if t.kind != markToken && t.kind != wordToken {
			continue
		}
		if depth == 0 && slices.ContainsFunc(e.Until, func(stop string) bool { return strings.EqualFold(stop, t.text) }) {
			return
		}
		switch t.text {
		case "(":
			depth++
		case ")":
			depth--
		}
	}
}

func (e expression[T]) propose(p *parser) {
	for _, word := range e.Begins {
		p.expect(Expectation{ExpectWord, Suggestion(word)})
	}
	if e.Begins == nil {
		p.expect(Expectation{Kind: ExpectValue})
	}
}

func (e expression[T]) begins(p *parser) bool {
	if p.here().kind == endToken {
		e.propose(p)
		return false
	}
	return true
}
func (e expression[T]) print(w *writer, from any) {
	text := *e.At(from.(*T))
	if w.names != nil && !e.Own {
		text = w.renamed(text, w.names)
	}
	w.add(text)
}
func (e expression[T]) words(func(string)) {}
func (e expression[T]) opening() string    { return "" }
func (e expression[T]) draw(d *drawing, into any) {
	*e.At(into.(*T)) = e.Drawn[d.source.IntN(len(e.Drawn))]
}

type moment[T any] struct {
	value func(*T) *float64
	dates func(*T) *bool
	first bool
}

// Moment is a piece that is a number, or a date in single quotes: then the number is
// seconds since 1970-01-01T00:00:00Z. Of several moments of one kind, the first one
// decides which kind that is when they are drawn at random.
func Moment[T any](value func(*T) *float64, dates func(*T) *bool, first bool) Piece {
	return moment[T]{value, dates, first}
}

// readMoment reads a date, or a date with a time.
func readMoment(text string) (float64, bool) {
	for _, form := range []string{"2006-01-02", "2006-01-02 15:04", "2006-01-02 15:04:05", "2006-01", "2006"} {
		if at, err := time.Parse(form, strings.TrimSpace(text)); err == nil {
			return float64(at.Unix()), true
		}
	}
	return 0, false
}

func (m moment[T]) parse(p *parser, into any) {
	t := p.here()
	if t.kind != textToken {
		*m.value(into.(*T)) = p.number()
		return
	}
	p.position++
	seconds, ok := readMoment(t.text)
	if !ok {
		p.fail(t, fmt.Sprintf("%s is no date", shown(t)), "write it as '2029-04-01'")
		return
	}
	*m.value(into.(*T)), *m.dates(into.(*T)) = seconds, true
}
func (m moment[T]) begins(p *parser) bool {
	return p.here().kind == numberToken || p.here().kind == textToken
}
func (m moment[T]) print(w *writer, from any) {
	v := *m.value(from.(*T))
	if !*m.dates(from.(*T)) {
		w.add(table.FormatNumber(v))
		return
	}
	grain := table.Day
	if v != float64(int64(v/86400)*86400) {
		grain = table.Second
	}
	if text := table.FormatDate(v, grain); w.aloud {
		w.add(text)
	} else {
		w.add(quotedText(text))
	}
}
func (m moment[T]) words(func(string)) {}
func (m moment[T]) opening() string    { return "" }
func (m moment[T]) draw(d *drawing, into any) {
	if m.first {
		*m.dates(into.(*T)) = d.source.IntN(3) == 0
	}
	if *m.dates(into.(*T)) {
		*m.value(into.(*T)) = float64(d.source.IntN(4_000_000_000))
		return
	}
	*m.value(into.(*T)) = d.number(Range{})
}
