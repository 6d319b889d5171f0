package app

import (
	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/store"
)

// Move writes a movement of a whole portion in the work ledger, at the end of
// the act. invoiceID is nil where no invoice is the reason.
func (tx *Tx) Move(kind string, effective day.Day, p store.Portion, from, to wip.Bucket, invoiceID *int64) {
	tx.work = append(tx.work, store.WorkMovement{
		ActID: tx.ActID, Kind: kind, PortionID: p.ID, EngagementID: p.EngagementID, InvoiceID: invoiceID,
		EffectiveDay: effective, RecordedAt: tx.Now, FromBucket: string(from), ToBucket: string(to),
		Minutes: p.Minutes, Standard: p.Standard, Agreed: p.Agreed, Currency: p.Currency,
	})
}

// The buckets of the money ledger. What an invoice comes to passes through Issued,
// of which nothing stays: what is left of it is owed, by instalment.
const (
	Revenue        = "revenue"
	TaxPayable     = "tax_payable"
	Advances       = "advances" // invoiced ahead of the work
	OldBalance     = "opening_balance"
	Issued         = "issued"
	Receivable     = "receivable"
	Withheld       = "withheld"
	Credit         = "credit" // of clients
	Funds          = "funds"  // held for clients
	Bank           = "bank"
	ExchangeResult = "exchange"
)

// Posted writes what was posted so far, so that sums over the ledger have it.
func (tx *Tx) Posted() error {
	rows := tx.money
	tx.money = nil
	return store.Insert(tx.DB, rows)
}

// Post writes a movement in the money ledger, at the end of the act or when
// [Tx.Posted] is asked for.
func (tx *Tx) Post(m store.MoneyMovement) {
	if m.Amount == 0 && m.FirmAmount == 0 {
		return
	}
	m.ActID, m.RecordedAt = tx.ActID, tx.Now
	tx.money = append(tx.money, m)
}
