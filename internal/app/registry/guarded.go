package registry

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/identity"
	"dorvet/internal/store"
)

// Some fields lead money or sight astray when the wrong hand sets them: bank details, roles,
// limits. Whoever sets one types the password again, all administrators are told, and where
// the firm wants it a second one agrees first.

// Kept says what became of a change.
type Kept struct {
	Waits bool `json:"waits" doc:"whether a second administrator has to agree first; nothing has changed yet"`
}

// guardedIn are the guarded fields to which a new record gives another value than it has
// by itself.
func guardedIn(e *Env, fresh Record, typed map[string]string) ([]string, error) {
	labels := []string{}
	for _, f := range fresh.fields() {
		text, given := typed[f.Name]
		if !f.Guarded || !given || f.Name == "limited_to" || f.Name == "mail" { // of a new account these take nothing from anybody
			continue
		}
		was, err := fresh.Get(e, f.Name)
		if err != nil {
			return nil, err
		}
		if strings.TrimSpace(text) != was {
			labels = append(labels, within(f.Label))
		}
	}
	return labels, nil
}

// mayMake refuses a new record with guarded values to who has not typed the password again,
// or where a second administrator has to agree to them.
func mayMake(tx *app.Tx, e *Env, k AnyKind, typed map[string]string) error {
	given := slices.ContainsFunc(k.describe().Fields, func(f Field) bool { return f.Guarded && typed[f.Name] != "" })
	if !given || tx.Actor.PersonID == 0 { // nobody, who makes the first administrator
		return nil
	}
	fresh, err := k.Fresh(e)
	if err != nil {
		return err
	}
	labels, err := guardedIn(e, fresh, typed)
	if err != nil || len(labels) == 0 {
		return err
	}
	if e.Firm.TwoAgree {
		return app.Refuse(app.Conflict, "A second administrator has to agree to %s: make the %s without, then set it.",
			strings.Join(labels, ", "), k.describe().One)
	}
	return tx.Actor.Prove()
}

// isGuarded reports whether a field of a kind is guarded.
func isGuarded(k AnyKind, name string) bool {
	return slices.ContainsFunc(k.describe().Fields, func(f Field) bool { return f.Name == name && f.Guarded })
}

// propose keeps a change until a second administrator agrees.
func propose(tx *app.Tx, e *Env, k AnyKind, seen []ExpectedVersion, c Change) error {
	for _, s := range seen {
		r, err := opened(e, k, s)
		if err != nil {
			return err
		}
		before, err := r.Get(e, c.Field)
		if err != nil {
			return err
		}
		tried := r.copy() // so that what can't be set is refused now
		if err := tried.set(e, c.Field, c.Value); err != nil {
			return app.InField(c.Field, err)
		}
		row := &store.ProposedChange{Kind: k.describe().Name, RecordID: s.ID, Field: c.Field, Before: before, Value: c.Value,
			PersonID: tx.Actor.PersonID, At: tx.Now, State: "waits"}
		if err := store.Insert(tx.DB, row); err != nil {
			return err
		}
		tx.LinkTo(k.describe().Name, s.ID)
	}
	who, what, err := toldOf(tx, e, k, seen, c.Field)
	if err != nil {
		return err
	}
	tx.Describe(nil, nil, "Proposed to change %s", what)
	return identity.TellAdministrators(tx, "A change waits for you",
		fmt.Sprintf("%s proposes to change %s. A second administrator has to agree or refuse: Set-up, Changes that wait.", who, what))
}

// announce logs a guarded change that was made, and tells all administrators of it; where
// there was nothing before, as of the first bank details, it is no news.
func announce(tx *app.Tx, e *Env, k AnyKind, seen []ExpectedVersion, field string, before []string, fresh bool) error {
	who, what, err := toldOf(tx, e, k, seen, field)
	if err != nil {
		return err
	}
	if err := identity.LogChange(tx, what); err != nil || fresh {
		return err
	}
	for i := range seen {
		if k.describe().Name != "people" {
			break
		}
		if err := identity.TellOfChange(tx, seen[i].ID, what, who, before[i]); err != nil {
			return err
		}
	}
	return identity.TellAdministrators(tx, "A change that you should know of",
		fmt.Sprintf("%s changed %s. If you do not know why, ask now.", who, what))
}

// toldOf says who changes what.
func toldOf(tx *app.Tx, e *Env, k AnyKind, seen []ExpectedVersion, field string) (who, what string, err error) {
	titles := []string{}
	for _, s := range seen {
		name, err := e.NameOf(k.describe().Name, s.ID)
		if err != nil {
			return "", "", err
		}
		titles = append(titles, name.Title)
	}
	label := field
	for _, f := range k.describe().Fields {
		if f.Name == field {
			label = within(f.Label)
		}
	}
	person, err := store.Get[store.Person](tx.DB, tx.Actor.PersonID)
	return person.Name, label + " of " + strings.Join(titles, ", "), err
}

// WaitingChange is a change that waits for a second administrator.
type WaitingChange struct {
	ID      int64     `json:"id"`
	Version int64     `json:"version"`
	What    string    `json:"what"`
	Before  string    `json:"before"`
	After   string    `json:"after"`
	By      string    `json:"by"`
	At      time.Time `json:"at"`
	Own     bool      `json:"own" doc:"whether the reader proposed it, and so can only take it back"`
}

// Waiting lists the changes that wait for a second administrator.
func Waiting(ctx context.Context, a *app.App, actor app.Actor) ([]WaitingChange, error) {
	tx, list := a.Read(ctx, actor), []WaitingChange{}
	rows, err := store.WaitingChanges(tx)
	if err != nil {
		return nil, err
	}
	e, err := NewEnv(tx, a.Clock.Today(), actor)
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		name, err := e.NameOf(row.Kind, row.RecordID)
		if err != nil {
			return nil, err
		}
		by, err := store.Get[store.Person](tx, row.PersonID)
		if err != nil {
			return nil, err
		}
		label := row.Field
		for _, f := range kinds[row.Kind].describe().Fields {
			if f.Name == row.Field {
				label = f.Label
				row.Before, row.Value = Words(e, f, row.Before), Words(e, f, row.Value)
			}
		}
		list = append(list, WaitingChange{row.ID, row.Version, label + " of " + name.Title, row.Before, row.Value,
			by.Name,
			row.At, row.PersonID == actor.PersonID})
	}
	return list, nil
}

// AnswerChange makes a change that waits, or throws it away. Who proposed it can only take
// it back.
func AnswerChange(ctx context.Context, a *app.App, r app.Request, id, version int64, yes bool) error {
	_, err := app.Do(ctx, a, r, "answer change", []any{id, version, yes}, func(tx *app.Tx) (struct{}, error) {
		row, err := store.Get[store.ProposedChange](tx.DB, id)
		if err != nil {
			return struct{}{}, app.Missing(err, "change")
		}
		switch {
		case row.Version != version || row.State != "waits":
			return struct{}{}, store.ErrStale
		case yes && row.PersonID == tx.Actor.PersonID:
			return struct{}{}, app.Refuse(app.Forbidden, "You proposed this yourself: another administrator has to agree.")
		}
		if err := tx.Actor.Prove(); err != nil {
			return struct{}{}, err
		}
		row.AnsweredBy, row.State = &tx.Actor.PersonID, "refused"
		tx.Describe(nil, nil, "Refused a change that waited")
		tx.LinkTo(row.Kind, row.RecordID)
		if yes {
			row.State = "agreed"
			if err := makeAgreed(tx, row); err != nil {
				return struct{}{}, err
			}
		}
		return struct{}{}, store.Save(tx.DB, row)
	})
	return err
}

// makeAgreed makes a change to which a second administrator has agreed, if the field is
// still as it was when it was proposed.
func makeAgreed(tx *app.Tx, row *store.ProposedChange) error {
	e, err := Acting(tx)
	if err != nil {
		return err
	}
	k := kinds[row.Kind]
	r, err := k.Open(e, row.RecordID)
	if err != nil {
		return err
	}
	now, err := r.Get(e, row.Field)
	if err != nil {
		return err
	}
	if now != row.Before {
		return app.Refuse(app.Conflict, "It was changed since this was proposed: refuse it, and have it proposed anew.")
	}
	seen := ExpectedVersion{ID: row.RecordID, Version: r.head().Version}
	done, err := setOne(tx, e, k, seen, Change{Field: row.Field, Value: row.Value})
	if err != nil {
		return err
	}
	tx.Describe(done.before, done.after, "Agreed to change %s of %s", within(done.label), done.title)
	return announce(tx, e, k, []ExpectedVersion{seen}, row.Field, []string{row.Before}, false)
}
