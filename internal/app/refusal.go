package app

import (
	"errors"
	"fmt"

	"dorvet/core/refusal"
	"dorvet/internal/store"
)

// Refusal is the answer of a rule that something can't be done, and what to do.
type Refusal = refusal.Refusal

// Kind is why an act was refused.
type Kind = refusal.Kind

// Invalid input can be corrected; a conflict is with what has happened since.
const (
	Invalid   = refusal.Invalid
	Conflict  = refusal.Conflict
	NotFound  = refusal.NotFound
	Forbidden = refusal.Forbidden
	Unproved  = refusal.Unproved
	Wait      = refusal.Wait
)

// Refuse makes a refusal of input that belongs to no one field.
func Refuse(kind Kind, sentence string, values ...any) error {
	return &Refusal{Kind: kind, Sentence: fmt.Sprintf(sentence, values...)}
}

// RefuseField makes a refusal of one field's input.
func RefuseField(field, sentence string, values ...any) error {
	return &Refusal{Kind: Invalid, Field: field, Sentence: fmt.Sprintf(sentence, values...)}
}

// InField puts a refusal of the core about an input into its field. A failure is passed
// on.
func InField(field string, err error) error { return refusal.As(Invalid, field, err) }

// AsConflict makes a conflict of a refusal of the core to take a step. A failure is
// passed on.
func AsConflict(err error) error { return refusal.As(Conflict, "", err) }

// Trouble says in words what is wrong with the disk or the data that made an act fail, and
// what to do; nothing where it is something else.
func Trouble(err error) string { return store.Trouble(err) }

// Missing says in words what a lookup did not find, and passes other errors on.
func Missing(err error, what string) error {
	if errors.Is(err, store.ErrNotFound) {
		return Refuse(NotFound, "There is no such %s: it may have been removed. Go back and choose another.", what)
	}
	return err
}

// Found refuses what was not found; an error of reading it is a failure and passed on.
func Found(err error, refused error) error {
	return Unless(err, refused, func() bool { return true })
}

// Unless refuses what was not found, or is not as it must be; an error of reading it is
// a failure and passed on.
func Unless(err error, refused error, holds func() bool) error {
	switch {
	case errors.Is(err, store.ErrNotFound):
		return refused
	case err != nil:
		return err
	case !holds():
		return refused
	}
	return nil
}
