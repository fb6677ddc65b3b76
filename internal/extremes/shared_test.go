package extremes

import (
	"bytes"
	"context"
	"encoding/binary"
	"errors"
	"fmt"
	"maps"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"copperlark/app"
	"copperlark/core/chart"
	"copperlark/core/figure"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// The columns that stay at home: names of rows, groups, numbers that nothing else of the tables is,
// and a date. No value of theirs, and no name, may be found in what leaves.
func withHidden(t *table.Table) (*table.Table, []string, [][]byte) {
	names, groups, doses, days := make([]string, t.Rows()), make([]string, t.Rows()), make([]float64, t.Rows()), make([]float64, t.Rows())
	planted := [][]byte{[]byte("zzhush"), []byte("zzward"), []byte("zzdose"), []byte("zzday"), []byte("Zzhush"), []byte("Zzward"),
		[]byte("Zzdose"), []byte("Zzday"), []byte("54,170,4"), []byte("541704"), []byte("1907-")}
	for i := range t.Rows() {
		names[i], groups[i] = fmt.Sprintf("zzhush %d", i), fmt.Sprintf("zzward %d", i%3)
		doses[i], days[i] = 54_170_417+float64(i)/8, -86_400*float64(23_000-i%300)
		planted = append(planted, binary.LittleEndian.AppendUint64(nil, math.Float64bits(doses[i])))
	}
	hush := table.NewCategory("zzhush", names)
	hush.Kind = table.Text
	day := &table.Column{Name: "zzday", Kind: table.Date, Grain: table.Day, Numbers: days}
	hidden := []*table.Column{hush, table.NewCategory("zzward", groups), table.NewNumbers("zzdose", doses), day}
	made, err := table.New(append(hidden, t.Columns()...)...)
	if err != nil {
		panic(err)
	}
	return made, []string{"zzhush", "zzward", "zzdose", "zzday"}, planted
}

// sharedSentences are drawn at random of each strange table: some 1,000 of them can be shared.
const sharedSentences = 1300

// TestNothingHiddenLeavesWithAShare shares charts at random, of tables that have columns which nobody
// ticked: what was drawn by one of them is refused, and all that leaves is searched for their values. A
// copy has as many rows as its figure says that it has.
func TestNothingHiddenLeavesWithAShare(t *testing.T) {
	source := rand.New(rand.NewPCG(29, 11))
	tables := strange(source)
	shared, refused := 0, 0
	for _, name := range slices.Sorted(maps.Keys(tables)) {
		whole, hidden, planted := withHidden(tables[name])
		seen := tables[name].Names()
		options := figure.Options{Metrics: text.Hanken(), Dataset: func(context.Context, string) (*table.Table, error) {
			return tables[name],
				nil
		}}
		for i := range sharedSentences {
			said := seen
			if i%5 == 0 {
				said = append(slices.Clone(hidden), seen...)
			}
			d, mistakes := sentence.Parse(sentence.Print(sentence.AtRandom(source, source.IntN(4), said)), whole)
			if mistakes != nil {
				continue
			}
			ticked := slices.DeleteFunc(d.Drawn(), func(name string) bool { return slices.Contains(hidden, name) })
			named := len(ticked) < len(d.Drawn())
			copied, err := app.NewFixedCopy(context.Background(), whole, d, ticked, options)
			var invalid *app.Invalid
			switch {
			case errors.As(err, &invalid):
				refused++
				continue
			case err != nil:
				t.Errorf("%s: %v of\n%s", name, err, sentence.Print(d))
				continue
			case named:
				t.Errorf("%s: shared, though it is drawn by a column that stays at home:\n%s", name, sentence.Print(d))
			}
			shared++
			for _, value := range planted {
				if leaving := leaves(t, copied); bytes.Contains(leaving, value) {
					at := bytes.Index(leaving, value)
					t.Errorf("%s: %q leaves (%q) with\n%s", name, value, leaving[max(at-60, 0):min(at+60, len(leaving))], sentence.Print(d))
					break
				}
			}
		}
	}
	if shared < 1000 || refused < 1000 {
		t.Errorf("only %d charts were shared, and %d refused", shared, refused)
	}
}

// leaves is every byte of a fixed copy that a reader can ask for.
func leaves(t *testing.T, copied *app.FixedCopy) []byte {
	var out bytes.Buffer
	out.Write(copied.Figure)
	out.Write(copied.Exact)
	out.Write(copied.Phone)
	out.WriteString(copied.Picture.Typed)
	if err := app.WriteCSV(context.Background(), &out, copied.Table); err != nil {
		t.Error(err)
	}
	return out.Bytes()
}

// TestWhatOnlyACardShowsCanStayAtHome has a card that shows a column which is not ticked: the chart goes
// out without it, and its sentence does not name it.
func TestWhatOnlyACardShowsCanStayAtHome(t *testing.T) {
	whole, _, _ := withHidden(strange(rand.New(rand.NewPCG(1, 1)))["many rows"])
	d := &chart.Document{Version: chart.Version, Y: chart.Variable{Column: "season"}, X: chart.Variable{Column: "x"},
		Card: &chart.RowCard{Heading: "zzhush", Shows: []string{"zzward", "x"}}}
	copied, err := app.NewFixedCopy(context.Background(), whole, d, []string{"season", "x"}, figure.Options{Metrics: text.Hanken()})
	if err != nil {
		t.Fatal(err)
	}
	if typed := copied.Picture.Typed; strings.Contains(typed, "zz") || !strings.Contains(typed, "card shows \"x\"") ||
		d.Card.Heading != "zzhush" {
		t.Errorf("the copy says %q, and the chart %v", typed, d.Card)
	}
	copied, err = app.NewFixedCopy(context.Background(), whole, d, nil, figure.Options{Metrics: text.Hanken()})
	if err != nil || copied.Table.Column("zzhush") == nil {
		t.Errorf("what the sentence names does not go out by itself: %v", err)
	}
	d.Card = nil // the heading of a card that nobody asked for stays at home
	heading := figure.HeadingColumn(whole)
	copied, err = app.NewFixedCopy(context.Background(), whole, d, nil, figure.Options{Metrics: text.Hanken()})
	if err != nil || heading == nil || copied.Table.Column(heading.Name) != nil {
		t.Errorf("what heads a card goes out unasked (%v)", err)
	}
}
