package sentence

import (
	"math"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/scale"
	"copperlark/core/table"
)

func axis(name, example string) clause.Clause[document] {
	help := "limits, title and unit of " + name
	at := func(d *document) *chart.Axis { return d.Scale(name) }
	return clause.Clause[document]{Name: name, Help: help, Example: example, Parts: true,
		Trade: "axis limits range zoom title unit label format thousands millions currency money decimals percent " +
			"duration years units negative", Said: func(d *document) bool {
			return at(d).Limits != nil || at(d).Title != "" || at(d).Unit != "" || at(d).Form != "" || at(d).Untitled
		},
		Aloud:   clause.Aloud{Before: "Show ", Slot: "limits-" + name},
		Changed: func(_, _ *document, _ func(string) string) []string { return []string{name + " axis"} },
		Add: opens(
			func(*document) bool { return false },
			addition{
				Key:    "limits-" + name,
				Rank:   10,
				Label:  name + " from … to …",
				Detail: help,
				Opens:  "limits-" + name,
				Also:   "axis range minimum maximum",
			},
		),
		Pieces: []clause.Piece{
			clause.Maybe(
				func(d *document) bool { return at(d).Limits != nil },
				func(d *document) { at(d).Limits = &chart.Limits{} },
				clause.Suggestion{Text: "from ", Help: "where the axis begins and ends"},
				clause.Say(
					"from",
				),
				clause.Moment(
					func(d *document) *float64 { return &at(d).Limits.From },
					func(d *document) *bool { return &at(d).Limits.Dates },
					true,
				),
				clause.Say(
					"to",
				),
				clause.Moment(
					func(d *document) *float64 { return &at(d).Limits.To },
					func(d *document) *bool { return &at(d).Limits.Dates },
					false,
				),
			),
			clause.Maybe(
				func(d *document) bool { return at(d).Title != "" },
				nil,
				clause.Suggestion{Text: "titled ", Help: "what stands along the axis, in single quotes"},
				clause.Say("titled"),
				clause.Text(func(d *document) *string { return &at(d).Title }),
			),
			clause.Maybe(
				func(d *document) bool { return at(d).Untitled },
				func(d *document) { at(d).Untitled = true },
				clause.Suggestion{Help: "nothing stands along the axis but its numbers"},
				clause.Say("untitled"),
			),
			clause.Maybe(
				func(d *document) bool { return at(d).Unit != "" },
				nil,
				clause.Suggestion{Text: "in ", Help: "its unit, in single quotes"},
				clause.Say("in"),
				clause.Text(func(d *document) *string { return &at(d).Unit }),
			),
			clause.Maybe(
				func(d *document) bool { return at(d).Form != "" },
				nil,
				clause.Suggestion{Text: "as 120k", Help: "how its numbers are written"},
				clause.Say("as"),
				clause.OneOf("120k, percent, plain, currency '£' or 2 decimals", forms(at)...),
			),
		}}
}

// ways is how the axes run; wherever a setting is named after one its way is told beside it.
var ways = map[string]string{"x": "horizontal", "y": "vertical"}

// wayOf tells an axis with its way: x, the horizontal axis.
func wayOf(axis string) string { return axis + ", the " + ways[axis] + " axis" }

const secondsADay = 86400

func limitText(l *chart.Limits, v float64) string {
	if l.Dates && v != math.Floor(v/secondsADay)*secondsADay {
		return table.FormatDate(v, table.Second)
	}
	if l.Dates {
		return table.FormatDate(v, table.Day)
	}
	return table.FormatNumber(v)
}

// forms are the ways of writing the numbers along an axis.
func forms(at func(*document) *chart.Axis) (list []clause.Option[document]) {
	for _, form := range scale.Forms {
		pieces := []clause.Piece{clause.Say(form.Name)}
		switch form.Name {
		case "currency":
			pieces = append(pieces, clause.Text(func(d *document) *string { return &at(d).Symbol }))
		case "decimals":
			pieces = []clause.Piece{
				clause.Count(
					func(d *document) *int { return &at(d).Digits },
					clause.Range{From: 0, To: 8, Message: "numbers have from 0 to 8 decimals", Advice: "say as 2 decimals"},
				),
				clause.Say(form.Name),
			}
		}
		list = append(list, clause.Option[document]{Help: form.Help, Pieces: pieces,
			Set: func(d *document) { at(d).Form = form.Name }, Is: func(d *document) bool { return at(d).Form == form.Name }})
	}
	return list
}

// ticks is the step between the ticks of an axis.
func ticks(axis string) clause.Clause[document] {
	return clause.Clause[document]{
		Name:    "ticks " + axis,
		Help:    "where ticks stand along " + wayOf(axis),
		Example: "ticks " + axis + " every 15000",
		Trade:   "breaks marks step spacing grid",
		Aloud:   clause.Aloud{Slot: "limits-" + axis},
		Pieces: []clause.Piece{clause.OneOf(
			"every and a step, or at and values",
			clause.Option[document]{
				Help:   "at values",
				Pieces: []clause.Piece{clause.Say("at"), clause.Numbers(func(d *document) *[]float64 { return &d.Scale(axis).Ticks })},
				Is:     func(d *document) bool { return len(d.Scale(axis).Ticks) > 0 },
			},
			clause.Option[document]{
				Help: "a step apart",
				Is:   func(d *document) bool { return d.Scale(axis).Every != 0 },
				Pieces: []clause.Piece{
					clause.Say("every"),
					clause.Number(
						func(d *document) *float64 { return &d.Scale(axis).Every },
						clause.Range{
							From:    0,
							To:      math.MaxFloat64,
							Above:   true,
							Message: "the step between ticks is above zero",
							Advice:  "say ticks every 10",
						},
					),
				},
			},
		)},
		Said: func(d *document) bool { return d.Scale(axis).Every != 0 || len(d.Scale(axis).Ticks) > 0 },
	}
}

// The axes.
var (
	axisX = axis("x", "x from 1 to 2500 titled 'Forage area' in 'ha'")
	axisY = axis("y", "y from 0 to 40 titled 'Honey yield' in 'kg'")
)
