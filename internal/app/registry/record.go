package registry

import (
	"cmp"
	"context"
	"slices"
	"strconv"
	"strings"

	"dorvet/core/explain"
	"dorvet/core/profile"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// ListFilter says which records are listed.
type ListFilter struct {
	Text     string // all its words are in key or name
	Of       int64  // the record that they belong to; 0: any
	Inactive bool   // these too
	Most     int    // so many; 0: all
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
	Kept    string       `json:"kept,omitempty" doc:"why the reader does not change it; nothing: as their role does"`
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

func kindNamed(name string) (AnyKind, error) {
	k, there := kinds[name]
	if !there {
		return nil, app.Refuse(app.NotFound, "There is nothing of this kind.")
	}
	return k, nil
}

// Reading finds a kind, and what reading its records needs.
func Reading(ctx context.Context, a *app.App, actor app.Actor, name string) (AnyKind, *Env, error) {
	k, err := kindNamed(name)
	if err != nil {
		return nil, nil, err
	}
	e, err := NewEnv(a.Read(ctx, actor), a.Clock.Today(), actor)
	return k, e, err
}

// Describe tells what records of a kind say, with the firm's own fields.
func Describe(ctx context.Context, a *app.App, actor app.Actor, name string) (*Kind, error) {
	if r, there := read[name]; there {
		return &Kind{Name: name, One: r.One, Many: r.Many, About: r.About, First: []string{}, Files: true, Fields: r.Fields}, nil
	}
	k, e, err := Reading(ctx, a, actor, name)
	if err != nil {
		return nil, err
	}
	described := *k.describe()
	if actor.Entities != nil && store.IsShared(name) {
		described.Kept = keptFromLimited
	}
	described.Fields, err = AllFields(e, k)
	return &described, err
}

// keptFromLimited says why somebody limited to issuing entities changes a record not.
const keptFromLimited = "This belongs to all issuing entities, or to another one, too. You are limited to some: ask an " +
	"administrator who is not."

// List reads the records of a kind.
func List(ctx context.Context, a *app.App, actor app.Actor, name string, f ListFilter) ([]RecordRow, error) {
	k, e, err := Reading(ctx, a, actor, name)
	if err != nil {
		return nil, err
	}
	records, err := k.list(e, f)
	if err != nil {
		return nil, err
	}
	if err := e.readNamesOf(name, records); err != nil {
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

func rowOf(e *Env, k AnyKind, r Record) (RecordRow, error) {
	name, err := e.NameOf(k.describe().Name, r.head().ID)
	if err != nil {
		return RecordRow{}, err
	}
	row := RecordRow{ID: r.head().ID, Version: r.head().Version, Key: name.Key, Title: name.Title, Active: isActive(r), Cells: []string{}}
	for _, f := range r.fields() {
		if !f.Column {
			continue
		}
		text, err := r.Get(e, f.Name)
		if err != nil {
			return row, err
		}
		row.Cells = append(row.Cells, Words(e, f, text))
	}
	return row, nil
}

func isActive(r Record) bool { return r.active() == nil || *r.active() }

// Words is a value as it is read: the title for a key, the label for a choice,
// thousands grouped.
func Words(e *Env, f Field, value string) string {
	switch f.Form {
	case FormRate, string(profile.Amount):
		return grouped(value, e.Firm.DecimalMark)
	case FormHours:
		if minutes, err := worktime.ParseHours(value, e.Firm.Mark()); err == nil && minutes > 0 {
			return worktime.Said(minutes)
		}
	case string(profile.Choice):
		for _, o := range f.Options {
			if o.Value == value {
				return o.Label
			}
		}
	case FormRecord:
		if value == "" {
			return value
		}
		if title, err := e.titleOf(f.Of, value); err == nil {
			return title
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
	k, e, err := Reading(ctx, a, actor, name)
	if err != nil {
		return nil, err
	}
	r, err := k.Open(e, id)
	if err != nil {
		return nil, err
	}
	return sheetOf(e, k, r)
}

func sheetOf(e *Env, k AnyKind, r Record) (*Sheet, error) {
	head := r.head()
	name, err := e.NameOf(k.describe().Name, head.ID)
	if err != nil {
		return nil, err
	}
	sheet := &Sheet{Kind: k.describe().Name, ID: head.ID, Version: head.Version, Of: r.belongs(), Key: name.Key, Title: name.Title,
		Active: isActive(r), Retires: k.describe().Retires, Values: []SheetValue{}}
	mayChange, err := store.MayChange(e.Tx, sheet.Kind, head.ID)
	if err != nil {
		return nil, err
	}
	if !mayChange {
		sheet.Kept = keptFromLimited
	}
	if sheet.Used, err = store.UsedBy(e.Tx, sheet.Kind, head.ID); err != nil {
		return nil, err
	}
	for _, f := range r.fields() {
		text, err := r.Get(e, f.Name)
		if err != nil {
			return nil, err
		}
		sheet.Values = append(sheet.Values, SheetValue{Field: f, Value: text, Shown: Words(e, f, text), Locked: f.Set || f.Fixed &&
			sheet.Used != ""})
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

// Choosing says which records can be chosen.
type Choosing struct {
	Of   int64  // what they belong to, or 0
	Text string // typed: all its words are in title or key
	Has  string // key or number of one that is chosen, and is among them in any case
	Most int    // so many; 0: all
}

// OptionsOf lists the active records of a kind for choosing one, by title.
func OptionsOf(ctx context.Context, a *app.App, actor app.Actor, name string, c Choosing) ([]RecordOption, error) {
	k, e, err := Reading(ctx, a, actor, name)
	if err != nil {
		return nil, err
	}
	if name == "people" || k.describe().Retires && c.Of == 0 && e.Tx.Scope().Leads == nil {
		return quickOptions(e, name, c)
	}
	records, err := k.list(e, ListFilter{Of: c.Of})
	if err != nil {
		return nil, err
	}
	options := make([]RecordOption, 0, len(records))
	for _, r := range records {
		is, err := e.NameOf(name, r.head().ID)
		if err != nil {
			return nil, err
		}
		if c.takes(is) {
			options = append(options, RecordOption{ID: is.ID, Key: is.Key, Title: is.Title})
		}
	}
	return c.first(options), nil
}

// names are those of records that can be chosen, in no order.
func (c Choosing) names(e *Env, name string) ([]store.Name, error) {
	if kinds[name].describe().Retires && c.Most > 0 {
		return store.ActiveNames(e.Tx, name, strings.Fields(c.Text), c.Has, c.Most)
	}
	all, err := store.Names(e.Tx, name, kinds[name].describe().Retires)
	return slices.DeleteFunc(all, func(is store.Name) bool { return !c.takes(is) }), err
}

// takes reports whether a name is one that is sought.
func (c Choosing) takes(is store.Name) bool {
	title, key := strings.ToLower(is.Title), strings.ToLower(is.Key)
	for _, word := range strings.Fields(strings.ToLower(c.Text)) {
		if !strings.Contains(title, word) && !strings.Contains(key, word) {
			return c.isChosen(is.ID, is.Key)
		}
	}
	return true
}

func (c Choosing) isChosen(id int64, key string) bool {
	return c.Has != "" && (key == c.Has || strconv.FormatInt(id, 10) == c.Has)
}

// first are so many options as are asked for, with the one that is chosen.
func (c Choosing) first(options []RecordOption) []RecordOption {
	if c.Most == 0 || len(options) <= c.Most {
		return options
	}
	chosen := slices.IndexFunc(options, func(o RecordOption) bool { return c.isChosen(o.ID, o.Key) })
	if chosen >= c.Most {
		options[c.Most-1] = options[chosen]
	}
	return options[:c.Most]
}

// quickOptions takes what can be chosen from the names alone.
func quickOptions(e *Env, name string, c Choosing) ([]RecordOption, error) {
	known, err := c.names(e, name)
	if err != nil {
		return nil, err
	}
	warnings := map[int64]string{}
	if name == "clients" {
		if warnings, err = store.WarnedClients(e.Tx); err != nil {
			return nil, err
		}
	}
	options := make([]RecordOption, 0, len(known))
	for _, is := range known {
		if is.Active {
			options = append(options, RecordOption{ID: is.ID, Key: is.Key, Title: is.Title, Warning: warnings[is.ID]})
		}
	}
	slices.SortFunc(options, func(a, b RecordOption) int { return cmp.Or(CompareNames(a.Title, b.Title), cmp.Compare(a.ID, b.ID)) })
	return c.first(options), nil
}
