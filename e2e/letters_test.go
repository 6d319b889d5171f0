package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
)

// From an invoice a client opens all that they have with the firm by a code from a mail, sees what they receive, opens another invoice from
// there, and closes it again; on a phone, in the client's language.
func TestAClientOpensAllOfTheirsWithACode(t *testing.T) {
	p := open(t)
	look := looker(p)
	p.enter("administrator")
	p.invoice("SC1046")
	at := js[string](p, "location.pathname")
	p.reads("It goes by mail")
	client := js[string](p, `[...document.querySelectorAll(".desk_folio-over a")].find(a => a.pathname.startsWith("/clients/")).pathname`)
	p.goTo(client)
	p.reads("Contacts")
	p.click("button", "Add a contact")
	p.focus("field", "Name")
	p.press("Ann")
	p.focus("field", "Mail")
	p.press("ann@whinny.example")
	p.click("button", "Make the contact")
	p.reads("ann@whinny.example")
	p.goTo(at)
	p.reads("It goes by mail")
	p.click("button", "Hand it over")
	p.until(`document.querySelector("[aria-label='The letter as it will go out']")?.innerText.includes("SC1046")`)
	p.click("button", "Mail it, to stay here")
	secret := p.mailed(`Dear Ann,(?s:.*?)SC1046(?s:.*?)/invoice#(\S+)`)

	p.size(360, 740)
	p.goTo("/invoice#" + secret)
	p.reads("Everything of yours")
	p.click("button", "Mail me a code")
	p.reads("a code is on its way")
	p.focus("field", "Code from the mail")
	p.press(p.mailed(`Your code is (\d{6})`))
	p.click("button", "Open")
	p.until(`location.pathname === "/client" && document.querySelector("[aria-label=Open] li")`)
	look("all that a client has")
	if wide := js[int](p, "document.documentElement.scrollWidth"); wide > 360 {
		t.Errorf("on a phone the page is %d wide", wide)
	}
	p.clickOn(`document.querySelector("[aria-label=Open] li button")`)
	p.until(`location.pathname === "/invoice"`)
	p.reads("To pay")
	js[chromedp.Void](p, "history.back()")
	p.until(`location.pathname === "/client" && document.querySelector("[aria-label=Open] li")`)
	p.click("button", "Close this page")
	p.reads("It is closed")
}

// The administrator issues and sends in one act; the letter stands in the list of all letters, where what is on its way is called back.
func TestADraftIsIssuedAndSentFromItsReview(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/billing")
	p.until(`document.querySelectorAll(".table_invoices tbody tr").length > 3`)
	p.clickOn(`[...document.querySelectorAll(".table_invoices tbody tr")].find(r => r.innerText.includes("approved"))`)
	p.click("button", "Review this draft")
	p.until(`[...document.querySelectorAll(".tally_tally button")].some(b => b.innerText.startsWith("Issue over") && !b.disabled)`)
	p.clickOn(`[...document.querySelectorAll(".tally_tally button")].find(b => b.innerText.startsWith("Issue over"))`)
	p.until(`document.querySelector("dialog input[type=checkbox]:not(:disabled)")`)
	p.clickOn(`document.querySelector("dialog input[type=checkbox]")`)
	looker(p)("issue and send")
	p.clickOn(`[...document.querySelectorAll("dialog button")].find(b => b.innerText.startsWith("Issue and send SC"))`)
	p.until(`!document.querySelector("dialog") && document.querySelector("[aria-label='Handed over'] table")`)
	number := js[string](p, `document.querySelector("h1").innerText.match(/SC\d+/)[0]`)
	p.goTo("/letters?kind=invoice")
	p.reads(number)
	looker(p)("letters")
	p.clickOn(`[...document.querySelectorAll("tbody tr")].find(r => r.innerText.includes("called back"))`)
	p.until(`document.querySelector(".desk_folio").innerText.includes("called back")`)
}

// A deposit request goes by the same form, and one's notices go by mail as one wants.
func TestADepositRequestIsSent(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?show=deposits")
	p.until(`[...document.querySelectorAll("tbody tr")].some(r => r.innerText.includes("asked for"))`)
	p.clickOn(`[...document.querySelectorAll("tbody tr")].find(r => r.innerText.includes("asked for"))`)
	p.click("button", "Send it")
	p.until(`document.querySelector("[aria-label='The letter as it will go out']")?.innerText.includes("deposit of")`)
	p.focus("field", "To")
	p.ctrl("a")
	p.press("Bo <bo@deposit.example>")
	p.until(`document.querySelector("[aria-label='The letter as it will go out']").innerText.includes("Dear Bo,")`)
	p.click("button", "Mail it, to stay here")
	if body := p.mailed(`(Dear Bo,(?s:.*))`); !strings.Contains(body, "it is no invoice") {
		t.Errorf("%s", body)
	}
	p.goTo("/account")
	p.choose("Notices by mail", "by mail, too, as one letter a day")
	p.reads("by mail, too, as one letter a day")
	p.goTo("/account")
	p.reads("by mail, too, as one letter a day")
}
