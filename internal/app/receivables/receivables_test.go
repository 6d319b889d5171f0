package receivables_test

import (
	"errors"
	"strings"
	"testing"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/registry"
	"dorvet/internal/apptest"
	"dorvet/internal/documents/einvoice"
	"dorvet/internal/store"
)

func refused(t *testing.T, err error, says string) {
	t.Helper()
	var refusal *app.Refusal
	if !errors.As(err, &refusal) || !strings.Contains(refusal.Sentence, says) {
		t.Errorf("%v; want a refusal that says %q", err, says)
	}
}

// issued is an invoice over an amount without tax, by a schedule.
func issued(t *testing.T, a *app.App, engagement int64, amount, schedule string) *invoices.Invoice {
	t.Helper()
	inv := drafted(t, a, engagement, amount)
	var err error
	if schedule != "" {
		inv, err = apptest.Invoice(t.Context(), a)(drafts.SetChoice(t.Context(), a, apptest.Admin, edit(inv),
			drafts.ChoiceChange{Name: "schedule", Value: schedule, Keep: "invoice"}))
		must(t, err)
	}
	inv, err = apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(inv)))
	must(t, err)
	return inv
}

func drafted(t *testing.T, a *app.App, engagement int64, amount string) *invoices.Invoice {
	t.Helper()
	inv, err := apptest.Invoice(t.Context(), a)(drafts.Begin(t.Context(), a, apptest.Admin,
		drafts.Beginning{EngagementID: engagement, Take: "nothing"}))
	must(t, err)
	inv, err = apptest.Invoice(t.Context(), a)(drafts.AddLine(t.Context(), a, apptest.Admin, edit(inv),
		drafts.LineTyped{Text: "Work", Amount: amount, TaxCode: "Z"}))
	must(t, err)
	return inv
}

// firm has a tax code that takes nothing, so that amounts are plain.
func firm(t *testing.T) *app.App {
	t.Helper()
	a := apptest.Firm(t)
	apptest.Add(t, a, "tax-codes", "code", "Z", "name", "VAT")
	apptest.Add(t, a, "tax-rates", "code", "Z", "from", "2026-01-01", "percent", "0")
	return a
}

func edit(inv *invoices.Invoice) drafts.Edit { return drafts.Edit{ID: inv.ID, Version: inv.Version} }

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

func receive(t *testing.T, a *app.App, amount string, on ...receivables.PaidInvoice) *receivables.Payment {
	t.Helper()
	paid, err := receivables.Receive(t.Context(), a, apptest.Admin,
		receivables.TypedPayment{ClientID: 1, Day: apptest.Today, Amount: amount, Method: "transfer", On: on})
	must(t, err)
	apptest.Whole(t, a)
	return paid
}

func now(t *testing.T, a *app.App, id int64) *invoices.Invoice {
	t.Helper()
	inv, err := invoices.One(t.Context(), a, apptest.Admin.Actor, id)
	must(t, err)
	return inv
}

// opens is what is open of each instalment.
func opens(inv *invoices.Invoice) string {
	open := []string{}
	for _, part := range inv.Instalments {
		open = append(open, part.Open.String())
	}
	return strings.Join(open, " ")
}

// Source: common practice: part payments settle the oldest instalment first.
func TestAPaymentSettlesInstalmentsInOrder(t *testing.T) {
	a := firm(t)
	inv := issued(t, a, apptest.Survey, "300", "rest issue; rest monthly; rest monthly")
	receive(t, a, "150")
	if inv = now(t, a, inv.ID); opens(inv) != "0.00 50.00 100.00" || inv.State != invoice.PartPaid || inv.Due != day.Of(2027, 1, 1) {
		t.Errorf("%s, %s, due %s", opens(inv), inv.State, inv.Due)
	}
	receive(t, a, "150")
	if inv = now(t, a, inv.ID); inv.State != invoice.Paid || len(inv.Money) != 2 {
		t.Errorf("%s, %+v", inv.State, inv.Money)
	}
}

func TestOnePaymentPaysSeveralInvoicesAndTheRestIsCredit(t *testing.T) {
	a := firm(t)
	first, second := issued(t, a, apptest.Survey, "100", ""), issued(t, a, apptest.Advice, "200", "")
	paid := receive(t, a, "350", receivables.PaidInvoice{InvoiceID: second.ID}, receivables.PaidInvoice{InvoiceID: first.ID, Amount: "60"})
	if paid.Unapplied.String() != "90.00" || paid.On != "N1, N2" && paid.On != "N2, N1" {
		t.Errorf("%+v", paid)
	}
	if now(t, a, second.ID).State != invoice.Paid || now(t, a, first.ID).Open.String() != "40.00" {
		t.Error("it was not put where it was asked for")
	}
	draft := drafted(t, a, apptest.Survey, "70")
	if draft.Document.Totals.Credit.String() != "70.00" || !draft.Document.Totals.Due.IsZero() {
		t.Errorf("credit is offered on the next invoice: %+v", draft.Document.Totals)
	}
	_, err := receivables.UseCredit(t.Context(), a, apptest.Admin, first.ID, "30")
	refused(t, err, "20.00 of credit that is free")
	draft, err = apptest.Invoice(t.Context(), a)(drafts.SetChoice(t.Context(), a, apptest.Admin, edit(draft),
		drafts.ChoiceChange{Name: "use_credit", Value: "no", Keep: "invoice"}))
	if must(t, err); draft.Document.Totals.Due.String() != "70.00" {
		t.Errorf("and can be refused: %+v", draft.Document.Totals)
	}
	inv, err := apptest.Invoice(t.Context(), a)(receivables.UseCredit(t.Context(), a, apptest.Admin, first.ID, ""))
	if must(t, err); inv.State != invoice.Paid {
		t.Errorf("%s", inv.State)
	}
	account := store.Account{ClientID: 1, EntityID: 1, Currency: "EUR"}
	_, err = receivables.RefundCredit(t.Context(), a, apptest.Admin, account, "51", apptest.Today)
	refused(t, err, "50.00 is free")
	back, err := receivables.RefundCredit(t.Context(), a, apptest.Admin, account, "50", apptest.Today)
	if must(t, err); back.Amount.String() != "−50.00" {
		t.Errorf("%+v", back)
	}
	apptest.Whole(t, a)
	credits, err := receivables.Credits(t.Context(), a, apptest.Admin.Actor, 0)
	if must(t, err); len(credits) != 0 {
		t.Errorf("%+v", credits)
	}
}

func TestAPaymentThatCantBe(t *testing.T) {
	a := firm(t)
	inv := issued(t, a, apptest.Survey, "100", "")
	study := issued(t, a, apptest.Study, "100", "")
	for says, in := range map[string]receivables.TypedPayment{
		"more than zero": {ClientID: 1, Day: apptest.Today, Amount: "0"},
		"still to come":  {ClientID: 1, Day: apptest.Today + 1, Amount: "1"},
		"on which day":   {ClientID: 1, Amount: "1"},
		"take 20.00 away": {ClientID: 1, Day: apptest.Today, Amount: "80",
			On: []receivables.PaidInvoice{{InvoiceID: inv.ID, Amount: "100"}}},
		"100.00 is owed on N1": {ClientID: 1, Day: apptest.Today, Amount: "180",
			On: []receivables.PaidInvoice{{InvoiceID: inv.ID, Amount: "100.01"}}},
		"it is another":        {ClientID: 1, Day: apptest.Today, Amount: "80", On: []receivables.PaidInvoice{{InvoiceID: study.ID}}},
		"no such client":       {ClientID: 99, Day: apptest.Today, Amount: "80"},
		"give a later day":     {ClientID: 1, Day: day.Of(2026, 10, 1), Amount: "80"},
		"“1,5” can be read in": {ClientID: 1, Day: apptest.Today, Amount: "1.2.3"},
	} {
		if says == "give a later day" {
			apptest.Set(t, a, "firm", 1, "closing_day", "2026-10-31")
		}
		in.Method = "cash"
		if _, err := receivables.Receive(t.Context(), a, apptest.Admin, in); says[0] == "“"[0] {
			refused(t, err, "")
		} else {
			refused(t, err, says)
		}
	}
	apptest.Whole(t, a)
}

func TestAPaymentIsReversedAndOwedAgain(t *testing.T) {
	a := firm(t)
	inv := issued(t, a, apptest.Survey, "300", "rest issue; rest monthly; rest monthly")
	paid := receive(t, a, "150")
	_, err := receivables.Reverse(t.Context(), a, apptest.Admin, paid.ID, " ")
	refused(t, err, "Say why")
	back, err := receivables.Reverse(t.Context(), a, apptest.Admin, paid.ID, "The cheque bounced")
	if must(t, err); back.Amount.String() != "−150.00" || back.Reverses != paid.ID {
		t.Errorf("%+v", back)
	}
	apptest.Whole(t, a)
	if inv = now(t, a, inv.ID); opens(inv) != "100.00 100.00 100.00" || inv.State != invoice.Issued || len(inv.Money) != 2 {
		t.Errorf("%s, %s, %+v", opens(inv), inv.State, inv.Money)
	}
	_, err = receivables.Reverse(t.Context(), a, apptest.Admin, paid.ID, "again")
	refused(t, err, "reversed already")
	_, err = receivables.Reverse(t.Context(), a, apptest.Admin, back.ID, "again")
	refused(t, err, "reversal itself")
	over := receive(t, a, "400")
	second := issued(t, a, apptest.Survey, "60", "") // the credit of 100.00 pays it
	if second.State != invoice.Paid {
		t.Fatalf("%+v", second.Document.Totals)
	}
	_, err = receivables.Reverse(t.Context(), a, apptest.Admin, over.ID, "bounced")
	refused(t, err, "60.00 was used on an invoice since")
	apptest.Whole(t, a)
}

// Source: common practice of money held: 10,000.00 − 3,700.20 = 6,299.80.
func TestFundsAreHeldReservedAppliedAndRefunded(t *testing.T) {
	a := firm(t)
	draft := drafted(t, a, apptest.Survey, "3700.20")
	funds := func(amount string, engagement int64) {
		t.Helper()
		_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
			receivables.TypedFunds{ClientID: 1, EngagementID: engagement, Day: apptest.Today, Amount: amount, Method: "transfer"})
		must(t, err)
		apptest.Whole(t, a)
	}
	funds("10000", 0)
	if draft = now(t, a, draft.ID); draft.Document.Totals.Funds.String() != "3,700.20" ||
		draft.Document.Funds.Closing.String() != "6,299.80" {
		t.Fatalf("a draft takes what came in: %+v", draft.Document.Totals)
	}
	held, err := receivables.FundsHeld(t.Context(), a, apptest.Admin.Actor, 1)
	if must(t, err); held[0].Held.String() != "10,000.00" || held[0].Reserved.String() != "3,700.20" {
		t.Errorf("%+v", held)
	}
	_, err = receivables.Refund(t.Context(), a, apptest.Admin, held[0].ID, "6299.81", apptest.Today)
	refused(t, err, "6,299.80 of it is free")
	inv, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(draft)))
	if must(t, err); inv.State != invoice.Paid {
		t.Errorf("%s", inv.State)
	}
	apptest.Whole(t, a)
	_, err = receivables.Refund(t.Context(), a, apptest.Admin, held[0].ID, "1000", apptest.Today)
	must(t, err)
	statement, err := receivables.StatementOf(t.Context(), a, apptest.Admin.Actor, held[0].ID)
	if must(t, err); statement.Closing.String() != "5,299.80" || len(statement.Movements) != 3 {
		t.Errorf("%+v", statement)
	}
	// The next bill lists them all, and what it takes itself.
	next := drafted(t, a, apptest.Survey, "100")
	listed := []string{}
	for _, fact := range next.Printed.Balances {
		listed = append(listed, fact.Label+" "+fact.Text)
	}
	if got := strings.Join(listed, "; "); got != "Held for you ; 1 Dec 2026 · Received 10,000.00; 1 Dec 2026 · Applied to N1 −3,700.20; "+
		"1 Dec 2026 · Refunded −1,000.00; 1 Dec 2026 · Applied to this invoice −100.00; Still held 5,199.80" {
		t.Errorf("the statement on the next bill: %s", got)
	}
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(next)))
	transfers, err := receivables.Transfers(t.Context(), a, apptest.Admin.Actor, false)
	if must(t, err); len(transfers) != 1 || transfers[0].Amount.String() != "3,700.20" {
		t.Fatalf("%+v", transfers)
	}
	must(t, receivables.MarkTransfers(t.Context(), a, apptest.Admin, []int64{transfers[0].ID}, true))
	open, err := apptest.Invoice(t.Context(), a)(issuing.Reopen(t.Context(), a, apptest.Admin, edit(now(t, a, inv.ID))))
	if err == nil || open != nil {
		t.Error("what funds have paid is paid, and not reopened")
	}
	apptest.Whole(t, a)
}

func TestReopeningGivesFundsBackWithTheirTransfers(t *testing.T) {
	a := firm(t)
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
		receivables.TypedFunds{ClientID: 1, Day: apptest.Today, Amount: "40", Method: "transfer"})
	must(t, err)
	for _, done := range []bool{false, true} {
		inv := issued(t, a, apptest.Survey, "100", "")
		if inv.Open.String() != "60.00" {
			t.Fatalf("%+v", inv.Document.Totals)
		}
		transfers, err := receivables.Transfers(t.Context(), a, apptest.Admin.Actor, false)
		must(t, err)
		if done {
			must(t, receivables.MarkTransfers(t.Context(), a, apptest.Admin, []int64{transfers[0].ID}, true))
		}
		open, err := apptest.Invoice(t.Context(), a)(issuing.Reopen(t.Context(), a, apptest.Admin, edit(inv)))
		must(t, err)
		apptest.Whole(t, a)
		held, err := receivables.FundsHeld(t.Context(), a, apptest.Admin.Actor, 1)
		if must(t, err); held[0].Held.String() != "40.00" {
			t.Errorf("%+v", held)
		}
		left, err := receivables.Transfers(t.Context(), a, apptest.Admin.Actor, false)
		if must(t, err); done && (len(left) != 1 || left[0].Amount.String() != "−40.00") || !done && len(left) != 0 {
			t.Errorf("done %t: %+v", done, left)
		}
		again, err := apptest.Invoice(t.Context(), a)(drafts.SetChoice(t.Context(), a, apptest.Admin, edit(open),
			drafts.ChoiceChange{Name: "use_funds", Value: "none", Keep: "invoice"}))
		must(t, err)
		_, err = issuing.Issue(t.Context(), a, apptest.Admin, edit(again))
		must(t, err)
		apptest.Whole(t, a)
	}
}

// applyAll puts what is held for a client where the plan says.
func applyAll(t *testing.T, a *app.App, client int64) (*receivables.AppliedFunds, error) {
	t.Helper()
	plan, err := receivables.FundsPlan(t.Context(), a, apptest.Admin.Actor, []int64{client})
	must(t, err)
	puts := []receivables.PutTyped{}
	for _, p := range plan {
		puts = append(puts, receivables.PutTyped{FundsID: p.FundsID, InvoiceID: p.InvoiceID, Amount: p.Amount.Typed()})
	}
	return receivables.ApplyFunds(t.Context(), a, apptest.Admin, puts)
}

// What was applied together is taken back together, unless something came since.
func TestAppliedFundsAreTakenBackTogether(t *testing.T) {
	a := firm(t)
	one, two := issued(t, a, apptest.Survey, "100", ""), issued(t, a, apptest.Survey, "50", "")
	hold(t, a, 1, apptest.Today, "300")
	before := held(t, a, 1)
	done, err := applyAll(t, a, 1)
	if must(t, err); now(t, a, one.ID).State != invoice.Paid || now(t, a, two.ID).State != invoice.Paid {
		t.Fatalf("%+v", done)
	}
	apptest.Whole(t, a)
	must(t, receivables.UndoApplied(t.Context(), a, apptest.Admin, done.ActID))
	apptest.Whole(t, a)
	if got := held(t, a, 1); got != before || now(t, a, one.ID).State != invoice.Issued {
		t.Errorf("%s is held, want %s", got, before)
	}
	refused(t, receivables.UndoApplied(t.Context(), a, apptest.Admin, done.ActID), "Money has moved")
	_, err = receivables.ApplyFunds(t.Context(), a, apptest.Admin, []receivables.PutTyped{{FundsID: 1, InvoiceID: one.ID, Amount: "1"},
		{FundsID: 1, InvoiceID: two.ID, Amount: "100000"}})
	if err == nil || now(t, a, one.ID).Open != one.Total {
		t.Errorf("all or nothing: %v", err)
	}
}

func TestFundsOfAnEngagementPayForItAlone(t *testing.T) {
	a := firm(t)
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
		receivables.TypedFunds{ClientID: 1, EngagementID: apptest.Advice, Day: apptest.Today, Amount: "500", Method: "transfer"})
	must(t, err)
	inv := issued(t, a, apptest.Survey, "100", "")
	_, err = receivables.Apply(t.Context(), a, apptest.Admin, 1, inv.ID, "")
	refused(t, err, "held for Advice")
	_, err = applyAll(t, a, 1)
	refused(t, err, "Choose at least one invoice")
	other := issued(t, a, apptest.Study, "100", "")
	_, err = receivables.Apply(t.Context(), a, apptest.Admin, 1, other.ID, "")
	refused(t, err, "can't pay another's")
	draft := drafted(t, a, apptest.Advice, "100")
	draft, err = apptest.Invoice(t.Context(), a)(drafts.SetChoice(t.Context(), a, apptest.Admin, edit(draft),
		drafts.ChoiceChange{Name: "funds_at_most", Value: "30", Keep: "invoice"}))
	if must(t, err); draft.Document.Totals.Funds.String() != "30.00" {
		t.Errorf("%+v", draft.Document.Totals)
	}
	advice, err := apptest.Invoice(t.Context(), a)(issuing.Issue(t.Context(), a, apptest.Admin, edit(draft)))
	must(t, err)
	done, err := applyAll(t, a, 1)
	if must(t, err); len(done.Applied) != 1 || done.Applied[0].Amount.String() != "70.00" || now(t, a, advice.ID).State != invoice.Paid {
		t.Errorf("%+v", done)
	}
	apptest.Whole(t, a)
	back, err := apptest.Invoice(t.Context(), a)(receivables.TakeBack(t.Context(), a, apptest.Admin, advice.ID))
	if must(t, err); back.Open.String() != "70.00" || back.State != invoice.Issued {
		t.Errorf("what was put on it since is taken off, what it took at issue stays: %+v", back.Summary)
	}
	_, err = receivables.TakeBack(t.Context(), a, apptest.Admin, advice.ID)
	refused(t, err, "No funds or credit")
	held, err := receivables.FundsHeld(t.Context(), a, apptest.Admin.Actor, 1)
	if must(t, err); held[0].Held.String() != "470.00" {
		t.Errorf("%+v", held)
	}
	apptest.Whole(t, a)
}

func TestADepositIsRequestedAndHeldWhenItComes(t *testing.T) {
	a := firm(t)
	request, err := receivables.RequestDeposit(t.Context(), a, apptest.Admin,
		receivables.TypedRequest{EngagementID: apptest.Survey, Amount: "250", Due: day.Of(2026, 12, 15)})
	if must(t, err); request.Number != "D1" || request.State != "open" || request.Client != "Alder" {
		t.Errorf("%+v", request)
	}
	if owed, err := receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{}); err != nil || !owed.Total.IsZero() {
		t.Errorf("a request is not owed: %+v, %v", owed, err)
	}
	if name, content, err := receivables.RequestFile(t.Context(), a, apptest.Admin.Actor, request.ID); err != nil ||
		name != "D1 Client 2026-12-01.pdf" || string(content) != "D1" {
		t.Errorf("%s, %s, %v", name, content, err)
	}
	for _, amount := range []string{"100", "150"} {
		_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
			receivables.TypedFunds{RequestID: request.ID, Day: apptest.Today, Amount: amount, Method: "transfer"})
		must(t, err)
	}
	list, err := receivables.Requests(t.Context(), a, apptest.Admin.Actor, 0)
	if must(t, err); list[0].State != "received" || list[0].Received.String() != "250.00" {
		t.Errorf("%+v", list)
	}
	_, err = receivables.Withdraw(t.Context(), a, apptest.Admin, request.ID, list[0].Version)
	refused(t, err, "nothing to withdraw")
	second, err := receivables.RequestDeposit(t.Context(), a, apptest.Admin, receivables.TypedRequest{ClientID: 1, Amount: "10"})
	must(t, err)
	if second, err = receivables.Withdraw(t.Context(), a, apptest.Admin, second.ID, second.Version); err != nil ||
		second.State != "withdrawn" {
		t.Errorf("%+v, %v", second, err)
	}
	apptest.Whole(t, a)
}

func TestAnOpeningBalanceIsPaidAndAgedLikeAnyOther(t *testing.T) {
	a := firm(t)
	in := receivables.TypedOpening{ClientID: 1, EngagementID: apptest.Advice, Number: "OLD-7", Dated: day.Of(2026, 8, 1), Due: day.Of(2026, 9, 2), Balance: "123.45"}
	old, err := apptest.Invoice(t.Context(), a)(receivables.EnterOpening(t.Context(), a, apptest.Admin, in))
	if must(t, err); old.Number != "OLD-7" || old.State != invoice.Issued || old.DaysLate != 90 || old.Beside != "opening balance" || old.Engagements != "Advice" {
		t.Errorf("%+v", old.Summary)
	}
	apptest.Whole(t, a)
	_, err = receivables.EnterOpening(t.Context(), a, apptest.Admin, in)
	refused(t, err, "can't be taken over twice")
	for _, bad := range []func(*receivables.TypedOpening){func(in *receivables.TypedOpening) { in.Number = "" },
		func(in *receivables.TypedOpening) { in.EngagementID = apptest.Study }, // of another client
		func(in *receivables.TypedOpening) { in.Balance = "0" },
		func(in *receivables.TypedOpening) { in.Dated = apptest.Today + 1 },
		func(in *receivables.TypedOpening) { in.Due = day.Of(2026, 7, 1) }} {
		wrong := in
		wrong.Number = "OLD-8"
		bad(&wrong)
		_, err := receivables.EnterOpening(t.Context(), a, apptest.Admin, wrong)
		refused(t, err, "")
	}
	owed, err := receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{})
	if must(t, err); owed.Ages[3].String() != "123.45" || owed.Clients[0].MostLate != 90 {
		t.Errorf("90 days late is in 61–90: %+v", owed)
	}
	receive(t, a, "123.45")
	if paid := now(t, a, old.ID); paid.State != invoice.Paid {
		t.Errorf("%s", paid.State)
	}
	_, _, err = papers.File(t.Context(), a, apptest.Admin.Actor, old.ID)
	refused(t, err, "no document here")
}

// 100 dollars issued at 0.90 are 90.00; paid at 0.95 they bring 95.00, and 5.00 is
// a result of exchange.
func TestAPaymentAtAnotherRateLeavesAnExchangeDifference(t *testing.T) {
	a := firm(t)
	client := apptest.Add(t, a, "clients", "name", "Abroad", "currency", "USD")
	engagement := apptest.Add(t, a, "engagements", "client", "Abroad", "name", "Overseas")
	apptest.Add(t, a, "exchange-rates", "currency", "USD", "day", "2026-11-01", "rate", "0.90", "source", "invented")
	inv := issued(t, a, engagement, "100", "")
	later := *a
	later.Clock = app.PinnedClock{Date: apptest.Today + 9}
	apptest.Add(t, a, "exchange-rates", "currency", "USD", "day", "2026-12-05", "rate", "0.95", "source", "invented")
	_, err := receivables.Receive(t.Context(), &later, apptest.Admin,
		receivables.TypedPayment{ClientID: client, Day: apptest.Today + 9, Amount: "100", Method: "transfer"})
	must(t, err)
	movements, err := store.MoneyOf(a.Store.Read(t.Context(), store.Everything), inv.ID)
	must(t, err)
	last := movements[len(movements)-1]
	if last.Kind != "exchange_difference" || last.FirmAmount != 500 || last.Amount != 0 {
		t.Errorf("%+v", last)
	}
	apptest.Whole(t, a)
}

func TestNobodyOfAnotherEntitySeesWhatIsOwed(t *testing.T) {
	a := firm(t)
	issued(t, a, apptest.Survey, "100", "")
	limited := apptest.Admin.Actor
	limited.Entities = []int64{99}
	owed, err := receivables.Owed(t.Context(), a, limited, receivables.Filter{})
	if must(t, err); len(owed.Clients) != 0 || !owed.Total.IsZero() {
		t.Errorf("%+v", owed)
	}
	_, err = receivables.Receive(t.Context(), a, app.Request{Actor: limited},
		receivables.TypedPayment{ClientID: 1, EntityID: 1, Currency: "EUR", Day: apptest.Today, Amount: "100", Method: "cash"})
	refused(t, err, "no such client")
}

func TestOpenInvoicesAreReadFromAFileAndTakenBack(t *testing.T) {
	a := firm(t)
	in := registry.Incoming{Kind: "open-invoices", Name: "old.csv", Header: []string{"Client", "Number", "Dated", "Still owed"},
		Rows: [][]string{{"Alder", "A-1", "2026-08-01", "100.00"}, {"Birch", "B-1", "2026-09-01", "50.00"},
			{"Nobody", "N-1", "2026-09-01", "50.00"}}, Cell: func(s string) (string, bool) { return s, false }}
	check, err := registry.CheckImport(t.Context(), a, apptest.Admin.Actor, in)
	if must(t, err); check.Good != 2 || len(check.Bad) != 1 || check.Bad[0].Column != "Client" {
		t.Errorf("%+v", check)
	}
	in.Rows = in.Rows[:2]
	done, err := registry.Import(t.Context(), a, apptest.Admin, in)
	must(t, err)
	apptest.Whole(t, a)
	owed, err := receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{})
	if must(t, err); owed.Total.String() != "150.00" {
		t.Errorf("%+v", owed)
	}
	must(t, registry.UndoImport(t.Context(), a, apptest.Admin, done.ID))
	apptest.Whole(t, a)
	if owed, err = receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{}); err != nil || !owed.Total.IsZero() {
		t.Errorf("%+v, %v", owed, err)
	}
}

// E-invoices are tried like any other file: what is not ours to collect, or nobody's
// we know, is a bad row.
func TestEInvoicesAreTakenOverAsOpenInvoices(t *testing.T) {
	a := firm(t)
	apptest.Set(t, a, "entities", 1, "tax_number", "VAT IE 0000000 X")
	apptest.Set(t, a, "clients", 2, "tax_number", "NO 999 999 999 MVA")
	row := func(client, number, invoice, document, by string) []string {
		return []string{client, number, invoice, "2026-08-01", "2026-09-01", "100.00", "EUR", document, by}
	}
	in := registry.Incoming{Kind: receivables.OpenInvoices, Name: "old.xml", Header: einvoice.Columns,
		Cell: func(s string) (string, bool) { return s, false }, Point: true, Rows: [][]string{
			row("Client", "", "A-1", "invoice", "IE0000000X"),               // two clients have this name on invoices
			row("Alder", "", "A-2", "invoice", "Firm Ltd"),                  // by name
			row("somebody", "NO999999999MVA", "B-1", "invoice", ""),         // by number
			row("Alder", "", "A-3", "credit note", "IE0000000X"),            // no debt
			row("Alder", "", "A-4", "invoice", "DE111111111"),               // of others
			row("Nobody", "SE556000000001", "N-1", "invoice", "IE0000000X"), // of whom we do not know
		}}
	check, err := registry.CheckImport(t.Context(), a, apptest.Admin.Actor, in)
	if must(t, err); check.Good != 2 || len(check.Bad) != 4 {
		t.Fatalf("%+v", check)
	}
	for i, want := range []struct{ column, reason string }{{"Client", "There is no client"}, {"Document", "recorded as a payment"},
		{"Issued by", "none of the firm's issuing entities"}, {"Client", "There is no client"}} {
		if bad := check.Bad[i]; bad.Column != want.column || !strings.Contains(bad.Reason, want.reason) {
			t.Errorf("%+v, not %+v", bad, want)
		}
	}
	in.Rows = in.Rows[1:3]
	_, err = registry.Import(t.Context(), a, apptest.Admin, in)
	must(t, err)
	apptest.Whole(t, a)
	owed, err := receivables.Owed(t.Context(), a, apptest.Admin.Actor, receivables.Filter{})
	if must(t, err); owed.Total.String() != "200.00" {
		t.Errorf("%+v", owed)
	}
}

// A payment is found by its amount, its payer, its reference or an invoice, however many there are.
func TestAPaymentIsFound(t *testing.T) {
	a := firm(t)
	inv := issued(t, a, apptest.Survey, "1200.50", "")
	_, err := receivables.Receive(t.Context(), a, apptest.Admin, receivables.TypedPayment{ClientID: 1, Day: apptest.Today, Amount: "1200.50",
		Method: "cheque", Reference: "Run 11", On: []receivables.PaidInvoice{{InvoiceID: inv.ID}}})
	must(t, err)
	receive(t, a, "7")
	for text, n := range map[string]int{"": 2, "1200.50": 1, "1,200.50": 1, "7": 1, "7.00": 1, "run cheque": 1, "alder": 2, "n1": 1, "n1 7": 0, "120": 0,
		"%": 0} {
		found, err := receivables.FindPayments(t.Context(), a, apptest.Admin.Actor, 0, text)
		if err != nil || len(found) != n {
			t.Errorf("%q finds %d, %v", text, len(found), err)
		}
	}
}
