package receivables

import (
	"cmp"
	"context"
	"maps"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/core/schedule"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// CashToCome is what is owed by the week in which it is likely to come, and beside it what will be billed.
type CashToCome struct {
	Weeks    []CashWeek     `json:"weeks" doc:"the first of them this one"`
	Beyond   []CashPart     `json:"beyond" doc:"later than three of four payments of that client ever were: nobody knows when"`
	Disputed []CashPart     `json:"disputed" doc:"it comes when the dispute is settled, or not"`
	Owed     []money.Amount `json:"owed" doc:"weeks, beyond and disputed together, by currency: what is owed on the desk"`
	Without  []string       `json:"without" doc:"currencies without a rate, left out of the curve"`
}

// CashWeek is a week in which money is likely to come.
type CashWeek struct {
	From     day.Day        `json:"from" doc:"its Monday"`
	Expected []money.Amount `json:"expected" doc:"of what is owed, by currency"`
	Planned  []money.Amount `json:"planned" doc:"of what is still to be billed, net, by currency"`
	By       CashBy         `json:"by"`
	Parts    []CashPart     `json:"parts"`
	Bills    []CashPart     `json:"bills" doc:"planned"`
}

// CashBy is what will have come by the end of a week, of what is owed, in the firm's currency at today's rates: if all pay as late as
// the latest quarter of their payments was, as a rule, and as early as the earliest quarter.
type CashBy struct {
	Late  money.Amount `json:"late"`
	Mid   money.Amount `json:"mid"`
	Early money.Amount `json:"early"`
}

// CashPart is an open instalment, or a bill that is planned.
type CashPart struct {
	Client    string       `json:"client"`
	InvoiceID int64        `json:"invoiceId" doc:"0: planned"`
	Number    string       `json:"number" doc:"or what is billed"`
	Due       day.Day      `json:"due"`
	On        day.Day      `json:"on" doc:"on which it is likely to come"`
	Promised  bool         `json:"promised" doc:"its client has said so"`
	Amount    money.Amount `json:"amount"`
}

// weeksAhead is how far it is looked ahead: a quarter of a year.
const weeksAhead = 13

// ToCome reads what is likely to come, week by week. What is expected after the last week stands in it.
func ToCome(ctx context.Context, a *app.App, actor app.Actor) (*CashToCome, error) {
	today := a.Clock.Today()
	all, c, err := readCalling(a, a.Read(ctx, actor))
	if err != nil {
		return nil, err
	}
	f := &foreseeing{c, &CashToCome{Beyond: []CashPart{}, Disputed: []CashPart{}, Owed: []money.Amount{}, Without: []string{}}}
	for n := range weeksAhead {
		none := money.Zero(c.firm.Currency)
		f.Weeks = append(f.Weeks, CashWeek{From: today.Monday().AddDays(7 * n), Expected: []money.Amount{}, Planned: []money.Amount{},
			By: CashBy{none, none, none}, Parts: []CashPart{}, Bills: []CashPart{}})
	}
	for _, of := range all {
		for i := range of.Open {
			if err := f.owed(of, &of.Open[i]); err != nil {
				return nil, err
			}
		}
	}
	if err := f.planned(); err != nil {
		return nil, err
	}
	for n := 1; n < len(f.Weeks); n++ { // by the end of a week
		by, before := &f.Weeks[n].By, f.Weeks[n-1].By
		by.Late.Minor += before.Late.Minor
		by.Mid.Minor += before.Mid.Minor
		by.Early.Minor += before.Early.Minor
	}
	return f.CashToCome, nil
}

type foreseeing struct {
	*calling
	*CashToCome
}

// week is the week of a day: the first for what is before, the last for what is after.
func (f *foreseeing) week(on day.Day) *CashWeek {
	return &f.Weeks[min(max(int(on-f.Weeks[0].From)/7, 0), len(f.Weeks)-1)]
}

// owed puts an open instalment where it belongs; what of it is disputed stands apart.
func (f *foreseeing) owed(of *claims, row *store.OpenInstalment) (err error) {
	part := CashPart{Client: of.Client, InvoiceID: row.InvoiceID, Number: row.NumberText, Due: row.DueDay,
		Amount: money.Amount{Minor: row.Open, Currency: row.Currency}}
	if f.Owed, err = money.AddByCurrency(f.Owed, part.Amount); err != nil {
		return err
	}
	if row.Aside > 0 {
		aside := part
		aside.Amount.Minor = row.Aside
		f.Disputed, part.Amount.Minor = append(f.Disputed, aside), row.Open-row.Aside
	}
	if part.Amount.Minor == 0 {
		return nil
	}
	habit := f.habitOf(of.ClientID)
	when := receivable.Expect(row.DueDay, f.today, habit)
	if on, promised := f.over.promised[row.InvoiceID]; promised {
		when, part.Promised = receivable.Expected{Early: on, Mid: on, Late: on}, true
	} else if receivable.Beyond(row.DueDay, f.today, habit) {
		f.Beyond = append(f.Beyond, part)
		return nil
	}
	part.On = when.Mid
	week := f.week(when.Mid)
	week.Parts = append(week.Parts, part)
	if week.Expected, err = money.AddByCurrency(week.Expected, part.Amount); err != nil {
		return err
	}
	valued, known, err := f.valued(part.Amount)
	if own := string(part.Amount.Currency); err == nil && !known && !slices.Contains(f.Without, own) {
		f.Without = append(f.Without, own)
	}
	f.week(when.Early).By.Early.Minor += valued.Minor
	week.By.Mid.Minor += valued.Minor
	f.week(when.Late).By.Late.Minor += valued.Minor
	return err
}

// planned puts the charges that will be billed where their money is likely to come: their bill day, the terms of the client, its delay.
func (f *foreseeing) planned() error {
	until := f.Weeks[len(f.Weeks)-1].From.AddDays(6)
	charges, err := unbilled.ChargesForeseen(f.tx, nil, until)
	if err != nil {
		return err
	}
	engagements, err := store.All[store.Engagement](f.tx, "id")
	if err != nil {
		return err
	}
	clients, err := store.All[store.Client](f.tx, "id")
	if err != nil {
		return err
	}
	names, of := map[int64]string{}, map[int64]*store.Engagement{}
	for i := range clients {
		names[clients[i].ID] = clients[i].Name
	}
	for i := range engagements {
		of[engagements[i].ID] = &engagements[i]
	}
	terms, err := profiles.Nearest(f.tx, "terms", slices.Collect(maps.Keys(names))...)
	if err != nil {
		return err
	}
	for i := range charges {
		c := &charges[i]
		e := of[c.EngagementID]
		if e == nil || c.BillDay.IsZero() || c.Amount == 0 {
			continue
		}
		payer := cmp.Or(store.OrZero(c.PayerID), e.ClientID)
		on, err := schedule.ParseTerms(terms(payer, e.ID))
		if err != nil {
			return err
		}
		due := on.Due(max(c.BillDay, f.today))
		when := receivable.Expect(due, f.today, f.habitOf(payer))
		if when.Mid > until {
			continue // its money comes later than is looked
		}
		amount := money.Amount{Minor: c.Amount, Currency: c.Currency}
		week := f.week(when.Mid)
		week.Bills = append(week.Bills, CashPart{Client: names[payer], Number: c.Text, Due: due, On: when.Mid, Amount: amount})
		if week.Planned, err = money.AddByCurrency(week.Planned, amount); err != nil {
			return err
		}
	}
	return nil
}
