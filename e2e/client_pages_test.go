package e2e

import (
	"context"
	"net/mail"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/cdproto/cdp"
	"github.com/chromedp/cdproto/emulation"
	"github.com/chromedp/chromedp"
)

// posts sends JSON to the server, as the page does.
func (p *page) posts(path, body string) {
	p.Helper()
	status, err := chromedp.Run(p.ctx, chromedp.Evaluate[int](fill(`fetch(%v, { method: "POST", body: %v,
		headers: { "Content-Type": "application/json", "Idempotency-Key": crypto.randomUUID() } }).then(r => r.status)`, []any{path, body}),
		chromedp.EvalAwaitPromise))
	if err != nil || status != 200 {
		p.Fatalf("POST %s: %d, %v", path, status, err)
	}
}

// endsReminders is the path that ends reminders, as the header of the mail to an address has it (RFC 8058).
func (p *page) endsReminders(to string) string {
	p.Helper()
	for range 100 {
		files, _ := filepath.Glob(filepath.Join(p.data, "mail", "*.eml"))
		for _, file := range files {
			raw, err := os.Open(file)
			if err != nil {
				p.Fatal(err)
			}
			m, err := mail.ReadMessage(raw)
			raw.Close()
			if err != nil || !strings.Contains(m.Header.Get("To"), to) {
				continue
			}
			_, path, _ := strings.Cut(m.Header.Get("List-Unsubscribe"), "/api/")
			return "/api/" + strings.TrimSuffix(path, ">")
		}
		p.still()
	}
	p.Fatalf("no mail to %s", to)
	return ""
}

// speaks makes the browser prefer a language.
func (p *page) speaks(language string) {
	p.Helper()
	agent := js[string](p, "navigator.userAgent")
	p.do(chromedp.Func(func(ctx context.Context, target *chromedp.Target) error {
		_, err := cdp.Call(ctx, target, emulation.SetUserAgentOverride, emulation.SetUserAgentOverrideParams{UserAgent: agent, AcceptLanguage: language})
		return err
	}))
}

// Each page of a client stands in nobody's way and fits a phone, in English and in another language.
func TestEachPageOfAClientInTwoLanguages(t *testing.T) {
	for _, of := range []struct{ number, language, mail, pay, other, mailCode, code, open, ours, end string }{
		{"SC1046", "en", "whinny@client.example", "To pay", "Mail it to another", "Mail me a code", `Your code is (\d{6})`, "Open", "Is this invoice ours?", "End them"},
		{"SC1040", "pl", "kelder@client.example", "Do zapłaty", "Wyślij na inny", "Wyślij kod", `Kod: (\d{6})`, "Otwórz", "Czy ta faktura jest od nas?", "Zakończ"},
	} {
		t.Run(of.language, func(t *testing.T) {
			p := open(t)
			axe := looker(p)
			look := func(view string) {
				t.Helper()
				axe(view + ", " + of.language)
				if wide := js[int](p, "document.documentElement.scrollWidth"); wide > 360 {
					t.Errorf("on a phone %s is %d wide", view, wide)
				}
				if said := js[string](p, `(document.querySelector("main[lang]") ?? document.documentElement).lang`); said != of.language {
					t.Errorf("%s says that it is in %q", view, said)
				}
			}
			p.enter("administrator")
			p.invoice(of.number)
			p.reads("Make a link to the client's page")
			client := js[string](p, `[...document.querySelectorAll(".desk_folio-over a")].find(a => a.pathname.startsWith("/clients/")).pathname.split("/").at(-1)`)
			p.click("button", "Make a link to the client's page")
			p.until(`document.querySelector("input[aria-label='The link']")?.value.includes("#")`)
			link := js[string](p, `document.querySelector("input[aria-label='The link']").value`)
			p.posts("/api/letters", `{"kind":"reminder","id":`+client+`,"entityId":0,"currency":"EUR","tone":"",
				"sending":{"way":"mail","to":"late@client.example","copies":"","subject":"","text":"","word":"","keep":false}}`)
			ends := p.endsReminders("late@client.example")

			p.size(360, 740)
			p.speaks(of.language)
			p.goTo("/invoice" + link[strings.Index(link, "#"):])
			p.reads(of.pay)
			look("the page of an invoice")
			p.click("button", of.other)
			p.until(`document.querySelector("input[inputmode=email]")`)
			p.clickOn(`document.querySelector("input[inputmode=email]")`)
			p.press(of.mail)
			p.click("button", of.mailCode)
			p.until(`document.querySelector("input[autocomplete=one-time-code]")`)
			p.clickOn(`document.querySelector("input[autocomplete=one-time-code]")`)
			p.press(p.mailed(of.code))
			p.click("button", of.open)
			p.until(`location.pathname === "/client" && document.querySelector("main li")`)
			look("all that a client has")
			p.goTo("/ours")
			p.reads(of.ours)
			look("is it ours")
			p.goTo(ends)
			p.reads(of.end)
			look("the end of reminders")
		})
	}
}
