package reader

import (
	"cmp"
	"slices"
	"strconv"
	"strings"
)

// merge is a range of cells of a sheet that are shown as one: its first cell holds the value. Rows are counted
// from 1, columns from 0; both ends belong to it.
type merge struct {
	top, left, bottom, right int
}

// mergeOf reads a range such as A2:A4.
func mergeOf(reference string) (m merge, ok bool) {
	first, last, found := strings.Cut(reference, ":")
	if !found {
		return m, false
	}
	place := func(cell string) (row, column int, ok bool) {
		column, ok = columnOf(cell)
		row, err := strconv.Atoi(strings.TrimLeft(strings.ToUpper(cell), "ABCDEFGHIJKLMNOPQRSTUVWXYZ"))
		return row, column, ok && err == nil && row > 0 && row <= maxSheetRows && column < maxSheetColumns
	}
	var is [2]bool
	m.top, m.left, is[0] = place(first)
	m.bottom, m.right, is[1] = place(last)
	return m, is[0] && is[1] && m.bottom >= m.top && m.right >= m.left
}

// mostMerged bounds how many cells are filled with the value of a cell that they were merged with.
const mostMerged = 200_000

// fillMerged gives each row of merged cells the value that stands in the first of them. Of cells that are
// merged side by side, as titles are, the first one has it.
func (c *sheetCells) fillMerged(merges []merge) {
	fills := map[int][]cell{} // by row
	count := 0
	for _, m := range merges {
		if m.bottom == m.top || count+m.bottom-m.top > mostMerged {
			continue
		}
		i, found := slices.BinarySearchFunc(c.rows, m.top, func(r sheetRow, top int) int { return cmp.Compare(r.number, top) })
		if !found {
			continue
		}
		row := c.cells[c.rows[i].from:c.rows[i].to]
		at := slices.IndexFunc(row, func(one cell) bool { return one.column == m.left })
		if at < 0 {
			continue
		}
		last := c.rows[len(c.rows)-1].number
		for below := m.top + 1; below <= min(m.bottom, last); below++ {
			fills[below] = append(fills[below], row[at])
			count++
		}
		c.faults.Note(
			m.top,
			"",
			"the cells %s%d to %s%d were one: its value holds for each of its rows",
			columnLetters(m.left),
			m.top,
			columnLetters(m.right),
			m.bottom,
		)
	}
	if count == 0 {
		return
	}
	cells := make([]cell, 0, len(c.cells)+count)
	for i, row := range c.rows {
		from := len(cells)
		cells = append(cells, c.cells[row.from:row.to]...)
		for _, filled := range fills[row.number] {
			if !slices.ContainsFunc(cells[from:], func(one cell) bool { return one.column == filled.column }) {
				cells = append(cells, filled)
			}
		}
		slices.SortFunc(cells[from:], func(a, b cell) int { return cmp.Compare(a.column, b.column) })
		c.rows[i].from, c.rows[i].to = from, len(cells)
	}
	c.cells = cells
}

// A cover is a first sheet of few cells, such as a title and a date, before a sheet with a table: one of at
// least so many times as many cells.
const mostCover, coverTimes = 60, 3

// isCover reports whether a sheet is no table beside one of so many cells.
func (c *sheetCells) isCover(other int) bool {
	return len(c.cells) < mostCover && other >= coverTimes*max(len(c.cells), 4)
}
