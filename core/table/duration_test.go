package table

import (
	"math"
	"math/rand/v2"
	"testing"
)

// TestDurationsAreReadAsPeopleWriteThem holds every form, and what is none.
func TestDurationsAreReadAsPeopleWriteThem(t *testing.T) {
	for text, want := range map[string]float64{
		"1:30:00": 5400, "0:00:02.5": 2.5, "100:00:00": 360_000, "-0:05:00": -300, "5:30": 330, "90 min": 5400, "90min": 5400, "1.5 h": 5400,
		"1,5 h": 5400, "2 h 5 min": 7500, "2h5m": 7500,
		"1 day, 2 hours": 93_600, "3 d 4 h 5 min 6 s": 3*86400 + 4*3600 + 306, "250 ms": 0.25, "PT1H": 3600, "PT90M": 5400, "P1DT12H": 129_600,
		"P2W": 14 * 86400, "PT0.5S": 0.5, "−PT1M": -60, " 10 s ": 10,
	} {
		if got, form := ParseDuration(text); form == NoDuration || math.Abs(got-want) > 1e-9 {
			t.Errorf("%q is %v seconds (form %d), not %v", text, got, form, want)
		}
	}
	for _, text := range []string{"", "5", "5 kg", "min", "1:60:00", "1:30:60", "1:3x:00", "5 min 2 h", "2 h 3 h", "P", "PT", "P1Y", "P1M",
		"PT1H2", "12:00:00 pm", "-", "1e3 s", "99999999999999 h", "2031-05-01", ":30", "1::00"} {
		if got, form := ParseDuration(text); form != NoDuration {
			t.Errorf("%q is read as %v seconds", text, got)
		}
	}
}

// TestDurationsReadBackAsTheyAreWritten holds it to the microsecond, at all lengths, and that what is said names as much.
func TestDurationsReadBackAsTheyAreWritten(t *testing.T) {
	source := rand.New(rand.NewPCG(6, 6))
	for range 20_000 {
		v := math.Round(1e6*math.Pow(10, -6+18*source.Float64())) / 1e6 * float64(1-2*source.IntN(2))
		text := FormatDuration(v)
		if back, form := ParseDuration(text); form != ClockDuration || math.Abs(back-v) > 1e-6+1e-15*math.Abs(v) {
			t.Fatalf("%v is written %s, which is %v", v, text, back)
		}
		said, form := ParseDuration(sayWithoutCommas(SayDuration(v)))
		if off := math.Abs(said - v); form == NoDuration || off > 0.0006 && math.Abs(v) < 60 || off > 0.501 && math.Abs(v) < 2*86400 ||
			off > 30.01 {
			t.Fatalf("%v is said as %s, which is %v", v, SayDuration(v), said)
		}
	}
	for _, v := range []float64{math.NaN(), math.Inf(1), 1e300, -2 * LongestDuration} {
		if FormatDuration(v) != "" || SayDuration(v) != "" {
			t.Errorf("%v is written %s", v, FormatDuration(v))
		}
	}
}

func sayWithoutCommas(said string) string {
	out := []rune{}
	for _, r := range said {
		if r != ',' {
			out = append(out, r)
		}
	}
	return string(out)
}

// TestEveryKindCanBeWritten holds of each row of the list that its values are written, or stand in levels, and nothing of
// what is not listed.
func TestEveryKindCanBeWritten(t *testing.T) {
	for _, k := range Kinds {
		c := &Column{Name: "c", Kind: k.Kind, Numbers: []float64{90}}
		if k.Coded {
			c.Numbers, c.Codes, c.Levels = nil, []int32{0}, []string{"a"}
		}
		if c.Value(0) == "" || (k.write == nil) != k.Coded || k.Coded && (k.Quantity || k.Moment || k.Form != "") || k.Groups && !k.Coded {
			t.Errorf("%+v", k)
		}
	}
	if odd := Kind("mood"); !odd.Coded() || odd.Groups() || odd.Quantity() {
		t.Error("a kind that is not listed divides rows, or adds up")
	}
}
