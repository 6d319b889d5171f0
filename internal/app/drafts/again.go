package drafts

import (
	"context"
	"slices"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Return says how often an invoice comes back: so many times, or until a day.
type Return struct {
	Every string  `json:"every" enum:"week,month,quarter,year"`
	Times int     `json:"times" minimum:"0" maximum:"60" doc:"0: until a day"`
	Until day.Day `json:"until,omitempty" format:"date"`
}

// mostReturns is how often an invoice can be planned to come back.
const mostReturns = 60

// after is the day of the nth return of an invoice: the same day of a later month, or its
// last.
func (r Return) after(from day.Day, n int) day.Day {
	if r.Every == "week" {
		return from.AddDays(7 * n)
	}
	return from.AddMonths(map[string]int{"month": 1, "quarter": 3, "year": 12}[r.Every] * n)
}

// days are the days on which an invoice of a day comes back.
func (r Return) days(from day.Day) ([]day.Day, error) {
	if r.Times == 0 && r.Until.IsZero() {
		return nil, app.RefuseField("times", "Say how many times it comes back, or until when.")
	}
	days := []day.Day{}
	for n := 1; n <= mostReturns; n++ {
		on := r.after(from, n)
		if r.Times != 0 && n > r.Times || !r.Until.IsZero() && on > r.Until {
			break
		}
		days = append(days, on)
	}
	if len(days) == 0 {
		return nil, app.RefuseField("until", "It would not come back before %s: give a later day.", r.Until.Long())
	}
	return days, nil
}

// ComeBack plans the lines of an invoice again, as charges that become due. Recorded work
// is billed once, and stays out. What was planned of it before is planned anew.
func ComeBack(ctx context.Context, a *app.App, r app.Request, id int64, in Return) (*Changed, error) {
	return app.Do(ctx, a, r, "let an invoice come back", []any{id, in}, func(tx *app.Tx) (*Changed, error) {
		inv, err := store.Get[store.Invoice](tx.DB, id)
		if err != nil {
			return nil, app.Missing(err, "invoice")
		}
		days, err := in.days(inv.Dated)
		if err != nil {
			return nil, err
		}
		lines, err := again(tx.DB, inv)
		if err != nil {
			return nil, err
		}
		if err := store.DropReturning(tx.DB, id); err != nil {
			return nil, err
		}
		for _, on := range days {
			for i, l := range lines {
				charge := store.Charge{EngagementID: l.EngagementID, TaxCodeID: l.TaxCodeID, Position: i, Kind: "fixed", Text: l.Text,
					Amount: l.Amount, Currency: inv.Currency, BillDay: on, State: "planned", LikeID: &inv.ID, PayerID: l.PayerID}
				if err := store.Insert(tx.DB, &charge); err != nil {
					return nil, err
				}
				tx.LinkTo("engagements", l.EngagementID)
			}
		}
		tx.LinkTo(app.OfInvoice, id)
		tx.Describe(nil, in, "It comes back %s, from %s to %s", app.Counted(len(days), "time", "times"), days[0].Long(),
			days[len(days)-1].Long())
		return ChangedBy(tx, inv), nil
	})
}

// again are the lines of an invoice that can be billed again as they are.
func again(tx *store.DB, inv *store.Invoice) ([]store.InvoiceLine, error) {
	lines, err := store.LinesOf(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	portions, err := store.PortionsOn(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	if inv.Kind != invoice.Ordinary {
		return nil, app.Refuse(app.Conflict, "Only an invoice can be billed again, no credit note and no opening balance.")
	}
	lines = slices.DeleteFunc(lines, func(l store.InvoiceLine) bool {
		return l.AdvanceLineID != nil ||
			slices.ContainsFunc(portions, func(p store.PortionRow) bool { return *p.LineID == l.ID && !p.Covered })
	})
	if len(lines) == 0 {
		err = app.Refuse(app.Conflict, "Nothing on this invoice can be billed again as it is: put a line by hand on it first.")
	}
	return lines, err
}

// StayAway takes away what is still planned of an invoice that comes back.
func StayAway(ctx context.Context, a *app.App, r app.Request, id int64) (*Changed, error) {
	return app.Do(ctx, a, r, "let an invoice come back no more", id, func(tx *app.Tx) (*Changed, error) {
		inv, err := store.Get[store.Invoice](tx.DB, id)
		if err != nil {
			return nil, app.Missing(err, "invoice")
		}
		planned, err := store.ReturningOf(tx.DB, id)
		if err != nil {
			return nil, err
		}
		if planned.Bills == 0 {
			return nil, app.Refuse(app.Conflict, "Nothing is planned of it any more.")
		}
		tx.LinkTo(app.OfInvoice, id)
		tx.Describe(planned.Bills, nil, "It comes back no more; %s taken away", app.Counted(planned.Bills, "bill was", "bills were"))
		return ChangedBy(tx, inv), store.DropReturning(tx.DB, id)
	})
}
