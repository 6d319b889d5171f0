package invoices_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// everything selects all three engagements.
var everything = unbilled.Selection{UpTo: november, Dated: apptest.Today,
	EngagementIDs: []int64{apptest.Survey, apptest.Advice, apptest.Study}}

// made makes drafts of a selection, and sees that they come to what was foreseen; it
// gives the net of each.
func made(t *testing.T, a *app.App, s unbilled.Selection) ([]runs.Made, string) {
	t.Helper()
	foreseen, err := runs.Preview(t.Context(), a, apptest.Admin.Actor, s)
	if err != nil {
		t.Fatal(err)
	}
	drafts, err := runs.MakeDrafts(t.Context(), a, apptest.Admin, s)
	if err != nil {
		t.Fatal(err)
	}
	sum, words := int64(0), []string{}
	for _, d := range drafts {
		sum += d.Net.Minor
		words = append(words, d.Client+" "+d.Net.String())
	}
	if foreseen.Drafts != len(drafts) || foreseen.Net[0].Minor != sum {
		t.Errorf("foreseen were %d drafts over %v, made were %v", foreseen.Drafts, foreseen.Net, words)
	}
	apptest.Whole(t, a)
	return drafts, strings.Join(words, ", ")
}

func theRun(t *testing.T, a *app.App, id int64) *runs.Run {
	t.Helper()
	run, err := runs.OneRun(t.Context(), a, apptest.Admin.Actor, id)
	if err != nil {
		t.Fatal(err)
	}
	return run
}

// worked records an hour and an expense of 10.00 on each engagement, and makes a
// recurring fee of 50.00 due on Advice.
func worked(t *testing.T, a *app.App) {
	t.Helper()
	for _, engagement := range everything.EngagementIDs {
		apptest.Record(t, a, engagement, "2026-11-20", "1:00")
		expense(t, a, engagement, "10.00", unchanged)
	}
	for _, set := range [][2]string{{"fee", "50"}, {"fee_period", "month"}, {"fee_from", "2026-12-01"}, {"arrangement", "recurring"}} {
		apptest.Set(t, a, "engagements", apptest.Advice, set[0], set[1])
	}
}

// Alder is billed on one invoice: 100 + 10 of Survey, 10 + 50 of Advice, whose fee
// covers its hour. Birch has 80 + 10.
func TestWhatARunTakesIsChosen(t *testing.T) {
	for _, c := range []struct {
		name   string
		choose func(*unbilled.Selection)
		want   string
	}{
		{"all of it", func(*unbilled.Selection) {}, "Alder 170.00, Birch 90.00"},
		{"a client of several is billed by engagement, this time",
			func(s *unbilled.Selection) { s.Separate = []int64{apptest.Survey, apptest.Advice} }, "Alder 60.00, Alder 110.00, Birch 90.00"},
		{"without the time of one", func(s *unbilled.Selection) {
			s.Leave = []unbilled.Leaving{{EngagementID: apptest.Survey,
				Time: true}}
		},
			"Alder 70.00, Birch 90.00"},
		{"without expenses", func(s *unbilled.Selection) {
			s.Leave = []unbilled.Leaving{{EngagementID: apptest.Survey, Expenses: true}, {EngagementID: apptest.Advice, Expenses: true},
				{EngagementID: apptest.Study, Expenses: true}}
		}, "Alder 150.00, Birch 80.00"},
		{"without charges", func(s *unbilled.Selection) {
			s.Leave = []unbilled.Leaving{{EngagementID: apptest.Advice, Charges: true}}
		}, "Alder 120.00, Birch 90.00"},
		{"charges have a cut-off of their own", func(s *unbilled.Selection) { s.ChargesUpTo = november }, "Alder 120.00, Birch 90.00"},
		{"a day before the work", func(s *unbilled.Selection) { s.UpTo = day.Of(2026, 11, 19) }, "Alder 50.00"},
		{"from a day after the work", func(s *unbilled.Selection) { s.From = day.Of(2026, 11, 21) }, "Alder 50.00"},
	} {
		t.Run(c.name, func(t *testing.T) {
			a := apptest.Firm(t)
			worked(t, a)
			s := everything
			c.choose(&s)
			if _, got := made(t, a, s); got != c.want {
				t.Errorf("%s, want %s", got, c.want)
			}
		})
	}
}

func TestWhatIsLeftIsToldAndStaysUnbilled(t *testing.T) {
	a := apptest.Firm(t)
	worked(t, a)
	s := everything
	s.Leave = []unbilled.Leaving{{EngagementID: apptest.Survey, Time: true, Expenses: true}, {EngagementID: apptest.Advice, Charges: true}}
	tally, err := runs.Preview(t.Context(), a, apptest.Admin.Actor, s)
	if err != nil || tally.Left[0].String() != "−160.00" || tally.Expenses[0].String() != "20.00" || tally.Total[0].String() != "123.00" {
		t.Errorf("%+v, %v", tally, err)
	}
	drafts, _ := made(t, a, s)
	if list := listed(t, a); list.Totals[0].String() != "160.00" {
		t.Errorf("unbilled are %v", list.Totals)
	}
	s.RunID, s.Leave = drafts[0].RunID, nil
	if _, got := made(t, a, s); got != "Alder 160.00" { // added to the same run
		t.Errorf("%s", got)
	}
	if run := theRun(t, a, s.RunID); run.Drafts != 3 || len(run.Members) != 4 || // Advice is on two drafts
		run.Engagements != 3 || run.Net.String() != "260.00" {
		t.Errorf("%+v", run)
	}
}

func TestADraftFollowsItsRun(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Study, "2026-11-20", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-25", "2:00")
	drafts, _ := made(t, a, unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: everything.EngagementIDs,
		Name: "November", Terms: "14d", Text: "Thank you."})
	change := func(in runs.RunTyped) *invoices.Invoice {
		t.Helper()
		run := theRun(t, a, drafts[0].RunID)
		if err := runs.ChangeRun(t.Context(), a, apptest.Admin, run.ID, run.Version, in); err != nil {
			t.Fatal(err)
		}
		apptest.Whole(t, a)
		return opened(t, a, drafts[0].ID)
	}
	if inv := opened(t, a, drafts[0].ID); inv.Due != day.Of(2026, 12, 15) || inv.Document.Opening != "Thank you." {
		t.Errorf("due %s, opening %q", inv.Due, inv.Document.Opening)
	}
	typed := runs.RunTyped{Name: "November", UpTo: day.Of(2026, 11, 22), Dated: day.Of(2026, 12, 2), Terms: "14d", Text: "Thank you."}
	if inv := change(typed); inv.Net.String() != "80.00" || inv.Dated != typed.Dated || inv.Due != day.Of(2026, 12, 16) {
		t.Errorf("an earlier cut-off: %s, dated %s, due %s", inv.Net, inv.Dated, inv.Due)
	}
	typed.UpTo, typed.Terms, typed.Text = november, "", "Kind regards."
	if inv := change(typed); inv.Net.String() != "240.00" || inv.Due != day.Of(2027, 1, 1) || inv.Document.Opening != "Kind regards." {
		t.Errorf("a later one: %s, due %s, %q", inv.Net, inv.Due, inv.Document.Opening)
	}
	run := theRun(t, a, drafts[0].RunID)
	refused(t, runs.ChangeRun(t.Context(), a, apptest.Admin, run.ID, run.Version, runs.RunTyped{Name: "x", UpTo: november}),
		"an invoice date")
	if err := runs.ChangeRun(t.Context(), a, apptest.Admin, run.ID, run.Version-1, typed); err == nil {
		t.Error("a stale change is taken")
	}
}

func TestADeletedRunLeavesEverythingUnbilled(t *testing.T) {
	a := apptest.Firm(t)
	worked(t, a)
	before := fmt.Sprint(listed(t, a).Totals)
	drafts, _ := made(t, a, everything)
	issue(t, a, opened(t, a, drafts[1].ID))
	run := theRun(t, a, drafts[0].RunID)
	if run.Drafts != 1 || run.Issued != 1 {
		t.Errorf("%+v", run)
	}
	if err := runs.DeleteRun(t.Context(), a, apptest.Admin, run.ID, run.Version); err != nil {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	if after := listed(t, a).Totals[0].String(); before != "[260.00]" || after != "170.00" { // what was issued stays
		t.Errorf("before %s, after %s", before, after)
	}
	if runs, err := runs.Runs(t.Context(), a, apptest.Admin.Actor); err != nil || len(runs) != 1 || runs[0].Issued != 1 {
		t.Errorf("what was issued is found under the name of its run: %+v, %v", runs, err)
	}
	for f, want := range map[invoices.Filter]int{{}: 1, {RunID: run.ID}: 1, {RunID: 99}: 0, {LeadID: 1}: 1, {LeadID: 3}: 0,
		{EngagementID: apptest.Study}: 1, {EngagementID: apptest.Survey}: 0, {From: apptest.Today}: 1, {To: apptest.Today - 1}: 0,
		{AtLeast: "110.70"}: 1, {AtLeast: "110.71"}: 0} {
		if register, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, f); err != nil || len(register) != want {
			t.Errorf("%+v: %+v, %v", f, register, err)
		}
	}
	_, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, invoices.Filter{AtLeast: "much"})
	refused(t, err, "much")
}

// An engagement leaves its run with what of it is on drafts; a draft with others on it
// stays with theirs.
func TestAnEngagementIsTakenOutOfItsRun(t *testing.T) {
	a := apptest.Firm(t)
	worked(t, a)
	drafts, _ := made(t, a, everything)
	out := func(engagement int64) error {
		run := theRun(t, a, drafts[0].RunID)
		return runs.TakeOutMember(t.Context(), a, apptest.Admin, run.ID, run.Version, engagement)
	}
	both := opened(t, a, drafts[0].ID)
	if err := out(apptest.Survey); err != nil {
		t.Fatal(err)
	}
	if now := opened(t, a, both.ID); now.Engagements != "Advice" || now.Net.Minor >= both.Net.Minor {
		t.Errorf("%+v", now)
	}
	apptest.Whole(t, a)
	if err := out(apptest.Study); err != nil {
		t.Fatal(err)
	}
	if _, err := invoices.One(t.Context(), a, apptest.Admin.Actor, drafts[1].ID); err == nil {
		t.Error("a draft with nothing on it stays")
	}
	apptest.Whole(t, a)
	issue(t, a, opened(t, a, both.ID))
	refused(t, out(apptest.Advice), "is issued as N1: reopen that first")
	if run := theRun(t, a, drafts[0].RunID); run.Engagements != 1 || run.Members[0].Engagement != "Advice" {
		t.Errorf("%+v", run)
	}
}

// The whole pass of an approval: asked, sent back with a note, changed, approved by
// each of its leads, and again a draft when it is changed.
func TestApprovalByTheLeadsOfADraft(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00") // of Lea Lead
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "1:00") // of Ada Admin
	inv := draftOf(t, a, apptest.Survey, apptest.Advice)
	ctx := t.Context()
	state := func(want string) {
		t.Helper()
		inv = opened(t, a, inv.ID)
		said := []string{string(inv.State)}
		for _, s := range inv.Approvals {
			said = append(said, s.Lead+" "+s.State)
		}
		if got := strings.Join(said, ", "); got != want {
			t.Errorf("%s, want %s", got, want)
		}
	}
	edits := func() []drafts.Edit { return []drafts.Edit{edit(inv)} }
	must := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	must(issuing.AskApproval(ctx, a, apptest.Admin, edits()))
	state("in_approval, Ada Admin asked, Lea Lead asked")
	_, err := issuing.Issue(ctx, a, apptest.Admin, edit(inv))
	refused(t, err, "approv")
	refused(t, issuing.SendBack(ctx, a, apptest.Lead, edit(inv), " "), "Say what is to be changed")
	must(issuing.SendBack(ctx, a, apptest.Lead, edit(inv), "the last hour was ours"))
	state("draft, Ada Admin asked, Lea Lead sent_back")
	must(issuing.AskApproval(ctx, a, apptest.Admin, edits()))
	state("in_approval, Ada Admin asked, Lea Lead asked")
	must(issuing.Approve(ctx, a, apptest.Lead, edits()))
	state("in_approval, Ada Admin asked, Lea Lead approved")
	must(issuing.Approve(ctx, a, apptest.Admin, edits()))
	state("approved, Ada Admin approved, Lea Lead approved")
	_, err = drafts.TakeOut(ctx, a, apptest.Admin, edit(inv), entries(inv.Lines[0].PortionID))
	must(err)
	state("in_approval, Ada Admin asked, Lea Lead asked") // who said it themselves are asked again
	must(issuing.Approve(ctx, a, apptest.Lead, edits()))
	inv = opened(t, a, inv.ID)
	must(issuing.Approve(ctx, a, apptest.Admin, edits()))
	inv = opened(t, a, inv.ID)
	_, err = drafts.SetText(ctx, a, apptest.Admin, edit(inv), inv.Lines[0].LineID, "Better words")
	must(err)
	_, err = drafts.SetChoice(ctx, a, apptest.Admin, edit(opened(t, a, inv.ID)), drafts.ChoiceChange{Name: "design", Value: "band", Keep: "invoice"})
	must(err)
	state("approved, Ada Admin approved, Lea Lead approved") // words and look are not what she said yes to
	told, err := store.NoticesOf(a.Store.Read(ctx, store.Everything), 3)
	if err != nil || !slices.ContainsFunc(told, func(n store.Notice) bool { return strings.Contains(n.Sentence, "waits for you again") }) {
		t.Errorf("%+v, %v", told, err)
	}
	told, err = store.NoticesOf(a.Store.Read(ctx, store.Everything), 1)
	if err != nil || !slices.ContainsFunc(told, func(n store.Notice) bool { return n.Sentence == "Lea Lead approved 1 draft." }) {
		t.Errorf("%+v, %v", told, err)
	}
	if err := issuing.Approve(ctx, a, apptest.Staff, edits()); err == nil {
		t.Error("staff approve")
	}
	apptest.Whole(t, a)
	notices, err := a.History(ctx, apptest.Admin.Actor, app.OfInvoice, inv.ID)
	if err != nil || len(notices) < 6 {
		t.Errorf("the history tells of %d acts, %v", len(notices), err)
	}
}

// A discount is shared over the lines, and a surcharge counts what it leaves of
// fees: a cent more or less, which the tally must know beforehand.
func TestWhatADiscountLeavesForASurchargeIsForeseenToTheCent(t *testing.T) {
	a := apptest.Firm(t)
	random := rand.New(rand.NewPCG(5, 6))
	for i := range 25 {
		apptest.Record(t, a, apptest.Study, fmt.Sprintf("2026-11-%02d", 1+i), fmt.Sprintf("%dm", 1+random.IntN(400)))
		expense(t, a, apptest.Study, fmt.Sprintf("%d.%02d", 1+random.IntN(40), random.IntN(100)), unchanged)
	}
	for range 20 {
		apptest.Set(t, a, "clients", 2, "discount", fmt.Sprintf("%d.%d", random.IntN(40), 1+random.IntN(9)))
		apptest.Set(t, a, "clients", 2, "surcharge", fmt.Sprintf("%d.%d", 60+random.IntN(39), 1+random.IntN(9)))
		s := unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Study}}
		foreseen, err := runs.Preview(t.Context(), a, apptest.Admin.Actor, s)
		if err != nil {
			t.Fatal(err)
		}
		inv := draftOf(t, a, apptest.Study)
		if inv.Net != foreseen.Net[0].Amount || inv.Total != foreseen.Total[0].Amount {
			t.Errorf("foreseen were %s and %s, it came to %s and %s", foreseen.Net[0], foreseen.Total[0], inv.Net, inv.Total)
		}
		if err := drafts.Delete(t.Context(), a, apptest.Admin, edit(inv)); err != nil {
			t.Fatal(err)
		}
	}
	apptest.Whole(t, a)
}
