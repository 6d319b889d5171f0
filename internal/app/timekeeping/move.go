package timekeeping

import (
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Move is a portion's entry or expense on its way to another engagement: what it becomes is
// known, and nothing is stored yet.
type Move struct {
	to      *store.Engagement
	entry   *BulkChanged // of time
	expense *store.Expense
	portion *store.Portion // of an expense, as it is now
}

// PlanMove says what the entry or expense of a portion becomes on another engagement, or
// refuses it.
func PlanMove(tx *app.Tx, p *store.Portion, engagementID int64) (*Move, error) {
	to, err := setup.EngagementSeen(tx.DB, engagementID)
	if err != nil {
		return nil, err
	}
	m := &Move{to: to}
	if p.Source != "time" {
		return m, m.planExpense(tx, p.SourceID)
	}
	if m.entry, err = bulkChanged(tx.DB, tx.Actor, BulkChange{IDs: []int64{p.SourceID}, EngagementID: engagementID}); err != nil {
		return nil, err
	}
	if len(m.entry.Stay) > 0 {
		return nil, app.Refuse(app.Conflict, "%s", m.entry.Stay[0].Why)
	}
	return m, nil
}

// Onto puts what it becomes on a portion, as far as others look at it.
func (m *Move) Onto(p *store.Portion) {
	p.EngagementID = m.to.ID
	if m.entry == nil {
		return
	}
	for _, e := range m.entry.Entries {
		p.Minutes, p.Standard, p.Agreed = e.after.BilledMinutes, e.after.Standard, e.after.Agreed
		p.Currency, p.WithoutRate = e.after.Currency, e.after.Valued.WithoutRate
	}
}

// Store moves it.
func (m *Move) Store(tx *app.Tx) error {
	if m.entry != nil {
		return m.entry.apply(tx)
	}
	return m.storeExpense(tx)
}

// planExpense refuses an expense that can't move to another engagement; it keeps its value.
func (m *Move) planExpense(tx *app.Tx, id int64) error {
	expense, err := store.Get[store.Expense](tx.DB, id)
	if err != nil {
		return app.Missing(err, "expense")
	}
	rows, err := store.ExpensesByID(tx.DB, []int64{id})
	if err != nil {
		return err
	}
	switch {
	case m.to.Currency != expense.Currency:
		return app.RefuseField("engagementId", "%s is billed in %s and this expense is in %s: change the purchase instead.", m.to.Name,
			m.to.Currency, expense.Currency)
	case !m.to.Active || !m.to.Billable:
		return app.RefuseField("engagementId", "%s is closed to new work, or not billable: choose another engagement.", m.to.Name)
	case len(rows) == 1 && rows[0].Decided:
		return errDecided
	}
	portion, err := store.PortionOfExpense(tx.DB, id)
	if err != nil {
		return err
	}
	if _, err := portion.Billing.After(wip.Change); err != nil {
		return app.AsConflict(err)
	}
	m.expense, m.portion = expense, portion
	return nil
}

func (m *Move) storeExpense(tx *app.Tx) error {
	expense, portion := m.expense, m.portion
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	effective := expense.Day
	if effective <= firm.ClosingDay {
		effective = tx.Today
	}
	tx.Move("moved", effective, *portion, portion.Bucket(), wip.InRecorded, nil)
	portion.EngagementID = m.to.ID
	tx.Move("moved", effective, *portion, wip.InRecorded, portion.Bucket(), nil)
	expense.EngagementID, expense.PhaseID = &m.to.ID, nil
	tx.LinkTo(app.OfPurchase, expense.PurchaseID)
	if err := store.Save(tx.DB, expense); err != nil {
		return err
	}
	return store.Save(tx.DB, portion)
}

// GiveBackMoved gives the entries that an act moved back what they were.
func GiveBackMoved(tx *app.Tx, actID int64) error {
	kept, err := store.ChangesOf(tx.DB, actID)
	for i := range kept {
		if err := restoreBulk(tx, &kept[i]); err != nil {
			return err
		}
	}
	if err != nil {
		return err
	}
	return store.ForgetChanges(tx.DB, actID)
}
