// Package invoice computes what an invoice comes to, and knows what can happen
// to one.
//
// The order is fixed and every step is kept: lines to subtotal, less discount,
// plus surcharge on fees, plus tax per code (never per line), is the total.
// Less withholding, credit of the client and client funds, it is the amount due.
//
//	a surcharge of 4 % on fees of 3,557.50 is 142.30
package invoice

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/tax"
)

// Kind is what a line charges for.
type Kind string

// The kinds of lines. The first four are fees, on which a surcharge counts.
const (
	Time      Kind = "time"
	Fixed     Kind = "fixed"
	Recurring Kind = "recurring"
	Progress  Kind = "progress"
	Expense   Kind = "expense"
	ByHand    Kind = "by_hand"
	Advance   Kind = "advance" // already invoiced, negative
	LateFee   Kind = "late"    // a charge for paying late
)

// IsFee reports whether a surcharge, or a discount on fees only, counts on the kind.
func (k Kind) IsFee() bool {
	return k == Time || k == Fixed || k == Recurring || k == Progress
}

// Covers reports whether time behind a line of the kind is covered by it.
func (k Kind) Covers() bool { return k == Fixed || k == Recurring || k == Progress }

// Line is what the totals need to know of a line.
type Line struct {
	Kind    Kind
	TaxCode string
	Amount  money.Amount
}

// Discount is a percentage or an amount, on everything or on fees only.
type Discount struct {
	Percent  money.Percent
	Amount   int64 // minor units; counts if Percent is zero
	FeesOnly bool
}

// counts reports whether a discount is on lines of a kind: an advance is money, not a
// price, and a late charge is none either.
func (d Discount) counts(kind Kind) bool {
	return kind.IsFee() || !d.FeesOnly && kind != Advance && kind != LateFee
}

// Asked is everything from which an invoice is computed.
type Asked struct {
	Currency    money.Currency
	TaxDate     day.Day
	Lines       []Line
	Codes       map[string]tax.Code
	Discount    Discount
	Surcharge   money.Percent // of the fees after their discount
	Withholding money.Percent // of the net
	Credit      int64         // of the client, minor units, at most
	Funds       int64         // held for the client, minor units, at most
}

// Totals is what an invoice comes to, with the steps in between.
type Totals struct {
	Lines       money.Amount  `json:"lines"`
	Discount    money.Amount  `json:"discount"` // positive lowers
	Surcharge   money.Amount  `json:"surcharge"`
	Fees        money.Amount  `json:"fees"` // the fees after discount, on which the surcharge counts
	Percent     money.Percent `json:"surchargePercent"`
	Net         money.Amount  `json:"net"`
	Taxes       []TaxOfCode   `json:"taxes"`
	Tax         money.Amount  `json:"tax"`
	Total       money.Amount  `json:"total"`
	Withholding money.Amount  `json:"withholding"`
	Credit      money.Amount  `json:"credit"`
	Funds       money.Amount  `json:"funds"`
	Due         money.Amount  `json:"due"`
	Shares      []LineShare   `json:"shares,omitempty"` // of each line
}

// LineShare is what discount and surcharge are to one line, in minor units.
type LineShare struct {
	Discount  int64 `json:"discount,omitempty"`
	Surcharge int64 `json:"surcharge,omitempty"`
}

// TaxOfCode is the tax of one code: lines less discount shares plus surcharge
// shares are taxable.
type TaxOfCode struct {
	Code     string       `json:"code"`
	Category tax.Category `json:"category"`
	Notice   string       `json:"notice,omitempty"`
	Taxable  money.Amount `json:"taxable"`
	Parts    []tax.Part   `json:"parts"`
}

// Compute takes the steps. It is an error if lines are in another currency, a
// tax code is unknown or has no rate yet, or a discount exceeds its base.
func Compute(asked Asked) (Totals, error) {
	c := calculation{asked: asked, bases: make([]int64, len(asked.Lines))}
	c.totals.Shares = make([]LineShare, len(asked.Lines))
	for _, step := range []func() error{c.addLines, c.takeDiscount, c.addSurcharge, c.addTaxes, c.takeFromTotal} {
		if err := step(); err != nil {
			return Totals{}, err
		}
	}
	return c.totals, nil
}

// calculation carries the taxable base of every line from step to step.
type calculation struct {
	asked  Asked
	bases  []int64
	totals Totals
}

func (c *calculation) amount(minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: c.asked.Currency}
}

func (c *calculation) addLines() (err error) {
	c.totals.Lines = c.amount(0)
	for i, line := range c.asked.Lines {
		if c.totals.Lines, err = c.totals.Lines.Add(line.Amount); err != nil {
			return err
		}
		c.bases[i] = line.Amount.Minor
	}
	return nil
}

func (c *calculation) takeDiscount() (err error) {
	d := c.asked.Discount
	c.totals.Discount = c.amount(d.Amount)
	if d == (Discount{}) {
		return nil
	}
	base := int64(0)
	counts := func(i int) bool { return d.counts(c.asked.Lines[i].Kind) }
	for i, line := range c.asked.Lines {
		if counts(i) {
			base += line.Amount.Minor
		}
	}
	if d.Percent != 0 {
		if c.totals.Discount, err = d.Percent.Of(c.amount(base)); err != nil {
			return err
		}
	}
	discount := c.totals.Discount.Minor
	if discount > base || discount < 0 {
		return refusal.Errorf("a discount of %s does not fit %s: give at most that", c.totals.Discount, c.amount(base))
	}
	return c.share(-discount, counts, func(s *LineShare, units int64) { s.Discount = -units })
}

func (c *calculation) addSurcharge() (err error) {
	fees := int64(0)
	for i, line := range c.asked.Lines {
		if line.Kind.IsFee() {
			fees += c.bases[i]
		}
	}
	c.totals.Fees, c.totals.Percent = c.amount(fees), c.asked.Surcharge
	if c.totals.Surcharge, err = c.asked.Surcharge.Of(c.totals.Fees); err != nil {
		return err
	}
	return c.share(c.totals.Surcharge.Minor, func(i int) bool { return c.asked.Lines[i].Kind.IsFee() },
		func(s *LineShare, units int64) { s.Surcharge = units })
}

// share spreads minor units over the positive bases that count, by size, and
// notes what each line got.
func (c *calculation) share(minor int64, counts func(i int) bool, note func(*LineShare, int64)) error {
	if minor == 0 {
		return nil
	}
	weights, places := []int64{}, []int{}
	for i, base := range c.bases {
		if base > 0 && counts(i) {
			weights, places = append(weights, base), append(places, i)
		}
	}
	shares, err := money.Split(minor, weights)
	for n, share := range shares {
		c.bases[places[n]] += share
		note(&c.totals.Shares[places[n]], share)
	}
	return err
}

func (c *calculation) addTaxes() (err error) {
	order, taxable := []string{}, map[string]int64{}
	for i, line := range c.asked.Lines {
		if _, known := taxable[line.TaxCode]; !known {
			order = append(order, line.TaxCode)
		}
		taxable[line.TaxCode] += c.bases[i]
	}
	c.totals.Tax, c.totals.Taxes = c.amount(0), []TaxOfCode{}
	for _, name := range order {
		code, known := c.asked.Codes[name]
		if !known {
			return refusal.Errorf("a line has the tax code %q, which does not exist: choose one of the firm's", name)
		}
		parts, err := code.On(c.asked.TaxDate, c.amount(taxable[name]))
		if err != nil {
			return err
		}
		for _, part := range parts {
			if c.totals.Tax, err = c.totals.Tax.Add(part.Tax); err != nil {
				return err
			}
		}
		c.totals.Taxes = append(c.totals.Taxes, TaxOfCode{name, code.Category, code.Notice, c.amount(taxable[name]), parts})
	}
	return nil
}

func (c *calculation) takeFromTotal() (err error) {
	t := &c.totals
	if t.Net, err = money.Sum(c.asked.Currency, t.Lines, t.Discount.Neg(), t.Surcharge); err != nil {
		return err
	}
	if t.Total, err = t.Net.Add(t.Tax); err != nil {
		return err
	}
	for _, sum := range []money.Amount{t.Lines, t.Net, t.Total} {
		if err := sum.Within(); err != nil {
			return err
		}
	}
	if t.Withholding, err = c.asked.Withholding.Of(t.Net); err != nil {
		return err
	}
	left := t.Total.Minor - t.Withholding.Minor
	take := func(held int64) money.Amount {
		taken := min(max(left, 0), max(held, 0))
		left -= taken
		return c.amount(taken)
	}
	t.Credit, t.Funds = take(c.asked.Credit), take(c.asked.Funds)
	t.Due = c.amount(left)
	return nil
}
