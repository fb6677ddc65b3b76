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
	"sync"
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
	if _, err := fmt.Sscanf(parts[2]+" "+parts[3], "v=%d m=%d,t=%d,p=%d", &version, &memory, &passes, &lanes); err != nil || version != argon2.Version {
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

// signInTries slows down guessing: five wrong passwords a minute for an address.
type signInTries struct {
	mutex  sync.Mutex
	failed map[string][]time.Time
}

func (s *signInTries) allowed(email string, now time.Time) bool {
	s.mutex.Lock()
	defer s.mutex.Unlock()
	var recent []time.Time
	for _, at := range s.failed[email] {
		if now.Sub(at) < time.Minute {
			recent = append(recent, at)
		}
	}
	if len(recent) == 0 {
		delete(s.failed, email)
	} else {
		s.failed[email] = recent
	}
	return len(recent) < 5
}

func (s *signInTries) note(email string, now time.Time) {
	s.mutex.Lock()
	defer s.mutex.Unlock()
	s.failed[email] = append(s.failed[email], now)
}

// dummyHash is checked for an unknown address, so that it takes as long as a
// known one.
var dummyHash = sync.OnceValue(func() string { return HashPassword("nobody") })

// SignIn gives a session token for an address and a password.
func (a *App) SignIn(ctx context.Context, email, password string) (token string, err error) {
	email = strings.ToLower(strings.TrimSpace(email))
	if !a.tries.allowed(email, a.now()) {
		return "", ErrTooManyTries
	}
	person, stored, err := a.store.PersonByEmail(ctx, email)
	if errors.Is(err, ErrNotFound) {
		stored = dummyHash()
	} else if err != nil {
		return "", err
	}
	if !passwordMatches(password, stored) || person.ID == 0 {
		a.tries.note(email, a.now())
		return "", ErrWrongSignIn
	}
	return a.newSession(ctx, person.ID)
}

func (a *App) newSession(ctx context.Context, personID int64) (string, error) {
	token, hash := newToken()
	return token, a.store.AddSession(ctx, hash, personID, a.now().Add(SessionTime))
}

// SignInLink makes a link token that signs a person in once.
func (a *App) SignInLink(ctx context.Context, personID int64) (string, error) {
	token, hash := newToken()
	return token, a.store.AddSignInLink(ctx, hash, personID, a.now().Add(LinkTime))
}

// UseSignInLink turns a link token into a session token, once.
func (a *App) UseSignInLink(ctx context.Context, link string) (token string, err error) {
	personID, err := a.store.UseSignInLink(ctx, tokenHash(link))
	if errors.Is(err, ErrNotFound) {
		return "", ErrLinkUsed
	}
	if err != nil {
		return "", err
	}
	return a.newSession(ctx, personID)
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
	return a.store.AddPerson(ctx, strings.ToLower(strings.TrimSpace(email)), name, hash, spaceName)
}
