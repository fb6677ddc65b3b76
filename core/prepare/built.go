package prepare

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"strings"

	"copperlark/core/table"
)

// Built is a made-up table of groups that somebody builds to learn from: where the groups
// stand, how far their rows spread along x, and the slope within them.
type Built struct {
	Groups []BuiltGroup `json:"groups" minItems:"1" maxItems:"6"`
	Slope  float64      `json:"slope" minimum:"-20" maximum:"20"`
	Noise  float64      `json:"noise" minimum:"0" maximum:"100" doc:"the standard deviation of y about the lines"`
	Rows   int          `json:"rows" minimum:"3" maximum:"500" doc:"in each group that says no other number"`
}

// BuiltGroup is a group: its name, its centre, and the standard deviation of its x.
type BuiltGroup struct {
	Name   string  `json:"name" minLength:"1" maxLength:"60"`
	X      float64 `json:"x" minimum:"-1000" maximum:"1000"`
	Y      float64 `json:"y" minimum:"-1000" maximum:"1000"`
	Spread float64 `json:"spread" minimum:"0.1" maximum:"1000"`

	Slope *float64 `json:"slope,omitempty" minimum:"-20" maximum:"20" doc:"of its own; none: that of all groups"`
	Rows  int      `json:"rows,omitempty" minimum:"0" maximum:"500" doc:"of its own; 0: as many as in each group"`
}

// MostRows is how many rows the largest group has.
func (b *Built) MostRows() (most int) {
	for _, g := range b.Groups {
		most = max(most, b.rowsOf(g))
	}
	return most
}

func (b *Built) rowsOf(g BuiltGroup) int { return cmp.Or(g.Rows, b.Rows) }

// Typed is the preparation that makes the table from nothing: y = centre + slope (x − centre of
// x) + noise. The same chance stands behind it whatever is moved, so that rows move with it.
func (b *Built) Typed() string {
	names := make([]string, len(b.Groups))
	x := make([]float64, len(b.Groups))
	y := make([]float64, len(b.Groups))
	spread, slope, last := make([]float64, len(b.Groups)), make([]float64, len(b.Groups)), make([]float64, len(b.Groups))
	most := b.MostRows()
	for i, g := range b.Groups {
		names[i], x[i], y[i], spread[i] = "'"+strings.ReplaceAll(g.Name, "'", "''")+"'", g.X, g.Y, g.Spread
		if last[i], slope[i] = float64(i*most+b.rowsOf(g)), b.Slope; g.Slope != nil {
			slope[i] = *g.Slope
		}
	}
	lines := []string{fmt.Sprintf("make %d rows in each of %s", most, strings.Join(names, ", "))}
	lines = append(lines,
		"work out chance_x = normal(0, 1)",
		"work out chance_y = normal(0, 1)",
		fmt.Sprintf("work out x = %s + %s * chance_x", perGroup(x), perGroup(spread)),
		fmt.Sprintf(
			"work out y = %s + %s * (x - %s) + %s * chance_y",
			perGroup(y),
			perGroup(slope),
			perGroup(x),
			plainNumber(b.Noise),
		),
	)
	if slices.ContainsFunc(b.Groups, func(g BuiltGroup) bool { return b.rowsOf(g) < most }) { // after the chances: rows keep theirs
		lines = append(lines, "keep row <= "+perGroup(last))
	}
	return strings.Join(append(lines, "keep columns group, x, y"), "\n") + "\n"
}

// perGroup is an expression with a value for each group, or the one that all have.
func perGroup(values []float64) string {
	if !slices.ContainsFunc(values, func(v float64) bool { return v != values[0] }) {
		return plainNumber(values[0])
	}
	parts := []string{"case group_number"}
	for i, v := range values {
		parts = append(parts, fmt.Sprintf("when %d then %s", i+1, plainNumber(v)))
	}
	return strings.Join(append(parts, "end"), " ")
}

// plainNumber has the digits that a hand can set.
func plainNumber(v float64) string { return table.FormatNumber(math.Round(v*1000) / 1000) }
