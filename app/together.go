package app

import (
	"context"
	"fmt"
	"reflect"
	"strconv"
	"strings"
	"sync"
	"time"

	"copperlark/internal/admission"
)

// Subject is what people have open together and write notes on: exactly one of them.
type Subject struct {
	ChartID   int64 `json:"chart_id,omitempty"`
	DatasetID int64 `json:"dataset_id,omitempty"`
	PageID    int64 `json:"page_id,omitempty"`
}

// subjects are what a subject can be, by name, with its number.
var subjects = []struct {
	name string
	id   func(s *Subject) *int64
}{
	{"chart", func(s *Subject) *int64 { return &s.ChartID }},
	{"dataset", func(s *Subject) *int64 { return &s.DatasetID }},
	{"page", func(s *Subject) *int64 { return &s.PageID }},
}

// Name is what a subject is: chart, dataset or page; empty where it is none, or several.
func (s Subject) Name() string {
	name := ""
	for _, one := range subjects {
		if *one.id(&s) == 0 {
			continue
		}
		if name != "" {
			return ""
		}
		name = one.name
	}
	return name
}

// String is how servers name a subject to each other: chart 5.
func (s Subject) String() string { return fmt.Sprint(s.Name(), " ", s.ChartID+s.DatasetID+s.PageID) }

// SubjectOf reads what String wrote; nothing where it did not.
func SubjectOf(written string) (s Subject) {
	name, number, _ := strings.Cut(written, " ")
	id, _ := strconv.ParseInt(number, 10, 64)
	for _, one := range subjects {
		if one.name == name {
			*one.id(&s) = id
		}
	}
	return s
}

// ChartEvent is what happened on the trail of a chart: a step was kept, or, where there is none, the trail is to be read again.
type ChartEvent struct {
	Number int64
	Step   *Step
}

// Here is somebody who has a chart, a dataset or a page open.
type Here struct {
	PersonID int64  `json:"person_id"`
	Name     string `json:"name"`
	StepID   int64  `json:"step_id" doc:"of a chart: where they stand"`
	Place    string `json:"place,omitempty" doc:"of a page: the block that they write in; of a dataset: the column"`
}

// Stamps tell whether something changed since they were read: of a dataset and a page itself, of a chart nothing; and the notes on it.
type Stamps struct{ Itself, Notes string }

// hub wakes those who follow something, and counts them.
type hub struct {
	mutex  sync.Mutex
	woken  map[Subject]map[chan struct{}]bool
	people map[int64]int
	ended  chan struct{}
	once   sync.Once
}

func newHub() *hub {
	return &hub{woken: map[Subject]map[chan struct{}]bool{}, people: map[int64]int{}, ended: make(chan struct{})}
}

// MostFollowed is how many windows of one person follow something at once, of one server.
const MostFollowed = 64

// join gives what is told of a subject's changes, and what leaves it.
func (h *hub) join(s Subject, personID int64) (wake chan struct{}, leave func(), err error) {
	h.mutex.Lock()
	defer h.mutex.Unlock()
	if h.people[personID] >= MostFollowed {
		return nil, nil, &admission.Busy{Why: fmt.Sprintf("you have %d windows open", MostFollowed), After: time.Minute}
	}
	wake = make(chan struct{}, 1)
	if h.woken[s] == nil {
		h.woken[s] = map[chan struct{}]bool{}
	}
	h.woken[s][wake] = true
	h.people[personID]++
	return wake, func() {
		h.mutex.Lock()
		defer h.mutex.Unlock()
		delete(h.woken[s], wake)
		if len(h.woken[s]) == 0 {
			delete(h.woken, s)
		}
		if h.people[personID]--; h.people[personID] == 0 {
			delete(h.people, personID)
		}
	}, nil
}

// wake tells those who follow a subject; none: all.
func (h *hub) wake(of Subject) {
	h.mutex.Lock()
	defer h.mutex.Unlock()
	for s, all := range h.woken {
		if of != (Subject{}) && s != of {
			continue
		}
		for wake := range all {
			select {
			case wake <- struct{}{}:
			default: // it will look anyway
			}
		}
	}
}

// EndFollowing ends all that follow something: the program is about to stop.
func (a *App) EndFollowing() { a.hub.once.Do(func() { close(a.hub.ended) }) }

// Hear listens for what other servers, and this one, tell of what changed, until its context ends or the database is lost; whoever
// runs the program calls it again then. What happened meanwhile is looked for.
func (a *App) Hear(ctx context.Context) error {
	return a.store.Listen(ctx, func() { a.hub.wake(Subject{}) }, a.hub.wake)
}

// lookAnyway is how often who follows something looks without being told, and says that it is still there.
const lookAnyway = 8 * time.Second

// Told is who hears what happens; each may give an error, which ends it.
type Told struct {
	May     func() error                  // whether whoever follows still may
	Window  func(id string) error         // what the window is called that is followed in; once
	Events  func(list []ChartEvent) error // of the trail of a chart
	Changed func() error                  // a dataset or a page is to be read again
	Notes   func() error                  // the notes are to be read again
	People  func(here []Here) error
}

// Watch tells what happens with a chart (on its trail after a number), a dataset or a page, and who has it open, until the context
// ends, or the program does.
func (a *App) Watch(ctx context.Context, person Person, of Subject, after int64, told Told) error {
	if err := a.store.IsThere(ctx, person.SpaceID, of); err != nil {
		return err
	}
	wake, leave, err := a.hub.join(of, person.ID)
	if err != nil {
		return err
	}
	defer leave()
	window := newKey()
	if err := a.store.SeeWindow(ctx, window, of, person.ID); err != nil {
		return err
	}
	defer func() { _ = a.store.CloseWindow(context.WithoutCancel(ctx), window, of) }()
	known, err := a.store.Stamps(ctx, of)
	if err == nil {
		err = told.Window(window)
	}
	if err != nil {
		return err
	}
	f := &following{of: of, after: after, known: known, told: told, store: a.store}
	ticker := time.NewTicker(lookAnyway)
	defer ticker.Stop()
	for {
		if err := f.look(ctx); err != nil {
			return err
		}
		select {
		case <-ctx.Done():
			return ctx.Err()
		case <-a.hub.ended:
			return nil
		case <-wake:
		case <-ticker.C:
			if err := a.store.SeeWindow(ctx, window, of, person.ID); err != nil {
				return err
			}
			f.here = nil // who is here is told again, so that whoever follows hears that it is still followed
		}
	}
}

// following is what whoever follows something was told last.
type following struct {
	of    Subject
	after int64
	known Stamps
	here  []Here
	told  Told
	store Storage
}

// look tells what is not known yet.
func (f *following) look(ctx context.Context) error {
	if err := f.told.May(); err != nil {
		return err
	}
	if f.of.ChartID != 0 {
		list, last, err := f.store.ChartEvents(ctx, f.of.ChartID, f.after)
		if err == nil && len(list) > 0 {
			if err = f.told.Events(list); err == nil {
				f.after = last
			}
		}
		if err != nil {
			return err
		}
	}
	now, err := f.store.Stamps(ctx, f.of)
	if err == nil && now.Itself != f.known.Itself {
		err = f.told.Changed()
	}
	if err == nil && now.Notes != f.known.Notes {
		err = f.told.Notes()
	}
	if err != nil {
		return err
	}
	f.known = now
	here, err := f.store.HereNow(ctx, f.of)
	if err == nil && !reflect.DeepEqual(here, f.here) {
		f.here = here
		err = f.told.People(here)
	}
	return err
}

// ErrTaken is what whoever wants to write where somebody else does is told.
type ErrTaken struct{ By string }

func (e *ErrTaken) Error() string { return e.By + " is writing there" }

// StandIn keeps where in a page or a dataset somebody writes, in a window of theirs that follows it; empty: nowhere. One place is
// one writer's at a time: ErrTaken names who has it.
func (a *App) StandIn(ctx context.Context, person Person, window, place string) error {
	return a.store.StandIn(ctx, person.ID, window, place)
}
