package admission

import (
	"context"
	"errors"
	"math/rand/v2"
	"sync"
	"testing"
	"time"
)

func TestAPersonDoesNotKeepOthersWaiting(t *testing.T) {
	g := New(Limits{InAll: 10, PerPerson: 5, Patience: time.Minute, Queue: 3})
	leave, err := g.Enter(t.Context(), "greedy", "an explanation", 500)
	if err != nil {
		t.Fatal(err)
	}
	ctx, stop := context.WithCancel(t.Context())
	var waiting sync.WaitGroup
	for range 3 {
		waiting.Go(func() { _, _ = g.Enter(ctx, "greedy", "another", 5) })
	}
	for _, queued := g.Load(); queued < 3; _, queued = g.Load() {
		time.Sleep(time.Millisecond)
	}
	var busy *Busy
	if _, err := g.Enter(t.Context(), "greedy", "one too many", 5); !errors.As(err, &busy) || busy.After <= 0 {
		t.Errorf("a fourth waits: %v", err)
	}
	other, err := g.Enter(t.Context(), "other", "a figure", 5)
	if err != nil {
		t.Fatal(err)
	}
	if jobs := g.Standing("greedy"); len(jobs) != 4 || !jobs[0].Running || jobs[1].Running {
		t.Errorf("the greedy one's work stands as %+v", jobs)
	}
	stop()
	waiting.Wait()
	leave()
	leave() // once more changes nothing
	other()
	if weight, queued := g.Load(); weight != 0 || queued != 0 || len(g.people) != 0 {
		t.Errorf("after all: %d, %d, %v", weight, queued, g.people)
	}
}

func TestWaitingHasAnEnd(t *testing.T) {
	g := New(Limits{InAll: 1, PerPerson: 1, Patience: 10 * time.Millisecond, Queue: 3})
	leave, _ := g.Enter(t.Context(), "a", "x", 1)
	defer leave()
	var busy *Busy
	if _, err := g.Enter(t.Context(), "b", "a figure", 1); !errors.As(err, &busy) {
		t.Errorf("waited for ever: %v", err)
	}
}

// TestLimitsHoldUnderRandomWork holds both limits at every moment, and that all work is
// let in at last: heavy work is not passed by for ever.
func TestLimitsHoldUnderRandomWork(t *testing.T) {
	g := New(Limits{InAll: 8, PerPerson: 5, Patience: time.Minute, Queue: 1000})
	var mutex sync.Mutex
	used, each := int64(0), map[string]int64{}
	var all sync.WaitGroup
	for i := range 300 {
		person, weight := string(rune('a'+i%4)), 1+rand.Int64N(5)
		all.Go(func() {
			leave, err := g.Enter(t.Context(), person, "x", weight)
			if err != nil {
				t.Error(err)
				return
			}
			mutex.Lock()
			used, each[person] = used+weight, each[person]+weight
			if used > 8 || each[person] > 5 {
				t.Errorf("%d in all, %d of %s", used, each[person], person)
			}
			mutex.Unlock()
			time.Sleep(time.Duration(rand.IntN(300)) * time.Microsecond)
			mutex.Lock()
			used, each[person] = used-weight, each[person]-weight
			mutex.Unlock()
			leave()
		})
	}
	all.Wait()
}

// TestARefusalAndALeavingMeet lets work be turned away while other work of its person
// gives up waiting: what a refusal tells was counted when it was decided.
func TestARefusalAndALeavingMeet(t *testing.T) {
	g := New(Limits{InAll: 1, PerPerson: 1, Patience: 100 * time.Microsecond, Queue: 2})
	var all sync.WaitGroup
	for range 400 {
		all.Go(func() {
			leave, err := g.Enter(t.Context(), "one", "x", 1)
			var busy *Busy
			switch {
			case err == nil:
				leave()
			case !errors.As(err, &busy):
				t.Error(err)
			}
		})
	}
	all.Wait()
	if weight, waiting := g.Load(); weight != 0 || waiting != 0 {
		t.Errorf("after all left: weight %d, %d waiting", weight, waiting)
	}
}
