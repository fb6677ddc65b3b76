package app

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"
)

// Scope is what a script may do with a key.
type Scope string

// Scopes are all scopes: what each lets a script do, in words that follow "may", and what its person must be for it.
var Scopes = []struct {
	Scope Scope
	May   string
	Least Role
}{
	{ScopeRead, "read every table and chart, their numbers and pictures", Reader},
	{ScopeAppend, "add rows to a dataset, as its next version", Maker},
	{ScopeMake, "bring tables, prepare them, and make charts", Maker},
	{ScopeShare, "share charts, and withdraw what is shared", Maker},
}

// The scopes.
const (
	ScopeRead   Scope = "read"
	ScopeAppend Scope = "add rows"
	ScopeMake   Scope = "make"
	ScopeShare  Scope = "share"
)

func leastOf(scope Scope) (Role, bool) {
	for _, one := range Scopes {
		if one.Scope == scope {
			return one.Least, true
		}
	}
	return NoRole, false
}

// Key is what a script signs in with.
type Key struct {
	ID        int64      `json:"id"`
	Name      string     `json:"name"`
	Scopes    []Scope    `json:"scopes" nullable:"false"`
	DatasetID int64      `json:"dataset_id,omitempty" doc:"the only dataset that it may add rows to; missing: any"`
	Dataset   string     `json:"dataset,omitempty" doc:"its name"`
	By        string     `json:"by" doc:"whose it is: it cannot do what they may not"`
	ByID      int64      `json:"by_id"`
	CreatedAt time.Time  `json:"created_at"`
	ExpiresAt time.Time  `json:"expires_at"`
	UsedAt    *time.Time `json:"used_at,omitempty"`
}

// May reports whether a key has a scope.
func (k Key) May(scope Scope) bool {
	return slices.Contains(k.Scopes, scope)
}

// KeyWanted is what somebody says of a new key.
type KeyWanted struct {
	Name      string  `json:"name" minLength:"1" maxLength:"100" doc:"what uses it"`
	Scopes    []Scope `json:"scopes" minItems:"1" nullable:"false"`
	DatasetID int64   `json:"dataset_id,omitempty" doc:"the only dataset that it may add rows to; missing: any"`
	Days      int     `json:"days" minimum:"1" maximum:"1096" doc:"how many days it can be used"`
}

// KeyStorage is what the program keeps of keys.
type KeyStorage interface {
	AddKey(ctx context.Context, spaceID, personID int64, tokenHash []byte, key Key) (Key, error)
	Keys(ctx context.Context, spaceID int64) ([]Key, error)                // that can still be used, the newest first
	DropKey(ctx context.Context, spaceID, id, personID int64) (Key, error) // of anybody for 0, else of the person
	// KeyByToken finds a key that can be used, with its person as they are in its space now.
	KeyByToken(ctx context.Context, tokenHash []byte) (Key, Person, error)
	// BeginAnswer notes that a request is answered; it gives what was answered before, nil for the first time, and
	// ErrTwice where the same is answered at this moment, or something else was sent under the same words.
	BeginAnswer(ctx context.Context, keyID int64, said string, requestHash []byte) (*KeptAnswer, error)
	KeepAnswer(ctx context.Context, keyID int64, said string, answer KeptAnswer) error
	DropAnswer(ctx context.Context, keyID int64, said string) error
}

// KeptAnswer is what a request was answered.
type KeptAnswer struct {
	Status int
	Kind   string
	Body   []byte
}

// keyBegins is what every key begins with, so that one that was lost in public is found.
const keyBegins = "lark-key-"

// mostKeys is how many keys a space may have.
const mostKeys = 200

// AddKey makes a key; its token is given this once.
func (a *App) AddKey(ctx context.Context, person Person, wanted KeyWanted) (key Key, token string, err error) {
	if wanted.Name = strings.TrimSpace(wanted.Name); wanted.Name == "" {
		return key, "", &Invalid{Message: "the key has no name", Advice: "say what uses it: weekly import"}
	}
	for _, scope := range wanted.Scopes {
		least, known := leastOf(scope)
		if !known {
			return key, "", &Invalid{Message: fmt.Sprintf("a key cannot be for %q", scope), Advice: "say read, add rows, make or share"}
		}
		if !person.Role.May(least) {
			return key, "", &Invalid{Message: fmt.Sprintf("you are a %s, and could not %s yourself", person.Role, scope),
				Advice: "ask an owner of the space for another role"}
		}
	}
	if wanted.DatasetID != 0 {
		if _, err := a.store.Dataset(ctx, person.SpaceID, wanted.DatasetID); err != nil {
			return key, "", err
		}
	}
	there, err := a.store.Keys(ctx, person.SpaceID)
	if err != nil {
		return key, "", err
	}
	if len(there) >= mostKeys {
		return key, "", &Invalid{
			Message: fmt.Sprintf("the space has %d keys, and there may be no more", mostKeys),
			Advice:  "take one back first",
		}
	}
	random, _ := newToken()
	token = keyBegins + random
	key, err = a.store.AddKey(ctx, person.SpaceID, person.ID, tokenHash(token), Key{Name: wanted.Name, Scopes: wanted.Scopes,
		DatasetID: wanted.DatasetID, ExpiresAt: a.now().Add(time.Duration(wanted.Days) * 24 * time.Hour)})
	if err == nil {
		a.did(ctx, person, didKey, "“"+key.Name+"”")
	}
	return key, token, err
}

// Keys lists the keys of a space: all for its owners, else one's own.
func (a *App) Keys(ctx context.Context, person Person) ([]Key, error) {
	list, err := a.store.Keys(ctx, person.SpaceID)
	if person.Role.May(Owner) {
		return list, err
	}
	return slices.DeleteFunc(list, func(key Key) bool { return key.ByID != person.ID }), err
}

// DropKey takes a key back, at once: one's own, or any for an owner.
func (a *App) DropKey(ctx context.Context, person Person, id int64) error {
	whose := person.ID
	if person.Role.May(Owner) {
		whose = 0
	}
	key, err := a.store.DropKey(ctx, person.SpaceID, id, whose)
	if err == nil {
		a.did(ctx, person, didDropKey, "“"+key.Name+"” of "+key.By)
	}
	return err
}

// KeyHolder gives the key of a token and its person, in the key's space.
func (a *App) KeyHolder(ctx context.Context, token string) (Key, Person, error) {
	if !strings.HasPrefix(token, keyBegins) {
		return Key{}, Person{}, ErrNoKey
	}
	key, person, err := a.store.KeyByToken(ctx, tokenHash(token))
	if errors.Is(err, ErrNotFound) {
		return Key{}, Person{}, ErrNoKey
	}
	return key, person, err
}

// MayUse reports why a key may not do something; nil: it may. Whoever has less of a role than when they made it takes the
// key's rights along.
func MayUse(key Key, person Person, scope Scope) error {
	least, _ := leastOf(scope)
	switch {
	case person.Role == NoRole:
		return ErrNoKey
	case !key.May(scope):
		return ErrScope
	case !person.Role.May(least):
		return ErrNotAllowed
	}
	return nil
}

// Answered notes that a request is answered, so that it is answered once: see KeyStorage.
func (a *App) Answered(ctx context.Context, key Key, said string, requestHash []byte) (*KeptAnswer, error) {
	return a.store.BeginAnswer(ctx, key.ID, said, requestHash)
}

// KeepAnswer keeps what it was answered; a failure of ours is forgotten, so that it can be asked again.
func (a *App) KeepAnswer(ctx context.Context, key Key, said string, answer KeptAnswer) error {
	ctx = context.WithoutCancel(ctx)
	if answer.Status == 429 || answer.Status >= 499 {
		return a.store.DropAnswer(ctx, key.ID, said)
	}
	return a.store.KeepAnswer(ctx, key.ID, said, answer)
}
