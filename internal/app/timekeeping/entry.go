// Package timekeeping is recording: time and its week sheets, timers, expenses and
// the purchases that they are shares of.
package timekeeping

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Entry is an entry as it is shown.
type Entry struct {
	ID           int64             `json:"id"`
	Version      int64             `json:"version"`
	Day          day.Day           `json:"day"`
	PersonID     int64             `json:"personId"`
	Initials     string            `json:"initials"`
	Person       string            `json:"person"`
	EngagementID int64             `json:"engagementId"`
	Engagement   string            `json:"engagement"`
	ClientID     int64             `json:"clientId"`
	Client       string            `json:"client"`
	ServiceID    int64             `json:"serviceId"`
	Service      string            `json:"service"`
	PerHour      *money.Rate       `json:"perHour,omitempty" doc:"a rate of its own, in ten-thousandths"`
	Flat         *money.Amount     `json:"flat,omitempty" doc:"in place of hours × rate"`
	Markup       *money.Percent    `json:"markup,omitempty" doc:"in ten-thousandths of a percent, negative lowers"`
	PhaseID      int64             `json:"phaseId" doc:"a phase or task, or 0"`
	Phase        string            `json:"phase"`
	Until        day.Day           `json:"until" doc:"its last day, where it spans several"`
	RateFrom     string            `json:"rateFrom" doc:"the level whose rate was chosen, or nothing"`
	Own          map[string]string `json:"own" doc:"the firm's own fields, by their numbers"`
	Started      string            `json:"started" doc:"a time of day, or nothing"`
	Ended        string            `json:"ended"`
	Minutes      int               `json:"minutes" doc:"worked"`
	NotBillable  int               `json:"notBillable" doc:"minutes of it that are not billable"`
	Expected     int               `json:"expected" doc:"minutes, or 0"`
	Billed       int               `json:"billed" doc:"minutes that are billed"`
	Treatment    wip.Treatment     `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Covered      bool              `json:"covered" doc:"part of a fixed or recurring fee"`
	Returns      bool              `json:"returns" doc:"comes back on every bill"`
	Hold         string            `json:"hold" doc:"nothing, released, or the day of release"`
	Text         string            `json:"text"`
	Note         string            `json:"note"`
	Reference    string            `json:"reference"`
	Files        int               `json:"files" doc:"how many are attached"`
	Approval     string            `json:"approval" enum:"open,submitted,approved"`
	Value        *money.Amount     `json:"value,omitempty" doc:"for those who may see it"`
	Standard     *money.Amount     `json:"standard,omitempty"`
	WithoutRate  bool              `json:"withoutRate"`
	Billing      wip.Billing       `json:"billing" enum:"unbilled,reserved,billed,written_off,not_billable"`
	InvoiceID    int64             `json:"invoiceId" doc:"the draft or invoice it is on, or 0"`
	Invoice      string            `json:"invoice" doc:"the number of that invoice"`
	Explanation  *explain.Step     `json:"explanation,omitempty"`
}

func shown(r *store.EntryRow) Entry {
	steps := r.Valued.Explain()
	entry := Entry{
		ID: r.ID, Version: r.Version, Day: r.Day, PersonID: r.PersonID, Initials: r.Initials, Person: r.Person,
		EngagementID: r.EngagementID, Engagement: r.Engagement, ClientID: r.ClientID, Client: r.Client, ServiceID: r.ServiceID,
		Service: r.Service,
		Started: timeOfDay(r.StartedMinute), Ended: timeOfDay(r.EndedMinute), Minutes: r.WorkedMinutes, NotBillable: r.NotBillableMinutes,
		Expected: r.ExpectedMinutes,
		Billed:   r.BilledMinutes, Treatment: r.Treatment, Covered: covered(r), Returns: r.Returns, Hold: holdText(r.Hold, r.HoldUntil),
		Text: r.Text, Note: r.Note, Reference: r.Reference, Files: r.Files, Approval: r.Approval, Flat: r.Valued.Flat,
		Value: &r.Valued.Agreed, Standard: &r.Valued.Standard, Phase: r.Phase, WithoutRate: r.Valued.WithoutRate,
		Billing: r.Billing, InvoiceID: r.InvoiceID, Invoice: r.NumberText, Explanation: &steps,
		Until: r.UntilDay, RateFrom: r.RateFrom, Own: r.Own,
	}
	if entry.Own == nil {
		entry.Own = map[string]string{}
	}
	if r.PhaseID != nil {
		entry.PhaseID = *r.PhaseID
	}
	if r.Markup != 0 {
		entry.Markup = &r.Markup
	}
	if won := r.Valued.Rate.Won; won != nil && won.Level == rate.Entry {
		entry.PerHour = &won.PerHour
	}
	return entry
}

// covered reports whether the fee of an engagement pays for an entry.
func covered(r *store.EntryRow) bool {
	return r.Treatment == wip.Billable && (r.Arrangement == setup.FixedFee || r.Arrangement == setup.Recurring)
}

// conceal leaves out what the actor may not see: rates, and what time is worth.
func (e *Entry) conceal(actor app.Actor) *Entry {
	if !actor.SeesValues() {
		e.Value, e.Standard, e.Explanation, e.PerHour, e.Flat, e.Markup, e.RateFrom = nil, nil, nil, nil, nil, nil, ""
	}
	return e
}

// One reads an entry that the actor may see.
func One(ctx context.Context, a *app.App, actor app.Actor, id int64) (*Entry, error) {
	row, err := store.EntryByID(a.Read(ctx, actor), id)
	if err != nil {
		return nil, app.Missing(err, "time entry")
	}
	if !actor.SeesPerson(row.PersonID) {
		if err := seesAsLead(a.Read(ctx, actor), actor, row.EngagementID); err != nil {
			return nil, err
		}
	}
	entry := shown(row)
	return entry.conceal(actor), nil
}

// History is what was done to an entry; what it was worth is for those who may
// see it.
func History(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]app.HistoryRow, error) {
	if _, err := One(ctx, a, actor, id); err != nil {
		return nil, err
	}
	return a.History(ctx, actor, app.OfEntry, id)
}

// readerOf is the data as somebody sees it who looks at the time and purchases of a
// person: their own they see whole, whatever they are limited to since.
func readerOf(ctx context.Context, a *app.App, actor app.Actor, personID int64) *store.DB {
	if actor.PersonID == personID {
		actor.Entities = nil
	}
	return a.Read(ctx, actor)
}

func seesAsLead(tx *store.DB, actor app.Actor, engagementID int64) error {
	e, err := store.Get[store.Engagement](tx, engagementID)
	if err != nil {
		return err
	}
	if actor.Role == app.Staff || !actor.Scope().Sees(e) {
		return app.Refuse(app.Forbidden, "This is somebody else's time. You see your own, and that of engagements you lead.")
	}
	return nil
}
