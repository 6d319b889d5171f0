package invoice

import (
	"fmt"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
)

// Document is a finished invoice as the client sees it: everything printed, and
// nothing else. Issue freezes it as a revision; every file is made from it.
type Document struct {
	Kind      string           `json:"kind"`              // invoice, credit_note, deposit_request
	Number    string           `json:"number"`            // nothing for a draft
	Credits   string           `json:"credits,omitempty"` // of a credit note: the number of its invoice
	Opening   string           `json:"opening,omitempty"`
	Closing   string           `json:"closing,omitempty"`
	Note      string           `json:"note,omitempty"`
	Columns   []string         `json:"columns"` // date, who, hours, rate
	Issuer    Party            `json:"issuer"`
	Client    Party            `json:"client"`
	Bank      Bank             `json:"bank"`
	Dated     day.Day          `json:"dated"`
	Due       day.Day          `json:"due"`
	Terms     string           `json:"terms"`
	UpTo      day.Day          `json:"upTo"` // the cut-off of the work on it
	Reference string           `json:"reference"`
	Sections  []Section        `json:"sections"`
	Totals    Totals           `json:"totals"`
	Payable   []Instalment     `json:"payable"`
	Currency  money.Currency   `json:"currency"`
	Earlier   *money.Amount    `json:"earlier,omitempty"` // what is owed on earlier invoices, where it is to be printed
	Funds     *funds.Statement `json:"funds,omitempty"`   // likewise
}

// Title is what the document is called.
func (d *Document) Title() string {
	switch d.Kind {
	case "credit_note":
		return "Credit note"
	case "deposit_request":
		return "Deposit request"
	}
	return "Invoice"
}

// Party is a name and address with its tax number.
type Party struct {
	Name      string   `json:"name"`
	Address   []string `json:"address"`
	TaxNumber string   `json:"taxNumber"`
	Mail      string   `json:"mail,omitempty"`
}

// Bank is where to pay.
type Bank struct {
	Name string `json:"name"`
	IBAN string `json:"iban"`
	BIC  string `json:"bic"`
}

// Section is one engagement's part of the document.
type Section struct {
	Title     string         `json:"title"`
	Reference string         `json:"reference"`
	Lines     []DocumentLine `json:"lines"`
	Sum       money.Amount   `json:"sum"`
}

// DocumentLine is a printed line. Hours and Rate are empty where none is shown.
type DocumentLine struct {
	Day    day.Day      `json:"day"`
	Who    string       `json:"who"`
	Text   string       `json:"text"`
	Hours  string       `json:"hours"`
	Rate   string       `json:"rate"`
	Amount money.Amount `json:"amount"`
	Note   string       `json:"note,omitempty"` // "no charge"
	// Covered work is part of a fee: it is printed without a value.
	Covered bool `json:"covered,omitempty"`
}

// Instalment is a part of the amount due, with its day.
type Instalment struct {
	Due    day.Day      `json:"due"`
	Amount money.Amount `json:"amount"`
	Words  string       `json:"words,omitempty"` // how it was agreed
}

// Unprintable is the error of a document with a character that its typeface lacks.
type Unprintable struct {
	Text      string
	Character rune
}

func (u *Unprintable) Error() string {
	return fmt.Sprintf("the typeface of the document has no “%c”, which stands in “%s”: change that text, then issue again", u.Character, u.Text)
}
