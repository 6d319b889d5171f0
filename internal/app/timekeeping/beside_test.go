package timekeeping_test

import (
	"fmt"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
)

// refusedBy expects a refusal in a field.
func refusedBy(t *testing.T, err error, field, says string) {
	t.Helper()
	if refusal := apptest.RefusalOf(t, err); !strings.Contains(refusal.Error(), says) || refusal.Field != field {
		t.Errorf("%v in %q, want %q in %q", refusal, refusal.Field, says, field)
	}
}

func TestAnEntryMaySpanDays(t *testing.T) {
	a := apptest.Firm(t)
	in := apptest.Typed(apptest.Survey, "2026-11-02", "30:00")
	in.Worked, in.Until = "20:00", day.Of(2026, 11, 6)
	entry := apptest.RecordTyped(t, a, in)
	if entry.Until != day.Of(2026, 11, 6) || entry.Value.String() != "2,000.00" {
		t.Errorf("%+v", entry)
	}
	in.Until = in.Day // one day is no span
	if entry = apptest.RecordTyped(t, a, in); !entry.Until.IsZero() {
		t.Errorf("until %s", entry.Until)
	}
	for until, says := range map[day.Day]string{day.Of(2026, 11, 1): "before 2 Nov 2026", day.Of(2027, 12, 1): "more than a year"} {
		in.Until = until
		_, err := timekeeping.Record(t.Context(), a, apptest.Admin, in)
		refusedBy(t, err, "until", says)
	}
	in.Until, in.Worked, in.Started, in.Ended = day.Of(2026, 11, 6), "", "9:00", "10:00"
	_, err := timekeeping.Record(t.Context(), a, apptest.Admin, in)
	refusedBy(t, err, "until", "is one day")
}

// The engagement has 120.00, the firm 100.00: the most specific wins, unless the firm's is
// chosen. Rule: those that lose stay in sight.
func TestTheSourceOfARateIsChosen(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "rates", "engagement", "1", "per_hour", "120", "from", "2026-01-01")
	in := apptest.Typed(apptest.Survey, "2026-11-02", "1:00")
	worth, err := timekeeping.Preview(t.Context(), a, apptest.Admin.Actor, in, 0)
	if err != nil || len(worth.Rates) != 2 || worth.Rates[0].From != "engagement" || worth.Rates[1].PerHour != "100.00" {
		t.Fatalf("%+v, %v", worth, err)
	}
	in.RateFrom = "firm"
	entry, err := timekeeping.Record(t.Context(), a, apptest.Admin, in)
	if err != nil {
		t.Fatal(err)
	}
	if entry.Value.String() != "100.00" || entry.RateFrom != "firm" {
		t.Errorf("chosen: %s from %q", entry.Value, entry.RateFrom)
	}
	if said := fmt.Sprint(*entry.Explanation); !strings.Contains(said, "beats the rate of the engagement") ||
		!strings.Contains(said, "chosen; holds since") {
		t.Errorf("%s", said)
	}
	if done, err := timekeeping.Rerate(t.Context(), a, apptest.Admin,
		timekeeping.Rerating{EngagementID: apptest.Survey, From: in.Day, To: in.Day}); err == nil && len(done.Entries) > 0 {
		t.Errorf("a source that was chosen is rated otherwise: %+v", done.Entries)
	}
	in.RateFrom = "client"
	_, err = timekeeping.Record(t.Context(), a, apptest.Admin, in)
	refusedBy(t, err, "rateFrom", "no rate of the client")
	in.RateFrom = "firm"
	_, err = timekeeping.Record(t.Context(), a, apptest.Staff, in)
	refusedBy(t, err, "rateFrom", "only the lead")
	// Who may not choose it changes the text, and the choice stays.
	in.Text = "Levels"
	changed, err := timekeeping.Change(t.Context(), a, apptest.Staff, entry.ID, entry.Version, in)
	if err != nil || changed.Value.String() != "100.00" {
		t.Errorf("%+v, %v", changed, err)
	}
}

func TestAnEntryHasFieldsOfTheFirmsOwn(t *testing.T) {
	a := apptest.Firm(t)
	id := apptest.Add(t, a, "own-fields", "subject", "entry", "name", "Vessel", "form", "choice", "choices", "Tern\nKite")
	in := apptest.Typed(apptest.Survey, "2026-11-02", "1:00")
	in.Own = map[string]string{"Vessel": "kite"}
	entry := apptest.RecordTyped(t, a, in)
	if id != 1 || entry.Own["1"] != "Kite" {
		t.Errorf("%+v", entry.Own)
	}
	in.Own = nil // not given: it stays
	changed, err := timekeeping.Change(t.Context(), a, apptest.Admin, entry.ID, entry.Version, in)
	if err != nil || changed.Own["1"] != "Kite" {
		t.Errorf("%+v, %v", changed, err)
	}
	in.Own = map[string]string{"Vessel": "Gull"}
	_, err = timekeeping.Record(t.Context(), a, apptest.Admin, in)
	refusedBy(t, err, "own.Vessel", "not among what can be chosen")
}

func TestAbbreviationsBecomeTheirTexts(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "abbreviations", "short", "tgr", "text", "Tide gauge reduction")
	in := apptest.Typed(apptest.Survey, "2026-11-02", "1:00")
	in.Text = "tgr, leg 2 (not tgrs, not TGR)"
	if entry := apptest.RecordTyped(t, a, in); entry.Text != "Tide gauge reduction, leg 2 (not tgrs, not TGR)" {
		t.Errorf("%q", entry.Text)
	}
}

func TestStaffSayHowTimeIsBilledIfTheFirmLetsThem(t *testing.T) {
	a := apptest.Firm(t)
	for _, c := range []struct {
		treats string
		want   wip.Treatment
	}{{"yes", wip.NoCharge}, {"no", wip.Billable}} {
		apptest.Set(t, a, "firm", 1, "staff_treats", c.treats)
		in := apptest.Typed(apptest.Survey, "2026-11-02", "1:00")
		in.Treatment = wip.NoCharge
		for _, who := range []app.Request{apptest.Staff, apptest.Admin} {
			want := c.want
			if who.Actor.PersonID == apptest.Admin.Actor.PersonID {
				want = wip.NoCharge
			}
			in.PersonID = who.Actor.PersonID
			entry, err := timekeeping.Record(t.Context(), a, who, in)
			if err != nil || entry.Treatment != want {
				t.Errorf("%s: %+v, %v", c.treats, entry, err)
			}
		}
		choices, err := timekeeping.ChoicesOf(t.Context(), a, apptest.Staff.Actor)
		if err != nil || choices.Treats != (c.treats == "yes") {
			t.Errorf("%s: staff are told %t, %v", c.treats, choices.Treats, err)
		}
	}
}
