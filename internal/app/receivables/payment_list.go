package receivables

import (
	"context"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

func paymentView(p *store.PaymentRow) *Payment {
	view := &Payment{ID: p.ID, ClientID: p.ClientID, Client: p.Client, Day: p.Day, Purpose: p.Purpose, Method: p.Method,
		Reference: p.Reference, Note: p.Note,
		Amount: amount(&p.Payment, p.Amount), On: strings.ReplaceAll(p.OnInvoices, ",", ", "), Unapplied: amount(&p.Payment, p.Unapplied),
		Reversed: p.Reversed, Person: p.Person}
	if p.ReversesID != nil {
		view.Reverses = *p.ReversesID
	}
	return view
}

// Payments lists the latest payments, newest first; clientID 0 asks for all clients.
func Payments(ctx context.Context, a *app.App, actor app.Actor, clientID int64) ([]Payment, error) {
	return FindPayments(ctx, a, actor, clientID, "")
}

// FindPayments is [Payments] of which all words of a text are said: the amount, the client, a reference, an invoice.
func FindPayments(ctx context.Context, a *app.App, actor app.Actor, clientID int64, text string) ([]Payment, error) {
	words := strings.Fields(text)
	rows, err := store.Payments(a.Read(ctx, actor), clientID, words[:min(len(words), 8)], 500)
	list := make([]Payment, 0, len(rows))
	for i := range rows {
		list = append(list, *paymentView(&rows[i]))
	}
	return list, err
}
