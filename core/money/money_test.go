package money

import (
	"errors"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"github.com/cockroachdb/apd/v3"
	"golang.org/x/text/currency"
)

// Oracle: General Decimal Arithmetic through apd, rounding half up in size
// (which is half away from zero).
func TestProductsRoundOnceHalfAwayFromZeroLikeDecimals(t *testing.T) {
	decimals := apd.Context{Precision: 60, MaxExponent: 1000, MinExponent: -1000, Rounding: apd.RoundHalfUp}
	random := rand.New(rand.NewPCG(1, 2))
	edges := []int64{0, 1, -1, 2, 5, -5, 49, 50, 51, 99, 100, 10_000, math.MaxInt64, math.MinInt64, math.MaxInt64 - 1}
	next := func() int64 {
		if random.IntN(4) == 0 {
			return edges[random.IntN(len(edges))]
		}
		return random.Int64N(1<<40) - 1<<39
	}
	cases := 2_000_000
	if testing.Short() {
		cases = 20_000
	}
	var product, quotient, want apd.Decimal
	for range cases {
		a, b, c := next(), next(), next()
		if c == 0 {
			continue
		}
		decimals.Mul(&product, apd.New(a, 0), apd.New(b, 0))
		exact := decimals.WithPrecision(200)
		exact.Quo(&quotient, &product, apd.New(c, 0))
		decimals.Quantize(&want, &quotient, 0)
		got, err := MulDiv(a, b, c)
		expected, tooLarge := want.Int64()
		switch {
		case tooLarge != nil && !errors.Is(err, ErrOverflow):
			t.Fatalf("%d × %d ÷ %d = %s does not fit, got %d, %v", a, b, c, want.String(), got, err)
		case tooLarge == nil && (err != nil || got != expected):
			t.Fatalf("%d × %d ÷ %d = %d, %v; decimals say %d", a, b, c, got, err, expected)
		}
	}
}

func TestHalvesGoAwayFromZero(t *testing.T) {
	for _, c := range []struct{ a, b, c, want int64 }{
		{5, 1, 10, 1}, {-5, 1, 10, -1}, {4, 1, 10, 0}, {-4, 1, 10, 0}, {15, 1, 10, 2}, {25, 1, -10, -3},
	} {
		if got, err := MulDiv(c.a, c.b, c.c); err != nil || got != c.want {
			t.Errorf("%d × %d ÷ %d = %d, %v; want %d", c.a, c.b, c.c, got, err, c.want)
		}
	}
}

// The decimal products are plain arithmetic; 300 min at 50, 7 h at 44 and 2 h at 60
// are common practice.
func TestValueOfMinutesAtARate(t *testing.T) {
	for _, c := range []struct {
		name    string
		minutes int64
		rate    Rate
		markup  Percent
		in      Currency
		want    string
	}{
		{"90 minutes at 142.50", 90, 1425000, 0, "EUR", "213.75"},
		{"20 minutes at 100.00", 20, 1000000, 0, "EUR", "33.33"},
		{"300 minutes at 50", 300, 500000, 0, "EUR", "250.00"},
		{"7 hours at 44", 420, 440000, 0, "EUR", "308.00"},
		{"2 hours at 60", 120, 600000, 0, "EUR", "120.00"},
		{"an hour at 100 and 10 % more", 60, 1000000, 100000, "EUR", "110.00"},
		{"an hour at 100 and 100 % less", 60, 1000000, -1000000, "EUR", "0.00"},
		{"yen have no decimals", 30, 150010000, 0, "JPY", "7,501"},
		{"dinars have three", 10, 100000, 0, "BHD", "1.667"},
	} {
		got, err := c.rate.ForMinutes(c.minutes, c.markup, c.in)
		if err != nil || got.String() != c.want {
			t.Errorf("%s: %s, %v; want %s", c.name, got, err, c.want)
		}
	}
	if _, err := Rate(1).ForMinutes(1, 0, "EURO"); err == nil {
		t.Error("EURO is no currency")
	}
	if _, err := Rate(math.MaxInt64).ForMinutes(math.MaxInt64, 0, "EUR"); !errors.Is(err, ErrOverflow) {
		t.Errorf("overflow goes unseen: %v", err)
	}
}

func TestUnitsTimesPrice(t *testing.T) {
	if got, err := Rate(4500).ForQuantity(1_200_000, 0, "EUR"); err != nil || got.String() != "54.00" {
		t.Errorf("120 km at 0.45 = %s, %v; want 54.00", got, err)
	}
}

// The codes for which x/text has other decimals, because it follows CLDR, which
// gives what is usual in cash or in print where ISO 4217 gives the minor unit.
const followCLDR = "AFN ALL AMD COP GYD IDR IQD IRR KPW LAK LBP MGA MMK MNT MUR PKR RSD SOS SYP TZS UZS YER"

// Source: ISO 4217; agreement with x/text wherever that follows ISO.
func TestDecimalsAgreeWithTheLibraryExceptWhereItFollowsCLDR(t *testing.T) {
	differing := []string{}
	for code, want := range decimals {
		unit, err := currency.ParseISO(string(code))
		if err != nil {
			continue // newer than the library's table
		}
		if got, _ := currency.Standard.Rounding(unit); got != want {
			differing = append(differing, string(code))
		}
	}
	slices.Sort(differing)
	if got := strings.Join(differing, " "); got != followCLDR {
		t.Errorf("the library differs for %s, not for %s", got, followCLDR)
	}
	for code, want := range map[Currency]int{"EUR": 2, "JPY": 0, "BHD": 3, "NOK": 2, "HUF": 2, "CLF": 4} {
		if got, err := code.Decimals(); err != nil || got != want {
			t.Errorf("%s: %d, %v; ISO 4217 says %d", code, got, err, want)
		}
	}
}

func TestTwoCurrenciesNeverAdd(t *testing.T) {
	if sum, err := (Amount{1, "EUR"}).Add(Amount{1, "USD"}); err == nil {
		t.Errorf("1 cent + 1 cent = %v", sum)
	}
	if _, err := Sum("EUR", Amount{math.MaxInt64, "EUR"}, Amount{1, "EUR"}); !errors.Is(err, ErrOverflow) {
		t.Error("overflow of a sum goes unseen")
	}
}

func TestSplitByLargestRemainder(t *testing.T) {
	for _, c := range []struct {
		name    string
		units   int64
		weights []int64
		want    []int64
	}{
		{"100.00 over three", 10000, []int64{1, 1, 1}, []int64{3334, 3333, 3333}},
		{"0.05 over four", 5, []int64{1, 1, 1, 1}, []int64{2, 1, 1, 1}},
		{"−10.00 over 1:2", -1000, []int64{1, 2}, []int64{-333, -667}},
		{"weights of nothing are equal", 5, []int64{0, 0}, []int64{3, 2}},
		// Ties go to the earlier, however many there are: seven units over twenty that
		// are alike, and over thirty of two kinds (15 × 2/45 and 15 × 1/45 of 20 units).
		{"seven over twenty", 7, slices.Repeat([]int64{1}, 20), append(slices.Repeat([]int64{1}, 7), slices.Repeat([]int64{0}, 13)...)},
		{"twenty over thirty of two kinds", 20, slices.Repeat([]int64{1, 2}, 15),
			append(slices.Repeat([]int64{1, 1}, 5), slices.Repeat([]int64{0, 1}, 10)...)},
		// Hamilton's method, the textbook case of ten seats over six parties (47,000;
		// 16,000; 15,900; 12,000; 6,000; 3,100 votes): published in the encyclopedic
		// articles on the largest remainder method, Hare quota.
		{"ten seats", 10, []int64{47000, 16000, 15900, 12000, 6000, 3100}, []int64{5, 2, 1, 1, 1, 0}},
		// The same votes with 25 and 26 seats: the Alabama paradox (same source),
		// party five and six lose a seat as one is added.
		{"25 seats", 25, []int64{1500, 1500, 900, 500, 500, 200}, []int64{7, 7, 4, 3, 3, 1}},
		{"26 seats", 26, []int64{1500, 1500, 900, 500, 500, 200}, []int64{8, 8, 5, 2, 2, 1}},
	} {
		if got, err := Split(c.units, c.weights); err != nil || !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, %v; want %v", c.name, got, err, c.want)
		}
	}
	for _, weights := range [][]int64{nil, {}, {1, -1}} {
		if got, err := Split(1, weights); err == nil {
			t.Errorf("split over %v gives %v", weights, got)
		}
	}
}

func FuzzSplitPartsAddUp(f *testing.F) {
	f.Add(int64(10000), int64(1), int64(1), int64(1))
	f.Add(int64(-5), int64(0), int64(0), int64(0))
	f.Fuzz(func(t *testing.T, units, a, b, c int64) {
		parts, err := Split(units, []int64{a, b, c})
		if err != nil {
			return
		}
		if parts[0]+parts[1]+parts[2] != units {
			t.Errorf("%d over %d:%d:%d gives %v", units, a, b, c, parts)
		}
	})
}

func TestTypedNumbers(t *testing.T) {
	for _, c := range []struct {
		typed string
		mark  Mark
		want  int64
		error string
	}{
		{"1,250.50", Point, 125050, ""},
		{"1250,5", Comma, 125050, ""},
		{"1.250,50", Comma, 125050, ""},
		{"1 250.50", Point, 125050, ""},
		{"1,250", Point, 125000, ""},
		{"-3", Point, -300, ""},
		{"−3.10", Point, -310, ""},
		{".5", Point, 50, ""},
		{"1.250", Comma, 0, "1250 or as 1,250"},
		{"1.255", Point, 0, "more than 2 decimals"},
		{"12,50", Point, 0, "not a number"},
		{"twelve", Point, 0, "not a number"},
		{"", Point, 0, "not a number"},
		{"99999999999999999999", Point, 0, "too large"},
	} {
		got, err := ParseFixed(c.typed, c.mark, 2)
		if c.error == "" && (err != nil || got != c.want) {
			t.Errorf("%q: %d, %v; want %d", c.typed, got, err, c.want)
		}
		if c.error != "" && (err == nil || !strings.Contains(err.Error(), c.error)) {
			t.Errorf("%q: %d, %v; want an error with %q", c.typed, got, err, c.error)
		}
	}
}

func TestAmountsAsText(t *testing.T) {
	for _, c := range []struct {
		amount Amount
		want   string
	}{
		{Amount{123450, "EUR"}, "1,234.50"}, {Amount{-667, "EUR"}, "−6.67"}, {Amount{5, "EUR"}, "0.05"},
		{Amount{1234567, "JPY"}, "1,234,567"}, {Amount{1234567, "BHD"}, "1,234.567"}, {Amount{0, "EUR"}, "0.00"},
	} {
		if got := c.amount.String(); got != c.want {
			t.Errorf("%v reads %s, want %s", c.amount.Minor, got, c.want)
		}
	}
	if got := Rate(1425000).String() + " " + Rate(333333).String() + " " + Percent(125000).String(); got != "142.50 33.3333 12.5" {
		t.Error(got)
	}
}

func TestConversionRoundsOnce(t *testing.T) {
	got, err := Amount{10000, "USD"}.Convert(92345678, "EUR")
	if err != nil || got != (Amount{9235, "EUR"}) {
		t.Errorf("100.00 USD at 0.92345678 = %v, %v; want 92.35", got, err)
	}
	got, err = Amount{1000, "JPY"}.Convert(618000, "EUR")
	if err != nil || got != (Amount{618, "EUR"}) {
		t.Errorf("1,000 JPY at 0.00618 = %v, %v; want 6.18", got, err)
	}
}

// The inverse of a rate brings an amount back, to the unit. Source: 1 / 0.8 is 1.25.
func TestTheInverseOfAnExchangeRate(t *testing.T) {
	if x, err := ExchangeRate(80_000_000).Inverse(); err != nil || x != 125_000_000 {
		t.Errorf("1 / 0.8 is %d, %v", x, err)
	}
	if _, err := ExchangeRate(0).Inverse(); err == nil {
		t.Error("nothing has an inverse")
	}
}

func BenchmarkValueOfAnEntry(b *testing.B) {
	for b.Loop() {
		Rate(1425000).ForMinutes(90, 0, "EUR")
	}
}

func BenchmarkSplitOver12(b *testing.B) {
	weights := []int64{5, 3, 8, 1, 0, 12, 7, 7, 2, 9, 4, 6}
	for b.Loop() {
		Split(123457, weights)
	}
}

// What an amount reads like is typed again as the same amount.
func FuzzAmountsReadAsTheyAreTyped(f *testing.F) {
	for _, minor := range []int64{0, 1, -1, 99, 100, 123456789, -100000, Most, -Most} {
		f.Add(minor)
	}
	f.Fuzz(func(t *testing.T, minor int64) {
		if (Amount{minor, "EUR"}).Within() != nil {
			return
		}
		for code, decimals := range map[Currency]int{"EUR": 2, "JPY": 0, "BHD": 3} {
			text := Amount{minor, code}.String()
			if got, err := ParseFixed(text, Point, decimals); err != nil || got != minor {
				t.Errorf("%d %s reads %s, which is read as %d, %v", minor, code, text, got, err)
			}
		}
	})
}

func FuzzTypedNumbersNeverBreak(f *testing.F) {
	for _, typed := range []string{"1,250.50", "1.250", "-", "−1", "1 2 3", "''", ".", ",", "1,,2", "0,001"} {
		f.Add(typed)
	}
	f.Fuzz(func(t *testing.T, typed string) {
		point, pointErr := ParseFixed(typed, Point, 2)
		comma, commaErr := ParseFixed(strings.Map(func(r rune) rune {
			switch r {
			case '.':
				return ','
			case ',':
				return '.'
			}
			return r
		}, typed), Comma, 2)
		if pointErr == nil && commaErr == nil && point != comma {
			t.Errorf("%q is %d with a point and %d with a comma", typed, point, comma)
		}
	})
}

func TestWhatIsTypedForAPersonIsReadBack(t *testing.T) {
	for _, n := range []int64{0, 1, -1, 5000, 1_250_5000, 20_000_0000, -987_654_321_0123, 1_234_0000} {
		for _, mark := range []Mark{Point, Comma} {
			typed := TypeFixed(n, mark, 4, 2)
			if got, err := ParseFixed(typed, mark, 4); err != nil || got != n {
				t.Errorf("%d is typed %q, which reads %d, %v", n, typed, got, err)
			}
		}
	}
	if got := TypeFixed(1_250_5000, Comma, 4, 2); got != "1250,50" {
		t.Error(got)
	}
}

// The fewest minor units that come to a typed number: in every currency what is typed with more decimals
// than it has is rounded up, below zero too (ISO 4217 has none for JPY, three for BHD, four for CLF).
func TestTheLeastOfACurrency(t *testing.T) {
	for _, c := range []struct {
		currency      Currency
		typed, lowest int64 // ten-thousandths, minor units
	}{{"EUR", 110_7000, 11_070}, {"EUR", 110_7001, 11_071}, {"JPY", 110_7000, 111}, {"JPY", 110_0000, 110}, {"BHD", 1_2345, 1_235},
		{"CLF", 1_2345, 1_2345}, {"EUR", -110_7001, -11_070}, {"JPY", 0, 0}} {
		lowest, err := c.currency.Least(c.typed)
		if err != nil || lowest != c.lowest {
			t.Errorf("%s of at least %d: %d, want %d, %v", c.currency, c.typed, lowest, c.lowest, err)
		}
		at, _ := Amount{lowest, c.currency}.AtLeast(c.typed)
		below, _ := Amount{lowest - 1, c.currency}.AtLeast(c.typed)
		if !at || below {
			t.Errorf("%s: %d is at least %d: %t, one less: %t", c.currency, lowest, c.typed, at, below)
		}
	}
}
