package clause

import (
	"fmt"
	"math"
	"strings"

	"copperlark/core/table"
)

// say are words that must stand there.
type say string

// Say is a piece of words that must stand there.
func Say(words string) Piece { return say(words) }

func (s say) parse(p *parser, _ any) {
	for _, word := range strings.Fields(string(s)) {
		p.need(word)
	}
}
func (s say) begins(p *parser) bool {
	if p.here().kind == endToken {
		p.expect(Expectation{ExpectWord, Suggestion{Text: string(s)}})
		return false
	}
	first, _, _ := strings.Cut(string(s), " ")
	return p.ahead(first)
}
func (s say) print(w *writer, _ any)      { w.add(string(s)) }
func (s say) words(add func(word string)) { add(string(s)) }
func (s say) opening() string             { return string(s) }
func (s say) draw(*drawing, any)          {}

// phrase are words that begin something only when all of them stand there.
type phrase struct{ say }

// Phrase is a piece of words that is told from what begins with the same word by all of
// them: "month of day" where a column may be called month.
func Phrase(words string) Piece { return phrase{say(words)} }

func (f phrase) begins(p *parser) bool {
	if p.here().kind == endToken {
		return f.say.begins(p)
	}
	return p.ahead(string(f.say))
}

// assigned is a word with the sign = behind it.
type assigned struct{ say }

// Assigned is a piece of a word and the sign =, told from a column of the word's name by the sign.
func Assigned(word string) Piece { return assigned{say(word)} }

func (a assigned) parse(p *parser, into any) {
	a.say.parse(p, into)
	Sign("=").parse(p, into)
}

func (a assigned) begins(p *parser) bool {
	if p.here().kind == endToken {
		p.expect(Expectation{ExpectWord, Suggestion{Text: a.opening()}})
		return false
	}
	next := p.position + 1
	return p.ahead(string(a.say)) && next < len(p.tokens) && p.tokens[next].kind == markToken && p.tokens[next].text == "="
}
func (a assigned) print(w *writer, _ any) { w.add(a.opening()) }
func (a assigned) words(func(string))     {}
func (a assigned) opening() string        { return string(a.say) + " =" }

// mark is a sign behind a number, which may be left out.
type mark string

// Mark is a sign that stands right behind the piece before it, and may be left out when
// typing.
func Mark(sign string) Piece { return mark(sign) }

func (m mark) parse(p *parser, _ any) {
	if t := p.here(); t.kind == markToken && t.text == string(m) {
		p.position++
	}
}
func (m mark) begins(*parser) bool    { return false }
func (m mark) print(w *writer, _ any) { w.text.WriteString(string(m)) }
func (m mark) words(func(string))     {}
func (m mark) opening() string        { return "" }
func (m mark) draw(*drawing, any)     {}

type does[T any] struct{ act func(*T) }

// Does is a piece without words: that its clause stands there is all that it says.
func Does[T any](act func(*T)) Piece { return does[T]{act} }

func (y does[T]) parse(_ *parser, into any) { y.act(into.(*T)) }
func (y does[T]) silent()                   {}
func (y does[T]) begins(*parser) bool       { return true }
func (y does[T]) print(*writer, any)        {}
func (y does[T]) words(func(string))        {}
func (y does[T]) opening() string           { return "" }
func (y does[T]) draw(_ *drawing, into any) { y.act(into.(*T)) }

type column[T any] struct{ at func(*T) *string }

// Column is a piece that names a column.
func Column[T any](at func(*T) *string) Piece { return column[T]{at} }

func (c column[T]) parse(p *parser, into any) {
	t := p.here()
	at := c.at(into.(*T))
	*at = p.column()
	p.placed(at, t.from, t.to)
}
func (c column[T]) begins(p *parser) bool {
	p.expect(Expectation{Kind: ExpectColumn})
	t := p.here()
	return t.kind == wordToken || t.kind == nameToken
}
func (c column[T]) print(w *writer, from any) { w.add(w.column(*c.at(from.(*T)))) }
func (c column[T]) words(func(string))        {}
func (c column[T]) opening() string           { return "" }
func (c column[T]) draw(d *drawing, into any) { *c.at(into.(*T)) = d.name() }

type looseColumn[T any] struct {
	column[T]
	elsewhere func(*T) bool
}

// LooseColumn is a piece that names a column which is looked up later: of the table or, where elsewhere
// says so, of another one, whose columns a text is not held to.
func LooseColumn[T any](at func(*T) *string, elsewhere func(*T) bool) Piece {
	return looseColumn[T]{column[T]{at}, elsewhere}
}

func (c looseColumn[T]) parse(p *parser, into any) {
	columns := p.columns
	p.columns = nil
	c.column.parse(p, into)
	p.columns = columns
}

func (c looseColumn[T]) print(w *writer, from any) {
	if name := *c.at(from.(*T)); c.elsewhere(from.(*T)) {
		w.add(w.columnName(name))
	} else {
		w.add(w.column(name))
	}
}

type text[T any] struct{ at func(*T) *string }

// Text is a piece of any words, in single quotes. The empty text says nothing.
func Text[T any](at func(*T) *string) Piece { return text[T]{at} }

func (x text[T]) parse(p *parser, into any) {
	t := p.here()
	at := x.at(into.(*T))
	*at = p.text()
	p.placed(at, t.from, t.to)
}
func (x text[T]) begins(p *parser) bool     { return p.here().kind == textToken }
func (x text[T]) print(w *writer, from any) { w.add(w.quoted(*x.at(from.(*T)))) }
func (x text[T]) words(func(string))        {}
func (x text[T]) opening() string           { return "" }
func (x text[T]) draw(d *drawing, into any) { *x.at(into.(*T)) = d.text() }

// Range is what a number may be.
type Range struct {
	From, To float64 // both ends count; the zero Range holds every number
	Whole    bool
	Above    bool // From itself does not count

	Message, Advice string // of a number outside
	Expected        string // names what is no number at all in a mistake; empty: a number
}

func (r Range) holds(v float64) bool {
	if r.From == 0 && r.To == 0 {
		return true
	}
	return v >= r.From && v <= r.To && !(r.Above && v == r.From) && !(r.Whole && v != math.Trunc(v))
}

type number[T any] struct {
	get   func(*T) float64
	set   func(*T, float64)
	where func(*T) any
	limit Range
}

// Number is a piece that is a number within a range.
func Number[T any](at func(*T) *float64, limit Range) Piece {
	return number[T]{func(t *T) float64 { return *at(t) }, func(t *T, v float64) { *at(t) = v }, func(t *T) any { return at(t) }, limit}
}

// Count is a piece that is a whole number within a range.
func Count[T any](at func(*T) *int, limit Range) Piece {
	limit.Whole = true
	return number[T]{
		func(t *T) float64 { return float64(*at(t)) },
		func(t *T, v float64) { *at(t) = int(v) },
		func(t *T) any { return at(t) },
		limit,
	}
}

func (n number[T]) parse(p *parser, into any) {
	at := p.here()
	if at.kind != numberToken && n.limit.Expected != "" {
		p.fail(at, "expected "+n.limit.Expected, n.limit.Advice)
	}
	v := p.number()
	if !p.failed && !n.limit.holds(v) {
		p.fail(at, n.limit.Message, n.limit.Advice)
	}
	if !p.failed {
		n.set(into.(*T), v)
		p.placed(n.where(into.(*T)), at.from, at.to)
	}
}
func (n number[T]) begins(p *parser) bool     { return p.here().kind == numberToken }
func (n number[T]) print(w *writer, from any) { w.add(table.FormatNumber(n.get(from.(*T)))) }
func (n number[T]) words(func(string))        {}
func (n number[T]) opening() string           { return "" }
func (n number[T]) draw(d *drawing, into any) { n.set(into.(*T), d.number(n.limit)) }

type maybe[T any] struct {
	said    func(*T) bool
	begin   func(*T)
	pieces  []Piece
	suggest Suggestion
}

// Maybe is a group of pieces that may be left out. said reports whether a T says it, begin
// makes room for it where there is none (nil: nothing to make); suggest is what completion
// proposes, its text the words that it begins with when empty.
func Maybe[T any](said func(*T) bool, begin func(*T), suggest Suggestion, pieces ...Piece) Piece {
	return maybe[T]{said, begin, pieces, suggest}
}

func (m maybe[T]) parse(p *parser, into any) {
	if !m.begins(p) {
		return
	}
	if m.begin != nil {
		m.begin(into.(*T))
	}
	for _, piece := range m.pieces {
		piece.parse(p, into)
	}
}

func (m maybe[T]) begins(p *parser) bool {
	suggest := m.suggest
	if suggest.Text == "" {
		suggest.Text = m.opening()
	}
	return p.proposing(suggest, func() bool { return m.pieces[0].begins(p) })
}

func (m maybe[T]) print(w *writer, from any) {
	if m.said(from.(*T)) {
		for _, piece := range m.pieces {
			piece.print(w, from)
		}
	}
}

func (m maybe[T]) words(add func(string)) {
	for _, piece := range m.pieces {
		piece.words(add)
	}
}

func (m maybe[T]) opening() string { return m.pieces[0].opening() }

func (m maybe[T]) draw(d *drawing, into any) {
	if d.source.IntN(2) == 0 {
		if m.begin != nil {
			m.begin(into.(*T))
		}
		for _, piece := range m.pieces {
			piece.draw(d, into)
		}
	}
}

// Option is one of several things that can be said in one place.
type Option[T any] struct {
	Pieces []Piece       // none: nothing is said
	Set    func(*T)      // what it means, before its pieces are read; may be nil
	Is     func(*T) bool // whether a T says it; nil for another way of typing one of the others
	Help   string
	Text   string // what completion proposes; empty: the words that it begins with
	Behind bool   // it is proposed behind the others
}

type oneOf[T any] struct {
	expected string
	options  []Option[T]
}

// OneOf is a piece that is one of several; expected names them in a mistake.
func OneOf[T any](expected string, options ...Option[T]) Piece { return oneOf[T]{expected, options} }

func (o oneOf[T]) parse(p *parser, into any) {
	if p.here().kind == endToken { // what could be said, in the order of proposing
		o.begins(p)
	}
	for _, option := range o.options {
		if len(option.Pieces) > 0 && !option.begins(p) {
			continue
		}
		if option.Set != nil {
			option.Set(into.(*T))
		}
		for _, piece := range option.Pieces {
			piece.parse(p, into)
		}
		return
	}
	p.fail(p.here(), "expected "+o.expected, "")
}

func (option Option[T]) begins(p *parser) bool {
	text := option.Text
	if text == "" {
		text = option.Pieces[0].opening()
	}
	return p.proposing(Suggestion{Text: text, Help: option.Help}, func() bool { return option.Pieces[0].begins(p) })
}

func (o oneOf[T]) begins(p *parser) bool {
	found := false
	for _, behind := range []bool{false, true} {
		for _, option := range o.options {
			if option.Behind == behind {
				found = len(option.Pieces) > 0 && option.begins(p) || found // all of them: what could be said is gathered
			}
		}
	}
	return found
}

func (o oneOf[T]) print(w *writer, from any) {
	for _, option := range o.options {
		if option.Is != nil && option.Is(from.(*T)) {
			for _, piece := range option.Pieces {
				piece.print(w, from)
			}
			return
		}
	}
	panic(fmt.Sprintf("clause: nothing of %q is said by %+v", o.expected, from))
}

func (o oneOf[T]) words(add func(string)) {
	for _, option := range o.options {
		for _, piece := range option.Pieces {
			piece.words(add)
		}
	}
}

func (o oneOf[T]) opening() string { return "" }

func (o oneOf[T]) draw(d *drawing, into any) {
	for {
		option := o.options[d.source.IntN(len(o.options))]
		if option.Is == nil {
			continue
		}
		if option.Set != nil {
			option.Set(into.(*T))
		}
		for _, piece := range option.Pieces {
			piece.draw(d, into)
		}
		return
	}
}
