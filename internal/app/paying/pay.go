package paying

import (
	"context"
	"crypto/rand"
	"log/slog"
	"slices"
	"strings"

	"dorvet/core/money"
	core "dorvet/core/onlinepayment"
	"dorvet/core/paymentmethod"
	"dorvet/core/refusal"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/store"
)

// Pay takes what is offered, or what was typed, by a card or a bank debit. The payment stands in the data before the service is asked, so
// that whatever happens then is found again.
func Pay(ctx context.Context, a *app.App, secret string, t Typing) (*Offer, error) {
	if a.Gateway == nil {
		return nil, app.Refuse(app.Conflict, "Nothing can be paid here at present: pay by transfer.")
	}
	o, _, err := delivery.Open(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return nil, err
	}
	if !slices.Contains(strings.Fields(o.Profile.Text("page_ways")), t.Method.Kind) {
		return nil, app.Refuse(app.Conflict, "This way of paying is not offered here: pay by transfer.")
	}
	kept, err := t.method(ctx, a, o)
	if err != nil {
		return nil, err
	}
	row, err := ask(ctx, a, secret, t, kept)
	if err != nil {
		return nil, err
	}
	charged, err := a.Gateway.Charge(ctx, paymentmethod.Charge{Key: row.Key, Token: kept.Token,
		Amount: money.Amount{Minor: row.Amount + row.Fee + row.Gift, Currency: row.Currency}, Words: o.Invoice.NumberText})
	switch {
	case refusal.Is(err):
		charged = paymentmethod.Charged{Known: true, State: core.Failed, Problem: err.Error()}
	case err != nil: // the answer was lost: what became of it is found later
		slog.Warn("the payment service did not answer", "payment", row.ID, "error", err)
		return Read(context.WithoutCancel(ctx), a, secret, Typing{})
	}
	if err := Settle(context.WithoutCancel(ctx), a, row.Key, charged); err != nil {
		return nil, err
	}
	return Read(ctx, a, secret, Typing{})
}

// method is the way of paying that was chosen: one that was kept, or one that is given to the service now.
func (t Typing) method(ctx context.Context, a *app.App, o *delivery.Opened) (paymentmethod.Kept, error) {
	if t.KeptID == 0 {
		return a.KeepMethod(ctx, t.Method)
	}
	methods, err := store.KeptMethods(a.Store.Read(ctx, store.Everything), o.Invoice.ClientID, o.Link.Mail)
	for _, m := range methods {
		if err == nil && m.ID == t.KeptID && m.Kind == t.Method.Kind && o.Link.Mail != "" {
			return paymentmethod.Kept{Token: m.Token, LastFour: m.LastFour}, nil
		}
	}
	if err == nil {
		err = app.Refuse(app.Conflict, "This way of paying is not kept any more: give it again, or choose another.")
	}
	return paymentmethod.Kept{}, err
}

// keep keeps the way of a payment for later, if its payer agreed to that.
func (t Typing) keep(tx *app.Tx, o *delivery.Opened, w wording.Words, kept paymentmethod.Kept) (*int64, error) {
	switch {
	case t.KeptID != 0:
		return &t.KeptID, nil
	case !t.Keep || o.Link.Mail == "":
		return nil, nil
	}
	m := &store.PaymentMethod{ClientID: o.Invoice.ClientID, Kind: t.Method.Kind, Token: kept.Token, LastFour: kept.LastFour,
		Holder: strings.TrimSpace(t.Method.Holder), Mail: o.Link.Mail, Agreed: w.Say(wording.KeepMethod), At: tx.Now, Active: true}
	err := store.Insert(tx.DB, m)
	tx.AddAside("and keeps it for later")
	return &m.ID, err
}

// ask notes a payment before the service is asked for it.
func ask(ctx context.Context, a *app.App, secret string, t Typing, kept paymentmethod.Kept) (*store.OnlinePayment, error) {
	_, request, err := delivery.Open(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return nil, err
	}
	return app.Do(ctx, a, request, "pay on page", []any{correspondence.Digest(secret), t.Amount, t.Gift, t.Shown,
		t.Method.Kind, t.KeptID, t.Keep}, func(tx *app.Tx) (*store.OnlinePayment, error) {
		o, _, err := delivery.Open(a, tx.DB, secret)
		if err != nil {
			return nil, err
		}
		inv := &o.Invoice.Invoice
		can, err := payable(a, tx.DB, inv)
		if err != nil {
			return nil, err
		}
		if can.All == 0 {
			return nil, app.Refuse(app.Conflict, "There is nothing to pay on this invoice now: load the page again.")
		}
		c, err := costOf(tx.DB, o, can, t)
		if err != nil {
			return nil, err
		}
		w, err := delivery.WordsOf(tx.DB, inv)
		if err != nil {
			return nil, err
		}
		if whole := w.Money(inv.Amount(c.whole())); t.Shown != whole {
			return nil, app.Refuse(app.Conflict, "It comes to %s now, not %s as it was shown: look once more, then pay.", whole, t.Shown)
		}
		row := &store.OnlinePayment{EntityID: inv.EntityID, ClientID: inv.ClientID, InvoiceID: inv.ID, Key: strings.ToLower(rand.Text()),
			Kind: t.Method.Kind, State: core.Asked, Amount: c.amount.Minor, Fee: c.fee.Minor, Gift: c.gift.Minor, Currency: inv.Currency,
			LastFour: kept.LastFour, Name: o.Link.Name, Mail: o.Link.Mail, MadeAt: tx.Now}
		if row.MethodID, err = t.keep(tx, o, w, kept); err != nil {
			return nil, err
		}
		tx.LinkTo(app.OfInvoice, inv.ID)
		tx.LinkTo("clients", inv.ClientID)
		tx.Describe(nil, c.amount.String(), "Pays %s on %s by %s", c.amount, inv.NumberText, paymentmethod.Words(row.Kind, row.LastFour))
		if row.Gift != 0 {
			tx.AddAside("with a gift of thanks of " + c.gift.String())
		}
		return row, store.Insert(tx.DB, row)
	})
}
