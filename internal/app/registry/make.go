package registry

import (
	"dorvet/internal/app"
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
