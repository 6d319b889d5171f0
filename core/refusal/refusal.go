// Package refusal is the answer of a rule to what can't be done: a sentence that says
// what is wrong and what to do, and the input that it belongs to. Everything else that
// goes wrong is a failure, an ordinary error: of the disk, of the data, of the program.
// The two are never taken for each other: whoever asked reads a refusal and mends what
// they gave; a failure is for whoever runs the program.
//
//	_, err := day.Parse("31 November")
//	refusal.Is(err) // true: "31 November" is not a date …
package refusal

import (
	"errors"
	"fmt"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Refusal is an answer that says what was wrong and what to do.
type Refusal struct {
	Kind     Kind
	Field    string // the input that it belongs to, or nothing
	Sentence string // for a person; of the core in Go's manner, without a capital and a stop
}

// Kind is why something was refused.
type Kind int

// Invalid input can be corrected; a conflict is with what has happened since.
const (
	Invalid Kind = iota
	Conflict
	NotFound
	Forbidden
	Unproved // the password is to be typed again first
	Wait     // it was tried too often
)

func (r *Refusal) Error() string { return r.Sentence }

// Words is the sentence as a person reads it, with a capital and a stop.
func (r *Refusal) Words() string { return asSentence(r.Sentence) }

// Errorf makes a refusal as [fmt.Errorf] makes an error. What it wraps must be a
// refusal itself: a failure that is wrapped stays one.
func Errorf(format string, values ...any) error {
	err := fmt.Errorf(format, values...)
	if cause := errors.Unwrap(err); cause != nil && !Is(cause) {
		return err
	}
	return &Refusal{Sentence: err.Error()}
}

// Is reports whether an error is a refusal, or wraps one.
func Is(err error) bool {
	var refusal *Refusal
	return errors.As(err, &refusal)
}

// As makes a refusal of a kind and a field of another one; a failure is passed on as
// it is.
func As(kind Kind, field string, err error) error {
	var refusal *Refusal
	if !errors.As(err, &refusal) {
		return err
	}
	if refusal.Field != "" {
		field = refusal.Field
	}
	if refusal.Kind != Invalid {
		kind = refusal.Kind
	}
	text := err.Error()
	if refusal.Kind != Invalid || refusal.Field != "" {
		text = refusal.Sentence // what was being done is not for whoever asked
	}
	return &Refusal{kind, field, asSentence(text)}
}

// asSentence writes an error of Go's manner as a sentence.
func asSentence(text string) string {
	if text == "" {
		return ""
	}
	first, size := utf8.DecodeRuneInString(text)
	text = string(unicode.ToUpper(first)) + text[size:]
	if strings.ContainsRune(".?!", rune(text[len(text)-1])) || strings.HasSuffix(text, "…") {
		return text
	}
	return text + "."
}
