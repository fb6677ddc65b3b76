package formula

import "copperlark/core/table"

// keepLength are functions whose value is as long as their first argument, or as one of several.
var keepLength = map[string]bool{
	"abs":         true,
	"round":       true,
	"floor":       true,
	"ceiling":     true,
	"least":       true,
	"greatest":    true,
	"coalesce":    true,
	"nullif":      true,
	"sum":         true,
	"mean":        true,
	"avg":         true,
	"median":      true,
	"min":         true,
	"max":         true,
	"stddev":      true,
	"quantile":    true,
	"running_sum": true,
	"lag":         true,
	"lead":        true,
	"first_value": true,
	"last_value":  true,
}

// Lasts reports whether the value of an expression is a duration: columns of durations added to and taken from each other,
// or times and through a number. One through another is a number.
func (f *Formula) Lasts(t *table.Table) bool { return lasts(f.root, t) }

func lasts(n *node, t *table.Table) bool {
	of := func(i int) bool { return i < len(n.args) && lasts(n.args[i], t) }
	switch n.op {
	case "column":
		c := t.Said(n.text)
		return c != nil && c.Kind == table.Duration
	case "negative", "+", "-":
		return of(0) || of(1)
	case "*":
		return of(0) != of(1)
	case "/":
		return of(0) && !of(1)
	case "call":
		return keepLength[n.text] && of(0)
	}
	return false
}
