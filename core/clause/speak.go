package clause

import (
	"regexp"
	"strings"
	"unicode"
	"unicode/utf8"

	"copperlark/core/page"

	"copperlark/core/table"
)

// Part is a stretch of the spoken form. A part with a Slot is a word that can be pressed:
// Role tells a column from a way (scale, fit, level).
type Part struct {
	Text   string `json:"text" doc:"what is said, whole: typed, all parts together give the same again"`
	Folded string `json:"folded,omitempty" doc:"what stands in its place where the text is long"`
	Slot   string `json:"slot,omitempty" doc:"what pressing opens: y, x, scale-x, colour, size, fit-kind:0, fit-for:0 …"`
	Role   string `json:"role,omitempty" enum:"column,way" doc:"whether the word is a column or a way"`
	Clause string `json:"clause,omitempty" doc:"the clause that says it, by its name"`
}

// Voice is what things are called inside a sentence.
type Voice struct {
	Readable func(column string) string
	Taken    func(word string) bool // whether a word names a column, so that a text that is the same stands in quotes; nil: none does
}

// VoiceOf calls the columns of a table by their readable names, so that each can be told from what is said about it: what could
// mean another column or is made of words of the language stands in double quotes, as it is stored. No table: names as they are.
func VoiceOf(t *table.Table) Voice {
	if t == nil {
		return Voice{Readable: func(name string) string { return table.Prose(table.Readable(name)) }}
	}
	h := &Hearing{Table: t}
	return Voice{
		Readable: func(name string) string {
			c := t.Column(name)
			if c == nil { // another table's, or a column that is no longer there
				return quotedName(name)
			}
			if prose := c.Prose(); h.columns()[strings.ToLower(prose)] == name && sayable(prose) {
				return prose
			}
			return quotedName(name)
		},
		Taken: func(word string) bool { _, is := h.columns()[strings.ToLower(word)]; return is },
	}
}

// joints are words that join what is said: a name that holds one between others stands in quotes.
var joints = wordSet("and or not is as against vs versus over on by per for each with without where when from to at of in the a an " +
	"paired taken following headed shows show ordered coloured sized shaped log linear plot fit label draw between null true false")

// alone are joints that can stand inside a name.
var alone = wordSet("of in per from to at the a an log each show shows")

// logical are words of conditions: a value that is one of them stands in quotes.
var logical = wordSet("and or not is in between like null true false unknown distinct at over under above below more less equals case " +
	"when then else end plot where")

func wordSet(list string) map[string]bool {
	set := map[string]bool{}
	for _, word := range strings.Fields(list) {
		set[word] = true
	}
	return set
}

// sayable reports whether a name is a few plain words that cannot be taken for what joins them.
func sayable(name string) bool {
	list := strings.Split(name, " ")
	if len(list) > longestName {
		return false
	}
	for i, word := range list {
		small := strings.ToLower(word)
		if !plainWord(word) && !(i > 0 && strings.Trim(word, "0123456789") == "" && word != "") {
			return false
		}
		if joints[small] && (len(list) == 1 || i == 0 || !alone[small]) {
			return false
		}
	}
	return true
}

// plainWord reports whether the lexer takes a text for one word.
func plainWord(text string) bool {
	for i, r := range text {
		if !startsWord(r) && (i == 0 || !unicode.IsDigit(r) && !unicode.Is(unicode.Mn, r)) {
			return false
		}
	}
	return text != ""
}

// Speech gathers the spoken form: prose with words that can be pressed.
type Speech struct {
	Voice

	parts []Part
	open  bool // a sentence has begun
}

// Sentence begins a sentence; the one before ends.
func (s *Speech) Sentence(text string) {
	if s.open {
		s.Say(". ")
	}
	s.open = true
	if text != "" {
		s.Say(text)
	}
}

// Say adds words that cannot be pressed.
func (s *Speech) Say(text string) {
	if n := len(s.parts); n > 0 && s.parts[n-1].Slot == "" {
		s.parts[n-1].Text += text
		return
	}
	s.parts = append(s.parts, Part{Text: text})
}

// longestSaid is how many letters of one thing stand in a sentence, unless it is unfolded.
const longestSaid = 140

// Way adds a word that says how; a long one is folded, and so is one that holds words which are tied to a reading.
func (s *Speech) Way(text, slot string) {
	plain := page.Words(text)
	folded := ""
	if utf8.RuneCountInString(plain) > longestSaid {
		folded = strings.TrimRightFunc(string([]rune(plain)[:longestSaid*3/4]), unicode.IsSpace) + " …"
	} else if plain != text {
		folded = plain
	}
	s.Fold(text, folded, slot)
}

// Fold adds words that say how, with what stands in their place; empty: they stand there themselves.
func (s *Speech) Fold(text, folded, slot string) {
	s.parts = append(s.parts, Part{Text: text, Folded: folded, Slot: slot, Role: "way"})
}

// Words adds words about columns.
func (s *Speech) Words(text, slot string) {
	s.parts = append(s.parts, Part{Text: text, Slot: slot, Role: "column"})
}

// Column adds the name of a column, or a gap where it is to be said yet.
func (s *Speech) Column(name, slot string) {
	text := "…"
	if name != "" {
		text = s.Readable(name)
	}
	s.Words(text, slot)
}

// aDate is a date that needs no quotes.
var aDate = regexp.MustCompile(`^[0-9]{4}-[0-9]{2}-[0-9]{2}( [0-9]{2}:[0-9]{2}(:[0-9]{2})?)?$`)

// Value is a value inside a condition: in quotes, unless it is a plain word or a date.
func (s *Speech) Value(text string) string {
	if aDate.MatchString(text) || plainWord(text) && !logical[strings.ToLower(text)] && (s.Taken == nil || !s.Taken(text)) {
		return text
	}
	return Quoted(text)
}

// Quoted is a text as it stands in a sentence: in curled quotes, of which the closing one is doubled inside.
func Quoted(text string) string { return "“" + strings.ReplaceAll(text, "”", "””") + "”" }

// Colour is a colour as it stands in a sentence.
func Colour(text string) string {
	if l := (&lexer{runes: []rune(text)}); strings.HasPrefix(text, "#") && l.hex() == utf8.RuneCountInString(text)-1 {
		return text
	}
	return Quoted(text)
}

// Speak gives the spoken form of a D, clause by clause. What has no words of its own is spoken as it is typed.
func (g *Grammar[D]) Speak(d *D, voice Voice) []Part {
	s := &Speech{Voice: voice}
	for i := range g.Clauses {
		c, from := &g.Clauses[i], len(s.parts)
		switch {
		case c.Speak != nil:
			c.Speak(d, s)
		case c.Aloud.Slot != "":
			g.aloud(c, d, s)
		}
		for j := from; j < len(s.parts); j++ {
			s.parts[j].Clause = c.Name
		}
	}
	if s.open {
		s.Say(".")
	}
	return s.parts
}

// Aloud is how a clause is spoken as it is typed: what stands before it, and what pressing opens.
type Aloud struct{ Before, Slot string }

func (g *Grammar[D]) aloud(c *Clause[D], d *D, s *Speech) {
	w := &writer{reserved: g.reserved, aloud: true}
	c.lines(w, d)
	text := strings.TrimSuffix(w.text.String(), "\n")
	if text == "" {
		return
	}
	s.Sentence(c.Aloud.Before)
	if c.Aloud.Before == "" {
		first, size := utf8.DecodeRuneInString(text)
		text = string(unicode.ToUpper(first)) + text[size:]
	}
	s.Way(text, c.Aloud.Slot)
}

// Changed says in a few words each what of one D became otherwise in another. A clause
// without words of its own is called by its name.
func (g *Grammar[D]) Changed(before, after *D, readable func(column string) string) []string {
	said := []string{}
	for i := range g.Clauses {
		c := &g.Clauses[i]
		if g.lines(c, before) == g.lines(c, after) {
			continue
		}
		if c.Changed == nil {
			said = append(said, c.Name)
			continue
		}
		said = append(said, c.Changed(before, after, readable)...)
	}
	return said
}

// Difference is what makes one D of another: Amended(before, Difference(before, after)) says what after says.
func (g *Grammar[D]) Difference(before, after *D) (change Change) {
	for i := range g.Clauses {
		c := &g.Clauses[i]
		was, is := g.lines(c, before), g.lines(c, after)
		if was == is {
			continue
		}
		if was != "" {
			change.Drop = append(change.Drop, c.Name)
		}
		if is != "" {
			change.Say = append(change.Say, strings.Split(strings.TrimSuffix(is, "\n"), "\n")...)
		}
	}
	return change
}

// Differing are the names of the clauses that two Ds say otherwise.
func (g *Grammar[D]) Differing(a, b *D) (names []string) {
	for i := range g.Clauses {
		if c := &g.Clauses[i]; g.lines(c, a) != g.lines(c, b) {
			names = append(names, c.Name)
		}
	}
	return names
}

// lines writes all lines of one clause.
func (g *Grammar[D]) lines(c *Clause[D], d *D) string {
	w := &writer{reserved: g.reserved}
	c.lines(w, d)
	return w.text.String()
}
