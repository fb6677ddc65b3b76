package app

import (
	"context"
	"errors"
	"slices"
	"strings"
)

// Organisation is a provider of OpenID Connect that people sign in through.
type Organisation interface {
	// Name is its host, as people know it.
	Name() string
	// Begin gives the address that the browser is sent to, with a proof key (PKCE, RFC 7636).
	Begin(ctx context.Context, redirect, state, nonce, verifier string) (address string, err error)
	// Finish turns the code that came back into who it is.
	Finish(ctx context.Context, redirect, code, nonce, verifier string) (Claims, error)
}

// Claims are what an organisation says of somebody.
type Claims struct {
	Issuer, Subject, Email, Name string
	Verified                     bool // the organisation has looked whether the address is theirs
	Groups                       []string
	Strong                       bool // they showed it more than a password (amr: mfa, RFC 8176)
}

// Settling says what becomes of people who come from an organisation.
type Settling struct {
	Space   string          // the name of the space that they come into; "": they must be in one already
	Role    Role            // of those who come for the first time; NoRole: nobody comes by themselves
	Groups  map[string]Role // roles of groups; the highest counts, at each signing in
	Domains []string        // whose addresses are let in; none: any
}

// begun is what is remembered while somebody is at the organisation.
type begun struct {
	State, Nonce, Verifier, Redirect, Back string
}

// BeginOrganisation gives the address of the organisation to send a browser to, and the token of the ceremony. Back is
// where in the program it comes back to.
func (a *App) BeginOrganisation(ctx context.Context, back string) (address, token string, err error) {
	if a.outside.Organisation == nil {
		return "", "", ErrNotFound
	}
	state, _ := newToken()
	nonce, _ := newToken()
	verifier, _ := newToken()
	held := begun{state, nonce, verifier, callerOf(ctx).Origin + "/organisation/back", back}
	if address, err = a.outside.Organisation.Begin(ctx, held.Redirect, state, nonce, verifier); err != nil {
		return "", "", errors.Join(ErrOrganisation, err)
	}
	token, err = a.ceremony(ctx, ceremonyTime, held)
	return address, token, err
}

// FinishOrganisation gives a session for what the organisation sent a browser back with, and where it goes on.
func (a *App) FinishOrganisation(ctx context.Context, ceremony, state, code string) (token, back string, err error) {
	if a.outside.Organisation == nil {
		return "", "", ErrNotFound
	}
	var held begun
	if err := a.taken(ctx, ceremony, &held); err != nil {
		return "", "", err
	}
	if state != held.State || code == "" {
		return "", "", ErrOrganisation
	}
	claims, err := a.outside.Organisation.Finish(ctx, held.Redirect, code, held.Nonce, held.Verifier)
	if err != nil {
		return "", "", errors.Join(ErrOrganisation, err)
	}
	person, err := a.settle(ctx, claims)
	if err != nil {
		return "", "", err
	}
	a.everywhere(ctx, person, didSignIn, "through "+a.outside.Organisation.Name())
	token, err = a.newSession(ctx, person.ID, claims.Strong)
	return token, held.Back, err
}

// settle finds or makes the person of some claims, and gives them the role of their groups. An address alone makes nobody
// an account that is there: the organisation must have looked whether it is theirs.
func (a *App) settle(ctx context.Context, claims Claims) (Person, error) {
	email, err := address(claims.Email)
	if err != nil || !claims.Verified {
		return Person{}, &Invalid{Message: "the organisation does not vouch for your address",
			Advice: "have it confirmed there, or sign in otherwise"}
	}
	settling := a.outside.Settling
	_, domain, _ := strings.Cut(email, "@")
	if len(settling.Domains) > 0 && !slices.Contains(settling.Domains, domain) {
		return Person{}, &Invalid{Message: "addresses at " + short(domain, 60) + " are not let in",
			Advice: "sign in with another one, or ask whoever runs this server"}
	}
	person, err := a.store.Identified(ctx, claims.Issuer, claims.Subject)
	if errors.Is(err, ErrNotFound) {
		person, err = a.identify(ctx, claims, email)
	}
	if err != nil {
		return person, err
	}
	return person, a.roleOf(ctx, person, claims)
}

// identify ties a subject of the organisation to the person with the address, or to a new one.
func (a *App) identify(ctx context.Context, claims Claims, email string) (Person, error) {
	person, _, err := a.store.PersonByEmail(ctx, email)
	if errors.Is(err, ErrNotFound) {
		if a.outside.Settling.Role == NoRole && a.highest(claims) == NoRole {
			return person, &Invalid{Message: "nobody comes in by themselves here", Advice: "ask an owner of a space to invite you"}
		}
		name := claims.Name
		if _, bad := personName(name); bad != nil {
			name, _, _ = strings.Cut(email, "@")
		}
		person, err = a.AddPerson(ctx, email, name, "", "")
	}
	if err != nil {
		return person, err
	}
	return person, a.store.AddIdentity(ctx, claims.Issuer, claims.Subject, person.ID)
}

// highest is the highest role of somebody's groups.
func (a *App) highest(claims Claims) Role {
	highest := NoRole
	for _, group := range claims.Groups {
		if role := a.outside.Settling.Groups[group]; role.rank() > highest.rank() {
			highest = role
		}
	}
	return highest
}

// roleOf puts somebody into the space that people of the organisation come into. A group's role counts at each signing in;
// where no group speaks, the role that they have here stays.
func (a *App) roleOf(ctx context.Context, person Person, claims Claims) error {
	settling := a.outside.Settling
	if settling.Space == "" {
		return nil
	}
	named, err := a.store.SpacesNamed(ctx, settling.Space)
	if err != nil || len(named) != 1 {
		return err
	}
	role := a.highest(claims)
	if role == NoRole {
		if settling.Role == NoRole {
			return nil
		}
		return a.store.AddMember(ctx, named[0], person.ID, settling.Role)
	}
	if err := a.store.AddMember(ctx, named[0], person.ID, role); err != nil {
		return err
	}
	if err := a.store.SetRole(ctx, named[0], person.ID, role); err != nil && !errors.Is(err, ErrLastOwner) {
		return err
	}
	return nil
}
