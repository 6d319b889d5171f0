package receivable

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
)

// Source: ages of receivables in bands of thirty days, common practice.
func TestBandsOfAge(t *testing.T) {
	for late, want := range map[int]Band{-400: NotDue, -1: NotDue, 0: NotDue, 1: To30, 30: To30, 31: To60, 60: To60, 61: To90, 90: To90,
		91: Over90, 5000: Over90} {
		if got := BandOf(late); got != want {
			t.Errorf("%d days late is in band %d, want %d", late, got, want)
		}
	}
}

func TestAgesAddUpToWhatIsOpen(t *testing.T) {
	asOf, ages := day.Of(2026, 12, 1), NewAges("EUR")
	for n, due := range []day.Day{asOf.AddDays(5), asOf, asOf.AddDays(-1), asOf.AddDays(-45), asOf.AddDays(-90), asOf.AddDays(-91)} {
		if err := ages.Add(due, asOf, money.Amount{Minor: int64(1) << (4 * n), Currency: "EUR"}); err != nil {
			t.Fatal(err)
		}
	}
	for band, want := range []int64{0x11, 0x100, 0x1000, 0x10000, 0x100000} {
		if ages[band].Minor != want {
			t.Errorf("band %d has %#x, want %#x", band, ages[band].Minor, want)
		}
	}
	if late, err := ages.Late(); err != nil || late.Minor != 0x111100 {
		t.Errorf("late %v, %v", late, err)
	}
	if err := ages.Add(asOf, asOf, money.Amount{Minor: 1, Currency: "USD"}); err == nil {
		t.Error("dollars were added to euros")
	}
}

// Source: common practice, a payment settles what is due longest.
func TestAPaymentSettlesTheOldestFirst(t *testing.T) {
	first, second := day.Of(2026, 11, 1), day.Of(2026, 12, 1)
	for _, c := range []struct {
		amount int64
		open   []Open
		want   []int64
		left   int64
	}{
		{15_000, []Open{{Due: second, Owed: 10_000}, {Due: first, Owed: 10_000}}, []int64{5_000, 10_000}, 0},
		{25_000, []Open{{Due: first, Owed: 10_000}, {Due: second, Owed: 10_000}}, []int64{10_000, 10_000}, 5_000},
		{100, []Open{{Due: first, Owed: 60}, {Due: first, Owed: 60}}, []int64{60, 40}, 0},
		{50, []Open{{Due: first, Owed: 0}, {Due: second, Owed: -20}, {Due: second, Owed: 70}}, []int64{0, 0, 50}, 0},
		{70, nil, []int64{}, 70},
		{70, []Open{{Due: first, Owed: 60, Dated: 20, Number: 1}, {Due: first, Owed: 60, Dated: 10, Number: 9},
			{Due: first, Owed: 5, Dated: 10, Number: 2}}, []int64{5, 60, 5}, 0},
	} {
		if parts, left := Allocate(c.amount, c.open); !slices.Equal(parts, c.want) || left != c.left {
			t.Errorf("%d over %v: %v and %d left, want %v and %d", c.amount, c.open, parts, left, c.want, c.left)
		}
	}
}

// Property: nothing is lost or made, and nothing younger is settled while
// something older is owed.
func TestRandomAllocationsAddUp(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	for range 50_000 {
		open := make([]Open, random.IntN(6))
		for i := range open {
			open[i] = Open{Due: day.Day(20_000 + random.IntN(5)), Owed: random.Int64N(1000), Dated: day.Day(random.IntN(3)),
				Number: random.Int64N(3)}
		}
		amount := random.Int64N(3000)
		parts, left := Allocate(amount, open)
		sum := left
		for i, part := range parts {
			sum += part
			for k := range open {
				older := open[k].Due < open[i].Due || open[k].Due == open[i].Due &&
					(open[k].Dated < open[i].Dated || open[k].Dated == open[i].Dated && open[k].Number < open[i].Number)
				if part > 0 && older && parts[k] < open[k].Owed {
					t.Fatalf("%d over %v gives %v: something older is still owed", amount, open, parts)
				}
			}
		}
		if sum != amount {
			t.Fatalf("%d over %v gives %v and %d", amount, open, parts, left)
		}
	}
}

func TestMoreCantBePutOnInvoicesThanWasPaid(t *testing.T) {
	euro := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }
	if rest, err := Rest(euro(10_000), []money.Amount{euro(3_000), euro(2_500)}); err != nil || rest.Minor != 4_500 {
		t.Errorf("%v, %v", rest, err)
	}
	if _, err := Rest(euro(10_000), []money.Amount{euro(8_000), euro(2_500)}); err == nil ||
		!strings.Contains(err.Error(), "take 5.00 away") {
		t.Errorf("%v", err)
	}
}

func ExampleAllocate() {
	parts, left := Allocate(15_000, []Open{{Due: day.Of(2026, 11, 1), Owed: 10_000}, {Due: day.Of(2026, 12, 1), Owed: 10_000}})
	fmt.Println(parts, left)
	// Output: [10000 5000] 0
}

// parts are the bands, and what is disputed.
func parts(o *Owing) []*money.Amount {
	all := []*money.Amount{}
	for i := range o.Ages {
		all = append(all, &o.Ages[i])
	}
	return append(all, &o.Disputed)
}

// Source: the rules of this product: what is disputed stands apart from the ages, and falls on the last instalments first.
func TestWhatIsDisputedStandsApart(t *testing.T) {
	today := day.Of(2026, 12, 1)
	open := []Open{{Due: today - 40, Owed: 10_000}, {Due: today + 20, Owed: 5_000}}
	for disputed, want := range map[int64][]int64{0: {0, 0}, 4_000: {0, 4_000}, 6_000: {1_000, 5_000}, 15_000: {10_000, 5_000},
		20_000: {10_000, 5_000}} {
		aside, owing := Aside(open, disputed), NewOwing("EUR")
		if !slices.Equal(aside, want) {
			t.Errorf("%d: %v, want %v", disputed, aside, want)
		}
		for i, part := range open {
			err := owing.Add(part.Due, today, money.Amount{Minor: part.Owed, Currency: "EUR"}, money.Amount{Minor: aside[i], Currency: "EUR"})
			if err != nil {
				t.Fatal(err)
			}
		}
		late, err := owing.Ages.Late()
		if total, err2 := owing.Total(); err != nil || err2 != nil || total.Minor != 15_000 || owing.Disputed.Minor != min(disputed, 15_000) ||
			late.Minor != 10_000-want[0] {
			t.Errorf("%d: %+v, late %v", disputed, owing, late)
		}
	}
	if Aside([]Open{{Due: today, Owed: -5}}, 10)[0] != 0 {
		t.Error("what is not owed is disputed")
	}
}

// Oracle: exact rationals of the standard library. Each band is its exact share, cut or with one
// unit more (largest remainder), and the bands are the whole, rounded once.
func TestAgesInAnotherCurrencyAddUpToTheWhole(t *testing.T) {
	random := rand.New(rand.NewPCG(21, 5))
	for range 20_000 {
		owing, whole := NewOwing("USD"), int64(0)
		for _, part := range parts(&owing) {
			if random.IntN(3) > 0 {
				part.Minor = random.Int64N(1e8)
			}
			whole += part.Minor
		}
		to := []money.Currency{"EUR", "JPY", "BHD"}[random.IntN(3)]
		rate := money.ExchangeRate(1 + random.Int64N(3e9))
		total, err := money.Amount{Minor: whole, Currency: "USD"}.Convert(rate, to)
		if err != nil {
			t.Fatal(err)
		}
		valued, err := owing.In(rate, to)
		if err != nil {
			t.Fatal(err)
		}
		if sum, err := valued.Total(); err != nil || sum != total {
			t.Fatalf("%v at %v are %v, in all %v, %v", owing, rate, valued, total, err)
		}
		for i, part := range parts(&valued) {
			if whole == 0 {
				continue
			}
			exact := new(big.Rat).Mul(big.NewRat(total.Minor, whole), new(big.Rat).SetInt64(parts(&owing)[i].Minor))
			off := new(big.Rat).Sub(new(big.Rat).SetInt64(part.Minor), exact)
			if off.Abs(off).Cmp(big.NewRat(1, 1)) >= 0 {
				t.Fatalf("band %d of %v is %v, not %s", i, owing, part, exact.FloatString(3))
			}
		}
	}
}
