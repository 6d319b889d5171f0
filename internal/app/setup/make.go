package setup

import (
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
	e, err := newEnv(tx.DB, tx.Today, app.Actor{PersonID: tx.Actor.PersonID, Role: app.Administrator})
	if err != nil {
		return 0, err
	}
	r, err := add(tx, e, k, typed)
	if err != nil {
		return 0, err
	}
	tx.LinkTo(kind, r.head().ID)
	return r.head().ID, nil
}

// Onboard makes a prospect a current client who is being onboarded, with the
// first steps.
func Onboard(tx *app.Tx, clientID int64) error {
	e, err := newEnv(tx.DB, tx.Today, app.Actor{Role: app.Administrator})
	if err != nil {
		return err
	}
	client, err := store.Get[store.Client](tx.DB, clientID)
	if err != nil {
		return err
	}
	current, err := e.find("client-statuses", "current")
	if err != nil {
		return err
	}
	client.StatusID, client.Onboarded = &current, false
	if client.OpenedDay < tx.Today { // due days of the steps count from now
		client.OpenedDay = tx.Today
	}
	if err := store.Save(tx.DB, client); err != nil {
		return err
	}
	tx.LinkTo("clients", clientID)
	return beginOnboarding(tx, e, nil, client)
}
