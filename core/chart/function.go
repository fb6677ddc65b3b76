package chart

import (
	"fmt"
	"math"

	"copperlark/core/formula"
	"copperlark/core/magnitude"
	"copperlark/core/table"
)

// Function is a chart of no table's rows: y is worked out from x at places that lie evenly from
// one end to the other, both counted in: x_i = From + i (To - From) / (n - 1).
type Function struct {
	Formula string  `json:"formula" doc:"an expression of x, as x ^ 2"`
	From    float64 `json:"from"`
	To      float64 `json:"to"`
	Values  int     `json:"values,omitempty" minimum:"0" maximum:"10000" doc:"at how many places; 0: 401"`
}

// How many places a function is worked out at: where nothing is said, and at least and at most.
const (
	usualValues             = 401
	LeastValues, MostValues = 2, 10_000
)

// The columns of the table of a function.
const FunctionX, FunctionY = "x", "y"

// SetFunction makes the chart one of a function.
func (d *Document) SetFunction(f Function) {
	d.Function, d.X, d.Y, d.AlsoY = &f, Variable{Column: FunctionX}, Variable{Column: FunctionY}, nil
}

// Places are the places along x at which a function is worked out.
func (f *Function) Places() []float64 {
	n := f.Values
	if n == 0 {
		n = usualValues
	}
	n = min(max(n, LeastValues), MostValues)
	x := make([]float64, n)
	for i := range x {
		share := float64(i) / float64(n-1)
		x[i] = f.From*(1-share) + f.To*share
	}
	return x
}

// Table is the table that a chart is of: this one or, of a function, that of its values, in which
// y is missing where it has none.
func (d *Document) Table(of *table.Table) *table.Table {
	if d == nil || d.Function == nil {
		return of
	}
	x := d.Function.Places()
	y, err := formula.CurveAt(d.Function.Formula, x)
	if err != nil { // Check says so
		y = make([]float64, len(x))
		for i := range y {
			y[i] = math.NaN()
		}
	}
	made, err := table.New(
		&table.Column{Name: FunctionX, Kind: table.Number, Numbers: x},
		&table.Column{Name: FunctionY, Kind: table.Number, Numbers: y},
	)
	if err != nil {
		return of
	}
	return made
}

func (c *checking) function() {
	f := c.document.Function
	if f == nil {
		return
	}
	if c.document.X.Column != FunctionX || c.document.Y.Column != FunctionY {
		c.add("plot", "", "a function is plotted against x", "say plot y = x ^ 2 for x from -3 to 3")
	}
	if _, err := formula.CurveAt(f.Formula, []float64{f.From, f.To}); err != nil {
		c.add("plot", "", err.Error(), "say plot y = x ^ 2 for x from -3 to 3")
	}
	if !(f.From < f.To) || !magnitude.Finite(f.From) || !magnitude.Finite(f.To) {
		c.add("plot", "", "x goes from a number to a larger one", "say for x from -3 to 3")
	}
	if f.Values != 0 && (f.Values < LeastValues || f.Values > MostValues) {
		c.add("plot", "", ValuesMessage, "say at 13 values")
	}
}

// ValuesMessage says at how many places a function is worked out.
var ValuesMessage = fmt.Sprintf("a function is worked out at %d to %d values of x", LeastValues, MostValues)
