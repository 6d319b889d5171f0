package invoices_test

import (
	"strings"
	"testing"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/apptest"
)

// Recorded work is taxed otherwise for a reason, which settles that it is asked about;
// 10 h × 100.00 at nought is 1,000.00. Computed by hand.
func TestTheTaxOfRecordedWorkIsChangedForAReason(t *testing.T) {
	a := apptest.Firm(t)
	exempt := apptest.Add(t, a, "tax-codes", "code", "X", "name", "Exempt", "category", "E")
	apptest.Add(t, a, "tax-rates", "code", "X", "from", "2020-01-01", "percent", "0")
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "10:00")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	set := func(typed drafts.TaxTyped) (*invoices.Invoice, error) {
		return apptest.Invoice(t.Context(), a)(drafts.SetTax(t.Context(), a, apptest.Admin, edit(inv), typed))
	}
	line := inv.Lines[0].LineID
	_, err := set(drafts.TaxTyped{LineIDs: []int64{line}, TaxCode: "X"})
	refused(t, err, "Say why")
	_, err = set(drafts.TaxTyped{LineIDs: []int64{line}, TaxCode: "Q", Reason: "asked"})
	refused(t, err, "no tax code")
	_, err = set(drafts.TaxTyped{LineIDs: []int64{99}, TaxCode: "X", Reason: "asked"})
	refused(t, err, "not on the draft")
	if inv, err = set(drafts.TaxTyped{LineIDs: []int64{line}, TaxCode: "X", Reason: "Abroad"}); err != nil ||
		amounts(inv) != "1,000.00 1,000.00 1,000.00" || finding(inv, "other_tax") != nil {
		t.Fatalf("%s, %+v, %v", amounts(inv), inv.Findings, err)
	}
	history, err := a.History(t.Context(), apptest.Admin.Actor, app.OfInvoice, inv.ID)
	if err != nil || history[0].Reason != "Abroad" {
		t.Errorf("%+v, %v", history, err)
	}
	if exempt == 0 || inv.Around.TaxCodes[0].Name != "VAT 23 %" || inv.Around.TaxCodes[1].Name != "Exempt" {
		t.Errorf("%+v", inv.Around.TaxCodes)
	}
	apptest.Whole(t, a)
}

// A client's tax that is changed asks about the drafts that are open: taken, or left.
func TestAnotherTaxOfTheClientAsksAboutOpenDrafts(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "tax-codes", "code", "X", "name", "Exempt", "category", "E")
	apptest.Add(t, a, "tax-rates", "code", "X", "from", "2020-01-01", "percent", "0")
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "10:00")
	apptest.Record(t, a, apptest.Study, "2026-11-10", "1:00")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	other := begun(t, a, drafts.Beginning{ClientID: 2, Take: "all"})
	if f := finding(inv, "other_tax"); f != nil {
		t.Fatalf("%+v", f)
	}
	apptest.Set(t, a, "clients", 1, "tax_code", "X")
	f := finding(opened(t, a, inv.ID), "other_tax")
	if f == nil || f.Level != invoice.Warn || !strings.Contains(f.Text, "S in place of X") || finding(opened(t, a, other.ID), "other_tax") != nil {
		t.Fatalf("%+v", f)
	}
	taxed, err := apptest.Invoice(t.Context(), a)(issuing.ResolveFinding(t.Context(), a, apptest.Admin, edit(inv), f.Code, f.SubjectID, "take_tax"))
	if err != nil || amounts(taxed) != "1,000.00 1,000.00 1,000.00" || finding(taxed, "other_tax") != nil {
		t.Errorf("%s, %+v, %v", amounts(taxed), taxed.Findings, err)
	}
	apptest.Whole(t, a)
}

// 5 % beside 8 % of 100.00 are 13.00; 8 % on the 5 % too is 8.40, 13.40 together.
// Computed by hand, as two taxes on one sale are in places that have them (common practice).
func TestASecondTaxStandsBesideTheFirstOrOnIt(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "tax-codes", "code", "T", "name", "First", "category", "S", "second_name", "Second")
	apptest.Add(t, a, "tax-rates", "code", "T", "from", "2020-01-01", "percent", "5", "second_percent", "8")
	inv := byHand(t, a, begun(t, a, drafts.Beginning{ClientID: 1}), drafts.LineTyped{EngagementID: apptest.Survey, Text: "Work", Amount: "100",
		TaxCode: "T"})
	for _, c := range [][2]string{{"code", "113.00"}, {"compound", "113.40"}, {"beside", "113.00"}} {
		if inv = chosen(t, a, inv, "second_tax", c[0], "invoice"); inv.Total.String() != c[1] {
			t.Errorf("%s: %s, want %s", c[0], inv.Total, c[1])
		}
	}
	if inv.Around.TaxCodes[1].Name != "First 5 % and Second 8 %" {
		t.Errorf("%+v", inv.Around.TaxCodes)
	}
}

// A product is taxed as the client's goods are; a line begins with what was billed lately,
// a service, or all services of a bundle.
func TestALineBeginsWithTheCatalogue(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Add(t, a, "tax-codes", "code", "X", "name", "Exempt", "category", "E")
	apptest.Add(t, a, "tax-rates", "code", "X", "from", "2020-01-01", "percent", "0")
	apptest.Set(t, a, "clients", 1, "tax_code_goods", "X")
	apptest.Add(t, a, "services", "name", "Chart", "code", "C1", "kind", "unit", "price", "20", "unit", "sheet", "line_kind", "Product")
	apptest.Add(t, a, "services", "name", "Report", "code", "R1", "kind", "fixed", "price", "500")
	apptest.Add(t, a, "bundles", "name", "Both", "services", "C1\nR1")
	inv := begun(t, a, drafts.Beginning{ClientID: 1})
	choices := func() map[string]drafts.LineChoice {
		t.Helper()
		found, err := drafts.LineChoices(t.Context(), a, apptest.Admin.Actor, inv.ID)
		if err != nil {
			t.Fatal(err)
		}
		by := map[string]drafts.LineChoice{}
		for _, c := range found {
			by[c.From+" "+c.Name] = c
		}
		return by
	}
	both := choices()["bundle Both"].Lines
	if len(both) != 2 || both[0].Price != "20.00" || both[0].Unit != "sheet" || both[0].Kind != "Product" {
		t.Fatalf("%+v", choices())
	}
	both[0].EngagementID, both[1].EngagementID = apptest.Survey, apptest.Survey
	inv, err := apptest.Invoice(t.Context(), a)(drafts.PutOn(t.Context(), a, apptest.Admin, edit(inv), drafts.Back{Lines: both}))
	if err != nil || amounts(inv) != "520.00 635.00 635.00" || inv.Lines[0].TaxCode != "X" || inv.Lines[0].OfKind != "Product" ||
		inv.Lines[1].TaxCode != "S" {
		t.Fatalf("%s, %+v, %v", amounts(inv), inv.Lines, err)
	}
	_, err = drafts.AddLine(t.Context(), a, apptest.Admin, edit(inv), drafts.LineTyped{Text: "Odd", Amount: "1", Kind: "Oddity"})
	refused(t, err, "no kind of line")
	issue(t, a, inv)
	inv = begun(t, a, drafts.Beginning{ClientID: 1})
	if lately := choices()["lately Chart"].Lines; len(lately) != 1 || lately[0].Quantity != "1" || lately[0].Price != "20.00" {
		t.Errorf("%+v", lately)
	}
}

// A draft takes work from a day on: what is earlier is asked about, and not put on.
func TestADraftTakesWorkFromADay(t *testing.T) {
	a := apptest.Firm(t)
	apptest.Record(t, a, apptest.Survey, "2026-11-10", "1:00")
	inv := begun(t, a, drafts.Beginning{ClientID: 1, Take: "all"})
	dates := drafts.Dates{Dated: apptest.Today, UpTo: november, From: november - 9} // 21 Nov
	inv, err := apptest.Invoice(t.Context(), a)(drafts.SetDates(t.Context(), a, apptest.Admin, edit(inv), dates))
	if f := finding(inv, "late_entry"); err != nil || f == nil || inv.From != dates.From {
		t.Fatalf("%+v, %v", inv.Findings, err)
	}
	apptest.Record(t, a, apptest.Survey, "2026-11-12", "1:00")
	_, err = drafts.AddUnbilled(t.Context(), a, apptest.Admin, edit(inv), "all", 0)
	refused(t, err, "Nothing of this is unbilled")
	apptest.Record(t, a, apptest.Survey, "2026-11-25", "1:00")
	inv, err = apptest.Invoice(t.Context(), a)(drafts.AddUnbilled(t.Context(), a, apptest.Admin, edit(inv), "all", 0))
	if err != nil || len(inv.Lines) != 2 {
		t.Errorf("%+v, %v", inv.Lines, err)
	}
	dates.From = apptest.Today
	_, err = drafts.SetDates(t.Context(), a, apptest.Admin, edit(inv), dates)
	refused(t, err, "give an earlier day")
}
