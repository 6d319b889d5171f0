package identity

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// Whence is where a request comes from.
type Whence struct {
	Address, Browser string
	Device           string // the secret of its cookie, if it has one
	Session          int64  // in which it is made, or 0
}

// The first wrong guesses of a day cost nothing; each after them makes the next wait
// longer, from five seconds to a quarter of an hour. All unknown devices together may
// guess more often before they wait: who knows the account is known by their device.
const (
	freeGuesses   = 5
	freeOfAnybody = 100
	firstWait     = 5 * time.Second
	longestWait   = 15 * time.Minute
	guessesTold   = 10 // after which the owner is told
	anybody       = "anybody"
)

// waitAfter is how long after a number of wrong guesses the next one is taken.
func waitAfter(number, free int) time.Duration {
	over := number - free
	if over < 0 {
		return 0
	}
	if over > 12 {
		return longestWait
	}
	return min(firstWait<<over, longestWait)
}

// errWrong says that a guess was wrong: a refusal in its field.
type errWrong struct{ error }

func (e errWrong) Unwrap() error { return e.error }

// guarded lets somebody try a password or a code of an account. Guesses are counted before
// they are looked at, so that many at once are no way around, by device or by address:
// whoever guesses wrong waits, and nobody else does.
func guarded(ctx context.Context, a *app.App, account string, from Whence, try func() error) error {
	account = strings.ToLower(strings.TrimSpace(account))
	counted, err := countGuess(ctx, a, account, from)
	if err != nil {
		return err
	}
	tried := try()
	if wrong := (errWrong{}); errors.As(tried, &wrong) {
		if err := noteWrong(ctx, a, account, from, counted); err != nil {
			return err
		}
		return wrong.error
	}
	// A right password whose code is still to come takes back its own count alone: it is no
	// way to guess codes for nothing.
	err = a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		for _, whence := range counted.whences {
			if err := store.ForgetGuesses(tx, account, whence, tried != nil || whence == anybody); err != nil {
				return err
			}
		}
		return nil
	})
	if err != nil {
		return err
	}
	return tried
}

// counted is a guess that was counted: under what, and how many of anybody's there were.
type counted struct {
	whences []string
	ofAll   int
}

// countGuess counts a guess, or refuses it while its wait lasts.
func countGuess(ctx context.Context, a *app.App, account string, from Whence) (c counted, err error) {
	now := a.Clock.Now()
	err = a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		known, err := knownDevice(tx, account, from)
		if err != nil {
			return err
		}
		c.whences = []string{"address " + from.Address, anybody}
		if known {
			c.whences = []string{"device " + correspondence.Digest(from.Device)}
		}
		for i, whence := range c.whences {
			before, last, err := store.CountGuess(tx, account, whence, now)
			if err != nil {
				return err
			}
			free := freeGuesses
			if i > 0 {
				free, c.ofAll = freeOfAnybody, before+1
			}
			if left := last.Add(waitAfter(before, free)).Sub(now); before >= free && left > 0 {
				return app.Refuse(app.Wait, "There were too many wrong tries. Wait %s, then try again.", inWords(left))
			}
		}
		return nil
	})
	return c, err
}

// knownDevice reports whether a guess comes from a device, or a session, of the person
// whose account it is.
func knownDevice(tx *store.DB, account string, from Whence) (bool, error) {
	if from.Device == "" {
		return false, nil
	}
	person, err := store.PersonByMail(tx, account)
	if errors.Is(err, store.ErrNotFound) {
		return false, nil
	}
	if err != nil {
		return false, err
	}
	owner, err := store.DeviceOf(tx, correspondence.Digest(from.Device))
	return owner == person.ID, err
}

// noteWrong logs a wrong guess, and tells the owner of many.
func noteWrong(ctx context.Context, a *app.App, account string, from Whence, c counted) error {
	person, err := store.PersonByMail(a.Store.Read(ctx, store.Everything), account)
	if err != nil && !errors.Is(err, store.ErrNotFound) {
		return err
	}
	entry := Entry{Kind: WrongPassword, Account: account, Whence: from}
	if err == nil {
		entry.PersonID = person.ID
	}
	if err := Log(ctx, a, entry); err != nil || entry.PersonID == 0 || c.ofAll != guessesTold &&
		(c.ofAll == 0 || c.ofAll%freeOfAnybody != 0) {
		return err
	}
	_, err = app.Do(ctx, a, app.Request{}, "tell of wrong passwords", nil, func(tx *app.Tx) (struct{}, error) {
		tx.Describe(nil, nil, "Told %s of %d wrong passwords for their account", person.Name, c.ofAll)
		tx.LinkTo("people", person.ID)
		return struct{}{}, tellPerson(tx, person, "Wrong passwords for your account",
			fmt.Sprintf("Somebody typed %d wrong passwords or codes for your account within a day, the last one from %s. "+
				"Whoever it is has to "+
				"wait longer each time; you do not, where you have signed in before. If it was not you, choose another password.", c.ofAll,
				from.Address))
	})
	return err
}

// inWords is a wait as people say it.
func inWords(wait time.Duration) string {
	if seconds := int(wait.Round(time.Second) / time.Second); seconds < 100 {
		return fmt.Sprintf("%d seconds", max(seconds, 1))
	}
	return fmt.Sprintf("%d minutes", int((wait+time.Minute-1)/time.Minute))
}
