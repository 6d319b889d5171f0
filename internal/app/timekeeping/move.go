package timekeeping

import (
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// MoveEntry moves a time entry to another engagement, at the rates that hold
// there, inside an act. It is given back by [GiveBackMoved].
func MoveEntry(tx *app.Tx, id, engagementID int64) error {
	done, err := together(tx.DB, tx.Actor, Together{IDs: []int64{id}, EngagementID: engagementID})
	if err != nil {
		return err
	}
	if len(done.Stay) > 0 {
		return app.Refuse(app.Conflict, "%s", done.Stay[0].Why)
	}
	return done.apply(tx)
}

// GiveBackMoved gives the entries that an act moved back what they were.
func GiveBackMoved(tx *app.Tx, actID int64) error {
	kept, err := store.ChangesOf(tx.DB, actID)
	for i := range kept {
		if err := giveBackTogether(tx, &kept[i]); err != nil {
			return err
		}
	}
	if err != nil {
		return err
	}
	return store.ForgetChanges(tx.DB, actID)
}

// MoveExpense moves an expense to another engagement in its currency, inside an
// act. It keeps its value.
func MoveExpense(tx *app.Tx, id, engagementID int64) error {
	expense, err := store.Get[store.Expense](tx.DB, id)
	if err != nil {
		return app.Missing(err, "expense")
	}
	to, err := setup.EngagementSeen(tx.DB, engagementID)
	if err != nil {
		return err
	}
	rows, err := store.ExpensesByID(tx.DB, []int64{id})
	if err != nil {
		return err
	}
	switch {
	case to.Currency != expense.Currency:
		return app.RefuseField("engagementId", "%s is billed in %s and this expense is in %s: change the purchase instead.", to.Name,
			to.Currency, expense.Currency)
	case !to.Active || !to.Billable:
		return app.RefuseField("engagementId", "%s is closed to new work, or not billable: choose another engagement.", to.Name)
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
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	effective := expense.Day
	if effective <= firm.ClosingDay {
		effective = tx.Today
	}
	tx.Move("moved", effective, *portion, portion.Bucket(), wip.InRecorded, nil)
	portion.EngagementID = to.ID
	tx.Move("moved", effective, *portion, wip.InRecorded, portion.Bucket(), nil)
	expense.EngagementID, expense.PhaseID = &to.ID, nil
	tx.LinkTo(app.OfPurchase, expense.PurchaseID)
	if err := store.Save(tx.DB, expense); err != nil {
		return err
	}
	return store.Save(tx.DB, portion)
}
