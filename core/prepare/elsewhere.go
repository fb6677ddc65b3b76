package prepare

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"copperlark/core/formula"
	"copperlark/core/table"
)

// Elsewhere is a preparation as it is asked of a table that stays elsewhere, which nobody prepares: which rows are left, and
// what the columns are that it works out, both by the columns that the table has.
type Elsewhere struct {
	Within  string            // a condition; empty: all rows
	Columns map[string]string // expressions, by the names of columns that are not the table's own

	names []string              // of all columns by now
	kinds map[string]table.Kind // of those whose kinds are known
}

// askable is an action that can be asked of a table that stays elsewhere; its words are why this one cannot.
type askable interface {
	asked(e *Elsewhere) (words string)
}

// AskedElsewhere puts a preparation of a sample into what is asked of all rows of its table; first is the sample as it was
// drawn. bars says why that cannot be.
func AskedElsewhere(clauses []Clause, first *table.Table) (e *Elsewhere, bars string) {
	e = &Elsewhere{Columns: map[string]string{}, names: slices.Clone(first.Names()), kinds: map[string]table.Kind{}}
	for _, c := range first.Columns() {
		e.kinds[c.Name] = c.Kind
	}
	for _, c := range clauses {
		if c.Off || strings.TrimSpace(c.Text) == "" {
			continue
		}
		step, mistakes := grammar.Parse(c.Text, nil)
		if mistakes != nil || step.Action == nil {
			return nil, fmt.Sprintf("the clause %q cannot be read", c.Text)
		}
		one, can := step.Action.(askable)
		if !can {
			return nil, fmt.Sprintf("the table is not prepared as the sample is: %q cannot be asked of it", c.Text)
		}
		if words := one.asked(e); words != "" {
			return nil, words
		}
	}
	return e, ""
}

// column is a column as it is said; empty: there is none.
func (e *Elsewhere) column(said string) string {
	if slices.Contains(e.names, said) {
		return said
	}
	found := ""
	for _, name := range e.names {
		if strings.EqualFold(table.Readable(name), said) {
			if found != "" {
				return ""
			}
			found = name
		}
	}
	return found
}

// of is what a column is in the table.
func (e *Elsewhere) of(name string) string {
	if worked, is := e.Columns[name]; is {
		return worked
	}
	return formula.Quoted(name)
}

// expression puts an expression into the columns of the table.
func (e *Elsewhere) expression(said string) (written, words string) {
	f, err := formula.Parse(said)
	if err != nil {
		return "", fmt.Sprintf("%q cannot be read", said)
	}
	columns := map[string]string{}
	for _, name := range f.Columns() {
		column := e.column(name)
		if column == "" {
			return "", "the table has no column " + name
		}
		columns[name] = e.of(column)
	}
	written = formula.Substituted(said, columns)
	if _, err := formula.Parse(written); err != nil {
		return "", fmt.Sprintf("%q is too long when it is asked of the table", said)
	}
	return written, ""
}

func (e *Elsewhere) keep(condition string) {
	if e.Within == "" {
		e.Within = condition
		return
	}
	e.Within = "(" + e.Within + ") and (" + condition + ")"
}

// set gives a column another expression.
func (e *Elsewhere) set(name, written string) {
	if !slices.Contains(e.names, name) {
		e.names = append(e.names, name)
	}
	e.Columns[name] = written
	delete(e.kinds, name)
}

func (*take) asked(*Elsewhere) string   { return "" }
func (*sortBy) asked(*Elsewhere) string { return "" }

func (k *keep) asked(e *Elsewhere) string {
	written, words := e.expression(k.Condition)
	e.keep(written)
	return words
}

func (l *leaveOut) asked(e *Elsewhere) string {
	columns := l.Columns
	if columns == nil {
		columns = e.names
	}
	for _, said := range columns {
		name := e.column(said)
		if name == "" {
			return "the table has no column " + said
		}
		e.keep("(" + e.of(name) + ") is not null")
	}
	return ""
}

func (o *workOut) asked(e *Elsewhere) string {
	written, words := e.expression(o.Expression)
	if words == "" {
		e.set(o.Name, written)
	}
	return words
}

func (r *rename) asked(e *Elsewhere) string {
	before := &Elsewhere{Columns: maps.Clone(e.Columns), names: slices.Clone(e.names), kinds: maps.Clone(e.kinds)}
	for _, n := range r.Names {
		name := before.column(n.Column)
		at := slices.Index(before.names, name)
		if at < 0 {
			return "the table has no column " + n.Column
		}
		e.names[at] = n.Name
		e.Columns[n.Name], e.kinds[n.Name] = before.of(name), before.kinds[name]
	}
	return ""
}

// asked cuts where edges are said: those that the sample has at its ends are not those of all rows.
func (b *bin) asked(e *Elsewhere) string {
	name := e.column(b.Column)
	if name == "" {
		return "the table has no column " + b.Column
	}
	if b.At == nil {
		return fmt.Sprintf("bins of equal widths or counts are cut by the sample: say where, as in bin %s at 10, 20 into %s", b.Column, b.Into)
	}
	inner, names := b.edges(nil)
	var written strings.Builder
	written.WriteString("case")
	for i, edge := range inner {
		fmt.Fprintf(&written, " when (%s) < %s then %s", e.of(name), table.FormatNumber(edge), formula.Literal(names[i]))
	}
	last := inner[len(inner)-1]
	fmt.Fprintf(&written, " when (%s) >= %s then %s end", e.of(name), table.FormatNumber(last), formula.Literal(names[len(inner)]))
	e.set(b.Into, written.String())
	e.kinds[b.Into] = table.Ordered
	return ""
}

// asked reads texts as groups, and whole numbers as the texts that they are written as; what is said of a column beside its kind
// changes no value.
func (r *read) asked(e *Elsewhere) string {
	name := e.column(r.Column)
	if name == "" {
		return "the table has no column " + r.Column
	}
	kind := e.kinds[name]
	texts := func(k table.Kind) bool { return k.Coded() && k != table.YesNo }
	become := r.Kind
	if become == "" && r.With != nil && !texts(kind) {
		become = table.Category
	}
	switch {
	case become == "" || become == kind || texts(become) && texts(kind):
	case texts(become) && kind == table.Number:
		e.set(name, "cast("+e.of(name)+" as text)")
	default:
		return fmt.Sprintf("the table is not read as the sample is: %s as %s", r.Column, become)
	}
	e.kinds[name] = cmp.Or(become, kind)
	if r.With == nil {
		return ""
	}
	of := "(" + e.of(name) + ")"
	written := "case"
	for _, v := range r.With {
		written += fmt.Sprintf(" when %s = %s then %s", of, formula.Literal(v.Value), formula.Literal(v.Name))
	}
	e.set(name, written+" else "+of+" end")
	e.kinds[name] = cmp.Or(become, kind)
	return ""
}

func (k *keepColumns) asked(e *Elsewhere) string {
	var kept []string
	for _, said := range k.Columns {
		kept = append(kept, e.column(said))
	}
	e.names = kept
	return ""
}

func (d *dropColumns) asked(e *Elsewhere) string {
	for _, said := range d.Columns {
		name := e.column(said)
		e.names = slices.DeleteFunc(e.names, func(one string) bool { return one == name })
	}
	return ""
}

func (r *recode) asked(e *Elsewhere) string {
	name := e.column(r.Column)
	if name == "" {
		return "the table has no column " + r.Column
	}
	of := "(" + e.of(name) + ")"
	var written strings.Builder
	written.WriteString("case")
	for _, g := range r.Groups {
		values := make([]string, len(g.Values))
		for i, v := range g.Values {
			values[i] = formula.Literal(v)
		}
		fmt.Fprintf(&written, " when %s in (%s) then %s", of, strings.Join(values, ", "), formula.Literal(g.Name))
	}
	rest := of
	if r.Rest != "" {
		rest = formula.Literal(r.Rest)
	}
	fmt.Fprintf(&written, " when %s is not null then %s end", of, rest)
	e.set(name, written.String())
	return ""
}
