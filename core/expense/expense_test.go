package expense

import (
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/money"
	"dorvet/core/wip"

	"github.com/cockroachdb/apd/v3"
)

func eur(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }

// Source: 250 − 80 = 170 and 175 − 65 = 110, common practice of split purchases.
func TestWhatIsLeftOverAfterAShare(t *testing.T) {
	for _, c := range []struct {
		whole  int64
		shares []money.Amount
		left   int64
	}{
		{250_00, []money.Amount{eur(80_00)}, 170_00}, {175_00, []money.Amount{eur(65_00)}, 110_00},
		{175_00, []money.Amount{eur(65_00), eur(110_00)}, 0}, {100_00, nil, 100_00}, {1_00, []money.Amount{eur(1_01)}, -1},
	} {
		if left, err := Left(eur(c.whole), c.shares); err != nil || left.Minor != c.left {
			t.Errorf("%v of %d leave %s, %v", c.shares, c.whole, left, err)
		}
	}
}

func TestSharesThatDoNotAddUpSayByHowMuch(t *testing.T) {
	for says, shares := range map[string][]money.Amount{
		"20.00 of 100.00 is not shared out yet":                             {eur(50_00), eur(30_00)},
		"the shares are 0.01 more than the 100.00 that there is":            {eur(50_01), eur(50_00)},
		"amounts of two currencies stay apart":                              {{Minor: 100_00, Currency: "USD"}},
		"100.00 of 100.00 is not shared out yet: add a share, or raise one": {},
	} {
		if err := AddUp(eur(100_00), shares); err == nil || !strings.Contains(err.Error(), says) {
			t.Errorf("%v: %v, want %q", shares, err, says)
		}
	}
	if err := AddUp(eur(100_00), []money.Amount{eur(33_34), eur(33_33), eur(33_33)}); err != nil {
		t.Errorf("three parts that add up: %v", err)
	}
}

// The figures are re-computed by hand.
func TestAShareIsWorthItsCostAndMarkUp(t *testing.T) {
	for _, c := range []struct {
		name             string
		v                Valued
		agreed, standard string
	}{
		{"at cost", Valued{Cost: eur(80_00), Treatment: wip.Billable}, "80.00", "80.00"},
		{"with 10 % on it", Valued{Cost: eur(80_00), Markup: 10_0000, Treatment: wip.Billable}, "88.00", "88.00"},
		{"rounded once, half away from zero", Valued{Cost: eur(1_50), Markup: 1_0000, Treatment: wip.Billable}, "1.52", "1.52"},
		{"a half of one cent is one cent", Valued{Cost: eur(1), Markup: -50_0000, Treatment: wip.Billable}, "0.01", "0.01"},
		{"a disbursement", Valued{Cost: eur(80_00), Disbursement: true, Treatment: wip.Billable}, "80.00", "80.00"},
		{"no charge keeps the standard", Valued{Cost: eur(80_00), Markup: 10_0000, Treatment: wip.NoCharge}, "0.00", "88.00"},
		{"not billable", Valued{Cost: eur(80_00), Treatment: wip.NotBillable}, "0.00", "80.00"},
	} {
		got, err := Value(c.v)
		if err != nil || got.Agreed.String() != c.agreed || got.Standard.String() != c.standard {
			t.Errorf("%s: %s and %s, %v", c.name, got.Agreed, got.Standard, err)
		}
	}
	for name, v := range map[string]Valued{
		"nothing": {Cost: eur(0)}, "less than nothing": {Cost: eur(-1)},
		"a mark-up on a disbursement":  {Cost: eur(1), Disbursement: true, Markup: 1},
		"a mark-down of more than all": {Cost: eur(1), Markup: -101_0000},
	} {
		if _, err := Value(v); err == nil {
			t.Errorf("%s is taken", name)
		}
	}
}

func TestWhatAReceiptCosts(t *testing.T) {
	for _, c := range []struct{ amount, tax, cost int64 }{{123_00, 23_00, 100_00}, {100_00, 0, 100_00}, {5, 5, 0}} {
		if cost, err := (Paid{Amount: eur(c.amount), Tax: eur(c.tax)}).Cost(); err != nil || cost.Minor != c.cost {
			t.Errorf("%d with tax of %d costs %s, %v", c.amount, c.tax, cost, err)
		}
	}
	for _, p := range []Paid{{Amount: eur(10), Tax: eur(11)}, {Amount: eur(10), Tax: eur(-1)}, {Amount: eur(10), Tax: money.Zero("USD")}} {
		if cost, err := p.Cost(); err == nil {
			t.Errorf("%+v costs %s", p, cost)
		}
	}
}

// Oracle: exact decimals by apd, over units and prices.
func TestUnitsAtAPriceAgreeWithExactDecimals(t *testing.T) {
	random, context := rand.New(rand.NewPCG(7, 8)), apd.BaseContext.WithPrecision(50)
	context.Rounding = apd.RoundHalfUp
	for range 5_000 {
		units, price := random.Int64N(10_000_0000), money.Rate(random.IntN(100_0000))
		paid, err := Of(units, "km", price, "EUR")
		if err != nil {
			t.Fatal(err)
		}
		var exact apd.Decimal
		context.Mul(&exact, apd.New(units, -4), apd.New(int64(price), -4))
		context.Quantize(&exact, &exact, -2)
		if want := strings.TrimLeft(strings.ReplaceAll(exact.Text('f'), ".", ""),
			"0"); want != strings.TrimLeft(strings.ReplaceAll(money.TypeFixed(paid.Amount.Minor, money.Point, 2, 2), ".", ""), "0") {
			t.Fatalf("%d × %s: %s, decimals say %s", units, price, paid.Amount, exact.Text('f'))
		}
	}
}

func TestAnExplanationSaysWhereTheCostComesFrom(t *testing.T) {
	paid, err := Of(120_0000, "km", 4500, "EUR") // 120 km at 0.45 are 54.00
	if err != nil || paid.Amount.String() != "54.00" {
		t.Fatalf("%+v, %v", paid, err)
	}
	v, err := Value(Valued{Paid: &paid, Cost: eur(30_00), Shared: true, Markup: 10_0000, Treatment: wip.Billable})
	step := v.Explain()
	if err != nil || step.Figure != "33.00" || step.Steps[0].Label != "Share of the cost" ||
		step.Steps[0].Steps[0].Detail != "120 km × 0.45, rounded once" || step.Steps[1].Figure != "10 %" {
		t.Errorf("%+v, %v", step, err)
	}
}

// Rule, from memory: 40 km at 0.30 are 12.00; with 10 % on them each is 0.33, and 13.20.
// Where no price of four decimals makes the amount, none is given.
func TestAUnitHasAPriceWhereItMakesTheAmount(t *testing.T) {
	euro := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: "EUR"} }
	for _, c := range []struct {
		units   int64
		per     money.Rate
		markup  money.Percent
		agreed  int64
		want    money.Rate
		refused bool
	}{
		{40_0000, 3000, 0, 1_200, 3000, false},
		{40_0000, 3000, 10_0000, 1_320, 3300, false},
		{40_0000, 3000, 0, 1_100, 0, true},           // written down
		{1_0000_0000, 1, 5000, 100_01, 0, true},      // 0.0001 with 0.5 % is no price of four decimals
		{3_0000, 33_3333, 0, 10_000, 33_3333, false}, // 99.9999, rounded once
	} {
		got, err := Valued{Markup: c.markup, Agreed: euro(c.agreed)}.PerUnit(Paid{Units: c.units, PerUnit: &c.per})
		if (err != nil) != c.refused || err == nil && *got != c.want {
			t.Errorf("%+v: %v, %v", c, got, err)
		}
	}
}
