package app

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"net/url"
	"time"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"
)

// Passkey is a key pair of somebody's device that signs them in (Web Authentication, W3C).
type Passkey struct {
	ID         []byte     `json:"id"`
	Name       string     `json:"name" doc:"the browser and system that it was made with"`
	CreatedAt  time.Time  `json:"created_at"`
	UsedAt     *time.Time `json:"used_at,omitempty"`
	Credential []byte     `json:"-"` // as the library writes it
}

// ceremonyTime is how long somebody has between two steps of signing in; mostPasskeys how many one person keeps.
const (
	ceremonyTime = 10 * time.Minute
	mostPasskeys = 20
)

// holder is a person as the library of passkeys knows one.
type holder struct {
	person   Person
	handle   []byte
	passkeys []Passkey
}

func (h *holder) WebAuthnID() []byte          { return h.handle }
func (h *holder) WebAuthnName() string        { return h.person.Email }
func (h *holder) WebAuthnDisplayName() string { return h.person.Name }
func (h *holder) WebAuthnCredentials() []webauthn.Credential {
	var list []webauthn.Credential
	for _, passkey := range h.passkeys {
		var one webauthn.Credential
		if json.Unmarshal(passkey.Credential, &one) == nil {
			list = append(list, one)
		}
	}
	return list
}

// relying is the program as passkeys know it: bound to the name that the browser reached it by.
func relying(ctx context.Context) (*webauthn.WebAuthn, error) {
	origin := callerOf(ctx).Origin
	at, err := url.Parse(origin)
	if err != nil {
		return nil, ErrPasskey
	}
	made, err := webauthn.New(&webauthn.Config{RPID: at.Hostname(), RPDisplayName: "Copper Lark", RPOrigins: []string{origin},
		Timeouts: webauthn.TimeoutsConfig{Login: enforced, Registration: enforced}})
	if err != nil {
		return nil, &Invalid{
			Message: "passkeys need this server to be reached by a name",
			Advice:  "not by a number: http://localhost in place of http://127.0.0.1",
		}
	}
	return made, nil
}

var enforced = webauthn.TimeoutConfig{Enforce: true, Timeout: ceremonyTime, TimeoutUVD: ceremonyTime}

func (a *App) holderOf(ctx context.Context, person Person) (*holder, error) {
	handle, err := a.store.Handle(ctx, person.ID)
	if err != nil {
		return nil, err
	}
	list, err := a.store.Passkeys(ctx, person.ID)
	return &holder{person, handle, list}, err
}

// Factors are the ways in which somebody shows more than a password.
type Factors struct {
	Codes    bool      `json:"codes" doc:"whether a device makes codes for them"`
	Recovery int       `json:"recovery" doc:"recovery codes that are left"`
	Passkeys []Passkey `json:"passkeys" nullable:"false"`
	Password bool      `json:"password" doc:"whether they have a password"`
	Shown    bool      `json:"shown" doc:"whether this session has shown one"`
}

// Factors lists them.
func (a *App) Factors(ctx context.Context, person Person) (Factors, error) {
	factor, err := a.store.Factor(ctx, person.ID)
	if err != nil && !errors.Is(err, ErrNotFound) {
		return Factors{}, err
	}
	passkeys, err := a.store.Passkeys(ctx, person.ID)
	if err != nil {
		return Factors{}, err
	}
	_, hash, err := a.store.PersonByEmail(ctx, person.Email)
	return Factors{Codes: factor.Confirmed, Recovery: factor.Codes, Passkeys: passkeys, Password: hash != "", Shown: person.Strong}, err
}

// ceremony keeps what a sign-in remembers between two steps, under a token that the browser holds.
func (a *App) ceremony(ctx context.Context, lasts time.Duration, held any) (token string, err error) {
	stored, err := json.Marshal(held)
	if err != nil {
		return "", err
	}
	token, hash := newToken()
	return token, a.store.AddCeremony(ctx, hash, stored, a.now().Add(lasts))
}

func (a *App) taken(ctx context.Context, token string, into any) error {
	stored, err := a.store.TakeCeremony(ctx, tokenHash(token))
	if errors.Is(err, ErrNotFound) {
		return ErrLinkUsed
	}
	if err != nil {
		return err
	}
	return json.Unmarshal(stored, into)
}

// BeginPasskey gives what a browser needs to make a passkey, and the token of the ceremony.
func (a *App) BeginPasskey(ctx context.Context, person Person, password string) (options any, token string, err error) {
	if err := a.prove(ctx, person, password); err != nil {
		return nil, "", err
	}
	site, err := relying(ctx)
	if err != nil {
		return nil, "", err
	}
	whose, err := a.holderOf(ctx, person)
	if err != nil {
		return nil, "", err
	}
	if len(whose.passkeys) >= mostPasskeys {
		return nil, "", &Invalid{Message: fmt.Sprintf("you have %d passkeys, and there may be no more", mostPasskeys),
			Advice: "take one away first"}
	}
	var known []protocol.CredentialDescriptor
	for _, one := range whose.WebAuthnCredentials() {
		known = append(known, one.Descriptor())
	}
	creation, session, err := site.BeginRegistration(whose, webauthn.WithExclusions(known),
		webauthn.WithAuthenticatorSelection(protocol.AuthenticatorSelection{ResidentKey: protocol.ResidentKeyRequirementRequired,
			UserVerification: protocol.VerificationRequired}))
	if err != nil {
		return nil, "", err
	}
	token, err = a.ceremony(ctx, ceremonyTime, session)
	return creation, token, err
}

// AddPasskey keeps the passkey that a browser made.
func (a *App) AddPasskey(ctx context.Context, person Person, token string, answer []byte) error {
	var session webauthn.SessionData
	if err := a.taken(ctx, token, &session); err != nil {
		return err
	}
	site, err := relying(ctx)
	if err != nil {
		return err
	}
	whose, err := a.holderOf(ctx, person)
	if err != nil {
		return err
	}
	read, err := protocol.ParseCredentialCreationResponseBytes(answer)
	if err != nil {
		return errors.Join(ErrPasskey, err)
	}
	credential, err := site.CreateCredential(whose, session, read)
	if err != nil {
		return errors.Join(ErrPasskey, err)
	}
	stored, err := json.Marshal(credential)
	if err != nil {
		return err
	}
	made := Passkey{ID: credential.ID, Name: short(callerOf(ctx).Device, 100), Credential: stored}
	if err := a.store.AddPasskey(ctx, person.ID, made); err != nil {
		return err
	}
	a.everywhere(ctx, person, didPasskey, callerOf(ctx).Device)
	return a.store.Strengthen(ctx, person.SessionID)
}

// DropPasskey takes a passkey away, of somebody who knows their password.
func (a *App) DropPasskey(ctx context.Context, person Person, id []byte, password string) error {
	if err := a.prove(ctx, person, password); err != nil {
		return err
	}
	err := a.store.DropPasskey(ctx, person.ID, id)
	if err == nil {
		a.everywhere(ctx, person, didDropPasskey, "")
	}
	return err
}

// BeginPasskeySignIn gives what a browser needs to sign in with a passkey, whosever it is, and the token of the ceremony.
func (a *App) BeginPasskeySignIn(ctx context.Context) (options any, token string, err error) {
	site, err := relying(ctx)
	if err != nil {
		return nil, "", err
	}
	assertion, session, err := site.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return nil, "", err
	}
	token, err = a.ceremony(ctx, ceremonyTime, session)
	return assertion, token, err
}

// PasskeySignIn gives a session for what a passkey signed. The device has looked at a finger, a face or a number, so it
// counts for two factors.
func (a *App) PasskeySignIn(ctx context.Context, ceremony string, signed []byte) (token string, err error) {
	var session webauthn.SessionData
	if err := a.taken(ctx, ceremony, &session); err != nil {
		return "", err
	}
	site, err := relying(ctx)
	if err != nil {
		return "", err
	}
	read, err := protocol.ParseCredentialRequestResponseBytes(signed)
	if err != nil {
		return "", errors.Join(ErrPasskey, err)
	}
	found, credential, err := site.ValidatePasskeyLogin(func(_, handle []byte) (webauthn.User, error) {
		person, err := a.store.PersonByHandle(ctx, handle)
		if err != nil {
			return nil, err
		}
		return a.holderOf(ctx, person)
	}, session, read)
	if err != nil {
		return "", errors.Join(ErrPasskey, err)
	}
	person := found.(*holder).person
	if credential.Authenticator.CloneWarning {
		a.everywhere(ctx, person, didRefuse, "with a passkey that seems to be copied")
		return "", ErrPasskey
	}
	stored, err := json.Marshal(credential)
	if err != nil {
		return "", err
	}
	if err := a.store.UsePasskey(ctx, Passkey{ID: credential.ID, Credential: stored}); err != nil {
		return "", err
	}
	a.everywhere(ctx, person, didSignIn, "with a passkey")
	return a.newSession(ctx, person.ID, true)
}
