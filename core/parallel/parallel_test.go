package parallel

import (
	"context"
	"errors"
	"fmt"
	"runtime"
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
