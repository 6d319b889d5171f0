package einvoice

import (
	"archive/zip"
	"bytes"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"dorvet/core/invoice"
)

// foreign is an e-invoice as another program writes it: other prefixes, other order of
// what is optional, amounts with more decimals, two due dates.
const foreign = `<?xml version="1.0"?>
<a:CrossIndustryInvoice xmlns:a="urn:un:unece:uncefact:data:standard:CrossIndustryInvoice:100" xmlns:b="urn:un:unece:uncefact:data:standard:ReusableAggregateBusinessInformationEntity:100" xmlns:c="urn:un:unece:uncefact:data:standard:UnqualifiedDataType:100">
<a:ExchangedDocument><b:ID> 25-311 </b:ID><b:TypeCode>380</b:TypeCode><b:IssueDateTime><c:DateTimeString format="102">20251031</c:DateTimeString></b:IssueDateTime></a:ExchangedDocument>
<a:SupplyChainTradeTransaction><b:ApplicableHeaderTradeAgreement>
<b:SellerTradeParty><b:Name>Skerrow Coastal Ltd</b:Name><b:SpecifiedTaxRegistration><b:ID schemeID="FC">12345</b:ID></b:SpecifiedTaxRegistration><b:SpecifiedTaxRegistration><b:ID schemeID="VA">IE0000000X</b:ID></b:SpecifiedTaxRegistration></b:SellerTradeParty>
<b:BuyerTradeParty><b:Name>Port of Calderwick</b:Name></b:BuyerTradeParty></b:ApplicableHeaderTradeAgreement>
<b:ApplicableHeaderTradeSettlement><b:InvoiceCurrencyCode>EUR</b:InvoiceCurrencyCode>
<b:SpecifiedTradePaymentTerms><b:DueDateDateTime><c:DateTimeString format="102">20251130</c:DateTimeString></b:DueDateDateTime></b:SpecifiedTradePaymentTerms>
<b:SpecifiedTradePaymentTerms><b:DueDateDateTime><c:DateTimeString format="102">20251231</c:DateTimeString></b:DueDateDateTime></b:SpecifiedTradePaymentTerms>
<b:SpecifiedTradeSettlementHeaderMonetarySummation><b:TaxBasisTotalAmount>1000.0000</b:TaxBasisTotalAmount><b:TaxTotalAmount currencyID="EUR">230</b:TaxTotalAmount><b:TaxTotalAmount currencyID="USD">250</b:TaxTotalAmount>
<b:GrandTotalAmount>1230.00</b:GrandTotalAmount><b:TotalPrepaidAmount>230.00</b:TotalPrepaidAmount><b:DuePayableAmount>1000.00</b:DuePayableAmount></b:SpecifiedTradeSettlementHeaderMonetarySummation></b:ApplicableHeaderTradeSettlement></a:SupplyChainTradeTransaction></a:CrossIndustryInvoice>`

func TestAnEInvoiceOfAnotherProgramIsRead(t *testing.T) {
	rows, err := Table([]byte(foreign))
	want := []string{"Port of Calderwick", "", "25-311", "2025-10-31", "2025-12-31", "1000.00", "EUR", "invoice", "IE0000000X"}
	if err != nil || len(rows) != 1 || strings.Join(rows[0], "|") != strings.Join(want, "|") || len(want) != len(Columns) {
		t.Errorf("%q, %v", rows, err)
	}
}

func TestABrokenEInvoiceIsRefusedInWords(t *testing.T) {
	for _, c := range []struct{ from, to, says string }{
		{"CrossIndustryInvoice", "Invoice", "must be a Cross Industry Invoice"},
		{"<b:ID> 25-311 </b:ID>", "", "no number"},
		{"20251031", "31.10.2025", "no date"},
		{"20251130", "soon", "which is no date"},
		{">EUR</b:InvoiceCurrencyCode>", ">XXX</b:InvoiceCurrencyCode>", "no currency"},
		{">1000.00</b:DuePayableAmount>", ">999.00</b:DuePayableAmount>", "does not add up"},
		{">1000.0000<", ">1000.0001<", "can't be read"},
		{">230</b:TaxTotalAmount>", ">231</b:TaxTotalAmount>", "does not add up"},
		{"<b:GrandTotalAmount>1230.00</b:GrandTotalAmount>", "", "does not say what is to be paid"},
		{"</a:CrossIndustryInvoice>", "", "can be read"},
	} {
		_, err := Parse([]byte(strings.ReplaceAll(foreign, c.from, c.to)))
		if err == nil || !strings.Contains(err.Error(), c.says) {
			t.Errorf("%s: %v", c.from, err)
		}
	}
	if _, err := Parse(make([]byte, maxFile+1)); err == nil || !strings.Contains(err.Error(), "larger") {
		t.Errorf("%v", err)
	}
}

// An entity of its own, as it was used to read files of the machine, is no text here.
func TestNothingIsReadFromElsewhere(t *testing.T) {
	secret := filepath.Join(t.TempDir(), "secret")
	if err := os.WriteFile(secret, []byte("seen"), 0o600); err != nil {
		t.Fatal(err)
	}
	read, err := Parse([]byte(strings.Replace(strings.Replace(foreign, `<?xml version="1.0"?>`,
		`<?xml version="1.0"?><!DOCTYPE x [<!ENTITY e SYSTEM "file://`+secret+`">]>`, 1), "Port of Calderwick", "&e;", 1)))
	if err == nil {
		t.Errorf("read as %+v", read)
	}
}

func TestAnArchiveOfEInvoicesIsReadFileByFile(t *testing.T) {
	var out bytes.Buffer
	archive := zip.NewWriter(&out)
	for name, content := range map[string]string{"a.xml": foreign, "b.XML": strings.Replace(foreign, "25-311", "25-312", 1),
		"readme.txt": "no"} {
		w, err := archive.Create(name)
		if err != nil {
			t.Fatal(err)
		}
		if _, err := w.Write([]byte(content)); err != nil {
			t.Fatal(err)
		}
	}
	if err := archive.Close(); err != nil {
		t.Fatal(err)
	}
	rows, err := Table(out.Bytes())
	if err != nil || len(rows) != 2 || !Is(out.Bytes()) || !Is([]byte("  "+foreign)) || Is([]byte("Client,Number\n")) {
		t.Errorf("%q, %v", rows, err)
	}
}

func FuzzReadingNeverBreaks(f *testing.F) {
	f.Add([]byte(foreign))
	doc := computed(f, invoice.Asked{}, billed(invoice.Time, "S", 10_000, 60, 100_0000))
	data, err := Write(doc)
	if err != nil {
		f.Fatal(err)
	}
	f.Add(data)
	f.Fuzz(func(t *testing.T, data []byte) {
		rows, err := Table(data)
		if err == nil && (len(rows) == 0 || len(rows[0]) != len(Columns)) {
			t.Errorf("%q is read as %q", data, rows)
		}
	})
}
