package invoices

import (
	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/app/ledger"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// addMoney adds how an issued invoice is to be paid, and what was.
func (v *Invoice) addMoney(tx *store.DB, inv *store.InvoiceRow, today day.Day) error {
	rows, err := store.InstalmentsOf(tx, inv.ID)
	if err != nil {
		return err
	}
	for _, row := range rows {
		part := OwedPart{Due: row.DueDay, Words: row.Words, Amount: inv.Amount(row.Amount), Open: inv.Amount(row.Open)}
		if row.Open != 0 {
			part.DaysLate = max(0, int(today-row.DueDay))
		}
		v.Instalments = append(v.Instalments, part)
	}
	movements, err := store.MoneyOf(tx, inv.ID)
	if err != nil {
		return err
	}
	v.Money = ledger.Settled(movements)
	notes, err := store.Invoices(tx, store.InvoiceFilter{CreditsID: inv.ID, States: invoice.IssuedStates}, "i.id")
	if err != nil {
		return err
	}
	for i := range notes {
		v.Notes = append(v.Notes, summary(&notes[i], today))
	}
	if inv.CreditsID != nil {
		of, err := papers.Visible(tx, *inv.CreditsID)
		if err != nil {
			return err
		}
		s := summary(of, today)
		v.Credits = &s
	}
	return nil
}
