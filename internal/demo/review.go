package demo

import (
	"errors"
	"slices"

	"dorvet/core/day"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
)

// review leaves the month end half done: decisions on unbilled work, and a run with
// drafts in each state and with findings of most kinds.
func (s *seeder) review() error {
	november := day.Of(2026, 11, 30)
	if err := errors.Join(s.decideOnWork(november), s.end(november)); err != nil {
		return err
	}
	late := []int64{}
	for i, id := range s.laterWork {
		if i%3 == 2 {
			late = append(late, id)
		}
	}
	if len(late) < 6 {
		return errors.New("the demo has too little work for its run")
	}
	if err := s.twice(late[0], november); err != nil {
		return err
	}
	made, err := runs.MakeDrafts(s.ctx, s.app, s.admin, unbilled.Selection{Name: "November, first part", UpTo: november, Dated: Today,
		EngagementIDs: append([]int64{s.engagements[8], s.engagements[9]}, late[:6]...)})
	if err != nil {
		return err
	}
	return s.settleSome(made)
}

// decideOnWork holds, writes down and puts at no charge some of the unbilled work.
func (s *seeder) decideOnWork(upTo day.Day) error {
	for i, decision := range []wip.Decision{
		{Kind: wip.Hold, Until: day.Of(2027, 1, 15), Reason: "the purchase order is not here yet"},
		{Kind: wip.Write, To: "hours", Value: "1:00", Reason: "learning time of a new colleague"},
		{Kind: wip.NoCharge, Reason: "agreed with the client by phone"},
		{Kind: wip.Hold, Reason: "the client disputes the scope"},
	} {
		work, err := wip.Entries(s.ctx, s.app, s.admin.Actor, s.engagements[i%3], wip.Filter{UpTo: upTo})
		if err != nil {
			return err
		}
		at := slices.IndexFunc(work.Entries, func(e wip.UnbilledEntry) bool {
			return e.Source == "time" && e.Hold == "" && !e.Covered && e.Minutes > 90 && e.Treatment == core.Billable &&
				e.Day > upTo.AddDays(-20-i)
		})
		if at < 0 {
			continue
		}
		if _, err := wip.Decide(s.ctx, s.app, s.admin, []int64{work.Entries[at].PortionID}, decision); err != nil {
			return err
		}
	}
	return nil
}

// end closes engagements: two whose last work was written off, and two that nobody
// has billed yet.
func (s *seeder) end(upTo day.Day) error {
	for _, over := range []struct{ name, closed string }{{"Under-keel clearance", "2026-11-20"}, {"Planning objection", "2026-11-27"}} {
		work, err := wip.Entries(s.ctx, s.app, s.admin.Actor, s.named[over.name], wip.Filter{UpTo: upTo})
		if err != nil {
			return err
		}
		portions := []int64{}
		for _, e := range work.Entries {
			portions = append(portions, e.PortionID)
		}
		if _, err := wip.Decide(s.ctx, s.app, s.admin, portions,
			wip.Decision{Kind: wip.WriteOff, Reason: "the mandate ended before anything came of it"}); err != nil {
			return err
		}
		if err := s.set("engagements", s.named[over.name], "closed", over.closed); err != nil {
			return err
		}
	}
	return errors.Join(s.set("engagements", s.named["Mooring layout"], "closed", "2026-11-27"),
		s.set("engagements", s.named["Berthing trials"], "closed", "2026-11-30"))
}

// twice records the same work twice, and some without a word.
func (s *seeder) twice(engagementID int64, on day.Day) error {
	for _, words := range []string{"Tide gauge reduction, north pier", "Tide gauge reduction, north pier", ""} {
		in := timekeeping.TypedEntry{PersonID: 7, EngagementID: engagementID, ServiceID: 1, Day: on, Worked: "2:30",
			Treatment: core.Billable,
			Text:      words}
		if _, err := timekeeping.Record(s.ctx, s.app,
			app.Request{Actor: app.Actor{PersonID: in.PersonID, Role: people[in.PersonID-1].role}},
			in); err != nil {
			return err
		}
	}
	return nil
}

// settleSome takes drafts of the run through approval, forgets funds on one and a
// surcharge on another.
func (s *seeder) settleSome(made []runs.Made) error {
	edit := func(i int) (drafts.Edit, *invoices.Invoice, error) {
		inv, err := invoices.One(s.ctx, s.app, s.admin.Actor, made[i].ID)
		if err != nil {
			return drafts.Edit{}, nil, err
		}
		return drafts.Edit{ID: inv.ID, Version: inv.Version}, inv, nil
	}
	first, inv, err := edit(0)
	if err != nil {
		return err
	}
	if _, err := drafts.SetChoice(s.ctx, s.app, s.admin, first,
		drafts.ChoiceChange{Name: "use_funds", Value: "none", Keep: "invoice"}); err != nil {
		return err
	}
	sheet, err := registry.Read(s.ctx, s.app, s.admin.Actor, "clients", inv.ClientID)
	if err != nil {
		return err
	}
	if _, err := registry.SetField(s.ctx, s.app, s.admin, "clients", []registry.ExpectedVersion{{ID: inv.ClientID, Version: sheet.Version}},
		registry.Change{Field: "surcharge", Value: "4"}); err != nil {
		return err
	}
	asked := []drafts.Edit{}
	for i := len(made) - 4; i < len(made); i++ {
		e, _, err := edit(i)
		if err != nil {
			return err
		}
		asked = append(asked, e)
	}
	if err := issuing.AskApproval(s.ctx, s.app, s.admin, asked); err != nil {
		return err
	}
	approved := []drafts.Edit{}
	for i := len(made) - 2; i < len(made); i++ {
		e, _, err := edit(i)
		if err != nil {
			return err
		}
		approved = append(approved, e)
	}
	if err := issuing.Approve(s.ctx, s.app, s.admin, approved); err != nil {
		return err
	}
	back, _, err := edit(len(made) - 3)
	if err != nil {
		return err
	}
	return issuing.SendBack(s.ctx, s.app, s.admin, back, "Two hours on the 12th were ours: take them out, please.")
}
