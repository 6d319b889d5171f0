package billing

import (
	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// owe posts what an issued invoice comes to: net and tax pass through the issued
// bucket; what is withheld, and taken of credit and funds, leaves it at once; the
// rest is owed, by instalment.
func owe(tx *app.Tx, inv *store.Invoice, totals invoice.Totals, advance int64, parts []schedule.Instalment) error {
	p, err := postingOf(tx, inv)
	if err != nil {
		return err
	}
	p.in("issued_net", app.Revenue, totals.Net.Minor-advance)
	p.in("issued_advance", app.Advances, advance)
	p.in("issued_tax", app.TaxPayable, totals.Tax.Minor)
	p.left = inv.TotalFirm // however its parts were rounded
	p.out("withheld", app.Withheld, totals.Withholding.Minor, nil)
	if totals.Credit.Minor != 0 {
		changes, err := store.ChangesOfCredit(tx.DB, inv.Account())
		if err != nil {
			return err
		}
		p.taken("credit_used", app.Credit, totals.Credit.Minor, nil, changes)
	}
	if p.err != nil {
		return p.err
	}
	if err := applyReserved(tx, inv, p); err != nil {
		return err
	}
	return schedulePayment(tx, inv, p, parts)
}

// posting writes the movements of one invoice at its exchange rate, and knows what
// of it is left in the firm's currency.
type posting struct {
	tx   *app.Tx
	inv  *store.Invoice
	firm money.Currency
	sign int64 // of a credit note −1
	left int64
	err  error
}

func postingOf(tx *app.Tx, inv *store.Invoice) (*posting, error) {
	firm, err := store.TheFirm(tx.DB)
	return &posting{tx: tx, inv: inv, firm: firm.Currency, sign: 1}, err
}

func (p *posting) movement(kind, from, to string, amount, firm int64) store.MoneyMovement {
	return store.MoneyMovement{Kind: kind, InvoiceID: &p.inv.ID, ClientID: p.inv.ClientID, EntityID: p.inv.EntityID, EffectiveDay: p.inv.Dated,
		FromBucket: from, ToBucket: to, Amount: amount, Currency: p.inv.Currency, FirmAmount: firm}
}

func (p *posting) inFirm(minor int64) int64 {
	amount, err := p.inv.Amount(minor).Convert(p.inv.ExchangeRate, p.firm)
	if err != nil {
		p.err = err
	}
	return amount.Minor
}

// in posts what comes into the issued bucket; the parts of net and tax are rounded
// so that they add up to the whole in the firm's currency.
func (p *posting) in(kind, from string, minor int64) {
	firm := p.inFirm(minor)
	switch kind {
	case "issued_net":
		firm = p.inv.NetFirm - p.inFirm(p.inv.Net-minor)
	case "issued_tax":
		firm = p.inv.TotalFirm - p.inv.NetFirm
	}
	p.tx.Post(p.movement(kind, from, app.Issued, minor, firm))
}

// out posts what leaves it at once.
func (p *posting) out(kind, to string, minor int64, purseID *int64) {
	firm := p.inFirm(minor)
	p.left -= firm
	m := p.movement(kind, app.Issued, to, minor, firm)
	m.PurseID = purseID
	p.tx.Post(m)
}

// taken posts what an invoice takes of credit or funds. What came in only after the
// invoice's date is owed from then on until it came.
func (p *posting) taken(kind, bucket string, minor int64, purseID *int64, changes []funds.Change) {
	on, _ := funds.FirstDay(changes, minor, p.inv.Dated)
	if on <= p.inv.Dated {
		p.out(kind, bucket, minor, purseID)
		return
	}
	firm := p.inFirm(minor)
	p.left -= firm
	p.tx.Post(p.movement("owed_until_taken", app.Issued, app.Receivable, minor, firm))
	m := p.movement(kind, app.Receivable, bucket, minor, firm)
	m.PurseID, m.EffectiveDay = purseID, on
	p.tx.Post(m)
}

// applyReserved takes what a draft reserved out of the client's purses, each with
// the bank transfer that is to be made for it.
func applyReserved(tx *app.Tx, inv *store.Invoice, p *posting) error {
	reserved, err := store.FundsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	for _, part := range reserved {
		purse, err := store.Get[store.Purse](tx.DB, part.PurseID)
		if err != nil {
			return err
		}
		// What other drafts reserve is theirs: this one reserved its own share.
		if purse.Held, err = funds.Pay(funds.Held{ID: purse.ID, Held: purse.Held}, inv.Amount(part.Amount)); err != nil {
			return app.AsConflict(err)
		}
		if err := store.Save(tx.DB, purse); err != nil {
			return err
		}
		changes, err := store.ChangesOfPurse(tx.DB, purse.ID)
		if err != nil {
			return err
		}
		p.taken("funds_applied", app.Funds, part.Amount, &purse.ID, changes)
		if err := store.Insert(tx.DB, &store.Transfer{PurseID: purse.ID, InvoiceID: inv.ID, Day: inv.Dated, Amount: part.Amount}); err != nil {
			return err
		}
	}
	return p.err
}

// schedulePayment makes the instalments, and posts what is owed on each.
func schedulePayment(tx *app.Tx, inv *store.Invoice, p *posting, parts []schedule.Instalment) error {
	weights := make([]int64, len(parts))
	for i, part := range parts {
		weights[i] = part.Amount.Minor
	}
	shares, err := money.Split(p.left, weights)
	if err != nil {
		return err
	}
	for i, part := range parts {
		row := store.Instalment{InvoiceID: inv.ID, Revision: inv.Revision, Position: i + 1, DueDay: part.Due, Amount: part.Amount.Minor, Currency: inv.Currency,
			Open: part.Amount.Minor, Words: part.Words}
		if err := store.Insert(tx.DB, &row); err != nil {
			return err
		}
		m := p.movement("instalment", app.Issued, app.Receivable, part.Amount.Minor, shares[i])
		m.InstalmentID = &row.ID
		tx.Post(m)
	}
	inv.Open = inv.Due
	if inv.Open == 0 {
		inv.State = invoice.Paid
	}
	return nil
}

// Settlement is what settles instalments: money of a payment, of a purse, or
// credit of the client.
type Settlement struct {
	Kind      string // payment, funds_applied, credit_used, credit_note
	Bucket    string // where the money lies
	Day       day.Day
	PaymentID *int64
	PurseID   *int64
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
	firm, err := money.MulDiv(book.FirmAmount, part, row.Open)
	if err != nil {
		return err
	}
	m := store.MoneyMovement{Kind: s.Kind, InvoiceID: &inv.ID, InstalmentID: &row.ID, ClientID: inv.ClientID, EntityID: inv.EntityID, EffectiveDay: s.Day,
		FromBucket: app.Receivable, ToBucket: s.Bucket, Amount: part, Currency: inv.Currency, FirmAmount: firm, PaymentID: s.PaymentID, PurseID: s.PurseID}
	tx.Post(m)
	if s.Rate != 0 {
		theFirm, err := store.TheFirm(tx.DB)
		if err != nil {
			return err
		}
		came, err := inv.Amount(part).Convert(s.Rate, theFirm.Currency)
		if err != nil {
			return err
		}
		m.Kind, m.FromBucket, m.Amount, m.FirmAmount = "exchange_difference", app.ExchangeResult, 0, came.Minor-firm
		tx.Post(m)
	}
	return store.SetOpen(tx.DB, row.ID, row.Open-part)
}

// stand saves where an invoice stands after an amount of it was settled.
func stand(tx *app.Tx, inv *store.Invoice, minor int64, s Settlement) error {
	received, err := store.ReceivedOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	if s.Kind != "credit_note" {
		received += minor // it was posted after that sum was last written
	}
	inv.Open -= minor
	inv.State = invoice.Standing(inv.Open, received)
	tx.LinkTo(app.OfInvoice, inv.ID)
	return store.Save(tx.DB, inv)
}
