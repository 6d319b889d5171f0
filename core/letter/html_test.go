package letter

import (
	"encoding/xml"
	"strings"
	"testing"
)

// What is shown is what was written: nothing in it is read as markup, and only addresses become links.
func TestTheShownFormSaysThePlainText(t *testing.T) {
	shown := HTML("Dear <b>Bo</b> & Co,\nsee https://firm.example/invoice#a_b-c. Or https://firm.example/?a=1&b=2, now\n\n\njavascript:alert(1)\n", `#0F5F68`)
	for _, want := range []string{"Dear &lt;b&gt;Bo&lt;/b&gt; &amp; Co,<br>see ",
		`<a href="https://firm.example/invoice#a_b-c" style="color:#0F5F68">https://firm.example/invoice#a_b-c</a>. Or `,
		`href="https://firm.example/?a=1&amp;b=2"`, "<p style=\"margin:0 0 1em\">javascript:alert(1)</p>"} {
		if !strings.Contains(shown, want) {
			t.Errorf("%q is not in %s", want, shown)
		}
	}
	text, links := new(strings.Builder), 0
	reader := xml.NewDecoder(strings.NewReader(shown))
	reader.Strict, reader.AutoClose, reader.Entity = false, xml.HTMLAutoClose, xml.HTMLEntity
	for {
		token, err := reader.Token()
		if err != nil {
			break
		}
		switch token := token.(type) {
		case xml.CharData:
			text.Write(token)
		case xml.StartElement:
			if token.Name.Local == "a" {
				links++
			}
			if token.Name.Local == "img" || token.Name.Local == "script" {
				t.Errorf("it has a %s", token.Name.Local)
			}
		}
	}
	if links != 2 || !strings.HasPrefix(text.String(), "Dear <b>Bo</b> & Co,see https://firm.example/invoice#a_b-c. Or ") {
		t.Errorf("%d links in %q", links, text)
	}
}

func TestPlacesThatSayNothingLeaveNoGap(t *testing.T) {
	if got := Tidied("\nDear Bo,\n\nhere. \n\n\n\nYours\n"); got != "Dear Bo,\n\nhere.\n\nYours" {
		t.Errorf("%q", got)
	}
}

// Source: RFC 3463, 3.2 to 3.8: the classes and subjects of statuses.
func TestARemedyFitsTheStatus(t *testing.T) {
	for status, word := range map[string]string{"5.1.1": "address", "5.2.2": "full", "5.2.1": "takes nothing", "5.3.4": "large", "5.7.1": "refuses",
		"4.4.1": "later", "5.0.0": "another address", "": "print"} {
		if got := Remedy(status); !strings.Contains(got, word) {
			t.Errorf("%s: %s", status, got)
		}
	}
}
