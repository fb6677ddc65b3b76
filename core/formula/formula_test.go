package formula

import (
	"context"
	"errors"
	"math"
	"math/rand/v2"
	"strings"
	"testing"

	"copperlark/core/table"
)

func small(t *testing.T) *table.Table {
	t.Helper()
	data, err := table.New(
		table.NewNumbers("kg", []float64{1, 0, -4, math.NaN()}),
		table.NewCategory("district", []string{"Tarn", "Brindle", "", "Tarn"}),
		&table.Column{Name: "Größe (m)", Kind: table.Number, Numbers: []float64{1, 2, 3, 4}},
		&table.Column{Name: "walk", Kind: table.Duration, Numbers: []float64{90, 3600, math.NaN(), 7500}},
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: []float64{0, 86400, 10 * 86400, math.NaN()}},
	)
	if err != nil {
		t.Fatal(err)
	}
	return data
}

func TestExpressions(t *testing.T) {
	data := small(t)
	for expression, want := range map[string]string{
		"kg * 2 + 1":          "3~1~-7~",
		"1 / kg":              "1~~-0.25~",
		"-kg ^ 2 + 2 ^ 3 ^ 2": "511~512~496~",
		"2 ^ -kg * 3":         "1.5~3~48~",
		"ln(kg)":              "0~~~",
		"\"Größe (m)\" - kg":  "0~2~7~",
		"KG ≥ 0":              "yes~yes~no~",
		"case when kg > 0 then 'up' else district end": "up~Brindle~~Tarn",
		"day - date '1970-01-02'":                      "-1~0~9~",
		"day + 1":                                      "1970-01-02~1970-01-03~1970-01-12~",
		"day < '1970-01-05'":                           "yes~yes~no~",
		"cast(kg as text) || ' kg'":                    "1 kg~0 kg~-4 kg~",
		"cast('12.5' as number)":                       "12.5~12.5~12.5~12.5",
		"row_number() * 10":                            "10~20~30~40",
		"running_sum(kg)":                              "1~1~-3~",
		"lag(kg)":                                      "~1~0~-4",
		"lead(kg, 2)":                                  "-4~~~",
		"lag(kg) within district":                      "~~~1",
		"rank(kg)":                                     "3~2~1~",
		"mid_rank(kg * 0)":                             "2~2~2~",
		"moving_mean(kg, 2)":                           "1~0.5~-2~-4",
		"centred_mean(kg, 3)":                          "0.5~-1~-2~-4",
		"z_score(kg) within district":                  "~~~",
		"share_of_total(abs(kg))":                      "0.2~0~0.8~",
		"equal_groups(kg, 2)":                          "2~1~1~",
		"rank(kg) within (district, kg) + 1":           "2~2~2~",
		"walk >= '1 h'":                                "no~yes~~yes",
		"walk between '1:00' and '90 min'":             "yes~yes~~no",
		"walk in ('PT1H', '2 h 5 min', '90')":          "yes~yes~~yes",
		"2 * walk = '3 min'":                           "yes~no~~no",
		"kg = '1'":                                     "yes~no~no~",
		"kg in ('1', '-4')":                            "yes~no~yes~",
		"cast(kg as text) >= 0":                        "yes~yes~no~",
		"kg between '0' and '1.5'":                     "yes~yes~no~",
		"district in ('Tarn', 'Low Fen')":              "yes~no~~yes",
		"round(2.345, 2)":                              "2.35~2.35~2.35~2.35",
		"mod(-7, 3)":                                   "-1~-1~-1~-1",
		"- - 3":                                        "3~3~3~3",
		"null":                                         "~~~",
	} {
		f, err := Parse(expression)
		if err != nil {
			t.Errorf("%s: %v", expression, err)
			continue
		}
		c, _, err := f.Column(context.Background(), data, "new", 1)
		if err != nil {
			t.Errorf("%s: %v", expression, err)
			continue
		}
		values := make([]string, c.Len())
		for i := range values {
			values[i] = c.Value(i)
		}
		if got := strings.Join(values, "~"); got != want {
			t.Errorf("%s: got %s, want %s", expression, got, want)
		}
	}
}

func TestWhatHasNoValueIsCounted(t *testing.T) {
	f, _ := Parse("1 / kg + ln(kg)")
	_, faults, err := f.Column(context.Background(), small(t), "new", 1)
	if err != nil || faults != 3 { // 1/0; ln(0) and ln(-4)
		t.Errorf("%d faults, %v", faults, err)
	}
}

func TestMistakesHaveAPlaceAndAdvice(t *testing.T) {
	data := small(t)
	for expression, want := range map[string]struct {
		from, to        int
		message, advice string
	}{
		"kgs + 1":                                  {0, 3, "no column kgs", "did you mean kg?"},
		"moving_mean(kg, 0)":                       {16, 17, "a whole number of at least 1", "say 3"},
		"moving_mean(kg)":                          {0, 11, "moving_mean takes 2 values", "moving_mean(honey_kg, 3)"},
		"lag(kg, kg)":                              {8, 10, "a whole number of at least 1", "say 3"},
		"rank(kg) within":                          {15, 16, "expected a value", "say a column"},
		"rank(kg) within (kg":                      {19, 20, "expected )", ""},
		"ln(kg) within kg":                         {7, 13, "is not expected here", ""},
		"regexp_replace(district, '(', 'x')":       {25, 28, "this is no pattern", "stands for itself"},
		"regexp_replace(district, district, 'x')":  {25, 33, "the same for all rows", "single quotes"},
		"regexp_replace(district, 'a', 'x', 'gz')": {35, 39, "no flag is called z", "take 'g'"},
		"position(district)":                       {17, 18, "expected the word in", "position('-' in apiary)"},
		"split_part(district, 'a')":                {0, 10, "split_part takes 3 values", "split_part(apiary"},
		"kg + district":                            {5, 13, "+ needs numbers", "||"},
		"lnn(kg)":                                  {0, 3, "no function is called lnn", "did you mean ln?"},
		"ln(kg, 2)":                                {0, 2, "ln takes one value", "ln("},
		"kg +":                                     {4, 5, "expected a value", "say a column"},
		"'open":                                    {0, 1, "never closed", "close it"},
		"kg > 1 and district":                      {11, 19, "expected a yes / no", "compare it"},
		"case kg end":                              {8, 11, "expected the word when", "case when"},
		"kg & 1":                                   {3, 4, "has no meaning here", "double quotes"},
		"walk > 'long'":                            {7, 13, "is no length of time", "90 min"},
		"kg = district":                            {5, 13, "cannot be compared", "cast"},
		"cast(kg as colour)":                       {11, 17, "no kind is called colour", "cast to"},
	} {
		f, err := Parse(expression)
		if err == nil {
			_, _, err = f.Column(context.Background(), data, "new", 1)
		}
		var mistake *Error
		if !errors.As(err, &mistake) {
			t.Errorf("%s: %v", expression, err)
			continue
		}
		if mistake.From != want.from || mistake.To != want.to || !strings.Contains(mistake.Message, want.message) ||
			!strings.Contains(mistake.Advice, want.advice) {
			t.Errorf("%s: %+v", expression, *mistake)
		}
	}
}

func TestRandomColumnsFollowTheSeed(t *testing.T) {
	rows := make([]float64, 5000)
	data, _ := table.New(table.NewNumbers("x", rows))
	column := func(expression string, seed uint64) *table.Column {
		f, err := Parse(expression)
		if err != nil {
			t.Fatal(err)
		}
		c, _, err := f.Column(context.Background(), data, "new", seed)
		if err != nil {
			t.Fatal(err)
		}
		return c
	}
	a, b, c := column("normal(10, 2)", 1), column("normal(10, 2)", 1), column("normal(10, 2)", 2)
	sum := 0.0
	for i := range rows {
		sum += a.Numbers[i]
		if a.Numbers[i] != b.Numbers[i] {
			t.Fatal("the same seed gives other numbers")
		}
	}
	if mean := sum / 5000; math.Abs(mean-10) > 0.15 || a.Numbers[0] == c.Numbers[0] {
		t.Errorf("the mean is %v", mean)
	}
	if d := column("uniform(0, 1) - uniform(0, 1)", 1); d.Numbers[0] == 0 && d.Numbers[1] == 0 {
		t.Error("two places of an expression draw the same numbers")
	}
}

// FuzzFormula holds that no text makes a panic, and that what is given is as long
// as the table.
func FuzzFormula(f *testing.F) {
	for _, seed := range []string{"ln(a + 1) * b", "case when p then 'x' end", "s like '%%%a_' || u", "((((", "not not -- 1",
		"extract(year from d) between 1 and null", "substring(s from -1e300 for 1e300)"} {
		f.Add(seed)
	}
	data, _ := sample(rand.New(rand.NewPCG(1, 1)), 20)
	f.Fuzz(func(t *testing.T, text string) {
		parsed, err := Parse(text)
		if err != nil {
			return
		}
		c, _, err := parsed.Column(context.Background(), data, "new", 1)
		if err == nil && c.Len() != data.Rows() {
			t.Fatalf("%q gives %d values", text, c.Len())
		}
		_, _ = parsed.Rows(context.Background(), data, 1)
	})
}

// A text that is doubled again and again ends, with faults counted and no memory gone.
func TestTextsDoNotGrowWithoutEnd(t *testing.T) {
	data, err := table.New(table.NewCategory("t", []string{"lark", "", "a"}))
	if err != nil {
		t.Fatal(err)
	}
	faults := 0
	for range 30 {
		for _, text := range []string{"t || t", "replace(t, 'a', t || t)"} {
			f, err := Parse(text)
			if err != nil {
				t.Fatal(err)
			}
			column, lost, err := f.Column(context.Background(), data, "t", 1)
			if err != nil {
				t.Fatal(err)
			}
			faults += lost
			for _, level := range column.Levels {
				if len(level) > mostTextBytes {
					t.Fatalf("a text of %d bytes", len(level))
				}
			}
			if data, err = table.New(column); err != nil {
				t.Fatal(err)
			}
		}
	}
	if faults != 2 || data.Column("t").MissingCount() != 3 {
		t.Errorf("%d faults, %d missing", faults, data.Column("t").MissingCount())
	}
}
