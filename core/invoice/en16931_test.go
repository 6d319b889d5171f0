package invoice

import (
	"math/rand/v2"
	"testing"

	"dorvet/core/money"
	"dorvet/core/schedule"
	"dorvet/core/tax"
)

// rules are the business rules of EN 16931-1 on sums and on the standard rate, each
// as the standard states it, over an invoice and what it was computed from. In the
// standard's terms: lines are BT-131, the document level allowance is BT-92, the
// charge BT-99, prepaid is BT-113, and a tax breakdown has BT-116 (taxable), BT-117
// (tax) and BT-119 (rate).
var rules = map[string]func(Asked, Totals) bool{
	"BR-CO-10 sum of line net amounts": func(a Asked, t Totals) bool {
		sum := int64(0)
		for _, l := range a.Lines {
			sum += l.Amount.Minor
		}
		return t.Lines.Minor == sum
	},
	"BR-CO-11 sum of allowances on document level": func(_ Asked, t Totals) bool {
		sum := int64(0)
		for _, s := range t.Shares {
			sum += s.Discount
		}
		return t.Discount.Minor == sum
	},
	"BR-CO-12 sum of charges on document level": func(_ Asked, t Totals) bool {
		sum := int64(0)
		for _, s := range t.Shares {
			sum += s.Surcharge
		}
		return t.Surcharge.Minor == sum
	},
	"BR-CO-13 total without tax = lines − allowances + charges": func(_ Asked, t Totals) bool {
		return t.Net.Minor == t.Lines.Minor-t.Discount.Minor+t.Surcharge.Minor
	},
	"BR-CO-14 total tax = sum of tax category amounts": func(_ Asked, t Totals) bool {
		sum := int64(0)
		for _, code := range t.Taxes {
			for _, part := range code.Parts {
				sum += part.Tax.Minor
			}
		}
		return t.Tax.Minor == sum
	},
	"BR-CO-15 total with tax = total without + tax": func(_ Asked, t Totals) bool { return t.Total.Minor == t.Net.Minor+t.Tax.Minor },
	"BR-CO-16 amount due = total with tax − paid": func(_ Asked, t Totals) bool {
		return t.Due.Minor == t.Total.Minor-t.Withholding.Minor-t.Credit.Minor-t.Funds.Minor
	},
	"BR-CO-17 category tax = taxable × rate, in two decimals": func(_ Asked, t Totals) bool { return taxesAreProducts(t.Taxes) },
	"BR-CO-18 at least one tax breakdown":                     func(_ Asked, t Totals) bool { return len(t.Taxes) > 0 },
	"BR-S-01 a standard rated line has a standard rated breakdown": func(a Asked, t Totals) bool {
		for _, l := range a.Lines {
			if breakdown(t, l.TaxCode) == nil {
				return false
			}
		}
		return true
	},
	"BR-S-05 a standard rated line has a rate above zero": func(_ Asked, t Totals) bool { return ratesAbove(t, tax.StandardRated) },
	"BR-S-08 taxable = lines − allowances + charges of the rate": func(a Asked, t Totals) bool {
		sums := map[string]int64{}
		for i, l := range a.Lines {
			sums[l.TaxCode] += l.Amount.Minor - t.Shares[i].Discount + t.Shares[i].Surcharge
		}
		for code, sum := range sums {
			if breakdown(t, code).Taxable.Minor != sum {
				return false
			}
		}
		return len(sums) == len(t.Taxes)
	},
	"BR-S-09 tax of the category = taxable × rate": func(_ Asked, t Totals) bool { return taxesAreProducts(t.Taxes) },
	"BR-S-10 a standard rated breakdown gives no reason of exemption": func(_ Asked, t Totals) bool {
		for _, code := range t.Taxes {
			if code.Category == tax.StandardRated && code.Notice != "" {
				return false
			}
		}
		return true
	},
}

func breakdown(t Totals, code string) *TaxOfCode {
	for i := range t.Taxes {
		if t.Taxes[i].Code == code {
			return &t.Taxes[i]
		}
	}
	return nil
}

func ratesAbove(t Totals, category tax.Category) bool {
	for _, code := range t.Taxes {
		if code.Category == category && code.Parts[0].Percent <= 0 {
			return false
		}
	}
	return true
}

// Source: EN 16931-1:2017, business rules BR-CO-10 to BR-CO-17 and BR-S-01 to
// BR-S-10 where they are about amounts, each by its name.
func TestEachRuleOfEN16931(t *testing.T) {
	zero := code("0", 0)
	zero.Category, zero.Notice = tax.Exempt, "Exempt from VAT."
	for name, holds := range rules {
		t.Run(name, func(t *testing.T) {
			random, checked := rand.New(rand.NewPCG(31, 32)), 0
			for range 3_000 {
				a := randomInvoice(random)
				a.Codes = map[string]tax.Code{"23": codes["23"], "13.5": codes["13.5"], "0": zero}
				totals, err := Compute(a)
				if err != nil {
					continue
				}
				checked++
				if !holds(a, totals) {
					t.Fatalf("%+v gives %+v", a, totals)
				}
			}
			if checked < 2_000 {
				t.Errorf("only %d invoices were checked", checked)
			}
		})
	}
}

// A rule that can't fail would prove nothing: each is broken by a unit somewhere.
func TestTheRulesCanFail(t *testing.T) {
	a := asked(line(Time, "23", 100_000), line(Expense, "13.5", 5_000))
	a.Discount.Percent, a.Surcharge = 10_0000, 4_0000
	for name, change := range map[string]func(*Totals){
		"BR-CO-10": func(t *Totals) { t.Lines.Minor++ }, "BR-CO-11": func(t *Totals) { t.Discount.Minor++ },
		"BR-CO-12": func(t *Totals) { t.Surcharge.Minor++ },
		"BR-CO-13": func(t *Totals) { t.Net.Minor++ }, "BR-CO-14": func(t *Totals) { t.Tax.Minor++ },
		"BR-CO-15": func(t *Totals) { t.Total.Minor++ },
		"BR-CO-16": func(t *Totals) { t.Due.Minor++ }, "BR-CO-17": func(t *Totals) { t.Taxes[0].Parts[0].Tax.Minor++ },
		"BR-CO-18": func(t *Totals) { t.Taxes = nil }, "BR-S-01": func(t *Totals) { t.Taxes[1].Code = "x" },
		"BR-S-05": func(t *Totals) { t.Taxes[0].Parts[0].Percent = 0 }, "BR-S-08": func(t *Totals) { t.Taxes[0].Taxable.Minor++ },
		"BR-S-09": func(t *Totals) { t.Taxes[1].Parts[0].Tax.Minor-- }, "BR-S-10": func(t *Totals) { t.Taxes[0].Notice = "why" },
	} {
		totals := mustCompute(t, a)
		change(&totals)
		found := false
		for rule, holds := range rules {
			if rule[:len(name)] == name && rule[len(name)] == ' ' {
				found = true
				if holds(a, totals) {
					t.Errorf("%s does not notice that it is broken", rule)
				}
			}
		}
		if !found {
			t.Errorf("there is no rule %s", name)
		}
	}
}

// Property: lines, shares, taxes, funds and instalments of random invoices add up
// all the way to what is paid.
func TestEverythingAddsUpToTheInstalments(t *testing.T) {
	random := rand.New(rand.NewPCG(41, 42))
	plans := []schedule.Plan{{}, {{When: "issue"}, {When: "monthly"}, {When: "monthly"}},
		{{Percent: 33_3333, When: "issue"}, {Percent: 66_6667, When: "30d"}}, {{Percent: 10_0000, When: "issue"}, {When: "60d"}}}
	paid := 0
	for range 20_000 {
		totals, err := Compute(randomInvoice(random))
		if err != nil || totals.Due.Minor < 0 {
			continue
		}
		parts, err := plans[random.IntN(len(plans))].Divide(totals.Due, schedule.Around{Issued: taxDate})
		if err != nil {
			t.Fatal(err)
		}
		sum := money.Zero("EUR")
		for _, part := range parts {
			if sum, err = sum.Add(part.Amount); err != nil {
				t.Fatal(err)
			}
		}
		if sum.Minor+totals.Withholding.Minor+totals.Credit.Minor+totals.Funds.Minor != totals.Total.Minor {
			t.Fatalf("%+v is paid by %+v", totals, parts)
		}
		paid++
	}
	if paid < 15_000 {
		t.Errorf("only %d invoices were paid", paid)
	}
}
