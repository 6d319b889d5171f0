package wip_test

import (
	"errors"
	"fmt"
	"strings"
	"testing"

	"dorvet/core/day"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
	"dorvet/internal/apptest"
)

func refused(t *testing.T, err error, says string) {
	t.Helper()
	var r *app.Refusal
	if !errors.As(err, &r) || !strings.Contains(r.Sentence, says) {
		t.Errorf("%v; want a refusal that says %q", err, says)
	}
}

func entriesOf(t *testing.T, a *app.App, engagement int64) *wip.UnbilledEntries {
	t.Helper()
	found, err := wip.Entries(t.Context(), a, apptest.Admin.Actor, engagement, wip.Filter{UpTo: november})
	if err != nil {
		t.Fatal(err)
	}
	return found
}

// stands is what is unbilled of an engagement, in words: hours, value and hold of
// each part.
func stands(t *testing.T, a *app.App, engagement int64) string {
	t.Helper()
	words := []string{}
	for _, e := range entriesOf(t, a, engagement).Entries {
		words = append(words, strings.TrimSpace(fmt.Sprintf("%dm %s %s %s", e.Minutes, e.Value, e.Treatment, e.Hold)))
	}
	return strings.Join(words, ", ")
}

// decided takes a decision on everything unbilled of an engagement, and sees that it
// comes to what was foreseen.
func decided(t *testing.T, a *app.App, engagement int64, d wip.Decision) *wip.Taken {
	t.Helper()
	ids := []int64{}
	for _, e := range entriesOf(t, a, engagement).Entries {
		ids = append(ids, e.PortionID)
	}
	foreseen, problem := wip.Preview(t.Context(), a, apptest.Admin.Actor, ids, d)
	taken, err := wip.Decide(t.Context(), a, apptest.Admin, ids, d)
	if err != nil || problem != nil {
		t.Fatalf("%v, foreseen %v", err, problem)
	}
	if fmt.Sprint(foreseen.Before, foreseen.After) != fmt.Sprint(taken.Before, taken.After) {
		t.Errorf("foreseen %v → %v, it came %v → %v", foreseen.Before, foreseen.After, taken.Before, taken.After)
	}
	return taken
}

// The figures are products and differences by hand: 4.2 h × 100.00 = 420.00, of which
// 3 h are 300.00 and 4 h 400.00; 420 − 250 = 170 (common practice).
func TestEachDecisionAndItsUndo(t *testing.T) {
	for _, c := range []struct {
		name          string
		decision      wip.Decision
		stands, comes string
		said          string
	}{
		{"hold until a day", wip.Decision{Kind: wip.Hold, Until: day.Of(2027, 1, 15)}, "252m 420.00 billable 2027-01-15", "0.00",
			"on hold until 15 Jan 2027"},
		{"hold until somebody releases it", wip.Decision{Kind: wip.Hold}, "252m 420.00 billable released", "0.00", "on hold"},
		{"fewer hours", wip.Decision{Kind: wip.Write, To: "hours", Value: "3:00", Reason: "learning time"}, "180m 300.00 billable",
			"300.00",
			"written down from 420.00 to 300.00"},
		{"a lower rate", wip.Decision{Kind: wip.Write, To: "rate", Value: "50", Reason: "agreed"}, "252m 210.00 billable", "210.00",
			"written down from 420.00 to 210.00"},
		{"an amount", wip.Decision{Kind: wip.Write, To: "amount", Value: "250.00", Reason: "agreed"}, "252m 250.00 billable", "250.00",
			"written down from 420.00 to 250.00"},
		{"an amount, the rest stays", wip.Decision{Kind: wip.Write, To: "amount", Value: "250", Stays: true},
			"252m 250.00 billable, 0m 170.00 billable", "250.00", "only 250.00 of 420.00, the rest stays"},
		{"up", wip.Decision{Kind: wip.Write, To: "amount", Value: "500", Reason: "done at night"}, "252m 500.00 billable", "500.00",
			"written up from 420.00 to 500.00"},
		{"off", wip.Decision{Kind: wip.WriteOff, Reason: "never agreed"}, "", "0.00", "written off, 420.00"},
		{"no charge", wip.Decision{Kind: wip.NoCharge, Reason: "goodwill"}, "252m 0.00 no_charge", "0.00", "no charge in place of 420.00"},
		{"divided at hours", wip.Decision{Kind: wip.DivideIt, To: "hours", Value: "90m"}, "90m 150.00 billable, 162m 270.00 billable",
			"150.00",
			"divided into 150.00 and 270.00"},
		{"divided at an amount", wip.Decision{Kind: wip.DivideIt, To: "amount", Value: "210"}, "126m 210.00 billable, 126m 210.00 billable",
			"210.00", "divided into 210.00 and 210.00"},
		{"moved", wip.Decision{Kind: wip.Move, EngagementID: apptest.Advice}, "", "420.00", "moved from Survey"},
	} {
		t.Run(c.name, func(t *testing.T) {
			a := apptest.Firm(t)
			apptest.Record(t, a, apptest.Survey, "2026-11-20", "4:12")
			before := stands(t, a, apptest.Survey)
			taken := decided(t, a, apptest.Survey, c.decision)
			if got := stands(t, a, apptest.Survey); got != c.stands || taken.After[0].String() != c.comes {
				t.Errorf("%q, which comes to %s", got, taken.After[0])
			}
			apptest.Whole(t, a)
			on := apptest.Survey
			if c.decision.Kind == wip.Move {
				on = apptest.Advice
			}
			decisions := entriesOf(t, a, on).Decisions
			if c.decision.Kind != wip.WriteOff && (len(decisions) != 1 || decisions[0].Said != c.said || !decisions[0].MayUndo ||
				decisions[0].Reason != c.decision.Reason) {
				t.Errorf("it says %+v", decisions)
			}
			if err := drafts.Undo(t.Context(), a, apptest.Admin, taken.ActID); err != nil {
				t.Fatal(err)
			}
			if got := stands(t, a, apptest.Survey); got != before {
				t.Errorf("taken back it is %q, not %q", got, before)
			}
			apptest.Whole(t, a)
			refused(t, drafts.Undo(t.Context(), a, apptest.Admin, taken.ActID), "taken back already")
		})
	}
}

// What was held and then cut is taken back in two steps, the last first.
func TestAHoldThatWasFollowedByACutIsTakenBack(t *testing.T) {
	for _, cut := range []wip.Decision{{Kind: wip.Write, To: "amount", Value: "250", Reason: "agreed"},
		{Kind: wip.Write, To: "amount", Value: "250", Stays: true},
		{Kind: wip.DivideIt, To: "hours", Value: "90m"}, {Kind: wip.Write, To: "amount", Value: "500", Reason: "at night"},
		{Kind: wip.NoCharge, Reason: "goodwill"}} {
		a := apptest.Firm(t)
		apptest.Record(t, a, apptest.Survey, "2026-11-20", "4:12")
		before := stands(t, a, apptest.Survey)
		held := decided(t, a, apptest.Survey, wip.Decision{Kind: wip.Hold})
		then := decided(t, a, apptest.Survey, cut)
		refused(t, drafts.Undo(t.Context(), a, apptest.Admin, held.ActID), "decided on this entry since")
		for _, act := range []int64{then.ActID, held.ActID} {
			if err := drafts.Undo(t.Context(), a, apptest.Admin, act); err != nil {
				t.Errorf("%s %s: %v", cut.Kind, cut.Value, err)
			}
			apptest.Whole(t, a)
		}
		if got := stands(t, a, apptest.Survey); got != before {
			t.Errorf("taken back it is %q, not %q", got, before)
		}
	}
}

// Shares of 150.00 over 200.00 and 100.00 are 100.00 and 50.00; of 2 h over 2 h and
// 1 h, 80 and 40 minutes: Hamilton's method, by hand.
func TestADecisionOnManyIsSharedByValue(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "2:00")
	apptest.Record(t, a, apptest.Survey, "2026-11-21", "1:00")
	taken := decided(t, a, apptest.Survey, wip.Decision{Kind: wip.Write, To: "amount", Value: "150", Reason: "agreed"})
	if got := stands(t, a, apptest.Survey); got != "120m 100.00 billable, 60m 50.00 billable" || taken.Entries != 2 {
		t.Errorf("%s", got)
	}
	if err := drafts.Undo(t.Context(), a, apptest.Admin, taken.ActID); err != nil {
		t.Fatal(err)
	}
	decided(t, a, apptest.Survey, wip.Decision{Kind: wip.Write, To: "hours", Value: "2:00", Reason: "agreed"})
	if got := stands(t, a, apptest.Survey); got != "80m 133.33 billable, 40m 66.67 billable" {
		t.Errorf("%s", got)
	}
	apptest.Whole(t, a)
}

func TestWhatCantBeDecidedSaysWhy(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00")
	id := entriesOf(t, a, apptest.Survey).Entries[0].PortionID
	for says, d := range map[string]wip.Decision{
		"say why":                     {Kind: wip.WriteOff},
		"This gives money away":       {Kind: wip.NoCharge, Reason: "  "},
		"Give hours like 1:30":        {Kind: wip.Write, Reason: "agreed"},
		"has come already":            {Kind: wip.Hold, Until: apptest.Today},
		"comes to that already":       {Kind: wip.Write, To: "amount", Value: "100", Reason: "agreed"},
		"nothing would stay unbilled": {Kind: wip.Write, To: "amount", Value: "120", Stays: true},
		"never negative":              {Kind: wip.Write, To: "rate", Value: "-5", Reason: "agreed"},
		"never worth less than":       {Kind: wip.Write, To: "amount", Value: "-5", Reason: "agreed"},
		"less than all of its hours":  {Kind: wip.DivideIt, To: "hours", Value: "1:00"},
		"less than its 100.00":        {Kind: wip.DivideIt, To: "amount", Value: "100"},
		"by hours or by an amount":    {Kind: wip.DivideIt, To: "rate", Value: "5"},
		"Choose the engagement":       {Kind: wip.Move, EngagementID: 99},
		"can't be decided":            {Kind: "forget"},
	} {
		_, err := wip.Decide(t.Context(), a, apptest.Admin, []int64{id}, d)
		refused(t, err, says)
	}
	_, err := wip.Decide(t.Context(), a, apptest.Admin, []int64{id, 99}, wip.Decision{Kind: wip.Hold})
	refused(t, err, "load the page again")
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "1:00")
	advice := entriesOf(t, a, apptest.Advice).Entries[0].PortionID
	if _, err := wip.Decide(t.Context(), a, apptest.Lead, []int64{advice}, wip.Decision{Kind: wip.Hold}); err == nil {
		t.Error("a lead decides on work of another lead's")
	}
	if got := stands(t, a, apptest.Survey); got != "60m 100.00 billable" {
		t.Errorf("after all that it is %s", got)
	}
}

func TestOnlyTheLastDecisionIsTakenBack(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "2:00")
	first := decided(t, a, apptest.Survey, wip.Decision{Kind: wip.Write, To: "amount", Value: "150", Reason: "agreed"})
	second := decided(t, a, apptest.Survey, wip.Decision{Kind: wip.Hold})
	refused(t, drafts.Undo(t.Context(), a, apptest.Admin, first.ActID), "take that back first")
	for _, act := range []int64{second.ActID, first.ActID} {
		if err := drafts.Undo(t.Context(), a, apptest.Admin, act); err != nil {
			t.Fatal(err)
		}
	}
	if got := stands(t, a, apptest.Survey); got != "120m 200.00 billable" {
		t.Errorf("%s", got)
	}
	apptest.Whole(t, a)
}

func TestADecisionStandsInTheHistoryOfItsEntry(t *testing.T) {
	a := apptest.Firm(t)
	entry := apptest.Record(t, a, apptest.Survey, "2026-11-20", "2:00")
	decided(t, a, apptest.Survey, wip.Decision{Kind: wip.Write, To: "amount", Value: "150", Reason: "agreed by phone"})
	history, err := a.History(t.Context(), apptest.Admin.Actor, app.OfEntry, entry.ID)
	if err != nil || len(history) == 0 || history[0].Summary != "Wrote an entry down" || history[0].Reason != "agreed by phone" ||
		history[0].Before != `"200.00 EUR"` || history[0].After != `"150.00 EUR"` {
		t.Errorf("%+v, %v", history, err)
	}
}

func TestAFixedFeeShowsWorkedBilledAgreedAndExpected(t *testing.T) {
	a := apptest.Firm(t)
	for _, set := range [][2]string{{"fee", "1000"}, {"arrangement", "fixed"}} {
		apptest.Set(t, a, "engagements", apptest.Survey, set[0], set[1])
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "6:00")
	if fee := entriesOf(t, a, apptest.Survey).Fee; fee == nil || fee.Worked.String() != "600.00" || fee.WorkedShare.String() != "60" ||
		fee.Expected != nil || fee.DoneFrom != core.Unknown {
		t.Errorf("nobody says how much is done: %+v", fee)
	}
	apptest.Set(t, a, "engagements", apptest.Survey, "done", "50")
	if fee := entriesOf(t, a, apptest.Survey).Fee; fee.Expected == nil || fee.Expected.String() != "−200.00" || fee.DoneFrom != core.Typed {
		t.Errorf("half done: %+v", fee)
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-21", "6:00")
	list := listed(t, a, apptest.Admin.Actor, wip.Filter{})
	work := list.Clients[0].Engagements[0]
	if !work.Covered || work.BehindFee.String() != "1,200.00" || len(work.Findings) != 1 || work.Findings[0].Code != "fee_used" ||
		!work.Value.IsZero() {
		t.Errorf("%+v", work)
	}
}

// What is looked at never changes what a fee, a budget or a finding is measured over.
func TestAFilterChangesNoMeasure(t *testing.T) {
	a := apptest.Firm(t)
	for _, set := range [][2]string{{"fee", "1000"}, {"arrangement", "fixed"}} {
		apptest.Set(t, a, "engagements", apptest.Survey, set[0], set[1])
	}
	apptest.Record(t, a, apptest.Survey, "2026-08-20", "9:00")
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "2:00")
	for _, f := range []wip.Filter{{}, {From: day.Of(2026, 11, 16)}} {
		work := listed(t, a, apptest.Admin.Actor, f).Clients[0].Engagements[0]
		if work.Budget == nil || work.Budget.Share != 110_0000 || len(work.Findings) != 2 || work.Findings[0].Code != "old" ||
			work.Findings[1].Code != "fee_used" {
			t.Errorf("from %s: %+v %+v", f.From, work.Budget, work.Findings)
		}
	}
}

// Each finding of W4 on the work that has it.
func TestWarningsThatSaveMoney(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-08-20", "1:00")
	apptest.Set(t, a, "engagements", apptest.Advice, "fee", "100")
	apptest.Set(t, a, "engagements", apptest.Advice, "arrangement", "capped")
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "1:30")
	apptest.Record(t, a, apptest.Study, "2026-11-20", "2:00")
	apptest.Add(t, a, "budgets", "engagement", "3", "measure", "hours", "hours", "1", "from", "2026-01-01")
	apptest.Set(t, a, "engagements", apptest.Study, "closed", "2026-11-30")
	found := map[string]string{}
	for _, client := range listed(t, a, apptest.Admin.Actor, wip.Filter{}).Clients {
		for _, f := range client.Findings {
			found[client.Client] += " " + f.Code
		}
		for _, e := range client.Engagements {
			for _, f := range e.Findings {
				if f.Title == "" || f.Remedy == "" {
					t.Errorf("%+v", f)
				}
				found[e.Engagement] += " " + f.Code
			}
		}
	}
	for on, want := range map[string]string{"Survey": " old", "Advice": " cap", "Study": " budget finished", "Alder": " no_contact"} {
		if found[on] != want {
			t.Errorf("%s has%s, want%s", on, found[on], want)
		}
	}
}

func TestTheListIsOrderedAsAsked(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "0:30")
	apptest.Record(t, a, apptest.Study, "2026-11-25", "5:00")
	apptest.Add(t, a, "budgets", "engagement", "1", "measure", "hours", "hours", "1", "from", "2026-01-01")
	for order, want := range map[string]string{"": "Alder/Advice Alder/Survey Birch/Study",
		wip.ByValue: "Birch/Study Alder/Survey Alder/Advice",
		wip.ByAge:   "Alder/Advice Alder/Survey Birch/Study", wip.ByBudget: "Alder/Survey Alder/Advice Birch/Study"} {
		if got := names(listed(t, a, apptest.Admin.Actor, wip.Filter{Order: order})); got != want {
			t.Errorf("%s: %s, want %s", order, got, want)
		}
	}
	_, err := wip.Unbilled(t.Context(), a, apptest.Admin.Actor, wip.Filter{UpTo: november, Order: "moon"})
	refused(t, err, "no order")
}

func TestTheBoardSaysWhereEngagementsStand(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-20", "1:00")
	apptest.Set(t, a, "engagements", apptest.Study, "closed", "2026-11-30")
	at := func() string {
		rows, err := wip.Board(t.Context(), a, apptest.Admin.Actor)
		if err != nil {
			t.Fatal(err)
		}
		words := []string{}
		for _, r := range rows {
			words = append(words, r.Engagement+" "+r.Stage)
		}
		return strings.Join(words, ", ")
	}
	if got := at(); got != "Advice running, Survey not_started, Study finished" {
		t.Errorf("%s", got)
	}
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Study}})
	if err != nil {
		t.Fatal(err)
	}
	if _, err := issuing.Issue(t.Context(), a, apptest.Admin, drafts.Edit{ID: made[0].ID, Version: 1}); err != nil {
		t.Fatal(err)
	}
	if got := at(); got != "Advice running, Survey not_started, Study closed" {
		t.Errorf("billed: %s", got)
	}
	apptest.Set(t, a, "engagements", apptest.Advice, "stage", "finished")
	if got := at(); got != "Advice finished, Survey not_started, Study closed" {
		t.Errorf("finished, as somebody says: %s", got)
	}
}
