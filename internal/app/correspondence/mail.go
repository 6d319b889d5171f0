// Package correspondence is what leaves the house by mail, and what comes back through links:
// letters wait in a queue that is kept with the act that wrote them, are delivered after it,
// and a link for somebody without an account is a secret of which the data has a digest.
//
//	err := correspondence.Queue(tx, store.Mail{ToName: "Ada", ToMail: "ada@firm.example", Subject: "Hello", Body: "…"})
package correspondence

import (
	"context"
	"crypto/rand"
	"strings"
	"time"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Queue queues a mail, which is delivered after the act is kept. Its text may
// have {link}, or another mark of its links, where one is made for the addressee.
func Queue(tx *app.Tx, m store.Mail) error {
	if _, err := letter.Addresses(m.ToMail); err != nil || m.ToMail == "" {
		return app.RefuseField("mail", "%q is no mail address: write it like name@firm.example.", m.ToMail)
	}
	if _, err := letter.Addresses(m.Copies); err != nil {
		return app.InField("copies", err)
	}
	if _, err := letter.Addresses(m.Blind); err != nil {
		return app.InField("copies", err)
	}
	if _, err := Sender(tx.DB, m.EntityID); err != nil {
		return err
	}
	if m.Kind == "" && m.ProposalID != nil {
		m.Kind = "proposal"
	}
	m.State, m.ReturnKey = "queued", strings.ToLower(rand.Text())
	tx.Mail(m)
	return nil
}

// OneLink is a link that is made in the place of {link} when a mail is delivered.
func OneLink(purpose string, subjectID int64, expires time.Time) []store.MailLink {
	return []store.MailLink{{Mark: "link", Purpose: purpose, SubjectID: subjectID, ExpiresAt: expires}}
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
		if err := DeliverOne(ctx, a, &m); err != nil {
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
		if m.State == "sent" || m.State == "arrived" {
			return struct{}{}, app.Refuse(app.Conflict, "This mail was taken by the mail server: there is nothing to send again.")
		}
		m.State, m.Tries, m.NextAt = "queued", 0, nil
		if err := write(tx.DB, m, 0); err != nil {
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
