package timekeeping

import (
	"context"
	"fmt"
	"strings"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Week is one person's ISO week as a grid: a row for each engagement, service
// and treatment.
type Week struct {
	PersonID int64  `json:"personId"`
	Person   string `json:"person"`
	// Partial is what a lead sees of another's week: the time on engagements they lead.
	Partial   bool      `json:"partial"`
	State     string    `json:"state" enum:"open,submitted,approved"`
	SentBack  string    `json:"sentBack" doc:"why the week was sent back, if it was"`
	ToApprove int       `json:"toApprove" doc:"entries that the reader can approve"`
	Monday    day.Day   `json:"monday"`
	Number    int       `json:"number" doc:"ISO week"`
	Days      []DayHead `json:"days"`
	Rows      []WeekRow `json:"rows"`
	Minutes   int       `json:"minutes"`
	Capacity  int       `json:"capacity" doc:"minutes a week"`
	Left      int       `json:"left" doc:"minutes of the capacity without time"`
	// Utilisation is billable over capacity.
	Utilisation money.Percent  `json:"utilisation" doc:"in ten-thousandths of a percent"`
	Billable    int            `json:"billable" doc:"worked minutes that are billable or at no charge"`
	Values      explain.Totals `json:"values" doc:"agreed value, one for each currency"`
}

// DayHead is a day of the week with its sum.
type DayHead struct {
	Day      day.Day `json:"day"`
	Minutes  int     `json:"minutes"`
	Capacity int     `json:"capacity"`
	Left     int     `json:"left" doc:"minutes of the capacity without time"`
}

// WeekRow is a row of the grid.
type WeekRow struct {
	EngagementID int64         `json:"engagementId"`
	Engagement   string        `json:"engagement"`
	Client       string        `json:"client"`
	ServiceID    int64         `json:"serviceId"`
	Service      string        `json:"service"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Covered      bool          `json:"covered" doc:"part of a fixed or recurring fee"`
	Cells        []Cell        `json:"cells" doc:"seven, from Monday"`
	Minutes      int           `json:"minutes"`
	Value        *money.Amount `json:"value,omitempty" doc:"for those who may see it"`
	Explanation  *explain.Step `json:"explanation,omitempty"`
}

// Cell is one day of a row.
type Cell struct {
	Minutes int     `json:"minutes"`
	Entries []Entry `json:"entries"`
}

// WeekOf is the sheet of the week that holds a day. Rows of the week before
// stand ready, without time. A lead sees of another's week what was done on
// engagements that they lead.
func WeekOf(ctx context.Context, a *app.App, actor app.Actor, personID int64, on day.Day) (*Week, error) {
	partial := !actor.SeesPerson(personID)
	if partial && actor.Role != app.Lead {
		return nil, app.Refuse(app.Forbidden, "This is somebody else's week. You see your own.")
	}
	tx := readerOf(ctx, a, actor, personID)
	person, err := store.Get[store.Person](tx, personID)
	if err != nil {
		return nil, app.Missing(err, "person")
	}
	monday := on.Monday()
	entries, err := store.EntriesOf(tx, personID, monday.AddDays(-7), monday.AddDays(6))
	if err != nil {
		return nil, err
	}
	sheet, err := store.SheetOf(tx, personID, monday)
	if err != nil {
		return nil, err
	}
	_, number := monday.Week()
	week := &Week{PersonID: personID, Person: person.Name, Partial: partial, State: sheet.State, SentBack: sheet.SentBack, Monday: monday,
		Number: number,
		Rows:   []WeekRow{}, Values: explain.Totals{}}
	if err := week.plan(tx, person); err != nil {
		return nil, err
	}
	if err := week.fill(entries, actor); err != nil {
		return nil, err
	}
	return week.conceal(actor), nil
}

// fill puts entries on the sheet, of another's week only what may be seen.
func (w *Week) fill(entries []store.EntryRow, actor app.Actor) error {
	for i := range entries {
		e := &entries[i]
		leads := actor.Role == app.Administrator || actor.Role == app.Lead &&
			actor.Scope().Sees(&store.Engagement{LeadID: e.LeadID, EntityID: e.EntityID})
		if w.Partial && !leads {
			continue
		}
		if leads && e.Approval == submitted && e.Day >= w.Monday {
			w.ToApprove++
		}
		if err := w.add(shown(e)); err != nil {
			return err
		}
	}
	return w.finish()
}

// plan spreads the capacity over the firm's working days; a holiday takes its
// share away.
func (w *Week) plan(tx *store.DB, person *store.Person) error {
	of, err := capacities(tx)
	if err != nil {
		return err
	}
	c, err := of(person)
	w.Capacity = c.week(w.Monday)
	for i := range 7 {
		on := w.Monday.AddDays(i)
		w.Days = append(w.Days, DayHead{Day: on, Capacity: c.on(on)})
	}
	return err
}

// conceal leaves out what the actor may not see.
func (w *Week) conceal(actor app.Actor) *Week {
	if actor.SeesValues() {
		return w
	}
	w.Values = explain.Totals{}
	for i := range w.Rows {
		row := &w.Rows[i]
		row.Value, row.Explanation = nil, nil
		for _, cell := range row.Cells {
			for at := range cell.Entries {
				cell.Entries[at].conceal(actor)
			}
		}
	}
	return w
}

// finish computes what follows from the sums.
func (w *Week) finish() error {
	for i := range w.Days {
		w.Days[i].Left = max(0, w.Days[i].Capacity-w.Days[i].Minutes)
	}
	for i := range w.Rows {
		w.Rows[i].Explanation.Figure = w.Rows[i].Value.String()
	}
	w.Left = max(0, w.Capacity-w.Minutes)
	if w.Capacity == 0 {
		return nil
	}
	share, err := money.MulDiv(int64(w.Billable), int64(money.Hundred), int64(w.Capacity))
	w.Utilisation = money.Percent(share)
	return err
}

func (w *Week) add(e Entry) error {
	row := w.row(e)
	if e.Day < w.Monday {
		return nil
	}
	at := int(e.Day - w.Monday)
	cell := &row.Cells[at]
	cell.Entries = append(cell.Entries, e)
	for _, sum := range []*int{&cell.Minutes, &row.Minutes, &w.Days[at].Minutes, &w.Minutes} {
		*sum += e.Minutes
	}
	if e.Treatment != wip.NotBillable {
		w.Billable += e.Minutes - e.NotBillable
	}
	step := *e.Explanation
	step.Label = strings.TrimSuffix(fmt.Sprintf("%s · %s", e.Day.Long(), e.Text), " · ")
	row.Explanation.Steps = append(row.Explanation.Steps, step)
	value, err := row.Value.Add(*e.Value)
	if err != nil {
		return err
	}
	*row.Value = value
	return w.Values.Add("Agreed value, net", explain.Step{Label: row.Engagement, Detail: row.Service}, *e.Value)
}

func (w *Week) row(e Entry) *WeekRow {
	for i := range w.Rows {
		if r := &w.Rows[i]; r.EngagementID == e.EngagementID && r.ServiceID == e.ServiceID && r.Treatment == e.Treatment {
			return r
		}
	}
	zero := money.Zero(e.Value.Currency)
	row := WeekRow{EngagementID: e.EngagementID, Engagement: e.Engagement, Client: e.Client, ServiceID: e.ServiceID, Service: e.Service,
		Treatment: e.Treatment, Covered: e.Covered, Value: &zero,
		Explanation: &explain.Step{Label: "Value of the row", Detail: "the rounded values of its entries, added"}}
	for range 7 {
		row.Cells = append(row.Cells, Cell{Entries: []Entry{}})
	}
	w.Rows = append(w.Rows, row)
	return &w.Rows[len(w.Rows)-1]
}
