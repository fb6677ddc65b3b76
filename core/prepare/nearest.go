package prepare

import (
	"cmp"
	"fmt"
	"math"
	"slices"
	"sort"
	"strings"

	"copperlark/core/clause"
	"copperlark/core/table"
)

// nearestWay is which partners a join by the nearest date or number takes.
type nearestWay struct {
	name, help    string
	before, after bool
}

// nearestWays is the list of them; the longer names come first, as they begin alike.
var nearestWays = []nearestWay{
	{"nearest before", "the last one up to the row's own", true, false},
	{"nearest after", "the first one from the row's own on", false, true},
	{"nearest", "the closest one; of two as close the earlier", true, true},
}

// distanceUnit is a unit in which the distance of dates is said.
type distanceUnit struct {
	name    string
	seconds float64
}

var within = []distanceUnit{{"seconds", 1}, {"minutes", 60}, {"hours", 3600}, {"days", 86400}, {"weeks", 7 * 86400}}

// nearestPiece is what says that the last key need not be equal.
var nearestPiece = func() clause.Piece {
	var ways, units []clause.Option[join]
	for _, way := range nearestWays {
		ways = append(ways, clause.Option[join]{Help: way.help, Pieces: []clause.Piece{clause.Phrase(way.name)},
			Set: func(j *join) { j.Nearest = way.name }, Is: func(j *join) bool { return j.Nearest == way.name }})
	}
	for _, unit := range within {
		units = append(
			units,
			clause.Option[join]{
				Pieces: []clause.Piece{clause.Say(unit.name)},
				Set:    func(j *join) { j.Unit = unit.name },
				Is:     func(j *join) bool { return j.Unit == unit.name && j.Within != 1 },
			},
			clause.Option[join]{
				Pieces: []clause.Piece{clause.Say(unit.name[:len(unit.name)-1])},
				Set:    func(j *join) { j.Unit = unit.name },
				Is:     func(j *join) bool { return j.Unit == unit.name && j.Within == 1 },
			},
		)
	}
	units = append(units, clause.Option[join]{Is: func(j *join) bool { return j.Unit == "" }})
	distance := clause.Number(
		func(j *join) *float64 { return &j.Within },
		clause.Range{To: math.MaxFloat64, Above: true, Message: "expected a distance above 0", Expected: "a distance"},
	)
	return clause.Maybe(
		func(j *join) bool { return j.Nearest != "" },
		nil,
		clause.Suggestion{Text: ", nearest before", Help: "the last key need not be equal: the nearest one will do"},
		clause.Sign(","),
		clause.OneOf("nearest before, nearest after or nearest", ways...),
		clause.Maybe(
			func(j *join) bool { return j.Within > 0 },
			nil,
			clause.Suggestion{Text: "within ", Help: "and no further away"},
			clause.Say("within"),
			distance,
			clause.OneOf("a unit", units...),
		),
	)
}()

func (j *join) nearestWords() string {
	words := "the " + j.Nearest
	if j.Within > 0 {
		words += " within " + table.FormatNumber(j.Within)
		if unit := j.Unit; j.Within == 1 {
			words += " " + strings.TrimSuffix(unit, "s")
		} else if unit != "" {
			words += " " + unit
		}
	}
	return words
}

// nearest finds for each row the one row of the other table whose last key is nearest among
// those whose other keys are equal: at most the row's own, at least, or either; one that is
// equal is nearest of all, of equal ones the first.
func (j *join) nearest(w *work, left, right []*table.Column, rows int) func(row int) []int {
	last := len(left) - 1
	here, there, way := left[last], right[last], nearestWays[slices.IndexFunc(nearestWays,
		func(n nearestWay) bool { return n.name == j.Nearest })]
	if here.Kind.Coded() || here.Kind != there.Kind {
		w.fail(
			w.at(&j.Keys[last].Here),
			fmt.Sprintf(
				"nearest is told of dates or of numbers: %s is a %s here and a %s in %s",
				here.Name,
				here.Kind,
				there.Kind,
				j.Other.Name,
			),
			"read it as date or number in both first",
		)
	}
	reach := math.Inf(1)
	if j.Within > 0 {
		reach = j.reach(w, here)
	}
	ordered := map[string][]int{}
	for row := range rows {
		if !anyMissing(right, row) {
			key := rowKey(right[:last], row)
			ordered[key] = append(ordered[key], row)
		}
	}
	for _, list := range ordered {
		slices.SortStableFunc(list, func(a, b int) int { return cmp.Compare(there.Numbers[a], there.Numbers[b]) })
	}
	return func(row int) []int {
		if anyMissing(left, row) {
			return nil
		}
		list, own := ordered[rowKey(left[:last], row)], here.Numbers[row]
		first := func(value float64) int { // the place of the first that is at least so much
			return sort.Search(len(list), func(i int) bool { return there.Numbers[list[i]] >= value })
		}
		best, nearest := -1, math.Inf(1)
		at := first(own)
		if before := at - 1; way.before && before >= 0 {
			before = first(there.Numbers[list[before]])
			best, nearest = list[before], own-there.Numbers[list[before]]
		}
		if at < len(list) && (way.after || there.Numbers[list[at]] == own) && there.Numbers[list[at]]-own < nearest {
			best, nearest = list[at], there.Numbers[list[at]]-own
		}
		if best < 0 || nearest > reach {
			return nil
		}
		return []int{best}
	}
}

// reach is how far away a partner may be, in the unit of the key's numbers.
func (j *join) reach(w *work, key *table.Column) float64 {
	at := slices.IndexFunc(within, func(unit distanceUnit) bool { return unit.name == j.Unit })
	switch {
	case key.Kind == table.Date && at < 0:
		w.fail(w.at(&j.Within), "a distance of dates has a unit", "say within 3 days, or hours, minutes, seconds or weeks")
	case key.Kind != table.Date && at >= 0:
		w.fail(w.at(&j.Within), fmt.Sprintf("%s holds numbers; %s are a distance of dates", key.Name, j.Unit), "say within 5")
	case at >= 0:
		return j.Within * within[at].seconds
	}
	return j.Within
}
