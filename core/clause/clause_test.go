package clause

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"strings"
	"testing"

	"copperlark/core/table"
)

// visit is a small document that says a little of everything that pieces can say.
type visit struct {
	Hive     string
	Others   []string
	Frames   int
	Weight   float64
	Note     string
	Calm     bool
	Words    []string
	From, To float64
	Dates    bool
	Limited  bool
	Where    string
	Named    string
	Table    string
	Codes    []string
	Steps    []*step
	Weights  []float64
}

type step struct {
	Column string
	Down   bool
}

// grammar is a language about visits: one clause for each piece.
var grammar = New(Grammar[visit]{First: "visit", Missing: "no hive is visited", MissingAdvice: "say visit and a column",
	Clauses: []Clause[visit]{
		{Name: "visit", Pieces: append([]Piece{Column(func(v *visit) *string { return &v.Hive })},
			MoreColumns(func(v *visit) *[]string { return &v.Others })),
			Help: "goes to a hive", Example: "visit hive", Said: func(v *visit) bool { return v.Hive != "" }},
		{Name: "frames", Also: []string{"combs"}, Pieces: []Piece{Count(func(v *visit) *int { return &v.Frames },
			Range{From: 1, To: 20, Message: "a hive has 1 to 20 frames", Advice: "say frames 10"})},
			Help: "how many there are", Example: "frames 10", Said: func(v *visit) bool { return v.Frames != 0 }},
		{Name: "weight", Pieces: []Piece{Number(func(v *visit) *float64 { return &v.Weight },
			Range{From: 0, To: 500, Above: true, Message: "no hive weighs that", Advice: "say weight 35", Expected: "a weight"}), Mark("%")},
			Help: "in kilograms", Example: "weight 35", Said: func(v *visit) bool { return v.Weight != 0 }},
		{Name: "note", Pieces: []Piece{Text(func(v *visit) *string { return &v.Note })}, Help: "what was seen", Example: "note 'calm'",
			Said: func(v *visit) bool { return v.Note != "" }},
		{Name: "calm", Pieces: []Piece{Does(func(v *visit) { v.Calm = true })}, Help: "the bees were calm", Example: "calm",
			Said: func(v *visit) bool { return v.Calm }},
		{Name: "with", Pieces: []Piece{WordList(func(v *visit) []string { return v.Words }, func(v *visit, w []string) { v.Words = w }, 2,
			"smoke, veil or gloves", Word{"smoke", "calms"}, Word{"veil", ""}, Word{"gloves", ""})},
			Help: "what was worn", Example: "with smoke and veil", Said: func(v *visit) bool { return len(v.Words) > 0 }},
		{Name: "between", Pieces: []Piece{Moment(func(v *visit) *float64 { return &v.From }, func(v *visit) *bool { return &v.Dates }, true),
			Say("and"), Moment(func(v *visit) *float64 { return &v.To }, func(v *visit) *bool { return &v.Dates }, false),
			Does(func(v *visit) { v.Limited = true })}, Help: "when", Example: "between 1 and 2", Said: func(v *visit) bool { return v.Limited }},
		{Name: "only", Pieces: []Piece{Say("where"), Expression(ExpressionOf[visit]{At: func(v *visit) *string { return &v.Where },
			What: "a condition", Drawn: []string{"kg > 3", "hive in ('a', 'b')"},
			Check: func(text string) (int, int, string, string) {
				if at := strings.Index(text, "!"); at >= 0 {
					return at, at + 1, "! is not expected here", "take it out"
				}
				return 0, 0, "", ""
			}})}, Help: "a condition", Example: "only where kg > 3", Said: func(v *visit) bool { return v.Where != "" }},
		{Name: "call it", Pieces: []Piece{Name(func(v *visit) *string { return &v.Named })}, Help: "a name", Example: "call it spring",
			Said: func(v *visit) bool { return v.Named != "" }},
		{Name: "beside", Pieces: []Piece{TableName(func(v *visit) *string { return &v.Table })}, Help: "another table", Example: "beside weather",
			Said: func(v *visit) bool { return v.Table != "" }},
		{Name: "codes", Pieces: []Piece{Sign("("), Texts(func(v *visit) *[]string { return &v.Codes }), Sign(")")}, Help: "codes",
			Example: "codes('a', 'b')", Said: func(v *visit) bool { return len(v.Codes) > 0 }},
		{Name: "sort by", Pieces: []Piece{Each(func(v *visit) *[]*step { return &v.Steps }, Column(func(s *step) *string { return &s.Column }),
			OneOf("up or down", Option[step]{Pieces: []Piece{Say("down")}, Set: func(s *step) { s.Down = true },
				Is: func(s *step) bool { return s.Down }, Help: "largest first"},
				Option[step]{Is: func(s *step) bool { return !s.Down }}))},
			Help: "in order", Example: "sort by hive down, kg", Said: func(v *visit) bool { return len(v.Steps) > 0 }},
		{Name: "weights", Pieces: []Piece{Numbers(func(v *visit) *[]float64 { return &v.Weights })}, Help: "numbers", Example: "weights 1, 2",
			Said: func(v *visit) bool { return len(v.Weights) > 0 }},
	}})

func visits(t testing.TB) *table.Table {
	t.Helper()
	hive, kg := table.NewCategory("hive", nil), table.NewNumbers("kg", nil)
	kg.Label = "Honey yield"
	out, err := table.New(hive, kg, table.NewNumbers("frames", nil), table.NewNumbers("bee space", nil),
		table.NewNumbers("O'Neil's \"best\"", nil))
	if err != nil {
		t.Fatal(err)
	}
	return out
}

func TestEachPieceIsReadAndWritten(t *testing.T) {
	for typed, want := range map[string]string{
		"visit hive":                                      "visit hive\n",
		"VISIT Hive, KG":                                  "visit hive, kg\n",
		"visit \"frames\"":                                "visit \"frames\"\n", // a word of the language
		"visit \"bee space\", \"honey YIELD\"":            "visit \"bee space\", kg\n",
		"visit \"O'Neil's \"\"best\"\"\"":                 "visit \"O'Neil's \"\"best\"\"\"\n",
		"combs 8\nvisit hive":                             "visit hive\nframes 8\n",
		"visit hive\nweight 35.5%":                        "visit hive\nweight 35.5%\n",
		"visit hive\nweight 35":                           "visit hive\nweight 35%\n",
		"visit hive\nnote 'it''s calm -- & <b>'":          "visit hive\nnote 'it''s calm -- & <b>'\n",
		"calm\nvisit hive":                                "visit hive\ncalm\n",
		"visit hive\nwith veil and smoke":                 "visit hive\nwith veil and smoke\n",
		"visit hive\nbetween -3 and 1e6":                  "visit hive\nbetween -3 and 1000000\n",
		"visit hive\nbetween '2029-03' and '2030'":        "visit hive\nbetween '2029-03-01' and '2030-01-01'\n",
		"visit hive\nonly where kg > 3 and (hive = 'a')":  "visit hive\nonly where kg > 3 and (hive = 'a')\n",
		"visit hive\ncall it spring":                      "visit hive\ncall it spring\n",
		"visit hive\nbeside 'Weather of Thornwick'":       "visit hive\nbeside \"Weather of Thornwick\"\n",
		"visit hive\ncodes('a', 'it''s')":                 "visit hive\ncodes('a', 'it''s')\n",
		"visit hive\nsort by hive down, kg, frames  down": "visit hive\nsort by hive down, kg, \"frames\" down\n",
		"visit hive\nweights 1, -2.5,3":                   "visit hive\nweights 1, -2.5, 3\n",
		"\n\n  visit hive  \n\n":                          "visit hive\n",
	} {
		v, mistakes := grammar.Parse(typed, visits(t))
		if mistakes != nil {
			t.Errorf("%q: %v", typed, mistakes[0])
			continue
		}
		if got := grammar.Print(v); got != want {
			t.Errorf("%q is written %q, want %q", typed, got, want)
		}
	}
}

func TestMistakesOfPiecesStandAtTheirPlace(t *testing.T) {
	for _, test := range []struct {
		typed                string
		line, column, length int
		message, advice      string
	}{
		{"", 1, 1, 1, "no hive is visited", "say visit"},
		{"visit hvie", 1, 7, 4, "no column hvie", "did you mean hive?"},
		{"visit", 1, 6, 1, "expected a column", "visit hive"},
		{"visit 7", 1, 7, 1, "expected a column", "visit hive"},
		{"visit hive\nframes 21", 2, 8, 2, "a hive has 1 to 20 frames", "say frames 10"},
		{"visit hive\nframes 2.5", 2, 8, 3, "a hive has 1 to 20 frames", "say frames 10"},
		{"visit hive\nframes many", 2, 8, 4, "expected a number", "frames 10"},
		{"visit hive\nweight 0", 2, 8, 1, "no hive weighs that", "say weight 35"},
		{"visit hive\nweight heavy", 2, 8, 5, "expected a weight", "say weight 35"},
		{"visit hive\nnote calm", 2, 6, 4, "expected a text in single quotes", "note 'calm'"},
		{"visit hive\nnote 'calm", 2, 6, 1, "the quote is opened and never closed", "close it"},
		{"visit hive\nwith hat", 2, 6, 3, "expected smoke, veil or gloves", ""},
		{"visit hive\nwith veil and veil", 2, 15, 4, "veil is said twice", "once"},
		{"visit hive\nbetween 1", 2, 10, 1, "expected the word and", "between 1 and 2"},
		{"visit hive\nbetween 'spring' and 2", 2, 9, 8, "'spring' is no date", "2029-04-01"},
		{"visit hive\nonly where", 2, 11, 1, "expected a condition", ""},
		{"visit hive\nonly where kg ! 3", 2, 15, 1, "! is not expected here", "take it out"},
		{"visit hive\ncodes 'a'", 2, 7, 3, "expected (", ""},
		{"visit hive\ncodes('a'", 2, 10, 1, "expected )", ""},
		{"visit hive\nsort by hive sideways", 2, 14, 8, "", ""},
		{"visit hive\nfrmaes 3", 2, 1, 6, "no clause begins with frmaes", "did you mean frames?"},
		{"visit hive\nsort 3", 2, 6, 1, "expected by", ""},
		{"visit hive\nvisit kg", 2, 1, 5, "", ""},
	} {
		v, mistakes := grammar.Parse(test.typed, visits(t))
		if v != nil || len(mistakes) == 0 {
			t.Errorf("%q is read as %+v", test.typed, v)
			continue
		}
		m := mistakes[0]
		if m.Line != test.line || m.Column != test.column || test.length > 0 && m.Length != test.length ||
			!strings.Contains(m.Message, test.message) || !strings.Contains(m.Advice, test.advice) {
			t.Errorf("%q: %d:%d+%d %q, %q; want %d:%d+%d %q, %q", test.typed, m.Line, m.Column, m.Length, m.Message, m.Advice, test.line,
				test.column, test.length, test.message, test.advice)
		}
	}
	if _, mistakes := grammar.Parse("visit hvie\nframes 99\nnonsense", visits(t)); len(mistakes) != 3 {
		t.Errorf("of three mistakes %d are told", len(mistakes))
	}
}

// TestDrawnVisitsComeBack holds that what is written at random is read as the same.
func TestDrawnVisitsComeBack(t *testing.T) {
	source := rand.New(rand.NewPCG(11, 7))
	for range 400 {
		v := grammar.Draw(source)
		text := grammar.Print(v)
		back, mistakes := grammar.Parse(text, nil)
		if mistakes != nil || !reflect.DeepEqual(back, v) {
			t.Fatalf("%s\nis read as %+v (%v), not %+v", text, back, mistakes, v)
		}
		if again := grammar.Print(back); again != text {
			t.Fatalf("%s\nis written again as\n%s", text, again)
		}
	}
}

func TestWhatCouldFollowIsExpected(t *testing.T) {
	for _, test := range []struct {
		before  string
		replace int
		want    string
	}{
		{"", 0, "visit |frames |weight |note |calm|with |between |only where |call it |beside |codes ( |sort by |weights "},
		{"visit hive\nfr", 2, "frames |weight |note |calm|with |between |only where |call it |beside |codes ( |sort by |weights "},
		{"visit ", 0, "<column>"},
		{"visit hive, k", 1, "<column>"},
		{"visit hive\nwith ", 0, "smoke|veil|gloves"},
		{"visit hive\nwith smoke and v", 1, "smoke|veil|gloves"},
		{"visit hive\nonly ", 0, "where"},
		{"visit hive\nonly where ", 0, "<value>"},
		{"visit hive\nonly where kg > 3 ", 0, "and|or|not"},
		{"visit hive\nonly where kg ", 0, "and|or|not|in (|between|like|is null|is not null"},
		{"visit hive\nbeside ", 0, "<table>"},
		{"visit hive\nsort by hive ", 0, "down|,"},
		{"visit hive\nnote '", 0, ""},
	} {
		list, replace, _ := grammar.Expected(test.before)
		var got []string
		for _, e := range list {
			got = append(got, map[ExpectationKind]string{ExpectWord: e.Text, ExpectColumn: "<column>", ExpectValue: "<value>",
				ExpectTable: "<table>", ExpectGroup: "<group>"}[e.Kind])
		}
		if strings.Join(got, "|") != test.want || replace != test.replace {
			t.Errorf("after %q: %q replacing %d, want %q replacing %d", test.before, strings.Join(got, "|"), replace, test.want, test.replace)
		}
	}
}

func TestPartsAreFoundWhereTheyWereSaid(t *testing.T) {
	typed := "visit hive, kg\nonly where kg > 3\ncodes('ab', 'c')"
	v, places, mistakes := grammar.ParsePlaced(typed, nil)
	if mistakes != nil {
		t.Fatal(mistakes[0])
	}
	for what, test := range map[string]struct {
		at   any
		said string
	}{"column": {&v.Hive, "hive"}, "another": {Item{&v.Others, 0}, "kg"}, "condition": {&v.Where, "kg > 3"},
		"code": {Item{&v.Codes, 1}, "'c'"}} {
		if p, known := places[test.at]; !known || typed[p.From:p.To] != test.said {
			t.Errorf("%s: %v (%v), want %q", what, p, known, test.said)
		}
	}
}

// FuzzParse holds that no text stops the program, that mistakes lie within the text, and
// that what is read is written in a form that is read as the same.
func FuzzParse(f *testing.F) {
	for _, c := range grammar.Clauses {
		f.Add("visit hive\n" + c.Example)
	}
	f.Add("visit \"\"\nnote ''''\nbetween '9999-99' and 1e999")
	f.Fuzz(func(t *testing.T, typed string) {
		v, mistakes := grammar.Parse(typed, nil)
		for _, m := range mistakes {
			if m.Line < 1 || m.Line > strings.Count(typed, "\n")+1 || m.Column < 1 || m.Message == "" {
				t.Fatalf("%q: a mistake at %d:%d: %q", typed, m.Line, m.Column, m.Message)
			}
		}
		grammar.Expected(typed)
		if v == nil {
			return
		}
		text := grammar.Print(v)
		back, mistakes := grammar.Parse(text, nil)
		if mistakes != nil || fmt.Sprintf("%+v", *back) != fmt.Sprintf("%+v", *v) && !reflect.DeepEqual(back, v) {
			t.Fatalf("%q is written %q and read as %+v (%v), not %+v", typed, text, back, mistakes, v)
		}
	})
}
