package scale

import (
	"encoding/json"
	"math"
	"strconv"
	"strings"
	"testing"
	"time"

	"copperlark/internal/test/golden"
)

type tickCase struct {
	Name  string `json:"name"`
	Scale Scale  `json:"scale"`
	Count int    `json:"count"`
	Ticks []Tick `json:"ticks"`
}

func at(year int, month time.Month, day, hour int) float64 {
	return float64(time.Date(year, month, day, hour, 0, 0, 0, time.UTC).Unix())
}

// tickCases are the axes that contract/ticks.json pins for Go and TypeScript.
func tickCases() []tickCase {
	cases := []tickCase{
		{Name: "plain", Scale: Scale{Kind: Linear, From: 8, To: 42}, Count: 7},
		{Name: "turned round", Scale: Scale{Kind: Linear, From: 42, To: 8}, Count: 7},
		{Name: "across zero", Scale: Scale{Kind: Linear, From: -3.2, To: 4.1}, Count: 6},
		{Name: "thousands", Scale: Scale{Kind: Linear, From: 0, To: 120000}, Count: 5},
		{Name: "millions", Scale: Scale{Kind: Linear, From: 0, To: 3.1e6}, Count: 6},
		{Name: "deep zoom", Scale: Scale{Kind: Linear, From: 2.6912, To: 2.6987}, Count: 6},
		{Name: "far from zero", Scale: Scale{Kind: Linear, From: 1000000.1, To: 1000000.9}, Count: 5},
		{Name: "tiny", Scale: Scale{Kind: Linear, From: 0, To: 3e-12}, Count: 4},
		{Name: "huge", Scale: Scale{Kind: Linear, From: 0, To: 4e18}, Count: 4},
		{Name: "all there is", Scale: Scale{Kind: Linear, From: -math.MaxFloat64, To: math.MaxFloat64}, Count: 5},
		{Name: "no room between", Scale: Scale{Kind: Linear, From: 1e150, To: 1e150 * (1 + 3e-16)}, Count: 5},
		{Name: "one value", Scale: Scale{Kind: Linear, From: 1e308, To: 1e308}, Count: 4},
		{Name: "to the end, log", Scale: Scale{Kind: Log, From: 1e290, To: math.MaxFloat64}, Count: 5},
		{Name: "from the beginning, log", Scale: Scale{Kind: Log, From: 5e-324, To: 1e-290}, Count: 5},
		{Name: "ages", Scale: Scale{Kind: Date, From: -1e300, To: 1e300}, Count: 6},
		{Name: "three decades", Scale: Scale{Kind: Log, From: 1.2, To: 2600}, Count: 11},
		{Name: "three decades, narrow", Scale: Scale{Kind: Log, From: 1.2, To: 2600}, Count: 4},
		{Name: "below one", Scale: Scale{Kind: Log, From: 0.0004, To: 30}, Count: 12},
		{Name: "nine decades", Scale: Scale{Kind: Log, From: 1e-3, To: 1e6}, Count: 6},
		{Name: "one decade", Scale: Scale{Kind: Log, From: 9, To: 120}, Count: 11},
		{Name: "within a decade", Scale: Scale{Kind: Log, From: 140, To: 410}, Count: 6},
		{Name: "years", Scale: Scale{Kind: Date, From: at(2027, 3, 1, 0), To: at(2031, 9, 1, 0)}, Count: 6},
		{Name: "months", Scale: Scale{Kind: Date, From: at(2029, 10, 20, 0), To: at(2030, 6, 3, 0)}, Count: 8},
		{Name: "weeks", Scale: Scale{Kind: Date, From: at(2029, 12, 20, 0), To: at(2030, 2, 3, 0)}, Count: 7},
		{Name: "days", Scale: Scale{Kind: Date, From: at(2029, 12, 29, 0), To: at(2030, 1, 5, 0)}, Count: 7},
		{Name: "hours", Scale: Scale{Kind: Date, From: at(2029, 5, 1, 18), To: at(2029, 5, 2, 20)}, Count: 8},
		{Name: "seconds", Scale: Scale{Kind: Date, From: at(2029, 5, 1, 18), To: at(2029, 5, 1, 18) + 40}, Count: 8},
		{Name: "tenths of a second", Scale: Scale{Kind: Date, From: at(2029, 5, 1, 18) + 0.95, To: at(2029, 5, 1, 18) + 2.1}, Count: 6},
		{Name: "milliseconds before 1970", Scale: Scale{Kind: Date, From: -3.0041, To: -2.9988}, Count: 5},
		{Name: "a moment", Scale: Scale{Kind: Date, From: at(2029, 5, 1, 18), To: at(2029, 5, 1, 18) + 3e-6}, Count: 5},
		{Name: "groups", Scale: Scale{Kind: Groups, From: -0.5, To: 2.5, Levels: []string{"Low Fen", "Brindle", "Tarn"}}, Count: 5},
		{Name: "doublings", Scale: Scale{Kind: Log, Base: 2, From: 3, To: 1100}, Count: 6},
		{Name: "base e", Scale: Scale{Kind: Log, Base: math.E, From: 0.2, To: 90}, Count: 8},
		{Name: "doublings, too near", Scale: Scale{Kind: Log, Base: 2, From: 3, To: 5}, Count: 6},
		{Name: "near-linear", Scale: Scale{Kind: NearLinear, Near: 0.1, From: -40, To: 60000}, Count: 9},
		{Name: "near-linear, near zero", Scale: Scale{Kind: NearLinear, Near: 10, From: -20, To: 30}, Count: 5},
		{Name: "near-linear, all there is", Scale: Scale{Kind: NearLinear, Near: 1e-9, From: -math.MaxFloat64, To: math.MaxFloat64}, Count: 7},
		{Name: "every 15,000", Scale: Scale{Kind: Linear, Every: 15000, From: -2000, To: 61000}, Count: 3},
		{Name: "every 0.25", Scale: Scale{Kind: Linear, Every: 0.25, From: 0.1, To: 1.1}, Count: 3},
		{Name: "every 1, too many", Scale: Scale{Kind: Linear, Every: 1, From: 0, To: 1e6}, Count: 5},
		{Name: "every 100, log", Scale: Scale{Kind: Log, Every: 100, From: 20, To: 450}, Count: 5},
		{Name: "as 120k", Scale: Scale{Kind: Linear, Form: "120k", From: 0, To: 1.3e6}, Count: 5},
		{Name: "as percent", Scale: Scale{Kind: Linear, Form: "percent", From: 0, To: 0.9}, Count: 5},
		{Name: "at values", Scale: Scale{Kind: Log, At: []float64{100, 2, 7, 2, -5, 9000}, From: 1, To: 400}, Count: 5},
		{Name: "currency", Scale: Scale{Kind: Linear, Form: "currency £", From: -2000, To: 4000}, Count: 4},
		{Name: "currency and pence", Scale: Scale{Kind: Linear, Form: "currency £", From: -1.5, To: 2}, Count: 8},
		{Name: "decimals", Scale: Scale{Kind: Linear, Form: "decimals 3", From: 0, To: 4}, Count: 4},
		{Name: "durations of minutes", Scale: Scale{Kind: Linear, Form: "duration", From: -200, To: 5400}, Count: 6},
		{Name: "durations of seconds", Scale: Scale{Kind: Linear, Form: "duration", From: 0, To: 75}, Count: 6},
		{Name: "durations of parts of a second", Scale: Scale{Kind: Linear, Form: "duration", From: 0, To: 0.8}, Count: 5},
		{Name: "durations of days", Scale: Scale{Kind: Linear, Form: "duration", From: 0, To: 1.3e6}, Count: 6},
		{Name: "durations of years", Scale: Scale{Kind: Linear, Form: "duration", From: 0, To: 3e9}, Count: 6},
		{Name: "durations, log", Scale: Scale{Kind: Log, Form: "duration", From: 2, To: 90000}, Count: 6},
		{Name: "durations, log, near", Scale: Scale{Kind: Log, Form: "duration", From: 70, To: 400}, Count: 5},
		{Name: "durations beyond all", Scale: Scale{Kind: Linear, Form: "duration", From: -1e300, To: 1e300}, Count: 4},
		{Name: "plain years", Scale: Scale{Kind: Linear, Form: "plain", From: 1990, To: 2031}, Count: 5},
	}
	for i := range cases {
		cases[i].Ticks = cases[i].Scale.Ticks(cases[i].Count)
	}
	return cases
}

func TestTicksKeepTheContract(t *testing.T) {
	text, err := json.MarshalIndent(tickCases(), "", " ")
	if err != nil {
		t.Fatal(err)
	}
	golden.Compare(t, "../../contract/ticks.json", append(text, '\n'))
}

func TestNumbersKeepTheContract(t *testing.T) {
	type written struct {
		Value    float64 `json:"value"`
		Decimals int     `json:"decimals"`
		Number   string  `json:"number"`
		Digits4  string  `json:"four_digits"`
	}
	var cases []written
	for _, v := range []float64{0, 1, -1, 0.5, -0.04, 12.345, 1234.5678, -1234567.891, 0.0012345, 1e6, 123456789012, 1e15, -2.5e17, 3.25e-9,
		9999.95} {
		for _, decimals := range []int{0, 2} {
			cases = append(cases, written{v, decimals, Number(v, decimals), Value(v, 4)})
		}
	}
	text, err := json.MarshalIndent(cases, "", " ")
	if err != nil {
		t.Fatal(err)
	}
	golden.Compare(t, "../../contract/numbers.json", append(text, '\n'))
}

// TestTicksHoldTheirPromises checks every golden axis for what any reader of an
// axis relies on, so that a wrong golden cannot be accepted unseen.
// TestDurationsKeepTheContract writes how durations are said for both languages.
func TestDurationsKeepTheContract(t *testing.T) {
	type said struct {
		Seconds float64 `json:"seconds"`
		Said    string  `json:"said"`
	}
	var cases []said
	for _, v := range []float64{0, 0.4, -0.0625, 1e-5, 1e-14, 59.9996, 59.9, 60, 61.5, -3600, 5400, 7505, 86400, 2*86400 - 1, 2 * 86400,
		200_000, 1e7, 1e13, 1e14} {
		cases = append(cases, said{v, InForm("duration", v, "no duration")})
	}
	text, err := json.MarshalIndent(cases, "", " ")
	if err != nil {
		t.Fatal(err)
	}
	golden.Compare(t, "../../contract/durations.json", append(text, '\n'))
}

func TestTicksHoldTheirPromises(t *testing.T) {
	for _, c := range tickCases() {
		low, high := min(c.Scale.From, c.Scale.To), max(c.Scale.From, c.Scale.To)
		labels := map[string]bool{}
		for i, tick := range c.Ticks {
			if tick.Value < low-1e-9*math.Abs(low) || tick.Value > high+1e-9*math.Abs(high) {
				t.Errorf("%s: tick %v lies outside", c.Name, tick.Value)
			}
			if i > 0 && tick.Value <= c.Ticks[i-1].Value {
				t.Errorf("%s: ticks do not rise at %v", c.Name, tick.Value)
			}
			if c.Scale.Kind != Date && labels[tick.Label] {
				t.Errorf("%s: two ticks read %s", c.Name, tick.Label)
			}
			labels[tick.Label] = true
			plain := strings.NewReplacer(",", "", Minus, "-").Replace(tick.Label)
			plain = strings.Replace(plain, "£", "", 1)
			if value, err := strconv.ParseFloat(plain, 64); err == nil && (c.Scale.Kind == Linear || c.Scale.Kind == Log) &&
				math.Abs(value-tick.Value) > 1e-9*math.Abs(tick.Value) {
				t.Errorf("%s: the tick at %v reads %s", c.Name, tick.Value, tick.Label)
			}
		}
		if tight := high-low < 1e-15*high; len(c.Ticks) < 2 && !tight || len(c.Ticks) > 2*c.Count+2 {
			t.Errorf("%s: %d ticks where %d were asked for", c.Name, len(c.Ticks), c.Count)
		}
	}
}

func TestPositionAndPadding(t *testing.T) {
	s := Padded(Log, 1, 1000, 0.05)
	if got := s.Position(math.Sqrt(1000)); math.Abs(got-0.5) > 1e-12 {
		t.Errorf("the middle of a log axis stands at %v", got)
	}
	if low, high := s.Position(1), s.Position(1000); math.Abs(low-0.05) > 1e-12 || math.Abs(high-0.95) > 1e-12 {
		t.Errorf("padded ends stand at %v and %v, want 0.05 and 0.95", low, high)
	}
	if !math.IsNaN(s.Position(0)) {
		t.Error("zero has a place on a log axis")
	}
	for _, kind := range []Kind{Linear, Log, Date} {
		if one := Padded(kind, 7, 7, 0.05); !(one.From < 7 && 7 < one.To) {
			t.Errorf("%s: an axis of one value runs from %v to %v", kind, one.From, one.To)
		}
	}
}

// TestFormsAreChecked holds which ways of writing numbers a column may have.
func TestWhatIsCountedHasItsNumber(t *testing.T) {
	for n, want := range map[int]string{1: "1 row", -1: "−1 row", 0: "0 rows", 2: "2 rows", 1200: "1,200 rows"} {
		if got := Counted(n, "row"); got != want {
			t.Errorf("%d: %q, not %q", n, got, want)
		}
	}
}

func TestFormsAreChecked(t *testing.T) {
	for form, right := range map[string]bool{"": true, "120k": true, "plain": true, "currency £": true, "currency CHF ": true,
		"decimals 3": true, "decimals 0": true,
		"percent 3": false, "decimals": false, "decimals 9": false, "decimals -1": false, "decimals x": false, "currency": false,
		"currency  ": false, "currency of the realm": false, "roman": false} {
		if err := CheckForm(form); (err == nil) != right {
			t.Errorf("%q: %v", form, err)
		}
	}
}
