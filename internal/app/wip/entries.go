package wip

import (
	"context"
	"fmt"
	"time"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// UnbilledEntry is an unbilled entry in the folio.
type UnbilledEntry struct {
	PortionID   int64          `json:"portionId"`
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
	Standard    money.Amount   `json:"standard"`
	Age         int            `json:"age" doc:"days, at the cut-off"`
	WithoutRate bool           `json:"withoutRate"`
	OverCap     bool           `json:"overCap" doc:"a cap left it unbilled"`
	Covered     bool           `json:"covered" doc:"by the fee of its engagement"`
	Part        bool           `json:"part" doc:"a part of what was recorded"`
	Hold        string         `json:"hold" doc:"nothing, released (until somebody releases it), or the day of release"`
	Explanation explain.Step   `json:"explanation"`
}

// ChargeDue is a charge that is due.
type ChargeDue struct {
	Text   string       `json:"text"`
	Due    day.Day      `json:"due"`
	Amount money.Amount `json:"amount"`
	Open   bool         `json:"open" doc:"its price is given when it is billed"`
}

// DecisionStands is a decision on unbilled work that can be taken back.
type DecisionStands struct {
	ActID     int64     `json:"actId"`
	PortionID int64     `json:"portionId"`
	Said      string    `json:"said"`
	Reason    string    `json:"reason"`
	Person    string    `json:"person"`
	At        time.Time `json:"at"`
	Text      string    `json:"text" doc:"of the entry"`
	MayUndo   bool      `json:"mayUndo" doc:"nothing was decided on it since"`
}

// UnbilledEntries are the entries of an engagement, how they add up, and what was
// decided on them.
type UnbilledEntries struct {
	Entries     []UnbilledEntry  `json:"entries"`
	Charges     []ChargeDue      `json:"charges"`
	Decisions   []DecisionStands `json:"decisions"`
	Fee         *FeeProgress     `json:"fee,omitempty" doc:"of a fixed fee"`
	Explanation explain.Step     `json:"explanation"`
}

// Entries reads the unbilled entries of an engagement of the days of a filter, oldest first.
func Entries(ctx context.Context, a *app.App, actor app.Actor, engagementID int64, f Filter) (*UnbilledEntries, error) {
	tx := a.Read(ctx, actor)
	e, err := setup.EngagementSeen(tx, engagementID)
	if err != nil {
		return nil, err
	}
	found := &UnbilledEntries{Entries: []UnbilledEntry{}, Charges: []ChargeDue{}, Decisions: []DecisionStands{}}
	for _, covered := range []bool{false, true} {
		rows, err := store.UnbilledPortions(tx, store.UnbilledFilter{From: f.From, UpTo: f.UpTo, EngagementIDs: []int64{engagementID}, Behind: covered})
		if err != nil {
			return nil, err
		}
		for i := range rows {
			entry := unbilledEntry(&rows[i], f.UpTo, a.Clock.Today())
			entry.Covered = covered
			found.Entries = append(found.Entries, entry)
		}
	}
	if f.ChargesUpTo.IsZero() {
		f.ChargesUpTo = a.Clock.Today()
	}
	if err := found.addCharges(tx, e, f.ChargesUpTo); err != nil {
		return nil, err
	}
	fees, err := feesOf(tx, []*store.Engagement{e})
	if err != nil {
		return nil, err
	}
	found.Fee = fees[e.ID]
	if err := found.addDecisions(tx, engagementID); err != nil {
		return nil, err
	}
	// Beside whatever else of its client stands on the drafts.
	days := unbilled.Selection{From: f.From, UpTo: f.UpTo, ChargesUpTo: f.ChargesUpTo}
	work, err := unbilled.All(tx, a.Clock.Today(), days, []int64{e.ClientID})
	if err != nil {
		return nil, err
	}
	found.Explanation, err = found.explain(e.Currency, work.Shares()[e.ID])
	return found, err
}

func (u *UnbilledEntries) addCharges(tx *store.DB, e *store.Engagement, upTo day.Day) error {
	charges, err := unbilled.ChargesForeseen(tx, []int64{e.ID}, upTo)
	for _, c := range charges {
		due := c.BillDay
		if due.IsZero() {
			due = c.ReachedDay
		}
		u.Charges = append(u.Charges, ChargeDue{c.Text, due, money.Amount{Minor: c.Amount, Currency: c.Currency}, c.Open})
	}
	return err
}

func (u *UnbilledEntries) addDecisions(tx *store.DB, engagementID int64) error {
	rows, err := store.DecisionsOn(tx, engagementID)
	if err != nil {
		return err
	}
	ids := make([]int64, len(rows))
	for i, row := range rows {
		ids[i] = row.PortionID
	}
	portions, err := store.PortionsByID(tx, ids)
	texts := map[int64]string{}
	for i := range portions {
		texts[portions[i].ID] = portions[i].WorkedDay.Long() + " · " + portions[i].Initials + " · " + portions[i].Text
	}
	for _, row := range rows {
		u.Decisions = append(u.Decisions, DecisionStands{row.ActID, row.PortionID, row.Said, row.Reason, row.Person, row.At,
			texts[row.PortionID], row.Latest})
	}
	return err
}

func unbilledEntry(p *store.PortionRow, upTo, today day.Day) UnbilledEntry {
	entry := UnbilledEntry{PortionID: p.ID, Source: p.Source, PurchaseID: p.PurchaseID, PersonID: p.PersonID, Day: p.WorkedDay,
		Initials: p.Initials, Person: p.Person, Service: p.Service,
		Text: p.Text, Minutes: p.Minutes, Treatment: p.Treatment, Value: money.Amount{Minor: p.Agreed, Currency: p.Currency},
		Standard: money.Amount{Minor: p.Standard, Currency: p.Currency},
		Age:      core.Days(p.WorkedDay, upTo), WithoutRate: p.WithoutRate, OverCap: p.OverCap, Part: p.Part > 0 ||
			p.Agreed != p.AgreedWhole,
		Explanation: p.Explain()}
	if entry.Part {
		entry.Explanation = explain.Step{Label: "Value", Detail: "a part of what was recorded, or written to", Figure: entry.Value.String(),
			Steps: []explain.Step{entry.Explanation}}
	}
	if !p.IsExpense() {
		entry.EntryID = p.SourceID
	}
	entry.Hold = HoldText(&p.Portion, today)
	return entry
}

// HoldText says whether a portion waits on a day: nothing, released (until somebody
// releases it), or the day of release.
func HoldText(p *store.Portion, today day.Day) string {
	switch {
	case !p.Hold.Holds(p.HoldUntil, today):
		return ""
	case p.Hold == core.UntilReleased:
		return "released"
	}
	return p.HoldUntil.String()
}

// explain says how what is to be billed adds up, person by person, and what caps and terms
// make of it.
func (u *UnbilledEntries) explain(currency money.Currency, share unbilled.Share) (explain.Step, error) {
	whole := explain.Step{Label: "To bill", Detail: "the rounded values of the entries and charges, added"}
	sum, err := money.Zero(currency), error(nil)
	people, minutes, values := []string{}, map[string]int{}, map[string]money.Amount{}
	own := map[string][]explain.Step{}
	for _, e := range u.Entries {
		if e.Hold != "" || e.Covered {
			continue
		}
		if sum, err = sum.Add(e.Value); err != nil {
			return whole, err
		}
		group := e.Person
		if e.Source == "expense" {
			group = "Expenses"
		}
		if own[group] == nil {
			people, values[group] = append(people, group), money.Zero(sum.Currency)
		}
		if values[group], err = values[group].Add(e.Value); err != nil {
			return whole, err
		}
		minutes[group] += e.Minutes
		step := e.Explanation
		step.Label = fmt.Sprintf("%s · %s", e.Day.Long(), e.Text)
		own[group] = append(own[group], step)
	}
	for _, person := range people {
		detail := fmt.Sprintf("entries: %d", len(own[person]))
		if minutes[person] > 0 {
			detail += ", " + worktime.Said(minutes[person])
		}
		whole.Steps = append(whole.Steps, explain.Step{Label: person, Detail: detail, Figure: values[person].String(), Steps: own[person]})
	}
	for _, c := range u.Charges {
		if sum, err = sum.Add(c.Amount); err != nil {
			return whole, err
		}
		whole.Steps = append(whole.Steps, explain.Step{Label: c.Text, Detail: "due " + c.Due.Long(), Figure: c.Amount.String()})
	}
	covered, behind := 0, money.Zero(currency)
	for _, e := range u.Entries {
		if e.Covered {
			covered, behind.Minor = covered+e.Minutes, behind.Minor+e.Standard.Minor
		}
	}
	if covered > 0 {
		whole.Steps = append(whole.Steps, explain.Step{Label: "Covered by the fee",
			Detail: fmt.Sprintf("%s, %s at standard: not billed by itself", worktime.Said(covered), behind),
			Figure: money.Zero(currency).String()})
	}
	amount := func(minor int64) string { return money.Amount{Minor: minor, Currency: currency}.String() }
	if share.Over != 0 {
		whole.Steps = append(whole.Steps, explain.Step{Label: "Over the cap", Detail: "stays unbilled", Figure: amount(-share.Over)})
	}
	if share.Terms != 0 {
		whole.Steps = append(whole.Steps, explain.Step{Label: "As agreed", Detail: "discount, surcharge, and advances that come back",
			Figure: amount(share.Terms)})
	}
	whole.Figure = amount(sum.Minor - share.Over + share.Terms)
	return whole, nil
}
