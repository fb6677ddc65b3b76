package prepare

import (
	"context"
	"errors"
	"fmt"
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

// stands and later are the other datasets of the tests.
const (
	stands = `stand,keeper,district
A1,Odo,x
A1,Wen,y
A3,Odo,z
,Nemo,x
Z9,Ire,x
`
	later = `apiary,season,kg,colour
B1,2032,5,blue
B2,2033,,red
`
)

// others is an environment with two other datasets.
var others = Environment{Seed: 1, Name: "seasons", Dataset: func(ctx context.Context, name string, version int) (*table.Table, error) {
	content, known := map[string]string{"stands": stands, "later ones": later}[name]
	if !known || version > 1 {
		return nil, fmt.Errorf("no dataset is called %s", name)
	}
	t, _, err := reader.Read(ctx, strings.NewReader(content), reader.Options{})
	return t, err
}}

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
		{"read kg in 'min'\nread kg as duration\nwork out twice = kg * 2 + 30\nwork out share = twice / kg\nwork out less = -abs(kg)",
			"kg twice share less",
			"duration|0:10:00~0:20:00~~0:40:00~0:08:00~0:10:00~0:06:00\nduration|0:20:30~0:40:30~~1:20:30~0:16:30~0:20:30~0:12:30\nnumber|2.05~2.025~~2.0125~2.0625~2.05~2.0833333333333335\nduration|-0:10:00~-0:20:00~~-0:40:00~-0:08:00~-0:10:00~-0:06:00"},
		{"read kg as duration\nfor all: n = count(kg), m = mean(kg), t = sum(kg * 60), s = max(kg) ", "n m t s",
			"number|6\nduration|0:00:15.666667\nduration|1:34:00\nduration|0:00:40"},
		{"read kg as duration\nread kg as number\nkeep kg > 10", "kg", "number|20~40"},
		{"read fed as number\nread price as category", "fed price", "number|1~0~1~0~1~1~\ncategory|2~3~2~~0~2~1"},
		{"read season as number\nwork out age = 2032 - season", "age", "number|3~2~3~2~3~3~1"},
		{"join names district, hive_type into plot", "plot",
			"ordered|Tarn · skep~Tarn · long~Brindle · skep~Brindle · long~Low Fen · skep~Tarn · skep~"},
		{"for each district: mean_kg = mean(kg), hives = count(), known = count(kg), best = max(kg * 2)", "district mean_kg hives known best",
			"category|Brindle~Low Fen~Tarn~\nnumber|40~8~13.333333333333334~6\nnumber|2~1~3~1\nnumber|1~1~3~1\nnumber|80~16~40~12"},
		{"for each hive_type: places = count(distinct district), start = first(kg), end = last(district), usual = mode(price)",
			"hive_type places start end usual",
			"category|long~skep\nnumber|2~3\nnumber|20~10\ncategory|Brindle~Tarn\nnumber|1~2"},
		{"read kg in 'kg'\nread price as number\nfor each hive_type: r = corr(price * 2, price), b = regr_slope(h2 * 4, h1), none = corr(kg, 1)",
			"hive_type r b none", "category|long~skep\nnumber|1~1\nnumber|4~4\nnumber|~"},
		{"for all: n = count(), m = max(kg)", "n m", "number|7\nnumber|40"},
		{"keep kg > 1000\nfor all: n = count(), m = mean(kg), f = first(district)", "n m f", "number|0\nnumber|\ncategory|"},
		{"work out half = least(kg, 10)\nkeep top 1 hive_type by last(kg)", "apiary", "category|A1~A3~A5~A1"},
		{"for each district, season: total = sum(kg)", "district season total",
			"category|Brindle~Brindle~Low Fen~Tarn~Tarn~\nnumber|2029~2030~2029~2029~2030~2031\nnumber|~40~8~20~20~6"},
		{"for each hive_type: share = mean(fed), q = quantile(kg, 0.5)", "share q", "number|0~1\nnumber|20~10"},
		{"keep apiary in ('A1', 'A5')\nstack h1 to h2 into hive, weight", "apiary hive weight",
			"category|A1~A1~A5~A5~A1~A1\nordered|h1~h2~h1~h2~h1~h2\nnumber|1~2~~9~1~2"},
		{"keep apiary in ('A1', 'A7')\nstack district, hive_type into what, name", "what name",
			"ordered|district~hive_type~district~hive_type~district~hive_type\ncategory|Tarn~skep~Tarn~skep~~long"},
		{"keep apiary in ('A1', 'A7')\nwork out none = case when kg > 100 then 'x' end\nstack none, kg into what, amount", "amount",
			"number|~10~~10~~6"},
		{"keep apiary in ('A4', 'A7')\nwork out fed_too = fed\nstack fed, fed_too into what, was", "was", "yes / no|no~no~~"},
		{"keep top 1 district by sum(kg + 1)", "apiary", "category|A1~A2~A1"},
		{"keep top 1 district by sum(kg + 1), rest as 'Other'", "district", "ordered|Tarn~Tarn~Other~Other~Other~Tarn~"},
		{"order district by mean(kg) descending\nfor each district: n = count()", "district", "ordered|Brindle~Tarn~Low Fen~"},
		{"order district as 'Tarn', 'Low Fen'\nfor each district: n = count()", "district", "ordered|Tarn~Low Fen~Brindle~"},
		{"join stands by apiary = stand", "apiary kg keeper district_stands",
			"category|A1~A1~A2~A3~A4~A5~A1~A1~A7\nnumber|10~10~20~~40~8~10~10~6\ncategory|Odo~Wen~~Odo~~~Odo~Wen~\ncategory|x~y~~z~~~x~y~"},
		{"drop duplicates\njoin 'stands' version 1 by apiary = stand keeping matched rows", "apiary keeper",
			"category|A1~A1~A3\ncategory|Odo~Wen~Odo"},
		{"add rows of 'later ones' naming each in source\nkeep kg < 9 or colour = 'red'", "apiary season kg colour source h1",
			"category|A5~A7~B1~B2\nnumber|2029~2031~2032~2033\nnumber|8~6~5~\ncategory|~~blue~red\ncategory|seasons~seasons~later ones~later ones\nnumber|~11~~"},
		{"stack h1 to h2 into hive, weight\ndrop duplicates of apiary, hive\nlay out weight by hive for each apiary, price", "apiary h1 h2",
			"category|A1~A2~A3~A4~A5~A7\nnumber|1~3~5~7~~11\nnumber|2~4~6~8~9~12"},
		{"lay out sum(kg) by hive_type for each district", "district skep long",
			"category|Tarn~Brindle~Low Fen~\nnumber|20~~8~\nnumber|20~40~~6"},
		{"keep apiary in ('A2', 'A3')\nlay out district by apiary for each season", "season A2 A3",
			"number|2030~2029\ncategory|Tarn~\ncategory|~Brindle"},
		{"read fed with 'no' as 'not fed', 'yes' as 'fed in autumn'", "fed",
			"yes / no|fed in autumn~not fed~fed in autumn~not fed~fed in autumn~fed in autumn~"},
		{"read price as category with '2' as 'some', '3' as 'some'", "price", "category|some~some~some~~0~some~1"},
		{"keep columns kg, apiary\nkeep kg > 10", "kg apiary price", "number|20~40\ncategory|A2~A4\nno price"},
		{"drop columns price, district\nrename kg to apiary, apiary to kg", "apiary kg district",
			"number|10~20~~40~8~10~6\ncategory|A1~A2~A3~A4~A5~A1~A7\nno district"},
		{"fill down kg, district", "kg district", "number|10~20~20~40~8~10~6\ncategory|Tarn~Tarn~Brindle~Brindle~Low Fen~Tarn~Tarn"},
		{"fill down price, kg within hive_type", "price kg", "number|2~3~2~3~0~2~1\nnumber|10~20~10~40~8~10~6"},
		{"fill down h1 within district", "h1", "number|1~3~5~7~~1~11"},
		{"sample 900 rows", "apiary", "category|A1~A2~A3~A4~A5~A1~A7"},
		{"lay out count() by district for each hive_type", "hive_type Tarn no_district", "category|skep~long\nnumber|2~1\nnumber|0~1"},
		{"sample 1 row of each hive_type\nfor each hive_type: n = count()", "hive_type n", "category|long~skep\nnumber|1~1"},
		{"bin kg at 10, 20 into band", "band", "ordered|10 to 20~20 and above~~20 and above~below 10~10 to 20~below 10"},
		{"bin kg in 2 equal widths into band", "band", "ordered|6 to 23~6 to 23~~23 to 40~6 to 23~6 to 23~6 to 23"},
		{"bin kg in 2 equal counts into band", "band", "ordered|10 to 40~10 to 40~~10 to 40~6 to 10~10 to 40~6 to 10"},
		{"work out k = kg / 3\nbin k in 3 equal widths into band", "band",
			"ordered|2 to 5.78~5.78 to 9.56~~9.56 to 13.33333~2 to 5.78~2 to 5.78~2 to 5.78"},
		{"keep kg is null\nbin kg in 3 equal widths into band", "band", "ordered|"},
		{"recode district: 'Tarn', 'Brindle' as 'hills'", "district", "category|hills~hills~hills~hills~Low Fen~hills~"},
		{"recode season: '2029' as 'before', '2030' as 'then'; rest as 'later'", "season",
			"category|before~then~before~then~before~before~later"},
		{"off keep kg > 1000\ntake seasons", "apiary", "category|A1~A2~A3~A4~A5~A1~A7"},
	} {
		state, err := Run(context.Background(), load(t), Parse(test.typed), others)
		if err != nil {
			t.Errorf("%s: %v", test.typed, err)
			continue
		}
		got, effects := state.Table, state.Effects
		if have := shown(got, test.columns); have != test.want {
			t.Errorf("%s: got\n%s\nwant\n%s", test.typed, have, test.want)
		}
		if len(effects) != len(Parse(test.typed)) || effects[len(effects)-1].After != got.Rows() {
			t.Errorf("%s: effects %+v", test.typed, effects)
		}
	}
}

func TestGroupsWithoutRowsAreGone(t *testing.T) {
	state, err := Run(context.Background(), load(t), Parse("keep district <> 'Low Fen' and season < '2031'"), others)
	if err != nil {
		t.Fatal(err)
	}
	if levels := strings.Join(state.Table.Column("district").Levels, "~"); levels != "Brindle~Tarn" {
		t.Errorf("districts: %s", levels)
	}
}

func TestMeaningsAreKept(t *testing.T) {
	state, err := Run(context.Background(), load(t), Parse("read kg in 'kg per hive' meaning 'Honey; it''s weighed' called 'Honey yield'"),
		others)
	if err != nil {
		t.Fatal(err)
	}
	if c := state.Table.Column("kg"); c.Unit != "kg per hive" || c.Meaning != "Honey; it's weighed" || c.ReadableName() != "Honey yield" {
		t.Errorf("%+v", c)
	}
}

func TestTheTableGivenIsNeverChanged(t *testing.T) {
	data := load(t)
	before := shown(data, strings.Join(data.Names(), " "))
	for _, example := range Examples() {
		_, _ = Run(context.Background(), data, []Clause{{Text: example[1]}}, others)
	}
	_, err := Run(context.Background(), data,
		Parse("order district by mean(kg)\nkeep top 1 district by sum(kg + 1), rest as 'x'\nread price as category\nread district with 'Tarn' as 'T'\nsort by kg"), others)
	if err != nil {
		t.Fatal(err)
	}
	if after := shown(data, strings.Join(data.Names(), " ")); after != before {
		t.Errorf("the table became\n%s", after)
	}
}

func TestMistakesNameClauseAndPlace(t *testing.T) {
	for typed, want := range map[string]Mistake{
		"take x\nkeep kgs > 3":                   {1, 5, 8, "no column kgs", "did you mean kg?"},
		"kepe kg > 3":                            {0, 0, 4, "no clause begins with kepe", "did you mean keep?"},
		"work out x = ln(district)":              {0, 16, 24, "expected a number", "cast"},
		"for each district: m = corr(kg)":        {0, 23, 31, "corr needs two columns", "corr(honey_kg, mites)"},
		"for each district: m = corr(kg, prise)": {0, 32, 37, "no column prise", "price"},
		"for each kg: m = count(distinct prise)": {0, 32, 37, "no column prise", "price"},
		"order season by first(district)":        {0, 16, 31, "first needs numbers", "count()"},
		"for each district: m = man(kg)":         {0, 23, 30, "no aggregate is called man", "mean"},
		"for each district: m = mean(kgs)":       {0, 28, 31, "no column kgs", "did you mean kg?"},
		"drop columns apiary, district, season, hive_type, kg, price, fed, h1, h2": {0, 0, 72, "this leaves no column", "keep one"},
		"rename kg to price":                        {0, 13, 18, "two columns would be called price", "another name"},
		"bin district in 3 equal widths into d":     {0, 4, 12, "bin needs a column of numbers", "read it as number"},
		"bin kg in 1 equal widths into d":           {0, 10, 11, "expected 2 to 100", ""},
		"recode district: 'Tran' as 'x'":            {0, 17, 23, "district has no value Tran", "Tarn"},
		"recode district: 'Tarn', 'Tarn' as 'x'":    {0, 25, 31, "Tarn is gathered twice", "once"},
		"sample some rows":                          {0, 7, 11, "expected how many rows", "sample 500 rows"},
		"sort by kg upwards":                        {0, 11, 18, "upwards is not expected here", "sort by income"},
		"read kg as colour":                         {0, 11, 17, "expected a kind: number, category", "read fed as yes/no"},
		"stack district, kg into a, b":              {0, 0, 28, "one column cannot hold both", "read them as category"},
		"keep kg + 1":                               {0, 5, 11, "a condition is true or false", "compare it"},
		"leave out missing 'kg'":                    {0, 18, 22, "expected a column", "leave out missing"},
		"keep top many district by count()":         {0, 9, 13, "expected how many", "keep top 12"},
		"join stands by apiary":                     {0, 15, 21, "stands has no column apiary", "its columns are stand, keeper"},
		"join stalls by apiary":                     {0, 5, 11, "no dataset is called stalls", "in quotes"},
		"join stands version x by apiary":           {0, 20, 21, "expected the number of a version", "version 2"},
		"lay out kg by hive_type for each district": {0, 8, 10, "skep has more than one kg for the same row: rows 1 and 6", "mean(kg)"},
		"make 5 rows":                               {0, 0, 4, "there is one already", "front page"},
		"read fed with 'maybe' as 'x'":              {0, 14, 21, "fed has no value maybe", "no, yes"},
		"for each kg":                               {0, 11, 12, "expected :", "for each season"},
	} {
		_, err := Run(context.Background(), load(t), Parse(typed), others)
		var got *Mistake
		if !errors.As(err, &got) {
			t.Errorf("%s: %v", typed, err)
			continue
		}
		if got.Clause != want.Clause || got.From != want.From || got.To != want.To || !strings.Contains(got.Message, want.Message) ||
			!strings.Contains(got.Advice, want.Advice) {
			t.Errorf("%s: %+v", typed, *got)
		}
	}
}

// Rows that clauses took away are told apart by the row they were at first, through
// sorting, joining and stacking, until rows are made anew.
func TestRowsLeftOutAreKnown(t *testing.T) {
	for typed, want := range map[string]string{
		"keep kg > 7\nsort by kg\ndrop duplicates":                                  "2/0 6/0 5/2",
		"join stands by apiary = stand keeping matched rows\nkeep keeper <> 'Odo'":  "1/0 3/0 4/0 6/0 0/1 2/1 5/1",
		"stack h1 to h2 into hive, weight\nleave out missing weight":                "4/1",
		"leave out missing kg\nfor each district: n = count()\nkeep n > 1":          "2/0",
		"off keep kg > 1000\nwork out x = 1\nleave out missing price, kg\nkeep fed": "2/2 3/2 1/3 6/3",
	} {
		state, err := Run(context.Background(), load(t), Parse(typed), others)
		if err != nil {
			t.Errorf("%s: %v", typed, err)
			continue
		}
		var got []string
		for _, gone := range state.LeftOut {
			got = append(got, fmt.Sprintf("%d/%d", gone.Row, gone.Clause))
		}
		if strings.Join(got, " ") != want {
			t.Errorf("%s: got %v, want %s", typed, got, want)
		}
	}
}

// What a clause would make beyond the limits is refused before it is made.
func TestClausesKeepToTheirLimits(t *testing.T) {
	small := others
	small.MaxRows = 12
	for typed, want := range map[string]string{
		"stack h1 to h2 into hive, weight":                             "more than 12 rows",
		"add rows of 'later ones', 'later ones', 'later ones'":         "more than 12 rows",
		"join stands by apiary = stand\njoin stands by apiary = stand": "more than 12 rows",
	} {
		_, err := Run(context.Background(), load(t), Parse(typed), small)
		var mistake *Mistake
		if !errors.As(err, &mistake) || !strings.Contains(mistake.Message, want) || mistake.Advice == "" {
			t.Errorf("%s: %v", typed, err)
		}
	}
	levels := make([]string, 20_000)
	for i := range levels {
		levels[i] = fmt.Sprint(i)
	}
	wide, err := table.New(table.NewCategory("key", levels), table.NewCategory("over", levels),
		table.NewNumbers("v", make([]float64, len(levels))))
	if err != nil {
		t.Fatal(err)
	}
	var mistake *Mistake
	if _, err := Run(context.Background(), wide, Parse("lay out v by over for each key"), others); !errors.As(err, &mistake) ||
		!strings.Contains(mistake.Message, "more than 200,000,000 values") {
		t.Errorf("400,000,000 cells: %v", err)
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
	f.Add("for each district: n = count()\njoin apiaries by district = place keeping matched rows\nlay out n by keeper for each place\nmake 3 rows")
	data, _, _ := reader.Read(context.Background(), strings.NewReader(seasons), reader.Options{})
	f.Fuzz(func(t *testing.T, typed string) {
		small := others
		small.MaxRows = 10_000
		state, err := Run(context.Background(), data, Parse(typed), small)
		if err != nil {
			return
		}
		for _, c := range state.Table.Columns() {
			if c.Len() != state.Table.Rows() {
				t.Fatalf("column %s has %d of %d rows", c.Name, c.Len(), state.Table.Rows())
			}
		}
		for _, e := range state.Effects {
			if e.Before < 0 || math.MaxInt32 < e.After {
				t.Fatalf("effect %+v", e)
			}
		}
	})
}
