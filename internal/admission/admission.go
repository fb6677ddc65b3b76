// Package admission lets heavy work in by its weight, for each person and in all, so that
// nobody starves the others and the memory that work takes stays bounded.
//
// Work that does not fit waits in the order in which it came; what a person has no room
// for does not keep others waiting. Waiting has an end, and a person can have only so
// much of it.
package admission

import (
	"context"
	"fmt"
	"sync"
	"time"
)

// Gate is where work is let in.
type Gate struct {
	limits Limits
	mutex  sync.Mutex
	used   int64
	people map[string]*standing
	queue  []*Job
}

// Limits are what a gate keeps to. Work heavier than a limit counts as the limit, so that
// it can be done at all.
type Limits struct {
	InAll     int64         // weight
	PerPerson int64         // weight
	Patience  time.Duration // how long work waits
	Queue     int           // how much work of a person waits
}

type standing struct {
	used    int64
	waiting int
	jobs    []*Job
}

// Job is a piece of work that is done or waits to be.
type Job struct {
	What    string
	Since   time.Time
	Running bool
	Done    string // how far it is, in words; empty: it does not say

	person string
	weight int64
	ready  chan struct{}
}

// Busy is the error of work that cannot be let in.
type Busy struct {
	Why   string
	After time.Duration // when to try again
}

func (b *Busy) Error() string { return b.Why }

// New makes a gate.
func New(limits Limits) *Gate {
	return &Gate{limits: limits, people: map[string]*standing{}}
}

// Enter waits until work of a weight may begin, and gives what ends it. what says in a
// few words what it is. The error is a *Busy, or the context's.
func (g *Gate) Enter(ctx context.Context, person, what string, weight int64) (leave func(), err error) {
	_, leave, err = g.EnterSaying(ctx, person, what, weight)
	return leave, err
}

// EnterSaying is Enter for work that says how far it is: say takes the words.
func (g *Gate) EnterSaying(ctx context.Context, person, what string, weight int64) (say func(done string), leave func(), err error) {
	job := &Job{
		What:   what,
		Since:  time.Now(),
		person: person,
		weight: max(1, min(weight, g.limits.PerPerson, g.limits.InAll)),
		ready:  make(chan struct{}),
	}
	g.mutex.Lock()
	who := g.people[person]
	if who == nil {
		who = &standing{}
		g.people[person] = who
	}
	if waiting := who.waiting; waiting >= g.limits.Queue {
		g.mutex.Unlock()
		return nil, nil, &Busy{fmt.Sprintf("%d things that you asked for are waiting already", waiting), g.limits.Patience / 4}
	}
	who.jobs, who.waiting = append(who.jobs, job), who.waiting+1
	g.queue = append(g.queue, job)
	g.admit()
	g.mutex.Unlock()
	timer := time.NewTimer(g.limits.Patience)
	defer timer.Stop()
	select {
	case <-job.ready:
		say = func(done string) {
			g.mutex.Lock()
			defer g.mutex.Unlock()
			job.Done = done
		}
		return say, sync.OnceFunc(func() { g.end(job) }), nil
	case <-ctx.Done():
		err = ctx.Err()
	case <-timer.C:
		err = &Busy{
			fmt.Sprintf("the server is busy with other work; %s waited for %d seconds", what, int(g.limits.Patience.Seconds())),
			g.limits.Patience / 2,
		}
	}
	g.end(job)
	return nil, nil, err
}

// admit lets in whatever fits, in order.
func (g *Gate) admit() {
	left := g.queue[:0]
	blocked := false // work that fits its person and not the whole is next: what is behind it must not pass it
	for _, job := range g.queue {
		who := g.people[job.person]
		switch {
		case who.used+job.weight > g.limits.PerPerson:
			left = append(left, job)
		case blocked || g.used+job.weight > g.limits.InAll:
			left, blocked = append(left, job), true
		default:
			g.used += job.weight
			who.used += job.weight
			who.waiting--
			job.Running = true
			close(job.ready)
		}
	}
	clear(g.queue[len(left):])
	g.queue = left
}

// end takes a job out, done or given up.
func (g *Gate) end(job *Job) {
	g.mutex.Lock()
	defer g.mutex.Unlock()
	who := g.people[job.person]
	if job.Running {
		g.used -= job.weight
		who.used -= job.weight
	} else {
		who.waiting--
		g.queue = without(g.queue, job)
	}
	if who.jobs = without(who.jobs, job); len(who.jobs) == 0 {
		delete(g.people, job.person)
	}
	g.admit()
}

func without(jobs []*Job, job *Job) []*Job {
	for i, other := range jobs {
		if other == job {
			return append(jobs[:i], jobs[i+1:]...)
		}
	}
	return jobs
}

// Standing lists what a person's work does: what runs, and what waits.
func (g *Gate) Standing(person string) []Job {
	g.mutex.Lock()
	defer g.mutex.Unlock()
	jobs := []Job{}
	if who := g.people[person]; who != nil {
		for _, job := range who.jobs {
			jobs = append(jobs, Job{What: job.What, Since: job.Since, Running: job.Running, Done: job.Done})
		}
	}
	return jobs
}

// Load tells how much weight is being worked on, and how many jobs wait.
func (g *Gate) Load() (weight int64, waiting int) {
	g.mutex.Lock()
	defer g.mutex.Unlock()
	return g.used, len(g.queue)
}
