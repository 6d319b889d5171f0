package e2e

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// row moves in the list that has the focus until the marked row reads a text.
func (p *page) row(text string) {
	p.Helper()
	p.press(kb.Home)
	for range 120 {
		p.until(`document.querySelector("tr.current")`)
		if js[bool](p, `document.querySelector("tr.current").innerText.includes(%v)`, text) {
			return
		}
		p.press("j")
	}
	p.Fatalf("no row reads %q", text)
}

// list puts the focus on a list by its name, as Tab would.
func (p *page) list(name string) {
	p.Helper()
	p.until(`document.querySelector("section[tabindex='0'][aria-label='" + %v + "']")`, name)
	tabTo(p, fill(`document.activeElement.getAttribute("aria-label") === %v`, []any{name}))
}

// button presses a button, link one that leads on, where Tab finds it.
func (p *page) button(words string) { p.Helper(); p.tabbed("button", words) }
func (p *page) link(words string)   { p.Helper(); p.tabbed("link", words) }

func (p *page) tabbed(role, words string) {
	p.Helper()
	p.until(control, role, words)
	tabTo(p, fill(`(document.activeElement.innerText ?? "").trim().startsWith(%v)`, []any{words}))
	p.press("\r")
}

// archive reads the archive that a job made, and the text of the documents in it by
// their names.
func (p *page) archive() map[string]string {
	p.Helper()
	encoded, err := chromedp.Run(p.ctx, chromedp.Evaluate[string](`fetch(document.querySelector(".job_job a").href).then(r => r.arrayBuffer())
		.then(b => new Promise(done => { const reader = new FileReader(); reader.onload = () => done(reader.result.split(",")[1]); reader.readAsDataURL(new Blob([b])) }))`, chromedp.EvalAwaitPromise))
	if err != nil {
		p.Fatal(err)
	}
	content, err := base64.StdEncoding.DecodeString(encoded)
	if err != nil {
		p.Fatal(err)
	}
	archive, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil {
		p.Fatal(err)
	}
	texts, folder := map[string]string{}, p.TempDir()
	for _, f := range archive.File {
		r, err := f.Open()
		if err != nil {
			p.Fatal(err)
		}
		var pdf bytes.Buffer
		pdf.ReadFrom(r)
		path := filepath.Join(folder, "one.pdf")
		if err := os.WriteFile(path, pdf.Bytes(), 0o600); err != nil {
			p.Fatal(err)
		}
		text, err := exec.Command("pdftotext", "-layout", path, "-").Output()
		if err != nil {
			p.Fatalf("%s: %v", f.Name, err)
		}
		texts[f.Name] = string(text)
	}
	return texts
}

// The whole month end, without touching the mouse: filter, select, add a draft to the
// run that is under way, write one entry down, hold another, settle a finding,
// approve, issue everything, reopen one, and save the documents, which say to the
// cent what the screen says. All of it on a small screen; make proof does it on a
// large one, too.
func TestTheMonthEndByKeyboard(t *testing.T) {
	widths := []int64{1024, 1280}
	if testing.Short() {
		widths = widths[:1]
	}
	for _, width := range widths {
		p := open(t)
		p.size(width, 768)
		monthEnd(p)
	}
}

func monthEnd(p *page) {
	p.Helper()
	p.goTo("/sign-in")
	p.reads("Accounts of the demo")
	p.press("maren@skerrow.example\thigh-water-mark\r")
	p.until(`document.querySelector(".list_list tbody tr")`)

	// To the run, and from it to what can be added.
	p.alt("4")
	p.reads("Drafts to review")
	tabTo(p, `document.activeElement.getAttribute("aria-label") === "Run"`)
	p.press(kb.ArrowDown)
	p.until(`[...document.querySelectorAll(".ant-select-item-option")].some(o => o.title === "November, first part")`)
	for !js[bool](p, `document.querySelector(".ant-select-item-option-active")?.title === "November, first part"`) {
		p.press(kb.ArrowDown)
	}
	p.press("\r")
	p.reads("7 to issue, 1 in approval, 2 approved, 0 issued")
	p.link("Add clients")
	p.reads("What is selected is added to the run")

	// Filter, select: the tally says what it will come to.
	tabTo(p, `document.activeElement.getAttribute("aria-label") === "Worth at least"`)
	p.until(`document.querySelector(".wip_wip tbody tr")`)
	rows := js[int](p, `document.querySelectorAll(".wip_wip tbody tr").length`)
	js[bool](p, "(document.activeElement.select(), true)")
	p.press("15,000\r")
	p.until(`document.querySelectorAll(".wip_wip tbody tr").length < %v`, rows)
	p.list("Unbilled work")
	p.row("Wake wash review")
	p.press("x")
	p.reads("Add 1 draft to the run")
	whole := cents(p.T, p.sum("to bill, net"))
	p.press("d")
	p.reads("Made 1 draft of")
	p.link("Review")
	p.reads("Draft for Halvick Ferries")
	p.until(`document.querySelector(".draft-list_draft-list").textContent.includes("November, first part")`)

	// Write one entry down, hold another; the document follows.
	p.list("Entries")
	before := cents(p.T, p.sum("net"))
	if before != whole {
		p.Errorf("the tally foresaw %d, the draft comes to %d", whole, before)
	}
	p.press("w")
	p.until(`document.activeElement.getAttribute("aria-label") === "Value"`)
	p.press("100\t\tlearning time\r")
	p.reads("Wrote “")
	p.until(`document.querySelector("[data-row='0']").innerText.includes("100.00")`)
	p.until(`document.activeElement.getAttribute("aria-label") === "Entries"`)
	lost := -cents(p.T, p.sum("written down"))
	p.press("jh")
	p.until(`document.activeElement.getAttribute("aria-label") === "Hold until"`)
	tabTo(p, `document.activeElement.getAttribute("aria-label") === "Why"`)
	p.press("no order yet\r")
	p.reads("Held “")
	p.until(`document.querySelector(".review_review .review_left-out")?.innerText.includes("held")`)
	held := cents(p.T, js[string](p, `document.querySelector(".review_review .review_left-out td:nth-last-child(2)").innerText`))
	if now := cents(p.T, p.sum("net")); now != before-lost-held {
		p.Errorf("%d less %d written down and %d held is not %d", before, lost, held, now)
	}

	// To the next finding, and from there to the one that blocks: settled, approved.
	inHand := `document.activeElement.getAttribute("aria-label") === "Entries" && document.querySelectorAll("[aria-label=Entries] [data-row]").length > 0
		&& document.querySelector(".draft-list_draft-list a[aria-current=page]").pathname === location.pathname`
	p.until(inHand)
	at := js[string](p, "location.pathname")
	p.press("f")
	p.until(`location.pathname !== %v && document.querySelector("[data-finding]")`, at)
	for !js[bool](p, `document.querySelector("[data-finding=surcharge]") !== null`) {
		at = js[string](p, "location.pathname")
		p.until(inHand)
		p.press("[")
		p.until(`location.pathname !== %v`, at)
		p.until(inHand)
	}
	p.until(`document.querySelector("[data-finding=surcharge]")`)
	p.press("f")
	p.until(`document.activeElement.innerText === "Put it on"`)
	p.press("\r")
	p.until(`!document.querySelector("[data-finding=surcharge]") && document.querySelector(".document_document-sums").innerText.includes("Surcharge")`)
	p.until(`document.activeElement.getAttribute("aria-label") === "Entries"`)
	at = js[string](p, "location.pathname")
	p.press("a")
	p.until(`location.pathname !== %v && document.activeElement.getAttribute("aria-label") === "Entries"`, at)

	// Approve the rest at once, issue all, in the order of the numbers.
	p.alt("4")
	p.reads("Drafts to review")
	p.list("Drafts")
	p.until(`document.querySelector("table.table_invoices tbody tr")`)
	tabTo(p, `document.activeElement.getAttribute("aria-label") === "Select everything"`)
	p.press(" ")
	p.button("Approve")
	p.until(`[...document.querySelectorAll("table.table_invoices tbody tr")].every(r => r.innerText.includes("approved"))`)
	receivables := p.rail("receivables")
	p.button("Issue 8")
	p.reads("Issue 8 invoices?")
	p.until(`document.activeElement.closest("dialog")`)
	tabTo(p, `document.activeElement.closest("dialog") && document.activeElement.innerText === "Issue 8"`)
	p.press("\r")
	p.reads("Issued 8 invoices.")
	p.until(`Number(document.querySelector("[data-testid=rail-receivables] b").innerText.replaceAll(",", "")) > %v`, receivables)

	// The documents, read back.
	p.goTo("/billing?show=register&order=number")
	p.reads("SC1054")
	totals := map[string]int{}
	p.list("Invoices")
	for number := 1047; number <= 1054; number++ {
		name := "SC" + strings.TrimSpace(js[string](p, "String(%v)", number))
		p.row(name)
		p.press("x")
		totals[name] = cents(p.T, lastAmount(js[string](p, `[...document.querySelectorAll("tr.current td")].at(-2).innerText`)))
	}
	p.until(`[...document.querySelectorAll(".tally_sum")].some(s => s.innerText.includes("8 invoices"))`)
	p.button("Documents")
	p.until(`document.querySelector(".ant-dropdown-menu-item")`)
	p.until(`document.activeElement.closest(".ant-dropdown-menu")`)
	p.press("\r")
	p.until(`document.querySelector(".job_job a")`)
	texts := p.archive()
	if len(texts) != 8 {
		p.Errorf("the archive has %d documents", len(texts))
	}
	for name, text := range texts {
		number, _, _ := strings.Cut(name, " ")
		currency := "EUR"
		if strings.Contains(text, "Total JPY") {
			currency = "JPY"
		}
		whole := line(text, "Total "+currency)
		if whole == "" {
			whole = line(text, "Gesamtbetrag "+currency) // of the client who reads German
		}
		if got := lastAmount(whole); cents(p.T, got) != totals[number] {
			p.Errorf("%s prints a total of %q, the register says %d", name, got, totals[number])
		}
	}

	// One is opened again, and keeps its number.
	p.list("Invoices")
	p.row("SC1047")
	p.press("\r")
	p.until(`document.querySelector("[data-testid=document-number]").innerText === "SC1047"`)
	p.button("Reopen")
	p.reads("becomes a draft again and keeps its number")
	tabTo(p, `document.activeElement.closest("dialog") && document.activeElement.innerText.startsWith("Reopen SC1047")`)
	p.press("\r")
	p.until(`document.querySelector(".review_review h1 .table_beside").innerText.includes("reopened")`)
}

// line is the line of a text that begins with some words.
func line(text, words string) string {
	for _, l := range strings.Split(text, "\n") {
		if strings.HasPrefix(strings.TrimSpace(l), words) {
			return l
		}
	}
	return ""
}

// lastAmount is the last word of a line.
func lastAmount(text string) string {
	words := strings.Fields(text)
	if len(words) == 0 {
		return ""
	}
	return words[len(words)-1]
}
