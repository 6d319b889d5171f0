// Package ledger posts what invoices come to in the ledger of money, and settles what is
// owed on them: by payments, funds held, credit, and credit notes.
//
// What an invoice comes to passes through the bucket [app.Issued], of which nothing stays:
//
//	revenue 100.00 + tax 23.00 → issued → receivable 123.00
//
// It sees what was posted in the same act: nobody has to ask for that.
package ledger

import (
	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Settlement is what settles instalments: money of a payment, of a fund, or
// credit of the client.
type Settlement struct {
	Kind      string // payment, funds_applied, credit_used, credit_note, written_off
	Bucket    string // where the money lies
	Day       day.Day
	PaymentID *int64
	FundsID   *int64
	// Rate is that of the day on which money came in; zero: it came in at the
	// invoice's.
	Rate money.ExchangeRate
}

// Settle settles instalments of an issued invoice, the oldest due first, and saves
// where the invoice stands then. More than is owed is refused.
func Settle(tx *app.Tx, inv *store.Invoice, minor int64, s Settlement) error {
	if !inv.State.IsIssued() || inv.Kind == invoice.CreditNote {
		return app.Refuse(app.Conflict, "%s is not an issued invoice: nothing is owed on it.", inv.NumberText)
	}
	if inv.Open == 0 {
		return app.Refuse(app.Conflict, "Nothing is owed on %s any more.", inv.NumberText)
	}
	if minor <= 0 || minor > inv.Open {
		return app.Refuse(app.Invalid, "%s can't be put on %s: %s is owed on it.", inv.Amount(minor), inv.NumberText, inv.Amount(inv.Open))
	}
	if err := tx.FlushPostings(); err != nil {
		return err
	}
	rows, err := store.InstalmentsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	open := make([]receivable.Open, len(rows))
	for i, row := range rows {
		open[i] = receivable.Open{Due: row.DueDay, Owed: row.Open}
	}
	parts, _ := receivable.Allocate(minor, open)
	for i, part := range parts {
		if part == 0 {
			continue
		}
		if err := settleOne(tx, inv, &rows[i], part, s); err != nil {
			return err
		}
	}
	return stand(tx, inv, minor, s)
}

// settleOne settles a part of an instalment at the rate at which it is owed; what
// the day's rate makes of it otherwise is a result of exchange.
func settleOne(tx *app.Tx, inv *store.Invoice, row *store.Instalment, part int64, s Settlement) error {
	book, err := store.BalanceOf(tx.DB, app.Receivable, inv.ID, row.ID)
	if err != nil {
		return err
	}
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	settled, err := receivable.Settle(inv.Amount(part), row.Open, book.FirmAmount, s.Rate, firm.Currency)
	if err != nil {
		return err
	}
	m := store.MoneyMovement{Kind: s.Kind, InvoiceID: &inv.ID, InstalmentID: &row.ID, ClientID: inv.ClientID, EntityID: inv.EntityID,
		EffectiveDay: s.Day, FromBucket: app.Receivable, ToBucket: s.Bucket, Amount: part, Currency: inv.Currency, FirmAmount: settled.AtBook,
		PaymentID: s.PaymentID, FundsID: s.FundsID}
	tx.Post(m)
	m.Kind, m.FromBucket, m.Amount, m.FirmAmount = "exchange_difference", app.ExchangeResult, 0, settled.Difference
	tx.Post(m) // nothing, where it came in at the invoice's rate
	return store.SetOpen(tx.DB, row.ID, row.Open-part)
}

// stand saves where an invoice stands after an amount of it was settled.
func stand(tx *app.Tx, inv *store.Invoice, minor int64, s Settlement) error {
	received, err := store.ReceivedOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	if s.Kind != "credit_note" && s.Kind != WrittenOff {
		received += minor // it was posted after that sum was last written
	}
	inv.Open -= minor
	inv.State = invoice.Standing(inv.Open, received)
	tx.LinkTo(app.OfInvoice, inv.ID)
	return store.Save(tx.DB, inv)
}
