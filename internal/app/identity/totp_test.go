package identity

import (
	"testing"
	"time"
)

// Source: RFC 6238, appendix B, the rows of SHA-1: eight digits, secret
// "12345678901234567890".
func TestCodesAreThoseOfRFC6238(t *testing.T) {
	secret := []byte("12345678901234567890")
	for seconds, want := range map[int64]string{59: "94287082", 1111111109: "07081804", 1111111111: "14050471", 1234567890: "89005924",
		2000000000: "69279037", 20000000000: "65353130"} {
		if got := hotp(secret, seconds/stepSeconds, 8); got != want {
			t.Errorf("at %d the code is %s, want %s", seconds, got, want)
		}
	}
}

// Source: RFC 4226, appendix D: six digits by counter.
func TestCodesAreThoseOfRFC4226(t *testing.T) {
	for counter, want := range []string{"755224", "287082", "359152", "969429", "338314", "254676", "287922", "162583", "399871",
		"520489"} {
		if got := hotp([]byte("12345678901234567890"), int64(counter), codeDigits); got != want {
			t.Errorf("code %d is %s, want %s", counter, got, want)
		}
	}
}

func TestACodeWorksOnceAndForAMinuteAndAHalf(t *testing.T) {
	secret := encodeSecret([]byte("12345678901234567890"))
	at := func(seconds int64) time.Time { return time.Unix(seconds, 0) }
	code := hotp([]byte("12345678901234567890"), 100, codeDigits) // of the seconds 3000 to 3029
	for seconds, want := range map[int64]bool{2969: false, 2970: true, 3000: true, 3059: true, 3060: false} {
		if _, ok := checkCode6(secret, code, at(seconds), 0); ok != want {
			t.Errorf("at %d the code is taken: %t", seconds, ok)
		}
	}
	step, ok := checkCode6(secret, code[:3]+" "+code[3:], at(3000), 99)
	if !ok || step != 100 {
		t.Errorf("%d %t", step, ok)
	}
	if _, again := checkCode6(secret, code, at(3001), step); again {
		t.Error("a code works twice")
	}
	for _, wrong := range []string{"", "short", "!!!!"} {
		if _, ok := checkCode6(wrong, code, at(3000), 0); ok {
			t.Errorf("the secret %q is taken", wrong)
		}
	}
}
