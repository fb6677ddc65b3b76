package prepare

import (
	"fmt"
	"strings"
	"testing"

	"copperlark/core/summary"
	"copperlark/core/table"
)

// TestATableIsAskedAsItsSampleIsPrepared holds what is asked of a table against what the same clauses make of it.
func TestATableIsAskedAsItsSampleIsPrepared(t *testing.T) {
	district := &table.Column{Name: "district", Kind: table.Category, Levels: []string{"Brindle", "Dee's", "Tarn"}}
	kg, frames := &table.Column{Name: "honey_kg", Kind: table.Number}, &table.Column{Name: "frames", Kind: table.Number}
	for i := range 600 {
		district.Codes = append(district.Codes, int32(i%4)-1)
		kg.Numbers, frames.Numbers = append(kg.Numbers, float64(i%37)/2), append(frames.Numbers, float64(i%11))
	}
	whole, err := table.New(district, kg, frames)
	if err != nil {
		t.Fatal(err)
	}
	for typed, x := range map[string]string{
		"keep honey_kg > 3 and district <> 'Tarn'":                                                                   "honey_kg",
		"work out each = honey_kg / frames; keep each < 4; work out twice = each * 2":                                "twice",
		"leave out missing district; sort by honey_kg; rename honey_kg to frames, frames to honey_kg":                "frames",
		"rename honey_kg to yield; keep yield between 2 and 9; drop columns frames":                                  "yield",
		"recode district: 'Brindle', 'Dee''s' as 'low'; rest as 'high'; keep district = 'low'; keep frames > 1":      "honey_kg",
		"recode district: 'Tarn' as 'high'; work out strong = frames > 5; keep strong; leave out missing":            "frames",
		"bin honey_kg at 3, 8.5, 3, 14 into district; keep district <> '3 to 8.5'":                                   "frames",
		"read frames as category with '0' as 'none', '1' as 'few'; drop columns district; rename frames to district": "honey_kg",
		"read frames as text; keep frames in ('3', '10'); read honey_kg in 'kg' called 'Honey'":                      "honey_kg",
		"read district as ordered with 'Tarn' as 'Tarn hill', 'Brindle' as 'Tarn hill'":                              "honey_kg",
	} {
		clauses := Parse(strings.ReplaceAll(typed, "; ", "\n"))
		if strings.HasPrefix(typed, "recode district: 'B") {
			clauses = Parse("recode district: 'Brindle', 'Dee''s' as 'low'; rest as 'high'\nkeep district = 'low'\nkeep frames > 1")
		}
		state, err := Run(t.Context(), whole, clauses, Environment{})
		if err != nil {
			t.Fatal(typed, err)
		}
		asked, bars := AskedElsewhere(clauses, whole)
		if bars != "" {
			t.Fatalf("%s: %s", typed, bars)
		}
		by := []summary.Key{{Kind: summary.Level, Column: "district"}}
		if state.Table.Column("district") == nil {
			by = nil
		}
		want, err := summary.Of(t.Context(), state.Table, &summary.Question{X: &summary.Value{Column: x}, By: by})
		if err != nil {
			t.Fatal(typed, err)
		}
		got, err := summary.Of(t.Context(), whole,
			&summary.Question{Within: asked.Within, With: asked.Columns, X: &summary.Value{Column: x}, By: by})
		if err != nil || answered(got) != answered(want) || want.Rows() == 0 {
			t.Errorf("%s: %v, %+v, want %+v", typed, err, got, want)
		}
	}
	for typed, words := range map[string]string{
		"for each district: mean_kg = mean(honey_kg)": "cannot be asked of it", "sample 50 rows": "cannot be asked of it",
		"keep nothing > 3": "no column nothing", "rename nothing to honey": "no column nothing", "keep honey_kg >": "cannot be read",
		"bin honey_kg in 3 equal widths into band": "cut by the sample", "read district as number": "not read as the sample is",
		"read frames as yes/no": "not read as the sample is", "read nothing as text": "no column nothing",
	} {
		if _, bars := AskedElsewhere(Parse(typed), whole); !strings.Contains(bars, words) {
			t.Errorf("%s: %q", typed, bars)
		}
	}
}

// answered writes an answer but for what rounding does, which depends on the order of the rows.
func answered(a *summary.Answer) (words string) {
	for _, g := range a.Groups {
		words += fmt.Sprintf("%q %d %.9g %.9g %v to %v; ", g.Texts, g.N, g.X, g.XX, g.XMin, g.XMax)
	}
	return words
}
