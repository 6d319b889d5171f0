package correspondence

import (
	"context"
	"errors"

	"dorvet/core/day"
	"dorvet/core/delivery"
	"dorvet/core/letter"
	"dorvet/core/safetext"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// TakeReport notes what a mail server says of a mail that it took. One that speaks of nothing here, or says again what is
// known, changes nothing: reports come late, twice and in any order.
func TakeReport(ctx context.Context, a *app.App, r letter.Report) error {
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		m, err := store.MailByKey(tx, r.ReturnKey)
		if errors.Is(err, store.ErrNotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		// One that is queued here has left already: its report is quicker than the answer to it.
		out, left := m.State == "sent" || m.State == "queued", day.Day(0)
		if now := a.Clock.Now(); m.State == "queued" {
			left, m.SentAt = a.Clock.Today(), &now
		}
		copied := r.Recipient != "" && !letter.SameAddress(r.Recipient, m.ToMail)
		switch {
		case copied && r.Action == letter.Failed:
			m.Problem = "The copy to " + safetext.Line(r.Recipient) + " did not arrive: " + safetext.Line(r.Said)
		case copied:
			return nil
		case r.Action == letter.Delivered && out:
			m.State, m.Problem, m.NextAt = "arrived", "", nil
		case r.Action == letter.Failed && (out || m.State == "arrived"):
			m.State, m.Problem, m.NextAt = "failed", safetext.Line(r.Said)+" "+letter.Remedy(r.Status), nil
			if err := tellFailed(tx, m, a.Clock.Today()); err != nil {
				return err
			}
		case r.Action == letter.Delayed && m.State == "sent":
			m.Problem = "Their server has not taken it yet: " + safetext.Line(r.Said)
		default:
			return nil
		}
		return write(tx, m, left)
	})
}

// CallBack calls a delivery back that has not left the house.
func CallBack(tx *app.Tx, d *store.Delivery) error {
	state, err := d.State.After(delivery.CallBack)
	if err != nil {
		return app.AsConflict(err)
	}
	mails, err := store.MailsOfDelivery(tx.DB, []int64{d.ID})
	if err != nil {
		return err
	}
	for i := range mails {
		mails[i].State, mails[i].NextAt = "called_back", nil
		if err := store.WriteMail(tx.DB, &mails[i]); err != nil {
			return err
		}
	}
	return Follow(tx.DB, d.ID, state, 0)
}

// CallBackMail calls a mail back that has not left the house, with the delivery that it is, if it is one.
func CallBackMail(ctx context.Context, a *app.App, r app.Request, id int64) error {
	_, err := app.Do(ctx, a, r, "call back a mail", id, func(tx *app.Tx) (struct{}, error) {
		m, err := store.Get[store.Mail](tx.DB, id)
		if err != nil {
			return struct{}{}, app.Missing(err, "mail")
		}
		if m.ClientID != nil {
			tx.LinkTo("clients", *m.ClientID)
		}
		tx.Describe(m.State, "called back", "Called “%s” to %s back", m.Subject, m.ToMail)
		if m.DeliveryID != nil {
			d, err := store.DeliveryOf(tx.DB, *m.DeliveryID)
			if err != nil {
				return struct{}{}, err
			}
			return struct{}{}, CallBack(tx, d)
		}
		if m.State != "queued" {
			return struct{}{}, app.Refuse(app.Conflict, "It has left already: there is nothing to call back.")
		}
		m.State, m.NextAt = "called_back", nil
		return struct{}{}, store.WriteMail(tx.DB, m)
	})
	return err
}
