package e2e

import "testing"

func TestX(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	p.goTo("/pricing")
	p.until(`document.querySelector(".empty")`)
	p.click("button", "New proposal")
	p.picture("/tmp/x1.png")
	p.focus("field", "or somebody new")
	p.press("New Quay")
	p.click("button", "Begin")
	p.until(`document.querySelector(".add-line input")`)
	p.focus("field", "Add a service")
	p.press("Baseline survey and datum\r")
	p.until(`document.activeElement?.getAttribute("aria-label") === "When Baseline survey and datum is billed"`)
	p.press("half as deposit on acceptance, the rest when the baseline is delivered\t64\t8400\r")
	p.until(`document.querySelector(".total-strong")?.innerText.includes("8,400.00")`)
	p.picture("/tmp/x2.png")
}
