package invoice

import (
	"fmt"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
	"dorvet/core/wording"
)

// Document is a finished invoice as the client sees it: everything printed, and
// nothing else. Issue freezes it as a revision; every file is made from it.
type Document struct {
	Kind      string           `json:"kind"`              // invoice, credit_note, deposit_request, statement, expenses, reconciliation
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
	Foot      []Fact           `json:"foot,omitempty"`    // what is said at its foot, in words already
	Funds     *funds.Statement `json:"funds,omitempty"`   // likewise

	Language    wording.Language         `json:"language,omitempty"`
	Wording     map[wording.Label]string `json:"wording,omitempty"` // the firm's words in place of ours
	Look        Look                     `json:"look"`
	Billed      []Billed                 `json:"billed,omitempty"`      // line by line, in the order of Totals.Shares
	CreditsDate day.Day                  `json:"creditsDate,omitempty"` // of a credit note: when its invoice was dated
	// Picture is the logo that Look names, PNG: the renderer needs it, the revision
	// keeps its digest.
	Picture []byte `json:"-"`
	// Pictures are those above and beside the lines, PNG, by their digests: likewise.
	Pictures map[string][]byte `json:"-"`
}

// NamedPictures are the digests of the pictures above and beside the lines.
func (d *Document) NamedPictures() []string {
	named := []string{}
	if d.Look.Head != "" {
		named = append(named, d.Look.Head)
	}
	for _, s := range d.Sections {
		for _, l := range s.Lines {
			if l.Picture != "" && d.Shows("picture") {
				named = append(named, l.Picture)
			}
		}
	}
	return named
}

// Look is how a document is drawn.
type Look struct {
	Design    string `json:"design,omitempty"`    // letter, column, band
	Paper     string `json:"paper,omitempty"`     // a4, letter
	Typeface  string `json:"typeface,omitempty"`  // sans, serif, mixed
	Colour    string `json:"colour,omitempty"`    // #0F5F68
	Logo      string `json:"logo,omitempty"`      // digest of the picture, or nothing
	Title     string `json:"title,omitempty"`     // in place of Invoice
	Head      string `json:"head,omitempty"`      // digest of a picture above the lines
	Lines     string `json:"lines,omitempty"`     // of the firm's own, under it
	Code      bool   `json:"code,omitempty"`      // a code to pay by, where one can be made
	Statement bool   `json:"statement,omitempty"` // of the expenses on it
}

// Billed is a line as it was billed, before lines were grouped to be printed: what
// every structured format is made from.
type Billed struct {
	Kind       Kind         `json:"kind"`
	Engagement string       `json:"engagement"`
	Code       string       `json:"code"`                // of the engagement
	Reference  string       `json:"reference,omitempty"` // of the client
	Lead       Timekeeper   `json:"lead,omitzero"`       // of the engagement
	Day        day.Day      `json:"day"`
	Worked     Timekeeper   `json:"worked,omitzero"` // of time: who worked
	Service    string       `json:"service,omitempty"`
	Category   string       `json:"category,omitempty"` // of an expense
	Task       string       `json:"task,omitempty"`     // standard codes
	Activity   string       `json:"activity,omitempty"`
	Expense    string       `json:"expense,omitempty"`
	Text       string       `json:"text"`
	Minutes    int          `json:"minutes,omitempty"`
	Quantity   int64        `json:"quantity,omitempty"` // of units, in ten-thousandths
	Unit       string       `json:"unit,omitempty"`
	Price      *money.Rate  `json:"price,omitempty"` // of an hour or a unit; nothing where none was used
	Amount     money.Amount `json:"amount"`
	TaxCode    string       `json:"taxCode"`
}

// Timekeeper is a person as files name one.
type Timekeeper struct {
	Initials string `json:"initials,omitempty"`
	Name     string `json:"name,omitempty"`
	Class    string `json:"class,omitempty"` // PT, AS, PL, LA, OC, OT
}

// Words are the words of the document's language.
func (d *Document) Words() wording.Words {
	return wording.Words{Language: d.Language, Own: d.Wording}
}

// Title is what the document is called.
func (d *Document) Title() string {
	label := wording.Invoice
	switch {
	case d.Kind == "credit_note":
		label = wording.CreditNote
	case d.Kind == "deposit_request":
		label = wording.DepositRequest
	case d.Kind == "statement":
		label = wording.Statement
	case d.Kind == "reconciliation": // for the firm itself
		return "Reconciliation"
	case d.Kind == "expenses":
		label = wording.ExpensesStatement
	case d.Look.Title != "":
		return d.Look.Title
	}
	return d.Words().Say(label)
}

// Party is a name and address with its tax number.
type Party struct {
	Name      string   `json:"name"`
	Address   []string `json:"address"`
	TaxNumber string   `json:"taxNumber"`
	Mail      string   `json:"mail,omitempty"`
	Country   string   `json:"country,omitempty"` // ISO 3166
	Code      string   `json:"code,omitempty"`    // of a client, or of the issuing entity in files
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
	Until  day.Day      `json:"until,omitempty"` // its last day, where it spans several
	Who    string       `json:"who"`
	Text   string       `json:"text"`
	Hours  string       `json:"hours"`
	Rate   string       `json:"rate"`
	Amount money.Amount `json:"amount"`
	Note   string       `json:"note,omitempty"` // "no charge"
	// Picture is the digest of what stands beside the line, or nothing.
	Picture string `json:"picture,omitempty"`
	// Covered work is part of a fee: it is printed without a value.
	Covered bool `json:"covered,omitempty"`
	// Of are the places in Document.Billed of what it stands for; of what was frozen before they were kept there are none.
	Of []int `json:"of,omitempty"`
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
	return fmt.Sprintf("the typeface of the document has no “%c”, which stands in “%s”: change that text, then issue again", u.Character,
		u.Text)
}
