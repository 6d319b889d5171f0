package simulator

import (
	"context"
	"crypto/rand"
	"time"

	"dorvet/core/paymentmethod"
	"dorvet/core/refusal"
)

// The test numbers. No network of cards begins with 9, and the bank code is
// nobody's; anything else is refused, so that no real number is ever given.
const (
	GoodCard    = "9000000000000019"
	RefusedCard = "9000000000000027"
	GoodIBAN    = "IE16TEST93115212345678"
	RefusedIBAN = "IE55TEST93115287654321"
)

// Payments keeps test cards and accounts; Now is the instant.
type Payments struct{ Now func() time.Time }

var (
	errRefused  = refusal.Errorf("the bank has refused this: take another way of paying, or ask your bank")
	errOnlyTest = refusal.Errorf("this is a simulation and takes test numbers only: the card 9000 0000 0000 0019, or the IBAN IE16 TEST " +
		"9311 5212 3456 78; 9000 0000 0000 0027 and IE55 TEST 9311 5287 6543 21 are refused")
)

// KeepCard checks a card and gives a token for it.
func (p Payments) KeepCard(_ context.Context, c paymentmethod.Card) (paymentmethod.Kept, error) {
	if err := c.Check(p.Now()); err != nil {
		return paymentmethod.Kept{}, err
	}
	return keep(c.Digits(), GoodCard, RefusedCard)
}

// KeepAccount checks an account and gives a token for debiting it.
func (p Payments) KeepAccount(_ context.Context, a paymentmethod.Account) (paymentmethod.Kept, error) {
	if err := a.Check(); err != nil {
		return paymentmethod.Kept{}, err
	}
	return keep(a.Compact(), GoodIBAN, RefusedIBAN)
}

func keep(given, good, refused string) (paymentmethod.Kept, error) {
	switch given {
	case good:
		return paymentmethod.Kept{Token: "test-" + rand.Text(), LastFour: paymentmethod.LastFour(given)}, nil
	case refused:
		return paymentmethod.Kept{}, errRefused
	}
	return paymentmethod.Kept{}, errOnlyTest
}
