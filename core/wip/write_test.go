package wip

import (
	"errors"
	"math/rand/v2"
	"testing"

	"dorvet/core/money"
)

func minutesOf(n int) Target     { return Target{Minutes: &n} }
func rateOf(r money.Rate) Target { return Target{PerHour: &r} }
func amountOf(minor int64) Target {
	return Target{Amount: &money.Amount{Minor: minor, Currency: "EUR"}}
}

// The figures: 546.00 × 180 / 252 = 390.00; 250 − 80 = 170 (common practice); the
// rest by Hamilton's method of apportionment, computed by hand.
func TestWorkIsWrittenToHoursARateOrAnAmount(t *testing.T) {
	for _, c := range []struct {
		name   string
		to     Target
		pieces []Piece
		want   []Piece
	}{
		{"fewer hours", minutesOf(180), []Piece{{252, 54_600, 54_600}}, []Piece{{180, 54_600, 39_000}}},
		{"more hours", minutesOf(90), []Piece{{60, 10_000, 10_000}}, []Piece{{90, 10_000, 15_000}}},
		{"a lower rate", rateOf(100_0000), []Piece{{90, 21_375, 21_375}}, []Piece{{90, 21_375, 15_000}}},
		{"an amount", amountOf(17_000), []Piece{{120, 25_000, 25_000}}, []Piece{{120, 25_000, 17_000}}},
		{"two to an amount, the difference by value", amountOf(12_000), []Piece{{60, 10_000, 10_000}, {30, 5_000, 5_000}},
			[]Piece{{60, 10_000, 8_000}, {30, 5_000, 4_000}}},
		{"several rates to fewer hours", minutesOf(60), []Piece{{60, 20_000, 20_000}, {60, 10_000, 10_000}},
			[]Piece{{30, 20_000, 10_000}, {30, 10_000, 5_000}}},
		{"nothing at all", amountOf(0), []Piece{{60, 10_000, 10_000}}, []Piece{{60, 10_000, 0}}},
		{"up from nothing", amountOf(500), []Piece{{60, 10_000, 0}}, []Piece{{60, 10_000, 500}}},
	} {
		got, err := c.to.Written(c.pieces, "EUR")
		if err != nil {
			t.Errorf("%s: %v", c.name, err)
			continue
		}
		for i := range got {
			if got[i] != c.want[i] {
				t.Errorf("%s: %+v, want %+v", c.name, got, c.want)
			}
		}
	}
	if _, err := minutesOf(30).Written([]Piece{{60, 100, 0}}, "EUR"); !errors.Is(err, ErrNoValue) {
		t.Errorf("hours of worthless work: %v", err)
	}
}

func TestWhatIsWrittenDownAndWhatIsLeftAddUp(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	for range 20_000 {
		pieces, whole := make([]Piece, 1+random.IntN(5)), Piece{}
		for i := range pieces {
			pieces[i] = Piece{1 + random.IntN(600), random.Int64N(100_000), 1 + random.Int64N(100_000)}
			whole = whole.Plus(pieces[i])
		}
		to := random.Int64N(whole.Agreed + 1)
		written, err := amountOf(to).Written(pieces, "EUR")
		sum := int64(0)
		for i := range written {
			sum += written[i].Agreed
			left, off, problem := pieces[i].Less(written[i])
			if problem != nil || left.Plus(off) != pieces[i] || left.Agreed < 0 || off.Agreed < 0 || left.Standard < 0 || off.Standard < 0 {
				t.Fatalf("%+v to %+v: %+v and %+v, %v", pieces[i], written[i], left, off, problem)
			}
		}
		if err != nil || sum != to {
			t.Fatalf("%+v to %d: %d, %v", pieces, to, sum, err)
		}
	}
}

// Hours are shared in proportion: 90 min at 30 are a third. Source: computed by hand.
func TestAPortionIsDividedAtItsMinutes(t *testing.T) {
	first, rest, err := Piece{90, 24_000, 21_375}.CutAt(30)
	if err != nil || first != (Piece{30, 8_000, 7_125}) || rest != (Piece{60, 16_000, 14_250}) {
		t.Errorf("%+v, %+v, %v", first, rest, err)
	}
}
