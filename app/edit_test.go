package app

import (
	"strings"
	"testing"

	"copperlark/core/table"
)

// TestATableIsChangedByHand cell by cell and with columns beside it, whose names are made their own; what does not fit is refused.
func TestATableIsChangedByHand(t *testing.T) {
	data, err := table.New(table.NewNumbers("kg", []float64{1, 2}), table.NewCategory("place", []string{"Tarn", "Tarn"}))
	if err != nil {
		t.Fatal(err)
	}
	edit := Edit{Cells: []CellEdit{{1, "kg", "5"}, {2, "place", "Low Fen"}}, Beside: "kg\tseen\n7\tA\n8\tB\n"}
	out, err := edited(t.Context(), data, edit, 4)
	if err != nil {
		t.Fatal(err)
	}
	if got := strings.Join(out.Names(), " "); got != "kg place kg_2 seen" || out.Column("kg").Numbers[0] != 5 ||
		out.Column("kg_2").Numbers[1] != 8 || out.Column("place").Value(1) != "Low Fen" || data.Column("kg").Numbers[0] != 1 {
		t.Error(got, out.Column("kg").Numbers, out.Column("place").Levels)
	}
	for _, wrong := range []Edit{{Cells: []CellEdit{{3, "kg", "5"}}}, {Cells: []CellEdit{{1, "lb", "5"}}}, {Cells: []CellEdit{{1, "kg", "x"}}},
		{Beside: "a\n1\n2\n3\n"}, {Beside: "a,b,c\n1,2,3\n4,5,6\n"}} {
		if _, err := edited(t.Context(), data, wrong, 4); err == nil {
			t.Error(wrong)
		}
	}
}
