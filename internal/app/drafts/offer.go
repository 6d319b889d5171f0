package drafts

import (
	"context"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// UnbilledSummary is what a client has to be billed, before an invoice begins: shown beside,
// to be taken or left.
type UnbilledSummary struct {
	ClientID    int64          `json:"clientId"`
	Client      string         `json:"client"`
	Engagements []SummedWork   `json:"engagements"`
	People      []SummedPerson `json:"people"`
	Funds       []money.Amount `json:"funds" doc:"held, one for each currency"`
	Credit      []money.Amount `json:"credit"`
}

// SummedWork is what an engagement has unbilled.
type SummedWork struct {
	EngagementID int64        `json:"engagementId"`
	Name         string       `json:"name"`
	Time         money.Amount `json:"time"`
	Expenses     money.Amount `json:"expenses"`
	Fees         money.Amount `json:"fees" doc:"charges that are due"`
	Minutes      int          `json:"minutes"`
}

// SummedPerson is somebody with unbilled time.
type SummedPerson struct {
	PersonID int64        `json:"personId"`
	Name     string       `json:"name"`
	Time     []SummedTime `json:"time" doc:"by engagement"`
}

// SummedTime is what somebody's time on an engagement comes to.
type SummedTime struct {
	EngagementID int64 `json:"engagementId"`
	Minor        int64 `json:"minor"`
}

// SummaryOf reads what a client has to be billed up to a day.
func SummaryOf(ctx context.Context, a *app.App, actor app.Actor, clientID int64, upTo day.Day) (*UnbilledSummary, error) {
	tx := a.Read(ctx, actor)
	client, err := store.Get[store.Client](tx, clientID)
	if err != nil {
		return nil, app.Missing(err, "client")
	}
	if upTo.IsZero() {
		upTo = a.Clock.Today()
	}
	offer := &UnbilledSummary{ClientID: clientID, Client: client.Name, Engagements: []SummedWork{},
		People: []SummedPerson{}, Funds: []money.Amount{},
		Credit: []money.Amount{}}
	rows, err := store.EngagementRowsOf(tx, clientID)
	if err != nil {
		return nil, err
	}
	for _, e := range rows {
		if e.Active && e.Billable {
			none := money.Zero(e.Currency)
			offer.Engagements = append(offer.Engagements,
				SummedWork{EngagementID: e.ID, Name: e.Name, Time: none, Expenses: none, Fees: none})
		}
	}
	if err := offer.addWork(tx, upTo, a.Clock.Today()); err != nil {
		return nil, err
	}
	return offer, offer.addHeld(tx)
}

func (o *UnbilledSummary) addWork(tx *store.DB, upTo, today day.Day) error {
	at, ids := map[int64]int{}, []int64{}
	for i, e := range o.Engagements {
		at[e.EngagementID], ids = i, append(ids, e.EngagementID)
	}
	open, err := store.UnbilledPortions(tx, store.UnbilledFilter{UpTo: upTo, EngagementIDs: ids})
	if err != nil {
		return err
	}
	for _, p := range open {
		if !unbilled.Billable(&p, today) {
			continue
		}
		work := &o.Engagements[at[p.EngagementID]]
		if p.IsExpense() {
			work.Expenses.Minor += p.Agreed
			continue
		}
		work.Time.Minor += p.Agreed
		work.Minutes += p.Minutes
		o.addTime(&p)
	}
	charges, err := unbilled.ChargesForeseen(tx, ids, upTo)
	for _, c := range charges {
		o.Engagements[at[c.EngagementID]].Fees.Minor += c.Amount
	}
	return err
}

// addTime adds an entry to what its person has to be billed.
func (o *UnbilledSummary) addTime(p *store.PortionRow) {
	at := slices.IndexFunc(o.People, func(w SummedPerson) bool { return w.PersonID == p.PersonID })
	if at < 0 {
		at = len(o.People)
		o.People = append(o.People, SummedPerson{p.PersonID, p.Person, []SummedTime{}})
	}
	own := &o.People[at]
	of := slices.IndexFunc(own.Time, func(t SummedTime) bool { return t.EngagementID == p.EngagementID })
	if of < 0 {
		of = len(own.Time)
		own.Time = append(own.Time, SummedTime{EngagementID: p.EngagementID})
	}
	own.Time[of].Minor += p.Agreed
}

func (o *UnbilledSummary) addHeld(tx *store.DB) error {
	held, err := store.FundsHeld(tx, []int64{o.ClientID})
	if err != nil {
		return err
	}
	for _, p := range held {
		if p.Held > 0 {
			if o.Funds, err = money.AddByCurrency(o.Funds, money.Amount{Minor: p.Held, Currency: p.Currency}); err != nil {
				return err
			}
		}
	}
	credits, err := store.AllCredits(tx, []int64{o.ClientID})
	for _, c := range credits {
		if o.Credit, err = money.AddByCurrency(o.Credit, money.Amount{Minor: c.Credit, Currency: c.Currency}); err != nil {
			return err
		}
	}
	return err
}
