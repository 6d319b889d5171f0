package setup_test

import (
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
)

// A link to a questionnaire writes once and never reads back; the answers stand on
// the record, each beside the field to which it is offered.
func TestAQuestionnaireIsAnsweredOnceAndOffered(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	if _, err := setup.AskClient(t.Context(), a, apptest.Admin,
		setup.Asking{ClientID: 1, QuestionnaireID: 1, Name: "Bo", Mail: "bo@client.example"}); err != nil {
		t.Fatal(err)
	}
	if err := correspondence.Deliver(t.Context(), a); err != nil {
		t.Fatal(err)
	}
	secret := mails.Find(t, "bo@client.example", `/questions#(\S+)`)
	page, err := setup.ReadQuestions(t.Context(), a, secret)
	if err != nil || len(page.Questions) != 6 || page.Answered || strings.Contains(page.Questions[0], ">") {
		t.Fatalf("%+v, %v", page, err)
	}
	if err := setup.AnswerQuestions(t.Context(), a, secret, []string{"one"}); err == nil ||
		!strings.Contains(err.Error(), "6 questions and 1 answers") {
		t.Errorf("%v", err)
	}
	answers := []string{"Alder Works Ltd", "1 Quay", "", "IE 1", "A-7", "Runa"}
	if err := setup.AnswerQuestions(t.Context(), a, secret, answers); err != nil {
		t.Fatal(err)
	}
	if err := setup.AnswerQuestions(t.Context(), a, secret, answers); err == nil || !strings.Contains(err.Error(), "answered already") {
		t.Errorf("a second time: %v", err)
	}
	if page, err := setup.ReadQuestions(t.Context(), a, secret); err != nil || !page.Answered ||
		strings.Contains(strings.Join(page.Questions, " "), "Alder Works") {
		t.Errorf("%+v, %v", page, err)
	}
	asked, err := setup.Questionnaires(t.Context(), a, apptest.Admin.Actor, 1)
	if err != nil || len(asked) != 1 || asked[0].AnsweredAt == nil {
		t.Fatalf("%+v, %v", asked, err)
	}
	if first := asked[0].Answers[0]; first.Answer != "Alder Works Ltd" || first.Label != "Name on invoices" || first.Now != "Client" {
		t.Errorf("%+v", first)
	}
	// What was empty is filled by the answer; what stood there stays until somebody takes it.
	sheet := apptest.Sheet(t, a, "clients", 1)
	for name, want := range map[string]string{"invoice_name": "Client", "tax_number": "IE 1"} {
		for _, v := range sheet.Values {
			if v.Name == name && v.Value != want {
				t.Errorf("%s is %q, not %q", name, v.Value, want)
			}
		}
	}
	if filled := asked[0].Answers[3]; filled.Now != "IE 1" {
		t.Errorf("an answer to an empty field: %+v", filled)
	}
	if free := asked[0].Answers[4]; free.Answer != "A-7" || free.Field != "" || free.Label != "" {
		t.Errorf("%+v", free)
	}
	apptest.Whole(t, a)
}

func TestAQuestionBelongsToAFieldThatIsThere(t *testing.T) {
	a := apptest.Firm(t)
	// the first three are for the firm to say
	for _, bad := range []string{"Your code > code", "Your rate > currency", "Terms > terms", "x > nothing"} {
		_, err := registry.AddRecord(t.Context(), a, apptest.Admin, "questionnaires", map[string]string{"name": "Bad", "questions": bad})
		if err == nil || !strings.Contains(err.Error(), "Clients have no field") {
			t.Errorf("%s: %v", bad, err)
		}
	}
	apptest.Add(t, a, "questionnaires", "name", "Good", "questions", "Where? > billing_address\n\n  Anything else?  ")
}

func TestALinkByHandIsShownOnce(t *testing.T) {
	a := apptest.Firm(t)
	sent, err := setup.AskClient(t.Context(), a, apptest.Admin, setup.Asking{ClientID: 2, QuestionnaireID: 1})
	if err != nil || !strings.HasPrefix(sent.Link, "http://firm.example/questions#") {
		t.Fatalf("%+v, %v", sent, err)
	}
	a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().AddDate(0, 0, 61)}
	_, secret, _ := strings.Cut(sent.Link, "#")
	if _, err := setup.ReadQuestions(t.Context(), a, secret); err == nil || !strings.Contains(err.Error(), "does not work any more") {
		t.Errorf("after 61 days: %v", err)
	}
}
