// Package text measures text in the font that charts are written in, so that a
// layout made on the server fits what a browser draws.
package text

import (
	_ "embed"
	"encoding/json"
	"sort"
	"strings"
	"unicode"
	"unicode/utf8"
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
	list := wrap(m, label, size, false, room, lines)
	if len(list) <= lines && fits(m, list, size, false, room) {
		return strings.Join(list, "\n"), true
	}
	return strings.Join(cutTo(m, list, size, false, room, lines), "\n"), false
}

// Wrap breaks words into at most so many lines; what does not fit is cut with an ellipsis.
func Wrap(m *Metrics, words string, size float64, bold bool, room float64, lines int) []string {
	list := wrap(m, words, size, bold, room, lines)
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

// narrowest is the share of its size that no letter that is seen falls below in width, and slack how many
// letters are kept beside those that could fit.
const narrowest, slack = 0.1, 16

// couldFit is how many letters could stand in a room: what is longer is cut before it is measured, so
// that a word of any length costs no more than the room.
func couldFit(size, room float64) int {
	if size <= 0 || !(room > 0) {
		return slack
	}
	return int(min(room/(narrowest*size), 1e6)) + slack
}

// beginning is the first n letters of a text.
func beginning(words string, n int) string {
	if len(words) <= n {
		return words
	}
	for i := range words {
		if n == 0 {
			return words[:i]
		}
		n--
	}
	return words
}

// ending is the last n letters of a text.
func ending(words string, n int) string {
	at := len(words)
	for ; n > 0 && at > 0; n-- {
		_, size := utf8.DecodeLastRuneInString(words[:at])
		at -= size
	}
	return words[at:]
}

// wrap fills so many lines word by word, and puts what is left behind them; a word that is wider than the
// room has a line for itself, unless it is of letters that need no space between them.
func wrap(m *Metrics, words string, size float64, bold bool, room float64, most int) (lines []string) {
	line := ""
	could := couldFit(size, room)
	for word := range strings.FieldsSeq(words) {
		joint := " "
		for _, piece := range pieces(word, could*(most+1)) {
			if len(lines) > most { // more than fits in any case: nothing behind it is seen
				return append(lines, line)
			}
			piece = beginning(piece, 2*could)
			longer := piece
			if line != "" {
				longer = line + joint + piece
			}
			if line != "" && m.Width(longer, size, bold) > room {
				lines = append(lines, line)
				longer = piece
			}
			line, joint = longer, ""
		}
	}
	return append(lines, line)
}

// unspaced reports whether a line may break behind a letter as behind a word: Han, Hiragana and Katakana.
func unspaced(r rune) bool { return unicode.In(r, unicode.Han, unicode.Hiragana, unicode.Katakana) }

// pieces cuts a word where a line may break in it; of a long one no more than so many pieces.
func pieces(word string, most int) (list []string) {
	from := 0
	for i, r := range word {
		if unspaced(r) && len(list) < most {
			list = append(list, word[from:i+utf8.RuneLen(r)])
			from = i + utf8.RuneLen(r)
		}
	}
	if from < len(word) {
		list = append(list, word[from:])
	}
	return list
}

func cutTo(m *Metrics, lines []string, size float64, bold bool, room float64, most int) []string {
	if len(lines) > most {
		rest := lines[most-1]
		for _, line := range lines[most:] {
			last, _ := utf8.DecodeLastRuneInString(rest)
			if first, _ := utf8.DecodeRuneInString(line); !unspaced(last) || !unspaced(first) {
				rest += " "
			}
			rest += line
		}
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
	runes := []rune(beginning(line, couldFit(size, room)))
	if len(line) == len(string(runes)) && m.Width(line, size, bold) <= room {
		return line
	}
	// The most letters that fit; one stays in any case.
	keep := sort.Search(len(runes), func(n int) bool { return n > 0 && m.Width(string(runes[:n+1])+"…", size, bold) > room })
	return strings.TrimRight(string(runes[:min(max(keep, 1), len(runes))]), " ") + "…"
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
	if could := couldFit(size, room); len(line) > 2*utf8.UTFMax*could { // too long in any case: its middle is not looked at
		line = beginning(line, could) + ending(line, could)
	} else if m.Width(line, size, false) <= room {
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
