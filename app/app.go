// Package app holds what people do with the program: sign in, bring a table,
// draw a chart, keep its steps, share it. It is the only place where the core
// and storage meet; it declares the storage that it needs (storage.go).
package app

import (
	"context"
	"errors"
	"log/slog"
	"sync/atomic"
	"time"

	"golang.org/x/sync/singleflight"

	"copperlark/core/chart"
	"copperlark/core/parallel"
	"copperlark/core/sentence"
	"copperlark/core/text"
	"copperlark/internal/admission"
	"copperlark/internal/cache"
)

// The errors that a caller tells apart; everything else is a fault of ours.
var (
	ErrNotFound        = errors.New("there is nothing here, or it is not yours")
	ErrNotSignedIn     = errors.New("sign in first")
	ErrNotAllowed      = errors.New("your role in this space does not go so far")
	ErrWrongSignIn     = errors.New("the address or the password is wrong")
	ErrWrongPassword   = errors.New("the password is wrong")
	ErrNeedsCode       = errors.New("a code is wanted as well")
	ErrWrongCode       = errors.New("the code is wrong, or was used already")
	ErrNeedsFactor     = errors.New("this space asks for a second factor")
	ErrNotHere         = errors.New("there is no such space, or you are not in it")
	ErrLastOwner       = errors.New("a space needs an owner")
	ErrInvitationOver  = errors.New("this invitation leads nowhere any more")
	ErrInvitationOther = errors.New("this invitation is for another address")
	ErrJoinKnown       = errors.New("you cannot begin anew with this address")
	ErrNoKey           = errors.New("the key is not known here")
	ErrScope           = errors.New("the key is not for this")
	ErrTwice           = errors.New("a request with this Idempotency-Key is being answered, or was another one")
	ErrChanged         = errors.New("it was changed since it was seen")
	ErrKnown           = errors.New("it is there already")
	ErrPasskey         = errors.New("the passkey was not accepted")
	ErrOrganisation    = errors.New("the organisation did not let you in")
	ErrLinkUsed        = errors.New("the sign-in link was used already, or is too old")
	ErrWithdrawn       = errors.New("the shared chart was withdrawn")
	ErrShareOver       = errors.New("this share has ended")
	ErrPeopleOnly      = errors.New("only people of its space open this")
	ErrLocked          = errors.New("this asks for a password")
	ErrFirstStep       = errors.New("the first step cannot be taken out")
	ErrTooManySteps    = errors.New("too many steps were kept within a day")
	ErrUnavailable     = errors.New("the database does not answer")
	ErrNoRoom          = errors.New("the disk of the server is full")
	ErrTookTooLong     = errors.New("the database took too long")
	ErrNotText         = errors.New("the text holds a zero byte or is not valid UTF-8")
)

// Invalid is input that cannot be taken, with what to do about it.
type Invalid struct {
	Message, Advice string
	Problems        []chart.Problem   // of a document
	Mistakes        []*sentence.Error // of a typed sentence
	Missing         []string          // columns that a chart names and a version does not have
}

func (i *Invalid) Error() string { return i.Message }

// Full is what cannot be kept for want of room, with what to do about it.
type Full struct{ Message, Advice string }

func (f *Full) Error() string { return f.Message }

// App is the program without its transport.
type App struct {
	tidying atomic.Bool // memory is about to be given back
	store   Storage
	metrics *text.Metrics
	now     func() time.Time
	log     *slog.Logger
	limits  Limits
	reads   singleflight.Group // of tables
	follows singleflight.Group // of live shares
	held    *cache.Cache       // tables, preparations, views, shared charts
	gate    *admission.Gate
	arrived arrivals
	signIns *signIns
	outside Outside
	hub     *hub // of those who follow charts

	described described
}

// New makes the program over its storage. now is the clock.
func New(store Storage, limits Limits, now func() time.Time, log *slog.Logger) *App {
	limits = limits.withDefaults()
	return &App{store: store, metrics: text.Hanken(), now: now, log: log, limits: limits, held: cache.New(limits.MemoryBytes / cacheShare),
		gate: admission.New(
			admission.Limits{InAll: limits.Work, PerPerson: max(1, limits.Work/2), Patience: limits.Patience, Queue: limits.Queue},
		),
		arrived: arrivals{people: map[int64]*arriving{}}, signIns: newSignIns(limits.SignIns, now), hub: newHub()}
}

// Outside is what the program reaches beyond its database; what is nil is not set up.
type Outside struct {
	Address      string // of the program as people reach it, for links in letters: https://lark.example
	Post         Post
	Organisation Organisation
	Settling     Settling
	Courier      Courier
	Fetch        Fetch // files that come again
	Seal         Seal  // what keeps secrets
	Sources      []OfferedSource
	AuditTime    time.Duration // how long the audit is kept; 0: for ever
	TryTime      time.Duration // how long charts stay that nobody named, kept or shared; 0: for ever
}

// Post sends letters.
type Post interface {
	Send(ctx context.Context, to, subject, text string) error
}

// Reach says what lies outside; before the first request.
func (a *App) Reach(outside Outside) { a.outside = outside }

// post sends a letter beside the request: whoever asks cannot tell by the time it takes whether there was one.
func (a *App) post(ctx context.Context, to, subject, text string) {
	ctx = context.WithoutCancel(ctx)
	parallel.Beside(func() {
		if err := a.outside.Post.Send(ctx, to, subject, text); err != nil {
			a.log.ErrorContext(ctx, "a letter could not be sent", "error", err)
		}
	}, func(f *parallel.Fault) { a.log.ErrorContext(ctx, "sending a letter failed", "fault", f) })
}

// Ready reports whether the program can answer: its database does.
func (a *App) Ready(ctx context.Context) error { return a.store.Ready(ctx) }

// Tidy forgets what waited too long; whoever runs the program calls it now and then.
func (a *App) Tidy(ctx context.Context) error {
	return a.store.DropOld(ctx, a.limits.WaitingTime, a.outside.AuditTime)
}

// Sweep deletes charts that nobody named, kept or shared for long, where they go; it reads all pages, and is called seldom.
func (a *App) Sweep(ctx context.Context) error {
	if a.outside.TryTime <= 0 {
		return nil
	}
	_, err := a.store.DropTries(ctx, a.outside.TryTime)
	return err
}

// Load tells what the program holds and does, for measuring it.
func (a *App) Load() (heldBytes, workWeight int64, workWaiting int) {
	workWeight, workWaiting = a.gate.Load()
	return a.held.Used(), workWeight, workWaiting
}
