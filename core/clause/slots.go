package clause

import (
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
					h.values[value] = append(h.values[value], plainName(c.Name)+" = "+quotedText(is))
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

// plainName is a column's name in an expression.
func plainName(name string) string { return (&writer{}).columnName(name) }

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
		h.tokens[at+n+1].kind == numberToken && len(h.tokens[at+n+1].text) >= 3 && h.tokens[at+n+1].from == h.tokens[at+n].to {
		text += h.tokens[at+n+1].text
		n += 2
	}
	return []Held{{n, text}}
}

// HeardShare is a slot for a number in percent, which is written as a share of one.
func HeardShare(h *Hearing, at int) []Held {
	list := HeardNumber(h, at)
	for i := range list {
		if v, err := strconv.ParseFloat(list[i].Text, 64); err == nil {
			list[i].Text = table.FormatNumber(v / 100)
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

// HeardText is a slot for a text in quotes, straight or curled.
func HeardText(h *Hearing, at int) []Held {
	if at >= len(h.tokens) || h.tokens[at].kind != textToken && h.tokens[at].kind != nameToken {
		return nil
	}
	return []Held{{1, quotedText(h.tokens[at].text)}}
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
	end := at
	for end < len(h.tokens) && h.tokens[end].kind != endToken && !(h.tokens[end].kind == markToken && strings.Contains(".;", h.tokens[end].text)) {
		end++
	}
	if end == at {
		return nil
	}
	text := strings.TrimFunc(string(h.runes[h.tokens[at].from:h.tokens[end-1].to]), unicode.IsSpace)
	return []Held{{end - at, text}}
}

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
			next := at + tokens
			if next < len(h.tokens) && (h.tokens[next].text == "," || strings.EqualFold(h.tokens[next].text, "and")) {
				tokens++
				if next+1 < len(h.tokens) && h.tokens[next].text == "," && strings.EqualFold(h.tokens[next+1].text, "and") {
					tokens++
				}
				continue
			}
			return list
		}
		return list
	}
}

// mostSeveral is how many of a kind stand in one list.
const mostSeveral = 40
