package banking

import (
	"context"
	"errors"
	"fmt"
	"strings"

	"dorvet/core/day"
	"dorvet/core/funds"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Reconciliation is what bank, ledger and clients say of the clients' account on a day: bank less differences is the ledger, which is the sum
// of what is held for clients.
type Reconciliation struct {
	AccountID   int64               `json:"accountId"`
	Account     string              `json:"account"`
	On          day.Day             `json:"on"`
	Until       day.Day             `json:"until" doc:"up to which there are statements"`
	Problem     string              `json:"problem" doc:"why it can't be reconciled; or nothing"`
	Bank        money.Amount        `json:"bank"`
	Ledger      money.Amount        `json:"ledger"`
	Clients     money.Amount        `json:"clients" doc:"the sum of what is held for each"`
	Held        []HeldOn            `json:"held"`
	Differences []AccountDifference `json:"differences" doc:"by day"`
	Open        int                 `json:"open" doc:"differences of which nobody has said what they are"`
	Sum         money.Amount        `json:"sum" doc:"of the differences"`
	Choices     []ClientsAccount    `json:"choices" doc:"the accounts on which money of clients lies"`
	account     *store.BankAccount
}

// HeldOn is what is held for a client on a day.
type HeldOn struct {
	ClientID int64        `json:"clientId"`
	Client   string       `json:"client"`
	For      string       `json:"for" doc:"the engagement; nothing: all their work"`
	Held     money.Amount `json:"held"`
}

// AccountDifference is something of which only the bank, or only the ledger, knows by the day.
type AccountDifference struct {
	Why    funds.Why    `json:"why" enum:"unsaid,aside,later,not_yet,elsewhere,not_made,from_before"`
	Day    day.Day      `json:"day"`
	Text   string       `json:"text"`
	Amount money.Amount `json:"amount" doc:"that the bank has more; negative: less"`
}

// ReconcileOn says how the clients' account stands on a day (0: the end of the last month, or as far as statements go).
func ReconcileOn(ctx context.Context, a *app.App, actor app.Actor, accountID int64, on day.Day) (*Reconciliation, error) {
	return reconciliation(a.Read(ctx, actor), a.Clock.Today(), accountID, on)
}

// lastMonth is the last day of the month before a day.
func lastMonth(today day.Day) day.Day { return today.OnDayOfMonth(1) - 1 }

func reconciliation(tx *store.DB, today day.Day, accountID int64, on day.Day) (*Reconciliation, error) {
	account, choices, err := clientsAccount(tx, accountID)
	if err != nil {
		return nil, err
	}
	none := money.Zero(account.Currency)
	r := &Reconciliation{AccountID: account.ID, Account: account.Name, On: on, Bank: none, Ledger: none, Clients: none, Sum: none,
		Held: []HeldOn{}, Differences: []AccountDifference{}, Choices: choices, account: account}
	if r.Until, err = store.StatementsUntil(tx, account.ID); err != nil {
		return nil, err
	}
	if r.On.IsZero() {
		r.On = min(max(lastMonth(today), r.Until.OnDayOfMonth(1)-1), today)
	}
	if r.On > today {
		return nil, app.RefuseField("on", "%s is still to come: give a day before.", r.On.Long())
	}
	first, err := store.FirstStatement(tx, account.ID)
	switch {
	case errors.Is(err, store.ErrNotFound):
		r.Problem = "There is no statement of this account yet: read one under Bank."
	case err != nil:
		return nil, err
	case r.On < first.FromDay:
		r.Problem = fmt.Sprintf("Statements of this account begin on %s: choose that day or a later one.", first.FromDay.Long())
	case r.On > r.Until:
		r.Problem = fmt.Sprintf("Statements of this account end on %s: read the next one under Bank, or choose that day.", r.Until.Long())
	}
	if err := r.addHeld(tx); err != nil || r.Problem != "" {
		return r, err
	}
	return r, r.explain(tx, first)
}

// clientsAccount is an account on which money of clients lies, by its number or the first (0), with all that there are.
func clientsAccount(tx *store.DB, id int64) (*store.BankAccount, []ClientsAccount, error) {
	all, err := store.All[store.BankAccount](tx, "id")
	if err != nil {
		return nil, nil, err
	}
	choices, chosen := []ClientsAccount{}, (*store.BankAccount)(nil)
	for i := range all {
		one := &all[i]
		if !one.ClientsMoney || !one.Active && one.ID != id {
			continue
		}
		choices = append(choices, ClientsAccount{one.ID, one.Name})
		if one.ID == id || id == 0 && chosen == nil {
			chosen = one
		}
	}
	switch {
	case chosen != nil:
		return chosen, choices, nil
	case id != 0:
		return nil, nil, app.Refuse(app.Invalid, "This account is the firm's own, or not there any more: what is held for clients lies on another.")
	}
	return nil, nil, app.Refuse(app.NotFound, "There is no account on which money of clients lies: add one under Set-up, Bank accounts.")
}

// ClientsAccount is an account on which money of clients lies.
type ClientsAccount struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// addHeld adds what is held for each client, by its funds.
func (r *Reconciliation) addHeld(tx *store.DB) error {
	rows, err := store.FundsHeldOn(tx, nil, r.On)
	for i := range rows {
		f := &rows[i]
		if f.EntityID != r.account.EntityID || f.Currency != r.account.Currency || f.Held == 0 {
			continue
		}
		r.Held = append(r.Held, HeldOn{f.ClientID, f.Client, f.Engagement, r.amount(f.Held)})
		r.Clients.Minor += f.Held
	}
	return err
}

func (r *Reconciliation) amount(minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: r.account.Currency}
}

// explain compares the bank with the ledger.
func (r *Reconciliation) explain(tx *store.DB, first *store.BankStatement) error {
	events, of, err := r.events(tx, first.FromDay)
	if err != nil {
		return err
	}
	rows, err := store.EntriesUntil(tx, r.account.ID, r.On)
	if err != nil {
		return err
	}
	entries := make([]funds.Booked, len(rows))
	for i := range rows {
		e := &rows[i]
		entries[i] = funds.Booked{ID: e.ID, Day: e.BookedDay, Minor: e.Amount, Of: of[e.ID], Text: entryText(e), Aside: e.State == store.EntryAside}
	}
	found := funds.Reconcile(first.Opening, entries, events, r.On)
	r.Bank, r.Ledger = r.amount(found.Bank), r.amount(found.Ledger)
	for _, d := range found.Differences {
		text := d.Text
		if d.Why == funds.FromBefore {
			text = "before the first statement, of " + first.FromDay.Long()
		}
		if d.Why == funds.Unsaid || d.Why == funds.FromBefore {
			r.Open++
		}
		r.Differences = append(r.Differences, AccountDifference{d.Why, d.Day, text, r.amount(d.Minor)})
		r.Sum.Minor += d.Minor
	}
	if r.Bank.Minor-r.Sum.Minor != r.Ledger.Minor || r.Ledger.Minor != r.Clients.Minor {
		return fmt.Errorf("reconcile account %d on %s: bank %d less %d, ledger %d, clients %d", r.AccountID, r.On, r.Bank.Minor, r.Sum.Minor,
			r.Ledger.Minor, r.Clients.Minor)
	}
	return nil
}

func entryText(e *store.BankEntry) string {
	said := []string{}
	for _, part := range []string{e.Party, e.Text, e.Aside} {
		if part != "" {
			said = append(said, part)
		}
	}
	return strings.Join(said, ", ")
}

// events are what changed what is held, numbered in their order, and by entry of the bank which of them it is.
func (r *Reconciliation) events(tx *store.DB, begins day.Day) ([]funds.Event, map[int64][]int64, error) {
	rows, err := store.FundsEvents(tx, r.account, r.On)
	if err != nil {
		return nil, nil, err
	}
	events, of, applied := []funds.Event{}, map[int64][]int64{}, int64(0)
	for i := range rows {
		e := &rows[i]
		v := funds.Event{ID: int64(i + 1), Day: e.Day, Minor: e.Minor, Transfer: e.TransferID != 0, Text: eventText(e),
			Made: !e.DoneDay.IsZero() && e.DoneDay <= r.On}
		switch {
		case e.AccountID == r.account.ID:
			of[e.EntryID] = append(of[e.EntryID], v.ID)
		case e.EntryID != 0:
			v.On = e.AccountName
			v.Text += ", on " + e.AccountName
		default:
			v.Before = v.Day < begins && (!v.Transfer || !e.DoneDay.IsZero() && e.DoneDay < begins)
		}
		if v.Transfer && v.Day <= r.On {
			applied += v.Minor
		}
		events = append(events, v)
	}
	ledger, err := store.AppliedUntil(tx, r.account, r.On)
	if other := -ledger - applied; other != 0 { // a bill took it on a later day than its transfer is of
		events = append(events, funds.Event{ID: int64(len(rows) + 1), Day: r.On, Minor: other, Text: "taken by bills on another day than their transfers"})
	}
	return events, of, err
}

func eventText(e *store.FundsEvent) string {
	switch {
	case e.TransferID != 0 && !e.DoneDay.IsZero():
		return fmt.Sprintf("transfer for %s of %s, said to be made on %s", e.Number, e.Client, e.DoneDay.Long())
	case e.TransferID != 0:
		return fmt.Sprintf("transfer for %s of %s", e.Number, e.Client)
	case e.Minor < 0:
		return "paid back, or reversed: " + e.Client
	}
	return "received of " + e.Client
}

// unreconciled are the clients' accounts of which nothing is kept for the end of a month, and nobody was told yet.
func unreconciled(tx *store.DB, month day.Day) ([]store.BankAccount, error) {
	accounts, err := store.All[store.BankAccount](tx, "id")
	if err != nil {
		return nil, err
	}
	kept, err := store.Reconciliations(tx)
	due := []store.BankAccount{}
	for _, account := range accounts {
		done := !account.Active || !account.ClientsMoney || account.ToldDay >= month
		for _, k := range kept {
			done = done || k.AccountID == account.ID && k.Day >= month
		}
		if !done {
			due = append(due, account)
		}
	}
	return due, err
}
