package app

import (
	"context"
	"fmt"
	"runtime/debug"
	"sync"
	"time"

	"copperlark/core/scale"
	"copperlark/core/table"
	"copperlark/internal/admission"
)

// Caller is who asks for something, for weighing their work and for the audit.
type Caller struct {
	Person  Person // the zero Person for a reader of a shared page
	Address string
	Device  string // the browser and the system, as it says
	Origin  string // the address of the program as the browser has it: https://lark.example
}

func (c Caller) key() string {
	if c.Person.ID != 0 {
		return fmt.Sprintf("person %d", c.Person.ID)
	}
	return "address " + c.Address
}

type contextKey int

const (
	callerKey contextKey = iota
	admittedKey
	heavierKey
)

// WithCaller says in a context who asks.
func WithCaller(ctx context.Context, caller Caller) context.Context {
	return context.WithValue(ctx, callerKey, caller)
}

func callerOf(ctx context.Context) Caller {
	caller, _ := ctx.Value(callerKey).(Caller)
	return caller
}

// admitted is what the work of a context weighs by now.
type admitted struct {
	mutex  sync.Mutex
	what   string
	weight int64
	leave  func() // nil: too light to be weighed
	say    func(done string)
}

// say tells how far the work of a context is.
func say(ctx context.Context, done string) {
	h, _ := ctx.Value(admittedKey).(*admitted)
	if h == nil {
		return
	}
	h.mutex.Lock()
	defer h.mutex.Unlock()
	if h.say != nil {
		h.say(done)
	}
}

func (h *admitted) isIn() bool {
	h.mutex.Lock()
	defer h.mutex.Unlock()
	return h.leave != nil
}

func (h *admitted) end() {
	h.mutex.Lock()
	defer h.mutex.Unlock()
	if h.leave != nil {
		h.leave()
		h.leave = nil
	}
}

// grow makes the work of a context heavier while it is done: it waits again, without what it weighed so far
// being let in, so that no two wait for each other.
func (a *App) grow(ctx context.Context, weight int64) error {
	h, _ := ctx.Value(admittedKey).(*admitted)
	if h == nil {
		return nil
	}
	h.end()
	h.mutex.Lock()
	defer h.mutex.Unlock()
	if h.weight += weight; h.weight < lightWork {
		return nil
	}
	say, leave, err := a.gate.EnterSaying(ctx, callerOf(ctx).key(), h.what, h.weight)
	if err == nil {
		h.say, h.leave = say, leave
	}
	return err
}

// weighValues weighs values that a preparation makes, and refuses what the program's memory does not hold.
func (a *App) weighValues(ctx context.Context, values int64) error {
	if bytes := bytesAValue * values; bytes > a.limits.MemoryBytes/cacheShare {
		return &Invalid{
			Message: fmt.Sprintf(
				"this makes a table of %s; the program has %s for all that it does",
				inBytes(bytes),
				inBytes(a.limits.MemoryBytes),
			),
			Advice: "make fewer rows, or ask whoever runs this server to raise LARK_MEMORY_MB",
		}
	}
	return a.grow(ctx, bytesAValue*values/bytesAWeight)
}

// begin waits until work may begin that weighs so much; the context that it gives is for
// the work, whose parts are not weighed again. leave ends it.
func (a *App) begin(ctx context.Context, what string, weight int64) (within context.Context, leave func(), err error) {
	if h, _ := ctx.Value(admittedKey).(*admitted); h != nil && h.isIn() {
		return ctx, func() {}, nil
	}
	h := &admitted{what: what, weight: weight}
	if weight >= lightWork {
		if h.say, h.leave, err = a.gate.EnterSaying(ctx, callerOf(ctx).key(), what, weight); err != nil {
			return ctx, nil, err
		}
	}
	return context.WithValue(ctx, admittedKey, h), func() { h.end(); a.quiet(h.weight) }, nil
}

// on does work on the table of a version that belongs to the space. what names the work
// ("a figure"), and each is its weight a row.
func (a *App) on(
	ctx context.Context,
	spaceID, versionID int64,
	what string,
	each int64,
	do func(ctx context.Context, l *loaded, d Dataset) error,
) error {
	dataset, err := a.store.Version(ctx, spaceID, versionID)
	if err != nil {
		return err
	}
	if !a.isHeld(versionID) {
		each = max(each, weighLoad)
	}
	besides, _ := ctx.Value(heavierKey).(int64)
	ctx, leave, err := a.begin(
		ctx,
		fmt.Sprintf("%s (%s rows)", what, scale.Number(float64(dataset.Rows), 0)),
		each*int64(dataset.Rows)+besides,
	)
	if err != nil {
		return err
	}
	defer leave()
	l, err := a.load(ctx, dataset)
	if err != nil {
		return err
	}
	return do(ctx, l, dataset)
}

// What work weighs after which its memory is given back to the system, once nothing heavy has run for a while:
// what is garbage would stay with the program for minutes.
const (
	garbageWeight = 1_000_000
	quietTime     = 2 * time.Second
)

// quiet is told of work that has ended.
func (a *App) quiet(weight int64) {
	if weight >= garbageWeight && a.tidying.CompareAndSwap(false, true) {
		time.AfterFunc(quietTime, func() {
			a.tidying.Store(false)
			if running, _ := a.gate.Load(); running == 0 {
				debug.FreeOSMemory()
			}
		})
	}
}

// heavier says in a context what the next work weighs beside its rows.
func heavier(ctx context.Context, weight int64) context.Context {
	return context.WithValue(ctx, heavierKey, weight)
}

// onSpelled is on with the table as charts show it: with the words of its dictionary.
func (a *App) onSpelled(
	ctx context.Context,
	spaceID, versionID int64,
	what string,
	each int64,
	do func(ctx context.Context, t *shown, d Dataset) error,
) error {
	return a.on(ctx, spaceID, versionID, what, each, func(ctx context.Context, l *loaded, d Dataset) error {
		meanings, err := a.store.Meanings(ctx, d.ID)
		if err != nil {
			return err
		}
		t, err := l.spelled(meanings)
		if err != nil {
			return err
		}
		return do(ctx, t, d)
	})
}

type tableKey struct{ version int64 }

func (a *App) isHeld(versionID int64) bool {
	_, held := a.held.Get(tableKey{versionID})
	return held
}

// Table gives the table of a version that belongs to the space. Storage is asked each
// time whether it still does, and what it is called: of several servers on one database
// none shows what another has deleted or renamed.
func (a *App) Table(ctx context.Context, spaceID, versionID int64) (t *table.Table, dataset Dataset, err error) {
	err = a.on(ctx, spaceID, versionID, "the rows", 0, func(_ context.Context, l *loaded, d Dataset) error {
		t, dataset = l.table, d
		return nil
	})
	return t, dataset, err
}

// tableBytes is about how much memory a table takes.
func tableBytes(t *table.Table) int64 {
	total := int64(0)
	for _, c := range t.Columns() {
		total += columnBytes(c)
	}
	return total
}

func columnBytes(c *table.Column) int64 {
	total := int64(8*len(c.Numbers) + 4*len(c.Codes))
	for _, level := range c.Levels {
		total += int64(len(level)) + 16
	}
	return total
}

// Work lists what the caller's heavy work does: what runs, and what waits for it.
func (a *App) Work(ctx context.Context) []admission.Job {
	return a.gate.Standing(callerOf(ctx).key())
}
