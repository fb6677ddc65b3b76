package figure

import (
	"math"
	"testing"

	"copperlark/core/table"
)

// TestCardsShowWhatIsSaid holds the order of a card, that its columns leave no row out, and what
// is refused.
func TestCardsShowWhatIsSaid(t *testing.T) {
	data := small(t)
	for said, want := range map[string][]string{"": {"name", "y", "x"}, "card shows s, g": {"name", "s", "g"},
		"card headed by g": {"g", "y", "x"}, "card headed by g shows s, g, x": {"g", "s", "x"}} {
		f, problems := draw(t, data, "plot y against x\n"+said)
		if problems != nil {
			t.Fatal(said, problems[0])
		}
		var got []string
		for _, c := range f.Card.Columns {
			got = append(got, c.Column)
		}
		if len(got) != len(want) || f.Card.Heading != want[0] || f.Rows.Drawn != 6 {
			t.Fatalf("%q: %v, headed by %s, %d rows drawn", said, got, f.Card.Heading, f.Rows.Drawn)
		}
		for i := range want {
			if got[i] != want[i] {
				t.Errorf("%q: %v, want %v", said, got, want)
			}
		}
	}
	for _, refused := range []string{"plot mean(y) against g\nas bars\ncard shows s", "plot y against x\ncard shows s, s"} {
		if _, problems := draw(t, data, refused); problems == nil {
			t.Errorf("%s is drawn", refused)
		}
	}
}

// TestJitterMovesDotsAloneAndNeverFar holds that dots stay nearer to their own place than to
// another one, that both axes move for themselves, and that a fit stays where it is.
func TestJitterMovesDotsAloneAndNeverFar(t *testing.T) {
	data := worked(t)
	plain, _ := draw(t, data, "plot z against h\nas dots")
	moved, problems := draw(t, data, "plot z against h\nas dots\njitter x and y")
	if problems != nil {
		t.Fatal(problems[0])
	}
	same, along := 0, func(s *Scale, share float64) float64 {
		low, high := s.Drawn(s.From), s.Drawn(s.To)
		return low + share*(high-low)
	}
	for i := range dotsOf(plain).Count {
		dx := along(moved.X(), dotsOf(moved).X.At(i)) - along(plain.X(), dotsOf(plain).X.At(i))
		dy := along(moved.Y(), dotsOf(moved).Y.At(i)) - along(plain.Y(), dotsOf(plain).Y.At(i))
		if math.Abs(dx) > 0.35 || math.Abs(dy) > 0.35 || dx == 0 || dy == 0 {
			t.Errorf("dot %d moves by %v and %v", i, dx, dy)
		}
		if math.Abs(dx-dy) < 1e-6 {
			same++
		}
	}
	if same > 0 {
		t.Errorf("%d dots move along a diagonal", same)
	}
	before, _ := draw(t, data, "plot z against y\nfit line")
	after, _ := draw(t, data, "plot z against y\nfit line\njitter x and y")
	if before.Relation.Line.Slope != after.Relation.Line.Slope {
		t.Error("a fit moves with the dots")
	}
	for _, refused := range []string{"plot z against day\njitter x", "plot mean(y) against h\nas dots\njitter y",
		"plot z against h\nas boxes\njitter x"} {
		if _, problems := draw(t, data, refused); problems == nil {
			t.Errorf("%s is drawn", refused)
		}
	}
}

// TestCardsKeepTheDecimalsThatWereWritten holds that 7.00 is 7.00 on a card.
func TestCardsKeepTheDecimalsThatWereWritten(t *testing.T) {
	for written, want := range map[int]int{0: 0, 2: 2, 3: 3, 4: 0} { // more than three are too many for a card
		if got := cardColumn(&table.Column{Kind: table.Number, Numbers: []float64{7, 8}, Decimals: written}, nil).Fixed; got != want {
			t.Errorf("whole numbers written with %d decimals have %d on a card, not %d", written, got, want)
		}
	}
}
