package correspondence

import (
	"dorvet/core/delivery"
	"dorvet/internal/store"
)

// Addressees are who gets a kind of document of a client by mail, if it is about some engagements. Nobody is an answer, too.
func Addressees(tx *store.DB, kind delivery.Kind, clientID int64, engagements []int64) ([]delivery.Addressee, error) {
	client, err := store.Get[store.Client](tx, clientID)
	if err != nil {
		return nil, err
	}
	rows, err := store.AllContactsOf(tx, []int64{clientID})
	contacts := []delivery.Contact{}
	for _, c := range rows {
		contact := delivery.Contact{Name: c.Name, Mail: c.Mail, Copies: c.Copies}
		if c.EngagementID != nil {
			contact.EngagementID = *c.EngagementID
		}
		for _, receives := range []struct {
			kind delivery.Kind
			gets bool
		}{{delivery.Invoice, c.GetsInvoices}, {delivery.Statement, c.GetsStatements}, {delivery.Reminder, c.GetsReminders}} {
			if receives.gets {
				contact.Gets = append(contact.Gets, receives.kind)
			}
		}
		contacts = append(contacts, contact)
	}
	return delivery.To(kind, engagements, contacts, delivery.Contact{Name: client.InvoiceName, Mail: client.Mail}), err
}
