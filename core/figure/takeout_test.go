package figure

import (
	"context"
	"math"
	"strings"
	"testing"

	"copperlark/core/confound"
	"copperlark/core/table"
)

// TestWhatIsTakenOutLeavesTheSlopeWithin holds that the line of all rows through a chart with
// groups taken out has their common slope, that the axes say so, and that what cannot be
// taken out is refused with its reason.
func TestWhatIsTakenOutLeavesTheSlopeWithin(t *testing.T) {
	data := small(t)
	plain, _ := draw(t, data, "plot y against x\nlog x\ncolour by g\nfit line for each g and overall")
	out, problems := draw(t, data, "plot y against x\ntake out g\nlog x\nfit line")
	if problems != nil {
		t.Fatal(problems)
	}
	if got, want := out.Fits[0].Model.Slope, plain.Relation.Compared.Within.Slope; math.Abs(got-want) > 1e-12 {
		t.Errorf("with g taken out the slope is %v, within it is %v", got, want)
	}
	if out.Rows.Drawn != plain.Rows.Drawn {
		t.Errorf("%d rows are drawn, %d without taking out", out.Rows.Drawn, plain.Rows.Drawn)
	}
	for at, axis := range []string{"x", "y"} {
		if before, after := plain.Scales[at], out.Scales[at]; after.From > before.From || after.To < before.To {
			t.Errorf("the %s axis runs from %v to %v, and from %v to %v with g taken out: the movement is not seen", axis, before.From, before.To,
				after.From, after.To)
		}
	}
	said := 0
	for _, text := range out.Texts {
		if text.Role == AxisText && strings.Contains(text.Text, "with g taken out") {
			said++
		}
	}
	if said != 2 {
		t.Errorf("%d axes say what is taken out", said)
	}
	x, y, z := []float64{1, 2, 3.5, 4, 5, 7}, []float64{2, 1, 4, 3, 6, 5}, []float64{0.5, 1.25, 0.75, 2.5, 1.75, 3.25}
	more, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewNumbers("z", z))
	if err != nil {
		t.Fatal(err)
	}
	adjusted, err := confound.Adjust(context.Background(), x, y, z)
	if err != nil {
		t.Fatal(err)
	}
	number, problems := draw(t, more, "plot y against x\ntake out z\nfit line")
	if problems != nil || math.Abs(number.Fits[0].Model.Slope-adjusted.Slope.Slope) > 1e-12 {
		t.Errorf("with a number taken out the slope is %v, held fixed it is %v (%v)", number.Fits[0].Model.Slope, adjusted.Slope.Slope, problems)
	}
	for typed, want := range map[string]string{
		"plot y against x\ntake out y":           "stands along y itself",
		"plot mean(y) against g\ntake out s":     "a statistic stands along y",
		"plot y against g\ntake out s\nas boxes": "holds groups, which cannot be moved",
		"plot y, s against x\ntake out g":        "one relation at a time",
		"plot y against x\ntake out name":        "",
	} {
		_, problems := draw(t, data, typed)
		found := want == ""
		for _, p := range problems {
			found = found || strings.Contains(p.Message, want) && p.Clause == "take out" && p.Advice != ""
		}
		if !found {
			t.Errorf("%s: %+v, want %q", typed, problems, want)
		}
	}
}
