package app

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"
)

// letterEvery is how long it is at least from one letter about notes to the next.
const letterEvery = 24 * time.Hour

// mostInLetter is how many notes one letter tells of, and how many letters of each.
const (
	mostInLetter = 20
	mostOfOne    = 300
)

// PostedNote is a note as a letter tells of it.
type PostedNote struct {
	SpaceID        int64
	Space          string
	By, Name, Text string // of what was said last
	Named          bool
	Path           string // where it is read
}

// PostNotes writes to people, once a day at most, of notes that concern them and that they have not seen; where e-mail is set.
func (a *App) PostNotes(ctx context.Context) error {
	if a.outside.Post == nil {
		return nil
	}
	for {
		email, news, err := a.store.NewsToPost(ctx, letterEvery)
		if errors.Is(err, ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		if err := a.outside.Post.Send(ctx, email, letterSubject(len(news)), a.letterOf(news)); err != nil {
			a.log.ErrorContext(ctx, "a letter could not be sent", "error", err)
		}
	}
}

func letterSubject(notes int) string {
	if notes == 1 {
		return "A note for you in Copper Lark"
	}
	return fmt.Sprintf("%d notes for you in Copper Lark", notes)
}

// letterOf writes of notes, the last first. What people wrote stands in lines of its own.
func (a *App) letterOf(news []PostedNote) string {
	var out strings.Builder
	for i, n := range news {
		if i == mostInLetter {
			fmt.Fprintf(&out, "And %d more, on the front page.\n\n", len(news)-i)
			break
		}
		how := "wrote on"
		if n.Named {
			how = "named you in a note on"
		}
		fmt.Fprintf(&out, "%s %s “%s” (%s):\n  %s\n%s%s\n\n", n.By, how, oneLine(n.Name), oneLine(n.Space), oneLine(n.Text),
			a.outside.Address, n.Path)
	}
	return out.String() + "You get such a letter at most once a day. Your account says whether you do.\n"
}

// oneLine is a text on one line, its beginning where it is long.
func oneLine(text string) string {
	text = strings.Join(strings.Fields(text), " ")
	if runes := []rune(text); len(runes) > mostOfOne {
		return string(runes[:mostOfOne]) + " …"
	}
	return text
}
