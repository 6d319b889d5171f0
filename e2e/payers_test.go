package e2e

import "testing"

// Who pay an engagement together are named on its page; what is billed of it is divided
// before it is issued, and each payer's draft says what it is.
func TestAnEngagementIsDividedAmongItsPayers(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
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
