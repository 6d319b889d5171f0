package invoice

import (
	"fmt"
	"testing"
)

// Source: the emphasis of CommonMark (0.31, section 6.2), of which this is the simplest part:
// stars that hug a word are no text, stars between spaces are.
func TestStarsAroundWordsAreEmphasis(t *testing.T) {
	for text, want := range map[string]string{
		"the *final* survey":         "[{the  false} {final true} { survey false}]",
		"*Final survey*, leg 2":      "[{Final survey true} {, leg 2 false}]",
		"*a* *b*":                    "[{a true} {  false} {b true}]",
		"(*a*)":                      "[{( false} {a true} {) false}]",
		"2 * 3 * 4":                  "[{2 * 3 * 4 false}]",
		"file*name*part":             "[{file*name*part false}]",
		"*":                          "[{* false}]",
		"**":                         "[{** false}]",
		"*a":                         "[{*a false}]",
		"":                           "[]",
		"Chart *№ 3*: “*der* Hafen”": "[{Chart  false} {№ 3 true} {: “ false} {der true} { Hafen” false}]",
	} {
		if got := fmt.Sprint(Runs(text)); got != want {
			t.Errorf("%q: %s, want %s", text, got, want)
		}
	}
	if got := Plain("the *final* survey, 2 * 3"); got != "the final survey, 2 * 3" {
		t.Errorf("%q", got)
	}
}
