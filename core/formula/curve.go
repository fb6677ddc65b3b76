package formula

import (
	"context"
	"fmt"
	"strings"
	"time"

	"copperlark/core/table"
)

// curveVariable is what an expression of one number calls it.
const curveVariable = "x"

// curveFunctions are those beside the functions of one and of two numbers that work out a
// value from one row alone.
var curveFunctions = map[string]bool{"round": true, "coalesce": true, "nullif": true, "least": true, "greatest": true}

// Curve works out an expression of x alone, such as 2 * x + 1, at each of some places. Where
// it has no value (the logarithm of a negative number) it gives NaN. The error is an *Error
// where the expression names anything but x, or is no number.
func Curve(ctx context.Context, expression string, x []float64) (y []float64, err error) {
	f, err := Parse(expression)
	if err != nil {
		return nil, err
	}
	if err := f.ofOne(); err != nil {
		return nil, err
	}
	t, err := table.New(&table.Column{Name: curveVariable, Kind: table.Number, Numbers: x})
	if err != nil {
		return nil, err
	}
	v, _, err := f.evaluate(ctx, t, 0)
	if err != nil {
		return nil, err
	}
	if v = v.as(Number); v.kind != Number {
		return nil, &Error{f.root.from, f.root.to, fmt.Sprintf("a line is of numbers; this is a %s", v.kind), "say it like this: 2 * x + 1"}
	}
	y = make([]float64, len(x))
	for i := range y {
		y[i] = v.number(i)
	}
	return y, nil
}

// CurveAt is Curve at so few places that it is not to be stopped.
func CurveAt(expression string, x []float64) (y []float64, err error) {
	return Curve(unstopped{}, expression, x)
}

// unstopped is the context of work that is too short to be stopped.
type unstopped struct{}

func (unstopped) Deadline() (time.Time, bool) { return time.Time{}, false }
func (unstopped) Done() <-chan struct{}       { return nil }
func (unstopped) Err() error                  { return nil }
func (unstopped) Value(any) any               { return nil }

// ofOne tells the first place at which an expression needs more than x.
func (f *Formula) ofOne() error {
	var mistake *Error
	f.root.walk(func(n *node) {
		switch known := functions[n.text]; {
		case mistake != nil:
		case n.op == "column" && !strings.EqualFold(n.text, curveVariable):
			mistake = &Error{n.from, n.to, n.text + " is not known here", "a line is worked out from x alone, as in 2 * x + 1"}
		case n.op == "call" && (n.over != nil || known == nil || known.number == nil && known.numbers == nil && !curveFunctions[n.text]):
			mistake = &Error{n.from, n.to, n.text + " needs more than one value of x", "a line is worked out from x alone, as in 2 * x + 1"}
		}
	})
	if mistake != nil {
		return mistake
	}
	return nil
}

// CurveMistake tells what is wrong with an expression of x as it is read, and where in it; an
// empty message: nothing. Whether it gives numbers shows when it is worked out.
func CurveMistake(expression string) (from, to int, message, advice string) {
	f, err := Parse(expression)
	if err == nil {
		err = f.ofOne()
	}
	return place(expression, err)
}
