package identity

import (
	"crypto/rand"
	"crypto/subtle"
	"encoding/base64"
	"fmt"
	"strings"
	"unicode"

	"dorvet/internal/app"

	"github.com/trustelem/zxcvbn"
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
	return fmt.Sprintf("$argon2id$v=19$m=%d,t=%d,p=%d$%s$%s", c.kibibytes, c.passes, c.lanes, text.EncodeToString(salt),
		text.EncodeToString(key))
}

// costOf reads the cost that a hash was made with; one that no machine of ours would
// take is none.
func costOf(parameters string) (c cost, is bool) {
	n, err := fmt.Sscanf(parameters, "m=%d,t=%d,p=%d", &c.kibibytes, &c.passes, &c.lanes)
	return c, err == nil && n == 3 && c.passes > 0 && c.lanes > 0 && c.kibibytes >= 8*uint32(c.lanes) && c.kibibytes <= 1<<20 &&
		c.passes <= 16
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

// MinPassword is the least length of a password, in characters.
const MinPassword = 12

// leastStrength is what a password must be worth, of 0 to 4: a hundred million guesses of
// somebody who knows common passwords, words, names, dates, keyboards and how they are
// varied.
const leastStrength = 3

// NewPassword makes what is kept of a password that somebody chose. It is long, hard to
// guess, and not made of what is known of the person.
func NewPassword(password string, known ...string) (string, error) {
	if len([]rune(password)) < MinPassword {
		return "", app.RefuseField("password", "This password is too short: take at least %d characters. Four words in a row are good.",
			MinPassword)
	}
	rest, parts := strings.ToLower(password), []string{}
	for _, text := range known {
		parts = append(parts, strings.FieldsFunc(strings.ToLower(text),
			func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })...)
	}
	for _, part := range parts {
		if len(part) > 2 {
			rest = strings.ReplaceAll(rest, part, "")
		}
	}
	if len([]rune(rest)) < MinPassword/2 {
		return "", app.RefuseField("password", "This password is made of your name or mail address: take something else. Four "+
			"words in a row are good.")
	}
	looked := string([]rune(password)[:min(len([]rune(password)), 60)]) // the rest makes it no weaker
	if zxcvbn.PasswordStrength(looked, parts).Score < leastStrength {
		return "", app.RefuseField("password", "This password is among those that are guessed first: take something else. Four "+
			"words in a row are good.")
	}
	return HashPassword(password)
}
