// Package organisation lets people sign in through a provider of OpenID Connect (Core 1.0): discovery, the code flow with a
// proof key (PKCE, RFC 7636), and the identity token, whose signature, issuer, audience, time and nonce are looked at.
package organisation

import (
	"context"
	"errors"
	"fmt"
	"net/http"
	"net/url"
	"slices"
	"sync"
	"time"

	"github.com/coreos/go-oidc/v3/oidc"
	"golang.org/x/oauth2"

	"copperlark/app"
)

// Settings are how the program is known to the provider.
type Settings struct {
	Issuer         string // its address, https://login.thornwick.example
	Client, Secret string
	GroupsClaim    string // the claim that lists somebody's groups; "": groups
}

// patience is how long the provider has to answer; mostAnswer how many bytes of an answer are read.
const (
	patience   = 10 * time.Second
	mostAnswer = 1 << 20
)

// Organisation is the provider. What it says of itself is asked for when somebody first signs in, and again after a
// failure, so that the program starts while it is away.
type Organisation struct {
	settings Settings
	name     string
	client   *http.Client
	mutex    sync.Mutex
	provider *oidc.Provider
}

// New makes it of settings; an address that is none is an error.
func New(settings Settings) (*Organisation, error) {
	at, err := url.Parse(settings.Issuer)
	if err != nil || at.Host == "" || at.Scheme != "https" && at.Hostname() != "127.0.0.1" && at.Hostname() != "localhost" {
		return nil, fmt.Errorf("%q is no https address", settings.Issuer)
	}
	if settings.Client == "" {
		return nil, errors.New("the client's name is missing")
	}
	if settings.GroupsClaim == "" {
		settings.GroupsClaim = "groups"
	}
	return &Organisation{settings: settings, name: at.Hostname(), client: &http.Client{Timeout: patience, Transport: bounded{}}}, nil
}

// bounded reads no more of an answer than there can be.
type bounded struct{}

func (bounded) RoundTrip(r *http.Request) (*http.Response, error) {
	answer, err := http.DefaultTransport.RoundTrip(r)
	if err == nil {
		answer.Body = http.MaxBytesReader(nil, answer.Body, mostAnswer)
	}
	return answer, err
}

// Name is the provider's host.
func (o *Organisation) Name() string { return o.name }

// known asks the provider what it is, once.
func (o *Organisation) known(ctx context.Context) (*oidc.Provider, error) {
	o.mutex.Lock()
	defer o.mutex.Unlock()
	if o.provider == nil {
		// Keys are fetched again later, when the request that asked first is long over.
		provider, err := oidc.NewProvider(oidc.ClientContext(context.WithoutCancel(ctx), o.client), o.settings.Issuer)
		if err != nil {
			return nil, err
		}
		o.provider = provider
	}
	return o.provider, nil
}

func (o *Organisation) config(p *oidc.Provider, redirect string) oauth2.Config {
	return oauth2.Config{ClientID: o.settings.Client, ClientSecret: o.settings.Secret, Endpoint: p.Endpoint(), RedirectURL: redirect,
		Scopes: []string{oidc.ScopeOpenID, "email", "profile"}}
}

// Begin gives the address that a browser is sent to.
func (o *Organisation) Begin(ctx context.Context, redirect, state, nonce, verifier string) (string, error) {
	provider, err := o.known(ctx)
	if err != nil {
		return "", err
	}
	config := o.config(provider, redirect)
	return config.AuthCodeURL(state, oidc.Nonce(nonce), oauth2.S256ChallengeOption(verifier)), nil
}

// Finish turns the code that came back into what the provider says of somebody.
func (o *Organisation) Finish(ctx context.Context, redirect, code, nonce, verifier string) (app.Claims, error) {
	provider, err := o.known(ctx)
	if err != nil {
		return app.Claims{}, err
	}
	ctx = oidc.ClientContext(ctx, o.client)
	config := o.config(provider, redirect)
	tokens, err := config.Exchange(ctx, code, oauth2.VerifierOption(verifier))
	if err != nil {
		return app.Claims{}, err
	}
	raw, is := tokens.Extra("id_token").(string)
	if !is {
		return app.Claims{}, errors.New("the provider sent no identity token")
	}
	token, err := provider.Verifier(&oidc.Config{ClientID: o.settings.Client}).Verify(ctx, raw)
	if err != nil {
		return app.Claims{}, err
	}
	if token.Nonce != nonce {
		return app.Claims{}, errors.New("the identity token is of another sign-in")
	}
	return o.claims(token)
}

func (o *Organisation) claims(token *oidc.IDToken) (app.Claims, error) {
	var said struct {
		Email    string   `json:"email"`
		Verified bool     `json:"email_verified"`
		Name     string   `json:"name"`
		Methods  []string `json:"amr"`
	}
	all := map[string]any{}
	if err := errors.Join(token.Claims(&said), token.Claims(&all)); err != nil {
		return app.Claims{}, err
	}
	claims := app.Claims{Issuer: token.Issuer, Subject: token.Subject, Email: said.Email, Name: said.Name, Verified: said.Verified,
		Strong: slices.Contains(said.Methods, "mfa")}
	if groups, is := all[o.settings.GroupsClaim].([]any); is {
		for _, group := range groups {
			if name, is := group.(string); is {
				claims.Groups = append(claims.Groups, name)
			}
		}
	}
	return claims, nil
}
