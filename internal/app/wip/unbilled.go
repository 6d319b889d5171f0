// Package wip is the review of work in progress: what is unbilled, how old it
// is, what is wrong with it, and what is decided about it.
package wip

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// Filter says what is looked at: everything unbilled of some days, of one lead,
// client, group of clients, arrangement or billing cycle (0 and nothing ask for all),
// worth at least so much.
type Filter struct {
	From        day.Day // no day: since the last bill
	UpTo        day.Day
	ChargesUpTo day.Day // no day: today
	LeadID      int64
	ClientID    int64
	Arrangement string
	Cycle       string
	Group       string // an industry, department or work type of clients
	AtLeast     string // an amount as typed, of an engagement; nothing asks for all
	Order       string // nothing: by the names of clients
}

// UnbilledList is the unbilled work by client and engagement.
type UnbilledList struct {
	UpTo    day.Day        `json:"upTo"`
	Clients []ClientWork   `json:"clients"`
	Totals  []money.Amount `json:"totals" doc:"to bill, one for each currency"`
	Minutes int            `json:"minutes"`
}

// ClientWork is a client with the engagements that have unbilled work.
type ClientWork struct {
	ClientID    int64            `json:"clientId"`
	Client      string           `json:"client"`
	Combined    bool             `json:"combined" doc:"one invoice for all engagements"`
	Groups      []string         `json:"groups" doc:"its industry, department and work type"`
	Minutes     int              `json:"minutes"`
	Values      []money.Amount   `json:"values" doc:"to bill, one for each currency"`
	Funds       []money.Amount   `json:"funds" doc:"held, one for each currency"`
	Findings    []Warning        `json:"findings"`
	Engagements []EngagementWork `json:"engagements"`
}

// EngagementWork is the unbilled work of an engagement.
type EngagementWork struct {
	EngagementID int64              `json:"engagementId"`
	Engagement   string             `json:"engagement"`
	Arrangement  string             `json:"arrangement"`
	Fee          *money.Amount      `json:"fee,omitempty" doc:"fixed or recurring fee, or cap"`
	FeePeriod    string             `json:"feePeriod" doc:"of a recurring fee: month, quarter or year"`
	LeadID       int64              `json:"leadId"`
	Lead         string             `json:"lead"`
	LastBilled   day.Day            `json:"lastBilled"`
	Entries      int                `json:"entries"`
	Minutes      int                `json:"minutes" doc:"billed minutes"`
	Time         money.Amount       `json:"time" doc:"of what is billed by itself, agreed"`
	Covered      bool               `json:"covered" doc:"a fee covers some of the time"`
	BehindFee    money.Amount       `json:"behindFee" doc:"standard value of the time that a fee covers"`
	BehindHours  int                `json:"behindMinutes" doc:"of the minutes: covered by a fee"`
	Expenses     money.Amount       `json:"expenses"`
	Charges      money.Amount       `json:"charges" doc:"fixed and recurring fees due"`
	OpenCharges  int                `json:"openCharges" doc:"charges due whose price is given when they are billed"`
	Value        money.Amount       `json:"value" doc:"to bill, net: what its drafts would come to"`
	Terms        money.Amount       `json:"terms" doc:"of the value: what a discount, a surcharge and advances make of it"`
	Standard     money.Amount       `json:"standard" doc:"of time that is billed by itself, and expenses"`
	AtNoCharge   money.Amount       `json:"atNoCharge" doc:"of the standard value"`
	Oldest       int                `json:"oldest" doc:"age of the oldest entry in days, at the cut-off"`
	Ages         core.Ages          `json:"ages" doc:"standard value of 0-30, 31-60, 61-90 and over 90 days"`
	Held         money.Amount       `json:"held" doc:"on hold, not in the value"`
	OverCap      money.Amount       `json:"overCap" doc:"over what is left of a cap, so that it stays unbilled; not in the value"`
	CapLeft      *money.Amount      `json:"capLeft,omitempty" doc:"of a cap, before this"`
	HeldEntries  int                `json:"heldEntries"`
	Forgotten    money.Amount       `json:"forgotten" doc:"of the expenses: from before the last bill, and over 30 days old"`
	WithoutRate  int                `json:"withoutRate" doc:"entries that can't be billed until they have a rate"`
	Budget       *setup.BudgetShare `json:"budget,omitempty"`
	Findings     []Warning          `json:"findings"`

	row     store.EngagementRow
	refused error // why it can't be billed as it is
}

// Unbilled reads what can be billed.
func Unbilled(ctx context.Context, a *app.App, actor app.Actor, f Filter) (*UnbilledList, error) {
	tx, today := a.Read(ctx, actor), a.Clock.Today()
	keeps, err := f.keeps(tx)
	if err != nil {
		return nil, err
	}
	if f.ChargesUpTo.IsZero() {
		f.ChargesUpTo = today
	}
	clients, err := reviewed(a, tx, f)
	if err != nil {
		return nil, err
	}
	list := &UnbilledList{UpTo: f.UpTo, Clients: []ClientWork{}, Totals: []money.Amount{}}
	for _, client := range clients {
		if err := list.add(*client, keeps); err != nil {
			return nil, err
		}
	}
	return list, list.sort(tx, today, f.Order)
}

// reviewed is the unbilled work of the days of a filter, of all clients in the order of their names, with what was found
// about it. Findings, and how budgets and fees stand, are over all the work up to the cut-off, whatever of it is shown.
func reviewed(a *app.App, tx *store.DB, f Filter) ([]*ClientWork, error) {
	today := a.Clock.Today()
	found, err := app.PerClient(a, tx, "unbilled", fmt.Sprintln(today, f.From, f.UpTo, f.ChargesUpTo),
		func(clientIDs []int64) (map[int64]*ClientWork, error) {
			listed, err := listed(tx, today, f, clientIDs)
			if err == nil && f.From.IsZero() {
				err = look(tx, listed, clientIDs, today)
			}
			return listed, err
		})
	if err != nil {
		return nil, err
	}
	clients := slices.SortedFunc(maps.Values(found), func(a, b *ClientWork) int {
		return cmp.Or(strings.Compare(a.Client, b.Client), cmp.Compare(a.ClientID, b.ClientID))
	})
	if f.From.IsZero() {
		return clients, nil
	}
	f.From = 0
	whole, err := reviewed(a, tx, f)
	if err != nil {
		return nil, err
	}
	return measuredAs(clients, whole), nil
}

// measuredAs is work with what was found about the same work of more days.
func measuredAs(work, whole []*ClientWork) []*ClientWork {
	clients, engagements := map[int64]*ClientWork{}, map[int64]*EngagementWork{}
	for _, c := range whole {
		clients[c.ClientID] = c
		for n := range c.Engagements {
			engagements[c.Engagements[n].EngagementID] = &c.Engagements[n]
		}
	}
	measured := make([]*ClientWork, len(work))
	for i := range work {
		c := *work[i]
		if of := clients[c.ClientID]; of != nil { // nil: it was recorded just now
			c.Funds, c.Findings = of.Funds, of.Findings
		}
		c.Engagements = slices.Clone(c.Engagements)
		for n := range c.Engagements {
			e := &c.Engagements[n]
			if of := engagements[e.EngagementID]; of != nil {
				e.Budget, e.Findings = of.Budget, of.Findings
			}
		}
		measured[i] = &c
	}
	return measured
}

// keeps says which engagements a filter shows.
func (f Filter) keeps(tx *store.DB) (func(*EngagementWork) (bool, error), error) {
	least, err := f.least(tx)
	if err != nil {
		return nil, err
	}
	cycles, err := cyclesOf(tx, f.Cycle)
	if err != nil {
		return nil, err
	}
	if leads := tx.Scope().Leads; leads != nil && !slices.Contains(leads, f.LeadID) {
		f.LeadID = 0 // they see their own, whatever is asked
	}
	return func(w *EngagementWork) (bool, error) {
		e := &w.row
		if f.ClientID != 0 && e.ClientID != f.ClientID || f.LeadID != 0 && e.LeadID != f.LeadID ||
			f.Arrangement != "" && e.Arrangement != f.Arrangement || !cycles(e) || f.Group != "" && !slices.Contains(groups(e), f.Group) {
			return false, nil
		}
		return w.Value.AtLeast(least)
	}, nil
}

// listed is what of some clients can be billed, or of all (nil), by client, without looking for what is wrong with it.
func listed(tx *store.DB, today day.Day, f Filter, clientIDs []int64) (map[int64]*ClientWork, error) {
	found, err := gather(tx, today, f, clientIDs)
	if err != nil {
		return nil, err
	}
	s := unbilled.Selection{From: f.From, UpTo: f.UpTo, ChargesUpTo: f.ChargesUpTo, Dated: today, EngagementIDs: found.ids()}
	work, err := unbilled.ReadListed(tx, today, s, found.charges)
	if err != nil {
		return nil, err
	}
	clients, shares := map[int64]*ClientWork{}, work.Shares()
	for _, e := range work.Engagements {
		own, err := found.sum(e, work.Charges[e.ID], f.UpTo)
		if err != nil {
			return nil, err
		}
		own.addShare(shares[e.ID])
		if left, capped := work.CapsLeft[e.ID]; capped {
			own.CapLeft = &money.Amount{Minor: max(left, 0), Currency: e.Currency}
		}
		client := clients[e.ClientID]
		if client == nil {
			client = &ClientWork{ClientID: e.ClientID, Client: e.Client, Combined: e.Combined, Groups: groups(&e), Values: []money.Amount{},
				Funds: []money.Amount{}, Findings: []Warning{}}
			clients[e.ClientID] = client
		}
		client.Engagements = append(client.Engagements, own)
	}
	return clients, nil
}

// gathered is what is unbilled, by engagement.
type gathered struct {
	days    map[int64][]store.UnbilledDay
	behind  map[int64][]store.UnbilledDay
	charges []store.Charge
}

func gather(tx *store.DB, today day.Day, f Filter, clientIDs []int64) (*gathered, error) {
	found := &gathered{days: map[int64][]store.UnbilledDay{}, behind: map[int64][]store.UnbilledDay{}}
	asked := store.UnbilledFilter{From: f.From, UpTo: f.UpTo, Today: today, ClientIDs: clientIDs}
	for _, part := range []struct {
		into   map[int64][]store.UnbilledDay
		behind bool
	}{{found.days, false}, {found.behind, true}} {
		asked.Behind = part.behind
		rows, err := store.UnbilledDays(tx, asked)
		if err != nil {
			return nil, err
		}
		for _, d := range rows {
			part.into[d.EngagementID] = append(part.into[d.EngagementID], d)
		}
	}
	var own []int64
	var err error
	if clientIDs != nil {
		if own, err = store.EngagementsOfClients(tx, clientIDs); err != nil {
			return nil, err
		}
	}
	found.charges, err = unbilled.ChargesForeseen(tx, own, f.ChargesUpTo)
	return found, err
}

// ids are the engagements of which something is unbilled.
func (g *gathered) ids() []int64 {
	ids := []int64{}
	for _, of := range []map[int64][]store.UnbilledDay{g.days, g.behind} {
		for id := range of {
			ids = append(ids, id)
		}
	}
	for _, c := range g.charges {
		ids = append(ids, c.EngagementID)
	}
	slices.Sort(ids)
	return slices.Compact(ids)
}

// least is the typed amount in ten-thousandths of a unit of any currency.
func (f Filter) least(tx *store.DB) (int64, error) {
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

func (g *gathered) sum(e store.EngagementRow, charges []store.Charge, upTo day.Day) (EngagementWork, error) {
	none := money.Zero(e.Currency)
	work := EngagementWork{
		EngagementID: e.ID, row: e, Engagement: e.Name, Arrangement: e.Arrangement, FeePeriod: e.FeePeriod, LeadID: e.LeadID, Lead: e.Lead,
		LastBilled: e.LastBilled,
		Time:       none, BehindFee: none, Charges: none, Value: none, Terms: none, Standard: none, AtNoCharge: none, Expenses: none,
		Held:    none,
		OverCap: none, Forgotten: none, Ages: core.NewAges(e.Currency),
		Findings: []Warning{},
	}
	if e.Fee != nil {
		work.Fee = &money.Amount{Minor: *e.Fee, Currency: e.Currency}
	}
	for _, d := range g.days[e.ID] {
		if err := work.addDay(&d, upTo); err != nil {
			return work, err
		}
		work.Time.Minor += d.Agreed - d.Expenses
		work.Expenses.Minor += d.Expenses
		if d.WorkedDay < e.LastBilled && core.Band(core.Days(d.WorkedDay, upTo)) > 0 {
			work.Forgotten.Minor += d.Expenses
		}
		work.Standard.Minor += d.Standard
		work.AtNoCharge.Minor += d.AtNoCharge
	}
	for _, d := range g.behind[e.ID] {
		if err := work.addDay(&d, upTo); err != nil {
			return work, err
		}
		work.BehindFee.Minor += d.Standard
		work.BehindHours += d.Minutes
		work.Covered = work.Covered || d.Entries > 0
	}
	for _, c := range charges {
		work.Charges.Minor += c.Amount
		if c.Open {
			work.OpenCharges++
		}
	}
	return work, nil
}

// addDay adds what a day's work has whether it is billed by itself or not.
func (w *EngagementWork) addDay(d *store.UnbilledDay, upTo day.Day) error {
	w.Entries += d.Entries
	w.Minutes += d.Minutes
	w.WithoutRate += d.WithoutRates
	w.HeldEntries += d.HeldEntries
	w.Held.Minor += d.Held
	if d.Entries == 0 {
		return nil
	}
	w.Oldest = max(w.Oldest, core.Days(d.WorkedDay, upTo))
	return w.Ages.Add(d.WorkedDay, upTo, money.Amount{Minor: d.Standard, Currency: w.Value.Currency})
}

// addShare says what of the work is billed, and what its cap leaves.
func (w *EngagementWork) addShare(share unbilled.Share) {
	w.Value.Minor, w.OverCap.Minor, w.Terms.Minor, w.refused = share.Net, share.Over, share.Terms, share.Refused
}

// unbilled is what there is, whatever of it can be billed.
func (w *EngagementWork) unbilled() money.Amount {
	return money.Amount{Minor: w.Time.Minor + w.Expenses.Minor + w.Charges.Minor, Currency: w.Value.Currency}
}

// add adds of a client what is shown.
func (l *UnbilledList) add(client ClientWork, keeps func(*EngagementWork) (bool, error)) error {
	all := client.Engagements
	client.Engagements, client.Values = nil, []money.Amount{}
	for i := range all {
		work := &all[i]
		shown, err := keeps(work)
		if err != nil {
			return err
		}
		if !shown {
			continue
		}
		client.Engagements = append(client.Engagements, *work)
		client.Minutes += work.Minutes
		l.Minutes += work.Minutes
		if client.Values, err = money.AddByCurrency(client.Values, work.Value); err != nil {
			return err
		}
		if l.Totals, err = money.AddByCurrency(l.Totals, work.Value); err != nil {
			return err
		}
	}
	if client.Engagements != nil {
		l.Clients = append(l.Clients, client)
	}
	return nil
}

// groups are what the client of an engagement can be grouped by.
func groups(e *store.EngagementRow) []string {
	return slices.DeleteFunc([]string{e.Industry, e.Department, e.WorkType}, func(word string) bool { return word == "" })
}

// cyclesOf says which engagements are billed in a cycle; nothing asks for all.
func cyclesOf(tx *store.DB, cycle string) (func(*store.EngagementRow) bool, error) {
	if cycle == "" {
		return func(*store.EngagementRow) bool { return true }, nil
	}
	nearest, err := profiles.Nearest(tx, "cycle")
	return func(e *store.EngagementRow) bool { return nearest(e.ClientID, e.ID) == cycle }, err
}
