package bank

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"os"
	"strings"
	"testing"
	"time"

	"dorvet/core/day"
)

// elements are every element of a file with its path, its attributes but for namespaces, and its text, by a reader that knows nothing of the
// writer.
func elements(t *testing.T, content []byte) []string {
	t.Helper()
	list, path, text := []string{}, []string{}, ""
	decoder := xml.NewDecoder(bytes.NewReader(content))
	for {
		token, err := decoder.Token()
		if errors.Is(err, io.EOF) {
			return list
		}
		if err != nil {
			t.Fatal(err)
		}
		switch e := token.(type) {
		case xml.StartElement:
			name := e.Name.Local
			for _, a := range e.Attr {
				if a.Name.Local == "Ccy" {
					name += " " + a.Value
				}
			}
			if path, text = append(path, name), ""; e.Name.Space != "urn:iso:std:iso:20022:tech:xsd:pain.001.001.09" {
				t.Errorf("%s is in %q", name, e.Name.Space)
			}
		case xml.CharData:
			text += string(e)
		case xml.EndElement:
			if text = strings.TrimSpace(text); text != "" {
				list = append(list, strings.Join(path, "/")+" = "+text)
			}
			path, text = path[:len(path)-1], ""
		}
	}
}

// The same order as a file of another hand: testdata/pain.001.xml was written by the library sepa 3.0.0 of the npm registry from the same
// values. Source: ISO 20022, pain.001.001.09. Numbers of parts are each writer's own.
func TestAnOrderIsAsAnotherHandWritesIt(t *testing.T) {
	theirs, err := os.ReadFile("testdata/pain.001.xml")
	if err != nil {
		t.Fatal(err)
	}
	ours, err := Order{ID: "DORVET-1", Made: time.Date(2026, 12, 1, 9, 0, 0, 0, time.UTC), On: day.Of(2026, 12, 2), Currency: "EUR",
		Payer: Holder{"Example Ltd", "IE29AIBK93115212345678", "AIBKIE2DXXX"}, Payments: []Ordered{
			{Holder{"Jean Dupont", "FR1420041010050500013M02606", ""}, 12_50, "R1", "Refund"},
			{Holder{"Ann O'Neil", "DE89370400440532013000", ""}, 100_00, "E2", "Expenses"}}}.File()
	if err != nil {
		t.Fatal(err)
	}
	want, got := elements(t, theirs), elements(t, ours)
	if len(want) != len(got) {
		t.Fatalf("%d elements, not %d:\n%s", len(got), len(want), strings.Join(got, "\n"))
	}
	for i := range want {
		own := strings.Contains(want[i], "/InstrId = ") || strings.Contains(want[i], "/PmtInfId = ")
		if path, _, _ := strings.Cut(want[i], " = "); !own && got[i] != want[i] || !strings.HasPrefix(got[i], path+" = ") {
			t.Errorf("%s, not %s", got[i], want[i])
		}
	}
}

// Banks take the Latin letters, digits and /-?:().,'+ (European Payments Council, EPC217-08), names of 70 and texts of 140 characters; without a
// BIC the payer's bank is NOTPROVIDED; other currencies have no decimals or three.
func TestAnOrderIsWrittenAsBanksTakeIt(t *testing.T) {
	if got := latin("  Müller & Söhne – „Büro“\nŁódź ★ ", 140); got != "Mueller + Soehne - Buero Lodz" {
		t.Errorf("%q", got)
	}
	if got := latin(strings.Repeat("ä", 100), 70); len(got) != 70 {
		t.Errorf("%q", got)
	}
	file, err := Order{ID: strings.Repeat("X", 40), On: day.Of(2026, 12, 2), Currency: "JPY", Payer: Holder{"A", "I", ""},
		Payments: []Ordered{{Holder{"B", "J", "BIC"}, 1234, "e", "t"}}}.File()
	if err != nil {
		t.Fatal(err)
	}
	all := strings.Join(elements(t, file), "\n")
	for _, want := range []string{"InstdAmt JPY = 1234", "DbtrAgt/FinInstnId/Othr/Id = NOTPROVIDED", "CdtrAgt/FinInstnId/BICFI = BIC",
		"InstrId = " + strings.Repeat("X", 33) + ".1"} {
		if !strings.Contains(all, want) {
			t.Errorf("%s is not in\n%s", want, all)
		}
	}
	if strings.Contains(all, "SEPA") {
		t.Error("yen are paid as euros")
	}
}
