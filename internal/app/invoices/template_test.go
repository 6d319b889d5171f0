package invoices_test

import (
	"testing"

	"dorvet/internal/app/drafts"
	"dorvet/internal/apptest"
)

// An invoice is kept with its lines, texts, look and schedule; another begins with all of
// that. Recorded work is billed once, and stays out.
func TestAnInvoiceIsKeptAsATemplate(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	_, err := drafts.KeepTemplate(t.Context(), a, apptest.Admin, inv.ID, "Work alone")
	refused(t, err, "can be billed again")
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Chart; on paper", Quantity: "2", Price: "20", Unit: "sheets"})
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Binding", Amount: "10"})
	inv = chosen(t, a, inv, "schedule", "50% issue; 50% 30d", "invoice")
	inv = chosen(t, a, inv, "opening_text", "As agreed.", "invoice")
	inv = chosen(t, a, inv, "discount", "10", "invoice") // of this bill alone
	_, err = drafts.KeepTemplate(t.Context(), a, apptest.Admin, inv.ID, " ")
	refused(t, err, "a name")
	id, err := drafts.KeepTemplate(t.Context(), a, apptest.Admin, inv.ID, "Charts")
	if err != nil {
		t.Fatal(err)
	}
	_, err = drafts.KeepTemplate(t.Context(), a, apptest.Admin, inv.ID, "charts")
	refused(t, err, "already")
	next := begun(t, a, drafts.Beginning{ClientID: 2, TemplateID: id})
	if next.Net.String() != "50.00" || len(next.Lines) != 2 || next.Lines[0].Text != "Chart, on paper" || next.Lines[0].Unit != "sheets" ||
		next.Document.Opening != "As agreed." || len(next.Document.Payable) != 2 {
		t.Errorf("%+v", next)
	}
}

// Of one person's time only theirs is offered, by engagement.
func TestWhatOnePersonHasToBeBilled(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00")
	apptest.Record(t, a, apptest.Advice, "2026-11-20", "2:00")
	offer, err := drafts.SummaryOf(t.Context(), a, apptest.Admin.Actor, 1, apptest.Today)
	if err != nil || len(offer.People) != 1 || len(offer.People[0].Time) != 2 ||
		offer.People[0].Time[0].Minor+offer.People[0].Time[1].Minor != 300_00 {
		t.Errorf("%+v, %v", offer, err)
	}
}
