package ledger

import (
	"dorvet/core/funds"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// PostIssue posts what an issued invoice comes to, of which some is invoiced ahead: net
// and tax pass through the issued bucket; what is withheld, and taken of credit and funds, leaves it at once; the
// rest is owed, by instalment.
func PostIssue(tx *app.Tx, inv *store.Invoice, totals invoice.Totals, advance int64, parts []schedule.Instalment) error {
	p, err := NewPosting(tx, inv)
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
	if p.Err != nil {
		return p.Err
	}
	if err := applyReserved(tx, inv, p); err != nil {
		return err
	}
	return schedulePayment(tx, inv, p, parts)
}

// Posting writes the movements of one invoice at its exchange rate, and knows what
// of it is left in the firm's currency.
type Posting struct {
	tx   *app.Tx
	inv  *store.Invoice
	firm money.Currency
	sign int64 // of a credit note −1
	left int64
	Err  error
}

// NewPosting begins to post what one invoice comes to.
func NewPosting(tx *app.Tx, inv *store.Invoice) (*Posting, error) {
	firm, err := store.TheFirm(tx.DB)
	return &Posting{tx: tx, inv: inv, firm: firm.Currency, sign: 1}, err
}

// Movement is a movement of the invoice, in minor units of its currency and the firm's.
func (p *Posting) Movement(kind, from, to string, amount, firm int64) store.MoneyMovement {
	return store.MoneyMovement{Kind: kind, InvoiceID: &p.inv.ID, ClientID: p.inv.ClientID, EntityID: p.inv.EntityID,
		EffectiveDay: p.inv.Dated,
		FromBucket:   from, ToBucket: to, Amount: amount, Currency: p.inv.Currency, FirmAmount: firm}
}

// InFirm is an amount in the firm's currency, at the invoice's rate of exchange. What can't
// be converted is kept in Err.
func (p *Posting) InFirm(minor int64) int64 {
	amount, err := p.inv.Amount(minor).Convert(p.inv.ExchangeRate, p.firm)
	if err != nil {
		p.Err = err
	}
	return amount.Minor
}

// in posts what comes into the issued bucket; the parts of net and tax are rounded
// so that they add up to the whole in the firm's currency.
func (p *Posting) in(kind, from string, minor int64) {
	firm := p.InFirm(minor)
	switch kind {
	case "issued_net":
		firm = p.inv.NetFirm - p.InFirm(p.inv.Net-minor)
	case "issued_tax":
		firm = p.inv.TotalFirm - p.inv.NetFirm
	}
	p.tx.Post(p.Movement(kind, from, app.Issued, minor, firm))
}

// out posts what leaves it at once.
func (p *Posting) out(kind, to string, minor int64, fundsID *int64) {
	firm := p.InFirm(minor)
	p.left -= firm
	m := p.Movement(kind, app.Issued, to, minor, firm)
	m.FundsID = fundsID
	p.tx.Post(m)
}

// taken posts what an invoice takes of credit or funds. What came in only after the
// invoice's date is owed from then on until it came.
func (p *Posting) taken(kind, bucket string, minor int64, fundsID *int64, changes []funds.Change) {
	on, _ := funds.FirstDay(changes, minor, p.inv.Dated)
	if on <= p.inv.Dated {
		p.out(kind, bucket, minor, fundsID)
		return
	}
	firm := p.InFirm(minor)
	p.left -= firm
	p.tx.Post(p.Movement("owed_until_taken", app.Issued, app.Receivable, minor, firm))
	m := p.Movement(kind, app.Receivable, bucket, minor, firm)
	m.FundsID, m.EffectiveDay = fundsID, on
	p.tx.Post(m)
}

// applyReserved takes what a draft reserved out of the client's funds, each with
// the bank transfer that is to be made for it.
func applyReserved(tx *app.Tx, inv *store.Invoice, p *Posting) error {
	reserved, err := store.FundsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	for _, part := range reserved {
		fund, err := store.Get[store.ClientFunds](tx.DB, part.FundsID)
		if err != nil {
			return err
		}
		// What other drafts reserve is theirs: this one reserved its own share.
		if fund.Held, err = funds.Pay(funds.Held{ID: fund.ID, Held: fund.Held}, inv.Amount(part.Amount)); err != nil {
			return app.AsConflict(err)
		}
		if err := store.Save(tx.DB, fund); err != nil {
			return err
		}
		changes, err := store.ChangesOfFunds(tx.DB, fund.ID)
		if err != nil {
			return err
		}
		p.taken("funds_applied", app.Funds, part.Amount, &fund.ID, changes)
		if err := store.Insert(tx.DB, &store.Transfer{FundsID: fund.ID, InvoiceID: inv.ID, Day: inv.Dated,
			Amount: part.Amount}); err != nil {
			return err
		}
	}
	return p.Err
}

// schedulePayment makes the instalments, and posts what is owed on each.
func schedulePayment(tx *app.Tx, inv *store.Invoice, p *Posting, parts []schedule.Instalment) error {
	weights := make([]int64, len(parts))
	for i, part := range parts {
		weights[i] = part.Amount.Minor
	}
	shares, err := money.Split(p.left, weights)
	if err != nil {
		return err
	}
	for i, part := range parts {
		row := store.Instalment{InvoiceID: inv.ID, Revision: inv.Revision, Position: i + 1, DueDay: part.Due, Amount: part.Amount.Minor,
			Currency: inv.Currency,
			Open:     part.Amount.Minor, Words: part.Words}
		if err := store.Insert(tx.DB, &row); err != nil {
			return err
		}
		m := p.Movement("instalment", app.Issued, app.Receivable, part.Amount.Minor, shares[i])
		m.InstalmentID = &row.ID
		tx.Post(m)
	}
	inv.Open = inv.Due
	if inv.Open == 0 {
		inv.State = invoice.Paid
	}
	return nil
}
