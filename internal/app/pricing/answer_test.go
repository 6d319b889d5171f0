package pricing_test

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"sync"
	"testing"
	"time"

	"dorvet/core/day"
	"dorvet/core/paymentmethod"
	core "dorvet/core/pricing"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/pricing"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func TestAcceptingMakesWhatWasAgreed(t *testing.T) {
	a, p := begun(t)
	secret, mails := sent(t, a, p)
	if mail := mails.All[0]; mail.Subject != "Our proposal: Berth monitoring 2027" ||
		!strings.HasPrefix(mail.Body, "As we said.\n\nDear Sig Ner,") || strings.Contains(mail.Body, "{") {
		t.Errorf("%+v", mail)
	}
	if err := pricing.MarkSeen(t.Context(), a, secret); err != nil {
		t.Fatal(err)
	}
	chosen := pricing.Chosen{Tier: 1, Options: []int{3, 4}}
	page, err := pricing.ReadPage(t.Context(), a, secret, &chosen)
	// + 9,360 + 1,100; with 23 %
	if err != nil || page.State != core.Seen || page.Chosen.Net != "42,860.00" || page.Chosen.Gross != "52,717.80" ||
		!page.Tiers[1].Suggested {
		t.Fatalf("%+v, %v", page, err)
	}
	signing := pricing.Signing{Chosen: chosen, Gross: page.Chosen.Gross, Name: "Sig Ner", Code: code(t, a, secret, mails)}
	if err := pricing.Accept(t.Context(), a, secret, "192.0.2.7", signing); err != nil {
		t.Fatal(err)
	}
	deliver(t, a)
	if last := mails.All[len(mails.All)-1]; last.Subject != "Signed: Berth monitoring 2027" || len(last.Files) != 1 {
		t.Errorf("%+v", last)
	}
	view, err := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
	if err != nil || view.State != core.Accepted || view.Answer.Address != "192.0.2.7" || view.Answer.Tier != "Core" ||
		len(view.Answer.Engagements) != 2 || len(view.Answer.Options) != 2 {
		t.Fatalf("%+v, %v", view.Answer, err)
	}
	for i, want := range []struct {
		name, arrangement string
		fee               int64 // 41,760 of everything but the advice
		charges           int   // 1 + its deposit, 4 quarters, 12 months, 1 open
	}{{"Berth monitoring 2027", setup.FixedFee, 41_760_00, 19}, {"Berth monitoring 2027, by the hour", setup.Hourly, 0, 0}} {
		id := view.Answer.Engagements[i].ID
		g, err := store.Get[store.Engagement](a.Store.Read(t.Context(), store.Everything), id)
		if err != nil || g.Name != want.name || g.Arrangement != want.arrangement || g.Stage != "not_started" ||
			g.OpenedDay != apptest.Today ||
			(g.Fee != nil) != (want.fee != 0) || g.Fee != nil && *g.Fee != want.fee {
			t.Errorf("%+v, %v", g, err)
		}
		plan, err := pricing.Plan(t.Context(), a, apptest.Admin.Actor, id)
		if err != nil || len(plan) != want.charges {
			t.Errorf("%d charges, %v", len(plan), err)
		}
		budgets, err := store.BudgetsOf(a.Store.Read(t.Context(), store.Everything), []int64{id})
		if err != nil || len(budgets) != 1 || budgets[0].Minutes != []int64{168 * 60, 600}[i] {
			t.Errorf("%+v, %v", budgets, err)
		}
	}
	price, err := setup.AskRate(t.Context(), a, apptest.Admin.Actor,
		setup.Asked{PersonID: 2, EngagementID: view.Answer.Engagements[1].ID, Day: apptest.Today})
	if err != nil || price.Billed.PerHour != "110.00" || !strings.Contains(price.Billed.Source, "engagement") {
		t.Errorf("the agreed rate: %+v, %v", price, err)
	}
	plan, _ := pricing.Plan(t.Context(), a, apptest.Admin.Actor, view.Answer.Engagements[0].ID)
	if plan[0].Kind != "deposit" || plan[0].Amount.Minor != 4200_00 || plan[0].Bill != apptest.Today {
		t.Errorf("first comes the deposit: %+v", plan[0])
	}
	if name, content, err := pricing.Signed(t.Context(), a, secret); err != nil || name != view.Number+"-signed.pdf" ||
		!strings.Contains(string(content), "192.0.2.7") || !strings.Contains(string(content), "Baseline survey") {
		t.Errorf("%s %s %v", name, content, err)
	}
	apptest.Whole(t, a)
	// What was agreed stays, whatever becomes of the texts and the client.
	apptest.Set(t, a, "clients", 1, "invoice_name", "Another Name")
	if _, content, _ := pricing.Signed(t.Context(), a, secret); strings.Contains(string(content), "Another Name") {
		t.Error("the signed copy has changed")
	}
	if page, err := pricing.ReadPage(t.Context(), a, secret, nil); err != nil || !strings.Contains(page.Terms, "for Client the work") ||
		page.Chosen.Net != "42,860.00" {
		t.Errorf("the page does not say what was agreed: %+v, %v", page, err)
	}
}

func TestWhatCanNotBeAcceptedIsRefusedWithASentence(t *testing.T) {
	for name, test := range map[string]struct {
		spoil func(t *testing.T, a *app.App, p *pricing.Proposal, secret string)
		want  string
	}{
		"expired": {func(_ *testing.T, a *app.App, _ *pricing.Proposal, _ string) {
			a.Clock = app.PinnedClock{Date: apptest.Today.AddDays(31)}
		}, "its last day is over"},
		"withdrawn": {func(t *testing.T, a *app.App, p *pricing.Proposal, _ string) {
			if _, err := pricing.Withdraw(t.Context(), a, apptest.Admin, p.ID, p.Version); err != nil {
				t.Fatal(err)
			}
		}, "withdrawn"},
		"superseded": {func(t *testing.T, a *app.App, p *pricing.Proposal, _ string) {
			made, err := pricing.Copy(t.Context(), a, apptest.Admin, p.ID, pricing.Copying{Replaces: true})
			if err != nil {
				t.Fatal(err)
			}
			next, _ := pricing.One(t.Context(), a, apptest.Admin.Actor, made.ID)
			sent(t, a, next)
		}, "newer version"},
		"declined": {func(t *testing.T, a *app.App, _ *pricing.Proposal, secret string) {
			if err := pricing.Decline(t.Context(), a, secret, "", "too dear"); err != nil {
				t.Fatal(err)
			}
		}, "declined"},
		"its links ended": {func(t *testing.T, a *app.App, p *pricing.Proposal, _ string) {
			if err := pricing.EndLinks(t.Context(), a, apptest.Admin, p.ID); err != nil {
				t.Fatal(err)
			}
		}, "does not work any more"},
	} {
		t.Run(name, func(t *testing.T) {
			a, p := begun(t)
			secret, mails := sent(t, a, p)
			signing := pricing.Signing{Chosen: pricing.Chosen{Tier: 1}, Name: "Sig Ner", Code: code(t, a, secret, mails)}
			out, err := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
			if err != nil {
				t.Fatal(err)
			}
			test.spoil(t, a, out, secret)
			refused(t, pricing.Accept(t.Context(), a, secret, "", signing), test.want)
			if name == "superseded" {
				if err := pricing.MailNewer(t.Context(), a, secret); err != nil {
					t.Error(err)
				}
				now := apptest.Mail(a)
				deliver(t, a)
				page, err := pricing.ReadPage(t.Context(), a, now.Find(t, signer, `/proposal#(\S+)`), nil)
				if err != nil || page.State != core.Sent {
					t.Errorf("the newer version: %+v, %v", page, err)
				}
			} else if err := pricing.MailNewer(t.Context(), a, secret); err == nil {
				t.Error("there is a newer version")
			}
			if page, err := pricing.ReadPage(t.Context(), a, secret, nil); err == nil && !strings.Contains(page.Notice, test.want) {
				t.Errorf("the page says %q", page.Notice)
			}
			apptest.Whole(t, a)
		})
	}
}

func TestASignatureNeedsTheCodeThatWasMailed(t *testing.T) {
	a, p := begun(t)
	secret, mails := sent(t, a, p)
	signing := pricing.Signing{Chosen: pricing.Chosen{Tier: 1}, Name: "Sig Ner", Code: "000000"}
	refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "Ask for a code first")
	good := code(t, a, secret, mails)
	signing.Code = fmt.Sprintf("%06d", (atoi(good)+1)%1_000_000)
	for range 4 { // the first try counts already
		refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "not the code")
	}
	signing.Code = good
	refusedBy := pricing.Accept(t.Context(), a, secret, "", signing)
	if refusedBy != nil {
		t.Fatalf("the fifth try, with the right code: %v", refusedBy)
	}

	a, p = begun(t)
	secret, mails = sent(t, a, p)
	good = code(t, a, secret, mails)
	signing.Code = fmt.Sprintf("%06d", (atoi(good)+1)%1_000_000)
	for range 5 {
		refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "not the code")
	}
	signing.Code = good
	refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "code is over")
	a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(16 * time.Minute)}
	signing.Code = code(t, a, secret, mails)
	a.Clock = app.PinnedClock{Date: apptest.Today, At: a.Clock.Now().Add(16 * time.Minute)}
	refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "code is over")
	signing.Code, signing.Gross = code(t, a, secret, mails), "1.00"
	refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "as it was shown")
	signing.Gross, signing.Name = "", ""
	refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "Type your name")
}

func atoi(text string) (n int) { fmt.Sscan(text, &n); return n }

func TestOfTwoWhoAcceptAtOnceOneIsTaken(t *testing.T) {
	a, p := begun(t)
	secret, mails := sent(t, a, p)
	apptest.Add(t, a, "contacts", "client", "A", "name", "Second", "mail", "Two@client.example")
	if passed, err := pricing.PassOn(t.Context(), a, secret, "Second", "two@client.example", ""); err != nil || !passed.Sent {
		t.Fatal(passed, err)
	}
	deliver(t, a)
	other := mails.Find(t, "two@client.example", `/proposal#(\S+)`)
	codes := []string{code(t, a, secret, mails)}
	if err := pricing.SendCode(t.Context(), a, other); err != nil {
		t.Fatal(err)
	}
	codes = append(codes, mails.Find(t, "two@client.example", `code is (\d{6})`))
	answers := make([]error, 2)
	var both sync.WaitGroup
	for i, one := range []string{secret, other} {
		both.Go(func() {
			answers[i] = pricing.Accept(t.Context(), a, one, "",
				pricing.Signing{Chosen: pricing.Chosen{Tier: i}, Name: "Name", Code: codes[i]})
		})
	}
	both.Wait()
	if (answers[0] == nil) == (answers[1] == nil) {
		t.Fatalf("%v and %v", answers[0], answers[1])
	}
	refused(t, errors.Join(answers...), "accepted already")
	if n, err := store.Count(a.Store.Read(t.Context(), store.Everything), "SELECT COUNT(DISTINCT proposal_id) FROM charges"); err != nil ||
		n != 1 {
		t.Errorf("%d proposals have plans, %v", n, err)
	}
	apptest.Whole(t, a)
}

// The data has no secret: neither a link's nor a code's nor a card's.
func TestNoSecretIsKept(t *testing.T) {
	a, p := begun(t)
	a.Gateway = ways{}
	secret, mails := sent(t, a, p)
	mailed := code(t, a, secret, mails)
	way, err := pricing.KeepPaymentMethod(t.Context(), a, secret, paymentmethod.GivenMethod{Kind: "card", Number: "9000 0000 0000 0019", Holder: "Sig"})
	if err != nil || way.Words != "card ending in 0019" {
		t.Fatalf("%+v, %v", way, err)
	}
	if err := pricing.Accept(t.Context(), a, secret, "",
		pricing.Signing{Chosen: pricing.Chosen{Tier: 1}, Name: "Sig Ner", Code: mailed, PaymentMethodID: way.ID}); err != nil {
		t.Fatal(err)
	}
	tx := a.Store.Read(t.Context(), store.Everything)
	for _, column := range []string{"acts.summary || after || before", "idempotency.result", "mails.body", "links.digest || code_digest",
		"payment_methods.token || last_four", "proposal_answers.content || choice"} {
		table, columns, _ := strings.Cut(column, ".")
		for _, kept := range []string{secret, mailed, "9000000000000019", "9000 0000 0000 0019"} {
			if n, err := store.Count(tx, "SELECT COUNT(*) FROM "+table+" WHERE instr("+columns+", ?) > 0", kept); err != nil || n > 0 {
				t.Errorf("%s keeps %q, %v", table, kept, err)
			}
		}
	}
	if kept, err := store.PaymentMethodsOf(tx, 1); err != nil || len(kept) != 1 || kept[0].LastFour != "0019" || kept[0].Token != "token" {
		t.Errorf("%+v, %v", kept, err)
	}
}

func TestAWayOfPayingIsAskedForWhereItIsNeeded(t *testing.T) {
	a, p := begun(t)
	a.Gateway = ways{}
	p = save(t, a, p.ID, func(p *pricing.TypedProposal) { p.Pays = "now" })
	secret, mails := sent(t, a, p)
	signing := pricing.Signing{Chosen: pricing.Chosen{Tier: 0}, Name: "Sig Ner", Code: code(t, a, secret, mails)}
	refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "way of paying")
	_, err := pricing.KeepPaymentMethod(t.Context(), a, secret, paymentmethod.GivenMethod{Kind: "debit", IBAN: "refused", Holder: "Sig"})
	refused(t, err, "Refused by the bank")
	signing.PaymentMethodID = 77
	refused(t, pricing.Accept(t.Context(), a, secret, "", signing), "again")
}

// ways keeps anything but what says refused.
type ways struct{ app.PaymentGateway }

func (ways) KeepCard(_ context.Context, c paymentmethod.Card) (paymentmethod.Kept, error) {
	return paymentmethod.Kept{Token: "token", LastFour: paymentmethod.LastFour(c.Digits())}, nil
}

func (ways) KeepAccount(_ context.Context, _ paymentmethod.Account) (paymentmethod.Kept, error) {
	return paymentmethod.Kept{}, refusal.Errorf("refused by the bank")
}

func TestAProspectBecomesAClientInOnboarding(t *testing.T) {
	a := apptest.Firm(t)
	made, err := pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{Prospect: "New Quay"})
	if err != nil {
		t.Fatal(err)
	}
	p := save(t, a, made.ID, func(p *pricing.TypedProposal) {
		if p.Opening == "" || !strings.Contains(p.Opening, "asking us") || p.Name != "New Quay 2026" {
			t.Errorf("%+v", p)
		}
		p.Lines = []pricing.TypedLine{{Description: "Opinion", Kind: "fixed", Price: "900", When: "on acceptance", TaxCode: "S",
			Cells: []string{"x"}}}
	})
	if !p.Prospect {
		t.Error("it is no prospect")
	}
	_, err = pricing.Record(t.Context(), a, apptest.Admin, p.ID,
		pricing.ByHand{Version: p.Version, Name: "N. Quay", Day: apptest.Today.AddDays(-3)})
	refused(t, err, "How is it known")
	done, err := pricing.Record(t.Context(), a, apptest.Admin, p.ID,
		pricing.ByHand{Version: p.Version, Name: "N. Quay", Day: apptest.Today.AddDays(-3), Evidence: "Letter of 28 Nov, in the folder"})
	if err != nil || done.State != core.Accepted || done.Answer.RecordedBy != "Ada Admin" || done.Answer.Evidence == "" || done.Prospect {
		t.Fatalf("%+v, %v", done, err)
	}
	plan, err := pricing.Plan(t.Context(), a, apptest.Admin.Actor, done.Answer.Engagements[0].ID)
	if err != nil || len(plan) != 1 || plan[0].Bill != apptest.Today.AddDays(-3) || plan[0].Amount.Minor != 900_00 {
		t.Errorf("billed on the day of acceptance: %+v, %v", plan, err)
	}
	if n, err := store.Count(a.Store.Read(t.Context(), store.Everything), "SELECT COUNT(*) FROM client_steps WHERE client_id = ?",
		done.ClientID); err != nil || n != 3 {
		t.Errorf("%d steps of onboarding, %v", n, err)
	}
	apptest.Whole(t, a)
}

// A document of terms and the evidence of an acceptance come by their content:
// what is neither a PDF nor a picture is refused, whatever its name.
func TestDocumentsComeAlong(t *testing.T) {
	a, p := begun(t)
	_, err := pricing.KeepFile(t.Context(), a, apptest.Admin, p.ID, "terms.pdf", []byte("<html><script>alert(1)</script>"))
	refused(t, err, "neither a PDF nor a picture")
	terms, err := pricing.KeepFile(t.Context(), a, apptest.Admin, p.ID, "terms.pdf", []byte("%PDF-1.4 our terms"))
	if err != nil {
		t.Fatal(err)
	}
	p = save(t, a, p.ID, func(p *pricing.TypedProposal) { p.TermsFile = terms })
	typed := p.Grid.Typed
	typed.TermsFile.Digest = strings.Repeat("0", 64)
	_, err = pricing.PriceTyped(t.Context(), a, apptest.Admin.Actor, p.ID, typed)
	refused(t, err, "upload it again")
	secret, _ := sent(t, a, p)
	if file, err := pricing.TermsFile(t.Context(), a, secret); err != nil || file.Name != "terms.pdf" ||
		file.MediaType != "application/pdf" || string(file.Content) != "%PDF-1.4 our terms" {
		t.Errorf("%+v, %v", file, err)
	}
	letter, err := pricing.KeepFile(t.Context(), a, apptest.Admin, p.ID, "letter.pdf", []byte("%PDF-1.4 we accept"))
	if err != nil {
		t.Fatal(err)
	}
	view, _ := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
	done, err := pricing.Record(t.Context(), a, apptest.Admin, p.ID,
		pricing.ByHand{Version: view.Version, Name: "Sig", Day: apptest.Today, Evidence: "Their letter", File: letter,
			Chosen: pricing.Chosen{Tier: 2}})
	if err != nil || done.Answer.Proof != "letter.pdf" {
		t.Fatalf("%+v, %v", done, err)
	}
	if file, err := pricing.FileFor(t.Context(), a, apptest.Admin.Actor, p.ID, "evidence"); err != nil ||
		string(file.Content) != "%PDF-1.4 we accept" {
		t.Errorf("%+v, %v", file, err)
	}
	if _, signed, err := pricing.SignedFor(t.Context(), a, apptest.Admin.Actor, p.ID); err != nil ||
		!strings.Contains(string(signed), terms.Digest) {
		t.Errorf("the signed copy does not name the terms: %v", err)
	}
	apptest.Whole(t, a)
}

// Work named on the lines becomes engagements of its own; what recurs at one
// frequency is a recurring fee, and a percent discount goes into their billing.
func TestLinesCanBelongToEngagementsOfTheirOwn(t *testing.T) {
	a, p := begun(t)
	p = save(t, a, p.ID, func(p *pricing.TypedProposal) {
		p.Discount = "10 %"
		p.Lines[1].Work = "Bathymetry"
		p.Lines[3].Work = "Forecast"
	})
	// nine tenths
	if got := total(t, p.Grid, "All 12 months, before tax (+ what is priced when billed)"); got != "7,560.00 + 29,160.00 + 42,264.00 +" {
		t.Errorf("first year %s", got)
	}
	done, err := pricing.Record(t.Context(), a, apptest.Admin, p.ID,
		pricing.ByHand{Version: p.Version, Name: "Sig", Day: apptest.Today, Evidence: "By mail",
			Chosen: pricing.Chosen{Tier: 1, Options: []int{3}}})
	if err != nil {
		t.Fatal(err)
	}
	tx := a.Store.Read(t.Context(), store.Everything)
	made, err := store.EngagementsFrom(tx, p.ID)
	if err != nil || len(made) != 3 {
		t.Fatalf("%+v, %v", done.Answer.Engagements, err)
	}
	for i, want := range []struct {
		name, arrangement, period string
		fee                       int64
	}{{"Berth monitoring 2027", setup.FixedFee, "", 8400_00}, {"Bathymetry", setup.Recurring, "quarter", 6000_00},
		{"Forecast", setup.Recurring, "month", 780_00}} {
		g := made[i]
		if g.Name != want.name || g.Arrangement != want.arrangement || g.FeePeriod != want.period || *g.Fee != want.fee {
			t.Errorf("%+v", g)
		}
		profile, err := profiles.ProfileOf(tx, &g)
		if err != nil || profile.Text("discount") != "10" || profile.Text("tax_code") != "S" {
			t.Errorf("%s: discount %q, %v", g.Name, profile.Text("discount"), err)
		}
	}
	apptest.Whole(t, a)
}

// Hours that are billed each month are billed as they are worked, not at a flat sum: no charges
// are planned, and the engagement is hourly, at its rate, billed monthly.
func TestHoursOfEachMonthAreBilledAsWorked(t *testing.T) {
	a, p := begun(t)
	p = save(t, a, p.ID, func(typed *pricing.TypedProposal) {
		typed.Term, typed.Tiers, typed.Suggested = "12", typed.Tiers[:1], 0
		typed.Lines = []pricing.TypedLine{{Description: "Advice", Kind: "hourly", Price: "110", When: "each month, in arrears", Expected: "10",
			TaxCode: "S", Cells: []string{"x"}}}
	})
	secret, mails := sent(t, a, p)
	page, err := pricing.ReadPage(t.Context(), a, secret, nil)
	if err != nil || page.Chosen.Net != "13,200.00" || !strings.Contains(page.Chosen.Bills[0].What, "(expected)") ||
		!strings.Contains(page.Chosen.Rows[0].Label, "billed by the hours worked") {
		t.Fatalf("%+v, %v", page, err)
	}
	if err := pricing.Accept(t.Context(), a, secret, "192.0.2.7",
		pricing.Signing{Gross: page.Chosen.Gross, Name: "Sig Ner", Code: code(t, a, secret, mails)}); err != nil {
		t.Fatal(err)
	}
	view, err := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
	if err != nil {
		t.Fatal(err)
	}
	id := view.Answer.Engagements[0].ID
	g, err := store.Get[store.Engagement](a.Store.Read(t.Context(), store.Everything), id)
	if err != nil || g.Arrangement != setup.Hourly || g.Fee != nil {
		t.Errorf("%+v, %v", g, err)
	}
	if plan, err := pricing.Plan(t.Context(), a, apptest.Admin.Actor, id); err != nil || len(plan) != 0 || !view.Answer.Once.IsZero() {
		t.Errorf("%+v, %v", plan, err)
	}
	a.Clock = app.PinnedClock{Date: day.Of(2027, 3, 1)}
	if work, err := unbilled.All(a.Read(t.Context(), apptest.Admin.Actor), a.Clock.Today(), unbilled.Selection{UpTo: a.Clock.Today()}, []int64{1}); err != nil ||
		len(work.Charges[id]) != 0 {
		t.Errorf("%+v, %v", work, err)
	}
	apptest.Whole(t, a)
}

// When bills are due, and in which instalments they are paid, is said on the proposal: the client reads
// it, and what was agreed is billed so. Without a word of it bills are due as the client's are.
func TestPaymentTermsAreAgreedWithTheProposal(t *testing.T) {
	a, p := begun(t)
	apptest.Set(t, a, "clients", p.ClientID, "terms", "14 days")
	for typed, want := range map[[2]string]string{{"", ""}: "14 days", {"2 weeks", ""}: "14 days", {"45 days", "50% now, rest in 30 days"}: "45 days; "} {
		p = save(t, a, p.ID, func(now *pricing.TypedProposal) { now.DueIn, now.PaidIn = typed[0], typed[1] })
		page, err := pricing.PreviewPage(t.Context(), a, apptest.Admin.Actor, p.ID, nil)
		if err != nil || !strings.HasPrefix(page.Payment, want) || (typed[1] == "") != (page.Payment == want) {
			t.Errorf("%q: the client reads %q, %v", typed, page.Payment, err)
		}
	}
	p = save(t, a, p.ID, func(now *pricing.TypedProposal) { now.DueIn, now.PaidIn = "45 days", "50% now, rest in 30 days" })
	again := save(t, a, p.ID, func(*pricing.TypedProposal) {})
	if now := again.Grid.Typed; now.DueIn != "45 days" || now.PaidIn != p.Grid.Typed.PaidIn || now.PaidIn == "" {
		t.Errorf("typed back: due %q, paid %q, before %q", now.DueIn, now.PaidIn, p.Grid.Typed.PaidIn)
	}
	done, err := pricing.Record(t.Context(), a, apptest.Admin, p.ID,
		pricing.ByHand{Version: again.Version, Name: "Sig", Day: apptest.Today, Evidence: "By mail", Chosen: pricing.Chosen{Tier: 1}})
	if err != nil {
		t.Fatal(err)
	}
	tx := a.Store.Read(t.Context(), store.Everything)
	g, err := store.Get[store.Engagement](tx, done.Answer.Engagements[0].ID)
	if err != nil {
		t.Fatal(err)
	}
	profile, err := profiles.ProfileOf(tx, g)
	if err != nil || profile.Text("terms") != "45d" || profile.Text("schedule") == "" {
		t.Errorf("terms %q, schedule %q, %v", profile.Text("terms"), profile.Text("schedule"), err)
	}
}

func TestPaymentTermsThatCanNotBeReadAreRefusedWithTheirField(t *testing.T) {
	a, p := begun(t)
	for field, typed := range map[string]pricing.TypedProposal{"dueIn": {DueIn: "soonish"}, "paidIn": {PaidIn: "50% now"}} {
		now := p.Grid.Typed
		now.DueIn, now.PaidIn = typed.DueIn, typed.PaidIn
		_, err := pricing.Save(t.Context(), a, apptest.Admin, pricing.Saving{ID: p.ID, Version: p.Version, Typed: now})
		var refusal *app.Refusal
		if !errors.As(err, &refusal) || refusal.Field != field {
			t.Errorf("%s: %v", field, err)
		}
	}
}
