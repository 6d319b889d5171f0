package pricing

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/money"
	"dorvet/core/tax"

	"github.com/cockroachdb/apd/v3"
)

var codes = map[string]tax.Code{
	"S": {Code: "S", Name: "VAT", Rates: []tax.Dated{{From: on("2020-01-01"), Percent: 23_0000}}, Category: tax.StandardRated},
	"R": {Code: "R", Name: "VAT", Rates: []tax.Dated{{From: on("2020-01-01"), Percent: 13_5000}}, Category: tax.StandardRated},
	"E": {Code: "E", Name: "VAT", Rates: []tax.Dated{{From: on("2020-01-01"), Percent: 0}}, Category: tax.Exempt},
}

func eur(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

func price(text string) *money.Rate {
	n, err := money.ParseFixed(text, money.Point, 4)
	if err != nil {
		panic(err)
	}
	return new(money.Rate(n))
}

// line is a fixed line with cells as they are typed.
func line(t testing.TB, l Line, when string, cells ...string) Line {
	t.Helper()
	if l.Kind == "" {
		l.Kind = Fixed
	}
	if l.TaxCode == "" {
		l.TaxCode = "S"
	}
	l.Rule = rule(t, when)
	for _, typed := range cells {
		c, err := ParseCell(typed, l, money.Point)
		if err != nil {
			t.Fatal(err)
		}
		l.Cells = append(l.Cells, c)
	}
	return l
}

// monitoring is a proposal of three tiers, with every kind of line.
func monitoring(t testing.TB) Offer {
	o := Offer{Currency: "EUR", Tiers: []Tier{{Name: "Watch"}, {Name: "Core"}, {Name: "Full reach"}}, TermMonths: 12, Suggested: 2,
		Lines: []Line{
			line(t, Line{Description: "Baseline survey", Price: price("8400"), Expected: []Expected{{Minutes: 64 * 60}}},
				"half as deposit on acceptance, the rest when the baseline is delivered", "x", "x", "x"),
			line(t, Line{Description: "Repeat bathymetry", Price: price("6000"), Expected: []Expected{{Minutes: 26 * 60}}},
				"each quarter, in arrears", "", "x", "x"),
			line(t, Line{Description: "Spot check", Price: price("2900")}, "every 6 months, in advance", "x", "", ""),
			line(t, Line{Description: "Storm call-out", Kind: Bands,
				Bands: []Band{{UpTo: 2 * One, Price: *price("1450")}, {Price: *price("1200")}}},
				"by hand", "optional 2", "optional 2", "3"),
			line(t, Line{Description: "Silt forecast model", Price: price("780")}, "each month, in advance, on the 1st", "", "optional",
				"x"),
			line(t, Line{Description: "Claim support", Kind: Open}, "by hand", "x", "x", "x"),
		}}
	if err := o.Check(); err != nil {
		t.Fatal(err)
	}
	return o
}

func compute(t testing.TB, o Offer, c Choice) Result {
	t.Helper()
	r, err := Compute(o, c, Setting{Accepted: on("2026-12-10"), Codes: codes, CostCurrency: "EUR", CostExchange: money.Par})
	if err != nil {
		t.Fatal(err)
	}
	return r
}

// Source: the figures of the rules' picture, added by hand: 8,400 + 4 × 6,000,
// with the silt model 12 × 780 and two call-outs 2 × 1,450.
func TestATierComesToTheSumOfItsLines(t *testing.T) {
	o := monitoring(t)
	for _, test := range []struct {
		choice          Choice
		once, year, sum int64
	}{
		{Choice{Tier: 0}, 8400_00, 5800_00, 14200_00},
		{Choice{Tier: 1}, 8400_00, 24000_00, 32400_00},
		{Choice{Tier: 1, Options: []int{4}}, 8400_00, 33360_00, 41760_00},
		{Choice{Tier: 1, Everything: true}, 11300_00, 33360_00, 44660_00},
		{Choice{Tier: 2}, 12500_00, 33360_00, 45860_00},
	} {
		r := compute(t, o, test.choice)
		if r.Once.Net.Minor != test.once || r.Yearly.Net.Minor != test.year || r.FirstYear.Net.Minor != test.sum ||
			r.WholeTerm.Net.Minor != test.sum {
			t.Errorf("%+v: once %s, a year %s, first year %s, whole term %s", test.choice, r.Once.Net, r.Yearly.Net, r.FirstYear.Net,
				r.WholeTerm.Net)
		}
		if r.Deposits != eur(4200_00) || !r.HasOpen {
			t.Errorf("%+v: deposits %s, open %v", test.choice, r.Deposits, r.HasOpen)
		}
	}
	r := compute(t, o, Choice{Tier: 1, Options: []int{4}})
	if r.FirstYear.Gross != eur(51364_80) {
		t.Errorf("with VAT of 23 %%: %s", r.FirstYear.Gross)
	}
	if len(r.Recurring) != 2 || r.Recurring[0].Net != eur(780_00) || r.Recurring[0].Times != 12 || r.Recurring[1].Net != eur(6000_00) ||
		r.Recurring[1].Times != 4 {
		t.Errorf("each period %+v", r.Recurring)
	}
	if r.Start != on("2026-12-10") || !r.Assumed {
		t.Errorf("start %s, assumed %v", r.Start, r.Assumed)
	}
}

// Source: rules §5, common practice of graduated prices: 60 units, first 10 at
// 40, next 40 at 35, rest at 30, are 400 + 1,400 + 300.
func TestGraduatedBands(t *testing.T) {
	bands, err := ParseBands("first 10 at 40, next 40 at 35, rest at 30", money.Point)
	if err != nil {
		t.Fatal(err)
	}
	l := Line{Kind: Bands, Bands: bands}
	for quantity, want := range map[int64]int64{60: 2100_00, 10: 400_00, 11: 435_00, 50: 1800_00, 1: 40_00} {
		p, err := l.price(Cell{State: In, Quantity: quantity * One}, 0, "EUR")
		if err != nil || p.Net != eur(want) {
			t.Errorf("%d units: %s, %v", quantity, p.Net, err)
		}
	}
	if typed := TypeBands(bands, money.Point, 2); typed != "first 10 at 40.00, next 40 at 35.00, rest at 30.00" {
		t.Errorf("typed again: %s", typed)
	}
}

// Bands are summed exactly and rounded once: 3 × 0.335 and 3 × 0.335 are 2.01,
// though each alone rounds to 1.01. Source: decimal arithmetic.
func TestBandsAreRoundedOnce(t *testing.T) {
	l := Line{Kind: Bands, Bands: []Band{{UpTo: 3 * One, Price: 3350}, {Price: 3350}}}
	p, err := l.price(Cell{State: In, Quantity: 6 * One}, 0, "EUR")
	if err != nil || p.Net != eur(2_01) {
		t.Errorf("%s, %v", p.Net, err)
	}
	for _, c := range []struct {
		currency money.Currency
		minor    int64
	}{{"JPY", 2}, {"BHD", 2010}} {
		p, err := l.price(Cell{State: In, Quantity: 6 * One}, 0, c.currency)
		if err != nil || p.Net.Minor != c.minor {
			t.Errorf("in %s: %d, %v", c.currency, p.Net.Minor, err)
		}
	}
}

// Source: exact rationals of math/big, rounded half away from zero by apd.
func TestProrationAgreesWithExactRationals(t *testing.T) {
	random := rand.New(rand.NewPCG(3, 4))
	exact := apd.BaseContext.WithPrecision(60)
	exact.Rounding = apd.RoundHalfUp
	for range 20_000 {
		minor, whole := random.Int64N(1e9), 1+random.Int64N(366)
		days := 1 + random.Int64N(whole)
		got, err := Prorate(eur(minor), days, whole)
		if err != nil {
			t.Fatal(err)
		}
		ratio := new(big.Rat).Mul(big.NewRat(minor, 1), big.NewRat(days, whole))
		text := ratio.FloatString(40)
		decimal, _, err := apd.NewFromString(text)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := exact.Quantize(decimal, decimal, 0); err != nil {
			t.Fatal(err)
		}
		if want, _ := decimal.Int64(); want != got.Minor {
			t.Fatalf("%d × %d / %d is %d, exactly %s", minor, days, whole, got.Minor, text)
		}
	}
	if got, _ := Prorate(eur(300_00), 21, 30); got != eur(210_00) {
		t.Errorf("300.00 for 21 of 30 days: %s", got)
	}
}

func randomOffer(random *rand.Rand, t testing.TB) Offer {
	rules := []string{"on acceptance", "on 3 Feb 2027", "when the report is delivered", "half as deposit, the rest by hand", "by hand",
		"each month, in advance, on the 1st",
		"each quarter, in arrears, on the 10th, first one prorated", "each week, on Mondays", "every 2 months, 5 times",
		"each year, in arrears",
		"each month, in arrears, from 31 Jan 2027", "every 6 months, until the end of the term", "on 10 Dec 2026"}
	o := Offer{Currency: "EUR", Tiers: make([]Tier, 1+random.IntN(MostTiers)), TermMonths: []int{1, 7, 12, 18, 36}[random.IntN(5)]}
	for range 1 + random.IntN(12) {
		l := Line{Description: "line", Kind: Kind([]Kind{Fixed, PerUnit, Hourly, Bands}[random.IntN(4)]),
			TaxCode: []string{"S", "R", "E"}[random.IntN(3)], Rule: rule(t, rules[random.IntN(len(rules))]),
			Price: new(money.Rate(random.Int64N(1e8))), Quantity: random.Int64N(20 * One),
			Bands: []Band{{UpTo: 2 * One, Price: 123_4567}, {Price: 99_9900}}}
		if random.IntN(3) == 0 {
			l.Discount.Percent = money.Percent(random.Int64N(100_0000))
		}
		for range o.Tiers {
			l.Cells = append(l.Cells, Cell{State: []State{In, Optional, Out}[random.IntN(3)],
				Quantity: random.Int64N(2) * random.Int64N(5*One)})
		}
		o.Lines = append(o.Lines, l)
	}
	switch random.IntN(3) {
	case 0:
		o.Discount.Percent = money.Percent(random.Int64N(60_0000))
	case 1:
		o.Discount.Amount = random.Int64N(50)
	}
	return o
}

// Every total is the sum of the bills on its calendar, and every bill obeys EN
// 16931: the net is the sum of lines less the allowance (BR-CO-10, BR-CO-13), the
// tax is taxable × rate per category rounded to two decimals (BR-CO-17), the total
// net plus tax (BR-CO-15). Re-added here with exact rationals, not with our code.
func TestTotalsAreTheSumsOfTheirBills(t *testing.T) {
	random := rand.New(rand.NewPCG(5, 6))
	rounds := 2000
	if testing.Short() {
		rounds = 300
	}
	for round := range rounds {
		o := randomOffer(random, t)
		choice := Choice{Tier: random.IntN(len(o.Tiers)), Everything: random.IntN(2) == 0}
		r, err := Compute(o, choice, Setting{Accepted: on("2026-12-10"), Codes: codes, CostCurrency: "EUR", CostExchange: money.Par})
		if err != nil {
			if o.Discount.Amount > 0 && strings.Contains(err.Error(), "more than") {
				continue // nothing from which the amount could be taken
			}
			t.Fatal(err)
		}
		if fmt.Sprint(r.WholeTerm.Bills) != fmt.Sprint(r.Calendar) {
			t.Fatal("the calendar is not that of the term")
		}
		for _, sum := range []Sum{r.Acceptance, r.Once, r.Yearly, r.FirstYear, *r.WholeTerm} {
			net, tax := int64(0), int64(0)
			for i, b := range sum.Bills {
				lines := int64(0)
				for _, c := range b.Charges {
					lines += c.Net.Minor
				}
				if b.Totals.Net.Minor != lines-b.Totals.Discount.Minor || b.Totals.Total.Minor != b.Totals.Net.Minor+b.Totals.Tax.Minor {
					t.Fatalf("round %d: a bill of lines %d has net %s and total %s", round, lines, b.Totals.Net, b.Totals.Total)
				}
				for _, code := range b.Totals.Taxes {
					exact := new(big.Rat).Mul(big.NewRat(code.Taxable.Minor, 1),
						big.NewRat(int64(codes[code.Code].Rates[0].Percent), int64(money.Hundred)))
					off := new(big.Rat).Sub(exact, big.NewRat(code.Parts[0].Tax.Minor, 1))
					if off.Abs(off).Cmp(big.NewRat(1, 2)) > 0 {
						t.Fatalf("round %d: tax of %s on %s is %s", round, code.Code, code.Taxable, code.Parts[0].Tax)
					}
				}
				if i > 0 && !b.Day.IsZero() && b.Day <= sum.Bills[i-1].Day {
					t.Fatal("bills are not in order, or two have one day")
				}
				net, tax = net+b.Totals.Net.Minor, tax+b.Totals.Tax.Minor
			}
			if sum.Net.Minor != net || sum.Tax.Minor != tax || sum.Gross.Minor != net+tax {
				t.Fatalf("round %d: a total of %s + %s = %s has bills of %d + %d", round, sum.Net, sum.Tax, sum.Gross, net, tax)
			}
		}
		if r.FirstYear.Net.Minor != r.Once.Net.Minor+r.Yearly.Net.Minor {
			t.Fatalf("round %d: once %s and a year %s are not the first year's %s", round, r.Once.Net, r.Yearly.Net, r.FirstYear.Net)
		}
		rows := r.Once.Net.Minor
		for _, each := range r.Recurring {
			rows += each.InAll.Minor
		}
		if rows != r.WholeTerm.Net.Minor {
			t.Fatalf("round %d: the rows come to %d, the whole term to %s", round, rows, r.WholeTerm.Net)
		}
	}
}

// A cent of a discount that two lines of one bill share is on one of them: by hand,
// half of 0.01 + 0.01 is 0.01, as half of 0.01 alone is (0.005 is rounded up).
func TestADiscountOnTheWholeIsSharedOverTheLinesOfABill(t *testing.T) {
	o := Offer{Currency: "EUR", Tiers: []Tier{{}}, TermMonths: 12, Discount: Discount{Percent: 50_0000}, Lines: []Line{
		line(t, Line{Description: "a", Price: price("0.01"), TaxCode: "R"}, "on acceptance", "x"),
		line(t, Line{Description: "b", Price: price("0.01"), TaxCode: "R"}, "each year, in advance", "x")}}
	r := compute(t, o, Choice{})
	if r.Once.Net.Minor+r.Yearly.Net.Minor != 1 || r.FirstYear.Net.Minor != 1 || r.Acceptance.Net != r.Once.Net || len(r.Calendar) != 1 {
		t.Errorf("once %s and yearly %s of %s", r.Once.Net, r.Yearly.Net, r.FirstYear.Net)
	}
}

// An amount off the whole is shared over what is billed once, by largest
// remainder: 10.00 over 1:2 is 3.33 and 6.67 (Hamilton's method, rules §1).
func TestAnAmountOffTheWholeIsSharedOverWhatIsBilledOnce(t *testing.T) {
	o := Offer{Currency: "EUR", Tiers: []Tier{{}}, Discount: Discount{Amount: 10_00}, Lines: []Line{
		line(t, Line{Description: "a", Price: price("100"), TaxCode: "R"}, "on acceptance", "x"),
		line(t, Line{Description: "b", Price: price("200")}, "half deposit, the rest by hand", "x"),
		line(t, Line{Description: "c", Price: price("50")}, "each month", "x")}}
	r := compute(t, o, Choice{})
	if r.Acceptance.Net != eur(96_67) || r.Once.Net != eur(290_00) || r.Recurring[0].Net != eur(50_00) {
		t.Errorf("on acceptance %s, once %s, a month %s", r.Acceptance.Net, r.Once.Net, r.Recurring[0].Net)
	}
	if r.Deposits != eur(96_67) { // half of 193.33, away from zero
		t.Errorf("deposit %s", r.Deposits)
	}
	if r.WholeTerm != nil {
		t.Error("an open-ended term has a whole-term total")
	}
	o.Discount.Amount = 301_00
	if _, err := Compute(o, Choice{}, Setting{Accepted: today, Codes: codes}); err == nil || !strings.Contains(err.Error(), "at most") {
		t.Errorf("a discount above its base: %v", err)
	}
}

// A deposit is part of its bill: of what is left after a discount on the whole.
// Source: half of nine tenths of 8,400 is 3,780 (common practice).
func TestADepositIsNeverMoreThanItsBill(t *testing.T) {
	o := monitoring(t)
	o.Discount.Percent = 10_0000
	if r := compute(t, o, Choice{}); r.Deposits != eur(3780_00) {
		t.Errorf("half of 7,560.00 is asked as %s", r.Deposits)
	}
	o.Discount.Percent, o.Lines[0].Rule.Deposit = 100_0000, money.Hundred
	if r := compute(t, o, Choice{}); !r.Deposits.IsZero() {
		t.Errorf("of nothing, %s are asked", r.Deposits)
	}
}

// Lines of one frequency that end differently have no common number of times.
func TestHowOftenIsSaidWhereItIsOneNumber(t *testing.T) {
	o := Offer{Currency: "EUR", Tiers: []Tier{{}}, TermMonths: 12, Lines: []Line{
		line(t, Line{Description: "a", Price: price("10")}, "each month", "x"),
		line(t, Line{Description: "b", Price: price("20")}, "each month, 3 times", "optional")}}
	if r := compute(t, o, Choice{}); len(r.Recurring) != 1 || r.Recurring[0].Times != 12 {
		t.Errorf("%+v", r.Recurring)
	}
	if r := compute(t, o, Choice{Everything: true}); len(r.Recurring) != 1 || r.Recurring[0].Times != 0 ||
		r.Recurring[0].Net != eur(30_00) ||
		r.WholeTerm.Net != eur(180_00) {
		t.Errorf("%+v", r.Recurring)
	}
}

// First year: every service period that begins within twelve months of the
// start. Begun on the 10th and prorated to the 1st, that is a part and twelve
// whole months. Source: rules §5; the part 22 of 31 days by hand.
func TestTheFirstYearHasEveryPeriodThatBeginsInIt(t *testing.T) {
	o := Offer{Currency: "EUR", Tiers: []Tier{{}}, Lines: []Line{line(t, Line{Description: "m", Price: price("310")},
		"each month, on the 1st, first one prorated", "x")}}
	r := compute(t, o, Choice{})
	if want := eur(220_00 + 12*310_00); r.FirstYear.Net != want || len(r.Calendar) != 13 {
		t.Errorf("%s in %d bills, not %s", r.FirstYear.Net, len(r.Calendar), want)
	}
	if first := r.Calendar[0]; first.Day != on("2026-12-10") || first.Totals.Net != eur(220_00) {
		t.Errorf("the first bill is %s on %s", first.Totals.Net, first.Day)
	}
}

func TestMarginAndTheFeeForIt(t *testing.T) {
	o := monitoring(t)
	anybody := HourRates{Cost: price("50"), Standard: price("110")}
	r, err := Compute(o, Choice{Tier: 1}, Setting{Accepted: on("2026-12-10"), Codes: codes, CostCurrency: "EUR", CostExchange: money.Par,
		Hours: map[Worker]HourRates{{}: anybody}})
	if err != nil {
		t.Fatal(err)
	}
	// 64 h once and 26 h each quarter are 168 h: 8,400 at 50, 18,480 at 110.
	e := r.Earns
	if e.Minutes != 168*60 || e.Cost != eur(8400_00) || e.Standard != eur(18480_00) || e.Margin.String() != "74.0741" ||
		e.AgainstStandard.String() != "175.3247" {
		t.Errorf("%d min, cost %s, standard %s, margin %s, against standard %s", e.Minutes, e.Cost, e.Standard, e.Margin, e.AgainstStandard)
	}
	// cost / (1 − m): 8,400 / 0.55 = 15,272.7272…, raised to the step (common practice).
	for _, test := range []struct {
		margin     money.Percent
		step, want int64
	}{{45_0000, 0, 15272_73}, {45_0000, 50_00, 15300_00}, {0, 0, 8400_00}, {50_0000, 100_00, 16800_00}} {
		if fee, err := FeeFor(e.Cost, test.margin, test.step); err != nil || fee.Minor != test.want {
			t.Errorf("for %s %%: %s, %v", test.margin, fee, err)
		}
	}
	if _, err := FeeFor(e.Cost, 100_0000, 0); err == nil {
		t.Error("a margin of 100 % has a fee")
	}
}

func ExampleCompute() {
	r, _ := ParseRule("each month, on the 1st, first one prorated", today)
	o := Offer{Currency: "EUR", Tiers: []Tier{{Name: "Core"}}, Lines: []Line{
		{Description: "Monitoring", Kind: Fixed, Price: new(money.Rate(310_0000)), TaxCode: "S", Rule: r, Cells: []Cell{{State: In}}}}}
	result, _ := Compute(o, Choice{}, Setting{Accepted: on("2026-12-10"), Codes: codes, CostCurrency: "EUR", CostExchange: money.Par})
	for _, bill := range result.Calendar[:2] {
		fmt.Println(bill.When(), bill.Totals.Net, bill.Totals.Total)
	}
	// Output:
	// 10 Dec 2026 220.00 270.60
	// 1 Jan 2027 310.00 381.30
}

func BenchmarkPriceATier(b *testing.B) {
	o := monitoring(b)
	for b.Loop() {
		compute(b, o, Choice{Tier: 2})
	}
}
