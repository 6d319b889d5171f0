package delivery

import (
	"context"
	"fmt"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// EndReminders ends reminders to whoever got one, by the address that its mail names (RFC 8058): the contact receives none any more, or
// where it went to the client itself, nobody does. Asked again it does nothing.
func EndReminders(ctx context.Context, a *app.App, secret string) error {
	link, err := correspondence.OpenLink(a, a.Store.Read(ctx, store.Everything), store.ForReminders, secret)
	if err != nil {
		return err
	}
	who := app.Request{Actor: app.Actor{Outsider: fmt.Sprintf("%s (%s)", link.Name, link.Mail)}}
	_, err = app.Do(ctx, a, who, "end reminders", nil, func(tx *app.Tx) (struct{}, error) {
		client, err := store.Get[store.Client](tx.DB, link.SubjectID)
		if err != nil {
			return struct{}{}, err
		}
		tx.LinkTo("clients", client.ID)
		tx.Describe(nil, nil, "Wants no more reminders at %s", link.Mail)
		found, err := endForContacts(tx, link)
		if err != nil {
			return struct{}{}, err
		}
		if !found || letter.SameAddress(client.Mail, link.Mail) {
			err = profiles.KeepProfile(tx, client.ID, nil, "reminders", "no")
		}
		if err == nil && client.ResponsibleID != nil {
			tx.Notify(*client.ResponsibleID, nil, "%s of %s wants no more reminders by mail.", link.Name, client.Name)
		}
		return struct{}{}, err
	})
	return err
}

// endForContacts ends reminders to the contacts of a client with the address of a link, and says whether there is one.
func endForContacts(tx *app.Tx, link *store.Link) (found bool, err error) {
	contacts, err := store.AllContactsOf(tx.DB, []int64{link.SubjectID})
	if err != nil {
		return false, err
	}
	for i := range contacts {
		c := &contacts[i]
		if !letter.SameAddress(c.Mail, link.Mail) {
			continue
		}
		if found = true; !c.GetsReminders {
			continue
		}
		c.GetsReminders = false
		tx.LinkTo("contacts", c.ID)
		if err := store.Save(tx.DB, c); err != nil {
			return found, err
		}
	}
	return found, nil
}
