package invoice

import (
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/tax"
)

// Crediting is what is credited of an issued invoice.
type Crediting struct {
	Of     Totals
	Lines  []Line  // of the invoice
	Before []int64 // credited of each line by earlier notes, minor units
	Earlier
	Now []int64 // credited of each line now, minor units
}

// Earlier is what earlier credit notes took, in minor units.
type Earlier struct {
	Tax         map[string][]int64 // of each code, by its parts
	Withholding int64
}

// Credit computes a credit note. Each line brings back its share of discount and
// surcharge; tax is computed per code. The note that completes the credit takes
// what is left, so that in the end every amount mirrors the invoice.
func (c Crediting) Credit() (Totals, error) {
	currency := c.Of.Lines.Currency
	none := money.Zero(currency)
	t := Totals{Lines: none, Discount: none, Surcharge: none, Fees: none, Percent: c.Of.Percent, Net: none, Tax: none, Withholding: none,
		Credit: none, Funds: none, Taxes: []TaxOfCode{}}
	taxable, after := map[string]int64{}, map[string]int64{}
	for i, line := range c.Lines {
		if err := c.checkLine(i); err != nil {
			return t, err
		}
		share := c.share(i)
		discount, err := part(share.Discount, c.Before[i], c.Now[i], line.Amount.Minor)
		if err != nil {
			return t, err
		}
		surcharge, err := part(share.Surcharge, c.Before[i], c.Now[i], line.Amount.Minor)
		if err != nil {
			return t, err
		}
		t.Shares = append(t.Shares, LineShare{discount, surcharge})
		t.Lines.Minor += c.Now[i]
		t.Discount.Minor += discount
		t.Surcharge.Minor += surcharge
		if line.Kind.IsFee() {
			t.Fees.Minor += c.Now[i] - discount
		}
		taxable[line.TaxCode] += c.Now[i] - discount + surcharge
		all, err := c.upTo(i)
		if err != nil {
			return t, err
		}
		after[line.TaxCode] += all
	}
	t.Net.Minor = t.Lines.Minor - t.Discount.Minor + t.Surcharge.Minor
	for _, code := range c.Of.Taxes {
		if err := c.taxOf(&t, code, taxable[code.Code], after[code.Code]); err != nil {
			return t, err
		}
	}
	return t, c.sum(&t)
}

// share is what discount and surcharge are to a line. Invoices that were frozen
// before there were any have none.
func (c Crediting) share(i int) LineShare {
	if i < len(c.Of.Shares) {
		return c.Of.Shares[i]
	}
	return LineShare{}
}

func (c Crediting) checkLine(i int) error {
	amount, before, now := c.Lines[i].Amount.Minor, c.Before[i], c.Now[i]
	left := amount - before
	if now != 0 && (now < 0) != (amount < 0) || max(now, -now) > max(left, -left) {
		return refusal.Errorf("of a line of %s, %s can be credited: give at most that", c.Lines[i].Amount,
			money.Amount{Minor: left, Currency: c.Lines[i].Amount.Currency})
	}
	return nil
}

// part is what crediting now adds to a share, so that the parts add up to it.
func part(share, before, now, whole int64) (int64, error) {
	if share == 0 || whole == 0 {
		return 0, nil
	}
	upTo, err := money.MulDiv(share, before+now, whole)
	if err != nil {
		return 0, err
	}
	had, err := money.MulDiv(share, before, whole)
	return upTo - had, err
}

// upTo is the taxable amount of a line that is credited with this note and those
// before it.
func (c Crediting) upTo(i int) (int64, error) {
	whole, all := c.Lines[i].Amount.Minor, c.Before[i]+c.Now[i]
	discount, err := part(c.share(i).Discount, 0, all, whole)
	if err != nil {
		return 0, err
	}
	surcharge, err := part(c.share(i).Surcharge, 0, all, whole)
	return all - discount + surcharge, err
}

func (c Crediting) taxOf(t *Totals, code TaxOfCode, taxable, after int64) (err error) {
	if taxable == 0 {
		return nil
	}
	credited := TaxOfCode{Code: code.Code, Category: code.Category, Notice: code.Notice,
		Taxable: money.Amount{Minor: taxable, Currency: t.Net.Currency}, Parts: []tax.Part{}}
	base := credited.Taxable
	for n, p := range code.Parts {
		if n > 0 && p.Base.Minor != code.Taxable.Minor { // compound: on the first tax, too
			base = money.Amount{Minor: taxable + credited.Parts[0].Tax.Minor, Currency: base.Currency}
		}
		amount, err := p.Percent.Of(base)
		if err != nil {
			return err
		}
		if after == code.Taxable.Minor {
			amount.Minor = p.Tax.Minor
			if before := c.Tax[code.Code]; n < len(before) {
				amount.Minor -= before[n]
			}
		}
		credited.Parts = append(credited.Parts, tax.Part{Name: p.Name, Percent: p.Percent, Base: base, Tax: amount})
		t.Tax.Minor += amount.Minor
	}
	t.Taxes = append(t.Taxes, credited)
	return nil
}

func (c Crediting) sum(t *Totals) (err error) {
	if t.Total, err = t.Net.Add(t.Tax); err != nil {
		return err
	}
	whole := true
	for i, line := range c.Lines {
		whole = whole && c.Before[i]+c.Now[i] == line.Amount.Minor
	}
	switch {
	case whole:
		t.Withholding.Minor = c.Of.Withholding.Minor - c.Earlier.Withholding
	case c.Of.Net.Minor != 0:
		if t.Withholding.Minor, err = money.MulDiv(c.Of.Withholding.Minor, t.Net.Minor, c.Of.Net.Minor); err != nil {
			return err
		}
	}
	t.Due, err = t.Total.Sub(t.Withholding)
	return err
}
