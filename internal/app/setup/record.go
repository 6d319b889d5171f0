package setup

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/explain"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// ListFilter says which records are listed.
type ListFilter struct {
	Text     string // part of a key or name
	Of       int64  // the record that they belong to; 0: any
	Inactive bool   // these too
}

// RecordRow is a record in a list.
type RecordRow struct {
	ID      int64    `json:"id"`
	Version int64    `json:"version"`
	Key     string   `json:"key"`
	Title   string   `json:"title"`
	Active  bool     `json:"active"`
	Cells   []string `json:"cells" doc:"of the fields that are columns, in their order"`
}

// Sheet is everything that a record says.
type Sheet struct {
	Kind    string       `json:"kind"`
	ID      int64        `json:"id"`
	Version int64        `json:"version"`
	Of      int64        `json:"of" doc:"what it belongs to, or 0"`
	Key     string       `json:"key"`
	Title   string       `json:"title"`
	Active  bool         `json:"active"`
	Retires bool         `json:"retires"`
	Used    string       `json:"used" doc:"what refers to it; then it can't be deleted"`
	Values  []SheetValue `json:"values"`
}

// SheetValue is a field with what stands in it.
type SheetValue struct {
	Field
	Value     string        `json:"value"`
	Shown     string        `json:"shown" doc:"in words, where the value is a key"`
	Inherited bool          `json:"inherited"`
	From      string        `json:"from,omitempty" doc:"where the value comes from, of those that are inherited"`
	Own       bool          `json:"own" doc:"whether it was set here, over what is inherited"`
	Steps     *explain.Step `json:"steps,omitempty"`
	Locked    bool          `json:"locked" doc:"whether it can't be changed any more"`
}

func kindNamed(name string) (kind, error) {
	k, there := kinds[name]
	if !there {
		return nil, app.Refuse(app.NotFound, "There is nothing of this kind.")
	}
	return k, nil
}

// Describe tells what records of a kind say, with the firm's own fields.
func Describe(ctx context.Context, a *app.App, actor app.Actor, name string) (*Kind, error) {
	k, err := kindNamed(name)
	if err != nil {
		return nil, err
	}
	e, err := newEnv(a.Store.Read(ctx), a.Clock.Today(), actor)
	if err != nil {
		return nil, err
	}
	described := *k.describe()
	described.Fields, err = allFields(e, k)
	return &described, err
}

// List reads the records of a kind.
func List(ctx context.Context, a *app.App, actor app.Actor, name string, f ListFilter) ([]RecordRow, error) {
	k, err := kindNamed(name)
	if err != nil {
		return nil, err
	}
	e, err := newEnv(a.Store.Read(ctx), a.Clock.Today(), actor)
	if err != nil {
		return nil, err
	}
	records, err := k.list(e, f)
	if err != nil {
		return nil, err
	}
	rows := make([]RecordRow, 0, len(records))
	for _, r := range records {
		row, err := rowOf(e, k, r)
		if err != nil {
			return nil, err
		}
		rows = append(rows, row)
	}
	return rows, nil
}

func rowOf(e *env, k kind, r record) (RecordRow, error) {
	names, err := e.namesOf(k.describe().Name)
	if err != nil {
		return RecordRow{}, err
	}
	name := names.keys[r.head().ID]
	row := RecordRow{ID: r.head().ID, Version: r.head().Version, Key: name.Key, Title: name.Title, Active: isActive(r), Cells: []string{}}
	for _, f := range r.fields() {
		if !f.Column {
			continue
		}
		text, err := r.get(e, f.Name)
		if err != nil {
			return row, err
		}
		row.Cells = append(row.Cells, words(e, f, text))
	}
	return row, nil
}

func isActive(r record) bool { return r.active() == nil || *r.active() }

// words is a value as it is read: the title for a key, the label for a choice,
// thousands grouped.
func words(e *env, f Field, value string) string {
	switch f.Form {
	case formRate, string(profile.Amount):
		return grouped(value, e.firm.DecimalMark)
	case string(profile.Choice):
		for _, o := range f.Options {
			if o.Value == value {
				return o.Label
			}
		}
	case formRecord:
		if k, err := e.namesOf(f.Of); err == nil && value != "" {
			return k.keys[k.ids[strings.ToLower(value)]].Title
		}
	}
	return value
}

// grouped writes a typed number as figures are shown: 1,250.50.
func grouped(typed, mark string) string {
	whole, fraction, _ := strings.Cut(typed, mark)
	for at := len(whole) - 3; at > 0; at -= 3 {
		whole = whole[:at] + "," + whole[at:]
	}
	if fraction == "" {
		return whole
	}
	return whole + "." + fraction
}

// Read opens a record.
func Read(ctx context.Context, a *app.App, actor app.Actor, name string, id int64) (*Sheet, error) {
	k, err := kindNamed(name)
	if err != nil {
		return nil, err
	}
	e, err := newEnv(a.Store.Read(ctx), a.Clock.Today(), actor)
	if err != nil {
		return nil, err
	}
	r, err := k.open(e, id)
	if err != nil {
		return nil, err
	}
	return sheetOf(e, k, r)
}

func sheetOf(e *env, k kind, r record) (*Sheet, error) {
	names, err := e.namesOf(k.describe().Name)
	if err != nil {
		return nil, err
	}
	head, name := r.head(), names.keys[r.head().ID]
	sheet := &Sheet{Kind: k.describe().Name, ID: head.ID, Version: head.Version, Of: r.belongs(), Key: name.Key, Title: name.Title,
		Active: isActive(r), Retires: k.describe().Retires, Values: []SheetValue{}}
	if sheet.Used, err = k.usedBy(e.tx, head.ID); err != nil {
		return nil, err
	}
	for _, f := range r.fields() {
		text, err := r.get(e, f.Name)
		if err != nil {
			return nil, err
		}
		sheet.Values = append(sheet.Values, SheetValue{Field: f, Value: text, Shown: words(e, f, text), Locked: f.Set || f.Fixed && sheet.Used != ""})
	}
	return sheet, layered(e, r, sheet)
}

// RecordOption is a record that can be chosen.
type RecordOption struct {
	ID      int64  `json:"id"`
	Key     string `json:"key"`
	Title   string `json:"title"`
	Warning string `json:"warning,omitempty" doc:"what should be known before work is made for it"`
}

// OptionsOf lists the active records of a kind for choosing one, by title; of
// names what they belong to, or 0.
func OptionsOf(ctx context.Context, a *app.App, actor app.Actor, name string, of int64) ([]RecordOption, error) {
	k, err := kindNamed(name)
	if err != nil {
		return nil, err
	}
	e, err := newEnv(a.Store.Read(ctx), a.Clock.Today(), actor)
	if err != nil {
		return nil, err
	}
	if name == "people" || k.describe().Retires && of == 0 && !e.sight.Limited() {
		return quickOptions(e, name)
	}
	records, err := k.list(e, ListFilter{Of: of})
	if err != nil {
		return nil, err
	}
	known, err := e.namesOf(name)
	options := make([]RecordOption, 0, len(records))
	for _, r := range records {
		is := known.keys[r.head().ID]
		options = append(options, RecordOption{ID: is.ID, Key: is.Key, Title: is.Title})
	}
	return options, err
}

// quickOptions takes what can be chosen from the names alone.
func quickOptions(e *env, name string) ([]RecordOption, error) {
	known, err := e.namesOf(name)
	if err != nil {
		return nil, err
	}
	warnings := map[int64]string{}
	if name == "clients" {
		if warnings, err = store.WarnedClients(e.tx); err != nil {
			return nil, err
		}
	}
	options := make([]RecordOption, 0, len(known.keys))
	for _, is := range known.keys {
		if is.Active {
			options = append(options, RecordOption{ID: is.ID, Key: is.Key, Title: is.Title, Warning: warnings[is.ID]})
		}
	}
	slices.SortFunc(options, func(a, b RecordOption) int { return cmp.Or(CompareNames(a.Title, b.Title), cmp.Compare(a.ID, b.ID)) })
	return options, nil
}

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
		e, err := newEnv(tx.DB, tx.Today, tx.Actor)
		if err != nil {
			return Added{}, err
		}
		made, err := add(tx, e, k, typed)
		if err != nil {
			return Added{}, err
		}
		if _, err := k.open(e, made.head().ID); err != nil {
			return Added{}, app.Refuse(app.Forbidden, "This belongs to an engagement or a client of another lead. Ask a billing administrator.")
		}
		added, err := addedOf(e, k, made)
		tx.Tell(nil, nil, "Made the %s %s", k.describe().One, added.Title)
		tx.Concerns(name, added.ID)
		return added, err
	})
}

func addedOf(e *env, k kind, r record) (Added, error) {
	name := k.describe().Name
	delete(e.known, name)
	names, err := e.namesOf(name)
	if err != nil {
		return Added{}, err
	}
	is := names.keys[r.head().ID]
	return Added{is.ID, is.Key, is.Title}, nil
}

// add makes a record in the transaction of an act. Fields are set in the order
// of the kind, so that those that others depend on come first.
func add(tx *app.Tx, e *env, k kind, typed map[string]string) (record, error) {
	r, err := k.fresh(e)
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
	if err := r.insert(e); err != nil {
		return nil, err
	}
	if err := r.after(tx, e, nil); err != nil {
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

// Seen is a record in the version in which somebody saw it.
type Seen struct {
	ID      int64 `json:"id" minimum:"1"`
	Version int64 `json:"version"`
}

// SetField changes one field of one or several records of a kind: all or none.
func SetField(ctx context.Context, a *app.App, r app.Request, name string, seen []Seen, c Change) error {
	k, err := kindNamed(name)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "change "+k.describe().One, []any{name, seen, c}, func(tx *app.Tx) (struct{}, error) {
		e, err := newEnv(tx.DB, tx.Today, tx.Actor)
		if err != nil {
			return struct{}{}, err
		}
		before, after, titles, label := map[string]string{}, map[string]string{}, []string{}, ""
		for _, s := range seen {
			done, err := setOne(tx, e, k, s, c)
			if err != nil {
				return struct{}{}, err
			}
			label = done.label
			titles = append(titles, done.title)
			tx.Concerns(name, s.ID)
			before[done.key()], after[done.key()] = done.before, done.after
		}
		tx.Tell(before, after, "Changed %s of %s", strings.ToLower(label), strings.Join(titles, ", "))
		return struct{}{}, nil
	})
	return err
}

// changed is what a change did to one record.
type changed struct{ label, title, before, after string }

func (c changed) key() string { return c.label }

func setOne(tx *app.Tx, e *env, k kind, s Seen, c Change) (changed, error) {
	r, err := opened(e, k, s)
	if err != nil {
		return changed{}, err
	}
	names, err := e.namesOf(k.describe().Name)
	if err != nil {
		return changed{}, err
	}
	done := changed{title: names.keys[s.ID].Title}
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
	if done.before, err = r.get(e, f.Name); err != nil {
		return done, err
	}
	if err := r.set(e, f.Name, c.Value); err != nil {
		return done, app.InField(f.Name, err)
	}
	if err := r.save(e); err != nil {
		return done, err
	}
	done.after, err = r.get(e, f.Name)
	delete(e.known, k.describe().Name)
	done.before, done.after = words(e, f, done.before), words(e, f, done.after)
	if err != nil {
		return done, err
	}
	return done, r.after(tx, e, before)
}

// opened reads a record and refuses one that was changed since it was seen.
func opened(e *env, k kind, s Seen) (record, error) {
	r, err := k.open(e, s.ID)
	if err == nil && r.head().Version != s.Version {
		err = store.ErrStale
	}
	return r, err
}

// fixed refuses to change a code that something refers to.
func fixed(e *env, k kind, id int64, f Field) error {
	if !f.Fixed {
		return nil
	}
	used, err := k.usedBy(e.tx, id)
	if err == nil && used != "" {
		err = app.RefuseField(f.Name, "%s can't change any more, because %s use it. Make a new %s if you need another.", f.Label, used, k.describe().One)
	}
	return err
}

// SetActive hides a record and closes it to new work, or takes it back.
func SetActive(ctx context.Context, a *app.App, r app.Request, name string, s Seen, active bool) error {
	k, err := kindNamed(name)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "retire "+k.describe().One, []any{name, s, active}, func(tx *app.Tx) (struct{}, error) {
		e, err := newEnv(tx.DB, tx.Today, tx.Actor)
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
		names, err := e.namesOf(name)
		if err != nil {
			return struct{}{}, err
		}
		said := map[bool]string{true: "Took back %s", false: "Made %s inactive"}[active]
		tx.Tell(nil, nil, said, names.keys[s.ID].Title)
		tx.Concerns(name, s.ID)
		if err := opened.save(e); err != nil {
			return struct{}{}, err
		}
		return struct{}{}, opened.after(tx, e, before)
	})
	return err
}

// Remove deletes a record that nothing refers to.
func Remove(ctx context.Context, a *app.App, r app.Request, name string, s Seen) error {
	k, err := kindNamed(name)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "delete "+k.describe().One, []any{name, s}, func(tx *app.Tx) (struct{}, error) {
		e, err := newEnv(tx.DB, tx.Today, tx.Actor)
		if err != nil {
			return struct{}{}, err
		}
		return struct{}{}, remove(tx, e, k, s)
	})
	return err
}

func remove(tx *app.Tx, e *env, k kind, s Seen) error {
	r, err := opened(e, k, s)
	if err != nil {
		return err
	}
	names, err := e.namesOf(k.describe().Name)
	if err != nil {
		return err
	}
	title := names.keys[s.ID].Title
	used, err := k.usedBy(tx.DB, s.ID)
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
	tx.Tell(kept, nil, "Deleted the %s %s", k.describe().One, title)
	tx.Concerns(k.describe().Name, s.ID)
	if err := forgetLayers(e, r); err != nil {
		return err
	}
	if err := r.remove(e); err != nil {
		return app.Refuse(app.Conflict, "%s is still used elsewhere and can't be deleted.", title)
	}
	return nil
}

// valuesOf is what a record says, for the history.
func valuesOf(e *env, r record) (map[string]string, error) {
	kept := map[string]string{}
	for _, f := range r.fields() {
		text, err := r.get(e, f.Name)
		if err != nil {
			return nil, fmt.Errorf("read %s: %w", f.Name, err)
		}
		if text != "" {
			kept[f.Label] = text
		}
	}
	return kept, nil
}
