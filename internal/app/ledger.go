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
	Gifts          = "gifts"  // of thanks, beside what was owed
	BadDebt        = "bad_debt"
	BadDebtTax     = "bad_debt_tax" // the tax part of what was lost
	Bank           = "bank"
	ExchangeResult = "exchange"
)

// FlushPostings writes what was posted so far, so that sums over the ledger have it.
func (tx *Tx) FlushPostings() error {
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

// Standing is what movements have left standing, whatever happened to it since: those
// that went the other way later are taken off, so that undoing what stands undoes
// nothing twice. Who paid does not matter, what lies between two buckets does.
func Standing(movements []store.MoneyMovement) []store.MoneyMovement {
	type between struct {
		invoice, instalment, fund int64
		one, other                string
	}
	sums, order := map[between]*store.MoneyMovement{}, []between{}
	for _, m := range movements {
		key := between{number(m.InvoiceID), number(m.InstalmentID), number(m.FundsID), m.FromBucket, m.ToBucket}
		if key.one > key.other {
			m = turned(m)
			key.one, key.other = key.other, key.one
		}
		sum := sums[key]
		if sum == nil {
			sums[key], order = &m, append(order, key)
			continue
		}
		sum.Amount, sum.FirmAmount = sum.Amount+m.Amount, sum.FirmAmount+m.FirmAmount
		sum.EffectiveDay = max(sum.EffectiveDay, m.EffectiveDay)
	}
	standing := []store.MoneyMovement{}
	for _, key := range order {
		m := *sums[key]
		if m.Amount < 0 || m.Amount == 0 && m.FirmAmount < 0 {
			m = turned(m)
		}
		if m.Amount != 0 || m.FirmAmount != 0 {
			standing = append(standing, m)
		}
	}
	return standing
}

// turned is the same movement, said from the other side.
func turned(m store.MoneyMovement) store.MoneyMovement {
	m.FromBucket, m.ToBucket, m.Amount, m.FirmAmount = m.ToBucket, m.FromBucket, -m.Amount, -m.FirmAmount
	return m
}

func number(id *int64) int64 {
	if id == nil {
		return 0
	}
	return *id
}

// Undo posts what movements have left standing the other way, on a day or on theirs if
// that is later, and lets the funds that they touched follow. It gives what it posted.
func (tx *Tx) Undo(movements []store.MoneyMovement, kind string, on day.Day, paymentID *int64) ([]store.MoneyMovement, error) {
	undone := Standing(movements)
	for i := range undone {
		m := &undone[i]
		m.ID, m.Kind, m.PaymentID, m.EffectiveDay = 0, kind, paymentID, max(on, m.EffectiveDay)
		m.FromBucket, m.ToBucket = m.ToBucket, m.FromBucket
		tx.Post(*m)
		if m.FundsID == nil || m.FromBucket != Funds && m.ToBucket != Funds {
			continue
		}
		change := m.Amount
		if m.ToBucket == Funds {
			change = -change
		}
		if err := store.ChangeFunds(tx.DB, *m.FundsID, change); err != nil {
			return nil, err
		}
	}
	return undone, tx.FlushPostings()
}
