package wip

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/money"
)

func eur(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

// The figures are sums and differences, re-computed by hand.
func TestWhatIsGivenAwayByWhy(t *testing.T) {
	for _, c := range []struct {
		name                                          string
		standard, agreed, atNoCharge, noCharge, rates int64
	}{
		{"nothing", 10000, 10000, 0, 0, 0},
		{"a lower rate", 20000, 15000, 0, 0, -5000},
		{"a higher rate", 20000, 21000, 0, 0, 1000},
		{"an hour at no charge", 20000, 10000, 10000, -10000, 0},
		{"both", 30000, 18000, 10000, -10000, -2000},
	} {
		given, err := Give(eur(c.standard), eur(c.agreed), eur(c.atNoCharge))
		if err != nil || given.NoCharge.Minor != c.noCharge || given.Rates.Minor != c.rates {
			t.Errorf("%s: %+v, %v", c.name, given, err)
		}
	}
	if _, err := Give(eur(1), money.Amount{Minor: 1, Currency: "USD"}, eur(0)); err == nil {
		t.Error("two currencies are compared")
	}
}

func TestStandardAndWhatIsGivenAddUpToAgreed(t *testing.T) {
	random := rand.New(rand.NewPCG(11, 12))
	for range 1000 {
		standard, agreed, atNoCharge := eur(random.Int64N(1e9)), eur(random.Int64N(1e9)), eur(random.Int64N(1e9))
		given, err := Give(standard, agreed, atNoCharge)
		if err != nil || standard.Minor+given.NoCharge.Minor+given.Rates.Minor != agreed.Minor {
			t.Fatalf("%v + %+v is not %v, %v", standard, given, agreed, err)
		}
	}
}
