package api

import (
	"context"
	"net/http"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/reports"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/timekeeping"

	"github.com/danielgtaylor/huma/v2"
)

func (s *server) registerSetup(api huma.API) {
	operation(s, api, http.MethodGet, "/set-up", "readIndex", "What is kept in the set-up",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]registry.RoomView, error) {
			return registry.Index(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/rates/ask", "askRate", "What an hour would cost, and why",
		func(ctx context.Context, actor app.Actor, in *struct{ Body setup.Asked }) (*setup.HourPrice, error) {
			return setup.AskRate(ctx, s.app, actor, in.Body)
		})
	operation(s, api, http.MethodPost, "/rerating/preview", "previewRerate", "What re-rating would do",
		func(ctx context.Context, actor app.Actor, in *struct{ Body timekeeping.Rerating }) (*timekeeping.Rerated, error) {
			return timekeeping.PreviewRerating(ctx, s.app, actor, in.Body)
		})
	operation(s, api, http.MethodPost, "/rerating", "rerate", "Value unbilled entries at the rates that hold now",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body timekeeping.Rerating
		}) (*timekeeping.Rerated, error) {
			return timekeeping.Rerate(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodDelete, "/rerating/{id}", "undoRerate", "Take back a re-rating",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			EngagementID int64 `query:"engagement" required:"true"`
		}) (nothing, error) {
			return nothing{}, timekeeping.UndoRerating(ctx, s.app, app.Request{Actor: actor}, in.ID, in.EngagementID)
		})
	operation(s, api, http.MethodPost, "/engagements/copies", "copyEngagement", "Make an engagement like another",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body setup.Copied
		}) (registry.Added, error) {
			return setup.CopyEngagement(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodGet, "/clients", "listClients", "Clients and how they stand",
		func(ctx context.Context, actor app.Actor, in *struct {
			Standing string `query:"standing" maxLength:"20" doc:"nothing: active ones; taken_on, settled, past, all"`
			Status   string `query:"status" maxLength:"200"`
			Industry string `query:"industry" maxLength:"200"`
			Text     string `query:"text" maxLength:"200" doc:"all its words are in name, code, status, or who cares for them"`
			By       string `query:"by" maxLength:"20" doc:"status, responsible, engagements, unbilled, oldest, owed, late, billed"`
			Down     bool   `query:"down" doc:"the greatest first"`
			Open     int64  `query:"open" doc:"whose place is asked for"`
			Page
		}) (*reports.ClientList, error) {
			return reports.Clients(ctx, s.app, actor, reports.ClientFilter{Standing: in.Standing, Status: in.Status, Industry: in.Industry,
				Text: in.Text, By: in.By, Down: in.Down, OpenID: in.Open}, in.Offset, in.Limit)
		})
	operation(s, api, http.MethodGet, "/clients/{id}", "readClient", "A client and how it stands",
		func(ctx context.Context, actor app.Actor, in *ByID) (*reports.ClientOverview, error) {
			return reports.Client(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodGet, "/engagements/{id}", "readEngagement", "An engagement, its phases and budgets",
		func(ctx context.Context, actor app.Actor, in *ByID) (*reports.EngagementOverview, error) {
			return reports.Engagement(ctx, s.app, actor, in.ID)
		})
}
