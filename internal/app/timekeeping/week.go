package timekeeping

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Week is one person's ISO week as a grid: a row for each engagement, service
// and treatment.
type Week struct {
	PersonID int64          `json:"personId"`
	Person   string         `json:"person"`
	Monday   day.Day        `json:"monday"`
	Number   int            `json:"number" doc:"ISO week"`
	Days     []DayHead      `json:"days"`
	Rows     []WeekRow      `json:"rows"`
	Minutes  int            `json:"minutes"`
	Capacity int            `json:"capacity" doc:"minutes a week"`
	Billable int            `json:"billable" doc:"worked minutes that are billable or at no charge"`
	Values   []money.Amount `json:"values" doc:"agreed value, one for each currency"`
}

// DayHead is a day of the week with its sum.
type DayHead struct {
	Day      day.Day `json:"day"`
	Minutes  int     `json:"minutes"`
	Capacity int     `json:"capacity"`
}

// WeekRow is a row of the grid.
type WeekRow struct {
	EngagementID int64         `json:"engagementId"`
	Engagement   string        `json:"engagement"`
	Client       string        `json:"client"`
	ServiceID    int64         `json:"serviceId"`
	Service      string        `json:"service"`
	Treatment    wip.Treatment `json:"treatment" enum:"billable,no_charge,not_billable"`
	Cells        []Cell        `json:"cells" doc:"seven, from Monday"`
	Minutes      int           `json:"minutes"`
	Value        money.Amount  `json:"value"`
}

// Cell is one day of a row.
type Cell struct {
	Minutes int     `json:"minutes"`
	Entries []Entry `json:"entries"`
}

// WeekOf is the sheet of the week that holds a day. Rows of the week before
// stand ready, without time.
func WeekOf(ctx context.Context, a *app.App, actor app.Actor, personID int64, on day.Day) (*Week, error) {
	if !actor.SeesPerson(personID) {
		return nil, app.Refuse(app.Forbidden, "This is somebody else's week. You see your own.")
	}
	tx := a.Store.Read(ctx)
	person, err := store.Get[store.Person](tx, personID)
	if err != nil {
		return nil, app.Missing(err, "person")
	}
	monday := on.Monday()
	entries, err := store.EntriesOf(tx, personID, monday.AddDays(-7), monday.AddDays(6))
	if err != nil {
		return nil, err
	}
	_, number := monday.Week()
	week := &Week{PersonID: personID, Person: person.Name, Monday: monday, Number: number, Capacity: person.WeeklyMinutes,
		Rows: []WeekRow{}, Values: []money.Amount{}}
	for i := range 7 {
		head := DayHead{Day: monday.AddDays(i)}
		if i < 5 {
			head.Capacity = person.WeeklyMinutes / 5
		}
		week.Days = append(week.Days, head)
	}
	for i := range entries {
		if err := week.add(shown(&entries[i])); err != nil {
			return nil, err
		}
	}
	return week, nil
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
	var err error
	if row.Value, err = row.Value.Add(e.Value); err != nil {
		return err
	}
	w.Values, err = money.AddByCurrency(w.Values, e.Value)
	return err
}

func (w *Week) row(e Entry) *WeekRow {
	for i := range w.Rows {
		if r := &w.Rows[i]; r.EngagementID == e.EngagementID && r.ServiceID == e.ServiceID && r.Treatment == e.Treatment {
			return r
		}
	}
	row := WeekRow{EngagementID: e.EngagementID, Engagement: e.Engagement, Client: e.Client, ServiceID: e.ServiceID, Service: e.Service,
		Treatment: e.Treatment, Value: money.Zero(e.Value.Currency)}
	for range 7 {
		row.Cells = append(row.Cells, Cell{Entries: []Entry{}})
	}
	w.Rows = append(w.Rows, row)
	return &w.Rows[len(w.Rows)-1]
}
