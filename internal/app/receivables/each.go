package receivables

import (
	"context"
	"errors"
	"fmt"

	core "dorvet/core/delivery"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// LetterTo names the account of a client that a letter is about.
type LetterTo struct {
	ClientID int64          `json:"clientId"`
	EntityID int64          `json:"entityId" doc:"of statements 0: all of the firm"`
	Currency money.Currency `json:"currency" maxLength:"3"`
}

// toEach does something for accounts, one after the other, until it is told to stop. What is refused is left, and told.
func toEach(ctx context.Context, accounts []LetterTo, tell app.Progress,
	one func(context.Context, LetterTo) (int, error)) (letters int, not string, err error) {
	refused := 0
	for i, of := range accounts {
		if ctx.Err() != nil {
			break
		}
		n, err := one(context.WithoutCancel(ctx), of)
		if why := new(app.Refusal); errors.As(err, &why) {
			if refused++; refused <= 5 {
				not += " " + why.Sentence
			}
		} else if err != nil {
			return letters, not, err
		}
		letters += n
		tell(i + 1)
	}
	if refused > 5 {
		not += fmt.Sprintf(" And %d more were not.", refused-5)
	}
	return letters, not, nil
}

// BeginStatements sends statements of account to some clients in the background, one of each account on which something stands.
func BeginStatements(ctx context.Context, a *app.App, r app.Request, accounts []LetterTo) (*app.Job, error) {
	before, try, err := a.Jobs.Try(ctx, a, r, "send statements", accounts)
	if before != nil || err != nil {
		return before, err
	}
	return a.Jobs.Begin(a, r, try, "send statements", 0, len(accounts), "", func(ctx context.Context, _ int64, tell app.Progress) (string, error) {
		letters, not, err := toEach(ctx, accounts, tell, func(ctx context.Context, of LetterTo) (int, error) {
			return sendStatements(ctx, a, app.Request{Actor: r.Actor}, of)
		})
		return app.Counted(letters, "statement is", "statements are") + " on the way." + not, err
	})
}

// sendStatements sends the statements of a client's accounts in a currency.
func sendStatements(ctx context.Context, a *app.App, r app.Request, of LetterTo) (letters int, err error) {
	tx := a.Read(ctx, r.Actor)
	client, err := store.Get[store.Client](tx, of.ClientID)
	if err != nil {
		return 0, app.Missing(err, "client")
	}
	accounts, err := AccountsOf(tx, of.ClientID, a.Clock.Today())
	if err != nil {
		return 0, err
	}
	for _, one := range accounts {
		if one.Account.Currency != of.Currency || of.EntityID != 0 && one.Account.EntityID != of.EntityID {
			continue
		}
		sent, err := SendLetter(ctx, a, r, Lettering{Kind: core.Statement, ID: of.ClientID, EntityID: one.Account.EntityID, Currency: of.Currency})
		if refused := new(app.Refusal); errors.As(err, &refused) {
			return letters, app.Refuse(app.Conflict, "%s: %s", client.Name, refused.Sentence)
		}
		if err != nil {
			return letters, err
		}
		letters += sent.Letters
	}
	return letters, nil
}
