package app

import (
	"context"
	"fmt"
	"strings"
	"testing"

	"copperlark/core/chart"
	"copperlark/core/confound"
	"copperlark/core/mark"
	"copperlark/core/table"
)

// turned are rates that rise within each group and fall in total, or the other way: for each
// group, how many of how many with the one and with the other.
var turned = [][][4]int{
	{{95, 100, 800, 900}, {300, 900, 25, 100}},
	{{45, 300, 2, 40}, {36, 40, 240, 300}},
	{{90, 100, 1700, 2000}, {60, 400, 4, 50}, {420, 900, 30, 80}},
	{{400, 2000, 20, 150}, {80, 100, 1400, 2000}},
	{{190, 200, 540, 600}, {250, 600, 60, 200}},
	{{36, 60, 210, 500}, {85, 500, 3, 60}},
}

// TestRatesThatTurnRoundAreTold takes shares of groups by groups: both rise and their total
// falls, as a chart of counts shows them, and mirrored.
func TestRatesThatTurnRoundAreTold(t *testing.T) {
	for i, groups := range turned {
		for _, mirrored := range []bool{false, true} {
			var fed, lived, stand []string
			for g, counts := range groups {
				put := func(name string, yes, n int) {
					for row := range n {
						fed, stand = append(fed, name), append(stand, fmt.Sprint("stand ", g))
						lived = append(lived, map[bool]string{true: "lived", false: "died"}[(row < yes) != mirrored])
					}
				}
				put("fed", counts[0], counts[1])
				put("alone", counts[2], counts[3])
			}
			outcome := table.NewCategory("winter", lived)
			data, err := table.New(table.NewCategory("feeding", fed), outcome, table.NewCategory("stand", stand))
			if err != nil {
				t.Fatal(err)
			}
			got, err := explain(context.Background(), mark.Bind(&chart.Document{Version: chart.Version, Y: chart.Variable{Column: "winter"},
				X: chart.Variable{Column: "feeding"}}, data), nil)
			if err != nil || got.Problem != "" || !got.Groups || len(got.Findings) != 1 {
				t.Fatalf("case %d: %+v, %v", i+1, got, err)
			}
			if f := got.Findings[0]; f.Verdict != confound.Reverses || !strings.HasPrefix(f.Words, "turns from ") {
				t.Errorf("case %d, mirrored %v: %s, %s, in %s", i+1, mirrored, f.Verdict, f.Words, got.Told)
			}
			if !strings.HasPrefix(got.Told, "Differences in percentage points, from ") {
				t.Errorf("told in %q", got.Told)
			}
			told, err := evidence(context.Background(), mark.Bind(&chart.Document{Version: chart.Version, Y: chart.Variable{Column: "winter"},
				X: chart.Variable{Column: "feeding"}}, data), "stand", nil)
			if err != nil || len(told.Rows) != 2+len(groups) || len(told.Standard) != 3 {
				t.Errorf("case %d: evidence %+v, %v", i+1, told, err)
			}
		}
	}
}

// TestWhichGroupsAreCompared also turns the chart on its side, where it says the same.
func TestWhichGroupsAreCompared(t *testing.T) {
	data := valley(t, 400)
	for typed, want := range map[string]string{
		"kg by district":       "Differences from Scarhead to Tarn",
		"district by kg":       "Differences from Scarhead to Tarn",
		"day by district":      "",
		"district by district": "district holds 4 groups",
	} {
		y, x, _ := strings.Cut(typed, " by ")
		got, err := explain(context.Background(), mark.Bind(&chart.Document{Version: chart.Version, Y: chart.Variable{Column: y},
			X: chart.Variable{Column: x}}, data), nil)
		if err != nil || want != "" && got.Told != want && !strings.HasPrefix(got.Problem, want) {
			t.Errorf("%s: %+v, %v", typed, got, err)
		}
	}
}
