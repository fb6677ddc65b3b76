package prepare

import (
	"fmt"
	"math"
	"strings"

	"copperlark/core/table"
)

// Built is a made-up table of groups that somebody builds to learn from: where the groups
// stand, how far their rows spread along x, and one slope within all of them.
type Built struct {
	Groups []BuiltGroup `json:"groups" minItems:"1" maxItems:"6"`
	Slope  float64      `json:"slope" minimum:"-20" maximum:"20"`
	Noise  float64      `json:"noise" minimum:"0" maximum:"100" doc:"the standard deviation of y about the lines"`
	Rows   int          `json:"rows" minimum:"3" maximum:"500" doc:"in each group"`
}

// BuiltGroup is a group: its name, its centre, and the standard deviation of its x.
type BuiltGroup struct {
	Name   string  `json:"name" minLength:"1" maxLength:"60"`
	X      float64 `json:"x" minimum:"-1000" maximum:"1000"`
	Y      float64 `json:"y" minimum:"-1000" maximum:"1000"`
	Spread float64 `json:"spread" minimum:"0.1" maximum:"1000"`
}

// Typed is the preparation that makes the table from nothing: y = centre + slope (x − centre of
// x) + noise. The same chance stands behind it whatever is moved, so that rows move with it.
func (b *Built) Typed() string {
	names := make([]string, len(b.Groups))
	x := make([]float64, len(b.Groups))
	y := make([]float64, len(b.Groups))
	spread := make([]float64, len(b.Groups))
	for i, g := range b.Groups {
		names[i], x[i], y[i], spread[i] = "'"+strings.ReplaceAll(g.Name, "'", "''")+"'", g.X, g.Y, g.Spread
	}
	return strings.Join([]string{
		fmt.Sprintf("make %d rows in each of %s", b.Rows, strings.Join(names, ", ")),
		"work out chance_x = normal(0, 1)",
		"work out chance_y = normal(0, 1)",
		fmt.Sprintf("work out x = %s + %s * chance_x", perGroup(x), perGroup(spread)),
		fmt.Sprintf(
			"work out y = %s + %s * (x - %s) + %s * chance_y",
			perGroup(y),
			plainNumber(b.Slope),
			perGroup(x),
			plainNumber(b.Noise),
		),
		"keep columns group, x, y",
	}, "\n") + "\n"
}

// perGroup is an expression with a value for each group.
func perGroup(values []float64) string {
	parts := []string{"case group_number"}
	for i, v := range values {
		parts = append(parts, fmt.Sprintf("when %d then %s", i+1, plainNumber(v)))
	}
	return strings.Join(append(parts, "end"), " ")
}

// plainNumber has the digits that a hand can set.
func plainNumber(v float64) string { return table.FormatNumber(math.Round(v*1000) / 1000) }
