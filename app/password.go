package app

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"sync"

	"github.com/trustelem/zxcvbn/frequency"
	"golang.org/x/crypto/argon2"
)

// LeastPassword and what else a password must be: long (ASVS 2.1.1), not one of the passwords that are tried first, and not who it is for.
const (
	LeastPassword = 12 // letters
	mostPassword  = 500
	mostUsed      = 10_000
)

// usedPasswords are the passwords that most people use, in small letters.
var usedPasswords = sync.OnceValue(func() map[string]bool {
	list := frequency.FrequencyLists["passwords"]
	used := make(map[string]bool, mostUsed)
	for _, password := range list[:min(mostUsed, len(list))] {
		used[strings.ToLower(password)] = true
	}
	return used
})

// inOrder reports whether each sign follows the one before it, as in 123456789012 and abcdefghijkl.
func inOrder(small string) bool {
	for i := 1; i < len(small); i++ {
		if step := int(small[i]) - int(small[i-1]); step != 1 && step != -9 {
			return false
		}
	}
	return true
}

// fitPassword says what is wrong with a password that somebody wants; nil: nothing.
func (a *App) fitPassword(password, email, name string) error {
	letters := []rune(password)
	small := strings.ToLower(password)
	local, _, _ := strings.Cut(email, "@")
	switch {
	case len(letters) < LeastPassword:
		return &Invalid{Message: "the password is too short", Advice: fmt.Sprintf("choose at least %d letters: three or four words will do",
			LeastPassword)}
	case len(letters) > mostPassword:
		return &Invalid{Message: "the password is too long", Advice: fmt.Sprintf("choose at most %d letters", mostPassword)}
	case isUsed(small):
		return &Invalid{Message: "the password is one that many people use", Advice: "choose one that nobody would try first"}
	case small == email || small == strings.ToLower(name) || strings.Trim(small, "0123456789!.-_ ") == local:
		return &Invalid{Message: "the password is your own name or address", Advice: "choose one that nobody would try first"}
	}
	return nil
}

// isUsed reports whether a password is a much used one, or one that is written again and again: "abcabcabcabc" is "abc".
func isUsed(small string) bool {
	for length := 1; length <= len(small)/2; length++ {
		if len(small)%length == 0 && strings.Repeat(small[:length], len(small)/length) == small &&
			(length < 4 || usedPasswords()[small[:length]]) {
			return true
		}
	}
	return inOrder(small) || usedPasswords()[small] ||
		usedPasswords()[strings.TrimRight(small, "0123456789!.")] && len(small) < 2*LeastPassword
}

// The cost of a password: RFC 9106, second recommended option, in one lane.
const (
	argonTime, argonMemory, argonLanes = 3, 64 * 1024, 1
	argonKey, argonSalt                = 32, 16
)

// HashPassword makes the argon2id hash that is stored of a password.
func HashPassword(password string) string {
	salt := make([]byte, argonSalt)
	_, _ = rand.Read(salt)
	key := argon2.IDKey([]byte(password), salt, argonTime, argonMemory, argonLanes, argonKey)
	return fmt.Sprintf("$argon2id$v=%d$m=%d,t=%d,p=%d$%s$%s", argon2.Version, argonMemory, argonTime, argonLanes,
		base64.RawStdEncoding.EncodeToString(salt), base64.RawStdEncoding.EncodeToString(key))
}

func passwordMatches(password, stored string) bool {
	var version, memory, passes, lanes int
	parts := strings.Split(stored, "$")
	if len(parts) != 6 || parts[1] != "argon2id" {
		return false
	}
	if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &passes, &lanes); err != nil ||
		version != argon2.Version {
		return false
	}
	salt, err1 := base64.RawStdEncoding.DecodeString(parts[4])
	key, err2 := base64.RawStdEncoding.DecodeString(parts[5])
	if err := errors.Join(err1, err2); err != nil {
		return false
	}
	got := argon2.IDKey([]byte(password), salt, uint32(passes), uint32(memory), uint8(lanes), uint32(len(key)))
	return subtle.ConstantTimeCompare(got, key) == 1
}

// ChangePassword gives somebody a new password, who knows the old one or has none; their other sessions end.
func (a *App) ChangePassword(ctx context.Context, person Person, old, wanted string) error {
	if err := a.prove(ctx, person, old); err != nil {
		return err
	}
	if err := a.fitPassword(wanted, person.Email, person.Name); err != nil {
		return err
	}
	err := a.store.SetPassword(ctx, person.ID, HashPassword(wanted), person.SessionID)
	if err == nil {
		a.did(ctx, person, didPassword, "")
	}
	return err
}

// prove holds that who asks for something that matters is still who signed in: they know the password, where there is one.
func (a *App) prove(ctx context.Context, person Person, password string) error {
	_, stored, err := a.store.PersonByEmail(ctx, person.Email)
	if err != nil || stored == "" {
		return err
	}
	matches := false
	if err := a.guarded(ctx, person.Email, func() error { matches = passwordMatches(password, stored); return nil }); err != nil {
		return err
	}
	if !matches {
		return ErrWrongPassword
	}
	a.signIns.right(person.Email, callerOf(ctx).Address)
	return nil
}

// guarded does work that tries a password or a code, counted and slowed as signing in is.
func (a *App) guarded(ctx context.Context, email string, work func() error) error {
	wait, _, err := a.signIns.count(email, callerOf(ctx).Address)
	if err != nil {
		return err
	}
	if turned := a.signIns.turn(ctx, wait, func() { err = work() }); turned != nil {
		return turned
	}
	return err
}

// PasswordLink makes a link that leads somebody of the space to a new password, once. Somebody who is also in spaces that
// whoever asks does not own is not for them to open.
func (a *App) PasswordLink(ctx context.Context, person Person, id int64) (string, error) {
	member, err := a.member(ctx, person, id)
	if err != nil {
		return "", err
	}
	if member.Elsewhere {
		return "", &Invalid{Message: member.Name + " is in a space that you do not own, which a new password would open",
			Advice: "they ask for a link by e-mail, or whoever runs the server makes one: lark person --link"}
	}
	token, err := a.passwordLink(ctx, id)
	if err == nil {
		a.did(ctx, person, didPasswordLink, member.Email)
	}
	return token, err
}

func (a *App) passwordLink(ctx context.Context, id int64) (string, error) {
	token, hash := newToken()
	return token, a.store.AddSignInLink(ctx, hash, id, a.now().Add(LinkTime), true)
}

// LinkFor makes a link to a new password for whoever runs the program.
func (a *App) LinkFor(ctx context.Context, email string) (string, error) {
	person, _, err := a.store.PersonByEmail(ctx, email)
	if err != nil {
		return "", err
	}
	return a.passwordLink(ctx, person.ID)
}

// Forgotten sends a link to a new password, where e-mail is set and somebody has the address. It says nothing of whether.
func (a *App) Forgotten(ctx context.Context, email string) error {
	if a.outside.Post == nil {
		return &Invalid{Message: "this server sends no e-mail", Advice: "ask an owner of your space for a link to a new password"}
	}
	email = strings.ToLower(strings.TrimSpace(email))
	return a.guarded(ctx, email, func() error {
		person, _, err := a.store.PersonByEmail(ctx, email)
		if errors.Is(err, ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		token, err := a.passwordLink(ctx, person.ID)
		if err != nil {
			return err
		}
		a.post(ctx, person.Email, "A new password for Copper Lark",
			"Somebody, probably you, asked for a new password. This link leads to it, once, within twelve hours:\n\n"+
				a.outside.Address+"/password/"+token+"\n\nIf it was not you, nothing has changed and there is nothing to do.\n")
		return nil
	})
}

// NewPassword turns a link to a new password into that password and a session; all others end. The link stays where the
// password will not do.
func (a *App) NewPassword(ctx context.Context, link, wanted string) (token string, err error) {
	person, err := a.store.LinkPerson(ctx, tokenHash(link))
	if errors.Is(err, ErrNotFound) {
		return "", ErrLinkUsed
	}
	if err != nil {
		return "", err
	}
	if err := a.fitPassword(wanted, person.Email, person.Name); err != nil {
		return "", err
	}
	if _, err := a.store.UseSignInLink(ctx, tokenHash(link), true); err != nil {
		if errors.Is(err, ErrNotFound) {
			return "", ErrLinkUsed
		}
		return "", err
	}
	if err := a.store.SetPassword(ctx, person.ID, HashPassword(wanted), 0); err != nil {
		return "", err
	}
	a.everywhere(ctx, person, didPassword, "with a link")
	return a.newSession(ctx, person.ID, false)
}
