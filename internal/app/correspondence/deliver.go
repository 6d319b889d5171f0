package correspondence

import (
	"context"
	"fmt"
	"log/slog"
	"net/mail"
	"strings"

	"dorvet/core/day"
	"dorvet/core/delivery"
	"dorvet/core/letter"
	"dorvet/core/profile"
	"dorvet/core/safetext"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// DeliverOne sends one mail. What the mail says is complete only here: the secret of
// a link is in the mail, its digest in the data.
func DeliverOne(ctx context.Context, a *app.App, m *store.Mail) error {
	now, err := store.Get[store.Mail](a.Store.Read(ctx, store.Everything), m.ID)
	if err != nil || now.State != "queued" { // called back, since the queue was read
		return err
	}
	m.Tries++
	m.Problem = "it could not be written"
	l, links, err := compose(ctx, a, m)
	if err == nil {
		m.Problem = notTaken
		err = a.Mail(ctx, l)
	}
	switch now := a.Clock.Now(); {
	case err == nil:
		m.State, m.Problem, m.SentAt, m.NextAt = "sent", "", &now, nil
	case ctx.Err() != nil:
		return ctx.Err() // the program stops: it is tried again after the next start
	default:
		slog.Warn("a mail was not delivered", "mail", m.ID, "tries", m.Tries, "error", err)
		if m.Problem == notTaken { // in the server's own words
			m.Problem += ": " + safetext.Line(err.Error())
		}
		next, more := letter.Again(m.Tries, now)
		if m.NextAt = &next; !more {
			m.State, m.NextAt = "failed", nil
		}
	}
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		left := day.Day(0)
		if m.State == "sent" {
			left = a.Clock.Today()
		}
		reported, err := reportedMeanwhile(tx, m)
		if err != nil {
			return err
		}
		if reported { // its server took it, whatever was answered
			return write(tx, m, a.Clock.Today())
		}
		if m.State != "sent" {
			for _, link := range links {
				if err := store.DropLink(tx, link); err != nil {
					return err
				}
			}
		}
		if m.State == "failed" {
			if err := tellFailed(tx, m, a.Clock.Today()); err != nil {
				return err
			}
		}
		return write(tx, m, left)
	})
}

// reportedMeanwhile takes over what a report has said of a mail while it was being sent: one may be quicker than the answer to the mail, or
// come where the answer is lost.
func reportedMeanwhile(tx *store.DB, m *store.Mail) (bool, error) {
	now, err := store.Get[store.Mail](tx, m.ID)
	if err != nil || now.State != "arrived" && now.State != "failed" {
		return false, err
	}
	m.State, m.Problem, m.NextAt, m.SentAt = now.State, now.Problem, nil, now.SentAt
	return true, nil
}

// statesOfMail are the states of a delivery by those of its mail.
var statesOfMail = map[string]delivery.State{"queued": delivery.Queued, "sent": delivery.Taken, "arrived": delivery.Arrived,
	"failed": delivery.Failed, "called_back": delivery.CalledBack}

// write writes how a mail went, and with it the delivery that it is; left is the day on which it left now, or none.
func write(tx *store.DB, m *store.Mail, left day.Day) error {
	if err := store.WriteMail(tx, m); err != nil || m.DeliveryID == nil {
		return err
	}
	return Follow(tx, *m.DeliveryID, statesOfMail[m.State], left)
}

// Follow writes how far a delivery has come, and how far the invoices in it have by all of theirs.
func Follow(tx *store.DB, deliveryID int64, state delivery.State, left day.Day) error {
	if err := store.SetDeliveryState(tx, deliveryID, state, left); err != nil {
		return err
	}
	within, err := store.InvoicesOfDelivery(tx, deliveryID)
	if err != nil {
		return err
	}
	ids := []int64{}
	for _, d := range within {
		ids = append(ids, d.InvoiceID)
	}
	return Stand(tx, ids)
}

// Stand writes how far invoices have come to their clients, by their deliveries as they are now.
func Stand(tx *store.DB, invoiceIDs []int64) error {
	steps, err := store.StepsOf(tx, invoiceIDs)
	if err != nil {
		return err
	}
	for _, id := range invoiceIDs {
		if err := store.SetHanded(tx, id, delivery.Handed(steps[id])); err != nil {
			return err
		}
	}
	return nil
}

// compose makes the letter, and the links in it.
func compose(ctx context.Context, a *app.App, m *store.Mail) (l letter.Letter, links []int64, err error) {
	tx := a.Store.Read(ctx, store.Everything)
	if err := store.WithParts(tx, m); err != nil {
		return l, nil, err
	}
	if l, err = letterOf(a, tx, m); err != nil {
		return l, nil, err
	}
	for _, f := range m.Files {
		content, err := a.Store.Content(f.Digest)
		if err != nil {
			return l, nil, err
		}
		l.Files = append(l.Files, letter.File{Name: f.Name, MediaType: f.MediaType, Content: content})
	}
	if len(m.Links) == 0 && !m.EndsReminders {
		return l, nil, nil
	}
	err = a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		if m.EndsReminders {
			made := &store.Link{Purpose: store.ForReminders, SubjectID: *m.ClientID, Name: m.ToName, Mail: m.ToMail, DeliveryID: m.DeliveryID,
				ExpiresAt: a.Clock.Now().Add(LinkLife)}
			var err error
			if l.EndsAt, err = MakeLink(a, tx, made); err != nil {
				return err
			}
			links = append(links, made.ID)
		}
		for _, asked := range m.Links {
			made := &store.Link{Purpose: asked.Purpose, SubjectID: asked.SubjectID, Name: m.ToName, Mail: m.ToMail,
				DeliveryID: m.DeliveryID, ExpiresAt: asked.ExpiresAt}
			address, err := MakeLink(a, tx, made)
			if err != nil {
				return err
			}
			l.Body = strings.ReplaceAll(l.Body, "{"+asked.Mark+"}", address)
			links = append(links, made.ID)
		}
		return nil
	})
	return l, links, err
}

func letterOf(a *app.App, tx *store.DB, m *store.Mail) (letter.Letter, error) {
	l := letter.Letter{To: mail.Address{Name: m.ToName, Address: m.ToMail}, Subject: m.Subject, Body: m.Body, At: a.Clock.Now(),
		ID: fmt.Sprintf("%d.%d", m.ID, m.Tries), ReturnKey: m.ReturnKey}
	var err error
	if l.From, err = Sender(tx, m.EntityID); err != nil {
		return l, err
	}
	if l.Copies, err = letter.Addresses(m.Copies); err != nil {
		return l, err
	}
	if l.Blind, err = letter.Addresses(m.Blind); err != nil {
		return l, err
	}
	layers, err := store.ProfileLayers(tx, nil, nil)
	l.Accent = profile.Stack(layers(0, 0)...).Text("colour")
	return l, err
}

// Sender is from whom a mail comes: an issuing entity, or where it has no address (or none is named) the first that has one.
func Sender(tx *store.DB, entityID *int64) (mail.Address, error) {
	entities, err := store.All[store.IssuingEntity](tx, "id")
	if err != nil {
		return mail.Address{}, err
	}
	found := mail.Address{}
	for _, e := range entities {
		if own := entityID != nil && *entityID == e.ID; e.Mail != "" && (found.Address == "" || own) {
			found = mail.Address{Name: e.Name, Address: e.Mail}
		}
	}
	if found.Address == "" {
		return found, app.Refuse(app.Invalid, "The firm has no mail address: give one under Set-up, issuing entities.")
	}
	return found, nil
}
