package app

import (
	"dorvet/core/day"
	"dorvet/core/money"
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

// Post writes a movement in the money ledger, at the end of the act.
func (tx *Tx) Post(kind string, effective day.Day, inv *store.Invoice, instalment *store.Instalment, from, to string, amount, firmAmount money.Amount) {
	tx.money = append(tx.money, store.MoneyMovement{
		ActID: tx.ActID, Kind: kind, InvoiceID: &inv.ID, InstalmentID: &instalment.ID, ClientID: inv.ClientID, EntityID: inv.EntityID,
		EffectiveDay: effective, RecordedAt: tx.Now, FromBucket: from, ToBucket: to,
		Amount: amount.Minor, Currency: amount.Currency, FirmAmount: firmAmount.Minor,
	})
}
