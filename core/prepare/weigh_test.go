package prepare

import (
	"context"
	"errors"
	"strings"
	"testing"

	"copperlark/core/table"
)

// TestWhatClausesMakeIsWeighedBeforeItIsMade makes rows out of few in every way that there is: each is told of
// before there is memory for it, and ends with the reason that it is given.
func TestWhatClausesMakeIsWeighedBeforeItIsMade(t *testing.T) {
	rows := make([]float64, 40_000)
	large, err := table.New(table.NewNumbers("a", rows), table.NewNumbers("b", rows), table.NewNumbers("c", rows))
	if err != nil {
		t.Fatal(err)
	}
	full := errors.New("there is no room")
	for _, typed := range []string{"make 2000000 rows", "add rows of large, large, large, large, large, large, large, large, large",
		"stack a, b, c into name, value\nstack name, value into n, v\nadd rows of large, large, large, large, large, large",
		"join large on a\njoin large on a"} {
		weighed := int64(0)
		environment := Environment{Dataset: func(context.Context, string, int) (*table.Table, error) { return large, nil },
			Weigh: func(_ context.Context, values int64) error {
				if weighed += values; weighed > 3<<20 {
					return full
				}
				return nil
			}}
		begun := large
		if strings.HasPrefix(typed, "make") {
			begun, _ = table.New()
		}
		state, err := Run(t.Context(), begun, Parse(typed), environment)
		if made := int64(state.Table.Rows() * len(state.Table.Columns())); made > weighed+2*weighStep || err == nil && weighed == 0 {
			t.Errorf("%q: %d values were made, %d weighed: %v", typed, made, weighed, err)
		}
		if weighed > 3<<20 && !errors.Is(err, full) {
			t.Errorf("%q goes on: %v", typed, err)
		}
	}
}
