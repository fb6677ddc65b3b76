package app

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"time"

	"copperlark/internal/admission"
	"copperlark/internal/cache"
)

// signIns slows guessing down. Every try is counted before it is looked at: for the
// account, for the address that it comes from, and for both together. Past a few tries the
// next ones wait, longer each time; somebody else's tries from elsewhere make the owner
// wait only a little, so that nobody can lock an owner out.
type signIns struct {
	mutex  sync.Mutex
	tries  *cache.Cache  // *tries by account and address
	places chan struct{} // passwords that are checked now
	queued int
	now    func() time.Time
	pause  func(context.Context, time.Duration) error
}

type tries struct {
	count      int
	last, next time.Time
}

// How tries are counted and slowed.
const (
	forgetTries    = 15 * time.Minute
	mostTries      = 10_000 // accounts and addresses that are remembered
	freeTries      = 5      // of an account
	freeAddress    = 20     // of an address: a house full of people
	longestAccount = 4 * time.Second
	longestPause   = 30 * time.Second
	mostQueued     = 200
	auditedRefusal = 20 // of an account within a while
)

func newSignIns(places int, now func() time.Time) *signIns {
	return &signIns{tries: cache.Of(mostTries), places: make(chan struct{}, places), now: now, pause: pause}
}

func pause(ctx context.Context, d time.Duration) error {
	timer := time.NewTimer(d)
	defer timer.Stop()
	select {
	case <-timer.C:
		return nil
	case <-ctx.Done():
		return ctx.Err()
	}
}

// of gives the tries of a key, forgetting those of long ago.
func (s *signIns) of(key string) *tries {
	if held, is := s.tries.Get(key); is && s.now().Sub(held.(*tries).last) < forgetTries {
		return held.(*tries)
	}
	t := &tries{}
	s.tries.Put(key, t, 0)
	return t
}

func slowdown(count, free int, longest time.Duration) time.Duration {
	if count <= free {
		return 0
	}
	return min(longest, time.Second<<min(count-free-1, 10))
}

func keysOf(email, address string) (account, from, both string) {
	return "account " + email, "address " + address, "both " + email + " " + address
}

// count counts a try and says how long it must wait; so many tries there were of the
// account.
func (s *signIns) count(email, address string) (wait time.Duration, ofAccount int, err error) {
	s.mutex.Lock()
	defer s.mutex.Unlock()
	now := s.now()
	account, from, both := keysOf(email, address)
	one := s.of(account)
	one.count, one.last = one.count+1, now
	wait = slowdown(one.count, freeTries, longestAccount)
	for _, key := range []struct {
		name string
		free int
	}{{from, freeAddress}, {both, freeTries}} {
		t := s.of(key.name)
		t.count, t.last = t.count+1, now
		if step := slowdown(t.count, key.free, longestPause); step > 0 {
			if t.next.Before(now) {
				t.next = now
			}
			if ahead := t.next.Sub(now) + step; ahead > longestPause {
				return 0, one.count, &admission.Busy{Why: "too many wrong passwords from here", After: ahead}
			}
			t.next = t.next.Add(step)
			wait = max(wait, t.next.Sub(now))
		}
	}
	if s.queued >= mostQueued {
		return 0, one.count, &admission.Busy{Why: "too many people sign in at once", After: 5 * time.Second}
	}
	s.queued++
	return wait, one.count, nil
}

// right forgets the tries of an account from an address: it was its owner.
func (s *signIns) right(email, address string) {
	s.mutex.Lock()
	defer s.mutex.Unlock()
	account, from, both := keysOf(email, address)
	*s.of(account), *s.of(both) = tries{}, tries{}
	if t := s.of(from); t.count > 0 {
		t.count--
	}
}

// turn does the work of one password when its wait is over and a place is free.
func (s *signIns) turn(ctx context.Context, wait time.Duration, work func()) error {
	defer func() { s.mutex.Lock(); s.queued--; s.mutex.Unlock() }()
	if wait > 0 {
		if err := s.pause(ctx, wait); err != nil {
			return err
		}
	}
	select {
	case s.places <- struct{}{}:
	case <-ctx.Done():
		return ctx.Err()
	}
	defer func() { <-s.places }()
	work()
	return nil
}

// noHash is checked for an unknown account and for one with links only, so that they take
// as long as one with a password.
var noHash = sync.OnceValue(func() string { return HashPassword("nobody") })

// SignIn gives a session token for an address, a password, and a code where there is a second factor: ErrNeedsCode says
// that the password was right and a code is wanted.
func (a *App) SignIn(ctx context.Context, email, password, code string) (token string, err error) {
	email = strings.ToLower(strings.TrimSpace(email))
	from := callerOf(ctx).Address
	wait, tried, err := a.signIns.count(email, from)
	if err != nil {
		return "", err
	}
	var person Person
	var stored string
	matches := false
	if err := a.signIns.turn(ctx, wait, func() {
		if person, stored, err = a.store.PersonByEmail(ctx, email); err == nil || errors.Is(err, ErrNotFound) {
			usable := stored
			if usable == "" {
				usable = noHash()
			}
			matches = passwordMatches(password, usable) && stored != ""
		}
	}); err != nil {
		return "", err
	}
	if err != nil && !errors.Is(err, ErrNotFound) {
		return "", err
	}
	if !matches {
		if person.ID != 0 && tried <= auditedRefusal {
			a.everywhere(ctx, person, didRefuse, "with a wrong password")
		}
		return "", ErrWrongSignIn
	}
	strong, err := a.shown(ctx, person, code)
	if err != nil {
		if errors.Is(err, ErrWrongCode) && tried <= auditedRefusal {
			a.everywhere(ctx, person, didRefuse, "with a wrong code")
		}
		return "", err // the try stays counted: codes are guessed as passwords are
	}
	a.signIns.right(email, from)
	how := "with a password"
	if strong {
		how = "with a password and a code"
	}
	a.everywhere(ctx, person, didSignIn, how)
	return a.newSession(ctx, person.ID, strong)
}

func (a *App) newSession(ctx context.Context, personID int64, strong bool) (string, error) {
	token, hash := newToken()
	caller := callerOf(ctx)
	return token, a.store.AddSession(ctx, hash, personID, a.now().Add(SessionTime), short(caller.Device, 100), caller.Address, strong)
}

// SignInLink makes a link token that signs a person in once.
func (a *App) SignInLink(ctx context.Context, person Person) (string, error) {
	token, hash := newToken()
	err := a.store.AddSignInLink(ctx, hash, person.ID, a.now().Add(LinkTime), false)
	if err == nil {
		a.did(ctx, person, didLink, person.Email)
	}
	return token, err
}

// UseSignInLink turns a link token into a session token, once.
func (a *App) UseSignInLink(ctx context.Context, link string) (token string, err error) {
	personID, err := a.store.UseSignInLink(ctx, tokenHash(link), false)
	if errors.Is(err, ErrNotFound) {
		return "", ErrLinkUsed
	}
	if err != nil {
		return "", err
	}
	if token, err = a.newSession(ctx, personID, false); err != nil {
		return "", err
	}
	person, err := a.Who(ctx, token, 0)
	if err != nil {
		return "", fmt.Errorf("whose link it was: %w", err)
	}
	a.everywhere(ctx, person, didSignIn, "with a link")
	return token, nil
}
