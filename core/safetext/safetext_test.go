package safetext

import "testing"

// Source: the bidirectional controls of Unicode Standard Annex 9, table 1, and the
// control characters C0 and C1 of ISO/IEC 6429.
func TestTextThatLeavesTheHouse(t *testing.T) {
	for _, c := range []struct{ name, in, line, lines string }{
		{"plain text stays", "Café, 1.000 € – Ελλάδα", "Café, 1.000 € – Ελλάδα", "Café, 1.000 € – Ελλάδα"},
		{"breaks are spaces on one line", "a\nb\tc\r\nd", "a b c d", "a\nb c\nd"},
		{"control characters go", "a\x00b\x1bc\u0085d\x7f", "abcd", "abcd"},
		{"nothing turns text around", "1\u202e23\u2066\u200f\u061c.00", "123.00", "123.00"},
		{"broken encoding is marked", "a\xffb", "a?b", "a?b"},
		{"what XML forbids goes", "a\ufffeb\uffffc", "abc", "abc"},
	} {
		if got := Line(c.in); got != c.line {
			t.Errorf("%s: on one line %q, not %q", c.name, got, c.line)
		}
		if got := Lines(c.in); got != c.lines {
			t.Errorf("%s: with lines %q, not %q", c.name, got, c.lines)
		}
	}
}

func FuzzCleanTextIsCleanAlready(f *testing.F) {
	f.Add("a\u202eb\n\x00")
	f.Fuzz(func(t *testing.T, text string) {
		if once := Lines(text); Lines(once) != once || Line(Line(text)) != Line(text) {
			t.Errorf("%q is cleaned twice", text)
		}
	})
}

// Source: the characters that Windows, macOS or a ZIP (APPNOTE 4.4.17) give a meaning
// in names, common practice.
func TestNamesOfFilesAreNamesEverywhere(t *testing.T) {
	if got := FileName(`SC1/2: "a" <b>|c` + "\x07"); got != "SC1-2- -a- -b--c-" {
		t.Errorf("%q", got)
	}
}
