package timekeeping

import (
	"context"
	"slices"
	"strconv"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// capacity is how long a person works on each day.
type capacity struct {
	weekly        int // minutes
	usual, actual day.Calendar
}

// capacities finds the capacity of anybody.
func capacities(tx *store.DB) (func(*store.Person) (capacity, error), error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	usual, err := day.NewCalendar(firm.WorkingDays, nil)
	if err != nil {
		return nil, err
	}
	calendars, err := setup.Calendars(tx)
	return func(p *store.Person) (capacity, error) {
		actual, err := calendars(p.OfficeID)
		return capacity{weekly: p.WeeklyMinutes, usual: usual, actual: actual}, err
	}, err
}

// on is the capacity of a day in minutes: the week's, spread over the usual
// working days; none on a holiday.
func (c capacity) on(d day.Day) int {
	if !c.actual.Works(d) {
		return 0
	}
	return c.weekly / c.usualDays(d.Monday())
}

// week is the capacity of the week that begins on a Monday, less its holidays.
func (c capacity) week(monday day.Day) int {
	left := c.weekly
	for d := monday; d < monday.AddDays(7); d++ {
		if c.usual.Works(d) && !c.actual.Works(d) {
			left -= c.weekly / c.usualDays(monday)
		}
	}
	return left
}

func (c capacity) usualDays(monday day.Day) int {
	days := 0
	for d := monday; d < monday.AddDays(7); d++ {
		if c.usual.Works(d) {
			days++
		}
	}
	return days
}

// Sheets are the weeks of all people whose time may be seen.
type Sheets struct {
	Monday  day.Day      `json:"monday"`
	Number  int          `json:"number" doc:"ISO week"`
	Days    []day.Day    `json:"days"`
	People  []PersonWeek `json:"people"`
	Missing int          `json:"missing" doc:"people with time missing"`
	Waiting []Waiting    `json:"waiting" doc:"weeks with entries that the reader can approve"`
}

// Waiting is a week with entries that wait for approval.
type Waiting struct {
	Monday  day.Day `json:"monday"`
	Number  int     `json:"number" doc:"ISO week"`
	Entries int     `json:"entries"`
}

// waiting are the weeks with entries that somebody can approve, oldest first.
func waiting(tx *store.DB, actor app.Actor) ([]Waiting, error) {
	weeks := []Waiting{}
	if actor.Role != app.Administrator && actor.Role != app.Lead {
		return weeks, nil
	}
	rows, err := store.SubmittedWeeks(tx)
	for _, row := range rows {
		_, number := row.Monday.Week()
		weeks = append(weeks, Waiting{row.Monday, number, row.Entries})
	}
	return weeks, err
}

// PersonWeek is one person's week in a line.
type PersonWeek struct {
	PersonID  int64  `json:"personId"`
	Person    string `json:"person"`
	Initials  string `json:"initials"`
	Days      []int  `json:"days" doc:"minutes worked, seven from Monday"`
	Minutes   int    `json:"minutes"`
	Capacity  int    `json:"capacity"`
	Missing   int    `json:"missing" doc:"minutes of the capacity of days gone by without time"`
	State     string `json:"state" enum:"open,submitted,approved"`
	SentBack  string `json:"sentBack"`
	ToApprove int    `json:"toApprove" doc:"entries that the reader can approve"`
	// Partial is what a lead sees of another's week.
	Partial bool `json:"partial"`
}

// SheetsOf is where the weeks of people stand: whose time is missing, who has
// submitted. A lead sees, of people whose time they do not see whole, what was
// done on engagements that they lead.
func SheetsOf(ctx context.Context, a *app.App, actor app.Actor, on day.Day) (*Sheets, error) {
	tx := a.Read(ctx, actor)
	monday := on.Monday()
	_, number := monday.Week()
	list := &Sheets{Monday: monday, Number: number, People: []PersonWeek{}}
	for i := range 7 {
		list.Days = append(list.Days, monday.AddDays(i))
	}
	people, err := store.Workforce(tx)
	if err != nil {
		return nil, err
	}
	read, err := readWeeks(ctx, a, actor, monday)
	if err != nil {
		return nil, err
	}
	if list.Waiting, err = waiting(tx, actor); err != nil {
		return nil, err
	}
	for i := range people {
		week, shown, err := read.of(&people[i], actor, a.Clock.Today())
		if err != nil {
			return nil, err
		}
		if !shown {
			continue
		}
		if week.Missing > 0 {
			list.Missing++
		}
		list.People = append(list.People, week)
	}
	return list, nil
}

// weeks are what everybody's weeks are made of, as the reader may see it.
type weeks struct {
	monday         day.Day
	sheets         map[int64]store.WeekSheet
	all, mine, led map[int64][]store.WorkedDay // of everybody, of the reader alone, on what the reader leads
	capacity       func(*store.Person) (capacity, error)
}

func readWeeks(ctx context.Context, a *app.App, actor app.Actor, monday day.Day) (*weeks, error) {
	tx, w := a.Read(ctx, actor), &weeks{monday: monday}
	var err error
	if w.capacity, err = capacities(tx); err != nil {
		return nil, err
	}
	if w.sheets, err = store.SheetsOf(tx, monday); err != nil {
		return nil, err
	}
	if w.all, err = workedIn(tx.AnyLead(), monday); err != nil {
		return nil, err
	}
	w.mine, w.led = w.all, w.all
	if actor.Entities != nil {
		if w.mine, err = workedIn(readerOf(ctx, a, actor, actor.PersonID).AnyLead(), monday); err != nil {
			return nil, err
		}
	}
	if tx.Scope().Leads != nil {
		w.led, err = workedIn(tx, monday)
	}
	return w, err
}

// of is a person's week in a line; shown is false where the reader sees nothing of it.
func (w *weeks) of(p *store.Person, actor app.Actor, today day.Day) (week PersonWeek, shown bool, err error) {
	week = PersonWeek{PersonID: p.ID, Person: p.Name, Initials: p.Initials, State: open, Partial: !actor.SeesPerson(p.ID)}
	if week.Partial && (actor.Role != app.Lead || w.led[p.ID] == nil) || !p.Active && w.all[p.ID] == nil {
		return week, false, nil
	}
	if sheet, kept := w.sheets[p.ID]; kept {
		week.State, week.SentBack = sheet.State, sheet.SentBack
	}
	days := w.all[p.ID]
	if week.Partial {
		days = w.led[p.ID]
	} else if p.ID == actor.PersonID {
		days = w.mine[p.ID]
	}
	c, err := w.capacity(p)
	if err != nil {
		return week, false, err
	}
	whole := !week.Partial && (actor.Entities == nil || actor.PersonID == p.ID)
	week.fill(c, p.Active && whole, days, w.monday, today)
	if actor.Role == app.Administrator || actor.Role == app.Lead {
		week.ToApprove = submittedOf(w.led[p.ID])
	}
	return week, true, nil
}

// workedIn are the days of a week on which people worked, by person.
func workedIn(tx *store.DB, monday day.Day) (map[int64][]store.WorkedDay, error) {
	rows, err := store.WorkedDays(tx, monday, monday.AddDays(6))
	byPerson := map[int64][]store.WorkedDay{}
	for _, row := range rows {
		byPerson[row.PersonID] = append(byPerson[row.PersonID], row)
	}
	return byPerson, err
}

func submittedOf(days []store.WorkedDay) (sum int) {
	for _, d := range days {
		sum += d.Submitted
	}
	return sum
}

// fill adds up the days of a week, and what of its capacity is missing on the days
// before today, for who is expected to record and is seen whole.
func (w *PersonWeek) fill(c capacity, expected bool, days []store.WorkedDay, monday, today day.Day) {
	w.Days, w.Capacity = make([]int, 7), c.week(monday)
	for _, d := range days {
		w.Days[d.Day-monday] += d.Minutes
		w.Minutes += d.Minutes
	}
	if !expected {
		return
	}
	due, worked := 0, 0
	for i, minutes := range w.Days {
		if on := monday.AddDays(i); on < today {
			due, worked = due+c.on(on), worked+minutes
		}
	}
	if missing := due - worked; missing >= leastMissing {
		w.Missing = missing
	}
}

// leastMissing is the time, in minutes, below which nothing is said to be missing.
const leastMissing = 15

// Figure is the time worked in the week of a day by those whose time may be seen,
// how many of them have time missing, and how many entries the actor can approve.
type Figure struct {
	Minutes   int `json:"minutes"`
	Missing   int `json:"missing" doc:"people with less time than their capacity, up to yesterday"`
	ToApprove int `json:"toApprove" doc:"entries that wait for the reader's approval"`
}

// FigureOf reads the figure.
func FigureOf(ctx context.Context, a *app.App, actor app.Actor, on day.Day) (Figure, error) {
	list, err := SheetsOf(ctx, a, actor, on)
	if err != nil {
		return Figure{}, err
	}
	figure := Figure{Missing: list.Missing}
	for _, p := range list.People {
		if !p.Partial {
			figure.Minutes += p.Minutes
		}
	}
	for _, week := range list.Waiting {
		figure.ToApprove += week.Entries
	}
	return figure, nil
}

func itoa(n int) string { return strconv.Itoa(n) }

// unique keeps the first of each number.
func unique(ids []int64) []int64 {
	slices.Sort(ids)
	return slices.Compact(ids)
}
