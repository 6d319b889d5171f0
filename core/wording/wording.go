// Package wording says what stands on a document in the language of who reads
// it: labels, days and numbers. Languages are named by ISO 639-1; days and
// numbers are written as the Unicode CLDR has them for each language.
//
//	1,234.50 on 30 Nov 2026      en
//	1.234,50 am 30.11.2026       de
//	1 234,50 le 30 nov. 2026     fr
//
// A firm can put words of its own in place of any label.
package wording

import (
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"

	"dorvet/core/refusal"
)

// Language is a language of documents, by ISO 639-1.
type Language string

// The languages. Another one is read as English.
const (
	English Language = "en"
	German  Language = "de"
	French  Language = "fr"
	Spanish Language = "es"
	Polish  Language = "pl"
	Greek   Language = "el"
)

// Languages are all languages of documents, in the order of the table of labels.
var Languages = []Language{English, German, French, Spanish, Polish, Greek}

var names = map[Language]string{English: "English", German: "German", French: "French", Spanish: "Spanish", Polish: "Polish",
	Greek: "Greek"}

// Name is the language in English.
func (l Language) Name() string { return names[l] }

// Known is the language if documents can be written in it, else English.
func (l Language) Known() Language {
	if _, known := names[l]; known {
		return l
	}
	return English
}

// Label is a word or sentence of a document, by its name.
type Label string

// Words are the words of one language, some of them replaced by the firm's own.
// The zero value is English.
type Words struct {
	Language Language
	Own      map[Label]string
}

// Say is a label in the language, with what stands in braces filled in: pairs of
// name and text. A label that does not exist is a mistake of the program.
func (w Words) Say(label Label, pairs ...string) string {
	text := w.Own[label]
	if text == "" {
		text = Standard(w.Language, label)
	}
	if len(pairs) == 0 {
		return text
	}
	for i := 0; i < len(pairs); i += 2 {
		pairs[i] = "{" + pairs[i] + "}"
	}
	return strings.NewReplacer(pairs...).Replace(text)
}

// Standard is a label as it is in a language before anybody rewords it.
func Standard(l Language, label Label) string {
	texts, known := labels[label]
	if !known {
		panic("there is no label " + string(label))
	}
	return texts[slices.Index(Languages, l.Known())]
}

// Check refuses words in place of a label that lack what is filled in there, or
// have something that is not.
func Check(label Label, text string) error {
	if _, known := labels[label]; !known {
		return refusal.Errorf("documents have no %q", label)
	}
	needed := places(Standard(English, label))
	given := places(text)
	for _, name := range needed {
		if !slices.Contains(given, name) {
			return refusal.Errorf("%q leaves out %s, which is filled in there: put it in", text, name)
		}
	}
	for _, name := range given {
		if !slices.Contains(needed, name) {
			return refusal.Errorf("%q has %s, for which nothing is filled in there: take it out", text, name)
		}
	}
	return nil
}

// places are what stands in braces in a text.
func places(text string) []string {
	found := []string{}
	for {
		_, rest, opened := strings.Cut(text, "{")
		name, after, closed := strings.Cut(rest, "}")
		if !opened || !closed {
			return found
		}
		found, text = append(found, "{"+name+"}"), after
	}
}

// Capital is a text as a sentence begins with it.
func Capital(text string) string {
	if text == "" {
		return ""
	}
	first, size := utf8.DecodeRuneInString(text)
	return string(unicode.ToUpper(first)) + text[size:]
}
