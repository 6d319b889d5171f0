package setup

import (
	"strings"

	"dorvet/core/day"
	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// The values of a record that are not its own columns: those of the billing
// profile, which stack up from firm to client to engagement, and those of the
// fields that the firm defines.

// Profile reads the billing profile of an engagement (of a client, if
// engagementID is 0; of the firm, if both are).
func Profile(tx *store.DB, clientID, engagementID int64) (profile.Profile, error) {
	of, err := Profiles(tx, []int64{clientID}, []int64{engagementID})
	return of(clientID, engagementID), err
}

// Profiles reads what the billing profiles of some clients and engagements are made of,
// once for all of them.
func Profiles(tx *store.DB, clientIDs, engagementIDs []int64) (func(clientID, engagementID int64) profile.Profile, error) {
	layers, err := store.ProfileLayers(tx, clientIDs, engagementIDs)
	return func(clientID, engagementID int64) profile.Profile {
		return profile.Stack(layers(clientID, engagementID)...)
	}, err
}

// ProfileOf reads the billing profile of an engagement.
func ProfileOf(tx *store.DB, e *store.Engagement) (profile.Profile, error) {
	return Profile(tx, e.ClientID, e.ID)
}

// profileOf is the profile that stands on a record, and the number on its layer.
func profileOf(e *env, r record) (profile.Profile, profile.Scope, error) {
	scope, _ := r.layers()
	var clientID, engagementID int64
	switch t := r.(type) {
	case *typed[store.Client]:
		clientID = t.value.ID
	case *typed[store.Engagement]:
		clientID, engagementID = t.value.ClientID, t.value.ID
	}
	p, err := Profile(e.tx, clientID, engagementID)
	return p, scope, err
}

// allFields are the fields of a kind, with those of its profile and the firm's.
func allFields(e *env, k kind) ([]Field, error) {
	r, err := k.fresh(e)
	if err != nil {
		return nil, err
	}
	fields := append([]Field{}, r.fields()...)
	for i, f := range fields {
		if fields[i].Default, err = r.get(e, f.Name); err != nil {
			return nil, err
		}
	}
	scope, own := r.layers()
	for _, item := range itemsOn(scope) {
		fields = append(fields, fieldOf(item))
	}
	ownFields, err := store.OwnFields(e.tx, own)
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
	}
	return f
}

const ownPrefix = "own."

func fieldOfOwn(own store.OwnField) Field {
	f := Field{Name: ownPrefix + own.Name, Label: own.Name, Group: "Own fields", Form: own.Form}
	for _, text := range strings.Split(own.Choices, "\n") {
		if text = strings.TrimSpace(text); text != "" {
			f.Options = append(f.Options, profile.Option{Value: text, Label: text})
		}
	}
	return f
}

// layered adds to a sheet what is inherited, and the firm's own fields.
func layered(e *env, r record, sheet *Sheet) error {
	p, scope, err := profileOf(e, r)
	if err != nil {
		return err
	}
	for _, item := range itemsOn(scope) {
		answer, f := p.Of(item.Name), fieldOf(item)
		steps := answer.Explain()
		value := item.Typed(answer.Won.Value, e.firm.Mark())
		sheet.Values = append(sheet.Values, SheetValue{Field: f, Value: value, Shown: words(e, f, value), Inherited: scope != profile.Firm,
			From: answer.Won.In(), Own: answer.OwnOf(scope), Steps: &steps})
	}
	_, own := r.layers()
	values, err := store.OwnValues(e.tx, own, r.head().ID)
	for _, v := range values {
		f := fieldOfOwn(v.OwnField)
		sheet.Values = append(sheet.Values, SheetValue{Field: f, Value: v.Value, Shown: v.Value})
	}
	return err
}

// set is what a change of a layered value did.
type set struct{ label, before, after string }

// setLayered sets a value of the profile or of one of the firm's own fields.
func setLayered(e *env, r record, name, text string, giveBack bool) (set, error) {
	scope, own := r.layers()
	if rest, is := strings.CutPrefix(name, ownPrefix); is && own != "" {
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
		err = store.SetProfileValue(e.tx, scope, r.head().ID, name, "", true)
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
func writeProfile(e *env, r record, item profile.Item, text string) error {
	value, err := item.Parse(text, e.firm.Mark())
	if err != nil {
		return err
	}
	if value, err = named(e, item, value); err != nil {
		return err
	}
	scope, _ := r.layers()
	return store.SetProfileValue(e.tx, scope, r.head().ID, item.Name, value, false)
}

// fillLayered sets a value beside the columns of a record that is new.
func fillLayered(e *env, r record, name, text string) error {
	scope, _ := r.layers()
	if item, known := profile.Named(name); known && scope != "" && item.On(scope) {
		return writeProfile(e, r, item, text)
	}
	_, err := setLayered(e, r, name, text, false)
	return err
}

// named sees that a tax code or a rate card is there, and gives its key.
func named(e *env, item profile.Item, value string) (string, error) {
	of := fieldOf(item).Of
	if of == "" || value == "" {
		return value, nil
	}
	id, err := e.find(of, value)
	if err != nil {
		return "", err
	}
	return e.keyOf(of, id)
}

func setOwn(e *env, own string, id int64, name, text string) (set, error) {
	values, err := store.OwnValues(e.tx, own, id)
	if err != nil {
		return set{}, err
	}
	for _, v := range values {
		if v.Name != name {
			continue
		}
		done := set{label: v.Name, before: v.Value}
		item := profile.Item{Label: v.Name, Form: profile.Form(v.Form), Options: fieldOfOwn(v.OwnField).Options, Optional: true}
		if done.after, err = item.Parse(text, e.firm.Mark()); err != nil {
			return done, err
		}
		if v.Form == FormDay && done.after != "" {
			on, err := day.ParseTyped(done.after, e.today)
			if err != nil {
				return done, err
			}
			done.after = on.String()
		}
		return done, store.SetOwnValue(e.tx, v.OwnField.ID, id, done.after)
	}
	return set{}, refusal.Errorf("there is no field %q of the firm's own", name)
}

// forgetLayers takes away what stands beside a record that is deleted.
func forgetLayers(e *env, r record) error {
	scope, own := r.layers()
	return store.ForgetLayers(e.tx, scope, own, r.head().ID)
}

// Taxed is what is taxed: its tax code is chosen in the profile.
type Taxed string

// Each kind of charge can have a tax code of its own.
const (
	Work          Taxed = "tax_code"
	Expenses      Taxed = "tax_code_expenses"
	Disbursements Taxed = "tax_code_disbursements"
)

// TaxCode is the tax code of a kind of charge: its own, or else that of work. A
// disbursement is never taxed as work: without a code of its own it has the
// firm's first that is exempt.
func TaxCode(tx *store.DB, p profile.Profile, of Taxed) (int64, error) {
	code := p.Text(string(of))
	if code == "" && of == Disbursements {
		id, err := store.ExemptCode(tx)
		if err := app.Found(err, app.Refuse(app.Invalid, "A disbursement is not taxed, and the firm has no tax code that is exempt: add one under Set-up.")); err != nil {
			return 0, err
		}
		return id, nil
	}
	if code == "" {
		code = p.Text(string(Work))
	}
	id, err := store.TaxCodeByKey(tx, code)
	if err := app.Found(err, app.Refuse(app.Invalid, "No tax code holds for this engagement: choose one for the engagement, its client or the firm.")); err != nil {
		return 0, err
	}
	return id, nil
}

// ParseProfile reads a typed value of the billing profile.
func ParseProfile(tx *store.DB, name, typed string) (string, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return "", err
	}
	item, known := profile.Named(name)
	if !known {
		return "", refusal.Errorf("there is no %q in the billing profile", name)
	}
	return item.Parse(typed, firm.Mark())
}

// KeepProfile makes a value hold from now on: on the client, and on those of the
// engagements that have one of their own, which would hide it.
func KeepProfile(tx *app.Tx, clientID int64, engagements []int64, name, value string) error {
	if err := store.SetProfileValue(tx.DB, profile.Client, clientID, name, value, false); err != nil {
		return err
	}
	for _, id := range engagements {
		p, err := Profile(tx.DB, clientID, id)
		if err != nil {
			return err
		}
		if !p.Of(name).OwnOf(profile.Engagement) {
			continue
		}
		if err := store.SetProfileValue(tx.DB, profile.Engagement, id, name, value, false); err != nil {
			return err
		}
	}
	return nil
}

// Nearest says what an item of the billing profile is for an engagement (for a
// client, if its number is 0): for lists, where reading a whole profile for each
// would be slow. It knows nothing of places. Clients that are named are all that it
// is asked about.
func Nearest(tx *store.DB, name string, clientIDs ...int64) (func(clientID, engagementID int64) string, error) {
	own, err := store.ProfileOwn(tx, name, clientIDs)
	item, _ := profile.Named(name)
	return func(clientID, engagementID int64) string {
		if value, has := own[profile.Engagement][engagementID]; has {
			return value
		}
		if value, has := own[profile.Client][clientID]; has {
			return value
		}
		if value, has := own[profile.Firm][1]; has {
			return value
		}
		return item.Default
	}, err
}
