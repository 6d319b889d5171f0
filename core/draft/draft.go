// Package draft says what an invoice of unbilled work would be: what of the work
// stands on it where caps are agreed, what of advances, credit and funds it takes, and
// what it comes to. Looking at what a run would make, making it, and changing a draft
// are this one computation.
//
// It is given everything that can stand on one invoice, with the terms that were agreed,
// and gives back the lines in their order. What of them is stored, and how, is the
// caller's.
//
//	1,200.00 of work under a cap of 900.00 less 10 % discount: 1,000.00 stands on it, 200.00 stays, the net is 900.00
package draft

import (
	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/tax"
)

// Item is what can stand on a draft: a portion of work, a charge, or a line that is there
// already. Where no line has to be looked at by itself ([Asked.OneByOne]), one item can
// be the sum of many that are alike.
type Item struct {
	Engagement int64
	Kind       invoice.Kind
	TaxCode    string
	Amount     int64 // minor units
	Day        day.Day
	Position   int  // 0: by engagement and day
	Cuts       bool // a cap may cut it, or leave it out
	OutOfScope bool // counts against no cap
	TakesBack  bool // takes back what was invoiced ahead; negative
}

// underCap reports whether an item counts against the cap of its engagement: fees and
// lines by hand do, expenses, late charges and what is outside of the scope do not.
func (i Item) underCap() bool {
	return i.Kind != invoice.Expense && i.Kind != invoice.Advance && i.Kind != invoice.LateFee && !i.OutOfScope
}

// Advance is what was invoiced ahead of an engagement and has still to come back.
type Advance struct {
	Engagement int64
	TaxCode    string
	Left       int64 // minor units
}

// Asked is everything from which one draft is computed. Amounts are in minor units of
// its currency.
type Asked struct {
	Currency  money.Currency
	TaxDate   day.Day
	Codes     map[string]tax.Code
	Items     []Item
	Caps      map[int64]int64 // what is left of the cap of an engagement; no entry: no cap
	Terms     Terms
	Advances  []Advance
	Credit    int64        // of the client, free
	FundsHeld []funds.Held // of the client, in the order in which they are taken
}

// OneByOne reports whether items must be portions, one by one: what a cap, a discount or
// a surcharge leaves of each depends on how it is shared. Else sums do as well.
func (a *Asked) OneByOne() bool { return len(a.Caps) > 0 || a.Terms.Shared() }

// Line is what of an item, or of an advance that comes back, stands on a draft.
type Line struct {
	Of         int // place among the items; of an advance, among the advances
	Back       bool
	Engagement int64
	Amount     int64 // minor units
	Share      invoice.LineShare
}

// Net is what the line brings to the net of the draft.
func (l Line) Net() int64 { return l.Amount - l.Share.Discount + l.Share.Surcharge }

// Draft is what an invoice would be.
type Draft struct {
	Lines  []Line  // in their order; advances that come back are last
	Over   []int64 // of each item, minor units that stay unbilled over a cap
	Left   []int   // places of items that stay as a whole
	Funds  []int64 // taken of each fund, minor units
	Totals invoice.Totals
}

// Compute says what a draft is. It is an error where the invoice can't be computed, as
// with a discount of more than there is: see [invoice.Compute].
func Compute(asked Asked) (Draft, error) {
	fits, err := Fits(asked)
	if err != nil {
		return Draft{}, err
	}
	c := calculation{asked: asked, draft: Draft{Over: make([]int64, len(asked.Items)), Funds: make([]int64, len(asked.FundsHeld))}}
	for _, at := range inOrder(asked.Items) {
		item := asked.Items[at]
		c.draft.Over[at] = item.Amount - fits[at]
		if fits[at] == 0 && item.Amount > 0 {
			c.draft.Left = append(c.draft.Left, at)
			continue
		}
		c.add(Line{Of: at, Engagement: item.Engagement, Amount: fits[at]}, item.Kind, item.TaxCode)
	}
	for _, step := range []func() error{c.takeLessBack, c.takeBack, c.takeHeld} {
		if err := step(); err != nil {
			return Draft{}, err
		}
	}
	return c.draft, nil
}

// calculation carries the draft, and what the invoice is asked with, from step to step.
type calculation struct {
	asked   Asked
	draft   Draft
	invoice []invoice.Line
}

func (c *calculation) add(l Line, kind invoice.Kind, taxCode string) {
	c.draft.Lines = append(c.draft.Lines, l)
	c.invoice = append(c.invoice, invoice.Line{Kind: kind, TaxCode: taxCode,
		Amount: money.Amount{Minor: l.Amount, Currency: c.asked.Currency}})
}

func (c *calculation) totals(credit, held int64) (invoice.Totals, error) {
	a := c.asked
	return invoice.Compute(a.Terms.On(invoice.Asked{Currency: a.Currency, TaxDate: a.TaxDate, Codes: a.Codes, Lines: c.invoice,
		Credit: credit, Funds: held}))
}

// takeHeld takes credit of the client, then funds held for them, never more than is due,
// and keeps what the draft comes to with them.
func (c *calculation) takeHeld() error {
	totals, err := c.totals(0, 0)
	if err != nil {
		return err
	}
	due, credit, held := totals.Due.Minor, int64(0), int64(0)
	if c.asked.Terms.UseCredit {
		credit = min(max(c.asked.Credit, 0), max(due, 0))
	}
	if c.asked.Terms.UseFunds {
		c.draft.Funds, held = funds.Take(due-credit, c.asked.FundsHeld, c.asked.Terms.FundsAtMost)
	}
	if credit > 0 || held > 0 {
		if totals, err = c.totals(credit, held); err != nil {
			return err
		}
	}
	for i := range c.draft.Lines {
		c.draft.Lines[i].Share = totals.Shares[i]
	}
	c.draft.Totals = totals
	return nil
}
