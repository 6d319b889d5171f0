package timekeeping

import (
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// keepShares saves the shares of a purchase with their portions and movements,
// and removes those that are gone.
func keepShares(tx *app.Tx, r *calculatedPurchase, in TypedPurchase, before []store.ExpenseRow) (*Purchase, error) {
	p := &r.purchase
	tx.LinkTo(app.OfPurchase, p.ID)
	gone := map[int64]*store.ExpenseRow{}
	for i := range before {
		gone[before[i].ID] = &before[i]
	}
	engagements := map[int64]bool{}
	for i := range r.shares {
		s := &r.shares[i]
		s.PurchaseID = p.ID
		was := gone[s.ID]
		delete(gone, s.ID)
		if was == nil {
			s.Row = store.Row{}
		}
		if err := keepShare(tx, s, was, in.Shares[i].Hold); err != nil {
			return nil, err
		}
		if s.EngagementID != nil {
			engagements[*s.EngagementID] = true
		}
	}
	for _, was := range gone {
		if err := dropShare(tx, was); err != nil {
			return nil, err
		}
	}
	if in.Files != nil {
		if err := attach(tx, ofPurchase, p.ID, in.Files); err != nil {
			return nil, err
		}
	}
	for id := range engagements {
		if err := setup.AlertBudgets(tx, id, p.Day); err != nil {
			return nil, err
		}
	}
	shares, err := store.SharesOf(tx.DB, p.ID)
	if err != nil {
		return nil, err
	}
	return purchaseShown(tx.DB, p, shares)
}

// keepShare saves one share; was is how it stood before, or nil.
func keepShare(tx *app.Tx, s *store.Expense, was *store.ExpenseRow, held string) error {
	if was == nil {
		if err := store.Insert(tx.DB, s); err != nil {
			return err
		}
		return newPortion(tx, s, held)
	}
	s.Row, s.ReturnedFrom = was.Row, was.ReturnedFrom
	if locked(was) {
		if !sameShare(s, &was.Expense) {
			return shareLocked(was)
		}
		s.Valued = was.Valued
		return store.Save(tx.DB, s)
	}
	if err := dropPortion(tx, was); err != nil {
		return err
	}
	if err := store.Save(tx.DB, s); err != nil {
		return err
	}
	return newPortion(tx, s, held)
}

func locked(was *store.ExpenseRow) bool {
	_, err := was.Billing.After(wip.Change)
	return was.EngagementID != nil && (err != nil || was.Decided)
}

func shareLocked(was *store.ExpenseRow) error {
	if was.NumberText != "" {
		return app.Refuse(app.Conflict, "The share on %s is billed on %s and can't be changed: reopen or credit that invoice first.",
			was.Engagement, was.NumberText)
	}
	if was.Decided {
		return errDecided
	}
	return app.Refuse(app.Conflict, "The share on %s is on a draft: take it out of the draft first.", was.Engagement)
}

// sameShare reports whether nothing that is billed has changed.
func sameShare(a, b *store.Expense) bool {
	return numberOf(a.EngagementID) == numberOf(b.EngagementID) && a.Day == b.Day && a.Treatment == b.Treatment && a.Cost == b.Cost &&
		a.Agreed == b.Agreed
}

// newPortion gives a share on an engagement its portion.
func newPortion(tx *app.Tx, s *store.Expense, held string) error {
	if s.EngagementID == nil {
		return nil
	}
	portion := store.Portion{Source: "expense", SourceID: s.ID, EngagementID: *s.EngagementID, WorkedDay: s.Day, Treatment: s.Treatment,
		Standard: s.Standard, Agreed: s.Agreed, Currency: s.Currency, Hold: wip.NoHold, Billing: wip.Unbilled}
	if s.Treatment == wip.NotBillable {
		portion.Billing = wip.Outside
	}
	if err := hold(&portion, held); err != nil {
		return err
	}
	if err := store.Insert(tx.DB, &portion); err != nil {
		return err
	}
	tx.Move("recorded", s.Day, portion, wip.InRecorded, portion.Bucket(), nil)
	return nil
}

// dropPortion takes the portion of a share away, if it has one.
func dropPortion(tx *app.Tx, was *store.ExpenseRow) error {
	if was.EngagementID == nil {
		return nil
	}
	portion, err := store.PortionOfExpense(tx.DB, was.ID)
	if err != nil {
		return err
	}
	tx.Move("changed", was.Day, *portion, portion.Bucket(), wip.InRecorded, nil)
	portion.Removed = true
	return store.Save(tx.DB, portion)
}

// dropShare removes a share that is not billed.
func dropShare(tx *app.Tx, was *store.ExpenseRow) error {
	if locked(was) {
		return shareLocked(was)
	}
	if err := dropPortion(tx, was); err != nil {
		return err
	}
	was.Removed = true
	return store.Save(tx.DB, &was.Expense)
}
