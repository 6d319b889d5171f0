package demo

import (
	"fmt"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
)

// phaseOf is the place among the phases of the survey in which a service is done.
var phaseOf = map[int64]int{1: 0, 2: 2, 3: 1}

// crew lists by person the engagements they work on, by number.
var crew = [][]int{{12}, {1, 2, 3, 7, 11}, {1, 3, 10, 11, 1}, {6, 8, 4, 2}, {5, 6, 9, 8, 4}, {12, 2}}

func (s *seeder) workday(on day.Day) error {
	s.at(on, 17)
	for i, p := range people[:len(crew)] {
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

// laterWorkday records what the newer people did on the later engagements.
func (s *seeder) laterWorkday(on day.Day) error {
	s.at(on, 18)
	for i := len(crew); i < len(people); i++ {
		if s.newer.IntN(11) == 0 {
			continue
		}
		for left := people[i].hours * 60 / 5; left > 40; {
			worked := min(left, 120+s.newer.IntN(45)*6)
			in := timekeeping.TypedEntry{PersonID: int64(i + 1), EngagementID: s.laterWork[(i*5+s.newer.IntN(6))%len(s.laterWork)],
				ServiceID: int64(1 + s.newer.IntN(4)), Day: on,
				Worked: worktime.Clock(worked), Treatment: wip.Billable,
				Text: text(laterTexts[s.newer.IntN(len(laterTexts))], 1+s.newer.IntN(9))}
			if s.newer.IntN(20) == 0 {
				in.Treatment = wip.NoCharge
			}
			if _, err := timekeeping.Record(s.ctx, s.app, app.Request{Actor: app.Actor{PersonID: in.PersonID, Role: people[i].role}},
				in); err != nil {
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
	if engagementNumber == 1 {
		in.PhaseID = s.phases[phaseOf[in.ServiceID]]
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
