package app

import (
	"context"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"net/url"
	"strconv"
	"time"
)

// EventVersion is what other programs are told of.
const EventVersion = "dataset.version" // a dataset has a new version

// Hook is an address that is told what happens in a space.
type Hook struct {
	ID        int64     `json:"id"`
	Address   string    `json:"address"`
	CreatedAt time.Time `json:"created_at"`
	By        string    `json:"by"`
}

// HookCall is one telling, with what came of it.
type HookCall struct {
	ID        int64           `json:"id"`
	HookID    int64           `json:"hook_id"`
	Event     string          `json:"event"`
	Body      json.RawMessage `json:"body"`
	Tries     int             `json:"tries"`
	NextAt    time.Time       `json:"next_at" doc:"when it is tried next, or was over"`
	Over      bool            `json:"over"`
	Said      string          `json:"said" doc:"what came of the last try"`
	CreatedAt time.Time       `json:"created_at"`

	Address, Secret string `json:"-"`
}

// HookStorage is what the program keeps of them.
type HookStorage interface {
	AddHook(ctx context.Context, spaceID, personID int64, address, secret string) (Hook, error)
	Hooks(ctx context.Context, spaceID int64) ([]Hook, error)
	DropHook(ctx context.Context, spaceID, id int64) (Hook, error)
	AddHookCalls(ctx context.Context, spaceID int64, event string, body []byte) error // one for each hook of the space
	HookCalls(ctx context.Context, spaceID int64, most int) ([]HookCall, error)
	// DueCalls takes calls that are to be made now; no other server is given the same within a while.
	DueCalls(ctx context.Context, most int, within time.Duration) ([]HookCall, error)
	TriedCall(ctx context.Context, id int64, over bool, next time.Time, said string) error
}

// Courier sends a call to another program. What it gives back is why it failed.
type Courier interface {
	// Fits reports why calls are not sent to an address.
	Fits(address string) error
	Send(ctx context.Context, address string, body []byte, headers map[string]string) error
}

// How calls are tried: so long after each try that failed; after the last it is given up. mostHooks is how many a space has.
var hookWaits = []time.Duration{time.Minute, 5 * time.Minute, 30 * time.Minute, 2 * time.Hour, 12 * time.Hour}

const (
	mostHooks     = 20
	mostDue       = 20
	hookPatience  = time.Minute // until another server takes over
	hookLogLength = 50
)

// AddHook names an address; its secret is given this once.
func (a *App) AddHook(ctx context.Context, person Person, address string) (hook Hook, secret string, err error) {
	at, err := url.Parse(address)
	if err != nil || at.Host == "" || at.User != nil || len(address) > 2000 {
		return hook, "", &Invalid{Message: "this is no address that can be called", Advice: "write it as https://other.example/told"}
	}
	if a.outside.Courier == nil {
		return hook, "", &Invalid{Message: "this server calls no other program", Advice: "ask whoever runs it"}
	}
	if err := a.outside.Courier.Fits(address); err != nil {
		return hook, "", &Invalid{
			Message: err.Error(),
			Advice:  "name an https address outside, or ask whoever runs the server for LARK_HOOK_HOSTS",
		}
	}
	there, err := a.store.Hooks(ctx, person.SpaceID)
	if err != nil {
		return hook, "", err
	}
	if len(there) >= mostHooks {
		return hook, "", &Invalid{Message: fmt.Sprintf("%d addresses are called already", mostHooks), Advice: "take one back first"}
	}
	secret, _ = newToken()
	if hook, err = a.store.AddHook(ctx, person.SpaceID, person.ID, address, secret); err == nil {
		a.did(ctx, person, didHook, at.Host)
	}
	return hook, secret, err
}

// Hooks lists them.
func (a *App) Hooks(ctx context.Context, person Person) ([]Hook, error) {
	return a.store.Hooks(ctx, person.SpaceID)
}

// HookLog lists the last calls of a space.
func (a *App) HookLog(ctx context.Context, person Person) ([]HookCall, error) {
	return a.store.HookCalls(ctx, person.SpaceID, hookLogLength)
}

// DropHook takes an address back, with the calls that wait.
func (a *App) DropHook(ctx context.Context, person Person, id int64) error {
	hook, err := a.store.DropHook(ctx, person.SpaceID, id)
	if err == nil {
		a.did(ctx, person, didDropHook, hook.Address)
	}
	return err
}

// happened tells the hooks of a space of something, in a moment.
func (a *App) happened(ctx context.Context, spaceID int64, event string, about map[string]any) {
	about["event"], about["at"] = event, a.now().UTC().Format(time.RFC3339)
	body, err := json.Marshal(about)
	if err == nil {
		err = a.store.AddHookCalls(context.WithoutCancel(ctx), spaceID, event, body)
	}
	if err != nil {
		a.log.ErrorContext(ctx, "other programs could not be told", "event", event, "error", err)
	}
}

// Deliver makes the calls that are due; whoever runs the program calls it every few seconds.
func (a *App) Deliver(ctx context.Context) error {
	if a.outside.Courier == nil {
		return nil
	}
	due, err := a.store.DueCalls(ctx, mostDue, hookPatience)
	if err != nil {
		return err
	}
	for _, call := range due {
		failed := a.outside.Courier.Send(ctx, call.Address, call.Body, map[string]string{
			"Content-Type": "application/json", "Lark-Event": call.Event, "Lark-Call": strconv.FormatInt(call.ID, 10),
			"Lark-Signature": Signed(call.Secret, a.now(), call.Body)})
		over, next, said := true, a.now(), "taken"
		if failed != nil {
			said = short(failed.Error(), 300)
			if over = call.Tries >= len(hookWaits); !over {
				next = a.now().Add(hookWaits[call.Tries])
			}
		}
		if err := a.store.TriedCall(ctx, call.ID, over, next, said); err != nil {
			return err
		}
	}
	return nil
}

// Signed is the signature of a call: t=SECONDS,v1=HEX, the HMAC of SHA-256, by the secret, of the seconds, a point and the
// body. Whoever is called compares it and looks that the seconds are not long ago.
func Signed(secret string, at time.Time, body []byte) string {
	seconds := strconv.FormatInt(at.Unix(), 10)
	mac := hmac.New(sha256.New, []byte(secret))
	_, _ = mac.Write([]byte(seconds + "."))
	_, _ = mac.Write(body)
	return "t=" + seconds + ",v1=" + hex.EncodeToString(mac.Sum(nil))
}
