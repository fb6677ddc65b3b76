// Package parallel starts every goroutine of the program: a walk over rows split
// among the cores, several things at a time, and what goes on beside requests.
//
// A panic on a goroutine that nobody recovers ends the whole program, whoever asked
// for the work. Here it is caught and goes on in the goroutine that waits for the
// work, as a *Fault, so that it becomes an error of the request that asked and of no
// other. internal/imports holds that no other package says go.
package parallel

import (
	"context"
	"fmt"
	"runtime"
	"runtime/debug"
	"sync"
)

// Fault is a panic of work on another goroutine, with where it happened.
type Fault struct {
	Value any
	Stack []byte
}

func (f *Fault) Error() string { return fmt.Sprintf("panic: %v\n%s", f.Value, f.Stack) }

// caught runs work and gives its panic, or nil.
func caught(work func()) (fault *Fault) {
	defer func() {
		switch value := recover().(type) {
		case nil:
		case *Fault: // of work that this work waited for
			fault = value
		default:
			fault = &Fault{value, debug.Stack()}
		}
	}()
	work()
	return nil
}

// Caught runs work and gives its panic as its error, a *Fault: for work that a package which is not ours runs on a
// goroutine of its own.
func Caught[T any](work func() (T, error)) (out T, err error) {
	if fault := caught(func() { out, err = work() }); fault != nil {
		return out, fault
	}
	return out, err
}

// Group runs work beside its caller. The zero Group is ready; it must be waited for.
type Group struct {
	wait  sync.WaitGroup
	mutex sync.Mutex
	err   error
	fault *Fault
}

// Go begins work on a goroutine of its own.
func (g *Group) Go(work func() error) {
	g.wait.Add(1)
	go func() {
		defer g.wait.Done()
		var err error
		fault := caught(func() { err = work() })
		g.mutex.Lock()
		defer g.mutex.Unlock()
		if g.fault == nil {
			g.fault = fault
		}
		if g.err == nil {
			g.err = err
		}
	}()
}

// Wait waits for all work and gives the first error. Where work panicked, so does
// Wait, with the *Fault.
func (g *Group) Wait() error {
	g.wait.Wait()
	if g.fault != nil {
		panic(g.fault)
	}
	return g.err
}

// Beside runs work that belongs to no request and that nobody waits for: a watch, a
// listener. A panic ends that work alone and is told to failed.
func Beside(work func(), failed func(*Fault)) {
	go func() {
		if fault := caught(work); fault != nil {
			failed(fault)
		}
	}()
}

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
	var others Group
	for worker := 1; worker < workers; worker++ {
		others.Go(func() error { part(worker); return nil })
	}
	fault := caught(func() { part(0) })
	_ = others.Wait() // no work of it gives an error
	if fault != nil {
		panic(fault)
	}
	return ctx.Err()
}

// Each calls work for 0 … n-1, as many at a time as there are cores, and gives the
// error of the smallest index that has one, or the context's. Work that was begun is
// always waited for; after the context is done no more is begun.
func Each(ctx context.Context, n int, work func(i int) error) error {
	errs := make([]error, n)
	places := make(chan struct{}, runtime.GOMAXPROCS(0))
	var all Group
	for i := range n {
		places <- struct{}{}
		if ctx.Err() != nil {
			break
		}
		all.Go(func() error {
			defer func() { <-places }()
			errs[i] = work(i)
			return nil
		})
	}
	_ = all.Wait() // the errors are in their places
	for _, err := range errs {
		if err != nil {
			return err
		}
	}
	return ctx.Err()
}

// Stride is how many rows a plain loop walks between two looks at its context.
const Stride = 1 << 14

// Rows calls work for 0 … n-1 in order, on the caller's goroutine, and looks at the
// context now and then. It gives the context's error when it stopped early.
func Rows(ctx context.Context, n int, work func(i int)) error {
	for from := 0; from < n; from += Stride {
		if err := ctx.Err(); err != nil {
			return err
		}
		for i := from; i < min(from+Stride, n); i++ {
			work(i)
		}
	}
	return ctx.Err()
}
