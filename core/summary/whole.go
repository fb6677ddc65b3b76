package summary

import (
	"sync"

	"copperlark/core/table"
)

// Whole is what is known of all rows of a table of which a sample is at hand. Who needs a number of all rows asks: it
// gets what was answered before, or nothing, and then the question stands among those that are open.
type Whole struct {
	Raw    *table.Table              // the sample as it was drawn, whose texts are those of the whole table
	Known  func(q *Question) *Answer // what was answered before; nil: nothing
	Within string                    // as of a Question
	With   map[string]string
	Bars   string // why nothing can be asked; empty: something can

	mutex     sync.Mutex
	asked     []Asked
	places    map[string]int // of questions among these, by their names
	spellings map[*int32]*Spelling
}

// Asked is a question with what is known of it.
type Asked struct {
	Question *Question
	Words    string  // what it asks, for people: sums for each of the 5 groups of district
	Answer   *Answer // nil: open
}

// Ask gives what is known.
func (w *Whole) Ask(words string, q *Question) *Answer {
	w.mutex.Lock()
	defer w.mutex.Unlock()
	name := q.Name()
	if place, is := w.places[name]; is {
		return w.asked[place].Answer
	}
	one := Asked{Question: q, Words: words}
	if w.Known != nil {
		one.Answer = w.Known(q)
	}
	if w.places == nil {
		w.places = map[string]int{}
	}
	w.places[name] = len(w.asked)
	w.asked = append(w.asked, one)
	return one.Answer
}

// Asked are the questions that were asked, in their order.
func (w *Whole) Asked() []Asked {
	w.mutex.Lock()
	defer w.mutex.Unlock()
	return append([]Asked(nil), w.asked...)
}

// Reads reports whether a column that has the rows of the sample stands here as it stands there: its numbers, or the texts
// of its groups.
func (w *Whole) Reads(c *table.Column) bool {
	if c.Kind.Coded() {
		return w.Spelling(c).Bars == ""
	}
	raw := w.Raw.Column(c.Name)
	return raw != nil && raw.Kind == c.Kind && len(raw.Numbers) == len(c.Numbers) &&
		(len(c.Numbers) == 0 || &raw.Numbers[0] == &c.Numbers[0])
}

// Spelling says which code of a column, read as groups, a text of the whole table has.
type Spelling struct {
	codes   map[string]int32
	Renamed bool   // a text is called otherwise there than here
	Bars    string // why nobody can say; empty: it can be said
}

// Code is the code of a text; false where no row of the sample has it.
func (s *Spelling) Code(text string) (code int32, known bool) {
	code, known = s.codes[text]
	return code, known
}

// Spelling reads how the texts of the whole table are called in a column that has the rows of the sample, under other
// names or in another order perhaps: it is found once for the codes of the column, whose order is the axis's own.
func (w *Whole) Spelling(groups *table.Column) *Spelling {
	w.mutex.Lock()
	defer w.mutex.Unlock()
	if len(groups.Codes) == 0 {
		return w.spelling(groups)
	}
	codes := &groups.Codes[0]
	if w.spellings == nil {
		w.spellings = map[*int32]*Spelling{}
	}
	if w.spellings[codes] == nil {
		w.spellings[codes] = w.spelling(groups)
	}
	return w.spellings[codes]
}

func (w *Whole) spelling(groups *table.Column) *Spelling {
	s := &Spelling{codes: map[string]int32{}}
	raw := w.Raw.Column(groups.Name)
	if raw == nil || raw.Len() != groups.Len() {
		return &Spelling{Bars: groups.Name + " is no column of the whole table"}
	}
	text := func(row int) string { return raw.Value(row) }
	seen := make([]bool, len(raw.Levels))
	for row, code := range groups.Codes {
		if raw.Kind.Coded() && raw.Codes[row] >= 0 {
			if seen[raw.Codes[row]] {
				continue
			}
			seen[raw.Codes[row]] = true
		}
		if raw.Missing(row) != (code < 0) {
			return &Spelling{Bars: groups.Name + " is read otherwise here than it stands there"}
		}
		if code < 0 {
			continue
		}
		name := text(row)
		if before, known := s.codes[name]; known && before != code {
			return &Spelling{Bars: groups.Name + " is read otherwise here than it stands there"}
		}
		s.codes[name] = code
		s.Renamed = s.Renamed || int(code) < len(groups.Levels) && groups.Levels[code] != name
	}
	return s
}
