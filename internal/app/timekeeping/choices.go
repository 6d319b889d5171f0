package timekeeping

import (
	"context"
	"strings"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// Choices is what can be chosen while recording, beside engagements.
type Choices struct {
	Currencies []money.Currency `json:"currencies" doc:"of engagements"`
	Services   []ServiceChoice  `json:"services"`
	Categories []CategoryChoice `json:"categories" doc:"of expenses"`
	People     []PersonChoice   `json:"people" doc:"whose week may be seen"`
	Fields     []OwnField       `json:"fields" doc:"of the firm's own, on entries"`
	Treats     bool             `json:"treats" doc:"whether the actor says how time is billed"`
}

// OwnField is a field of the firm's own on entries.
type OwnField struct {
	ID      int64    `json:"id"`
	Name    string   `json:"name"`
	Form    string   `json:"form"`
	Choices []string `json:"choices"`
}

// ServiceChoice is a service of the catalogue.
type ServiceChoice struct {
	ID      int64  `json:"id"`
	Name    string `json:"name"`
	Text    string `json:"text" doc:"that an entry begins with"`
	Minutes int    `json:"minutes" doc:"that an entry begins with, or 0"`
}

// CategoryChoice is a category of expenses.
type CategoryChoice struct {
	ID           int64         `json:"id"`
	Name         string        `json:"name"`
	Unit         string        `json:"unit" doc:"counted in, or nothing"`
	PerUnit      *money.Rate   `json:"perUnit,omitempty" doc:"in ten-thousandths"`
	Markup       money.Percent `json:"markup" doc:"in ten-thousandths of a percent"`
	Disbursement bool          `json:"disbursement"`
}

// PersonChoice is a person of the firm.
type PersonChoice struct {
	ID   int64    `json:"id"`
	Name string   `json:"name"`
	Role app.Role `json:"role"`
}

// ChoicesOf lists what the actor can choose while recording.
func ChoicesOf(ctx context.Context, a *app.App, actor app.Actor) (*Choices, error) {
	tx := a.Read(ctx, actor)
	currencies, err := store.EngagementCurrencies(tx)
	if err != nil {
		return nil, err
	}
	services, err := store.All[store.Service](tx, "name")
	if err != nil {
		return nil, err
	}
	categories, err := store.All[store.ExpenseCategory](tx, "name")
	if err != nil {
		return nil, err
	}
	fields, err := store.OwnFields(tx, "entry")
	if err != nil {
		return nil, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	people, err := store.All[store.Person](tx, "name")
	choices := &Choices{Currencies: currencies, Services: []ServiceChoice{}, Categories: []CategoryChoice{}, People: []PersonChoice{},
		Fields: []OwnField{}, Treats: actor.Role != app.Staff || firm.StaffTreats}
	for _, f := range fields {
		choices.Fields = append(choices.Fields, OwnField{f.ID, f.Name, f.Form, registry.OwnChoices(f)})
	}
	for _, c := range categories {
		if c.Active {
			choices.Categories = append(choices.Categories, CategoryChoice{c.ID, c.Name, c.Unit, c.PerUnit, c.Markup, c.Disbursement})
		}
	}
	for _, service := range services {
		if service.Active {
			choices.Services = append(choices.Services, ServiceChoice{service.ID, service.Name, service.Text, service.Minutes})
		}
	}
	for _, p := range people {
		if p.Active && actor.SeesPerson(p.ID) {
			choices.People = append(choices.People, PersonChoice{p.ID, p.Name, app.Role(p.Role)})
		}
	}
	return choices, err
}

// What can be found to be chosen.
type (
	EngagementChoice = store.Choice
	ClientChoice     = store.ClientChoice
)

// Seeking is what is typed to find something to choose, and what was chosen before.
type Seeking struct {
	Text      string
	Open      bool    // only engagements on which the actor can record
	ClientIDs []int64 // whose engagements; nil: of all
	IDs       []int64 // these, whatever else is sought
}

// EngagementChoices are engagements that can be chosen: with all words that are typed in the name of the engagement or
// its client, or in its code; where nothing is typed, those on which the actor recorded last come first.
func EngagementChoices(ctx context.Context, a *app.App, actor app.Actor, s Seeking) ([]EngagementChoice, error) {
	tx := a.Read(ctx, actor)
	f := store.ChoiceFilter{Recorder: actor.PersonID, Open: s.Open, Words: strings.Fields(s.Text), ClientIDs: s.ClientIDs, IDs: s.IDs}
	if actor.Role == app.Administrator { // who records for others too
		f.Recorder = 0
	}
	if len(f.Words) == 0 && s.IDs == nil {
		var err error
		if f.First, err = store.LastRecordedOn(tx, actor.PersonID, a.Clock.Today().AddMonths(-lastMonths)); err != nil {
			return nil, err
		}
	}
	return store.Choices(tx, f)
}

// lastMonths is how far back one's last engagements are looked for.
const lastMonths = 3

// ClientChoices are clients that can be chosen, by what is typed of their name or code.
func ClientChoices(ctx context.Context, a *app.App, actor app.Actor, s Seeking) ([]ClientChoice, error) {
	return store.ClientChoices(a.Read(ctx, actor), strings.Fields(s.Text), s.IDs)
}
