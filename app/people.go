package app

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"errors"
	"strings"
	"time"
)

// SessionTime is how long a session lasts; AwayTime after how long a time away one signs in again; LinkTime how long a
// sign-in link can be used.
const (
	SessionTime = 30 * 24 * time.Hour
	AwayTime    = 14 * 24 * time.Hour
	LinkTime    = 12 * time.Hour
)

// newToken makes 256 random bits for an address or a cookie, and the hash that
// is stored of it.
func newToken() (token string, hash []byte) {
	raw := make([]byte, 32)
	_, _ = rand.Read(raw) // never fails: crypto/rand ends the program instead
	token = base64.RawURLEncoding.EncodeToString(raw)
	return token, tokenHash(token)
}

func tokenHash(token string) []byte {
	sum := sha256.Sum256([]byte(token))
	return sum[:]
}

// Who gives the person behind a session token, in one of their spaces; 0: the one where they were last. Somebody who is not
// in the space has no role.
func (a *App) Who(ctx context.Context, token string, spaceID int64) (Person, error) {
	if token == "" {
		return Person{}, ErrNotSignedIn
	}
	person, err := a.store.PersonBySession(ctx, tokenHash(token), spaceID, AwayTime)
	if errors.Is(err, ErrNotFound) {
		return Person{}, ErrNotSignedIn
	}
	return person, err
}

// SignOut ends a session.
func (a *App) SignOut(ctx context.Context, token string) error {
	return a.store.DropSession(ctx, tokenHash(token))
}

// AddPerson makes a person with a space of their own, or in none where its name is empty; an empty password leaves
// sign-in links as the only way in.
func (a *App) AddPerson(ctx context.Context, email, name, password, spaceName string) (Person, error) {
	email, err := address(email)
	if err != nil {
		return Person{}, err
	}
	if name, err = personName(name); err != nil {
		return Person{}, err
	}
	hash := ""
	if password != "" {
		if err := a.fitPassword(password, email, name); err != nil {
			return Person{}, err
		}
		hash = HashPassword(password)
	}
	person, err := a.store.AddPerson(ctx, email, name, hash, strings.TrimSpace(spaceName))
	if err == nil {
		a.did(ctx, person, didPerson, person.Email)
	}
	return person, err
}

// Session is one place where somebody is signed in.
type Session struct {
	ID      int64     `json:"id"`
	Device  string    `json:"device" doc:"the browser and the system that it said it was"`
	Address string    `json:"address" doc:"where it came from when it was seen last"`
	Began   time.Time `json:"began"`
	Seen    time.Time `json:"seen"`
	This    bool      `json:"this" doc:"whether it is the one that asks"`
	Strong  bool      `json:"strong" doc:"whether a second factor was shown"`
}

// SignInStorage is what the program keeps of how people sign in.
type SignInStorage interface {
	PersonByEmail(ctx context.Context, email string) (person Person, passwordHash string, err error)
	PersonBySession(ctx context.Context, tokenHash []byte, spaceID int64, away time.Duration) (Person, error)
	AddSession(ctx context.Context, tokenHash []byte, personID int64, until time.Time, device, address string, strong bool) error
	DropSession(ctx context.Context, tokenHash []byte) error
	Sessions(ctx context.Context, personID int64, away time.Duration) ([]Session, error)
	EndSession(ctx context.Context, personID, id int64) error
	Strengthen(ctx context.Context, sessionID int64) error // the session has shown a second factor
	AddSignInLink(ctx context.Context, tokenHash []byte, personID int64, until time.Time, forPassword bool) error
	UseSignInLink(ctx context.Context, tokenHash []byte, forPassword bool) (personID int64, err error)
	LinkPerson(ctx context.Context, tokenHash []byte) (Person, error)                      // of a link to a new password that was not used
	SetPassword(ctx context.Context, personID int64, hash string, keptSession int64) error // all sessions but the kept one end, and links

	SetFactor(ctx context.Context, personID int64, secret string) error // not confirmed yet
	Factor(ctx context.Context, personID int64) (Factor, error)
	ConfirmFactor(ctx context.Context, personID, step int64, codeHashes [][]byte) error
	UseFactor(ctx context.Context, personID, step int64) error             // ErrNotFound for a step that was used
	UseRecovery(ctx context.Context, personID int64, hash []byte) error    // once
	DropFactor(ctx context.Context, personID int64) error                  // and its recovery codes
	Passkeys(ctx context.Context, personID int64) ([]Passkey, error)       // the oldest first
	AddPasskey(ctx context.Context, personID int64, passkey Passkey) error // ErrKnown for one that is there
	UsePasskey(ctx context.Context, passkey Passkey) error
	DropPasskey(ctx context.Context, personID int64, id []byte) error
	Handle(ctx context.Context, personID int64) ([]byte, error)
	PersonByHandle(ctx context.Context, handle []byte) (Person, error)

	AddCeremony(ctx context.Context, tokenHash, held []byte, until time.Time) error
	TakeCeremony(ctx context.Context, tokenHash []byte) (held []byte, err error) // once

	Identified(ctx context.Context, issuer, subject string) (Person, error)
	AddIdentity(ctx context.Context, issuer, subject string, personID int64) error
}

// Sessions lists where somebody is signed in, the newest first.
func (a *App) Sessions(ctx context.Context, person Person) ([]Session, error) {
	list, err := a.store.Sessions(ctx, person.ID, AwayTime)
	for i := range list {
		list[i].This = list[i].ID == person.SessionID
	}
	return list, err
}

// EndSession signs somebody out in one of their places.
func (a *App) EndSession(ctx context.Context, person Person, id int64) error {
	err := a.store.EndSession(ctx, person.ID, id)
	if err == nil {
		a.did(ctx, person, didEndSession, "")
	}
	return err
}

// ChangeMe changes the name that others know somebody by, and whether they are written to about notes; nil stays as it is.
func (a *App) ChangeMe(ctx context.Context, person Person, name *string, letters *bool) error {
	if name != nil {
		said, err := personName(*name)
		if err != nil {
			return err
		}
		name = &said
	}
	return a.store.ChangePerson(ctx, person.ID, name, letters)
}

// Ways tells how people can sign in beside passwords and passkeys: the host of the organisation, "" without one, and
// whether letters are sent.
func (a *App) Ways() (organisation string, post bool) {
	if a.outside.Organisation != nil {
		organisation = a.outside.Organisation.Name()
	}
	return organisation, a.outside.Post != nil
}

// firstHeld is what the link of a first start is kept as.
type firstHeld struct{ First bool }

// FirstLink makes a link to the page that makes the first owner; "" where there are people already.
func (a *App) FirstLink(ctx context.Context) (string, error) {
	if anybody, err := a.store.AnyPeople(ctx); err != nil || anybody {
		return "", err
	}
	return a.ceremony(ctx, LinkTime, firstHeld{true})
}

// First makes the first owner with a space, and gives their session. The link stays where something is wrong with what was
// typed.
func (a *App) First(ctx context.Context, link string, newcomer NewPerson, space string) (token string, err error) {
	space, err = spaceName(space)
	if err != nil {
		return "", err
	}
	email, err := address(newcomer.Email)
	if err != nil {
		return "", err
	}
	name, err := personName(newcomer.Name)
	if err != nil {
		return "", err
	}
	if err := a.fitPassword(newcomer.Password, email, name); err != nil {
		return "", err
	}
	if anybody, err := a.store.AnyPeople(ctx); err != nil || anybody {
		return "", errors.Join(err, ErrLinkUsed)
	}
	var held firstHeld
	if err := a.taken(ctx, link, &held); err != nil {
		return "", err
	}
	if !held.First {
		return "", ErrLinkUsed
	}
	person, err := a.AddPerson(ctx, email, name, newcomer.Password, space)
	if err != nil {
		return "", err
	}
	return a.newSession(ctx, person.ID, false)
}
