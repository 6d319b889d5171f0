package paying

import (
	"context"
	"crypto/rand"
	"log/slog"
	"strings"

	"dorvet/core/money"
	core "dorvet/core/onlinepayment"
	"dorvet/core/paymentmethod"
	"dorvet/core/refusal"
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
	if !strings.Contains(" "+o.Profile.Text("page_ways")+" ", " "+t.Method.Kind+" ") {
		return nil, app.Refuse(app.Conflict, "This way of paying is not offered here: pay by transfer.")
	}
	kept, err := keep(ctx, a, t.Method)
	if err != nil {
		return nil, err
	}
	row, err := ask(ctx, a, secret, t, kept)
	if err != nil {
		return nil, err
	}
	charged, err := a.Gateway.Charge(ctx, paymentmethod.Charge{Key: row.Key, Token: kept.Token,
		Amount: money.Amount{Minor: row.Amount + row.Fee, Currency: row.Currency}, Words: o.Invoice.NumberText})
	switch {
	case refusal.Is(err):
		charged = paymentmethod.Charged{Known: true, State: core.Failed, Problem: err.Error()}
	case err != nil: // the answer was lost: what became of it is found later
		slog.Warn("the payment service did not answer", "payment", row.ID, "error", err)
		return Read(context.WithoutCancel(ctx), a, secret, "", "")
	}
	if err := Settle(context.WithoutCancel(ctx), a, row.Key, charged); err != nil {
		return nil, err
	}
	return Read(ctx, a, secret, "", "")
}

// keep gives a card or an account to the service, for a token.
func keep(ctx context.Context, a *app.App, m Method) (kept paymentmethod.Kept, err error) {
	if m.Kind == "card" {
		kept, err = a.Gateway.KeepCard(ctx, paymentmethod.Card{Number: m.Number, Expires: m.Expires, Code: m.Code, Holder: m.Holder})
		return kept, app.InField("number", err)
	}
	kept, err = a.Gateway.KeepAccount(ctx, paymentmethod.Account{IBAN: m.IBAN, Holder: m.Holder})
	return kept, app.InField("iban", err)
}

// ask notes a payment before the service is asked for it.
func ask(ctx context.Context, a *app.App, secret string, t Typing, kept paymentmethod.Kept) (*store.OnlinePayment, error) {
	_, request, err := delivery.Open(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return nil, err
	}
	return app.Do(ctx, a, request, "pay on page", []any{correspondence.Digest(secret), t.Amount, t.Shown, t.Method.Kind}, func(tx *app.Tx) (*store.OnlinePayment, error) {
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
		amount, err := taken(tx.DB, inv, can, o, t.Amount)
		if err != nil {
			return nil, err
		}
		fee, err := feeOf(o, t.Method.Kind).Of(amount)
		if err != nil {
			return nil, err
		}
		w, err := delivery.WordsOf(tx.DB, inv)
		if err != nil {
			return nil, err
		}
		if whole := w.Money(inv.Amount(amount.Minor + fee.Minor)); t.Shown != whole {
			return nil, app.Refuse(app.Conflict, "It comes to %s now, not %s as it was shown: look once more, then pay.", whole, t.Shown)
		}
		row := &store.OnlinePayment{EntityID: inv.EntityID, ClientID: inv.ClientID, InvoiceID: inv.ID, Key: strings.ToLower(rand.Text()),
			Kind: t.Method.Kind, State: core.Asked, Amount: amount.Minor, Fee: fee.Minor, Currency: inv.Currency, LastFour: kept.LastFour,
			Name: o.Link.Name, Mail: o.Link.Mail, MadeAt: tx.Now}
		tx.LinkTo(app.OfInvoice, inv.ID)
		tx.LinkTo("clients", inv.ClientID)
		tx.Describe(nil, amount.String(), "Pays %s on %s by %s", amount, inv.NumberText, methodWords(row.Kind, row.LastFour))
		return row, store.Insert(tx.DB, row)
	})
}
