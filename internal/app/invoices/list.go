package invoices

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/issuing"
	"dorvet/internal/store"
)

// Summary is an invoice in a list.
type Summary struct {
	ID          int64         `json:"id"`
	Kind        invoice.Sort  `json:"kind" enum:"invoice,credit_note,opening"`
	State       invoice.State `json:"state" enum:"draft,in_approval,approved,issued,part_paid,paid"`
	Beside      string        `json:"beside" doc:"what is to be said beside the state: credited, disputed, reopened, a share"`
	Number      string        `json:"number" doc:"nothing until it is issued"`
	ClientID    int64         `json:"clientId"`
	Client      string        `json:"client"`
	Engagements string        `json:"engagements"`
	From        day.Day       `json:"from" doc:"the first day of work, if there is one"`
	UpTo        day.Day       `json:"upTo"`
	Dated       day.Day       `json:"dated"`
	Due         day.Day       `json:"due" doc:"of the oldest instalment that is open, else of the last"`
	DaysLate    int           `json:"daysLate" doc:"0 if not late, or not issued"`
	Entries     int           `json:"entries"`
	Net         money.Amount  `json:"net"`
	Tax         money.Amount  `json:"tax"`
	Total       money.Amount  `json:"total"`
	Open        money.Amount  `json:"open" doc:"still owed, gross"`
	Version     int64         `json:"version"`
	RunID       int64         `json:"runId" doc:"of the billing run that it is in, or 0"`
	Found       int           `json:"found" doc:"findings of a draft"`
	Blocking    int           `json:"blocking" doc:"of them: those that block its issue"`
}

// Drafts lists what is still to be issued, by client, of one run, client or engagement or
// of all, with how much is to be settled on each.
func Drafts(ctx context.Context, a *app.App, actor app.Actor, f Filter) ([]Summary, error) {
	tx, today := a.Read(ctx, actor), a.Clock.Today()
	rows, err := store.Invoices(tx, store.InvoiceFilter{States: invoice.DraftStates, RunID: f.RunID, ClientID: f.ClientID,
		OnID: f.EngagementID}, "c.name, i.id")
	if err != nil {
		return nil, err
	}
	invoices := make([]store.Invoice, len(rows))
	for i := range rows {
		invoices[i] = rows[i].Invoice
	}
	found, err := issuing.FindingsOf(tx, invoices, today)
	summaries := make([]Summary, len(rows))
	for i := range rows {
		summaries[i] = summary(&rows[i], today)
		for _, f := range found[rows[i].ID] {
			summaries[i].Found++
			if f.Level == invoice.Block {
				summaries[i].Blocking++
			}
		}
	}
	return summaries, err
}

// Filter says which invoices of the register are meant; zero values ask for all.
type Filter struct {
	ClientID     int64
	EngagementID int64
	LeadID       int64
	RunID        int64
	State        string // open, late, paid, credited, disputed, credit_note, opening
	From, To     day.Day
	AtLeast      string // as typed: the total, each in its own currency
	Order        string // number, due, client, open
}

// orders are how the register can be sorted.
var orders = map[string]string{"": "i.dated DESC, i.series_id, i.number DESC, i.id DESC",
	"number": "i.series_id, i.number DESC, i.id DESC", "due": "CASE WHEN i.open <> 0 THEN 0 ELSE 1 END, next_due, i.id",
	"client": "c.name, i.dated DESC, i.id DESC", "open": "i.open * i.exchange_rate DESC, i.id DESC"}

// Register lists every invoice ever issued, with credit notes and opening balances:
// nothing disappears from it.
func Register(ctx context.Context, a *app.App, actor app.Actor, s Filter) ([]Summary, error) {
	order, known := orders[s.Order]
	if !known {
		return nil, app.RefuseField("order", "%q is no order: choose number, due, client or open.", s.Order)
	}
	f := store.InvoiceFilter{States: invoice.IssuedStates, ClientID: s.ClientID, OnID: s.EngagementID, LeadID: s.LeadID, RunID: s.RunID,
		Beside: s.State, From: s.From, To: s.To, Today: a.Clock.Today()}
	rows, err := list(ctx, a, actor, f, order)
	if err != nil || strings.TrimSpace(s.AtLeast) == "" {
		return rows, err
	}
	firm, err := store.TheFirm(a.Read(ctx, actor))
	if err != nil {
		return nil, err
	}
	least, err := money.ParseFixed(s.AtLeast, firm.Mark(), 4)
	if err != nil {
		return nil, app.InField("atLeast", err)
	}
	return slices.DeleteFunc(rows, func(s Summary) bool {
		big, err := s.Total.AtLeast(least)
		return err != nil || !big
	}), nil
}

func list(ctx context.Context, a *app.App, actor app.Actor, f store.InvoiceFilter, order string) ([]Summary, error) {
	rows, err := store.InvoiceHeads(a.Read(ctx, actor), f, order)
	summaries := make([]Summary, 0, len(rows))
	for i := range rows {
		summaries = append(summaries, summary(&rows[i], a.Clock.Today()))
	}
	return summaries, err
}

func summary(r *store.InvoiceRow, today day.Day) Summary {
	s := Summary{ID: r.ID, Kind: r.Kind, State: r.State, Beside: beside(r), Number: r.NumberText, ClientID: r.ClientID, Client: r.Client,
		Engagements: r.Engagements,
		From:        r.FromDay, UpTo: r.UpToDay, Dated: r.Dated, Due: r.NextDue, Entries: r.Entries, Net: r.Amount(r.Net), Tax: r.Amount(r.Tax),
		Total: r.Amount(r.Total), Open: r.Amount(r.Open)}
	s.Version, s.RunID = r.Version, store.OrZero(r.RunID)
	if r.Open != 0 {
		s.DaysLate = max(0, int(today-s.Due))
	}
	return s
}

// beside is what stands beside the state of an invoice, in a word.
func beside(r *store.InvoiceRow) string {
	words := []string{}
	switch {
	case r.Kind == invoice.CreditNote:
		words = append(words, "credit note")
	case r.Kind == invoice.Opening:
		words = append(words, "opening balance")
	case r.Credited != 0 && r.Credited == r.Total:
		words = append(words, "credited in full")
	case r.Credited != 0:
		words = append(words, "credited in part")
	}
	if r.Disputed != "" {
		words = append(words, "disputed")
	}
	if r.Reopened && r.State.IsDraft() {
		words = append(words, "reopened")
	}
	if r.Divided {
		words = append(words, "one payer's share")
	}
	return strings.Join(words, ", ")
}
