package e2e

import (
	"encoding/json"
	"fmt"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"dorvet/core/paymentmethod"

	"github.com/chromedp/chromedp/kb"
)

// answered is what the server answers, as JSON.
func answered[T any](p *page, path string) (of T) {
	p.Helper()
	if err := json.Unmarshal(p.fetched("GET", path), &of); err != nil {
		p.Fatal(err)
	}
	return of
}

type minor struct {
	Minor    int
	Currency string
}

// statement is a file of the bank that goes on where the demo's last one ended: entries of an amount in cents and a text.
func (p *page) statement(entries [][2]any) string {
	p.Helper()
	before := 0
	for _, s := range answered[[]struct {
		Account string
		Closing minor
	}](p, "/api/bank/statements?account=0") {
		if s.Account == "Current account" {
			before = s.Closing.Minor
			break
		}
	}
	amount := func(cents int) string {
		sign := "CRDT"
		if cents < 0 {
			sign, cents = "DBIT", -cents
		}
		return fmt.Sprintf(`<Amt Ccy="EUR">%d.%02d</Amt><CdtDbtInd>%s</CdtDbtInd>`, cents/100, cents%100, sign)
	}
	body, after := new(strings.Builder), before
	for i, e := range entries {
		after += e[0].(int)
		fmt.Fprintf(body, "<Ntry>%s<Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>2026-12-01</Dt></BookgDt><AcctSvcrRef>N%d</AcctSvcrRef><NtryDtls><TxDtls>"+
			"<RmtInf><Ustrd>%s</Ustrd></RmtInf></TxDtls></NtryDtls></Ntry>", amount(e[0].(int)), i, e[1])
	}
	balance := func(code string, cents int) string {
		return "<Bal><Tp><CdOrPrtry><Cd>" + code + "</Cd></CdOrPrtry></Tp>" + amount(cents) + "<Dt><Dt>2026-12-01</Dt></Dt></Bal>"
	}
	path := filepath.Join(p.TempDir(), "december.xml")
	content := `<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08"><BkToCstmrStmt><Stmt><Id>23</Id>` +
		`<Acct><Id><IBAN>IE89DEMO00000000000001</IBAN></Id>` +
		`<Ccy>EUR</Ccy></Acct>` + balance("OPBD", before) + balance("CLBD", after) + body.String() + `</Stmt></BkToCstmrStmt></Document>`
	if err := os.WriteFile(path, []byte(content), 0o600); err != nil {
		p.Fatal(err)
	}
	return path
}

// A statement of 300 entries is done by keyboard alone, in at most 400 keys: those that are certain with one, each likely one with Enter, fees of
// the bank with two. Shortened, a fifth of it.
func TestAStatementIsDoneByKeyboard(t *testing.T) {
	entries, whole, fees, most := 300, 15, 20, 400
	if testing.Short() {
		entries, whole, fees, most = 60, 10, 4, 80
	}
	p := open(t)
	p.signIn("administrator")
	owed := answered[struct {
		Clients []struct {
			Disputed minor
			Open     []struct {
				Number, Part string
				Open         minor
			}
		}
	}](p, "/api/receivables?client=0&lead=0&late=0")
	list := [][2]any{}
	for _, c := range owed.Clients {
		for _, o := range c.Open {
			if o.Part != "" || o.Open.Currency != "EUR" || c.Disputed.Minor != 0 || o.Open.Minor < 2_000_00 {
				continue
			}
			if len(list) < whole {
				list = append(list, [2]any{o.Open.Minor, paymentmethod.Reference(o.Number)})
				continue
			}
			for range min(60, entries-fees-len(list)) { // in small parts
				list = append(list, [2]any{1_00, "part of " + o.Number})
			}
		}
	}
	for range fees {
		list = append(list, [2]any{-12_40, "fee"})
	}
	if len(list) != entries {
		t.Fatalf("the demo owes too little: %d entries", len(list))
	}
	p.goTo("/receivables?show=bank")
	p.reads("that are certain")
	p.click("button", "Read statements")
	p.until(`document.querySelector("input[type=file]")`)
	p.upload(p.statement(list))
	p.click("button", fmt.Sprintf("Read %d new entries", entries))
	p.until(`!document.querySelector("input[type=file]")`)
	p.goTo("/receivables?show=bank&account=1")
	p.reads("that are certain")
	looker(p)("the bank")
	left := func() int {
		return js[int](p, `Number(document.querySelector(".tally_tally").innerText.match(/(\d+)\s*\n?entr/)[1])`)
	}
	before, keys := left(), 0
	press := func(key string) {
		p.press(key)
		keys++
	}
	press("c")
	p.reads("None is certain")
	press(kb.End) // the newest are last
	for now := left(); now > before-entries && keys <= most; {
		row := js[string](p, `document.querySelector("tr.current")?.innerText ?? ""`)
		switch {
		case strings.Contains(row, "fee"):
			press("s")
			p.until(`document.activeElement?.labels?.[0]?.innerText.startsWith("What is it")`)
			press("1")
		case strings.Contains(row, "part of"):
			press(kb.Enter)
		default:
			press("k")
			continue
		}
		p.until(`Number(document.querySelector(".tally_tally").innerText.match(/(\d+)\s*\n?entr/)[1]) < %v`, now)
		now = left()
	}
	if keys > most {
		t.Errorf("%d entries took %d keys, of at most %d", entries, keys, most)
	}
	t.Logf("%d entries took %d keys", entries, keys)
}
