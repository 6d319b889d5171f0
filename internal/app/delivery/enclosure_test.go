package delivery_test

import (
	"slices"
	"testing"

	"dorvet/internal/app/delivery"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
)

// A file of the firm's own goes along with the invoices of whom the profile names it for, unless one letter does without.
func TestAFileOfOursGoesAlongAsTheProfileSays(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	id := apptest.Add(t, a, "enclosures", "name", "Terms")
	inv := apptest.Issued(t, a, apptest.Survey)
	preview := func(s delivery.Handover) *delivery.Letter {
		t.Helper()
		letters, err := delivery.Preview(t.Context(), a, apptest.Admin.Actor, []int64{inv.ID}, s)
		must(t, err)
		return &letters[0]
	}
	if l := preview(delivery.Handover{}); l.Attach.Enclosure || len(l.Files) != 1 {
		t.Errorf("nothing is named, and it goes with %v", l.Files)
	}
	apptest.Set(t, a, "clients", 1, "enclosure", "Terms")
	if l := preview(delivery.Handover{}); !l.Attach.Enclosure || len(l.Files) != 1 {
		t.Errorf("no file is chosen yet, and it goes with %v", l.Files)
	}
	if err := setup.SetEnclosureFile(t.Context(), a, apptest.Admin, id, "terms.pdf", []byte("words")); apptest.RefusalOf(t, err) == nil {
		t.Error("what is neither a PDF nor a picture is kept")
	}
	must(t, setup.SetEnclosureFile(t.Context(), a, apptest.Admin, id, "terms.pdf", []byte("%PDF-1.7\n%%EOF")))
	if l := preview(delivery.Handover{}); !slices.Contains(l.Files, "terms.pdf") {
		t.Errorf("it goes with %v", l.Files)
	}
	if l := preview(delivery.Handover{Attach: &delivery.Attach{PDF: true}}); slices.Contains(l.Files, "terms.pdf") {
		t.Errorf("without it, it goes with %v", l.Files)
	}
	_, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{})
	must(t, err)
	deliver(t, a)
	if sent := mails.All[0].Files; len(sent) != 2 || sent[1].Name != "terms.pdf" || string(sent[1].Content) != "%PDF-1.7\n%%EOF" {
		t.Errorf("%+v", sent)
	}
	if _, _, _, err := setup.EnclosureFile(t.Context(), a, apptest.Admin.Actor, id+1); apptest.RefusalOf(t, err) == nil {
		t.Error("a file that is not there is read")
	}
}
