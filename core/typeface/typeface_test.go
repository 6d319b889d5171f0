package typeface

import (
	"testing"

	"golang.org/x/text/unicode/norm"
)

// Source: the alphabets of the languages of documents, and the signs of money and
// typography that people type; what has no glyph is found whichever typeface it is in.
func TestWhatTheTypefacesCanPrint(t *testing.T) {
	for _, choice := range []string{"sans", "serif", "mixed", ""} {
		for _, text := range []string{"ABC xyz 0123456789 &%§", "ÄÖÜäöüß", "àâæçéèêëîïôœùûüÿ «»", "áéíñóúü¿¡", "ąćęłńóśźż ĄĆĘŁŃÓŚŹŻ",
			"αβγδεζηθικλμνξοπρσςτυφχψω ΆΈΉΊΌΎΏ άέήίόύώ ϊϋΐΰ", "съёмка дна",
			"€ £ ¥ $ – — … “” ‘’ „ · × − ½ № © \u00a0\u202f", norm.NFC.String("é")} {
			if r, missing := Missing(choice, text); missing {
				t.Errorf("%s lacks %q of %q", choice, r, text)
			}
		}
		for text, want := range map[string]rune{"Snow ☃": '☃', "survey 水": '水', "done 😀": '😀', "שלום": 'ש'} {
			if r, missing := Missing(choice, text); !missing || r != want {
				t.Errorf("%s: of %q %q is missing, %v", choice, text, r, missing)
			}
		}
		if r, missing := Missing(choice, "a\x00b\u202ec\nd"); missing {
			t.Errorf("%q never gets on paper, and is missed", r)
		}
	}
	if text, head := Of("mixed"); text == head {
		t.Error("mixed has one typeface")
	}
}

func BenchmarkAHundredLines(b *testing.B) {
	for b.Loop() {
		for range 100 {
			Missing("sans", "Difference chart against the last survey, berth 4")
		}
	}
}
