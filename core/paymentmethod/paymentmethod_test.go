package paymentmethod

import (
	"strings"
	"testing"
	"time"
)

var now = time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC)

// Source: the worked example of ISO/IEC 7812-1, annex B, as it is commonly given
// for the algorithm: 7992739871 takes the check digit 3.
func TestCheckDigitOfACard(t *testing.T) {
	for last := range 10 {
		if got := luhn("7992739871" + string(rune('0'+last))); got != (last == 3) {
			t.Errorf("check digit %d: %v", last, got)
		}
	}
}

func TestACardIsRefusedInWordsWithoutItsNumber(t *testing.T) {
	good := Card{Number: "9000 0000 0000 0019", Expires: "12/26", Code: "123", Holder: "A. Client"}
	for n := range 10 { // find the check digit for this number
		good.Number = "9000 0000 0000 001" + string(rune('0'+n))
		if luhn(good.Digits()) {
			break
		}
	}
	if err := good.Check(now); err != nil {
		t.Fatal(err)
	}
	for name, spoil := range map[string]func(*Card){
		"a digit more": func(c *Card) { c.Number = "9000 0000 0000 0011 1" }, "letters": func(c *Card) { c.Number = "my card" },
		"ended":    func(c *Card) { c.Expires = "11/26" },
		"no month": func(c *Card) { c.Expires = "13/27" }, "no code": func(c *Card) { c.Code = "" },
		"no name": func(c *Card) { c.Holder = " " },
	} {
		bad := good
		spoil(&bad)
		if err := bad.Check(now); err == nil || strings.Contains(err.Error(), bad.Digits()) {
			t.Errorf("%s: %v", name, err)
		}
	}
}

// Source: the example of the IBAN registry for ISO 13616, GB82 WEST 1234 5698 7654 32.
func TestCheckDigitsOfAnIBAN(t *testing.T) {
	if err := (Account{"GB82 WEST 1234 5698 7654 32", "A. Client"}).Check(); err != nil {
		t.Error(err)
	}
	for _, iban := range []string{"GB83 WEST 1234 5698 7654 32", "GB82 WEST 1234 5698 7654 23", "GB82", "82GB WEST 1234 5698 7654 32"} {
		if (Account{iban, "A. Client"}).Check() == nil {
			t.Errorf("%s is taken", iban)
		}
	}
	if (Account{"GB82 WEST 1234 5698 7654 32", ""}).Check() == nil {
		t.Error("an account of nobody is taken")
	}
}
