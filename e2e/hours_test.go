package e2e

import "testing"

// What a person chooses holds for what pages make, for sentences of the server, and for what is typed again.
func TestEverybodyReadsHoursInTheirOwnForm(t *testing.T) {
	const cells = `[...document.querySelectorAll("[data-cell]")].map(c => c.value).filter(v => v !== "")`
	const rail = `document.querySelector("[data-testid=rail-time] b").innerText`
	p := open(t)
	p.enter("administrator")
	p.goTo("/account")
	p.choose("How you read hours", "4:12")
	p.until(rail + `.includes(":")`)
	p.goTo("/time?person=3")
	p.week()
	p.until(cells + `.length > 0 && ` + cells + `.every(v => /^[0-9]+:[0-9]{2}$/.test(v))`)
	p.clickOn(cell, "3:2")
	p.press("1.5")
	p.until(`document.querySelector("[data-testid=live-worth]").innerText.includes("1:30\u202fh × 134.50")`)
	p.press("\r")
	p.until(cell+`.value === "1:30"`, "3:2")
	p.clickOn(cell, "3:2")
	p.until(`document.querySelector("#entry-worked").value === "1:30"`)
	p.until(`document.querySelector(".desk_folio .history_history").innerText.includes("Recorded 1:30\u202fh")`)

	p.goTo("/account")
	p.choose("How you read hours", "4.2")
	p.until("!" + rail + `.includes(":")`)
	p.goTo("/time?person=3")
	p.week()
	p.until(cell+`.value === "1.5"`, "3:2")
	p.clickOn(cell, "3:2")
	p.until(`document.querySelector(".desk_folio .history_history").innerText.includes("Recorded 1.5\u202fh")`)
}
