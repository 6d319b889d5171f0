package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// An invoice goes from the register to its client, who opens it, asks and disputes on a phone; the firm answers, and the client reads it.
func TestAnInvoiceReachesItsClientAndIsAnswered(t *testing.T) {
	p := open(t)
	look := looker(p)
	p.enter("administrator")
	p.invoice("SC1046")
	p.reads("It goes by mail")
	p.click("button", "Hand it over")
	p.until(`document.querySelector("[aria-label='The letter as it will go out']")?.innerText.includes("SC1046")`)
	p.focus("field", "To")
	p.ctrl("a")
	p.press("Ann <ann@whinny.example>")
	p.until(`document.querySelector("[aria-label='The letter as it will go out']").innerText.startsWith("Invoice SC1046") &&
		document.querySelector("[aria-label='The letter as it will go out']").innerText.includes("Dear Ann,")`)
	look("the letter with an invoice")
	p.click("button", "Mail it, to stay here")
	p.reads("ann@whinny.example, by mail")
	secret := p.mailed(`Dear Ann,(?s:.*?)SC1046(?s:.*?)/invoice#(\S+)`)
	at := js[string](p, "location.pathname")
	arrived := false
	for range 50 { // the report of the mail server comes when it comes
		p.goTo(at)
		p.until(`document.querySelector("[aria-label='Handed over'] table")`)
		if arrived = js[bool](p, `document.querySelector("[aria-label='Handed over']").innerText.includes("arrived")`); arrived {
			break
		}
	}
	if !arrived {
		t.Fatal("it never arrives")
	}

	p.size(360, 740)
	p.goTo("/invoice#" + secret)
	p.reads("To pay")
	look("the page of an invoice")
	if wide := js[int](p, "document.documentElement.scrollWidth"); wide > 360 {
		t.Errorf("on a phone the page is %d wide", wide)
	}
	p.clickOn(`document.querySelector("ul button[aria-expanded]")`)
	p.click("button", "Dispute this line")
	p.focus("field", "What is wrong with it?")
	p.press("We did this ourselves")
	p.click("button", "Send")
	p.reads("What is not disputed can be paid meanwhile")
	p.reads("not answered yet")
	look("a disputed invoice")

	p.size(1280, 800)
	p.goTo(at)
	p.reads("We did this ourselves")
	p.reads("opened")
	p.click("button", "Answer")
	p.focus("field", "What Ann reads, on the page and in a mail")
	p.press("You asked us on 3 October")
	p.click("button", "Answer: it stays")
	p.reads("kept: You asked us on 3 October")
	p.goTo("/invoice#" + p.mailed(`You asked us on 3 October(?s:.*?)/invoice#(\S+)`))
	p.reads("You asked us on 3 October")
}

// Many go out from the register at once, and what became of them is a filter of its own.
func TestWhatIsNotHandedOverYetGoesOutAtOnce(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/billing?show=register&handed=not_yet")
	p.until(`document.querySelectorAll(".table_invoices tbody tr").length > 5`)
	before := js[int](p, `Number(document.querySelector(".tally_tally").innerText.match(/(\d+) invoices/)[1])`)
	p.clickOn(`document.querySelector(".table_invoices thead input[type=checkbox]")`)
	p.until(`[...document.querySelectorAll(".tally_tally button")].some(b => b.innerText.startsWith("Hand over"))`)
	p.clickOn(`[...document.querySelectorAll(".tally_tally button")].find(b => b.innerText.startsWith("Hand over"))`)
	p.until(`document.querySelector("dialog table")?.rows.length > 3`)
	looker(p)("the letters of many")
	p.clickOn(`[...document.querySelectorAll("dialog button")].find(b => b.innerText.startsWith("Hand over"))`)
	p.until(`!document.querySelector("dialog") && document.body.innerText.includes("letters by mail.")`)
	p.goTo("/billing?show=register&handed=not_yet")
	p.until(`document.querySelector(".tally_tally")?.innerText.match(/(\d+) invoices?/)`)
	if after := js[int](p, `Number(document.querySelector(".tally_tally").innerText.match(/(\d+) invoices?/)[1])`); after >= before {
		t.Errorf("%d were not handed over, and are still %d", before, after)
	}
}

// What was posted on another day is noted as of that day; a day to come is refused in a sentence.
func TestWhatWasPostedIsNotedOnItsDay(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/billing?show=register&handed=not_yet")
	p.until(`document.querySelectorAll(".table_invoices tbody tr").length > 5`)
	p.clickOn(`document.querySelectorAll(".table_invoices tbody input[type=checkbox]")[1]`)
	p.until(`[...document.querySelectorAll(".tally_tally button")].some(b => b.innerText === "Hand over 1")`)
	p.click("button", "Hand over 1")
	p.until(`document.querySelector("dialog table")?.rows.length === 1`)
	number := js[string](p, `document.querySelector("dialog table").innerText.match(/[A-Z]+[0-9]+/)[0]`)
	posted := func(day string) {
		t.Helper()
		p.focus("field", "Posted on")
		p.ctrl("a")
		p.press(day + kb.Enter)
		p.click("button", "All of them were posted on")
	}
	posted("1 jan 2027")
	p.reads("1 Jan 2027 is still to come: give today or a day before.")
	posted("29 nov 2026")
	p.until(`!document.querySelector("dialog")`)
	p.invoice(number)
	p.reads("posted")
	p.reads("29 Nov 2026")
}

// A file that was sent is known by its digest, which the browser computes; nothing of it leaves the machine.
func TestAClientFindsOutWhetherAnInvoiceIsOurs(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.invoice("SC1045")
	p.reads("Save the PDF")
	file := p.fetched("GET", js[string](p, `[...document.querySelectorAll(".tally_tally a")].find(a => a.href.endsWith("document.pdf")).getAttribute("href")`))
	path := filepath.Join(t.TempDir(), "invoice.pdf")
	write := func(content []byte) {
		t.Helper()
		if err := os.WriteFile(path, content, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	write(file)
	p.goTo("/ours")
	looker(p)("is it ours")
	p.upload(path)
	p.reads("Ours, as we issued it")
	p.reads("SC1045")
	write(append(file, ' '))
	p.upload(path)
	p.reads("Not ours")
	if strings.Contains(p.text("main"), "SC1045 of") {
		t.Error("something is told of a document that is not ours")
	}
}

// On the page a client pays a part by card with the fee that stands on the button; the firm sees it on the invoice, and the client their receipt.
func TestAClientPaysOnThePage(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.invoice("SC1046")
	p.reads("It goes by mail")
	p.click("button", "Make a link to the client's page")
	p.until(`document.querySelector("input[aria-label='The link']")?.value.includes("#")`)
	link := js[string](p, `document.querySelector("input[aria-label='The link']").value`)
	at := js[string](p, "location.pathname")
	p.size(360, 740)
	p.goTo("/invoice" + link[strings.Index(link, "#"):])
	p.reads("Pay here")
	p.clickOn(`[...document.querySelectorAll(".ant-radio-wrapper")].find(e => e.innerText === "Card")`)
	type typed struct{ field, text string }
	for _, one := range []typed{{"Amount", "100"}, {"Card number", "9000 0000 0000 0019"}, {"Ends", "12/30"}, {"Code", "123"}, {"Name of the holder", "Ann"}} {
		p.focus("field", one.field)
		p.press(one.text)
	}
	p.until(`[...document.querySelectorAll("button")].some(b => /^Pay EUR.101.75$/.test(b.innerText) && !b.disabled)`)
	looker(p)("paying on the page")
	p.click("button", "Pay EUR")
	p.reads("EUR\u00a0100.00 received")
	p.until(`document.querySelector("[aria-label='To pay']").innerText.includes("3,049.78")`)
	p.size(1280, 800)
	p.goTo(at)
	p.reads("What settled it")
	p.reads("3,049.78 open")
}
