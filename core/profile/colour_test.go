package profile

import "testing"

// Source: WCAG 2.2, 1.4.3 and its formula of contrast: on white #767676 is the lightest
// grey that may be text (4.54), #777777 no more (4.48), from memory.
func TestAColourMustBeDarkEnoughToBeRead(t *testing.T) {
	for _, c := range []struct {
		typed, kept string
	}{{"#0f5f68", "#0F5F68"}, {"000000", "#000000"}, {"#767676", "#767676"}, {"#777777", ""}, {"#FFFFFF", ""}, {"#FFEE88", ""},
		{"teal", ""},
		{"#12345", ""}, {"#1234567", ""}} {
		kept, err := colour(c.typed)
		if kept != c.kept || (err == nil) != (c.kept != "") {
			t.Errorf("%s: %q, %v", c.typed, kept, err)
		}
	}
}
