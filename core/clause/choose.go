package clause

import (
	"fmt"
	"strconv"
	"strings"

	"copperlark/core/table"
)

// Menu is what a pressable word opens: what could be said in its place. A choice is a
// whole D, so that trying, keeping and typing all mean the same thing.
type Menu[D any] struct {
	Slot        string // of items: followed by ":" and which one
	Title, Find string
	Choices     func(d *D, index int, t *table.Table) []Choice[D]
	Without     func(d *D, index int) *D // the D without the word; nil: it cannot be taken out
	Count       func(d *D) int           // how many its slots are; nil: as many as the clause has items
	Measure     func(d *D) string        // the column that shares of spread are measured against; nil: none
}

// Choice is one thing that could be said.
type Choice[D any] struct {
	Key     string // tells it from the others
	Label   string
	Detail  string
	Also    string // words that a search finds it by, too
	Column  string // that it brings in
	D       *D
	Current bool
	Barred  string // why it cannot be chosen
}

// Addition is something that can be said next: a D that says it, or a slot that opens.
type Addition[D any] struct {
	Key, Label, Detail, Also string
	D                        *D
	Opens                    string
	Rank                     int // the lower, the more useful
}

// Opened is a menu that was opened.
type Opened[D any] struct {
	Menu    *Menu[D]
	Choices []Choice[D]
	Without *D
	Measure string
}

// Open gives what pressing a slot of a D offers; nil for a slot that opens something else.
// A choice that the D could not be honoured with is barred, with the reason that check
// gives: check tells the problems of a D, and those that it has already bar nothing.
func (g *Grammar[D]) Open(slot string, d *D, t *table.Table, check func(*D) []string) *Opened[D] {
	name, number, _ := strings.Cut(slot, ":")
	index, _ := strconv.Atoi(number)
	for i := range g.Clauses {
		c := &g.Clauses[i]
		for m := range c.Menus {
			menu := &c.Menus[m]
			count := menu.Count
			if count == nil && c.Items != nil {
				count = func(d *D) int { return len(c.Items(d)) }
			}
			if menu.Slot != name || count != nil && (index < 0 || index >= count(d)) {
				continue
			}
			out := &Opened[D]{Menu: menu, Choices: menu.Choices(d, index, t)}
			if menu.Without != nil {
				out.Without = menu.Without(d, index)
			}
			if menu.Measure != nil {
				out.Measure = menu.Measure(d)
			}
			bar(out.Choices, check(d), check)
			return out
		}
	}
	return nil
}

func bar[D any](choices []Choice[D], now []string, check func(*D) []string) {
	known := map[string]bool{}
	for _, problem := range now {
		known[problem] = true
	}
	for i := range choices {
		if choices[i].Barred != "" {
			continue
		}
		for _, problem := range check(choices[i].D) {
			if !known[problem] {
				choices[i].Barred = problem
				break
			}
		}
	}
}

// Additions lists what can be said next, the most useful first.
func (g *Grammar[D]) Additions(d *D, t *table.Table) []Addition[D] {
	var list []Addition[D]
	for i := range g.Clauses {
		if add := g.Clauses[i].Add; add != nil {
			list = append(list, add(d, t)...)
		}
	}
	return list
}

// Slots lists the slots that have a menu, for a test that every spoken word opens one.
func (g *Grammar[D]) Slots() []string {
	var list []string
	for _, c := range g.Clauses {
		for _, m := range c.Menus {
			list = append(list, m.Slot)
		}
	}
	return list
}

// At names the slot of an item.
func At(slot string, index int) string { return fmt.Sprintf("%s:%d", slot, index) }
