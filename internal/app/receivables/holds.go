package receivables

import (
	"context"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// Holding leaves a client alone, or one invoice.
type Holding struct {
	ClientID  int64   `json:"clientId" doc:"0: that of the invoice"`
	InvoiceID int64   `json:"invoiceId" doc:"0: nothing of the client is reminded of"`
	Until     day.Day `json:"until,omitempty" format:"date" doc:"its last day; nothing: until it is lifted"`
	Reason    string  `json:"reason" maxLength:"500"`
}

// Held is a client or an invoice that is left alone.
type Held struct {
	ID        int64     `json:"id"`
	InvoiceID int64     `json:"invoiceId" doc:"0: all of the client"`
	Number    string    `json:"number"`
	Until     day.Day   `json:"until" doc:"nothing: until it is lifted"`
	Reason    string    `json:"reason"`
	At        time.Time `json:"at"`
}

// Hold leaves a client, or one of its invoices, alone.
func Hold(ctx context.Context, a *app.App, r app.Request, h Holding) error {
	_, err := app.Do(ctx, a, r, "leave alone", h, func(tx *app.Tx) (struct{}, error) {
		row := &store.ReminderHold{ClientID: h.ClientID, Until: h.Until, Reason: strings.TrimSpace(h.Reason), PersonID: &tx.Actor.PersonID, At: tx.Now}
		if row.Reason == "" {
			return struct{}{}, app.RefuseField("reason", "Say why: it stands in the preview of reminders.")
		}
		if !row.Until.IsZero() && row.Until < tx.Today {
			return struct{}{}, app.RefuseField("until", "%s is over: give today or a later day, or none.", row.Until.Long())
		}
		what := "Reminders"
		if h.InvoiceID != 0 {
			inv, err := papers.Visible(tx.DB, h.InvoiceID)
			if err != nil {
				return struct{}{}, err
			}
			row.ClientID, row.InvoiceID, what = inv.ClientID, &h.InvoiceID, "Reminders of "+inv.NumberText
			tx.LinkTo(app.OfInvoice, inv.ID)
		}
		if _, err := store.Get[store.Client](tx.DB, row.ClientID); err != nil {
			return struct{}{}, app.Missing(err, "client")
		}
		tx.LinkTo("clients", row.ClientID)
		tx.Describe(nil, row.Reason, "%s: %s", what, heldWords(row))
		return struct{}{}, store.Insert(tx.DB, row)
	})
	return err
}

// Lift ends a hold.
func Lift(ctx context.Context, a *app.App, r app.Request, id int64) error {
	_, err := app.Do(ctx, a, r, "lift a hold", id, func(tx *app.Tx) (struct{}, error) {
		h, err := store.Get[store.ReminderHold](tx.DB, id)
		if err != nil {
			return struct{}{}, app.Missing(err, "hold")
		}
		if h.LiftedAt != nil {
			return struct{}{}, nil
		}
		h.LiftedAt = &tx.Now
		tx.LinkTo("clients", h.ClientID)
		if h.InvoiceID != nil {
			tx.LinkTo(app.OfInvoice, *h.InvoiceID)
		}
		tx.Describe(h.Reason, nil, "Reminders go on")
		return struct{}{}, store.Save(tx.DB, h)
	})
	return err
}

func holdsOf(tx *store.DB, clientID int64, today day.Day) ([]Held, error) {
	rows, err := store.Holds(tx, []int64{clientID}, today)
	list := []Held{}
	for i := range rows {
		h := Held{ID: rows[i].ID, InvoiceID: store.OrZero(rows[i].InvoiceID), Until: rows[i].Until, Reason: rows[i].Reason, At: rows[i].At}
		if h.InvoiceID != 0 {
			inv, err := store.Get[store.Invoice](tx, h.InvoiceID)
			if err != nil {
				return nil, err
			}
			h.Number = inv.NumberText
		}
		list = append(list, h)
	}
	return list, err
}
