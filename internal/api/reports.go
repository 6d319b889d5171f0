package api

import (
	"context"
	"net/http"

	"dorvet/internal/app"
	"dorvet/internal/app/reports"
	"dorvet/internal/store"

	"github.com/danielgtaylor/huma/v2"
)

func (s *server) registerReports(api huma.API) {
	operation(s, api, http.MethodGet, "/rail", "readRail", "The figures of the stages",
		func(ctx context.Context, actor app.Actor, _ *nothing) (*reports.Rail, error) {
			return reports.Figures(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, "/find", "find", "Find clients, engagements and invoices",
		func(ctx context.Context, actor app.Actor, in *struct {
			Text string `query:"text" maxLength:"100"`
		}) ([]store.Found, error) {
			return reports.Find(ctx, s.app, actor, in.Text)
		})
}
