// Package timekeeping is recording time: the week sheet and its entries.
package timekeeping

import (
	"context"
	"encoding/json"
	"fmt"
	"regexp"
	"strings"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

// TypedEntry is an entry as it is typed.
type TypedEntry struct {
	PersonID     int64         `json:"personId" minimum:"1"`
	EngagementID int64         `json:"engagementId" minimum:"1"`
	ServiceID    int64         `json:"serviceId" minimum:"1"`
	PhaseID      int64         `json:"phaseId,omitempty" doc:"a phase or task of the engagement, or 0"`
	Day          day.Day       `json:"day" format:"date"`
	Worked       string        `json:"worked" maxLength:"20" doc:"as people type it: 1:30, 1.5 or 90m"`
	NotBillable  string        `json:"notBillable" maxLength:"20" doc:"the part of it that is not billable, typed alike"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,no_charge,not_billable"`
	PerHour      string        `json:"perHour,omitempty" maxLength:"20" doc:"a rate of this entry alone, typed; for those who may set rates"`
	Text         string        `json:"text" maxLength:"500" doc:"what the client reads"`
	Note         string        `json:"note" maxLength:"500" doc:"for the firm alone"`
}

// Entry is an entry as it is shown.
type Entry struct {
	ID           int64         `json:"id"`
	Version      int64         `json:"version"`
	Day          day.Day       `json:"day"`
	PersonID     int64         `json:"personId"`
	Initials     string        `json:"initials"`
	EngagementID int64         `json:"engagementId"`
	Engagement   string        `json:"engagement"`
	Client       string        `json:"client"`
	ServiceID    int64         `json:"serviceId"`
	Service      string        `json:"service"`
	PerHour      *money.Rate   `json:"perHour,omitempty" doc:"a rate of its own, in ten-thousandths"`
	PhaseID      int64         `json:"phaseId" doc:"a phase or task, or 0"`
	Phase        string        `json:"phase"`
	Minutes      int           `json:"minutes" doc:"worked"`
	NotBillable  int           `json:"notBillable" doc:"minutes of it that are not billable"`
	Billed       int           `json:"billed" doc:"minutes that are billed"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,no_charge,not_billable"`
	Text         string        `json:"text"`
	Note         string        `json:"note"`
	Value        *money.Amount `json:"value,omitempty" doc:"for those who may see it"`
	Standard     *money.Amount `json:"standard,omitempty"`
	WithoutRate  bool          `json:"withoutRate"`
	Billing      wip.Billing   `json:"billing"`
	InvoiceID    int64         `json:"invoiceId" doc:"the draft or invoice it is on, or 0"`
	Invoice      string        `json:"invoice" doc:"the number of that invoice"`
	Explanation  *explain.Step `json:"explanation,omitempty"`
}

func shown(r *store.EntryRow) Entry {
	steps := r.Valued.Explain()
	entry := Entry{
		ID: r.ID, Version: r.Version, Day: r.Day, PersonID: r.PersonID, Initials: r.Initials,
		EngagementID: r.EngagementID, Engagement: r.Engagement, Client: r.Client, ServiceID: r.ServiceID, Service: r.Service,
		Minutes: r.WorkedMinutes, NotBillable: r.NotBillableMinutes, Billed: r.BilledMinutes, Treatment: r.Treatment,
		Text: r.Text, Note: r.Note, Value: &r.Valued.Agreed, Standard: &r.Valued.Standard, Phase: r.Phase, WithoutRate: r.Valued.WithoutRate,
		Billing: r.Billing, InvoiceID: r.InvoiceID, Invoice: r.NumberText, Explanation: &steps,
	}
	if r.PhaseID != nil {
		entry.PhaseID = *r.PhaseID
	}
	if won := r.Valued.Rate.Won; won != nil && won.Level == rate.Entry {
		entry.PerHour = &won.PerHour
	}
	return entry
}

// conceal leaves out what the actor may not see: rates, and what time is worth.
func (e *Entry) conceal(actor app.Actor) *Entry {
	if !actor.SeesValues() {
		e.Value, e.Standard, e.Explanation, e.PerHour = nil, nil, nil, nil
	}
	return e
}

// One reads an entry that the actor may see.
func One(ctx context.Context, a *app.App, actor app.Actor, id int64) (*Entry, error) {
	row, err := store.EntryByID(a.Store.Read(ctx), id)
	if err != nil {
		return nil, app.Missing(err, "time entry")
	}
	if !actor.SeesPerson(row.PersonID) {
		if err := seesAsLead(a.Store.Read(ctx), actor, row.EngagementID); err != nil {
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
	rows, err := a.History(ctx, app.OfEntry, id)
	if actor.SeesValues() {
		return rows, err
	}
	for i := range rows {
		for _, kept := range []*string{&rows[i].Before, &rows[i].After} {
			said := map[string]string{}
			if *kept == "" || json.Unmarshal([]byte(*kept), &said) != nil {
				continue
			}
			delete(said, "value")
			text, err := json.Marshal(said)
			if err != nil {
				return nil, err
			}
			*kept = string(text)
		}
	}
	return rows, err
}

func seesAsLead(tx *gorm.DB, actor app.Actor, engagementID int64) error {
	e, err := store.Get[store.Engagement](tx, engagementID)
	if err != nil {
		return err
	}
	if actor.Role == app.Staff || !actor.Sight().Sees(e) {
		return app.Refuse(app.Forbidden, "This is somebody else's time. You see your own, and that of engagements you lead.")
	}
	return nil
}

// Worth is what an entry would be worth if it were saved as typed.
type Worth struct {
	Minutes     int           `json:"minutes" doc:"worked"`
	Billed      int           `json:"billed" doc:"minutes that would be billed"`
	Value       *money.Amount `json:"value,omitempty" doc:"for those who may see it"`
	Explanation *explain.Step `json:"explanation,omitempty"`
}

// Preview values typed input without keeping it.
func Preview(ctx context.Context, a *app.App, actor app.Actor, in TypedEntry) (*Worth, error) {
	if err := mayRecordFor(actor, in.PersonID); err != nil {
		return nil, err
	}
	entry, err := valued(a.Store.Read(ctx), actor, in)
	if err != nil {
		return nil, err
	}
	worth := &Worth{Minutes: entry.WorkedMinutes, Billed: entry.BilledMinutes}
	if actor.SeesValues() {
		steps := entry.Valued.Explain()
		worth.Value, worth.Explanation = &entry.Valued.Agreed, &steps
	}
	return worth, nil
}

func mayRecordFor(actor app.Actor, personID int64) error {
	if actor.Role != app.Administrator && actor.PersonID != personID {
		return app.Refuse(app.Forbidden, "You can record your own time only. Ask a billing administrator to record for others.")
	}
	return nil
}

// valued makes the row of typed input, with its value at the rates that hold.
func valued(tx *gorm.DB, actor app.Actor, in TypedEntry) (store.TimeEntry, error) {
	none := store.TimeEntry{}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return none, err
	}
	e, err := store.Get[store.Engagement](tx, in.EngagementID)
	if err != nil {
		return none, app.Missing(err, "engagement")
	}
	if person, err := store.Get[store.Person](tx, in.PersonID); err != nil || !person.Active {
		return none, app.RefuseField("personId", "This person does not work here: choose another.")
	}
	if service, err := store.Get[store.Service](tx, in.ServiceID); err != nil || !service.Active {
		return none, app.RefuseField("serviceId", "This service is not in the catalogue: choose another.")
	}
	if err := openOn(firm, e, in.Day); err != nil {
		return none, err
	}
	if err := openFor(tx, actor, e, in); err != nil {
		return none, err
	}
	work, err := workOf(tx, firm, e, in)
	if err != nil {
		return none, err
	}
	if err := atRates(tx, &work, e, in); err != nil {
		return none, err
	}
	if err := ownRate(tx, actor, firm, &work, e, in); err != nil {
		return none, err
	}
	value, err := wip.Value(work)
	if err != nil {
		return none, app.InField("notBillable", err)
	}
	entry := store.TimeEntry{
		PersonID: in.PersonID, EngagementID: in.EngagementID, ServiceID: in.ServiceID, Day: in.Day,
		WorkedMinutes: work.Worked, NotBillableMinutes: work.NotBillable, Treatment: in.Treatment, Text: in.Text, Note: in.Note,
		Approval: "open", BilledMinutes: value.Billed.Minutes, Standard: value.Standard.Minor, Agreed: value.Agreed.Minor,
		Currency: e.Currency, Valued: value,
	}
	if in.PhaseID != 0 {
		entry.PhaseID = &in.PhaseID
	}
	return entry, nil
}

// pointRate is how the pages give a rate back that they were shown; four digits
// after a point are no thousands, whatever the firm's mark.
var pointRate = regexp.MustCompile(`^\d+\.\d{4}$`)

// ownRate puts a rate that is typed on the entry itself above all others. Leads
// set it on engagements that they lead.
func ownRate(tx *gorm.DB, actor app.Actor, firm *store.Firm, work *wip.Work, e *store.Engagement, in TypedEntry) error {
	if strings.TrimSpace(in.PerHour) == "" {
		return nil
	}
	if actor.Role != app.Administrator && (actor.Role != app.Lead || !actor.Sight().Sees(e)) {
		return app.RefuseField("perHour", "A rate of its own is set by the lead of the engagement or an administrator: leave it empty.")
	}
	mark := firm.Mark()
	if pointRate.MatchString(in.PerHour) {
		mark = money.Point
	}
	n, err := money.ParseFixed(in.PerHour, mark, 4)
	if err != nil {
		return app.InField("perHour", err)
	}
	if n < 0 {
		return app.RefuseField("perHour", "%q is negative: give a rate of 0 or more.", in.PerHour)
	}
	own := rate.Row{Level: rate.Entry, Subject: "itself", From: in.Day, PerHour: money.Rate(n), Currency: e.Currency}
	work.Agreed = work.Agreed.Beat(own)
	return nil
}

// atRates finds the rates that hold for work on its day.
func atRates(tx *gorm.DB, work *wip.Work, e *store.Engagement, in TypedEntry) error {
	rows, err := store.RatesFor(tx, store.RateSubject{Kind: "bill", Currency: e.Currency, ServiceID: in.ServiceID, PersonID: in.PersonID, EngagementID: e.ID, PhaseID: in.PhaseID})
	work.Agreed, work.Standard = rate.Resolve(in.Day, e.Currency, rows), rate.Standard(in.Day, e.Currency, rows)
	return err
}

// openFor refuses an engagement on which the person may not record, and a phase
// that is not open.
func openFor(tx *gorm.DB, actor app.Actor, e *store.Engagement, in TypedEntry) error {
	client, err := store.Get[store.Client](tx, e.ClientID)
	if err != nil {
		return err
	}
	if !client.Active {
		return app.RefuseField("engagementId", "%s is inactive and closed to new time: choose another engagement, or ask for the client to be taken back.", client.Name)
	}
	if !actor.Sight().SeesEntity(e.EntityID) {
		return app.RefuseField("engagementId", "%s belongs to an issuing entity for which you do not work: choose another engagement.", e.Name)
	}
	named, err := store.RecordersOf(tx, e.ID)
	if err != nil {
		return err
	}
	if !setup.MayRecord(named, in.PersonID) && actor.Role != app.Administrator {
		return app.RefuseField("engagementId", "You are not among those who record on %s: ask its lead to add you.", e.Name)
	}
	if in.PhaseID == 0 {
		return nil
	}
	phase, err := store.Get[store.Phase](tx, in.PhaseID)
	if err != nil || phase.EngagementID != e.ID || !phase.Active {
		return app.RefuseField("phaseId", "This phase or task is not open on %s: choose another.", e.Name)
	}
	if !phase.Billable && in.Treatment == wip.Billable {
		return app.RefuseField("treatment", "%s is not billable: choose not billable or no charge.", phase.Name)
	}
	return nil
}

// openOn refuses a day on which no time can be recorded on the engagement.
func openOn(firm *store.Firm, e *store.Engagement, on day.Day) error {
	switch {
	case on.IsZero():
		return app.RefuseField("day", "Give the day of the work, like 2026-11-30.")
	case on <= firm.ClosingDay:
		return app.RefuseField("day", "%s is before the closing date, %s: record it on a later day, or ask for the period to be opened.", on.Long(), firm.ClosingDay.Long())
	case !e.Active || (!e.ClosedDay.IsZero() && on > e.ClosedDay):
		return app.RefuseField("engagementId", "%s is closed to new time: choose another engagement, or ask for it to be opened again.", e.Name)
	}
	return nil
}

func workOf(tx *gorm.DB, firm *store.Firm, e *store.Engagement, in TypedEntry) (wip.Work, error) {
	p, err := setup.ProfileOf(tx, e)
	if err != nil {
		return wip.Work{}, err
	}
	work := wip.Work{Rule: p.Rule(), Currency: e.Currency}
	if work.Treatment, err = wip.ParseTreatment(string(in.Treatment)); err != nil {
		return work, app.InField("treatment", err)
	}
	if !e.Billable && work.Treatment == wip.Billable {
		return work, app.RefuseField("treatment", "%s is not billable: choose not billable or no charge.", e.Name)
	}
	if work.Worked, err = worktime.ParseDuration(in.Worked, firm.Mark()); err != nil {
		return work, app.InField("worked", err)
	}
	if work.Worked == 0 {
		return work, app.RefuseField("worked", "No time is given: type it like 1:30, 1.5 or 90m.")
	}
	work.NotBillable, err = worktime.ParseDuration(in.NotBillable, firm.Mark())
	return work, app.InField("notBillable", err)
}

// description is the entry in the words of its history.
func description(e store.TimeEntry) string {
	return fmt.Sprintf("%s on %s", worktime.Clock(e.WorkedMinutes), e.Day.Long())
}
