package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
)

// Payment is money that came in, went back, or was reversed; a reversal is a row
// of its own. What it settles stands in the money ledger.
type Payment struct {
	Row
	EntityID, ClientID      int64
	Purpose                 string
	FundsID                 *int64
	Day                     day.Day `gorm:"serializer:day"`
	Amount                  int64   // negative: a reversal, or a refund
	Currency                money.Currency
	Method, Reference, Note string
	ExchangeRate            money.ExchangeRate
	ExchangeSource          string
	ReversesID              *int64
	RequestID               int64 // the deposit request that it answers, or 0
	PersonID                *int64
}

// The purposes of payments.
const (
	ForInvoices     = "invoices"
	ForFunds        = "funds"
	RefundsOfFunds  = "refund_funds"
	RefundsOfCredit = "refund_credit"
)

// ClientFunds is what is held for a client, or for one engagement of theirs.
type ClientFunds struct {
	Row
	EntityID, ClientID int64
	EngagementID       *int64
	Currency           money.Currency
	Held               int64
}

// InvoiceFund is what a draft reserves of a fund, or an invoice took of it.
type InvoiceFund struct {
	InvoiceID, FundsID int64
	Amount             int64
}

// Transfer is a bank transfer to make, from the clients' account to the firm's,
// or back where the amount is negative.
type Transfer struct {
	Row
	FundsID, InvoiceID int64
	Day                day.Day `gorm:"serializer:day"`
	Amount             int64
	DoneDay            day.Day `gorm:"serializer:day"`
}

// The reasons for which what is owed is written off.
const (
	LostInsolvent   = "insolvent"
	LostUnwilling   = "unwilling"
	LostUntraceable = "untraceable"
	LostTooSmall    = "too_small"
	LostGoodwill    = "goodwill"
	LostOther       = "other"
)

// WriteOff is what of an invoice was given up as bad debt, in minor units.
type WriteOff struct {
	Row
	InvoiceID, ClientID, EntityID int64
	Day                           day.Day `gorm:"serializer:day"`
	Net, Tax                      int64
	Currency                      money.Currency
	Reason, Note                  string
	PersonID                      *int64
	ActID                         int64
}

// DepositRequest asks a client for money to be held: it is not taxed and not owed.
type DepositRequest struct {
	Row
	EntityID, ClientID     int64
	EngagementID, ChargeID *int64
	Number                 int64
	NumberText, Text       string
	Amount, Received       int64
	Currency               money.Currency
	Dated                  day.Day `gorm:"serializer:day"`
	DueDay                 day.Day `gorm:"serializer:day"`
	State                  string  // open, received, withdrawn
}

// PaymentSchedule is a schedule that invoices can be given.
type PaymentSchedule struct {
	Row
	Name, Parts string
	Active      bool
}

// InvoiceTemplate is lines to begin an invoice with: one a line of text.
type InvoiceTemplate struct {
	Row
	Name, Lines string
	Choices     profile.BillingTerms `gorm:"serializer:json"` // texts, look and payment that it has of its own
	Active      bool
}
