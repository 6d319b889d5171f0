package invoice

import (
	"strings"

	"dorvet/core/money"
	"dorvet/core/paymentmethod"
)

// CreditorReference is the reference (ISO 11649) by which the bank's entry finds its invoice, as it is printed; nothing where a number has
// none.
func (d *Document) CreditorReference() string { return spaced(paymentmethod.Reference(d.Number)) }

// TransferCode is what stands in the code by which the amount due is paid from a
// phone: the data of a SEPA credit transfer by EPC069-12 of the European Payments
// Council, version 002 in UTF-8, with the creditor reference, else the number. Nothing where there can be none: it takes euros, an
// IBAN that is right, and 0.01 to 999,999,999.99. Of instalments it pays the first.
func (d *Document) TransferCode() string {
	reference, text := paymentmethod.Reference(d.Number), ""
	if reference == "" {
		text = within(d.Number, 140)
	}
	if len(d.Payable) == 0 || d.Currency != "EUR" || (paymentmethod.Account{IBAN: d.Bank.IBAN, Holder: d.Issuer.Name}).Check() != nil {
		return ""
	}
	amount := d.Payable[0].Amount.Minor
	if amount < 1 || amount > 999_999_999_99 {
		return ""
	}
	lines := []string{"BCD", "002", "1", "SCT", strings.ReplaceAll(d.Bank.BIC, " ", ""), within(d.Issuer.Name, 70),
		strings.ToUpper(strings.ReplaceAll(d.Bank.IBAN, " ", "")),
		"EUR" + money.TypeFixed(amount, money.Point, 2, 2), "", reference, text}
	return strings.TrimRight(strings.Join(lines, "\n"), "\n") // empty lines at the end are left out
}

// within is the beginning of a text of one line.
func within(text string, most int) string {
	letters := []rune(strings.Join(strings.Fields(text), " "))
	return string(letters[:min(len(letters), most)])
}
