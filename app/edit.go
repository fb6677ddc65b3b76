package app

import (
	"context"
	"fmt"
	"slices"
	"strings"

	"copperlark/core/reader"
	"copperlark/core/table"
)

// The bounds of a table that is changed by hand, and of what is changed at once.
const (
	mostEditedRows  = 5000
	mostEditedCells = 2000
)

// Edit is what somebody changes by hand in a small table: cells, and columns that stand beside it.
type Edit struct {
	Cells  []CellEdit `json:"cells,omitempty" maxItems:"2000"`
	Beside string     `json:"beside,omitempty" maxLength:"1000000" doc:"further columns, pasted under their names: as many rows"`
}

// CellEdit is a cell with what it holds now.
type CellEdit struct {
	Row    int    `json:"row" minimum:"1" doc:"counted from 1"`
	Column string `json:"column" maxLength:"10000"`
	Value  string `json:"value" maxLength:"10000" doc:"empty: missing"`
}

// Edit keeps a dataset's table with changes made by hand as its next version, prepared as the newest one is.
func (a *App) Edit(ctx context.Context, person Person, datasetID int64, edit Edit) (Version, error) {
	versions, err := a.store.Versions(ctx, person.SpaceID, datasetID)
	if err != nil {
		return Version{}, err
	}
	if len(versions) == 0 {
		return Version{}, ErrNotFound
	}
	m := wayTo(versions, versions[0].ID)
	if m.first.Rows > mostEditedRows {
		return Version{}, &Invalid{Message: fmt.Sprintf("a table of %d rows is too large to be changed by hand", m.first.Rows),
			Advice: fmt.Sprintf("bring a new file; up to %d rows can be typed into", mostEditedRows)}
	}
	t, dataset, err := a.Table(ctx, person.SpaceID, m.first.ID)
	if err != nil {
		return Version{}, err
	}
	working, leave, err := a.begin(ctx, "changes by hand", int64(weighSummary*t.Rows()+len(edit.Beside)))
	if err != nil {
		return Version{}, err
	}
	changed, err := edited(working, t, edit, a.limits.Columns)
	leave()
	if err != nil {
		return Version{}, err
	}
	options, err := a.store.Reading(ctx, m.first.ID)
	if err != nil {
		return Version{}, err
	}
	n := NewDataset{SpaceID: person.SpaceID, PersonID: person.ID, FileName: dataset.FileName, Table: changed,
		Report: &reader.Report{Drawn: changedByHand(dataset.Drawn), Notes: []reader.Remark{}}, Reading: options}
	return a.keepNext(ctx, person, datasetID, n, m.clauses, "changes by hand in “"+dataset.Name+"”")
}

// edited is a table with what was changed, of so many columns at most.
func edited(ctx context.Context, t *table.Table, edit Edit, most int) (*table.Table, error) {
	columns := slices.Clone(t.Columns())
	if len(edit.Cells) > mostEditedCells {
		return nil, &Invalid{Message: "too many cells were changed at once", Advice: "bring a new file"}
	}
	for _, cell := range edit.Cells {
		at := slices.IndexFunc(columns, func(c *table.Column) bool { return c.Name == cell.Column })
		if at < 0 || cell.Row > t.Rows() {
			return nil, &Invalid{Message: fmt.Sprintf("there is no row %d of %s", cell.Row, cell.Column), Advice: "look at the table again"}
		}
		c, err := columns[at].Changed(cell.Row-1, cell.Value)
		if err != nil {
			return nil, &Invalid{Message: err.Error(), Advice: fmt.Sprintf("change row %d of %s", cell.Row, cell.Column)}
		}
		columns[at] = c
	}
	if strings.TrimSpace(edit.Beside) != "" {
		more, _, err := reader.Read(ctx, strings.NewReader(edit.Beside), reader.Options{MaxColumns: most})
		if err != nil {
			return nil, &Invalid{Message: "what was pasted cannot be read: " + err.Error(), Advice: "paste columns with their names above"}
		}
		if more.Rows() != t.Rows() {
			return nil, &Invalid{Message: fmt.Sprintf("what was pasted has %d rows, the table %d", more.Rows(), t.Rows()),
				Advice: "paste as many rows, in the same order, under the names of their columns"}
		}
		if wide := len(columns) + len(more.Columns()); wide > most {
			return nil, &Invalid{Message: fmt.Sprintf("with these columns the table would have %d", wide),
				Advice: fmt.Sprintf("paste fewer; a table has at most %d", most)}
		}
		for _, c := range more.Columns() {
			beside := *c
			for n := 2; slices.ContainsFunc(columns, func(o *table.Column) bool { return strings.EqualFold(o.Name, beside.Name) }); n++ {
				beside.Name = fmt.Sprintf("%s_%d", c.Name, n)
			}
			columns = append(columns, &beside)
		}
	}
	out, err := table.New(columns...)
	if err != nil {
		return nil, &Invalid{Message: err.Error(), Advice: "change it otherwise"}
	}
	return out, nil
}

// changedByHand says of a sample that it is none any more of what the table holds.
func changedByHand(drawn string) string {
	const byHand = ", changed by hand"
	if drawn == "" || strings.HasSuffix(drawn, byHand) {
		return drawn
	}
	return drawn + byHand
}
