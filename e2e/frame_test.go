package e2e

import (
	"context"
	"net/http"
	"net/http/cookiejar"
	"strings"
	"sync"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/cdproto/network"
	"github.com/chromedp/chromedp"
)

// fails makes the server answer an address with a status from now on, or as it is again (0).
func (p *page) fails(address string, status int) {
	p.Helper()
	js[bool](p, `(() => {
		window.served ??= window.fetch
		window.fetch = async (asked, how) => new URL(asked.url ?? asked, location).pathname === %v && %v
			? new Response(JSON.stringify({ detail: "It failed on purpose." }), { status: %v, headers: { "Content-Type": "application/problem+json" } })
			: window.served(asked, how)
		return true
	})()`, address, status, max(status, 200))
}

func TestAFailedServerIsNeverTakenForNothing(t *testing.T) {
	p := look(t)
	p.signIn("administrator")
	p.reads("What can be billed")
	for _, desk := range []struct{ key, address, empty string }{
		{"5", "/api/receivables", "Nothing is owed"},
		{"1", "/api/proposals", "No proposal yet"},
		{"4", "/api/drafts", "No drafts"},
	} {
		p.fails(desk.address, 500)
		p.alt(desk.key)
		p.reads("It failed on purpose.")
		if text := js[string](p, "document.body.innerText"); strings.Contains(text, desk.empty) {
			t.Errorf("%s: a failure reads as %q", desk.key, desk.empty)
		}
		p.fails(desk.address, 0)
		p.click("button", "Try again")
		p.until(`document.querySelectorAll(".list_list tbody tr").length > 3`)
	}
	p.fails("/api/clients", 403)
	p.click("link", "Clients")
	p.reads("It failed on purpose.")
	if js[bool](p, `[...document.querySelectorAll("button")].some(b => b.innerText === "Try again")`) {
		t.Error("what may not be read is offered again")
	}
}

// Of a page that was left open while the program was replaced not all parts are there any more: it says so in its own words.
func TestAPageWhosePartsAreGone(t *testing.T) {
	p := look(t)
	p.signIn("administrator")
	p.do(chromedp.Func(func(ctx context.Context, target *chromedp.Target) error {
		_, err := cdp.Call(ctx, target, network.SetBlockedURLs, network.SetBlockedURLsParams{
			URLPatterns: []*network.BlockPattern{{URLPattern: p.address + "/assets/*", Block: true}}})
		return err
	}))
	p.alt("5")
	p.reads("This page can’t be shown")
	p.until(`document.querySelector(".rail_rail-me")`)
	p.do(chromedp.Func(func(ctx context.Context, target *chromedp.Target) error {
		_, err := cdp.Call(ctx, target, network.SetBlockedURLs, network.SetBlockedURLsParams{})
		return err
	}))
	p.click("button", "Load it again")
	p.until(`document.querySelector("h1") && document.querySelectorAll(".list_list tbody tr").length > 3`)
}

// What was typed outlives the session.
func TestTheSessionEndsWhileSomethingIsTyped(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/clients?new=yes")
	p.until(`document.activeElement.id === "new-name"`)
	p.press("Late Evening Ferries")
	if _, err := chromedp.Run(p.ctx, chromedp.Evaluate[int](`fetch("/api/session", { method: "DELETE" }).then(r => r.status)`,
		chromedp.EvalAwaitPromise)); err != nil {
		t.Fatal(err)
	}
	p.press("\r")
	p.reads("Sign in again, Maren Oduya")
	p.until(`document.activeElement.matches("dialog input")`)
	p.press("maren@skerrow.example\twrong\r")
	p.until(`document.querySelector("dialog .refusal")`)
	js[bool](p, `(document.querySelector("dialog input[type=password]").select(), true)`)
	p.press("high-water-mark\r")
	p.until(`document.querySelector("h1").innerText === "Late Evening Ferries"`)
	p.until(`document.title === "Late Evening Ferries · Dorvet"`)
}

// A list as its reader makes it: order, columns, filter, kept for the next time.
func TestAListIsOrderedFilteredAndKept(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/clients")
	first := `document.querySelector(".list_list tbody tr[data-row] th").innerText.trim()`
	p.until(first + ` === "3 Quays Development"`)
	p.click("button", "Sort by Client")
	p.click("button", "Sort by Client")
	p.until(first + ` === "Whinny Strand Golf Links" && document.querySelector("th[aria-sort=descending]")`)
	js[bool](p, `(() => { // the server is slow: whoever leaves now has not been heard by it
		const served = window.fetch
		window.fetch = (asked, how) => new URL(asked.url ?? asked, location).pathname.startsWith("/api/account/lists/")
			? new Promise(() => {}) : served(asked, how)
		return true
	})()`)
	p.click("button", "Columns")
	p.click("checkbox", "Responsible")
	p.until(`![...document.querySelectorAll(".list_list thead th")].some(h => h.innerText === "Responsible")`)
	p.goTo("/clients")
	p.until(first + ` === "Whinny Strand Golf Links" && ![...document.querySelectorAll(".list_list thead th")].some(h => h.innerText === "Responsible")`)
	p.until(`document.activeElement.getAttribute("aria-label") === "Clients"`)
	p.press("/")
	p.until(`document.activeElement.getAttribute("aria-label") === "Filter the list"`)
	p.press("arden")
	p.until(`document.querySelectorAll(".list_list tbody tr[data-row]").length === 1`)
	p.reads("1 of 35")
	p.press("\r") // back to the list, on the one that was found
	p.press("\r")
	p.until(`document.querySelector("h1").innerText === "Arden Shoal Wind"`)
	p.goTo("/clients")
	p.click("button", "Columns")
	p.click("button", "As at first")
	p.until(first + ` === "3 Quays Development"`)

	// In one place two lists, each as it was made.
	p.goTo("/billing?show=register")
	p.click("button", "Sort by Net")
	p.until(`document.querySelector("th[aria-sort=ascending]").innerText.startsWith("Net")`)
	p.choose("Show", "drafts still")
	p.until(`document.querySelector("[aria-label=Drafts] tbody tr") && !document.querySelector("th[aria-sort]")`)
	p.choose("Show", "everything ever")
	p.until(`document.querySelector("th[aria-sort=ascending]").innerText.startsWith("Net")`)
}

// A list of ten thousand rows draws what is in sight, and is gone through by the same keys.
func TestAListOfTenThousandRows(t *testing.T) {
	p := look(t)
	p.signIn("administrator")
	p.reads("What can be billed")
	js[bool](p, `(() => {
		const served = window.fetch
		window.fetch = async (asked, how) => {
			const answer = await served(asked, how)
			if (new URL(asked.url, location).pathname !== "/api/drafts") return answer
			const [one] = await answer.json()
			return Response.json(Array.from({ length: 10000 }, (_, i) => ({ ...one, id: i + 1, client: "Client " + (i + 1) })))
		}
		return true
	})()`)
	p.alt("4")
	p.until(`document.querySelector(".list_list table")?.getAttribute("aria-rowcount") === "10001" && document.querySelector("[data-row='0']")`)
	if drawn := js[int](p, `document.querySelectorAll(".list_list tbody tr").length`); drawn > 120 {
		t.Errorf("%d rows are drawn", drawn)
	}
	p.until(`document.activeElement.getAttribute("aria-label") === "Drafts"`)
	p.press("jjj")
	p.until(`document.querySelector("tr.current").innerText.includes("Client 4")`)
	js[bool](p, `(document.activeElement.dispatchEvent(new KeyboardEvent("keydown", { key: "End", bubbles: true })), true)`)
	p.until(`document.querySelector("tr.current")?.innerText.includes("Client 10000")`)
	p.press("/")
	p.until(`document.activeElement.getAttribute("aria-label") === "Filter the list"`)
	p.press("client 777")
	p.reads("19 of 10000")
}

// The first load of a desk: what comes over the wire, packed, with heads.
func TestTheFirstLoadOfADeskIsSmall(t *testing.T) {
	atOnce(t)
	for _, desk := range []string{"/wip", "/billing", "/time", "/pricing/11", "/clients", "/set-up"} {
		p := look(t)
		p.enter("administrator")
		var bytes float64
		var counting sync.Mutex
		count := func(event any) {
			if done, is := event.(*network.EventLoadingFinished); is {
				counting.Lock()
				bytes += done.EncodedDataLength
				counting.Unlock()
			}
		}
		p.heard.Store(&count)
		p.goTo(desk)
		p.until(`document.querySelector(".list_list tbody tr, .table_grid tbody tr")`)
		p.still()
		counting.Lock()
		t.Logf("%s: %.1f kB", desk, bytes/1000)
		if bytes > 300_000 || bytes < 50_000 {
			t.Errorf("%s: %.0f kB", desk, bytes/1000)
		}
		counting.Unlock()
	}
}

// A day is typed as people type it: what was read stands there, what can't be read stays and says why.
func TestADayIsTypedAsPeopleTypeIt(t *testing.T) {
	p := look(t)
	p.signIn("administrator")
	p.until(`document.querySelector(".list_list tbody tr")`)
	field := `document.querySelector("input[aria-label='Up to']")`
	p.focus("field", "Up to")
	p.press("15.11.")
	p.until(`document.querySelector(".day-input_said").innerText === "= Sun 15 Nov 2026"`)
	p.press("\r")
	p.until(field + `.value === "15 Nov 2026" && location.search.includes("upTo=2026-11-15")`)
	p.focus("field", "Up to")
	js[bool](p, `(`+field+`.select(), true)`)
	p.press("11/12\t")
	p.reads(`"11/12" could be 11 Dec 2026 or 12 Nov 2026: write one of these`)
	p.until(field + `.value === "11/12" && ` + field + `.getAttribute("aria-invalid") === "true"`)
	p.focus("field", "Up to")
	p.press("\x1b")
	p.until(field + `.value === "15 Nov 2026" && !document.querySelector(".day-input_said")`)
}

// On paper a list stands whole, with its sums and without what surrounds it.
func TestAListIsPrintedWhole(t *testing.T) {
	p := look(t)
	p.enter("administrator")
	p.goTo("/wip")
	p.until(`document.querySelectorAll(".list_list tbody tr").length > 40`)
	if !js[bool](p, `document.querySelector(".list_list").scrollHeight > innerHeight`) {
		t.Error("the list fits on one screen: printing it whole shows nothing")
	}
	medium := func(media string) {
		p.do(chromedp.Func(func(ctx context.Context, target *chromedp.Target) error {
			_, err := cdp.Call(ctx, target, emulation.SetEmulatedMedia, emulation.SetEmulatedMediaParams{Media: media})
			return err
		}))
	}
	medium("print")
	defer medium("")
	p.until(`(list => list.scrollHeight <= list.clientHeight + 1 && list.getBoundingClientRect().height > innerHeight)(document.querySelector(".list_list"))`)
	p.until(`document.documentElement.scrollHeight >= document.querySelector(".list_list").getBoundingClientRect().height`)
	p.until(`!document.querySelector(".rail_rail").checkVisibility() && !document.querySelector(".desk_folio").checkVisibility()`)
}

// What somebody else does is seen without asking: on the rail, and on the desk in sight.
func TestWhatOthersDoIsSeen(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/clients?text=calderwick")
	p.until(`document.querySelector("[data-testid=rail-time] b").innerText.length > 0 && document.querySelectorAll("tr[data-row]").length === 1`)
	rail, row := p.text("[data-testid=rail-time] b"), p.text("tr[data-row]")
	jar, err := cookiejar.New(nil)
	if err != nil {
		t.Fatal(err)
	}
	another := &http.Client{Jar: jar}
	for _, said := range []struct{ address, body string }{
		{"/api/session", `{"mail":"ines@skerrow.example","password":"high-water-mark"}`},
		{"/api/time-entries", `{"personId":2,"engagementId":3,"serviceId":1,"day":"2026-12-01","worked":"3h","notBillable":"","treatment":"billable","text":"by another","note":""}`},
	} {
		request, err := http.NewRequestWithContext(t.Context(), http.MethodPost, p.address+said.address, strings.NewReader(said.body))
		if err != nil {
			t.Fatal(err)
		}
		request.Header.Set("Content-Type", "application/json")
		request.Header.Set("Idempotency-Key", "a try of another's")
		answer, err := another.Do(request)
		if err != nil || answer.StatusCode != http.StatusOK {
			t.Fatal(said.address, answer, err)
		}
		answer.Body.Close()
	}
	p.until(`document.querySelector("[data-testid=rail-time] b").innerText !== %v`, rail)
	p.until(`document.querySelector("tr[data-row]").innerText !== %v`, row)
}
