package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/delivery"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/wip"
)

// Act is a row of the history.
type Act struct {
	ID                             int64
	Kind                           string
	PersonID                       *int64
	At                             time.Time
	BusinessDay                    day.Day `gorm:"serializer:day"`
	Summary, Reason, Before, After string
	Outsider                       string // who acted through a link, without an account
}

// ActSubject names a thing that an act concerned.
type ActSubject struct {
	ActID     int64
	Subject   string
	SubjectID int64
}

// Idempotency is the answer to an act that was asked for under a key.
type Idempotency struct {
	PersonID                     int64
	Key, Act, BodyDigest, Result string
	At                           time.Time
}

// TableName has no plural.
func (Idempotency) TableName() string { return "idempotency" }

// File is a file in the store, named by the SHA-256 digest of its bytes.
type File struct {
	Digest    string `gorm:"primaryKey"`
	Bytes     int64
	MediaType string
	At        time.Time
}

// Invoice is an invoice in any state, a credit note, or an opening balance: an old
// invoice of which only what is owed is known.
type Invoice struct {
	Row
	// Fresh marks a draft that was begun in this act: nothing was put in an order, and
	// nothing is reserved for it.
	Fresh                        bool `gorm:"-"`
	EntityID, SeriesID, ClientID int64
	Kind                         invoice.Sort
	Currency                     money.Currency
	Number                       *int64
	NumberText                   string
	State                        invoice.State
	Revision                     int
	FromDay                      day.Day `gorm:"serializer:day"` // none: since the last bill
	UpToDay                      day.Day `gorm:"serializer:day"`
	Dated                        day.Day `gorm:"serializer:day"`
	DueDay                       day.Day `gorm:"serializer:day"` // of the last instalment
	TaxDay                       day.Day `gorm:"serializer:day"`
	Terms                        string
	Choices                      profile.BillingTerms `gorm:"serializer:json"`
	CreditsID                    *int64               // of a credit note
	Lines, Net, Tax, Total, Due  int64
	Withholding, Credit, Funds   int64
	Open, Credited               int64 // still owed; taken by credit notes
	ExchangeRate                 money.ExchangeRate
	ExchangeSource               string
	NetFirm, TotalFirm           int64
	Disputed                     string
	Reopened                     bool
	RunID                        *int64 // of the billing run that it is in
	Divided                      bool   // one of those that several payers get
	Handed                       delivery.Standing
	HandedBefore                 bool  // it was issued before deliveries were noted
	DisputedAmount               int64 // gross, of one that is disputed in part
	WrittenOff                   int64 // as bad debt, with its tax, less what came of it after all
}

// Amount is minor units of the invoice's currency.
func (i *Invoice) Amount(minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: i.Currency}
}

// InvoiceEngagement says that an engagement is billed on an invoice, even if
// all of its lines were taken out.
type InvoiceEngagement struct{ InvoiceID, EngagementID int64 }

// Payable is what can be paid of an invoice: what is owed, and what was lost and comes after all.
func (i *Invoice) Payable() int64 { return i.Open + i.WrittenOff }

// Account is whose money an invoice moves.
func (i *Invoice) Account() Account {
	return Account{ClientID: i.ClientID, EntityID: i.EntityID, Currency: i.Currency}
}

// InvoiceLine is a line of an invoice; the portions that it bills name it.
type InvoiceLine struct {
	Row
	InvoiceID, EngagementID int64
	Kind                    invoice.Kind
	TaxCodeID               int64
	Day                     day.Day `gorm:"serializer:day"`
	PersonID                *int64
	Text                    string
	Minutes                 int
	PerHour                 *money.Rate
	Amount                  int64
	Currency                money.Currency
	Treatment               wip.Treatment
	Position                int    // 0: by engagement and day
	Quantity                *int64 // ten-thousandths, of a line by hand
	Unit                    string
	UnitPrice               *money.Rate
	ChargeID                *int64
	Done                    *money.Percent // of a progress line
	Confirmed               bool           // an open price waits for somebody to give it
	CreditsLineID           *int64         // of a credit note
	Again                   bool           // credited to be billed again
	AdvanceLineID           *int64         // the advance that it takes back
	Discount, Surcharge     int64          // its shares of the invoice's
	LineKindID              *int64         // of a line by hand
	PictureID               *int64         // beside it, where the layout shows one
	PayerID                 *int64         // whose part of it this is, where several pay
}

// InvoiceRevision is what was issued, frozen.
type InvoiceRevision struct {
	ID          int64
	InvoiceID   int64
	Revision    int
	ActID       int64
	Content     string
	Explanation string
	Digest      string
	Drawing     int // which drawing made the file; 0: before that was noted
}

// Instalment is a part of what is due, with its day.
type Instalment struct {
	ID, InvoiceID      int64
	Revision, Position int
	DueDay             day.Day `gorm:"serializer:day"`
	Amount             int64
	Currency           money.Currency
	Open               int64 // still owed
	Words              string
}

// WorkMovement is a row of the work ledger.
type WorkMovement struct {
	ID, ActID               int64
	Kind                    string
	PortionID, EngagementID int64
	InvoiceID               *int64
	EffectiveDay            day.Day `gorm:"serializer:day"`
	RecordedAt              time.Time
	FromBucket, ToBucket    string
	Minutes                 int
	Standard, Agreed        int64
	Currency                money.Currency
}

// MoneyMovement is a row of the money ledger.
type MoneyMovement struct {
	ID, ActID            int64
	Kind                 string
	InvoiceID            *int64
	InstalmentID         *int64
	ClientID, EntityID   int64
	EffectiveDay         day.Day `gorm:"serializer:day"`
	RecordedAt           time.Time
	FromBucket, ToBucket string
	Amount               int64
	Currency             money.Currency
	FirmAmount           int64
	PaymentID            *int64
	FundsID              *int64
}
