package source

import (
	"github.com/jackc/pgx/v5/pgtype"

	"copperlark/core/summary"
)

// groupRow is a row of an answer while it is read.
type groupRow struct {
	into    []any
	part    int32
	count   int64
	astray  int64 // rows that are to lie on another server
	keys    []keyRead
	moments [9]pgtype.Float8
	paired  bool // x has moments
	hexagon int  // the first of its three numbers among the keys; -1: there is none
}

// keyRead is a key of it: of a level a text, or a number that is written as one.
type keyRead struct {
	column *sqlColumn // of a level
	text   *pgtype.Text
	whole  *pgtype.Int8
	number *pgtype.Float8
}

func newGroupRow(q *summary.Question, column func(name string) (sqlColumn, error)) *groupRow {
	r := &groupRow{paired: q.X != nil, hexagon: -1}
	r.into = []any{&r.part, &r.count, &r.astray}
	add := func(k keyRead, into any) { r.keys, r.into = append(r.keys, k), append(r.into, into) }
	for _, k := range q.By {
		if k.Kind != summary.Level {
			numbers := k.Numbers()
			if k.Kind == summary.Hexagon {
				numbers, r.hexagon = 3, len(r.keys)
			}
			for range numbers {
				whole := &pgtype.Int8{}
				add(keyRead{whole: whole}, whole)
			}
			continue
		}
		c, err := column(k.Column)
		if err != nil {
			continue // the statement was not written then
		}
		switch one := (keyRead{column: &c}); {
		case c.how.plain == "" || c.how.words:
			one.text = &pgtype.Text{}
			add(one, one.text)
		case c.how.whole:
			one.whole = &pgtype.Int8{}
			add(one, one.whole)
		default:
			one.number = &pgtype.Float8{}
			add(one, one.number)
		}
	}
	if r.paired {
		for i := range r.moments {
			r.into = append(r.into, &r.moments[i])
		}
	}
	return r
}

// group is the row; false where no row of the table is in it.
func (r *groupRow) group() (g summary.Group, counts bool) {
	g.N = r.count
	for i, k := range r.keys {
		switch {
		case r.hexagon >= 0 && i >= r.hexagon && i < r.hexagon+3:
			if i == r.hexagon {
				column, row := hexagonOf(k.whole.Int64, r.keys[i+1].whole.Int64, r.keys[i+2].whole.Int64)
				g.Numbers = append(g.Numbers, column, row)
			}
		case k.text != nil:
			g.Texts = append(g.Texts, k.text.String)
		case k.column != nil && k.whole != nil:
			g.Texts = append(g.Texts, k.column.levelText(k.whole.Int64))
		case k.column != nil:
			g.Texts = append(g.Texts, k.column.levelText(k.number.Float64))
		default:
			g.Numbers = append(g.Numbers, k.whole.Int64)
		}
	}
	if r.paired {
		m := r.moments
		g.X, g.Y, g.XX, g.XY, g.YY = m[0].Float64, m[1].Float64, m[2].Float64, m[3].Float64, m[4].Float64
		g.XMin, g.XMax, g.YMin, g.YMax = m[5].Float64, m[6].Float64, m[7].Float64, m[8].Float64
	}
	return g, r.count > 0
}
