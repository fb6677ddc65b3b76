// Package parallel splits a walk over rows among the cores.
package parallel

import (
	"context"
	"runtime"
	"sync"
)

// chunk is how many rows a worker takes between two looks at the context: about
// a tenth of a millisecond of work.
const chunk = 1 << 16

// Workers is how many parts a walk over n rows is split into.
func Workers(n int) int {
	return max(1, min(runtime.GOMAXPROCS(0), n/chunk+1))
}

// Ranges calls work with consecutive stretches that cover 0 … n-1. Stretches of
// one worker come in order and do not run at the same time; worker is from 0 to
// Workers(n)-1, and each worker owns one contiguous part, so that sums taken
// worker by worker do not depend on timing. It stops early, with the context's
// error, when the context is done.
func Ranges(ctx context.Context, n int, work func(worker, from, to int)) error {
	workers := Workers(n)
	part := func(worker int) {
		low, high := worker*n/workers, (worker+1)*n/workers
		for from := low; from < high && ctx.Err() == nil; from += chunk {
			work(worker, from, min(from+chunk, high))
		}
	}
	var wait sync.WaitGroup
	for worker := 1; worker < workers; worker++ {
		wait.Add(1)
		go func() {
			defer wait.Done()
			part(worker)
		}()
	}
	part(0)
	wait.Wait()
	return ctx.Err()
}

// Each calls work for 0 … n-1, as many at a time as there are cores, and gives the
// error of the smallest index that has one, or the context's. Work that was begun is
// always waited for; after the context is done no more is begun.
func Each(ctx context.Context, n int, work func(i int) error) error {
	errs := make([]error, n)
	places := make(chan struct{}, runtime.GOMAXPROCS(0))
	var wait sync.WaitGroup
	for i := range n {
		places <- struct{}{}
		if ctx.Err() != nil {
			break
		}
		wait.Add(1)
		go func() {
			defer wait.Done()
			errs[i] = work(i)
			<-places
		}()
	}
	wait.Wait()
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return ctx.Err()
}
