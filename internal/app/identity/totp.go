// Package identity is who somebody is: signing in with password and second factor,
// invitations, sessions, and what is told to a person. Passwords are kept by argon2id,
// codes are those of RFC 6238; links and sessions are kept as digests.
package identity

import (
	"crypto/hmac"
	"crypto/sha1"
	"crypto/subtle"
	"encoding/base32"
	"encoding/binary"
	"fmt"
	"net/url"
	"strings"
	"time"
)

// Time-based one-time passwords as RFC 6238 has them: six digits, SHA-1, steps
// of 30 seconds. One step before and after is let pass, for clocks that differ.
const (
	stepSeconds = 30
	codeDigits  = 6
	drift       = 1
)

var secretText = base32.StdEncoding.WithPadding(base32.NoPadding)

func encodeSecret(secret []byte) string { return secretText.EncodeToString(secret) }

// hotp is the code of a counter: RFC 4226, part 5.3.
func hotp(secret []byte, counter int64, digits int) string {
	mac := hmac.New(sha1.New, secret)
	binary.Write(mac, binary.BigEndian, counter)
	sum := mac.Sum(nil)
	offset := sum[len(sum)-1] & 0xf
	number := binary.BigEndian.Uint32(sum[offset:]) & 0x7fffffff
	modulus := uint32(1)
	for range digits {
		modulus *= 10
	}
	return fmt.Sprintf("%0*d", digits, number%modulus)
}

// checkCode6 checks a typed code; no step up to the last one that was used is
// taken again. It gives the step of the code.
func checkCode6(secret, code string, now time.Time, last int64) (step int64, ok bool) {
	key, err := secretText.DecodeString(strings.ToUpper(strings.ReplaceAll(secret, " ", "")))
	if err != nil || len(key) < 16 {
		return 0, false
	}
	typed := strings.ReplaceAll(code, " ", "")
	for step = now.Unix()/stepSeconds - drift; step <= now.Unix()/stepSeconds+drift; step++ {
		if step > last && subtle.ConstantTimeCompare([]byte(hotp(key, step, codeDigits)), []byte(typed)) == 1 {
			return step, true
		}
	}
	return 0, false
}

// SecretURI is a secret as devices read it from a picture or a link.
func SecretURI(firm, mail, secret string) string {
	query := url.Values{"secret": {secret}, "issuer": {firm}}
	return "otpauth://totp/" + url.PathEscape(firm+":"+mail) + "?" + query.Encode()
}

// CodeAt is the code that a device with the secret shows at an instant; nothing
// for a secret that is none.
func CodeAt(secret string, at time.Time) string {
	key, err := secretText.DecodeString(secret)
	if err != nil {
		return ""
	}
	return hotp(key, at.Unix()/stepSeconds, codeDigits)
}
