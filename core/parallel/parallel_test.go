package parallel

import (
	"cmp"
	"context"
	"errors"
	"fmt"
	"math"
	"math/rand/v2"
	"runtime"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
)

func TestRangesCoverEveryRowOnceInOrder(t *testing.T) {
	for _, n := range []int{0, 1, chunk - 1, chunk, chunk + 1, 5*chunk + 3} {
		seen := make([]int32, n)
		last := make([]int, Workers(n))
		err := Ranges(context.Background(), n, func(worker, from, to int) {
			if from < last[worker] || to <= from || to-from > chunk {
				t.Errorf("of %d rows worker %d takes %d to %d after %d", n, worker, from, to, last[worker])
			}
			last[worker] = to
			for i := from; i < to; i++ {
				seen[i]++
			}
		})
		for i, times := range seen {
			if times != 1 {
				t.Fatalf("of %d rows row %d was taken %d times", n, i, times)
			}
		}
		if err != nil {
			t.Error(err)
		}
	}
}

// TestAPanicGoesOnWhereTheWorkIsWaitedFor holds that no worker ends the program: whoever
// asked for the work gets the panic, with where it happened, also through two levels.
func TestAPanicGoesOnWhereTheWorkIsWaitedFor(t *testing.T) {
	fails := func(i int) {
		if i == 3 {
			panic("worker three")
		}
	}
	for name, work := range map[string]func(){
		"Ranges": func() { _ = Ranges(t.Context(), 9*chunk, func(_, from, _ int) { fails(from / chunk) }) },
		"Each":   func() { _ = Each(t.Context(), 9, func(i int) error { fails(i); return nil }) },
		"Group": func() {
			var outer Group
			outer.Go(func() error {
				return Each(t.Context(), 9, func(i int) error { fails(i); return nil })
			})
			_ = outer.Wait()
		},
		"Beside": func() {
			told := make(chan *Fault)
			Beside(func() { fails(3) }, func(f *Fault) { told <- f })
			panic(<-told)
		},
	} {
		fault := caught(work)
		if fault == nil || fault.Value != "worker three" || !strings.Contains(fault.Error(), "parallel_test.go") {
			t.Errorf("%s: %v", name, fault)
		}
	}
}

func TestSortAgreesWithTheLibrary(t *testing.T) {
	source := rand.New(rand.NewPCG(1, 1))
	for _, n := range []int{0, 1, sortedPiece, sortedPiece + 1, 5*sortedPiece + 7} {
		values := make([]float64, n)
		for i := range values {
			values[i] = float64(source.IntN(1000))
			if i%100 == 5 {
				values[i] = math.NaN()
			}
		}
		want, rows := slices.Clone(values), make([]int, n)
		slices.Sort(want)
		for i := range rows {
			rows[i] = i
		}
		byValue := func(a, b int) int { return cmp.Compare(values[a], values[b]) }
		wantRows := slices.Clone(rows)
		slices.SortStableFunc(wantRows, byValue)
		if err := SortStable(t.Context(), rows, byValue); err != nil || !slices.Equal(rows, wantRows) {
			t.Errorf("%d rows: not in the library's order (%v)", n, err)
		}
		if err := Sort(t.Context(), values); err != nil || slices.CompareFunc(values, want,
			func(a, b float64) int { return cmp.Compare(a, b) }) != 0 {
			t.Errorf("%d values: not in the library's order (%v)", n, err)
		}
	}
	stopped, stop := context.WithCancel(t.Context())
	stop()
	if err := Sort(stopped, make([]float64, 3*sortedPiece)); err == nil {
		t.Error("a stopped sort gives no error")
	}
}

func TestRangesStopWithTheContext(t *testing.T) {
	ctx, stop := context.WithCancel(context.Background())
	var taken atomic.Int64
	err := Ranges(ctx, 100*chunk, func(_, from, to int) {
		taken.Add(int64(to - from))
		stop()
	})
	if !errors.Is(err, context.Canceled) || taken.Load() > int64(chunk*runtime.GOMAXPROCS(0)) {
		t.Errorf("%v after %d rows", err, taken.Load())
	}
}

func TestEachRunsAsManyAsThereAreCores(t *testing.T) {
	var mutex sync.Mutex
	running, most, done := 0, 0, map[int]int{}
	err := Each(context.Background(), 40, func(i int) error {
		mutex.Lock()
		running++
		most = max(most, running)
		done[i]++
		mutex.Unlock()
		runtime.Gosched()
		mutex.Lock()
		running--
		mutex.Unlock()
		return nil
	})
	if err != nil || len(done) != 40 || most > runtime.GOMAXPROCS(0) {
		t.Errorf("%v, %d done, %d at a time", err, len(done), most)
	}
	for i, times := range done {
		if times != 1 {
			t.Errorf("%d was done %d times", i, times)
		}
	}
}

func TestEachGivesTheFirstErrorAndStops(t *testing.T) {
	err := Each(context.Background(), 20, func(i int) error {
		if i == 3 || i == 11 {
			return fmt.Errorf("fault of %d", i)
		}
		return nil
	})
	if err == nil || err.Error() != "fault of 3" {
		t.Error(err)
	}
	ctx, stop := context.WithCancel(context.Background())
	var done atomic.Int64
	err = Each(ctx, 1000, func(int) error {
		stop()
		done.Add(1)
		return nil
	})
	if !errors.Is(err, context.Canceled) || done.Load() > int64(2*runtime.GOMAXPROCS(0)) {
		t.Errorf("%v after %d", err, done.Load())
	}
}
