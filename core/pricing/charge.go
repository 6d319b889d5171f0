package pricing

import (
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
)

// Charge is one amount that a line brings onto a bill.
type Charge struct {
	Line     int          `json:"line"` // of the offer, from 0
	Once     bool         `json:"once"`
	Bill     day.Day      `json:"bill,omitempty"` // no day where only an event gives it
	Event    string       `json:"event,omitempty"`
	Period   *Period      `json:"period,omitempty"`
	Net      money.Amount `json:"net"`             // before a percent discount on the whole
	Discount money.Amount `json:"discount"`        // its share of an amount off the whole, already taken
	Share    int64        `json:"share,omitempty"` // of a percent discount of its bill, minor units
	Open     bool         `json:"open,omitempty"`
	Estimate bool         `json:"estimate,omitempty"` // billed from the time recorded, not as a charge
	Hand     bool         `json:"hand,omitempty"`
	Paused   bool         `json:"paused,omitempty"`
	Deposit  money.Amount `json:"deposit"` // requested on acceptance, part of the charge
}

// left is what a charge comes to after its share of every discount.
func (c Charge) left() int64 { return c.Net.Minor - c.Share }

// InTier is a line in the chosen tier.
type InTier struct {
	Line   int
	State  State
	Chosen bool
	Asks   bool
	Priced Priced
	Rule   Rule
}

// AsWorked reports whether a line is billed by the hours worked, at once or each period: what is
// priced of it is an expectation, never a flat sum.
func (l InTier) AsWorked() bool {
	return l.Rule.When == AsWorked || l.Rule.When == Recurring && l.Priced.Kind == Hourly
}

// linesIn prices the lines of a tier. What is optional is chosen or not.
func (o Offer) linesIn(c Choice) ([]InTier, error) {
	lines := []InTier{}
	for i, l := range o.Lines {
		cell := l.Cells[c.Tier]
		if cell.State == Out {
			continue
		}
		chosen := cell.State == In || c.Everything || slices.Contains(c.Options, i)
		quantity := int64(0)
		if cell.Asks {
			quantity = c.Quantities[i]
		}
		priced, err := l.price(cell, quantity, o.Currency)
		if err != nil {
			return nil, err
		}
		lines = append(lines, InTier{i, cell.State, chosen, cell.Asks, priced, l.Rule})
	}
	return lines, nil
}

// charges lists what the chosen lines bring, of periods that begin before a day.
func (o Offer) charges(s Setting, lines []InTier, before day.Day) ([]Charge, error) {
	all := []Charge{}
	for _, l := range lines {
		if !l.Chosen {
			continue
		}
		made, err := o.chargesOf(s, l, before)
		if err != nil {
			return nil, err
		}
		all = append(all, made...)
	}
	return all, o.shareDiscount(all)
}

func (o Offer) chargesOf(s Setting, l InTier, before day.Day) ([]Charge, error) {
	base := Charge{Line: l.Line, Once: l.Rule.IsOnce(), Net: l.Priced.Net, Discount: money.Zero(o.Currency),
		Deposit: money.Zero(o.Currency),
		Open:    l.Priced.Kind == Open, Hand: l.Rule.Hand || l.Rule.When == ByHand, Paused: l.Rule.Paused}
	switch l.Rule.When {
	case OnAcceptance:
		base.Bill = s.Accepted
	case OnDay:
		base.Bill = l.Rule.Day
	case AtMilestone:
		base.Event = "when " + l.Rule.Milestone
	case ByHand:
		base.Event = "by hand"
		if base.Open {
			base.Event = "priced when billed"
		}
	case AsWorked:
		base.Event, base.Estimate = "as worked", true
	case Recurring:
		base.Estimate = l.AsWorked()
		return recurring(base, l.Rule.Periods(o.start(s), before, o.end(s)))
	}
	return []Charge{base}, nil
}

func recurring(base Charge, periods []Period) ([]Charge, error) {
	charges := make([]Charge, 0, len(periods))
	for _, p := range periods {
		c := base
		c.Bill, c.Period = p.Bill, &p
		if p.IsPart() {
			net, err := Prorate(base.Net, p.Days, p.Whole)
			if err != nil {
				return nil, err
			}
			c.Net = net
		}
		charges = append(charges, c)
	}
	return charges, nil
}

// Prorate is price × days / whole, rounded once.
func Prorate(price money.Amount, days, whole int64) (money.Amount, error) {
	minor, err := money.MulDiv(price.Minor, days, whole)
	return money.Amount{Minor: minor, Currency: price.Currency}, err
}

// shareDiscount takes an amount off the whole from what is billed once, by the
// rule of splitting, and computes deposits of what is left after any discount.
func (o Offer) shareDiscount(charges []Charge) error {
	if o.Discount.Percent == 0 && o.Discount.Amount > 0 {
		if err := o.takeAmount(charges); err != nil {
			return err
		}
	}
	for i := range charges {
		off, err := o.Discount.Percent.Of(charges[i].Net)
		if err != nil {
			return err
		}
		left, err := charges[i].Net.Sub(off)
		if err != nil {
			return err
		}
		if charges[i].Deposit, err = o.Lines[charges[i].Line].Rule.Deposit.Of(left); err != nil {
			return err
		}
	}
	return nil
}

func (o Offer) takeAmount(charges []Charge) error {
	weights, places, base := []int64{}, []int{}, money.Zero(o.Currency)
	for i, c := range charges {
		if c.Once && c.Net.Minor > 0 && !c.Estimate {
			weights, places = append(weights, c.Net.Minor), append(places, i)
			base.Minor += c.Net.Minor
		}
	}
	if len(charges) == 0 {
		return nil
	}
	taken, err := o.Discount.of(base)
	if err != nil || len(weights) == 0 {
		return err
	}
	shares, err := money.Split(taken.Minor, weights)
	for n, share := range shares {
		charges[places[n]].Discount.Minor = share
		charges[places[n]].Net.Minor -= share
	}
	return err
}
