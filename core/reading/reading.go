// Package reading says in words and numbers what a figure shows: direction and
// size of the relation overall and within groups, how close it is, and what
// could be wrong with a hasty conclusion. It never claims a cause.
package reading

import (
	"fmt"
	"math"
	"strings"

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
	Kind  string `json:"kind" enum:"plain,warning,caution"`
	Spans []Span `json:"spans"`
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
	r := &reader{figure: f, relation: f.Relation, out: &Reading{Paragraphs: []Paragraph{}, Fits: []FitRow{}}}
	switch {
	case r.relation == nil:
	case r.relation.Means != nil:
		r.groupMeans(r.relation.Means)
		return r.out
	case r.relation.Spread != nil:
		r.spread(r.relation.Spread)
		return r.out
	case r.relation.Table != nil:
		r.crossed(r.relation.Table)
		return r.out
	case r.relation.Counted != nil:
		r.counted(r.relation.Counted)
		return r.out
	}
	if r.relation == nil || r.relation.Line == nil {
		reason := "The reading compares numbers along both axes."
		if r.relation != nil && r.relation.Problem != "" {
			reason = fmt.Sprintf("No line can be read: %s.", r.relation.Problem)
		}
		r.say("plain", Span{Text: reason})
		return r.out
	}
	r.chooseUnit()
	r.overall()
	r.within()
	r.closeness()
	r.cautions()
	r.table()
	return r.out
}

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
		r.say("plain", plain("The mean of %s in %s is ", r.y(), m.Levels[highest]), strong("%s", value(highest)), plain("."))
		return
	}
	r.say("plain", plain("The mean of %s is highest in ", r.y()), strong("%s (%s)", m.Levels[highest], value(highest)), plain(" and lowest in "),
		strong("%s (%s)", m.Levels[lowest], value(lowest)), plain("."))
	if !math.IsNaN(m.EtaSquared) {
		r.say("plain", plain("The groups of %s account for ", r.x()), strong("%.0f %%", 100*m.EtaSquared), plain(" of the spread of %s, over %s rows.", r.y(), scale.Number(float64(m.N), 0)))
	}
}

type reader struct {
	figure   *figure.Figure
	relation *figure.Relation
	out      *Reading
	step     float64 // how much of x a slope is told for, in drawn space
	per      string  // in words: for every tenfold gain in forage area
	short    string  // for the table: per ×10 ha
}

func (r *reader) say(kind string, spans ...Span) {
	r.out.Paragraphs = append(r.out.Paragraphs, Paragraph{kind, spans})
}

func strong(format string, arguments ...any) Span {
	return Span{fmt.Sprintf(format, arguments...), true}
}

func plain(format string, arguments ...any) Span {
	return Span{fmt.Sprintf(format, arguments...), false}
}

func (r *reader) x() string { return table.Prose(r.figure.X().Name) }
func (r *reader) y() string { return table.Prose(r.figure.Y().Name) }

// chooseUnit settles for how much of x a slope is told: a tenfold gain on a log
// axis, a day or a year of dates, else a power of ten that fits the range.
func (r *reader) chooseUnit() {
	line, x := r.relation.Line, r.figure.X()
	span := line.XMax - line.XMin
	switch {
	case x.Kind == scale.Log && r.figure.Y().Kind == scale.Log:
		r.step, r.per, r.short = 1, fmt.Sprintf("for 1 %% more %s", r.x()), "% per 1 %"
		return
	case x.Kind == scale.Log:
		r.step, r.per = 1, fmt.Sprintf("for every tenfold gain in %s", r.x())
		r.short = strings.TrimSpace("per ×10 " + x.Unit)
	case x.Kind == scale.Date:
		for _, unit := range []struct {
			name    string
			seconds float64
		}{{"year", 365.25 * 86400}, {"day", 86400}, {"hour", 3600}} {
			r.step, r.per, r.short = unit.seconds, "for every "+unit.name, "per "+unit.name
			if span >= 2*unit.seconds {
				break
			}
		}
	default:
		r.step = math.Pow(10, math.Floor(math.Log10(span/2)))
		if span >= 2 && span <= 100 {
			r.step = 1
		}
		amount := strings.TrimSpace(scale.Value(r.step, 3) + " " + x.Unit)
		if r.step == 1 && x.Unit == "" {
			amount = "unit"
		}
		r.per = fmt.Sprintf("for every %s more of %s", amount, r.x())
		r.short = "per " + amount
	}
	if r.figure.Y().Kind == scale.Log {
		r.short = "% " + r.short
	} else {
		r.short = strings.TrimSpace(shortUnit(r.figure.Y().Unit) + " " + r.short)
	}
}

// amount is what a slope means for the step, with or without its sign: in units
// of y, or in percent where y is drawn on a log scale.
func (r *reader) amount(slope float64, signed bool) string {
	value, unit := r.value(slope), r.figure.Y().Unit
	if r.figure.Y().Kind == scale.Log {
		unit = "%"
	}
	if signed {
		return scale.Signed(value, 2)
	}
	return strings.TrimSpace(scale.Value(math.Abs(value), 2) + " " + shortUnit(unit))
}

// shortUnit keeps "kg" of "kg per hive": the sentence says the rest.
func shortUnit(unit string) string {
	short, _, _ := strings.Cut(unit, " per ")
	return short
}

func (r *reader) overall() {
	line := r.relation.Line
	interval := line.Interval(level)
	if !(interval.Low > 0) && !(interval.High < 0) && line.Line.RSS > 0 {
		r.say("plain", plain("Overall, %s %s ", r.y(), r.agree("shows", "show")), strong("no clear rise or fall"), plain(" with %s: %s %s, with a 95 %% interval from %s to %s.",
			r.x(), r.amount(line.Slope, true), r.per, r.amount(interval.Low, true), r.amount(interval.High, true)))
		return
	}
	by := Span{}
	if line.Slope == 0 {
		r.say("plain", plain("Overall, %s %s not change with %s.", r.y(), r.agree("does", "do"), r.x()))
		return
	}
	by = strong("%s by %s", r.moves(line.Slope), r.amount(line.Slope, false))
	r.say("plain", plain("Overall, %s ", r.y()), by, plain(" %s.", r.per))
}

// within says what the groups' own lines say, and warns where they go the other
// way than all rows together.
func (r *reader) within() {
	compared := r.relation.Compared
	if compared == nil || compared.Within == nil {
		return
	}
	grouping := table.Prose(r.relation.Grouping)
	up, down, low, high := 0, 0, math.Inf(1), math.Inf(-1)
	for _, line := range compared.Lines {
		if line == nil || line.N < 3 {
			continue
		}
		if line.Slope > 0 {
			up++
		} else if line.Slope < 0 {
			down++
		}
		low, high = min(low, line.Slope), max(high, line.Slope)
	}
	within := compared.Within
	counted := up + down
	var spans []Span
	switch {
	case counted == 0:
		return
	case up == counted || down == counted:
		spans = []Span{plain("Inside %s %s ", allOf(counted, grouping), r.agree("it", "they")), strong("%s", r.moves(within.Slope)), plain(", by %s.", r.rangeOf(low, high))}
		if counted == 1 {
			spans[2] = plain(", by %s.", r.amount(within.Slope, false))
		}
	default:
		spans = []Span{plain("Inside the groups of %s the direction differs: %s %s in %d and %s in %d. Taken together %s ", grouping, r.agree("it", "they"), r.moves(1), up, r.moves(-1), down, r.agree("it", "they")),
			strong("%s by %s", r.moves(within.Slope), r.amount(within.Slope, false)), plain(" within a group.")}
	}
	if !compared.SignReverses() {
		r.say("plain", spans...)
		return
	}
	pooled := r.relation.Line.Interval(level)
	clear := within.Significant(level) && (pooled.Low > 0 || pooled.High < 0)
	if compared.Between != nil {
		start := "lowest"
		if within.Slope < 0 {
			start = "highest"
		}
		spans = append(spans, plain(" The groups with most %s start %s.", r.x(), start))
	}
	verdict := strong(" %s reverses the trend.", capital(grouping))
	if !clear {
		verdict = strong(" Within %s the slope has the other sign, though not clearly.", grouping)
	}
	r.say("warning", append(spans, verdict)...)
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

var countWords = []string{"no", "the one", "both", "all three", "all four", "all five", "all six", "all seven", "all eight", "all nine", "all ten"}

func allOf(count int, grouping string) string {
	noun := mark.Plural(grouping)
	if count == 1 {
		noun = grouping
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

func (r *reader) closeness() {
	line := r.relation.Line.Line
	n := scale.Number(float64(line.N), 0)
	if !(line.Syy > 0) {
		r.say("plain", plain("All %s rows have the same %s.", n, r.y()))
		return
	}
	correlation := line.Sxy / math.Sqrt(line.Sxx*line.Syy)
	r.say("plain", plain("The correlation is "), strong("r = %s", scale.Number(correlation, 2)), plain(" (%s) over %s rows.", strengthOf(correlation), n))
}

func (r *reader) cautions() {
	if outside := r.figure.Rows.Outside; outside > 0 {
		r.say("caution", plain("%s drawn rows lie outside the limits. Fits and figures still use them.", scale.Number(float64(outside), 0)))
	}
	if r.figure.Y().Kind == scale.Log && len(r.figure.Fits) > 0 {
		r.say("caution", plain("%s is on a log scale: a fitted line is a geometric level, not a mean.", r.figure.Y().Name))
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

// value is a slope in the unit of the table: in percent where y is logged.
func (r *reader) value(slope float64) float64 {
	value := slope * r.step
	if r.figure.Y().Kind == scale.Log && r.figure.X().Kind != scale.Log {
		return 100 * (math.Pow(10, value) - 1)
	}
	return value
}

// table lists the straight fits, with as many decimals as give the largest
// slope two digits, and the same in every row.
func (r *reader) table() {
	r.out.SlopeUnit = r.short
	largest := 0.0
	several := overall(r.figure.Fits) > 1
	panels := len(r.figure.Panels) > 1
	for _, fit := range r.figure.Fits {
		if fit.Model != nil && !math.IsNaN(fit.Model.Slope) && !(panels && fit.Group >= 0 && overall(r.figure.Fits) > 0) {
			largest = max(largest, math.Abs(r.value(fit.Model.Slope)))
		}
	}
	decimals := 0
	if largest > 0 {
		decimals = min(max(1-int(math.Floor(math.Log10(largest))), 0), 8)
	}
	signed := func(slope float64) string {
		text := scale.Number(r.value(slope), decimals)
		if slope > 0 && strings.Trim(text, "0.") != "" {
			return "+" + text
		}
		return text
	}
	for _, fit := range r.figure.Fits {
		row := FitRow{Name: fit.Name, Group: fit.Group, Light: fit.Light, Dark: fit.Dark, Dash: fit.Dash, Problem: fit.Problem}
		if several && fit.Group < 0 && fit.Model != nil {
			row.Name = fit.Model.Called
		}
		if panels && overall(r.figure.Fits) > 0 {
			if fit.Group >= 0 { // of many panels the fits of all rows are compared; the cards tell those of groups
				continue
			}
			if row.Name = strings.Join(r.figure.Panels[fit.Panel].Titles, ", "); several && fit.Model != nil {
				row.Name += ": " + fit.Model.Called
			}
		} else if panels {
			row.Name = strings.Join(r.figure.Panels[fit.Panel].Titles, ", ") + ": " + row.Name
		}
		if fit.Problem == "" {
			if fit.Model == nil {
				continue
			}
			row.N = scale.Number(float64(fit.Model.N), 0)
			if math.IsNaN(fit.Model.Slope) { // a curve has no one slope: how close it comes is told
				row.Slope, row.Interval = "–", "R² "+scale.Number(fit.Model.R2, 2)
				r.out.Fits = append(r.out.Fits, row)
				continue
			}
			row.Slope = signed(fit.Model.Slope)
			if interval := fit.Model.Interval(level); !math.IsNaN(interval.Low) {
				row.Interval = signed(interval.Low) + " to " + signed(interval.High)
			}
		}
		r.out.Fits = append(r.out.Fits, row)
	}
}
