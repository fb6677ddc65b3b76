package clause

import (
	"slices"
	"strconv"
	"strings"
	"unicode"

	"copperlark/core/table"
)

// longestName is how many words a column's readable name may have where it stands without quotes.
const longestName = 9

// HeardColumn is a slot for a column: in quotes, by its name, or by its readable name of several words.
func HeardColumn(h *Hearing, at int) (list []Held) {
	if at >= len(h.tokens) {
		return nil
	}
	t := h.tokens[at]
	if t.kind == nameToken || h.Table == nil && t.kind == wordToken {
		if h.Table == nil {
			return []Held{{1, quotedName(t.text)}}
		}
		if name := h.columns()[strings.ToLower(t.text)]; name != "" {
			return []Held{{1, quotedName(name)}}
		}
		return nil
	}
	for n := longestName; n > 0; n-- {
		if said, ok := h.joined(at, n); ok {
			if name := h.columns()[strings.ToLower(said)]; name != "" {
				list = append(list, Held{n, quotedName(name)})
			}
		}
	}
	return list
}

// columns are the names of columns by how they can be said, in small letters; what can mean several means none.
func (h *Hearing) columns() map[string]string {
	if h.names == nil && h.Table != nil {
		h.names = map[string]string{}
		for _, c := range h.Table.Columns() {
			for _, said := range []string{c.ReadableName(), table.Readable(c.Name), c.Name} {
				said = strings.ToLower(said)
				if before, is := h.names[said]; is && before != c.Name {
					h.names[said] = ""
					continue
				}
				h.names[said] = c.Name
			}
		}
		for _, c := range h.Table.Columns() { // a stored name means its column, whatever others are called
			h.names[strings.ToLower(c.Name)] = c.Name
		}
	}
	return h.names
}

// conditions are what takes the rows of a value, by the value in small letters.
func (h *Hearing) conditions() map[string][]string {
	if h.values == nil {
		h.values = map[string][]string{}
		for _, c := range h.Table.Columns() {
			for _, is := range c.Levels {
				if value := strings.ToLower(is); len(h.values[value]) < mostMeant {
					h.values[value] = append(h.values[value], PlainName(c.Name)+" = "+quotedText(is))
				}
			}
		}
	}
	return h.values
}

// mostMeant is how many columns a value is looked for in.
const mostMeant = 3

// joined is the text of some tokens as it was typed, with single blanks.
func (h *Hearing) joined(at, n int) (string, bool) {
	if at+n > len(h.tokens) {
		return "", false
	}
	for _, t := range h.tokens[at : at+n] {
		if t.kind == endToken || t.kind == nameToken || t.kind == textToken {
			return "", false
		}
	}
	from, to := h.tokens[at].from, h.tokens[at+n-1].to
	return strings.Join(strings.Fields(string(h.runes[from:to])), " "), true
}

// PlainName is a column's name where no word of a language can be meant: in double quotes unless it is a plain word.
func PlainName(name string) string { return (&writer{}).columnName(name) }

func quotedName(name string) string {
	return `"` + strings.ReplaceAll(name, `"`, `""`) + `"`
}

// HeardNumber is a slot for a number, with commas between its thousands or a sign of percent behind it.
func HeardNumber(h *Hearing, at int) []Held {
	if at >= len(h.tokens) || h.tokens[at].kind != numberToken {
		return nil
	}
	n, text := 1, strings.Replace(h.tokens[at].text, "−", "-", 1)
	for at+n+1 < len(h.tokens) && h.tokens[at+n].text == "," && h.tokens[at+n].from == h.tokens[at+n-1].to &&
		h.tokens[at+n+1].kind == numberToken && thousands(h.tokens[at+n+1].text) && h.tokens[at+n+1].from == h.tokens[at+n].to {
		text += h.tokens[at+n+1].text
		n += 2
	}
	return []Held{{n, text}}
}

// thousands reports whether a number can stand behind the comma of thousands: it has three digits before its decimals.
func thousands(text string) bool {
	whole, _, _ := strings.Cut(text, ".")
	return len(whole) == 3
}

// HeardShare is a slot for a number in percent, which is written as a share of one.
func HeardShare(h *Hearing, at int) []Held {
	list := HeardNumber(h, at)
	for i := range list {
		if v, err := strconv.ParseFloat(list[i].Text+"e-2", 64); err == nil {
			list[i].Text = table.FormatNumber(v)
		}
	}
	return list
}

// HeardAlong is a slot for an axis, by its words or by the column that is plotted along it.
func HeardAlong(axes Slot) Slot {
	return func(h *Hearing, at int) []Held {
		list := axes(h, at)
		for _, column := range HeardColumn(h, at) {
			list = append(list, Held{column.Tokens, axisOf + column.Text + axisOf})
		}
		return list
	}
}

// axisOf stands about a column whose axis is meant, until it is known what is plotted: no text holds it.
const axisOf = "\x00"

// ColumnAlong stands in what a wording says before x or y for the column that is plotted there.
const ColumnAlong = "\x01"

// HeardText is a slot for a text in quotes, straight or curled.
func HeardText(h *Hearing, at int) []Held {
	if at >= len(h.tokens) || h.tokens[at].kind != textToken && h.tokens[at].kind != nameToken {
		return nil
	}
	return []Held{{1, quotedText(h.tokens[at].text)}}
}

// HeardName is a slot for a column of another table: a word, or what stands in double quotes.
func HeardName(h *Hearing, at int) []Held {
	if at >= len(h.tokens) || h.tokens[at].kind != wordToken && h.tokens[at].kind != nameToken {
		return nil
	}
	return []Held{{1, quotedName(h.tokens[at].text)}}
}

// HeardMoment is a slot for a number or a date.
func HeardMoment(h *Hearing, at int) []Held {
	return append(HeardNumber(h, at), HeardText(h, at)...)
}

// HeardWord is a slot for a text of one word, or in quotes.
func HeardWord(h *Hearing, at int) []Held {
	if at < len(h.tokens) && h.tokens[at].kind == wordToken {
		return []Held{{1, quotedText(h.tokens[at].text)}}
	}
	return HeardText(h, at)
}

// HeardValue is a slot for a value: a text in quotes, a number, or words.
func HeardValue(h *Hearing, at int) (list []Held) {
	if list = append(HeardText(h, at), HeardNumber(h, at)...); list != nil {
		return list
	}
	for n := longestName; n > 0; n-- {
		if name, ok := h.joined(at, n); ok && !strings.ContainsFunc(name, func(r rune) bool { return strings.ContainsRune(",.;=<>", r) }) {
			list = append(list, Held{n, quotedText(name)})
		}
	}
	return list
}

// HeardLevel is a slot for a value of a column of groups: it is written as the condition that takes its rows.
func HeardLevel(h *Hearing, at int) (list []Held) {
	if h.Table == nil {
		return nil
	}
	for _, value := range HeardValue(h, at) {
		level := strings.Trim(strings.ReplaceAll(value.Text, "''", "'"), "'")
		for _, condition := range h.conditions()[strings.ToLower(level)] {
			list = append(list, Held{value.Tokens, condition})
		}
	}
	return list
}

// HeardRest is a slot for what stands up to the end of its line or sentence.
func HeardRest(h *Hearing, at int) []Held {
	end := h.sentenceEnd(at)
	if end == at {
		return nil
	}
	text := strings.TrimFunc(string(h.runes[h.tokens[at].from:h.tokens[end-1].to]), unicode.IsSpace)
	return []Held{{end - at, text}}
}

// sentenceEnd is the token at which the sentence or the line of a token ends.
func (h *Hearing) sentenceEnd(at int) int {
	for at < len(h.tokens) && h.tokens[at].kind != endToken &&
		!(h.tokens[at].kind == markToken && strings.Contains(".;", h.tokens[at].text)) {
		at++
	}
	return at
}

// HeardUntil is a slot for an expression, up to a sign or one of some words behind it, that a check finds right; say writes it.
func HeardUntil(words []string, say func(h *Hearing, from, to int) string, wrong func(h *Hearing, text string) bool) Slot {
	return func(h *Hearing, at int) []Held {
		tried := 0
		for end := h.sentenceEnd(at); end > at && tried < mostTried; end-- {
			if t := h.tokens[end]; t.kind == wordToken && !slices.Contains(words, strings.ToLower(t.text)) ||
				t.kind != wordToken && t.kind != endToken && !(t.kind == markToken && strings.Contains(",.;", t.text)) {
				continue
			}
			tried++
			if text := say(h, at, end); !wrong(h, text) {
				return []Held{{end - at, text}}
			}
		}
		return nil
	}
}

// mostTried is at how many places an expression may end.
const mostTried = 30

// AsTyped is what some tokens are as they were typed.
func AsTyped(h *Hearing, from, to int) string {
	return string(h.runes[h.tokens[from].from:h.tokens[to-1].to])
}

// AsCondition writes a condition that is spoken as it is typed: comparisons in words, columns by their readable names, texts
// without quotes.
func AsCondition(comparisons map[string]string, truths []string) func(h *Hearing, from, to int) string {
	return func(h *Hearing, from, to int) string {
		var out []string
		compared := false
		for at := from; at < to; {
			n, text, is := h.condition(at, to, compared, comparisons, truths)
			compared = is
			if len(out) > 0 && h.tokens[at].from == h.tokens[at-1].to && h.tokens[at-1].kind != textToken {
				out[len(out)-1] += text
			} else {
				out = append(out, text)
			}
			at += n
		}
		return strings.Join(out, " ")
	}
}

// condition writes what stands at a token of a condition: how many tokens it takes, and whether a value is expected behind it.
func (h *Hearing) condition(at, to int, compared bool, comparisons map[string]string, truths []string) (n int, text string, is bool) {
	for n := min(longestComparison, to-at); n > 0; n-- {
		said, ok := h.joined(at, n)
		sign := comparisons[strings.ToLower(said)]
		if !ok || sign == "" {
			continue
		}
		if at+n < to && h.tokens[at+n].kind == wordToken && slices.Contains(truths, strings.ToLower(h.tokens[at+n].text)) &&
			strings.EqualFold(h.tokens[at].text, "is") {
			break // is null, is not true
		}
		return n, sign, true
	}
	t := h.tokens[at]
	switch t.kind {
	case textToken:
		return 1, quotedText(t.text), false
	case nameToken:
		return 1, quotedName(t.text), false
	case numberToken:
		return 1, t.text, false
	case markToken:
		return 1, t.text, strings.Contains("=<>≤≥≠!", t.text)
	}
	for n := min(longestName, to-at); n > 0; n-- {
		said, ok := h.joined(at, n)
		if name := h.columns()[strings.ToLower(said)]; ok && name != "" {
			return n, PlainName(name), false
		}
		if ok && compared && len(h.conditions()[strings.ToLower(said)]) > 0 {
			return n, quotedText(said), false
		}
	}
	if compared && t.kind == wordToken && plainWord(t.text) && !logical[strings.ToLower(t.text)] && h.tokens[at+1].text != "(" {
		return 1, quotedText(t.text), false
	}
	return 1, string(h.runes[t.from:t.to]), false
}

// longestComparison is of how many words a comparison is at most.
const longestComparison = 3

// OneOfWords is a slot for one of several words or phrases, each with how the grammar writes it.
func OneOfWords(list map[string]string) Slot {
	return func(h *Hearing, at int) (held []Held) {
		for n := longestName; n > 0; n-- {
			if name, ok := h.joined(at, n); ok {
				if text, is := list[strings.ToLower(name)]; is {
					held = append(held, Held{n, text})
				}
			}
		}
		return held
	}
}

// Several is a slot for several of what another holds, with commas and "and" between them.
func Several(one Slot, joint string) Slot {
	return func(h *Hearing, at int) (list []Held) {
		so, tokens := "", 0
		for range mostSeveral {
			held := one(h, at+tokens)
			if len(held) == 0 {
				return list
			}
			if so != "" {
				so += joint
			}
			so, tokens = so+held[0].Text, tokens+held[0].Tokens
			list = append([]Held{{tokens, so}}, list...)
			n, _ := h.joint(at + tokens)
			if n == 0 {
				return list
			}
			tokens += n
		}
		return list
	}
}

// Enumerated is a slot for as many of what another holds as there are, of which the one behind "and" is the last.
func Enumerated(one Slot, joint string) Slot {
	return func(h *Hearing, at int) []Held {
		var said []string
		tokens, last := 0, false
		for next := at; ; {
			held := one(h, next)
			if len(held) == 0 {
				break
			}
			said = append(said, held[0].Text)
			next += held[0].Tokens
			tokens = next - at
			n, and := h.joint(next)
			if last || n == 0 {
				break
			}
			next, last = next+n, and
		}
		if said == nil {
			return nil
		}
		return []Held{{tokens, strings.Join(said, joint)}}
	}
}

// joint is how many tokens stand between two things of a list: a comma, "and", or both.
func (h *Hearing) joint(at int) (tokens int, and bool) {
	if at < len(h.tokens) && h.tokens[at].kind == markToken && h.tokens[at].text == "," {
		tokens++
	}
	if next := at + tokens; next < len(h.tokens) && h.tokens[next].kind == wordToken && strings.EqualFold(h.tokens[next].text, "and") {
		return tokens + 1, true
	}
	return tokens, false
}

// mostSeveral is how many of a kind stand in one list.
const mostSeveral = 24
