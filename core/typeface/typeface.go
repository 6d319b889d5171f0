// Package typeface has the typefaces of documents, and knows what they can print:
// a character that one lacks is found before an invoice is issued, never lost in
// silence.
//
// They are Source Sans 3 and Source Serif 4, whole, under the SIL Open Font License
// (LICENSE.md): what a document has of them is made when it is drawn.
package typeface

import (
	_ "embed"
	"sync"

	"dorvet/core/safetext"

	"golang.org/x/image/font/sfnt"
)

var (
	//go:embed SourceSans3-Regular.ttf
	sansRegular []byte
	//go:embed SourceSans3-Semibold.ttf
	sansSemibold []byte
	//go:embed SourceSerif4-Regular.ttf
	serifRegular []byte
	//go:embed SourceSerif4-Semibold.ttf
	serifSemibold []byte
)

// Face is a typeface in two weights.
type Face struct {
	Name              string
	Regular, Semibold []byte
	printable         func() *[0x10000]bool
}

var (
	sans  = &Face{"SourceSans3", sansRegular, sansSemibold, sync.OnceValue(func() *[0x10000]bool { return covered(sansRegular) })}
	serif = &Face{"SourceSerif4", serifRegular, serifSemibold, sync.OnceValue(func() *[0x10000]bool { return covered(serifRegular) })}
)

// Of are the typefaces of a choice, that of texts and that of headings: sans, serif,
// or mixed. Anything else is sans.
func Of(choice string) (text, head *Face) {
	switch choice {
	case "serif":
		return serif, serif
	case "mixed":
		return sans, serif
	}
	return sans, sans
}

// Missing is the first character of a text that a typeface of the choice lacks. What
// never gets on paper (see package safetext) is not missed.
func Missing(choice, text string) (lacks rune, missing bool) {
	first, second := Of(choice)
	for _, r := range safetext.Line(text) {
		if r > 0xFFFF || !first.printable()[r] || !second.printable()[r] {
			return r, true
		}
	}
	return 0, false
}

// covered is which characters a typeface has, by its own table; a typeface that can't
// be read is a mistake of the build.
func covered(file []byte) *[0x10000]bool {
	font, err := sfnt.Parse(file)
	if err != nil {
		panic(err)
	}
	table, buffer := new([0x10000]bool), sfnt.Buffer{}
	for r := range rune(0x10000) {
		if glyph, err := font.GlyphIndex(&buffer, r); err == nil && glyph != 0 {
			table[r] = true
		}
	}
	return table
}
