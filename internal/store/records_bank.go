package store

import (
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
)

// BankAccount is an account of an issuing entity, with the heads of its CSV files.
type BankAccount struct {
	Row
	Name               string
	EntityID           int64
	IBAN               string // or the bank's own number, without spaces
	Currency           money.Currency
	ClientsMoney       bool // what is on it is held for clients
	DayColumn          string
	AmountColumn       string
	CameColumn         string
	WentColumn         string
	TextColumn         string
	PartyColumn        string
	PartyAccountColumn string
	ReferenceColumn    string
	BalanceColumn      string
	Active             bool
	ToldDay            day.Day `gorm:"serializer:day"` // the last day of the month of which it was told that nothing is reconciled
}

// BankStatement is what a bank said of an account. Amounts are in minor units.
type BankStatement struct {
	Row
	AccountID, EntityID int64
	Number              string
	FromDay             day.Day `gorm:"serializer:day"`
	ToDay               day.Day `gorm:"serializer:day"`
	Opening, Closing    int64
	Currency            money.Currency
	FileName            string
	ActID               int64
	ReadAt              time.Time
}

// The states of an entry.
const (
	EntryOpen  = "open"
	EntryTaken = "taken"
	EntryAside = "aside"
)

// BankEntry is one movement on an account, in minor units; negative: it went out.
type BankEntry struct {
	Row
	StatementID, AccountID, EntityID int64
	Key                              string
	BookedDay                        day.Day `gorm:"serializer:day"`
	ValueDay                         day.Day `gorm:"serializer:day"`
	Amount                           int64
	Currency                         money.Currency
	Creditor, EndToEnd, Text         string
	Party, PartyAccount              string
	Returned                         bool
	Reason                           string
	State                            string
	Aside                            string // what it is, where it is none of clients
}

// BankMatch is what an entry was taken for: a payment, a transfer, or what a person was paid back.
type BankMatch struct {
	Row
	EntryID, EntityID     int64
	PaymentID, TransferID *int64
	ReimbursementID       *int64
	Met                   bool // it was recorded before; else the entry made it
}

// ClientAccount is an account from which a client pays.
type ClientAccount struct {
	Row
	ClientID int64
	Account  string
}

// Reconciliation is what bank, ledger and clients came to on a day, and was kept, in minor units.
type Reconciliation struct {
	Row
	AccountID, EntityID int64
	Day                 day.Day `gorm:"serializer:day"`
	Bank, Ledger        int64
	Differences         int64 // bank less ledger
	Open                int   // differences of which nobody has said what they are
	Currency            money.Currency
	Note, Digest        string
	PersonID            *int64
	ActID               int64
}

// BankOrder is what a bank was asked to pay from an account, in minor units.
type BankOrder struct {
	Row
	AccountID, EntityID int64
	Name                string  // under which the bank knows it
	Day                 day.Day `gorm:"serializer:day"` // on which it is to leave
	Total               int64
	Currency            money.Currency
	Digest              string
	MadeAt              time.Time
	PersonID            *int64
	Withdrawn           bool
	ActID               int64
}

// Ordered is one payment of an order: a transfer, a refund, or what a person is paid back.
type Ordered struct {
	Row
	OrderID, EntityID                      int64
	TransferID, PaymentID, ReimbursementID *int64
	Name, IBAN                             string
	Amount                                 int64
	Text                                   string
}

// TableName implements the table of GORM.
func (Ordered) TableName() string { return "ordered" }

// Reimbursement is what a person was paid back of what they laid out, in minor units.
type Reimbursement struct {
	Row
	PersonID, EntityID int64
	Day                day.Day `gorm:"serializer:day"`
	Amount             int64
	Currency           money.Currency
	Note               string
	ByID               *int64
	TakenBack          bool
	ActID              int64
}

// Reimbursed is a purchase that was paid back, with what its person had paid.
type Reimbursed struct {
	ReimbursementID, PurchaseID int64
	Amount                      int64
}

// TableName implements the table of GORM.
func (Reimbursed) TableName() string { return "reimbursed" }
