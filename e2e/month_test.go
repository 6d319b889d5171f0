package e2e

import (
	"encoding/base64"
	"fmt"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strconv"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
)

// cents reads an amount of the page or of a document.
func cents(t *testing.T, text string) int {
	t.Helper()
	digits := strings.NewReplacer(",", "", ".", "", "−", "-", "–", "0").Replace(strings.TrimSpace(text))
	n, err := strconv.Atoi(digits)
	if err != nil {
		t.Fatalf("%q is no amount", text)
	}
	return n
}

// rail is the figure of a stage, in whole euros.
func (p *page) rail(stage string) int {
	p.Helper()
	p.until(`document.querySelector("[data-testid=rail-" + %v + "] b").innerText.length > 0`, stage)
	return cents(p.T, p.text("[data-testid=rail-"+stage+"] b"))
}

// sums are the figures of the tally by what they are.
func (p *page) sum(what string) string {
	p.Helper()
	p.until(`[...document.querySelectorAll(".tally_sum")].some(s => s.querySelector("dt").innerText === %v)`, what)
	return js[string](p, `[...document.querySelectorAll(".tally_sum")].find(s => s.querySelector("dt").innerText === %v).querySelector("dd").innerText`, what)
}

// pdf reads the text of an invoice's document, asked for by the page.
func (p *page) pdf(id string) string {
	p.Helper()
	encoded, err := chromedp.Run(p.ctx, chromedp.Evaluate[string](fill(`fetch("/api/invoices/" + %v + "/document.pdf").then(r => r.arrayBuffer())
		.then(b => btoa(String.fromCharCode(...new Uint8Array(b))))`, []any{id}), chromedp.EvalAwaitPromise))
	if err != nil {
		p.Fatal(err)
	}
	content, err := base64.StdEncoding.DecodeString(encoded)
	if err != nil {
		p.Fatal(err)
	}
	path := filepath.Join(p.TempDir(), "invoice.pdf")
	if err := os.WriteFile(path, content, 0o600); err != nil {
		p.Fatal(err)
	}
	text, err := exec.Command("pdftotext", "-layout", path, "-").Output()
	if err != nil {
		p.Fatalf("pdftotext: %v", err)
	}
	return string(text)
}

// printed finds the amount behind a label in a document's text.
func printed(t *testing.T, text, label string) int {
	t.Helper()
	found := regexp.MustCompile(regexp.QuoteMeta(label) + `[^\n]*?([\d,]+\.\d\d)\n`).FindStringSubmatch(text)
	if found == nil {
		t.Fatalf("no %q in:\n%s", label, text)
	}
	return cents(t, found[1])
}

func TestFromUnbilledWorkToAnIssuedInvoice(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	p.reads("What can be billed")

	// Select: what is selected adds up.
	p.click("checkbox", "Select Ennisfarne Harbour Commission")
	p.click("checkbox", "Select Berth 4 monitoring")
	p.reads("Make 2 drafts")
	rows := js[[]string](p, `[...document.querySelectorAll("tr.picked:not(.table_of-client) td:nth-last-child(2)")].map(e => e.innerText)`)
	sum := 0
	for _, row := range rows {
		sum += cents(t, row)
	}
	if net := cents(t, p.sum("to bill, net")); len(rows) != 3 || net != sum {
		t.Errorf("%d engagements of %v add up to %d, the tally says %d", len(rows), rows, sum, net)
	}

	// Make drafts: they leave work in progress and stand under billing.
	wip, billing := p.rail("wip"), p.rail("billing")
	p.click("button", "Make 2 drafts")
	p.reads("Made 2 drafts.")
	p.until(`document.querySelector("[data-testid=rail-billing]").innerText.includes("9 drafts")`)
	if moved := (p.rail("billing") - billing) * 100; abs(moved-sum) > 100 || abs((wip-p.rail("wip"))*100-sum) > 100 {
		t.Errorf("billing grew by %d, not by %d", moved, sum)
	}

	// Review: take out and put on, change a text; the document follows at once.
	p.click("link", "Review")
	p.reads("Work up to 30 Nov 2026")
	p.click("button", "Review this draft")
	p.reads("Draft for Ennisfarne Harbour Commission")
	whole := p.text("[data-testid=document-total]")
	total := cents(t, whole)
	first := p.text(".review_review [data-row='1'] .review_line-text")
	p.clickOn(`document.querySelector(".review_review [data-row='1'] input[type=checkbox]")`)
	p.reads("unbilled again")
	p.until(`document.querySelector("[data-testid=document-total]").innerText !== %v`, whole)
	if now := cents(t, p.text("[data-testid=document-total]")); now >= total {
		t.Errorf("without an entry the total is %d, before %d", now, total)
	}
	p.click("button", "Undo")
	p.reads("Put on")
	p.until(`document.querySelector("[data-row='1'] input[type=checkbox]").checked`)
	if now := cents(t, p.text("[data-testid=document-total]")); now != total {
		t.Errorf("with %q back the total is %d, before %d", first, now, total)
	}
	p.clickOn(`document.querySelector(".review_review [data-row='2'] .review_text-button")`)
	p.focus("field", "Text on the invoice")
	js[bool](p, "(document.activeElement.select(), true)")
	p.press("Scour survey, second pass\r")
	p.until(`document.querySelector(".document_document").innerText.includes("Scour survey, second pass")`)

	// Issue: the next number, and the figures are printed to the cent.
	receivables := p.rail("receivables")
	net := cents(t, p.sum("net"))
	p.click("button", "Issue over")
	p.reads("Issue SC1047?")
	p.click("button", "Issue SC1047 over")
	p.until(`document.querySelector("[data-testid=document-number]").innerText === "SC1047"`)
	id := js[string](p, "location.pathname.split('/').pop()")
	text := p.pdf(id)
	tax := js[string](p, `document.querySelector(".document_document-sums tr:nth-child(2) td").innerText`)
	for label, want := range map[string]int{"Subtotal": net, "VAT 23 %": cents(t, tax), "Total EUR": total, "Amount due": total} {
		if got := printed(t, text, label); got != want {
			t.Errorf("%s is printed as %d, the screen says %d", label, got, want)
		}
	}
	for _, want := range []string{"SC1047", "Scour survey, second pass", "31 Dec 2026", "Page 1 of"} {
		if !strings.Contains(text, want) {
			t.Errorf("the document does not say %q", want)
		}
	}
	lines := js[[]string](p, `[...document.querySelectorAll(".document_document tbody tr td:nth-child(6)")].map(e => e.innerText)`)
	printedSum := 0
	for _, line := range lines {
		printedSum += cents(t, line)
	}
	if printedSum != net {
		t.Errorf("%d lines add up to %d, net is %d", len(lines), printedSum, net)
	}
	p.until(`document.querySelector(".review_review .history_history").innerText.includes("Issued SC1047 over")`)
	p.until(`document.querySelector("[data-testid=rail-billing]").innerText.includes("8 drafts")`)
	if grown := (p.rail("receivables") - receivables) * 100; abs(grown-total) > 100 {
		t.Errorf("receivables grew by %d, not by %d", grown, total)
	}

	// Its entries are billed, and say so.
	p.goTo("/billing?show=register")
	p.reads("SC1047")
	p.goTo("/wip?client=1")
	p.until(`document.querySelector(".wip_wip tr.table_of-client td:nth-last-child(2)")?.innerText === "–"`) // what is held stays
}

func abs(n int) int { return max(n, -n) }

func TestEveryFigureExplainsItselfDownToTheRate(t *testing.T) {
	p := look(t)
	p.enter("administrator")
	p.invoice("SC1005")
	p.until(`document.querySelector(".document_document")`)
	p.clickOn(`document.querySelector(".review_review [data-row='0'] [data-explain]")`)
	p.until(`document.querySelector(".ant-popover .explain_steps")`)
	text := p.text(".ant-popover .explain_steps")
	for _, want := range []string{"worked", "up to the next 6 min", "Rate of the client Port of Calderwick", "beats the rate of the person",
		"beats the rate of the firm", "rounded once"} {
		if !strings.Contains(text, want) {
			t.Errorf("the value does not say %q: %s", want, text)
		}
	}
	p.press("\x1b")
	p.clickOn(`[...document.querySelectorAll(".tally_sum")].find(s => s.innerText.includes("total, gross")).querySelector(".explain_explained")`)
	p.until(`[...document.querySelectorAll(".ant-popover .explain_steps")].some(s => s.checkVisibility() && s.innerText.includes("net and tax"))`)
	deep := js[string](p, `[...document.querySelectorAll(".ant-popover .explain_steps")].find(s => s.innerText.includes("net and tax")).textContent`)
	for _, want := range []string{"each with its rounded value, added", "rounded once for the code S", "beats the rate of the firm"} {
		if !strings.Contains(deep, want) {
			t.Errorf("the total does not go down to %q", want)
		}
	}
}

func TestADeletedDraftLeavesEverythingUnbilled(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	p.reads("What can be billed")
	before := p.rail("wip")
	p.invoice("Brannoch Oyster Growers")
	p.reads("Draft for Brannoch Oyster Growers")
	net := p.sum("net")
	p.click("button", "Delete the draft")
	p.reads("The draft for Brannoch Oyster Growers over " + net + " net goes")
	p.click("button", "Delete the draft of "+net)
	p.until(`document.querySelector("[data-testid=rail-billing]").innerText.includes("6 drafts")`)
	// Since the draft was made, a surcharge of 4 % was agreed.
	again := (cents(t, net)*104 + 50) / 100
	if grown := (p.rail("wip") - before) * 100; abs(grown-again) > 100 {
		t.Errorf("work in progress grew by %d, the draft had %s", grown, net)
	}
	p.goTo("/wip?client=6")
	p.reads("Oyster bed siting")
	if back := p.text(".wip_wip tr.table_of-client td:nth-last-child(2)"); cents(t, back) != again {
		t.Errorf("%s of %s are unbilled again", back, net)
	}
}

// The whole pass, without touching the mouse once.
func TestTheWholePassByKeyboard(t *testing.T) {
	p := open(t)
	p.goTo("/sign-in")
	p.reads("Accounts of the demo")
	p.press("maren@skerrow.example\thigh-water-mark\r")
	p.until(`document.querySelector(".list_list tbody tr")`)
	p.alt("1")
	p.reads("Won and lost, by month")
	p.alt("3")
	p.reads("What can be billed")
	p.until(`document.activeElement.getAttribute("aria-label") === "Unbilled work" && document.querySelector("tr.current")`)
	for range 60 {
		if js[bool](p, `document.querySelector("tr.current").innerText.includes("Halvick Ferries")`) {
			break
		}
		p.press("j")
	}
	p.until(`document.querySelector("tr.current").innerText.includes("Halvick Ferries")`)
	p.press("x")
	p.reads("Make 1 draft")
	net := p.sum("to bill, net")
	p.press("\r")
	p.until(`document.querySelector(".desk_folio").innerText.includes("Wake wash review")`)
	p.press("d")
	p.reads("Made 1 draft of " + net + " for Halvick Ferries")
	p.alt("4")
	p.reads("Drafts to review")
	p.until(`document.activeElement.getAttribute("aria-label") === "Drafts" && document.querySelector("tr.current")`)
	for !js[bool](p, `document.querySelector("tr.current").innerText.includes("Halvick Ferries")`) {
		p.press("j")
	}
	p.press("\r")
	p.reads("Draft for Halvick Ferries")
	tabTo(p, `document.activeElement.getAttribute("aria-label") === "Entries"`)
	total := p.text("[data-testid=document-total]")
	p.press("jx")
	p.until(`document.querySelector("[data-row='1']").innerText.includes("stays unbilled")`)
	p.press("x")
	p.until(`document.querySelector("[data-row='1'] input[type=checkbox]").checked && document.querySelector("[data-testid=document-total]").innerText === %v`, total)
	tabTo(p, `document.activeElement.innerText?.startsWith("Issue over")`)
	p.press("\r")
	p.reads("Issue SC1047?")
	tabTo(p, `document.activeElement.innerText?.startsWith("Issue SC1047 over")`)
	p.press("\r")
	p.until(`document.querySelector("[data-testid=document-number]").innerText === "SC1047"`)
	p.press("?")
	p.reads("find or do anything")
	p.press("\x1b")
	p.ctrl("k")
	p.until(`document.activeElement.getAttribute("aria-label") === "Find"`)
	p.press("SC1047")
	p.until(`document.querySelector(".find_hit").innerText.includes("Halvick Ferries")`)
	p.press("\r")
	p.until(`location.pathname.startsWith("/billing/")`)
}

// tabTo presses Tab until the focus is where it should be.
func tabTo(p *page, there string) {
	p.Helper()
	for range 120 {
		if js[bool](p, "Boolean("+there+")") {
			return
		}
		p.press("\t")
	}
	p.Fatalf("the focus never came to %s", there)
}

func TestTwoPressesIssueOnce(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.invoice("Corriehaven Parish")
	p.reads("Draft for Corriehaven Parish")
	status, err := chromedp.Run(p.ctx, chromedp.Evaluate[[]int](`Promise.all([1, 2, 3].map(() =>
		fetch("/api/invoices/" + location.pathname.split("/").pop() + "/issue?version=1", {method: "POST", headers: {"Idempotency-Key": "the-same-key"}}).then(r => r.status)))`, chromedp.EvalAwaitPromise))
	if err != nil || fmt.Sprint(status) != "[200 200 200]" {
		t.Fatalf("%v, %v", status, err)
	}
	p.goTo("/billing?show=register")
	p.reads("SC1047")
	if js[bool](p, `document.body.innerText.includes("SC1048")`) {
		t.Error("it was issued twice")
	}
}
