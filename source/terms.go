package source

import (
	"fmt"
	"maps"
	"slices"
	"strconv"

	"copperlark/core/formula"
	"copperlark/core/summary"
	"copperlark/core/table"
)

// terms puts questions into the database's language. Names of columns are those that the database told, and are
// quoted; what people typed goes as parameters.
type terms struct {
	in        *dialect
	columns   map[string]sqlColumn
	worked    map[string]sqlColumn // by expressions over these
	inner     bool                 // an expression that works a column out is read: it knows the table's own alone
	sure      map[string]bool      // columns of which every row that is left has a value that counts
	above     map[string]bool      // and one above zero
	arguments []any
}

func newTerms(in *dialect, columns []sqlColumn) *terms {
	t := &terms{in: in, columns: map[string]sqlColumn{}}
	for _, c := range columns {
		t.columns[c.name] = c
	}
	return t
}

// argument is a parameter of a type.
func (t *terms) argument(value any, typed string) string {
	return t.in.argument(t, value, typed)
}

func (t *terms) number(v float64) string { return t.argument(v, "float8") }

// cannot says that something cannot be asked of the database.
func cannot(format string, arguments ...any) error {
	return &Trouble{fmt.Sprintf(format, arguments...) + " cannot be asked of the database", "take rows of the table as a dataset"}
}

func (t *terms) column(name string) (sqlColumn, error) {
	c, known := t.worked[name]
	if !known || t.inner {
		c, known = t.columns[name]
	}
	if !known {
		return c, &Trouble{"the table has no column " + name + " any more", "ask again; if it stays so, tell whoever runs this server"}
	}
	return c, nil
}

// value is a number of a row; null where it is none that counts. Rows that are left out before it is worked out need
// no second look.
func (t *terms) value(v *summary.Value) (string, error) {
	c, err := t.column(v.Column)
	if err != nil {
		return "", err
	}
	if c.how.plain == "" {
		return "", cannot("%s, which holds no numbers,", v.Column)
	}
	written := c.number()
	if t.sure[v.Column] {
		written = c.plain()
	}
	switch {
	case v.Log && t.above[v.Column]:
		written = fmt.Sprintf(t.in.log, written)
	case v.Log:
		written = fmt.Sprintf("(case when %s > 0 then %s end)", written, fmt.Sprintf(t.in.log, written))
	}
	return written, nil
}

// has reports whether every row that is left has a value: then nobody need look.
func (t *terms) has(v *summary.Value) bool {
	return v == nil || t.sure[v.Column] && (!v.Log || t.above[v.Column])
}

// hasKey is has of a key.
func (t *terms) hasKey(k summary.Key) bool {
	return (k.Column == "" || t.sure[k.Column]) && t.has(k.Of) && t.has(k.And)
}

// leaves notes what rows that meet all needs are known to have.
func (t *terms) leaves(needs []summary.Need) {
	t.sure, t.above = map[string]bool{}, map[string]bool{}
	for _, need := range needs {
		t.sure[need.Column] = true
		t.above[need.Column] = t.above[need.Column] || need.Positive
	}
}

func (c sqlColumn) quoted() string {
	if c.written != "" {
		return c.written
	}
	return c.in.quote(c.name)
}

// workOut reads the columns that are worked out, and gives the condition of the rows that are of the table at all; empty: all.
func (t *terms) workOut(q *summary.Question) (within string, err error) {
	t.inner = true
	defer func() { t.inner = false }()
	t.worked = map[string]sqlColumn{}
	for _, name := range slices.Sorted(maps.Keys(q.With)) {
		f, err := formula.Parse(q.With[name])
		if err != nil {
			return "", cannot("the column %s", name)
		}
		w := &wording{terms: t}
		written, kind := w.write(f.Root())
		if w.wrong != nil {
			return "", w.wrong
		}
		c := sqlColumn{name: name, written: "(" + written + ")", in: t.in, how: t.in.worked[kind]}
		if f.Name() != "" { // another name of one that it has
			c = t.columns[f.Name()]
		}
		if whole, is := w.spelled(f.Root()); is { // the numbers group as their texts do, and servers need not write these
			c = whole
			c.spelled = true
		}
		t.worked[name] = c
	}
	if q.Within == "" {
		return "", nil
	}
	f, err := formula.Parse(q.Within)
	if err != nil {
		return "", cannot("the rows that are kept")
	}
	return t.condition(f.Root())
}

// plain is the number of a value that counts.
func (c sqlColumn) plain() string { return "(" + fmt.Sprintf(c.how.plain, c.quoted()) + ")" }

// number is the number of a value; null where it is none that counts.
func (c sqlColumn) number() string {
	if c.how.holds == "" && c.how.kind != table.YesNo {
		return c.plain()
	}
	return fmt.Sprintf("(case when %s then %s end)", c.present(), c.plain())
}

// present is the condition that a row has a value that counts.
func (c sqlColumn) present() string {
	switch {
	case c.how.holds != "":
		return fmt.Sprintf(c.how.holds, c.quoted())
	case c.how.kind == table.Text && c.written == "": // of one that is worked out an empty text is null already
		return fmt.Sprintf(c.in.text, c.quoted()) + " <> ''"
	}
	return c.quoted() + " is not null"
}

// needs are the conditions under which a row counts, in the order in which rows are told that do not.
func (t *terms) needs(q *summary.Question) (list []string, err error) {
	where := "(1 = 1)"
	if q.Where != "" {
		f, err := formula.Parse(q.Where)
		if err != nil {
			return nil, &Trouble{"the condition cannot be read: " + err.Error(), "write it otherwise"}
		}
		if where, err = t.condition(f.Root()); err != nil {
			return nil, err
		}
	}
	if q.Where != "" || q.ByReason() {
		list = append(list, where)
	}
	for _, need := range q.Needs {
		c, err := t.column(need.Column)
		if err != nil {
			return nil, err
		}
		present := c.present()
		if need.Positive {
			if c.how.plain == "" {
				return nil, cannot("a logarithm of %s", need.Column)
			}
			present = fmt.Sprintf("%s and %s > 0", present, c.quoted())
			if c.how.kind == table.Date || c.how.kind == table.Duration || c.how.kind == table.YesNo {
				present = c.number() + " > 0"
			}
		}
		list = append(list, present)
	}
	return list, nil
}

// keys are the expressions of keys. Those of texts are told, so that they are read as such.
func (t *terms) keys(q *summary.Question) (list []string, err error) {
	for _, k := range q.By {
		write := sqlKeys[k.Kind]
		if write == nil {
			return nil, cannot("rows by %s", k.Kind)
		}
		written, err := write(t, k, q)
		if err != nil {
			return nil, err
		}
		list = append(list, written...)
	}
	return list, nil
}

// sqlKeys are the keys that can be asked for.
var sqlKeys = map[string]func(t *terms, k summary.Key, q *summary.Question) ([]string, error){
	summary.Level: func(t *terms, k summary.Key, _ *summary.Question) ([]string, error) {
		c, err := t.column(k.Column)
		if err != nil {
			return nil, err
		}
		return []string{c.level(t.sure[k.Column])}, nil
	},
	summary.Step: func(t *terms, k summary.Key, _ *summary.Question) ([]string, error) {
		v, err := t.value(k.Of)
		return []string{fmt.Sprintf(t.in.whole, fmt.Sprintf("floor((%s - %s) / %s)", v, t.number(k.From), t.number(k.Width)))}, err
	},
	summary.Edges: func(t *terms, k summary.Key, _ *summary.Question) ([]string, error) {
		v, err := t.value(k.Of)
		last := t.number(k.Edges[len(k.Edges)-1])
		return []string{fmt.Sprintf(t.in.edges, v, t.argument(k.Edges, "float8[]"), last)}, err
	},
	summary.Hexagon: hexagon,
	summary.Reason: func(t *terms, _ summary.Key, q *summary.Question) ([]string, error) {
		needs, err := t.needs(q)
		// The first that is not met counts: case when a then (case when b then 0 else 2 end) else 1 end.
		out := "0"
		for i, need := range slices.Backward(needs) {
			out = fmt.Sprintf("case when %s then %s else %d end", need, out, i+1)
		}
		return []string{fmt.Sprintf(t.in.whole, out)}, err
	},
}

// hexagon gives three numbers, of which hexagonOf makes the column and the row of the nearest centre, as density.Lattice
// finds them: with u and v in widths and heights of cells, ⌊2u⌋, the row of centres below, and whether the row above is
// nearer. Of the two nearest centres of these rows, |d| and 1/2 - |d| to the side, f and 1 - f away, the upper one is
// nearer where (1/2 - |d|)² + 3/4 (1 - f)² < d² + 3/4 f², that is where 3/2 f + |d| > 1. Each u costs a logarithm: it is
// written three times, where asking for column and row themselves would take twelve.
func hexagon(t *terms, k summary.Key, _ *summary.Question) ([]string, error) {
	x, err := t.value(k.Of)
	if err != nil {
		return nil, err
	}
	y, err := t.value(k.And)
	if err != nil {
		return nil, err
	}
	u := fmt.Sprintf("((%s - %s) / %s)", x, t.number(k.From), t.number(k.Width))
	v := fmt.Sprintf("((%s - %s) / %s)", y, t.number(k.FromY), t.number(k.WidthY))
	aside := fmt.Sprintf("abs(%[1]s - floor(%[1]s + 0.5))", u) // |d| in rows that are not shifted, else 1/2 less it
	up := fmt.Sprintf("1.5 * (%[1]s - floor(%[1]s))", v)
	return []string{
		fmt.Sprintf(t.in.whole, fmt.Sprintf("floor(2 * %s)", u)),
		fmt.Sprintf(t.in.whole, fmt.Sprintf("floor(%s)", v)),
		fmt.Sprintf(t.in.whole, fmt.Sprintf("case when (%[1]s %% 2) = 0 then case when %[2]s + %[3]s > 1 then 1 else 0 end "+
			"when %[2]s - %[3]s > 0.5 then 1 else 0 end", fmt.Sprintf(t.in.whole, "floor("+v+")"), up, aside)),
	}, nil
}

// hexagonOf is the column and the row of a hexagon, of what was asked for it.
func hexagonOf(halves, row, above int64) (column, at int64) {
	odd := row & 1
	halves -= odd
	column, right := (halves+1)>>1, halves&1 == 0
	if above == 0 {
		return column, row
	}
	column += odd
	if !right {
		column--
	}
	return column, row + 1
}

// level is the value of a column, by which groups are told apart: a text, or a number.
func (c sqlColumn) level(sure bool) string {
	switch {
	case c.how.kind == table.Text && sure:
		return fmt.Sprintf(c.in.text, c.quoted())
	case c.how.kind == table.YesNo:
		return fmt.Sprintf("case when %[1]s then 'yes' when not %[1]s then 'no' end", c.quoted())
	case c.how.kind == table.Text && c.written != "":
		return c.written
	case c.how.kind == table.Text:
		return fmt.Sprintf("case when %[1]s <> '' then %[1]s end", fmt.Sprintf(c.in.text, c.quoted()))
	case c.how.whole:
		return fmt.Sprintf(c.in.whole, c.quoted())
	}
	if sure {
		return c.plain()
	}
	return c.number()
}

// levelText is how a value of a level is written in a table.
func (c sqlColumn) levelText(value any) string {
	switch v := value.(type) {
	case string:
		return v
	case int64:
		if v > -mostExact && v < mostExact {
			return table.FormatNumber(float64(v))
		}
		return fmt.Sprint(v)
	case float64:
		if c.how.short {
			v, _ = strconv.ParseFloat(strconv.FormatFloat(v, 'g', -1, 32), 64)
		}
		return (&table.Column{Kind: c.how.kind, Grain: c.how.grain, Numbers: []float64{v}}).Value(0)
	}
	return fmt.Sprint(value)
}
