package pricing

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/core/tax"
)

// The limits of a grid.
const (
	MostTiers = 5
	MostLines = 200
)

// Offer is what is proposed: the grid of lines and tiers.
type Offer struct {
	Currency   money.Currency `json:"currency"`
	Tiers      []Tier         `json:"tiers"`
	Lines      []Line         `json:"lines"`
	Discount   Discount       `json:"discount,omitzero"`   // on the whole: a percentage of each bill, or an amount off what is billed once
	StartsOn   day.Day        `json:"startsOn,omitempty"`  // no day: when it is accepted
	TermMonths int            `json:"termMonths"`          // at least; 0: open-ended
	Suggested  int            `json:"suggested,omitempty"` // the number of the suggested tier, from 1; 0: none
}

// Tier is a column of the grid.
type Tier struct {
	Name string `json:"name"`
	Note string `json:"note,omitempty"`
}

// Check refuses an offer that can't be computed.
func (o Offer) Check() error {
	switch {
	case len(o.Tiers) == 0 || len(o.Tiers) > MostTiers:
		return refusal.Errorf("a proposal has one to %d tiers, not %d", MostTiers, len(o.Tiers))
	case len(o.Lines) > MostLines:
		return refusal.Errorf("a proposal has at most %d services", MostLines)
	case o.TermMonths < 0 || o.TermMonths > 600:
		return refusal.Errorf("a term of %d months is out of range: give 0 to 600", o.TermMonths)
	case o.Suggested < 0 || o.Suggested > len(o.Tiers):
		return refusal.Errorf("there is no tier %d to suggest", o.Suggested)
	case o.Discount.Percent < 0 || o.Discount.Percent > money.Hundred || o.Discount.Amount < 0:
		return refusal.Errorf("a discount on the whole is 0 to 100 %%, or an amount")
	}
	for _, l := range o.Lines {
		if len(l.Cells) != len(o.Tiers) {
			return refusal.Errorf("%s has %d cells for %d tiers", l.Description, len(l.Cells), len(o.Tiers))
		}
		if err := l.Check(); err != nil {
			return err
		}
		if l.Rule.ToTerm && o.TermMonths == 0 {
			return refusal.Errorf("%s runs until the end of the term, and there is none: give the least term in months", l.Description)
		}
	}
	return nil
}

// Choice is what a client chose: a tier, options, and quantities where they are
// asked. Lines are counted from 0.
type Choice struct {
	Tier       int           `json:"tier"`
	Options    []int         `json:"options,omitempty"`
	Quantities map[int]int64 `json:"quantities,omitempty"` // ten-thousandths
	Everything bool          `json:"-"`                    // with every option
}

// Setting is what an offer is computed in: the day on which it is accepted, the
// tax codes, and what an hour costs and is worth.
type Setting struct {
	Accepted day.Day
	Codes    map[string]tax.Code
	Hours    map[Worker]HourRates
	// CostExchange is what a unit of the firm's currency, in which costs are, is
	// worth in the offer's.
	CostCurrency money.Currency
	CostExchange money.ExchangeRate
}

// start is the first day of service.
func (o Offer) start(s Setting) day.Day {
	if o.StartsOn.IsZero() {
		return s.Accepted
	}
	return o.StartsOn
}

// end is the last day of the term, or no day if it is open.
func (o Offer) end(s Setting) day.Day {
	if o.TermMonths == 0 {
		return 0
	}
	return o.start(s).AddMonths(o.TermMonths) - 1
}
