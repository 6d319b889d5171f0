package documents

import (
	"bytes"
	"encoding/xml"
	"io"
	"os"
	"os/exec"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"dorvet/core/invoice"
	"dorvet/internal/documents/einvoice"
)

func saved(t *testing.T, content []byte) string {
	t.Helper()
	path := filepath.Join(t.TempDir(), "invoice.pdf")
	if err := os.WriteFile(path, content, 0o600); err != nil {
		t.Fatal(err)
	}
	return path
}

// Oracle: poppler takes the e-invoice out of the PDF again, byte for byte; qpdf finds
// no fault in the file.
func TestThePDFHasItselfInsideAsAnEInvoice(t *testing.T) {
	doc := dressed(t, 30, invoice.Look{Code: true}, "")
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	path, out := saved(t, content), filepath.Join(t.TempDir(), "out.xml")
	if said, err := exec.Command("pdfdetach", "-save", "1", "-o", out, path).CombinedOutput(); err != nil {
		t.Fatalf("%v: %s", err, said)
	}
	got, err := os.ReadFile(out)
	if err != nil {
		t.Fatal(err)
	}
	want, err := einvoice.Write(&doc)
	if err != nil || !bytes.Equal(got, want) {
		t.Errorf("%d bytes inside, of %d, %v", len(got), len(want), err)
	}
	if said, err := exec.Command("qpdf", "--check", path).CombinedOutput(); err != nil ||
		!strings.Contains(string(said), "No syntax or stream encoding errors") {
		t.Errorf("%v: %s", err, said)
	}
}

// What PDF/A-3 (ISO 19005-3) asks for and a reader of files can see: metadata that say
// part 3 and conformance B and the same as the dictionary does, an output intent, an
// identity, no encryption, the file inside in its relation, no transparency of fonts.
func TestThePDFIsMadeForTheArchive(t *testing.T) {
	doc := dressed(t, 2, invoice.Look{}, "")
	doc.Issuer.Name = "Skerrow & <Sons>"
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	path := saved(t, content)
	metadata, err := exec.Command("pdfinfo", "-meta", path).Output()
	if err != nil {
		t.Fatal(err)
	}
	for from := xml.NewDecoder(bytes.NewReader(metadata)); ; {
		if _, err := from.Token(); err == io.EOF {
			break
		} else if err != nil {
			t.Fatalf("the metadata are not well-formed: %v\n%s", err, metadata)
		}
	}
	for _, want := range []string{"<pdfaid:part>3</pdfaid:part>", "<pdfaid:conformance>B</pdfaid:conformance>", "Invoice SC1001",
		"Skerrow &amp; &lt;Sons&gt;", "<xmp:CreateDate>2026-12-01T00:00:00Z</xmp:CreateDate>",
		"<fx:DocumentFileName>factur-x.xml</fx:DocumentFileName>", "<fx:ConformanceLevel>EN 16931</fx:ConformanceLevel>"} {
		if !strings.Contains(string(metadata), want) {
			t.Errorf("%q is not in the metadata:\n%s", want, metadata)
		}
	}
	info := poppler(t, content, "pdfinfo")
	for _, want := range []string{"Title:           Invoice SC1001", "Author:          Skerrow & <Sons>", "Encrypted:       no",
		"PDF version:     1.7", "Tue Dec  1 00:00:00 2026"} {
		if !strings.Contains(info, want) {
			t.Errorf("%q is not in:\n%s", want, info)
		}
	}
	last := string(content[bytes.LastIndex(content, []byte("trailer")):])
	if !regexp.MustCompile(`/ID \[<[0-9a-f]{32}> <[0-9a-f]{32}>\]`).MatchString(last) || strings.Contains(last, "/Encrypt") {
		t.Errorf("%q", last)
	}
	for _, want := range []string{"/S /GTS_PDFA1", "/AFRelationship /Alternative", "/Subtype /text#2Fxml", "/AF ["} {
		if !bytes.Contains(content, []byte(want)) {
			t.Errorf("%q is not in the file", want)
		}
	}
}

// What can't be said as an e-invoice is printed all the same, without one inside.
func TestAnInvoiceThatCannotBeSaidIsPrintedAllTheSame(t *testing.T) {
	doc := dressed(t, 2, invoice.Look{}, "")
	doc.Client.Country = ""
	content, err := PDF(doc)
	if err != nil {
		t.Fatal(err)
	}
	said, err := exec.Command("pdfdetach", "-list", saved(t, content)).CombinedOutput()
	if err != nil || !strings.Contains(string(said), "0 embedded files") || bytes.Contains(content, []byte("fx:DocumentType")) {
		t.Errorf("%s, %v", said, err)
	}
}
