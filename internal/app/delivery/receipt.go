package delivery

import (
	"cmp"

	"dorvet/core/letter"
	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// MailReceipt thanks whoever paid on an invoice, in the client's language. Without an address nothing is mailed.
func MailReceipt(tx *app.Tx, inv *store.Invoice, paid money.Amount, name, mail string) error {
	if mail == "" {
		return nil
	}
	doc, err := papers.DocumentOf(tx.DB, inv)
	if err != nil {
		return err
	}
	texts, err := store.LetterTexts(tx.DB)
	if err != nil {
		return err
	}
	text := textFor(texts, "receipt", doc.Language)
	if text == nil {
		return nil // the firm sends none
	}
	entity, err := store.Get[store.IssuingEntity](tx.DB, inv.EntityID)
	if err != nil {
		return err
	}
	w := doc.Words()
	values := map[string]string{"name": name, "number": inv.NumberText, "amount": w.Money(paid), "day": w.Day(tx.Today), "rest": "",
		"firm": entity.LegalName, "client": doc.Client.Name, "signature": cmp.Or(entity.Signature, entity.LegalName)}
	if inv.Open > 0 {
		values["rest"] = w.Say(wording.AmountDue) + ": " + w.Money(inv.Amount(inv.Open)) + "."
	}
	return correspondence.Queue(tx, store.Mail{ClientID: &inv.ClientID, EntityID: &inv.EntityID, ToName: name, ToMail: mail,
		Subject: filled(text.Subject, values), Body: filled(text.Text, values)})
}

// filled is a text whose places may have nothing to say.
func filled(text string, values map[string]string) string {
	text, open := letter.Fill(text, values)
	for _, name := range open {
		if _, known := values[name]; known {
			text = letter.Without(text, name)
		}
	}
	return letter.Tidied(text)
}
