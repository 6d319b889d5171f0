package invoices

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"dorvet/core/day"
	"dorvet/core/explain"
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
	Handed      string        `json:"handed" enum:",queued,taken,arrived,failed,posted,saved,opened,fetched,before" doc:"to its client"`
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
	found, err := issuing.FindingsOf(a, tx, invoices)
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
	Handed       string // not_yet, queued, failed, out, opened, fetched, unopened
	From, To     day.Day
	AtLeast      string // as typed: the total, each in its own currency
	Text         string // words that are in number, client or engagement
	Order        string // number, due, client, open
	By           string // a column in place of the order: number, client, dated, due, late, net, tax, total, open
	Down         bool   // by it, the greatest first
}

// orders are how the register can be sorted.
var orders = map[string]string{"": "i.dated DESC, i.series_id, i.number DESC, i.id DESC",
	"number": "i.series_id, i.number DESC, i.id DESC", "due": "CASE WHEN i.open <> 0 THEN 0 ELSE 1 END, " + store.NextDue + ", i.id",
	"client": "c.name, i.dated DESC, i.id DESC", "open": "i.open * i.exchange_rate DESC, i.id DESC"}

// heads are the columns by which the register can be sorted, up or down.
var heads = map[string]string{"number": "i.number_text", "client": "c.name COLLATE NOCASE", "dated": "i.dated", "due": store.NextDue,
	"late": "-julianday(CASE WHEN i.open <> 0 THEN MIN(" + store.NextDue + ", @today) ELSE @today END)",
	"net":  "i.net", "tax": "i.tax", "total": "i.total", "open": "i.open"}

// inOrder is the filter and the order of a choice.
func (s Filter) inOrder(tx *store.DB, today day.Day) (store.InvoiceFilter, string, error) {
	f := store.InvoiceFilter{States: invoice.IssuedStates, ClientID: s.ClientID, OnID: s.EngagementID, LeadID: s.LeadID, RunID: s.RunID,
		Beside: s.State, Handed: s.Handed, From: s.From, To: s.To, Today: today, Words: strings.Fields(s.Text)}
	order, known := orders[s.Order]
	if !known {
		return f, "", app.RefuseField("order", "%q is no order: choose number, due, client or open.", s.Order)
	}
	if s.By != "" {
		head, known := heads[s.By]
		if !known {
			return f, "", app.RefuseField("by", "%q is no column of the register.", s.By)
		}
		direction := ""
		if s.Down {
			direction = " DESC"
		}
		order = head + direction + ", i.id" + direction
	}
	if strings.TrimSpace(s.AtLeast) == "" {
		return f, order, nil
	}
	var err error
	f.Least, err = least(tx, s.AtLeast)
	return f, order, err
}

// least is what was typed as the least of a total, in the minor units of each currency.
func least(tx *store.DB, typed string) (map[money.Currency]int64, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	units, err := money.ParseFixed(typed, firm.Mark(), 4)
	if err != nil {
		return nil, app.InField("atLeast", err)
	}
	each := map[money.Currency]int64{}
	for currency := range money.UnusualDecimals() {
		if each[currency], err = currency.Least(units); err != nil {
			return nil, err
		}
	}
	each[store.OtherCurrencies], err = money.Currency("EUR").Least(units) // as all that are not unusual
	return each, err
}

// Register lists every invoice ever issued, with credit notes and opening balances:
// nothing disappears from it.
func Register(ctx context.Context, a *app.App, actor app.Actor, s Filter) ([]Summary, error) {
	tx := a.Read(ctx, actor)
	f, order, err := s.inOrder(tx, a.Clock.Today())
	if err != nil {
		return nil, err
	}
	return list(tx, f, order)
}

// RegisterPart is a part of the register in its order.
type RegisterPart struct {
	Invoices []Summary `json:"invoices"`
	// What all of it comes to.
	Total int            `json:"total" doc:"how many there are; this and the sums are on the first page alone"`
	Late  int            `json:"late" doc:"how many of them are late"`
	Net   explain.Totals `json:"net"`
	Tax   explain.Totals `json:"tax"`
	Gross explain.Totals `json:"gross"`
	Open  explain.Totals `json:"open"`
	// How far it has come to its clients.
	Handed store.HandedCounts `json:"handed" doc:"how many there are of each choice, whichever is chosen; on the first page alone"`
}

// RegisterPage reads a part of the register, and with the first what all of it comes to.
func RegisterPage(ctx context.Context, a *app.App, actor app.Actor, s Filter, offset, limit int) (*RegisterPart, error) {
	tx := a.Read(ctx, actor)
	f, order, err := s.inOrder(tx, a.Clock.Today())
	if err != nil {
		return nil, err
	}
	page := &RegisterPart{Invoices: []Summary{}, Net: explain.Totals{}, Tax: explain.Totals{}, Gross: explain.Totals{},
		Open: explain.Totals{}}
	if offset == 0 {
		if err := errors.Join(page.addUp(a, tx, f), page.addHanded(a, tx, f)); err != nil {
			return nil, err
		}
	}
	ids, err := store.InvoiceIDs(tx, f, order, offset, limit)
	if err != nil || len(ids) == 0 {
		return page, err
	}
	page.Invoices, err = list(tx, store.InvoiceFilter{IDs: ids, States: f.States, Today: f.Today}, order)
	return page, err
}

// clientSum is what invoices of a client come to in a currency, and with the first how many of the client are late.
type clientSum struct {
	store.InvoiceSum
	Late int
}

// sumsOf adds up what is asked for, by currency and client.
func sumsOf(a *app.App, tx *store.DB, f store.InvoiceFilter) ([]clientSum, error) {
	read := func(clientIDs []int64) (map[int64]*[]clientSum, error) { return sumsByClient(tx, f, clientIDs) }
	byClient, err := map[int64]*[]clientSum(nil), error(nil)
	if len(f.Words) > 0 || f.ClientID != 0 { // few, or sought once
		byClient, err = read(nil)
	} else {
		byClient, err = app.PerClient(a, tx, "register", fmt.Sprintf("%+v", f), read)
	}
	return app.Joined(byClient, func(s *clientSum) string { return s.Client }), err
}

func sumsByClient(tx *store.DB, f store.InvoiceFilter, clientIDs []int64) (map[int64]*[]clientSum, error) {
	f.ClientIDs = clientIDs
	sums, err := store.InvoiceSums(tx, f)
	if err != nil {
		return nil, err
	}
	late, err := store.LateInvoices(tx, f)
	rows := make([]clientSum, len(sums))
	for i, sum := range sums {
		rows[i] = clientSum{sum, late[sum.ClientID]}
		delete(late, sum.ClientID)
	}
	return app.ByClient(rows, func(s *clientSum) int64 { return s.ClientID }), err
}

// addUp counts and sums everything that is asked for.
func (p *RegisterPart) addUp(a *app.App, tx *store.DB, f store.InvoiceFilter) error {
	sums, err := sumsOf(a, tx, f)
	if err != nil {
		return err
	}
	for _, sum := range sums {
		p.Total += sum.Count
		p.Late += sum.Late
		for _, one := range []struct {
			totals *explain.Totals
			label  string
			minor  int64
		}{{&p.Net, "Net", sum.Net}, {&p.Tax, "Tax", sum.Tax}, {&p.Gross, "Total, gross", sum.Total}, {&p.Open, "Open, gross", sum.Open}} {
			amount := money.Amount{Minor: one.minor, Currency: sum.Currency}
			if err := one.totals.Add(one.label, explain.Step{Label: sum.Client}, amount); err != nil {
				return err
			}
		}
	}
	p.Net, p.Tax, p.Gross, p.Open = p.Net.ByCurrency(), p.Tax.ByCurrency(), p.Gross.ByCurrency(), p.Open.ByCurrency()
	return nil
}

// addHanded counts how far everything that is asked for has come to its clients.
func (p *RegisterPart) addHanded(a *app.App, tx *store.DB, f store.InvoiceFilter) error {
	f.Handed = ""
	read := func(clientIDs []int64) (map[int64]*[]store.HandedCounts, error) {
		of := f
		of.ClientIDs = clientIDs
		rows, err := store.Handed(tx, of)
		return app.ByClient(rows, func(c *store.HandedCounts) int64 { return c.ClientID }), err
	}
	byClient, err := map[int64]*[]store.HandedCounts(nil), error(nil)
	if len(f.Words) > 0 || f.ClientID != 0 {
		byClient, err = read(nil)
	} else {
		byClient, err = app.PerClient(a, tx, "handed", fmt.Sprintf("%+v", f), read)
	}
	for _, counts := range byClient {
		for _, c := range *counts {
			h := &p.Handed
			h.NotYet, h.Queued, h.Failed, h.Out = h.NotYet+c.NotYet, h.Queued+c.Queued, h.Failed+c.Failed, h.Out+c.Out
			h.Unopened, h.Opened, h.Fetched = h.Unopened+c.Unopened, h.Opened+c.Opened, h.Fetched+c.Fetched
			h.Settled, h.OnPaper = h.Settled+c.Settled, h.OnPaper+c.OnPaper
		}
	}
	return err
}

func list(tx *store.DB, f store.InvoiceFilter, order string) ([]Summary, error) {
	rows, err := store.InvoiceHeads(tx, f, order)
	summaries := make([]Summary, 0, len(rows))
	for i := range rows {
		summaries = append(summaries, summary(&rows[i], f.Today))
	}
	return summaries, err
}

func summary(r *store.InvoiceRow, today day.Day) Summary {
	s := Summary{ID: r.ID, Kind: r.Kind, State: r.State, Beside: beside(r), Number: r.NumberText, ClientID: r.ClientID, Client: r.Client,
		Engagements: r.Engagements,
		From:        r.FromDay, UpTo: r.UpToDay, Dated: r.Dated, Due: r.NextDue, Entries: r.Entries, Net: r.Amount(r.Net), Tax: r.Amount(r.Tax),
		Total: r.Amount(r.Total), Open: r.Amount(r.Open)}
	s.Version, s.RunID, s.Handed = r.Version, store.OrZero(r.RunID), string(r.Handed)
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
	switch {
	case r.WrittenOff != 0 && r.Open == 0:
		words = append(words, "written off")
	case r.WrittenOff != 0:
		words = append(words, "written off in part")
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
