package receivables

import (
	"cmp"
	"context"
	"slices"
	"strings"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/core/reminder"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// ToRemind is the account of a client and what their plan does about it today.
type ToRemind struct {
	ClientID int64             `json:"clientId"`
	Client   string            `json:"client"`
	EntityID int64             `json:"entityId"`
	Entity   string            `json:"entity"`
	Currency money.Currency    `json:"currency"`
	Goes     bool              `json:"goes" doc:"a letter is due today"`
	ByHand   bool              `json:"byHand" doc:"a person sends it: it waits to be chosen"`
	Step     string            `json:"step" doc:"of the plan, in words; or nothing"`
	Amount   money.Amount      `json:"amount" doc:"that the letter asks for"`
	MostLate int               `json:"mostLate" doc:"days, of the oldest that it asks for; negative: before it is due"`
	To       string            `json:"to" doc:"addresses"`
	Why      string            `json:"why" doc:"why no letter goes; or nothing"`
	Last     day.Day           `json:"last" doc:"on which they were last reminded; or nothing"`
	Next     day.Day           `json:"next" doc:"on which the plan goes on, if nothing is paid; or nothing"`
	Invoices []InvoiceToRemind `json:"invoices"`
	step     reminder.Step     // of its letter
	plan     reminder.Plan
	moved    map[int64]int  // the days of the step to which invoices move
	soon     map[int64]bool // the instalments that move, though they may not be due yet
	account  *Statement
}

// InvoiceToRemind is an invoice that is late, or soon, and what the plan does about it.
type InvoiceToRemind struct {
	InvoiceID int64        `json:"invoiceId"`
	Number    string       `json:"number"`
	Due       day.Day      `json:"due" doc:"of its oldest open instalment"`
	DaysLate  int          `json:"daysLate"`
	Open      money.Amount `json:"open" doc:"of what is due, without what is disputed"`
	Step      string       `json:"step" doc:"to which it moves today; or nothing"`
	Reached   string       `json:"reached" doc:"how far it has come, like 14 days; or nothing"`
	Why       string       `json:"why" doc:"why it is left alone; or nothing"`
}

// Reminders is what plans of reminders do today: the accounts of all clients on which something is late, or that a step before the due day
// has come for. Letters that go come first, the highest step before.
func Reminders(ctx context.Context, a *app.App, actor app.Actor) ([]ToRemind, error) {
	return remindersIn(a, a.Read(ctx, actor), 0)
}

// remindersIn is [Reminders] of one client, or of all (0).
func remindersIn(a *app.App, tx *store.DB, clientID int64) ([]ToRemind, error) {
	all, err := claimsOf(a, tx, clientID)
	if err != nil {
		return nil, err
	}
	p, err := readPlans(tx, only(clientID), a.Clock.Today())
	if err != nil {
		return nil, err
	}
	list := []ToRemind{}
	for _, c := range all {
		for _, of := range c.accounts() {
			s, err := c.account(of, p.today)
			if err != nil {
				return nil, err
			}
			r, err := p.of(tx, s, c.Client)
			if err != nil {
				return nil, err
			}
			if len(r.Invoices) > 0 {
				list = append(list, *r)
			}
		}
	}
	slices.SortStableFunc(list, func(a, b ToRemind) int {
		return cmp.Or(boolFirst(a.Goes, b.Goes), cmp.Compare(b.step.Days, a.step.Days), strings.Compare(a.Client, b.Client))
	})
	return list, nil
}

func boolFirst(a, b bool) int {
	switch {
	case a == b:
		return 0
	case a:
		return -1
	}
	return 1
}

// plans is what is known of all clients to follow their plans.
type plans struct {
	today       day.Day
	plan, least func(clientID, engagementID int64) string
	off         func(clientID int64) bool
	over        passing
	way         func(clientID, engagementID int64) string
	reached     map[int64][]store.RemindedRow // by invoice
	entities    map[int64]string
}

func readPlans(tx *store.DB, clientIDs []int64, today day.Day) (*plans, error) {
	p := &plans{today: today, reached: map[int64][]store.RemindedRow{}, entities: map[int64]string{}}
	var err error
	if p.plan, err = profiles.Nearest(tx, "reminder_plan", clientIDs...); err != nil {
		return nil, err
	}
	if p.least, err = profiles.Nearest(tx, "reminder_least", clientIDs...); err != nil {
		return nil, err
	}
	if p.way, err = profiles.Nearest(tx, "delivery", clientIDs...); err != nil {
		return nil, err
	}
	if p.off, err = remindersOff(tx, clientIDs); err != nil {
		return nil, err
	}
	if p.over, err = passingOver(tx, clientIDs, today); err != nil {
		return nil, err
	}
	rows, err := store.Reminded(tx, clientIDs)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		p.reached[r.InvoiceID] = append(p.reached[r.InvoiceID], r)
	}
	entities, err := store.All[store.IssuingEntity](tx, "id")
	for _, e := range entities {
		p.entities[e.ID] = e.LegalName
	}
	return p, err
}

// of is what the plan of a client does about an account.
func (p *plans) of(tx *store.DB, s *Statement, client string) (*ToRemind, error) {
	r := &ToRemind{ClientID: s.Account.ClientID, Client: client, EntityID: s.Account.EntityID, Entity: p.entities[s.Account.EntityID],
		Currency: s.Account.Currency, Amount: s.amount(0), Invoices: []InvoiceToRemind{}, moved: map[int64]int{}, soon: map[int64]bool{}, account: s}
	plan, err := reminder.Read(p.plan(r.ClientID, 0))
	if err != nil {
		return nil, err
	}
	r.plan = plan
	at := map[int64]int{}   // in Invoices
	for i := range s.Open { // by due day: the oldest instalment of each invoice comes first
		row := &s.Open[i]
		n, known := at[row.InvoiceID]
		if !known {
			inv := p.invoice(r, plan, row)
			if inv == nil {
				continue
			}
			n = len(r.Invoices)
			at[row.InvoiceID], r.Invoices = n, append(r.Invoices, *inv)
		}
		if row.DueDay < p.today || r.soon[row.ID] {
			r.Invoices[n].Open.Minor += row.Open - row.Aside
		}
	}
	return r, p.decide(tx, r)
}

// invoice is what the plan does about an invoice, by its oldest open instalment; nil: it is neither late nor does a step come before.
func (p *plans) invoice(r *ToRemind, plan reminder.Plan, row *store.OpenInstalment) *InvoiceToRemind {
	reached := p.reachedBy(row)
	r.Last = max(r.Last, reached.Last)
	step, moves := plan.Due(row.DueDay, p.today, reached)
	if row.DueDay >= p.today && !moves {
		return nil
	}
	inv := &InvoiceToRemind{InvoiceID: row.InvoiceID, Number: row.NumberText, Due: row.DueDay,
		DaysLate: receivable.DaysLate(row.DueDay, p.today), Open: money.Zero(row.Currency), Why: p.over.why(row, p.today)}
	if reached.Any {
		inv.Reached = app.Counted(reached.Days, "day", "days")
	}
	if row.Open <= row.Aside {
		inv.Why = "disputed"
	}
	if inv.Why != "" {
		return inv
	}
	if moves {
		inv.Step, r.moved[row.InvoiceID], r.soon[row.ID] = step.Words(), step.Days, true
		if len(r.moved) == 1 || step.Days > r.step.Days {
			r.step = step
		}
	}
	if next, goesOn := plan.Next(row.DueDay, p.today, reached); goesOn && (r.Next.IsZero() || next < r.Next) {
		r.Next = next
	}
	return inv
}

// reachedBy is how far an instalment has come: each goes through the plan by itself, but no invoice stands in two letters of a day.
func (p *plans) reachedBy(row *store.OpenInstalment) reminder.Reached {
	r := reminder.Reached{}
	for _, before := range p.reached[row.InvoiceID] {
		r.Last = max(r.Last, before.Day)
		if before.DueDay == row.DueDay {
			r.Days, r.Any = before.Days, true
		}
	}
	return r
}

// decide says whether a letter goes, what it asks for and to whom, or why none does.
func (p *plans) decide(tx *store.DB, r *ToRemind) error {
	asked, why := 0, ""
	for i := range r.Invoices {
		if i > 0 && why != r.Invoices[i].Why {
			why = "all of it is left alone"
		} else {
			why = r.Invoices[i].Why
		}
		if inv := &r.Invoices[i]; inv.Why == "" {
			if asked == 0 {
				r.MostLate = inv.DaysLate
			}
			asked, r.Amount.Minor = asked+1, r.Amount.Minor+inv.Open.Minor
		}
	}
	least, err := money.ParseFixed(p.least(r.ClientID, 0), money.Point, 4)
	if err != nil {
		return err
	}
	enough, err := r.Amount.AtLeast(least)
	if err != nil {
		return err
	}
	switch {
	case p.off(r.ClientID):
		r.Why = "reminders are off, by their profile or their own wish"
	case p.over.clients[r.ClientID] != "":
		r.Why = p.over.clients[r.ClientID]
	case len(r.Invoices) > 0 && asked == 0:
		r.Why = why
	case p.plan(r.ClientID, 0) == "":
		r.Why = "there is no plan of reminders"
	case r.Last == p.today:
		r.Why = "reminded today"
	case len(r.moved) == 0:
		r.Why = "no step is due"
	case !enough:
		r.Why = "it is less than " + p.least(r.ClientID, 0)
	default:
		return p.address(tx, r)
	}
	return nil
}

// address says to whom a letter goes, or that there is nobody.
func (p *plans) address(tx *store.DB, r *ToRemind) error {
	to, err := correspondence.Addressees(tx, core.Reminder, r.ClientID, nil)
	if err != nil {
		return err
	}
	mails := []string{}
	for _, person := range to {
		if person.Mail != "" {
			mails = append(mails, person.Mail)
		}
	}
	if len(mails) == 0 && core.Way(p.way(r.ClientID, 0)) == core.Mail {
		r.Why = "nobody there has a mail address to which reminders go"
		return nil
	}
	r.Goes, r.ByHand, r.Step, r.To = true, r.step.ByHand, r.step.Words(), strings.Join(mails, ", ")
	return nil
}
