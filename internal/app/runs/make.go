package runs

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// Made is a draft that was made.
type Made struct {
	ID     int64        `json:"id"`
	RunID  int64        `json:"runId"`
	Client string       `json:"client"`
	Net    money.Amount `json:"net"`
}

// MakeDrafts puts the unbilled work and charges of a selection on drafts, one for
// a client or for an engagement, as the client has it or as was chosen: a billing
// run. What is on them is reserved, so that nothing is billed twice.
func MakeDrafts(ctx context.Context, a *app.App, r app.Request, s unbilled.Selection) ([]Made, error) {
	return app.Do(ctx, a, r, "make drafts", s, func(tx *app.Tx) ([]Made, error) {
		return makeDrafts(tx, s)
	})
}

func makeDrafts(tx *app.Tx, s unbilled.Selection) ([]Made, error) {
	if err := s.Complete(); err != nil {
		return nil, err
	}
	run, err := runFor(tx, &s)
	if err != nil {
		return nil, err
	}
	work, err := unbilled.Take(tx, s)
	if err != nil {
		return nil, err
	}
	if len(work.Drafts) == 0 {
		return nil, app.Refuse(app.Conflict, "Nothing of this is unbilled up to %s. It may be on a draft already: look under Billing.",
			s.UpTo.Long())
	}
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return nil, err
	}
	made, capped := []Made{}, []string{}
	for i := range work.Drafts {
		d := &work.Drafts[i]
		inv, err := keepDraft(tx, firm, run, d)
		if err != nil {
			return nil, err
		}
		if inv == nil {
			capped = append(capped, d.Engagements[0].Name)
			continue
		}
		each, err := among(tx, firm, run, inv, d)
		if err != nil {
			return nil, err
		}
		for _, part := range each {
			client, err := store.Get[store.Client](tx.DB, part.ClientID)
			if err != nil {
				return nil, err
			}
			made = append(made, Made{part.ID, run.ID, client.Name, part.Amount(part.Net)})
		}
	}
	if len(made) == 0 {
		return nil, app.Refuse(app.Conflict, "The cap of %s is reached, so that nothing of this can be billed. Agree on a higher "+
			"cap and set it first.",
			strings.Join(capped, ", "))
	}
	tx.Describe(nil, nil, "Made %s of work up to %s", app.Counted(len(made), "draft", "drafts"), s.UpTo.Long())
	return made, join(tx, run, work)
}

// among divides a draft among those who pay it together, as was computed. Where a price is still to be given it stays whole, and is divided
// by hand once it is.
func among(tx *app.Tx, firm *store.Firm, run *store.BillingRun, inv *store.Invoice, d *unbilled.Draft) ([]*store.Invoice, error) {
	open := slices.ContainsFunc(d.Items, func(i unbilled.Item) bool { return i.Charge != nil && i.Charge.Open })
	if d.Engagements[0].Payers == 0 || open {
		return []*store.Invoice{inv}, nil
	}
	beside, err := drafts.Divide(tx, firm, inv)
	if err != nil {
		return nil, err
	}
	each := append([]*store.Invoice{inv}, beside...)
	for _, part := range each {
		follow(part, run)
		if err := drafts.Recompute(tx, firm, part); err != nil {
			return nil, err
		}
	}
	return each, nil
}

// join makes engagements members of the run, with what is taken of each.
func join(tx *app.Tx, run *store.BillingRun, work *unbilled.Work) error {
	for _, d := range work.Drafts {
		for _, e := range d.Engagements {
			leaves := work.Left[e.ID]
			member := store.RunMember{RunID: run.ID, EngagementID: e.ID, Time: !leaves.Time, Expenses: !leaves.Expenses,
				Charges: !leaves.Charges}
			if err := store.SetMember(tx.DB, member); err != nil {
				return err
			}
		}
	}
	return nil
}

// keepDraft stores a draft that was computed; nil where a cap leaves nothing of it.
func keepDraft(tx *app.Tx, firm *store.Firm, run *store.BillingRun, d *unbilled.Draft) (*store.Invoice, error) {
	if d.Refused != nil {
		return nil, d.Refused
	}
	for _, at := range d.Draft.Left {
		if err := store.MarkOverCap(tx.DB, d.Items[at].Portion.ID); err != nil {
			return nil, err
		}
	}
	if len(d.Lines) == 0 {
		return nil, nil
	}
	inv, err := drafts.Blank(d.Key, d.Profile, run.UpToDay, run.Dated)
	if err != nil {
		return nil, err
	}
	inv.RunID = &run.ID
	follow(inv, run)
	if err := store.Insert(tx.DB, inv); err != nil {
		return nil, err
	}
	tx.LinkTo(app.OfInvoice, inv.ID)
	if err := drafts.KeepItems(tx, inv, d); err != nil {
		return nil, err
	}
	return inv, drafts.KeepSums(tx, firm, inv, &d.Draft, d.FundsHeld)
}
