package letter_test

import (
	"testing"

	"dorvet/core/letter"
)

// A domain is compared without its capitals (RFC 1035, 2.3.3), and as a whole.
func TestAHouseIsItsOwnDomainAndNoProviders(t *testing.T) {
	known := []string{"Ann <ann@harbour.example>", "bo@GMAIL.com", "nothing"}
	for address, want := range map[string]bool{
		"new@harbour.example": true, "New@Harbour.Example": true, "new@sub.harbour.example": false, "new@harbour.example.org": false,
		"x@notharbour.example": false,
		"cy@gmail.com":         false, "cy@Gmail.Com": false, "": false, "harbour.example": false, "a@b@harbour.example": false,
		`"x@evil.example"@harbour.example`: true,
	} {
		if got := letter.SameHouse(address, known); got != want {
			t.Errorf("%q: %t", address, got)
		}
	}
	if !letter.SameAddress(" Ann@harbour.example ", "ann@HARBOUR.example") ||
		letter.SameAddress("ann@harbour.example", "an@harbour.example") {
		t.Error("addresses are compared in another way")
	}
}
