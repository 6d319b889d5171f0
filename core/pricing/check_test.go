package pricing

import (
	"strings"
	"testing"

	"dorvet/core/explain"
	"dorvet/core/money"
)

func TestWhatCanNotBePricedIsRefusedInWords(t *testing.T) {
	negative := money.Rate(-1)
	for name, test := range map[string]struct {
		spoil func(*Offer)
		want  string
	}{
		"no tier":                    {func(o *Offer) { o.Tiers = nil }, "one to 5 tiers"},
		"six tiers":                  {func(o *Offer) { o.Tiers = make([]Tier, 6) }, "one to 5 tiers"},
		"a cell too few":             {func(o *Offer) { o.Lines[0].Cells = o.Lines[0].Cells[:2] }, "2 cells for 3 tiers"},
		"a negative price":           {func(o *Offer) { o.Lines[0].Price = &negative }, "negative"},
		"a negative price in a tier": {func(o *Offer) { o.Lines[0].Cells[1].Price = &negative }, "negative"},
		"a negative quantity":        {func(o *Offer) { o.Lines[0].Quantity = -1 }, "negative"},
		"more than all off":          {func(o *Offer) { o.Lines[0].Discount.Percent = 100_0001 }, "too large"},
		"more than all off it all":   {func(o *Offer) { o.Discount.Percent = 100_0001 }, "0 to 100 %"},
		"no name":                    {func(o *Offer) { o.Lines[0].Description = "" }, "no name"},
		"an open price by itself":    {func(o *Offer) { o.Lines[5].Rule = Rule{When: OnAcceptance} }, "billed by hand"},
		"as worked at a fixed price": {func(o *Offer) { o.Lines[0].Rule = Rule{When: AsWorked} }, "by the hour"},
		"bands that go back":         {func(o *Offer) { o.Lines[3].Bands = []Band{{UpTo: 5}, {UpTo: 4}, {}} }, "further"},
		"bands that end":             {func(o *Offer) { o.Lines[3].Bands = []Band{{UpTo: 5}} }, "no end"},
		"no bands":                   {func(o *Offer) { o.Lines[3].Bands = nil }, "missing"},
		"until an end that is none":  {func(o *Offer) { o.TermMonths, o.Lines[4].Rule.ToTerm = 0, true }, "there is none"},
		"a term without end":         {func(o *Offer) { o.TermMonths = 601 }, "out of range"},
		"a suggestion of nothing":    {func(o *Offer) { o.Suggested = 4 }, "no tier 4"},
		"a deposit above all":        {func(o *Offer) { o.Lines[0].Rule.Deposit = 100_0001 }, "out of range"},
		"no rule":                    {func(o *Offer) { o.Lines[0].Rule = Rule{} }, "missing"},
		"an unknown unit":            {func(o *Offer) { o.Lines[1].Rule.Unit = "moon" }, "how often"},
	} {
		o := monitoring(t)
		test.spoil(&o)
		if err := o.Check(); err == nil || !strings.Contains(err.Error(), test.want) {
			t.Errorf("%s: %v, without %q", name, err, test.want)
		}
	}
}

// A tax code without a rate on the day of a bill is an error that names the day,
// not a tax of nothing.
func TestABillWithoutATaxRateIsNoBill(t *testing.T) {
	o := Offer{Currency: "EUR", Tiers: []Tier{{}}, Lines: []Line{line(t, Line{Description: "a", Price: price("10")}, "on 3 Feb 2019", "x")}}
	_, err := Compute(o, Choice{}, Setting{Accepted: on("2026-12-10"), Codes: codes})
	if err == nil || !strings.Contains(err.Error(), "3 Feb 2019") {
		t.Errorf("%v", err)
	}
}

// figures adds what an explanation's innermost steps say, taxes left out: they
// stand on top of the net.
func figures(t *testing.T, step explain.Step) int64 {
	t.Helper()
	if len(step.Steps) == 0 {
		if step.Figure == "" || strings.HasPrefix(step.Label, "Tax: ") {
			return 0
		}
		n, err := money.ParseFixed(step.Figure, money.Point, 2)
		if err != nil {
			t.Fatalf("%s says %q: %v", step.Label, step.Figure, err)
		}
		return n
	}
	sum := int64(0)
	for _, inner := range step.Steps {
		sum += figures(t, inner)
	}
	return sum
}

// An explanation adds up by itself: what its innermost steps read is the figure.
func TestExplanationsAddUpAsTheyRead(t *testing.T) {
	for _, discount := range []Discount{{}, {Percent: 7_5000}, {Amount: 333_33}} {
		o := monitoring(t)
		o.Discount = discount
		for tier := range o.Tiers {
			r := compute(t, o, Choice{Tier: tier, Everything: true})
			for label, sum := range map[string]Sum{"On acceptance": r.Acceptance, "Once": r.Once, "A year": r.Yearly,
				"First year": r.FirstYear,
				"Whole term": *r.WholeTerm} {
				step := o.Explain(label, sum)
				if step.Figure != sum.Net.String() || figures(t, step) != sum.Net.Minor {
					t.Errorf("%s of %s with %+v reads %s and adds up to %d", label, o.Tiers[tier].Name, discount, step.Figure,
						figures(t, step))
				}
			}
			for _, l := range r.Lines {
				step := l.Priced.Explain(o.Lines[l.Line])
				if step.Figure != l.Priced.Net.String() || len(step.Steps) == 0 {
					t.Errorf("%+v", step)
				}
			}
		}
	}
}

// The explanation of a margin has every line with its time, cost and worth.
func TestAMarginExplainsItself(t *testing.T) {
	o := monitoring(t)
	r, err := Compute(o, Choice{Tier: 1}, Setting{Accepted: on("2026-12-10"), Codes: codes, CostCurrency: "EUR", CostExchange: money.Par,
		Hours: map[Worker]HourRates{{}: {Cost: price("50"), Standard: price("110")}}})
	if err != nil {
		t.Fatal(err)
	}
	step := r.Earns.Explain(o)
	if step.Figure != "74.0741 %" || len(step.Steps) != 3 || step.Steps[1].Steps[0].Figure != "3,200.00" ||
		!strings.Contains(step.Steps[1].Steps[1].Detail, "104:00\u202fh; worth 11,440.00 at standard rates, priced 24,000.00; margin 78.3333 %") {
		t.Errorf("%+v", step)
	}
}

// Time without a known cost is counted, so that a margin that is too good is no
// surprise; a part of a first period takes its part of the time.
func TestTimeOfPartsAndOfUnknownCost(t *testing.T) {
	o := Offer{Currency: "EUR", Tiers: []Tier{{}}, TermMonths: 1, Lines: []Line{
		line(t, Line{Description: "m", Price: price("310"), Expected: []Expected{{Minutes: 310}}},
			"each month, on the 1st, first one prorated",
			"x"),
		line(t, Line{Description: "u", Kind: PerUnit, Price: price("10"), Expected: []Expected{{Worker: Worker{PersonID: 7}, Minutes: 60}}},
			"on acceptance", "2.5")}}
	r, err := Compute(o, Choice{}, Setting{Accepted: on("2026-12-10"), Codes: codes, CostCurrency: "EUR", CostExchange: money.Par,
		Hours: map[Worker]HourRates{{}: {Cost: price("60")}}})
	if err != nil {
		t.Fatal(err)
	}
	// 22 of 31 days of 310 min are 220; January's begins on the 1st, within the term; 2.5 × 60 are 150.
	if e := r.Earns; e.Minutes != 220+310+150 || e.WithoutCost != 150 || e.Cost != eur(530_00) {
		t.Errorf("%d min, %d of them without a cost, %s", e.Minutes, e.WithoutCost, e.Cost)
	}
	if r.Earns.AgainstStandard != nil {
		t.Error("there is a ratio to nothing")
	}
}
