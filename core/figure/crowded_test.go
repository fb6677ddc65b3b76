package figure

import (
	"fmt"
	"strings"
	"testing"

	"copperlark/core/table"
)

func TestWhatIsHardToReadIsTold(t *testing.T) {
	const rows = 2000
	x, name, kind, few := make([]float64, rows), make([]string, rows), make([]string, rows), make([]string, rows)
	for i := range x {
		x[i], name[i], kind[i], few[i] = float64(i%97), fmt.Sprint("Hive ", i), fmt.Sprint("kind ", i%7), fmt.Sprint("few ", i%3)
	}
	data, err := table.New(table.NewNumbers("x", x), table.NewNumbers("y", x), table.NewCategory("name", name),
		table.NewCategory("kind", kind), table.NewCategory("few", few))
	if err != nil {
		t.Fatal(err)
	}
	for typed, want := range map[string]string{
		"colour by name top 9":             "Name has 2,000 values for 2,000 rows, nearly one each",
		"shape by kind":                    "2,000 dots in 7 shapes can hardly be told apart: panels by kind",
		"shape by few":                     "",
		"colour by kind":                   "",
		"shape by kind\nof rows where x=1": "",
	} {
		f, problems := draw(t, data, "plot y against x\n"+typed)
		if problems != nil {
			t.Fatal(problems)
		}
		if got := strings.Join(f.Cautions, " "); want == "" && got != "" || !strings.Contains(got, want) {
			t.Errorf("%s: %q", typed, got)
		}
	}
}
