package invoices

import (
	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// addGiven says what lies between the standard value and the net amount.
func (v *Invoice) addGiven(inv *store.InvoiceRow) error {
	sums := struct{ standard, time, noCharge, agreed, fees, covered, rest, down, up int64 }{}
	for _, l := range v.Lines {
		down := v.writtenDown[l.PortionID].Standard
		sums.down += down
		sums.standard += down
		if l.Treatment != core.NoCharge && l.Source != "none" {
			up := max(0, l.Amount.Minor+v.writtenDown[l.PortionID].Agreed-l.WasAmount.Minor)
			sums.up += up
			sums.agreed -= up
		}
		if l.Source == "time" {
			sums.time += down
		}
		sums.standard += l.Standard.Minor
		if l.Source == "time" {
			sums.time += l.Standard.Minor
		}
		switch {
		case l.Covered:
			sums.covered += l.Standard.Minor
		case l.Source != "none":
			sums.agreed += l.Amount.Minor
			if l.Treatment == core.NoCharge {
				sums.noCharge += l.Standard.Minor
			}
		case l.Kind.Covers():
			sums.fees += l.Amount.Minor
		default:
			sums.rest += l.Amount.Minor
		}
	}
	for i := range v.Lines { // a line shows what it was worth before it was written down, as the sum does
		v.Lines[i].Standard.Minor += v.writtenDown[v.Lines[i].PortionID].Standard
	}
	v.Standard = inv.Amount(sums.standard)
	given, err := core.Give(inv.Amount(sums.standard-sums.covered-sums.down), inv.Amount(sums.agreed), inv.Amount(sums.noCharge))
	if err != nil {
		return err
	}
	t := v.Document.Totals
	v.Given = FromStandard{Given: given, WrittenDown: inv.Amount(-sums.down), WrittenUp: inv.Amount(sums.up),
		Variance: inv.Amount(sums.fees - sums.covered), Discount: t.Discount.Neg(), Other: inv.Amount(sums.rest + t.Surcharge.Minor)}
	if sums.time != 0 {
		share, err := money.MulDiv(t.Fees.Minor, int64(money.Hundred), sums.time)
		v.Realisation = money.Percent(share)
		return err
	}
	return nil
}

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
