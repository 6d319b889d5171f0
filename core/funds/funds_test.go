package funds

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
)

func euro(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

// Source: common practice of money held for clients: the lesser of what is due
// and what is held, unless less is asked.
func TestTheLesserOfDueAndHeldIsApplied(t *testing.T) {
	half := int64(50)
	for _, c := range []struct {
		due    int64
		held   []Held
		atMost *int64
		want   []int64
	}{
		{370_020, []Held{{Held: 1_000_000}}, nil, []int64{370_020}},
		{100, []Held{{Held: 60}, {Held: 60}}, nil, []int64{60, 40}},
		{100, []Held{{Held: 60, Reserved: 20}, {Held: 200, Reserved: 300}}, nil, []int64{40, 0}},
		{100, []Held{{Held: 60}}, &half, []int64{50}},
		{-5, []Held{{Held: 60}}, nil, []int64{0}},
		{40, []Held{{Held: 60}}, &half, []int64{40}}, // a most above what is due takes what is due
	} {
		if taken, _ := Take(c.due, c.held, c.atMost); !slices.Equal(taken, c.want) {
			t.Errorf("%d of %+v: %v, want %v", c.due, c.held, taken, c.want)
		}
	}
}

func TestFundsNeverFallBelowZero(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	for range 20_000 {
		fund := Held{Held: random.Int64N(1000), Reserved: random.Int64N(1200)}
		left, err := Pay(fund, euro(random.Int64N(1300)-100))
		if err != nil && left != fund.Held || left < 0 || err == nil && left < min(fund.Reserved, fund.Held) {
			t.Fatalf("%+v leaves %d, %v", fund, left, err)
		}
	}
	if _, err := Pay(Held{Held: 100, Reserved: 30}, euro(80)); err == nil ||
		!strings.Contains(err.Error(), "0.70 of it is free, 0.30 is on drafts") {
		t.Errorf("%v", err)
	}
}

// Source: common practice, 10,000.00 held − 3,700.20 = 6,299.80.
func TestAStatementRunsToWhatIsHeld(t *testing.T) {
	on := day.Of(2026, 12, 1)
	s, err := State(euro(0), []Movement{{Day: on, Text: "received", Amount: euro(1_000_000)},
		{Day: on, Text: "applied", Amount: euro(-370_020)}})
	if err != nil || s.Closing.String() != "6,299.80" || s.Movements[0].After.Minor != 1_000_000 {
		t.Errorf("%+v, %v", s, err)
	}
	if _, err := State(euro(10), []Movement{{Day: on, Text: "refund", Amount: euro(-11)}}); err == nil ||
		!strings.Contains(err.Error(), "0.01 more than was held") {
		t.Errorf("%v", err)
	}
}

func ExamplePay() {
	left, _ := Pay(Held{Held: 1_000_000}, money.Amount{Minor: 370_020, Currency: "EUR"})
	fmt.Println(money.Amount{Minor: left, Currency: "EUR"})
	// Output: 6,299.80
}

// The example of [Refill]: from the rules of this product.
func TestARefillIsWhatIsMissing(t *testing.T) {
	for _, c := range [][4]int64{{1_000_00, 350_00, 200_00, 450_00}, {1_000_00, 1_000_00, 0, 0}, {0, 5_00, 0, 0}, {1_000_00, -50_00, 0, 1_050_00},
		{1_000_00, 0, 2_000_00, 0}} {
		if got := Refill(c[0], c[1], c[2]); got != c[3] {
			t.Errorf("%v: %d", c, got)
		}
	}
}
