package receivables

import (
	"cmp"
	"context"
	"slices"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/receivable"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// ToCall is a client with something late, and what a call may change.
type ToCall struct {
	ClientID int64          `json:"clientId"`
	Client   string         `json:"client"`
	Contact  string         `json:"contact"`
	Phone    string         `json:"phone"`
	Late     []money.Amount `json:"late" doc:"by currency, without what is disputed or promised"`
	DaysLate int            `json:"daysLate" doc:"of the oldest"`
	Worth    int64          `json:"worth" doc:"late in the firm's currency × days, less while they are no later than ever: the order of the list"`
	Usual    int            `json:"usual" doc:"days late that they pay as a rule"`
	Payments int            `json:"payments" doc:"in the last twelve months; below five the firm's habit is taken"`
	Last     day.Day        `json:"last" doc:"on which they were last reminded or called; or nothing"`
	LastWas  string         `json:"lastWas" doc:"reminded, promised, unreached, asked, disputes"`
	Promised day.Day        `json:"promised" doc:"the next day for which something is promised; or nothing"`
	Broken   day.Day        `json:"broken" doc:"the last day for which something was promised in a call, that is over; or nothing"`
	Again    day.Day        `json:"again" doc:"they asked to be called again from that day on; or nothing"`
}

// WhomToCall lists the clients with something late, those first whose call is worth most. Who is to be called again later stands at the end.
func WhomToCall(ctx context.Context, a *app.App, actor app.Actor) ([]ToCall, error) {
	tx, today := a.Read(ctx, actor), a.Clock.Today()
	all, c, err := readCalling(a, tx)
	if err != nil {
		return nil, err
	}
	list := []ToCall{}
	for _, of := range all {
		one, err := c.of(of)
		if err != nil {
			return nil, err
		}
		if len(one.Late) > 0 {
			list = append(list, *one)
		}
	}
	if err := phones(tx, list); err != nil {
		return nil, err
	}
	slices.SortStableFunc(list, func(a, b ToCall) int {
		return cmp.Or(boolFirst(a.Again <= today, b.Again <= today), cmp.Compare(b.Worth, a.Worth), strings.Compare(a.Client, b.Client))
	})
	return list, nil
}

// calling is what is known of all clients to say what a call is worth, and when money comes.
type calling struct {
	today  day.Day
	tx     *store.DB
	firm   *store.Firm
	over   passing
	habits map[int64]receivable.Habit
	usual  receivable.Habit // of the firm
	calls  map[int64]store.Call
	last   map[int64]day.Day
	rates  map[money.Currency]*money.ExchangeRate // nil: there is none
}

// readCalling reads what all clients owe, with what is known of them.
func readCalling(a *app.App, tx *store.DB) ([]*claims, *calling, error) {
	all, err := claimsOf(a, tx, 0)
	if err != nil {
		return nil, nil, err
	}
	c := &calling{today: a.Clock.Today(), tx: tx, calls: map[int64]store.Call{}, last: map[int64]day.Day{},
		rates: map[money.Currency]*money.ExchangeRate{}}
	return all, c, c.read(tx)
}

func (c *calling) read(tx *store.DB) (err error) {
	if c.firm, err = store.TheFirm(tx); err != nil {
		return err
	}
	if c.over, err = passingOver(tx, nil, c.today); err != nil {
		return err
	}
	if c.habits, c.usual, err = habits(tx, c.today); err != nil {
		return err
	}
	calls, err := store.LastCalls(tx)
	if err != nil {
		return err
	}
	for _, k := range calls {
		c.calls[k.ClientID] = k
	}
	reminded, err := store.LastReminders(tx)
	for _, r := range reminded {
		c.last[r.ClientID] = r.Day
	}
	return err
}

// habits are how late clients pay, by the payments of the last twelve months; who has made fewer than five has the firm's.
func habits(tx *store.DB, today day.Day) (map[int64]receivable.Habit, receivable.Habit, error) {
	rows, err := store.PaidSince(tx, today.AddMonths(-12))
	all, by := []receivable.Paid{}, map[int64][]receivable.Paid{}
	for _, r := range rows {
		paid := receivable.Paid{Late: r.Late, Amount: r.Amount}
		all, by[r.ClientID] = append(all, paid), append(by[r.ClientID], paid)
	}
	found := map[int64]receivable.Habit{}
	for id, payments := range by {
		found[id] = receivable.HabitOf(payments)
	}
	return found, receivable.HabitOf(all), err
}

// habitOf is how late a client pays: its own habit, or the firm's.
func (c *calling) habitOf(clientID int64) receivable.Habit {
	own := c.habits[clientID]
	if own.Payments >= receivable.Enough {
		return own
	}
	usual := c.usual
	usual.Payments = own.Payments
	return usual
}

func (c *calling) of(of *claims) (*ToCall, error) {
	habit := c.habitOf(of.ClientID)
	one := &ToCall{ClientID: of.ClientID, Client: of.Client, Late: []money.Amount{}, Usual: habit.Mid, Payments: habit.Payments}
	for i := range of.Open {
		row := &of.Open[i]
		if on, is := c.over.promised[row.InvoiceID]; is && (one.Promised.IsZero() || on < one.Promised) {
			one.Promised = on
		}
		late := receivable.DaysLate(row.DueDay, c.today)
		if late <= 0 || row.Open <= row.Aside || c.over.clients[of.ClientID] != "" || c.over.why(row, c.today) != "" {
			continue
		}
		amount := money.Amount{Minor: row.Open - row.Aside, Currency: row.Currency}
		var err error
		if one.Late, err = money.AddByCurrency(one.Late, amount); err != nil {
			return nil, err
		}
		one.DaysLate = max(one.DaysLate, late)
		worth, err := c.worth(amount, late, habit)
		if err != nil {
			return nil, err
		}
		one.Worth += worth
	}
	one.Last = c.last[of.ClientID]
	if !one.Last.IsZero() {
		one.LastWas = "reminded"
	}
	if k, called := c.calls[of.ClientID]; called {
		if k.Day >= one.Last {
			one.Last, one.LastWas = k.Day, string(k.Outcome)
		}
		one.Again = k.AgainDay
		if !k.PromisedDay.IsZero() && k.PromisedDay < c.today {
			one.Broken = k.PromisedDay
		}
	}
	return one, nil
}

// worth is what a call for an amount is worth, in the firm's currency; without a rate the amount is taken as it is.
func (c *calling) worth(amount money.Amount, late int, habit receivable.Habit) (int64, error) {
	valued, known, err := c.valued(amount)
	if !known {
		valued = amount
	}
	return receivable.Worth(valued.Minor, late, habit), err
}

// valued is an amount in the firm's currency, at today's rate, and whether there is one.
func (c *calling) valued(amount money.Amount) (valued money.Amount, known bool, err error) {
	rate, asked := c.rates[amount.Currency]
	if !asked {
		found, _, err := setup.Exchange(c.tx, c.firm, amount.Currency, c.today)
		if err == nil {
			rate = &found
		} else if !refusal.Is(err) {
			return valued, false, err
		}
		c.rates[amount.Currency] = rate
	}
	if rate == nil {
		return money.Zero(c.firm.Currency), false, nil
	}
	valued, err = amount.Convert(*rate, c.firm.Currency)
	return valued, true, err
}

// phones says whom to ask for, and how to reach them: a contact who gets reminders, else invoices, else anyone with a number.
func phones(tx *store.DB, list []ToCall) error {
	ids := []int64{}
	for i := range list {
		ids = append(ids, list[i].ClientID)
	}
	contacts, err := store.AllContactsOf(tx, ids)
	if err != nil {
		return err
	}
	rank := func(c *store.Contact) int {
		switch {
		case strings.TrimSpace(c.Phones) == "":
			return 3
		case c.GetsReminders:
			return 0
		case c.GetsInvoices:
			return 1
		}
		return 2
	}
	best := map[int64]*store.Contact{}
	for i := range contacts {
		c := &contacts[i]
		if known := best[c.ClientID]; known == nil || rank(c) < rank(known) {
			best[c.ClientID] = c
		}
	}
	for i := range list {
		if c := best[list[i].ClientID]; c != nil {
			list[i].Contact, list[i].Phone = c.Name, strings.TrimSpace(c.Phones)
		}
	}
	return nil
}

// Calling is what came of a call.
type Calling struct {
	ClientID int64             `json:"clientId"`
	Outcome  store.CallOutcome `json:"outcome" enum:"promised,unreached,asked,disputes"`
	With     string            `json:"with" maxLength:"200"`
	Promised day.Day           `json:"promised,omitempty" format:"date" doc:"when they will pay; of a promise alone"`
	Again    day.Day           `json:"again,omitempty" format:"date" doc:"from which day on they are called again; nothing: as it comes"`
	Text     string            `json:"text" maxLength:"2000"`
}

var outcomeWords = map[store.CallOutcome]string{store.Promised: "they promised to pay", store.Unreached: "nobody was reached",
	store.Asked: "they look after it", store.Disputes: "they say that something is wrong"}

// RecordCall keeps what came of a call. A promise holds for all that is late: it is not reminded of until its day is over.
func RecordCall(ctx context.Context, a *app.App, r app.Request, c Calling) error {
	_, err := app.Do(ctx, a, r, "record a call", c, func(tx *app.Tx) (struct{}, error) {
		if _, err := store.Get[store.Client](tx.DB, c.ClientID); err != nil {
			return struct{}{}, app.Missing(err, "client")
		}
		words, known := outcomeWords[c.Outcome]
		switch {
		case !known:
			return struct{}{}, app.RefuseField("outcome", "Say what came of it: promised, unreached, asked or disputes.")
		case c.Outcome == store.Promised && (c.Promised.IsZero() || c.Promised < tx.Today):
			return struct{}{}, app.RefuseField("promised", "Give the day on which they will pay: today or later.")
		case c.Outcome != store.Promised:
			c.Promised = 0
		case c.Promised > tx.Today.AddMonths(12):
			return struct{}{}, app.RefuseField("promised", "%s is more than a year away: give an earlier day.", c.Promised.Long())
		}
		row := &store.Call{ClientID: c.ClientID, PersonID: &tx.Actor.PersonID, Day: tx.Today, At: tx.Now, WithName: strings.TrimSpace(c.With),
			Outcome: c.Outcome, PromisedDay: c.Promised, AgainDay: c.Again, Text: strings.TrimSpace(c.Text)}
		tx.LinkTo("clients", c.ClientID)
		if !c.Promised.IsZero() {
			words += " on " + c.Promised.Long()
		}
		tx.Describe(nil, nil, "Called: %s", words)
		if err := store.Insert(tx.DB, row); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, promise(tx, row)
	})
	return err
}

// promise notes on each invoice that is late what was promised in a call.
func promise(tx *app.Tx, k *store.Call) error {
	if k.Outcome != store.Promised {
		return nil
	}
	found, err := readClaims(tx.DB, []int64{k.ClientID})
	if err != nil || found[k.ClientID] == nil {
		return err
	}
	noted := map[int64]bool{}
	for i := range found[k.ClientID].Open {
		row := &found[k.ClientID].Open[i]
		if row.DueDay >= tx.Today || noted[row.InvoiceID] {
			continue
		}
		noted[row.InvoiceID] = true
		inv, err := store.Get[store.Invoice](tx.DB, row.InvoiceID)
		if err != nil {
			return err
		}
		tx.LinkTo(app.OfInvoice, inv.ID)
		if err := store.Insert(tx.DB, &store.Claim{InvoiceID: inv.ID, Revision: inv.Revision, Kind: store.Promise, Section: -1, Line: -1,
			Text: k.Text, Day: k.PromisedDay, Name: cmp.Or(k.WithName, "on the telephone"), At: tx.Now, Outcome: store.Answered, PersonID: k.PersonID,
			AnsweredAt: &tx.Now}); err != nil {
			return err
		}
	}
	return nil
}

// ClientDealings is all that was said with a client about money.
type ClientDealings struct {
	Holds    []Held       `json:"holds" doc:"that hold today"`
	Dealings []DealtAbout `json:"dealings" doc:"the latest first"`
}

// DealtAbout is something that was said, or came.
type DealtAbout struct {
	At        time.Time    `json:"at"`
	What      string       `json:"what" enum:"letter,said,call,payment,hold"`
	Kind      string       `json:"kind" doc:"of a letter, of what was said, what came of a call"`
	Numbers   string       `json:"numbers"`
	InvoiceID int64        `json:"invoiceId"`
	Who       string       `json:"who"`
	State     string       `json:"state"`
	Day       day.Day      `json:"day"`
	Amount    money.Amount `json:"amount"`
	Text      string       `json:"text"`
}

// Dealings reads what was said with a client about money: letters, their words, calls, payments, holds.
func Dealings(ctx context.Context, a *app.App, actor app.Actor, clientID int64) (*ClientDealings, error) {
	tx := a.Read(ctx, actor)
	if _, err := store.Get[store.Client](tx, clientID); err != nil {
		return nil, app.Missing(err, "client")
	}
	rows, err := store.Dealings(tx, clientID, 200)
	if err != nil {
		return nil, err
	}
	d := &ClientDealings{Dealings: []DealtAbout{}}
	for i := range rows {
		r := &rows[i]
		d.Dealings = append(d.Dealings, DealtAbout{r.At, r.What, r.Kind, r.Numbers, r.InvoiceID, r.Who, r.State, r.Day,
			money.Amount{Minor: r.Amount, Currency: r.Currency}, r.Text})
	}
	d.Holds, err = holdsOf(tx, clientID, a.Clock.Today())
	return d, err
}
