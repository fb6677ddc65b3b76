package clause

import (
	"fmt"
	"slices"
	"strings"

	"copperlark/core/table"
	"copperlark/core/words"
)

// Wording is a way in which people say something, and what it is in the words of a grammar.
//
// Hear is a pattern: words, of which one of several may stand (fit|draw), parts that may be left out in square brackets, and
// slots in braces with what they hold ({y:stat}). Say is lines of the grammar in which slots stand as {y}; lines end in ";". A line
// of a slot that was left out is not said, nor is what stands in square brackets with such a slot.
type Wording struct{ Hear, Say string }

// Slot finds what a slot can hold from a token on: how many tokens it takes, and how the grammar writes it, the longest first.
type Slot func(h *Hearing, at int) []Held

// Held is what a slot holds.
type Held struct {
	Tokens int
	Text   string
}

// Listener understands free wordings by a list of phrases.
type Listener struct {
	phrases []compiled
	slots   map[string]Slot
	filler  map[string]bool
}

type compiled struct {
	pattern []node
	say     string
}

// node is a part of a pattern: words of which one stands there, a slot, or a part that may be left out.
type node struct {
	words      []string
	slot, name string
	optional   []node
}

// NewListener compiles phrases. Filler are words between phrases that say nothing.
func NewListener(phrases []Wording, slots map[string]Slot, filler string) *Listener {
	l := &Listener{slots: slots, filler: map[string]bool{}}
	for _, word := range strings.Fields(filler) {
		l.filler[word] = true
	}
	for _, p := range phrases {
		items := strings.Fields(strings.NewReplacer("[", " [ ", "]", " ] ").Replace(p.Hear))
		pattern, rest := l.compile(items)
		if len(rest) > 0 {
			panic("clause: brackets of " + p.Hear)
		}
		l.phrases = append(l.phrases, compiled{pattern, p.Say})
	}
	return l
}

func (l *Listener) compile(items []string) (pattern []node, rest []string) {
	for len(items) > 0 {
		item := items[0]
		items = items[1:]
		switch {
		case item == "]":
			return pattern, items
		case item == "[":
			var inner []node
			inner, items = l.compile(items)
			pattern = append(pattern, node{optional: inner})
		case strings.HasPrefix(item, "{"):
			name, slot, _ := strings.Cut(strings.Trim(item, "{}"), ":")
			if l.slots[slot] == nil {
				panic("clause: no slot is called " + slot)
			}
			pattern = append(pattern, node{name: name, slot: slot})
		default:
			pattern = append(pattern, node{words: strings.Split(item, "|")})
		}
	}
	return pattern, nil
}

// Hearing is a text while it is understood.
type Hearing struct {
	Table    *table.Table // nil: any single word can be a column
	runes    []rune
	tokens   []token
	furthest int // the token up to which something was understood, and a column was expected there
	column   bool
	along    map[string]string // the columns along the axes, by axis
	names    map[string]string
	values   map[string][]string
	held     map[heldAt][]Held // what was asked of slots
	steps    int
}

type heldAt struct {
	slot string
	at   int
}

// Hear writes a text in the words of the grammar, a clause a line; what nothing could be made of is a mistake with its place.
// Written tells how many tokens a clause of the grammar takes from a token on: clauses stand between free wordings, too. A text
// of more tokens than can be meant is not understood.
func (l *Listener) Hear(typed string, columns *table.Table, written func(h *Hearing, at int) int) (string, *Error) {
	lines, err := lex(typed)
	if err != nil {
		return "", err
	}
	if strings.ContainsAny(typed, axisOf+ColumnAlong) {
		return "", &Error{Line: 1, Column: 1, Length: 1, Message: "there is a control character in this", Advice: "take it out"}
	}
	h := &Hearing{Table: columns, runes: []rune(typed), along: map[string]string{}, held: map[heldAt][]Held{}}
	for _, line := range lines {
		h.tokens = append(append(h.tokens, line...), token{kind: endToken, line: line[len(line)-1].line, column: 1, length: 1})
	}
	if len(h.tokens) > mostHeard {
		return "", tooLong()
	}
	var out []string
	for at := 0; at < len(h.tokens) && h.steps <= mostSteps; {
		end, said := l.longest(h, at)
		if n := written(h, at); n > 0 && at+n > end {
			end, said = at+n, []string{AsTyped(h, at, at+n)}
		} else if end > at && !l.says(h.tokens[at]) { // show x from 1 to 2: the clause begins behind a word that says nothing
			if n := written(h, at+1); n > 0 && at+1+n > end {
				end, said = at+1+n, []string{AsTyped(h, at+1, at+1+n)}
			}
		}
		if end > at {
			out = append(out, said...)
			at = end
			continue
		}
		if l.says(h.tokens[at]) && h.steps <= mostSteps {
			return "", h.mistake(at)
		}
		at++
	}
	if h.steps > mostSteps {
		return "", tooLong()
	}
	text := strings.Join(out, "\n")
	for axis, column := range h.along {
		text = strings.ReplaceAll(text, axisOf+column+axisOf, axis)
		text = strings.ReplaceAll(text, ColumnAlong+axis, column)
	}
	if strings.Contains(text, ColumnAlong) {
		return "", &Error{Line: 1, Column: 1, Length: len(h.runes), From: len(h.runes), Message: "nothing stands along the axis",
			Advice: "plot something first"}
	}
	if _, after, left := strings.Cut(text, axisOf); left {
		column, _, _ := strings.Cut(after, axisOf)
		return "", &Error{Line: 1, Column: 1, Length: len(h.runes), From: len(h.runes),
			Message: column + " stands along no axis", Advice: "say x or y, or plot it"}
	}
	return text, nil
}

// says reports whether a token between phrases says something: ends of lines, signs between sentences and filler do not.
func (l *Listener) says(t token) bool {
	switch t.kind {
	case endToken:
		return false
	case markToken:
		return !strings.Contains(",.;:", t.text)
	}
	return t.kind != wordToken || !l.filler[strings.ToLower(t.text)]
}

// mostHeard is how many words a free wording has at most.
const mostHeard = 5_000

// mostSteps is in how many steps at most a free wording is understood: a paragraph takes some ten thousand.
const mostSteps = 500_000

func tooLong() *Error {
	return &Error{Line: 1, Column: 1, Length: 1, Message: "this is too long to be a sentence", Advice: "say one clause a line"}
}

// mistake is what nothing could be made of.
func (h *Hearing) mistake(at int) *Error {
	t := h.tokens[at]
	if h.furthest > at && h.furthest < len(h.tokens) && h.tokens[h.furthest].kind != endToken {
		t = h.tokens[h.furthest]
		if h.column && h.Table != nil && (t.kind == wordToken || t.kind == nameToken) {
			message, advice := words.UnknownColumn(t.text, h.Table.Names())
			return &Error{Line: t.line, Column: t.column, Length: t.length, From: t.from, Message: message, Advice: advice}
		}
	}
	return &Error{Line: t.line, Column: t.column, Length: t.length, From: t.from,
		Message: fmt.Sprintf("nothing can be made of %s here", shown(t)),
		Advice:  "say one clause a line; what can be said is proposed as you type"}
}

// longest finds the phrase that understands most from a token on.
func (l *Listener) longest(h *Hearing, at int) (end int, said []string) {
	for _, p := range l.phrases {
		to, found := l.match(h, p.pattern, nil, at, nil)
		if to <= end {
			continue
		}
		end, said = to, nil
		held := found.byName()
		if strings.HasPrefix(p.say, "plot") {
			for _, axis := range []string{"x", "y"} {
				if column, is := held[axis]; is {
					h.along[axis] = column
				}
			}
		}
		for _, line := range strings.Split(p.say, ";") {
			if text, whole := filled(line, held); whole {
				said = append(said, text)
			}
		}
	}
	return end, said
}

// filled puts what slots hold into a line; a line of a slot that was left out is not whole. What stands in square brackets is
// left out where a slot in it is.
func filled(line string, held map[string]string) (text string, whole bool) {
	var out strings.Builder
	for line != "" {
		before, after, more := strings.Cut(line, "[")
		if !put(&out, before, held) {
			return "", false
		}
		if !more {
			break
		}
		inside, rest, _ := strings.Cut(after, "]")
		var part strings.Builder
		if put(&part, inside, held) {
			out.WriteString(part.String())
		}
		line = rest
	}
	return strings.TrimSpace(out.String()), true
}

// put writes a text with what its slots hold, unless one was left out.
func put(out *strings.Builder, text string, held map[string]string) bool {
	for text != "" {
		before, after, more := strings.Cut(text, "{")
		out.WriteString(before)
		if !more {
			break
		}
		name, rest, _ := strings.Cut(after, "}")
		value, is := held[name]
		if !is {
			return false
		}
		out.WriteString(value)
		text = rest
	}
	return true
}

// bound is what slots hold on one way through a pattern: the last first, so that ways share what they have in common.
type bound struct {
	name, text string
	before     *bound
}

// byName lists what slots hold; of one name the last counts.
func (b *bound) byName() map[string]string {
	list := map[string]string{}
	for ; b != nil; b = b.before {
		if _, later := list[b.name]; !later {
			list[b.name] = b.text
		}
	}
	return list
}

// chain is what of a pattern stands behind another part of it.
type chain struct {
	pattern []node
	then    *chain
}

// match gives the token behind a pattern that stands at a token, or -1, and what its slots hold. Of several ways the longest
// counts; ways are many where parts may be left out, so that a text is looked at in so many steps and no more.
func (l *Listener) match(h *Hearing, pattern []node, then *chain, at int, held *bound) (int, *bound) {
	for len(pattern) == 0 {
		if then == nil {
			return at, held
		}
		pattern, then = then.pattern, then.then
	}
	if h.steps++; h.steps > mostSteps {
		return -1, nil
	}
	first, rest := pattern[0], pattern[1:]
	switch {
	case first.optional != nil:
		to, with := -1, held
		if l.begins(h, first.optional, at) {
			to, with = l.match(h, first.optional, &chain{rest, then}, at, held)
		}
		if other, without := l.match(h, rest, then, at, held); other > to {
			return other, without
		}
		return to, with
	case first.slot != "":
		best, found := -1, held
		for _, one := range l.holds(h, first.slot, at) {
			if to, with := l.match(h, rest, then, at+one.Tokens, &bound{first.name, one.Text, held}); to > best {
				best, found = to, with
			}
		}
		if best < 0 && at >= h.furthest {
			h.column = strings.HasPrefix(first.slot, "column") || h.column && at == h.furthest
			h.furthest = at
		}
		return best, found
	}
	if h.stands(first.words, at) {
		return l.match(h, rest, then, at+1, held)
	}
	return -1, nil
}

// begins tells whether a part that may be left out can stand at a token by its first word.
func (l *Listener) begins(h *Hearing, part []node, at int) bool {
	return len(part) == 0 || part[0].words == nil || h.stands(part[0].words, at)
}

// stands tells whether one of some words, or of some marks, is at a token.
func (h *Hearing) stands(list []string, at int) bool {
	if at >= len(h.tokens) {
		return false
	}
	switch t := h.tokens[at]; t.kind {
	case wordToken:
		return slices.ContainsFunc(list, func(w string) bool { return strings.EqualFold(w, t.text) })
	case markToken:
		return slices.Contains(list, t.text)
	}
	return false
}

// holds asks a slot once what it can hold at a token.
func (l *Listener) holds(h *Hearing, slot string, at int) []Held {
	key := heldAt{slot, at}
	list, asked := h.held[key]
	if !asked {
		list = l.slots[slot](h, at)
		h.held[key] = list
	}
	return list
}

// Opening is how a wording begins, up to what it holds, and what it is in clauses.
type Opening struct{ Text, Is string }

// Opening is how a wording begins: its words in their first ways, and nothing that may be left out. A wording that begins with
// what it holds has none, and its text is empty.
func (w Wording) Opening() Opening {
	var rest []string
	depth, open := 0, false
	for _, token := range strings.Fields(w.Hear) {
		depth += strings.Count(token, "[")
		if depth == 0 {
			if open = strings.HasPrefix(token, "{"); open {
				break
			}
			rest = append(rest, token)
		}
		depth -= strings.Count(token, "]")
	}
	for i, word := range rest {
		rest[i], _, _ = strings.Cut(word, "|")
	}
	text := strings.Join(rest, " ")
	if open && text != "" {
		text += " "
	}
	return Opening{text, w.Say}
}
