package api

import (
	"context"
	"fmt"
	"net/http"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/reports"

	"github.com/danielgtaylor/huma/v2"
)

// Period is embedded in the input of what is asked for two days and all between.
type Period struct {
	From isoDay `query:"from" required:"true" format:"date"`
	To   isoDay `query:"to" required:"true" format:"date"`
}

// Page is embedded in the input of what reads a long list part by part.
type Page struct {
	Offset int `query:"offset" minimum:"0" maximum:"100000000"`
	Limit  int `query:"limit" minimum:"1" maximum:"200" default:"100"`
}

func (p *Period) days() (from, to day.Day, err error) {
	if from, err = p.From.day("from"); err != nil {
		return 0, 0, err
	}
	to, err = p.To.day("to")
	return from, to, err
}

func (s *server) registerReports(api huma.API) {
	operation(s, api, http.MethodGet, "/rail", "readRail", "The figures of the stages",
		func(ctx context.Context, actor app.Actor, _ *nothing) (*reports.Rail, error) {
			return reports.Figures(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, "/find", "find", "Find clients, engagements and invoices",
		func(ctx context.Context, actor app.Actor, in *struct {
			Text string `query:"text" maxLength:"100"`
		}) ([]reports.Found, error) {
			return reports.Find(ctx, s.app, actor, in.Text)
		})
	operation(s, api, http.MethodGet, "/typed", "readTyped", "Read what is typed into a field",
		func(ctx context.Context, _ app.Actor, in *struct {
			As    string `query:"as" enum:"day,hours,terms,schedule,amount,percent" required:"true"`
			Typed string `query:"typed" maxLength:"200"`
		}) (*profiles.Typed, error) {
			return profiles.ReadTyped(ctx, s.app, in.As, in.Typed)
		})
	operation(s, api, http.MethodGet, "/journal", "readJournal", "What a bookkeeper posts for a period",
		func(ctx context.Context, actor app.Actor, in *struct {
			Period
			Text string `query:"text" maxLength:"200" doc:"all its words are in document, client, posting or account"`
			Page
		}) (*reports.Journal, error) {
			from, to, err := in.days()
			if err != nil {
				return nil, err
			}
			return reports.JournalOf(ctx, s.app, actor, reports.JournalFilter{From: from, To: to, Text: in.Text}, in.Offset, in.Limit)
		})
	operationRaw(s, api, "/events", "followChanges", "How often something was written, now and when it is again, as events", s.followChanges)
	operationRaw(s, api, "/journal/export", "exportJournal", "The journal of a period as CSV or XLSX",
		func(ctx context.Context, actor app.Actor, in *struct {
			Period
			Form string `query:"form" enum:"csv,xlsx" default:"csv"`
		}) (*download, error) {
			from, to, err := in.days()
			if err != nil {
				return nil, err
			}
			header, rows, err := reports.JournalTable(ctx, s.app, actor, from, to)
			if err != nil {
				return nil, err
			}
			return written(fmt.Sprintf("journal %s to %s", from, to), in.Form, header, rows)
		})
}
