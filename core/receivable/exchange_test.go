package receivable

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/money"
)

// Source: IAS 21 paragraph 28, a difference on settling a monetary item at another rate than
// that at which it was recognised is a profit or loss; the figures by hand.
func TestAPaymentAtAnotherRateHasAResultOfExchange(t *testing.T) {
	usd := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "USD"} }
	for _, c := range []struct {
		name         string
		part         money.Amount
		open, atBook int64
		came         money.ExchangeRate
		want         Settled
	}{
		{"a half, at a better rate", usd(50_00), 100_00, 90_00, money.Par * 95 / 100, Settled{45_00, 2_50}},
		{"all of it, at a worse one", usd(100_00), 100_00, 90_00, money.Par * 88 / 100, Settled{90_00, -2_00}},
		{"at the rate of the invoice", usd(50_00), 100_00, 90_00, 0, Settled{45_00, 0}},
		{"the same rate", usd(50_00), 100_00, 90_00, money.Par * 90 / 100, Settled{45_00, 0}},
	} {
		if got, err := Settle(c.part, c.open, c.atBook, c.came, "EUR"); err != nil || got != c.want {
			t.Errorf("%s: %+v, %v; want %+v", c.name, got, err, c.want)
		}
	}
}

// Property: parts settle all that stands in the books, whatever they are.
func TestPartsTakeAllOffTheBooks(t *testing.T) {
	random := rand.New(rand.NewPCG(4, 9))
	for range 20_000 {
		open := 1 + random.Int64N(1_000_000)
		book := random.Int64N(2_000_000)
		left := book
		for open > 0 {
			part := 1 + random.Int64N(open)
			got, err := Settle(money.Amount{Minor: part, Currency: "USD"}, open, left, 0, "EUR")
			if err != nil || got.AtBook < 0 || got.AtBook > left {
				t.Fatalf("%d of %d at %d: %+v, %v", part, open, left, got, err)
			}
			open, left = open-part, left-got.AtBook
		}
		if left != 0 {
			t.Fatalf("%d of %d stay in the books", left, book)
		}
	}
}
