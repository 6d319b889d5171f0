package runs

import (
	"context"

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
	Time        []money.Amount `json:"time" doc:"one for each currency"`
	Expenses    []money.Amount `json:"expenses"`
	Charges     []money.Amount `json:"charges"`
	NoCharge    []money.Amount `json:"noCharge" doc:"given away at no charge, at standard, negative"`
	OverCap     []money.Amount `json:"overCap" doc:"stays unbilled, because it is over a cap; negative"`
	Held        []money.Amount `json:"held" doc:"stays, on hold; negative"`
	Left        []money.Amount `json:"left" doc:"stays, because it was left; negative"`
	Advances    []money.Amount `json:"advances" doc:"invoiced ahead, come back; negative"`
	Discount    []money.Amount `json:"discount" doc:"negative"`
	Surcharge   []money.Amount `json:"surcharge"`
	Net         []money.Amount `json:"net"`
	Total       []money.Amount `json:"total" doc:"gross"`
	Credit      []money.Amount `json:"credit" doc:"of clients, will be taken"`
	Funds       []money.Amount `json:"funds" doc:"held, will be applied"`
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
	none := func() []money.Amount { return []money.Amount{} }
	t := &Tally{Time: none(), Expenses: none(), Charges: none(), NoCharge: none(), OverCap: none(), Held: none(), Left: none(),
		Advances: none(),
		Discount: none(), Surcharge: none(), Net: none(), Total: none(), Credit: none(), Funds: none()}
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
	return t, nil
}

// sum is an amount in minor units that is added to a list of the tally.
type sum struct {
	to    *[]money.Amount
	minor int64
}

func addAll(in money.Currency, sums ...sum) (err error) {
	for _, s := range sums {
		if *s.to, err = money.AddByCurrency(*s.to, money.Amount{Minor: s.minor, Currency: in}); err != nil {
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
			if err := addAll(e.Currency, sum{&t.Left, -p.Agreed}); err != nil {
				return err
			}
			continue
		}
		if p.Taxed == "time" {
			t.Minutes += p.Minutes
		}
		t.Entries, t.WithoutRate = t.Entries+p.Entries, t.WithoutRate+p.WithoutRates
		if err := addAll(e.Currency, sum{into, p.Agreed}, sum{&t.NoCharge, -p.AtNoCharge}, sum{&t.Held, -p.Held}); err != nil {
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
		if err := addAll(e.Currency, sum{into, minor}); err != nil {
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
	over, back := int64(0), int64(0)
	for _, minor := range d.Over {
		over += minor
	}
	for _, line := range d.Lines {
		if line.Back {
			back += line.Amount
		}
	}
	if err := addAll(d.Currency, sum{&t.OverCap, -over}); err != nil || len(d.Lines) == 0 {
		return err
	}
	if back != 0 {
		if err := addAll(d.Currency, sum{&t.Advances, back}); err != nil {
			return err
		}
	}
	t.Drafts++
	sums := d.Totals
	return addAll(d.Currency, sum{&t.Discount, -sums.Discount.Minor}, sum{&t.Surcharge, sums.Surcharge.Minor},
		sum{&t.Net, sums.Net.Minor}, sum{&t.Total, sums.Total.Minor}, sum{&t.Credit, sums.Credit.Minor}, sum{&t.Funds, sums.Funds.Minor})
}
