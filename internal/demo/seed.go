package demo

import (
	"context"
	"errors"
	"fmt"
	"math/rand/v2"
	"os"
	"path/filepath"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/billing"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/store"
)

// firstDay is a Monday: three months and a week of time until Today.
var firstDay = day.Of(2026, 8, 24)

const seed = 20261201

// Seed makes the firm in a folder that has no data yet. It is made beside and
// moved there at the end, so that a seed that was cut short leaves nothing.
func Seed(ctx context.Context, folder string, render func(invoice.Document) ([]byte, error)) error {
	if err := os.MkdirAll(filepath.Dir(folder), 0o700); err != nil {
		return err
	}
	scratch, err := os.MkdirTemp(filepath.Dir(folder), ".seeding-*")
	if err != nil {
		return err
	}
	defer os.RemoveAll(scratch)
	data, err := store.Open(ctx, scratch)
	if err != nil {
		return err
	}
	s := &seeder{ctx: ctx, app: &app.App{Store: data, Render: render}, random: rand.New(rand.NewPCG(seed, seed))}
	if err := errors.Join(s.all(), data.Close()); err != nil {
		return fmt.Errorf("make the demo firm: %w", err)
	}
	if err := os.Remove(folder); err != nil && !os.IsNotExist(err) {
		return fmt.Errorf("%s has something else in it: choose another folder: %w", folder, err)
	}
	return os.Rename(scratch, folder)
}

type seeder struct {
	ctx         context.Context
	app         *app.App
	random      *rand.Rand
	engagements []int64
	admin       app.Request
}

func (s *seeder) all() error {
	s.admin = app.Request{Actor: app.Actor{PersonID: 1, Role: app.Administrator}}
	s.at(yearStart, 9)
	for _, step := range []func() error{s.firm, s.people, s.clients, s.rates, s.months} {
		if err := step(); err != nil {
			return err
		}
	}
	return nil
}

// at sets both clocks: the business date, and an instant on that day.
func (s *seeder) at(on day.Day, hour int) {
	s.app.Clock = app.PinnedClock{Date: on, At: on.Time().Add(time.Duration(hour) * time.Hour)}
}

func (s *seeder) firm() error {
	if err := setup.Establish(s.ctx, s.app, foundation()); err != nil {
		return err
	}
	for _, name := range grades {
		if _, err := setup.Add(s.ctx, s.app, app.Request{}, "the grade "+name, store.Grade{Name: name}); err != nil {
			return err
		}
	}
	for i, name := range services {
		service := store.Service{Code: fmt.Sprintf("S%02d", i+1), Name: name, Active: true}
		if _, err := setup.Add(s.ctx, s.app, app.Request{}, "the service "+name, service); err != nil {
			return err
		}
	}
	return nil
}

func mail(p person) string {
	first, _, _ := strings.Cut(strings.ToLower(p.name), " ")
	return first + "@skerrow.example"
}

func (s *seeder) people() error {
	hash, err := setup.HashPassword(Password)
	if err != nil {
		return err
	}
	for _, p := range people {
		record := store.Person{Name: p.name, Initials: p.initials, Mail: mail(p), PasswordHash: hash, Role: string(p.role), GradeID: &p.grade,
			EntityID: 1, WeeklyMinutes: p.hours * 60, Active: true}
		if _, err := setup.Add(s.ctx, s.app, app.Request{}, p.name, record); err != nil {
			return err
		}
	}
	return nil
}

func (s *seeder) clients() error {
	for i, c := range clients {
		record := store.Client{Code: fmt.Sprintf("C%03d", i+1), Name: c.name, InvoiceName: c.name, Address: c.address,
			Mail: fmt.Sprintf("accounts@client%d.example", i+1), Currency: c.currency, Terms: c.terms, Combined: c.combined, Active: true}
		if c.code != 0 {
			record.TaxCodeID = &c.code
		}
		kept, err := setup.Add(s.ctx, s.app, s.admin, "the client "+c.name, record)
		if err != nil {
			return err
		}
		for _, e := range c.engagements {
			if err := s.engagement(kept, e); err != nil {
				return err
			}
		}
	}
	return nil
}

func (s *seeder) engagement(c store.Client, e engagement) error {
	record := store.Engagement{ClientID: c.ID, EntityID: 1, Code: fmt.Sprintf("E%03d", len(s.engagements)+1), Name: e.name, Reference: e.reference,
		Arrangement: "hourly", LeadID: e.lead, Currency: c.Currency, Billable: e.name != "Own time", OpenedDay: firstDay, Active: true}
	kept, err := setup.Add(s.ctx, s.app, s.admin, "the engagement "+e.name, record)
	s.engagements = append(s.engagements, kept.ID)
	return err
}

func (s *seeder) rates() error {
	for _, r := range rates() {
		if _, err := setup.Add(s.ctx, s.app, s.admin, "a rate of the "+r.Level.String(), r); err != nil {
			return err
		}
	}
	return nil
}

// months records day by day, and bills at each month's beginning what the month
// before left, but for a few engagements that are forgotten.
func (s *seeder) months() error {
	for on := firstDay; on < Today; on++ {
		switch on {
		case day.Of(2026, 10, 1):
			if err := s.bill(day.Of(2026, 9, 30), on, 4, 7, 12); err != nil {
				return err
			}
		case day.Of(2026, 11, 2):
			if err := s.bill(day.Of(2026, 10, 31), on, 4, 7, 8, 12); err != nil {
				return err
			}
		}
		if on.Weekday() != time.Saturday && on.Weekday() != time.Sunday {
			if err := s.workday(on); err != nil {
				return err
			}
		}
	}
	s.at(Today, 8)
	_, err := billing.MakeDrafts(s.ctx, s.app, s.admin, billing.Selection{UpTo: day.Of(2026, 11, 30), Dated: Today,
		EngagementIDs: []int64{s.engagements[8], s.engagements[9]}})
	return err
}

func (s *seeder) bill(upTo, dated day.Day, forgotten ...int) error {
	s.at(dated, 9)
	chosen := []int64{}
	for i, id := range s.engagements {
		forgot := false
		for _, n := range forgotten {
			forgot = forgot || n == i+1
		}
		if !forgot {
			chosen = append(chosen, id)
		}
	}
	made, err := billing.MakeDrafts(s.ctx, s.app, s.admin, billing.Selection{UpTo: upTo, Dated: dated, EngagementIDs: chosen})
	if err != nil {
		return err
	}
	for _, draft := range made {
		seen, err := billing.One(s.ctx, s.app, s.admin.Actor, draft.ID)
		if err != nil {
			return err
		}
		if _, err := billing.Issue(s.ctx, s.app, s.admin, billing.Edit{ID: seen.ID, Version: seen.Version}); err != nil {
			return err
		}
	}
	return nil
}

// crew lists by person the engagements they work on, by number.
var crew = [][]int{{12}, {1, 2, 3, 7, 11}, {1, 3, 10, 11, 1}, {6, 8, 4, 2}, {5, 6, 9, 8, 4}, {12, 2}}

func (s *seeder) workday(on day.Day) error {
	s.at(on, 17)
	for i, p := range people {
		if s.random.IntN(12) == 0 || (i == 3 && on.Weekday() == time.Friday) {
			continue // leave, or a week sheet with a gap
		}
		left := p.hours * 60 / 5
		for left > 20 {
			worked := min(left, 40+s.random.IntN(50)*5)
			if err := s.entry(on, i, crew[i][s.random.IntN(len(crew[i]))], worked); err != nil {
				return err
			}
			left -= worked
		}
	}
	return nil
}

func (s *seeder) entry(on day.Day, personIndex, engagementNumber, worked int) error {
	e := nth(engagementNumber)
	in := timekeeping.TypedEntry{PersonID: int64(personIndex + 1), EngagementID: s.engagements[engagementNumber-1],
		ServiceID: e.services[s.random.IntN(len(e.services))], Day: on, Worked: worktime.Clock(worked), Treatment: wip.Billable,
		Text: text(e.works[s.random.IntN(len(e.works))], 1+s.random.IntN(9))}
	switch {
	case engagementNumber == 12:
		in.Treatment = wip.NotBillable
	case s.random.IntN(16) == 0:
		in.Treatment, in.Text = wip.NoCharge, in.Text+", redone"
	case s.random.IntN(40) == 0:
		in.NotBillable, in.Note = "0:30", "Half an hour of it was ours"
	}
	r := app.Request{Actor: app.Actor{PersonID: in.PersonID, Role: people[personIndex].role}}
	_, err := timekeeping.Record(s.ctx, s.app, r, in)
	return err
}

// nth is the engagement of a number, over all clients.
func nth(number int) engagement {
	for _, c := range clients {
		if number <= len(c.engagements) {
			return c.engagements[number-1]
		}
		number -= len(c.engagements)
	}
	panic("there are not so many engagements")
}

func text(pattern string, n int) string {
	if strings.Contains(pattern, "%d") {
		return fmt.Sprintf(pattern, n)
	}
	return pattern
}
