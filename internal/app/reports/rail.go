// Package reports is what is known across the rooms: the figures of the stage
// rail, and finding things.
package reports

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/receivables"
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
	Amount explain.Total `json:"amount"`
	Count  int           `json:"count" doc:"proposals out, drafts"`
	Days   int           `json:"days" doc:"age of the oldest work"`
	Late   explain.Total `json:"late"`
	// Without are currencies without a rate, which are left out.
	Without []money.Currency `json:"without,omitempty"`
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
	f := figures{a: a, actor: actor, tx: tx, firm: firm, today: today}
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
	a     *app.App
	actor app.Actor
	tx    *store.DB
	firm  *store.Firm
	today day.Day
}

func (f figures) none(label string) *MoneyFigure {
	return &MoneyFigure{Amount: explain.NoTotal(label, f.firm.Currency), Late: explain.NoTotal("Late", f.firm.Currency)}
}

// pricing adds what is out, and counts what was answered lately.
func (f figures) pricing() (*MoneyFigure, error) {
	figure := f.none("Out, first year")
	proposals, err := store.OutProposals(f.tx, f.today)
	if err != nil {
		return nil, err
	}
	figure.Count = len(proposals)
	out := explain.Totals{}
	for _, p := range proposals {
		firstYear := money.Amount{Minor: p.FirstYear, Currency: p.Currency}
		if err := out.Add(figure.Amount.Explanation.Label, explain.Step{Label: p.Client, Detail: p.Name}, firstYear); err != nil {
			return nil, err
		}
	}
	if figure.Amount, figure.Without, err = setup.InFirm(f.tx, f.firm, f.today, "Out, first year", out); err != nil {
		return nil, err
	}
	figure.Answered, err = store.AnsweredSince(f.tx, f.today.AddDays(-lately))
	return figure, err
}

// lately is how many days an answer counts as new.
const lately = 30

func (f figures) wip() (*MoneyFigure, error) {
	figure := f.none("To bill, net")
	clients, err := allStandings(f.a, f.tx, f.actor)
	if err != nil {
		return nil, err
	}
	sums, err := toBill(clients)
	if err != nil {
		return nil, err
	}
	for _, client := range clients {
		figure.Days = max(figure.Days, client.OldestDays)
	}
	figure.Amount, figure.Without, err = setup.InFirm(f.tx, f.firm, f.today, "To bill, net", sums)
	return figure, err
}

// toBill is what drafts of everything would bring, net, one total for each currency.
func toBill(clients []*standing) (sums explain.Totals, err error) {
	for _, client := range clients {
		for _, of := range client.ToBill {
			if err = sums.Add("To bill, net", explain.Step{Label: client.Name, Detail: of.Engagement}, of.Net); err != nil {
				return nil, err
			}
		}
	}
	return sums, nil
}

func (f figures) billing() (*MoneyFigure, error) {
	figure := f.none("Drafts, net")
	drafts, err := store.Invoices(f.tx, store.InvoiceFilter{
		States: []invoice.State{invoice.Draft, invoice.InApproval, invoice.Approved}}, "i.id")
	figure.Count = len(drafts)
	for _, draft := range drafts {
		step := explain.Step{Label: draft.Client, Detail: draft.Engagements}
		if err := figure.Amount.Add(step, money.Amount{Minor: draft.NetFirm, Currency: f.firm.Currency}); err != nil {
			return nil, err
		}
		if draft.State == invoice.Approved {
			figure.Approved++
		}
	}
	figure.Amount = figure.Amount.Shortened()
	return figure, err
}

func (f figures) receivables() (*MoneyFigure, error) {
	owed, err := receivables.StandingOn(f.a, f.tx, f.firm, f.today)
	return &MoneyFigure{Amount: owed.Total, Late: owed.Late, Without: owed.Without}, err
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
