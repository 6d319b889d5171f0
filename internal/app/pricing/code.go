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
	"dorvet/internal/store"
)

const (
	codeLife  = 15 * time.Minute
	codeTries = 5
)

// SendCode mails the one-time code that a signature needs. Only its digest is
// kept; a new one replaces the one before.
func SendCode(ctx context.Context, a *app.App, secret string) error {
	g, err := openGuest(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return err
	}
	if err := g.may(core.Accept); err != nil {
		return err
	}
	n, err := rand.Int(rand.Reader, big.NewInt(1_000_000))
	if err != nil {
		return err
	}
	code := fmt.Sprintf("%06d", n)
	_, err = app.Do(ctx, a, g.request(), "send code", nil, func(tx *app.Tx) (struct{}, error) {
		ends := tx.Now.Add(codeLife)
		g.link.CodeDigest, g.link.CodeExpiresAt, g.link.CodeTries = codeDigest(g.link, code), &ends, 0
		tx.Tell(nil, nil, "Asked for a code to sign %s", g.proposal.NumberText)
		tx.Concerns(ofProposal, g.proposal.ID)
		return struct{}{}, store.WriteLink(tx.DB, g.link)
	})
	if err != nil {
		return err
	}
	from, err := app.Sender(a.Store.Read(ctx, store.Everything))
	if err != nil {
		return err
	}
	l := letter.Letter{From: from, To: mail.Address{Name: g.link.Name, Address: g.link.Mail}, Subject: "Your code to sign " + g.proposal.NumberText, At: a.Clock.Now(), ID: "code." + rand.Text(),
		Body: fmt.Sprintf("Your code is %s.\n\nType it on the page of the proposal “%s”. It works for %d minutes. If you did not ask for it, do nothing.\n", code, g.proposal.Title, int(codeLife.Minutes()))}
	if a.Mail == nil || a.Mail(ctx, l) != nil {
		return app.Refuse(app.Conflict, "The code could not be mailed. Try again in a few minutes.")
	}
	return nil
}

func codeDigest(l *store.Link, code string) string { return app.Digest(l.Digest + code) }

// useCode checks a code once, in a transaction of its own, so that tries count
// also when the answer is refused.
func useCode(ctx context.Context, a *app.App, g *guest, code string) error {
	left := false
	err := a.Store.Write(ctx, store.Everything, func(tx *store.DB) (err error) {
		left, err = store.CountTry(tx, g.link.ID, codeTries)
		return err
	})
	switch {
	case err != nil:
		return err
	case g.link.CodeDigest == "":
		return app.RefuseField("code", "Ask for a code first: it comes by mail.")
	case !left || g.link.CodeExpiresAt == nil || a.Clock.Now().After(*g.link.CodeExpiresAt):
		return app.RefuseField("code", "This code is over. Ask for a new one.")
	case codeDigest(g.link, strings.ReplaceAll(code, " ", "")) != g.link.CodeDigest:
		return app.RefuseField("code", "This is not the code that was mailed to %s. Look at the latest mail.", g.link.Mail)
	}
	return nil
}
