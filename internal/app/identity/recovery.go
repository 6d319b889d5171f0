package identity

import (
	"context"
	"crypto/rand"
	"strings"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

const (
	recoveryCodes  = 10
	recoveryLength = 12 // letters and digits: 60 bits
)

// RecoveryCodes are codes as they are shown, once.
type RecoveryCodes []string

// HasSecret implements app.Secretive.
func (RecoveryCodes) HasSecret() bool { return true }

// newRecovery makes recovery codes in place of those that a person had. They are shown
// once; the data keeps their digests.
func newRecovery(tx *app.Tx, personID int64) (RecoveryCodes, error) {
	if err := store.DropRecoveryCodes(tx.DB, personID); err != nil {
		return nil, err
	}
	codes, rows := RecoveryCodes{}, []store.RecoveryCode{}
	for range recoveryCodes {
		code := strings.ToLower(rand.Text()[:recoveryLength])
		codes = append(codes, code[:4]+"-"+code[4:8]+"-"+code[8:])
		rows = append(rows, store.RecoveryCode{PersonID: personID, Digest: correspondence.Digest(code)})
	}
	return codes, store.Insert(tx.DB, rows)
}

// plainCode is a code without what people put between its parts.
func plainCode(typed string) string {
	return strings.ToLower(strings.NewReplacer("-", "", " ", "").Replace(typed))
}

func useRecovery(ctx context.Context, a *app.App, person *store.Person, code string, wrong error) error {
	_, err := app.Do(ctx, a, app.Request{Actor: app.Actor{PersonID: person.ID}}, "use a recovery code", nil,
		func(tx *app.Tx) (struct{}, error) {
			used, err := store.UseRecoveryCode(tx.DB, person.ID, correspondence.Digest(code), tx.Now)
			if err != nil {
				return struct{}{}, err
			}
			if !used {
				return struct{}{}, wrong
			}
			left, err := store.RecoveryCodesLeft(tx.DB, person.ID)
			if err != nil {
				return struct{}{}, err
			}
			tx.Describe(nil, nil, "%s signed in with a recovery code", person.Name)
			tx.LinkTo("people", person.ID)
			return struct{}{}, tellPerson(tx, person, "A recovery code was used",
				"Somebody signed in to your account with a recovery code in place of your device. "+
					codesLeft(left)+" If it was not you, change your password now and tell an administrator.")
		})
	return err
}

func codesLeft(n int64) string {
	switch n {
	case 0:
		return "It was the last one: make new ones under your account."
	case 1:
		return "One is left."
	}
	return itoa(n) + " are left."
}

// RenewRecoveryCodes makes new recovery codes; the old ones sign nobody in any more.
func RenewRecoveryCodes(ctx context.Context, a *app.App, r app.Request) (RecoveryCodes, error) {
	return own(ctx, a, r, "Made new recovery codes", func(tx *app.Tx, p *store.Person) (RecoveryCodes, error) {
		if err := tx.Actor.Prove(); err != nil {
			return nil, err
		}
		if p.SecondFactor == "" {
			return nil, app.Refuse(app.Conflict, "Recovery codes stand in for the device of a second factor: add one first.")
		}
		codes, err := newRecovery(tx, p.ID)
		if err != nil {
			return nil, err
		}
		return codes, tellPerson(tx, p, "New recovery codes",
			"New recovery codes were made for your account; the old ones do not work any more. If it was not you, change "+
				"your password now and "+
				"tell an administrator.")
	})
}
