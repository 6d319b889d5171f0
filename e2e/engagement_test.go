package e2e

import (
	"testing"

	"github.com/chromedp/chromedp/kb"
)

// The page of an engagement shows what belongs to it and begins what comes next; the
// budgets of its phases stand in one row each, and their sum becomes its own.
func TestThePageOfAnEngagementHasWhatBelongsToIt(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/engagements/1")
	for _, section := range []string{"Phases and tasks", "Invoices", "Time", "Expenses"} {
		p.until(`document.querySelector("[aria-label=" + JSON.stringify(%v) + "] tbody tr")`, section)
	}
	p.clickOn(`document.querySelector("[aria-label^='hours of Field work']")`)
	p.press("40\r")
	p.until(`document.querySelector("[aria-label='hours of Field work: 40.0']")`)
	p.clickOn(`document.querySelector("[aria-label^='hours of Report']")`)
	p.press("60\r\t") // left while it is saved: one budget all the same
	p.until(`document.querySelector("[aria-label='hours of Report: 60.0']")`)
	p.still()
	if n := js[int](p, `[...document.querySelectorAll("[aria-label=Budgets] tbody tr")].filter(r => r.innerText.includes("Report")).length`); n != 1 {
		t.Errorf("%d budgets of the report", n)
	}
	p.reads("of 340.0 for all")
	p.clickOn(`document.querySelector("[aria-label='Phases and tasks'] tfoot button")`)
	p.until(`document.querySelector("[aria-label=Budgets] tbody tr").innerText.includes("100.0")`)

	// The form of a new phase stays, and repeats the last under another name.
	p.click("button", "Add a phase")
	p.typeIn("Name", "Second survey\r")
	p.reads("Made “Second survey”")
	p.until(`document.activeElement.id.endsWith("name") && document.activeElement.value === ""`)
	p.press(kb.ArrowUp)
	p.until(`document.activeElement.value === "Second survey"`)
	p.press("Third survey\r")
	p.until(`[...document.querySelectorAll("[aria-label='Phases and tasks'] tbody tr")].filter(r => r.innerText.includes("survey")).length === 2`)

	p.click("button", "Begin")
	p.until(`document.querySelector(".ant-dropdown-menu-item")`)
	p.clickOn(`[...document.querySelectorAll(".ant-dropdown-menu-item")].find(i => i.innerText === "Record time on it")`)
	p.until(`location.pathname === "/time" && document.querySelector("main").innerText.includes("Breakwater scour survey")`)
}
