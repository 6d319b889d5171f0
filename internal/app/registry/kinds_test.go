package registry

import "testing"

func TestCodesAreOfferedAfterTheHighest(t *testing.T) {
	for want, codes := range map[string][]string{"C010": {"C001", "C009", "AB"}, "X1": {}, "C100": {"C099"}, "8": {"7"}} {
		if got := nextCode(codes, "X1"); got != want {
			t.Errorf("after %v comes %s, want %s", codes, got, want)
		}
	}
}
