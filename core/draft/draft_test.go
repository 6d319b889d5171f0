package draft

import (
	"fmt"
	"math/rand/v2"
	"reflect"
	"testing"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/tax"
)

var (
	dated = day.Of(2026, 12, 1)
	codes = map[string]tax.Code{}
)

func init() {
	for name, percent := range map[string]money.Percent{"23": 23_0000, "0": 0} {
		codes[name] = tax.Code{Code: name, Name: "VAT", Category: tax.StandardRated,
			Rates: []tax.Dated{{From: day.Of(2020, 1, 1), Percent: percent}}}
	}
}

// work is time of an engagement on a day of November.
func work(engagement int64, on int, minor int64) Item {
	return Item{Engagement: engagement, Kind: invoice.Time, TaxCode: "23", Amount: minor, Day: day.Of(2026, 11, on), Cuts: true}
}

func of(items ...Item) Asked {
	return Asked{Currency: "EUR", TaxDate: dated, Codes: codes, Items: items, Caps: map[int64]int64{},
		Terms: Terms{UseCredit: true, UseFunds: true}}
}

func computed(t *testing.T, asked Asked) Draft {
	t.Helper()
	d, err := Compute(asked)
	if err != nil {
		t.Fatal(err)
	}
	return d
}

// Source: common practice, by hand: 900.00 / 0.9 = 1,000.00, so that 1,000.00 of 1,200.00
// stand on the bill; 23 % of 900.00 are 207.00.
func TestACapCutsTheBillAndLeavesTheRestUnbilled(t *testing.T) {
	asked := of(work(1, 10, 70_000), work(1, 11, 50_000),
		Item{Engagement: 1, Kind: invoice.Expense, TaxCode: "0", Amount: 4_000, Day: day.Of(2026, 11, 2), Cuts: true})
	asked.Caps[1] = 90_000
	asked.Terms.Discount = invoice.Discount{Percent: 10_0000, FeesOnly: true}
	d := computed(t, asked)
	if d.Totals.Net.String() != "940.00" || d.Totals.Tax.String() != "207.00" || !reflect.DeepEqual(d.Over, []int64{0, 20_000, 0}) ||
		len(d.Lines) != 3 {
		t.Errorf("%+v", d)
	}
	asked.Caps[1] = 0
	if d := computed(t, asked); len(d.Lines) != 1 || !reflect.DeepEqual(d.Left, []int{0, 1}) || d.Totals.Net.String() != "40.00" {
		t.Errorf("a cap that is reached leaves expenses alone on the bill: %+v", d)
	}
}

// Source: common practice: what was invoiced ahead comes off the final bill, of its own
// engagement, and never makes it negative.
func TestAdvancesComeBackAsFarAsTheirEngagementGoes(t *testing.T) {
	asked := of(work(1, 10, 30_000), work(2, 10, 100_000))
	asked.Advances = []Advance{{1, "23", 20_000}, {1, "23", 20_000}, {2, "0", 5_000}}
	d := computed(t, asked)
	back := []int64{}
	for _, line := range d.Lines {
		if line.Back {
			back = append(back, line.Amount)
		}
	}
	if !reflect.DeepEqual(back, []int64{-20_000, -10_000, -5_000}) || d.Totals.Net.String() != "950.00" {
		t.Errorf("%v come back, the net is %s", back, d.Totals.Net)
	}
	// On the draft, more was taken back than it bears now: the last gives first.
	stands := of(work(1, 10, 15_000), Item{Engagement: 1, Kind: invoice.Advance, TaxCode: "23", Amount: -10_000, TakesBack: true},
		Item{Engagement: 1, Kind: invoice.Advance, TaxCode: "23", Amount: -8_000, TakesBack: true})
	stands.Terms.Discount.Percent = 20_0000
	d = computed(t, stands)
	if !d.Totals.Net.IsZero() || d.Lines[0].Amount != -10_000 || d.Lines[1].Amount != -2_000 {
		t.Errorf("%+v", d.Lines)
	}
}

// Source: common practice: a client's own credit goes before money held for them, and
// nothing takes more than is due, free, or allowed.
func TestCreditIsTakenBeforeFunds(t *testing.T) {
	most := int64(3_000)
	for _, c := range []struct {
		name          string
		change        func(*Asked)
		credit, funds string
		due           string
	}{
		{"both", func(*Asked) {}, "20.00", "80.00", "23.00"},
		{"more credit than is due", func(a *Asked) { a.Credit = 99_900 }, "123.00", "0.00", "0.00"},
		{"no credit", func(a *Asked) { a.Terms.UseCredit = false }, "0.00", "80.00", "43.00"},
		{"no funds", func(a *Asked) { a.Terms.UseFunds = false }, "20.00", "0.00", "103.00"},
		{"at most so much of them", func(a *Asked) { a.Terms.FundsAtMost = &most }, "20.00", "30.00", "73.00"},
		{"what is withheld is not due", func(a *Asked) { a.Terms.Withholding = 20_0000 }, "20.00", "80.00", "3.00"},
		{"credit that is spoken for", func(a *Asked) { a.Credit = -500 }, "0.00", "80.00", "43.00"},
	} {
		asked := of(work(1, 10, 10_000))
		asked.Credit, asked.FundsHeld = 2_000, []funds.Held{{ID: 1, Held: 6_000, Reserved: 1_000}, {ID: 2, Held: 3_000}}
		c.change(&asked)
		sums := computed(t, asked).Totals
		if sums.Credit.String() != c.credit || sums.Funds.String() != c.funds || sums.Due.String() != c.due {
			t.Errorf("%s: credit %s, funds %s, due %s", c.name, sums.Credit, sums.Funds, sums.Due)
		}
	}
}

func TestLinesStandAsSomebodyPutThemElseByEngagementAndDay(t *testing.T) {
	first, second := work(2, 1, 100), work(1, 20, 200)
	first.Position, second.Position = 2, 1
	places := func(items ...Item) (places []int) {
		for _, line := range computed(t, of(items...)).Lines {
			places = append(places, line.Of)
		}
		return places
	}
	if got := places(first, second); !reflect.DeepEqual(got, []int{1, 0}) {
		t.Errorf("%v", got)
	}
	if got := places(work(2, 1, 1), work(1, 20, 1), work(1, 10, 1), work(1, 10, 1)); !reflect.DeepEqual(got, []int{2, 3, 1, 0}) {
		t.Errorf("%v", got)
	}
}

func TestWhatCantBeAnInvoiceIsRefused(t *testing.T) {
	early := of(work(1, 10, 100))
	early.TaxDate = day.Of(2019, 1, 1)
	unknown := of(Item{Engagement: 1, Kind: invoice.ByHand, TaxCode: "?", Amount: 1})
	large := of(work(1, 10, 100))
	large.Terms.Discount.Amount = 101
	for name, asked := range map[string]Asked{"no rate of tax yet": early, "an unknown tax code": unknown,
		"a discount of more than there is": large} {
		if d, err := Compute(asked); err == nil {
			t.Errorf("%s: %+v", name, d.Totals)
		}
	}
}

// random is a draft of up to three engagements, with a bit of everything.
func random(r *rand.Rand) Asked {
	asked := of()
	kinds, names := []invoice.Kind{invoice.Time, invoice.Expense, invoice.Fixed, invoice.Recurring}, []string{"23", "0"}
	for range 1 + r.IntN(15) {
		kind := kinds[r.IntN(4)]
		asked.Items = append(asked.Items, Item{Engagement: 1 + r.Int64N(3), Kind: kind, TaxCode: names[r.IntN(2)], Amount: r.Int64N(50_000),
			Day: day.Of(2026, 11, 1+r.IntN(30)), Cuts: kind == invoice.Time || kind == invoice.Expense, OutOfScope: r.IntN(6) == 0})
	}
	for range r.IntN(3) {
		asked.Advances = append(asked.Advances, Advance{1 + r.Int64N(3), names[r.IntN(2)], 1 + r.Int64N(60_000)})
	}
	asked.Credit, asked.Terms.Withholding = r.Int64N(20_000), money.Percent(r.Int64N(2)*20_0000)
	for id := range r.Int64N(3) {
		asked.FundsHeld = append(asked.FundsHeld, funds.Held{ID: id, Held: r.Int64N(30_000), Reserved: r.Int64N(10_000)})
	}
	return asked
}

func agreed(asked *Asked, r *rand.Rand) {
	asked.Terms.Surcharge = money.Percent(r.Int64N(2) * 4_0000)
	asked.Terms.Discount = invoice.Discount{Percent: money.Percent(r.Int64N(3) * 12_5000), FeesOnly: r.IntN(2) == 0}
	for range r.IntN(3) {
		asked.Caps[1+r.Int64N(3)] = r.Int64N(60_000)
	}
}

// Property: what is on the draft and what stays over a cap is all there was; the lines come
// to the net; no net falls below zero by what comes back; nothing is taken that isn't there.
func TestADraftAddsUp(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 8))
	for range 5_000 {
		asked := random(r)
		agreed(&asked, r)
		d := computed(t, asked)
		net, on := int64(0), map[int]int64{}
		for _, line := range d.Lines {
			net += line.Net()
			if !line.Back {
				on[line.Of] += line.Amount
			} else if -line.Amount > asked.Advances[line.Of].Left || line.Amount >= 0 {
				t.Fatalf("%+v: %d comes back of %d", asked, line.Amount, asked.Advances[line.Of].Left)
			}
		}
		for at, item := range asked.Items {
			if on[at]+d.Over[at] != item.Amount || d.Over[at] > 0 && (!item.Cuts || !item.underCap()) {
				t.Fatalf("%+v: of %d, %d is on the draft, %d over", asked, item.Amount, on[at], d.Over[at])
			}
		}
		if net != d.Totals.Net.Minor || net < 0 {
			t.Fatalf("%+v: the lines come to %d, the net is %s", asked, net, d.Totals.Net)
		}
		for at, taken := range d.Funds {
			if taken < 0 || taken > asked.FundsHeld[at].Free() {
				t.Fatalf("%+v: takes %d", asked, taken)
			}
		}
		if sums := d.Totals; sums.Due.Minor < min(0, sums.Total.Minor-sums.Withholding.Minor) || sums.Credit.Minor > asked.Credit {
			t.Fatalf("%+v: %+v", asked, sums)
		}
	}
}

// Property: where no line has to be looked at by itself, sums of what is alike come to the
// same, as a whole and for each engagement: what is shown from sums is what is made.
func TestSumsComeToWhatTheirPartsDo(t *testing.T) {
	type alike struct {
		engagement int64
		kind       invoice.Kind
		code       string
	}
	r := rand.New(rand.NewPCG(9, 10))
	for range 5_000 {
		parts := random(r)
		sums, places := parts, map[alike]int{}
		sums.Items = nil
		for _, item := range parts.Items {
			key := alike{item.Engagement, item.Kind, item.TaxCode}
			at, is := places[key]
			if !is {
				at, places[key] = len(sums.Items), len(sums.Items)
				sums.Items = append(sums.Items, Item{Engagement: item.Engagement, Kind: item.Kind, TaxCode: item.TaxCode})
			}
			sums.Items[at].Amount += item.Amount
		}
		if parts.OneByOne() {
			t.Fatal("nothing was agreed, so that sums do")
		}
		one, other := computed(t, parts), computed(t, sums)
		if one.Totals.Net != other.Totals.Net || one.Totals.Tax != other.Totals.Tax || one.Totals.Due != other.Totals.Due ||
			!reflect.DeepEqual(byEngagement(one), byEngagement(other)) || !reflect.DeepEqual(one.Funds, other.Funds) {
			t.Fatalf("%+v\n%+v\n%+v", parts, one, other)
		}
	}
}

func byEngagement(d Draft) map[int64]int64 {
	nets := map[int64]int64{}
	for _, line := range d.Lines {
		nets[line.Engagement] += line.Net()
	}
	return nets
}

// What was chosen for an invoice, as it is kept, and the terms that it means.
func TestTermsAreReadFromChoices(t *testing.T) {
	value := func(text string) profile.Source { return profile.Source{Scope: profile.Invoice, Value: text} }
	terms, err := TermsOf(profile.BillingTerms{"discount": value("10"), "discount_amount": value("25.50"), "discount_on": value("fees"),
		"surcharge": value("4"), "withholding": value("20"), "use_credit": value("no"), "funds_at_most": value("100")}, "EUR")
	if err != nil || terms.Discount != (invoice.Discount{Amount: 2_550, FeesOnly: true}) || terms.Surcharge != 4_0000 ||
		terms.Withholding != 20_0000 ||
		terms.UseCredit || !terms.UseFunds || *terms.FundsAtMost != 10_000 || !terms.Shared() {
		t.Errorf("%+v, %v", terms, err)
	}
	if terms, err := TermsOf(profile.BillingTerms{"discount": value("10")}, "JPY"); err != nil || terms.Discount.Percent != 10_0000 {
		t.Errorf("%+v, %v", terms, err)
	}
	if _, err := TermsOf(profile.BillingTerms{"discount_amount": value("25.50")}, "JPY"); err == nil {
		t.Error("the yen has no decimals")
	}
}

func ExampleCompute() {
	asked := of(work(1, 10, 70_000), work(1, 11, 50_000))
	asked.Caps[1] = 90_000
	asked.Terms.Discount.Percent = 10_0000
	d, _ := Compute(asked)
	for _, line := range d.Lines {
		fmt.Println(line.Of, money.Amount{Minor: line.Amount, Currency: "EUR"})
	}
	fmt.Println(d.Totals.Net)
	// Output:
	// 0 700.00
	// 1 300.00
	// 900.00
}

func BenchmarkADraftOf25Entries(b *testing.B) {
	asked := of()
	for i := range 25 {
		asked.Items = append(asked.Items, work(1, 1+i, 12_345))
	}
	for b.Loop() {
		if _, err := Compute(asked); err != nil {
			b.Fatal(err)
		}
	}
}
