package ledger

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// MoneyLine is money, credit or funds that settled an invoice, or was taken back.
type MoneyLine struct {
	Day       day.Day      `json:"day"`
	Kind      string       `json:"kind" enum:"payment,funds_applied,credit_used,credit_note,withheld,reversed,written_off,recovered,owed_again"`
	Text      string       `json:"text"`
	Amount    money.Amount `json:"amount" doc:"negative: taken back"`
	PaymentID int64        `json:"paymentId" doc:"or 0"`
	Since     bool         `json:"since" doc:"funds or credit that were put on it after it was issued"`
}

// settledWords say what a movement of a kind did.
var settledWords = map[string]string{"payment": "Payment", "funds_applied": "From funds held", "credit_used": "From credit",
	"credit_note": "Credit note", "withheld": "Withheld by the client", "reversed": "Reversed",
	WrittenOff: "Written off", Recovered: "Owed again, as it came after all", OwedAgain: "Owed again"}

// Settled says what settled an invoice, by its movements in the order in which they were made.
func Settled(movements []store.MoneyMovement) []MoneyLine {
	lines := []MoneyLine{}
	for _, m := range movements {
		words := settledWords[m.Kind]
		if words == "" || m.Amount == 0 {
			continue
		}
		line := MoneyLine{Day: m.EffectiveDay, Kind: m.Kind, Text: words, Amount: money.Amount{Minor: m.Amount, Currency: m.Currency}}
		if m.ToBucket == app.Receivable {
			line.Amount = line.Amount.Neg()
		}
		line.Since = m.InstalmentID != nil && (m.Kind == "funds_applied" || m.Kind == "credit_used")
		if m.PaymentID != nil {
			line.PaymentID = *m.PaymentID
		}
		if n := len(lines) - 1; n >= 0 && lines[n].Text == line.Text && lines[n].Day == line.Day && lines[n].PaymentID == line.PaymentID {
			lines[n].Amount.Minor += line.Amount.Minor // one payment, over several instalments
			continue
		}
		lines = append(lines, line)
	}
	return lines
}
