// Package correspondence is what leaves the house by mail, and what comes back through links:
// letters wait in a queue that is kept with the act that wrote them, are delivered after it,
// and a link for somebody without an account is a secret of which the data has a digest.
//
//	err := correspondence.Queue(tx, store.Mail{ToName: "Ada", ToMail: "ada@firm.example", Subject: "Hello", Body: "…"})
package correspondence

import (
	"context"
	"fmt"
	"log/slog"
	"net/mail"
	"strings"
	"time"

	"dorvet/core/letter"
	"dorvet/core/safetext"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Queue queues a mail, which is delivered after the act is kept. Its text may
// have {link} where a link is made for the addressee.
func Queue(tx *app.Tx, m store.Mail) error {
	if _, err := letter.Addresses(m.ToMail); err != nil || m.ToMail == "" {
		return app.RefuseField("mail", "%q is no mail address: write it like name@firm.example.", m.ToMail)
	}
	if _, err := letter.Addresses(m.Copies); err != nil {
		return app.InField("copies", err)
	}
	if _, err := Sender(tx.DB); err != nil {
		return err
	}
	m.State = "queued"
	tx.Mail(m)
	return nil
}

// Deliver sends the mails whose time has come, each by its own clock. One that fails
// waits longer each time, and is marked in the end.
func Deliver(ctx context.Context, a *app.App) error {
	queued, err := store.QueuedMails(a.Store.Read(ctx, store.Everything))
	if err != nil || a.Mail == nil {
		return err
	}
	for _, m := range queued {
		if m.NextAt != nil && m.NextAt.After(a.Clock.Now()) {
			continue
		}
		if err := deliver(ctx, a, &m); err != nil {
			return err
		}
	}
	return nil
}

const notTaken = "the mail server did not take it"

// Undelivered is a mail that waits to be tried again, or was given up.
type Undelivered struct {
	ID      int64      `json:"id"`
	Subject string     `json:"subject"`
	To      string     `json:"to"`
	MadeAt  time.Time  `json:"madeAt"`
	Tries   int        `json:"tries"`
	Problem string     `json:"problem"`
	NextAt  *time.Time `json:"nextAt,omitempty" doc:"when it is tried again; nothing: no more"`
}

// UndeliveredMails lists the mails that were tried and not taken yet, latest first.
func UndeliveredMails(ctx context.Context, a *app.App, actor app.Actor) ([]Undelivered, error) {
	rows, err := store.UndeliveredMails(a.Read(ctx, actor))
	list := make([]Undelivered, 0, len(rows))
	for _, m := range rows {
		list = append(list, Undelivered{m.ID, m.Subject, m.ToMail, m.MadeAt, m.Tries, m.Problem, m.NextAt})
	}
	return list, err
}

// SendAgain sends a mail that waits or was given up once more, now and with all its
// tries.
func SendAgain(ctx context.Context, a *app.App, r app.Request, id int64) error {
	_, err := app.Do(ctx, a, r, "send a mail again", id, func(tx *app.Tx) (struct{}, error) {
		m, err := store.Get[store.Mail](tx.DB, id)
		if err != nil {
			return struct{}{}, app.Missing(err, "mail")
		}
		if m.State == "sent" {
			return struct{}{}, app.Refuse(app.Conflict, "This mail was taken by the mail server: there is nothing to send again.")
		}
		m.State, m.Tries, m.NextAt = "queued", 0, nil
		if err := store.WriteMail(tx.DB, m); err != nil {
			return struct{}{}, err
		}
		if m.ClientID != nil {
			tx.LinkTo("clients", *m.ClientID)
		}
		tx.Describe(m.Problem, nil, "Sent “%s” to %s again", m.Subject, m.ToMail)
		return struct{}{}, nil
	})
	if err == nil {
		a.TellQueue()
	}
	return err
}

// deliver sends one mail. What the mail says is complete only here: the secret of
// a link is in the mail, its digest in the data.
func deliver(ctx context.Context, a *app.App, m *store.Mail) error {
	m.Tries++
	m.Problem = "it could not be written"
	l, link, err := compose(ctx, a, m)
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
		if m.State != "sent" && link != 0 {
			if err := store.DropLink(tx, link); err != nil {
				return err
			}
		}
		return store.WriteMail(tx, m)
	})
}

// compose makes the letter, and the link in it.
func compose(ctx context.Context, a *app.App, m *store.Mail) (l letter.Letter, link int64, err error) {
	tx := a.Store.Read(ctx, store.Everything)
	if l, err = letterOf(a, tx, m); err != nil {
		return l, 0, err
	}
	if m.Attachment != "" {
		if l.Attachment, err = a.Store.Content(m.Attachment); err != nil {
			return l, 0, err
		}
	}
	if m.LinkPurpose == "" {
		return l, 0, nil
	}
	err = a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		made := store.Link{Purpose: m.LinkPurpose, SubjectID: m.LinkSubject, Name: m.ToName, Mail: m.ToMail, ExpiresAt: *m.LinkExpires}
		address, err := MakeLink(a, tx, made)
		if err != nil {
			return err
		}
		l.Body = strings.ReplaceAll(l.Body, "{link}", address)
		links, err := store.LinksTo(tx, m.LinkPurpose, m.LinkSubject)
		if err == nil {
			link = links[len(links)-1].ID
		}
		return err
	})
	return l, link, err
}

func letterOf(a *app.App, tx *store.DB, m *store.Mail) (letter.Letter, error) {
	from, err := Sender(tx)
	if err != nil {
		return letter.Letter{}, err
	}
	copies, err := letter.Addresses(m.Copies)
	return letter.Letter{From: from, To: mail.Address{Name: m.ToName, Address: m.ToMail}, Copies: copies, Subject: m.Subject, Body: m.Body,
		At: a.Clock.Now(), ID: fmt.Sprintf("%d.%d", m.ID, m.Tries), AttachmentName: m.AttachmentName}, err
}

// Sender is from whom mails come: the first issuing entity with an address.
func Sender(tx *store.DB) (mail.Address, error) {
	entities, err := store.All[store.IssuingEntity](tx, "id")
	if err != nil {
		return mail.Address{}, err
	}
	for _, e := range entities {
		if e.Mail != "" {
			return mail.Address{Name: e.Name, Address: e.Mail}, nil
		}
	}
	return mail.Address{}, app.Refuse(app.Invalid, "The firm has no mail address: give one under Set-up, issuing entities.")
}
