package delivery

import (
	core "dorvet/core/delivery"

	"dorvet/core/letter"
	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// SendReceipt thanks whoever paid on an invoice, in the client's language. Without an address, a text or a sender nothing is mailed: a
// payment stands, whether or not it can be thanked for.
func SendReceipt(a *app.App, tx *app.Tx, inv *store.Invoice, paid money.Amount, name, mail string) error {
	if _, err := letter.Addresses(mail); err != nil || mail == "" {
		return nil
	}
	row, err := papers.Visible(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	w, err := WordsOf(tx.DB, inv)
	if err != nil {
		return err
	}
	parcel := &Parcel{Kind: core.Receipt, EntityID: inv.EntityID, ClientID: inv.ClientID, Client: row.Client, Words: w,
		Invoices: []store.InvoiceRow{*row}, To: []core.Addressee{{Name: name, Mail: mail, Whence: "who paid"}},
		Values: map[string]string{"number": inv.NumberText, "amount": w.Money(paid), "day": w.Day(tx.Today), "rest": ""}}
	if row.Open > 0 {
		parcel.Values["rest"] = w.Say(wording.AmountDue) + ": " + w.Money(inv.Amount(row.Open)) + "."
	}
	p, err := wrapped(tx.DB, parcel, nil, Handover{Way: core.Mail})
	if err != nil || p.Problem != "" {
		return err
	}
	texts, err := store.LetterTexts(tx.DB)
	if err != nil || p.text(texts) == nil {
		return err
	}
	_, err = p.send(a, tx, Handover{})
	return err
}
