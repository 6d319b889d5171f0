package correspondence

import (
	"context"
	"crypto/rand"
	"fmt"
	"math/big"
	"net/mail"
	"strings"
	"time"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// A one-time code proves that who holds a link reads the mail of an address. Only its digest is kept, so it does not wait in the queue.
const (
	codeLife  = 15 * time.Minute
	codeTries = 5
)

// CodeMinutes is for how long a code works.
const CodeMinutes = int(codeLife / time.Minute)

// NewCode makes a code of six digits.
func NewCode() (string, error) {
	n, err := rand.Int(rand.Reader, big.NewInt(1_000_000))
	if err != nil {
		return "", fmt.Errorf("make a code: %w", err)
	}
	return fmt.Sprintf("%06d", n), nil
}

// GiveCode keeps the digest of a code with a link; it takes the place of the one before. It says to whom it is mailed.
func GiveCode(tx *app.Tx, l *store.Link, code, to string) error {
	ends := tx.Now.Add(codeLife)
	l.CodeDigest, l.CodeExpiresAt, l.CodeTries, l.CodeMail = codeDigest(l, code), &ends, 0, to
	return store.SetCode(tx.DB, l)
}

// MailCode mails a code at once: nothing of it waits in the data.
func MailCode(ctx context.Context, a *app.App, entityID *int64, to mail.Address, subject, body string) error {
	from, err := Sender(a.Store.Read(ctx, store.Everything), entityID)
	if err != nil {
		return err
	}
	l := letter.Letter{From: from, To: to, Subject: subject, At: a.Clock.Now(), ID: "code." + rand.Text(), Body: body}
	if a.Mail == nil || a.Mail(ctx, l) != nil {
		return app.Refuse(app.Conflict, "The code could not be mailed. Try again in a few minutes.")
	}
	return nil
}

func codeDigest(l *store.Link, code string) string { return Digest(l.Digest + code) }

// UseCode checks a typed code once, in a transaction of its own, so that tries count also when what follows is refused. It gives the link
// as it is then.
func UseCode(ctx context.Context, a *app.App, purpose, secret, code string) (link *store.Link, err error) {
	var refused error
	err = a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		if link, err = OpenLink(a, tx, purpose, secret); err != nil {
			return err
		}
		left, err := store.CountTry(tx, link.ID, codeTries)
		refused = codeRefused(link, code, left, a.Clock.Now())
		return err
	})
	if err == nil {
		err = refused
	}
	return link, err
}

// codeRefused says why a typed code is not taken, or nothing.
func codeRefused(l *store.Link, code string, left bool, now time.Time) error {
	switch {
	case l.CodeDigest == "":
		return app.RefuseField("code", "Ask for a code first: it comes by mail.")
	case !left || l.CodeExpiresAt == nil || now.After(*l.CodeExpiresAt):
		return app.RefuseField("code", "This code is over. Ask for a new one.")
	case codeDigest(l, strings.ReplaceAll(code, " ", "")) != l.CodeDigest:
		return app.RefuseField("code", "This is not the code that was mailed to %s. Look at the latest mail.", l.CodeMail)
	}
	return nil
}
