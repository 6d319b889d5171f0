package registry

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Acting is what changing records needs, in the transaction of an act.
func Acting(tx *app.Tx) (*Env, error) { return NewEnv(tx.DB, tx.Today, tx.Actor) }

// Added is a record that was made.
type Added struct {
	ID    int64  `json:"id"`
	Key   string `json:"key"`
	Title string `json:"title"`
}

// AddRecord makes a record of a kind from what was typed; what was not typed
// has its default.
func AddRecord(ctx context.Context, a *app.App, r app.Request, name string, typed map[string]string) (Added, error) {
	k, err := kindNamed(name)
	if err != nil {
		return Added{}, err
	}
	return app.Do(ctx, a, r, "add "+k.describe().One, []any{name, typed}, func(tx *app.Tx) (Added, error) {
		e, err := Acting(tx)
		if err != nil {
			return Added{}, err
		}
		made, err := AddTo(tx, e, k, typed)
		if err != nil {
			return Added{}, err
		}
		if err := stillSeen(e, k, made.head().ID); err != nil {
			return Added{}, err
		}
		added, err := AddedOf(e, k, made)
		tx.Describe(nil, nil, "Made the %s %s", k.describe().One, added.Title)
		tx.LinkTo(name, added.ID)
		return added, err
	})
}

// AddedOf says what was made.
func AddedOf(e *Env, k AnyKind, r Record) (Added, error) {
	name := k.describe().Name
	is, err := e.nameMade(name, r.head().ID)
	return Added{is.ID, is.Key, is.Title}, err
}

// AddTo makes a record in the transaction of an act. Fields are set in the order
// of the kind, so that those that others depend on come first.
func AddTo(tx *app.Tx, e *Env, k AnyKind, typed map[string]string) (Record, error) {
	if err := mayMake(tx, e, k, typed); err != nil {
		return nil, err
	}
	r, err := k.Fresh(e)
	if err != nil {
		return nil, err
	}
	fields := r.fields()
	for _, f := range fields {
		if text, given := typed[f.Name]; given {
			if err := r.set(e, f.Name, text); err != nil {
				return nil, app.InField(f.Name, err)
			}
		}
	}
	if err := r.Insert(e); err != nil {
		return nil, err
	}
	if err := r.After(tx, e, nil); err != nil {
		return nil, err
	}
	for name, text := range typed {
		if slices.ContainsFunc(fields, func(f Field) bool { return f.Name == name }) || strings.TrimSpace(text) == "" {
			continue
		}
		if err := fillLayered(e, r, name, text); err != nil {
			return nil, app.InField(name, err)
		}
	}
	return r, nil
}

// Change is a value that is set on a record. GiveBack takes away the record's
// own value, so that it inherits again.
type Change struct {
	Field    string `json:"field"`
	Value    string `json:"value" maxLength:"5000"`
	GiveBack bool   `json:"giveBack,omitempty"`
}

// ExpectedVersion is a record in the version in which somebody saw it.
type ExpectedVersion struct {
	ID      int64 `json:"id" minimum:"1"`
	Version int64 `json:"version"`
}

// SetField changes one field of one or several records of a kind: all or none.
func SetField(ctx context.Context, a *app.App, r app.Request, name string, seen []ExpectedVersion, c Change) (Kept, error) {
	k, err := kindNamed(name)
	if err != nil {
		return Kept{}, err
	}
	guarded := isGuarded(k, c.Field)
	return app.Do(ctx, a, r, "change "+k.describe().One, []any{name, seen, c}, func(tx *app.Tx) (Kept, error) {
		e, err := Acting(tx)
		if err != nil {
			return Kept{}, err
		}
		if guarded {
			if err := tx.Actor.Prove(); err != nil {
				return Kept{}, err
			}
			if e.Firm.TwoAgree {
				return Kept{Waits: true}, propose(tx, e, k, seen, c)
			}
		}
		before, after, titles, were, label, fresh := map[string]string{}, map[string]string{}, []string{}, []string{}, "", true
		for _, s := range seen {
			done, err := setOne(tx, e, k, s, c)
			if err != nil {
				return Kept{}, err
			}
			label = done.label
			titles = append(titles, done.title)
			tx.LinkTo(name, s.ID)
			part := done.label
			if len(seen) > 1 { // each with what it had before
				part = done.title + ", " + done.label
			}
			before[part], after[part] = done.before, done.after
			were, fresh = append(were, done.before), fresh && done.before == ""
		}
		tx.Describe(before, after, "Changed %s of %s", within(label), strings.Join(titles, ", "))
		if guarded {
			return Kept{}, announce(tx, e, k, seen, c.Field, were, fresh && name == "entities")
		}
		return Kept{}, nil
	})
}

// changed is what a change did to one record.
type changed struct{ label, title, before, after string }

func setOne(tx *app.Tx, e *Env, k AnyKind, s ExpectedVersion, c Change) (changed, error) {
	r, err := opened(e, k, s)
	if err != nil {
		return changed{}, err
	}
	name, err := e.NameOf(k.describe().Name, s.ID)
	if err != nil {
		return changed{}, err
	}
	done := changed{title: name.Title}
	i := slices.IndexFunc(r.fields(), func(f Field) bool { return f.Name == c.Field })
	if i < 0 {
		set, err := setLayered(e, r, c.Field, c.Value, c.GiveBack)
		done.label, done.before, done.after = set.label, set.before, set.after
		if err != nil {
			return done, app.InField(c.Field, err)
		}
		return done, r.save(e)
	}
	f, before := r.fields()[i], r.copy()
	done.label = f.Label
	if err := fixed(e, k, s.ID, f); err != nil {
		return done, err
	}
	if done.before, err = r.Get(e, f.Name); err != nil {
		return done, err
	}
	if err := r.set(e, f.Name, c.Value); err != nil {
		return done, app.InField(f.Name, err)
	}
	if err := r.save(e); err != nil {
		return done, err
	}
	done.after, err = r.Get(e, f.Name)
	delete(e.names, k.describe().Name)
	done.before, done.after = Words(e, f, done.before), Words(e, f, done.after)
	if err != nil {
		return done, err
	}
	if err := stillSeen(e, k, s.ID); err != nil {
		return done, err
	}
	return done, r.After(tx, e, before)
}

// stillSeen refuses to make, or to move, a record to where the actor sees
// nothing: onto an engagement of another lead.
func stillSeen(e *Env, k AnyKind, id int64) error {
	_, err := k.Open(e, id)
	if errors.Is(err, store.ErrNotFound) || refusal.Is(err) {
		return app.Refuse(app.Forbidden, "This belongs to an engagement or a client of another lead. Ask a billing administrator.")
	}
	return err
}

// opened reads a record and refuses one that was changed since it was seen.
func opened(e *Env, k AnyKind, s ExpectedVersion) (Record, error) {
	r, err := k.Open(e, s.ID)
	if err == nil && r.head().Version != s.Version {
		err = store.ErrStale
	}
	return r, err
}

// fixed refuses to change a code that something refers to.
func fixed(e *Env, k AnyKind, id int64, f Field) error {
	if !f.Fixed {
		return nil
	}
	used, err := store.UsedBy(e.Tx, k.describe().Name, id)
	if err == nil && used != "" {
		err = app.RefuseField(f.Name, "%s can't change any more, because %s use it. Make a new %s if you need another.", f.Label, used,
			k.describe().One)
	}
	return err
}

// SetActive hides a record and closes it to new work, or takes it back.
func SetActive(ctx context.Context, a *app.App, r app.Request, name string, s ExpectedVersion, active bool) error {
	k, err := kindNamed(name)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "retire "+k.describe().One, []any{name, s, active}, func(tx *app.Tx) (struct{}, error) {
		e, err := Acting(tx)
		if err != nil {
			return struct{}{}, err
		}
		opened, err := opened(e, k, s)
		if err != nil {
			return struct{}{}, err
		}
		if opened.active() == nil {
			return struct{}{}, app.Refuse(app.Invalid, "A %s is never inactive.", k.describe().One)
		}
		before := opened.copy()
		*opened.active() = active
		is, err := e.NameOf(name, s.ID)
		if err != nil {
			return struct{}{}, err
		}
		said := map[bool]string{true: "Took back %s", false: "Made %s inactive"}[active]
		tx.Describe(nil, nil, said, is.Title)
		tx.LinkTo(name, s.ID)
		if err := opened.save(e); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, opened.After(tx, e, before)
	})
	return err
}

// Remove deletes a record that nothing refers to.
func Remove(ctx context.Context, a *app.App, r app.Request, name string, s ExpectedVersion) error {
	k, err := kindNamed(name)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "delete "+k.describe().One, []any{name, s}, func(tx *app.Tx) (struct{}, error) {
		e, err := Acting(tx)
		if err != nil {
			return struct{}{}, err
		}
		return struct{}{}, remove(tx, e, k, s)
	})
	return err
}

func remove(tx *app.Tx, e *Env, k AnyKind, s ExpectedVersion) error {
	r, err := opened(e, k, s)
	if err != nil {
		return err
	}
	name, err := e.NameOf(k.describe().Name, s.ID)
	if err != nil {
		return err
	}
	title := name.Title
	carries, err := store.FirmStandsOn(tx.DB, k.describe().Name, s.ID)
	if err != nil {
		return err
	}
	if carries {
		return app.Refuse(app.Conflict, "The firm stands on %s: it can be changed, and is never deleted.", title)
	}
	used, err := store.UsedBy(tx.DB, k.describe().Name, s.ID)
	if err != nil {
		return err
	}
	if used != "" {
		instead := ""
		if k.describe().Retires {
			instead = " Make it inactive instead: it is hidden then, and kept in every report."
		}
		return app.Refuse(app.Conflict, "%s has %s and can't be deleted.%s", title, used, instead)
	}
	kept, err := valuesOf(e, r)
	if err != nil {
		return err
	}
	tx.Describe(kept, nil, "Deleted the %s %s", k.describe().One, title)
	tx.LinkTo(k.describe().Name, s.ID)
	if err := forgetLayers(e, r); err != nil {
		return err
	}
	err = r.remove(e)
	if store.IsStillNamed(err) {
		return app.Refuse(app.Conflict, "%s is still used elsewhere and can't be deleted.", title)
	}
	return err
}

// valuesOf is what a record says, for the history.
func valuesOf(e *Env, r Record) (map[string]string, error) {
	kept := map[string]string{}
	for _, f := range r.fields() {
		text, err := r.Get(e, f.Name)
		if err != nil {
			return nil, fmt.Errorf("read %s: %w", f.Name, err)
		}
		if text != "" {
			kept[f.Label] = text
		}
	}
	return kept, nil
}
