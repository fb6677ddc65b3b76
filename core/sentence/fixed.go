package sentence

import (
	"slices"
	"unicode"
	"unicode/utf8"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/colour"
	"copperlark/core/primitive"
	"copperlark/core/table"
	english "copperlark/core/words"
)

// fixed is a clause that gives all marks one colour, size or shape.
type fixed struct {
	name, spoken, help, example, synonyms string
	rank                                  int
	piece                                 clause.Piece
	said                                  func(*document) bool
	text                                  func(*document) string
	before                                func(*document) string // said between spoken and text; nil: nothing
	clear, byColumn                       func(*document)
	offers                                []chart.Fixed // what its word offers
}

func (f fixed) clause() clause.Clause[document] {
	slot := "one-" + f.name
	put := func(d *document, with chart.Fixed) {
		if f.byColumn(d); with.Colour != "" {
			d.Fixed.Colour = with.Colour
		}
		if with.Size != 0 {
			d.Fixed.Size = with.Size
		}
		if with.Shape != "" {
			d.Fixed.Shape = with.Shape
		}
	}
	return clause.Clause[document]{Name: "one " + f.name, Help: f.help, Trade: f.synonyms, Example: f.example,
		Pieces: []clause.Piece{f.piece}, Said: f.said,
		Speak: func(d *document, s *clause.Speech) {
			if f.said(d) {
				s.Say(", " + f.spoken + " ")
				if f.before != nil {
					s.Say(f.before(d) + " ")
				}
				switch {
				case d.Fixed.Colour != "" && f.text(d) == d.Fixed.Colour:
					s.Way(clause.Colour(f.text(d)), slot)
				case f.before != nil && !slices.Contains(primitive.Shapes, f.text(d)):
					s.Way(s.Value(f.text(d)), slot)
				default:
					s.Way(f.text(d), slot)
				}
			}
		},
		Changed: func(_, after *document, _ func(string) string) []string {
			if !f.said(after) {
				return []string{"usual " + f.name}
			}
			return []string{f.name + " " + f.text(after)}
		},
		Menus: []menu{{Slot: slot, Title: "One " + f.name, Find: "Find a " + f.name,
			Without: func(d *document, _ int) *document { return with(d, f.clear) },
			Choices: func(d *document, _ int, _ *table.Table) (list []choice) {
				for _, offer := range f.offers {
					next := with(d, func(next *document) { put(next, offer) })
					list = append(
						list,
						choice{Key: f.text(next), Label: f.text(next), D: next, Current: f.said(d) && f.text(d) == f.text(next)},
					)
				}
				return list
			}}},
		Add: func(d *document, t *table.Table) []addition {
			before := with(d, func(*document) {})
			f.byColumn(before)
			if f.said(d) || !d.Whole() || before.Colour != d.Colour || before.Size != d.Size || before.Shape != d.Shape {
				return nil
			}
			return []addition{
				{
					Key:    "one " + f.name,
					Rank:   f.rank,
					Label:  "one " + f.name + " for all",
					Detail: f.help,
					Also:   f.synonyms,
					D:      with(d, func(next *document) { put(next, f.offers[0]) }),
				},
			}
		}}
}

// The clauses of one colour, size and shape; what they offer first is another than the usual one.
var oneColour, oneSize, oneShape = fixed{
	name:     "colour",
	spoken:   "all in",
	help:     "the colour of all marks",
	example:  "one colour '#b4531a'",
	synonyms: "color fill single constant",
	rank:     15,
	piece: clause.Text(
		func(d *document) *string { return &d.Fixed.Colour },
	),
	said:     func(d *document) bool { return d.Fixed.Colour != "" },
	text:     func(d *document) string { return d.Fixed.Colour },
	clear:    func(d *document) { d.Fixed.Colour = "" },
	byColumn: func(d *document) { d.Colour = "" },
	offers:   colourOffers(),
}.clause(),
	fixed{
		name:     "size",
		spoken:   "each",
		help:     "the radius of all dots, in pixels",
		example:  "one size 4",
		synonyms: "radius points single constant bigger smaller",
		rank:     16,
		piece: clause.Number(
			func(d *document) *float64 { return &d.Fixed.Size },
			clause.Range{
				From:    chart.SmallestDot,
				To:      chart.LargestDot,
				Message: "dots are from 0.5 to 30 pixels",
				Advice:  "say one size 4",
			},
		),
		said:     func(d *document) bool { return d.Fixed.Size != 0 },
		text:     func(d *document) string { return table.FormatNumber(d.Fixed.Size) + " px" },
		clear:    func(d *document) { d.Fixed.Size = 0 },
		byColumn: func(d *document) { d.Size = "" },
		offers:   []chart.Fixed{{Size: 4}, {Size: 1.5}, {Size: 2.5}, {Size: 6}, {Size: 9}},
	}.clause(),
	fixed{
		name:     "shape",
		spoken:   "each",
		before:   shapeBefore,
		help:     "the shape of all dots, or a letter",
		example:  "one shape ring",
		synonyms: "marker symbol glyph single constant hollow letter character text",
		rank:     17,
		piece: clause.OneOf(
			"a shape such as ring",
			shapeOptions()...),
		said:     func(d *document) bool { return d.Fixed.Shape != "" },
		text:     func(d *document) string { return d.Fixed.Shape },
		clear:    func(d *document) { d.Fixed.Shape = "" },
		byColumn: func(d *document) { d.Shape = "" },
		offers:   append(shapeOffers(), chart.Fixed{Shape: "A"}, chart.Fixed{Shape: "+"}, chart.Fixed{Shape: "×"}),
	}.clause()

// shapeBefore is what stands before a shape: a circle; the letter A; the sign ×.
func shapeBefore(d *document) string {
	if slices.Contains(primitive.Shapes, d.Fixed.Shape) {
		return english.Article(d.Fixed.Shape)
	}
	if letter, _ := utf8.DecodeRuneInString(d.Fixed.Shape); unicode.IsLetter(letter) {
		return "the letter"
	}
	return "the sign"
}

func colourOffers() (list []chart.Fixed) {
	for _, hex := range colour.Hedgerow.Light {
		list = append(list, chart.Fixed{Colour: hex})
	}
	return list
}

func shapeOffers() (list []chart.Fixed) {
	for i := range primitive.Shapes { // another one first
		list = append(list, chart.Fixed{Shape: primitive.Shapes[(i+5)%len(primitive.Shapes)]})
	}
	return list
}

func shapeOptions() (list []clause.Option[document]) {
	list = append(
		list,
		clause.Option[document]{
			Help:   "a letter or sign of your own",
			Text:   "'A'",
			Behind: true,
			Pieces: []clause.Piece{clause.Text(func(d *document) *string { return &d.Fixed.Shape })},
			Is:     func(d *document) bool { return !slices.Contains(primitive.Shapes, d.Fixed.Shape) },
		},
	)
	for _, shape := range primitive.Shapes {
		list = append(
			list,
			clause.Option[document]{
				Pieces: []clause.Piece{clause.Say(shape)},
				Set:    func(d *document) { d.Fixed.Shape = shape },
				Is:     func(d *document) bool { return d.Fixed.Shape == shape },
			},
		)
	}
	return list
}

// opacityClause is how much marks cover what lies behind them.
var opacityClause = clause.Clause[document]{Name: "opacity", Trade: "alpha transparency see-through",
	Help: "how much marks cover, from 0 to 1", Example: "opacity 0.5",
	Pieces: []clause.Piece{clause.Number(func(d *document) *float64 { return &d.Opacity },
		clause.Range{From: 0, To: 1, Above: true, Message: "opacity goes from 0 to 1", Advice: "say a number such as 0.5"})},
	Said: func(d *document) bool { return d.Opacity != 0 },
	Speak: func(d *document, s *clause.Speech) {
		if d.Opacity != 0 {
			s.Say(", ")
			s.Way(percent(d.Opacity)+" % opaque", "opacity")
		}
	},
	Menus: []menu{opacityMenu},
	Add: func(d *document, _ *table.Table) []addition {
		if d.Opacity != 0 {
			return nil
		}
		return []addition{
			{
				Key:    "opacity",
				Rank:   12,
				Label:  "opacity 50 %",
				Detail: "how much marks cover",
				Also:   "alpha transparency",
				D:      with(d, func(next *document) { next.Opacity = 0.5 }),
			},
		}
	}}
