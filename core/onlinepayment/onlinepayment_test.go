package onlinepayment

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/receivable"
)

var today = day.Of(2026, 12, 1)

// Source: the rules of this product: 1,000.00 by card at 1.5 % + 0.25 → 15.25 → 1,015.25. In yen nothing is smaller than one.
func TestAFeeIsRoundedOnce(t *testing.T) {
	for _, c := range []struct {
		amount money.Amount
		fee    Fee
		want   string
	}{
		{money.Amount{Minor: 100_000, Currency: "EUR"}, Fee{1_5000, 2500}, "15.25"},
		{money.Amount{Minor: 33, Currency: "EUR"}, Fee{1_5000, 0}, "0.00"},
		{money.Amount{Minor: 34, Currency: "EUR"}, Fee{1_5000, 0}, "0.01"},
		{money.Amount{Minor: 10_000, Currency: "JPY"}, Fee{1_5000, 30_0000}, "180"},
		{money.Amount{Minor: 10_000, Currency: "BHD"}, Fee{2_0000, 1000}, "0.300"},
	} {
		if fee, err := c.fee.Of(c.amount); err != nil || fee.String() != c.want {
			t.Errorf("%s at %v: %s, %v", c.amount, c.fee, fee, err)
		}
	}
}

func TestWhatIsOfferedFirst(t *testing.T) {
	parts := []receivable.Open{{Due: today - 1, Owed: 10_000}, {Due: today + 30, Owed: 5_000}}
	for disputed, want := range map[int64]Offer{0: {10_000, 15_000}, 5_000: {10_000, 10_000}, 6_000: {9_000, 9_000}, 15_000: {0, 0}, 20_000: {0, 0}} {
		if got := Offered(parts, disputed, today); got != want {
			t.Errorf("%d disputed: %+v", disputed, got)
		}
	}
	if got := Offered(parts[1:], 0, today); got != (Offer{5_000, 5_000}) {
		t.Errorf("nothing due: %+v", got)
	}
}

// Whatever is said, in whatever order and however often: money is booked at most once and taken back at most once, and only after it was
// booked does taking back change the books.
func TestWhatIsSaidTwiceActsOnce(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 1))
	all := []State{Asked, Pending, Received, Failed, Returned}
	for range 5000 {
		s, booked, back := Asked, 0, 0
		for range 1 + random.IntN(12) {
			before := s
			next, changed := s.After(all[random.IntN(len(all))])
			if !changed && next != s {
				t.Fatalf("%s becomes %s unchanged", s, next)
			}
			if s = next; changed && s == Received {
				booked++
			}
			if changed && s == Returned && before == Received {
				back++
			}
		}
		if booked > 1 || back > booked {
			t.Fatalf("booked %d times, back %d times", booked, back)
		}
	}
	for _, c := range []struct{ from, said, to State }{{Asked, Pending, Pending}, {Pending, Received, Received}, {Failed, Received, Received},
		{Received, Pending, Received}, {Received, Returned, Returned}, {Returned, Received, Returned}, {Received, Failed, Received}} {
		if got, _ := c.from.After(c.said); got != c.to {
			t.Errorf("%s, said %s: %s", c.from, c.said, got)
		}
	}
}
