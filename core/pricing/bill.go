package pricing

import (
	"cmp"
	"slices"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
)

// Bill is one bill of the calendar: the charges of one day, or of one event,
// computed as their invoice will be.
type Bill struct {
	Day     day.Day        `json:"day,omitempty"` // no day: it follows from the event
	Event   string         `json:"event,omitempty"`
	Charges []Charge       `json:"charges"`
	Totals  invoice.Totals `json:"totals"`
}

// Sum is what bills come to.
type Sum struct {
	Net   money.Amount `json:"net"`
	Tax   money.Amount `json:"tax"`
	Gross money.Amount `json:"gross"`
	Bills []Bill       `json:"-"`
}

// Off is what a discount on the whole takes off a bill: its percent, or the bill's share of an
// amount.
func (b Bill) Off() money.Amount {
	off := b.Totals.Discount
	for _, c := range b.Charges {
		off.Minor += c.Discount.Minor
	}
	return off
}

// Off is what a discount on the whole takes off the bills.
func (s Sum) Off() money.Amount {
	off := money.Zero(s.Net.Currency)
	for _, b := range s.Bills {
		off.Minor += b.Off().Minor
	}
	return off
}

// kindOf is what a charge is on an invoice.
func (o Offer) kindOf(c Charge) invoice.Kind {
	switch {
	case !c.Once:
		return invoice.Recurring
	case o.Lines[c.Line].Kind == Hourly:
		return invoice.Time
	}
	return invoice.Fixed
}

// sum puts charges of the same day or event on one bill and adds the bills: the
// tax of a total is the sum of the taxes of its bills.
func (o Offer) sum(s Setting, charges []Charge) (Sum, error) {
	total := Sum{money.Zero(o.Currency), money.Zero(o.Currency), money.Zero(o.Currency), []Bill{}}
	for _, bill := range group(charges) {
		taxDay := bill.Day
		if taxDay.IsZero() {
			taxDay = max(s.Accepted, o.start(s))
		}
		asked := invoice.Asked{Currency: o.Currency, TaxDate: taxDay, Codes: s.Codes,
			Discount: invoice.Discount{Percent: o.Discount.Percent}}
		for _, c := range bill.Charges {
			asked.Lines = append(asked.Lines, invoice.Line{Kind: o.kindOf(c), TaxCode: o.Lines[c.Line].TaxCode, Amount: c.Net})
		}
		var err error
		if bill.Totals, err = invoice.Compute(asked); err != nil {
			return total, err
		}
		for i := range bill.Charges {
			bill.Charges[i].Share = bill.Totals.Shares[i].Discount
		}
		for _, part := range []struct{ to, add *money.Amount }{{&total.Net, &bill.Totals.Net}, {&total.Tax, &bill.Totals.Tax},
			{&total.Gross, &bill.Totals.Total}} {
			if *part.to, err = part.to.Add(*part.add); err != nil {
				return total, err
			}
		}
		total.Bills = append(total.Bills, bill)
	}
	return total, nil
}

// part is what some charges of a sum come to: each brings what its bill leaves it of the
// discount, so that parts add up to their whole.
func (o Offer) part(s Setting, whole Sum, counts func(Charge) bool) (Sum, error) {
	total := Sum{money.Zero(o.Currency), money.Zero(o.Currency), money.Zero(o.Currency), []Bill{}}
	for _, bill := range whole.Bills {
		own := filter(bill.Charges, counts)
		if len(own) == 0 {
			continue
		}
		if len(own) < len(bill.Charges) {
			alone, err := o.sum(s, own)
			if err != nil {
				return total, err
			}
			bill.Totals, bill.Charges = alone.Bills[0].Totals, own
			bill.Totals.Discount.Minor = 0
			for _, c := range own {
				bill.Totals.Discount.Minor += c.Share
			}
			bill.Totals.Net.Minor = bill.Totals.Lines.Minor - bill.Totals.Discount.Minor
			bill.Totals.Total.Minor = bill.Totals.Net.Minor + bill.Totals.Tax.Minor
		}
		total.Net.Minor += bill.Totals.Net.Minor
		total.Tax.Minor += bill.Totals.Tax.Minor
		total.Gross.Minor += bill.Totals.Total.Minor
		total.Bills = append(total.Bills, bill)
	}
	return total, nil
}

// Left is what some charges of a bill come to after discount, less their deposits.
func (b Bill) Left(counts func(Charge) bool) (left money.Amount) {
	left = money.Zero(b.Totals.Net.Currency)
	for _, c := range filter(b.Charges, counts) {
		left.Minor += c.left() - c.Deposit.Minor
	}
	return left
}

// group orders bills by day; those that wait for an event come last.
func group(charges []Charge) []Bill {
	bills := []Bill{}
	for _, c := range charges {
		i := slices.IndexFunc(bills, func(b Bill) bool { return b.Day == c.Bill && b.Event == c.Event })
		if i < 0 {
			bills = append(bills, Bill{Day: c.Bill, Event: c.Event})
			i = len(bills) - 1
		}
		bills[i].Charges = append(bills[i].Charges, c)
	}
	slices.SortStableFunc(bills, func(a, b Bill) int {
		if a.Day.IsZero() != b.Day.IsZero() {
			return map[bool]int{true: 1, false: -1}[a.Day.IsZero()]
		}
		return cmp.Compare(a.Day, b.Day)
	})
	return bills
}
