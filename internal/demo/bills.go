package demo

import (
	"errors"
	"time"

	"dorvet/core/day"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
)

// months records day by day, and bills at each month's beginning what the month
// before left, but for a few engagements that are forgotten.
func (s *seeder) months() error {
	year := newTreasurer(s)
	if err := errors.Join(year.plan(), year.until(firstDay)); err != nil {
		return err
	}
	s.year = year
	for on := firstDay; on < Today; on++ {
		if err := year.today(on); err != nil {
			return err
		}
		switch on {
		case day.Of(2026, 10, 1):
			if err := errors.Join(s.bill(day.Of(2026, 9, 30), on, 4, 7, 12), s.billLater(day.Of(2026, 9, 30), on)); err != nil {
				return err
			}
		case day.Of(2026, 11, 2):
			if err := errors.Join(s.bill(day.Of(2026, 10, 31), on, 4, 7, 8, 12), s.billLater(day.Of(2026, 10, 31), on)); err != nil {
				return err
			}
		}
		if err := s.proposalsOn(on); err != nil {
			return err
		}
		if on.Weekday() != time.Saturday && on.Weekday() != time.Sunday {
			if err := errors.Join(s.workday(on), s.laterWorkday(on), s.spend(on)); err != nil {
				return err
			}
		}
	}
	s.at(day.Of(2026, 11, 25), 10)
	if err := errors.Join(s.asked(), s.handOver(day.Of(2026, 11, 25))); err != nil {
		return err
	}
	s.at(Today, 8)
	sheet, err := registry.Read(s.ctx, s.app, s.admin.Actor, "clients", s.goneClient)
	if err != nil {
		return err
	}
	if err := registry.SetActive(s.ctx, s.app, s.admin, "clients", registry.ExpectedVersion{ID: s.goneClient, Version: sheet.Version},
		false); err != nil {
		return err
	}
	for _, step := range []func() error{s.split, s.treated, s.weeks, s.timers} {
		if err := step(); err != nil {
			return err
		}
	}
	s.at(Today, 8)
	return errors.Join(s.review(), s.bank(), s.collecting(), s.givenUp(), s.chargedLate(), s.reconciled(), s.paidOut())
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
	return s.issue(upTo, dated, chosen)
}

// billLater bills two of three of the later engagements that are billed by the
// hour.
func (s *seeder) billLater(upTo, dated day.Day) error {
	chosen := []int64{}
	for i, id := range s.laterWork {
		if i%3 != 2 {
			chosen = append(chosen, id)
		}
	}
	return s.issue(upTo, dated, chosen)
}

func (s *seeder) issue(upTo, dated day.Day, chosen []int64) error {
	made, err := runs.MakeDrafts(s.ctx, s.app, s.admin, unbilled.Selection{UpTo: upTo, Dated: dated, EngagementIDs: chosen})
	if err != nil {
		return err
	}
	for _, draft := range made {
		seen, err := invoices.One(s.ctx, s.app, s.admin.Actor, draft.ID)
		if err != nil {
			return err
		}
		issued, err := s.year.read(issuing.Issue(s.ctx, s.app, s.admin, drafts.Edit{ID: seen.ID, Version: seen.Version}))
		if err != nil {
			return err
		}
		if dated < day.Of(2026, 11, 1) && s.year.IntN(3) > 0 {
			s.year.pay(issued, dated.AddDays(20+s.year.IntN(45)), 1)
		}
	}
	return nil
}
