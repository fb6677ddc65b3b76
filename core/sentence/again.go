package sentence

import (
	"strings"

	"copperlark/core/chart"
	"copperlark/core/formula"
	"copperlark/core/mark"
)

// LookOf is what a chart says of its looks, and of the scales of its axes (how they run, where they end, how their numbers are
// written), each a clause as it is typed; titles and units of axes are of their columns, and none of it.
func LookOf(d *chart.Document) (looks, scales []string) {
	bare := &chart.Document{X: chart.Variable{Column: "x"}, Y: chart.Variable{Column: "y"}}
	lines := func(d *chart.Document) []string { return strings.Split(strings.TrimSpace(Print(d)), "\n")[1:] }
	looks = lines(bare.Styled(d.Style()))
	for _, axis := range []string{"x", "y"} {
		said := *d.Scale(axis)
		said.Title, said.Unit, said.Untitled = "", "", false
		*bare.Scale(axis) = said
	}
	return looks, lines(bare)
}

// Swapped is a chart with what stood along x along y, and the other way round: columns, scales, reference lines, and along which axis
// dots are moved apart. Lines that are worked out from x cannot be turned: then it is nil with the reason.
func Swapped(d *chart.Document) (*chart.Document, *Error) {
	next := d.Clone()
	for _, r := range next.References() {
		if r.Formula != "" && r.Formula != mark.Diagonal {
			return nil, &Error{Line: 1, Column: 1, Length: 1, Message: "a line is worked out from x, and cannot be turned",
				Advice: "take the line y = … away first"}
		}
		if r.Formula == "" {
			r.Axis = otherAxis(r.Axis)
		}
	}
	next.X, next.Y = next.Y, next.X
	next.Scales.X, next.Scales.Y = next.Scales.Y, next.Scales.X
	for i := range next.Also {
		next.Also[i].X, next.Also[i].Y = next.Also[i].Y, next.Also[i].X
	}
	for i, axis := range next.Manner.Jitter {
		next.Manner.Jitter[i] = otherAxis(axis)
	}
	return next, nil
}

func otherAxis(axis string) string {
	if axis == "x" {
		return "y"
	}
	return "x"
}

// Without is a chart that names a column nowhere: it is no longer split by it, and clauses that name it are gone; false where what is
// plotted is of it.
func Without(d *chart.Document, column string) (*chart.Document, bool) {
	next := d.Clone()
	unite(next, column)
	other := map[string]string{column: column + " "} // no column ends with a space
	lines, renamed := strings.Split(Print(next), "\n"), strings.Split(grammar.PrintRenamed(next, other, formula.Renamed), "\n")
	var kept []string
	for i, line := range lines {
		if line == renamed[i] {
			kept = append(kept, line)
		}
	}
	out, mistakes := Parse(strings.Join(kept, "\n"), nil)
	if mistakes != nil || out.X != next.X || out.Y != next.Y {
		return nil, false
	}
	return out, true
}
