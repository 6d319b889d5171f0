package timekeeping

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// TypedEntry is an entry as it is typed.
type TypedEntry struct {
	PersonID     int64             `json:"personId" minimum:"1"`
	EngagementID int64             `json:"engagementId" minimum:"1"`
	ServiceID    int64             `json:"serviceId" minimum:"1"`
	PhaseID      int64             `json:"phaseId,omitempty" doc:"a phase or task of the engagement, or 0"`
	Day          day.Day           `json:"day" format:"date"`
	Until        day.Day           `json:"until,omitempty" format:"date" doc:"its last day, where it spans several; nothing: one day"`
	Started      string            `json:"started,omitempty" maxLength:"10" doc:"a time of day; with an end, in place of worked"`
	Ended        string            `json:"ended,omitempty" maxLength:"10"`
	Worked       string            `json:"worked" maxLength:"20" doc:"as people type it: 1:30, 1.5 or 90m"`
	NotBillable  string            `json:"notBillable" maxLength:"20" doc:"the part of it that is not billable, typed alike"`
	Expected     string            `json:"expected,omitempty" maxLength:"20" doc:"how long it was expected to take, typed alike"`
	Treatment    wip.Treatment     `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	PerHour      string            `json:"perHour,omitempty" maxLength:"20" doc:"a rate of this entry alone; for those who may set rates"`
	RateFrom     string            `json:"rateFrom,omitempty" maxLength:"40" doc:"whose rate is taken; for those who may set rates"`
	Markup       string            `json:"markup,omitempty" maxLength:"20" doc:"percent, typed; negative lowers; for those who may set rates"`
	Flat         string            `json:"flat,omitempty" maxLength:"20" doc:"an amount in place of hours × rate; for those who may set rates"`
	Returns      bool              `json:"returns,omitempty" doc:"a flat amount that comes back on every bill"`
	Hold         string            `json:"hold,omitempty" maxLength:"10" doc:"nothing, released (until somebody releases it), or the day of release"`
	Text         string            `json:"text" maxLength:"500" doc:"what the client reads"`
	Note         string            `json:"note" maxLength:"500" doc:"for the firm alone"`
	Reference    string            `json:"reference,omitempty" maxLength:"100"`
	Own          map[string]string `json:"own,omitempty" doc:"the firm's own fields, by name, as typed; left out, they stay as they are"`
	Files        []AttachedFile    `json:"files,omitempty" maxItems:"20" doc:"what is attached; left out, it stays as it is"`
}

// Worth is what an entry would be worth if it were saved as typed.
type Worth struct {
	Minutes     int           `json:"minutes" doc:"worked"`
	Billed      int           `json:"billed" doc:"minutes that would be billed"`
	Value       *money.Amount `json:"value,omitempty" doc:"for those who may see it"`
	Explanation *explain.Step `json:"explanation,omitempty"`
	Warning     string        `json:"warning,omitempty" doc:"what to ask before it is recorded"`
	Rates       []RateSource  `json:"rates" doc:"those that fit, for those who may choose one"`
}

// RateSource is a rate that fits an entry, and where it is from.
type RateSource struct {
	From    string `json:"from" doc:"its level"`
	Words   string `json:"words"`
	PerHour string `json:"perHour"`
}

// Preview values typed input without keeping it: as a new entry, or as what the
// entry of a number would become.
func Preview(ctx context.Context, a *app.App, actor app.Actor, in TypedEntry, id int64) (*Worth, error) {
	tx := a.Read(ctx, actor)
	before, err := previewed(tx, actor, in, id)
	if err != nil {
		return nil, err
	}
	entry, err := valued(tx, actor, in, before)
	if err != nil {
		return nil, err
	}
	worth := &Worth{Minutes: entry.WorkedMinutes, Billed: entry.BilledMinutes, Rates: []RateSource{}}
	e, err := store.Get[store.Engagement](tx, in.EngagementID)
	if err != nil {
		return nil, err
	}
	if mayPrice(actor, e) {
		worth.Rates = sourcesOf(entry.Valued.Rate)
	}
	if worth.Warning, err = warning(tx, in.EngagementID); err != nil {
		return nil, err
	}
	asked, err := asked(tx, &entry)
	if err != nil {
		return nil, err
	}
	worth.Warning = strings.TrimSpace(worth.Warning + " " + asked)
	if actor.SeesValues() {
		steps := entry.Valued.Explain()
		worth.Value, worth.Explanation = &entry.Valued.Agreed, &steps
	}
	return worth, nil
}

// sourcesOf are the rates that fit, the most specific first, without the entry's own.
func sourcesOf(r rate.Resolution) []RateSource {
	sources, seen := []RateSource{}, map[rate.Level]bool{rate.Entry: true}
	rows := r.All()
	slices.SortStableFunc(rows, func(a, b rate.Row) int { return int(b.Level - a.Level) })
	for _, row := range rows {
		if !seen[row.Level] {
			seen[row.Level] = true
			sources = append(sources, RateSource{row.Level.String(), row.Source(), row.PerHour.String()})
		}
	}
	return sources
}

// previewed is the entry that would be changed, or nil for a new one, if the actor
// may.
func previewed(tx *store.DB, actor app.Actor, in TypedEntry, id int64) (*store.TimeEntry, error) {
	if id == 0 {
		return nil, mayRecordFor(actor, in.PersonID)
	}
	row, err := store.EntryByID(tx, id)
	if err != nil {
		return nil, app.Missing(err, "time entry")
	}
	return &row.TimeEntry, mayChange(tx, actor, row.PersonID, row.EngagementID)
}

// mayChange lets people change their own time, administrators anybody's, and leads
// what was done on engagements that they lead.
func mayChange(tx *store.DB, actor app.Actor, personID, engagementID int64) error {
	if actor.Role == app.Administrator || actor.PersonID == personID {
		return nil
	}
	return seesAsLead(tx, actor, engagementID)
}

func mayRecordFor(actor app.Actor, personID int64) error {
	if actor.Role != app.Administrator && actor.PersonID != personID {
		return app.Refuse(app.Forbidden, "You can record your own time only. Ask a billing administrator to record for others.")
	}
	return nil
}

// valued makes the row of typed input, with its value at the rates that hold.
// before is the entry as it was, or nil: who may not see what it is worth leaves
// its own rate, mark-up and flat amount as they are.
func valued(tx *store.DB, actor app.Actor, in TypedEntry, before *store.TimeEntry) (store.TimeEntry, error) {
	none := store.TimeEntry{}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return none, err
	}
	if actor.Role == app.Staff && !firm.StaffTreats {
		if in.Treatment, err = treatedFor(tx, in, before); err != nil {
			return none, err
		}
	}
	e, err := recordable(tx, firm, actor, in, before)
	if err != nil {
		return none, err
	}
	work, err := workOf(tx, firm, e, in)
	if err != nil {
		return none, err
	}
	if err := keptRates(tx, &work, e, in, before); err != nil {
		return none, err
	}
	if err := priced(actor, firm, &work, e, in, before); err != nil {
		return none, err
	}
	if work.Worked == 0 && work.Flat == nil {
		return none, app.RefuseField("worked", "No time is given: type it like 1:30, 1.5 or 90m.")
	}
	value, err := wip.Value(work)
	if err != nil {
		return none, app.InField(valueField(work), err)
	}
	entry := store.TimeEntry{
		PersonID: in.PersonID, EngagementID: in.EngagementID, ServiceID: in.ServiceID, Day: in.Day,
		WorkedMinutes: work.Worked, NotBillableMinutes: work.NotBillable, Markup: work.Markup, Treatment: in.Treatment,
		Note: in.Note, Reference: strings.TrimSpace(in.Reference), Approval: "open", Returns: in.Returns, RateFrom: in.RateFrom,
		BilledMinutes: value.Billed.Minutes, Standard: value.Standard.Minor, Agreed: value.Agreed.Minor, Currency: e.Currency,
		Valued: value,
	}
	if err := beside(tx, firm, &entry, in, before); err != nil {
		return none, err
	}
	if work.Flat != nil {
		entry.Flat = &work.Flat.Minor
	}
	if in.PhaseID != 0 {
		entry.PhaseID = &in.PhaseID
	}
	if in.Returns && (work.Flat == nil || !in.Treatment.Charged()) {
		return none, app.RefuseField("returns", "Only a flat amount comes back on every bill: give one, or leave this out.")
	}
	if entry.ExpectedMinutes, err = worktime.ParseDuration(in.Expected, firm.Mark()); err != nil {
		return none, app.InField("expected", err)
	}
	return entry, startAndEnd(&entry, in)
}

// valueField is where a refused value is mended.
func valueField(w wip.Work) string {
	switch {
	case w.Flat != nil:
		return "flat"
	case w.Markup != 0 && w.NotBillable <= w.Worked:
		return "markup"
	}
	return "notBillable"
}

// recordable is the engagement of an entry, if it can be recorded as typed. An
// entry that stays where it was can change although its engagement is closed by
// now: it is yet to be billed.
func recordable(tx *store.DB, firm *store.Firm, actor app.Actor, in TypedEntry, before *store.TimeEntry) (*store.Engagement, error) {
	e, err := store.Get[store.Engagement](tx, in.EngagementID)
	if err != nil {
		return nil, app.Missing(err, "engagement")
	}
	if before != nil && sameSubject(before, in) {
		return e, onPhase(tx, e, in, false)
	}
	if err := worksHere(tx, in.PersonID); err != nil {
		return nil, err
	}
	service, err := store.Get[store.Service](tx, in.ServiceID)
	if err := app.Unless(err, app.RefuseField("serviceId", "This service is not in the catalogue: choose another."),
		func() bool { return service.Active }); err != nil {
		return nil, err
	}
	if err := openOn(firm, e, in.Day); err != nil {
		return nil, err
	}
	return e, openFor(tx, actor, e, in)
}

// timeOfDay is minutes after midnight as they are typed, or nothing.
func timeOfDay(minute *int) string {
	if minute == nil {
		return ""
	}
	return worktime.Clock(*minute)
}

// startAndEnd keeps when the work began and ended, if that was given.
func startAndEnd(entry *store.TimeEntry, in TypedEntry) error {
	if in.Started == "" && in.Ended == "" {
		return nil
	}
	start, end, err := span(in)
	entry.StartedMinute, entry.EndedMinute = &start, &end
	return err
}

func span(in TypedEntry) (start, end int, err error) {
	if start, err = worktime.ParseTimeOfDay(in.Started); err != nil {
		return 0, 0, app.InField("started", err)
	}
	end, err = worktime.ParseTimeOfDay(in.Ended)
	return start, end, app.InField("ended", err)
}

// workedTime is the time that was typed: a duration, or from a start to an end.
func workedTime(in TypedEntry, mark money.Mark) (int, error) {
	worked, err := worktime.ParseDuration(in.Worked, mark)
	if err != nil || in.Started == "" && in.Ended == "" {
		return worked, app.InField("worked", err)
	}
	start, end, err := span(in)
	if err != nil {
		return 0, err
	}
	minutes, err := worktime.Between(start, end)
	if err == nil && worked != 0 && worked != minutes {
		err = app.RefuseField("worked", "%s to %s is %s, not %s: leave the time empty, or the start and the end.",
			worktime.Clock(start), worktime.Clock(end), worktime.Said(minutes), worktime.Said(worked))
	}
	return minutes, app.InField("ended", err)
}

// openFor refuses an engagement on which the person may not record, and a phase
// that is not open.
func openFor(tx *store.DB, actor app.Actor, e *store.Engagement, in TypedEntry) error {
	client, err := store.Get[store.Client](tx, e.ClientID)
	if err != nil {
		return err
	}
	if !client.Active {
		return app.RefuseField("engagementId", "%s is inactive and closed to new time: choose another engagement, or ask for the "+
			"client to be taken back.", client.Name)
	}
	named, err := store.RecordersOf(tx, e.ID)
	if err != nil {
		return err
	}
	if !setup.MayRecord(named, in.PersonID) && actor.Role != app.Administrator {
		return app.RefuseField("engagementId", "You are not among those who record on %s: ask its lead to add you.", e.Name)
	}
	return onPhase(tx, e, in, true)
}

// onPhase refuses a phase of another engagement, one that is not open where it has
// to be, and billable work on one that is not.
func onPhase(tx *store.DB, e *store.Engagement, in TypedEntry, open bool) error {
	if in.PhaseID == 0 {
		return nil
	}
	phase, err := store.Get[store.Phase](tx, in.PhaseID)
	if err := app.Unless(err, app.RefuseField("phaseId", "This phase or task is not open on %s: choose another.", e.Name),
		func() bool { return !(phase.EngagementID != e.ID || open && !phase.Active) }); err != nil {
		return err
	}
	if !phase.Billable && in.Treatment.Charged() {
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
		return app.RefuseField("day", "%s is before the closing date, %s: record it on a later day, or ask for the period to be opened.",
			on.Long(), firm.ClosingDay.Long())
	case !e.Active || (!e.ClosedDay.IsZero() && on > e.ClosedDay):
		return app.RefuseField("engagementId", "%s is closed to new time: choose another engagement, or ask for it to be opened again.",
			e.Name)
	}
	return nil
}

func workOf(tx *store.DB, firm *store.Firm, e *store.Engagement, in TypedEntry) (wip.Work, error) {
	p, err := profiles.ProfileOf(tx, e)
	if err != nil {
		return wip.Work{}, err
	}
	work := wip.Work{Rule: p.Rule(), Currency: e.Currency}
	if work.Treatment, err = wip.ParseTreatment(string(in.Treatment)); err != nil {
		return work, app.InField("treatment", err)
	}
	if !e.Billable && work.Treatment.Charged() {
		return work, app.RefuseField("treatment", "%s is not billable: choose not billable or no charge.", e.Name)
	}
	if work.Worked, err = workedTime(in, firm.Mark()); err != nil {
		return work, err
	}
	work.NotBillable, err = worktime.ParseDuration(in.NotBillable, firm.Mark())
	return work, app.InField("notBillable", err)
}

// toInput is an entry as it would be typed to be what it is. Its files stay
// unless they are given.
func toInput(tx *store.DB, r *store.EntryRow) (TypedEntry, error) {
	in := TypedEntry{PersonID: r.PersonID, EngagementID: r.EngagementID, ServiceID: r.ServiceID, Day: r.Day,
		Started: timeOfDay(r.StartedMinute), Ended: timeOfDay(r.EndedMinute),
		Worked: worktime.Clock(r.WorkedMinutes), NotBillable: worktime.Clock(r.NotBillableMinutes),
		Expected:  worktime.Clock(r.ExpectedMinutes),
		Treatment: r.Treatment,
		Returns:   r.Returns, Hold: holdText(r.Hold, r.HoldUntil), Text: r.Text, Note: r.Note, Reference: r.Reference,
		Until: r.UntilDay, RateFrom: r.RateFrom}
	if r.PhaseID != nil {
		in.PhaseID = *r.PhaseID
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return in, err
	}
	if won := r.Valued.Rate.Won; won != nil && won.Level == rate.Entry {
		in.PerHour = money.TypeFixed(int64(won.PerHour), firm.Mark(), 4, 2)
	}
	if r.Markup != 0 {
		in.Markup = money.TypeFixed(int64(r.Markup), firm.Mark(), 4, 0)
	}
	if r.Flat != nil {
		decimals := decimalsOf(r.Currency)
		in.Flat = money.TypeFixed(*r.Flat, firm.Mark(), decimals, decimals)
	}
	return in, nil
}
