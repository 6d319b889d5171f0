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
	return encode(salt, derive(password, salt)), nil
}

func derive(password string, salt []byte) []byte {
	hashing <- struct{}{}
	defer func() { <-hashing }()
	return argon2.IDKey([]byte(password), salt, passes, kibibytes, lanes, keyBytes)
}

func encode(salt, key []byte) string {
	text := base64.RawStdEncoding
	return fmt.Sprintf("$argon2id$v=19$m=%d,t=%d,p=%d$%s$%s", kibibytes, passes, lanes, text.EncodeToString(salt), text.EncodeToString(key))
}

func matches(hash, password string) bool {
	parts := strings.Split(hash, "$")
	if len(parts) != 6 {
		return false
	}
	salt, err := base64.RawStdEncoding.DecodeString(parts[4])
	return err == nil && subtle.ConstantTimeCompare([]byte(hash), []byte(encode(salt, derive(password, salt)))) == 1
}

// nobody is compared with when there is no such person, so that the answer
// takes as long.
var nobody = encode(make([]byte, saltBytes), make([]byte, keyBytes))

// SignIn finds the person of a mail address and password. Which of the two was
// wrong is not said.
func SignIn(ctx context.Context, a *app.App, mail, password string) (*store.Person, error) {
	person, err := store.PersonByMail(a.Store.Read(ctx), strings.TrimSpace(mail))
	hash := nobody
	switch {
	case err == nil:
		hash = person.PasswordHash
	case !errors.Is(err, store.ErrNotFound):
		return nil, err
	}
	if !matches(hash, password) {
		return nil, app.Refuse(app.Forbidden, "This mail address and password do not belong together. Check both, then try again.")
	}
	return person, nil
}

// Actor is who a signed-in person is now; people who left are nobody.
func Actor(ctx context.Context, a *app.App, personID int64) (app.Actor, *store.Person, error) {
	person, err := store.Get[store.Person](a.Store.Read(ctx), personID)
	if err == nil && !person.Active {
		err = store.ErrNotFound
	}
	if err != nil {
		return app.Actor{}, nil, err
	}
	return app.Actor{PersonID: person.ID, Role: app.Role(person.Role)}, person, nil
}
