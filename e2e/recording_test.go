package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
)

const tab = "\t"

// typeIn types into a field that is open, over what is there.
func (p *page) typeIn(label, text string) {
	p.Helper()
	p.focus("field", label)
	js[bool](p, "(document.activeElement.select(), true)")
	p.press(text)
}

// A week from nothing to submitted, without the mouse.
func TestAWeekIsTypedByKeyboardAlone(t *testing.T) {
	p := open(t)
	p.enter("staff")
	p.goTo("/time?week=2026-12-07&rows=used") // with no rows yet
	p.until(`document.querySelector(".week_add-row")`)
	for _, row := range []struct{ engagement, service string }{{"Breakwater scour survey", "Field survey"},
		{"Berth 4 monitoring", "Data processing"}} {
		tabTo(p, `document.activeElement.innerText.startsWith("Add a row")`)
		p.press(" ")
		p.until(`document.activeElement.getAttribute("aria-label") === "Engagement"`)
		p.press(row.engagement)
		p.until(`[...document.querySelectorAll(".ant-select-item-option")].filter(e => e.checkVisibility()).length === 1`)
		p.press("\r")
		tabTo(p, `document.activeElement.getAttribute("aria-label") === "Service"`)
		p.press(row.service)
		p.until(`[...document.querySelectorAll(".ant-select-item-option-active")].some(e => e.checkVisibility() && e.innerText === %v)`,
			row.service)
		p.press("\r")
		tabTo(p, `document.activeElement.innerText === "Add the row"`)
		p.press(" ")
		p.until(`document.activeElement.getAttribute("aria-label")?.startsWith(%v)`, row.engagement)
	}
	js[bool](p, `(document.querySelector('[data-cell="0:0"]').focus(), true)`)
	for _, typed := range []string{"7.5", "7:30", "450m", "4", "3.5"} {
		p.press(typed + tab)
	}
	p.until(`[0, 1, 2, 3, 4].every(c => document.querySelector('[data-cell="0:' + c + '"]').value !== "") && !document.body.innerText.includes("not saved")`)
	js[bool](p, `(document.querySelector('[data-cell="1:3"]').focus(), true)`)
	p.press("3.6" + tab + "4.1\r")
	p.until(`document.querySelector(".tally_tally").innerText.includes("37.7\u202fh")`)
	p.until(`!document.body.innerText.includes("not saved")`)

	js[bool](p, `(document.querySelector('[data-cell="1:3"]').focus(), true)`)
	p.press(kb.F2)
	p.until(`document.activeElement.id === "entry-text"`)
	p.press("Tilt sensors, week 50\r")
	p.until(`document.querySelector(".desk_folio .history_history").innerText.includes("Changed to 3.6\u202fh")`)
	tabTo(p, `document.activeElement.innerText === "Submit the week"`)
	p.press(" ")
	p.reads("Submitted, waits for approval.")
	p.until(`document.querySelector('[data-cell="0:0"]').readOnly`)
}

func TestATimerGoesOnAcrossARestartOfTheServer(t *testing.T) {
	p := open(t)
	p.signIn("staff")
	p.week()
	running := `(document.querySelector(".recording_timer.running")?.innerText ?? "")`
	p.until(running + `.includes("Side-scan mosaic")`)
	p.click("button", "Go on with Berth 4 monitoring")
	p.until(running + `.includes("Difference chart") && document.querySelectorAll(".recording_timer:not(.recording_timer-new)").length === 2`)
	p.until(`[...document.querySelectorAll(".recording_timer")].some(e => e.innerText.includes("Side-scan") && e.innerText.includes("waiting"))`)
	p.restart()
	p.goTo("/time")
	p.week()
	p.until(running + `.includes("Difference chart") && ` + running + `.includes("1:15")`)
	p.click("button", "Stop Breakwater scour survey")
	p.until(`document.querySelectorAll(".recording_timer:not(.recording_timer-new)").length === 1`)
	// What it had counted before it waited, 42 minutes and those since the demo was made, is time of the week now: of
	// today, or of yesterday too, if it is shortly after midnight.
	p.until(`parseFloat(document.querySelector(".tally_tally .tally_sum dd").innerText) >= 8.2`)
	js[bool](p, `(document.activeElement.blur(), true)`)
	p.press("t")
	p.until(`document.querySelector(".recording_timer-form")`)
	p.focus("field", "What the timer is for")
	p.press("A call\r")
	p.until(running + `.includes("A call") && ` + running + `.includes("0:00")`)
}

func TestAPurchaseIsSplitThreeWays(t *testing.T) {
	p := open(t)
	p.enter("staff")
	p.goTo("/time/expenses")
	p.click("button", "Record an expense")
	p.choose("Category", "Materials")
	p.typeIn("Amount, with tax", "307.50")
	p.typeIn("Tax in it", "57.50")
	p.typeIn("Text on the invoice", "Chart paper")
	p.choose("Engagement of share 1", "Ennisfarne Harbour Commission › Breakwater scour survey")
	p.typeIn("Amount of share 1", "80")
	p.click("button", "Another share, of 170.00")
	p.choose("Engagement of share 2", "Port of Calderwick › Berth 4 monitoring")
	p.typeIn("Amount of share 2", "65")
	p.click("button", "Another share, of 105.00")
	p.choose("Engagement of share 3", "Halvick Ferries › Wake wash review")
	p.typeIn("Amount of share 3", "100")
	p.until(`document.querySelector(".tally_tally").innerText.includes("5.00\nleft over")`)
	p.click("button", "Save 3 shares of 250.00")
	p.reads("5.00 of 250.00 is not shared out yet: add a share, or raise one.")
	p.typeIn("Amount of share 3", "\b")
	p.until(`document.querySelector(".tally_tally").innerText.includes("0.00\nleft over")`)
	picture := filepath.Join(t.TempDir(), "receipt.pdf")
	if err := os.WriteFile(picture, []byte(onePage), 0o600); err != nil {
		t.Fatal(err)
	}
	p.upload(picture)
	p.until(`document.querySelector(".recording_receipt canvas")?.width > 100`)
	p.click("button", "Save 3 shares of 250.00")
	p.until(`[...document.querySelectorAll(".list_list tbody tr")].filter(r => r.innerText.includes("Chart paper")).length === 3`)
	p.clickOn(`[...document.querySelectorAll(".list_list tbody tr")].find(r => r.innerText.includes("Wake wash") && r.innerText.includes("Chart paper")).cells[2]`)
	p.until(`document.querySelector(".desk_folio h2").innerText === "Chart paper" && document.querySelector(".desk_folio .table_plain").innerText.includes("105.00")`)
	p.until(`document.querySelector(".recording_receipt canvas")?.width > 100`)
}

// onePage is a PDF with one line of text, written by hand after ISO 32000.
const onePage = "%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj\n2 0 obj<</Type/Pages/Kids[3 0 R]/Count 1>>endobj\n" +
	"3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 300 200]/Contents 4 0 R>>endobj\n4 0 obj<</Length 32>>stream\n0 0 1 " +
	"rg 20 20 100 60 re " +
	"f       \nendstream endobj\n" +
	"xref\n0 5\n0000000000 65535 f \n0000000009 00000 n \n0000000052 00000 n \n0000000101 00000 n \n0000000176 00000 n \ntrailer<</Size " +
	"5/Root 1 0 R>>\nstartxref\n255\n%%EOF\n"

func TestAWeekIsSentBackAndApproved(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/time/people?week=2026-11-23")
	p.until(`document.querySelectorAll(".people-weeks tbody tr").length > 10`)
	p.click("link", "Tomas Brandt")
	p.reads("Submitted, waits for approval.")
	p.click("button", "Send back")
	p.focus("field", "What is to be changed")
	p.press("Wednesday lacks its text.")
	p.click("button", "Send the week back")
	p.reads("Sent back. Wednesday lacks its text.")
	p.goTo("/time/people?week=2026-11-23")
	p.until(`document.querySelectorAll(".people-weeks tbody tr").length > 10`)
	p.clickOn(`[...document.querySelectorAll(".people-weeks tbody tr")].find(r => r.innerText.includes("Edda Falk")).cells[8]`)
	p.click("button", "Approve the week")
	p.until(`[...document.querySelectorAll(".people-weeks tbody tr")].find(r => r.innerText.includes("Edda Falk")).innerText.includes("approved")`)
	p.clickOn(`[...document.querySelectorAll(".people-weeks tbody tr")].find(r => r.innerText.includes("Mila Silva")).cells[8]`)
	p.click("button", "Remind of missing time")
	p.until(`document.querySelector(".desk_folio").innerText.includes("Reminded Mila Silva of 6.4\u202fh")`)
	if week := p.mailed(`6:24\x{202f}h are missing in week 48[^?]*\?week=(\S+)`); !strings.HasPrefix(week, "2026-11-23") {
		t.Errorf("the mail leads to %s", week)
	}
}

func TestManyEntriesAreChangedAndThatIsUndone(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/time/list?states=unbilled")
	p.until(`document.querySelectorAll(".list_list tbody tr").length > 25`)
	before := p.text(".tally_tally .tally_sums")
	p.clickOn(`document.querySelector("[aria-label=Clients]").closest(".ant-select")`)
	p.press("Saltmere")
	p.click("option", "Saltmere Wetland Trust")
	p.until(`document.querySelector(".tally_tally .tally_sums").innerText !== %v && document.querySelectorAll(".list_list tbody tr[data-row]").length > 3 && [...document.querySelectorAll(".list_list tbody tr[data-row]")].every(r => r.cells[3].innerText.includes("Managed retreat"))`, before)
	p.press("\x1b")
	total := p.text(".tally_tally .tally_sum dd")
	value := p.text(".tally_tally .tally_sum:nth-child(3) dd")
	p.clickOn(`document.querySelector(".list_list thead .ant-checkbox-input")`)
	p.reads(total + " entries")
	p.choose("How they are billed", "not billable")
	p.until(`document.querySelector("[aria-label='Before and after']")?.innerText.includes(%v)`, value)
	p.click("button", "Change "+total+" entries")
	p.reads("Changed " + total + " entries.")
	p.reads("No entries here.") // of those that are unbilled
	p.click("button", "Undo")
	p.until(`document.querySelector(".tally_tally .tally_sum dd").innerText === %v && document.querySelector(".tally_tally .tally_sum:nth-child(3) dd").innerText === %v`, total, value)
}

func TestFromSumsToTheEntryToItsWeekToItsInvoiceAndBack(t *testing.T) {
	p := look(t)
	p.enter("administrator")
	p.goTo("/time/list?by=client")
	p.until(`document.querySelectorAll(".list_groups tbody tr").length > 10`)
	p.clickOn(`[...document.querySelectorAll(".list_groups tbody tr")].find(r => r.innerText.startsWith("Oyster bed siting")).cells[7].querySelector("button")`)
	p.until(`document.querySelectorAll(".list_list tbody tr[data-row]").length > 3 && [...document.querySelectorAll(".list_list tbody tr[data-row]")].every(r => r.cells[9].innerText.startsWith("on SC"))`)
	p.clickOn(`document.querySelector(".list_list tbody tr[data-row]").cells[5].querySelector("a")`)
	p.until(`document.querySelector(".desk_folio").innerText.includes("Locked. Billed on SC")`)
	p.click("link", "Open it")
	p.until(`document.querySelector("[aria-label=Entries]")`)
	p.clickOn(`document.querySelector("[aria-label=Entries] tbody a")`)
	p.until(`document.querySelector(".desk_folio").innerText.includes("Locked. Billed on SC")`)
}

func TestTimeIsRecordedOnAPhone(t *testing.T) {
	p := open(t)
	p.size(360, 740)
	p.signIn("staff")
	p.until(`document.querySelector(".phone_phone-day li")`)
	p.clickOn(`document.querySelector(".phone_phone-day li .recording_chip")`)
	p.until(`document.querySelector(".phone_phone-entry #entry-worked")`)
	p.typeIn("Worked", "1:30")
	p.typeIn("Text on the invoice", "From the boat")
	p.click("button", "Save")
	p.until(`[...document.querySelectorAll(".phone_phone-day .recording_chip")].some(e => e.innerText.startsWith("1.5\u202fh"))`)
	p.until(`document.documentElement.scrollWidth <= 360`)
	p.click("button", "Day before")
	p.until(`document.querySelector("h1").innerText === "Monday 30 November" && document.querySelectorAll(".phone_phone-entries .recording_chip").length > document.querySelectorAll(".phone_phone-day li").length`)
	p.clickOn(`[...document.querySelectorAll(".phone_phone-entries .recording_chip")].find(e => e.innerText.includes("\u202fh"))`)
	p.until(`document.querySelector(".phone_phone-entry #entry-worked").value !== ""`)
	p.until(`document.documentElement.scrollWidth <= 360`)
}

func TestTimeIsReadFromAFile(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/set-up/import?kind=time")
	p.reads("Billed as")
	file := filepath.Join(t.TempDir(), "time.csv")
	table := "Date,Person,Engagement,Service,Worked,Text\n2026-12-01,TB,E001,S01,1:30,Read from a file\n2026-12-01,Bram Solheim,Berth 4 " +
		"monitoring,Advice,soon,Wrong\n"
	if err := os.WriteFile(file, []byte(table), 0o600); err != nil {
		t.Fatal(err)
	}
	p.upload(file)
	p.reads(`"soon" is not a time`)
	if err := os.WriteFile(file, []byte(strings.Replace(table, "soon", "2h", 1)), 0o600); err != nil {
		t.Fatal(err)
	}
	p.upload(file)
	p.click("button", "Take 2 rows")
	p.reads("Took 2 time entries.")
	p.click("link", "See them")
	p.until(`[...document.querySelectorAll(".list_list tbody tr[data-row]")].some(r => r.innerText.includes("Read from a file") && r.innerText.includes("201.75"))`)
}
