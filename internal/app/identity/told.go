package identity

import (
	"errors"

	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// tellPerson tells somebody what became of their account, here and by mail; without a mail
// address to send from, here alone.
func tellPerson(tx *app.Tx, p *store.Person, subject, text string) error {
	tx.Notify(p.ID, nil, "%s", text)
	err := tx.QueueMail(store.Mail{ToName: p.Name, ToMail: p.Mail, Subject: subject, Body: "Dear " + p.Name + ",\n\n" + text + "\n"})
	if refusal.Is(err) {
		return nil
	}
	return err
}

// TellAdministrators tells all administrators of what could lead money or sight astray.
func TellAdministrators(tx *app.Tx, subject, text string) error {
	ids, err := store.Administrators(tx.DB)
	for _, id := range ids {
		person, problem := store.Get[store.Person](tx.DB, id)
		if problem == nil {
			problem = tellPerson(tx, person, subject, text)
		}
		err = errors.Join(err, problem)
	}
	return err
}
