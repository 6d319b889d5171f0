package clientaccount_test

import (
	"context"
	"errors"
	"slices"
	"strings"
	"testing"
	"time"

	core "dorvet/core/onlinepayment"

	"dorvet/core/letter"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/clientaccount"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/paying"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/setup"
	"dorvet/internal/apptest"
	"dorvet/internal/simulator"
	"dorvet/internal/store"
)

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// firm is one with an invoice of Survey at Alder, whose contact Ann got a link; Bo is a contact of Advice alone, Cy gets statements.
func firm(t *testing.T) (a *app.App, inv *invoices.Invoice, secret string, mails *apptest.Letters) {
	t.Helper()
	a = apptest.Firm(t)
	mails = apptest.Mail(a)
	apptest.Add(t, a, "contacts", "client", "A", "name", "Ann", "mail", "ann@alder.example", "gets_invoices", "yes", "gets_statements", "no")
	apptest.Add(t, a, "contacts", "client", "A", "name", "Bo", "mail", "bo@alder.example", "gets_invoices", "yes", "engagement", "2")
	apptest.Add(t, a, "contacts", "client", "A", "name", "Cy", "mail", "cy@alder.example", "gets_statements", "yes", "gets_invoices", "no",
		"gets_proposals", "no")
	inv = apptest.Issued(t, a, apptest.Survey)
	return a, inv, apptest.Sent(t, a, mails, inv.ID), mails
}

// ask asks for a code, and waits until its mail is out.
func ask(t *testing.T, a *app.App, secret, address string) {
	t.Helper()
	must(t, clientaccount.AskCode(t.Context(), a, secret, address))
	a.Jobs.Wait()
}

// No mail server tells nobody whether an address is known.
func TestAskingForACodeAnswersTheSameWhereNoMailGoesOut(t *testing.T) {
	a, _, secret, _ := firm(t)
	a.Mail = func(context.Context, letter.Letter) error { return errors.New("no server") }
	for _, address := range []string{"ann@alder.example", "stranger@elsewhere.example"} {
		if err := clientaccount.AskCode(t.Context(), a, secret, address); err != nil {
			t.Errorf("%s: %v", address, err)
		}
	}
	a.Jobs.Wait()
}

// opened opens the account by a code to an address.
func opened(t *testing.T, a *app.App, mails *apptest.Letters, secret, address string) string {
	t.Helper()
	ask(t, a, secret, address)
	got, err := clientaccount.Open(t.Context(), a, secret, mails.Find(t, address, `code is (\d{6})`))
	must(t, err)
	return got.Secret
}

// Source: RFC 4226, 7.3: guesses are bounded. A code is of six digits, works five times at most, for a while, and opens once.
func TestAnAccountOpensByACodeAlone(t *testing.T) {
	a, _, secret, mails := firm(t)
	if _, err := clientaccount.Open(t.Context(), a, secret, "123456"); apptest.RefusalOf(t, err) == nil {
		t.Error("it opens without a code")
	}
	before := len(mails.All)
	ask(t, a, secret, "stranger@elsewhere.example") // as it answers to whom it knows
	if len(mails.All) != before {
		t.Errorf("a stranger gets a code: %+v", mails.All[before:])
	}
	_, err := clientaccount.Open(t.Context(), a, secret, "123456")
	if said := apptest.RefusalOf(t, err); said == nil || !strings.Contains(said.Error(), "not the code") {
		t.Errorf("trying a code tells whether the address is known: %v", err)
	}
	ask(t, a, secret, "")
	code := mails.Find(t, "ann@alder.example", `code is (\d{6})`)
	wrong := "000000"
	if code == wrong {
		wrong = "000001"
	}
	for range 4 {
		if _, err := clientaccount.Open(t.Context(), a, secret, wrong); apptest.RefusalOf(t, err) == nil {
			t.Fatal("a wrong code opens it")
		}
	}
	got, err := clientaccount.Open(t.Context(), a, secret, code[:3]+" "+code[3:])
	must(t, err)
	if _, err := clientaccount.Open(t.Context(), a, secret, code); apptest.RefusalOf(t, err) == nil {
		t.Error("a code opens it twice")
	}
	if _, err := clientaccount.Read(t.Context(), a, secret); apptest.RefusalOf(t, err) == nil {
		t.Error("the link to an invoice reads the account")
	}
	if _, err := delivery.ReadPage(t.Context(), a, got.Secret); apptest.RefusalOf(t, err) == nil {
		t.Error("the account is taken for a link to an invoice")
	}
	ask(t, a, secret, "")
	code = mails.Find(t, "ann@alder.example", `code is (\d{6})`)
	for range 5 {
		_, _ = clientaccount.Open(t.Context(), a, secret, "0")
	}
	if _, err := clientaccount.Open(t.Context(), a, secret, code); apptest.RefusalOf(t, err) == nil {
		t.Error("it opens after five wrong codes")
	}
	a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(3 * time.Hour)}
	if _, err := clientaccount.Read(t.Context(), a, got.Secret); apptest.RefusalOf(t, err) == nil {
		t.Error("it stays open for ever")
	}
}

// Contacts see what they receive: all of it, what is of their engagement, or the statement alone.
func TestContactsSeeWhatTheyReceive(t *testing.T) {
	a, inv, secret, mails := firm(t)
	advice := apptest.Issued(t, a, apptest.Advice)
	_, err := receivables.RequestDeposit(t.Context(), a, apptest.Admin, receivables.TypedRequest{ClientID: 1, Amount: "500", Text: "Boats"})
	must(t, err)
	_, err = receivables.ReceiveFunds(t.Context(), a, apptest.Admin, receivables.TypedFunds{ClientID: 1, Day: apptest.Today, Amount: "70", Method: "transfer"})
	must(t, err)
	for address, want := range map[string]string{
		"ann@alder.example": "2 open, 1 deposits, 1 held, 0 accounts",
		"bo@alder.example":  "1 open, 0 deposits, 0 held, 0 accounts",
		"cy@alder.example":  "0 open, 0 deposits, 0 held, 1 accounts",
	} {
		page, err := clientaccount.Read(t.Context(), a, opened(t, a, mails, secret, address))
		must(t, err)
		got := app.Counted(len(page.Open), "open", "open") + ", " + app.Counted(len(page.Deposits), "deposits", "deposits") + ", " +
			app.Counted(len(page.Held), "held", "held") + ", " + app.Counted(len(page.Accounts), "accounts", "accounts")
		if got != want {
			t.Errorf("%s: %s", address, got)
		}
		if len(page.Accounts) == 1 && (page.Accounts[0].Balance == "" || page.Accounts[0].Currency != "EUR") {
			t.Errorf("%+v", page.Accounts)
		}
	}
	bo, cy := opened(t, a, mails, secret, "bo@alder.example"), opened(t, a, mails, secret, "cy@alder.example")
	link, err := clientaccount.OpenInvoice(t.Context(), a, bo, advice.ID)
	must(t, err)
	if page, err := delivery.ReadPage(t.Context(), a, link.Secret); err != nil || page.Printed.Number != advice.Number {
		t.Errorf("%+v, %v", page, err)
	}
	for name, act := range map[string]func() error{
		"an invoice of another engagement": func() error { _, err := clientaccount.OpenInvoice(t.Context(), a, bo, inv.ID); return err },
		"an invoice, by statements":        func() error { _, err := clientaccount.OpenInvoice(t.Context(), a, cy, inv.ID); return err },
		"a statement, by an engagement": func() error {
			_, _, err := clientaccount.Statement(t.Context(), a, bo, 1, "EUR")
			return err
		},
		"a proposal that is none": func() error { _, err := clientaccount.OpenProposal(t.Context(), a, cy, 1); return err },
		"questions that are none": func() error { _, err := clientaccount.OpenQuestions(t.Context(), a, cy, 1); return err },
	} {
		if err := act(); apptest.RefusalOf(t, err) == nil {
			t.Errorf("%s opens", name)
		}
	}
	if name, _, err := clientaccount.Statement(t.Context(), a, cy, 1, "EUR"); err != nil || !strings.HasSuffix(name, ".pdf") {
		t.Errorf("%q, %v", name, err)
	}
	birch := apptest.Issued(t, a, apptest.Study)
	ann := opened(t, a, mails, secret, "ann@alder.example")
	if _, err := clientaccount.OpenInvoice(t.Context(), a, ann, birch.ID); apptest.RefusalOf(t, err) == nil {
		t.Error("another client's invoice opens")
	}
	must(t, clientaccount.Leave(t.Context(), a, bo))
	if _, err := delivery.ReadPage(t.Context(), a, link.Secret); apptest.RefusalOf(t, err) == nil {
		t.Error("what was opened stays open when the account is closed")
	}
	apptest.Whole(t, a)
}

// A questionnaire opens and is answered from the account; a way of paying that was kept is ended there, and not by anybody else.
func TestWhatIsDoneFromTheAccount(t *testing.T) {
	a, inv, secret, mails := firm(t)
	a.Gateway = &simulator.Payments{Now: time.Now}
	apptest.Set(t, a, "clients", 1, "page_ways", "card")
	template := apptest.Add(t, a, "questionnaires", "name", "Start", "opening", "Hello", "questions", "Who signs?")
	_, err := setup.AskClient(t.Context(), a, apptest.Admin, setup.Asking{ClientID: 1, QuestionnaireID: template, Name: "Ann"})
	must(t, err)
	offer, err := paying.Pay(t.Context(), a, secret, paying.Typing{Shown: "EUR\u00a0246.00", Keep: true,
		Method: paymentmethod.GivenMethod{Kind: "card", Number: simulator.GoodCard, Expires: "12/30", Code: "123", Holder: "Ann"}})
	must(t, err)
	if offer.Payments[0].State != core.Received {
		t.Fatalf("%+v", offer)
	}
	ann, cy := opened(t, a, mails, secret, "ann@alder.example"), opened(t, a, mails, secret, "cy@alder.example")
	page, err := clientaccount.Read(t.Context(), a, ann)
	must(t, err)
	if len(page.Questionnaires) != 1 || len(page.Ways) != 1 || len(page.Open) != 0 || len(page.Settled) != 1 || page.Settled[0].Number != inv.Number {
		t.Fatalf("%+v", page)
	}
	questions, err := clientaccount.OpenQuestions(t.Context(), a, ann, page.Questionnaires[0].ID)
	must(t, err)
	if q, err := setup.ReadQuestions(t.Context(), a, questions.Secret); err != nil || !slices.Contains(q.Questions, "Who signs?") {
		t.Errorf("%+v, %v", q, err)
	}
	if err := clientaccount.EndMethod(t.Context(), a, cy, page.Ways[0].ID); apptest.RefusalOf(t, err) == nil {
		t.Error("somebody else ends it")
	}
	must(t, clientaccount.EndMethod(t.Context(), a, ann, page.Ways[0].ID))
	kept, err := store.KeptMethods(a.Read(t.Context(), apptest.Admin.Actor), 1, "ann@alder.example")
	if must(t, err); len(kept) != 0 {
		t.Errorf("%+v", kept)
	}
}
