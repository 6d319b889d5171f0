package correspondence

import (
	"context"
	"errors"

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
		copied := r.Recipient != "" && !letter.SameAddress(r.Recipient, m.ToMail)
		switch {
		case copied && r.Action == letter.Failed:
			m.Problem = "The copy to " + safetext.Line(r.Recipient) + " did not arrive: " + safetext.Line(r.Said)
		case copied:
			return nil
		case r.Action == letter.Delivered && m.State == "sent":
			m.State, m.Problem = "arrived", ""
		case r.Action == letter.Failed && (m.State == "sent" || m.State == "arrived"):
			m.State, m.Problem = "failed", safetext.Line(r.Said)+" "+letter.Remedy(r.Status)
		case r.Action == letter.Delayed && m.State == "sent":
			m.Problem = "Their server has not taken it yet: " + safetext.Line(r.Said)
		default:
			return nil
		}
		return write(tx, m, 0)
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
