package e2e

import (
	"io"
	"mime/quotedprintable"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// find does something by its words, with Ctrl K.
func (p *page) find(words string) {
	p.Helper()
	p.ctrl("k")
	p.until(`document.activeElement?.getAttribute("aria-label") === "Find"`)
	p.press(words)
	p.until(`document.querySelector(".find_hit.chosen span")?.innerText.startsWith(%v)`, words)
	p.press(kb.Enter)
	p.until(`!document.querySelector(".find_find")`)
}

// mailed is the last part that a pattern finds in the mails that were delivered.
func (p *page) mailed(pattern string) string {
	p.Helper()
	sought := regexp.MustCompile(pattern)
	for range 100 {
		files, _ := filepath.Glob(filepath.Join(p.data, "mail", "*.eml"))
		slices.Sort(files)
		slices.Reverse(files)
		for _, file := range files {
			raw, err := os.ReadFile(file)
			if err != nil {
				p.Fatal(err)
			}
			_, body, _ := strings.Cut(string(raw), "\r\n\r\n")
			text, err := io.ReadAll(quotedprintable.NewReader(strings.NewReader(body)))
			if found := sought.FindStringSubmatch(string(text)); err == nil && found != nil {
				return found[len(found)-1]
			}
		}
		p.still()
	}
	p.Fatalf("no mail has %s", pattern)
	return ""
}

// active waits until the focus is on what has a label.
func (p *page) active(label string) {
	p.Helper()
	p.until(`document.activeElement?.getAttribute("aria-label") === %v`, label)
}

// saved waits until what was typed is kept.
func (p *page) saved() {
	p.Helper()
	p.until(`document.querySelector(".tally_tally .tally_sum dt").innerText.startsWith("saved") && !document.querySelector(".tiers_field-fault")`)
}

// The proposal of three tiers is built from nothing with the keyboard, mailed,
// and accepted on a phone with an option on; it makes the engagement and its
// plan. The figures are the picture's, added by hand: 8,400 + 4 × 6,000, and
// 12 × 780 for the option; with 23 % tax 51,364.80.
func TestAProposalOfThreeTiersFromNothingToItsEngagement(t *testing.T) {
	p := open(t)
	p.goTo("/sign-in")
	p.reads("Accounts of the demo")
	p.press("maren@skerrow.example\thigh-water-mark\r")
	p.until(`document.querySelector(".list_list tbody tr")`)
	p.find("Port of Calderwick")
	p.until(`document.querySelector("h1")?.innerText === "Port of Calderwick"`)
	p.find("New proposal")
	p.until(`document.activeElement?.closest("label")?.innerText.startsWith("Name, for us") && document.querySelector(".pricing_new-proposal .ant-select-content-value, .pricing_new-proposal .ant-select-selection-item, .pricing_new-proposal .ant-select")?.innerText.includes("Calderwick")`)
	p.press("Calderwick 2027, berths 1 to 6\r")
	p.active("Add a service")

	p.find("Copy a tier")
	p.until(`document.querySelector("[aria-label='Name of tier 2']")`)
	p.saved()
	p.find("Copy a tier")
	p.until(`document.querySelector("[aria-label='Name of tier 3']")`)
	p.saved()
	tabTo(p, `document.activeElement.getAttribute("aria-label") === "Name of tier 1"`)
	p.press("Watch\ttwo surveys a year\t\tCore\tquarterly bathymetry\t\tFull reach\twith forecasting\t")
	p.saved()
	tabTo(p, `document.activeElement.getAttribute("aria-label") === "Add a service"`)
	for _, line := range []struct{ service, said, expected, cells string }{
		{"Baseline survey and datum", "half as deposit on acceptance, the rest when the baseline is delivered", "64", "8400\t8400\t8400"},
		{"Repeat bathymetry", "each quarter, in arrears", "26", "\t6000\t6000"},
		{"Half-yearly spot check", "every 6 months, in advance", "12", "2900\t\t"},
		{"Storm call-out", "per call: first 2 at 1,450, then 1,200", "9", "optional 2\toptional 2\t3"},
		{"Silt forecast model", "each month, in advance, on the 1st", "5", "\toptional 780\t780"},
		{"Claim support", "open", "", "x\tx\tx"},
	} {
		p.active("Add a service")
		p.press(line.service + "\r")
		p.active("When " + line.service + " is billed")
		p.still()                 // what stands there is selected, to be typed over
		p.press(line.said + "\r") // on to the next cell
		p.active("Time expected for " + line.service)
		p.still()
		p.press(line.expected + "\t")
		for i, cell := range strings.Split(line.cells, "\t") {
			p.active(line.service + " in " + []string{"Watch", "Core", "Full reach"}[i])
			p.still()
			if cell != "" {
				p.press(cell)
			}
			p.press("\t")
		}
		p.saved()
	}
	tabTo(p, `document.activeElement.getAttribute("aria-label") === "More for tier Core"`)
	p.press(kb.Enter)
	p.until(`document.activeElement.closest(".ant-dropdown-menu")`)
	p.press(kb.Enter)
	p.until(`document.querySelector(".tiers_tier-suggested")`)
	p.saved()
	figures := js[[]string](p, `[...document.querySelectorAll(".tiers_total-strong button")].map(b => b.firstChild.data)`)
	if strings.Join(figures, " ") != "14,200.00 + 32,400.00 + 45,860.00 +" {
		t.Errorf("the first year of the tiers reads %q", figures)
	}
	p.until(`document.querySelector(".page-pane [data-testid=gross]").innerText === "EUR 39,852.00"`) // 32,400 with 23 %

	p.focus("field", "Silt forecast model in Core") // typing shows what it comes to before it is kept
	p.press("780")
	p.until(`document.querySelector(".tiers_total-strong").innerText.includes("41,760.00")`)
	p.press(kb.Escape)
	p.until(`document.querySelector(".tiers_total-strong").innerText.includes("32,400.00")`)

	p.find("Send")
	p.until(`document.querySelector(".pricing_mail-preview h2.sub")?.innerText === "Our proposal: Baseline survey and datum, Repeat bathymetry and 4 more"`) // the name is ours alone
	p.find("Mail it")
	p.until(`document.querySelector(".story-pane .history_history li")?.innerText.startsWith("Sent P13 to Dev Marrin")`)

	p.size(360, 780)
	p.goTo("/proposal#" + p.mailed(`and 4 more”[^#]+#(\S+)`))
	p.until(`document.querySelector(".offer_offer")`)
	p.click("checkbox", "Silt forecast model")
	p.until(`document.querySelector("[data-testid=net]").innerText === "EUR 41,760.00" && document.querySelector("[data-testid=gross]").innerText === "EUR 51,364.80"`)
	if wide := js[int](p, "document.querySelector('.client_client-page').scrollWidth"); wide > 360 {
		t.Errorf("the page is %d wide on a phone of 360", wide)
	}
	p.click("button", "Accept and sign")
	p.click("button", "Mail me the code")
	p.reads("The code is on its way")
	p.focus("field", "Your name, as signature")
	p.press("Dev Marrin")
	p.focus("field", "The code that we mail to you")
	p.press("000000")
	p.click("button", "Sign and accept")
	p.reads("This is not the code")
	p.focus("field", "The code that we mail to you")
	js[bool](p, "(document.activeElement.select(), true)")
	p.press(p.mailed(`Your code is (\d{6})`))
	p.click("button", "Sign and accept")
	p.until(`document.querySelector("[aria-label=Accepted]")?.innerText.includes("Signed by Dev Marrin on 1 Dec 2026")`)
	p.until(`(box => box.top >= 0 && box.top < innerHeight && document.activeElement.getAttribute("aria-label") === "Accepted")(document.querySelector("[aria-label=Accepted]").getBoundingClientRect())`)

	p.size(1280, 800)
	p.goTo("/pricing/13")
	p.until(`document.querySelector(".pricing_made-work")`)
	p.click("link", "Baseline survey and datum, Repeat bathymetry and 4 more")
	p.until(`document.querySelector("[aria-label='Plan of bills'] tbody tr")`)
	rows := js[[]string](p, `[...document.querySelectorAll("[aria-label='Plan of bills'] tbody tr")].map(r => r.innerText.split("\t").map(c => c.trim()).join("|"))`)
	if len(rows) != 19 || rows[0] != "1 Dec 2026|Deposit: Baseline survey and datum||4,200.00" ||
		!slices.Contains(rows, "28 Feb 2027|Repeat bathymetry|1 Dec 2026 to 28 Feb 2027|6,000.00") ||
		!slices.Contains(rows, "when the baseline is delivered|Baseline survey and datum||8,400.00") ||
		!slices.Contains(rows, "priced when billed|Claim support||when billed") {
		t.Errorf("the plan has %d rows:\n%s", len(rows), strings.Join(rows, "\n"))
	}
}

// What can't be understood stays where it was typed, with the reason, and
// nothing of the rest is lost.
func TestWhatIsRefusedInTheGridStaysAndSaysWhy(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/pricing/11")
	p.until(`document.querySelector(".tiers_total-strong")`)
	p.focus("field", "When Repeat bathymetry is billed")
	p.still()
	p.press("each full moon\t")
	p.until(`document.querySelector(".tiers_field-fault")?.innerText.includes("“each full moon” is not understood")`)
	if kept := js[string](p, `document.querySelector("[aria-label='When Repeat bathymetry is billed']").value`); kept != "each full moon" {
		t.Errorf("it reads %q", kept)
	}
	p.focus("field", "When Repeat bathymetry is billed")
	p.still()
	p.press("monthly, in arrears\t")
	p.saved()
	p.until(`document.querySelector("[aria-label='When Repeat bathymetry is billed']").value === "each month, in arrears"`)
	p.until(`document.querySelector(".tiers_total-strong").innerText.includes("80,400.00")`) // 8,400 + 12 × 6,000
	p.focus("field", "Repeat bathymetry in Core")
	p.alt(kb.ArrowUp)
	p.until(`document.querySelector("tr[data-line='0'] .tiers_service-name input").value === "Repeat bathymetry"`)
	p.saved()

	// Dragged down by the mouse it is the second again.
	js[bool](p, `(() => { const data = new DataTransfer(), to = document.querySelector("tr[data-line='1']");
		document.querySelector("tr[data-line='0'] .tiers_grip").dispatchEvent(new DragEvent("dragstart", { bubbles: true, dataTransfer: data }));
		return new Promise(done => requestAnimationFrame(() => { to.dispatchEvent(new DragEvent("dragover", { bubbles: true, cancelable: true, dataTransfer: data }));
			to.dispatchEvent(new DragEvent("drop", { bubbles: true, dataTransfer: data })); done(true) })) })() && true`)
	p.until(`document.querySelector("tr[data-line='1'] .tiers_service-name input").value === "Repeat bathymetry"`)
	p.saved()

	// What is taken out can be put back.
	p.focus("field", "Silt forecast model in Core")
	p.ctrl(kb.Delete)
	p.reads("Took out Silt forecast model.")
	p.until(`!document.querySelector("[aria-label='Silt forecast model in Core']")`)
	p.saved()
	p.click("button", "Undo")
	p.until(`document.querySelector("[aria-label='Silt forecast model in Core']").value === "optional 780.00"`)
	p.saved()

	// What may be added becomes part of it from the menu of its cell, and back, with its price.
	for _, turn := range [][2]string{{"In it", "780.00"}, {"Optional: the client may add it", "optional 780.00"}} {
		p.click("button", "More for Silt forecast model in Core")
		p.until(`[...document.querySelectorAll(".ant-dropdown-menu-item")].some(e => e.innerText === %v && e.checkVisibility())`, turn[0])
		p.clickOn(`[...document.querySelectorAll(".ant-dropdown-menu-item")].find(e => e.innerText === %v && e.checkVisibility())`, turn[0])
		p.until(`document.querySelector("[aria-label='Silt forecast model in Core']").value === %v`, turn[1])
		p.saved()
	}
}

// A client declines, and the link of a proposal that is over says so.
func TestTheClientsPageSaysWhatCanNotBeAnsweredAnyMore(t *testing.T) {
	p := open(t)
	p.goTo("/proposal#" + p.mailed(`“Spat survey”[^#]+#(\S+)`))
	p.reads("This proposal can't be accepted, because its last day is over")
	if js[bool](p, `[...document.querySelectorAll("button")].some(b => b.innerText === "Accept and sign")`) {
		t.Error("it can still be accepted")
	}
	p.goTo("/proposal#" + p.mailed(`“Shoreline watch”[^#]+#(\S+)`))
	p.click("button", "Decline")
	p.focus("field", "Why not?")
	p.press("Next year")
	p.click("button", "Decline this proposal")
	p.reads("You declined this proposal on 1 Dec 2026")
	p.goTo("/proposal#nothing-of-the-kind-at-all")
	p.reads("This link does not work any more")
}

// A client answers the questionnaire once; an answer fills what was empty, and is offered
// to a field that says something else.
func TestAnswersOfAQuestionnaireAreOfferedToTheClientsFields(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/clients/34")
	p.click("button", "Send one")
	p.focus("field", "Their mail")
	p.press("office@fathom.example")
	p.click("button", "Mail the questions")
	p.until(`document.querySelector("[aria-label=Questionnaires]").innerText.includes("not answered yet")`)
	link := p.mailed(`/questions#(\S+)`)
	p.goTo("/questions#" + link)
	p.focus("field", "Your full legal name")
	p.press("Fathom Works Ltd")
	p.focus("field", "Registered address")
	p.press("Slip 4, Varray")
	p.click("button", "Send the answers")
	p.reads("your answers have arrived")
	if js[bool](p, `document.body.innerText.includes("Slip 4")`) {
		t.Error("the link reads back what was written")
	}
	p.goTo("/clients/34")
	p.reads("stands in registered address") // nothing stood there
	p.click("button", "Take as name on invoices")
	p.reads("stands in name on invoices")
}

// An acceptance on paper is recorded with its evidence; a new proposal is made
// from the old one, and shows the prices that the catalogue has changed.
func TestAnAcceptanceOnPaperAndANewProposalFromAnOldOne(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/pricing/12")
	p.until(`document.querySelector(".tiers_total-strong")`)
	p.focus("field", "Add a service")
	p.press("Chart, printed\r")
	p.active("When Chart, printed is billed")
	p.saved()
	p.until(`document.querySelector("[aria-label='Chart, printed in Proposal']").value === "120.00"`)
	p.click("button", "Record acceptance")
	p.focus("field", "Who accepted")
	p.press("F. Skerry")
	p.click("button", "Record that P12 was accepted")
	p.reads("How is it known?")
	p.focus("field", "How it is known")
	p.press("Letter of 30 Nov")
	p.click("button", "Record that P12 was accepted")
	p.until(`document.querySelector(".pricing_settled-box")?.innerText.includes("recorded by Maren Oduya: Letter of 30 Nov")`)
	p.until(`document.querySelector(".sentence_sentence b")`) // it can't be typed into any more
	if js[int](p, `document.querySelectorAll(".tiers_tiers input").length`) != 0 {
		t.Error("what was agreed can be typed over")
	}

	p.goTo("/set-up/services?open=9")
	p.set("Default price", "135")
	p.until(value+`.innerText === "135.00"`, "Default price")
	p.goTo("/pricing/12")
	p.click("button", "New from this")
	p.click("button", "Make it")
	p.until(`document.querySelector(".desk_folio .table_plain")?.innerText.replaceAll("\t", " ") === "Chart, printed 120.00 135.00"`)
	p.click("button", "Open it")
	p.until(`document.querySelector(".desk_over").innerText.includes("P13 · draft")`)
	p.until(`document.querySelector("[aria-label='Chart, printed in Proposal']").value === "135.00"`)
}

// An owner reads and changes nothing; a lead sees their own, prices it, and never
// what people of others cost.
func TestWhoMayPrice(t *testing.T) {
	p := open(t)
	p.enter("owner")
	p.goTo("/pricing/11")
	p.until(`document.querySelector(".offer_offer-figures") && document.querySelector(".tiers_total-strong")`)
	if js[bool](p, `document.querySelectorAll(".tiers_tiers input").length > 0 || [...document.querySelectorAll(".tally_tally button:not([data-explain])")].length > 0`) {
		t.Error("an owner can change a proposal")
	}
	p.goTo("/account")
	p.click("button", "AV")
	p.until(`document.querySelector(".ant-dropdown-menu")`)
	p.clickOn(`[...document.querySelectorAll(".ant-dropdown-menu-item")].find(e => e.innerText === "Sign out")`)
	p.until(`location.pathname === "/sign-in"`)
	p.enter("lead")
	p.goTo("/pricing?show=all")
	p.until(`document.querySelectorAll(".table_grid tbody tr").length > 2`)
	leads := js[[]string](p, `[...new Set([...document.querySelectorAll(".table_grid tbody tr")].map(r => r.cells[2].innerText))]`)
	if len(leads) != 1 || leads[0] != "Ines Okafor" {
		t.Errorf("a lead sees the proposals of %v", leads)
	}
	p.goTo("/pricing/9") // Callum's
	p.reads("There is no such proposal")
}
