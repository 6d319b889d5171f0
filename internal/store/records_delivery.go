package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/delivery"
	"dorvet/core/money"
	"dorvet/core/onlinepayment"
)

// Delivery is one attempt to hand documents to somebody.
type Delivery struct {
	Row
	EntityID, ClientID, ActID int64
	Kind                      delivery.Kind
	Way                       delivery.Way
	State                     delivery.State
	ToName, ToMail            string
	Name                      string // of what it hands over, where that is no invoice
	DepositID                 *int64
	Day                       day.Day `gorm:"serializer:day"` // on which it left the house
	MadeAt                    time.Time
}

// Delivered is an invoice that a delivery hands over, as it was frozen.
type Delivered struct {
	DeliveryID, InvoiceID int64
	Revision              int
	OpenedAt, FetchedAt   *time.Time // on the client's page, and a file of it
}

// TableName implements the table of GORM.
func (Delivered) TableName() string { return "delivered" }

// LetterText is what a letter says that brings a kind of document, in a language ("": any) and a tone ("": as ever).
type LetterText struct {
	Row
	Name, Kind, Language, Tone, Subject, Text string
	Active                                    bool
}

// Claim is what a client says of an invoice on its page.
type Claim struct {
	Row
	InvoiceID     int64
	Revision      int
	Kind          ClaimKind
	Section, Line int // of the printed document; -1: all of it
	LineText      string
	Amount        int64 // what is disputed, gross
	Text          string
	Day           day.Day `gorm:"serializer:day"` // on which it will be paid
	Name, Mail    string
	At            time.Time
	Outcome       Outcome
	Answer        string
	NoteID        *int64 // the credit note that came of it
	PersonID      *int64
	AnsweredAt    *time.Time
}

// ClaimKind is what a client says.
type ClaimKind string

// What clients say of an invoice.
const (
	Question ClaimKind = "question"
	Disputed ClaimKind = "dispute"
	Promise  ClaimKind = "promise"
)

// Outcome is what became of a claim; nothing: it is open.
type Outcome string

// The outcomes: answered, the line stays as it is, it was written down, credited, moved to where it belongs, or the client took it back.
const (
	Answered        Outcome = "answered"
	Kept            Outcome = "kept"
	LineWrittenDown Outcome = "written_down"
	Credited        Outcome = "credited"
	LineMoved       Outcome = "moved"
	Withdrawn       Outcome = "withdrawn"
)

// OnlinePayment is what a client pays on the page of an invoice, through a payment service.
type OnlinePayment struct {
	Row
	EntityID, ClientID, InvoiceID int64
	Key                           string // under which the service knows it
	Reference                     string // of the service
	Kind                          string // card, debit
	State                         onlinepayment.State
	Amount, Fee, Gift             int64  // on the invoice; borne by the payer on top; of thanks, on top
	MethodID                      *int64 // that was kept before
	Currency                      money.Currency
	LastFour                      string
	Problem                       string
	PaymentID                     *int64
	Name, Mail                    string
	MadeAt                        time.Time
	ToldAt                        *time.Time // when the service last said something of it
}
