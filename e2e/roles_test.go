package e2e

import (
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

func TestALeadReviewsTheirOwnEngagementsAndBillsNothing(t *testing.T) {
	p := open(t)
	p.signIn("lead")
	p.reads("What can be billed")
	p.until(`document.querySelectorAll(".wip_wip tbody tr").length > 2`)
	list := p.text(".wip_wip tbody")
	for engagement, seen := range map[string]bool{"Breakwater scour survey": true, "Wake wash review": true,
		"Sediment claim support":  false,
		"Managed retreat options": false} {
		if strings.Contains(list, engagement) != seen {
			t.Errorf("%s is seen: %v", engagement, !seen)
		}
	}
	if js[bool](p, `Boolean(document.querySelector(".wip_wip input[type=checkbox]") || [...document.querySelectorAll("button")].some(b => b.innerText.startsWith("Make")))`) {
		t.Error("a lead can make drafts")
	}
	if rail := p.text(".rail_rail-stages"); strings.Contains(rail, "Receivables") {
		t.Errorf("a lead sees %q", rail)
	}
	p.goTo("/billing")
	p.click("button", "Review this draft")
	p.reads("Draft for Orrin Seaweed Farm")
	if js[bool](p, `[...document.querySelectorAll("button")].some(b => /Take out|Issue|Delete/.test(b.innerText)) || document.querySelector("[aria-label=Entries] input") !== null`) {
		t.Error("a lead can change a draft")
	}
	p.goTo("/billing/" + js[string](p, "String(Number(location.pathname.split('/').pop()) - 1)")) // the draft before it, of another lead
	p.reads("There is no such invoice")
}

func TestTheOwnerReadsEverything(t *testing.T) {
	p := look(t)
	p.signIn("owner")
	p.reads("What can be billed")
	p.rail("receivables")
	p.goTo("/billing?show=register")
	p.reads("SC1045")
	p.clickOn(`[...document.querySelectorAll(".table_invoices tbody tr")].find(r => r.innerText.includes("SC1030")).children[1]`)
	p.click("button", "Open SC1030")
	p.reads("Invoice for Quillan Bay Desalination")
	text := p.pdf(js[string](p, "location.pathname.split('/').pop()"))
	for _, want := range []string{"SC1030", "Total USD", "Reverse charge: the recipient accounts for the tax."} {
		if !strings.Contains(text, want) {
			t.Errorf("the document does not say %q", want)
		}
	}
}

// From an entry of a draft to its week, and from there to the draft.
func TestFromADraftToTheWeekAndBack(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.invoice("Brannoch Oyster Growers")
	p.reads("Draft for Brannoch Oyster Growers")
	p.clickOn(`document.querySelector(".review_review [data-row='2'] a")`)
	p.reads("Callum Reyes, week")
	p.until(`document.querySelector(".desk_folio").innerText.includes("Locked. It is on a draft.")`)
	p.until(`document.querySelector(".desk_folio .history_history").innerText.includes("Made 7 drafts of work up to 30 Nov 2026")`)
	p.click("link", "Open it")
	p.reads("Draft for Brannoch Oyster Growers")
}

func TestTheMonthEndFitsASmallScreen(t *testing.T) {
	p := open(t)
	p.size(1024, 768)
	p.signIn("administrator")
	p.reads("What can be billed")
	wide := func(view string) {
		p.Helper()
		p.still()
		if over := js[int](p, "document.documentElement.scrollWidth - document.documentElement.clientWidth"); over > 0 {
			t.Errorf("%s is %d pixels too wide", view, over)
		}
	}
	wide("work in progress")
	p.click("checkbox", "Select Halvick Ferries")
	p.clickOn(`[...document.querySelectorAll(".wip_wip .table_indented")].find(e => e.innerText === "Wake wash review")`)
	p.click("button", "Engagement in detail")
	p.until(`document.querySelector(".desk_folio").checkVisibility() && !document.querySelector(".wip_wip").checkVisibility()`)
	p.press("\x1b")
	p.until(`document.querySelector(".wip_wip").checkVisibility()`)
	p.click("button", "Make 1 draft")
	p.click("link", "Review")
	p.reads("Draft for Halvick Ferries")
	wide("the review")
	p.invoice("Corriehaven Parish")
	p.click("button", "previous draft")
	p.reads("Draft for Brannoch Oyster Growers")
	p.click("button", "next draft")
	p.reads("Draft for Corriehaven Parish")
	p.click("button", "Issue over")
	p.click("button", "Issue SC1047 over")
	p.until(`document.querySelector("[data-testid=document-number]").innerText === "SC1047"`)
	p.size(360, 740)
	p.goTo("/time?person=3")
	p.until(`document.querySelectorAll(".phone_phone-day li").length > 3`)
	wide("the week on a phone")
}

func TestABackupIsMadeWhilePeopleWork(t *testing.T) {
	p := open(t)
	p.signIn("staff")
	p.week()
	archive, restored := filepath.Join(t.TempDir(), "backup.zip"), filepath.Join(t.TempDir(), "restored")
	if out, err := exec.Command(program, "backup", archive, "--data", p.data).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, out)
	}
	p.clickOn(cell, "0:3")
	p.press("1\r")
	p.until(cell+`.value === "1.0"`, "0:3")
	if out, err := exec.Command(program, "restore", archive, "--data", restored).CombinedOutput(); err != nil ||
		!strings.Contains(string(out), "Everything adds up.") {
		t.Fatalf("%v: %s", err, out)
	}
}
