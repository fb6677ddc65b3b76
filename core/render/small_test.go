package render

import (
	"bytes"
	"context"
	"strings"
	"testing"

	"copperlark/core/colour"
	"copperlark/core/mark"
	"copperlark/core/sentence"
	"copperlark/core/table"
	"copperlark/core/text"
)

// TestSmallPicturesShowEveryGroupOfRowsInTurn holds that a small picture of more rows and points than it draws leaves no
// group out, whatever the turn in which their rows stand.
func TestSmallPicturesShowEveryGroupOfRowsInTurn(t *testing.T) {
	const rows = 2 * smallRows * 3 // every third row, then every so-many-th dot
	x, y, names := make([]float64, rows), make([]float64, rows), make([]string, rows)
	for i := range x {
		x[i], y[i], names[i] = float64(i), float64(i%7), []string{"Brindle", "Tarn"}[i/3%2]
	}
	data := tableOf(table.NewNumbers("x", x), table.NewNumbers("y", y), table.NewCategory("district", names))
	document, mistakes := sentence.Parse("plot y against x\nas dots\ncolour by district", data)
	if mistakes != nil {
		t.Fatal(mistakes[0])
	}
	var out bytes.Buffer
	if problems, err := Small(context.Background(), mark.Bind(document, data), 120, 80, text.Hanken(), &out); err != nil || problems != nil {
		t.Fatal(problems, err)
	}
	if out.Len() > 8000 {
		t.Errorf("a small picture of %d rows has %d bytes", rows, out.Len())
	}
	for i := range 2 {
		if light, _ := colour.Hedgerow.At(i); !strings.Contains(out.String(), light) {
			t.Errorf("the dots of group %d, %s, are not there", i, light)
		}
	}
}
