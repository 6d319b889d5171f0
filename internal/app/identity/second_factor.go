package identity

import (
	"context"
	"crypto/rand"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

// NewSecret proposes a secret for a second factor; it counts once a code made
// with it was given to [SetSecondFactor].
func NewSecret() (string, error) {
	secret := make([]byte, 20)
	_, err := rand.Read(secret)
	return encodeSecret(secret), err
}

// SetSecondFactor asks for a code at every sign-in from now on, or for that of another
// device; the code proves that the device works. It gives recovery codes, to be kept.
func SetSecondFactor(ctx context.Context, a *app.App, r app.Request, secret, code string) (RecoveryCodes, error) {
	if err := r.Actor.Prove(); err != nil {
		return nil, err
	}
	step, ok := checkCode6(secret, code, a.Clock.Now(), 0)
	if !ok {
		return nil, app.RefuseField("code", "This code does not belong to the secret. Check the clock of your device, then type the "+
			"code that it shows now.")
	}
	return own(ctx, a, r, "Added a second factor", func(tx *app.Tx, p *store.Person) (RecoveryCodes, error) {
		p.SecondFactor, p.SecondFactorStep = secret, step
		codes, err := newRecovery(tx, p.ID)
		if err != nil {
			return nil, err
		}
		return codes, tellPerson(tx, p, "A second factor was added",
			"A code of a device is asked at each sign-in to your account from now on. If it was not you, tell an administrator now.")
	})
}

// RemoveSecondFactor takes a second factor away: one's own, or anybody's by an
// administrator, for a device that was lost.
func RemoveSecondFactor(ctx context.Context, a *app.App, r app.Request, personID int64) error {
	if err := r.Actor.Prove(); err != nil {
		return err
	}
	_, err := app.Do(ctx, a, r, "remove the second factor", personID, func(tx *app.Tx) (struct{}, error) {
		person, err := store.Get[store.Person](tx.DB, personID)
		if err != nil {
			return struct{}{}, app.Missing(err, "person")
		}
		person.SecondFactor, person.SecondFactorStep = "", 0
		tx.Describe(nil, nil, "Removed the second factor of %s", person.Name)
		tx.LinkTo("people", personID)
		if err := store.DropRecoveryCodes(tx.DB, personID); err != nil {
			return struct{}{}, err
		}
		if err := logIn(tx.DB, tx.Now, Entry{Kind: AccountChanged, PersonID: personID, Said: "second factor removed"}); err != nil {
			return struct{}{}, err
		}
		if err := tellPerson(tx, person, "Your second factor was removed",
			"No code of a device is asked any more when you sign in. If neither you nor an administrator for you did this, "+
				"change your password now."); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, store.Save(tx.DB, person)
	})
	return err
}

// SecondFactor is whether somebody has a second factor, and a secret to begin one with.
type SecondFactor struct {
	Set    bool   `json:"set"`
	Secret string `json:"secret" doc:"base32, for an app on a phone; nothing if one is set"`
	URI    string `json:"uri" doc:"the same as an otpauth address"`
	Left   int64  `json:"left" doc:"recovery codes that were not used"`
}

// SecondFactorOf is the actor's second factor, or a secret for one.
func SecondFactorOf(ctx context.Context, a *app.App, actor app.Actor) (*SecondFactor, error) {
	tx := a.Read(ctx, actor)
	person, err := store.Get[store.Person](tx, actor.PersonID)
	if err != nil {
		return nil, err
	}
	if person.SecondFactor != "" {
		left, err := store.RecoveryCodesLeft(tx, person.ID)
		return &SecondFactor{Set: true, Left: left}, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	secret, err := NewSecret()
	return &SecondFactor{Secret: secret, URI: SecretURI(firm.Name, person.Mail, secret)}, err
}
