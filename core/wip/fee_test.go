package wip

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"testing"

	"dorvet/core/money"
)

// Source: earned value management (EIA-748), from memory: estimate at completion =
// actual / share done, variance at completion = budget − estimate. Its textbook
// example: 100,000 agreed, 30 % done, 40,000 spent: 133,333.33 at the end.
func TestHowAFixedFeeStands(t *testing.T) {
	for _, c := range []struct {
		name                string
		fee, worked, billed int64
		done                money.Percent
		worksAt, billedAt   money.Percent
		expected            int64
	}{
		{"the textbook's", 10_000_000, 4_000_000, 0, 30_0000, 40_0000, 0, 10_000_000 - 13_333_333},
		{"on its way", 4_800_000, 2_400_000, 1_200_000, 60_0000, 50_0000, 25_0000, 800_000},
		{"overrun", 1_420_000, 2_107_400, 0, 100_0000, 148_4085, 0, -687_400},
		{"nothing done", 1_000_000, 300_000, 500_000, 0, 30_0000, 50_0000, 1_000_000},
		{"no fee has no shares", 0, 500, 0, 0, 0, 0, 0},
	} {
		got, err := Stand(eur(c.fee), eur(c.worked), eur(c.billed), c.done)
		if err != nil || got.WorkedShare != c.worksAt || got.BilledShare != c.billedAt ||
			got.Expected != eur(c.expected) {
			t.Errorf("%s: %+v, %v", c.name, got, err)
		}
	}
}

// Source: common practice: percent complete is told by whoever runs the work, else by milestones,
// else by hours of those expected; value used of a fee never tells it.
func TestWhoSaysHowMuchIsDone(t *testing.T) {
	for _, c := range []struct {
		name                              string
		typed                             money.Percent
		phases, phasesDone, minutes, hope int
		done                              money.Percent
		from                              DoneFrom
	}{
		{"typed before all else", 40_0000, 4, 3, 600, 1200, 40_0000, Typed},
		{"three of four phases", 0, 4, 3, 600, 1200, 75_0000, ByPhases},
		{"no phase is done: 120 of 300 minutes", 0, 4, 0, 120, 300, 40_0000, ByHours},
		{"more hours than expected", 0, 0, 0, 400, 300, 100_0000, ByHours},
		{"nobody says", 0, 2, 0, 400, 0, 0, Unknown},
		{"nothing worked", 0, 0, 0, 0, 300, 0, Unknown},
	} {
		if done, from := DoneOf(c.typed, c.phases, c.phasesDone, c.minutes, c.hope); done != c.done || from != c.from {
			t.Errorf("%s: %s from %s", c.name, done, from)
		}
	}
}

// Oracle: exact rationals of the standard library.
func TestTheExpectedResultAgreesWithExactRationals(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 14))
	for range 20_000 {
		fee, worked, done := 1+random.Int64N(1e9), random.Int64N(1e9), money.Percent(1+random.IntN(150_0000))
		got, err := Stand(eur(fee), eur(worked), eur(0), done)
		if err != nil {
			t.Fatal(err)
		}
		atEnd := new(big.Rat).Mul(big.NewRat(worked, 1), big.NewRat(int64(money.Hundred), int64(done)))
		want := new(big.Rat).Sub(big.NewRat(fee, 1), atEnd)
		if off := new(big.Rat).Sub(want, big.NewRat(got.Expected.Minor, 1)); off.Abs(off).Cmp(big.NewRat(1, 2)) > 0 {
			t.Fatalf("fee %d, worked %d, %s %% done: %s, want %s", fee, worked, done, got.Expected, want.FloatString(3))
		}
	}
}

func ExampleStand() {
	s, _ := Stand(eur(4_800_000), eur(2_400_000), eur(0), 40_0000)
	fmt.Println(s.Expected)
	// Output: −12,000.00
}
