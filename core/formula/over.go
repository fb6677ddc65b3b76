package formula

import (
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/table"
	"copperlark/core/window"
)

// The window functions of SQL: a value of each row from the rows about it, as in
// sum(honey_kg) over (partition by apiary order by season rows between 2 preceding and
// current row). They do exactly as ISO SQL and PostgreSQL do, missing values included,
// where the helpers in plain words of windows.go leave a row without a value out.

// overSpec is what stands in the brackets behind "over". Its parts and keys are arguments of
// the node, behind those of the function.
type overSpec struct {
	parts int          // of the arguments behind the function's own, how many part the rows
	keys  []window.Key // how the rest order them; without values
	frame window.Frame
}

// overWay is how a function works over rows.
type overWay struct {
	least, most int // arguments
	example     string
	of          func(o *over) *vector
}

// over is a call being worked out.
type over struct {
	*evaluation
	n     *node
	rows  *window.Ordered
	frame window.Frame
}

const overExample = "sum(honey_kg) over (partition by apiary order by season rows between 2 preceding and current row)"

// over reads what stands behind the word over.
func (p *parser) over(n *node) {
	p.needSign("(", overExample)
	n.over = &overSpec{frame: window.Default}
	if p.take("partition", "by") {
		for p.mistake == nil {
			n.args = append(n.args, p.or())
			n.over.parts++
			if !p.takeSign(",") {
				break
			}
		}
	}
	if p.take("order", "by") {
		for p.mistake == nil {
			n.args = append(n.args, p.or())
			n.over.keys = append(n.over.keys, p.sense())
			if !p.takeSign(",") {
				break
			}
		}
	}
	switch t := p.here(); {
	case p.take("rows"):
		n.over.frame = p.frame(t, false)
	case p.take("range"):
		n.over.frame = p.frame(t, true)
	}
	n.to = p.here().to
	p.needSign(")", overExample)
}

// sense reads whether a key rises or falls, and where missing values stand: last where it
// rises, first where it falls, unless that is said.
func (p *parser) sense() (k window.Key) {
	if p.take("desc") || p.take("descending") {
		k.Descending, k.MissingFirst = true, true
	} else if !p.take("asc") {
		p.take("ascending")
	}
	if p.take("nulls", "first") {
		k.MissingFirst = true
	} else if p.take("nulls", "last") {
		k.MissingFirst = false
	}
	return k
}

// frame reads rows 2 preceding, and rows between … and ….
func (p *parser) frame(t token, peers bool) window.Frame {
	f := window.Frame{Peers: peers}
	if p.take("between") {
		f.From = p.bound(peers, "following")
		p.needWord("and", overExample)
		f.To = p.bound(peers, "preceding")
	} else {
		f.From = p.bound(peers, "following")
	}
	if p.mistake == nil && !f.From.Unbounded && !f.To.Unbounded && f.From.Rows > f.To.Rows && (f.From.Rows > 0) != (f.To.Rows > 0) {
		p.fail(t, "this frame ends before it begins", "say rows between 2 preceding and current row")
	}
	return f
}

// bound reads one end of a frame; it cannot be unbounded the wrong way.
func (p *parser) bound(peers bool, wrongWay string) (b window.Bound) {
	t := p.here()
	switch {
	case p.take("current", "row"):
		return b
	case p.take("unbounded"):
		b.Unbounded = true
	case t.kind == numberToken:
		p.advance()
		if n, err := wholeNumber(t.text); err == nil {
			b.Rows = n
		} else {
			p.fail(t, "how many rows must be a whole number", "say 2 preceding")
		}
		if peers {
			p.fail(t, "a range goes by peers, not by a number of rows", "say rows between … and …")
		}
	default:
		p.fail(t, "expected where the frame ends", "say unbounded preceding, 2 preceding, current row, 2 following or unbounded following")
		return b
	}
	way := p.here()
	switch {
	case p.take("preceding"):
		b.Rows = -b.Rows
	case !p.take("following"):
		p.fail(way, "expected preceding or following", "say 2 preceding")
	}
	if b.Unbounded && way.is(wrongWay) {
		p.fail(way, "the frame cannot begin or end there", "say unbounded preceding for its beginning, unbounded following for its end")
	}
	return b
}

func wholeNumber(text string) (n int, err error) {
	for _, r := range text {
		if !isDigit(r) || n > math.MaxInt32/16 {
			return 0, fmt.Errorf("%s is no whole number", text)
		}
		n = 10*n + int(r-'0')
	}
	return n, nil
}

// worksOver works out a call that has an over.
func (e *evaluation) worksOver(n *node) *vector {
	spec := n.over
	group := e.groupsOf(n.args[n.own : n.own+spec.parts])
	keys := slices.Clone(spec.keys)
	for i, key := range n.args[n.own+spec.parts:] {
		keys[i].Values = e.sortable(e.eval(key))
	}
	rows, err := window.ArrangeBy(e.ctx, e.rows, group, keys)
	if err != nil {
		return constantNumber(Unknown, math.NaN()) // whoever asked has gone
	}
	return functions[n.text].over.of(&over{e, n, rows, spec.frame})
}

// sortable gives a number for each row that is ordered as the values are: of a text its
// place among the texts.
func (e *evaluation) sortable(v *vector) []float64 {
	out, places := make([]float64, e.rows), []float64(nil)
	if v.kind == Text {
		sorted := slices.Clone(v.levels)
		slices.Sort(sorted)
		for _, level := range v.levels {
			place, _ := slices.BinarySearch(sorted, level)
			places = append(places, float64(place))
		}
	}
	for i := range out {
		switch {
		case v.missing(i):
			out[i] = math.NaN()
		case v.kind == Text:
			out[i] = places[v.codes[i*v.stride()]]
		default:
			out[i] = v.number(i)
		}
	}
	return out
}

// taken gives each row the value of another; -1 is a missing one.
func (e *evaluation) taken(v *vector, rows []int) *vector {
	out := &vector{kind: v.kind, levels: v.levels}
	if v.kind == Text {
		out.codes = make([]int32, len(rows))
	} else {
		out.numbers = make([]float64, len(rows))
	}
	for i, row := range rows {
		switch {
		case row < 0 && v.kind == Text:
			out.codes[i] = table.MissingCode
		case row < 0:
			out.numbers[i] = math.NaN()
		case v.kind == Text:
			out.codes[i] = v.codes[row*v.stride()]
		default:
			out.numbers[i] = v.number(row)
		}
	}
	return out
}

func (o *over) argument(i int) *vector { return o.eval(o.n.args[i]) }

// whole reads an argument that is one whole number for all rows, at least so much.
func (o *over) whole(i, least int) int {
	v := o.need(o.n.args[i], Number)
	if !v.constant || v.missing(0) || v.number(0) != math.Trunc(v.number(0)) || v.number(0) < float64(least) ||
		v.number(0) > math.MaxInt32 {
		refuse(
			o.n.args[i],
			fmt.Sprintf("this must be a whole number of at least %d, the same for all rows", least),
			"say "+fmt.Sprint(max(least, 1)),
		)
	}
	return int(v.number(0))
}

// shifted is the value so many rows away, or what is said for where there is no such row.
func (o *over) shifted(sign int) *vector {
	by := 1
	if o.n.own > 1 {
		by = o.whole(1, math.MinInt32)
	}
	v, rows := o.argument(0), o.rows.Shifted(sign*by)
	if o.n.own < 3 {
		return o.taken(v, rows)
	}
	kind, both := o.sameKind(&node{text: o.n.text, args: []*node{o.n.args[0], o.n.args[2]}})
	there := o.taken(both[0], rows)
	return o.choose(kind, []*vector{there, both[1]}, func(i int) int {
		if rows[i] < 0 {
			return 1
		}
		return 0
	})
}

func (o *over) extreme(greatest bool) *vector {
	v := o.argument(0)
	if v.kind == Boolean {
		refuse(o.n.args[0], fmt.Sprintf("%s is of numbers, dates or texts; this is a %s", o.n.text, v.kind), "cast it to a number")
	}
	return o.taken(v, o.rows.Extreme(o.frame, o.sortable(v), greatest))
}

func (o *over) summed(mean bool) *vector {
	return o.windowed(o.rows.Summed(o.frame, o.everyRow(o.n.args[0]), mean), nil)
}

func (o *over) counted() *vector {
	var counts func(row int) bool
	if o.n.own > 0 {
		v := o.argument(0)
		counts = func(row int) bool { return !v.missing(row) }
	}
	return o.windowed(o.rows.Counted(o.frame, counts), nil)
}

func (o *over) nth(k int) *vector { return o.taken(o.argument(0), o.rows.Nth(o.frame, k)) }

// addOvers puts the window functions into the list: some are helpers too, others are
// nothing without an over.
func addOvers(add func(name, help, example string, least, most int, f Function)) {
	for _, w := range []struct {
		name, help string
		way        overWay
	}{
		{"row_number", "", overWay{0, 0, "row_number() over (partition by apiary order by season)",
			func(o *over) *vector { return o.windowed(o.rows.RowNumber(), nil) }}},
		{"rank", "", overWay{0, 0, "rank() over (partition by season order by honey_kg descending)",
			func(o *over) *vector { return o.windowed(o.rows.Ranked(false), nil) }}},
		{"dense_rank", "its rank among the values that there are", overWay{0, 0, "dense_rank() over (order by honey_kg)",
			func(o *over) *vector { return o.windowed(o.rows.Ranked(true), nil) }}},
		{"percent_rank", "its rank as a share, from 0 to 1", overWay{0, 0, "percent_rank() over (order by honey_kg)",
			func(o *over) *vector { return o.windowed(o.rows.PercentRank(), nil) }}},
		{"cume_dist", "the share of rows up to it", overWay{0, 0, "cume_dist() over (order by honey_kg)",
			func(o *over) *vector { return o.windowed(o.rows.Cumulative(), nil) }}},
		{"ntile", "which of so many equally large parts it is in", overWay{1, 1, "ntile(4) over (order by honey_kg)",
			func(o *over) *vector { return o.windowed(o.rows.Tile(o.whole(0, 1))) }}},
		{"lag", "", overWay{1, 3, "lag(honey_kg, 1, 0) over (partition by apiary order by season)",
			func(o *over) *vector { return o.shifted(-1) }}},
		{"lead", "", overWay{1, 3, "lead(honey_kg) over (partition by apiary order by season)", func(o *over) *vector { return o.shifted(1) }}},
		{"first_value", "the value of the first row of the frame", overWay{1, 1,
			"first_value(honey_kg) over (partition by apiary order by season)", func(o *over) *vector { return o.nth(1) }}},
		{"last_value", "the value of the last row of the frame", overWay{1, 1,
			"last_value(honey_kg) over (partition by apiary order by season range between unbounded preceding and unbounded following)",
			func(o *over) *vector { return o.nth(-1) }}},
		{"nth_value", "the value of a row of the frame, counted from 1", overWay{2, 2,
			"nth_value(honey_kg, 2) over (partition by apiary order by season)", func(o *over) *vector { return o.nth(o.whole(1, 1)) }}},
		{"sum", "the sum of the rows of the frame", overWay{1, 1, "sum(honey_kg) over (partition by apiary order by season)",
			func(o *over) *vector { return o.summed(false) }}},
		{"avg", "the mean of the rows of the frame", overWay{1, 1, "avg(honey_kg) over (partition by apiary)",
			func(o *over) *vector { return o.summed(true) }}},
		{"count", "how many rows of the frame have a value", overWay{0, 1, "count(honey_kg) over (partition by apiary)", (*over).counted}},
		{"min", "the least value of the frame", overWay{1, 1, "min(honey_kg) over (partition by apiary)",
			func(o *over) *vector { return o.extreme(false) }}},
		{"max", "the greatest value of the frame", overWay{1, 1, "max(honey_kg) over (partition by apiary)",
			func(o *over) *vector { return o.extreme(true) }}},
	} {
		if functions[w.name] == nil {
			add(w.name, w.help, w.way.example, w.way.least, w.way.most, Function{})
		}
		functions[w.name].over = &w.way
	}
}

// alone refuses a function of many rows that does not say over which.
func (p *parser) alone(t token, f *Function) *node {
	return p.fail(
		t,
		f.Name+" is of many rows, and does not say over which",
		fmt.Sprintf("say %s, or for each …: x = %s(…)", f.over.example, strings.ToLower(f.Name)),
	)
}
