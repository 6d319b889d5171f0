package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
)

// Service is an item of the catalogue; its price is per unit, or fixed.
type Service struct {
	Row
	Code, Name             string
	Kind                   string // time, fixed, unit
	Currency               money.Currency
	Price                  *money.Rate
	Unit, Text             string
	Minutes                int
	TaxCodeID, LineKindID  *int64
	PictureID              *int64 // beside its lines, where the layout shows one
	About, TermsText       string // for the client, on proposals
	TaskCode, ActivityCode string
	Active                 bool
}

// LineKind is what a line by hand is for, and as what it is taxed: work, goods, expenses.
type LineKind struct {
	Row
	Name, Taxed string
	Active      bool
}

// Abbreviation is what is typed in place of a longer text.
type Abbreviation struct {
	Row
	Short, Text string
	Active      bool
}

// Picture is one of the firm's own, for documents and their lines.
type Picture struct {
	Row
	Name   string
	Digest string // of the PNG; nothing until it is chosen
	Active bool
}

// Enclosure is a file of the firm's own that goes along with invoices.
type Enclosure struct {
	Row
	Name           string
	File, FileName string // its digest, and its name as it goes out; nothing until it is chosen
	Active         bool
}

// Bundle is several services that are taken together, by their codes.
type Bundle struct {
	Row
	Name, Services string
	Active         bool
}

// RateCard is a named list of rates.
type RateCard struct {
	Row
	Name   string
	Active bool
}

// Rate is one rate on one level; PerHour nil means none from that day on. A
// rate of a card has no level of its own: it holds where the card is named.
type Rate struct {
	Row
	Kind                                                          string // bill, cost
	Level                                                         rate.Level
	Card                                                          rate.Card
	ServiceID, GradeID, PersonID, ClientID, EngagementID, PhaseID *int64
	CardID                                                        *int64
	Currency                                                      money.Currency
	FromDay                                                       day.Day `gorm:"serializer:day"`
	PerHour                                                       *money.Rate
	SaidNone                                                      bool `gorm:"-"` // it was typed that there is none
}
