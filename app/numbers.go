package app

import (
	"context"
	"fmt"

	"copperlark/core/words"
)

// MostNumbers is how many numbers are asked for at once.
const MostNumbers = 50_000

// Numbers gives the numbers of some columns in some rows, from 0 as they stand in the table: a list for
// each column, with nothing where a number is missing or the column holds none.
func (a *App) Numbers(ctx context.Context, spaceID, versionID int64, rows []int, columns []string) (out [][]*float64, err error) {
	if len(rows)*len(columns) > MostNumbers {
		return nil, &Invalid{
			Message: fmt.Sprintf("at most %d numbers are given at once", MostNumbers),
			Advice:  "ask for fewer rows or columns",
		}
	}
	err = a.onSpelled(ctx, spaceID, versionID, "some numbers", 0, func(_ context.Context, t *shown, _ Dataset) error {
		out = make([][]*float64, len(columns))
		for i, name := range columns {
			out[i] = make([]*float64, len(rows))
			c := t.Column(name)
			if c == nil {
				message, advice := words.UnknownColumn(name, t.Names())
				return &Invalid{Message: message, Advice: advice}
			}
			for j, row := range rows {
				if row < 0 || row >= t.Rows() {
					return &Invalid{
						Message: fmt.Sprintf("there is no row %d", row+1),
						Advice:  fmt.Sprintf("the table has %d rows", t.Rows()),
					}
				}
				if !c.Kind.Coded() && c.Numbers[row] == c.Numbers[row] {
					v := c.Numbers[row]
					out[i][j] = &v
				}
			}
		}
		return nil
	})
	return out, err
}
