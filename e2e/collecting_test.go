package e2e

import "testing"

// What nobody will pay is written off with a reason where it stands, and is in the list; what comes after all is recovered.
func TestAnInvoiceIsWrittenOffAndComesAfterAll(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.invoice("SC833")
	p.button("Write off what is owed")
	p.until(`document.activeElement.closest("form")?.getAttribute("aria-label") === "Write off"`)
	p.press("a test\r")
	p.reads("430.00 of it is written off as bad debt")
	p.button("It came after all")
	p.until(`document.activeElement.value === "430.00"`)
	p.press("\r")
	p.reads("Owed again, as it came after all")
	p.goTo("/receivables?show=lost")
	p.until(`document.querySelector(".desk_sheet").innerText.includes("the client will not pay, a test")`)
	p.until(`[...document.querySelectorAll(".desk_sheet tbody tr")].filter(r => r.innerText.includes("SC833")).length === 2`)
}

// Late charges are chosen and charged, or waived with a reason.
func TestLateChargesAreChargedOrWaived(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?show=late")
	p.until(`document.querySelectorAll(".desk_sheet tbody tr").length > 8`)
	p.click("checkbox", "Select SC820")
	p.click("button", "Charge 1, ")
	p.until(`[...document.querySelectorAll("aside tr")].some(r => r.innerText.includes("SC820") && r.innerText.includes("with the next invoice"))`)
	p.click("checkbox", "Select SC998")
	p.click("button", "Waive")
	p.until(`document.activeElement.closest("form")?.getAttribute("aria-label") === "Waive"`)
	p.press("goodwill\r")
	p.until(`[...document.querySelectorAll("aside tr")].some(r => r.innerText.includes("SC998") && r.innerText.includes("waived: goodwill"))`)
}

// The clients' account is reconciled and kept as a document; who is below the least is asked to refill; what is to be paid out becomes a file.
func TestTheClientsAccountIsReconciledAndPaidFrom(t *testing.T) {
	p := open(t)
	p.enter("administrator")
	p.goTo("/receivables?show=reconcile")
	p.reads("to be explained")
	p.click("button", "Keep it as a document")
	p.reads("It is kept, with its document.")
	p.until(`[...document.querySelectorAll("aside a")].some(a => a.innerText === "30 Nov 2026")`)
	href := js[string](p, `[...document.querySelectorAll("aside a")].find(a => a.innerText === "30 Nov 2026").getAttribute("href")`)
	if content := p.fetched("GET", href); string(content[:5]) != "%PDF-" {
		t.Errorf("%q is no document", content[:20])
	}
	p.goTo("/receivables?show=funds")
	p.click("button", "Ask 3 to refill")
	p.reads("Asked for D")
	p.goTo("/receivables?show=out")
	p.until(`document.querySelectorAll(".desk_sheet tbody tr").length === 4`)
	p.click("checkbox", "Select Skerrow Coastal Ltd, Current account")
	p.click("checkbox", "Select Tomas Brandt")
	p.click("button", "Make the file: 2, ")
	p.reads("Give them to the bank")
	p.until(`document.querySelectorAll(".desk_sheet tbody tr").length === 2`)
	p.until(`[...document.querySelectorAll("a[href$='/file']")].some(a => a.innerText.endsWith(".xml"))`)
	file := p.fetched("GET", js[string](p, `[...document.querySelectorAll("a[href$='/file']")].find(a => a.innerText.endsWith(".xml")).getAttribute("href")`))
	if string(file[:5]) != "<?xml" {
		t.Errorf("%q is no file for a bank", file[:20])
	}
}
