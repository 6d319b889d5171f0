// Package profiles reads how a client or an engagement is billed: the values of core/profile
// that hold for it, with the layer that each is from.
//
//	p, err := profiles.Profile(tx, clientID, engagementID)
//	p.Text("terms") // 30d
package profiles

import (
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/refusal"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

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

// Taxed is what is taxed: its tax code is chosen in the profile.
type Taxed string

// Each kind of charge can have a tax code of its own.
const (
	Work          Taxed = "tax_code"
	Expenses      Taxed = "tax_code_expenses"
	Disbursements Taxed = "tax_code_disbursements"
	Goods         Taxed = "tax_code_goods"
	LateCharges   Taxed = "tax_code_late"
)

// TaxCode is the tax code of a kind of charge: its own, or else that of work. A
// disbursement, or a late charge, is never taxed as work: without a code of its own it has the
// firm's first that is exempt.
func TaxCode(tx *store.DB, p profile.Profile, of Taxed) (int64, error) {
	code := p.Text(string(of))
	if code == "" && (of == Disbursements || of == LateCharges) {
		id, err := store.ExemptCode(tx)
		if err := app.Found(err, app.Refuse(app.Invalid,
			"Disbursements and late charges are not taxed, and the firm has no tax code that is exempt: add one under Set-up.")); err != nil {
			return 0, err
		}
		return id, nil
	}
	if code == "" {
		code = p.Text(string(Work))
	}
	id, err := store.TaxCodeByKey(tx, code)
	if err := app.Found(err, app.Refuse(app.Invalid, "No tax code holds for this engagement: choose one for the engagement, its "+
		"client or the firm.")); err != nil {
		return 0, err
	}
	return id, nil
}

// TaxChoice is a tax code that can be chosen, with its name.
type TaxChoice struct {
	Code string `json:"code"`
	Name string `json:"name" doc:"with its rate: VAT 23 %"`
}

// TaxChoices are the tax codes that are in use, as they are on a day.
func TaxChoices(tx *store.DB, on day.Day) ([]TaxChoice, error) {
	records, err := store.All[store.TaxCode](tx, "code")
	if err != nil {
		return nil, err
	}
	codes, err := store.TaxCodes(tx)
	choices := []TaxChoice{}
	for _, r := range records {
		if r.Active {
			choices = append(choices, TaxChoice{r.Code, codes[r.ID].Named(on)})
		}
	}
	return choices, err
}

// RulesOf are what a profile asks of the entries that are billed under it.
func RulesOf(p profile.Profile) wip.Rules {
	r := wip.Rules{}
	r.ShortestText, _ = strconv.Atoi(p.Text("shortest_text")) // both are numbers, or they could not have been kept
	r.MostMinutes, _ = strconv.Atoi(p.Text("most_hours"))
	for _, name := range strings.Split(p.Text("excluded"), ";") {
		if name = strings.TrimSpace(name); name != "" {
			r.Excluded = append(r.Excluded, name)
		}
	}
	if highest, err := money.ParseFixed(p.Text("highest_rate"), money.Point, 4); err == nil {
		r.HighestPerHour = money.Rate(highest)
	}
	return r
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
	rows, err := store.ProfileOwn(tx, name, clientIDs)
	type of struct {
		scope         profile.Scope
		owner, number int64
	}
	own := map[of]string{}
	for _, row := range rows {
		own[of{row.Scope, row.OwnerID, row.SubjectID}] = row.Value
	}
	item, _ := profile.Named(name)
	return func(clientID, engagementID int64) string {
		for _, layer := range []of{{profile.Engagement, clientID, engagementID}, {profile.Client, 0, clientID}, {profile.Firm, 0, 1}} {
			if value, has := own[layer]; has {
				return value
			}
		}
		return item.Default
	}, err
}
