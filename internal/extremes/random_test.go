package extremes

import (
	"bytes"
	"context"
	"fmt"
	"io"
	"maps"
	"math"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"

	"copperlark/core/mark"
	"copperlark/core/render"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// many is a number of groups that no palette, no facet and no list of fits holds.
const many = 300

// strange are tables that charts are seldom tried on. All have the same columns.
func strange(source *rand.Rand) map[string]*table.Table {
	tables := map[string]*table.Table{}
	for name, rows := range map[string]int{"no row": 0, "one row": 1, "two rows": 2, "many rows": 900} {
		tables[name] = strangeTable(rows, func(i int) (x, y, z, day float64, few, hundreds int32) {
			return source.NormFloat64() * 50, math.Exp(6 * source.NormFloat64()), float64(source.IntN(4)),
				86_400 * float64(18_000+source.IntN(2000)), int32(source.IntN(5) - 1), int32(source.IntN(many))
		})
	}
	tables["all missing"] = strangeTable(40, func(int) (x, y, z, day float64, few, hundreds int32) {
		return math.NaN(), math.NaN(), math.NaN(), math.NaN(), table.MissingCode, table.MissingCode
	})
	tables["one value"] = strangeTable(40, func(int) (x, y, z, day float64, few, hundreds int32) { return 7, 7, 7, 86_400 * 20_000, 1, 1 })
	tables["huge and tiny"] = strangeTable(40, func(i int) (x, y, z, day float64, few, hundreds int32) {
		return []float64{1e308, -1e308, 0, 5e-324}[i%4], math.Pow(10, float64(i%22-9)), 1e15 + float64(i), 1e9 * float64(i*i), int32(i % 2),
			int32(i)
	})
	return tables
}

func strangeTable(rows int, row func(int) (x, y, z, day float64, few, hundreds int32)) *table.Table {
	numbers, codes := make([][]float64, 4), make([][]int32, 2)
	for i := range rows {
		x, y, z, day, few, hundreds := row(i)
		for j, v := range []float64{x, y, z, day} {
			numbers[j] = append(numbers[j], v)
		}
		codes[0], codes[1] = append(codes[0], few), append(codes[1], hundreds)
	}
	levels := make([]string, many)
	for i := range levels {
		levels[i] = fmt.Sprint([]string{"Imkerei Obere Mühlbachtalstraße mit sehr langem Namen ", "蜂場の名前 ", "מכוורת ", "<b>&'\" "}[i%4], i)
	}
	made, err := table.New(table.NewNumbers("x", numbers[0]), table.NewNumbers("season", numbers[1]), table.NewNumbers("few", numbers[2]),
		&table.Column{Name: "day", Kind: table.Date, Grain: table.Day, Numbers: numbers[3]},
		&table.Column{Name: "district", Kind: table.Category, Codes: codes[0], Levels: levels[:4]},
		&table.Column{Name: "hundreds", Kind: table.Category, Codes: codes[1], Levels: levels})
	if err != nil {
		panic(err)
	}
	return made
}

// broken are numbers that no person should meet in a drawing.
var broken = regexp.MustCompile(`NaN|Inf\b|[0-9]{18}|\.[0-9]{12}`)

// TestWhateverCanBeSaidIsDrawnOrRefused draws charts at random from the whole language, of
// tables that charts are seldom tried on: none panics, none writes a broken number, and a
// chart that is refused says why.
func TestWhateverCanBeSaidIsDrawnOrRefused(t *testing.T) {
	source := rand.New(rand.NewPCG(26, 11))
	tables := strange(source)
	drawn := 0
	for _, name := range slices.Sorted(maps.Keys(tables)) {
		data := tables[name]
		names := []string{}
		for _, c := range data.Columns() {
			names = append(names, c.Name)
		}
		for range 600 {
			d, mistakes := sentence.Parse(sentence.Print(sentence.AtRandom(source, source.IntN(4), names)), data)
			if mistakes != nil {
				continue
			}
			func() {
				defer func() {
					if fault := recover(); fault != nil {
						t.Errorf("%s: %v of\n%s", name, fault, sentence.Print(d))
					}
				}()
				if err := built(context.Background(), columns{table: data}, d); err != nil {
					t.Errorf("%s: %v of\n%s", name, err, sentence.Print(d))
				}
				var out bytes.Buffer
				problems, err := render.Chart(context.Background(), mark.Bind(d, data), render.FormatNamed("svg"),
					render.Options{Metrics: text.Hanken(), Dataset: func(context.Context, string) (*table.Table, error) { return data, nil }}, &out)
				switch {
				case err != nil:
					t.Errorf("%s: %v of\n%s", name, err, sentence.Print(d))
				case problems == nil:
					drawn++
					if at := broken.FindString(out.String()); at != "" {
						t.Errorf("%s: %s is drawn of\n%s", name, at, sentence.Print(d))
					}
				}
				if small, err := render.Small(context.Background(), mark.Bind(d, data), 106, 76, text.Hanken(), io.Discard); err != nil ||
					len(small) > 0 && len(problems) == 0 {
					t.Errorf("%s: the small picture: %v, %v of\n%s", name, small, err, sentence.Print(d))
				}
				for _, p := range problems {
					if strings.TrimSpace(p.Message) == "" {
						t.Errorf("%s: refused without a reason:\n%s", name, sentence.Print(d))
					}
				}
			}()
		}
	}
	if drawn < 300 {
		t.Errorf("only %d of the charts could be drawn", drawn)
	}
}
