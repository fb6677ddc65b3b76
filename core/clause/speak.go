package clause

// Part is a stretch of the spoken form. A part with a Slot is a word that can be pressed:
// Role tells a column from a way (scale, fit, level).
type Part struct {
	Text string `json:"text"`
	Slot string `json:"slot,omitempty" doc:"what pressing opens: y, x, scale-x, scale-y, colour, size, shape, opacity, fit-kind:0, fit-for:0, fit-band:0 …"`
	Role string `json:"role,omitempty" enum:"column,way" doc:"whether the word is a column or a way"`
}

// Speech gathers the spoken form: prose with words that can be pressed.
type Speech struct {
	// Readable is what a column is called inside a sentence.
	Readable func(column string) string

	parts []Part
	open  bool // a sentence has begun
}

// Sentence begins a sentence; the one before ends.
func (s *Speech) Sentence(text string) {
	if s.open {
		s.Say(". ")
	}
	s.open = true
	s.Say(text)
}

// Say adds words that cannot be pressed.
func (s *Speech) Say(text string) {
	if n := len(s.parts); n > 0 && s.parts[n-1].Slot == "" {
		s.parts[n-1].Text += text
		return
	}
	s.parts = append(s.parts, Part{Text: text})
}

// Way adds a word that says how.
func (s *Speech) Way(text, slot string) {
	s.parts = append(s.parts, Part{Text: text, Slot: slot, Role: "way"})
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

// Speak gives the spoken form of a D, clause by clause.
func (g *Grammar[D]) Speak(d *D, readable func(column string) string) []Part {
	s := &Speech{Readable: readable}
	for i := range g.Clauses {
		if speak := g.Clauses[i].Speak; speak != nil {
			speak(d, s)
		}
	}
	if s.open {
		s.Say(".")
	}
	return s.parts
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

// lines writes all lines of one clause.
func (g *Grammar[D]) lines(c *Clause[D], d *D) string {
	w := &writer{reserved: g.reserved}
	c.lines(w, d)
	return w.text.String()
}
