package app

import (
	"context"
	"math/rand/v2"
	"slices"
	"strings"

	"copperlark/core/parallel"
	"copperlark/core/prepare"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// ViewRequest says which rows of a prepared table are looked at, and how.
type ViewRequest struct {
	Typed      string `json:"typed,omitempty" maxLength:"100000" doc:"the preparation that is tried; empty: none"`
	Which      string `json:"which,omitempty" enum:"all,random,left out" doc:"left out: rows of the version that clauses took away"`
	Seed       uint64 `json:"seed,omitempty" doc:"of the random rows"`
	Sort       string `json:"sort,omitempty" maxLength:"1000" doc:"a column to sort the view by; the table stays as it is"`
	Descending bool   `json:"descending,omitempty"`
	Find       string `json:"find,omitempty" maxLength:"1000" doc:"rows in which a value holds this text"`
	From       int    `json:"from,omitempty" minimum:"0"`
	Count      int    `json:"count,omitempty" minimum:"0" maximum:"1000"`
}

// View is a stretch of the rows that are looked at.
type View struct {
	Rows    int        `json:"rows" doc:"how many there are in all"`
	Numbers []int      `json:"numbers" doc:"which row of the table each one is, from 1"`
	Values  [][]string `json:"values" doc:"empty text is missing"`
	Clauses []int      `json:"clauses" doc:"for rows left out: the clause that took each away, from 0"`
	Columns []string   `json:"columns" doc:"of rows left out these are those of the version"`
}

// randomRows is how many rows a random look takes.
const randomRows = 100

// viewKey is what the order of the rows of a view is held by; tables never change.
type viewKey struct {
	shown, prepared *table.Table
	request         ViewRequest // without From, Count and what was typed
}

// viewed gives the order of a view: held, or computed.
func (a *App) viewed(ctx context.Context, shown *table.Table, state *prepare.State, request ViewRequest) ([]int32, error) {
	key := viewKey{shown, state.Table, request}
	key.request.From, key.request.Count, key.request.Typed = 0, 0, ""
	if rows, held := a.held.Get(key); held {
		return rows.([]int32), nil
	}
	rows, err := viewRows(ctx, shown, state, request)
	if err == nil {
		a.held.Put(key, rows, int64(4*len(rows)))
	}
	return rows, err
}

// View looks at rows of a version after a preparation. Where the preparation has a
// mistake, the rows are those before it.
func (a *App) View(ctx context.Context, spaceID, versionID int64, request ViewRequest) (out *View, err error) {
	whole := (request.Which == "" || request.Which == "all") && request.Sort == "" && request.Find == ""
	each := int64(weighView)
	if whole {
		each = 0
	}
	err = a.tried(
		ctx,
		spaceID,
		versionID,
		"a look at the rows",
		each,
		request.Typed,
		func(ctx context.Context, state *prepare.State, _ *prepare.Mistake, t *table.Table, _ Dataset) error {
			if request.Which != "left out" {
				t = state.Table
			}
			out, err = a.view(ctx, t, state, request, whole)
			return err
		},
	)
	return out, err
}

func (a *App) view(ctx context.Context, t *table.Table, state *prepare.State, request ViewRequest, whole bool) (*View, error) {
	var rows []int32
	total := t.Rows()
	if !whole {
		var err error
		if rows, err = a.viewed(ctx, t, state, request); err != nil {
			return nil, err
		}
		total = len(rows)
	}
	out := &View{Rows: total, Numbers: []int{}, Values: [][]string{}, Clauses: []int{}, Columns: t.Names()}
	places := map[int32]int{} // of the rows of this stretch
	for i := request.From; i < min(request.From+request.Count, total); i++ {
		row := i
		if !whole {
			row = int(rows[i])
		}
		places[int32(row)] = len(out.Numbers)
		out.Numbers = append(out.Numbers, row+1)
		out.Values = append(out.Values, RowValues(t, row, 1)[0])
	}
	if request.Which == "left out" {
		out.Clauses = make([]int, len(out.Numbers))
		for _, gone := range state.LeftOut {
			if place, here := places[gone.Row]; here {
				out.Clauses[place] = gone.Clause
			}
		}
	}
	return out, nil
}

// viewRows computes the order of a view.
func viewRows(ctx context.Context, t *table.Table, state *prepare.State, request ViewRequest) ([]int32, error) {
	var rows []int32
	switch request.Which {
	case "left out":
		seen := map[int32]bool{} // a row that was stacked can be taken away more than once
		for _, gone := range state.LeftOut {
			if !seen[gone.Row] {
				seen[gone.Row] = true
				rows = append(rows, gone.Row)
			}
		}
		slices.Sort(rows)
	case "random":
		source := rand.New(rand.NewPCG(request.Seed, 2027))
		for _, row := range source.Perm(t.Rows())[:min(randomRows, t.Rows())] {
			rows = append(rows, int32(row))
		}
		slices.Sort(rows)
	default:
		rows = make([]int32, t.Rows())
		for i := range rows {
			rows[i] = int32(i)
		}
	}
	if request.Find != "" {
		rows = found(ctx, t, rows, request.Find)
	}
	if c := t.Column(request.Sort); c != nil {
		compare := c.Ordering(request.Descending)
		if err := parallel.SortStable(ctx, rows, func(i, j int32) int { return compare(int(i), int(j)) }); err != nil {
			return nil, err
		}
	}
	return rows, ctx.Err()
}

// found keeps the rows in which a value holds a text, as it is stored or as it is
// shown (1,250 for 1250), without regard to case.
func found(ctx context.Context, t *table.Table, rows []int32, text string) []int32 {
	wanted := strings.ToLower(strings.TrimSpace(text))
	inNumbers := strings.ContainsAny(wanted, "0123456789")
	var levels [][]bool // by column: which levels hold the text
	for _, c := range t.Columns() {
		holds := make([]bool, len(c.Levels))
		for i, level := range c.Levels {
			holds[i] = strings.Contains(strings.ToLower(level), wanted)
		}
		levels = append(levels, holds)
	}
	holds := func(row int) bool {
		for j, c := range t.Columns() {
			switch {
			case c.Missing(row):
			case c.Kind.Coded():
				if levels[j][c.Codes[row]] {
					return true
				}
			case inNumbers:
				value := c.Value(row)
				if strings.Contains(value, wanted) {
					return true
				}
				if c.Kind == table.Number && strings.Contains(wanted, ",") && strings.Contains(scale.Number(c.Numbers[row], 0), wanted) {
					return true
				}
			}
		}
		return false
	}
	parts := make([][]int32, parallel.Workers(len(rows)))
	_ = parallel.Ranges(ctx, len(rows), func(worker, from, to int) { // the caller looks at the context
		for _, row := range rows[from:to] {
			if holds(int(row)) {
				parts[worker] = append(parts[worker], row)
			}
		}
	})
	return slices.Concat(parts...)
}
