package letter

import (
	"testing"
	"time"
)

// Source: the rules of this product, after 1, 5 and 30 minutes, 2 and 6 hours; growing
// waits are what RFC 5321, 4.5.4.1, asks of who sends mail.
func TestALetterWaitsLongerAfterEachTry(t *testing.T) {
	now := time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC)
	for failures, minutes := range []int{0, 1, 5, 30, 120, 360} {
		at, more := Again(failures, now)
		if !more || at != now.Add(time.Duration(minutes)*time.Minute) {
			t.Errorf("after %d failures at %s, %t", failures, at, more)
		}
	}
	if _, more := Again(6, now); more {
		t.Error("after six failures it is tried again")
	}
}
