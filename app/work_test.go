package app

import (
	"errors"
	"testing"
	"time"

	"copperlark/internal/admission"
)

// TestWorkGrowsWithoutHoldingWhatOthersWaitFor lets two pieces of work grow, each beyond half of all there is:
// one waits for the other, and neither for ever; what grew is given back.
func TestWorkGrowsWithoutHoldingWhatOthersWaitFor(t *testing.T) {
	limits := Limits{MemoryBytes: 3 << 30}.withDefaults()
	a := &App{limits: limits, gate: admission.New(admission.Limits{InAll: 1_000_000, PerPerson: 1_000_000, Patience: 5 * time.Second,
		Queue: 10})}
	done := make(chan error, 2)
	for range 2 {
		go func() {
			ctx, leave, err := a.begin(t.Context(), "a preparation", 10)
			if err == nil {
				for range 6 {
					err = errors.Join(err, a.weighValues(ctx, 1_600_000))
					time.Sleep(time.Millisecond)
				}
				leave() // before it is told that it is done
			}
			done <- err
		}()
	}
	for range 2 {
		if err := <-done; err != nil {
			t.Error(err)
		}
	}
	if weight, waiting := a.gate.Load(); weight != 0 || waiting != 0 {
		t.Errorf("%d of weight is left, and %d wait", weight, waiting)
	}
	var refused *Invalid
	if err := a.weighValues(t.Context(), 1<<28); !errors.As(err, &refused) {
		t.Errorf("a table of 2 GB in a memory of 3: %v", err)
	}
}
