package clause

import (
	"slices"
	"strings"
)

type name[T any] struct{ at func(*T) *string }

// Name is a piece that gives a name to something: a word, or any text in double quotes.
func Name[T any](at func(*T) *string) Piece { return name[T]{at} }

func (n name[T]) parse(p *parser, into any) {
	t := p.here()
	if t.kind != wordToken && t.kind != nameToken || t.text == "" {
		p.fail(t, "expected a name", "")
		return
	}
	p.position++
	at := n.at(into.(*T))
	*at = t.text
	p.placed(at, t.from, t.to)
}
func (n name[T]) begins(p *parser) bool {
	return p.here().kind == wordToken || p.here().kind == nameToken
}
func (n name[T]) print(w *writer, from any) { w.add(w.columnName(*n.at(from.(*T)))) }
func (n name[T]) words(func(string))        {}
func (n name[T]) opening() string           { return "" }
func (n name[T]) draw(d *drawing, into any) { *n.at(into.(*T)) = d.name() }

type tableName[T any] struct{ name[T] }

// TableName is a piece that names another dataset: a word, or any text in quotes.
func TableName[T any](at func(*T) *string) Piece { return tableName[T]{name[T]{at}} }

func (n tableName[T]) parse(p *parser, into any) {
	p.expect(Expectation{Kind: ExpectTable})
	t := p.here()
	if t.kind == textToken && t.text != "" {
		p.position++
		at := n.at(into.(*T))
		*at = t.text
		p.placed(at, t.from, t.to)
		return
	}
	if !n.name.begins(p) {
		p.fail(t, "expected the name of a dataset", "")
		return
	}
	n.name.parse(p, into)
}

func (n tableName[T]) begins(p *parser) bool {
	return p.here().kind == textToken || n.name.begins(p)
}

type texts[T any] struct{ at func(*T) *[]string }

// Texts is a piece of one or more texts in single quotes, with commas between them.
func Texts[T any](at func(*T) *[]string) Piece { return texts[T]{at} }

func (x texts[T]) parse(p *parser, into any) {
	list := x.at(into.(*T))
	for {
		t := p.here()
		p.expect(Expectation{Kind: ExpectGroup})
		said := p.text()
		if p.failed {
			return
		}
		*list = append(*list, said)
		p.placed(Item{list, len(*list) - 1}, t.from, t.to)
		if !sign(",").begins(p) {
			return
		}
		p.position++
	}
}
func (x texts[T]) begins(p *parser) bool { return p.here().kind == textToken }
func (x texts[T]) print(w *writer, from any) {
	for i, said := range *x.at(from.(*T)) {
		if i > 0 {
			w.text.WriteByte(',')
		}
		w.add(w.quoted(said))
	}
}
func (x texts[T]) words(func(string)) {}
func (x texts[T]) opening() string    { return "" }
func (x texts[T]) draw(d *drawing, into any) {
	list := x.at(into.(*T))
	for range 1 + d.source.IntN(3) {
		*list = append(*list, d.text())
	}
}

type each[T, I any] struct {
	at     func(*T) *[]*I
	until  Piece // what stands behind a comma and is no item; may be nil
	pieces []Piece
}

// Each is a piece of one or more items with commas between them, each said by the same
// pieces, which are about the item.
func Each[T, I any](at func(*T) *[]*I, pieces ...Piece) Piece { return each[T, I]{at, nil, pieces} }

// EachUntil is Each whose list ends before a comma that something else stands behind.
func EachUntil[T, I any](at func(*T) *[]*I, until Piece, pieces ...Piece) Piece {
	return each[T, I]{at, until, pieces}
}

func (e each[T, I]) parse(p *parser, into any) {
	for !p.failed {
		item := new(I)
		list := e.at(into.(*T))
		*list = append(*list, item)
		for _, piece := range e.pieces {
			if !p.failed {
				piece.parse(p, item)
			}
		}
		if p.failed || !sign(",").begins(p) || !e.followed(p) {
			return
		}
		p.position++
	}
}

// followed reports whether what stands behind the comma is another item; where the text
// ends there, it will be one.
func (e each[T, I]) followed(p *parser) bool {
	p.position++
	defer func() { p.position-- }()
	if e.until != nil && p.here().kind != endToken && e.until.begins(p) {
		return false
	}
	return p.here().kind == endToken || e.pieces[0].begins(p)
}
func (e each[T, I]) begins(p *parser) bool { return e.pieces[0].begins(p) }
func (e each[T, I]) print(w *writer, from any) {
	for i, item := range *e.at(from.(*T)) {
		if i > 0 {
			w.text.WriteByte(',')
		}
		for _, piece := range e.pieces {
			piece.print(w, item)
		}
	}
}
func (e each[T, I]) words(add func(string)) {
	for _, piece := range e.pieces {
		piece.words(add)
	}
}
func (e each[T, I]) opening() string { return e.pieces[0].opening() }
func (e each[T, I]) draw(d *drawing, into any) {
	list := e.at(into.(*T))
	for range 1 + d.source.IntN(3) {
		item := new(I)
		*list = append(*list, item)
		for _, piece := range e.pieces {
			piece.draw(d, item)
		}
	}
}

type need[T any] struct {
	said     func(*T) bool
	expected string
	fix      func(*T)
}

// Need is a piece without words: one of the pieces before it that may be left out has to
// be said. fix says one, for drawing at random.
func Need[T any](said func(*T) bool, expected string, fix func(*T)) Piece {
	return need[T]{said, expected, fix}
}

func (n need[T]) parse(p *parser, into any) {
	if !n.said(into.(*T)) {
		p.fail(p.here(), "expected "+n.expected, "")
	}
}
func (n need[T]) begins(*parser) bool { return false }
func (n need[T]) print(*writer, any)  {}
func (n need[T]) words(func(string))  {}
func (n need[T]) opening() string     { return "" }
func (n need[T]) draw(_ *drawing, into any) {
	if !n.said(into.(*T)) {
		n.fix(into.(*T))
	}
}

type rest[T any] struct{ at func(*T) *string }

// Rest is a piece of whatever stands on the rest of the line.
func Rest[T any](at func(*T) *string) Piece { return rest[T]{at} }

func (r rest[T]) parse(p *parser, into any) {
	if p.position < len(p.tokens) {
		*r.at(into.(*T)) = string(p.runes[p.here().from:p.tokens[len(p.tokens)-1].to])
		p.position = len(p.tokens)
	}
}
func (r rest[T]) silent()             {}
func (r rest[T]) begins(*parser) bool { return true }
func (r rest[T]) print(w *writer, from any) {
	if said := *r.at(from.(*T)); said != "" {
		w.add(said)
	}
}
func (r rest[T]) words(func(string)) {}
func (r rest[T]) opening() string    { return "" }
func (r rest[T]) draw(d *drawing, into any) {
	*r.at(into.(*T)) = []string{"", "hive_seasons", "'a file.csv'"}[d.source.IntN(3)]
}

// Listed is an Option for each of several ways of saying one thing: words, and the value
// that they mean.
func Listed[T any, V comparable](at func(*T) *V, list ...Way[V]) []Option[T] {
	var options []Option[T]
	for _, way := range list {
		pieces := way.Pieces
		if pieces == nil {
			pieces = []Piece{Say(way.Words)}
		}
		options = append(
			options,
			Option[T]{
				Pieces: pieces,
				Help:   way.Help,
				Text:   way.Words,
				Set:    func(t *T) { *at(t) = way.Value },
				Is:     func(t *T) bool { return *at(t) == way.Value },
			},
		)
	}
	return options
}

// Way is one way of saying something. Pieces stand for the words where those are more
// than plain words.
type Way[V comparable] struct {
	Words  string
	Pieces []Piece
	Value  V
	Help   string
}

// Spoken names the ways in a mistake: "day, week or month".
func Spoken[V comparable](list []Way[V]) string {
	var all []string
	for _, way := range list {
		all = append(all, way.Words)
	}
	if len(all) < 2 {
		return strings.Join(all, "")
	}
	return strings.Join(slices.Clone(all[:len(all)-1]), ", ") + " or " + all[len(all)-1]
}

// firstColumn is a piece of the first column of a list (see Columns).
type firstColumn[T any] struct{ at func(*T) *[]string }

func (c firstColumn[T]) parse(p *parser, into any) {
	t := p.here()
	name := p.column()
	if p.failed {
		return
	}
	list := c.at(into.(*T))
	*list = append(*list, name)
	p.placed(Item{list, len(*list) - 1}, t.from, t.to)
}
func (c firstColumn[T]) begins(p *parser) bool {
	p.expect(Expectation{Kind: ExpectColumn})
	return p.here().kind != endToken // a mistake says that a column is due
}
func (c firstColumn[T]) print(w *writer, from any) { w.add(w.column((*c.at(from.(*T)))[0])) }
func (c firstColumn[T]) words(func(string))        {}
func (c firstColumn[T]) opening() string           { return "" }
func (c firstColumn[T]) draw(d *drawing, into any) {
	list := c.at(into.(*T))
	*list = append(*list, d.name())
}
