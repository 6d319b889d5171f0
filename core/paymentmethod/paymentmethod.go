// Package paymentmethod checks how a client wants to pay: a card number by its check
// digit (ISO/IEC 7812-1, annex B), an account by that of its IBAN (ISO 13616,
// modulo 97). Neither is ever kept: only a token and the last four characters.
package paymentmethod

import (
	"fmt"
	"math/big"
	"regexp"
	"strings"
	"time"

	"dorvet/core/money"
	"dorvet/core/onlinepayment"
	"dorvet/core/refusal"
)

// Card is a card as it is typed. It lives as long as one request.
type Card struct{ Number, Expires, Code, Holder string }

// Account is a bank account to be debited.
type Account struct{ IBAN, Holder string }

// Kept is what may be kept of either.
type Kept struct{ Token, LastFour string }

// Charge is what is to be taken by a token.
type Charge struct {
	Key    string // unique
	Token  string
	Amount money.Amount // with what the payer bears
	Words  string       // what it is for
}

// Charged is what a payment service says of a charge.
type Charged struct {
	Known     bool // it was asked for
	Reference string
	State     onlinepayment.State
	Problem   string // why it failed or came back, in the bank's words
}

var (
	expiry  = regexp.MustCompile(`^(0[1-9]|1[0-2])\s*/\s*(\d{2})$`)
	digits  = regexp.MustCompile(`^\d{12,19}$`)
	code    = regexp.MustCompile(`^\d{3,4}$`)
	account = regexp.MustCompile(`^[A-Z]{2}\d{2}[A-Z0-9]{11,30}$`)
)

// Digits is the number without the spaces with which it is typed.
func (c Card) Digits() string { return strings.NewReplacer(" ", "", "-", "").Replace(c.Number) }

// Check refuses a card that can't be one, or that has expired before the month
// of now. The error never repeats the number.
func (c Card) Check(now time.Time) error {
	until := expiry.FindStringSubmatch(strings.TrimSpace(c.Expires))
	switch {
	case !digits.MatchString(c.Digits()) || !luhn(c.Digits()):
		return refusal.Errorf("this is not the number of a card: look at it again")
	case until == nil:
		return refusal.Errorf("the month in which the card ends is written like 09/28")
	case now.Format("0601") > until[2]+until[1]:
		return refusal.Errorf("this card has ended: take another")
	case !code.MatchString(strings.TrimSpace(c.Code)):
		return refusal.Errorf("the code of a card has three or four digits")
	case strings.TrimSpace(c.Holder) == "":
		return refusal.Errorf("the name on the card is missing")
	}
	return nil
}

// luhn is the check of ISO/IEC 7812-1: every second digit from the right doubled,
// all digits added, the sum divisible by ten.
func luhn(number string) bool {
	sum := 0
	for i := range number {
		d := int(number[len(number)-1-i] - '0')
		if i%2 == 1 {
			if d *= 2; d > 9 {
				d -= 9
			}
		}
		sum += d
	}
	return sum%10 == 0
}

// Compact is the IBAN without spaces, in capitals.
func (a Account) Compact() string { return strings.ToUpper(strings.ReplaceAll(a.IBAN, " ", "")) }

// Check refuses an account whose IBAN is wrong.
func (a Account) Check() error {
	switch {
	case !account.MatchString(a.Compact()) || !mod97(a.Compact()):
		return refusal.Errorf("this IBAN is not right: look at it again")
	case strings.TrimSpace(a.Holder) == "":
		return refusal.Errorf("the name of the account's holder is missing")
	}
	return nil
}

// mod97 is the check of ISO 13616: the first four characters moved to the end,
// letters counted from 10, the number leaves 1 when divided by 97.
func mod97(iban string) bool {
	left, ok := leaves(iban[4:] + iban[:4])
	return ok && left == 1
}

// leaves is what is left of a text by ISO 7064, MOD 97-10: letters counted from 10, divided by 97.
func leaves(text string) (int64, bool) {
	number := new(strings.Builder)
	for _, r := range text {
		if r >= 'A' && r <= 'Z' {
			fmt.Fprint(number, int(r-'A')+10)
			continue
		}
		number.WriteRune(r)
	}
	n, ok := new(big.Int).SetString(number.String(), 10)
	if !ok {
		return 0, false
	}
	return n.Mod(n, big.NewInt(97)).Int64(), true
}

// Reference is the creditor reference (ISO 11649) of a document's number: RF, two check digits, and of the number its letters and digits,
// 21 at most. A number without any has none.
//
//	Reference("539007547034") // RF18539007547034
func Reference(number string) string {
	kept := strings.Map(func(r rune) rune {
		if r >= '0' && r <= '9' || r >= 'A' && r <= 'Z' {
			return r
		}
		return -1
	}, strings.ToUpper(number))
	if kept == "" {
		return ""
	}
	if len(kept) > 21 { // the end of a number says most
		kept = kept[len(kept)-21:]
	}
	left, _ := leaves(kept + "RF00") // it is letters and digits
	return fmt.Sprintf("RF%02d%s", 98-left, kept)
}

// LastFour are the last four characters.
func LastFour(text string) string { return text[max(0, len(text)-4):] }
