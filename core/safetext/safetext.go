// Package safetext says what text may leave the house in a file, whatever the file
// is: no broken encoding, no control characters, nothing that turns the direction
// of text around. What a format has besides (separators, formulas, letters that
// it lacks) is for its writer.
package safetext

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"dorvet/core/refusal"
)

// The most characters that texts have, by their kind.
const (
	MostOfName = 200
	MostOfLine = 2_000
	MostOfNote = 20_000
)

// Within refuses a text with more characters than its kind has.
func Within(text string, most int) error {
	if n := utf8.RuneCountInString(text); n > most {
		return refusal.Errorf("this text has %d characters, of at most %d: shorten it", n, most)
	}
	return nil
}

// Line is a text on one line: breaks and tabs are spaces.
func Line(text string) string { return clean(text, false) }

// Lines is a text that keeps its line breaks.
func Lines(text string) string { return clean(strings.ReplaceAll(text, "\r\n", "\n"), true) }

func clean(text string, breaks bool) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\n' && breaks:
			return r
		case r == '\t' || r == '\n' || r == '\u2028' || r == '\u2029':
			return ' '
		case unicode.IsControl(r), turns(r), r == '\ufffe' || r == '\uffff':
			return -1
		}
		return r
	}, strings.ToValidUTF8(text, "?"))
}

// turns reports whether a character overrides the direction of text, by which a
// number can be made to read another way than it is: Unicode Standard Annex 9.
func turns(r rune) bool {
	return r >= 0x202A && r <= 0x202E || r >= 0x2066 && r <= 0x2069 || r == 0x200E || r == 0x200F || r == 0x061C
}

// FileName is a text as the name of a file, without what a file system or an archive
// would read as something else.
func FileName(text string) string {
	return strings.Map(func(r rune) rune {
		if strings.ContainsRune(`/\:*?"<>|`, r) || r < ' ' {
			return '-'
		}
		return r
	}, text)
}

// Unsayable is the error of a document that a format can't say, in a sentence
// that ends with what to do instead.
type Unsayable struct{ Sentence string }

func (u *Unsayable) Error() string { return u.Sentence }
