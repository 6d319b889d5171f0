package identity

import (
	"errors"
	"fmt"
	"strings"

	"dorvet/core/letter"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// tellPerson tells somebody what became of their account, here and by mail; without a mail
// address to send from, here alone.
func tellPerson(tx *app.Tx, p *store.Person, subject, text string) error {
	tx.NotifyMailed(p.ID, text)
	return mailPerson(tx, p, subject, text)
}

func mailPerson(tx *app.Tx, p *store.Person, subject, text string) error {
	err := correspondence.Queue(tx, store.Mail{ToName: p.Name, ToMail: p.Mail, Subject: subject, Body: "Dear " + p.Name + ",\n\n" + text + "\n"})
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

// TellOfChange tells a person what somebody changed of their account; where it was their
// mail address, at the one that they had, too.
func TellOfChange(tx *app.Tx, personID int64, what, who, before string) error {
	person, err := store.Get[store.Person](tx.DB, personID)
	if err != nil {
		return err
	}
	subject, text := "Your account was changed", fmt.Sprintf("%s changed %s. If you do not know why, ask now.", who, what)
	err = tellPerson(tx, person, subject, text)
	if strings.Contains(before, "@") && !letter.SameAddress(before, person.Mail) {
		was := *person
		was.Mail = before
		err = errors.Join(err, mailPerson(tx, &was, subject, text))
	}
	return err
}
