package reports_test

import (
	"slices"
	"testing"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/reports"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
	"dorvet/internal/apptest"
)

// everything is what drafts of all three engagements are made of.
var everything = unbilled.Selection{UpTo: apptest.Today, ChargesUpTo: apptest.Today, Dated: apptest.Today,
	EngagementIDs: []int64{apptest.Survey, apptest.Advice, apptest.Study}}

// A discount, a cap that leaves something, work behind a fee and a fee that is due: what can be
// billed is one figure on every desk, and it is what the drafts come to.
func TestWhatCanBeBilledIsOneFigureEverywhere(t *testing.T) {
	a, admin := apptest.Firm(t), apptest.Admin
	apptest.Set(t, a, "engagements", apptest.Survey, "discount", "10")
	apptest.Set(t, a, "engagements", apptest.Advice, "fee", "150")
	apptest.Set(t, a, "engagements", apptest.Advice, "arrangement", "capped")
	for _, set := range [][2]string{{"fee", "300"}, {"arrangement", "recurring"}, {"fee_period", "month"}, {"opened", "2026-12-01"}} {
		apptest.Set(t, a, "engagements", apptest.Study, set[0], set[1])
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "2:00") // 200.00, less 10 %
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "2:00") // 200.00, 150.00 under the cap
	apptest.Record(t, a, apptest.Study, "2026-12-01", "1:00")  // behind the fee
	want := map[int64]string{apptest.Survey: "180.00", apptest.Advice: "150.00", apptest.Study: "300.00"}

	list, err := wip.Unbilled(t.Context(), a, admin.Actor, wip.Filter{UpTo: apptest.Today})
	if err != nil || list.Totals[0].String() != "630.00" {
		t.Fatalf("the list: %+v, %v", list.Totals, err)
	}
	board, err := wip.Board(t.Context(), a, admin.Actor)
	if err != nil {
		t.Fatal(err)
	}
	for _, row := range board {
		if row.ToBill.String() != want[row.EngagementID] {
			t.Errorf("the board: %s %s", row.Engagement, row.ToBill)
		}
	}
	for id, figure := range want {
		one, err := reports.Engagement(t.Context(), a, admin.Actor, id)
		if err != nil || one.Unbilled.String() != figure {
			t.Errorf("the engagement: %s %s, %v", one.Name, one.Unbilled, err)
		}
		addsUp(t, one.Name, one.Worth, one.Billed)
		entries, err := wip.Entries(t.Context(), a, admin.Actor, id, wip.Filter{UpTo: apptest.Today})
		if err != nil || entries.Explanation.Figure != figure {
			t.Errorf("its explanation: %+v, %v", entries.Explanation, err)
		}
	}
	clients, err := reports.Clients(t.Context(), a, admin.Actor, reports.ClientFilter{Standing: "all"}, 0, 1000)
	if err != nil || clients.Unbilled.String() != "630.00" || clients.Clients[0].Unbilled[0].String() != "330.00" {
		t.Errorf("the clients: %+v, %v", clients, err)
	}
	addsUp(t, "the clients", append(clients.Clients[0].Unbilled, clients.Unbilled)...)
	if rail := figures(t, a, admin.Actor); rail.WIP.Amount.String() != "630.00" {
		t.Errorf("the rail: %+v", rail.WIP)
	}
	tally, err := runs.Preview(t.Context(), a, admin.Actor, everything)
	if err != nil || tally.Net[0].String() != "630.00" {
		t.Errorf("the tally: %+v, %v", tally, err)
	}
	addsUp(t, "the tally", slices.Concat(tally.Time, tally.Charges, tally.OverCap, tally.Discount, tally.Net, tally.Total)...)
	made, err := runs.MakeDrafts(t.Context(), a, admin, everything)
	if err != nil {
		t.Fatal(err)
	}
	net := money.Zero("EUR")
	for _, draft := range made {
		net.Minor += draft.Net.Minor
	}
	if net.String() != "630.00" {
		t.Errorf("the drafts: %s", net)
	}
	if rail := figures(t, a, admin.Actor); !rail.WIP.Amount.IsZero() {
		t.Errorf("on drafts it is no work in progress: %+v", rail.WIP)
	}
}

// billed is what the pages say is billed of the survey: its own, its client's, its budget's.
func billed(t *testing.T, a *app.App) [3]string {
	t.Helper()
	one, err := reports.Engagement(t.Context(), a, apptest.Admin.Actor, apptest.Survey)
	if err != nil {
		t.Fatal(err)
	}
	client, err := reports.Client(t.Context(), a, apptest.Admin.Actor, 1)
	if err != nil {
		t.Fatal(err)
	}
	budgets, err := setup.Budgets(t.Context(), a, apptest.Admin.Actor, apptest.Survey)
	if err != nil {
		t.Fatal(err)
	}
	return [3]string{one.Billed.String(), client.Work[1].Billed.String(), budgets[0].Used}
}

// Net of issued invoices less credits, lines by hand and a surcharge too, drafts never.
func TestWhatIsBilledIsOneFigureEverywhere(t *testing.T) {
	a, admin := apptest.Firm(t), apptest.Admin
	apptest.Add(t, a, "budgets", "engagement", "1", "measure", "invoiced", "amount", "1000", "from", "2026-01-01")
	apptest.Set(t, a, "engagements", apptest.Survey, "discount", "10")
	apptest.Set(t, a, "engagements", apptest.Survey, "surcharge", "5")
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "2:00")
	s := everything
	s.EngagementIDs = []int64{apptest.Survey}
	made, err := runs.MakeDrafts(t.Context(), a, admin, s)
	if err != nil {
		t.Fatal(err)
	}
	now, err := drafts.AddLine(t.Context(), a, admin, drafts.Edit{ID: made[0].ID, Version: 1},
		drafts.LineTyped{Text: "Maps", Amount: "100"})
	if err != nil {
		t.Fatal(err)
	}
	says := func(when, want string) {
		t.Helper()
		if got := billed(t, a); got != [3]string{want, want, want} {
			t.Errorf("%s: %v, want %s", when, got, want)
		}
	}
	says("a draft", "0.00")
	// 200.00 and 100.00 less 10 %, and 5 % on the fees of 180.00.
	if now, err = issuing.Issue(t.Context(), a, admin, drafts.Edit{ID: now.ID, Version: now.Version}); err != nil {
		t.Fatal(err)
	}
	says("issued", "279.00")
	if now, err = issuing.Reopen(t.Context(), a, admin, drafts.Edit{ID: now.ID, Version: now.Version}); err != nil {
		t.Fatal(err)
	}
	says("reopened", "0.00")
	if now, err = issuing.Issue(t.Context(), a, admin, drafts.Edit{ID: now.ID, Version: now.Version}); err != nil {
		t.Fatal(err)
	}
	lines, err := issuing.CreditableLines(t.Context(), a, admin.Actor, now.ID)
	if err != nil {
		t.Fatal(err)
	}
	if _, err := issuing.Credit(t.Context(), a, admin, drafts.Edit{ID: now.ID, Version: now.Version},
		issuing.Crediting{Reason: "Ours", Lines: []issuing.CreditedLine{{LineID: lines[0].LineID}}}); err != nil {
		t.Fatal(err)
	}
	says("the time credited, with its discount and surcharge", "90.00")
	apptest.Whole(t, a)
}

// What is owed is valued at the rates of the day, wherever it stands; what rates have made of it
// since it was issued is said.
func TestWhatIsOwedIsOneFigureEverywhere(t *testing.T) {
	a, admin := apptest.Firm(t), apptest.Admin
	for _, rate := range [][2]string{{"2026-11-01", "0.9"}, {"2026-12-15", "0.8"}} {
		apptest.Add(t, a, "exchange-rates", "currency", "USD", "day", rate[0], "rate", rate[1], "source", "by hand")
	}
	apptest.Set(t, a, "engagements", apptest.Study, "currency", "USD")
	apptest.Add(t, a, "rates", "engagement", "3", "currency", "USD", "per_hour", "100", "from", "2026-01-01")
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-20", "1:00")
	made, err := runs.MakeDrafts(t.Context(), a, admin, everything)
	if err != nil {
		t.Fatal(err)
	}
	for _, draft := range made {
		if _, err := issuing.Issue(t.Context(), a, admin, drafts.Edit{ID: draft.ID, Version: 1}); err != nil {
			t.Fatal(err)
		}
	}
	a.Clock = app.PinnedClock{Date: day.Of(2027, 1, 15)}
	owed, err := receivables.Owed(t.Context(), a, admin.Actor, receivables.Filter{})
	if err != nil {
		t.Fatal(err)
	}
	clients, err := reports.Clients(t.Context(), a, admin.Actor, reports.ClientFilter{Standing: "all"}, 0, 1000)
	if err != nil {
		t.Fatal(err)
	}
	rail := figures(t, a, admin.Actor)
	// 123.00, and 123.00 USD that were 110.70 and are 98.40.
	for of, got := range map[string][2]explain.Total{"the desk": {owed.Total, owed.Late}, "the clients": {clients.Owed, clients.Late},
		"the rail": {rail.Receivables.Amount, rail.Receivables.Late}} {
		if got[0].String() != "221.40" || got[1].String() != "221.40" {
			t.Errorf("%s: %s owed, %s late", of, got[0], got[1])
		}
		addsUp(t, of, got[0], got[1])
	}
	addsUp(t, "the desk", append(owed.Ages, owed.Exchange)...)
	for _, c := range clients.Clients {
		addsUp(t, c.Name, slices.Concat(c.Owed, c.Late)...)
	}
	if owed.Exchange.String() != "−12.30" {
		t.Errorf("exchange: %s", owed.Exchange)
	}
}

// addsUp fails unless the last step of each total is the total, and the steps before come to it.
func addsUp(t *testing.T, of string, totals ...explain.Total) {
	t.Helper()
	for _, total := range totals {
		sum := money.Zero(total.Currency)
		for _, step := range total.Explanation.Steps {
			minor, err := money.ParseFixed(step.Figure, money.Point, 2)
			if err != nil {
				t.Fatal(err)
			}
			sum.Minor += minor
		}
		if sum != total.Amount || total.Explanation.Figure != total.String() {
			t.Errorf("%s: the steps of %q come to %s, and it says %s of %s", of, total.Explanation.Label, sum, total.Explanation.Figure, total)
		}
	}
}

func TestAPhaseHasTheTimeOfItsTasks(t *testing.T) {
	a := apptest.Firm(t)
	phase := apptest.Add(t, a, "phases", "engagement", "1", "name", "Field work")
	task := apptest.Add(t, a, "phases", "engagement", "1", "name", "Soundings", "parent", "1")
	typed := apptest.Typed(apptest.Survey, "2026-11-20", "2:00")
	typed.PhaseID = task
	apptest.RecordTyped(t, a, typed)
	one, err := reports.Engagement(t.Context(), a, apptest.Admin.Actor, apptest.Survey)
	if err != nil || one.Minutes != 120 || len(one.Phases) != 2 {
		t.Fatalf("%+v, %v", one, err)
	}
	for _, p := range one.Phases {
		if p.Minutes != 120 || p.Worth.String() != "200.00" || p.PhaseID != phase && p.PhaseID != task {
			t.Errorf("%+v", p)
		}
	}
}
