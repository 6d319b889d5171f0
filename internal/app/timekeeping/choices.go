package timekeeping

import (
	"context"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// Choices is what can be chosen in a row of the week.
type Choices struct {
	Engagements []store.Choice   `json:"engagements"`
	Services    []ServiceChoice  `json:"services"`
	Categories  []CategoryChoice `json:"categories" doc:"of expenses"`
	People      []PersonChoice   `json:"people" doc:"whose week may be seen"`
	Fields      []OwnField       `json:"fields" doc:"of the firm's own, on entries"`
	Treats      bool             `json:"treats" doc:"whether the actor says how time is billed"`
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
	recorder := actor.PersonID
	if actor.Role == app.Administrator { // who records for others too
		recorder = 0
	}
	engagements, err := store.Choices(tx, recorder)
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
	choices := &Choices{Engagements: engagements, Services: []ServiceChoice{}, Categories: []CategoryChoice{}, People: []PersonChoice{},
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
