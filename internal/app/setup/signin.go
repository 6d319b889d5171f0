package setup

import (
	"context"
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/store"

	"golang.org/x/crypto/argon2"
	"gorm.io/gorm"
)

// Argon2id with two passes over 19 MiB, as the password storage advice of the
// open web security community has it.
const (
	passes, kibibytes, lanes = 2, 19 * 1024, 1
	saltBytes, keyBytes      = 16, 32
)

// hashing lets few sign-ins use their 19 MiB at once.
var hashing = make(chan struct{}, 4)

// HashPassword makes what is kept of a password.
func HashPassword(password string) (string, error) {
	salt := make([]byte, saltBytes)
	if _, err := rand.Read(salt); err != nil {
		return "", err
	}
	return today.encode(salt, today.derive(password, salt)), nil
}

// cost is what it takes to hash a password. It is kept with the hash, so that raising
// it for new passwords locks nobody out.
type cost struct {
	kibibytes, passes uint32
	lanes             uint8
}

var today = cost{kibibytes, passes, lanes}

func (c cost) derive(password string, salt []byte) []byte {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2.IDKey([]byte(password), salt, c.passes, c.kibibytes, c.lanes, keyBytes)
}

func (c cost) encode(salt, key []byte) string {
	text := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=19$m=%d,t=%d,p=%d$%s$%s", c.kibibytes, c.passes, c.lanes, text.EncodeToString(salt), text.EncodeToString(key))
}

// costOf reads the cost that a hash was made with; one that no machine of ours would
// take is none.
func costOf(parameters string) (c cost, is bool) {
	n, err := fmt.Sscanf(parameters, "m=%d,t=%d,p=%d", &c.kibibytes, &c.passes, &c.lanes)
	return c, err == nil && n == 3 && c.passes > 0 && c.lanes > 0 && c.kibibytes >= 8*uint32(c.lanes) && c.kibibytes <= 1<<20 && c.passes <= 16
}

func matches(hash, password string) bool {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 {
		return false
	}
	c, is := costOf(parts[3])
	salt, err := base64.RawStdEncoding.DecodeString(parts[4])
	return err == nil && is && subtle.ConstantTimeCompare([]byte(hash), []byte(c.encode(salt, c.derive(password, salt)))) == 1
}

// nobody is compared with when there is no such person, so that the answer
// takes as long.
var nobody = today.encode(make([]byte, saltBytes), make([]byte, keyBytes))

// ErrCodeNeeded says that mail address and password are right and that a code
// of the second factor is asked for now.
var ErrCodeNeeded = &app.Refusal{Kind: app.Invalid, Field: "code", Sentence: "Type the code that your device shows."}

// SignIn finds the person of a mail address and password, and of a code if they
// have a second factor. Which of mail and password was wrong is not said.
func SignIn(ctx context.Context, a *app.App, mail, password, code string) (*store.Person, error) {
	person, err := store.PersonByMail(a.Store.Read(ctx), strings.TrimSpace(mail))
	hash := nobody
	switch {
	case err == nil && person.PasswordHash != "":
		hash = person.PasswordHash
	case err != nil && !errors.Is(err, store.ErrNotFound):
		return nil, err
	}
	if !matches(hash, password) {
		return nil, app.Refuse(app.Forbidden, "This mail address and password do not belong together. Check both, then try again.")
	}
	if person.SecondFactor == "" {
		return person, nil
	}
	if strings.TrimSpace(code) == "" {
		return nil, ErrCodeNeeded
	}
	return person, useCode(ctx, a, person, code)
}

// useCode takes a code once: the step it belongs to is written down.
func useCode(ctx context.Context, a *app.App, person *store.Person, code string) error {
	return a.Store.Write(ctx, func(tx *gorm.DB) error {
		fresh, err := store.Get[store.Person](tx, person.ID)
		if err != nil {
			return err
		}
		step, ok := checkCode6(fresh.SecondFactor, code, a.Clock.Now(), fresh.SecondFactorStep)
		if !ok {
			return app.RefuseField("code", "This code is wrong, or was used already. Wait for the next one, then type that.")
		}
		return tx.Exec("UPDATE people SET second_factor_step = ? WHERE id = ?", step, person.ID).Error
	})
}

// SignedIn keeps that a session has begun, and gives its number.
func SignedIn(ctx context.Context, a *app.App, s store.SignedIn) (int64, error) {
	err := a.Store.Write(ctx, func(tx *gorm.DB) error { return store.Insert(tx, &s) })
	return s.ID, err
}
