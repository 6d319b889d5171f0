package registry

import (
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// The values of a record that are not its own columns: those of the billing
// profile, which stack up from firm to client to engagement, and those of the
// fields that the firm defines.

// profileOf is the profile that stands on a record, and the number on its layer.
func profileOf(e *Env, r Record) (profile.Profile, profile.Scope, error) {
	scope, _ := r.layers()
	var clientID, engagementID int64
	switch t := r.(type) {
	case *Typed[store.Client]:
		clientID = t.Value.ID
	case *Typed[store.Engagement]:
		clientID, engagementID = t.Value.ClientID, t.Value.ID
	}
	p, err := profiles.Profile(e.Tx, clientID, engagementID)
	return p, scope, err
}

// AllFields are the fields of a kind, with those of its profile and the firm's.
func AllFields(e *Env, k AnyKind) ([]Field, error) {
	r, err := k.Fresh(e)
	if err != nil {
		return nil, err
	}
	fields := append([]Field{}, r.fields()...)
	for i, f := range fields {
		if fields[i].Default, err = r.Get(e, f.Name); err != nil {
			return nil, err
		}
	}
	scope, own := r.layers()
	for _, item := range itemsOn(scope) {
		f, err := fieldWithin(e, item)
		if err != nil {
			return nil, err
		}
		fields = append(fields, f)
	}
	ownFields, err := store.OwnFields(e.Tx, own)
	for _, f := range ownFields {
		fields = append(fields, fieldOfOwn(f))
	}
	return fields, err
}

func itemsOn(scope profile.Scope) []profile.Item {
	items := []profile.Item{}
	if scope == "" {
		return items
	}
	for _, item := range profile.Items {
		if item.On(scope) {
			items = append(items, item)
		}
	}
	return items
}

func fieldOf(item profile.Item) Field {
	f := Field{Name: item.Name, Label: item.Label, Group: item.Group, Form: string(item.Form), Hint: item.Hint, Options: item.Options}
	switch item.Form {
	case profile.TaxCode:
		f.Of = "tax-codes"
	case profile.RateCard:
		f.Of = "rate-cards"
	case profile.Picture:
		f.Of = "pictures"
	case profile.Enclosure:
		f.Of = "enclosures"
	case profile.Reminders:
		f.Form = string(profile.Line)
	}
	return f
}

// fieldWithin is the field of an item, with the firm's own fields of entries where lines can
// be grouped by them.
func fieldWithin(e *Env, item profile.Item) (Field, error) {
	f := fieldOf(item)
	if !item.Groups {
		return f, nil
	}
	if e.groups == nil { // a file has thousands of records, which all have the same
		var err error
		if e.groups, err = OwnGroups(e.Tx); err != nil {
			return f, err
		}
	}
	f.Options = slices.Concat(f.Options, e.groups)
	return f, nil
}

// OwnGroups are the firm's own fields of entries, as what lines are grouped by.
func OwnGroups(tx *store.DB) ([]profile.Option, error) {
	own, err := store.OwnFields(tx, "entry")
	options := []profile.Option{}
	for _, o := range own {
		options = append(options, profile.Option{Value: profile.OwnPrefix + o.Name, Label: "by " + o.Name})
	}
	return options, err
}

func fieldOfOwn(own store.OwnField) Field {
	f := Field{Name: profile.OwnPrefix + own.Name, Label: own.Name, Group: "Own fields", Form: own.Form}
	for _, text := range strings.Split(own.Choices, "\n") {
		if text = strings.TrimSpace(text); text != "" {
			f.Options = append(f.Options, profile.Option{Value: text, Label: text})
		}
	}
	return f
}

// layered adds to a sheet what is inherited, and the firm's own fields.
func layered(e *Env, r Record, sheet *Sheet) error {
	p, scope, err := profileOf(e, r)
	if err != nil {
		return err
	}
	for _, item := range itemsOn(scope) {
		answer := p.Of(item.Name)
		f, err := fieldWithin(e, item)
		if err != nil {
			return err
		}
		steps := answer.Explain()
		value := item.Typed(answer.Won.Value, e.Firm.Mark())
		sheet.Values = append(sheet.Values, SheetValue{Field: f, Value: value, Shown: Words(e, f, value), Inherited: scope != profile.Firm,
			From: answer.Won.In(), Own: answer.OwnOf(scope), Steps: &steps})
	}
	_, own := r.layers()
	values, err := store.OwnValues(e.Tx, own, r.head().ID)
	for _, v := range values {
		f := fieldOfOwn(v.OwnField)
		sheet.Values = append(sheet.Values, SheetValue{Field: f, Value: v.Value, Shown: v.Value})
	}
	return err
}

// set is what a change of a layered value did.
type set struct{ label, before, after string }

// setLayered sets a value of the profile or of one of the firm's own fields.
func setLayered(e *Env, r Record, name, text string, giveBack bool) (set, error) {
	scope, own := r.layers()
	if rest, is := strings.CutPrefix(name, profile.OwnPrefix); is && own != "" {
		return setOwn(e, own, r.head().ID, rest, text)
	}
	item, known := profile.Named(name)
	if scope == "" || !known || !item.On(scope) {
		return set{}, refusal.Errorf("%s have no %q", r.kind().describe().Many, name)
	}
	p, _, err := profileOf(e, r)
	if err != nil {
		return set{}, err
	}
	done := set{label: item.Label, before: p.Text(name) + ", " + p.Of(name).Won.In()}
	if giveBack {
		err = store.SetProfileValue(e.Tx, scope, r.head().ID, name, "", true)
	} else {
		err = writeProfile(e, r, item, text)
	}
	if err != nil {
		return done, err
	}
	if p, _, err = profileOf(e, r); err != nil {
		return done, err
	}
	done.after = p.Text(name) + ", " + p.Of(name).Won.In()
	return done, nil
}

// writeProfile sets a typed value of the profile on the record's own layer.
func writeProfile(e *Env, r Record, item profile.Item, text string) error {
	value, err := item.Parse(text, e.Firm.Mark())
	if err != nil {
		return err
	}
	if value, err = named(e, item, value); err != nil {
		return err
	}
	scope, _ := r.layers()
	return store.SetProfileValue(e.Tx, scope, r.head().ID, item.Name, value, false)
}

// fillLayered sets a value beside the columns of a record that is new.
func fillLayered(e *Env, r Record, name, text string) error {
	scope, _ := r.layers()
	if item, known := profile.Named(name); known && scope != "" && item.On(scope) {
		return writeProfile(e, r, item, text)
	}
	_, err := setLayered(e, r, name, text, false)
	return err
}

// named sees that a tax code or a rate card is there, and gives its key.
func named(e *Env, item profile.Item, value string) (string, error) {
	of := fieldOf(item).Of
	if of == "" || value == "" {
		return value, nil
	}
	id, err := e.Find(of, value)
	if err != nil {
		return "", err
	}
	return e.KeyOf(of, id)
}

func setOwn(e *Env, own string, id int64, name, text string) (set, error) {
	values, err := store.OwnValues(e.Tx, own, id)
	if err != nil {
		return set{}, err
	}
	for _, v := range values {
		if v.Name != name {
			continue
		}
		done := set{label: v.Name, before: v.Value}
		if done.after, err = ParseOwn(v.OwnField, e.Firm.Mark(), e.Today, text); err != nil {
			return done, err
		}
		return done, store.SetOwnValue(e.Tx, v.OwnField.ID, id, done.after)
	}
	return set{}, refusal.Errorf("there is no field %q of the firm's own", name)
}

// ParseOwn reads what is typed into a field of the firm's own, days as seen from one.
func ParseOwn(own store.OwnField, mark money.Mark, today day.Day, text string) (string, error) {
	item := profile.Item{Label: own.Name, Form: profile.Form(own.Form), Options: fieldOfOwn(own).Options, Optional: true}
	value, err := item.Parse(text, mark)
	if err != nil || own.Form != FormDay || value == "" {
		return value, err
	}
	on, err := day.ParseTyped(value, today)
	return on.String(), err
}

// OwnChoices are what can be chosen in a field of the firm's own.
func OwnChoices(own store.OwnField) []string {
	choices := []string{}
	for _, o := range fieldOfOwn(own).Options {
		choices = append(choices, o.Value)
	}
	return choices
}

// forgetLayers takes away what stands beside a record that is deleted.
func forgetLayers(e *Env, r Record) error {
	scope, own := r.layers()
	return store.ForgetLayers(e.Tx, scope, own, r.head().ID)
}
