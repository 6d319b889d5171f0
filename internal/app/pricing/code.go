package pricing

import (
	"context"
	"fmt"
	"net/mail"

	core "dorvet/core/pricing"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// SendCode mails the one-time code that a signature needs.
func SendCode(ctx context.Context, a *app.App, secret string) error {
	code, err := correspondence.NewCode()
	if err != nil {
		return err
	}
	var of *guest
	err = doneAsGuest(ctx, a, secret, "send code", core.Accept, func(tx *app.Tx, g *guest) error {
		tx.Describe(nil, nil, "Asked for a code to sign %s", g.proposal.NumberText)
		of = g
		return correspondence.GiveCode(tx, g.link, code, g.link.Mail)
	})
	if err != nil || of == nil { // the same try, asked again: it was mailed
		return err
	}
	return correspondence.MailCode(ctx, a, nil, mail.Address{Name: of.link.Name, Address: of.link.Mail}, "Your code to sign "+of.proposal.NumberText,
		fmt.Sprintf("Your code is %s.\n\nType it on the page of the proposal “%s”. It works for %d minutes. If you did not ask for it, "+
			"do nothing.\n", code, of.proposal.Title, correspondence.CodeMinutes))
}

// useCode checks a code before a signature.
func useCode(ctx context.Context, a *app.App, secret, code string) error {
	_, err := correspondence.UseCode(ctx, a, store.ForProposal, secret, code)
	return err
}
