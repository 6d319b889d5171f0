package app

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"slices"
	"sync/atomic"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/internal/store"
)

// Request is who asks for an act, under which key, and why. The same key with
// the same input gives the first answer again; with other input it is refused.
type Request struct {
	Actor  Actor
	Key    string
	Reason string
}

// Tx is the transaction of one act.
type Tx struct {
	*store.DB
	ActID int64
	Now   time.Time
	Today day.Day
	Actor Actor

	act      store.Act
	subjects []store.ActSubject
	linked   map[store.ActSubject]bool
	work     []store.WorkMovement
	money    []store.MoneyMovement
	notices  []store.Notice
	asides   []string
	mails    []store.Mail
	known    map[string]any
}

// Memo reads something that an act needs again and again, and that it does not
// change, the first time that it is asked for.
func Memo[T any](tx *Tx, name string, read func(*store.DB) (T, error)) (T, error) {
	if value, is := tx.known[name]; is {
		return value.(T), nil
	}
	value, err := read(tx.DB)
	if err != nil {
		return value, err
	}
	if tx.known == nil {
		tx.known = map[string]any{}
	}
	tx.known[name] = value
	return value, nil
}

// Describe writes the act's sentence in the history, with what was before and after.
func (tx *Tx) Describe(before, after any, sentence string, values ...any) {
	tx.act.Summary = fmt.Sprintf(sentence, values...)
	tx.act.Before, tx.act.After = asJSON(before), asJSON(after)
}

// AddAside adds to the act's sentence what it brings about besides.
func (tx *Tx) AddAside(said string) { tx.asides = append(tx.asides, said) }

// LinkTo links the act to the things in whose history it appears.
func (tx *Tx) LinkTo(subject string, ids ...int64) {
	for _, id := range ids {
		link := store.ActSubject{ActID: tx.ActID, Subject: subject, SubjectID: id}
		if tx.linked[link] {
			continue
		}
		if tx.linked == nil {
			tx.linked = map[store.ActSubject]bool{}
		}
		tx.linked[link] = true
		tx.subjects = append(tx.subjects, link)
	}
}

// Notify tells a person something, inside the application, and by mail, too, if they want it so.
func (tx *Tx) Notify(personID int64, engagementID *int64, sentence string, values ...any) {
	tx.notices = append(tx.notices, store.Notice{PersonID: personID, ActID: tx.ActID, BusinessDay: tx.Today, EngagementID: engagementID,
		Sentence: fmt.Sprintf(sentence, values...)})
}

// NotifyMailed tells a person something of which they get a mail anyway.
func (tx *Tx) NotifyMailed(personID int64, sentence string) {
	tx.Notify(personID, nil, "%s", sentence)
	tx.notices[len(tx.notices)-1].Mail = "sent"
}

// Mail keeps a mail with the act; it is delivered afterwards.
func (tx *Tx) Mail(m store.Mail) {
	m.ActID, m.MadeAt = tx.ActID, tx.Now
	tx.mails = append(tx.mails, m)
}

// TellQueue says, without waiting, that there are mails to be delivered.
func (a *App) TellQueue() {
	select {
	case a.Queued <- struct{}{}:
	default:
	}
}

// Secretive is an answer that may have a secret, which is shown once: then nothing of it is
// kept under the key of its try, and asked again it is refused.
type Secretive interface{ HasSecret() bool }

// errShownOnce refuses a try that is asked again, whose secret was shown and not kept.
var errShownOnce = Refuse(Conflict, "It was made already, and is shown once only: make a new one.")

// Do runs an act: one transaction, with its history. Nothing is left of an act
// that returns an error.
func Do[T any](ctx context.Context, a *App, r Request, kind string, input any, act func(*Tx) (T, error)) (T, error) {
	return do(ctx, a, r, kind, input, act, a.Store.Write)
}

// DoTogether runs a small act that many people do at once, as [Do] does: those who wait at the same time share one wait for
// the disk. It may be run again after nothing was left of it, so it does nothing but write.
func DoTogether[T any](ctx context.Context, a *App, r Request, kind string, input any, act func(*Tx) (T, error)) (T, error) {
	return do(ctx, a, r, kind, input, act, a.Store.Together)
}

func do[T any](ctx context.Context, a *App, r Request, kind string, input any, act func(*Tx) (T, error),
	write func(context.Context, store.AccessScope, func(*store.DB) error) error) (T, error) {
	var result T
	if r.Key == "" {
		r.Key = keyFrom(ctx)
	}
	asked := keyedBy(r, kind, input)
	mailed := false
	err := write(ctx, r.Actor.Scope(), func(db *store.DB) error {
		if done, err := answered(db, asked, &result); done || err != nil {
			return err
		}
		tx, err := begin(db, a, r, kind)
		if err != nil {
			return err
		}
		if result, err = act(tx); err == nil {
			mailed = len(tx.mails) > 0
			err = tx.finish(asked, result)
		}
		if err != nil && !refusal.Is(err) {
			err = fmt.Errorf("%s (act %d): %w", kind, tx.ActID, err)
		}
		return err
	})
	if err == nil && mailed {
		a.TellQueue()
	}
	return result, err
}

// keyedBy is what an act is known by under the key of its try.
func keyedBy(r Request, kind string, input any) store.Idempotency {
	digest := sha256.Sum256([]byte(asJSON(input)))
	return store.Idempotency{PersonID: r.Actor.PersonID, Key: r.Key, Act: kind, BodyDigest: hex.EncodeToString(digest[:])}
}

func answered[T any](db *store.DB, asked store.Idempotency, result *T) (bool, error) {
	if asked.Key == "" {
		return false, nil
	}
	before, err := store.Answer(db, asked.PersonID, asked.Key)
	if err != nil || before == nil {
		return false, err
	}
	if before.Act != asked.Act || before.BodyDigest != asked.BodyDigest {
		return false, Refuse(Conflict, "This was asked for before with other content. Load the page again, then repeat "+
			"what you were doing.")
	}
	if _, is := any(*result).(Secretive); is && before.Result == "" {
		return true, errShownOnce
	}
	return true, json.Unmarshal([]byte(before.Result), result)
}

func begin(db *store.DB, a *App, r Request, kind string) (*Tx, error) {
	id, err := store.NextActID(db)
	tx := &Tx{DB: db, ActID: id, Now: a.Clock.Now(), Today: a.Clock.Today(), Actor: r.Actor}
	tx.act = store.Act{ID: id, Kind: kind, At: tx.Now, BusinessDay: tx.Today, Reason: r.Reason, Outsider: r.Actor.Outsider}
	if r.Actor.PersonID != 0 {
		tx.act.PersonID = &r.Actor.PersonID
	}
	return tx, err
}

// DryRun is a transaction in which an act is tried, to be taken back: it leaves no
// history.
func DryRun(db *store.DB, a *App, actor Actor) *Tx {
	return &Tx{DB: db, Now: a.Clock.Now(), Today: a.Clock.Today(), Actor: actor}
}

func (tx *Tx) finish(asked store.Idempotency, result any) error {
	for _, aside := range tx.asides {
		tx.act.Summary += ", " + aside
	}
	if err := store.InsertAct(tx.DB, &tx.act, tx.subjects, tx.work); err != nil {
		return err
	}
	if err := store.Insert(tx.DB, tx.money); err != nil {
		return err
	}
	if err := store.InsertNotices(tx.DB, tx.notices); err != nil {
		return err
	}
	if err := store.InsertMails(tx.DB, tx.mails); err != nil {
		return err
	}
	if err := tx.sumsFit(); err != nil {
		return err
	}
	if asked.Key == "" {
		return nil
	}
	if secretive, is := result.(Secretive); is && secretive.HasSecret() {
		result = nil
	}
	asked.Result, asked.At = asJSON(result), tx.Now
	return store.Insert(tx.DB, &asked)
}

// large is the amount from which an act is looked at for what it does to the sums of the
// books: below it there would have to be more records than anybody keeps.
const large = money.Most / 100

// sumsFit refuses an act after which the sums over all records would be larger than
// pages can count: what is let in makes no list unreadable.
func (tx *Tx) sumsFit() error {
	is := func(minor int64) bool { return minor >= large || minor <= -large }
	if !slices.ContainsFunc(tx.money, func(m store.MoneyMovement) bool { return is(m.Amount) || is(m.FirmAmount) }) &&
		!slices.ContainsFunc(tx.work, func(m store.WorkMovement) bool { return is(m.Agreed) || is(m.Standard) }) {
		return nil
	}
	fit, err := store.SumsFit(tx.DB)
	if err == nil && !fit {
		err = Refuse(Conflict, "With this, the books would come to more than can be counted: look at the amount again.")
	}
	return err
}

func asJSON(value any) string {
	if value == nil {
		return ""
	}
	text, err := json.Marshal(value)
	if err != nil {
		panic(err) // acts take and give plain values
	}
	return string(text)
}

type unattended struct{}

// Unattended says that a request is made by a page before which nobody is: it does not keep them signed in.
func Unattended(ctx context.Context) context.Context {
	return context.WithValue(ctx, unattended{}, true)
}

// IsUnattended reports whether a request is made by a page before which nobody is.
func IsUnattended(ctx context.Context) bool { return ctx.Value(unattended{}) != nil }

// tryKey is the key of a try in a context: each act under it has a key of its own.
type tryKey struct {
	key string
	n   atomic.Int64
}

type keyOfTry struct{}

// WithKey gives the acts of a request the key under which it was tried.
func WithKey(ctx context.Context, key string) context.Context {
	return context.WithValue(ctx, keyOfTry{}, &tryKey{key: key})
}

// keyFrom is the key of the next act of a request; asked again, the request has the
// same acts in the same order.
func keyFrom(ctx context.Context) string {
	try, is := ctx.Value(keyOfTry{}).(*tryKey)
	if !is {
		return ""
	}
	if n := try.n.Add(1); n > 1 {
		return fmt.Sprintf("%s#%d", try.key, n)
	}
	return try.key
}
