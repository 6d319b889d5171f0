package runs

import (
	"context"
	"strings"

	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// Tally is what making drafts of a selection would come to, to the cent: what is
// billed, and what stays or is given away.
type Tally struct {
	Engagements int            `json:"engagements"`
	Drafts      int            `json:"drafts"`
	Entries     int            `json:"entries"`
	Minutes     int            `json:"minutes" doc:"of time that is billed by itself"`
	Time        explain.Totals `json:"time" doc:"one for each currency"`
	Expenses    explain.Totals `json:"expenses"`
	Charges     explain.Totals `json:"charges"`
	NoCharge    explain.Totals `json:"noCharge" doc:"given away at no charge, at standard, negative"`
	OverCap     explain.Totals `json:"overCap" doc:"stays unbilled, because it is over a cap; negative"`
	Held        explain.Totals `json:"held" doc:"stays, on hold; negative"`
	Left        explain.Totals `json:"left" doc:"stays, because it was left; negative"`
	Advances    explain.Totals `json:"advances" doc:"invoiced ahead, come back; negative"`
	Discount    explain.Totals `json:"discount" doc:"negative"`
	Surcharge   explain.Totals `json:"surcharge"`
	Net         explain.Totals `json:"net"`
	Total       explain.Totals `json:"total" doc:"gross"`
	Credit      explain.Totals `json:"credit" doc:"of clients, will be taken"`
	Funds       explain.Totals `json:"funds" doc:"held, will be applied"`
	WithoutRate int            `json:"withoutRate" doc:"entries that stay, because no rate holds for them"`
	OpenPrices  int            `json:"openPrices" doc:"charges whose price is still to be given"`
}

// Preview says what making drafts of a selection would come to. It changes nothing.
func Preview(ctx context.Context, a *app.App, actor app.Actor, s unbilled.Selection) (*Tally, error) {
	if err := s.Complete(); err != nil {
		return nil, err
	}
	work, err := unbilled.Read(a.Read(ctx, actor), a.Clock.Today(), s)
	if err != nil {
		return nil, err
	}
	return tallyOf(work)
}

func tallyOf(work *unbilled.Work) (*Tally, error) {
	t := new(Tally)
	for i := range work.Engagements {
		if err := t.addEngagement(work, &work.Engagements[i]); err != nil {
			return nil, err
		}
	}
	for i := range work.Drafts {
		if err := t.addDraft(&work.Drafts[i]); err != nil {
			return nil, err
		}
	}
	for _, sums := range t.sums() {
		*sums.of = sums.of.Shortened()
		for i := range *sums.of {
			(*sums.of)[i].Explanation.Label = sums.label
		}
	}
	return t, nil
}

type labelled struct {
	of    *explain.Totals
	label string
}

func (t *Tally) sums() []labelled {
	return []labelled{{&t.Time, "Time"}, {&t.Expenses, "Expenses"}, {&t.Charges, "Charges"}, {&t.NoCharge, "At no charge"},
		{&t.OverCap, "Over the cap"}, {&t.Held, "On hold"}, {&t.Left, "Left"}, {&t.Advances, "Advances"}, {&t.Discount, "Discount"},
		{&t.Surcharge, "Surcharge"}, {&t.Net, "To bill, net"}, {&t.Total, "Total, gross"}, {&t.Credit, "Credit"}, {&t.Funds, "Funds"}}
}

// sum is an amount in minor units that is added to sums of the tally.
type sum struct {
	to    *explain.Totals
	minor int64
}

// addAll adds what is of something, in its currency.
func addAll(of explain.Step, in money.Currency, added ...sum) error {
	for _, s := range added {
		if err := s.to.Add("", of, money.Amount{Minor: s.minor, Currency: in}); err != nil {
			return err
		}
	}
	return nil
}

// addEngagement adds what is there of an engagement, and what of it is left.
func (t *Tally) addEngagement(work *unbilled.Work, e *store.EngagementRow) error {
	leaves, parts, charges := work.Left[e.ID], work.Parts[e.ID], work.Charges[e.ID]
	if len(parts) > 0 || len(charges) > 0 {
		t.Engagements++
	}
	for _, p := range parts {
		into, left := &t.Expenses, leaves.Expenses
		if p.Taxed == "time" {
			into, left = &t.Time, leaves.Time
		}
		if left {
			if err := addAll(explain.Step{Label: e.Client, Detail: e.Name}, e.Currency, sum{&t.Left, -p.Agreed}); err != nil {
				return err
			}
			continue
		}
		if p.Taxed == "time" {
			t.Minutes += p.Minutes
		}
		t.Entries, t.WithoutRate = t.Entries+p.Entries, t.WithoutRate+p.WithoutRates
		if err := addAll(explain.Step{Label: e.Client, Detail: e.Name}, e.Currency, sum{into, p.Agreed},
			sum{&t.NoCharge, -p.AtNoCharge}, sum{&t.Held, -p.Held}); err != nil {
			return err
		}
	}
	for _, c := range charges {
		into, minor := &t.Charges, c.Amount
		if leaves.Charges {
			into, minor = &t.Left, -c.Amount
		} else if c.Open {
			t.OpenPrices++
		}
		if err := addAll(explain.Step{Label: e.Client, Detail: e.Name}, e.Currency, sum{into, minor}); err != nil {
			return err
		}
	}
	return nil
}

// addDraft adds what a draft would come to, and what caps keep off it.
func (t *Tally) addDraft(d *unbilled.Draft) error {
	if d.Refused != nil {
		return d.Refused
	}
	t.Entries -= len(d.Draft.Left) // where a cap leaves something, portions were read one by one
	names := []string{}
	for _, e := range d.Engagements {
		names = append(names, e.Name)
	}
	of := explain.Step{Label: d.Engagements[0].Client, Detail: strings.Join(names, ", ")}
	over := int64(0)
	for _, minor := range d.Over {
		over += minor
	}
	if err := addAll(of, d.Currency, sum{&t.OverCap, -over}); err != nil || len(d.Lines) == 0 {
		return err
	}
	for _, bill := range d.Bills() {
		if err := t.addBill(of, d.Currency, &bill); err != nil {
			return err
		}
	}
	return nil
}

// addBill adds what one invoice would come to.
func (t *Tally) addBill(of explain.Step, in money.Currency, bill *unbilled.Bill) error {
	t.Drafts++
	if back := bill.Back(); back != 0 {
		if err := addAll(of, in, sum{&t.Advances, back}); err != nil {
			return err
		}
	}
	sums := bill.Totals
	return addAll(of, in, sum{&t.Discount, -sums.Discount.Minor}, sum{&t.Surcharge, sums.Surcharge.Minor}, sum{&t.Net, sums.Net.Minor},
		sum{&t.Total, sums.Total.Minor}, sum{&t.Credit, sums.Credit.Minor}, sum{&t.Funds, sums.Funds.Minor})
}
