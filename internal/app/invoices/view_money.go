package invoices

import (
	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
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
	for _, m := range movements {
		v.addMovement(m)
	}
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

// moneyWords say what a movement of a kind did.
var moneyWords = map[string]string{"payment": "Payment", "funds_applied": "From funds held", "credit_used": "From credit",
	"credit_note": "Credit note", "withheld": "Withheld by the client",
	"reversed": "Reversed", "reopened": ""}

func (v *Invoice) addMovement(m store.MoneyMovement) {
	words := moneyWords[m.Kind]
	if words == "" || m.Amount == 0 {
		return
	}
	line := MoneyLine{Day: m.EffectiveDay, Text: words, Amount: money.Amount{Minor: m.Amount, Currency: m.Currency}}
	if m.ToBucket == app.Receivable {
		line.Amount = line.Amount.Neg()
	}
	line.Since = m.InstalmentID != nil && (m.Kind == "funds_applied" || m.Kind == "credit_used")
	if m.PaymentID != nil {
		line.PaymentID = *m.PaymentID
	}
	n := len(v.Money) - 1
	if n >= 0 && v.Money[n].Text == line.Text && v.Money[n].Day == line.Day && v.Money[n].PaymentID == line.PaymentID {
		v.Money[n].Amount.Minor += line.Amount.Minor // one payment, over several instalments
		return
	}
	v.Money = append(v.Money, line)
}
