package e2e

import (
	"database/sql"
	"errors"
	"path/filepath"
	"testing"

	_ "github.com/mattn/go-sqlite3"
)

// A line that is held, and one that is taken out, stay rows of the review's table, each
// of their cells under its head.
func TestLinesThatAreLeftOutStayInTheirTable(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/billing/263")
	p.until(`document.querySelectorAll("[aria-label=Entries] .review_left-out").length > 0`)
	held := js[int](p, `document.querySelectorAll("[aria-label=Entries] .review_left-out").length`)
	p.clickOn(`document.querySelector("[aria-label=Entries] [data-line] input[type=checkbox]")`)
	p.until(`document.querySelectorAll("[aria-label=Entries] .review_left-out").length === %v`, held+1)
	broken := js[int](p, `(() => {
		const whole = document.querySelector("[aria-label=Entries] tr[data-line]")
		const at = row => [...row.cells].map(c => Math.round(c.getBoundingClientRect().x)).join()
		return [...document.querySelectorAll("[aria-label=Entries] .review_left-out")].filter(r => getComputedStyle(r).display !== "table-row" || at(r) !== at(whole)).length
	})()`)
	if broken > 0 {
		t.Errorf("%d lines that are left out do not stand under their heads", broken)
	}
}

// Twice the same refund in the same folio is two refunds: the second is no try of the
// first. A double click is one.
func TestTheSameRefundTwiceIsTwo(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?show=funds")
	p.until(`document.querySelectorAll(".desk_desk-main tbody tr").length > 0`)
	p.clickOn(`[...document.querySelectorAll(".desk_desk-main tbody tr")].find(r => r.innerText.includes("Orrin Seaweed Farm"))`)
	p.until(control, "button", "Refund some of it")
	held := func() int {
		return js[int](p, `Number(document.querySelector(".desk_folio h2").innerText.replace(/[^0-9]/g, ""))`)
	}
	before := held()
	for n := 1; n <= 2; n++ {
		p.click("button", "Refund some of it")
		p.typeIn("Refund to the client", "10.00")
		p.click("button", "Refund 10.00")
		p.until(`document.querySelector(".desk_folio h2").innerText.replace(/[^0-9]/g, "") === String(%v)`, before-1000*n)
	}
	p.click("button", "Refund some of it")
	p.typeIn("Refund to the client", "5.00")
	js[bool](p, `(b => { b.click(); b.click(); return true })(`+control+`)`, "button", "Refund 5.00")
	p.until(`document.querySelector(".desk_folio h2").innerText.replace(/[^0-9]/g, "") === String(%v)`, before-2500)
	p.still()
	if now := held(); now != before-2500 {
		t.Errorf("a double click refunded twice: %d of %d are held", now, before)
	}
}

// What the mail server did not take stands under Mails with its own words, and is sent
// again by hand.
func TestAMailThatWasGivenUpIsSentAgain(t *testing.T) {
	p := open(t)
	p.goTo("/healthz")
	p.stop()
	data, err := sql.Open("sqlite3", filepath.Join(p.data, "dorvet.db"))
	if err != nil {
		t.Fatal(err)
	}
	_, err = data.Exec("UPDATE mails SET state = 'failed', tries = 6, problem = 'the mail server did not take it: 550 " +
		"no such user' WHERE " +
		"id = (SELECT MAX(id) FROM mails m WHERE delivery_id IS NULL AND NOT EXISTS (SELECT 1 FROM mail_links l WHERE l.mail_id = m.id))")
	if err = errors.Join(err, data.Close()); err != nil {
		t.Fatal(err)
	}
	p.server = start(p.verb, p.data)
	p.enter("administrator")
	p.goTo("/mails")
	p.reads("550 no such user")
	p.reads("given up")
	p.clickOn(`[...document.querySelectorAll("[aria-label='Not delivered'] tr")].find(row => row.innerText.includes("550 no such user"))
		.querySelector("button")`)
	p.until(`!document.body.innerText.includes("550 no such user")`)
}
