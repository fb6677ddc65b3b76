package app

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"copperlark/core/prepare"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// made is how a version came about: the clauses that were kept on the way to it, in the order in which
// they were applied, and the rows that it began with.
type made struct {
	clauses []prepare.Clause
	first   Version
	kept    time.Time // when the version itself was kept
}

// madeOf follows a version back to the file that it was prepared from.
func (a *App) madeOf(ctx context.Context, spaceID int64, d Dataset) (m made, err error) {
	versions, err := a.store.Versions(ctx, spaceID, d.ID)
	if err != nil {
		return m, err
	}
	return wayTo(versions, d.VersionID), nil
}

// wayTo follows a version of a dataset back to its file.
func wayTo(versions []Version, id int64) (m made) {
	for id != 0 {
		at := slices.IndexFunc(versions, func(v Version) bool { return v.ID == id })
		if at < 0 {
			return m // the version that it was made from is gone
		}
		if m.first = versions[at]; m.kept.IsZero() {
			m.kept = m.first.CreatedAt
		}
		m.clauses = append(slices.Clone(m.first.Preparation), m.clauses...)
		id = m.first.PreparedFrom
	}
	return m
}

// hiddenClause stands for a clause that speaks of what is not published.
const hiddenClause = "(a clause about a column that is not shared)"

// hiddenSample stands for what a sample is of, where that speaks of what is not published.
const hiddenSample = "a sample of a larger table, drawn at random"

// lines are the clauses with the rows that each took away or made. A clause that holds the name of a
// column that stays at home is not told in its own words, which could hold its values.
func (m made) lines(published, t *table.Table, before []string) []string {
	hidden := m.hidden(published, t, before)
	var lines []string
	for _, c := range m.clauses {
		if c.Off {
			continue
		}
		line := c.Text
		if speaksOf(line, hidden) {
			line = hiddenClause
		}
		if kept := c.Kept; kept != nil && kept.After != kept.Before {
			line += fmt.Sprintf("   → %s of %s", scale.Counted(kept.After, "row"), scale.Number(float64(kept.Before), 0))
		}
		lines = append(lines, line)
	}
	return lines
}

// hidden are the names, in small letters, of columns that stay at home: of the table, of those that came before it, and of those
// that a clause made.
func (m made) hidden(published, t *table.Table, before []string) (hidden []string) {
	hide := func(names ...string) {
		for _, name := range names {
			if name != "" && published.Said(name) == nil {
				hidden = append(hidden, strings.ToLower(name), strings.ToLower(table.Readable(name)))
			}
		}
	}
	hide(before...)
	for _, c := range t.Columns() {
		hide(c.Name, c.ReadableName())
	}
	for _, c := range m.clauses {
		if c.Kept != nil {
			hide(c.Kept.Makes)
		}
	}
	return hidden
}

// speaksOf reports whether words hold one of these names.
func speaksOf(words string, names []string) bool {
	words = strings.ToLower(words)
	return slices.ContainsFunc(names, func(name string) bool { return strings.Contains(words, name) })
}
