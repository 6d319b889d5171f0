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
		asked := invoice.Asked{Currency: o.Currency, TaxDate: taxDay, Codes: s.Codes, Discount: invoice.Discount{Percent: o.Discount.Percent}}
		for _, c := range bill.Charges {
			asked.Lines = append(asked.Lines, invoice.Line{Kind: o.kindOf(c), TaxCode: o.Lines[c.Line].TaxCode, Amount: c.Net})
		}
		var err error
		if bill.Totals, err = invoice.Compute(asked); err != nil {
			return total, err
		}
		for _, part := range []struct{ to, add *money.Amount }{{&total.Net, &bill.Totals.Net}, {&total.Tax, &bill.Totals.Tax}, {&total.Gross, &bill.Totals.Total}} {
			if *part.to, err = part.to.Add(*part.add); err != nil {
				return total, err
			}
		}
		total.Bills = append(total.Bills, bill)
	}
	return total, nil
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
