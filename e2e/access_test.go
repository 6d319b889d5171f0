package e2e

import (
	"os"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
)

// looker looks at a page with axe-core, the oracle: nothing that it calls serious
// or critical may stand in the way of assistance, and nothing in the order of headings.
func looker(p *page) func(view string) {
	p.Helper()
	axe, err := os.ReadFile("../web/node_modules/axe-core/axe.min.js")
	if err != nil {
		p.Fatal(err)
	}
	return func(view string) {
		p.Helper()
		p.still()
		js[chromedp.Void](p, string(axe))
		found, err := chromedp.Run(p.ctx, chromedp.Evaluate[[]string](`axe.run({ resultTypes: ["violations"], elementRef: false, iframes: false, preload: false }).then(r => r.violations.filter(v => v.impact === "serious" || v.impact === "critical" || /head/.test(v.id))
			.flatMap(v => v.nodes.map(n => v.id + ": " + n.html.slice(0, 160) + " " + (n.any[0]?.message ?? ""))))`,
			chromedp.EvalAwaitPromise))
		if err != nil {
			p.Fatal(err)
		}
		if len(found) > 0 {
			p.Errorf("%s:\n%s", view, strings.Join(found, "\n"))
		}
	}
}

func TestNothingSeriousStandsInTheWayOfAssistance(t *testing.T) {
	p := open(t)
	look := looker(p)
	p.goTo("/sign-in")
	p.reads("Accounts of the demo")
	look("sign-in")
	p.enter("administrator")
	p.goTo("/wip?open=1&pick=1,3")
	p.until(`document.querySelector(".desk_folio .table_entries tbody tr") && document.querySelector("tr.picked")`)
	look("work in progress")
	p.clickOn(`document.querySelector(".desk_folio .table_entries [data-explain]")`)
	p.until(`document.querySelector(".ant-popover .explain_steps")`)
	look("an explanation")
	p.goTo("/time?person=3&week=2026-11-26")
	p.week()
	p.clickOn(cell, "1:1")
	p.until(`document.querySelector(".desk_folio .history_history li")`)
	look("the week")
	p.click("button", "From and to, price")
	look("everything about an entry")
	p.goTo("/billing")
	p.until(`document.querySelector(".desk_folio .history_history li")`)
	look("drafts")
	p.goTo("/billing?show=register")
	p.reads("SC1045")
	look("the register")
	p.invoice("Brannoch Oyster Growers")
	p.until(`document.querySelector(".document_document")`)
	look("a draft's review")
	p.goTo("/reports")
	p.until(`document.querySelector(".desk_coming")`)
	look("reports")
	for path, there := range map[string]string{"/wip/board": ".wip_board li", "/billing?run=5": ".review_run-pane a",
		"/set-up/issue-checks": ".table_grid tbody tr", "/clients?open=1": ".desk_folio .history_history li", "/clients/1": ".desk_folio .history_history li",
		"/clients?new=yes": ".form_form input",
		"/engagements/1":   ".desk_folio .history_history li", "/set-up": ".desk_folio .history_history li", "/set-up/people?open=3": ".desk_folio .history_history li",
		"/set-up/rates":  ".ask",
		"/set-up/import": ".set-up_known-columns", "/account": "[aria-label=Sessions] td"} {
		p.goTo(path)
		p.until(`document.querySelector(%v)`, there)
		look(path)
	}
}

func TestNothingSeriousStandsInTheWayOfMoney(t *testing.T) {
	p := open(t)
	look := looker(p)
	p.enter("administrator")
	p.invoice("Brannoch Oyster Growers")
	p.until(`document.querySelector(".document_document")`)
	for _, pane := range []string{"fees", "layout", "price", "payment"} {
		p.goTo(js[string](p, "location.pathname") + "?pane=" + pane)
		p.until(`document.querySelector(".review_choices, .review_pane")`)
		look("a draft's " + pane)
	}
	p.invoice("SC1005")
	p.until(`document.querySelector(".review_issued")`)
	look("an issued invoice")
	p.goTo("/billing/new?client=1")
	p.reads("Begin the draft")
	look("the beginning of an invoice")
	for _, show := range []string{"owed", "reminders", "calls", "cash", "payments", "funds", "deposits", "transfers"} {
		p.goTo("/receivables?show=" + show)
		p.until(`document.querySelector(".desk_sheet tbody tr")`)
		look("receivables, " + show)
	}
}

func TestNothingSeriousStandsInTheWayOfPricing(t *testing.T) {
	p := open(t)
	look := looker(p)
	p.signIn("administrator")
	for path, there := range map[string]string{"/pricing": "[aria-label='Won and lost']", "/pricing/11": ".offer_offer-figures",
		"/pricing/4": ".story-pane .history_history li", "/mails": ".pricing_mail-preview h2"} {
		p.goTo(path)
		p.until(`document.querySelector(%v)`, there)
		look(path)
	}
	p.goTo("/proposal#" + p.mailed(`“Tide gauge network”[^#]+#(\S+)`))
	p.click("button", "Accept and sign")
	p.until(`document.querySelector(".client_client-form")`)
	look("the client's page")
	p.goTo("/proposal#" + p.mailed(`“Wash limits for the new ferry”[^#]+#(\S+)`))
	p.until(`document.querySelector("[aria-label=Accepted]")`)
	look("the client's page of what is accepted")
}

func TestRecordingIsOpenToAssistance(t *testing.T) {
	p := open(t)
	look := looker(p)
	p.enter("administrator")
	p.goTo("/time/people?week=2026-11-23")
	p.until(`document.querySelectorAll(".people-weeks tbody tr").length > 10 && document.querySelector(".desk_folio .history_history li")`)
	look("everybody's weeks")
	p.goTo("/time/list?clients=3")
	p.until(`document.querySelectorAll(".list_list tbody tr").length > 10`)
	p.clickOn(`document.querySelectorAll(".list_list .ant-checkbox-input")[2]`)
	p.until(`document.querySelector("#to-treatment")`)
	look("entries to change")
	p.goTo("/time/list?by=person")
	p.until(`document.querySelectorAll(".list_groups tbody tr").length > 10`)
	look("sums by person")
	p.goTo("/time/expenses?text=Fuel")
	p.until(`document.querySelector(".recording_receipt img")`)
	look("expenses")
	p.goTo("/time/expenses/new")
	p.until(`document.querySelector(".recording_share-grid tbody tr")`)
	look("a new expense")
	p.size(360, 740)
	p.goTo("/time")
	p.until(`document.querySelector(".phone_phone-day li")`)
	look("a day on a phone")
}
