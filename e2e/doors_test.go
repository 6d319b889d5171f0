package e2e

import (
	"os/exec"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
	"github.com/chromedp/chromedp/kb"
)

// What leads money astray asks for the password once more, is told to administrators, and
// stands in the security log.
func TestBankDetailsAskForThePasswordOnceMore(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/set-up/entities?open=1")
	p.until(`document.querySelector(".desk_folio .history_history li")`)
	js[bool](p, `(document.querySelectorAll(".desk_folio details").forEach(d => { d.open = true }), true)`)
	p.set("BIC", "NEWBICXX")
	p.proves("not the password")
	p.reads("This is not your password")
	js[bool](p, `(document.activeElement.select(), true)`)
	p.press("high-water-mark" + kb.Enter)
	p.reads("Changed bic.")
	p.until(`document.querySelector(".desk_folio").innerText.includes("NEWBICXX")`)
	p.goTo("/account")
	p.reads("Maren Oduya changed BIC of Skerrow")
	p.goTo("/set-up/security")
	p.reads("changed bank details, a role or a limit")
	for _, line := range []string{"BIC of Skerrow", "a wrong password or code", "looked at bank details", "signed in"} {
		if !strings.Contains(p.text(".table_grid tbody"), line) {
			t.Errorf("the security log does not tell of %q", line)
		}
	}
}

func TestALeadIsToldWhyReceivablesAreNotShown(t *testing.T) {
	p := look(t)
	p.enter("lead")
	p.goTo("/receivables")
	p.reads("is seen by administrators and owners")
	if strings.Contains(p.text("body"), "Nobody owes") {
		t.Error("a lead reads that nobody owes anything")
	}
}

// A second factor with the code that any program for one-time codes shows (oathtool, RFC 6238).
func TestASecondFactorGivesRecoveryCodes(t *testing.T) {
	p := open(t)
	p.enter("staff")
	p.goTo("/account")
	p.click("button", "Add one")
	p.until(`document.querySelector("[aria-label=Secret]")?.value.length > 20`)
	secret := js[string](p, `document.querySelector("[aria-label=Secret]").value`)
	code, err := exec.Command("oathtool", "--totp", "--base32", secret).Output()
	if err != nil {
		t.Fatal(err)
	}
	p.focus("field", "The code that it shows")
	p.press(strings.TrimSpace(string(code)) + kb.Enter)
	p.proves("high-water-mark")
	p.reads("They are shown only now")
	if n := js[int](p, `document.querySelectorAll(".account_recovery-codes li").length`); n != 10 {
		t.Errorf("%d recovery codes", n)
	}
	recovery := p.text(".account_recovery-codes li")
	p.goTo("/account")
	p.reads("10 recovery codes are left")
	signIn := func(code string) int {
		status, err := chromedp.Run(p.ctx, chromedp.Evaluate[int](fill(`fetch("/api/session", { method: "POST", headers: { "Content-Type": "application/json" },
			body: JSON.stringify({ mail: "tomas@skerrow.example", password: "high-water-mark", code: %v }) }).then(r => r.status)`,
			[]any{code}),
			chromedp.EvalAwaitPromise))
		if err != nil {
			t.Fatal(err)
		}
		return status
	}
	for code, want := range map[string]int{"": 422, "000000": 422, recovery: 200} {
		if status := signIn(code); status != want {
			t.Errorf("signing in with the code %q: %d", code, status)
		}
	}
}
