package pricing

import (
	"context"
	"crypto/rand"
	"fmt"
	"math/big"
	"net/mail"
	"strings"
	"time"

	core "dorvet/core/pricing"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

const (
	codeLife  = 15 * time.Minute
	codeTries = 5
)

// SendCode mails the one-time code that a signature needs. Only its digest is
// kept; a new one replaces the one before.
func SendCode(ctx context.Context, a *app.App, secret string) error {
	n, err := rand.Int(rand.Reader, big.NewInt(1_000_000))
	if err != nil {
		return err
	}
	code, l := fmt.Sprintf("%06d", n), letter.Letter{}
	err = doneAsGuest(ctx, a, secret, "send code", core.Accept, func(tx *app.Tx, g *guest) error {
		ends := tx.Now.Add(codeLife)
		g.link.CodeDigest, g.link.CodeExpiresAt, g.link.CodeTries = codeDigest(g.link, code), &ends, 0
		tx.Describe(nil, nil, "Asked for a code to sign %s", g.proposal.NumberText)
		from, err := correspondence.Sender(tx.DB, nil)
		if err != nil {
			return err
		}
		l = letter.Letter{From: from, To: mail.Address{Name: g.link.Name, Address: g.link.Mail}, Subject: "Your code to sign " +
			g.proposal.NumberText, At: a.Clock.Now(), ID: "code." + rand.Text(),
			Body: fmt.Sprintf("Your code is %s.\n\nType it on the page of the proposal “%s”. It works for %d minutes. If you did not ask "+
				"for it, do nothing.\n", code, g.proposal.Title, int(codeLife.Minutes()))}
		return store.SetCode(tx.DB, g.link)
	})
	if err != nil {
		return err
	}
	if l.ID == "" { // the same try, asked again: it was mailed
		return nil
	}
	if a.Mail == nil || a.Mail(ctx, l) != nil {
		return app.Refuse(app.Conflict, "The code could not be mailed. Try again in a few minutes.")
	}
	return nil
}

func codeDigest(l *store.Link, code string) string { return correspondence.Digest(l.Digest + code) }

// useCode checks a code once, in a transaction of its own, so that tries count
// also when the answer is refused.
func useCode(ctx context.Context, a *app.App, secret, code string) error {
	var refused error
	err := a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		g, err := openGuest(a, tx, secret)
		if err != nil {
			return err
		}
		left, err := store.CountTry(tx, g.link.ID, codeTries)
		refused = g.codeRefused(code, left, a.Clock.Now())
		return err
	})
	if err != nil {
		return err
	}
	return refused
}

// codeRefused says why a typed code does not sign, or nothing.
func (g *guest) codeRefused(code string, left bool, now time.Time) error {
	switch {
	case g.link.CodeDigest == "":
		return app.RefuseField("code", "Ask for a code first: it comes by mail.")
	case !left || g.link.CodeExpiresAt == nil || now.After(*g.link.CodeExpiresAt):
		return app.RefuseField("code", "This code is over. Ask for a new one.")
	case codeDigest(g.link, strings.ReplaceAll(code, " ", "")) != g.link.CodeDigest:
		return app.RefuseField("code", "This is not the code that was mailed to %s. Look at the latest mail.", g.link.Mail)
	}
	return nil
}
