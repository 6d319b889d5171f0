package simulator

import (
	"context"
	"crypto/rand"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"

	"dorvet/core/onlinepayment"
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
	// EmptyCard is kept and pays nothing; what is debited from ReturnedIBAN comes back.
	EmptyCard    = "9000000000000043"
	ReturnedIBAN = "IE03TEST93115200000043"
)

// debitDays is how long the stand-in's days are: after so long a debit is received, and after as long again one comes back.
const debitDays = 3 * time.Second

// Payments keeps test cards and accounts, and takes money from them; Now is the instant. What was asked is in memory
// alone: of what was asked before a restart it says that it is on its way.
type Payments struct {
	Now func() time.Time
	// Tell is told when something has become of a debit; nil: nobody is.
	Tell func(key string, c paymentmethod.Charged)

	lock    sync.Mutex
	charges map[string]charge // by their keys
}

type charge struct {
	token     string
	at        time.Time
	reference string // of the service: which charge it is since the start
}

var (
	errRefused  = refusal.Errorf("the bank has refused this: take another way of paying, or ask your bank")
	errOnlyTest = refusal.Errorf("this is a simulation and takes test numbers only: the card 9000 0000 0000 0019, or the IBAN IE16 TEST " +
		"9311 5212 3456 78; 9000 0000 0000 0027 and IE55 TEST 9311 5287 6543 21 are refused")
)

// KeepCard checks a card and gives a token for it.
func (p *Payments) KeepCard(_ context.Context, c paymentmethod.Card) (paymentmethod.Kept, error) {
	if err := c.Check(p.Now()); err != nil {
		return paymentmethod.Kept{}, err
	}
	return keep(c.Digits(), RefusedCard, GoodCard, EmptyCard)
}

// KeepAccount checks an account and gives a token for debiting it.
func (p *Payments) KeepAccount(_ context.Context, a paymentmethod.Account) (paymentmethod.Kept, error) {
	if err := a.Check(); err != nil {
		return paymentmethod.Kept{}, err
	}
	return keep(a.Compact(), RefusedIBAN, GoodIBAN, ReturnedIBAN)
}

func keep(given, refused string, good ...string) (paymentmethod.Kept, error) {
	if given == refused {
		return paymentmethod.Kept{}, errRefused
	}
	if !slices.Contains(good, given) {
		return paymentmethod.Kept{}, errOnlyTest
	}
	last := paymentmethod.LastFour(given)
	kind := "card"
	if strings.HasPrefix(given, "IE") {
		kind = "debit"
	}
	return paymentmethod.Kept{Token: "test-" + kind + "-" + last + "-" + rand.Text(), LastFour: last}, nil
}

// Charge takes money by a token: from a card at once, from an account in the days that a bank takes. Asked again under a key it is the same
// charge.
func (p *Payments) Charge(ctx context.Context, c paymentmethod.Charge) (paymentmethod.Charged, error) {
	p.lock.Lock()
	if p.charges == nil {
		p.charges = map[string]charge{}
	}
	if _, known := p.charges[c.Key]; !known {
		p.charges[c.Key] = charge{c.Token, p.Now(), fmt.Sprintf("T%d", len(p.charges)+1)}
		if strings.HasPrefix(c.Token, "test-debit-") && p.Tell != nil {
			for days := range time.Duration(2) {
				time.AfterFunc((days+1)*debitDays+time.Millisecond, func() {
					said, _ := p.Find(context.Background(), c.Key) // it never fails
					p.Tell(c.Key, said)
				})
			}
		}
	}
	p.lock.Unlock()
	return p.Find(ctx, c.Key)
}

// Find says what has become of what was asked under a key.
func (p *Payments) Find(_ context.Context, key string) (paymentmethod.Charged, error) {
	p.lock.Lock()
	c, known := p.charges[key]
	p.lock.Unlock()
	said := paymentmethod.Charged{Known: known, Reference: c.reference}
	if !known { // it was asked before a restart
		return paymentmethod.Charged{Known: true, State: onlinepayment.Pending}, nil
	}
	age := p.Now().Sub(c.at)
	switch {
	case strings.HasPrefix(c.token, "test-card-"+paymentmethod.LastFour(EmptyCard)):
		said.State, said.Problem = onlinepayment.Failed, "The card has not enough on it."
	case strings.HasPrefix(c.token, "test-card-"):
		said.State = onlinepayment.Received
	case age < debitDays:
		said.State = onlinepayment.Pending
	case age < 2*debitDays || !strings.HasPrefix(c.token, "test-debit-"+paymentmethod.LastFour(ReturnedIBAN)):
		said.State = onlinepayment.Received
	default:
		said.State, said.Problem = onlinepayment.Returned, "The account's holder has sent it back."
	}
	return said, nil
}
