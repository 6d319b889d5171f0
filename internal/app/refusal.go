package app

import (
	"errors"
	"fmt"
	"unicode"
	"unicode/utf8"

	"dorvet/internal/store"
)

// Refusal is an answer that says what was wrong and what to do, in a sentence
// for the person who asked.
type Refusal struct {
	Kind     Kind
	Field    string // the input that it belongs to, or nothing
	Sentence string
}

// Kind is why an act was refused.
type Kind int

// Invalid input can be corrected; a conflict is with what has happened since.
const (
	Invalid Kind = iota
	Conflict
	NotFound
	Forbidden
)

func (r *Refusal) Error() string { return r.Sentence }

// Refuse makes a refusal of input that belongs to no one field.
func Refuse(kind Kind, sentence string, values ...any) error {
	return &Refusal{Kind: kind, Sentence: fmt.Sprintf(sentence, values...)}
}

// RefuseField makes a refusal of one field's input.
func RefuseField(field, sentence string, values ...any) error {
	return &Refusal{Invalid, field, fmt.Sprintf(sentence, values...)}
}

// InField turns the core's error about an input into a refusal of its field.
func InField(field string, err error) error {
	if err == nil {
		return nil
	}
	return &Refusal{Invalid, field, sentence(err)}
}

// AsConflict turns the core's error about an illegal step into a refusal.
func AsConflict(err error) error {
	if err == nil {
		return nil
	}
	return &Refusal{Conflict, "", sentence(err)}
}

// sentence writes an error of Go's manner as a sentence.
func sentence(err error) string {
	text := err.Error()
	first, size := utf8.DecodeRuneInString(text)
	return string(unicode.ToUpper(first)) + text[size:] + "."
}

// Missing says in words what a lookup did not find, and passes other errors on.
func Missing(err error, what string) error {
	if errors.Is(err, store.ErrNotFound) {
		return Refuse(NotFound, "There is no such %s: it may have been removed. Go back and choose another.", what)
	}
	return err
}
