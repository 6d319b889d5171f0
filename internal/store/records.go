package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/tax"
	"dorvet/core/wip"
	"dorvet/core/worktime"
)

// Firm is the one row of the firm's own settings.
type Firm struct {
	Row
	Name             string
	Currency         money.Currency
	TimeZone         string
	DecimalMark      string
	IncrementMinutes int
	Rounding         worktime.Rounding
	MinimumMinutes   int
	Terms            string
	TaxCodeID        int64
	ClosingDay       day.Day `gorm:"serializer:day"`
}

// TableName is singular: there is one firm.
func (Firm) TableName() string { return "firm" }

// Mark is the firm's decimal mark.
func (f Firm) Mark() money.Mark { return money.Mark(f.DecimalMark[0]) }

// IssuingEntity is a legal person of the firm that issues invoices.
type IssuingEntity struct {
	Row
	Name, LegalName, Address, TaxNumber, Mail string
	BankName, IBAN, BIC                       string
}

// Series gives numbers without gaps; the next one is kept here.
type Series struct {
	Row
	EntityID    int64
	Kind        string
	Prefix      string
	FirstNumber int64
	NextNumber  int64
}

// TaxCode is a code; its rates are rows of their own.
type TaxCode struct {
	Row
	Code, Name string
	Category   tax.Category
	Notice     string
}

// TaxRate is a tax code's rate from a day on.
type TaxRate struct {
	ID        int64
	TaxCodeID int64
	FromDay   day.Day `gorm:"serializer:day"`
	Percent   money.Percent
}

// ExchangeRate is what a unit of a currency costs in the firm's on a day.
type ExchangeRate struct {
	ID       int64
	Currency money.Currency
	Day      day.Day `gorm:"serializer:day"`
	Rate     money.ExchangeRate
	Source   string
}

// Grade is a classification of people.
type Grade struct {
	Row
	Name string
}

// Person works for the firm and may sign in.
type Person struct {
	Row
	Name, Initials, Mail, PasswordHash string
	Role                               string
	GradeID                            *int64
	EntityID                           int64
	WeeklyMinutes                      int
	Active                             bool
}

// TableName is the plural.
func (Person) TableName() string { return "people" }

// Service is an item of the catalogue.
type Service struct {
	Row
	Code, Name string
	Active     bool
}

// Client is who is billed. Empty terms and no tax code fall back to the firm's.
type Client struct {
	Row
	Code, Name, InvoiceName, Address, TaxNumber, Mail string
	Currency                                          money.Currency
	Terms                                             string
	TaxCodeID                                         *int64
	Combined                                          bool
	Active                                            bool
}

// Engagement is a piece of work for a client. What is empty falls back to the
// client's value, then the firm's.
type Engagement struct {
	Row
	ClientID, EntityID    int64
	SeriesID              *int64 // nil: the first of the entity
	Code, Name, Reference string
	Arrangement           string
	LeadID                int64
	Currency              money.Currency
	Terms                 string
	TaxCodeID             *int64
	IncrementMinutes      *int
	Rounding              worktime.Rounding
	MinimumMinutes        *int
	Billable              bool
	OpenedDay             day.Day `gorm:"serializer:day"`
	ClosedDay             day.Day `gorm:"serializer:day"`
	Active                bool
}

// Rate is one rate on one level; PerHour nil means none from that day on.
type Rate struct {
	ID                                                   int64
	Kind                                                 string
	Level                                                rate.Level
	Card                                                 rate.Card
	ServiceID, GradeID, PersonID, ClientID, EngagementID *int64
	Currency                                             money.Currency
	FromDay                                              day.Day `gorm:"serializer:day"`
	PerHour                                              *money.Rate
}

// Act is a row of the history.
type Act struct {
	ID                             int64
	Kind                           string
	PersonID                       *int64
	At                             time.Time
	BusinessDay                    day.Day `gorm:"serializer:day"`
	Summary, Reason, Before, After string
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

// TimeEntry is what was recorded, with the value computed when it was saved.
type TimeEntry struct {
	Row
	PersonID, EngagementID, ServiceID int64
	Day                               day.Day `gorm:"serializer:day"`
	WorkedMinutes, NotBillableMinutes int
	Markup                            money.Percent
	Treatment                         wip.Treatment
	Text, Note, Approval              string
	BilledMinutes                     int
	Standard, Agreed                  int64
	Currency                          money.Currency
	Valued                            wip.Valued `gorm:"serializer:json"`
	Removed                           bool
}

// Portion is the part of a source on which billing acts.
type Portion struct {
	Row
	Source           string
	SourceID         int64
	EngagementID     int64
	WorkedDay        day.Day `gorm:"serializer:day"`
	Treatment        wip.Treatment
	Minutes          int
	Standard, Agreed int64
	Currency         money.Currency
	WithoutRate      bool
	Hold             string
	HoldUntil        day.Day `gorm:"serializer:day"`
	Billing          wip.Billing
	LineID           *int64
	Removed          bool
}

// Invoice is an invoice in any state.
type Invoice struct {
	Row
	EntityID, SeriesID, ClientID int64
	Currency                     money.Currency
	Number                       *int64
	NumberText                   string
	State                        invoice.State
	Revision                     int
	UpToDay                      day.Day `gorm:"serializer:day"`
	Dated                        day.Day `gorm:"serializer:day"`
	DueDay                       day.Day `gorm:"serializer:day"`
	TaxDay                       day.Day `gorm:"serializer:day"`
	Terms                        string
	Lines, Net, Tax, Total, Due  int64
	ExchangeRate                 money.ExchangeRate
	ExchangeSource               string
	NetFirm, TotalFirm           int64
}

// InvoiceEngagement says that an engagement is billed on an invoice, even if
// all of its lines were taken out.
type InvoiceEngagement struct{ InvoiceID, EngagementID int64 }

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
}

// Instalment is a part of what is due, with its day.
type Instalment struct {
	ID, InvoiceID      int64
	Revision, Position int
	DueDay             day.Day `gorm:"serializer:day"`
	Amount             int64
	Currency           money.Currency
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
}
