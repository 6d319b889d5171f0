package e2e

import (
	"os"
	"path/filepath"
	"strings"
	"testing"
)

// TestPictures makes the pictures of the documentation, from the demo data:
// DORVET_PICTURES names their folder.
func TestPictures(t *testing.T) {
	folder := os.Getenv("DORVET_PICTURES")
	if folder == "" {
		t.Skip("DORVET_PICTURES names no folder")
	}
	p := open(t)
	shot := func(name string) { p.picture(filepath.Join(folder, name+".png")) }
	p.signIn("administrator")
	p.reads("What can be billed")
	p.click("checkbox", "Select Ennisfarne Harbour Commission")
	p.click("checkbox", "Select Berth 4 monitoring")
	p.clickOn(`[...document.querySelectorAll(".wip_wip .table_indented")].find(e => e.innerText === "Berth 4 monitoring")`)
	p.reads("Make 2 drafts")
	p.until(`document.querySelectorAll(".desk_folio .table_entries tbody tr").length > 3`)
	shot("work-in-progress")

	p.goTo("/wip/board")
	p.until(`document.querySelectorAll(".wip_board li").length > 20`)
	shot("board")

	p.goTo("/pricing")
	p.until(`document.querySelector("[aria-label='Won and lost'] td")`)
	shot("pricing")

	p.goTo("/pricing/11")
	p.until(`document.querySelector(".offer_offer-figures") && document.querySelector(".tiers_total-strong")`)
	p.focus("field", "Storm call-out in Core")
	shot("proposal")

	p.goTo("/clients")
	p.until(`document.querySelectorAll(".table_grid tbody tr").length > 20`)
	shot("clients")

	p.goTo("/clients/1")
	p.until(`document.querySelector(".desk_folio .history_history li") && document.querySelector("[aria-label=Invoices]")`)
	shot("client")

	p.goTo("/engagements/1")
	p.until(`document.querySelector(".desk_folio .history_history li") && document.querySelector("[aria-label='Phases and tasks'] tbody tr")`)
	shot("engagement")

	p.goTo("/set-up")
	p.until(`document.querySelector(".desk_folio .history_history li")`)
	shot("set-up")

	p.goTo("/billing?show=register")
	p.reads("SC1045")
	p.until(`document.querySelector(".history_history li")`)
	shot("register")

	p.goTo("/billing?run=5")
	p.until(`document.querySelectorAll("table.table_invoices tbody tr").length === 7`)
	p.clickOn(`document.querySelectorAll("table.table_invoices tbody .ant-checkbox-input")[1]`)
	p.clickOn(`document.querySelectorAll("table.table_invoices tbody .ant-checkbox-input")[2]`)
	p.clickOn(`document.querySelectorAll("table.table_invoices tbody tr")[0].cells[2]`)
	p.until(`document.querySelector(".desk_folio .history_history li")`)
	shot("billing-run")

	p.invoice("Brannoch Oyster Growers")
	p.until(`document.querySelector(".document_document")`)
	shot("draft-review")

	p.goTo("/receivables")
	p.until(`document.querySelectorAll(".owed tbody tr").length > 5 && document.querySelector(".receivables_open-parts")`)
	shot("receivables")

	p.goTo("/receivables?show=reminders")
	p.until(`document.querySelector(".list_list tbody tr.current") && document.querySelector(".desk_folio .history_history li")`)
	shot("reminders")

	p.goTo("/receivables?show=bank")
	p.reads("that are certain")
	p.press("jj")
	p.still()
	shot("bank")

	p.goTo("/time?week=2026-11-26&person=3")
	p.until(`document.querySelectorAll(".week_week tbody tr").length > 3`)
	js[bool](p, `(document.querySelector('[data-cell="1:1"]').focus(), true)`)
	p.until(`document.querySelector(".desk_folio .history_history")`)
	shot("week")

	p.goTo("/time/list?clients=3&states=unbilled")
	p.until(`document.querySelectorAll(".list_list tbody tr[data-row]").length > 10`)
	p.clickOn(`document.querySelectorAll(".list_list .ant-checkbox-input")[2]`)
	p.clickOn(`document.querySelectorAll(".list_list .ant-checkbox-input")[3]`)
	p.choose("How they are billed", "no charge")
	p.until(`document.querySelector(".recording_before-after li")`)
	shot("entries")

	p.goTo("/letters")
	p.until(`document.querySelectorAll("tbody tr").length > 10`)
	p.clickOn(`[...document.querySelectorAll("tbody tr")].find(r => r.innerText.includes("failed"))`)
	p.until(`document.querySelector(".desk_folio").innerText.includes("Try it again now")`)
	shot("letters")

	p.invoice("SC1025")
	p.click("button", "Make a link to the client's page")
	p.until(`document.querySelector("input[aria-label='The link']")?.value.includes("#")`)
	link := js[string](p, `document.querySelector("input[aria-label='The link']").value`)
	p.size(390, 844)
	p.goTo("/invoice" + link[strings.Index(link, "#"):])
	p.reads("Pay by transfer")
	shot("invoice-page")

	p.goTo("/proposal#" + p.mailed(`“Tide gauge network”[^#]+#(\S+)`))
	p.until(`document.querySelector(".offer_offer-figures")`)
	shot("client-page")
}
