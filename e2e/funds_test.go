package e2e

import "testing"

// Where money that is held goes is asked, shown before, and taken back in one act.
func TestHeldMoneyIsAppliedAsItIsChosen(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?show=funds")
	p.until(`document.querySelector("[aria-label='Money held'] tbody tr")`)
	p.click("button", "Apply it for one client")
	p.until(`document.querySelector("[aria-label='Put on SC1004']")?.value === "1500.00"`)
	p.typeIn("Put on SC1004", "1000")
	p.click("button", "Put it on 1 invoice")
	p.reads("on SC1004. Transfers to make")
	p.until(`[...document.querySelectorAll("[aria-label='Money held'] tbody tr")].some(r => r.innerText.includes("Orrin") && r.innerText.includes("\t500.00"))`)
	p.click("button", "Take it back")
	p.until(`[...document.querySelectorAll("[aria-label='Money held'] tbody tr")].some(r => r.innerText.includes("Orrin") && r.innerText.includes("1,500.00"))`)
}

// Instalments are typed in a table beside their short line, and kept under a name.
func TestInstalmentsAreATable(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/billing/261?pane=payment")
	p.until(`document.querySelector("[aria-label=Instalments]")`)
	p.click("button", "Add an instalment")
	p.until(`document.querySelectorAll("[aria-label=Instalments] tbody tr").length === 2`)
	p.typeIn("How much, 1", "500\r")
	p.until(`document.querySelector("[aria-label='Paid in instalments']").value === "500 issue; rest monthly"`)
	p.typeIn("When, 2", "30d\r")
	p.until(`document.querySelector("[aria-label=Instalments]").innerText.includes("31 Dec 2026")`)
	p.click("button", "Keep it as a schedule")
	p.typeIn("Name of the schedule", "Five hundred first\r")
	p.reads("it can be chosen on every invoice")
}
