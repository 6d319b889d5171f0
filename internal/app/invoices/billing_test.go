package invoices_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
	appwip "dorvet/internal/app/wip"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

var november = day.Of(2026, 11, 30)

// make makes drafts of engagements and opens the first.
func draftOf(t testing.TB, a *app.App, engagements ...int64) *invoices.Invoice {
	t.Helper()
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: engagements})
	if err != nil {
		t.Fatal(err)
	}
	return opened(t, a, made[0].ID)
}

func opened(t testing.TB, a *app.App, id int64) *invoices.Invoice {
	t.Helper()
	inv, err := invoices.One(t.Context(), a, apptest.Admin.Actor, id)
	if err != nil {
		t.Fatal(err)
	}
	if err := toNet(inv); err != nil {
		t.Error(err)
	}
	return inv
}

// toNet fails unless what lies between standard and net leads from one to the other.
func toNet(inv *invoices.Invoice) error {
	if inv.FromStandard.Figure != inv.Net.String() {
		return fmt.Errorf("from standard %s comes to %s, net is %s", inv.Standard, inv.FromStandard.Figure, inv.Net)
	}
	return nil
}

func edit(inv *invoices.Invoice) drafts.Edit { return drafts.Edit{ID: inv.ID, Version: inv.Version} }

// What is taken out of a draft, and put on it.
func entries(ids ...int64) drafts.Rows      { return drafts.Rows{PortionIDs: ids} }
func linesOf(ids ...int64) drafts.Rows      { return drafts.Rows{LineIDs: ids} }
func unbilledOnes(ids ...int64) drafts.Back { return drafts.Back{PortionIDs: ids} }

func listed(t testing.TB, a *app.App) *appwip.UnbilledList {
	t.Helper()
	list, err := appwip.Unbilled(t.Context(), a, apptest.Admin.Actor, appwip.Filter{UpTo: november})
	if err != nil {
		t.Fatal(err)
	}
	return list
}

func refused(t *testing.T, err error, says string) {
	t.Helper()
	var r *app.Refusal
	if !errors.As(err, &r) || !strings.Contains(r.Sentence, says) {
		t.Errorf("%v; want a refusal that says %q", err, says)
	}
}

func TestACombinedClientGetsOneInvoiceAnotherSeparateOnes(t *testing.T) {
	a := apptest.Firm(t)
	for _, engagement := range []int64{apptest.Survey, apptest.Advice, apptest.Study} {
		apptest.Record(t, a, engagement, "2026-11-30", "1:00")
	}
	apptest.Record(t, a, apptest.Survey, "2026-12-01", "1:00") // after the cut-off
	tally, err := runs.Preview(t.Context(), a, apptest.Admin.Actor,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{1, 2, 3}})
	if err != nil || tally.Drafts != 2 || tally.Net[0].String() != "280.00" || tally.Time[0].String() != "280.00" || tally.Minutes != 180 {
		t.Errorf("%+v, %v", tally, err)
	}
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{1, 2, 3}})
	if err != nil || len(made) != 2 || made[0].Net.String() != "200.00" || made[1].Net.String() != "80.00" {
		t.Fatalf("%+v, %v", made, err)
	}
	if list := listed(t, a); len(list.Clients) != 0 {
		t.Errorf("what is on a draft is still offered: %+v", list)
	}
	apptest.Whole(t, a)
}

func TestADraftIsComputedAndExplained(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1:25")
	free := apptest.Typed(apptest.Study, "2026-11-29", "0:30")
	free.Treatment = wip.NoCharge
	if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, free); err != nil {
		t.Fatal(err)
	}
	inv := draftOf(t, a, apptest.Study)
	if inv.NextNumber != "N1" || inv.Net.String() != "120.00" || inv.Tax.String() != "27.60" || inv.Total.String() != "147.60" ||
		inv.Due != day.Of(2026, 12, 31) {
		t.Errorf("%+v", inv.Summary)
	}
	if inv.Given.NoCharge.String() != "−50.00" || inv.Given.Rates.String() != "−30.00" {
		t.Errorf("%+v", inv.Given)
	}
	if inv.Standard.String() != "200.00" || inv.Realisation.String() != "60" {
		t.Errorf("realisation %s %% of %s", inv.Realisation, inv.Standard)
	}
	if line := inv.Document.Sections[0].Lines[0]; line.Note != "no charge" || line.Rate != "" || !line.Amount.IsZero() {
		t.Errorf("%+v", line)
	}
	lines := inv.Explanation.Steps[0]
	if lines.Figure != "120.00" || len(lines.Steps) != 2 || lines.Steps[1].Steps[1].Label != "Rate of the client Birch" {
		t.Errorf("%+v", lines)
	}
}

func TestTakingOutAndPuttingBackOn(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "2:00")
	inv := draftOf(t, a, apptest.Survey)
	portion := inv.Lines[0].PortionID
	changed, err := apptest.Invoice(t.Context(), a)(drafts.TakeOut(t.Context(), a, apptest.Admin, edit(inv), entries(portion)))
	if err != nil || changed.Net.String() != "200.00" || len(changed.LeftOut) != 1 || len(listed(t, a).Clients) != 1 {
		t.Fatalf("%+v, %v", changed, err)
	}
	apptest.Whole(t, a)
	_, err = drafts.PutOn(t.Context(), a, apptest.Admin, edit(inv), unbilledOnes(portion))
	refused(t, err, "Somebody else has changed this")
	back, err := apptest.Invoice(t.Context(), a)(drafts.PutOn(t.Context(), a, apptest.Admin, edit(changed), unbilledOnes(portion)))
	if err != nil || back.Net.String() != "300.00" || len(back.LeftOut) != 0 {
		t.Fatalf("%+v, %v", back, err)
	}
	_, err = drafts.PutOn(t.Context(), a, apptest.Admin, edit(back), unbilledOnes(portion))
	refused(t, err, "not unbilled any more")
	apptest.Whole(t, a)
}

// Many rows are one act: all of them or none, told once, put on again in one.
func TestManyLinesAreTakenOutAtOnce(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-28", "1:00")
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "2:00")
	inv := byHand(t, a, draftOf(t, a, apptest.Survey), drafts.LineTyped{Text: "Chart", Quantity: "2", Price: "10", Unit: "sheets"})
	rows := drafts.Rows{PortionIDs: []int64{inv.Lines[0].PortionID, inv.Lines[1].PortionID}, LineIDs: []int64{inv.Lines[2].LineID}}
	without, err := apptest.Invoice(t.Context(), a)(drafts.TakeOut(t.Context(), a, apptest.Admin, edit(inv), rows))
	if err != nil || len(without.Lines) != 0 || len(without.LeftOut) != 2 {
		t.Fatalf("%+v, %v", without, err)
	}
	apptest.Whole(t, a)
	back := drafts.Back{PortionIDs: rows.PortionIDs, Lines: []drafts.LineTyped{{Text: "Chart", Quantity: "2", Price: "10", Unit: "sheets"}}}
	again, err := apptest.Invoice(t.Context(), a)(drafts.PutOn(t.Context(), a, apptest.Admin, edit(without), back))
	if err != nil || again.Net != inv.Net || len(again.Lines) != 3 || again.Lines[2].Unit != "sheets" {
		t.Fatalf("%+v, %v", again, err)
	}
	apptest.Whole(t, a)
	_, err = drafts.TakeOut(t.Context(), a, apptest.Admin, edit(again), drafts.Rows{})
	refused(t, err, "at least one line")
	_, err = drafts.TakeOut(t.Context(), a, apptest.Admin, edit(again), drafts.Rows{PortionIDs: rows.PortionIDs, LineIDs: []int64{999}})
	refused(t, err, "not on the draft any more")
	if same, err := invoices.One(t.Context(), a, apptest.Admin.Actor, inv.ID); err != nil || len(same.Lines) != 3 {
		t.Errorf("what is refused changes nothing: %+v, %v", same, err)
	}
}

func TestAnInvoiceNamesOnlyEngagementsThatItBills(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-30", "2:00")
	inv := draftOf(t, a, apptest.Survey, apptest.Advice)
	without, err := apptest.Invoice(t.Context(), a)(drafts.TakeOut(t.Context(), a, apptest.Admin, edit(inv), entries(inv.Lines[1].PortionID)))
	if err != nil || len(without.LeftOut) != 1 {
		t.Fatalf("%+v, %v", without, err)
	}
	if issued, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(without))); err != nil ||
		issued.Engagements != "Survey" {
		t.Fatalf("%+v, %v", issued, err)
	}
	if work := listed(t, a).Clients[0].Engagements[0]; work.Engagement != "Advice" || !work.LastBilled.IsZero() {
		t.Errorf("%+v", work)
	}
	apptest.Whole(t, a)
}

func TestAChangedTextIsTheInvoicesAlone(t *testing.T) {
	a := apptest.Firm(t)
	entry := apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := draftOf(t, a, apptest.Survey)
	changed, err := apptest.Invoice(t.Context(), a)(drafts.SetText(t.Context(), a, apptest.Admin, edit(inv), inv.Lines[0].LineID,
		"Survey of the pier"))
	if err != nil || changed.Document.Sections[0].Lines[0].Text != "Survey of the pier" {
		t.Fatalf("%+v, %v", changed, err)
	}
	if kept, err := timekeeping.One(t.Context(), a, apptest.Admin.Actor, entry.ID); err != nil || kept.Text != "work" {
		t.Errorf("the entry says %q, %v", kept.Text, err)
	}
	_, err = drafts.SetText(t.Context(), a, apptest.Admin, edit(changed), inv.Lines[0].LineID, "")
	refused(t, err, "give the line a text")
}

func TestAnIssuedInvoiceIsFrozenOwedAndBilled(t *testing.T) {
	a := apptest.Firm(t)
	entry := apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := draftOf(t, a, apptest.Survey)
	name, _, err := papers.File(t.Context(), a, apptest.Admin.Actor, inv.ID)
	if err != nil || !strings.HasPrefix(name, "draft ") {
		t.Errorf("a draft on paper: %q, %v", name, err)
	}
	issued, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(inv)))
	if err != nil || issued.Number != "N1" || issued.State != invoice.Issued || issued.Document.Number != "N1" {
		t.Fatalf("%+v, %v", issued, err)
	}
	apptest.Whole(t, a)
	name, content, err := papers.File(t.Context(), a, apptest.Admin.Actor, inv.ID)
	if err != nil || name != "N1 Alder 2026-12-01.pdf" || string(content) != "N1" {
		t.Errorf("%q, %q, %v", name, content, err)
	}
	open, err := store.OpenInstalments(a.Store.Read(t.Context(), store.Everything), nil)
	if err != nil || len(open) != 1 || open[0].Open != 12300 || open[0].DueDay != day.Of(2026, 12, 31) {
		t.Errorf("%+v, %v", open, err)
	}
	_, err = timekeeping.Change(t.Context(), a, apptest.Staff, entry.ID, entry.Version, apptest.Typed(apptest.Survey, "2026-11-29", "2:00"))
	refused(t, err, "billed on N1")
	_, err = drafts.TakeOut(t.Context(), a, apptest.Admin, edit(issued), entries(inv.Lines[0].PortionID))
	refused(t, err, "because it is issued")
	refused(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(issued)), "because it is issued")
	history, err := a.History(t.Context(), apptest.Admin.Actor, app.OfEntry, entry.ID)
	if err != nil || len(history) != 3 || history[0].Summary != "Issued N1 over 123.00 EUR" {
		t.Errorf("%+v, %v", history, err)
	}
}

func TestWhatWasIssuedDoesNotFollowLaterChanges(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := draftOf(t, a, apptest.Survey)
	if _, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv)); err != nil {
		t.Fatal(err)
	}
	err := a.Store.Write(t.Context(), store.Everything, func(tx *store.DB) error {
		client, err := store.Get[store.Client](tx, 1)
		if err != nil {
			return err
		}
		client.InvoiceName = "Another name"
		return store.Save(tx, client)
	})
	if got := opened(t, a, inv.ID); err != nil || got.Document.Client.Name != "Client" {
		t.Errorf("%q, %v", got.Document.Client.Name, err)
	}
}

func TestADeletedDraftGivesEverythingBack(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := draftOf(t, a, apptest.Survey)
	if err := drafts.Delete(t.Context(), a, apptest.Admin, edit(inv)); err != nil {
		t.Fatal(err)
	}
	if list := listed(t, a); list.Totals[0].String() != "100.00" {
		t.Errorf("%+v", list.Totals)
	}
	_, err := invoices.One(t.Context(), a, apptest.Admin.Actor, inv.ID)
	refused(t, err, "no such invoice")
	apptest.Whole(t, a)
}

func TestWhatCantBeIssued(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := draftOf(t, a, apptest.Survey)
	empty, err := apptest.Invoice(t.Context(), a)(drafts.TakeOut(t.Context(), a, apptest.Admin, edit(inv), entries(inv.Lines[0].PortionID)))
	if err != nil {
		t.Fatal(err)
	}
	_, err = issuing.Issue(t.Context(), a, apptest.Admin, edit(empty))
	refused(t, err, "Nothing on it")

	apptest.Record(t, a, apptest.Study, "2026-11-29", "1:00")
	later := draftOf(t, a, apptest.Study)
	if _, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(later)); err != nil {
		t.Fatal(err)
	}
	apptest.Record(t, a, apptest.Advice, "2026-11-29", "1:00")
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: november, EngagementIDs: []int64{apptest.Advice}})
	if err != nil {
		t.Fatal(err)
	}
	_, err = issuing.Issue(t.Context(), a, apptest.Admin, edit(opened(t, a, made[0].ID)))
	refused(t, err, "Dates would not follow numbers. The invoice before it is dated 1 Dec 2026.")
	apptest.Whole(t, a)
}

func TestAFailedIssueLeavesNothingAndNoGap(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := draftOf(t, a, apptest.Survey)
	render := a.Render
	a.Render = func(invoice.Document) ([]byte, error) { return nil, errors.New("no ink") }
	if _, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv)); err == nil {
		t.Fatal("issued without a document")
	}
	apptest.Whole(t, a)
	a.Render = func(invoice.Document) ([]byte, error) {
		return nil, &invoice.Unprintable{Text: "survey 水", Character: '水'}
	}
	_, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv))
	refused(t, err, "The typeface of the document has no “水”, which stands in “survey 水”")
	a.Render = render
	if issued, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(inv))); err != nil ||
		issued.Number != "N1" {
		t.Errorf("%+v, %v", issued, err)
	}
	apptest.Whole(t, a)
}

func TestTwoAdministratorsAtOnceBillNothingTwice(t *testing.T) {
	a := apptest.Firm(t)
	for i := range 20 {
		apptest.Record(t, a, []int64{1, 2, 3}[i%3], "2026-11-29", "1:00")
	}
	var wait sync.WaitGroup
	for range 4 {
		wait.Go(func() {
			made, err := runs.MakeDrafts(context.Background(), a, apptest.Admin,
				unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{1, 2, 3}})
			if err != nil {
				return // the other one was first
			}
			for _, draft := range made {
				inv, err := invoices.One(context.Background(), a, apptest.Admin.Actor, draft.ID)
				if err == nil {
					_, err = issuing.Issue(context.Background(), a, apptest.Admin, edit(inv))
				}
				if err != nil {
					t.Error(err)
				}
			}
		})
	}
	wait.Wait()
	register, err := invoices.Register(t.Context(), a, apptest.Admin.Actor, invoices.Filter{})
	if err != nil || len(register) != 2 {
		t.Errorf("%d invoices, %v", len(register), err)
	}
	apptest.Whole(t, a)
}

func TestALeadSeesTheirInvoicesAlone(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	apptest.Record(t, a, apptest.Study, "2026-11-29", "1:00")
	draftOf(t, a, apptest.Survey)
	other := draftOf(t, a, apptest.Study)
	drafts, err := invoices.Drafts(t.Context(), a, apptest.Lead.Actor, invoices.Filter{})
	if err != nil || len(drafts) != 1 || drafts[0].Engagements != "Survey" {
		t.Errorf("%+v, %v", drafts, err)
	}
	_, err = invoices.One(t.Context(), a, apptest.Lead.Actor, other.ID)
	refused(t, err, "no such invoice")
}

func BenchmarkDraftsAndIssueOf25Entries(b *testing.B) {
	a := apptest.Firm(b)
	for b.Loop() {
		b.StopTimer()
		for i := range 25 {
			apptest.Record(b, a, apptest.Survey, fmt.Sprintf("2026-11-%02d", i+1), "1:00")
		}
		b.StartTimer()
		inv := draftOf(b, a, apptest.Survey)
		if _, err := issuing.Issue(b.Context(), a, apptest.Admin, edit(inv)); err != nil {
			b.Fatal(err)
		}
	}
}

// Due dates by hand: 1 December and 14 days are the 15th; end of month then 15
// days is 15 January.
func TestOtherTermsHoldForOneInvoiceOrFromNowOn(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "engagements", apptest.Survey, "terms", "30d")
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1")
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	if err != nil {
		t.Fatal(err)
	}
	holds := func(kind string, id int64) string {
		t.Helper()
		sheet, err := registry.Read(t.Context(), a, apptest.Admin.Actor, kind, id)
		if err != nil {
			t.Fatal(err)
		}
		for _, v := range sheet.Values {
			if v.Name == "terms" {
				return v.Value
			}
		}
		return ""
	}
	for _, c := range []struct {
		terms                       string
		keep                        string
		due, client, survey, advice string
	}{{"14d", "invoice", "2026-12-15", "30d", "30d", "30d"}, {"EOM+15d", "client", "2027-01-15", "eom+15d", "eom+15d", "eom+15d"}} {
		draft, err := invoices.One(t.Context(), a, apptest.Admin.Actor, made[0].ID)
		if err != nil {
			t.Fatal(err)
		}
		draft, err = apptest.Invoice(t.Context(), a)(drafts.SetChoice(t.Context(), a, apptest.Admin,
			drafts.Edit{ID: draft.ID, Version: draft.Version}, drafts.ChoiceChange{Name: "terms", Value: c.terms, Keep: c.keep}))
		if err != nil || draft.Due.String() != c.due {
			t.Fatalf("%s: %+v, %v", c.terms, draft, err)
		}
		if holds("clients", 1) != c.client || holds("engagements", apptest.Survey) != c.survey ||
			holds("engagements", apptest.Advice) != c.advice {
			t.Errorf("%s, kept for the %s: client %s, survey %s, advice %s", c.terms, c.keep, holds("clients", 1),
				holds("engagements", apptest.Survey), holds("engagements", apptest.Advice))
		}
		if _, err := drafts.SetChoice(t.Context(), a, apptest.Admin, drafts.Edit{ID: draft.ID, Version: draft.Version},
			drafts.ChoiceChange{Name: "terms", Value: "soon", Keep: "invoice"}); err == nil {
			t.Error("unknown terms are taken")
		}
	}
	apptest.Whole(t, a)
}
