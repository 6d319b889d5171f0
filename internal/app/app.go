// Package app is what people do. Its rooms follow the flow of money: setup,
// timekeeping, wip, billing, reports; each may use those before it. An act is
// one function, one transaction and one row of history ([Do]), and asks the
// core for every figure.
package app

import (
	"context"
	"io"
	"iter"
	"time"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/letter"
	"dorvet/core/paymentmethod"
	"dorvet/core/pricing"
	"dorvet/internal/store"
)

// App is what every act works with.
type App struct {
	Store *store.Store
	Clock Clock
	// Render makes the file of a finished invoice.
	Render func(invoice.Document) ([]byte, error)
	// Drawing says which way of drawing Render is: the same one makes the same bytes of
	// the same invoice.
	Drawing int
	// RenderProposal makes the file of an answered proposal.
	RenderProposal func(pricing.Document) ([]byte, error)
	// Mail sends a letter; nil where nothing is sent.
	Mail func(context.Context, letter.Letter) error
	// MailStays says that mails are kept on this machine, because no mail server is set.
	MailStays bool
	// Ways keeps cards and accounts; nil where no way of paying is taken.
	Gateway PaymentGateway
	// GatewaySecret signs what the payment service says by itself; nothing: nothing is taken from it.
	GatewaySecret string
	// SetupToken is asked for at the first start; nothing: none is.
	SetupToken string
	// Address is where clients reach Dorvet: https://bills.firm.example.
	Address string
	// Queued is told when mails wait to be delivered.
	Queued chan struct{}
	// Kept is what was computed of clients ([PerClient]); nil where all is computed anew.
	Kept *Kept
	// Jobs is the long work that is under way.
	Jobs *Jobs
	// Code makes the picture (PNG) of a code that phones read; nil where none is shown.
	Code func(text string) ([]byte, error)
	// Bind makes one file of many finished invoices; to be posted, with a sheet of address before those of each envelope.
	Bind func(w io.Writer, docs iter.Seq2[invoice.Document, error], posted bool) error
	// Gather makes one PDF of PDFs and pictures.
	Gather func(w io.Writer, files [][]byte) error
	// Formats are the open formats in which finished invoices leave the house.
	Formats Formats
}

// Formats write finished invoices in open formats, each by its name.
type Formats interface {
	// Supports is a *plain.Unsayable if the format has no place for something on it.
	Supports(form string, doc *invoice.Document) error
	One(w io.Writer, form string, doc invoice.Document) error
	Many(w io.Writer, form string, docs iter.Seq2[invoice.Document, error]) error
	// Read reads invoices that come in as structured data, as rows of open invoices; is
	// says whether a file is that at all.
	Read(data []byte) (header []string, rows [][]string, is bool, err error)
}

// KeepMethod gives a card or an account to the payment service, for a token.
func (a *App) KeepMethod(ctx context.Context, g paymentmethod.GivenMethod) (kept paymentmethod.Kept, err error) {
	if g.Kind == "card" {
		kept, err = a.Gateway.KeepCard(ctx, paymentmethod.Card{Number: g.Number, Expires: g.Expires, Code: g.Code, Holder: g.Holder})
		return kept, InField("number", err)
	}
	kept, err = a.Gateway.KeepAccount(ctx, paymentmethod.Account{IBAN: g.IBAN, Holder: g.Holder})
	return kept, InField("iban", err)
}

// PaymentGateway is a payment service: it takes a card or an account and gives a token. What the
// bank does not take is a refusal.
type PaymentGateway interface {
	KeepCard(context.Context, paymentmethod.Card) (paymentmethod.Kept, error)
	KeepAccount(context.Context, paymentmethod.Account) (paymentmethod.Kept, error)
	// Charge takes money by a token, once under a key however often it is asked; Find says what has become of what was asked under one.
	Charge(context.Context, paymentmethod.Charge) (paymentmethod.Charged, error)
	Find(ctx context.Context, key string) (paymentmethod.Charged, error)
}

// Clock tells both times: the instant at which the machine does something, and
// the business date of the work, which a demo pins.
type Clock interface {
	Now() time.Time
	Today() day.Day
}

// WallClock is real time; the firm's zone says what day it is.
type WallClock struct{ Store *store.Store }

// Now is the instant, in UTC and microseconds.
func (WallClock) Now() time.Time { return time.Now().UTC().Truncate(time.Microsecond) }

// Today is the day in the firm's zone, as it is set now; before there is a firm,
// in UTC.
func (c WallClock) Today() day.Day {
	zone := time.UTC
	if firm, err := store.TheFirm(c.Store.Read(context.Background(), store.Everything)); err == nil {
		if set, err := time.LoadLocation(firm.TimeZone); err == nil {
			zone = set
		}
	}
	return day.In(time.Now(), zone)
}

// PinnedClock has a business date that stands still; instants go on, in real
// time or, if At is set, from that instant.
type PinnedClock struct {
	Date day.Day
	At   time.Time
}

// Now is At, or the real instant.
func (c PinnedClock) Now() time.Time {
	if c.At.IsZero() {
		return WallClock{}.Now()
	}
	return c.At
}

// Today is the pinned date.
func (c PinnedClock) Today() day.Day { return c.Date }

// Role says what a person may see and do.
type Role string

// The roles. A lead prices and approves their own engagements; an owner reads.
const (
	Administrator Role = "administrator"
	Lead          Role = "lead"
	Staff         Role = "staff"
	Owner         Role = "owner"
)

// Actor is who asks.
type Actor struct {
	PersonID int64
	Role     Role
	// SeesRates and SeesTimes allow what the role alone does not.
	SeesRates, SeesTimes bool
	// StandsInFor are the leads who are away and for whom the actor stands in.
	StandsInFor []int64
	// Entities are the issuing entities to which the actor is limited; nil: none.
	Entities []int64
	// Proved says that the actor has typed the password again just now.
	Proved bool
	// Outsider is the name of somebody who acts through a link, without an account.
	Outsider string
}

// Prove refuses what asks for the password again, unless it was typed just now.
func (a Actor) Prove() error {
	if a.Proved || a.PersonID == 0 {
		return nil
	}
	return Refuse(Unproved, "This asks for your password once more. Type it, then go on.")
}

// SeesPerson reports whether the actor may see another's time.
func (a Actor) SeesPerson(personID int64) bool {
	return a.Role == Administrator || a.Role == Owner || a.SeesTimes || a.PersonID == personID
}

// SeesValues reports whether the actor may see rates, and what time is worth.
func (a Actor) SeesValues() bool { return a.Role != Staff || a.SeesRates }

// SeesCosts reports whether the actor may see what work costs the firm: of leads, those who
// were allowed to see more than their role does.
func (a Actor) SeesCosts() bool {
	return a.Role == Administrator || a.Role == Owner || a.Role == Lead && a.SeesRates
}

// Scope is what the actor may see and change: a lead reviews and bills their own
// engagements, and those of whom they stand in for; everybody works in the issuing
// entities to which they are limited.
func (a Actor) Scope() store.AccessScope {
	scope := store.AccessScope{PersonID: a.PersonID, Entities: a.Entities}
	if a.PersonID != 0 && a.Role != Administrator && a.Role != Owner {
		scope.Leads = append([]int64{a.PersonID}, a.StandsInFor...)
	}
	return scope
}

// Read is the data as somebody may see it.
func (a *App) Read(ctx context.Context, actor Actor) *store.DB {
	return a.Store.Read(ctx, actor.Scope())
}
