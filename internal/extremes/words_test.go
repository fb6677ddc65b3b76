package extremes

import (
	"context"
	"maps"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"

	"copperlark/core/figure"
	"copperlark/core/mark"
	"copperlark/core/reading"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// ungrammatical are slips of number, article and spacing that a person would stumble over.
var ungrammatical = map[string]*regexp.Regexp{
	"one of several":          regexp.MustCompile(`(^|[^\d,.])1 (rows|groups|values|outliers|steps|days|hours|months|years|panels|columns|labels|percentage points|dots)\b`),
	"several of one":          regexp.MustCompile(`(^|[\s(])([02-9]|[\d,]*\d\d) (row|group|value|outlier|panel|label|dot)\b`),
	"a before a vowel":        regexp.MustCompile(`\b[Aa] (a|e[^u]|i|o[^n]|u[^ns])\w*`),
	"an before a consonant":   regexp.MustCompile(`\b[Aa]n [bcdfgjklmnpqrstvwxyz]\w+`),
	"an article before many":  regexp.MustCompile(`\b[Aa]n? \w+s (are|lie|rise|fall|have)\b`),
	"blanks and marks":        regexp.MustCompile(`  | [,.;:](\s|$)|,,|\.\.|\(\)|\( | \)`),
	"a word twice":            regexp.MustCompile(`\b(the the|of of|in in|it it|is is|to to|and and|by by|with with)\b`),
	"nothing where a name is": regexp.MustCompile(`\b(of|in|by|against|with|from) [.,;]`),
}

// TestWordsAgree reads what is spoken above charts at random, and beside them, for slips of grammar.
func TestWordsAgree(t *testing.T) {
	source := rand.New(rand.NewPCG(3, 14))
	table1, err := table.New(table.NewNumbers("income", []float64{1, 2, 3, 5, 8, 13, 21, 34, 55, 89, 7, 9}),
		table.NewNumbers("kids", []float64{0, 1, 2, 1, 0, 3, 2, 4, 1, 5, 2, 2}),
		table.NewNumbers("hours", []float64{3, 1, 4, 1, 5, 9, 2, 6, 5, 3, 5, 8}), table.NewCategory("area", strings.Split("TTTTTTWWWWWW", "")),
		table.NewCategory("one", strings.Split("KKKKKKKKKKKK", "")),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: []float64{0, 86400, 172800, 259200, 345600, 432000, 518400,
			604800, 691200, 777600, 864000, 950400}})
	if err != nil {
		t.Fatal(err)
	}
	tables := strange(source)
	tables["names of many kinds"] = table1
	said := map[string]int{}
	for _, name := range slices.Sorted(maps.Keys(tables)) {
		data := tables[name]
		read := 0
		for range 700 {
			d, mistakes := sentence.Parse(sentence.Print(sentence.AtRandom(source, source.IntN(4), data.Names())), data)
			if mistakes != nil {
				continue
			}
			f, problems, err := figure.Build(context.Background(), mark.Bind(d, data),
				figure.Options{Metrics: text.Hanken(), Dataset: func(context.Context, string) (*table.Table, error) { return data, nil }})
			if err != nil || problems != nil {
				continue
			}
			read++
			var spoken strings.Builder
			for _, part := range sentence.Spoken(mark.Bind(d, data)) {
				spoken.WriteString(part.Text)
			}
			for where, words := range map[string]string{"spoken": spoken.String(), "reading": reading.Of(f).Text()} {
				for slip, is := range ungrammatical {
					if at := is.FindString(words); at != "" && said[slip] < 3 {
						said[slip]++
						t.Errorf("%s, %s: %s: %q in\n%s\n%s", name, where, slip, at, words, sentence.Print(d))
					}
				}
			}
		}
		if read == 0 && name == "names of many kinds" {
			t.Error("no chart could be read")
		}
	}
}
