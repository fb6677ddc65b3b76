package clause

import (
	"strings"
	"unicode"
)

// Print writes what a D says, one clause a line, in the order of the list.
func (g *Grammar[D]) Print(d *D) string {
	w := &writer{reserved: g.reserved}
	for i := range g.Clauses {
		c := &g.Clauses[i]
		if c.Items == nil {
			if c.Said(d) {
				c.line(w, d)
			}
			continue
		}
		for _, item := range c.Items(d) {
			c.line(w, item)
		}
	}
	return w.text.String()
}

// PrintClause writes one clause alone, of a D or of an item, without the end of its line;
// "" where it is not said.
func (g *Grammar[D]) PrintClause(name string, of any) string {
	for i := range g.Clauses {
		if c := &g.Clauses[i]; c.Name == name {
			if d, whole := of.(*D); whole && c.Said != nil && !c.Said(d) {
				return ""
			}
			w := &writer{reserved: g.reserved}
			c.line(w, of)
			return strings.TrimSuffix(w.text.String(), "\n")
		}
	}
	return ""
}

func (c *Clause[D]) line(w *writer, about any) {
	w.text.WriteString(c.Name)
	for _, piece := range c.Pieces {
		piece.print(w, about)
	}
	w.text.WriteByte('\n')
}

type writer struct {
	text     strings.Builder
	reserved map[string]bool
}

func (w *writer) add(words string) {
	w.text.WriteByte(' ')
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
