package sentence

import (
	"fmt"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/clause"
	"copperlark/core/formula"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// whereClause is the rows that a chart is of.
var whereClause = clause.Clause[document]{
	Name:    "of rows where",
	Trade:   "filter subset condition query select exclude",
	Also:    []string{"keep"},
	Help:    "the rows that the chart is of",
	Example: "of rows where season >= 2029 and district <> 'Tarn'",
	Pieces: []clause.Piece{
		clause.Expression(
			clause.ExpressionOf[document]{At: func(d *document) *string { return &d.Where }, What: "a condition", Check: formula.Mistake,
				Drawn: []string{"season >= 2029 and district <> 'Tarn'", `"a b" is null or x > -1.5`, "name = 'it''s'"}},
		),
	},
	Said: func(d *document) bool { return d.Where != "" },
	Speak: func(d *document, s *clause.Speech) {
		if d.Where != "" {
			s.Sentence("Of rows where ")
			s.Way(formula.SpokenCondition(d.Where, s.Readable, s.Value), "where")
			s.Say(", ")
		}
	},
	Changed: func(_, after *document, readable func(string) string) []string {
		if after.Where == "" {
			return []string{"of all rows"}
		}
		return []string{"where " + formula.SpokenCondition(after.Where, readable, plainly)}
	},
	Add: opens(
		func(d *document) bool { return d.Where != "" },
		addition{
			Key:    "where",
			Rank:   8,
			Label:  "of rows where …",
			Detail: "a condition of this chart alone",
			Opens:  "where",
			Also:   "filter subset keep only",
		},
	),
}

// plainly says a text as it is.
func plainly(text string) string { return text }

// takeOutClause shows a relation with a third column taken out.
var takeOutClause = clause.Clause[document]{
	Name:    "take out",
	Trade:   "adjust control partial residual confounder covariate",
	Help:    "moves the rows to where they would stand if the groups of a column had equal means",
	Example: "take out district",
	Pieces:  []clause.Piece{clause.Column(func(d *document) *string { return &d.TakeOut })},
	Said:    func(d *document) bool { return d.TakeOut != "" },
	Speak: func(d *document, s *clause.Speech) {
		if d.TakeOut != "" {
			s.Say(", with ")
			s.Column(d.TakeOut, "take-out")
			s.Say(" taken out")
		}
	},
	Changed: func(_, after *document, readable func(string) string) []string {
		if after.TakeOut == "" {
			return []string{"nothing taken out"}
		}
		return []string{"out: " + readable(after.TakeOut)}
	},
	Menus: []menu{
		columnMenu("take-out", "Take out", field(func(d *document) *string { return &d.TakeOut }), true, func(*document, *table.Column) {}, true),
	},
	Add: opens(
		func(d *document) bool { return d.TakeOut != "" },
		addition{
			Key:    "take out",
			Rank:   7,
			Label:  "take out …",
			Detail: "the relation with a third column held fixed",
			Opens:  "take-out",
			Also:   "adjust control partial residual confounder",
		},
	),
}

// variable is a column, a column read otherwise, or a statistic of one.
func variable(at func(*document) *chart.Variable) clause.Piece {
	options := []clause.Option[document]{
		{Help: "how many rows there are", Text: "count()", Pieces: []clause.Piece{clause.Say("count"), clause.Sign("("), clause.Sign(")")},
			Set: func(d *document) { at(d).Of = chart.Count }, Is: func(d *document) bool { return at(d).Of == chart.Count }},
	}
	for _, of := range chart.Aggregates {
		options = append(
			options,
			clause.Option[document]{
				Help: "the " + string(of) + " of a column",
				Text: string(of) + "(",
				Pieces: []clause.Piece{
					clause.Say(string(of)),
					clause.Sign("("),
					clause.Column(func(d *document) *string { return &at(d).Column }),
					clause.Sign(")"),
				},
				Set: func(d *document) { at(d).Of = of },
				Is:  func(d *document) bool { return at(d).Of == of },
			},
		)
	}
	options = append(options, clause.Option[document]{Help: "a column", Is: func(d *document) bool { return at(d).Of == chart.NoAggregate },
		Pieces: []clause.Piece{clause.Column(func(d *document) *string { return &at(d).Column }),
			clause.Maybe(
				func(d *document) bool { return at(d).As != chart.AsItIs },
				func(d *document) { at(d).As = chart.AsNumber },
				clause.Suggestion{Help: "read otherwise for this chart"},
				clause.Say("as"),
				clause.OneOf(
					"number or groups, or a line of its own for what it is drawn as",
					readAs(at, chart.AsNumber, "its levels read as numbers"),
					readAs(at, chart.AsGroups, "its values read as groups"),
				),
			)}})
	return clause.OneOf("a column, count() or mean(…)", options...)
}

func readAs(at func(*document) *chart.Variable, as chart.Reading, help string) clause.Option[document] {
	return clause.Option[document]{
		Help:   help,
		Pieces: []clause.Piece{clause.Say(string(as))},
		Set:    func(d *document) { at(d).As = as },
		Is:     func(d *document) bool { return at(d).As == as },
	}
}

// functionOption is y worked out from x, without a table.
var functionOption = clause.Option[document]{
	Help:   "y worked out from x, without rows",
	Behind: true,
	Is:     func(d *document) bool { return d.Function != nil },
	Set:    func(d *document) { d.SetFunction(chart.Function{From: -1, To: 1}) },
	Pieces: []clause.Piece{clause.Assigned("y"),
		clause.Expression(
			clause.ExpressionOf[document]{
				At:     func(d *document) *string { return &d.Function.Formula },
				What:   "an expression of x, such as x ^ 2",
				Until:  []string{"for"},
				Check:  formula.CurveMistake,
				Begins: []clause.Word{{Text: "x", Help: "what stands along x"}},
				Own:    true,
				Joins:  []string{"+", "-", "*", "/", "^"},
				Drawn:  []string{"x ^ 2", "ln(x)", "1 / x", "sqrt(x) - 3"},
			},
		),
		clause.Say("for x from"), clause.Number(func(d *document) *float64 { return &d.Function.From }, clause.Range{}),
		clause.Say("to"), clause.Number(func(d *document) *float64 { return &d.Function.To }, clause.Range{}),
		clause.Maybe(
			func(d *document) bool { return d.Function.Values != 0 },
			nil,
			clause.Suggestion{Text: "at 13 values", Help: "at how many places it is worked out"},
			clause.Say("at"),
			clause.Count(
				func(d *document) *int { return &d.Function.Values },
				clause.Range{From: chart.LeastValues, To: chart.MostValues, Message: chart.ValuesMessage, Advice: "say at 13 values"},
			),
			clause.Say("values"),
		)},
}

var plotted = clause.OneOf(
	"a column, count(), mean(…) or spread of …",
	functionOption,
	clause.Option[document]{
		Help:   "how the values of one column are spread",
		Set:    func(d *document) { d.Y.Of = chart.Spread },
		Is:     func(d *document) bool { return d.Y.Of == chart.Spread },
		Pieces: []clause.Piece{clause.Say("spread of"), clause.Column(func(d *document) *string { return &d.X.Column })},
	},
	clause.Option[document]{Is: func(d *document) bool { return true },
		Pieces: []clause.Piece{
			variable(func(d *document) *chart.Variable { return &d.Y }),
			clause.MoreColumns(func(d *document) *[]string { return &d.AlsoY }),
			clause.Say("against"),
			variable(func(d *document) *chart.Variable { return &d.X }),
		}},
)

// plotClause is what stands along the axes.
var plotClause = clause.Clause[document]{
	Name:    "plot",
	Trade:   "axes variables x y scatter function formula equation",
	Help:    "what stands along y and x",
	Example: "plot mean(honey_kg) against forage_ha as groups",
	Pieces:  []clause.Piece{plotted},
	Said:    func(*document) bool { return true },
	Speak: func(d *document, s *clause.Speech) {
		begin := "Plot "
		if d.Where != "" {
			s.Say("plot ")
		} else {
			s.Sentence(begin)
		}
		if f := d.Function; f != nil {
			speakFunction(s, f, d)
			return
		}
		if d.Y.Of == chart.Spread {
			s.Say("the ")
			s.Way("spread", "y")
			s.Say(" of ")
			s.Column(d.X.Column, "x")
			speakScale(s, &d.Scales.X, "scale-x")
			if d.Scales.Y.Scale != "" {
				s.Say(", y")
				speakScale(s, &d.Scales.Y, "scale-y")
			}
			return
		}
		speakVariable(s, d.Y, "y")
		for i, name := range d.AlsoY {
			s.Say(map[bool]string{true: " and ", false: ", "}[i == len(d.AlsoY)-1])
			s.Column(name, fmt.Sprintf("y-more:%d", i))
		}
		speakScale(s, &d.Scales.Y, "scale-y")
		s.Say(" against ")
		speakVariable(s, d.X, "x")
		speakScale(s, &d.Scales.X, "scale-x")
	},
	Changed: func(before, after *document, readable func(string) string) []string {
		if is := after.Function; is != nil && (before.Function == nil || *before.Function != *is) {
			return []string{"y = " + is.Formula}
		}
		said := append(variableChange("y", before.Y, after.Y, readable), variableChange("x", before.X, after.X, readable)...)
		if len(before.AlsoY) != len(after.AlsoY) || strings.Join(before.AlsoY, "\n") != strings.Join(after.AlsoY, "\n") {
			for _, name := range after.AlsoY {
				if !slices.Contains(before.AlsoY, name) {
					return append(said, "+ "+readable(name))
				}
			}
			said = append(said, "fewer columns")
		}
		return said
	},
	Menus: []menu{
		variableMenu("y", "Plot"),
		variableMenu("x", "Against"),
		moreColumnsMenu,
		readingMenu("x"),
		readingMenu("y"),
		functionMenu,
		functionEndsMenu,
	},
	Add: func(d *document, t *table.Table) []addition { return append(addColumns(d, t), addFunction(d, t)...) },
}

func speakVariable(s *clause.Speech, v chart.Variable, slot string) {
	switch v.Of {
	case chart.Count:
		s.Words("the number of rows", slot)
	case chart.NoAggregate:
		s.Column(v.Column, slot)
	default:
		s.Words("the "+string(v.Of)+" of "+s.Readable(v.Column), slot)
	}
	if v.As != chart.AsItIs && v.Of == chart.NoAggregate {
		s.Say(" as ")
		s.Way(string(v.As), "as-"+slot)
	}
}

func variableChange(name string, was, is chart.Variable, readable func(string) string) []string {
	if was == is {
		return nil
	}
	words := ""
	switch is.Of {
	case chart.Count:
		words = "count of rows"
	case chart.Spread:
		words = "spread"
	case chart.NoAggregate:
		words = readable(is.Column)
	default:
		words = string(is.Of) + " of " + readable(is.Column)
	}
	if is.Empty() {
		return []string{"no " + name}
	}
	if is.As != chart.AsItIs {
		words += " as " + string(is.As)
	}
	return []string{name + ": " + words}
}

// marksClause is what the rows are drawn as.
var marksClause = clause.Clause[document]{Name: "as", Trade: "mark geometry chart type kind",
	Help: "what the rows are drawn as", Example: "as dots and line",
	Pieces: []clause.Piece{
		clause.WordList(
			func(d *document) []string { return d.Marks() },
			func(d *document, names []string) { d.SetMarks(names...) },
			len(mark.List), // how many lie over each other is checked of the chart
			"a mark: "+markNames(),
			markWords()...),
	},
	Said: func(d *document) bool { return len(d.Marks()) > 0 },
	Speak: func(d *document, s *clause.Speech) {
		if marks := d.Marks(); len(marks) > 0 {
			s.Say(" as ")
			s.Way(strings.Join(marks, " and "), "marks")
		}
	},
	Changed: func(before, after *document, _ func(string) string) []string {
		drawn := func(d *document) string {
			if marks := d.Marks(); len(marks) > 0 {
				return strings.Join(marks, " and ")
			}
			return chart.DotsMark // goes without saying
		}
		if drawn(before) == drawn(after) {
			return nil
		}
		return []string{"as " + drawn(after)}
	},
	Menus: []menu{marksMenu}, Add: addMarks}

func markWords() (list []clause.Word) {
	for _, m := range mark.List {
		list = append(list, clause.Word{Text: m.Name, Help: m.Help})
	}
	return list
}

func markNames() string {
	var names []string
	for _, m := range mark.List {
		names = append(names, m.Name)
	}
	return strings.Join(names[:len(names)-1], ", ") + " or " + names[len(names)-1]
}

// addMarks offers the marks that the columns are made for.
func addMarks(d *document, t *table.Table) (list []addition) {
	if !d.Whole() {
		return nil
	}
	said := mark.Bind(d, t).Marks
	for _, m := range mark.List {
		if slices.Contains(said, m) {
			continue
		}
		next := with(d, func(next *document) { next.SetMarks(m.Name) })
		if mark.Bind(next, t).Problems() == nil {
			list = append(
				list,
				addition{
					Key:    "as " + m.Name,
					Rank:   6,
					Label:  "as " + m.Name,
					Detail: m.Help,
					Also:   m.Also + " mark drawn kind chart type",
					D:      next,
				},
			)
		}
	}
	return list
}

// panelsClause divides a chart.
var panelsClause = clause.Clause[document]{
	Name:    "panels",
	Trade:   "facets small multiples grid split trellis",
	Help:    "a picture for each group",
	Example: "panels season by hive_type each with own y in 3 columns",
	Pieces: []clause.Piece{
		clause.OneOf(
			"by and a column, or two columns",
			clause.Option[document]{
				Help:   "a picture for each group",
				Is:     func(d *document) bool { return len(d.Panels.By) < 2 },
				Set:    func(d *document) { d.Panels.By = make([]string, 1) },
				Pieces: []clause.Piece{clause.Say("by"), clause.Column(func(d *document) *string { return &d.Panels.By[0] })},
			},
			clause.Option[document]{
				Help: "rows by the one, columns by the other",
				Is:   func(d *document) bool { return len(d.Panels.By) == 2 },
				Set:  func(d *document) { d.Panels.By = make([]string, 2) },
				Pieces: []clause.Piece{
					clause.Column(func(d *document) *string { return &d.Panels.By[0] }),
					clause.Say("by"),
					clause.Column(func(d *document) *string { return &d.Panels.By[1] }),
				},
			},
		),
		clause.Maybe(
			func(d *document) bool { return len(d.Panels.Own) > 0 },
			nil,
			clause.Suggestion{Help: "axes that each panel has for itself"},
			clause.Say("each with own"),
			clause.WordList(
				func(d *document) []string { return d.Panels.Own },
				func(d *document, own []string) { d.Panels.Own = own },
				2,
				"x or y",
				clause.Word{Text: "x"},
				clause.Word{Text: "y"},
			),
		),
		clause.Maybe(
			func(d *document) bool { return d.Panels.Columns > 0 },
			nil,
			clause.Suggestion{Text: "in 3 columns", Help: "how many stand side by side"},
			clause.Say("in"),
			clause.Count(
				func(d *document) *int { return &d.Panels.Columns },
				clause.Range{From: 1, To: 12, Message: "from 1 to 12 panels stand side by side", Advice: "say in 3 columns"},
			),
			clause.Say("columns"),
		),
	},
	Said: func(d *document) bool { return len(d.Panels.By) > 0 },
	Speak: func(d *document, s *clause.Speech) {
		if len(d.Panels.By) == 0 {
			return
		}
		s.Say(", in panels by ")
		s.Column(d.Panels.By[0], "panels")
		if len(d.Panels.By) > 1 {
			s.Say(" and ")
			s.Column(d.Panels.By[1], "panels-across")
		}
		if own := d.Panels.Own; len(own) > 0 {
			s.Say(", each with its ")
			s.Way("own "+strings.Join(own, " and "), "panels-own")
		}
		if n := d.Panels.Columns; n > 0 {
			s.Say(", ")
			s.Way(fmt.Sprintf("%d side by side", n), "panels-columns")
		}
	},
	Changed: func(before, after *document, readable func(string) string) []string {
		if strings.Join(before.Panels.By, "\n") == strings.Join(after.Panels.By, "\n") {
			if strings.Join(before.Panels.Own, "") != strings.Join(after.Panels.Own, "") {
				if len(after.Panels.Own) == 0 {
					return []string{"shared axes"}
				}
				return []string{"own " + strings.Join(after.Panels.Own, " and ")}
			}
			return []string{"panels"}
		}
		var names []string
		for _, name := range after.Panels.By {
			names = append(names, readable(name))
		}
		if len(names) == 0 {
			return []string{"no panels"}
		}
		return []string{"panels: " + strings.Join(names, " by ")}
	},
	Menus: panelMenus,
	Add:   addPanels,
}

// orderClause is how groups stand along an axis.
var orderClause = clause.Clause[document]{
	Name:    "order",
	Trade:   "sort reorder arrange categories levels rank",
	Help:    "groups along an axis by a statistic",
	Example: "order district by mean(honey_kg) descending",
	Pieces: []clause.Piece{
		clause.Does(func(d *document) { d.Order = &chart.Order{} }),
		clause.Column(func(d *document) *string { return &d.Order.Column }),
		clause.Say("by"),
		orderedBy(),
		clause.Maybe(
			func(d *document) bool { return d.Order.Descending },
			func(d *document) { d.Order.Descending = true },
			clause.Suggestion{Help: "the highest first"},
			clause.Say("descending"),
		),
	},
	Said: func(d *document) bool { return d.Order != nil },
	Speak: func(d *document, s *clause.Speech) {
		if o := d.Order; o != nil {
			s.Say(", with " + s.Readable(o.Column) + " ordered by ")
			s.Way(orderWords(o, s.Readable), "order")
		}
	},
	Changed: func(_, after *document, readable func(string) string) []string {
		if after.Order == nil {
			return []string{"order as in the data"}
		}
		return []string{"order: " + orderWords(after.Order, readable)}
	},
	Menus: []menu{orderMenu},
	Add:   addOrder,
}

func orderedBy() clause.Piece {
	options := []clause.Option[document]{
		{Help: "the number of rows", Text: "count()", Pieces: []clause.Piece{clause.Say("count"), clause.Sign("("), clause.Sign(")")},
			Set: func(d *document) { d.Order.Of = chart.Count }, Is: func(d *document) bool { return d.Order.Of == chart.Count }},
	}
	for _, of := range chart.Aggregates {
		options = append(
			options,
			clause.Option[document]{
				Help: "the " + string(of) + " of a column",
				Text: string(of) + "(",
				Pieces: []clause.Piece{
					clause.Say(string(of)),
					clause.Sign("("),
					clause.Column(func(d *document) *string { return &d.Order.By }),
					clause.Sign(")"),
				},
				Set: func(d *document) { d.Order.Of = of },
				Is:  func(d *document) bool { return d.Order.Of == of },
			},
		)
	}
	return clause.OneOf("count() or mean(…)", options...)
}

func orderWords(o *chart.Order, readable func(string) string) string {
	words := "number of rows"
	if o.Of != chart.Count {
		words = string(o.Of) + " of " + readable(o.By)
	}
	if o.Descending {
		words += ", highest first"
	}
	return words
}
