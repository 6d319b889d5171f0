package e2e

import "testing"

// Who pay an engagement together are named on its page; what is billed of it is divided
// before it is issued, and each payer's draft says what it is.
func TestAnEngagementIsDividedAmongItsPayers(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/engagements/1")
	p.reads("pays it alone.")
	p.click("button", "Let several pay")
	p.choose("Who pays", "Ennisfarne Harbour Commission")
	p.typeIn("Share", "2\r")
	p.until(`document.querySelector("[aria-label='Who pays'] tbody tr")`)
	p.choose("Who pays", "Port of Calderwick")
	p.typeIn("Share", "1\r")
	p.until(`document.querySelectorAll("[aria-label='Who pays'] tbody tr").length === 2`)
	p.click("button", "A draft with everything")
	p.until(`location.pathname.startsWith("/billing/")`)
	p.reads("Not divided among its payers")
	p.click("button", "Divide it")
	p.reads("one payer's share")
}

// On which invoice each engagement of a client stands, and what of it is left unbilled, is
// chosen where it is seen.
func TestWhatStandsOnWhichInvoiceIsAChoiceInSight(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/wip?client=0")
	p.until(`[...document.querySelectorAll("tbody tr")].find(r => r.innerText.includes("one invoice for 3"))`)
	p.clickOn(`[...document.querySelectorAll("tbody tr")].find(r => r.innerText.includes("one invoice for 3")).querySelector("input")`)
	p.until(`[...document.querySelectorAll("tbody button")].filter(b => b.innerText === "with the others").length === 3`)
	p.clickOn(`[...document.querySelectorAll("tbody button")].find(b => b.innerText === "with the others")`)
	p.reads("one invoice for 2, 1 by itself")
	p.clickOn(`document.querySelector("button[title^='Leave the time']")`)
	p.until(`document.querySelector("button[title^='Take the time']")`)
	p.reads("left, stays")
}
