package e2e

import (
	"strings"
	"testing"
)

// counted counts what is posted to an address from now on; the first answer is late, or
// never comes though the act was done.
func (p *page) counted(address, first string) {
	p.Helper()
	js[bool](p, `(() => {
		const served = window.fetch
		window.posted = []
		window.fetch = async (asked, how) => {
			if (asked.method !== "POST" || new URL(asked.url, location).pathname !== %v) return served(asked, how)
			window.posted.push(asked.headers.get("Idempotency-Key"))
			const answer = await served(asked, how)
			if (window.posted.length > 1) return answer
			if (%v === "lost") throw new TypeError("Failed to fetch")
			await new Promise(done => { window.letIn = done })
			return answer
		}
		return true
	})()`, address, first)
}

// An act is done once, however often it is asked for: twice while it is under way, and
// again when its answer was lost.
func TestAnActIsDoneOnce(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	for _, c := range []struct{ first, name string }{{"late", "Gull Point Quarry"}, {"lost", "Heron Reach Ferries"}} {
		p.goTo("/clients?new=yes")
		p.until(`document.activeElement.id === "new-name"`)
		p.counted("/api/records/clients", c.first)
		p.press(c.name + "\r")
		if c.first == "late" {
			p.until(`window.letIn`)
			p.press("\r\r")
			js[bool](p, `(window.letIn(), true)`)
		} else {
			p.until(`document.querySelector(".form_form .refusal")`)
			if kept := js[string](p, `document.querySelector("#new-name").value`); kept != c.name {
				t.Errorf("%q is left of what was typed", kept)
			}
			p.focus("field", "Name in lists")
			p.press("\r")
		}
		p.until(`document.querySelector("h1").innerText === %v`, c.name)
		keys := js[[]string](p, `window.posted`)
		if want := map[string]int{"late": 1, "lost": 2}[c.first]; len(keys) != want || keys[0] != keys[len(keys)-1] {
			t.Errorf("%s: posted under %v", c.first, keys)
		}
		p.goTo("/clients?text=" + strings.ReplaceAll(c.name, " ", "%20"))
		p.until(`document.querySelectorAll(".list_list tbody tr").length === 1`)
	}
}

// What was refused stands at its field, and what was typed stays.
func TestWhatIsRefusedStandsAtItsField(t *testing.T) {
	p := look(t)
	p.enter("administrator")
	p.goTo("/set-up/rates?new=yes")
	p.until(`document.querySelector("#new-per_hour")`)
	p.focus("field", "An hour")
	p.press("a lot\r")
	p.until(`document.querySelector("#new-per_hour").closest("label").querySelector(".refusal")`)
	if text := js[string](p, `document.querySelector("#new-per_hour").value`); text != "a lot" {
		t.Errorf("%q is left of what was typed", text)
	}
	if sentences := js[int](p, `document.querySelectorAll(".form_form .refusal").length`); sentences != 1 {
		t.Errorf("it is said %d times", sentences)
	}
	// The focus comes back from what was asked over the page.
	p.focus("field", "An hour")
	p.ctrl("k")
	p.until(`document.activeElement.getAttribute("aria-label") === "Find"`)
	p.press("\x1b")
	p.until(`document.activeElement.id === "new-per_hour"`)
}

// Terms and amounts are read while they are typed, by who reads them when they are kept.
func TestWhatIsTypedIsSaid(t *testing.T) {
	p := look(t)
	p.signIn("administrator")
	p.until(`document.querySelector(".list_list tbody tr")`)
	for _, c := range []struct{ typed, said string }{{"2 weeks", "= 14 days"}, {"whenever", "are not known: write receipt"}} {
		p.focus("field", "Terms")
		js[bool](p, `(document.activeElement.select(), true)`)
		p.press(c.typed)
		p.until(`document.querySelector(".sentence_said-text [role=status]")?.innerText.includes(%v)`, c.said)
	}
	p.goTo("/receivables?show=deposits")
	p.click("button", "Ask for a deposit")
	p.focus("field", "Amount")
	p.press("12,5")
	p.until(`document.querySelector(".form_form [role=status].lost")?.innerText.length > 10`)
	p.focus("field", "Amount")
	js[bool](p, `(document.activeElement.select(), true)`)
	p.press("1,250.50")
	p.until(`document.querySelector(".form_form [role=status]").innerText === "= 1250.50"`)
}

// Hours of a week are no hours of a day: what a field takes is not called wrong while it
// is typed.
func TestWhatAFieldTakesIsNotCalledWrong(t *testing.T) {
	p := look(t)
	p.enter("administrator")
	p.goTo("/set-up/people?open=3")
	p.until(`document.querySelector("button[aria-label^='Hours a week']")`)
	p.clickOn(`document.querySelector("button[aria-label^='Hours a week']")`)
	p.until(`document.activeElement.matches(".desk_folio input")`)
	js[bool](p, `(document.activeElement.select(), true)`)
	p.press("37.5")
	p.still()
	if js[bool](p, `document.querySelector(".desk_folio [role=status].lost") !== null`) {
		t.Error("37.5 hours are called wrong")
	}
	p.press("\x1b")
}

// Letters on a button of a form are not those of the list around it: a draft is not
// left from within a question.
func TestKeysInAFormStayInIt(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.invoice("Brannoch Oyster Growers")
	p.until(`document.querySelector("[aria-label=Entries] tr.current")`)
	p.list("Entries")
	p.press("w")
	p.until(`document.activeElement.getAttribute("aria-label") === "Value"`)
	at := js[string](p, "location.pathname")
	p.focus("button", "Leave it")
	p.press("]")
	p.still()
	if now := js[string](p, "location.pathname"); now != at || !js[bool](p, `document.querySelector("form[aria-label='Write to']") !== null`) {
		t.Errorf("the keys went through to the list: %s", now)
	}
}

// On a phone, and at four times the size, a page is one column: nothing of it lies
// beside the window, and its list and form are there.
func TestListsAndFormsFitAPhoneAndLargeType(t *testing.T) {
	p := look(t)
	p.signIn("administrator")
	for _, size := range [][2]int64{{360, 740}, {320, 256}} {
		p.size(size[0], size[1])
		for address, there := range map[string]string{
			"/clients": ".list_list tbody tr", "/set-up/rates?new=yes": ".list_list tbody tr", "/wip": ".list_list tbody tr",
			"/billing": ".list_list tbody tr", "/clients/1": ".table_grid tbody tr", "/account": ".form_form input",
			"/receivables": ".list_list tbody tr",
		} {
			p.goTo(address)
			p.until(`document.querySelector(%v)`, there)
			p.still()
			if beside := js[[]string](p, `[...document.querySelectorAll("main h1, main form, main section, main .form_acts, .tally_tally button")].filter(e => {
				const at = e.getBoundingClientRect()
				return at.width > 0 && (at.right > innerWidth + 1 || at.left < -1)
			}).map(e => e.tagName + " " + (e.getAttribute("aria-label") ?? e.innerText.slice(0, 30)))`); len(beside) > 0 {
				t.Errorf("%s at %d: %v", address, size[0], beside)
			}
			if wide := js[int](p, `document.documentElement.scrollWidth`); wide > int(size[0])+1 {
				t.Errorf("%s at %d is %d wide", address, size[0], wide)
			}
		}
	}
}
