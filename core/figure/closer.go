package figure

import (
	"fmt"
	"strings"

	"copperlark/core/formula"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// SeenPart is a part of what a chart shows: values between which rows lie along its axes, in the units of their columns; of an axis
// without numbers nothing.
type SeenPart struct {
	X []float64 `json:"x,omitempty" maxItems:"2" doc:"from, to; dates in seconds from 1970"`
	Y []float64 `json:"y,omitempty" maxItems:"2"`
}

// Under is the question which rows of a table that stays elsewhere lie in a part of a chart of it; bars says why that cannot be
// asked.
func Under(b *mark.Bound, whole *summary.Whole, part SeenPart) (q *summary.Question, bars string) {
	e := elsewhereOf(b, whole)
	if e == nil {
		return nil, whole.Bars
	}
	var conditions []string
	if e.Where != "" {
		conditions = append(conditions, "("+e.Where+")")
	}
	for _, one := range []struct {
		axis *mark.Axis
		ends []float64
	}{{b.X, part.X}, {b.Y, part.Y}} {
		if len(one.ends) != 2 || one.axis.Column == nil || one.axis.Aggregated() {
			continue
		}
		c, low, high := one.axis.Column, min(one.ends[0], one.ends[1]), max(one.ends[0], one.ends[1])
		written := table.FormatNumber
		switch {
		case !one.axis.Numeric() || c.Kind == table.YesNo || c.Kind == table.Duration:
			continue
		case one.axis.Kind == scale.Date:
			written = func(v float64) string { return formula.Literal(table.FormatDate(v, table.Second)) }
		}
		conditions = append(conditions, fmt.Sprintf("%[1]s >= %[2]s and %[1]s <= %[3]s", formula.Quoted(c.Name), written(low), written(high)))
	}
	if len(conditions) == 0 {
		return nil, "no part of an axis of numbers or dates is looked at"
	}
	return &summary.Question{Within: whole.Within, With: whole.With, Where: strings.Join(conditions, " and "), Needs: e.Needs}, ""
}
