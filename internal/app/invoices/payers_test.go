package invoices_test

import (
	"fmt"
	"strings"
	"testing"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/apptest"
)

// shared lets Alder and Birch pay the survey of Alder together, two to one. Birch is taxed
// otherwise, on other terms, and calls it by a number of its own.
func shared(t *testing.T) *app.App {
	t.Helper()
	a := apptest.Firm(t)
	apptest.Add(t, a, "tax-codes", "code", "Z", "name", "None")
	apptest.Add(t, a, "tax-rates", "code", "Z", "from", "2020-01-01", "percent", "0")
	apptest.Set(t, a, "clients", 2, "tax_code", "Z")
	apptest.Set(t, a, "clients", 2, "terms", "10 days")
	apptest.Set(t, a, "engagements", apptest.Survey, "reference", "PO 1")
	apptest.Add(t, a, "payers", "engagement", "1", "client", "A", "share", "2")
	apptest.Add(t, a, "payers", "engagement", "1", "client", "B", "share", "1", "reference", "PO 2")
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "7:07") // 7.2 h, 720.00
	expense(t, a, apptest.Survey, "10.00", unchanged)
	return a
}

// divided are the two drafts of a run over the survey, Alder's first.
func divided(t *testing.T, a *app.App) (alder, birch *invoices.Invoice) {
	t.Helper()
	s := unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}}
	foreseen, err := runs.Preview(t.Context(), a, apptest.Admin.Actor, s)
	must(t, err)
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin, s)
	must(t, err)
	if len(made) != 2 || foreseen.Drafts != 2 || made[0].Client != "Alder" || made[1].Client != "Birch" {
		t.Fatalf("made %+v, foreseen %d", made, foreseen.Drafts)
	}
	if sum := made[0].Net.Minor + made[1].Net.Minor; sum != foreseen.Net[0].Minor {
		t.Errorf("the drafts are %d together, foreseen was %s", sum, foreseen.Net[0])
	}
	apptest.Whole(t, a)
	alder, birch = opened(t, a, made[0].ID), opened(t, a, made[1].ID)
	if sum := alder.Total.Minor + birch.Total.Minor; sum != foreseen.Total[0].Minor {
		t.Errorf("with the tax of each the drafts are %d together, foreseen was %s", sum, foreseen.Total[0])
	}
	return alder, birch
}

// Rule, from memory: each line is divided by the shares, a cent that is over going to the
// largest remainder: 720.00 is 480.00 and 240.00; 10.00 is 6.67 and 3.33; a discount of 10 %
// of 730.00 is 73.00: 48.67 and 24.33. By hand.
func TestAnEngagementIsPaidByShares(t *testing.T) {
	a := shared(t)
	apptest.Set(t, a, "engagements", apptest.Survey, "discount", "10")
	alder, birch := divided(t, a)
	if alder.Net.String() != "438.00" || birch.Net.String() != "219.00" {
		t.Errorf("Alder pays %s, Birch %s", alder.Net, birch.Net)
	}
	if amounts(alder) != "438.00 538.74 538.74" || amounts(birch) != "219.00 219.00 219.00" {
		t.Errorf("with their own tax: %s and %s", amounts(alder), amounts(birch))
	}
	if alder.Document.Reference != "PO 1" || birch.Document.Reference != "PO 2" || birch.Document.Due != apptest.Today.AddDays(10) ||
		birch.Beside != "one payer's share" {
		t.Errorf("referred to as %q and %q, due %s", alder.Document.Reference, birch.Document.Reference, birch.Document.Due)
	}
	if got := found(birch); strings.Contains(got, "several_payers") || strings.Contains(got, "other_tax") {
		t.Errorf("found on a part: %s", got)
	}
	for _, inv := range []*invoices.Invoice{alder, birch} {
		issue(t, a, opened(t, a, inv.ID))
	}
}

// A surcharge is rounded on the invoice of each: 0.10 % of 480.00 and of 240.00 are 0.48 and 0.24, of 6.67 and 3.33 nothing, because
// expenses are no fees; the next survey of 0.05 is 0.03 and 0.02. Rule §8; by hand.
func TestWhatIsForeseenOfSeveralPayersIsMade(t *testing.T) {
	a := shared(t)
	apptest.Set(t, a, "engagements", apptest.Survey, "surcharge", "0.1")
	alder, birch := divided(t, a)
	if alder.Net.String() != "487.15" || birch.Net.String() != "243.57" {
		t.Errorf("Alder pays %s, Birch %s", alder.Net, birch.Net)
	}
	// What is one's part already makes one draft, not two.
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(birch)))
	s := unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}}
	foreseen, err := runs.Preview(t.Context(), a, apptest.Admin.Actor, s)
	must(t, err)
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin, s)
	must(t, err)
	if len(made) != 1 || foreseen.Drafts != 1 || foreseen.Net[0].Minor != made[0].Net.Minor {
		t.Errorf("foreseen %d drafts over %v, made %+v", foreseen.Drafts, foreseen.Net, made)
	}
}

func TestADraftOfSeveralPayersIsNotIssuedWhole(t *testing.T) {
	a := shared(t)
	inv := begun(t, a, drafts.Beginning{EngagementID: apptest.Survey, Take: "all"})
	inv = byHand(t, a, inv, drafts.LineTyped{Text: "Chart", Quantity: "1", Price: "0.05"}) // 0.03 and 0.02
	_, err := issuing.Issue(t.Context(), a, apptest.Admin, edit(inv))
	refused(t, err, "Not divided among its payers")
	alder := settled(t, a, inv, "several_payers", "divide")
	apptest.Whole(t, a)
	if got := found(alder); alder.Net.String() != "486.70" || strings.Contains(got, "several_payers") {
		t.Errorf("%s is left, %s", alder.Net, got)
	}
	all, err := invoices.Drafts(t.Context(), a, apptest.Admin.Actor, invoices.Filter{})
	must(t, err)
	if len(all) != 2 || all[1].Client != "Birch" || all[1].Net.String() != "243.35" {
		t.Errorf("%+v", all)
	}
	// What is added to a part is that payer's alone.
	alder = byHand(t, a, alder, drafts.LineTyped{Text: "Copy", Amount: "5"})
	if got := found(alder); strings.Contains(got, "several_payers") {
		t.Errorf("after another line: %s", got)
	}
	_, err = issuing.ResolveFinding(t.Context(), a, apptest.Admin, edit(alder), "several_payers", 0, "divide")
	refused(t, err, "the part of one payer already")
	_, err = issuing.ResolveFinding(t.Context(), a, apptest.Admin,
		edit(begun(t, a, drafts.Beginning{EngagementID: apptest.Study})), "several_payers", 0, "divide")
	refused(t, err, "pays it alone")
}

// A part that is free again stays that payer's, until no other part is billed: then the
// whole is divided anew, as the shares are by then.
func TestAPartThatIsFreeAgainIsItsPayers(t *testing.T) {
	a := shared(t)
	alder, birch := divided(t, a)
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(birch)))
	apptest.Whole(t, a)
	_, again := leftOver(t, a, "Birch 243.33")
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(again)))
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(opened(t, a, alder.ID))))
	apptest.Whole(t, a)
	apptest.Set(t, a, "payers", 1, "share", "1")
	alder, birch = divided(t, a)
	if alder.Net.String() != "365.00" || birch.Net.String() != "365.00" {
		t.Errorf("halves: %s and %s", alder.Net, birch.Net)
	}
}

// leftOver makes drafts of what is left of the survey, which has to be one.
func leftOver(t *testing.T, a *app.App, want string) (*runs.Made, *invoices.Invoice) {
	t.Helper()
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	must(t, err)
	if len(made) != 1 || made[0].Client+" "+made[0].Net.String() != want {
		t.Fatalf("%+v, want %s", made, want)
	}
	apptest.Whole(t, a)
	return &made[0], opened(t, a, made[0].ID)
}

// A cap counts on the whole, before it is divided; a fee is divided with its charge.
func TestACapAndAFeeAreDivided(t *testing.T) {
	a := shared(t)
	apptest.Set(t, a, "engagements", apptest.Survey, "fee", "600")
	apptest.Set(t, a, "engagements", apptest.Survey, "arrangement", "capped")
	alder, birch := divided(t, a)
	if alder.Net.String() != "406.67" || birch.Net.String() != "203.33" { // of 600.00 and 10.00
		t.Errorf("under the cap: %s and %s", alder.Net, birch.Net)
	}
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(alder)))
	must(t, drafts.Delete(t.Context(), a, apptest.Admin, edit(birch)))
	for _, set := range [][2]string{{"fee", "100"}, {"fee_period", "month"}, {"fee_from", "2026-12-01"}, {"arrangement", "recurring"}} {
		apptest.Set(t, a, "engagements", apptest.Survey, set[0], set[1])
	}
	alder, birch = divided(t, a)
	if alder.Net.String() != "73.34" || birch.Net.String() != "36.66" { // 66.67 + 6.67, 33.33 + 3.33
		t.Errorf("a fee: %s and %s", alder.Net, birch.Net)
	}
	issue(t, a, alder)
	issue(t, a, opened(t, a, birch.ID))
}

// Where the client pays nothing, the draft becomes the first payer's.
func TestAnotherPaysAllOfIt(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "payers", "engagement", "1", "client", "B")
	apptest.RecordTyped(t, a, func() timekeeping.TypedEntry {
		e := apptest.Typed(apptest.Survey, "2026-11-10", "1:00")
		e.Treatment = "no_charge"
		return e
	}())
	apptest.Record(t, a, apptest.Survey, "2026-11-11", "1:00")
	_, inv := leftOver(t, a, "Birch 100.00")
	if len(inv.Lines) != 2 {
		t.Errorf("%+v", inv.Lines)
	}
	issue(t, a, inv)
	for _, c := range [][3]string{{"B", "5", "They pay a share of this already"}, {"A", "0", "is no payer"}} {
		_, err := registry.AddRecord(t.Context(), a, apptest.Admin, "payers",
			map[string]string{"engagement": "1", "client": c[0], "share": c[1]})
		refused(t, err, c[2])
	}
}

// Rule, from memory: shares are whole units of the currency, ISO 4217: the yen has none
// below it, the Bahraini dinar three decimals. 100 by two to one is 67 and 33, or 66.667 and
// 33.333.
func TestSharesAreOfTheCurrency(t *testing.T) {
	for currency, want := range map[string]string{"JPY": "67 33", "BHD": "66.667 33.333"} {
		a := apptest.Firm(t)
		apptest.Add(t, a, "exchange-rates", "currency", currency, "day", "2026-11-01", "rate", "1", "source", "invented")
		first := apptest.Add(t, a, "clients", "name", "First", "currency", currency)
		apptest.Add(t, a, "clients", "name", "Second", "currency", currency)
		work := apptest.Add(t, a, "engagements", "client", "First", "name", "Shared", "currency", currency)
		apptest.Add(t, a, "payers", "engagement", fmt.Sprint(work), "client", "First", "share", "2")
		apptest.Add(t, a, "payers", "engagement", fmt.Sprint(work), "client", "Second", "share", "1")
		inv := begun(t, a, drafts.Beginning{ClientID: first, EngagementID: work, Take: "nothing"})
		inv = byHand(t, a, inv, drafts.LineTyped{Text: "Chart", Amount: "100"})
		left := settled(t, a, inv, "several_payers", "divide")
		apptest.Whole(t, a)
		all, err := invoices.Drafts(t.Context(), a, apptest.Admin.Actor, invoices.Filter{})
		must(t, err)
		if len(all) != 2 || left.Net.String()+" "+all[1].Net.String() != want {
			t.Errorf("%s: %s is left of %+v", currency, left.Net, all)
		}
	}
}

// What another pays alone takes nothing of the money that is held for its client: the draft is theirs from the first.
func TestWhatAnotherPaysReservesNothingOfItsClients(t *testing.T) {
	a := apptest.Firm(t)
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin,
		receivables.TypedFunds{ClientID: 1, Day: apptest.Today, Amount: "500", Method: "transfer"})
	must(t, err)
	apptest.Add(t, a, "payers", "engagement", "1", "client", "B", "share", "1")
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "2:00")
	made, err := runs.MakeDrafts(t.Context(), a, apptest.Admin,
		unbilled.Selection{UpTo: november, Dated: apptest.Today, EngagementIDs: []int64{apptest.Survey}})
	must(t, err)
	inv := opened(t, a, made[0].ID)
	if made[0].Client != "Birch" || !inv.AmountDue.IsZero() && inv.AmountDue != inv.Total {
		t.Errorf("%+v owes %s of %s", made, inv.AmountDue, inv.Total)
	}
	apptest.Whole(t, a)
}
