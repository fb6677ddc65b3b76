package clause

import (
	"strings"
	"unicode"
)

// Print writes what a D says, one clause a line, in the order of the list.
func (g *Grammar[D]) Print(d *D) string {
	w := &writer{reserved: g.reserved}
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
	tight    bool // what is written next stands right behind what was written last
}

func (w *writer) add(words string) {
	if !w.tight {
		w.text.WriteByte(' ')
	}
	w.tight = false
	w.text.WriteString(words)
}

func quotedText(text string) string { return "'" + strings.ReplaceAll(text, "'", "''") + "'" }

// columnName writes a column's name as the grammar reads it back.
func (w *writer) columnName(name string) string {
	plain := name != "" && !w.reserved[strings.ToLower(name)]
	for i, r := range name {
		if !startsWord(r) && (i == 0 || !(unicode.IsDigit(r) || unicode.Is(unicode.Mn, r))) {
			plain = false
		}
	}
	if plain {
		return name
	}
	return `"` + strings.ReplaceAll(name, `"`, `""`) + `"`
}

// ColumnText writes a column's name as the grammar reads it.
func (g *Grammar[D]) ColumnText(name string) string {
	return (&writer{reserved: g.reserved}).columnName(name)
}
