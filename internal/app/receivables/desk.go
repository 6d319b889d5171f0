package receivables

import (
	"context"
	"fmt"
	"slices"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	core "dorvet/core/receivable"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Outstanding is what is owed, by client and age.
type Outstanding struct {
	at map[owes]int // of Clients

	Standing
	AsOf    day.Day        `json:"asOf"`
	Clients []ClientOwes   `json:"clients"`
	Leads   []Named        `json:"leads" doc:"of what is owed, to choose from"`
	Credit  explain.Totals `json:"credit" doc:"of clients, one for each currency: never negative aging"`
	Held    explain.Totals `json:"held" doc:"for clients"`
}

// Named is a name to choose.
type Named struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// ClientOwes is a client and what they owe in one currency.
type ClientOwes struct {
	ClientID int64          `json:"clientId"`
	Client   string         `json:"client"`
	Total    money.Amount   `json:"total"`
	Ages     []money.Amount `json:"ages"`
	Disputed money.Amount   `json:"disputed" doc:"apart from the ages"`
	MostLate int            `json:"mostLate" doc:"days, of the oldest"`
	Credit   money.Amount   `json:"credit"`
	Held     money.Amount   `json:"held"`
	Open     []OpenPart     `json:"open" doc:"the oldest first"`
}

// OpenPart is an instalment on which something is owed.
type OpenPart struct {
	InvoiceID int64        `json:"invoiceId"`
	Number    string       `json:"number"`
	Part      string       `json:"part" doc:"like 2 of 3, or nothing"`
	Lead      string       `json:"lead"`
	Dated     day.Day      `json:"dated"`
	Due       day.Day      `json:"due"`
	DaysLate  int          `json:"daysLate" doc:"0 or less if it is not due"`
	Band      int          `json:"band" doc:"0 not due, 1 to 4 by thirty days"`
	Amount    money.Amount `json:"amount"`
	Open      money.Amount `json:"open"`
	Disputed  money.Amount `json:"disputed" doc:"of what is open: it has no age"`
	Beside    string       `json:"beside"`
}

// owes is a client who owes in a currency.
type owes struct {
	clientID int64
	currency money.Currency
}

// Filter says what is looked at; zero values ask for all.
type Filter struct {
	ClientID, LeadID int64
	Late             int     // days late at least; 0: what is not due as well
	On               day.Day // as it stood at the end of that day; 0: as it stands now
}

// Owed reads what is owed, by client and age: now, or as it stood on an earlier day.
func Owed(ctx context.Context, a *app.App, actor app.Actor, f Filter) (*Outstanding, error) {
	tx, on := a.Read(ctx, actor), a.Clock.Today()
	if f.On > on {
		return nil, app.RefuseField("on", "%s is still to come: give today or an earlier day.", f.On.Long())
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	var claims []*claims
	if !f.On.IsZero() && f.On < on {
		on = f.On
		claims, err = claimsOn(tx, f.ClientID, on)
	} else {
		claims, err = claimsOf(a, tx, f.ClientID)
	}
	if err != nil {
		return nil, err
	}
	rows := allOpen(claims)
	o := &Outstanding{at: map[owes]int{}, AsOf: on, Clients: []ClientOwes{}, Leads: []Named{}, Credit: explain.Totals{},
		Held: explain.Totals{}}
	shown := []store.OpenInstalment{}
	for i := range rows {
		row := &rows[i]
		if row.LeadID != 0 && !slices.ContainsFunc(o.Leads, func(c Named) bool { return c.ID == row.LeadID }) {
			o.Leads = append(o.Leads, Named{row.LeadID, row.Lead})
		}
		if f.LeadID != 0 && row.LeadID != f.LeadID || f.Late > 0 && core.DaysLate(row.DueDay, on) < f.Late {
			continue
		}
		shown = append(shown, *row)
		if err := o.add(row, on); err != nil {
			return nil, err
		}
	}
	if o.Standing, err = standing(tx, firm, on, shown); err != nil {
		return nil, err
	}
	return o, o.addHeld(claims)
}

func (o *Outstanding) add(row *store.OpenInstalment, today day.Day) error {
	n, known := o.at[owes{row.ClientID, row.Currency}]
	if !known {
		none := core.NewAges(row.Currency)
		n = len(o.Clients)
		o.at[owes{row.ClientID, row.Currency}] = n
		o.Clients = append(o.Clients, ClientOwes{ClientID: row.ClientID, Client: row.Client, Total: none[0], Disputed: none[0], Credit: none[0], Held: none[0],
			Ages: slices.Clone(none[:]), Open: []OpenPart{}})
	}
	client := &o.Clients[n]
	late := core.DaysLate(row.DueDay, today)
	part := OpenPart{InvoiceID: row.InvoiceID, Number: row.NumberText, Lead: row.Lead, Dated: row.Dated, Due: row.DueDay, DaysLate: late,
		Band:   int(core.BandOf(late)),
		Amount: money.Amount{Minor: row.Amount, Currency: row.Currency}, Open: money.Amount{Minor: row.Open, Currency: row.Currency},
		Disputed: money.Amount{Minor: row.Aside, Currency: row.Currency}}
	if row.Parts > 1 {
		part.Part = ordinal(row.Position, row.Parts)
	}
	if row.Disputed != "" {
		part.Beside = "disputed"
		if row.Aside < row.Open {
			part.Beside = "disputed in part"
		}
	} else if row.Kind == "opening" {
		part.Beside = "opening balance"
	}
	client.Open = append(client.Open, part)
	client.MostLate = max(client.MostLate, late)
	client.Ages[part.Band].Minor += part.Open.Minor - part.Disputed.Minor
	client.Disputed.Minor += part.Disputed.Minor
	var err error
	client.Total, err = client.Total.Add(part.Open)
	return err
}

// addHeld sets beside what is owed what lies there for it: credit and funds.
func (o *Outstanding) addHeld(of []*claims) error {
	for _, client := range of {
		if err := o.addMoneyOf(client); err != nil {
			return err
		}
	}
	return nil
}

func (o *Outstanding) addMoneyOf(client *claims) error {
	for _, c := range client.Credits {
		credit := money.Amount{Minor: c.Credit, Currency: c.Currency}
		if err := o.Credit.Add("Credit of clients", explain.Step{Label: c.Client}, credit); err != nil {
			return err
		}
		if n, owes := o.at[owes{c.ClientID, c.Currency}]; owes {
			o.Clients[n].Credit.Minor += c.Credit
		}
	}
	for _, p := range client.Held {
		held := money.Amount{Minor: p.Held, Currency: p.Currency}
		if err := o.Held.Add("Held for clients", explain.Step{Label: p.Client}, held); err != nil {
			return err
		}
		if n, owes := o.at[owes{p.ClientID, p.Currency}]; owes {
			o.Clients[n].Held.Minor += p.Held
		}
	}
	return nil
}

func ordinal(position, parts int) string { return fmt.Sprintf("%d of %d", position, parts) }
