// Package seal keeps secrets so that whoever reads the database, or a backup of it, does not have them.
package seal

import (
	"crypto/aes"
	"crypto/cipher"
	"crypto/rand"
	"crypto/sha256"
	"errors"
)

// least is how long what a key is made of has to be, in bytes.
const least = 32

// Sealer seals by AES-256 in GCM (NIST SP 800-38D), with a key that is the SHA-256 of what it is made of.
type Sealer struct{ gcm cipher.AEAD }

// New makes a sealer of a secret of the server's own.
func New(secret string) (*Sealer, error) {
	if len(secret) < least {
		return nil, errors.New("it is too short: write 32 random characters or more")
	}
	key := sha256.Sum256([]byte(secret))
	block, err := aes.NewCipher(key[:])
	if err != nil {
		return nil, err
	}
	gcm, err := cipher.NewGCM(block)
	return &Sealer{gcm}, err
}

// Seal seals a text for what it is about: for something else it does not open.
func (s *Sealer) Seal(text, about string) []byte {
	nonce := make([]byte, s.gcm.NonceSize())
	_, _ = rand.Read(nonce) // never fails: crypto/rand ends the program instead
	return s.gcm.Seal(nonce, nonce, []byte(text), []byte(about))
}

// Open opens what was sealed about the same.
func (s *Sealer) Open(sealed []byte, about string) (string, error) {
	if len(sealed) < s.gcm.NonceSize() {
		return "", errors.New("nothing was sealed")
	}
	nonce, rest := sealed[:s.gcm.NonceSize()], sealed[s.gcm.NonceSize():]
	text, err := s.gcm.Open(nil, nonce, rest, []byte(about))
	if err != nil {
		return "", errors.New("it was sealed with another key, or about something else")
	}
	return string(text), nil
}
