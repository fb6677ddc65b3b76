package app

import (
	"bytes"
	"context"
	"crypto/rand"
	"encoding/base32"
	"encoding/base64"
	"errors"
	"image/png"
	"strings"
	"time"

	"github.com/pquerna/otp"
	"github.com/pquerna/otp/totp"
)

// Factor is the second factor of somebody: codes that change with time (RFC 6238), of a secret that their device knows.
type Factor struct {
	Secret    string // base32
	Confirmed bool
	LastStep  int64 // of the code that was used last
	Codes     int   // recovery codes that are left
}

// FactorWanted is what a device needs to make codes.
type FactorWanted struct {
	Secret  string `json:"secret" doc:"to be typed where there is no camera"`
	Address string `json:"address" doc:"the same as an address, otpauth://"`
	Picture string `json:"picture" doc:"the address as a picture of squares: a data address of a PNG"`
}

// How codes are made: RFC 6238 with what devices know best. A code counts for its own half minute and for the one before
// and after it, once.
const (
	codePeriod    = 30
	codeSkew      = 1
	codeDigits    = otp.DigitsSix
	pictureSide   = 220
	recoveryCodes = 10
	recoveryBytes = 10 // 80 bits: 16 letters
)

// BeginFactor makes the secret of a second factor, which counts when a code of it was shown.
func (a *App) BeginFactor(ctx context.Context, person Person, password string) (FactorWanted, error) {
	if err := a.prove(ctx, person, password); err != nil {
		return FactorWanted{}, err
	}
	if had, err := a.store.Factor(ctx, person.ID); err == nil && had.Confirmed {
		return FactorWanted{}, &Invalid{Message: "you have a second factor already", Advice: "take it away first, if the device is lost"}
	} else if err != nil && !errors.Is(err, ErrNotFound) {
		return FactorWanted{}, err
	}
	key, err := totp.Generate(totp.GenerateOpts{Issuer: "Copper Lark", AccountName: person.Email, Period: codePeriod, Digits: codeDigits})
	if err != nil {
		return FactorWanted{}, err
	}
	picture, err := key.Image(pictureSide, pictureSide)
	if err != nil {
		return FactorWanted{}, err
	}
	var file bytes.Buffer
	if err := png.Encode(&file, picture); err != nil {
		return FactorWanted{}, err
	}
	return FactorWanted{Secret: key.Secret(), Address: key.URL(),
		Picture: "data:image/png;base64," + base64.StdEncoding.EncodeToString(file.Bytes())}, a.store.SetFactor(ctx, person.ID, key.Secret())
}

// ConfirmFactor makes a second factor count, by a code of it, and gives the recovery codes, which are shown this once.
func (a *App) ConfirmFactor(ctx context.Context, person Person, code string) ([]string, error) {
	factor, err := a.store.Factor(ctx, person.ID)
	if err != nil {
		return nil, err
	}
	if factor.Confirmed {
		return nil, &Invalid{Message: "you have a second factor already", Advice: "take it away first, if the device is lost"}
	}
	step := int64(0)
	if err := a.guarded(ctx, person.Email, func() error { step = codeStep(code, factor.Secret, a.now()); return nil }); err != nil {
		return nil, err
	}
	if step == 0 {
		return nil, ErrWrongCode
	}
	a.signIns.right(person.Email, callerOf(ctx).Address)
	codes, hashes := make([]string, recoveryCodes), make([][]byte, recoveryCodes)
	for i := range codes {
		raw := make([]byte, recoveryBytes)
		_, _ = rand.Read(raw)
		letters := strings.ToLower(base32.StdEncoding.EncodeToString(raw))
		codes[i] = letters[:4] + "-" + letters[4:8] + "-" + letters[8:12] + "-" + letters[12:]
		hashes[i] = tokenHash(letters)
	}
	if err := a.store.ConfirmFactor(ctx, person.ID, step, hashes); err != nil {
		return nil, err
	}
	a.everywhere(ctx, person, didFactor, "")
	return codes, a.store.Strengthen(ctx, person.SessionID)
}

// codeStep is the number of the half minute that a code is of, near a time; 0 where it is of none.
func codeStep(code, secret string, now time.Time) int64 {
	code = strings.ReplaceAll(code, " ", "")
	for skew := -codeSkew; skew <= codeSkew; skew++ {
		at := now.Add(time.Duration(skew*codePeriod) * time.Second)
		if right, err := totp.ValidateCustom(code, secret, at, totp.ValidateOpts{Period: codePeriod, Digits: codeDigits}); err == nil && right {
			return at.Unix() / codePeriod
		}
	}
	return 0
}

// shown reports whether somebody has shown a second factor by a code, one of time or one for recovery; false where they
// have none. It gives ErrNeedsCode where there is one and no code, ErrWrongCode for a wrong or used one.
func (a *App) shown(ctx context.Context, person Person, code string) (bool, error) {
	factor, err := a.store.Factor(ctx, person.ID)
	if errors.Is(err, ErrNotFound) || err == nil && !factor.Confirmed {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	if code = strings.TrimSpace(code); code == "" {
		return false, ErrNeedsCode
	}
	if step := codeStep(code, factor.Secret, a.now()); step > 0 {
		err = a.store.UseFactor(ctx, person.ID, step)
	} else {
		letters := strings.ToLower(strings.NewReplacer("-", "", " ", "").Replace(code))
		if err = a.store.UseRecovery(ctx, person.ID, tokenHash(letters)); err == nil {
			a.everywhere(ctx, person, didRecovery, "")
		}
	}
	if errors.Is(err, ErrNotFound) {
		return false, ErrWrongCode
	}
	return err == nil, err
}

// ShowFactor shows the second factor for a session that began without it.
func (a *App) ShowFactor(ctx context.Context, person Person, code string) error {
	var strong bool
	err := a.guarded(ctx, person.Email, func() (err error) {
		strong, err = a.shown(ctx, person, code)
		return err
	})
	if err != nil || !strong {
		return err
	}
	a.signIns.right(person.Email, callerOf(ctx).Address)
	return a.store.Strengthen(ctx, person.SessionID)
}

// DropFactor takes somebody's second factor away, who knows their password and shows it once more.
func (a *App) DropFactor(ctx context.Context, person Person, password, code string) error {
	if err := a.prove(ctx, person, password); err != nil {
		return err
	}
	if err := a.ShowFactor(ctx, person, code); err != nil {
		return err
	}
	err := a.store.DropFactor(ctx, person.ID)
	if err == nil {
		a.everywhere(ctx, person, didDropFactor, "")
	}
	return err
}
