package pricing_test

import (
	"strings"
	"testing"

	"dorvet/core/money"
	"dorvet/internal/app/pricing"
	"dorvet/internal/apptest"
)

// Every total of the grid opens, and what it opens ends in the figure that was opened.
func TestEveryTotalOpensIntoItsOwnFigure(t *testing.T) {
	a, p := begun(t)
	for term, discount := range map[string]string{"12": "", "6": "10 %", "24": "500.00", "": "7.5 %"} {
		saved := save(t, a, p.ID, func(typed *pricing.TypedProposal) { typed.Term, typed.Discount = term, discount })
		opened := 0
		for tier := range saved.Grid.Typed.Tiers {
			calendar, err := pricing.CalendarOf(t.Context(), a, apptest.Admin.Actor, p.ID, tier, false)
			if err != nil {
				t.Fatal(err)
			}
			for _, row := range saved.Grid.Totals {
				figure := strings.TrimSuffix(row.Figures[tier], " +")
				if figure == "–" || row.Name == "earns" {
					continue
				}
				opened++
				if step, there := calendar.Steps[row.Name]; !there || step.Figure != figure || len(step.Steps) == 0 {
					t.Errorf("a term of %q less %q, %s: %s opens %q: %+v", term, discount, row.Label, figure, row.Name, step)
				}
			}
		}
		if opened < 15 {
			t.Errorf("only %d figures were opened", opened)
		}
	}
}

// minor reads a figure of the client's page.
func minor(t *testing.T, text string) int64 {
	t.Helper()
	n, err := money.ParseFixed(strings.ReplaceAll(strings.ReplaceAll(text, ",", ""), "−", "-"), money.Point, 2)
	if err != nil {
		t.Fatal(err)
	}
	return n
}

// What the client signs adds up: lines, discount, net, taxes, total, and bill by bill.
func TestThePageOfTheClientAddsUp(t *testing.T) {
	a, p := begun(t)
	p = save(t, a, p.ID, func(typed *pricing.TypedProposal) {
		typed.Term, typed.Discount, typed.Tiers, typed.Suggested = "6", "10 %", typed.Tiers[:1], 0
		line := func(description, kind, quantity, price, when string) pricing.TypedLine {
			return pricing.TypedLine{Description: description, Kind: kind, Quantity: quantity, Price: price, When: when, TaxCode: "S",
				Cells: []string{"x"}}
		}
		typed.Lines = []pricing.TypedLine{line("Study", "fixed", "", "4200", "on acceptance"),
			line("Watch", "unit", "2", "270", "each month, until the end of the term")}
	})
	page, err := pricing.PreviewPage(t.Context(), a, apptest.Admin.Actor, p.ID, nil)
	if err != nil {
		t.Fatal(err)
	}
	c := page.Chosen
	// 4,200 and 6 × 540 are 7,440.00; less 10 %.
	if c.NetLabel != "All 6 months, before tax" || c.Net != "6,696.00" || len(c.Whole) != 0 {
		t.Errorf("%s: %s, and %v", c.NetLabel, c.Net, c.Whole)
	}
	if len(c.Discount) != 2 || c.Discount[0].Figure != "7,440.00" || c.Discount[1] != (pricing.PageRow{Label: "Discount of 10 %", Figure: "−744.00"}) {
		t.Errorf("%+v", c.Discount)
	}
	if line := page.Tiers[0].Lines[1]; line.Made != "2 × 270.00" || strings.Contains(line.When, "270") {
		t.Errorf("how it comes about is said once: %q, %q", line.Made, line.When)
	}
	net, gross, off := int64(0), int64(0), 0
	for _, bill := range c.Bills {
		net, gross = net+minor(t, bill.Net), gross+minor(t, bill.Gross)
		if strings.Contains(bill.What, "of the discount") {
			off++
		}
	}
	if net != minor(t, c.Net) || gross != minor(t, c.Gross) || off != len(c.Bills) {
		t.Errorf("%d bills come to %d and %d, %d say the discount; %s and %s", len(c.Bills), net, gross, off, c.Net, c.Gross)
	}
	tax := int64(0)
	for _, row := range c.Taxes {
		tax += minor(t, row.Figure)
	}
	if minor(t, c.Net)+tax != minor(t, c.Gross) {
		t.Errorf("%s and %v are not %s", c.Net, c.Taxes, c.Gross)
	}
}

// Where nobody knows what the time costs, there is no margin.
func TestAMarginWithoutCostIsUnknown(t *testing.T) {
	a := apptest.Firm(t)
	made, err := pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{ClientID: 1, Name: "Alder 2027"})
	if err != nil {
		t.Fatal(err)
	}
	p := save(t, a, made.ID, grid)
	if got := total(t, p.Grid, "Margin, and fee against standard rates"); !strings.HasPrefix(got, "cost unknown") || strings.Contains(got, "100 %") {
		t.Errorf("%s", got)
	}
}

// The name is the firm's own; without a title the client reads one that is made of the services.
func TestTheInnerNameNeverGoesOut(t *testing.T) {
	a, p := begun(t)
	p = save(t, a, p.ID, func(typed *pricing.TypedProposal) { typed.Name, typed.Title = "Alder, the dear ones", "" })
	secret, mails := sent(t, a, p)
	page, err := pricing.ReadPage(t.Context(), a, secret, nil)
	if err != nil || page.Title != "Baseline survey, Repeat bathymetry and 4 more" || page.Colour != "#0F5F68" {
		t.Errorf("%+v, %v", page, err)
	}
	if letter := mails.Find(t, signer, `(?s)(.*)`); strings.Contains(letter, "the dear ones") || !strings.Contains(letter, page.Title) {
		t.Errorf("%s", letter)
	}
	signing := pricing.Signing{Chosen: pricing.Chosen{Tier: page.Chosen.Tier}, Gross: page.Chosen.Gross, Name: "Sig Ner",
		Code: code(t, a, secret, mails)}
	if err := pricing.Accept(t.Context(), a, secret, "192.0.2.7", signing); err != nil {
		t.Fatal(err)
	}
	if _, signed, err := pricing.Signed(t.Context(), a, secret); err != nil || strings.Contains(string(signed), "the dear ones") {
		t.Errorf("%s, %v", signed, err)
	}
}

// The terms that came with the program are a finding until somebody has changed them; nothing
// that is said to the writer stands in them.
func TestTheFirstTermsAreAFinding(t *testing.T) {
	a, p := begun(t)
	found := func() string {
		one, err := pricing.One(t.Context(), a, apptest.Admin.Actor, p.ID)
		if err != nil || strings.Contains(one.Grid.Typed.Terms, "lawyer") {
			t.Fatalf("%+v, %v", one, err)
		}
		for _, f := range one.Grid.Findings {
			if f.Where == "terms" && !f.Stops {
				return f.Sentence
			}
		}
		return ""
	}
	if !strings.Contains(found(), "have a lawyer read them") {
		t.Errorf("%q", found())
	}
	save(t, a, p.ID, func(typed *pricing.TypedProposal) { typed.Terms += "\n5. The law of our seat holds." })
	if found() != "" {
		t.Errorf("changed: %q", found())
	}
}

// Where no mail can go out, it is said before anybody presses.
func TestAMailThatCanNotGoSaysSoBefore(t *testing.T) {
	a, p := begun(t)
	preview := func() *pricing.MailPreview {
		shown, err := pricing.PreviewMail(t.Context(), a, apptest.Admin.Actor, p.ID, pricing.Sending{Name: "Sig Ner", Mail: signer, Mailed: true})
		if err != nil {
			t.Fatal(err)
		}
		return shown
	}
	if shown := preview(); shown.Problem != "" || shown.Stays {
		t.Errorf("%+v", shown)
	}
	a.MailStays = true
	apptest.Set(t, a, "entities", 1, "mail", "")
	if shown := preview(); !shown.Stays || !strings.Contains(shown.Problem, "no mail address: give one under Set-up") {
		t.Errorf("%+v", shown)
	}
}

// A title that is made of long services is no longer than the name of an engagement may be: else
// nobody could accept.
func TestATitleOfLongServicesCanBeAccepted(t *testing.T) {
	a, p := begun(t)
	p = save(t, a, p.ID, func(typed *pricing.TypedProposal) {
		typed.Title, typed.Tiers, typed.Suggested = "", typed.Tiers[:1], 0
		for i, kind := range []string{"fixed", "hourly"} {
			typed.Lines[i] = pricing.TypedLine{Description: strings.Repeat("Long work ", 25+i), Kind: kind, Price: "100",
				When: []string{"on acceptance", "as worked"}[i], Expected: "10", TaxCode: "S", Cells: []string{"x"}}
		}
		typed.Lines = typed.Lines[:2]
	})
	secret, mails := sent(t, a, p)
	page, err := pricing.ReadPage(t.Context(), a, secret, nil)
	if err != nil {
		t.Fatal(err)
	}
	if err := pricing.Accept(t.Context(), a, secret, "192.0.2.7",
		pricing.Signing{Gross: page.Chosen.Gross, Name: "Sig Ner", Code: code(t, a, secret, mails)}); err != nil {
		t.Error(err)
	}
}

// A name that somebody has already is asked about where it was typed.
func TestAProspectOfAKnownNameIsAskedAbout(t *testing.T) {
	a := apptest.Firm(t)
	_, err := pricing.Begin(t.Context(), a, apptest.Admin, pricing.Begun{Prospect: "alder"})
	if r := apptest.RefusalOf(t, err); r.Field != "prospect" || !strings.Contains(r.Sentence, "Alder is there already") {
		t.Errorf("%+v", r)
	}
}
