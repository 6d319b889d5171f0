package paymentmethod

import (
	"fmt"
	"math/rand/v2"
	"regexp"
	"strings"
	"testing"
)

var reference = regexp.MustCompile(`^RF\d{2}[A-Z0-9]{1,21}$`)

// isReference reports whether a text is a creditor reference whose check digits are right, as printed or in one.
func isReference(text string) bool {
	compact := strings.ToUpper(strings.ReplaceAll(text, " ", ""))
	return reference.MatchString(compact) && mod97(compact)
}

// Source: ISO 11649 with the published example RF18 5390 0754 7034; ISO 7064, MOD 97-10, finds every wrong digit and every two that were
// exchanged.
func TestTheCreditorReferenceOfANumber(t *testing.T) {
	if got := Reference("539007547034"); got != "RF18539007547034" || !isReference("RF18 5390 0754 7034") {
		t.Errorf("%s", got)
	}
	for number, want := range map[string]bool{"SC1046": true, "2026/0007": true, "Nº 7": true, "–": false, "": false,
		strings.Repeat("9", 40): true} {
		if got := Reference(number); (got != "") != want || want && !isReference(got) || len(got) > 25 {
			t.Errorf("%s: %q", number, got)
		}
	}
	random := rand.New(rand.NewPCG(11, 649))
	for range 5_000 {
		right := Reference(fmt.Sprint("SC", random.IntN(1e6)))
		at := 2 + random.IntN(len(right)-3)
		wrong := []byte(right)
		if random.IntN(2) == 0 {
			wrong[at], wrong[at+1] = wrong[at+1], wrong[at]
		} else if wrong[at] >= '0' && wrong[at] <= '9' {
			wrong[at] = '0' + (wrong[at]-'0'+byte(1+random.IntN(9)))%10
		}
		if string(wrong) != right && isReference(string(wrong)) {
			t.Fatalf("%s is taken for %s", wrong, right)
		}
	}
	for _, text := range []string{"RF18", "RF18 5390 0754 7035", "RX18539007547034", "RF18-539007547034", ""} {
		if isReference(text) {
			t.Errorf("%q is one", text)
		}
	}
}
