// Package wip is the review of work in progress: what is unbilled, how old it
// is, and what a selection would come to.
package wip

import (
	"context"
	"fmt"
	"slices"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

// Filter says what is looked at: everything unbilled up to a day, of one lead
// or client (0 asks for all), worth at least so much.
type Filter struct {
	UpTo     day.Day
	LeadID   int64
	ClientID int64
	AtLeast  string // an amount as typed, of an engagement; nothing asks for all
}

// UnbilledList is the unbilled work by client and engagement.
type UnbilledList struct {
	UpTo    day.Day        `json:"upTo"`
	Clients []ClientWork   `json:"clients"`
	Totals  []money.Amount `json:"totals" doc:"one for each currency"`
	Minutes int            `json:"minutes"`
}

// ClientWork is a client with the engagements that have unbilled work.
type ClientWork struct {
	ClientID    int64            `json:"clientId"`
	Client      string           `json:"client"`
	Combined    bool             `json:"combined" doc:"one invoice for all engagements"`
	Minutes     int              `json:"minutes"`
	Values      []money.Amount   `json:"values" doc:"one for each currency"`
	Engagements []EngagementWork `json:"engagements"`
}

// EngagementWork is the unbilled work of an engagement.
type EngagementWork struct {
	EngagementID int64        `json:"engagementId"`
	Engagement   string       `json:"engagement"`
	Arrangement  string       `json:"arrangement"`
	LeadID       int64        `json:"leadId"`
	Lead         string       `json:"lead"`
	LastBilled   day.Day      `json:"lastBilled"`
	Entries      int          `json:"entries"`
	Minutes      int          `json:"minutes" doc:"billed minutes"`
	Value        money.Amount `json:"value" doc:"agreed, net"`
	Standard     money.Amount `json:"standard"`
	AtNoCharge   money.Amount `json:"atNoCharge" doc:"of the standard value"`
	Oldest       int          `json:"oldest" doc:"age of the oldest entry in days, at the cut-off"`
	Ages         core.Ages    `json:"ages" doc:"agreed value of 0-30, 31-60, 61-90 and over 90 days"`
	Expenses     money.Amount `json:"expenses" doc:"of the value"`
	Held         money.Amount `json:"held" doc:"on hold, not in the value"`
	OverCap      money.Amount `json:"overCap" doc:"of the value: over what is left of a cap, so that it stays unbilled"`
	HeldEntries  int          `json:"heldEntries"`
	WithoutRate  int          `json:"withoutRate" doc:"entries that can't be billed until they have a rate"`

	draft DraftOf
}

// Unbilled reads what can be billed.
func Unbilled(ctx context.Context, a *app.App, actor app.Actor, f Filter) (*UnbilledList, error) {
	tx := a.Store.Read(ctx)
	least, err := f.least(tx)
	if err != nil {
		return nil, err
	}
	sight := actor.Sight()
	if f.LeadID != 0 && (sight.Leads == nil || slices.Contains(sight.Leads, f.LeadID)) {
		sight.Leads = []int64{f.LeadID}
	}
	days, err := store.UnbilledDays(tx, store.UnbilledFilter{UpTo: f.UpTo, Today: a.Clock.Today(), Sight: sight, ClientID: f.ClientID})
	if err != nil {
		return nil, err
	}
	engagements, err := store.EngagementRows(tx, nil)
	if err != nil {
		return nil, err
	}
	byEngagement := map[int64][]store.UnbilledDay{}
	for _, d := range days {
		byEngagement[d.EngagementID] = append(byEngagement[d.EngagementID], d)
	}
	list := &UnbilledList{UpTo: f.UpTo, Clients: []ClientWork{}, Totals: []money.Amount{}}
	for _, e := range engagements {
		if len(byEngagement[e.ID]) == 0 {
			continue
		}
		work, err := summed(e, byEngagement[e.ID], f.UpTo)
		if err != nil {
			return nil, err
		}
		if err := work.addCap(tx, &e.Engagement, byEngagement[e.ID]); err != nil {
			return nil, err
		}
		if enough, err := work.Value.AtLeast(least); err != nil || !enough {
			if err != nil {
				return nil, err
			}
			continue
		}
		if err := list.add(e, work); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// least is the typed amount in ten-thousandths of a unit of any currency.
func (f Filter) least(tx *gorm.DB) (int64, error) {
	if f.AtLeast == "" {
		return 0, nil
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return 0, err
	}
	least, err := money.ParseFixed(f.AtLeast, firm.Mark(), 4)
	return least, app.InField("atLeast", err)
}

func summed(e store.EngagementRow, days []store.UnbilledDay, upTo day.Day) (EngagementWork, error) {
	work := EngagementWork{
		EngagementID: e.ID, draft: Group(e), Engagement: e.Name, Arrangement: e.Arrangement, LeadID: e.LeadID, Lead: e.Lead, LastBilled: e.LastBilled,
		Value: money.Zero(e.Currency), Standard: money.Zero(e.Currency), AtNoCharge: money.Zero(e.Currency),
		Expenses: money.Zero(e.Currency), Held: money.Zero(e.Currency), OverCap: money.Zero(e.Currency), Ages: core.NewAges(e.Currency),
	}
	for _, d := range days {
		value := money.Amount{Minor: d.Agreed, Currency: e.Currency}
		work.Entries += d.Entries
		work.Minutes += d.Minutes
		work.WithoutRate += d.WithoutRates
		work.HeldEntries += d.HeldEntries
		if d.Entries > 0 {
			work.Oldest = max(work.Oldest, core.Days(d.WorkedDay, upTo))
		}
		for _, sum := range []struct {
			of    *money.Amount
			minor int64
		}{{&work.Value, d.Agreed}, {&work.Standard, d.Standard}, {&work.AtNoCharge, d.AtNoCharge}, {&work.Expenses, d.Expenses}, {&work.Held, d.Held}} {
			var err error
			if *sum.of, err = sum.of.Add(money.Amount{Minor: sum.minor, Currency: e.Currency}); err != nil {
				return work, err
			}
		}
		if err := work.Ages.Add(d.WorkedDay, upTo, value); err != nil {
			return work, err
		}
	}
	return work, nil
}

// addCap says what of the work is over what is left of the engagement's cap.
func (w *EngagementWork) addCap(tx *gorm.DB, e *store.Engagement, days []store.UnbilledDay) error {
	if e.Arrangement != setup.Capped || e.Fee == nil {
		return nil
	}
	before, err := store.FeesOn(tx, e.ID)
	for _, d := range days {
		w.OverCap.Minor += d.Capped
	}
	w.OverCap.Minor = max(0, w.OverCap.Minor-max(0, *e.Fee-before))
	return err
}

func (l *UnbilledList) add(e store.EngagementRow, work EngagementWork) (err error) {
	last := len(l.Clients) - 1
	if last < 0 || l.Clients[last].ClientID != e.ClientID {
		l.Clients = append(l.Clients, ClientWork{ClientID: e.ClientID, Client: e.Client, Combined: e.Combined, Values: []money.Amount{}})
		last++
	}
	client := &l.Clients[last]
	client.Engagements = append(client.Engagements, work)
	client.Minutes += work.Minutes
	l.Minutes += work.Minutes
	if client.Values, err = money.AddByCurrency(client.Values, work.Value); err != nil {
		return err
	}
	l.Totals, err = money.AddByCurrency(l.Totals, work.Value)
	return err
}

// UnbilledEntry is an unbilled entry in the folio.
type UnbilledEntry struct {
	Source      string         `json:"source" enum:"time,expense"`
	EntryID     int64          `json:"entryId" doc:"of time, or 0"`
	PurchaseID  int64          `json:"purchaseId" doc:"of an expense, or 0"`
	PersonID    int64          `json:"personId"`
	Day         day.Day        `json:"day"`
	Initials    string         `json:"initials"`
	Person      string         `json:"person"`
	Service     string         `json:"service"`
	Text        string         `json:"text"`
	Minutes     int            `json:"minutes"`
	Treatment   core.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Value       money.Amount   `json:"value"`
	Age         int            `json:"age" doc:"days, at the cut-off"`
	WithoutRate bool           `json:"withoutRate"`
	OverCap     bool           `json:"overCap" doc:"a cap left it unbilled"`
	Hold        string         `json:"hold" doc:"nothing, released (until somebody releases it), or the day of release"`
	Explanation explain.Step   `json:"explanation"`
}

// UnbilledEntries are the entries of an engagement, and how they add up.
type UnbilledEntries struct {
	Entries     []UnbilledEntry `json:"entries"`
	Explanation explain.Step    `json:"explanation"`
}

// Entries reads the unbilled entries of an engagement, oldest first.
func Entries(ctx context.Context, a *app.App, actor app.Actor, engagementID int64, upTo day.Day) (*UnbilledEntries, error) {
	rows, err := store.UnbilledPortions(a.Store.Read(ctx), store.UnbilledFilter{
		UpTo: upTo, Sight: actor.Sight(), EngagementIDs: []int64{engagementID}})
	entries, toBill := make([]UnbilledEntry, 0, len(rows)), []UnbilledEntry{}
	for i := range rows {
		entry := unbilledEntry(&rows[i], upTo, a.Clock.Today())
		if entries = append(entries, entry); entry.Hold == "" {
			toBill = append(toBill, entry)
		}
	}
	if err != nil || len(toBill) == 0 {
		return &UnbilledEntries{Entries: entries}, err
	}
	explanation, err := byPerson(toBill)
	return &UnbilledEntries{entries, explanation}, err
}

func unbilledEntry(p *store.PortionRow, upTo, today day.Day) UnbilledEntry {
	entry := UnbilledEntry{Source: p.Source, PurchaseID: p.PurchaseID, PersonID: p.PersonID, Day: p.WorkedDay, Initials: p.Initials, Person: p.Person, Service: p.Service,
		Text: p.Text, Minutes: p.Minutes, Treatment: p.Treatment, Value: money.Amount{Minor: p.Agreed, Currency: p.Currency}, Age: core.Days(p.WorkedDay, upTo),
		WithoutRate: p.WithoutRate, OverCap: p.OverCap, Explanation: p.Explain()}
	if !p.IsExpense() {
		entry.EntryID = p.SourceID
	}
	switch {
	case !p.Hold.Holds(p.HoldUntil, today):
	case p.Hold == core.UntilReleased:
		entry.Hold = "released"
	default:
		entry.Hold = p.HoldUntil.String()
	}
	return entry
}

// byPerson says how the value of entries adds up, person by person.
func byPerson(entries []UnbilledEntry) (explain.Step, error) {
	whole := explain.Step{Label: "To bill", Detail: "the rounded values of the entries, added"}
	sum, err := money.Zero(entries[0].Value.Currency), error(nil)
	people, minutes, values := []string{}, map[string]int{}, map[string]money.Amount{}
	own := map[string][]explain.Step{}
	for _, e := range entries {
		if sum, err = sum.Add(e.Value); err != nil {
			return whole, err
		}
		if own[e.Person] == nil {
			people, values[e.Person] = append(people, e.Person), money.Zero(sum.Currency)
		}
		if values[e.Person], err = values[e.Person].Add(e.Value); err != nil {
			return whole, err
		}
		minutes[e.Person] += e.Minutes
		step := e.Explanation
		step.Label = fmt.Sprintf("%s · %s", e.Day.Long(), e.Text)
		own[e.Person] = append(own[e.Person], step)
	}
	for _, person := range people {
		whole.Steps = append(whole.Steps, explain.Step{Label: person, Detail: fmt.Sprintf("entries: %d, %s h", len(own[person]), worktime.Hours(minutes[person])),
			Figure: values[person].String(), Steps: own[person]})
	}
	whole.Figure = sum.String()
	return whole, nil
}

// Tally is what making drafts of a selection would come to.
type Tally struct {
	Engagements int            `json:"engagements"`
	Drafts      int            `json:"drafts"`
	Entries     int            `json:"entries"`
	Minutes     int            `json:"minutes"`
	Standard    []money.Amount `json:"standard"`
	NoCharge    []money.Amount `json:"noCharge" doc:"given away at no charge, negative"`
	Rates       []money.Amount `json:"rates" doc:"agreed rates against standard, negative where lower"`
	Net         []money.Amount `json:"net" doc:"one for each currency"`
	OverCap     []money.Amount `json:"overCap" doc:"stays unbilled, because it is over a cap"`
	WithoutRate int            `json:"withoutRate" doc:"entries that stay, because no rate holds for them"`
}

// Add sums a selection of engagements up to a day.
func Add(ctx context.Context, a *app.App, actor app.Actor, upTo day.Day, engagementIDs []int64) (*Tally, error) {
	list, err := Unbilled(ctx, a, actor, Filter{UpTo: upTo})
	if err != nil {
		return nil, err
	}
	chosen := map[int64]bool{}
	for _, id := range engagementIDs {
		chosen[id] = true
	}
	tally := &Tally{Standard: []money.Amount{}, NoCharge: []money.Amount{}, Rates: []money.Amount{}, Net: []money.Amount{}, OverCap: []money.Amount{}}
	drafts := map[DraftOf]bool{}
	for _, client := range list.Clients {
		for _, e := range client.Engagements {
			if !chosen[e.EngagementID] {
				continue
			}
			if err := tally.add(e); err != nil {
				return nil, err
			}
			if e.Entries > e.WithoutRate {
				drafts[e.draft] = true
			}
		}
	}
	tally.Drafts = len(drafts)
	return tally, nil
}

func (t *Tally) add(e EngagementWork) (err error) {
	t.Engagements++
	t.Entries += e.Entries - e.WithoutRate
	t.WithoutRate += e.WithoutRate
	t.Minutes += e.Minutes
	given, err := core.Give(e.Standard, e.Value, e.AtNoCharge)
	if err != nil {
		return err
	}
	net, err := e.Value.Sub(e.OverCap)
	if err != nil {
		return err
	}
	for _, sum := range []struct {
		of  *[]money.Amount
		add money.Amount
	}{{&t.Standard, e.Standard}, {&t.NoCharge, given.NoCharge}, {&t.Rates, given.Rates}, {&t.Net, net}, {&t.OverCap, e.OverCap.Neg()}} {
		if *sum.of, err = money.AddByCurrency(*sum.of, sum.add); err != nil {
			return err
		}
	}
	return nil
}

// DraftOf is what shares one invoice.
type DraftOf struct {
	ClientID, EntityID, SeriesID int64
	EngagementID                 int64 // 0 where the client's engagements are combined
	Currency                     money.Currency
}

// Group says on which invoice an engagement's work goes: one of the client, or
// one of its own, as it is where a discount holds for it alone; never two issuing
// entities, series or currencies on one.
func Group(e store.EngagementRow) DraftOf {
	group := DraftOf{ClientID: e.ClientID, EntityID: e.EntityID, SeriesID: e.Numbered, Currency: e.Currency}
	if !e.Combined || e.OwnPrice {
		group.EngagementID = e.ID
	}
	return group
}
