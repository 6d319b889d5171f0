package setup_test

import (
	"errors"
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
)

// A step has a link that a browser opens, and keeps what was got of it.
func TestAStepHasALinkAndAFile(t *testing.T) {
	a := apptest.Firm(t)
	for link, says := range map[string]string{"javascript:alert(1)": "no address of a page", "forms.example": "no address of a page",
		"https://forms.example/letter": ""} {
		_, err := registry.AddRecord(t.Context(), a, apptest.Admin, "client-steps",
			map[string]string{"client": "A", "name": "Letter " + link, "link": link})
		if says == "" && err != nil || says != "" && (err == nil || !strings.Contains(err.Error(), says)) {
			t.Errorf("%s: %v", link, err)
		}
	}
	id := apptest.Add(t, a, "client-steps", "client", "A", "name", "Signed letter")
	if err := setup.SetStepFile(t.Context(), a, apptest.Admin, id, "letter.pdf", []byte("words")); err == nil {
		t.Error("a file of words was taken")
	}
	if err := setup.SetStepFile(t.Context(), a, apptest.Admin, id, "letter.pdf", []byte("%PDF-1.7\n%%EOF")); err != nil {
		t.Fatal(err)
	}
	name, mediaType, content, err := setup.StepFile(t.Context(), a, apptest.Admin.Actor, id)
	if err != nil || name != "letter.pdf" || mediaType != "application/pdf" || len(content) == 0 {
		t.Errorf("%s, %s, %d bytes, %v", name, mediaType, len(content), err)
	}
	if swept, err := a.Store.SweepUploads(t.Context(), a.Clock.Now().AddDate(1, 0, 0)); err != nil || swept != 0 {
		t.Errorf("%d files that are named were swept, %v", swept, err)
	}
	if err := setup.SetStepFile(t.Context(), a, apptest.Admin, id, "none", nil); err != nil {
		t.Fatal(err)
	}
	_, _, _, err = setup.StepFile(t.Context(), a, apptest.Admin.Actor, id)
	if refusal := new(app.Refusal); !errors.As(err, &refusal) {
		t.Errorf("a file that was taken away: %v", err)
	}
	// Of a client of others a lead reads nothing.
	other := apptest.Add(t, a, "client-steps", "client", "B", "name", "Signed letter")
	if _, _, _, err := setup.StepFile(t.Context(), a, apptest.Lead.Actor, other); err == nil {
		t.Error("a lead reads the file of another's client")
	}
}
