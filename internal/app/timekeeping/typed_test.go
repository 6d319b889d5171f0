package timekeeping_test

import (
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

// recorded records an entry of the staff's, changed before it is, by an
// administrator.
func recorded(t *testing.T, a *app.App, change func(*timekeeping.TypedEntry)) (*timekeeping.Entry, error) {
	t.Helper()
	in := apptest.Typed(apptest.Survey, "2026-11-30", "1:25")
	change(&in)
	return timekeeping.Record(t.Context(), a, apptest.Admin, in)
}

// 85 minutes at 6-minute increments are 90; the firm's rate is 100.00.
func TestEveryTreatmentHasItsEffectOnValue(t *testing.T) {
	a := apptest.Firm(t)
	for _, c := range []struct {
		name             string
		change           func(*timekeeping.TypedEntry)
		agreed, standard string
		billed           int
		billing          wip.Billing
	}{
		{"billable", func(*timekeeping.TypedEntry) {}, "150.00", "150.00", 90, wip.Unbilled},
		{"outside the fee", func(in *timekeeping.TypedEntry) { in.Treatment = wip.OutOfScope }, "150.00", "150.00", 90, wip.Unbilled},
		{"no charge", func(in *timekeeping.TypedEntry) { in.Treatment = wip.NoCharge }, "0.00", "150.00", 90, wip.Unbilled},
		{"not billable", func(in *timekeeping.TypedEntry) { in.Treatment = wip.NotBillable }, "0.00", "150.00", 90, wip.Outside},
		{"part not billable", func(in *timekeeping.TypedEntry) { in.NotBillable = "0:25" }, "100.00", "100.00", 60, wip.Unbilled},
		{"10 % more", func(in *timekeeping.TypedEntry) { in.Markup = "10" }, "165.00", "150.00", 90, wip.Unbilled},
		{"12.5 % less", func(in *timekeeping.TypedEntry) { in.Markup = "-12.5%" }, "131.25", "150.00", 90, wip.Unbilled},
		{"flat", func(in *timekeeping.TypedEntry) { in.Flat = "1,200" }, "1,200.00", "1,200.00", 90, wip.Unbilled},
		{"flat without time", func(in *timekeeping.TypedEntry) { in.Flat, in.Worked = "95.50", "" }, "95.50", "95.50", 0, wip.Unbilled},
		{"on hold", func(in *timekeeping.TypedEntry) { in.Hold = "2026-12-15" }, "150.00", "150.00", 90, wip.Unbilled},
	} {
		e, err := recorded(t, a, c.change)
		if err != nil || e.Value.String() != c.agreed || e.Standard.String() != c.standard || e.Billed != c.billed ||
			e.Billing != c.billing {
			t.Errorf("%s: %+v, %v", c.name, e, err)
		}
	}
	apptest.Whole(t, a)
}

func TestStartAndEndStandInPlaceOfADuration(t *testing.T) {
	a := apptest.Firm(t)
	e, err := recorded(t, a, func(in *timekeeping.TypedEntry) {
		in.Worked, in.Started, in.Ended, in.Expected, in.Reference = "", "9:15", "10:40", "1h", " PO 7 "
	})
	if err != nil || e.Minutes != 85 || e.Started != "9:15" || e.Ended != "10:40" || e.Expected != 60 || e.Reference != "PO 7" {
		t.Fatalf("%+v, %v", e, err)
	}
	for says, change := range map[string]func(*timekeeping.TypedEntry){
		"9:15 to 10:40 is 1:25\u202fh, not 2:00\u202fh": func(in *timekeeping.TypedEntry) { in.Started, in.Ended, in.Worked = "9:15", "10:40", "2" },
		"is not after the start":                        func(in *timekeeping.TypedEntry) { in.Started, in.Ended, in.Worked = "23:00", "1:00", "" },
		"is not a time of day":                          func(in *timekeeping.TypedEntry) { in.Started, in.Ended, in.Worked = "9:15", "", "" },
	} {
		_, err := recorded(t, a, change)
		refusal(t, err, fieldOf(err), says)
	}
}

func TestOnlyAFlatAmountThatIsBilledComesBack(t *testing.T) {
	a := apptest.Firm(t)
	for _, change := range []func(*timekeeping.TypedEntry){
		func(in *timekeeping.TypedEntry) { in.Returns = true },
		func(in *timekeeping.TypedEntry) { in.Returns, in.Flat, in.Treatment = true, "10", wip.NoCharge },
	} {
		_, err := recorded(t, a, change)
		refusal(t, err, "returns", "Only a flat amount comes back")
	}
	_, err := recorded(t, a, func(in *timekeeping.TypedEntry) { in.Flat, in.Markup = "10", "5" })
	refusal(t, err, "flat", "has no mark-up")
	_, err = recorded(t, a, func(in *timekeeping.TypedEntry) { in.Hold = "soon" })
	refusal(t, err, "hold", "soon")
}

func TestWhoSeesNoValuesLeavesWhatWasSetOnTheEntry(t *testing.T) {
	a := apptest.Firm(t)
	e, err := recorded(t, a, func(in *timekeeping.TypedEntry) { in.PerHour, in.Markup = "200", "10" })
	if err != nil || e.Value.String() != "330.00" {
		t.Fatalf("%+v, %v", e, err)
	}
	blind := apptest.Staff
	blind.Actor.SeesRates = false
	in := apptest.Typed(apptest.Survey, "2026-11-30", "2:00")
	changed, err := timekeeping.Change(t.Context(), a, blind, e.ID, e.Version, in)
	if err != nil || changed.Value != nil || changed.Markup != nil || changed.PerHour != nil {
		t.Fatalf("staff see %+v, %v", changed, err)
	}
	// 2 h × 200.00 and 10 % more.
	if now, err := timekeeping.One(t.Context(), a, apptest.Admin.Actor, e.ID); err != nil || now.Value.String() != "440.00" {
		t.Errorf("%+v, %v", now, err)
	}
}

func TestAnEntryKeepsTheRateItWasSavedWith(t *testing.T) {
	a := apptest.Firm(t)
	e := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Add(t, a, "rates", "engagement", "1", "per_hour", "180", "from", "2026-01-01")
	in := apptest.Typed(apptest.Survey, "2026-11-30", "2:00")
	in.Text = "other words"
	changed, err := timekeeping.Change(t.Context(), a, apptest.Staff, e.ID, e.Version, in)
	if err != nil || changed.Value.String() != "200.00" {
		t.Fatalf("another text and time, still at 100.00: %+v, %v", changed, err)
	}
	in.Day = day.Of(2026, 12, 1)
	if changed, err = timekeeping.Change(t.Context(), a, apptest.Staff, e.ID, changed.Version, in); err != nil ||
		changed.Value.String() != "360.00" {
		t.Errorf("on another day the rate that holds there: %+v, %v", changed, err)
	}
	apptest.Whole(t, a)
}

func TestALeadChangesTimeOnWhatTheyLeadAndKeepsItThere(t *testing.T) {
	a := apptest.Firm(t)
	e := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	in := apptest.Typed(apptest.Survey, "2026-11-30", "1:30")
	in.Flat = "99"
	changed, err := timekeeping.Change(t.Context(), a, apptest.Lead, e.ID, e.Version, in)
	if err != nil || changed.Value.String() != "99.00" {
		t.Fatalf("%+v, %v", changed, err)
	}
	in.EngagementID, in.Flat = apptest.Advice, ""
	_, err = timekeeping.Change(t.Context(), a, apptest.Lead, e.ID, changed.Version, in)
	refusal(t, err, "", "somebody else's time")
	in.EngagementID, in.PersonID = apptest.Survey, 3
	_, err = timekeeping.Change(t.Context(), a, apptest.Lead, e.ID, changed.Version, in)
	refusal(t, err, "personId", "stays with who worked it")
}

func TestAnEntryOfAClosedEngagementCanStillBePutRight(t *testing.T) {
	a := apptest.Firm(t)
	e := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Set(t, a, "engagements", apptest.Survey, "closed", "2026-11-15")
	in := apptest.Typed(apptest.Survey, "2026-11-30", "1:30")
	in.Text = "in better words"
	changed, err := timekeeping.Change(t.Context(), a, apptest.Staff, e.ID, e.Version, in)
	if err != nil || changed.Minutes != 90 {
		t.Fatalf("%+v, %v", changed, err)
	}
	in.Day = day.Of(2026, 12, 1)
	_, err = timekeeping.Change(t.Context(), a, apptest.Staff, e.ID, changed.Version, in)
	refusal(t, err, "engagementId", "is closed to new time")
}

func TestThePreviewOfAChangeIsWhatIsSaved(t *testing.T) {
	a := apptest.Firm(t)
	e := apptest.Record(t, a, apptest.Survey, "2026-11-30", "1:00")
	apptest.Add(t, a, "rates", "engagement", "1", "per_hour", "180", "from", "2026-01-01")
	in := apptest.Typed(apptest.Survey, "2026-11-30", "2:00")
	for _, r := range []app.Request{apptest.Staff, apptest.Lead, apptest.Admin} {
		worth, err := timekeeping.Preview(t.Context(), a, r.Actor, in, e.ID)
		if err != nil || worth.Value.String() != "200.00" {
			t.Errorf("%s: %+v, %v", r.Actor.Role, worth, err)
		}
	}
	other := apptest.Lead.Actor
	other.PersonID = 4
	_, err := timekeeping.Preview(t.Context(), a, other, in, e.ID)
	refusal(t, err, "", "somebody else's time")
}

func TestARemovedEntryComesBackAsItWas(t *testing.T) {
	a := apptest.Firm(t)
	e, err := recorded(t, a, func(in *timekeeping.TypedEntry) { in.PerHour, in.Hold = "200", "released" })
	must(t, err)
	must(t, timekeeping.Remove(t.Context(), a, apptest.Staff, e.ID, e.Version))
	_, err = timekeeping.BringBack(t.Context(), a, apptest.Staff, e.ID, e.Version+5)
	refusal(t, err, "", "Somebody else has changed this")
	back, err := timekeeping.BringBack(t.Context(), a, apptest.Staff, e.ID, e.Version)
	if err != nil || back.ID != e.ID || back.Value.String() != "300.00" || back.Hold != "released" {
		t.Fatalf("%+v, %v", back, err)
	}
	apptest.Whole(t, a)
	_, err = timekeeping.BringBack(t.Context(), a, apptest.Staff, e.ID, e.Version)
	refusal(t, err, "", "Somebody else has changed this")
	if history, err := timekeeping.History(t.Context(), a, apptest.Admin.Actor, e.ID); err != nil || len(history) != 3 ||
		history[0].Summary != "Brought back 1:25\u202fh on 30 Nov 2026" {
		t.Errorf("%+v, %v", history, err)
	}
}

// What a client asks of entries is said while one is typed: its text, the hours of the
// day, the rate; what is not billed asks nothing.
func TestWhatAClientAsksIsSaidWhileRecording(t *testing.T) {
	a := apptest.Firm(t)
	for _, rule := range [][2]string{{"shortest_text", "10"}, {"most_hours", "480"}, {"excluded", "Travel; Work"}, {"highest_rate", "90"}} {
		apptest.Set(t, a, "clients", 1, rule[0], rule[1])
	}
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "5:00")
	in := apptest.Typed(apptest.Survey, "2026-11-20", "4:00")
	in.Text = "call"
	worth, err := timekeeping.Preview(t.Context(), a, apptest.Admin.Actor, in, 0)
	if err != nil {
		t.Fatal(err)
	}
	for _, word := range []string{"a text of 4 characters, 10 are asked", "9:00", "Work is not paid", "100.00 an hour, at most 90.00"} {
		if !strings.Contains(worth.Warning, word) {
			t.Errorf("%q says nothing of %q", worth.Warning, word)
		}
	}
	in.Treatment = wip.NotBillable
	if worth, err = timekeeping.Preview(t.Context(), a, apptest.Admin.Actor, in, 0); err != nil || worth.Warning != "" {
		t.Errorf("%+v, %v", worth, err)
	}
	other := apptest.Typed(apptest.Study, "2026-11-20", "4:00")
	if worth, err = timekeeping.Preview(t.Context(), a, apptest.Admin.Actor, other, 0); err != nil || worth.Warning != "" {
		t.Errorf("another client asks nothing: %+v, %v", worth, err)
	}
}
