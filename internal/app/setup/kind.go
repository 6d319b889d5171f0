package setup

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

// definition is a kind with how its records of type T are kept.
type definition[T any] struct {
	Kind
	fields  []field[T]
	profile profile.Scope // whose profile stands on it
	own     string        // whose own fields stand on it
	single  bool          // there is just one, number 1
	blank   func(*env) (T, error)
	belongs func(*T) int64 // the number of what it belongs to, or 0
	check   func(*env, *T) error
	after   func(tx *app.Tx, e *env, before, now *T) error // before is nil when it is new
	active  func(*T) *bool
}

// kind is a definition whatever its type.
type kind interface {
	describe() *Kind
	fresh(e *env) (record, error)
	open(e *env, id int64) (record, error)
	list(e *env, f ListFilter) ([]record, error)
}

// record is one record of any kind.
type record interface {
	head() *store.Row
	kind() kind
	fields() []Field
	get(e *env, name string) (string, error)
	set(e *env, name, text string) error
	copy() record
	title() string
	belongs() int64
	active() *bool
	check(e *env) error
	insert(e *env) error
	save(e *env) error
	remove(e *env) error
	after(tx *app.Tx, e *env, before record) error
	layers() (scope profile.Scope, own string)
}

type typed[T any] struct {
	of    *definition[T]
	value *T
	links map[string]string
}

func (d *definition[T]) describe() *Kind { return &d.Kind }

// ready completes a definition.
func (d *definition[T]) ready() kind {
	d.Retires = d.active != nil
	d.Fields = make([]Field, len(d.fields))
	for i, f := range d.fields {
		d.Fields[i] = f.Field
	}
	if d.First == nil {
		d.First = []string{}
	}
	return d
}

func (d *definition[T]) fresh(e *env) (record, error) {
	value, err := d.blank(e)
	return &typed[T]{d, &value, map[string]string{}}, err
}

func (d *definition[T]) open(e *env, id int64) (record, error) {
	value, err := store.Record[T](e.tx, d.Name, id)
	if err != nil {
		return nil, app.Missing(err, d.One)
	}
	return &typed[T]{d, value, map[string]string{}}, nil
}

func (d *definition[T]) list(e *env, f ListFilter) ([]record, error) {
	values, err := store.Records[T](e.tx, d.Name, f.Of, f.Text)
	if err != nil {
		return nil, err
	}
	records := make([]record, 0, len(values))
	for i := range values {
		t := &typed[T]{d, &values[i], map[string]string{}}
		if on := t.active(); on == nil || *on || f.Inactive {
			records = append(records, t)
		}
	}
	if store.OrderedByName(d.Name) {
		slices.SortStableFunc(records, func(a, b record) int { return CompareNames(a.title(), b.title()) })
	}
	return records, nil
}

func (t *typed[T]) head() *store.Row                { return any(t.value).(store.Editable).Head() }
func (t *typed[T]) kind() kind                      { return t.of }
func (t *typed[T]) fields() []Field                 { return t.of.Fields }
func (t *typed[T]) layers() (profile.Scope, string) { return t.of.profile, t.of.own }
func (t *typed[T]) copy() record                    { value := *t.value; return &typed[T]{t.of, &value, t.links} }

func (t *typed[T]) field(name string) (*field[T], error) {
	i := slices.IndexFunc(t.of.fields, func(f field[T]) bool { return f.Name == name })
	if i < 0 {
		return nil, refusal.Errorf("%s have no %q", t.of.Many, name)
	}
	return &t.of.fields[i], nil
}

func (t *typed[T]) get(e *env, name string) (string, error) {
	f, err := t.field(name)
	if err != nil {
		return "", err
	}
	return f.get(e, t.value)
}

func (t *typed[T]) set(e *env, name, text string) error {
	f, err := t.field(name)
	switch {
	case err != nil:
		return err
	case f.Set:
		return refusal.Errorf("%s is kept by Dorvet and can't be typed", within(f.Label))
	case f.Needed && strings.TrimSpace(text) == "":
		return refusal.Errorf("%s can't be empty: give one", within(f.Label))
	case f.link != nil:
		t.links[name] = text
		return nil
	}
	return f.set(e, t.value, text)
}

// belongs is the number of what the record belongs to, or 0.
func (t *typed[T]) belongs() int64 {
	if t.of.belongs == nil {
		return 0
	}
	return t.of.belongs(t.value)
}

// title is the name of what is ordered by its name.
func (t *typed[T]) title() string {
	text, _ := t.get(&env{}, "name")
	return text
}

func (t *typed[T]) active() *bool {
	if t.of.active == nil {
		return nil
	}
	return t.of.active(t.value)
}

func (t *typed[T]) check(e *env) error {
	for _, f := range t.of.fields {
		if f.Needed && f.get != nil {
			text, err := f.get(e, t.value)
			if err := app.Unless(err, app.RefuseField(f.Name, "%s is missing: give one.", f.Label),
				func() bool { return text != "" }); err != nil {
				return err
			}
		}
	}
	if t.of.check == nil {
		return nil
	}
	return t.of.check(e, t.value)
}

func (t *typed[T]) insert(e *env) error {
	if err := t.check(e); err != nil {
		return err
	}
	if err := store.Insert(e.tx, t.value); err != nil {
		return t.taken(err)
	}
	return t.link(e)
}

func (t *typed[T]) save(e *env) error {
	if err := t.check(e); err != nil {
		return err
	}
	if err := store.Save(e.tx, any(t.value).(store.Editable)); err != nil {
		return t.taken(err)
	}
	return t.link(e)
}

// taken says that a name or code is used already, where the store refused it.
func (t *typed[T]) taken(err error) error {
	if store.IsDuplicate(err) {
		return app.Refuse(app.Invalid, "There is another of the %s with this name or code: give a different one.", t.of.Many)
	}
	return err
}

func (t *typed[T]) link(e *env) error {
	for name, text := range t.links {
		f, err := t.field(name)
		if err != nil {
			return err
		}
		if err := f.link(e, t.head().ID, text); err != nil {
			return app.InField(name, err)
		}
	}
	return nil
}

func (t *typed[T]) remove(e *env) error {
	return store.Remove(e.tx, t.of.Name, any(t.value).(store.Editable))
}

func (t *typed[T]) after(tx *app.Tx, e *env, before record) error {
	if t.of.after == nil {
		return nil
	}
	if before == nil {
		return t.of.after(tx, e, nil, t.value)
	}
	return t.of.after(tx, e, before.(*typed[T]).value, t.value)
}

// env is what reading and writing fields needs to know.
type env struct {
	tx    *store.DB
	firm  *store.Firm
	today day.Day
	actor app.Actor
	known map[string]*known
	codes map[string]string // the last code that was offered, of each kind
}

// known are the names of one kind.
type known struct {
	keys   map[int64]store.Name
	ids    map[string]int64
	titles map[string][]int64
}

func newEnv(tx *store.DB, today day.Day, actor app.Actor) (*env, error) {
	firm, err := store.TheFirm(tx)
	return &env{tx: tx, firm: firm, today: today, actor: actor, known: map[string]*known{}, codes: map[string]string{}}, err
}

func (e *env) namesOf(of string) (*known, error) {
	if k := e.known[of]; k != nil {
		return k, nil
	}
	names, err := store.Names(e.tx, of, kinds[of].describe().Retires)
	if err != nil {
		return nil, err
	}
	k := &known{map[int64]store.Name{}, map[string]int64{}, map[string][]int64{}}
	for _, n := range names {
		k.keys[n.ID] = n
		k.ids[strings.ToLower(n.Key)] = n.ID
		k.titles[strings.ToLower(n.Title)] = append(k.titles[strings.ToLower(n.Title)], n.ID)
	}
	e.known[of] = k
	return k, nil
}

// keyOf is how a record of a kind is named by others.
func (e *env) keyOf(of string, id int64) (string, error) {
	k, err := e.namesOf(of)
	if err != nil {
		return "", err
	}
	return k.keys[id].Key, nil
}

// find is the number of the record that a key or a name means.
func (e *env) find(of, text string) (int64, error) {
	k, err := e.namesOf(of)
	if err != nil {
		return 0, err
	}
	said := strings.ToLower(strings.TrimSpace(text))
	if id, found := k.ids[said]; found {
		return id, nil
	}
	describe := kinds[of].describe()
	switch named := k.titles[said]; len(named) {
	case 0:
		return 0, refusal.Errorf("there is no %s %q: choose one that is there, or make it first", describe.One, text)
	case 1:
		return named[0], nil
	default:
		return 0, refusal.Errorf("%d %s are called %q: give the code in place of the name", len(named), describe.Many, text)
	}
}
