package invoice

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/tax"

	"github.com/cockroachdb/apd/v3"
)

var taxDate = day.Of(2026, 12, 1)

func code(name string, percent money.Percent) tax.Code {
	return tax.Code{Code: name, Name: "VAT", Category: tax.StandardRated, Rates: []tax.Dated{{From: day.Of(2020, 1, 1), Percent: percent}}}
}

var codes = map[string]tax.Code{"23": code("23", 23_0000), "13.5": code("13.5", 13_5000), "0": code("0", 0)}

func line(kind Kind, taxCode string, minor int64) Line {
	return Line{kind, taxCode, money.Amount{Minor: minor, Currency: "EUR"}}
}

func asked(lines ...Line) Asked {
	return Asked{Currency: "EUR", TaxDate: taxDate, Lines: lines, Codes: codes}
}

func mustCompute(t *testing.T, a Asked) Totals {
	t.Helper()
	totals, err := Compute(a)
	if err != nil {
		t.Fatal(err)
	}
	return totals
}

// randomInvoice has up to twelve lines of every kind, some negative.
func randomInvoice(random *rand.Rand) Asked {
	kinds, names := []Kind{Time, Fixed, Expense, ByHand}, []string{"23", "13.5", "0"}
	a := asked(line(Time, "23", 1+random.Int64N(500_000)))
	for range random.IntN(12) {
		a.Lines = append(a.Lines, line(kinds[random.IntN(4)], names[random.IntN(3)], random.Int64N(400_000)-20_000))
	}
	a.Surcharge = money.Percent(random.Int64N(80_000))
	a.Discount.Percent = money.Percent(random.Int64N(300_000))
	a.Withholding = money.Percent(random.Int64N(2) * 200_000)
	a.Credit, a.Funds = random.Int64N(2)*random.Int64N(50_000), random.Int64N(2)*random.Int64N(900_000)
	return a
}

// taxesAreProducts computes taxable × rate again by general decimal arithmetic (apd).
func taxesAreProducts(perCode []TaxOfCode) bool {
	context := apd.BaseContext.WithPrecision(40)
	context.Rounding = apd.RoundHalfUp
	for _, one := range perCode {
		for _, part := range one.Parts {
			var exact apd.Decimal
			context.Mul(&exact, apd.New(part.Base.Minor, 0), apd.New(int64(part.Percent), -6))
			context.Quantize(&exact, &exact, 0)
			if got, err := exact.Int64(); err != nil || got != part.Tax.Minor {
				return false
			}
		}
	}
	return true
}

// Source: EN 16931-1 BR-CO-11 and BR-CO-12, sums of allowances and of charges.
func TestDiscountAndSurchargeAreSharedToTheCent(t *testing.T) {
	a := asked(line(Time, "23", 10000), line(Time, "13.5", 10000), line(Expense, "0", 10000))
	a.Discount.Amount, a.Surcharge = 100, 10_0000
	totals := mustCompute(t, a)
	// 1.00 over three: 0.34, 0.33, 0.33; 10 % of 99.66 + 99.67 = 19.933 → 19.93, shared 9.96 and 9.97
	if totals.Surcharge.Minor != 1993 {
		t.Errorf("surcharge %s", totals.Surcharge)
	}
	for i, want := range []int64{9966 + 996, 9967 + 997, 9967} {
		if got := totals.Taxes[i].Taxable.Minor; got != want {
			t.Errorf("taxable at %s is %d, want %d", totals.Taxes[i].Code, got, want)
		}
	}
}

// Source: EN 16931-1 BR-CO-11 and BR-CO-13: the allowances add up to what is taken off
// the lines. A line that takes something off lowers the base and has no share.
func TestADiscountBesideANegativeLine(t *testing.T) {
	a := asked(line(Time, "23", 10_000), line(ByHand, "23", -2_000), line(Time, "13.5", 2_000))
	a.Discount.Percent = 10_0000 // 10 % of 100.00 − 20.00 + 20.00
	totals := mustCompute(t, a)
	if totals.Discount.Minor != 1_000 || totals.Net.Minor != 9_000 {
		t.Errorf("a discount of %s leaves %s", totals.Discount, totals.Net)
	}
	for i, want := range []int64{833, 0, 167} { // 10.00 over 100 : 20 is 8.33 and 1.67
		if got := totals.Shares[i].Discount; got != want {
			t.Errorf("line %d has a share of %d, not %d", i, got, want)
		}
	}
	a.Discount = Discount{Amount: -1}
	if _, err := Compute(a); err == nil {
		t.Error("a negative discount is a surcharge that nobody agreed")
	}
	a.Discount = Discount{Amount: 10_001}
	if _, err := Compute(a); err == nil {
		t.Error("a discount above its base is taken")
	}
}

// The figures are plain percentages, re-computed by hand.
func TestSurchargeOnFees(t *testing.T) {
	a := asked(line(Time, "23", 355_750), line(Expense, "23", 132_220))
	a.Surcharge = 4_0000
	if totals := mustCompute(t, a); totals.Surcharge.String() != "142.30" {
		t.Errorf("4 %% of 3,557.50 is %s", totals.Surcharge)
	}
}

func TestTaxIsRoundedPerCodeNotPerLine(t *testing.T) {
	totals := mustCompute(t, asked(line(Time, "23", 2), line(Time, "23", 2), line(Time, "23", 2)))
	if totals.Tax.Minor != 1 { // 0.06 × 23 % = 0.0138; per line it would be three times 0.0046
		t.Errorf("tax %s", totals.Tax)
	}
}

func TestTwoTaxesOnOneInvoice(t *testing.T) {
	for compound, want := range map[bool]string{false: "1,130.00", true: "1,134.00"} {
		both := code("both", 5_0000)
		both.Second = &tax.Second{Name: "second", Rates: []tax.Dated{{From: day.Of(2020, 1, 1), Percent: 8_0000}}, Compound: compound}
		a := asked(line(Time, "both", 100_000))
		a.Codes = map[string]tax.Code{"both": both}
		if totals := mustCompute(t, a); totals.Total.String() != want {
			t.Errorf("compound %v: %s, want %s", compound, totals.Total, want)
		}
	}
}

// Source: common practice of money held: 10,000.00 − 3,700.20 = 6,299.80.
func TestWithholdingThenCreditThenFunds(t *testing.T) {
	a := asked(line(Time, "0", 370_020))
	a.Funds = 1_000_000
	totals := mustCompute(t, a)
	if left := a.Funds - totals.Funds.Minor; left != 629_980 || !totals.Due.IsZero() {
		t.Errorf("of 10,000.00 held %d are left, %s is due", left, totals.Due)
	}
	a.Withholding, a.Credit, a.Funds = 20_0000, 200_000, 1_000_000
	totals = mustCompute(t, a)
	if totals.Withholding.String() != "740.04" || totals.Credit.String() != "2,000.00" || totals.Funds.String() != "960.16" ||
		!totals.Due.IsZero() {
		t.Errorf("%+v", totals)
	}
	a.Lines[0].Amount.Minor = -5000
	if totals = mustCompute(t, a); !totals.Funds.IsZero() || totals.Due.Minor != -4000 {
		t.Errorf("nothing is taken for an invoice that owes nothing: %+v", totals)
	}
}

func TestWhatDoesNotFitIsRefused(t *testing.T) {
	unknown := asked(line(Time, "lost", 100))
	foreign := asked(line(Time, "23", 100))
	foreign.Currency = "USD"
	early := asked(line(Time, "23", 100))
	early.TaxDate = day.Of(2019, 1, 1)
	tooMuch := asked(line(Time, "23", 100))
	tooMuch.Discount.Amount = 101
	feesOnly := asked(line(Expense, "23", 100))
	feesOnly.Discount = Discount{Amount: 1, FeesOnly: true}
	for want, a := range map[string]Asked{"does not exist": unknown, "do not add": foreign, "has no rate": early,
		"does not fit 1.00": tooMuch, "does not fit 0.00": feesOnly} {
		if totals, err := Compute(a); err == nil || !strings.Contains(err.Error(), want) {
			t.Errorf("%+v, %v; want an error with %q", totals, err, want)
		}
	}
}

func TestStepsOfAnInvoice(t *testing.T) {
	for _, c := range []struct {
		from State
		act  Act
		to   State
	}{
		{Draft, AskApproval, InApproval}, {InApproval, Approve, Approved}, {InApproval, SendBack, Draft}, {Approved, Issue, Issued},
		{Draft, Issue, Issued}, {Draft, Delete, Deleted}, {Issued, TakePart, PartPaid}, {PartPaid, TakeRest, Paid}, {Issued, Reopen, Draft},
	} {
		if got, err := c.from.After(c.act); err != nil || got != c.to {
			t.Errorf("%s, %s: %s, %v; want %s", c.from, c.act, got, err, c.to)
		}
	}
}

// Source: common practice: what is issued is never deleted or changed, what is
// paid is never reopened, what waits for approval is not issued.
func TestStepsThatAnInvoiceNeverTakes(t *testing.T) {
	for _, c := range []struct {
		from State
		act  Act
	}{{Issued, Delete}, {Issued, Change}, {PartPaid, Reopen}, {Paid, Reopen}, {Paid, Delete}, {InApproval, Issue}, {Deleted, Issue},
		{Draft, TakePart}} {
		next, err := c.from.After(c.act)
		if err == nil || next != c.from || !strings.Contains(err.Error(), past[c.act]) || !strings.Contains(err.Error(), remedies[c.from]) {
			t.Errorf("%s, %s: %s, %v", c.from, c.act, next, err)
		}
	}
	if Draft.IsIssued() || !Approved.IsDraft() || !PartPaid.IsIssued() || Deleted.IsDraft() {
		t.Error("drafts and issued invoices are mixed up")
	}
}

func TestTheExplanationEndsInTheAmountDue(t *testing.T) {
	a := asked(line(Time, "23", 100_000))
	a.Surcharge, a.Funds = 4_0000, 5_000
	step := mustCompute(t, a).Explain()
	read := []string{}
	for _, s := range step.Steps {
		read = append(read, s.Label+" "+s.Figure)
	}
	want := "Lines 1,000.00; Surcharge 40.00; Net 1,040.00; VAT 239.20; Total 1,279.20; From funds held −50.00"
	if got := strings.Join(read, "; "); got != want || step.Figure != "1,229.20" {
		t.Errorf("%s, due %s", got, step.Figure)
	}
}

func ExampleCompute() {
	totals, _ := Compute(asked(line(Time, "23", 651_440)))
	fmt.Println(totals.Net, totals.Tax, totals.Total)
	// Output: 6,514.40 1,498.31 8,012.71
}

func BenchmarkComputeOf40Lines(b *testing.B) {
	a := asked()
	for i := range 40 {
		a.Lines = append(a.Lines, line(Time, []string{"23", "13.5"}[i%2], int64(10_000+i)))
	}
	a.Surcharge = 4_0000
	for b.Loop() {
		Compute(a)
	}
}
