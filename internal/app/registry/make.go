package registry

import (
	"errors"
	"maps"
	"slices"
	"strings"

	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Make makes a record of a kind inside another act, from fields as they are
// typed. The act is answerable for who may do that.
func Make(tx *app.Tx, kind string, typed map[string]string) (id int64, err error) {
	k, err := kindNamed(kind)
	if err != nil {
		return 0, err
	}
	e, err := NewEnv(tx.DB, tx.Today, app.Actor{PersonID: tx.Actor.PersonID, Role: app.Administrator})
	if err != nil {
		return 0, err
	}
	r, err := AddTo(tx, e, k, typed)
	if err != nil {
		return 0, err
	}
	tx.LinkTo(kind, r.head().ID)
	return r.head().ID, nil
}

// Fill gives fields of a record that are still empty what was said of them, inside another
// act, and names those that it filled. What a field does not take stays unsaid.
func Fill(tx *app.Tx, kind string, id int64, said map[string]string) (filled []string, err error) {
	k, err := kindNamed(kind)
	if err != nil {
		return nil, err
	}
	e, err := NewEnv(tx.DB, tx.Today, app.Actor{Role: app.Administrator})
	if err != nil {
		return nil, err
	}
	for _, name := range slices.Sorted(maps.Keys(said)) {
		r, err := k.Open(e, id)
		if err != nil {
			return nil, err
		}
		now, err := ValueOf(e, r, name)
		if err != nil {
			return nil, err
		}
		if now != "" || strings.TrimSpace(said[name]) == "" {
			continue
		}
		done, err := setOne(tx, e, k, ExpectedVersion{ID: id, Version: r.head().Version}, Change{Field: name, Value: said[name]})
		switch {
		case refused(err):
		case err != nil:
			return nil, err
		default:
			filled = append(filled, done.label)
		}
	}
	return filled, nil
}

// refused reports whether an error is an answer of a rule.
func refused(err error) bool {
	said := new(app.Refusal)
	return errors.As(err, &said) || refusal.Is(err)
}

// ValueOf is what a record says in a field: one of its own, or one of the firm's.
func ValueOf(e *Env, r Record, name string) (string, error) {
	own, is := strings.CutPrefix(name, profile.OwnPrefix)
	if !is {
		return r.Get(e, name)
	}
	_, subject := r.layers()
	values, err := store.OwnValues(e.Tx, subject, r.head().ID)
	for _, v := range values {
		if v.Name == own {
			return v.Value, err
		}
	}
	return "", err
}
