// Package registry keeps records of many kinds the same way: clients, people, rates and
// twenty others. Every kind is a table of fields ([Definition], [FieldOf]), and from that one
// table come the sheet that is changed in place, the list, the history, the file that is
// read and the one that is written, and the form of the contract.
//
// It knows no kind itself: the room that has them says which there are. A field is one line:
//
//	registry.Line("reference", "Their reference", func(e *E) *string { return &e.Reference }).Listed(),
package registry

import (
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Kind describes one kind of record of the set-up.
type Kind struct {
	Name  string   `json:"name" doc:"as it stands in addresses"`
	One   string   `json:"one"`
	Many  string   `json:"many"`
	About string   `json:"about"`
	First []string `json:"first" doc:"the fields that are asked when one is made"`
	// Retires is whether it can be made inactive and taken back.
	Kept    string  `json:"kept,omitempty" doc:"why the reader makes and changes none of them; nothing: as their role does"`
	Retires bool    `json:"retires"`
	Files   bool    `json:"files" doc:"whether it is read from files"`
	Fields  []Field `json:"fields"`
}

// Definition is a kind with how its records of type T are kept.
type Definition[T any] struct {
	Kind
	Table   []FieldOf[T]
	Profile profile.Scope // whose profile stands on it
	Own     string        // whose own fields stand on it
	Single  bool          // there is just one, number 1
	Blank   func(*Env) (T, error)
	Belongs func(*T) int64 // the number of what it belongs to, or 0
	Check   func(*Env, *T) error
	After   func(tx *app.Tx, e *Env, before, now *T) error // before is nil when it is new
	Active  func(*T) *bool
}

// AnyKind is a definition whatever its type.
type AnyKind interface {
	describe() *Kind
	Fresh(e *Env) (Record, error)
	Open(e *Env, id int64) (Record, error)
	list(e *Env, f ListFilter) ([]Record, error)
}

// Record is one record of any kind.
type Record interface {
	head() *store.Row
	kind() AnyKind
	fields() []Field
	Get(e *Env, name string) (string, error)
	set(e *Env, name, text string) error
	copy() Record
	title() string
	belongs() int64
	active() *bool
	check(e *Env) error
	Insert(e *Env) error
	save(e *Env) error
	remove(e *Env) error
	After(tx *app.Tx, e *Env, before Record) error
	layers() (scope profile.Scope, own string)
}

// Typed is a record of a definition: a value, and what is linked to it beside its row.
type Typed[T any] struct {
	of    *Definition[T]
	Value *T
	links map[string]string
}

func (d *Definition[T]) describe() *Kind { return &d.Kind }

// Ready completes a definition.
func (d *Definition[T]) Ready() AnyKind {
	d.Retires = d.Active != nil
	d.Fields = make([]Field, len(d.Table))
	for i, f := range d.Table {
		d.Fields[i] = f.Field
	}
	if d.First == nil {
		d.First = []string{}
	}
	return d
}

// Fresh is a new record, with its defaults.
func (d *Definition[T]) Fresh(e *Env) (Record, error) {
	value, err := d.Blank(e)
	return &Typed[T]{d, &value, map[string]string{}}, err
}

// Open reads the record of a number, or refuses what is missing.
func (d *Definition[T]) Open(e *Env, id int64) (Record, error) {
	value, err := store.Record[T](e.Tx, d.Name, id)
	if err != nil {
		return nil, app.Missing(err, d.One)
	}
	return &Typed[T]{d, value, map[string]string{}}, nil
}

func (d *Definition[T]) list(e *Env, f ListFilter) ([]Record, error) {
	values, err := store.Records[T](e.Tx, d.Name, store.RecordFilter{Of: f.Of, Text: f.Text, Active: d.Retires && !f.Inactive, Most: f.Most})
	if err != nil {
		return nil, err
	}
	records := make([]Record, 0, len(values))
	for i := range values {
		t := &Typed[T]{d, &values[i], map[string]string{}}
		if on := t.active(); on == nil || *on || f.Inactive {
			records = append(records, t)
		}
	}
	if store.OrderedByName(d.Name) {
		slices.SortStableFunc(records, func(a, b Record) int { return CompareNames(a.title(), b.title()) })
	}
	return records, nil
}

func (t *Typed[T]) head() *store.Row                { return any(t.Value).(store.Editable).Head() }
func (t *Typed[T]) kind() AnyKind                   { return t.of }
func (t *Typed[T]) fields() []Field                 { return t.of.Fields }
func (t *Typed[T]) layers() (profile.Scope, string) { return t.of.Profile, t.of.Own }
func (t *Typed[T]) copy() Record                    { value := *t.Value; return &Typed[T]{t.of, &value, t.links} }

func (t *Typed[T]) field(name string) (*FieldOf[T], error) {
	i := slices.IndexFunc(t.of.Table, func(f FieldOf[T]) bool { return f.Name == name })
	if i < 0 {
		return nil, refusal.Errorf("%s have no %q", t.of.Many, name)
	}
	return &t.of.Table[i], nil
}

// Get is what stands in a field, as it would be typed.
func (t *Typed[T]) Get(e *Env, name string) (string, error) {
	f, err := t.field(name)
	if err != nil {
		return "", err
	}
	return f.Read(e, t.Value)
}

func (t *Typed[T]) set(e *Env, name, text string) error {
	f, err := t.field(name)
	switch {
	case err != nil:
		return err
	case f.Set:
		return refusal.Errorf("%s is kept by Dorvet and can't be typed", within(f.Label))
	case f.Needed && strings.TrimSpace(text) == "":
		return refusal.Errorf("%s can't be empty: give one", within(f.Label))
	case f.Link != nil:
		t.links[name] = text
		return nil
	}
	return f.Write(e, t.Value, text)
}

// belongs is the number of what the record belongs to, or 0.
func (t *Typed[T]) belongs() int64 {
	if t.of.Belongs == nil {
		return 0
	}
	return t.of.Belongs(t.Value)
}

// title is the name of what is ordered by its name.
func (t *Typed[T]) title() string {
	text, _ := t.Get(&Env{}, "name")
	return text
}

func (t *Typed[T]) active() *bool {
	if t.of.Active == nil {
		return nil
	}
	return t.of.Active(t.Value)
}

func (t *Typed[T]) check(e *Env) error {
	for _, f := range t.of.Table {
		if f.Needed && f.Read != nil {
			text, err := f.Read(e, t.Value)
			if err := app.Unless(err, app.RefuseField(f.Name, "%s is missing: give one.", f.Label),
				func() bool { return text != "" }); err != nil {
				return err
			}
		}
	}
	if t.of.Check == nil {
		return nil
	}
	return t.of.Check(e, t.Value)
}

// Insert keeps a new record, with what is linked to it.
func (t *Typed[T]) Insert(e *Env) error {
	if err := t.check(e); err != nil {
		return err
	}
	if err := store.Insert(e.Tx, t.Value); err != nil {
		return t.taken(err)
	}
	return t.link(e)
}

func (t *Typed[T]) save(e *Env) error {
	if err := t.check(e); err != nil {
		return err
	}
	if err := store.Save(e.Tx, any(t.Value).(store.Editable)); err != nil {
		return t.taken(err)
	}
	return t.link(e)
}

// taken says that a name or code is used already, where the store refused it.
func (t *Typed[T]) taken(err error) error {
	if store.IsDuplicate(err) {
		return app.Refuse(app.Invalid, "There is another of the %s with this name or code: give a different one.", t.of.Many)
	}
	return err
}

func (t *Typed[T]) link(e *Env) error {
	for name, text := range t.links {
		f, err := t.field(name)
		if err != nil {
			return err
		}
		if err := f.Link(e, t.head().ID, text); err != nil {
			return app.InField(name, err)
		}
	}
	return nil
}

func (t *Typed[T]) remove(e *Env) error {
	return store.Remove(e.Tx, t.of.Name, any(t.Value).(store.Editable))
}

// After does what follows from a change, in its act; before is nil when the record is new.
func (t *Typed[T]) After(tx *app.Tx, e *Env, before Record) error {
	if t.of.After == nil {
		return nil
	}
	if before == nil {
		return t.of.After(tx, e, nil, t.Value)
	}
	return t.of.After(tx, e, before.(*Typed[T]).Value, t.Value)
}

// Env is what reading and writing fields needs to know.
type Env struct {
	Tx     *store.DB
	Firm   *store.Firm
	Today  day.Day
	Actor  app.Actor
	names  map[string]*names // that were asked for, of each kind
	groups []profile.Option  // the firm's own fields of entries, by which lines are grouped
	codes  map[string]string // the last code that was offered, of each kind
}

// NewEnv is what fields need beside their record, on a day and for an actor.
func NewEnv(tx *store.DB, today day.Day, actor app.Actor) (*Env, error) {
	firm, err := store.TheFirm(tx)
	return &Env{Tx: tx, Firm: firm, Today: today, Actor: actor, names: map[string]*names{}, codes: map[string]string{}}, err
}
