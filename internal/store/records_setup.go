package store

import (
	"time"

	"dorvet/core/budget"
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/tax"
	"dorvet/core/wording"
)

// Firm is the one row of the firm's own settings. How it bills is in its
// profile.
type Firm struct {
	Row
	Name, Address, Web, TaxRegistrations string
	Logo                                 string // digest of a file, or nothing
	Currency                             money.Currency
	TimeZone                             string
	DecimalMark                          string
	FiscalYearStart                      string  // month and day: 04-01
	WorkingDays                          string  // mon tue wed
	ClosingDay                           day.Day `gorm:"serializer:day"`
	EngagementWord, PhaseWord            string
	ProposalDays                         int // for which a proposal is valid
	ProposalText                         string
	FeeStep                              *int64  // to which suggested fees are raised, in minor units
	PassWithinDomain                     bool    // whether clients pass proposals on within their own domain without asking
	IdleMinutes                          int     // without a request, after which a session ends
	RefundProof                          *int64  // above which a refund asks for the password, in minor units; nil: never
	TwoAgree                             bool    // whether a second administrator agrees to bank details, roles and limits
	StaffTreats                          bool    // whether staff say how their time is billed
	ReminderHour                         string  // of the day in its zone, 6 to 18, at which reminders go out by themselves; hand: they do not
	RemindedDay                          day.Day `gorm:"serializer:day"` // on which they last did
}

// TableName is singular: there is one firm.
func (Firm) TableName() string { return "firm" }

// Mark is the firm's decimal mark.
func (f Firm) Mark() money.Mark { return money.Mark(f.DecimalMark[0]) }

// IssuingEntity is a legal person of the firm that issues invoices and
// proposals.
type IssuingEntity struct {
	Row
	Name, LegalName, Address, TaxNumber, Mail string
	Country                                   string // ISO 3166
	BankName, IBAN, BIC                       string
	ProposalPrefix                            string
	ProposalFirst, ProposalNext               int64
	Signature                                 string // under letters
	Active                                    bool
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
	Places     string // ISO 3166 codes of countries for which it is proposed
	Account    string // of the bookkeeper's, or nothing
	Active     bool
	SecondName string // of a second tax; nothing: there is none
	// SecondCompound says that the second tax counts on the first, too.
	SecondCompound bool
}

// TaxRate is a tax code's rate from a day on.
type TaxRate struct {
	Row
	TaxCodeID int64
	FromDay   day.Day `gorm:"serializer:day"`
	Percent   money.Percent
	// SecondPercent is of the code's second tax.
	SecondPercent money.Percent
}

// ExchangeRate is what a unit of a currency costs in the firm's on a day.
type ExchangeRate struct {
	Row
	Currency money.Currency
	Day      day.Day `gorm:"serializer:day"`
	Rate     money.ExchangeRate
	Source   string
}

// Office is a place of the firm.
type Office struct {
	Row
	Name, Address string
	Active        bool
}

// Holiday is a day on which an office, or the firm, does not work.
type Holiday struct {
	Row
	Day      day.Day `gorm:"serializer:day"`
	Name     string
	OfficeID *int64 // nil: all of them
}

// Grade is a classification of people.
type Grade struct {
	Row
	Name      string
	FileClass string // how the billing file classifies people: PT, AS, PL, LA, OC, OT
	Active    bool
}

// Person works for the firm and may sign in.
type Person struct {
	Row
	Name, Initials, Mail, Phone, PasswordHash string
	Role                                      string
	GradeID, OfficeID                         *int64
	EntityID                                  int64
	WeeklyMinutes                             int
	SeesRates, SeesTimes                      bool   // what a role alone does not allow
	SecondFactor                              string // base32 secret, or nothing
	SecondFactorStep                          int64
	ClockHours                                bool    // reads hours as 4:12, not as 4.2
	HoursRounded                              string  // to what hours are rounded in lists: tenth, quarter, or nothing
	NoticeMails                               string  // what they are told goes by mail, too: once, daily; nothing: it does not
	StandInID                                 *int64  // who acts for them while they are away
	StandInFrom                               day.Day `gorm:"serializer:day"`
	StandInTo                                 day.Day `gorm:"serializer:day"`
	IBAN                                      string  // to which they are paid back what they laid out
	Active                                    bool
}

// TableName is the plural.
func (Person) TableName() string { return "people" }

// AccountLink lets a person choose a password once.
type AccountLink struct {
	Digest            string `gorm:"primaryKey"`
	PersonID          int64
	MadeAt, ExpiresAt time.Time
	UsedAt            *time.Time
}

// SignedIn is a session as a person sees it.
type SignedIn struct {
	ID, PersonID       int64
	BeganAt, ExpiresAt time.Time
	Address, Browser   string
	EndedAt            *time.Time
	AskedAt            *time.Time // last, to a minute
	ProvedAt           *time.Time // when the password was last typed in it
}

// TableName has no plural.
func (SignedIn) TableName() string { return "signed_in" }

// Notice is something that a person is told inside the application.
type Notice struct {
	ID, PersonID, ActID int64
	BusinessDay         day.Day `gorm:"serializer:day"`
	Sentence            string
	EngagementID        *int64
	Seen                bool
	Mail                string // waits, sent; nothing: it does not go by mail
}

// ClientStatus is how the firm stands to a client.
type ClientStatus struct {
	Row
	Name   string
	Warns  bool // when new work is made
	Active bool
}

// TableName is the plural.
func (ClientStatus) TableName() string { return "client_statuses" }

// Client is who is billed. How, is in its profile.
type Client struct {
	Row
	Code, Name, InvoiceName                         string
	Form                                            string // person, organisation, both
	StatusID                                        *int64
	Industry, ClassCode, Department, WorkType       string
	OfficeID                                        *int64
	OpenedDay                                       day.Day `gorm:"serializer:day"`
	EndedDay                                        day.Day `gorm:"serializer:day"`
	FiscalYearEnd                                   string  // month and day
	TaxNumber, OtherTaxNumbers, Phones, Mail, Web   string
	Address                                         string // registered
	MailingAddress, BillingAddress, ShippingAddress string
	Country                                         string // ISO 3166
	Language                                        string
	Currency                                        money.Currency
	ResponsibleID, SecondID, OriginatorID           *int64
	Onboarded                                       bool // said by hand, before all steps are done
	Active                                          bool
}

// InvoiceAddress is where an invoice goes: an empty billing address falls back
// to the registered one.
func (c Client) InvoiceAddress() string {
	if c.BillingAddress != "" {
		return c.BillingAddress
	}
	return c.Address
}

// Contact is a person at a client; those of an engagement replace the client's
// there.
type Contact struct {
	Row
	ClientID                                                   int64
	EngagementID                                               *int64
	Name, Title, Mail, Copies, Phones, Notes                   string
	GetsInvoices, GetsStatements, GetsReminders, GetsProposals bool
	Active                                                     bool
}

// ClientNote is somebody's note on a client.
type ClientNote struct {
	Row
	ClientID, PersonID int64
	Day                day.Day `gorm:"serializer:day"`
	Text               string
}

// StepTemplate is a step that every new client begins with.
type StepTemplate struct {
	Row
	Name     string
	Days     int // after the client was opened
	Document string
	Link     string
	Active   bool
}

// ClientStep is a step of a client's onboarding.
type ClientStep struct {
	Row
	ClientID int64
	Name     string
	OwnerID  *int64
	DueDay   day.Day `gorm:"serializer:day"`
	Document string
	Link     string
	File     string // digest of what was got of it, or nothing
	FileName string
	DoneDay  day.Day `gorm:"serializer:day"`
}

// Engagement is a piece of work for a client. How it is billed, is in its
// profile over the client's.
type Engagement struct {
	Row
	ClientID, EntityID    int64
	SeriesID              *int64 // nil: the first of the entity
	Code, Name, Reference string
	Colour                string
	Arrangement           string  // hourly, capped, fixed, recurring, non_billable
	Fee                   *int64  // or the cap, in minor units
	FeePeriod             string  // of a recurring fee: month, quarter, year
	FeeFrom               day.Day `gorm:"serializer:day"` // the first day of its first period; none: as opened
	FeeArrears            bool
	FeeProrated           bool
	LeadID                int64
	Currency              money.Currency
	ServiceID             *int64 // that recording begins with
	Billable              bool
	Stage                 string        // not_started, running, finished, closed
	Done                  money.Percent // of the work behind a fixed fee, as somebody says; 0: nobody does
	OpenedDay             day.Day       `gorm:"serializer:day"`
	DueDay                day.Day       `gorm:"serializer:day"`
	ClosedDay             day.Day       `gorm:"serializer:day"`
	Renews                string        // is made again each month, quarter or year
	MadeFromID            *int64
	ProposalID            *int64 // that made it
	Notes                 string
	Active                bool
}

// Phase is a part of an engagement; with a parent it is a task of that phase.
type Phase struct {
	Row
	EngagementID int64
	ParentID     *int64
	Name, Status string
	DueDay       day.Day `gorm:"serializer:day"`
	Billable     bool
	Notes        string
	Active       bool
}

// Payer is who pays a share of an engagement.
type Payer struct {
	Row
	EngagementID, ClientID int64
	Share                  money.Percent // against the shares of the other payers: three equal ones are thirds
	Reference              string
}

// TableName says what is paid.
func (Payer) TableName() string { return "engagement_payers" }

// EngagementTemplate is an engagement that others are made from.
type EngagementTemplate struct {
	Row
	Name         string
	EngagementID int64
	Active       bool
}

// OwnField is a field that the firm adds to clients or engagements.
type OwnField struct {
	Row
	Subject, Name, Form, Choices string
	Active                       bool
}

// Budget is a limit on an engagement or a phase of it.
type Budget struct {
	Row
	EngagementID int64
	PhaseID      *int64
	Measure      budget.Measure
	Minutes      int64       // of hours, or expected for a fee budget
	PerHour      *money.Rate // expected rate of a fee budget
	Amount       int64       // minor units; 0 for hours
	Currency     money.Currency
	Renewal      budget.Renewal
	FromDay      day.Day `gorm:"serializer:day"`
	Carries      bool
	Thresholds   string // percentages, as typed
	Active       bool
}

// BudgetAlert says that a share was reached in a period, and told.
type BudgetAlert struct {
	BudgetID    int64
	Threshold   money.Percent
	PeriodStart day.Day `gorm:"serializer:day"`
	ActID       int64
}

// Import is a file that was read in; Made are the rows that it made.
type Import struct {
	Row
	Kind, Name string
	At         time.Time
	PersonID   int64
	Rows       int
	Made       []int64 `gorm:"serializer:json"`
	Undone     bool
}

// Wording is the firm's own text in place of a label of documents.
type Wording struct {
	Row
	Language wording.Language
	Label    wording.Label
	Text     string
}

// LedgerAccount is the bookkeeper's number for what the money ledger moves.
type LedgerAccount struct {
	Row
	Posting, Name, Account string
}
