package figure

import (
	"context"
	"fmt"

	"copperlark/core/chart"
	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/scale"
	"copperlark/core/table"
)

// other is something more that is drawn over the axes.
type other struct {
	*chart.Also
	table *table.Table
	dress mark.Dress
}

// readOthers reads the tables of what more is drawn, and gives each a colour that no group has.
func (b *Dressed) readOthers(ctx context.Context) []chart.Problem {
	if len(b.Document.Also) == 0 {
		return nil
	}
	taken := 1
	if b.groups != nil {
		taken = len(b.groups.Levels)
	}
	key := Key{Channels: []string{chart.AlsoLayer}, Name: "Also"}
	for i := range b.Document.Also {
		one := other{Also: &b.Document.Also[i], table: b.Table}
		if one.Table != "" {
			if b.Dataset == nil {
				if b.Bare {
					continue // a small picture does without
				}
				return []chart.Problem{
					{
						Clause:  "also plot",
						Message: "there is no other dataset here to read " + one.Table + " from",
						Advice:  "take the clause out, or draw the chart in the program",
					},
				}
			}
			t, err := b.Dataset(ctx, one.Table)
			if ctx.Err() != nil {
				return nil
			}
			if err != nil {
				return []chart.Problem{
					{Clause: "also plot", Message: err.Error(), Advice: "name a dataset of this space as it is called there"},
				}
			}
			one.table = t
		}
		light, dark := b.Document.GroupColours().At(taken + i)
		if own := one.Stroke.Colour; own != "" {
			light, dark = colour.OnPapers(own)
		}
		name := one.Called(func(column string) string {
			if c := one.table.Said(column); c != nil {
				return c.Prose()
			}
			return column
		})
		one.dress = mark.Dress{Name: name, Light: light, Dark: dark, Entry: len(key.Entries)}
		key.Entries = append(key.Entries, Entry{Name: name, Light: light, Dark: dark, Line: one.Drawn() != "dots", Count: 1})
		if one.Drawn() == "dots" {
			key.Entries[len(key.Entries)-1].Shape = "diamond"
		}
		b.others = append(b.others, one)
	}
	if len(b.others) == 0 {
		return nil
	}
	at := b.addKey(key)
	for i := range b.others {
		b.others[i].dress.Key = at
	}
	return nil
}

// computeOthers places what more is drawn in a panel.
func (b *Computed) computeOthers(ctx context.Context, p *part) []chart.Problem {
	for i := range b.others {
		one := &b.others[i]
		found, without, problems := mark.ComputeAlso(ctx, p.c, one.Also, one.table, one.dress)
		if problems != nil || found == nil {
			return problems
		}
		if without > 0 && p.c.Panel == 0 && !b.Bare {
			b.cautions = append(
				b.cautions,
				fmt.Sprintf("Of %s, %s have no place on the axes and are not drawn.", one.dress.Name, rowsOf(without)),
			)
		}
		if unit := mark.OtherUnit(p.c.Y, one.table.Said(one.Y)); unit != "" && p.c.Panel == 0 {
			b.cautions = append(b.cautions, unit+".")
		}
		p.computed = append(p.computed, &layer{chart.AlsoLayer, fmt.Sprintf("also:%d", i), stroked(found, one.Stroke)})
	}
	return nil
}

func rowsOf(n int) string {
	if n == 1 {
		return "1 row"
	}
	return scale.Number(float64(n), 0) + " rows"
}
