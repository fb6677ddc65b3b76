// Package reading says in words and numbers what a figure shows: direction and
// size of the relation overall and within groups, how close it is, and what
// could be wrong with a hasty conclusion. It never claims a cause.
package reading

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// Span is a stretch of text; Strong is what the eye should find.
type Span struct {
	Text   string `json:"text"`
	Strong bool   `json:"strong,omitempty"`
}

// Paragraph is one thing that is said. A warning is what a reader must not miss.
type Paragraph struct {
	Key    string  `json:"key" doc:"the same for what another reading of the chart says of the same thing"`
	Kind   string  `json:"kind" enum:"plain,warning,caution"`
	Spans  []Span  `json:"spans"`
	Shows  *Shown  `json:"shows,omitempty"`
	Offers []Offer `json:"offers,omitempty"`
	Noted  bool    `json:"noted,omitempty" doc:"belongs to a note that is taken from the reading, although it is a caution"`
	Basis  Basis   `json:"basis,omitempty" enum:"all,sample" doc:"where the table stays elsewhere: of all its rows, or of the sample"`
}

// Shown is what a paragraph speaks of, to be found on the chart.
type Shown struct {
	Rows   []int    `json:"rows,omitempty" doc:"rows of the table"`
	Lines  []string `json:"lines,omitempty" doc:"fits, by their names"`
	Groups []string `json:"groups,omitempty" doc:"marks of groups, by their names"`
}

// Offer is a change of the chart that a paragraph suggests.
type Offer struct {
	Words  string `json:"words"`
	Clause string `json:"clause" doc:"what is added to the typed sentence"`
}

// Text is the paragraph without marks.
func (p Paragraph) Text() string {
	var text strings.Builder
	for _, span := range p.Spans {
		text.WriteString(span.Text)
	}
	return text.String()
}

// FitRow is a line of the table of fits.
type FitRow struct {
	Name     string    `json:"name"`
	Group    int       `json:"group" doc:"-1 for all rows"`
	Light    string    `json:"light,omitempty"`
	Dark     string    `json:"dark,omitempty"`
	Dash     []float64 `json:"dash,omitempty"`
	Slope    string    `json:"slope"`
	Interval string    `json:"interval"`
	N        string    `json:"n"`
	Problem  string    `json:"problem,omitempty"`
	Basis    Basis     `json:"basis,omitempty" enum:"all,sample" doc:"as of a paragraph"`
}

// Reading is everything that is said beside a chart.
type Reading struct {
	Paragraphs []Paragraph `json:"paragraphs"`
	SlopeUnit  string      `json:"slope_unit,omitempty" doc:"heads the column of slopes: kg per ×10 ha"`
	Fits       []FitRow    `json:"fits"`
}

// Text is the whole reading without marks, for a screen reader.
func (r *Reading) Text() string {
	var lines []string
	for _, p := range r.Paragraphs {
		lines = append(lines, p.Text())
	}
	return strings.Join(lines, " ")
}

const level = 0.95

// Of reads a figure that was just built.
func Of(f *figure.Figure) *Reading {
	out := worded(f)
	for _, words := range f.Cautions {
		out.Paragraphs = append(out.Paragraphs, Paragraph{Kind: "caution", Spans: []Span{{Text: words}}}) // of the picture, whatever it is of
	}
	for _, s := range out.Statements() {
		if s.Of >= 0 && out.Paragraphs[s.Of].Key == "" { // the whole paragraph comes first
			out.Paragraphs[s.Of].Key = s.Key
		}
	}
	return out
}

func worded(f *figure.Figure) *Reading {
	r := &reader{figure: f, relation: f.Relation, Units: unitsOf(f, 0, 1), out: &Reading{Paragraphs: []Paragraph{}, Fits: []FitRow{}}}
	switch {
	case r.relation == nil:
	case r.relation.WorkedOut != nil:
		r.function(r.relation.WorkedOut)
		return r.out
	case r.relation.Means != nil:
		r.of(r.relation.Exact.Means)
		r.groupMeans(r.relation.Means)
		return r.out
	case r.relation.Spread != nil:
		r.spread(r.relation.Spread)
		return r.out
	case r.relation.Table != nil:
		r.of(r.relation.Exact.Table)
		r.crossed(r.relation.Table)
		return r.out
	case r.relation.Each != nil:
		r.eachColumn(r.relation.Each)
		return r.out
	case r.relation.Counted != nil:
		r.of(r.relation.Exact.Counted)
		r.counted(r.relation.Counted)
		return r.out
	}
	if r.relation == nil || r.relation.Line == nil {
		reason := "The reading compares numbers along both axes."
		if r.relation != nil && r.relation.Problem != "" {
			reason = fmt.Sprintf("No line can be read: %s.", r.relation.Problem)
		}
		r.say("plain", Span{Text: reason}).Basis = ""
		return r.out
	}
	r.Units = unitsOf(f, r.relation.Line.XMin, r.relation.Line.XMax)
	r.asShare(f.Y(), r.relation.Line.XMax-r.relation.Line.XMin)
	r.betweenValues(r.relation.TwoValues, r.relation.Line.XMax-r.relation.Line.XMin)
	r.overall()
	r.of(r.relation.Exact.Groups)
	r.within()
	n := r.relation.Notes()
	r.of(r.relation.Exact.Line)
	r.closeness(bends(n) && !r.relation.Exact.Line) // that it bends is seen in the rows that are here
	r.of(false)
	r.carriers(n)
	r.bends(n)
	r.sized(n)
	r.missing(n)
	r.edges(n)
	r.skewed(n)
	r.cautions()
	r.table()
	return r.out
}

// clearDifference is from which p value of Welch's test on groups are not told apart.
const clearDifference = 0.05

// groupMeans says which groups stand highest and lowest, and how much the groups
// account for.
func (r *reader) groupMeans(m *figure.GroupMeans) {
	highest, lowest := -1, -1
	for g, mean := range m.Means {
		if math.IsNaN(mean) {
			continue
		}
		if highest < 0 || mean > m.Means[highest] {
			highest = g
		}
		if lowest < 0 || mean < m.Means[lowest] {
			lowest = g
		}
	}
	value := func(g int) string {
		return strings.TrimSpace(scale.Value(m.Means[g], 3) + " " + shortUnit(r.figure.Y().Unit))
	}
	if highest == lowest {
		r.say("plain", plain("The mean of %s in %s is ", r.Y, m.Levels[highest]), strong("%s", value(highest)), plain("."))
		return
	}
	d := m.Differences
	if d.P >= clearDifference {
		r.say(
			"plain",
			plain("The means of %s ", r.Y),
			strong("do not clearly differ"),
			plain(" between the groups of %s (p %s): they lie between %s and %s.", r.X, pText(d.P), value(lowest), value(highest)),
		)
	} else {
		r.say("plain", plain("The mean of %s is highest in ", r.Y), strong("%s (%s)", m.Levels[highest], value(highest)),
			plain(" and lowest in "),
			strong("%s (%s)", m.Levels[lowest], value(lowest)), plain(".")).Shows = &Shown{Groups: []string{m.Levels[highest], m.Levels[lowest]}}
	}
	if !math.IsNaN(d.Omega2) {
		r.say(
			"plain",
			plain("The groups of %s account for ", r.X),
			strong("%s", percent(max(d.Omega2, 0))),
			plain(" of the spread of %s, corrected for how many groups there are, over %s rows.", r.Y, scale.Number(float64(m.N), 0)),
		)
	}
}

type reader struct {
	figure   *figure.Figure
	relation *figure.Relation
	out      *Reading
	exact    bool // what is said is of all rows, where those of the figure are a sample
	*Units
}

func (r *reader) say(kind string, spans ...Span) *Paragraph {
	p := Paragraph{Kind: kind, Spans: spans}
	if r.figure.Elsewhere != nil {
		if p.Basis = OfSample; r.exact {
			p.Basis = OfAll
		}
	}
	r.out.Paragraphs = append(r.out.Paragraphs, p)
	return &r.out.Paragraphs[len(r.out.Paragraphs)-1]
}

// lines are the names of the drawn fits of groups, or of all rows.
func (r *reader) lines(groups bool) *Shown {
	shown := &Shown{}
	for _, fit := range r.figure.Fits {
		if (fit.Group >= 0) == groups && fit.Problem == "" && !slices.Contains(shown.Lines, fit.Name) {
			shown.Lines = append(shown.Lines, fit.Name)
		}
	}
	if len(shown.Lines) == 0 {
		return nil
	}
	return shown
}

func strong(format string, arguments ...any) Span {
	return Span{fmt.Sprintf(format, arguments...), true}
}

func plain(format string, arguments ...any) Span {
	return Span{fmt.Sprintf(format, arguments...), false}
}

// allRows begins what is said of all rows.
func (r *reader) allRows() string {
	if r.relation.TakenOut != "" {
		return fmt.Sprintf("With %s taken out", r.relation.TakenOut)
	}
	return "Overall"
}

// within says what the groups' own lines say, and warns where they go the other
// way than all rows together. A direction is told of groups whose own interval leaves zero
// out.
func (r *reader) within() {
	compared := r.relation.Compared
	if compared == nil || compared.Within == nil {
		return
	}
	var slopes []confound.GroupSlope
	low, high := math.Inf(1), math.Inf(-1)
	drawn := r.drawnSlopes()
	for g, line := range compared.Lines {
		if line == nil || line.N < 3 {
			continue
		}
		s := confound.GroupSlope{Level: r.relation.Levels[g], N: line.N, Slope: line.Slope, Interval: line.SlopeInterval(level)}
		if other, is := drawn[s.Level]; is { // the line of another kind that is seen
			s.Slope, s.Interval = other.Slope, other.Interval(level)
		}
		slopes = append(slopes, s)
		low, high = min(low, s.Slope), max(high, s.Slope)
	}
	if len(slopes) == 0 {
		return
	}
	r.verdict(compared, r.directions(slopes, compared.Within, low, high))
}

// drawnSlopes are the lines of groups that are drawn and no ordinary ones, by the group.
func (r *reader) drawnSlopes() map[string]*mark.FittedLine {
	drawn := map[string]*mark.FittedLine{}
	for _, fit := range r.figure.Fits {
		if m := fit.Model; fit.Group >= 0 && m != nil && fit.Problem == "" && m.Straight && m.Interval != nil &&
			(fit.Kind != chart.FitLine || m.LeftOut > 0) &&
			r.figure.Pictures() == 1 {
			if _, is := drawn[fit.Name]; !is {
				drawn[fit.Name] = m
			}
		} else if fit.Group >= 0 && fit.Kind == chart.FitLine {
			delete(drawn, fit.Name) // the ordinary one is seen as well
		}
	}
	return drawn
}

// directions says in which groups y rises or falls, and what they do taken together.
func (r *reader) directions(slopes []confound.GroupSlope, within *confound.Slope, low, high float64) []Span {
	grouping, it := table.Prose(r.relation.Grouping), r.agree("it", "they")
	up, down, unclear := directions(slopes)
	if total := len(slopes); len(up) == total || len(down) == total {
		by := r.rangeOf(low, high)
		if total == 1 {
			by = r.amount(within.Slope, false)
		}
		return []Span{plain("Inside %s %s ", allOf(total, grouping), it), strong("%s", r.moves(within.Slope)), plain(", by %s.", by)}
	}
	var spans []Span
	switch {
	case len(up) > 0 && len(down) > 0:
		spans = append(
			spans,
			plain(
				"Inside the groups of %s the direction differs: %s %s in %s and %s in %s%s.",
				grouping,
				it,
				r.moves(1),
				named(up),
				r.moves(-1),
				named(down),
				alsoUnclear(unclear),
			),
		)
	case len(up) > 0:
		spans = append(
			spans,
			plain(
				"%s %s in %d of the %d groups of %s, not clearly in %s.",
				capital(it),
				r.moves(1),
				len(up),
				len(slopes),
				grouping,
				named(unclear),
			),
		)
	case len(down) > 0:
		spans = append(
			spans,
			plain(
				"%s %s in %d of the %d groups of %s, not clearly in %s.",
				capital(it),
				r.moves(-1),
				len(down),
				len(slopes),
				grouping,
				named(unclear),
			),
		)
	default:
		spans = append(spans, plain("In none of the groups of %s alone is there a clear rise or fall.", grouping))
	}
	if within.Significant(level) {
		return append(
			spans,
			plain(" Taken together %s ", it),
			strong("%s by %s", r.moves(within.Slope), r.amount(within.Slope, false)),
			plain(" within a group."),
		)
	}
	return append(spans, plain(" Taken together there is no clear rise or fall within a group (%s).", r.interval(within.Interval(level))))
}

// verdict compares the slope within groups with that of all rows, in the words of the
// findings.
func (r *reader) verdict(compared *confound.Grouped, spans []Span) {
	grouping, within := table.Prose(r.relation.Grouping), compared.Within
	pooled := r.relation.Line.Interval(level)
	clearOverall, clearWithin := pooled.Excludes(0), within.Significant(level)
	opposite := compared.SignReverses()
	defer func() { r.out.Paragraphs[len(r.out.Paragraphs)-1].Shows = r.lines(true) }()
	switch {
	case opposite && clearOverall && clearWithin:
		if compared.Between != nil {
			start := "lowest"
			if within.Slope < 0 {
				start = "highest"
			}
			spans = append(spans, plain(" The groups with most %s start %s.", r.X, start))
		}
		r.say("warning", append(spans, strong(" %s reverses the trend.", capital(grouping)))...)
	case clearWithin && !clearOverall:
		r.say("warning", append(spans, strong(" Over all rows %s hides it: there the slope is not clear.", grouping))...)
	case clearOverall && !clearWithin:
		r.say("warning", append(spans, strong(" With %s held fixed nothing clear is left of the slope.", grouping))...)
	case opposite:
		r.say("plain", append(spans, plain(" Within %s the slope has the other sign; neither is clear.", grouping))...)
	default:
		r.say("plain", spans...)
	}
}

func capital(words string) string {
	runes := []rune(words)
	return strings.ToUpper(string(runes[:1])) + string(runes[1:])
}

// rangeOf tells the smallest and largest size of slopes of one sign.
func (r *reader) rangeOf(low, high float64) string {
	a, b := math.Abs(low), math.Abs(high)
	if a > b {
		a, b = b, a
	}
	least, _, _ := strings.Cut(r.amount(a, false), " ")
	most := r.amount(b, false)
	if strings.HasPrefix(most, least+" ") || most == least {
		return most
	}
	return least + " to " + most
}

var countWords = []string{
	"no",
	"the one",
	"both",
	"all three",
	"all four",
	"all five",
	"all six",
	"all seven",
	"all eight",
	"all nine",
	"all ten",
}

func allOf(count int, grouping string) string {
	noun := mark.Plural(grouping)
	if count == 1 {
		noun = grouping
	}
	if count == 1 {
		return "the one group of " + grouping
	}
	if count < len(countWords) {
		return countWords[count] + " " + noun
	}
	return fmt.Sprintf("all %d %s", count, noun)
}

// strengths words the size of a correlation (Cohen 1988, Statistical Power
// Analysis, 2nd ed., p. 79 f., with two steps more).
func strengthOf(r float64) string {
	switch a := math.Abs(r); {
	case a < 0.1:
		return "next to none"
	case a < 0.3:
		return "weak"
	case a < 0.5:
		return "moderate"
	case a < 0.8:
		return "strong"
	}
	return "very strong"
}

func (r *reader) cautions() {
	if outside := r.figure.Rows.Outside; outside > 0 {
		r.say(
			"caution",
			plain(
				"%s outside the limits. Fits and figures still use them.",
				map[bool]string{true: "One drawn row lies", false: scale.Number(float64(outside), 0) + " drawn rows lie"}[outside == 1],
			),
		)
	}
	if r.figure.Y().Kind == scale.Log && len(r.figure.Fits) > 0 {
		words := plain("%s is on a log scale: a fitted line is a geometric level, not a mean.", cmp.Or(r.figure.Y().Name, "y"))
		r.say("caution", words).Basis = ""
	}
}

// overall counts the fits of all rows in the first panel.
func overall(fits []*mark.Fit) (n int) {
	for _, fit := range fits {
		if fit.Group < 0 && fit.Panel == 0 {
			n++
		}
	}
	return n
}

// smallestWritten is the largest slope of a table that is written in powers of ten.
const smallestWritten = 1e-5
