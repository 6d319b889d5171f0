package paying

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"time"

	core "dorvet/core/onlinepayment"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

// Settle notes what the service says of a payment, once: what was received is booked and thanked for, what came back is taken back.
func Settle(ctx context.Context, a *app.App, key string, said paymentmethod.Charged) error {
	request := app.Request{Actor: app.Actor{Outsider: "the payment service"}, Key: "said " + key + " " + string(said.State)}
	_, err := app.Do(ctx, a, request, "payment service", nil, func(tx *app.Tx) (struct{}, error) {
		p, err := store.OnlinePaymentByKey(tx.DB, key)
		if err != nil {
			return struct{}{}, app.Missing(err, "payment")
		}
		next, changed := p.State.After(said.State)
		if !changed {
			return struct{}{}, errSaidBefore
		}
		inv, err := store.Get[store.Invoice](tx.DB, p.InvoiceID)
		if err != nil {
			return struct{}{}, err
		}
		before := p.State
		p.State, p.Problem, p.ToldAt = next, said.Problem, &tx.Now
		if said.Reference != "" {
			p.Reference = said.Reference
		}
		return struct{}{}, settle(a, tx, p, inv, before)
	})
	refused := new(app.Refusal)
	switch {
	case errors.Is(err, errSaidBefore):
		return nil
	case errors.As(err, &refused) && said.State == core.Returned:
		return tellUnbooked(ctx, a, key, said, refused)
	}
	return err
}

// tellUnbooked tells, once, of a payment that came back and can't be taken back in the books, because what it brought has been used since:
// somebody has to put that right first.
func tellUnbooked(ctx context.Context, a *app.App, key string, said paymentmethod.Charged, why *app.Refusal) error {
	request := app.Request{Actor: app.Actor{Outsider: "the payment service"}, Key: "unbooked " + key}
	_, err := app.Do(ctx, a, request, "payment service", nil, func(tx *app.Tx) (struct{}, error) {
		p, err := store.OnlinePaymentByKey(tx.DB, key)
		if err != nil {
			return struct{}{}, app.Missing(err, "payment")
		}
		inv, err := store.Get[store.Invoice](tx.DB, p.InvoiceID)
		if err != nil {
			return struct{}{}, err
		}
		p.Problem = "It came back (" + said.Problem + "), and is still in the books: " + why.Sentence
		words := fmt.Sprintf("%s on %s by %s came back at the bank, and is still in the books. %s Then it is taken back by itself.",
			inv.Amount(p.Amount), inv.NumberText, paymentmethod.Words(p.Kind, p.LastFour), why.Sentence)
		tx.Describe(nil, inv.Amount(p.Amount).String(), "%s", words)
		tx.LinkTo(app.OfInvoice, inv.ID)
		tx.LinkTo("clients", inv.ClientID)
		people, err := store.WhoCaresFor(tx.DB, inv.ID)
		for _, id := range people {
			tx.Notify(id, nil, "%s", words)
		}
		return struct{}{}, errors.Join(err, store.Save(tx.DB, p))
	})
	return err
}

// errSaidBefore gives an act up of which nothing is to be left.
var errSaidBefore = app.Refuse(app.Conflict, "This was said before.")

func settle(a *app.App, tx *app.Tx, p *store.OnlinePayment, inv *store.Invoice, before core.State) error {
	amount := inv.Amount(p.Amount)
	switch {
	case p.State == core.Received:
		paid, err := receivables.ReceiveOn(tx, inv, receivables.Came{Minor: p.Amount, Gift: p.Gift, Method: p.Kind, Reference: p.Reference})
		if err != nil {
			return err
		}
		p.PaymentID = &paid.ID
		if inv, err = store.Get[store.Invoice](tx.DB, inv.ID); err != nil {
			return err
		}
		if err := delivery.SendReceipt(a, tx, inv, amount, p.Name, p.Mail); err != nil {
			return err
		}
	case p.State == core.Returned && before == core.Received:
		if _, err := receivables.Bounce(tx, *p.PaymentID, "Came back: "+p.Problem); err != nil {
			return err
		}
	}
	words := fmt.Sprintf("%s on %s by %s %s", amount, inv.NumberText, paymentmethod.Words(p.Kind, p.LastFour), became[p.State])
	if p.Problem != "" {
		words += ": " + p.Problem
	}
	tx.Describe(nil, amount.String(), "%s", words)
	tx.LinkTo(app.OfInvoice, inv.ID)
	tx.LinkTo("clients", inv.ClientID)
	if p.State == core.Failed || p.State == core.Returned {
		people, err := store.WhoCaresFor(tx.DB, inv.ID)
		if err != nil {
			return err
		}
		for _, id := range people {
			tx.Notify(id, nil, "%s", words)
		}
	}
	return store.Save(tx.DB, p)
}

// became says what a payment has become.
var became = map[core.State]string{core.Pending: "is on its way", core.Received: "was received", core.Failed: "failed",
	core.Returned: "came back"}

// patience is how long a payment may be without a word before the service is asked.
const patience = 5 * time.Second

// FollowUp asks the service what has become of payments of which it has not said the last word: an answer can be lost.
func FollowUp(ctx context.Context, a *app.App) error {
	if a.Gateway == nil {
		return nil
	}
	open, err := store.UnsettledOnline(a.Store.Read(ctx, store.Everything), a.Clock.Now().Add(-patience))
	if err != nil {
		return err
	}
	for _, p := range open {
		said, err := a.Gateway.Find(ctx, p.Key)
		if err != nil {
			slog.Warn("the payment service did not answer", "payment", p.ID, "error", err)
			continue
		}
		if !said.Known { // it was never asked, or never heard
			said = paymentmethod.Charged{State: core.Failed, Problem: "The payment service knows nothing of it: nothing was taken."}
			if a.Clock.Now().Sub(p.MadeAt) < time.Minute {
				continue
			}
		}
		if err := Settle(ctx, a, p.Key, said); err != nil { // it does not stand in the way of the others
			slog.Error("what became of a payment was not noted", "payment", p.ID, "error", err)
		}
	}
	return nil
}
