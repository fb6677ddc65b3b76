package app

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"
	"unicode/utf8"

	"copperlark/core/chart"
	"copperlark/core/mark"
	"copperlark/core/sentence"
)

// sameWord is how soon after a step another change of the same word is the same step.
const sameWord = time.Second

// AddStep keeps a change of a chart: a step after the given one. Whoever goes on from an earlier step branches the trail. By
// hand, what changes a word again within a second is still one step.
func (a *App) AddStep(ctx context.Context, person Person, chartID, parentID int64, document *chart.Document, byHand bool) (Step, error) {
	if err := a.roomFor(ctx, person.SpaceID, 0, 0); err != nil {
		return Step{}, err
	}
	before, versionID, err := a.store.Step(ctx, person.SpaceID, chartID, parentID)
	if err != nil {
		return Step{}, err
	}
	t, bound, err := a.checked(ctx, person.SpaceID, versionID, document)
	if err != nil {
		return Step{}, err
	}
	was, err := t.bind(before)
	if err != nil {
		return Step{}, err
	}
	if byHand {
		step, err := a.sayAnew(ctx, person, chartID, parentID, t, bound)
		if !errors.Is(err, ErrNotFound) {
			return step, err
		}
	}
	return a.store.AddStep(
		ctx,
		person.SpaceID,
		chartID,
		parentID,
		person.ID,
		bound.Document,
		t.change(was, bound),
		nameOf(bound),
		MaxStepsADay,
	)
}

// sayAnew says the last step otherwise, where it changed the same word a moment ago; else it is ErrNotFound.
func (a *App) sayAnew(ctx context.Context, person Person, chartID, stepID int64, t *shown, bound *mark.Bound) (Step, error) {
	since := a.now().Add(-sameWord)
	was, before, err := a.store.LastWord(ctx, chartID, stepID, person.ID, since)
	if err != nil {
		return Step{}, err
	}
	if was == nil {
		return Step{}, ErrNotFound
	}
	from, err := t.bind(before)
	if err != nil {
		return Step{}, err
	}
	last, err := t.bind(was)
	if err != nil {
		return Step{}, err
	}
	word := wordOf(t.change(from, last))
	if word == "" || word != wordOf(t.change(last, bound)) || len(sentence.Differing(before, bound.Document)) == 0 {
		return Step{}, ErrNotFound
	}
	return a.store.SayAnew(ctx, chartID, stepID, person.ID, since, bound.Document, t.change(from, bound), nameOf(bound))
}

// wordOf is which one word a change is of: colour, of "colour: district"; empty where it is of none, or of several.
func wordOf(change string) string {
	word, _, one := strings.Cut(change, ": ")
	if !one || strings.Count(change, ": ") > 1 || strings.HasSuffix(change, " more") {
		return ""
	}
	return word
}

// Chart gives a chart with its trail, where a person stands on it.
func (a *App) Chart(ctx context.Context, person Person, id int64) (Chart, error) {
	c, err := a.store.Chart(ctx, person.SpaceID, id)
	if err != nil {
		return c, err
	}
	if c.AtStepID, err = a.store.Cursor(ctx, id, person.ID); err != nil {
		return c, err
	}
	if c.AtStepID == 0 || c.AtStepID == c.HeadStepID {
		c.AtStepID = c.HeadStepID
		return c, nil
	}
	c.Document, _, err = a.store.Step(ctx, person.SpaceID, id, c.AtStepID)
	return c, err
}

// StepOf gives a step of a trail with its document.
func (a *App) StepOf(ctx context.Context, spaceID, chartID, stepID int64) (Step, error) {
	document, _, err := a.store.Step(ctx, spaceID, chartID, stepID)
	return Step{ID: stepID, Document: document}, err
}

// longestStepName is how many characters the name of a step has at most.
const longestStepName = 60

// MarkStep names a step of a trail, or pins it; nil stays as it is, an empty name is none.
func (a *App) MarkStep(ctx context.Context, spaceID, chartID, stepID int64, name *string, pinned *bool) error {
	if name != nil {
		said := strings.TrimSpace(*name)
		if utf8.RuneCountInString(said) > longestStepName {
			return &Invalid{Message: fmt.Sprintf("the name of a step has at most %d characters", longestStepName), Advice: "say it in a few words"}
		}
		name = &said
	}
	return a.store.MarkStep(ctx, spaceID, chartID, stepID, name, pinned)
}

// TakeStepOut takes a step with all that follow it out of a trail; PutStepBack puts them back.
func (a *App) TakeStepOut(ctx context.Context, spaceID, chartID, stepID int64) (steps int, err error) {
	steps, err = a.store.TakeOut(ctx, spaceID, chartID, stepID, a.now())
	if errors.Is(err, ErrFirstStep) {
		return 0, &Invalid{Message: err.Error(), Advice: "delete the chart, or take out what follows it"}
	}
	return steps, err
}

// PutStepBack puts a step back with all that were taken out with it.
func (a *App) PutStepBack(ctx context.Context, spaceID, chartID, stepID int64) error {
	return a.store.PutBack(ctx, spaceID, chartID, stepID)
}
