package draft

import (
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/tax"
)

// Terms are what was agreed about the sums of an invoice.
type Terms struct {
	Discount    invoice.Discount
	Surcharge   money.Percent // of fees
	Withholding money.Percent // of the net
	SecondTax   tax.SecondOn
	UseCredit   bool
	UseFunds    bool
	FundsAtMost *int64 // minor units; nil: all that is due and free
}

// TermsOf reads the terms from what an invoice in a currency has chosen. An amount that
// the currency can't have is refused.
func TermsOf(c profile.BillingTerms, in money.Currency) (Terms, error) {
	t := Terms{Surcharge: c.Percent("surcharge"), Withholding: c.Percent("withholding"),
		SecondTax: tax.SecondOn(c.Text("second_tax")),
		UseCredit: c.Text("use_credit") != "no", UseFunds: c.Text("use_funds") != "none"}
	t.Discount = invoice.Discount{Percent: c.Percent("discount"), FeesOnly: c.Text("discount_on") == "fees"}
	amount, given, err := c.Amount("discount_amount", in)
	if err != nil {
		return t, err
	}
	if given && amount != 0 { // an amount beats a percentage
		t.Discount.Percent, t.Discount.Amount = 0, amount
	}
	most, given, err := c.Amount("funds_at_most", in)
	if given {
		t.FundsAtMost = &most
	}
	return t, err
}

// Shared reports whether something is shared over lines: a discount or a surcharge.
func (t Terms) Shared() bool {
	return t.Discount.Amount != 0 || t.Discount.Percent != 0 || t.Surcharge != 0
}

// On puts the terms on what is asked about an invoice.
func (t Terms) On(asked invoice.Asked) invoice.Asked {
	asked.Discount, asked.Surcharge, asked.Withholding = t.Discount, t.Surcharge, t.Withholding
	asked.Codes = t.SecondTax.Taken(asked.Codes)
	return asked
}
