package schedule

import (
	"testing"

	"dorvet/core/wording"
)

// In English the words of a document are those of the desks.
func TestTermsAreSaidInTheLanguageOfTheDocument(t *testing.T) {
	for _, c := range []struct{ terms, de, el string }{{"receipt", "sofort", "με την παραλαβή"}, {"1d", "1 Tag", "1 ημέρα"},
		{"30d", "30 Tage", "30 ημέρες"}, {"1m", "1 Monat", "1 μήνας"}, {"2m", "2 Monate", "2 μήνες"},
		{"eom", "Monatsende", "τέλος του μήνα"}, {"eom+15d", "Monatsende plus 15 Tage", "τέλος του μήνα και 15 ημέρες"},
		{"30d+eom", "30 Tage, dann Monatsende", "30 ημέρες, έως το τέλος του μήνα"},
		{"day15", "am nächsten 15. eines Monats", "την επόμενη 15η του μήνα"}} {
		terms, err := ParseTerms(c.terms)
		if err != nil {
			t.Fatal(err)
		}
		if got := terms.In(wording.Words{}); got != terms.String() {
			t.Errorf("%s: %q on a document, %q on the desk", c.terms, got, terms)
		}
		if got := terms.In(wording.Words{Language: wording.German}); got != c.de {
			t.Errorf("%s: %q, not %q", c.terms, got, c.de)
		}
		if got := terms.In(wording.Words{Language: wording.Greek}); got != c.el {
			t.Errorf("%s: %q, not %q", c.terms, got, c.el)
		}
	}
}
