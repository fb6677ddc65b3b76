package prepare

import (
	"context"
	"errors"
	"math"
	"strings"
	"testing"

	"copperlark/core/reader"
	"copperlark/core/table"
)

const seasons = `apiary,district,season,hive_type,kg,price,fed,h1,h2
A1,Tarn,2029,skep,10,2,1,1,2
A2,Tarn,2030,long,20,3,0,3,4
A3,Brindle,2029,skep,,2,1,5,6
A4,Brindle,2030,long,40,,0,7,8
A5,Low Fen,2029,skep,8,0,1,,9
A1,Tarn,2029,skep,10,2,1,1,2
A7,,2031,long,6,1,,11,12
`

func load(t *testing.T) *table.Table {
	t.Helper()
	data, _, err := reader.Read(context.Background(), strings.NewReader(seasons), reader.Options{})
	if err != nil {
		t.Fatal(err)
	}
	return data
}

// shown writes chosen columns, a line a column.
func shown(t *table.Table, names string) string {
	var lines []string
	for _, name := range strings.Fields(names) {
		c := t.Column(name)
		if c == nil {
			lines = append(lines, "no "+name)
			continue
		}
		values := make([]string, c.Len())
		for i := range values {
			values[i] = c.Value(i)
		}
		lines = append(lines, string(c.Kind)+"|"+strings.Join(values, "~"))
	}
	return strings.Join(lines, "\n")
}

func TestClauses(t *testing.T) {
	for _, test := range []struct{ typed, columns, want string }{
		{"keep season = '2029' and kg > 5", "apiary", "category|A1~A5~A1"},
		{"leave out missing kg, price", "kg", "number|10~20~8~10~6"},
		{"work out income = kg * price", "income", "number|20~60~~~0~20~6"},
		{"work out kg = kg + 1\nkeep kg > 20", "kg", "number|21~41"},
		{"drop duplicates", "apiary", "category|A1~A2~A3~A4~A5~A7"},
		{"drop duplicates of district", "apiary", "category|A1~A3~A5~A7"},
		{"sort by kg descending, apiary", "apiary", "category|A4~A2~A1~A1~A5~A7~A3"},
		{"read fed as number\nread price as category", "fed price", "number|1~0~1~0~1~1~\ncategory|2~3~2~~0~2~1"},
		{"read season as number\nwork out age = 2032 - season", "age", "number|3~2~3~2~3~3~1"},
		{"join names district, hive_type into plot", "plot", "ordered|Tarn · skep~Tarn · long~Brindle · skep~Brindle · long~Low Fen · skep~Tarn · skep~"},
		{"for each district: mean_kg = mean(kg), hives = count(), known = count(kg), best = max(kg * 2)", "district mean_kg hives known best",
			"category|Brindle~Low Fen~Tarn\nnumber|40~8~13.333333333333334\nnumber|2~1~3\nnumber|1~1~3\nnumber|80~16~40"},
		{"for each district, season: total = sum(kg)", "district season total", "category|Brindle~Brindle~Low Fen~Tarn~Tarn\nordered|2029~2030~2029~2029~2030\nnumber|~40~8~20~20"},
		{"for each hive_type: share = mean(fed), q = quantile(kg, 0.5)", "share q", "number|0~1\nnumber|20~10"},
		{"keep apiary in ('A1', 'A5')\nstack h1 to h2 into hive, weight", "apiary hive weight", "category|A1~A1~A5~A5~A1~A1\nordered|h1~h2~h1~h2~h1~h2\nnumber|1~2~~9~1~2"},
		{"keep top 1 district by sum(kg + 1)", "apiary", "category|A1~A2~A1"},
		{"keep top 1 district by sum(kg + 1), rest as 'Other'", "district", "ordered|Tarn~Tarn~Other~Other~Other~Tarn~"},
		{"order district by mean(kg) descending\nfor each district: n = count()", "district", "ordered|Brindle~Tarn~Low Fen"},
		{"order district as 'Tarn', 'Low Fen'\nfor each district: n = count()", "district", "ordered|Tarn~Low Fen~Brindle"},
		{"off keep kg > 1000\ntake seasons", "apiary", "category|A1~A2~A3~A4~A5~A1~A7"},
	} {
		got, effects, err := Run(context.Background(), load(t), Parse(test.typed), 1)
		if err != nil {
			t.Errorf("%s: %v", test.typed, err)
			continue
		}
		if have := shown(got, test.columns); have != test.want {
			t.Errorf("%s: got\n%s\nwant\n%s", test.typed, have, test.want)
		}
		if len(effects) != len(Parse(test.typed)) || effects[len(effects)-1].After != got.Rows() {
			t.Errorf("%s: effects %+v", test.typed, effects)
		}
	}
}

func TestGroupsWithoutRowsAreGone(t *testing.T) {
	got, _, err := Run(context.Background(), load(t), Parse("keep district <> 'Low Fen' and season < '2031'"), 1)
	if err != nil {
		t.Fatal(err)
	}
	if levels := strings.Join(got.Column("district").Levels, "~"); levels != "Brindle~Tarn" {
		t.Errorf("districts: %s", levels)
	}
}

func TestMeaningsAreKept(t *testing.T) {
	got, _, err := Run(context.Background(), load(t), Parse("read kg in 'kg per hive' meaning 'Honey; it''s weighed' called 'Honey yield'"), 1)
	if err != nil {
		t.Fatal(err)
	}
	if c := got.Column("kg"); c.Unit != "kg per hive" || c.Meaning != "Honey; it's weighed" || c.ReadableName() != "Honey yield" {
		t.Errorf("%+v", c)
	}
}

func TestTheTableGivenIsNeverChanged(t *testing.T) {
	data := load(t)
	before := shown(data, strings.Join(data.Names(), " "))
	for _, example := range Examples() {
		_, _, _ = Run(context.Background(), data, []Clause{{Text: example[1]}}, 1)
	}
	_, _, err := Run(context.Background(), data, Parse("order district by mean(kg)\nkeep top 1 district by sum(kg + 1), rest as 'x'\nread price as category\nsort by kg"), 1)
	if err != nil {
		t.Fatal(err)
	}
	if after := shown(data, strings.Join(data.Names(), " ")); after != before {
		t.Errorf("the table became\n%s", after)
	}
}

func TestMistakesNameClauseAndPlace(t *testing.T) {
	for typed, want := range map[string]Mistake{
		"take x\nkeep kgs > 3":              {1, 5, 8, "no column kgs", "did you mean kg?"},
		"kepe kg > 3":                       {0, 0, 4, "no clause begins with kepe", "did you mean keep?"},
		"work out x = ln(district)":         {0, 16, 24, "expected a number", "cast"},
		"for each district: m = man(kg)":    {0, 23, 30, "no aggregate is called man", "mean"},
		"for each district: m = mean(kgs)":  {0, 28, 31, "no column kgs", "did you mean kg?"},
		"sort by kg upwards":                {0, 11, 18, "upwards is not expected here", "sort by income"},
		"read kg as colour":                 {0, 11, 17, "no kind is called colour", "say number"},
		"stack district, kg into a, b":      {0, 0, 28, "stack needs columns of numbers", "stack hive_1"},
		"keep kg + 1":                       {0, 5, 11, "a condition is true or false", "compare it"},
		"leave out missing 'kg'":            {0, 18, 22, "expected a name", "leave out missing"},
		"keep top many district by count()": {0, 9, 13, "expected how many", "keep top 12"},
		"for each kg":                       {0, 11, 12, "expected :", "for each season"},
	} {
		_, _, err := Run(context.Background(), load(t), Parse(typed), 1)
		var got *Mistake
		if !errors.As(err, &got) {
			t.Errorf("%s: %v", typed, err)
			continue
		}
		if got.Clause != want.Clause || got.From != want.From || got.To != want.To || !strings.Contains(got.Message, want.Message) || !strings.Contains(got.Advice, want.Advice) {
			t.Errorf("%s: %+v", typed, *got)
		}
	}
}

func TestTypedAndListedAreTheSame(t *testing.T) {
	const typed = "take seasons\noff keep kg > 3\nsort by kg\n"
	if got := Print(Parse(typed)); got != typed {
		t.Errorf("got %q", got)
	}
}

func FuzzRun(f *testing.F) {
	for _, example := range Examples() {
		f.Add(example[1])
	}
	f.Add("work out x = uniform(0, 1)\nfor each fed: y = quantile(x, 0.5)")
	data, _, _ := reader.Read(context.Background(), strings.NewReader(seasons), reader.Options{})
	f.Fuzz(func(t *testing.T, typed string) {
		got, effects, err := Run(context.Background(), data, Parse(typed), 1)
		if err != nil {
			return
		}
		for _, c := range got.Columns() {
			if c.Len() != got.Rows() {
				t.Fatalf("column %s has %d of %d rows", c.Name, c.Len(), got.Rows())
			}
		}
		for _, e := range effects {
			if e.Before < 0 || math.MaxInt32 < e.After {
				t.Fatalf("effect %+v", e)
			}
		}
	})
}
