package api

import (
	"context"
	"net/http"

	"dorvet/internal/app"
	"dorvet/internal/app/timekeeping"

	"github.com/danielgtaylor/huma/v2"
)

// TypedBody is embedded in the input of what takes an entry as typed.
type TypedBody struct{ Body timekeeping.TypedEntry }

// VersionQuery is embedded in the input of what changes something.
type VersionQuery struct {
	Version int64 `query:"version" required:"true" doc:"the version that was last seen"`
}

// seeking is what is typed to find something to choose.
type seeking struct {
	Text    string  `query:"text" maxLength:"200" doc:"all its words are in a name or code; nothing: one's last ones come first"`
	Open    bool    `query:"open" doc:"only engagements on which one can record"`
	Clients []int64 `query:"clients" maxItems:"200" doc:"whose engagements; none: of all"`
	IDs     []int64 `query:"ids" maxItems:"200" doc:"these, whatever else is asked; none: what is sought"`
}

func (s *seeking) sought() timekeeping.Seeking {
	return timekeeping.Seeking{Text: s.Text, Open: s.Open, ClientIDs: s.Clients, IDs: s.IDs}
}

func (s *server) registerTimekeeping(api huma.API) {
	operation(s, api, http.MethodGet, "/choices", "listChoices", "What can be chosen when recording",
		func(ctx context.Context, actor app.Actor, _ *nothing) (*timekeeping.Choices, error) {
			return timekeeping.ChoicesOf(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, "/choices/engagements", "findEngagements", "Engagements that can be chosen when recording",
		func(ctx context.Context, actor app.Actor, in *seeking) ([]timekeeping.EngagementChoice, error) {
			return timekeeping.EngagementChoices(ctx, s.app, actor, in.sought())
		})
	operation(s, api, http.MethodGet, "/choices/clients", "findClients", "Clients with engagements",
		func(ctx context.Context, actor app.Actor, in *seeking) ([]timekeeping.ClientChoice, error) {
			return timekeeping.ClientChoices(ctx, s.app, actor, in.sought())
		})
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
