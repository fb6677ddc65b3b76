package confound

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"testing"

	"copperlark/core/table"
)

// following gives n values of which each is like the one before (an autoregression of order one, as it is after
// many steps).
func following(source *rand.Rand, n int, r float64) []float64 {
	out := make([]float64, n)
	for i := range out {
		out[i] = source.NormFloat64()
		if i > 0 {
			out[i] = r*out[i-1] + math.Sqrt(1-r*r)*out[i]
		}
	}
	return out
}

// inGroups gives n values of which a share of the spread lies between groups.
func inGroups(source *rand.Rand, codes []int32, groups int, share float64) []float64 {
	means, out := make([]float64, groups), make([]float64, len(codes))
	for g := range means {
		means[g] = source.NormFloat64()
	}
	for i, g := range codes {
		out[i] = math.Sqrt(share)*means[g] + math.Sqrt(1-share)*source.NormFloat64()
	}
	return out
}

// claimed reports what is said of a table: whether the check claims anything, and whether the slope of x looks
// clear.
func claimed(t *testing.T, columns []*table.Column) (claim, clear bool) {
	t.Helper()
	data, err := table.New(columns...)
	if err != nil {
		t.Fatal(err)
	}
	x, y := data.Column("x").Numbers, data.Column("y").Numbers
	rows := make([]uint32, len(x))
	for i := range rows {
		rows[i] = uint32(i)
	}
	var candidates []*table.Column
	for _, c := range columns {
		if c.Name != "x" && c.Name != "y" && c.Kind != table.Date {
			candidates = append(candidates, c)
		}
	}
	alike := FindAlike(context.Background(), x, y, rows, data, "x", "y")
	findings, err := RankAlike(context.Background(), x, y, rows, candidates, alike, NoOthers, nil)
	if err != nil {
		t.Fatal(err)
	}
	for _, f := range findings {
		claim = claim || f.Verdict.Claims()
		clear = clear || f.OverallInterval.Low > 0 || f.OverallInterval.High < 0
	}
	return claim, clear
}

// TestRowsThatAreAlikeAreNoStory counts claims in tables of pure noise whose columns are all series, or all differ
// between groups: at most 5 in a hundred, beside what chance allows a simulation.
func TestRowsThatAreAlikeAreNoStory(t *testing.T) {
	tables := rounds(t, 15)
	for _, n := range []int{50, 200, 1000} {
		for _, kind := range []string{"series", "series with a day", "groups"} {
			for _, likeness := range []float64{0, 0.5, 0.8} {
				claims, clears := 0, 0
				for round := range tables {
					source := rand.New(rand.NewPCG(uint64(round), uint64(n)+uint64(100*likeness)))
					const groups = 12
					codes := make([]int32, n)
					for i := range codes {
						codes[i] = int32(source.IntN(groups))
					}
					values := func() []float64 {
						if kind == "groups" {
							return inGroups(source, codes, groups, likeness)
						}
						return following(source, n, likeness)
					}
					columns := []*table.Column{table.NewNumbers("x", values()), table.NewNumbers("y", values())}
					for c := range 6 {
						columns = append(columns, table.NewNumbers(fmt.Sprint("c", c), values()))
					}
					switch kind {
					case "groups":
						levels := make([]string, groups)
						for g := range levels {
							levels[g] = fmt.Sprint("hive ", g)
						}
						columns = append(columns, &table.Column{Name: "hive", Kind: table.Category, Codes: codes, Levels: levels})
					case "series with a day":
						days := make([]float64, n)
						for i := range days {
							days[i] = 86_400 * float64(20_000+i)
						}
						columns = append(columns, &table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: days})
					}
					claim, clear := claimed(t, columns)
					if claim {
						claims++
					}
					if clear {
						clears++
					}
				}
				t.Logf("%s of %.1f, %d rows: %.1f %% of %d tables with a claim, in %.1f %% the slope looks clear", kind, likeness, n,
					100*float64(claims)/float64(tables), tables, 100*float64(clears)/float64(tables))
				if limit := 0.05*float64(tables) + 3*math.Sqrt(0.05*0.95*float64(tables)); float64(claims) > limit {
					t.Errorf("%s of %.1f, %d rows: %d of %d tables of noise have a claim", kind, likeness, n, claims, tables)
				}
			}
		}
	}
}

// TestIndependentRowsAreSeldomTakenForAlike tries tables of independent rows, shuffled or sorted in any way: at most
// two in a hundred are said to be alike, beside what chance allows; and the truth that is in them is told as it is
// without the question.
func TestIndependentRowsAreSeldomTakenForAlike(t *testing.T) {
	tables := rounds(t, 60)
	for _, sorted := range []string{"", "x", "y", "c", "hive", "day"} {
		alarms := 0
		for round := range tables {
			source := rand.New(rand.NewPCG(uint64(round), 77))
			const n = 200
			x, y, c, days, hives := make([]float64, n), make([]float64, n), make([]float64, n), make([]float64, n), make([]string, n)
			for i := range x {
				x[i], c[i], days[i], hives[i] = source.NormFloat64(), source.NormFloat64(), 86_400*float64(20_000+source.IntN(40)),
					fmt.Sprint("hive ", source.IntN(20))
				y[i] = 0.5*x[i] + source.NormFloat64() + 0.3*c[i]
			}
			data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewNumbers("c", c), table.NewCategory("hive", hives))
			if sorted == "day" {
				data, err = table.New(append(data.Columns(), &table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: days})...)
			}
			if err != nil {
				t.Fatal(err)
			}
			if by := data.Column(sorted); by != nil {
				order := make([]int, n)
				for i := range order {
					order[i] = i
				}
				compare := by.Ordering(false)
				slices.SortStableFunc(order, compare)
				data = data.Select(order)
			}
			rows := make([]uint32, n)
			for i := range rows {
				rows[i] = uint32(i)
			}
			if FindAlike(t.Context(), data.Column("x").Numbers, data.Column("y").Numbers, rows, data, "x", "y") != nil {
				alarms++
			}
		}
		t.Logf("sorted by %s: %d of %d tables of 200 independent rows are said to be alike", cmp.Or(sorted, "nothing"), alarms, tables)
		if limit := 0.02*float64(tables) + 3*math.Sqrt(0.02*0.98*float64(tables)); float64(alarms) > limit {
			t.Errorf("sorted by %q: %d of %d tables of independent rows are said to be alike", sorted, alarms, tables)
		}
	}
}

// TestTheWidestLikenessIsNamed has rows of one hive alike, beside a column that only follows it loosely, and rows
// that follow each other by day in a table that is not sorted by it.
func TestTheWidestLikenessIsNamed(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 1))
	const n, hives = 240, 12
	codes, loose, levels := make([]int32, n), make([]string, n), make([]string, hives)
	for i := range codes {
		codes[i] = int32(source.IntN(hives))
		loose[i] = fmt.Sprint("site ", (int(codes[i])+source.IntN(2)*source.IntN(hives))/4)
	}
	for g := range levels {
		levels[g] = fmt.Sprint("hive ", g)
	}
	x, y := inGroups(source, codes, hives, 0.7), inGroups(source, codes, hives, 0.6)
	rows := make([]uint32, n)
	for i := range rows {
		rows[i] = uint32(i)
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("site", loose),
		&table.Column{Name: "hive", Kind: table.Category, Codes: codes, Levels: levels})
	if err != nil {
		t.Fatal(err)
	}
	a := FindAlike(t.Context(), x, y, rows, data, "x", "y")
	if a == nil || a.Column.Name != "hive" || a.Clusters != hives || a.Ratio < 1.5 || a.Share < 0.4 {
		t.Errorf("of hives that are alike it is told %+v", a)
	}
	x, y = following(source, n, 0.8), following(source, n, 0.8)
	days := make([]float64, n)
	for i := range days {
		days[i] = 86_400 * float64(20_000+i)
	}
	order := source.Perm(n)
	data, err = table.New(table.NewNumbers("x", x), table.NewNumbers("y", y),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: days})
	if err != nil {
		t.Fatal(err)
	}
	data = data.Select(order)
	a = FindAlike(t.Context(), data.Column("x").Numbers, data.Column("y").Numbers, rows, data, "x", "y")
	if a == nil || a.Column.Name != "day" || a.Clusters != 0 || a.Share < 0.6 || a.Ratio < 1.3 {
		t.Errorf("of days that follow each other it is told %+v", a)
	}
}
