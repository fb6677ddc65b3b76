package formula

import (
	"context"
	"fmt"
	"math"
	"strings"

	"copperlark/core/table"
	"copperlark/core/words"
)

// evaluation computes one expression over one table.
type evaluation struct {
	ctx    context.Context
	table  *table.Table
	rows   int
	seed   uint64
	faults int // rows whose value is missing only because it has none
}

// Column evaluates the expression for every row of a table as a new column. faults
// is the number of rows in which an operation had no value (a division by zero,
// say); they are missing. The seed decides what random functions give. An error in
// the expression is an *Error; the context stops the work.
func (f *Formula) Column(ctx context.Context, t *table.Table, name string, seed uint64) (column *table.Column, faults int, err error) {
	v, e, err := f.evaluate(ctx, t, seed)
	if err != nil {
		return nil, 0, err
	}
	return v.column(name, t.Rows()), e.faults, nil
}

// Rows gives, for each row, whether a condition holds; a row for which it is
// neither true nor false does not hold.
func (f *Formula) Rows(ctx context.Context, t *table.Table, seed uint64) (holds []bool, err error) {
	v, _, err := f.evaluate(ctx, t, seed)
	if err != nil {
		return nil, err
	}
	if v.kind != Boolean && v.kind != Unknown {
		return nil, &Error{
			f.root.from,
			f.root.to,
			fmt.Sprintf("a condition is true or false; this is a %s", v.kind),
			"compare it with something, as in frames > 12",
		}
	}
	holds = make([]bool, t.Rows())
	for i := range holds {
		holds[i] = !v.missing(i) && v.number(i) == 1
	}
	return holds, nil
}

func (f *Formula) evaluate(ctx context.Context, t *table.Table, seed uint64) (v *vector, e *evaluation, err error) {
	e = &evaluation{ctx: ctx, table: t, rows: t.Rows(), seed: seed}
	defer func() { // a mistake deep inside ends the evaluation
		if fault := recover(); fault != nil {
			mistake, ours := fault.(*Error)
			if !ours {
				panic(fault)
			}
			err = mistake
		}
	}()
	v = e.eval(f.root)
	return v, e, ctx.Err()
}

func refuse(n *node, message, advice string) {
	panic(&Error{n.from, n.to, message, advice})
}

func (e *evaluation) eval(n *node) *vector {
	if e.ctx.Err() != nil {
		return constantNumber(Unknown, math.NaN())
	}
	switch n.op {
	case "number":
		return constantNumber(Number, n.number)
	case "text":
		return constantText(n.text)
	case "boolean":
		return constantNumber(Boolean, n.number)
	case "null":
		return constantNumber(Unknown, math.NaN())
	case "column":
		c := e.table.Said(n.text)
		if c == nil {
			message, advice := words.UnknownColumn(n.text, e.table.Names())
			refuse(n, message, advice)
		}
		return fromColumn(c)
	case "+", "-", "*", "/", "^":
		return e.arithmetic(n)
	case "negative":
		return e.each1(e.need(n.args[0], Number), Number, func(a float64) float64 { return -a })
	case "=", "<>", "<", "<=", ">", ">=":
		a, b := e.pair(n.args[0], n.args[1])
		return e.compare(n.op, a, b)
	case "and", "or":
		return e.logic(n.op, e.need(n.args[0], Boolean), e.need(n.args[1], Boolean))
	case "not":
		return e.each1(e.need(n.args[0], Boolean), Boolean, func(a float64) float64 { return 1 - a })
	case "is null":
		v := e.eval(n.args[0])
		out := e.numbers(Boolean, v)
		for i := range out.numbers {
			if v.missing(i) {
				out.numbers[i] = 1
			}
		}
		return out
	case "between":
		low := &node{op: ">=", args: n.args[:2], from: n.from, to: n.to}
		high := &node{op: "<=", args: []*node{n.args[0], n.args[2]}, from: n.from, to: n.to}
		return e.logic("and", e.eval(low), e.eval(high))
	case "in":
		return e.in(n)
	case "like":
		return e.like(e.need(n.args[0], Text), e.need(n.args[1], Text))
	case "||":
		return e.concatenate(e.need(n.args[0], Text), e.need(n.args[1], Text))
	case "case":
		return e.cases(n)
	case "cast":
		return e.cast(n)
	case "extract":
		field := dateFields[n.text]
		return e.each1(e.need(n.args[0], Date), Number, field)
	}
	return e.call(n)
}

// need evaluates a part that must be of a kind.
func (e *evaluation) need(n *node, k Kind) *vector {
	v := e.eval(n).as(k)
	if v.kind != k {
		advice := "cast(… as " + castName(k) + ") turns it into one"
		if k == Boolean {
			advice = "compare it with something, as in frames > 12"
		}
		refuse(n, fmt.Sprintf("expected a %s; this is a %s", k, v.kind), advice)
	}
	return v
}

func castName(k Kind) string {
	if k == Boolean {
		return "boolean"
	}
	return string(k)
}

// pair evaluates two parts that must be of one kind.
func (e *evaluation) pair(a, b *node) (*vector, *vector) {
	v, w := e.eval(a), e.eval(b)
	v, w = v.as(w.kind), w.as(v.kind)
	// A date may be compared with a text that is one.
	if v.kind == Date && w.kind == Text && b.op == "text" {
		w = e.toDate(w)
	} else if w.kind == Date && v.kind == Text && a.op == "text" {
		v = e.toDate(v)
	}
	if b.op == "text" && lasts(a, e.table) {
		w = seconds(b, w)
	} else if a.op == "text" && lasts(b, e.table) {
		v = seconds(a, v)
	}
	// A number may be compared with texts that are all numbers: groups such as seasons.
	if v.kind == Number && w.kind == Text {
		w = w.asNumbers()
	} else if w.kind == Number && v.kind == Text {
		v = v.asNumbers()
	}
	if v.kind != w.kind {
		refuse(b, fmt.Sprintf("a %s cannot be compared with a %s", v.kind, w.kind), "cast one of them to the kind of the other")
	}
	return v, w
}

// seconds reads a text that a duration is compared with: a length of time, or how many seconds.
func seconds(n *node, text *vector) *vector {
	if length, form := table.ParseDuration(n.text); form != table.NoDuration {
		return constantNumber(Number, length)
	}
	if text.asNumbers().kind != Number {
		refuse(n, fmt.Sprintf("'%s' is no length of time", n.text), "write it as '1:30:00', '90 min' or '2 h 5 min'")
	}
	return text
}

// numbers makes a vector as long as its operands, constant when they all are.
func (e *evaluation) numbers(k Kind, operands ...*vector) *vector {
	for _, v := range operands {
		if !v.constant {
			return &vector{kind: k, numbers: make([]float64, e.rows)}
		}
	}
	return constantNumber(k, 0)
}

// fault is the value of an operation that has none.
func (e *evaluation) fault() float64 {
	e.faults++
	return math.NaN()
}

// holds reports whether a value is one of the kind: finite, and of a date in a year
// that can be written.
func (k Kind) holds(value float64) bool {
	if k == Date {
		return value >= table.EarliestDate && value < table.LatestDate+1
	}
	return !math.IsNaN(value) && !math.IsInf(value, 0)
}

func (e *evaluation) each1(v *vector, k Kind, of func(float64) float64) *vector {
	out := e.numbers(k, v)
	for i := range out.numbers {
		a := v.numbers[i]
		r := of(a)
		if !k.holds(r) && !math.IsNaN(a) {
			r = e.fault()
		}
		out.numbers[i] = r
	}
	return out
}

func (e *evaluation) each2(v, w *vector, k Kind, of func(a, b float64) float64) *vector {
	out := e.numbers(k, v, w)
	s, t := v.stride(), w.stride()
	for i := range out.numbers {
		a, b := v.numbers[i*s], w.numbers[i*t]
		r := of(a, b)
		if !k.holds(r) {
			if math.IsNaN(a) || math.IsNaN(b) {
				r = math.NaN()
			} else {
				r = e.fault()
			}
		}
		out.numbers[i] = r
	}
	return out
}

const secondsADay = 86400

// arithmetic works on numbers; a date and a number of days give a date, two dates
// a number of days.
func (e *evaluation) arithmetic(n *node) *vector {
	v, w := e.eval(n.args[0]), e.eval(n.args[1])
	switch {
	case n.op == "-" && v.kind == Date && w.kind == Date:
		return e.each2(v, w, Number, func(a, b float64) float64 { return (a - b) / secondsADay })
	case v.kind == Date && (n.op == "+" || n.op == "-"):
		sign := map[string]float64{"+": secondsADay, "-": -secondsADay}[n.op]
		return e.each2(v, e.need(n.args[1], Number), Date, func(a, b float64) float64 { return a + sign*b })
	case w.kind == Date && n.op == "+":
		return e.each2(e.need(n.args[0], Number), w, Date, func(a, b float64) float64 { return secondsADay*a + b })
	}
	for i, operand := range []**vector{&v, &w} {
		*operand = (*operand).as(Number)
		if (*operand).kind != Number {
			advice := "cast(… as number) turns it into one"
			if n.op == "+" && (*operand).kind == Text {
				advice = "|| puts texts together"
			}
			refuse(n.args[i], fmt.Sprintf("%s needs numbers; this is a %s", n.op, (*operand).kind), advice)
		}
	}
	switch n.op {
	case "+":
		return e.each2(v, w, Number, func(a, b float64) float64 { return a + b })
	case "-":
		return e.each2(v, w, Number, func(a, b float64) float64 { return a - b })
	case "*":
		return e.each2(v, w, Number, func(a, b float64) float64 { return a * b })
	case "^":
		return e.each2(v, w, Number, math.Pow)
	}
	return e.each2(v, w, Number, func(a, b float64) float64 { return a / b })
}

func (e *evaluation) compare(op string, v, w *vector) *vector {
	out := e.numbers(Boolean, v, w)
	for i := range out.numbers {
		if v.missing(i) || w.missing(i) {
			out.numbers[i] = math.NaN()
			continue
		}
		order := 0
		if v.kind == Text {
			order = strings.Compare(v.text(i), w.text(i))
		} else if a, b := v.number(i), w.number(i); a < b {
			order = -1
		} else if a > b {
			order = 1
		}
		if holds(op, order) {
			out.numbers[i] = 1
		}
	}
	return out
}

func holds(op string, order int) bool {
	switch op {
	case "=":
		return order == 0
	case "<>":
		return order != 0
	case "<":
		return order < 0
	case "<=":
		return order <= 0
	case ">":
		return order > 0
	}
	return order >= 0
}

// logic is SQL's three-valued and / or.
func (e *evaluation) logic(op string, v, w *vector) *vector {
	decides := 0.0 // the value that decides whatever the other one is
	if op == "or" {
		decides = 1
	}
	out := e.numbers(Boolean, v, w)
	for i := range out.numbers {
		a, b := v.number(i), w.number(i)
		switch {
		case a == decides || b == decides:
			out.numbers[i] = decides
		case math.IsNaN(a) || math.IsNaN(b):
			out.numbers[i] = math.NaN()
		default:
			out.numbers[i] = 1 - decides
		}
	}
	return out
}

func (e *evaluation) in(n *node) *vector {
	var out *vector
	for _, candidate := range n.args[1:] {
		v, w := e.pair(n.args[0], candidate)
		equal := e.compare("=", v, w)
		if out == nil {
			out = equal
		} else {
			out = e.logic("or", out, equal)
		}
	}
	return out
}

// cases takes the first value whose condition holds.
func (e *evaluation) cases(n *node) *vector {
	var conditions, values []*vector
	kind := Unknown
	for i := 0; i < len(n.args); i += 2 {
		value := n.args[i]
		if i+1 < len(n.args) {
			conditions = append(conditions, e.need(n.args[i], Boolean))
			value = n.args[i+1]
		}
		v := e.eval(value).as(kind)
		if kind == Unknown {
			kind = v.kind
		} else if v.kind != kind {
			refuse(value, fmt.Sprintf("the values of a case are of one kind; this is a %s, the first is a %s", v.kind, kind),
				"cast it to the kind of the first")
		}
		values = append(values, v)
	}
	if len(values) == len(conditions) {
		values = append(values, constantNumber(Unknown, math.NaN()))
	}
	return e.choose(kind, values, func(i int) int {
		for j, c := range conditions {
			if c.number(i) == 1 {
				return j
			}
		}
		return len(values) - 1
	})
}

// choose takes value i from one of several vectors of a kind; -1 is missing.
func (e *evaluation) choose(kind Kind, values []*vector, which func(i int) int) *vector {
	for j := range values {
		values[j] = values[j].as(kind)
	}
	if kind != Text {
		out := &vector{kind: kind, numbers: make([]float64, e.rows)}
		for i := range out.numbers {
			out.numbers[i] = math.NaN()
			if j := which(i); j >= 0 {
				out.numbers[i] = values[j].number(i)
			}
		}
		return out
	}
	out := &vector{kind: Text, codes: make([]int32, e.rows)}
	coder := table.NewCoder()
	for i := range out.codes {
		out.codes[i] = table.MissingCode
		if j := which(i); j >= 0 && !values[j].missing(i) {
			out.codes[i] = coder.Code([]byte(values[j].text(i)))
		}
	}
	out.levels = coder.Levels()
	return out
}
