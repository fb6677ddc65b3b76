package clause

import (
	"strings"
)

// Print writes what a D says, one clause a line, in the order of the list.
func (g *Grammar[D]) Print(d *D) string {
	w := &writer{reserved: g.reserved}
	for i := range g.Clauses {
		g.Clauses[i].lines(w, d)
	}
	return w.text.String()
}

// PrintRenamed is Print with columns called otherwise; renamed does the same with an
// expression.
func (g *Grammar[D]) PrintRenamed(d *D, names map[string]string, renamed func(expression string, names map[string]string) string) string {
	w := &writer{reserved: g.reserved, names: names, renamed: renamed}
	for i := range g.Clauses {
		g.Clauses[i].lines(w, d)
	}
	return w.text.String()
}

func (c *Clause[D]) lines(w *writer, d *D) {
	if c.Items == nil {
		if c.Said(d) {
			c.line(w, d)
		}
		return
	}
	for _, item := range c.Items(d) {
		c.line(w, item)
	}
}

func (c *Clause[D]) line(w *writer, about any) {
	w.text.WriteString(c.Name)
	w.tight = false
	for _, piece := range c.Pieces {
		piece.print(w, about)
	}
	w.text.WriteByte('\n')
}

type writer struct {
	text     strings.Builder
	reserved map[string]bool
	aloud    bool // texts stand in curled quotes, as they are spoken
	tight    bool // what is written next stands right behind what was written last

	names   map[string]string // what columns are called instead; nil: as they are
	renamed func(expression string, names map[string]string) string
}

func (w *writer) add(words string) {
	if !w.tight {
		w.text.WriteByte(' ')
	}
	w.tight = false
	w.text.WriteString(words)
}

// quoted writes a text.
func (w *writer) quoted(text string) string {
	if w.aloud {
		return Quoted(text)
	}
	return quotedText(text)
}

func quotedText(text string) string { return "'" + strings.ReplaceAll(text, "'", "''") + "'" }

// column writes the column that is said.
func (w *writer) column(name string) string {
	if other, said := w.names[name]; said {
		name = other
	}
	return w.columnName(name)
}

// columnName writes a column's name as the grammar reads it back.
func (w *writer) columnName(name string) string {
	if plainWord(name) && !w.reserved[strings.ToLower(name)] {
		return name
	}
	return quotedName(name)
}

// ColumnText writes a column's name as the grammar reads it.
func (g *Grammar[D]) ColumnText(name string) string {
	return (&writer{reserved: g.reserved}).columnName(name)
}
