package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/pricing"
)

// ProposalText is a template: terms, openings, what comes after signing, mail.
type ProposalText struct {
	Row
	Name, Purpose, Text string
	Note                string // to whoever writes
	Active              bool
}

// Proposal is a proposal in any state; what it says is in its drafts.
type Proposal struct {
	Row
	EntityID, ClientID, LeadID int64
	Number                     int64
	NumberText, Name, Title    string
	Currency                   money.Currency
	State                      pricing.ProposalState
	Draft                      int
	ValidUntil                 day.Day `gorm:"serializer:day"`
	FirstYear                  int64
	MadeFromID, ReplacesID     *int64
	MadeAt, SavedAt            time.Time
	SentDay                    day.Day `gorm:"serializer:day"`
	SentAt, SeenAt             *time.Time
	AnsweredDay                day.Day `gorm:"serializer:day"`
	AnsweredAt                 *time.Time
}

// ProposalDraft is a version of what a proposal says.
type ProposalDraft struct {
	ID, ProposalID int64
	Draft          int
	Content        string // JSON
	At             time.Time
	PersonID       int64
}

// ProposalAnswer is the one answer to a proposal, with everything that was
// agreed, frozen.
type ProposalAnswer struct {
	ProposalID                int64 `gorm:"primaryKey"`
	Accepted                  bool
	Tier                      int
	Choice                    string // JSON
	Name, Mail                string
	At                        time.Time
	Day                       day.Day `gorm:"serializer:day"`
	Address                   string
	Reason, Evidence          string
	EvidenceFile              string // digest, or nothing
	EvidenceName              string
	PersonID, PaymentMethodID *int64
	Content                   string // JSON
	Document                  string // digest of the signed copy
	Planned, Deposits         int64  // net, minor units: the sums of the charges made
}

// ProposalQuestion is what a client asked.
type ProposalQuestion struct {
	Row
	ProposalID       int64
	Name, Mail, Text string
	At               time.Time
	Answer           string
	AnsweredAt       *time.Time
	PersonID         *int64
}

// ProposalPassing is somebody to whom a client passes a proposal on, or asks to.
type ProposalPassing struct {
	Row
	ProposalID       int64
	ByName, ByMail   string
	Name, Mail, Word string
	At               time.Time
	State            string // asked, sent, refused
	PersonID         *int64 // who answered
}

// Link lets somebody without an account see one thing.
type Link struct {
	ID                int64
	Digest            string
	Purpose           string
	SubjectID         int64
	Name, Mail        string
	DeliveryID        *int64 // with which it went out
	MadeAt, ExpiresAt time.Time
	WithdrawnAt       *time.Time
	SeenAt            *time.Time
	CodeDigest        string
	CodeExpiresAt     *time.Time
	CodeTries         int
	CodeMail          string // to whom it went
	FromID            *int64 // the account from which it was opened, with which it ends
}

// The purposes of links.
const (
	ForProposal      = "proposal"
	ForQuestionnaire = "questionnaire"
	ForInvoice       = "invoice"
	ForAccount       = "account"   // all that a client has with the firm, for a while after a code
	ForReminders     = "reminders" // ends reminders to who got one
)

// PaymentMethod is how a client lets the firm collect: a token and the last digits.
type PaymentMethod struct {
	Row
	ClientID                      int64
	Kind, Token, LastFour, Holder string
	At                            time.Time
	Active                        bool
	Agreed                        string // what its holder agreed to when it was kept, in the words shown
	Mail                          string // of whoever gave it, who alone can use it again
	EndedAt                       *time.Time
}

// PlanLine is a line as it was agreed.
type PlanLine struct {
	ID, EngagementID, ProposalID int64
	Position                     int
	Content                      string // JSON
}

// Charge is an amount that will be billed on a day, or when something happens.
type Charge struct {
	Row
	EngagementID, TaxCodeID int64
	ProposalID              *int64
	Position                int
	Kind                    string // fixed, recurring, deposit
	Text                    string
	Amount                  int64
	Currency                money.Currency
	BillDay                 day.Day `gorm:"serializer:day"`
	Event                   string
	ReachedDay              day.Day `gorm:"serializer:day"`
	FromDay                 day.Day `gorm:"serializer:day"`
	ToDay                   day.Day `gorm:"serializer:day"`
	Open, ByHand, Paused    bool
	State                   string
	Beyond                  bool   // made after the acceptance, as the plan goes on
	LikeID                  *int64 // the invoice that comes back as this
	PayerID                 *int64 // the client that pays this part, where several pay the whole
	LateID                  *int64 // the invoice that was paid late, of a charge for that
}

// Mail is a mail that is queued, sent, or failed. Where its body has {link}, a
// link is made when it is delivered, so that no secret is kept.
type Mail struct {
	ID, ActID              int64
	ClientID, ProposalID   *int64
	DeliveryID             *int64 // that it hands over
	EntityID               *int64 // in whose name; nil: the firm's first that has an address
	ToName, ToMail, Copies string
	Blind                  string     // copies that nobody sees
	Kind                   string     // of one that is no delivery: proposal, answer, notice …
	EndsReminders          bool       // who gets it can end reminders with one click
	Subject, Body          string     // the body has {mark} where a link is made when it is delivered
	Links                  []MailLink `gorm:"-"`
	Files                  []MailFile `gorm:"-"`
	State                  string     // queued, sent, arrived, failed, called_back
	Tries                  int
	Problem                string
	ReturnKey              string // under which reports come back
	MadeAt                 time.Time
	SentAt, NextAt         *time.Time
}

// MailLink is a link that is made for the addressee when the mail is delivered.
type MailLink struct {
	MailID    int64
	Mark      string
	Purpose   string
	SubjectID int64
	ExpiresAt time.Time
}

// MailFile is a file that goes with a mail.
type MailFile struct {
	MailID                  int64
	Position                int
	Digest, Name, MediaType string
}

// Questionnaire is a template of questions: one a line, with the field of the
// client that an answer belongs to after >.
type Questionnaire struct {
	Row
	Name, Opening, Questions string
	Active                   bool
}

// ClientQuestionnaire is one that was sent to a client.
type ClientQuestionnaire struct {
	Row
	ClientID                 int64
	Name, Opening, Questions string
	SentAt                   time.Time
	AnsweredAt               *time.Time
	Answers, Taken           string // JSON
}
