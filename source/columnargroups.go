package source

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"copperlark/core/summary"
)

// Groups implements Snapshot. The engine takes the shards of a table together itself; its own variances lose their digits
// where values lie far from zero, so that sums are taken about the middle of all rows, which is asked first.
func (s *columnarSnapshot) Groups(ctx context.Context, q *summary.Question, part func(done, of int)) (*Told, error) {
	ctx, cancel := context.WithTimeout(ctx, rowsPatience)
	defer cancel()
	told, err := s.groups(ctx, q, part)
	return told, s.of.trouble(ctx, err)
}

// columnarParts are the two questions of one: where the middle is, and the sums about it.
const columnarParts = 2

func (s *columnarSnapshot) groups(ctx context.Context, q *summary.Question, part func(done, of int)) (*Told, error) {
	if err := q.Check(); err != nil {
		return nil, err
	}
	part(0, columnarParts)
	if err := s.complete(ctx); err != nil {
		return nil, err
	}
	w, err := s.write(q)
	if err != nil {
		return nil, err
	}
	var middle [2]float64
	if q.X != nil {
		if middle, err = w.middle(ctx); err != nil {
			return nil, err
		}
	}
	part(1, columnarParts)
	statement := w.statement(middle)
	var gathered summary.Gathering
	err = s.of.ask(ctx, statement, func(row []string) error {
		g, counts, err := w.group(row, middle)
		if err == nil && counts {
			err = gathered.Add(g)
		}
		return err
	})
	err = unanswered(err)
	part(columnarParts, columnarParts)
	return &Told{gathered.Answer(), statement, columnarParts}, err
}

// columnarWords are the pieces of a statement.
type columnarWords struct {
	*columnarSnapshot
	q            *summary.Question
	t            *terms
	inner        []string // columns of the rows, under names that the table has not
	keys         []string // their names
	x, y         string
	where, known []string // conditions of the rows, and of what was worked out of them
}

// write puts a question into pieces. In this language the name of a column that is worked out hides the table's own, also
// in the same list: names are taken that the table has not.
func (s *columnarSnapshot) write(q *summary.Question) (*columnarWords, error) {
	prefix := "q"
	t := newTerms(&columnarDialect, s.columns)
	for _, c := range s.columns {
		for strings.HasPrefix(c.name, prefix) {
			prefix += "_"
		}
	}
	w := &columnarWords{columnarSnapshot: s, q: q, t: t}
	within, err := t.workOut(q)
	if err != nil {
		return nil, err
	}
	if !q.ByReason() {
		t.leaves(q.Needs)
		if w.where, err = t.needs(q); err != nil {
			return nil, err
		}
	}
	if within != "" {
		w.where = append(w.where, within)
	}
	keys, err := t.keys(q)
	if err != nil {
		return nil, err
	}
	add := func(expression, name string, sure bool) string {
		w.inner = append(w.inner, expression+" as "+name)
		if !sure {
			w.known = append(w.known, name+" is not null")
		}
		return name
	}
	sure := !slices.ContainsFunc(q.By, func(k summary.Key) bool { return !t.hasKey(k) })
	for i, k := range keys {
		w.keys = append(w.keys, add(k, fmt.Sprintf("%sk%d", prefix, i+1), sure))
	}
	for _, one := range []struct {
		of   *summary.Value
		into *string
		name string
	}{{q.X, &w.x, prefix + "x"}, {q.Y, &w.y, prefix + "y"}} {
		*one.into = "toFloat64(0)"
		if one.of == nil {
			continue
		}
		written, err := t.value(one.of)
		if err != nil {
			return nil, err
		}
		*one.into = add(written, one.name, t.has(one.of))
	}
	if len(w.inner) == 0 {
		w.inner = []string{"1"}
	}
	return w, nil
}

func (w *columnarWords) rows() string {
	return "\nfrom (select " + strings.Join(w.inner, ",\n    ") + "\n  from " + w.from() + listed("\n  where ", "\n    and ", w.where) + ")" +
		listed("\nwhere ", " and ", w.known)
}

// middle is where x and y have their means.
func (w *columnarWords) middle(ctx context.Context) (at [2]float64, err error) {
	row, err := w.of.one(ctx, fmt.Sprintf("select avg(%s), avg(%s)%s", w.x, w.y, w.rows()))
	for i := range at {
		if err == nil && row != nil && row[i] != `\N` && row[i] != "nan" {
			at[i], err = strconv.ParseFloat(row[i], 64)
		}
	}
	return at, err
}

// statement asks for the groups, with sums about a middle.
func (w *columnarWords) statement(middle [2]float64) string {
	wanted := append([]string{"count()"}, w.keys...)
	if w.q.X != nil {
		u, v := "("+w.x+" - "+w.about(middle[0])+")", "("+w.y+" - "+literal(middle[1])+")"
		for _, one := range []string{u, v, u + " * " + u, u + " * " + v, v + " * " + v} {
			wanted = append(wanted, "sum("+one+")")
		}
		for _, one := range []string{w.x, w.y} {
			wanted = append(wanted, "min("+one+")", "max("+one+")")
		}
	}
	return "select " + strings.Join(wanted, ", ") + w.rows() + listed("\ngroup by ", ", ", w.keys)
}

// bins is the key by steps of x itself, and its place among the keys; -1: there is none.
func (w *columnarWords) bins() (at int, k summary.Key) {
	at = slices.IndexFunc(w.q.By, func(k summary.Key) bool { return k.Kind == summary.Step && *k.Of == *w.q.X })
	if at < 0 || slices.ContainsFunc(w.q.By[:at], func(k summary.Key) bool { return k.Kind == summary.Hexagon }) {
		return -1, k
	}
	return at, w.q.By[at]
}

// about is what x is taken about: the middle of its bin, where it is asked by bins, so that narrow ones lose no digits.
func (w *columnarWords) about(middle float64) string {
	if at, k := w.bins(); at >= 0 {
		return fmt.Sprintf("((%s + 0.5) * %s + %s)", w.keys[at], literal(k.Width), literal(k.From))
	}
	return literal(middle)
}

// group reads a row of the answer: sums about a middle become those about the group's own means,
// Sxx = Σ(x - m)² - (Σ(x - m))²/n.
func (w *columnarWords) group(row []string, middle [2]float64) (g summary.Group, counts bool, err error) {
	at := 0
	next := func() string { at++; return row[at-1] }
	float := func() float64 {
		written := next()
		if written == `\N` {
			return 0
		}
		v, wrong := strconv.ParseFloat(written, 64)
		err = errors.Join(err, wrong)
		return v
	}
	whole := func() int64 {
		v, wrong := strconv.ParseInt(next(), 10, 64)
		err = errors.Join(err, wrong)
		return v
	}
	g.N = whole()
	for _, k := range w.q.By {
		switch k.Kind {
		case summary.Level:
			c, _ := w.t.column(k.Column)
			written := next()
			if c.how.plain == "" || c.how.words {
				g.Texts = append(g.Texts, unescaped(written))
				continue
			}
			v, wrong := strconv.ParseFloat(written, 64)
			err = errors.Join(err, wrong)
			if beyondExact(written) && c.how.whole {
				g.Texts = append(g.Texts, written)
				continue
			}
			g.Texts = append(g.Texts, c.levelText(v))
		case summary.Hexagon:
			column, line := hexagonOf(whole(), whole(), whole())
			g.Numbers = append(g.Numbers, column, line)
		default:
			g.Numbers = append(g.Numbers, whole())
		}
	}
	if w.q.X == nil || g.N == 0 {
		return g, g.N > 0, err
	}
	if at, k := w.bins(); at >= 0 {
		levels := 0
		for _, one := range w.q.By[:at] {
			if one.Kind == summary.Level {
				levels++
			}
		}
		middle[0] = (float64(g.Numbers[at-levels])+0.5)*k.Width + k.From
	}
	n := float64(g.N)
	sx, sy, sxx, sxy, syy := float(), float(), float(), float(), float()
	g.X, g.Y = middle[0]+sx/n, middle[1]+sy/n
	g.XX, g.XY, g.YY = max(0, sxx-sx*sx/n), sxy-sx*sy/n, max(0, syy-sy*sy/n)
	g.XMin, g.XMax, g.YMin, g.YMax = float(), float(), float(), float()
	if g.XMin == g.XMax {
		g.X, g.XX, g.XY = g.XMin, 0, 0
	}
	if g.YMin == g.YMax {
		g.Y, g.YY, g.XY = g.YMin, 0, 0
	}
	return g, true, err
}
