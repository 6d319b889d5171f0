package e2e

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// From a phone call to the issued PDF, without touching the mouse: the client by
// name, nothing that is unbilled, two lines by hand, and the number.
func TestAOneOffInvoiceByKeyboard(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/billing/new")
	p.until(`document.activeElement.id === "begin-client"`)
	p.press("Tidewrack")
	p.until(`document.querySelector(".ant-select-item-option-active")?.innerText === "Tidewrack Museum"`)
	p.press("\r")
	p.until(`document.activeElement.id === "begin-now" && document.querySelector(".begin_begin-take")`)
	tabTo(p, `document.activeElement.type === "radio"`)
	for !js[bool](p, `document.activeElement.value === "nothing"`) {
		p.press(kb.ArrowDown)
	}
	tabTo(p, `document.activeElement.id === "begin-now"`)
	p.press("\r")
	p.reads("Draft for Tidewrack Museum")
	p.until(`document.activeElement.closest(".hand-line_hand-text")`)
	p.press("Chart of the wreck site\t3\tsheet\t45.50")
	p.press("\r")
	p.until(`document.querySelector("[data-testid=document-total]").innerText === "167.90"`) // 136.50 and 23 %
	p.until(`document.activeElement.closest(".hand-line_hand-line")`)
	p.typeIn("Text of the line", "A kindness")
	p.typeIn("or amount, net", "-6.50\r")
	p.until(`document.querySelector("[data-testid=document-total]").innerText === "159.90"`)
	tabTo(p, `document.activeElement.innerText?.startsWith("Issue over 159.90")`)
	p.press("\r")
	p.reads("Issue SC1047?")
	tabTo(p, `document.activeElement.innerText?.startsWith("Issue SC1047 over")`)
	p.press("\r")
	p.until(`document.querySelector("[data-testid=document-number]").innerText === "SC1047"`)
	text := p.pdf(js[string](p, "location.pathname.split('/').pop()"))
	for label, want := range map[string]int{"Subtotal": 13_000, "VAT 23 %": 2_990, "Total EUR": 15_990, "Amount due": 15_990} {
		if got := printed(t, text, label); got != want {
			t.Errorf("%s is printed as %d, want %d", label, got, want)
		}
	}
	for _, want := range []string{"Chart of the wreck site", "3 sheet", "45.50", "A kindness", "−6.50"} {
		if !strings.Contains(text, want) {
			t.Errorf("the document does not say %q", want)
		}
	}
}

// byHand begins an empty draft for a client and puts one line on it.
func byHand(p *page, client, text, amount string) {
	p.Helper()
	p.goTo("/clients")
	p.goTo("/billing/new?client=" + client)
	p.reads("nothing: lines by hand")
	p.clickOn(`[...document.querySelectorAll(".begin_begin-take label")].find(l => l.innerText.startsWith("nothing"))`)
	p.click("button", "Begin an empty draft")
	p.until(`document.querySelector(".hand-line_hand-line")`)
	p.typeIn("Text of the line", text)
	p.typeIn("or amount, net", amount+"\r")
	p.until(`document.querySelector("[aria-label=Entries]")?.innerText.includes(%v)`, text)
}

// 1,000.00 and 23 % in three: 410.00 each. A payment of 500.00 settles the first and
// 90.00 of the second.
func TestAScheduleOfThreeInstalmentsIsPartPaid(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	receivables := p.rail("receivables")
	byHand(p, "4", "Wake wash, summary", "1000")
	p.click("button", "Payment")
	p.choose("A schedule to take", "Three equal parts, monthly")
	p.until(`document.querySelectorAll(".review_parts tbody tr").length === 3 && document.querySelector(".review_parts").innerText.includes("1 Feb 2027")`)
	p.reads("410.00")
	p.click("button", "Issue over 1,230.00")
	p.reads("in 3 instalments, the first due 1 Dec 2026")
	p.click("button", "Issue SC1047 over")
	p.until(`document.querySelector(".review_issued")?.innerText.includes("1 Jan 2027")`)
	text := p.pdf(js[string](p, "location.pathname.split('/').pop()"))
	if !strings.Contains(text, "Please pay in 3 instalments") || strings.Count(text, "410.00") != 3 {
		t.Errorf("the document does not print its instalments:\n%s", text)
	}
	owed := `Math.abs(%v - Number(document.querySelector("[data-testid=rail-receivables] b").innerText.replaceAll(",", ""))) < 2`
	p.until(owed, receivables+1230)
	p.click("button", "Record a payment")
	p.reads("Leave empty to pay the oldest first")
	p.typeIn("Amount", "500")
	p.typeIn("Reference", "by phone\r")
	p.reads("Received 500.00")
	p.until(owed, receivables+730)
	p.click("button", "Done")
	p.invoice("SC1047")
	p.until(`document.querySelector(".review_issued")?.innerText.includes("settled")`)
	if read := p.text(".review_issued"); !strings.Contains(read, "320.00 open") || !strings.Contains(read, "410.00 open") {
		t.Errorf("after 500.00 it reads: %s", read)
	}
	p.reads("part paid")

	// Reversed, everything is owed again, and the history says why.
	p.clickOn(`[...document.querySelectorAll(".review_issued a")].find(a => a.innerText === "Payment")`)
	p.until(`document.querySelector(".desk_folio h2")?.innerText === "500.00"`)
	p.click("button", "Reverse it")
	p.typeIn("Why is it reversed?", "Paid by mistake\r")
	p.until(`document.querySelector(".desk_sheet").innerText.includes("a reversal")`)
	p.invoice("SC1047")
	p.until(`document.querySelector(".review_issued")?.innerText.includes("Reversed")`)
	if read := p.text(".review_issued"); strings.Count(read, "410.00 open") != 3 {
		t.Errorf("after the reversal it reads: %s", read)
	}
}

// 2,000.00 are held; a draft of 1,000.00 and 23 % takes 1,230.00 of them, and leaves
// a bank transfer to make.
func TestADepositIsAppliedAndLeavesATransfer(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?show=deposits")
	p.click("button", "Ask for a deposit")
	p.focus("field", "Client")
	p.press("Tidewrack")
	p.click("option", "Tidewrack Museum")
	p.typeIn("Amount", "2000\r")
	p.until(`document.querySelector(".desk_sheet")?.innerText.includes("Tidewrack Museum")`)
	p.clickOn(`[...document.querySelectorAll(".desk_sheet tbody tr")].find(r => r.innerText.includes("Tidewrack Museum"))`)
	p.click("button", "The money came")
	p.reads("Hold 2000.00")
	p.click("button", "Hold 2000.00")
	p.until(`[...document.querySelectorAll(".desk_sheet tbody tr")].find(r => r.innerText.includes("Tidewrack Museum")).innerText.includes("received")`)
	before := p.text(".desk_views")
	byHand(p, js[string](p, clientNumber, "Tidewrack Museum"), "Wreck site, report", "1000")
	p.until(`document.querySelector(".document_document").innerText.includes("From funds held for you")`)
	p.click("button", "Issue over 1,230.00")
	p.click("button", "Issue SC1047 over")
	p.until(`document.querySelector(".review_review h1").innerText.includes("paid")`)
	text := p.pdf(js[string](p, "location.pathname.split('/').pop()"))
	for _, want := range []string{"From funds held for you", "−1,230.00", "Still held", "770.00"} {
		if !strings.Contains(text, want) {
			t.Errorf("the document does not say %q", want)
		}
	}
	p.goTo("/receivables?show=transfers")
	p.until(`document.querySelector(".desk_sheet")?.innerText.includes("SC1047")`)
	if after := p.text(".desk_views"); after == before {
		t.Errorf("transfers to make are counted as before: %s", after)
	}
	p.clickOn(`[...document.querySelectorAll(".desk_sheet tbody tr")].find(r => r.innerText.includes("SC1047")).querySelector("input")`)
	p.click("button", "Mark 1 as made, 1,230.00")
	p.until(`!document.querySelector(".desk_desk-main").innerText.includes("SC1047")`)
}

const clientNumber = `(() => { const r = new XMLHttpRequest(); r.open("GET", "/api/clients", false); r.send(); return String(JSON.parse(r.responseText).clients.find(c => c.name === %v).id); })()`

// Of 1,000.00 a part of 400.00 is credited: 492.00 with tax, and 738.00 is open.
func TestACreditInPartLeavesTheRestOpen(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	byHand(p, "4", "Wake wash, summary", "1000")
	p.click("button", "Issue over 1,230.00")
	p.click("button", "Issue SC1047 over")
	p.until(`document.querySelector("[data-testid=document-number]").innerText === "SC1047"`)
	p.click("button", "Credit")
	p.until(`document.querySelector(".credit_credit-pane tbody label")`)
	p.clickOn(`[...document.querySelectorAll(".credit_credit-pane tbody label")].find(l => l.innerText.includes("Wake wash"))`)
	p.typeIn("Credit of Wake wash, summary", "1000.01")
	p.reads("give at most that")
	p.typeIn("Credit of Wake wash, summary", "400")
	p.reads("Issue a credit note over 492.00")
	p.typeIn("Why", "The second trip was not needed")
	p.click("button", "Issue a credit note over 492.00")
	p.reads("Credit note for Halvick Ferries")
	p.reads("Credits SC1047")
	text := p.pdf(js[string](p, "location.pathname.split('/').pop()"))
	for _, want := range []string{"Credit note", "SC1047", "The second trip was not needed", "492.00"} {
		if !strings.Contains(text, want) {
			t.Errorf("the document does not say %q", want)
		}
	}
	p.invoice("SC1047")
	p.until(`document.querySelector(".review_review h1").innerText.includes("credited in part") && document.querySelector(".review_issued").innerText.includes("738.00 open")`)
	p.goTo("/billing?show=register&state=credited")
	p.until(`document.querySelector(".desk_sheet").innerText.includes("SC1047")`)
}

// A draft is composed: lines in another order, one sum, a discount kept for the
// client; reopened, it keeps its number.
func TestADraftIsComposedIssuedAndReopened(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	byHand(p, "4", "First line", "300")
	p.typeIn("Text of the line", "Second line")
	p.typeIn("or amount, net", "200\r")
	p.until(`document.querySelectorAll("[aria-label=Entries] [data-row]").length === 2`)
	p.clickOn(`document.querySelector("[aria-label=Entries] [data-row='1'] td:nth-child(2)")`)
	js[bool](p, `(document.querySelector("[aria-label=Entries]").focus(), true)`)
	p.alt(kb.ArrowUp)
	p.until(`document.querySelector("[aria-label=Entries] [data-row='0']").innerText.includes("Second line") && document.querySelector(".document_document tbody tr").innerText.includes("Second line")`)
	js[bool](p, `(() => { const data = new DataTransfer(), rows = document.querySelectorAll("[aria-label=Entries] [data-row]");
		rows[0].dispatchEvent(new DragEvent("dragstart", { bubbles: true, dataTransfer: data }));
		requestAnimationFrame(() => rows[1].dispatchEvent(new DragEvent("drop", { bubbles: true, dataTransfer: data }))); return true })()`)
	p.until(`document.querySelector("[aria-label=Entries] [data-row='0']").innerText.includes("First line")`)
	p.clickOn(`document.querySelector("[aria-label=Entries] [data-row='1'] input[type=checkbox]")`)
	p.reads("Took out “Second line”.")
	p.click("button", "Undo")
	p.until(`document.querySelector("[aria-label=Entries] [data-row='1']")?.innerText.includes("Second line")`)
	p.click("button", "Price and tax")
	p.typeIn("Discount, %", "10\r")
	p.until(`document.querySelector(".document_document-sums").innerText.includes("−50.00")`)
	p.clickOn(`[...document.querySelectorAll(".review_choice")].find(c => c.innerText.startsWith("Discount, %")).querySelectorAll(".review_from .link")[1]`)
	p.reads("from the client Halvick Ferries")
	p.click("button", "Layout and texts")
	p.choose("Lines of the invoice", "one sum")
	p.until(`document.querySelectorAll(".document_document table:first-of-type tbody tr").length === 1 && document.querySelector(".document_document").innerText.includes("For professional services up to 1 Dec 2026")`)
	p.click("button", "Issue over 553.50")
	p.click("button", "Issue SC1047 over")
	p.until(`document.querySelector("[data-testid=document-number]").innerText === "SC1047"`)
	p.click("button", "Reopen")
	p.reads("becomes a draft again and keeps its number")
	p.click("button", "Reopen SC1047 over")
	p.until(`document.querySelector(".review_review h1 .table_beside").innerText.includes("reopened")`)
	p.click("button", "Issue over 553.50")
	p.reads("Issue SC1047?")
	p.click("button", "Issue SC1047 over")
	p.until(`document.querySelector(".review_review .history_history").innerText.includes("Reopened SC1047")`)
}

// The register is read as it comes into sight: its last rows when one goes there, in the order of a head, what is looked
// for over all of it. What is chosen stays chosen, here or not, and its foot has the sums of all.
func TestTheRegisterIsReadAsItComesIntoSight(t *testing.T) {
	p := look(t)
	p.enter("administrator")
	p.goTo("/billing?show=register")
	p.until("document.querySelector('[data-row=\"0\"]') && document.querySelector('table[aria-rowcount=\"259\"]')")
	sums := p.text("tfoot")
	p.until(`document.activeElement.getAttribute("aria-label") === "Invoices"`)
	p.press("x")
	p.reads("1 invoice\nchosen")
	js[bool](p, `(document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key: "End", bubbles: true })), true)`)
	p.until("document.querySelector('tr.current[data-row=\"257\"]')")
	if foot := p.text("tfoot"); foot != sums {
		t.Errorf("the foot said %q, then %q", sums, foot)
	}
	p.clickOn("[...document.querySelectorAll('th button')].find(b => b.innerText.startsWith('Dated'))")
	p.until("document.querySelector('th[aria-sort=ascending]') && document.querySelector('[data-row=\"0\"]')?.innerText.includes('2025')")
	p.reads("1 invoice\nchosen")
	p.press("/")
	p.press("stennet")
	p.until(`/^\d+ found$/.test(document.querySelector(".list_list-filter [role=status]")?.innerText) &&
		[...document.querySelectorAll(".list_list tbody tr")].every(r => r.innerText.includes("Stennet"))`)
	p.clickOn("document.querySelector('thead input[type=checkbox]')")
	p.until("!document.body.innerText.includes('chosen')") // what was chosen is let go first
	p.clickOn("document.querySelector('thead input[type=checkbox]')")
	p.until(`[...document.querySelectorAll(".list_list tbody tr")].every(r => r.className.includes("picked")) && document.body.innerText.includes("chosen")`)
}
