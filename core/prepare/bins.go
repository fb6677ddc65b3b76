package prepare

import (
	"fmt"
	"math"
	"slices"
	"sort"
	"strconv"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/describe"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// maxBins is the most bins that a column is cut into.
const maxBins = 100

var binClause = says(
	clause.Clause[Step]{Name: "bin", Help: "cuts a column of numbers into ordered groups", Example: "bin honey_kg at 10, 20, 50 into band",
		Pieces: []clause.Piece{clause.Column(func(b *bin) *string { return &b.Column }), clause.OneOf(
			"in or at",
			clause.Option[bin]{
				Help:   "at values that are said",
				Is:     func(b *bin) bool { return b.At != nil },
				Pieces: []clause.Piece{clause.Say("at"), clause.Numbers(func(b *bin) *[]float64 { return &b.At })},
			},
			clause.Option[bin]{Help: "into so many", Is: func(b *bin) bool { return b.At == nil }, Pieces: []clause.Piece{clause.Say("in"),
				clause.Count(
					func(b *bin) *int { return &b.Count },
					clause.Range{From: 2, To: maxBins, Expected: "how many bins", Message: "expected 2 to 100 bins"},
				),
				clause.Say("equal"), clause.OneOf(
					"widths or counts",
					clause.Option[bin]{
						Help:   "each as wide as the others",
						Pieces: []clause.Piece{clause.Say("widths")},
						Is:     func(b *bin) bool { return !b.Counts },
					},
					clause.Option[bin]{
						Help:   "each with as many rows as the others",
						Pieces: []clause.Piece{clause.Say("counts")},
						Set:    func(b *bin) { b.Counts = true },
						Is:     func(b *bin) bool { return b.Counts },
					},
				)}},
		),
			clause.Say("into"), clause.Name(func(b *bin) *string { return &b.Into })}},
	func(b *bin, s *clause.Speech) {
		s.Sentence("Cut ")
		s.Column(b.Column, slot)
		s.Way(b.ways(), slot)
		s.Say(" into ")
		s.Column(b.Into, slot)
	},
)

// bin cuts numbers into ordered groups, each from its lower edge up to and without its
// upper edge; where the outer edges are the ends of the data, the last holds its upper edge
// too. Edges are the said ones; or at equal widths over the data's range, rounded to a
// hundredth of a width; or the quantiles (type 7), with as few digits as part the rows in the
// same way: so the name of a bin tells its edges exactly. Edges that fall together make
// one. A missing value has no bin.
type bin struct {
	Column string
	At     []float64
	Count  int
	Counts bool
	Into   string
}

func (b *bin) ways() string {
	switch {
	case b.At != nil:
		return " at " + joinNumbers(b.At)
	case b.Counts:
		return fmt.Sprintf(" in %d equal counts", b.Count)
	}
	return fmt.Sprintf(" in %d equal widths", b.Count)
}

func joinNumbers(list []float64) string {
	texts := make([]string, len(list))
	for i, v := range list {
		texts[i] = table.FormatNumber(v)
	}
	return strings.Join(texts, ", ")
}

func (b *bin) do(w *work) (*table.Table, Effect) {
	column := w.column(b.Column)
	if !column.Kind.Quantity() {
		w.fail(
			w.at(&b.Column),
			fmt.Sprintf("bin needs a column of numbers; %s holds %s values", column.Name, column.Kind),
			"read it as number first; a date is cut with work out month = date_trunc('month', …)",
		)
	}
	inner, names := b.edges(column.Numbers)
	made := &table.Column{Name: b.Into, Kind: table.Ordered, Codes: make([]int32, column.Len()), Levels: names}
	for row, v := range column.Numbers {
		made.Codes[row] = table.MissingCode
		if !math.IsNaN(v) && len(names) > 0 {
			made.Codes[row] = int32(sort.Search(len(inner), func(i int) bool { return inner[i] > v }))
		}
	}
	made = pruned(made)
	return w.with(made), Effect{Words: scale.Counted(len(made.Levels), "group"), Makes: b.Into}
}

// edges are the edges between bins, rising, and the names of the bins, one more.
func (b *bin) edges(values []float64) (inner []float64, names []string) {
	if b.At != nil {
		inner = slices.Clone(b.At)
		slices.Sort(inner)
		inner = slices.Compact(inner)
		names = append(names, "below "+table.FormatNumber(inner[0]))
		for i := 1; i < len(inner); i++ {
			names = append(names, table.FormatNumber(inner[i-1])+" to "+table.FormatNumber(inner[i]))
		}
		return inner, append(names, table.FormatNumber(inner[len(inner)-1])+" and above")
	}
	sorted := slices.DeleteFunc(slices.Clone(values), math.IsNaN)
	if len(sorted) == 0 {
		return nil, nil
	}
	slices.Sort(sorted)
	low, high := sorted[0], sorted[len(sorted)-1]
	width := high/float64(b.Count) - low/float64(b.Count) // halves of the range of doubles do not overflow
	edges := []float64{low}
	for i := 1; i < b.Count; i++ {
		edge := rounded(low+float64(i)*width, width/100)
		if b.Counts {
			exact := describe.Quantile(sorted, float64(i)/float64(b.Count))
			below := sort.SearchFloat64s(sorted, exact)
			edge = shortest(exact, 3, func(v float64) bool { return sort.SearchFloat64s(sorted, v) == below })
		}
		if edge > edges[len(edges)-1] && edge <= high {
			edges = append(edges, edge)
		}
	}
	inner = edges[1:]
	edges = append(edges, high)
	from := shortest(low, 7, func(v float64) bool { return v < edges[1] || low == high })
	for i, edge := range edges[1:] {
		if i == len(inner) {
			edge = shortest(high, 7, func(v float64) bool { return v >= edges[i] })
		}
		names = append(names, table.FormatNumber(from)+" to "+table.FormatNumber(edge))
		from = edge
	}
	return inner, names
}

// shortest is a number with as few digits as will do, at least so many.
func shortest(v float64, digits int, does func(float64) bool) float64 {
	for ; digits < 17; digits++ {
		if short, err := strconv.ParseFloat(strconv.FormatFloat(v, 'g', digits, 64), 64); err == nil && does(short) {
			return short
		}
	}
	return v
}

// rounded is the multiple of a power of ten, at most the step, that is nearest to a value.
func rounded(v, step float64) float64 {
	if step <= 0 || math.IsInf(step, 0) {
		return v
	}
	digits := -int(math.Floor(math.Log10(step)))
	if digits > 300 || digits < -300 {
		return v
	}
	if digits < 0 {
		unit := math.Pow(10, float64(-digits))
		return math.Round(v/unit) * unit
	}
	near, _ := strconv.ParseFloat(strconv.FormatFloat(v, 'f', digits, 64), 64)
	return near
}

var recodeClause = says(
	clause.Clause[Step]{
		Name:    "recode",
		Help:    "gathers groups under other names",
		Example: "recode district: 'Tarn', 'Brindle' as 'hills'; rest as 'valley'",
		Pieces: []clause.Piece{clause.Column(func(r *recode) *string { return &r.Column }), clause.Sign(":"),
			clause.Each(
				func(r *recode) *[]*gathered { return &r.Groups },
				clause.Texts(func(g *gathered) *[]string { return &g.Values }),
				clause.Say("as"),
				clause.Text(func(g *gathered) *string { return &g.Name }),
			),
			clause.Maybe(
				func(r *recode) bool { return r.Rest != "" },
				nil,
				clause.Suggestion{Text: "; rest as ", Help: "all other groups under one name"},
				clause.Sign(";"),
				clause.Say("rest as"),
				clause.Text(func(r *recode) *string { return &r.Rest }),
			)},
	},
	func(r *recode, s *clause.Speech) {
		s.Sentence("Recode ")
		s.Column(r.Column, slot)
		for i, g := range r.Groups {
			s.Say(map[bool]string{true: ": ", false: ", "}[i == 0])
			s.Words(strings.Join(g.Values, ", "), slot)
			s.Say(" as " + g.Name)
		}
		if r.Rest != "" {
			s.Say(", the rest as " + r.Rest)
		}
	},
)

// recode gathers groups under names: those that are listed, and the rest where a name is
// said for it; otherwise the rest stay as they are. Missing stays missing.
type recode struct {
	Column string
	Groups []*gathered
	Rest   string
}

type gathered struct {
	Values []string
	Name   string
}

func (r *recode) do(w *work) (*table.Table, Effect) {
	column := *grouping(w.column(r.Column))
	listed := map[string]bool{}
	var with []*renamed
	for _, g := range r.Groups {
		for i, value := range g.Values {
			switch {
			case !slices.Contains(column.Levels, value):
				w.fail(
					w.item(&g.Values, i),
					fmt.Sprintf("%s has no value %s", column.Name, value),
					"its values are "+clipped(column.Levels),
				)
			case listed[value]:
				w.fail(w.item(&g.Values, i), value+" is gathered twice", "say it once")
			}
			listed[value] = true
			with = append(with, &renamed{value, g.Name})
		}
	}
	if r.Rest != "" {
		for _, level := range column.Levels {
			if !listed[level] {
				with = append(with, &renamed{level, r.Rest})
			}
		}
	}
	w.nameCodes(&column, with)
	return w.with(&column), Effect{Words: scale.Counted(len(column.Levels), "group")}
}
