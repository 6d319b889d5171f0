package app_test

import (
	"errors"
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/identity"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

// A secret that is shown once is not kept under the key of its try, nor told again; an
// answer of the same kind that has none is.
func TestAnAnswerWithASecretIsNotKept(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Mail(a)
	r := apptest.Admin
	r.Key = "the same try"
	link, err := identity.Invite(t.Context(), a, r, 2)
	if err != nil {
		t.Fatal(err)
	}
	_, err = identity.Invite(t.Context(), a, r, 2)
	if refused := (*app.Refusal)(nil); !errors.As(err, &refused) || !strings.Contains(refused.Sentence, "shown once") {
		t.Errorf("asked again: %v", err)
	}
	apptest.Add(t, a, "questionnaires", "name", "Begin", "questions", "Your address")
	mailed := setup.Asking{ClientID: 1, QuestionnaireID: 1, Name: "Sig", Mail: "sig@client.example"}
	byHand := setup.Asking{ClientID: 1, QuestionnaireID: 1, Name: "Sig"}
	for key, asking := range map[string]setup.Asking{"mailed": mailed, "by hand": byHand} {
		r.Key = key
		first, err := setup.AskClient(t.Context(), a, r, asking)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := setup.AskClient(t.Context(), a, r, asking); (err == nil) != (first.Link == "") {
			t.Errorf("%s, asked again: %v", key, err)
		}
	}
	n, err := store.Count(a.Store.Read(t.Context(), store.Everything),
		"SELECT COUNT(*) FROM idempotency WHERE result LIKE '%#%' OR instr(result, ?) > 0", link.Secret)
	if err != nil || n > 0 {
		t.Errorf("%d answers are kept with their secret, %v", n, err)
	}
}
