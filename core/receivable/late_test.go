package receivable

import (
	"math/big"
	"math/rand/v2"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
)

const percent = money.Hundred / 100

func accrued(t *testing.T, l Late, asOf day.Day) string {
	t.Helper()
	if l.Currency == "" {
		l.Currency = "EUR"
	}
	a, err := l.Accrue(asOf)
	if err != nil {
		t.Fatal(err)
	}
	return a.Amount.String()
}

// from is an instalment of which so much is open, from long before.
func from(due day.Day, minor int64, later ...Owed) []LateInstalment {
	return []LateInstalment{{due, append([]Owed{{due.AddDays(-30), minor}}, later...)}}
}

// Directive 2011/7/EU: statutory interest is the reference rate plus at least eight points (article 2 (6)), the reference rate of the first
// day of a half-year holds for all of it (article 3 (3)), a fixed sum of at least EUR 40 is due once interest is (article 6 (1)). The rates are
// those of the main refinancing operations of the European Central Bank: 3.15 % on 1 January 2025, 2.15 % on 1 July 2025 (from memory).
func TestStatutoryInterest(t *testing.T) {
	ecb := []ReferenceRate{{day.Of(2025, 1, 1), 315 * percent / 100}, {day.Of(2025, 7, 1), 215 * percent / 100}}
	statutory := Late{Terms: LateTerms{Reference: true, Yearly: 8 * percent, Flat: 4000}, Rates: ecb}
	l := statutory
	l.Parts = from(day.Of(2025, 6, 15), 1_000_00)
	for asOf, want := range map[day.Day]string{
		day.Of(2025, 6, 15): "0.00",
		day.Of(2025, 6, 16): "40.31", // 1,000.00 × 11.15 % / 365 = 0.305
		day.Of(2025, 6, 30): "44.58", // 15 days: 4.582
		day.Of(2025, 7, 31): "53.20", // and 31 days at 10.15 %: 8.620; 13.203
	} {
		if got := accrued(t, l, asOf); got != want {
			t.Errorf("on %s %s, not %s", asOf, got, want)
		}
	}
	l.Parts = from(day.Of(2024, 12, 1), 100)
	l.Currency = "EUR"
	if _, err := l.Accrue(day.Of(2024, 12, 5)); err == nil {
		t.Error("a rate is made up for days before the first")
	}
	// The example of [Late.Accrue]: paid on the 30th day.
	l = statutory
	l.Terms.Flat, l.Parts = 0, from(day.Of(2026, 3, 31), 1_000_00, Owed{day.Of(2026, 5, 1), 0})
	if got := accrued(t, l, day.Of(2026, 12, 1)); got != "8.34" {
		t.Errorf("%s", got)
	}
}

// Source: rules of this product: percent per month, simple, × days / 30; from the day after the due day and the grace.
func TestMonthlyLateCharges(t *testing.T) {
	due := day.Of(2026, 3, 1)
	l := Late{Terms: LateTerms{Monthly: percent, Grace: 5}, Parts: from(due, 3_000_00, Owed{due.AddDays(21), 1_500_00})}
	for days, want := range map[int]string{5: "0.00", 6: "1.00", 20: "15.00", 21: "15.50", 40: "25.00"} {
		if got := accrued(t, l, due.AddDays(days)); got != want {
			t.Errorf("after %d days %s, not %s", days, got, want)
		}
	}
	l.Counts, l.Of = 1, 2
	if got := accrued(t, l, due.AddDays(40)); got != "12.50" {
		t.Errorf("half of it counts: %s", got)
	}
	l.Counts, l.Terms.Flat = 0, 500
	if got := accrued(t, l, due.AddDays(40)); got != "0.00" {
		t.Errorf("late charges are charged late: %s", got)
	}
}

// A leap year has 366 days where the firm says so: 366 days of 2028 come to a whole year. Source: rules of this product.
func TestLeapYears(t *testing.T) {
	l := Late{Terms: LateTerms{Yearly: 10 * percent, LeapYears: true}, Parts: from(day.Of(2027, 12, 31), 1_000_00)}
	if got := accrued(t, l, day.Of(2028, 12, 31)); got != "100.00" {
		t.Errorf("%s", got)
	}
	if l.Terms.LeapYears = false; accrued(t, l, day.Of(2028, 12, 31)) != "100.27" {
		t.Errorf("%s", accrued(t, l, day.Of(2028, 12, 31)))
	}
}

// Property: day by day, as a naive reader would add it up, comes to the same, and so does the next charge on top of the last.
func TestLateChargesDayByDay(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 7))
	cases := 3_000
	if testing.Short() {
		cases = 200
	}
	for range cases {
		l := Late{Terms: LateTerms{Monthly: money.Percent(random.Int64N(30_000)), Yearly: money.Percent(random.Int64N(150_000)),
			Reference: random.IntN(2) == 0, LeapYears: random.IntN(2) == 0, Grace: random.IntN(10)}, Currency: "EUR",
			Rates: []ReferenceRate{{0, money.Percent(random.Int64N(50_000))}}}
		start := day.Of(2027, 6, 1)
		for on := start; len(l.Rates) < 4; on = on.AddDays(1 + random.IntN(200)) {
			l.Rates = append(l.Rates, ReferenceRate{on, money.Percent(random.Int64N(50_000))})
		}
		for range 1 + random.IntN(3) {
			part := LateInstalment{Due: start.AddDays(random.IntN(100))}
			for on := start.AddDays(-40); len(part.Open) < 5; on = on.AddDays(1 + random.IntN(90)) {
				part.Open = append(part.Open, Owed{on, random.Int64N(3) * random.Int64N(1_000_00)})
			}
			l.Parts = append(l.Parts, part)
		}
		asOf := start.AddDays(random.IntN(600))
		a, err := l.Accrue(asOf)
		if err != nil {
			t.Fatal(err)
		}
		if want := naive(l, asOf); a.Amount.Minor != want {
			t.Fatalf("%d, not %d: %+v", a.Amount.Minor, want, l)
		}
	}
}

func naive(l Late, asOf day.Day) int64 {
	sum := new(big.Rat)
	for _, part := range l.Parts {
		for on := part.Due.AddDays(l.Terms.Grace + 1); on <= asOf; on++ {
			open, year, length := int64(0), l.Terms.Yearly, int64(365)
			for _, o := range part.Open {
				if o.From <= on {
					open = o.Minor
				}
			}
			reference := money.Percent(0)
			for _, r := range l.Rates {
				if r.From <= on {
					reference = r.Percent
				}
			}
			if l.Terms.Reference {
				year += reference
			}
			if y := on.Time().Year(); l.Terms.LeapYears && y%4 == 0 {
				length = 366
			}
			rate := new(big.Rat).Add(big.NewRat(int64(l.Terms.Monthly), 30_000_000), big.NewRat(int64(year), 1_000_000*length))
			sum.Add(sum, rate.Mul(rate, new(big.Rat).SetInt64(open)))
		}
	}
	twice := new(big.Rat).Mul(sum, big.NewRat(2, 1)) // half away from zero: of nothing below it
	n := new(big.Int).Quo(twice.Num(), twice.Denom())
	return n.Add(n, big.NewInt(1)).Int64() / 2
}
