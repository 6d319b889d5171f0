package invoices_test

import (
	"bytes"
	"encoding/xml"
	"io"
	"strings"
	"testing"

	"dorvet/core/invoice"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
	"dorvet/internal/documents"
	"dorvet/internal/store"
)

// real is a firm with real documents, in Ireland, and a client in Norway who reads
// German.
func real(t *testing.T) *app.App {
	t.Helper()
	a := apptest.Firm(t)
	a.Render, a.Drawing, a.Bind, a.Formats = documents.PDF, documents.Drawing, documents.Bound, documents.Formats{}
	for _, s := range [][3]string{{"country", "IE", "entities"}, {"tax_number", "VAT IE 0000000 X", "entities"},
		{"iban", "GB82 WEST 1234 5698 7654 32", "entities"}} {
		apptest.Set(t, a, s[2], 1, s[0], s[1])
	}
	apptest.Set(t, a, "clients", 1, "country", "NO")
	apptest.Set(t, a, "clients", 1, "language", "de")
	reachable(t, a)
	return a
}

func surveyed(t *testing.T, a *app.App) *invoices.Invoice {
	t.Helper()
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "1.5")
	return draftOf(t, a, apptest.Survey)
}

func TestADraftSpeaksTheLanguageOfItsClient(t *testing.T) {
	a := real(t)
	inv := surveyed(t, a)
	if p := inv.Printed; p.Title != "Rechnung" || p.Due.Label != "Zu zahlen" || p.Due.Text != "184,50" || p.Facts[2].Text != "31.12.2026" {
		t.Errorf("%+v", p)
	}
	if inv.Terms != "30 days" {
		t.Errorf("the desk says %q", inv.Terms)
	}
	apptest.Add(t, a, "wordings", "language", "de", "label", string(wording.AmountDue), "text", "Zahlbetrag")
	inv = chosen(t, a, inv, "title", "Honorarnote", "client")
	if p := inv.Printed; p.Title != "Honorarnote" || p.Due.Label != "Zahlbetrag" {
		t.Errorf("%+v", p)
	}
	inv = chosen(t, a, inv, "language", "fr", "invoice")
	if p := inv.Printed; p.Due.Label != "Net à payer" || p.Due.Text != "184,50" {
		t.Errorf("%+v", p)
	}
	inv = issue(t, a, inv)
	apptest.Set(t, a, "clients", 1, "language", "pl")
	if p := opened(t, a, inv.ID).Printed; p.Due.Label != "Net à payer" {
		t.Errorf("what was issued follows the client's language: %+v", p.Due)
	}
}

func TestAColourThatCannotBeReadOnPaperIsRefused(t *testing.T) {
	a := real(t)
	inv := surveyed(t, a)
	_, err := drafts.SetChoice(t.Context(), a, apptest.Admin, edit(inv),
		drafts.ChoiceChange{Name: "colour", Value: "#FFEE88", Keep: "invoice"})
	refused(t, err, "too light")
	_, err = drafts.SetChoice(t.Context(), a, apptest.Admin, edit(inv), drafts.ChoiceChange{Name: "colour", Value: "teal", Keep: "invoice"})
	refused(t, err, "six digits")
	if inv = chosen(t, a, inv, "colour", "7a2e1f", "invoice"); inv.Document.Look.Colour != "#7A2E1F" {
		t.Errorf("%q", inv.Document.Look.Colour)
	}
	_, err = registry.AddRecord(t.Context(), a, apptest.Admin, "wordings",
		map[string]string{"language": "de", "label": string(wording.PayBy), "text": "Bitte zahlen"})
	refused(t, err, "leaves out {amount}")
}

// The same revision makes the same file; another content, or another file, is a breach.
func TestTheSameRevisionMakesTheSameFile(t *testing.T) {
	a := real(t)
	issue(t, a, surveyed(t, a))
	drawn, breaches, err := papers.VerifyRendering(t.Context(), a, 100)
	if err != nil || drawn != 1 || len(breaches) != 0 {
		t.Fatalf("%d drawn, %v, %v", drawn, breaches, err)
	}
	// The revision can't be changed, so that the way of drawing is.
	a.Render = func(doc invoice.Document) ([]byte, error) {
		doc.Totals.Due.Minor++
		return documents.PDF(doc)
	}
	if _, breaches, err = papers.VerifyRendering(t.Context(), a, 100); err != nil || len(breaches) != 1 ||
		!strings.Contains(breaches[0], "N1 makes another file") {
		t.Errorf("%v, %v", breaches, err)
	}
	a.Drawing++
	if drawn, _, err = papers.VerifyRendering(t.Context(), a, 100); err != nil || drawn != 0 {
		t.Errorf("%d of another way of drawing were drawn, %v", drawn, err)
	}
}

func TestAFormatThatCannotSayAnInvoiceSaysWhyBeforeAnythingIsMade(t *testing.T) {
	a := real(t)
	one := issue(t, a, surveyed(t, a))
	apptest.Record(t, a, apptest.Study, "2026-11-30", "1")
	other := issue(t, a, draftOf(t, a, apptest.Study)) // of a client without a country
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "0.5")
	draft := draftOf(t, a, apptest.Survey)
	ids := []int64{one.ID, other.ID, draft.ID}
	check, err := papers.CheckForm(t.Context(), a, apptest.Admin.Actor, ids, "cii")
	if err != nil || check.Good != 1 || len(check.LeftOut) != 2 {
		t.Fatalf("%+v, %v", check, err)
	}
	why := map[int64]string{}
	for _, left := range check.LeftOut {
		why[left.ID] = left.Why
	}
	if !strings.Contains(why[other.ID], "has no country") || !strings.Contains(why[draft.ID], "issue it first") {
		t.Errorf("%v", why)
	}
	job, err := papers.BeginDocuments(t.Context(), a, apptest.Admin, ids, "cii", "x")
	done := ended(t, a, job, err)
	if !strings.Contains(done.Said, "1 document. 2 are left out.") || !strings.Contains(done.Said, "has no country") {
		t.Errorf("%q", done.Said)
	}
	name, content := saved(t, a, done)
	if name != "x.xml" || xml.Unmarshal(content, new(struct{})) != nil {
		t.Errorf("%s: %s", name, content)
	}
	_, err = papers.BeginDocuments(t.Context(), a, apptest.Lead, []int64{one.ID}, "cii", "x")
	refused(t, err, "ask a billing administrator")
	_, _, err = papers.FileIn(t.Context(), a, apptest.Lead, one.ID, "ledes")
	refused(t, err, "ask a billing administrator")
	_, err = papers.BeginDocuments(t.Context(), a, apptest.Admin, ids[1:], "cii", "x")
	refused(t, err, "has no country")
	_, _, err = papers.FileIn(t.Context(), a, apptest.Admin, other.ID, "cii")
	refused(t, err, "has no country")
	_, _, err = papers.FileIn(t.Context(), a, apptest.Admin, other.ID, "tiff")
	refused(t, err, "no form")
	if _, content, err := papers.FileIn(t.Context(), a, apptest.Admin, other.ID, "csv"); err != nil ||
		!bytes.Contains(content, []byte("80.00")) {
		t.Errorf("%s, %v", content, err)
	}
	states, err := papers.FormsOf(t.Context(), a, apptest.Admin.Actor, draft.ID)
	if err != nil {
		t.Fatal(err)
	}
	for _, s := range states {
		if s.Name == "cii" && s.Why != "" || s.Name == "ledes" && !strings.Contains(s.Why, "tax") {
			t.Errorf("of a draft it is known before what will be: %+v", s)
		}
	}
}

// What the client may have can't be taken back: it is credited.
func TestAnInvoiceThatLeftTheHouseAsAFileIsNotReopened(t *testing.T) {
	a := real(t)
	inv := issue(t, a, surveyed(t, a))
	if _, _, err := papers.FileIn(t.Context(), a, apptest.Admin, inv.ID, "json"); err != nil {
		t.Fatal(err)
	}
	again, err := apptest.Invoice(t.Context(), a)(issuing.Reopen(t.Context(), a, apptest.Admin, edit(opened(t, a, inv.ID))))
	if err != nil {
		t.Fatalf("a look at the data is no delivery: %v", err)
	}
	inv = issue(t, a, again)
	name, content, err := papers.FileIn(t.Context(), a, apptest.Admin, inv.ID, "cii")
	if err != nil || name != "N1 Alder 2026-12-01.xml" || !bytes.Contains(content, []byte("<ram:ID>N1</ram:ID>")) {
		t.Fatalf("%s %s, %v", name, content, err)
	}
	_, err = issuing.Reopen(t.Context(), a, apptest.Admin, edit(opened(t, a, inv.ID)))
	refused(t, err, "make a credit note instead")
	rows, err := a.History(t.Context(), apptest.Admin.Actor, app.OfInvoice, inv.ID)
	if err != nil || !strings.Contains(rows[0].Summary, "E-invoice") {
		t.Errorf("%+v, %v", rows, err)
	}
	apptest.Whole(t, a)
}

// What is billed is kept line by line with the codes that files have, whatever is
// printed; a credit note is said as one.
func TestTheLinesOfFilesAreKeptWhateverIsPrinted(t *testing.T) {
	a := real(t)
	apptest.Set(t, a, "services", 1, "task_code", "L130")
	apptest.Set(t, a, "services", 1, "activity_code", "A104")
	apptest.Record(t, a, apptest.Survey, "2026-11-28", "1.5")
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "0.5")
	inv := draftOf(t, a, apptest.Survey)
	inv = chosen(t, a, inv, "layout", "sum", "invoice")
	inv = chosen(t, a, inv, "discount", "10", "invoice")
	inv = issue(t, a, inv)
	b := inv.Document.Billed
	if len(inv.Document.Sections[0].Lines) != 1 || len(b) != 2 || b[0].Task != "L130" || b[0].Activity != "A104" || b[0].Code != "1" ||
		b[0].Worked.Initials == "" || b[0].Worked.Class != "OT" || b[0].Lead.Initials != "LL" || b[0].Minutes != 90 {
		t.Errorf("%+v", b)
	}
	note, err := apptest.Invoice(t.Context(), a)(issuing.Credit(t.Context(), a, apptest.Admin, edit(inv),
		issuing.Crediting{Reason: "Ours", Lines: []issuing.CreditedLine{{LineID: inv.Lines[0].LineID, Amount: "150"},
			{LineID: inv.Lines[1].LineID, Amount: "50"}}}))
	if err != nil {
		t.Fatal(err)
	}
	_, content, err := papers.FileIn(t.Context(), a, apptest.Admin, note.ID, "cii")
	if err != nil || !bytes.Contains(content, []byte("<ram:TypeCode>381</ram:TypeCode>")) ||
		!bytes.Contains(content, []byte("<ram:AllowanceTotalAmount>20.00</ram:AllowanceTotalAmount>")) ||
		!bytes.Contains(content, []byte("<ram:IssuerAssignedID>N1</ram:IssuerAssignedID>")) {
		t.Errorf("%s, %v", content, err)
	}
}

func TestTheLookIsTriedOnBeforeItIsKept(t *testing.T) {
	a := real(t)
	first, err := papers.Sample(t.Context(), a, apptest.Admin.Actor, map[string]string{"design": "band", "language": "el"})
	if err != nil || !bytes.HasPrefix(first, []byte("%PDF")) {
		t.Fatal(err)
	}
	second, err := papers.Sample(t.Context(), a, apptest.Admin.Actor, map[string]string{"design": "column", "language": "el"})
	if err != nil || bytes.Equal(first, second) {
		t.Errorf("two designs are the same, %v", err)
	}
	_, err = papers.Sample(t.Context(), a, apptest.Admin.Actor, map[string]string{"colour": "#FFFFFF"})
	refused(t, err, "too light")
	_, err = papers.Sample(t.Context(), a, apptest.Admin.Actor, map[string]string{"terms": "30d"})
	refused(t, err, "could be tried on")
	if rows, err := store.All[store.Act](a.Store.Read(t.Context(), store.Everything), "id DESC"); err != nil ||
		strings.Contains(rows[0].Summary, "Look") {
		t.Errorf("trying on is no act: %+v, %v", rows[0], err)
	}
}

func finding(inv *invoices.Invoice, code string) *issuing.DraftFinding {
	for i := range inv.Findings {
		if inv.Findings[i].Code == code {
			return &inv.Findings[i]
		}
	}
	return nil
}

// A character that would be lost on paper is found on the line where it stands, before
// the draft is issued.
func TestACharacterThatCannotBePrintedIsFoundBeforeIssue(t *testing.T) {
	a := real(t)
	inv := surveyed(t, a)
	if f := finding(inv, "unprintable"); f != nil {
		t.Fatalf("%+v", f)
	}
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Snow ☃", Amount: "1"})
	f := finding(inv, "unprintable")
	if f == nil || f.LineID == 0 || f.Level != invoice.Block || !strings.Contains(f.Text, "“☃” stands in “Snow ☃") {
		t.Fatalf("%+v", inv.Findings)
	}
	_, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv))
	refused(t, err, "☃")
	inv = chosen(t, a, inv, "opening_text", "水", "invoice")
	n := 0
	for _, f := range inv.Findings {
		if f.Code == "unprintable" {
			n++
		}
	}
	if n != 2 {
		t.Errorf("%+v", inv.Findings)
	}
}

func TestAFirmThatAsksForEInvoicesIsToldOfWhatIsMissing(t *testing.T) {
	a := real(t)
	apptest.Set(t, a, "clients", 1, "country", "")
	inv := surveyed(t, a)
	if f := finding(inv, "no_einvoice"); f != nil {
		t.Errorf("nobody asked: %+v", f)
	}
	take(t, a, "no_einvoice", "block")
	if f := finding(opened(t, a, inv.ID), "no_einvoice"); f == nil || !strings.Contains(f.Text, "The client has no country") {
		t.Errorf("%+v", f)
	}
	apptest.Set(t, a, "clients", 1, "country", "NO")
	if f := finding(opened(t, a, inv.ID), "no_einvoice"); f != nil {
		t.Errorf("%+v", f)
	}
}

// reopening is somebody who reopens the invoice while its file is made.
type reopening struct {
	documents.Formats
	act func()
}

func (r reopening) One(w io.Writer, form string, doc invoice.Document) error {
	r.act()
	return r.Formats.One(w, form, doc)
}

func TestAFileOfAnInvoiceThatIsReopenedMeanwhileIsNotGivenOut(t *testing.T) {
	a := real(t)
	inv := issue(t, a, surveyed(t, a))
	a.Formats = reopening{act: func() {
		if _, err := issuing.Reopen(t.Context(), a, apptest.Admin, edit(opened(t, a, inv.ID))); err != nil {
			t.Error(err)
		}
	}}
	_, content, err := papers.FileIn(t.Context(), a, apptest.Admin, inv.ID, "cii")
	refused(t, err, "was reopened while the file was made")
	if content != nil {
		t.Errorf("%s is given out", content)
	}
}
