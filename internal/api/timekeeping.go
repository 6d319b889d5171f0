package api

import (
	"context"
	"net/http"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"
	"dorvet/internal/store"

	"github.com/danielgtaylor/huma/v2"
)

// TypedBody is embedded in the input of what takes an entry as typed.
type TypedBody struct{ Body timekeeping.TypedEntry }

// VersionQuery is embedded in the input of what changes something.
type VersionQuery struct {
	Version int64 `query:"version" required:"true" doc:"the version that was last seen"`
}

// Choices is what can be chosen in a row of the week.
type Choices struct {
	Engagements []store.Choice   `json:"engagements"`
	Services    []ServiceChoice  `json:"services"`
	Categories  []CategoryChoice `json:"categories" doc:"of expenses"`
	People      []PersonChoice   `json:"people" doc:"whose week may be seen"`
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

func (s *server) registerTimekeeping(api huma.API) {
	operation(s, api, http.MethodGet, "/choices", "listChoices", "What can be chosen when recording",
		func(ctx context.Context, actor app.Actor, _ *nothing) (*Choices, error) { return s.choices(ctx, actor) })
	operation(s, api, http.MethodGet, "/people/{id}/weeks/{day}", "readWeek", "The week sheet of a person",
		func(ctx context.Context, actor app.Actor, in *OfWeek) (*timekeeping.Week, error) {
			on, err := in.Day.day("day")
			if err != nil {
				return nil, err
			}
			return timekeeping.WeekOf(ctx, s.app, actor, in.ID, on)
		})
	operation(s, api, http.MethodPost, "/time-entries/value", "valueEntry", "What an entry would be worth as typed",
		func(ctx context.Context, actor app.Actor, in *struct {
			TypedBody
			Entry int64 `query:"entry" doc:"that would be changed, or 0"`
		}) (*timekeeping.Worth, error) {
			return timekeeping.Preview(ctx, s.app, actor, in.Body, in.Entry)
		})
	operation(s, api, http.MethodPost, "/time-entries", "recordEntry", "Record time",
		func(ctx context.Context, actor app.Actor, in *struct {
			TypedBody
		}) (*timekeeping.Entry, error) {
			return timekeeping.Record(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodPut, "/time-entries/{id}", "changeEntry", "Change an entry",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			VersionQuery
			TypedBody
		}) (*timekeeping.Entry, error) {
			return timekeeping.Change(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version, in.Body)
		})
	operation(s, api, http.MethodDelete, "/time-entries/{id}", "removeEntry", "Remove an entry",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			VersionQuery
		}) (nothing, error) {
			return nothing{}, timekeeping.Remove(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version)
		})
	operation(s, api, http.MethodPost, "/time-entries/{id}/return", "bringBackEntry", "Undo the removal of an entry",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			VersionQuery
		}) (*timekeeping.Entry, error) {
			return timekeeping.BringBack(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Version)
		})
	operation(s, api, http.MethodGet, "/time-entries/{id}", "readEntry", "An entry",
		func(ctx context.Context, actor app.Actor, in *ByID) (*timekeeping.Entry, error) {
			return timekeeping.One(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodGet, "/time-entries/{id}/history", "entryHistory", "What was done to an entry",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]app.HistoryRow, error) {
			return timekeeping.History(ctx, s.app, actor, in.ID)
		})
}

func (s *server) choices(ctx context.Context, actor app.Actor) (*Choices, error) {
	tx := s.app.Store.Read(ctx)
	recorder := actor.PersonID
	if actor.Role == app.Administrator { // who records for others too
		recorder = 0
	}
	engagements, err := store.Choices(tx, recorder, actor.Sight())
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
	people, err := store.All[store.Person](tx, "name")
	choices := &Choices{Engagements: engagements, Services: []ServiceChoice{}, Categories: []CategoryChoice{}, People: []PersonChoice{}}
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
