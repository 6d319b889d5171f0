package delivery_test

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"strings"
	"testing"
	"time"

	core "dorvet/core/delivery"

	"dorvet/core/day"
	"dorvet/core/letter"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

func contact(t *testing.T, a *app.App, client, name, mail string) {
	t.Helper()
	apptest.Add(t, a, "contacts", "client", client, "name", name, "mail", mail, "gets_invoices", "yes")
}

func deliver(t *testing.T, a *app.App) {
	t.Helper()
	must(t, correspondence.Deliver(t.Context(), a))
}

func standing(t *testing.T, a *app.App, id int64) *delivery.Standing {
	t.Helper()
	s, err := delivery.Of(t.Context(), a, apptest.Admin.Actor, id)
	must(t, err)
	return s
}

// report says what a mail server says of the latest mail.
func report(t *testing.T, a *app.App, l letter.Letter, action letter.Action, status, said string) {
	t.Helper()
	must(t, correspondence.TakeReport(t.Context(), a, letter.Report{ReturnKey: l.ReturnKey, Recipient: l.To.Address, Action: action, Status: status,
		Said: said}))
}

// What is previewed is what goes out, to each who gets it with a link of their own; what became of it stands on the invoice.
func TestAnInvoiceIsSentAndFollowed(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	contact(t, a, "A", "Bo", "bo@alder.example")
	apptest.Set(t, a, "clients", 1, "copy_to", "book@firm.example")
	inv := apptest.Issued(t, a, apptest.Survey)
	letters, err := delivery.Preview(t.Context(), a, apptest.Admin.Actor, []int64{inv.ID}, delivery.Handover{Word: "With thanks"})
	must(t, err)
	if len(letters) != 1 || len(letters[0].To) != 2 || letters[0].Problem != "" || len(letters[0].Files) != 1 {
		t.Fatalf("%+v", letters)
	}
	if _, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{Word: "With thanks"}); err != nil {
		t.Fatal(err)
	}
	if s := standing(t, a, inv.ID); s.Handed != "queued" {
		t.Errorf("it stands as %q", s.Handed)
	}
	deliver(t, a)
	if len(mails.All) != 2 || mails.All[0].Subject != letters[0].Subject || len(mails.All[0].Files) != 1 ||
		len(mails.All[0].Blind) != 1 || len(mails.All[1].Blind) != 0 {
		t.Fatalf("%+v", mails.All)
	}
	first := mails.Find(t, "ann@alder.example", `/invoice#(\S+)`)
	if shown := strings.Replace(letters[0].Body, "…", first, 1); shown != mails.All[0].Body {
		t.Errorf("it was shown as %q and went out as %q", shown, mails.All[0].Body)
	}
	if !strings.HasPrefix(mails.All[0].Body, "With thanks\n\nDear Ann,") || !strings.Contains(mails.All[0].Body, "N1 of 1 Dec 2026 over EUR\u00a0246.00") {
		t.Errorf("%q", mails.All[0].Body)
	}
	if second := mails.Find(t, "bo@alder.example", `/invoice#(\S+)`); second == first {
		t.Error("two people have one link")
	}
	report(t, a, mails.All[0], letter.Delivered, "2.0.0", "")
	report(t, a, mails.All[1], letter.Failed, "5.1.1", "nobody of this name")
	report(t, a, mails.All[1], letter.Failed, "5.1.1", "nobody of this name") // twice
	s := standing(t, a, inv.ID)
	if s.Handed != "arrived" || s.Links != 2 || len(s.Handings) != 2 || s.Handings[0].State != core.Failed ||
		!strings.Contains(s.Handings[0].Problem, "nobody of this name Mend the address") {
		t.Errorf("%+v", s)
	}
	must(t, delivery.MarkOpened(t.Context(), a, first, false))
	must(t, delivery.MarkOpened(t.Context(), a, first, false))
	if s := standing(t, a, inv.ID); s.Handed != core.Opened || s.Handings[1].OpenedAt == nil || s.Handings[0].OpenedAt != nil {
		t.Errorf("%+v", s)
	}
	if f, err := delivery.PageFile(t.Context(), a, first, "pdf", 0); err != nil || string(f.Content) != "N1" {
		t.Errorf("%+v, %v", f, err)
	}
	if s := standing(t, a, inv.ID); s.Handed != core.Fetched {
		t.Errorf("%+v", s)
	}
	_, err = issuing.Reopen(t.Context(), a, apptest.Admin, drafts.Edit{ID: inv.ID, Version: inv.Version})
	if refused := apptest.RefusalOf(t, err); !strings.Contains(refused.Sentence, "handed over") {
		t.Errorf("%s", refused.Sentence)
	}
	apptest.Whole(t, a)
}

// What is on its way can be called back; what has left can't. Reopening calls back by itself.
func TestWhatIsOnItsWayIsCalledBack(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	inv := apptest.Issued(t, a, apptest.Survey)
	send := func() {
		t.Helper()
		_, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{})
		must(t, err)
	}
	send()
	id := standing(t, a, inv.ID).Handings[0].ID
	must(t, delivery.CallBack(t.Context(), a, apptest.Admin, id))
	if deliver(t, a); len(mails.All) != 0 || standing(t, a, inv.ID).Handed != core.Nowhere {
		t.Errorf("%d mails left, it stands as %q", len(mails.All), standing(t, a, inv.ID).Handed)
	}
	if err := delivery.CallBack(t.Context(), a, apptest.Admin, id); err == nil {
		t.Error("it is called back twice")
	}
	send()
	inv, err := apptest.Invoice(t.Context(), a)(issuing.Reopen(t.Context(), a, apptest.Admin, drafts.Edit{ID: inv.ID, Version: inv.Version}))
	must(t, err)
	if deliver(t, a); len(mails.All) != 0 {
		t.Error("a letter of a reopened invoice left")
	}
	inv, err = apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, drafts.Edit{ID: inv.ID, Version: inv.Version}))
	must(t, err)
	if s := standing(t, a, inv.ID); s.Handed != core.Nowhere || !s.Handings[0].Old {
		t.Errorf("%+v", s)
	}
	send()
	if deliver(t, a); standing(t, a, inv.ID).Handed != "taken" {
		t.Errorf("it stands as %q", standing(t, a, inv.ID).Handed)
	}
	if err := delivery.CallBack(t.Context(), a, apptest.Admin, standing(t, a, inv.ID).Handings[0].ID); err == nil {
		t.Error("what has left is called back")
	}
	apptest.Whole(t, a)
}

// If every delivery failed it counts as not delivered: it can be reopened, and sent by many again.
func TestWhatNeverArrivedWasNotHandedOver(t *testing.T) {
	a := apptest.Firm(t)
	a.Mail = func(context.Context, letter.Letter) error { return errors.New("550 no") }
	contact(t, a, "A", "Ann", "ann@alder.example")
	inv := apptest.Issued(t, a, apptest.Survey)
	_, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{})
	must(t, err)
	for range 6 {
		deliver(t, a)
		a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(6 * time.Hour)}
	}
	if s := standing(t, a, inv.ID); s.Handed != "failed" || s.Handings[0].State != core.Failed || s.Links != 0 {
		t.Errorf("%+v", s)
	}
	page, err := invoices.RegisterPage(t.Context(), a, apptest.Admin.Actor, invoices.Filter{Handed: "not_yet"}, 0, 10)
	if must(t, err); page.Total != 1 || page.Invoices[0].Handed != "failed" {
		t.Errorf("%+v", page)
	}
	if _, err := issuing.Reopen(t.Context(), a, apptest.Admin, drafts.Edit{ID: inv.ID, Version: inv.Version}); err != nil {
		t.Error(err)
	}
	apptest.Whole(t, a)
}

// Many go out as a job: one letter for several where the client wants it so, each by its way, none twice; what can't go is told.
func TestManyAreHandedOverAtOnce(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	apptest.Set(t, a, "clients", 1, "letters", "together")
	one, two := apptest.Issued(t, a, apptest.Survey), apptest.Issued(t, a, apptest.Survey)
	apptest.Set(t, a, "clients", 2, "address", "2 Quay")
	three := apptest.Issued(t, a, 3) // Birch has no address for mail
	send := func(ids ...int64) string {
		t.Helper()
		job, err := delivery.BeginSend(t.Context(), a, apptest.Admin, ids, delivery.Handover{})
		must(t, err)
		a.Jobs.Wait()
		job, err = a.Jobs.Read(t.Context(), a, apptest.Admin.Actor, job.ID)
		must(t, err)
		return job.Said
	}
	if said := send(one.ID, two.ID, three.ID); !strings.HasPrefix(said, "1 letter by mail. N3, Birch: Nobody at Birch") {
		t.Errorf("%q", said)
	}
	deliver(t, a)
	if len(mails.All) != 1 || len(mails.All[0].Files) != 2 || mails.All[0].Subject != "2 invoices from Firm Ltd" ||
		strings.Count(mails.All[0].Body, "/invoice#") != 2 || !strings.Contains(mails.All[0].Body, "EUR\u00a0492.00 together") {
		t.Fatalf("%+v", mails.All)
	}
	if said := send(one.ID, two.ID); !strings.Contains(said, "Nothing was handed over") || !strings.Contains(said, "already") {
		t.Errorf("%q", said)
	}
	apptest.Set(t, a, "clients", 2, "delivery", "post")
	if said := send(three.ID); said != "1 letter for the post." {
		t.Errorf("%q", said)
	}
	waiting, err := invoices.RegisterPage(t.Context(), a, apptest.Admin.Actor, invoices.Filter{Handed: "on_paper"}, 0, 10)
	if must(t, err); waiting.Total != 1 || waiting.Invoices[0].Number != "N3" || waiting.Handed.OnPaper != 1 {
		t.Errorf("%+v", waiting)
	}
	for name, on := range map[string]day.Day{"tomorrow": apptest.Today + 1, "on no day": 0} {
		if _, err := delivery.Posted(t.Context(), a, apptest.Admin, []int64{three.ID}, on); err == nil {
			t.Errorf("it was posted %s", name)
		}
	}
	sent, err := delivery.Posted(t.Context(), a, apptest.Admin, []int64{one.ID, three.ID}, apptest.Today)
	if must(t, err); sent.Letters != 1 || standing(t, a, three.ID).Handed != "posted" || standing(t, a, one.ID).Handed != "taken" {
		t.Errorf("%+v, it stands as %q", sent, standing(t, a, three.ID).Handed)
	}
	apptest.Whole(t, a)
}

// The client asks, disputes a line with its tax, and says when they pay; the firm answers, and both read it.
func TestAClientDisputesALine(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := apptest.Issued(t, a, apptest.Survey) // 300.00 net, 369.00
	_, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{})
	must(t, err)
	deliver(t, a)
	secret := mails.Find(t, "ann@alder.example", `/invoice#(\S+)`)
	page, err := delivery.ReadPage(t.Context(), a, secret)
	must(t, err)
	if page.Total != "EUR\u00a0369.00" || page.Open != "EUR\u00a0369.00" || len(page.Printed.Sections) != 1 || len(page.Printed.Sections[0].Lines) != 2 ||
		!page.Made[0][0].Disputes || !page.MayDispute || page.Late {
		t.Fatalf("%+v", page)
	}
	for name, c := range map[string]delivery.Claiming{"nothing said": {Kind: store.Question, Section: -1, Line: -1},
		"no such line": {Kind: store.Disputed, Section: 0, Line: 7, Text: "x"}, "a day that is over": {Kind: store.Promise, Section: -1, Line: -1, Day: apptest.Today - 1}} {
		if err := delivery.Say(t.Context(), a, secret, c); err == nil {
			t.Errorf("%s is taken", name)
		}
	}
	must(t, delivery.Say(t.Context(), a, secret, delivery.Claiming{Kind: store.Disputed, Section: 0, Line: 0, Text: "We did not ask for it"}))
	must(t, delivery.Say(t.Context(), a, secret, delivery.Claiming{Kind: store.Promise, Section: -1, Line: -1, Day: day.Of(2026, 12, 20)}))
	view, err := invoices.One(t.Context(), a, apptest.Admin.Actor, inv.ID)
	must(t, err)
	claims, err := delivery.Claims(t.Context(), a, apptest.Admin.Actor, inv.ID)
	must(t, err)
	if view.Beside != "disputed" || len(claims) != 2 || claims[0].Amount.String() != "123.00" || claims[0].Name != "Ann" {
		t.Errorf("%q %+v", view.Beside, claims)
	}
	if _, err := issuing.Dispute(t.Context(), a, apptest.Admin, drafts.Edit{ID: inv.ID, Version: view.Version}, ""); err == nil {
		t.Error("what the client disputes is settled without them")
	}
	open, err := delivery.OpenClaims(t.Context(), a, apptest.Admin.Actor)
	if must(t, err); len(open) != 2 || open[0].Client != "Alder" {
		t.Errorf("%+v", open)
	}
	answer := func(outcome store.Outcome) error {
		_, err := delivery.Answer(t.Context(), a, apptest.Admin, inv.ID, claims[0].ID, delivery.Answering{Version: claims[0].Version,
			Answer: "You did, on 3 November", Outcome: outcome})
		return err
	}
	if answer(store.Answered) == nil {
		t.Error("a dispute is answered and neither kept nor credited")
	}
	must(t, answer(store.Kept))
	if answer(store.Kept) == nil {
		t.Error("it is answered twice")
	}
	deliver(t, a)
	if last := mails.All[len(mails.All)-1]; !strings.Contains(last.Body, "You did, on 3 November") || !strings.Contains(last.Body, "/invoice#") {
		t.Errorf("%+v", last)
	}
	if page, err = delivery.ReadPage(t.Context(), a, secret); err != nil || page.Claims[0].Answer == "" || page.Notice != "" {
		t.Errorf("%+v, %v", page, err)
	}
	apptest.Whole(t, a)
}

// A link opens its own invoice and nothing else, and no more once it is ended or over.
func TestALinkEnds(t *testing.T) {
	a := apptest.Firm(t)
	mails := apptest.Mail(a)
	contact(t, a, "A", "Ann", "ann@alder.example")
	apptest.Set(t, a, "clients", 1, "page_days", "10")
	inv := apptest.Issued(t, a, apptest.Survey)
	_, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{})
	must(t, err)
	deliver(t, a)
	secret := mails.Find(t, "ann@alder.example", `/invoice#(\S+)`)
	link, err := delivery.NewLink(t.Context(), a, apptest.Admin, inv.ID, "Cy")
	must(t, err)
	_, byHand, _ := strings.Cut(link.Link, "#")
	for name, secret := range map[string]string{"mailed": secret, "by hand": byHand} {
		if page, err := delivery.ReadPage(t.Context(), a, secret); err != nil || page.Printed.Number != "N1" {
			t.Errorf("%s: %v", name, err)
		}
	}
	was := a.Clock
	a.Clock = app.PinnedClock{Date: apptest.Today, At: was.Now().AddDate(0, 0, 11)}
	if _, err := delivery.ReadPage(t.Context(), a, secret); err == nil {
		t.Error("a link works for longer than its days")
	}
	a.Clock = was
	must(t, delivery.EndLinks(t.Context(), a, apptest.Admin, inv.ID))
	for _, secret := range []string{secret, byHand, "nothing"} {
		if _, err := delivery.ReadPage(t.Context(), a, secret); err == nil {
			t.Errorf("%s works", secret)
		}
		if err := delivery.Say(t.Context(), a, secret, delivery.Claiming{Kind: store.Question, Section: -1, Line: -1, Text: "x"}); err == nil {
			t.Errorf("%s takes a question", secret)
		}
	}
	apptest.Whole(t, a)
}

// Of a file it is said whether it was issued here: as it is, replaced since, or not.
func TestIsItOurs(t *testing.T) {
	a := apptest.Firm(t)
	inv := apptest.Issued(t, a, apptest.Survey)
	digest := fmt.Sprintf("%x", sha256.Sum256([]byte("N1"))) // as the test's renderer draws it
	known, err := delivery.IsOurs(t.Context(), a, digest)
	if must(t, err); known.Answer != "ours" || known.Number != "N1" || known.Amount != "EUR\u00a0246.00" || known.Account == "" || !known.Open {
		t.Errorf("%+v", known)
	}
	if known, err := delivery.IsOurs(t.Context(), a, fmt.Sprintf("%x", sha256.Sum256([]byte("N2")))); err != nil || known.Answer != "not_ours" || known.Number != "" {
		t.Errorf("%+v, %v", known, err)
	}
	_, err = issuing.Reopen(t.Context(), a, apptest.Admin, drafts.Edit{ID: inv.ID, Version: inv.Version})
	must(t, err)
	if known, err := delivery.IsOurs(t.Context(), a, digest); err != nil || known.Answer != "replaced" || known.Account != "" {
		t.Errorf("%+v, %v", known, err)
	}
}

// What a client sees of lines is what the profile says.
func TestAPageShowsAsMuchAsTheProfileSays(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "clients", 1, "layout", "person")
	apptest.Record(t, a, apptest.Survey, "2026-11-29", "1:00")
	inv := apptest.Issued(t, a, apptest.Survey)
	for shows, want := range map[string][2]int{"sums": {0, 0}, "lines": {1, 0}, "entries": {1, 2}} {
		apptest.Set(t, a, "clients", 1, "page_lines", shows)
		page, err := delivery.PreviewPage(t.Context(), a, apptest.Admin.Actor, inv.ID, 0)
		must(t, err)
		lines, made := 0, 0
		for i, s := range page.Printed.Sections {
			lines += len(s.Lines)
			for _, m := range page.Made[i] {
				made += len(m.Of)
			}
		}
		if got := [2]int{lines, made}; got != want {
			t.Errorf("%s: %v", shows, got)
		}
	}
}

// The page of a draft shows what would be owed, with its instalments: it is not settled before it was asked for.
func TestAPageOfADraftShowsWhatWouldBeOwed(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-30", "2:00")
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: apptest.Today, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	must(t, err)
	page, err := delivery.PreviewPage(t.Context(), a, apptest.Admin.Actor, made[0].ID, 0)
	must(t, err)
	if page.Open != "EUR\u00a0246.00" || len(page.Instalments) != 1 || page.Instalments[0].Open != page.Open || page.Late {
		t.Errorf("%q %+v %v", page.Open, page.Instalments, page.Late)
	}
}

// Whatever language a client speaks, the letters that ship leave no place open, one by one and together, and speak it.
func TestLettersSpeakTheClientsLanguage(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "clients", 1, "mail", "office@alder.example")
	apptest.Set(t, a, "clients", 1, "letters", "together")
	said := map[string]bool{}
	for _, language := range wording.Languages {
		apptest.Set(t, a, "clients", 1, "language", string(language))
		one, two := apptest.Issued(t, a, apptest.Survey), apptest.Issued(t, a, apptest.Survey)
		for _, ids := range [][]int64{{one.ID}, {one.ID, two.ID}} {
			letters, err := delivery.Preview(t.Context(), a, apptest.Admin.Actor, ids, delivery.Handover{})
			must(t, err)
			if len(letters) != 1 || letters[0].Problem != "" || strings.ContainsAny(letters[0].Subject+letters[0].Body, "{}") {
				t.Errorf("%s: %+v", language, letters)
			}
			greeting, _, _ := strings.Cut(letters[0].Body, "\n")
			said[greeting] = true
		}
	}
	if len(said) != len(wording.Languages) {
		t.Errorf("%d greetings in %d languages: %v", len(said), len(wording.Languages), said)
	}
}

// A report may be quicker than the answer to the mail, or come where the answer is lost: it counts, and the mail goes out once.
func TestAReportMayBeQuickerThanTheAnswer(t *testing.T) {
	for name, c := range map[string]struct {
		action letter.Action
		answer error
		state  core.State
	}{
		"arrived":                       {letter.Delivered, nil, core.Arrived},
		"arrived, the answer is lost":   {letter.Delivered, context.DeadlineExceeded, core.Arrived},
		"came back":                     {letter.Failed, nil, core.Failed},
		"came back, the answer is lost": {letter.Failed, context.DeadlineExceeded, core.Failed},
	} {
		t.Run(name, func(t *testing.T) {
			a := apptest.Firm(t)
			contact(t, a, "A", "Ann", "ann@alder.example")
			inv := apptest.Issued(t, a, apptest.Survey)
			out := 0
			a.Mail = func(_ context.Context, l letter.Letter) error {
				out++
				report(t, a, l, c.action, "5.1.1", "nobody of this name")
				return c.answer
			}
			_, err := delivery.Send(t.Context(), a, apptest.Admin, inv.ID, delivery.Handover{})
			must(t, err)
			deliver(t, a)
			a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(24 * time.Hour)}
			deliver(t, a)
			if s := standing(t, a, inv.ID); s.Handings[0].State != c.state || out != 1 {
				t.Errorf("it is %s, and went out %d times", s.Handings[0].State, out)
			}
			apptest.Whole(t, a)
		})
	}
}
