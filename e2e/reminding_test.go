package e2e

import "testing"

// The letters of the day are read first and go in one job, but for what a person sends; a client is left alone, and said to be.
func TestRemindersOfTheDayGoInOneGo(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?show=reminders")
	p.until(`document.activeElement.getAttribute("aria-label") === "Reminders"`)
	p.reads("of them for a person to send")
	p.click("button", "Read the letter")
	p.reads("Dear Orla Finnick")
	p.click("button", "Leave them alone")
	p.until(`document.activeElement.closest("form")`)
	p.press("They are being merged\r")
	p.reads("17\nletters due today")
	p.click("button", "Send 8 reminders")
	p.reads("8 reminders are on the way.")
	p.reads("9\nletters due today")
	p.choose("Which", "that do not go, and why")
	p.reads("They are being merged")
	p.reads("reminded today")
	p.click("button", "Go on reminding")
	p.until(`!document.body.innerText.includes("left alone: They are being merged")`)
}

// What came of a call is kept by two keys, or by one where nobody was reached.
func TestCallsAreKeptByTwoKeys(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?show=calls")
	row := `document.querySelector(".list_list tbody tr.current th").innerText`
	p.until(row + `.startsWith("Stennet Sound Pilots")`)
	p.until(`document.activeElement.getAttribute("aria-label") === "Whom to call"`)
	p.press("n")
	p.until(`document.querySelector(".list_list tbody tr.current").innerText.includes("not reached")`)
	p.press("p")
	p.until(`document.activeElement.closest("form")`)
	p.press("\r")
	p.until("!" + row + `.startsWith("Stennet Sound Pilots")`) // who has promised is not called
	p.reads("18\nclients")
	p.goTo("/clients/15")
	p.reads("Called Agnes Coyle: they promised to pay on 8 Dec 2026")
}

// Statements go to those who are chosen, and what is owed leaves as a table, as of the day that is looked at.
func TestStatementsGoToThoseWhoAreChosen(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?on=2026-11-15")
	p.until(`document.querySelector("a[href*='receivables/export']").href.includes("on=2026-11-15")`)
	p.until(`!document.querySelector(".owed .ant-checkbox-input")`) // of an earlier day nothing goes out
	p.goTo("/receivables")
	p.until(`document.activeElement.getAttribute("aria-label") === "What is owed" && document.querySelector(".owed tbody tr.current")`)
	p.press("xjx")
	p.click("button", "Send 2 statements")
	p.reads("statements are on the way.")
}
