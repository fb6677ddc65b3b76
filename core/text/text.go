// Package text measures text in the font that charts are written in, so that a
// layout made on the server fits what a browser draws.
package text

import (
	_ "embed"
	"encoding/json"
	"strings"
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

// Break breaks a label at its spaces into at most so many lines that are no wider than
// room, joined by newlines. Where a word alone is wider, or the lines do not hold all, the
// last one is cut with an ellipsis, and whole is false.
func Break(m *Metrics, label string, size, room float64, lines int) (broken string, whole bool) {
	list := wrap(m, label, size, false, room)
	if len(list) <= lines && fits(m, list, size, false, room) {
		return strings.Join(list, "\n"), true
	}
	return strings.Join(cutTo(m, list, size, false, room, lines), "\n"), false
}

// Wrap breaks words into at most so many lines; what does not fit is cut with an ellipsis.
func Wrap(m *Metrics, words string, size float64, bold bool, room float64, lines int) []string {
	list := wrap(m, words, size, bold, room)
	if len(list) <= lines && fits(m, list, size, bold, room) {
		return list
	}
	return cutTo(m, list, size, bold, room, lines)
}

func fits(m *Metrics, lines []string, size float64, bold bool, room float64) bool {
	for _, line := range lines {
		if m.Width(line, size, bold) > room {
			return false
		}
	}
	return true
}

// wrap fills lines word by word; a word that is wider than the room has a line for itself.
func wrap(m *Metrics, words string, size float64, bold bool, room float64) (lines []string) {
	line := ""
	for _, word := range strings.Fields(words) {
		longer := word
		if line != "" {
			longer = line + " " + word
		}
		if line != "" && m.Width(longer, size, bold) > room {
			lines = append(lines, line)
			longer = word
		}
		line = longer
	}
	return append(lines, line)
}

func cutTo(m *Metrics, lines []string, size float64, bold bool, room float64, most int) []string {
	if len(lines) > most {
		rest := strings.Join(lines[most-1:], " ")
		lines = append(lines[:most-1:most-1], rest)
	}
	out := make([]string, len(lines))
	for i, line := range lines {
		out[i] = cut(m, line, size, bold, room)
	}
	return out
}

// cut shortens a line with an ellipsis where it is wider than the room.
func cut(m *Metrics, line string, size float64, bold bool, room float64) string {
	if m.Width(line, size, bold) <= room {
		return line
	}
	runes := []rune(line)
	for len(runes) > 1 && m.Width(string(runes)+"…", size, bold) > room {
		runes = runes[:len(runes)-1]
	}
	return strings.TrimRight(string(runes), " ") + "…"
}

// Lines counts the lines of a broken label.
func Lines(broken string) int { return strings.Count(broken, "\n") + 1 }

// Widest is the width of the widest line of a broken label.
func Widest(m *Metrics, broken string, size float64) (widest float64) {
	for line := range strings.SplitSeq(broken, "\n") {
		widest = max(widest, m.Width(line, size, false))
	}
	return widest
}

// CutMiddle shortens a line in its middle where it is wider than the room: the beginning
// and the end stay.
func CutMiddle(m *Metrics, line string, size, room float64) string {
	if m.Width(line, size, false) <= room {
		return line
	}
	runes := []rune(line)
	for keep := len(runes) - 1; keep > 1; keep-- {
		end := keep / 3
		short := strings.TrimRight(string(runes[:keep-end]), " ") + "…" + strings.TrimLeft(string(runes[len(runes)-end:]), " ")
		if m.Width(short, size, false) <= room {
			return short
		}
	}
	return "…"
}
