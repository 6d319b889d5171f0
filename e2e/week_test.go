package e2e

import (
	"strings"
	"testing"
)

// cell is the JavaScript for the input of a cell, by row and column from 0.
const cell = `document.querySelector('[data-cell="' + %v + '"]')`

func (p *page) week() {
	p.Helper()
	p.until(`document.querySelectorAll(".week_week tbody tr").length > 3`)
}

func TestTimeIsValuedWhileItIsTyped(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/time?person=3")
	p.week()
	before := p.text(".week_week tfoot td:nth-last-child(2)")

	p.clickOn(cell, "3:2") // Wednesday, today is Tuesday
	p.press("1:30")
	p.until(`document.querySelector("[data-testid=live-worth]").innerText.includes("1.5\u202fh × 134.50")`)
	p.press("\r")
	p.until(cell+`.value === "1.5"`, "3:2")
	p.until(`document.querySelector(".week_week tfoot td:nth-last-child(2)").innerText !== %v`, before)
	if got := js[string](p, `document.querySelectorAll(".week_week tbody tr")[3].innerText`); !strings.Contains(got, "551.45") {
		t.Errorf("349.70 and 1.5 h × 134.50 = 201.75 make 551.45, the row reads %q", got)
	}

	for typed, minutes := range map[string]string{"1.5": "1.5", "90m": "1.5", "0:20": "0.33"} {
		p.clickOn(cell, "4:3")
		p.press(typed + "\r")
		p.until(cell+`.value === %v && !document.body.innerText.includes("not saved")`, "4:3", minutes)
	}
}

func TestWrongInputGetsASentenceAndStays(t *testing.T) {
	p := open(t)
	p.signIn("staff")
	p.week()
	p.clickOn(cell, "0:2")
	p.press("soon\r")
	p.reads(`"soon" is not a time: type hours and minutes like 1:30, hours like 1.5, or minutes like 90m.`)
	p.clickOn(cell, "5:4")
	p.until(cell+`.value === "soon" && `+cell+`.getAttribute("aria-invalid") === "true"`, "0:2", "0:2")
	p.clickOn(cell, "0:2")
	p.press("45m\r")
	p.until(cell+`.value === "0.75" && !document.querySelector("[aria-invalid=true]")`, "0:2")
}

func TestTextTreatmentAndHistoryOfAnEntry(t *testing.T) {
	p := open(t)
	p.signIn("staff")
	p.week()
	p.clickOn(cell, "5:3")
	p.press("2")
	p.focus("field", "Text on the invoice")
	p.press("Levels to datum")
	p.clickOn(`document.querySelector("#entry-treatment").closest(".ant-select")`)
	p.click("option", "no charge")
	p.until(`document.querySelector("[data-testid=live-worth]").innerText.includes("2.0\u202fh worked, 2.0\u202fh billed")`)
	p.click("button", "Save this entry")
	p.until(`[...document.querySelectorAll(".week_week tbody tr")].some(r => r.innerText.includes("no charge") && [...r.querySelectorAll("input")].some(i => i.value === "2.0"))`)
	p.until(`document.querySelector(".desk_folio .history_history").innerText.includes("Recorded 2.0\u202fh on 3 Dec 2026")`)

	p.focus("field", "Worked")
	js[bool](p, "(document.activeElement.select(), true)")
	p.press("2:10\r")
	p.until(`document.querySelector(".desk_folio .history_history").innerText.includes("Changed to 2.17\u202fh on 3 Dec 2026")`)
	if change := p.text(".desk_folio .history_history li"); !strings.Contains(change, "worked: 2.0\u202fh → 2.17\u202fh") {
		t.Errorf("the history does not say what became what: %q", change)
	}
	if who := p.text(".desk_folio .history_history li .soft:last-child"); !strings.HasPrefix(who, "Tomas Brandt") {
		t.Errorf("the history says it was %s", who)
	}
	p.click("button", "Remove this entry")
	p.reads("Removed 2.17\u202fh of 3 Dec 2026.")
	p.click("button", "Undo")
	p.until(`[...document.querySelectorAll(".week_week tbody input")].some(i => i.value === "2.17")`)
}

func TestARowIsAddedAndTyped(t *testing.T) {
	p := open(t)
	p.signIn("staff")
	p.week()
	p.click("button", "Add a row")
	p.press("managed")
	p.click("option", "Saltmere Wetland Trust › Managed retreat options")
	p.clickOn(`document.querySelector("[aria-label=Service]").closest(".ant-select")`)
	p.click("option", "Advice")
	p.click("button", "Add the row")
	p.until(`document.activeElement.getAttribute("aria-label") === "Managed retreat options, Advice, yes, Tuesday 1 December"`)
	p.press("0.7\r")
	p.until(`document.querySelector(".tally_tally").innerText.includes("8.3\u202fh")`)
}

func TestStaffSeeTheirOwnTimeAlone(t *testing.T) {
	p := look(t)
	p.signIn("staff")
	p.week()
	if rail := p.text(".rail_rail-stages"); strings.Contains(rail, "Billing") || strings.Contains(rail, "Receivables") {
		t.Errorf("staff see %q", rail)
	}
	p.goTo("/time?person=2")
	p.reads("This is somebody else's week. You see your own.")
	p.goTo("/wip")
	p.reads("This is not among what your role may do. Ask a billing administrator.")
}
