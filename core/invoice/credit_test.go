package invoice

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"dorvet/core/money"
	"dorvet/core/tax"
)

// creditedSoFar adds up credit notes, as the next one needs them.
func creditedSoFar(notes []Totals) Earlier {
	e := Earlier{Tax: map[string][]int64{}}
	for _, note := range notes {
		e.Withholding += note.Withholding.Minor
		for _, code := range note.Taxes {
			if e.Tax[code.Code] == nil {
				e.Tax[code.Code] = make([]int64, len(code.Parts))
			}
			for n, p := range code.Parts {
				e.Tax[code.Code][n] += p.Tax.Minor
			}
		}
	}
	return e
}

// Source: common practice and EN 16931-1, where a credit note (type 381) has the
// same terms as the invoice: a credit in full mirrors every amount.
func TestACreditInFullMirrorsEveryAmount(t *testing.T) {
	a := asked(line(Time, "23", 100_001), line(Expense, "13.5", 3_333), line(Fixed, "23", 50_000))
	a.Discount, a.Surcharge, a.Withholding = Discount{Percent: 7_5000}, 4_0000, 20_0000
	of := mustCompute(t, a)
	note, err := Crediting{Of: of, Lines: a.Lines, Before: make([]int64, 3), Now: []int64{100_001, 3_333, 50_000}}.Credit()
	if err != nil {
		t.Fatal(err)
	}
	if note.Net != of.Net || note.Tax != of.Tax || note.Total != of.Total || note.Discount != of.Discount ||
		note.Surcharge != of.Surcharge ||
		note.Withholding != of.Withholding {
		t.Errorf("invoice %+v, credit %+v", of, note)
	}
	for i, code := range note.Taxes {
		if code.Taxable != of.Taxes[i].Taxable || !slices.Equal(code.Parts, of.Taxes[i].Parts) {
			t.Errorf("tax %+v, credited %+v", of.Taxes[i], code)
		}
	}
}

// 100.00 less 10 % at 23 %: a credit of 40.00 is 36.00 net, 8.28 of tax, 44.28.
func TestACreditInPartBringsItsShareOfDiscountAndTax(t *testing.T) {
	a := asked(line(Time, "23", 10_000))
	a.Discount.Percent = 10_0000
	note, err := Crediting{Of: mustCompute(t, a), Lines: a.Lines, Before: []int64{0}, Now: []int64{4_000}}.Credit()
	if err != nil || note.Net.String() != "36.00" || note.Tax.String() != "8.28" || note.Total.String() != "44.28" {
		t.Errorf("%+v, %v", note, err)
	}
}

// Property: whatever is credited in however many notes, in the end the notes add
// up to the invoice, in every amount, and none takes more than is left.
func TestCreditsInPartsAddUpToTheInvoice(t *testing.T) {
	random := rand.New(rand.NewPCG(11, 12))
	for range 5_000 {
		a := randomInvoice(random)
		of, err := Compute(a)
		if err != nil {
			continue
		}
		before, notes := make([]int64, len(a.Lines)), []Totals{}
		for round := range 4 {
			now := make([]int64, len(a.Lines))
			for i, l := range a.Lines {
				left := l.Amount.Minor - before[i]
				if now[i] = left; round < 3 && left != 0 {
					now[i] = random.Int64N(max(left, -left)+1) * sign(left)
				}
			}
			note, err := Crediting{Of: of, Lines: a.Lines, Before: before, Earlier: creditedSoFar(notes), Now: now}.Credit()
			if err != nil {
				t.Fatal(err)
			}
			for i := range before {
				before[i] += now[i]
			}
			notes = append(notes, note)
		}
		var net, discount, surcharge, total, withheld int64
		for _, note := range notes {
			net, discount, surcharge, total, withheld = net+note.Net.Minor, discount+note.Discount.Minor, surcharge+note.Surcharge.Minor,
				total+note.Total.Minor, withheld+note.Withholding.Minor
		}
		if net != of.Net.Minor || discount != of.Discount.Minor || surcharge != of.Surcharge.Minor || total != of.Total.Minor ||
			withheld != of.Withholding.Minor {
			t.Fatalf("%+v is credited as %+v", of, notes)
		}
	}
}

func sign(n int64) int64 {
	if n < 0 {
		return -1
	}
	return 1
}

func TestACompoundTaxIsCreditedOnItsOwnBase(t *testing.T) {
	both := code("both", 5_0000)
	both.Second = &tax.Second{Name: "second", Rates: both.Rates, Compound: true}
	a := asked(line(Time, "both", 100_000))
	a.Codes = map[string]tax.Code{"both": both}
	note, err := Crediting{Of: mustCompute(t, a), Lines: a.Lines, Before: []int64{0}, Now: []int64{10_000}}.Credit()
	if err != nil || note.Tax.Minor != 500+525 { // 5 % of 100.00, and 5 % of 105.00
		t.Errorf("%+v, %v", note, err)
	}
}

func TestMoreThanIsLeftCantBeCredited(t *testing.T) {
	a := asked(line(Time, "23", 10_000), line(ByHand, "23", -2_000))
	of := mustCompute(t, a)
	for _, c := range []struct{ before, now []int64 }{{[]int64{0, 0}, []int64{10_001, 0}}, {[]int64{9_000, 0}, []int64{1_001, 0}},
		{[]int64{0, 0}, []int64{-1, 0}}, {[]int64{0, 0}, []int64{0, 1}}, {[]int64{0, -1_999}, []int64{0, -2}}} {
		if note, err := (Crediting{Of: of, Lines: a.Lines, Before: c.before, Now: c.now}).Credit(); err == nil ||
			!strings.Contains(err.Error(), "give at most that") {
			t.Errorf("%+v: %+v, %v", c, note, err)
		}
	}
	if note, err := (Crediting{Of: Totals{Lines: of.Lines, Net: of.Net, Taxes: of.Taxes, Withholding: money.Zero("EUR")}, Lines: a.Lines,
		Before: []int64{0, 0}, Now: []int64{10_000, -2_000}}).Credit(); err != nil || note.Net.Minor != 8_000 {
		t.Errorf("an invoice frozen without shares: %+v, %v", note, err)
	}
}
