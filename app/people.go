package app

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"
	"time"

	"golang.org/x/crypto/argon2"
)

// SessionTime is how long a session lasts; LinkTime how long a sign-in link can
// be used.
const (
	SessionTime = 30 * 24 * time.Hour
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

// Who gives the person behind a session token.
func (a *App) Who(ctx context.Context, token string) (Person, error) {
	if token == "" {
		return Person{}, ErrNotSignedIn
	}
	person, err := a.store.PersonBySession(ctx, tokenHash(token))
	if errors.Is(err, ErrNotFound) {
		return Person{}, ErrNotSignedIn
	}
	return person, err
}

// SignOut ends a session.
func (a *App) SignOut(ctx context.Context, token string) error {
	return a.store.DropSession(ctx, tokenHash(token))
}

// AddPerson makes a person with a space of their own; an empty password leaves
// sign-in links as the only way in.
func (a *App) AddPerson(ctx context.Context, email, name, password, spaceName string) (Person, error) {
	hash := ""
	if password != "" {
		if len(password) < 8 {
			return Person{}, &Invalid{Message: "the password is too short", Advice: "choose at least 8 characters"}
		}
		hash = HashPassword(password)
	}
	person, err := a.store.AddPerson(ctx, strings.ToLower(strings.TrimSpace(email)), name, hash, spaceName)
	if err == nil {
		a.did(ctx, person, didPerson, person.Email)
	}
	return person, err
}
