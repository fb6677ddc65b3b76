// Package text measures text in the font that charts are written in, so that a
// layout made on the server fits what a browser draws.
package text

import (
	_ "embed"
	"encoding/json"
)

//go:embed hanken.json
var hanken []byte

// Metrics holds how wide characters are, by weight, in thousandths of the size.
type Metrics struct {
	regular, bold map[rune]float64
}

// Hanken gives the metrics of Hanken Grotesk in weights 400 and 600.
func Hanken() *Metrics {
	var advances map[string]map[string]float64
	if err := json.Unmarshal(hanken, &advances); err != nil {
		panic("text: hanken.json is built in and must be readable: " + err.Error())
	}
	byRune := func(weight string) map[rune]float64 {
		widths := map[rune]float64{}
		for character, advance := range advances[weight] {
			for _, r := range character {
				widths[r] = advance
			}
		}
		return widths
	}
	return &Metrics{byRune("400"), byRune("600")}
}

// Width is the width of a line of text at a font size, in the same unit as the
// size. A character that the font does not have counts as wide as an em dash.
func (m *Metrics) Width(line string, size float64, bold bool) float64 {
	widths := m.regular
	if bold {
		widths = m.bold
	}
	total := 0.0
	for _, r := range line {
		advance, ok := widths[r]
		if !ok {
			advance = 1000
		}
		total += advance
	}
	return total * size / 1000
}
