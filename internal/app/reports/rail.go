// Package reports is what is known across the rooms: the figures of the stage
// rail, and finding things.
package reports

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/store"
)

// Rail is one live figure for each stage, in the firm's currency: net up to
// billing, gross in receivables. What a role does not see is left out.
type Rail struct {
	Time        timekeeping.Figure `json:"time" doc:"worked in this week: one's own, or everybody's"`
	Pricing     *MoneyFigure       `json:"pricing,omitempty"`
	WIP         *MoneyFigure       `json:"wip,omitempty"`
	Billing     *MoneyFigure       `json:"billing,omitempty"`
	Receivables *MoneyFigure       `json:"receivables,omitempty"`
}

// MoneyFigure is an amount and the fact that matters about it.
type MoneyFigure struct {
	Amount money.Amount `json:"amount"`
	Count  int          `json:"count" doc:"proposals out, drafts, invoices late"`
	Days   int          `json:"days" doc:"age of the oldest work"`
	Late   money.Amount `json:"late"`
	// Answered counts proposals, in the last thirty days.
	Answered int `json:"answered"`
	// Approved counts drafts.
	Approved int `json:"approved"`
}

// Figures reads the rail for an actor.
func Figures(ctx context.Context, a *app.App, actor app.Actor) (*Rail, error) {
	tx, today := a.Read(ctx, actor), a.Clock.Today()
	rail := new(Rail)
	var err error
	if rail.Time, err = timekeeping.FigureOf(ctx, a, actor, today); err != nil || actor.Role == app.Staff {
		return rail, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	f := figures{tx: tx, firm: firm, today: today}
	if rail.WIP, err = f.wip(); err != nil {
		return nil, err
	}
	if rail.Billing, err = f.billing(); err != nil {
		return nil, err
	}
	if rail.Pricing, err = f.pricing(); err != nil {
		return nil, err
	}
	if actor.Role != app.Lead {
		rail.Receivables, err = f.receivables()
	}
	return rail, err
}

// figures reads amounts of several currencies as one of the firm's.
type figures struct {
	tx    *store.DB
	firm  *store.Firm
	today day.Day
}

func (f figures) none() *MoneyFigure {
	return &MoneyFigure{Amount: money.Zero(f.firm.Currency), Late: money.Zero(f.firm.Currency)}
}

func (f figures) inFirm(minor int64, currency money.Currency) (money.Amount, error) {
	rate, _, err := setup.Exchange(f.tx, f.firm, currency, f.today)
	if err != nil {
		return money.Amount{}, err
	}
	return money.Amount{Minor: minor, Currency: currency}.Convert(rate, f.firm.Currency)
}

// pricing adds what is out, and counts what was answered lately.
func (f figures) pricing() (*MoneyFigure, error) {
	figure := f.none()
	sums, err := store.OutSums(f.tx, f.today)
	if err != nil {
		return nil, err
	}
	for _, sum := range sums {
		amount, err := f.inFirm(sum.Amount, sum.Currency)
		if err != nil {
			return nil, err
		}
		if figure.Amount, err = figure.Amount.Add(amount); err != nil {
			return nil, err
		}
		figure.Count += sum.Count
	}
	figure.Answered, err = store.AnsweredSince(f.tx, f.today.AddDays(-lately))
	return figure, err
}

// lately is how many days an answer counts as new.
const lately = 30

func (f figures) wip() (*MoneyFigure, error) {
	figure := f.none()
	sums, err := store.UnbilledSums(f.tx, store.UnbilledFilter{UpTo: f.today})
	for _, sum := range sums {
		amount, err := f.inFirm(sum.Agreed, sum.Currency)
		if err != nil {
			return nil, err
		}
		if figure.Amount, err = figure.Amount.Add(amount); err != nil {
			return nil, err
		}
		figure.Days = max(figure.Days, wip.Days(sum.Oldest, f.today))
	}
	return figure, err
}

func (f figures) billing() (*MoneyFigure, error) {
	figure := f.none()
	drafts, err := store.Invoices(f.tx, store.InvoiceFilter{
		States: []invoice.State{invoice.Draft, invoice.InApproval, invoice.Approved}}, "i.id")
	figure.Count = len(drafts)
	for _, draft := range drafts {
		figure.Amount.Minor += draft.NetFirm
		if draft.State == invoice.Approved {
			figure.Approved++
		}
	}
	return figure, err
}

func (f figures) receivables() (*MoneyFigure, error) {
	figure := f.none()
	open, err := store.Receivables(f.tx)
	for _, r := range open {
		figure.Amount.Minor += r.FirmAmount
		if r.DueDay < f.today {
			figure.Late.Minor += r.FirmAmount
			figure.Count++
		}
	}
	return figure, err
}

// Found is something that a search found.
type Found = store.Found

// Find looks for clients, engagements and invoices that an actor may see.
func Find(ctx context.Context, a *app.App, actor app.Actor, text string) ([]store.Found, error) {
	if actor.Role == app.Staff || len(text) < 2 {
		return []store.Found{}, nil
	}
	return store.Find(a.Read(ctx, actor), text)
}
