package invoices_test

import (
	"slices"
	"strings"
	"testing"

	"dorvet/core/invoice"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/apptest"
	"dorvet/internal/store"
)

func found(inv *invoices.Invoice) string {
	codes := []string{}
	for _, f := range inv.Findings {
		codes = append(codes, f.Code)
	}
	return strings.Join(codes, " ")
}

// settled mends the one finding of a code by one of its remedies.
func settled(t *testing.T, a *app.App, inv *invoices.Invoice, code, act string) *invoices.Invoice {
	t.Helper()
	at := slices.IndexFunc(inv.Findings, func(f issuing.DraftFinding) bool { return f.Code == code })
	if at < 0 {
		t.Fatalf("no %s among %s", code, found(inv))
	}
	f := inv.Findings[at]
	if !slices.ContainsFunc(f.Remedies, func(r issuing.Remedy) bool { return r.Act == act }) {
		t.Fatalf("%s offers %+v", code, f.Remedies)
	}
	changed, err := apptest.Invoice(t.Context(), a)(issuing.ResolveFinding(t.Context(), a, apptest.Admin, edit(inv), code, f.SubjectID, act))
	if err != nil {
		t.Fatal(err)
	}
	apptest.Whole(t, a)
	return changed
}

// reachable gives the clients an address, so that a finding stands alone.
func reachable(t *testing.T, a *app.App) {
	t.Helper()
	for _, client := range []int64{1, 2} {
		apptest.Set(t, a, "clients", client, "address", "1 Quay")
		apptest.Set(t, a, "clients", client, "mail", "office@client.example")
	}
}

// Each check finds what its name says and nothing else, and its first remedy mends it.
func TestEachFindingAndItsRemedy(t *testing.T) {
	again := apptest.Typed(apptest.Study, "2026-11-20", "1:00")
	for _, c := range []struct {
		code, act string
		prepare   func(t *testing.T, a *app.App)
		after     func(t *testing.T, a *app.App, inv *invoices.Invoice) *invoices.Invoice
		level     invoice.Level
		left      string // of findings, once it is mended
	}{
		{"duplicate", "take_out", func(t *testing.T, a *app.App) { apptest.Record(t, a, apptest.Study, "2026-11-20", "1:00") }, nil,
			invoice.Warn, ""},
		{"duplicate", "leave", func(t *testing.T, a *app.App) { apptest.Record(t, a, apptest.Study, "2026-11-20", "1:00") }, nil,
			invoice.Warn,
			""},
		{"no_text", "leave", func(t *testing.T, a *app.App) {
			silent := again
			silent.Text = ""
			record(t, a, silent)
		}, nil, invoice.Warn, ""},
		{"no_contact", "leave", func(t *testing.T, a *app.App) {
			apptest.Set(t, a, "clients", 2, "address", "")
			apptest.Set(t, a, "clients", 2, "mail", "")
		}, nil, invoice.Warn, ""},
		{"no_addressee", "leave", func(t *testing.T, a *app.App) { apptest.Set(t, a, "clients", 2, "mail", "") }, nil, invoice.Warn, ""},
		{"no_mail_server", "leave", func(_ *testing.T, a *app.App) { a.MailStays = true }, nil, invoice.Warn, ""},
		{"no_issuer_address", "leave", func(t *testing.T, a *app.App) { apptest.Set(t, a, "entities", 1, "address", "") }, nil, invoice.Block, ""},
		{"no_issuer_tax_number", "leave", func(t *testing.T, a *app.App) { apptest.Set(t, a, "entities", 1, "tax_number", "") }, nil,
			invoice.Block, ""},
		{"no_way_to_pay", "leave", func(t *testing.T, a *app.App) { apptest.Set(t, a, "entities", 1, "iban", "") }, nil, invoice.Block, ""},
		{"client_rules", "leave", func(t *testing.T, a *app.App) { apptest.Set(t, a, "clients", 2, "shortest_text", "30") }, nil, invoice.Warn,
			""},
		{"funds", "apply_funds", func(t *testing.T, a *app.App) {
			_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
				receivables.TypedFunds{ClientID: 2, Day: apptest.Today, Amount: "20", Method: "transfer"})
			if err != nil {
				t.Fatal(err)
			}
		}, func(t *testing.T, a *app.App, inv *invoices.Invoice) *invoices.Invoice {
			return chosen(t, a, inv, "use_funds", "none", "invoice")
		}, invoice.Warn, ""},
		{"credit", "take_credit", func(t *testing.T, a *app.App) {
			_, err := receivables.Receive(t.Context(), a, apptest.Admin,
				receivables.TypedPayment{ClientID: 2, Day: apptest.Today, Amount: "20", Method: "transfer"})
			if err != nil {
				t.Fatal(err)
			}
		}, func(t *testing.T, a *app.App, inv *invoices.Invoice) *invoices.Invoice {
			return chosen(t, a, inv, "use_credit", "no", "invoice")
		}, invoice.Warn, ""},
		{"surcharge", "put_surcharge", func(*testing.T, *app.App) {},
			func(t *testing.T, a *app.App, inv *invoices.Invoice) *invoices.Invoice {
				apptest.Set(t, a, "clients", 2, "surcharge", "4")
				return opened(t, a, inv.ID)
			}, invoice.Block, ""},
		{"not_approved", "ask_approval", func(t *testing.T, a *app.App) {
			take(t, a, "not_approved", "block")
		}, nil, invoice.Block, "not_approved"},
		{"old_rate", "leave", func(t *testing.T, a *app.App) {
			apptest.Add(t, a, "rates", "engagement", "3", "per_hour", "90", "from", "2025-01-01")
			record(t, a, again)
		}, nil, invoice.Warn, ""},
		{"zero", "leave", func(t *testing.T, a *app.App) {
			free := apptest.Typed(apptest.Survey, "2026-11-20", "1:00")
			free.Treatment = wip.NoCharge
			record(t, a, free)
		}, nil, invoice.Warn, ""},
		{"credit_limit", "leave", func(t *testing.T, a *app.App) { apptest.Set(t, a, "clients", 2, "credit_limit", "50") }, nil,
			invoice.Warn,
			""},
		{"unbilled_limit", "leave", func(t *testing.T, a *app.App) { apptest.Set(t, a, "clients", 2, "unbilled_limit", "50") }, nil,
			invoice.Warn, ""},
		{"budget", "leave", func(t *testing.T, a *app.App) {
			apptest.Add(t, a, "budgets", "engagement", "3", "measure", "hours", "hours", "0.5", "from", "2026-01-01")
		}, nil, invoice.Warn, ""},
	} {
		t.Run(c.code+" "+c.act, func(t *testing.T) {
			a := apptest.Firm(t)
			reachable(t, a)
			on := apptest.Study
			if c.code == "zero" {
				on = apptest.Survey
			} else if c.code != "old_rate" {
				record(t, a, again)
			}
			c.prepare(t, a)
			inv := draftOf(t, a, on)
			if c.after != nil {
				inv = c.after(t, a, inv)
			}
			if found(inv) != c.code || inv.Findings[0].Level != c.level || inv.Findings[0].Text == "" {
				t.Fatalf("found are %+v", inv.Findings)
			}
			if c.level == invoice.Block {
				_, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv))
				refused(t, err, inv.Findings[0].Title)
			}
			if inv = settled(t, a, inv, c.code, c.act); found(inv) != c.left {
				t.Errorf("mended, it still has %s", found(inv))
			}
			if c.code == "not_approved" {
				if err := issuing.Approve(t.Context(), a, apptest.Admin, []drafts.Edit{edit(inv)}); err != nil {
					t.Fatal(err)
				}
				inv = opened(t, a, inv.ID)
			}
			issue(t, a, inv)
			apptest.Whole(t, a)
		})
	}
}

// take sets how the firm takes a check.
func take(t *testing.T, a *app.App, code, level string) {
	t.Helper()
	rows, err := store.All[store.IssueCheck](a.Store.Read(t.Context(), store.Everything), "id")
	if err != nil {
		t.Fatal(err)
	}
	at := slices.IndexFunc(rows, func(c store.IssueCheck) bool { return c.Code == code })
	apptest.Set(t, a, "issue-checks", rows[at].ID, "level", level)
}

// The rows that a firm begins with are the checks of the core that it may take
// otherwise, each as it comes.
func TestTheSetUpHasEveryCheckThatTheFirmDecidesOn(t *testing.T) {
	a := apptest.Firm(t)
	rows, err := store.All[store.IssueCheck](a.Store.Read(t.Context(), store.Everything), "id")
	if err != nil {
		t.Fatal(err)
	}
	own := []string{}
	for _, c := range invoice.Checks {
		if !c.Always {
			own = append(own, c.Code+" "+strings.TrimSuffix(c.Title, ".")+" "+string(c.Level))
		}
	}
	kept := []string{}
	for _, row := range rows {
		kept = append(kept, row.Code+" "+row.Name+" "+row.Level)
	}
	if !slices.Equal(own, kept) {
		t.Errorf("the set-up has\n%s, the core\n%s", strings.Join(kept, "\n"), strings.Join(own, "\n"))
	}
}

func TestACheckThatIsOffFindsNothing(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Study, "2026-11-20", "1:00")
	inv := draftOf(t, a, apptest.Study)
	if found(inv) != "no_contact" {
		t.Fatalf("%s", found(inv))
	}
	take(t, a, "no_contact", "block")
	_, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv))
	refused(t, err, "No billing contact")
	take(t, a, "no_contact", "off")
	if inv = opened(t, a, inv.ID); found(inv) != "" {
		t.Errorf("%s", found(inv))
	}
	issue(t, a, inv)
}

func record(t *testing.T, a *app.App, in timekeeping.TypedEntry) {
	t.Helper()
	if _, err := timekeeping.Record(t.Context(), a, apptest.Staff, in); err != nil {
		t.Fatal(err)
	}
}

func TestARuleOfTheRegisterCantBeLeft(t *testing.T) {
	a := apptest.Firm(t)
	reachable(t, a)
	apptest.Record(t, a, apptest.Study, "2026-11-20", "1:00")
	inv := byHand(t, a, draftOf(t, a, apptest.Study), drafts.LineTyped{Text: "less", Amount: "-500"})
	if found(inv) != "negative" || inv.Findings[0].Level != invoice.Block {
		t.Fatalf("%+v", inv.Findings)
	}
	_, err := issuing.ResolveFinding(t.Context(), a, apptest.Admin, edit(inv), "negative", 0, "leave")
	refused(t, err, "can't be left")
	_, err = issuing.ResolveFinding(t.Context(), a, apptest.Admin, edit(inv), "negative", 0, "sing")
	refused(t, err, "does not mend")
}

// A cap that was passed by a line typed by hand, and work that a rate is missing for.
func TestFindingsThatNeedAnotherScreen(t *testing.T) {
	a := apptest.Firm(t)
	reachable(t, a)
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "1:00")
	apptest.Set(t, a, "engagements", apptest.Survey, "fee", "100")
	apptest.Set(t, a, "engagements", apptest.Survey, "arrangement", "capped")
	inv := byHand(t, a, draftOf(t, a, apptest.Survey), drafts.LineTyped{EngagementID: apptest.Survey, Text: "site visit", Amount: "20"})
	if found(inv) != "cap" || !strings.Contains(inv.Findings[0].Text, "20.00 of Survey") {
		t.Errorf("%+v", inv.Findings)
	}
	_, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv))
	refused(t, err, "Above the cap")
	if inv = settled(t, a, inv, "cap", "leave"); found(inv) != "" {
		t.Errorf("%s", found(inv))
	}
	issue(t, a, inv)
}

// The most that a client pays a day and person counts all that it is charged that day, on
// whichever engagement, while it is recorded and before it is billed: 5 h 03 and 4 h are
// 5 h 06 and 4 h when billed, 9 h 06 of 9 h.
func TestTheMostOfADayIsTheSameWhenRecordedAndWhenBilled(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Set(t, a, "clients", 1, "most_hours", "540")
	apptest.Record(t, a, apptest.Survey, "2026-11-20", "5:03")
	in := apptest.Typed(apptest.Advice, "2026-11-20", "4:00")
	worth, err := timekeeping.Preview(t.Context(), a, apptest.Admin.Actor, in, 0)
	if err != nil || !strings.Contains(worth.Warning, "Not as the client asks") {
		t.Errorf("while recording: %q, %v", worth.Warning, err)
	}
	apptest.RecordTyped(t, a, in)
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Advice, Take: "all"})
	if got := found(inv); !strings.Contains(got, "client_rules") {
		t.Errorf("before it is billed: %s", got)
	}
}
