package timekeeping

import (
	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// ComeBack records anew, for the next bill, what comes back on every bill and
// was just billed up to a day: a flat amount without time, or an expense. It is
// dated the day after, so that the next bill has it. What an engagement that is
// closed would get does not come back.
func ComeBack(tx *app.Tx, billed []store.PortionRow, upTo day.Day) error {
	for i := range billed {
		p := &billed[i]
		if !p.Returns {
			continue
		}
		e, err := store.Get[store.Engagement](tx.DB, p.EngagementID)
		if err != nil {
			return err
		}
		on := max(upTo, p.WorkedDay) + 1
		if !e.Active || !e.ClosedDay.IsZero() && on > e.ClosedDay {
			continue
		}
		if p.IsExpense() {
			err = expenseAgain(tx, p.SourceID, on)
		} else {
			err = entryAgain(tx, p.SourceID, on)
		}
		if err != nil {
			return err
		}
	}
	return nil
}

func entryAgain(tx *app.Tx, id int64, on day.Day) error {
	if after, err := store.SuccessorOf(tx.DB, "time_entries", id); err != nil || after != 0 {
		return err
	}
	entry, err := store.Get[store.TimeEntry](tx.DB, id)
	if err != nil {
		return err
	}
	sheet, err := store.SheetOf(tx.DB, entry.PersonID, on.Monday())
	if err != nil {
		return err
	}
	again := *entry
	again.Row, again.ReturnedFrom, again.Day, again.Approval = store.Row{}, &id, on, sheet.State
	again.WorkedMinutes, again.NotBillableMinutes, again.ExpectedMinutes, again.BilledMinutes = 0, 0, 0, 0
	again.StartedMinute, again.EndedMinute, again.ValuedBefore = nil, nil, nil
	if again.Valued, err = wip.Value(wip.Work{Treatment: again.Treatment, Flat: again.Valued.Flat, Rule: again.Valued.Billed.Rule,
		Currency: again.Currency,
		Agreed:   again.Valued.Rate, Standard: again.Valued.StandardRate}); err != nil {
		return err
	}
	_, err = insert(tx, &again, TypedEntry{})
	return err
}

func expenseAgain(tx *app.Tx, id int64, on day.Day) error {
	if after, err := store.SuccessorOf(tx.DB, "expenses", id); err != nil || after != 0 {
		return err
	}
	share, err := store.Get[store.Expense](tx.DB, id)
	if err != nil {
		return err
	}
	purchase, err := store.Get[store.Purchase](tx.DB, share.PurchaseID)
	if err != nil {
		return err
	}
	again := *purchase
	again.Row, again.Day, again.Cost = store.Row{}, on, share.Cost
	again.Paid.Units, again.Paid.PerUnit, again.Paid.Unit = 0, nil, ""
	again.Paid.Amount, again.Paid.Tax = share.Valued.Cost, share.Valued.Cost
	again.Paid.Tax.Minor = 0
	if err := store.Insert(tx.DB, &again); err != nil {
		return err
	}
	next := *share
	next.Row, next.PurchaseID, next.Position, next.Day, next.ReturnedFrom = store.Row{}, again.ID, 1, on, &id
	next.Valued.Paid, next.Valued.Shared = &again.Paid, false
	if err := store.Insert(tx.DB, &next); err != nil {
		return err
	}
	tx.LinkTo(app.OfPurchase, again.ID)
	return newPortion(tx, &next, "")
}
