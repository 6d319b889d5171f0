package delivery

import (
	"context"
	"fmt"

	"dorvet/core/letter"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// RemindersPage is what stands on the page that ends reminders, in the language of the client.
type RemindersPage struct {
	Language                     wording.Language
	Firm, Question, Button, Done string
}

// endingWords are question, button and answer of that page.
var endingWords = map[wording.Language][3]string{
	wording.English: {"No more reminders by mail to your address?", "End them", "Done: no more reminders go to your address."},
	wording.German: {"Keine Erinnerungen mehr per E-Mail an Ihre Adresse?", "Beenden",
		"Erledigt: An Ihre Adresse gehen keine Erinnerungen mehr."},
	wording.French: {"Ne plus envoyer de rappels à votre adresse ?", "Arrêter les rappels",
		"C’est fait : aucun rappel ne sera plus envoyé à votre adresse."},
	wording.Spanish: {"¿No recibir más recordatorios en su dirección?", "Dejar de recibirlos",
		"Hecho: ya no se enviarán recordatorios a su dirección."},
	wording.Polish: {"Nie wysyłać więcej przypomnień na Państwa adres?", "Zakończ",
		"Gotowe: na Państwa adres nie wyślemy już przypomnień."},
	wording.Greek: {"Να μη στέλνονται πλέον υπενθυμίσεις στη διεύθυνσή σας;", "Διακοπή",
		"Έγινε: δεν θα σταλούν άλλες υπενθυμίσεις στη διεύθυνσή σας."},
}

// ReadReminders is the page that asks before reminders end. Reading it ends nothing.
func ReadReminders(ctx context.Context, a *app.App, secret string) (*RemindersPage, error) {
	tx := a.Store.Read(ctx, store.Everything)
	link, err := correspondence.OpenLink(a, tx, store.ForReminders, secret)
	if err != nil {
		return nil, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	w, _, err := papers.WordsFor(tx, link.SubjectID)
	if err != nil {
		return nil, err
	}
	words := endingWords[w.Language.Known()]
	return &RemindersPage{w.Language.Known(), firm.Name, words[0], words[1], words[2]}, nil
}

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
