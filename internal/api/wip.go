package api

import (
	"context"
	"net/http"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/wip"

	"github.com/danielgtaylor/huma/v2"
)

type upTo struct {
	UpTo day.Day `query:"upTo" required:"true" format:"date" doc:"cut-off: the last day of work"`
}

func (s *server) registerWIP(api huma.API) {
	operation(s, api, http.MethodGet, "/wip", "listUnbilled", "Everything unbilled, by client and engagement",
		func(ctx context.Context, actor app.Actor, in *struct {
			upTo
			LeadID   int64 `query:"lead" doc:"0 for all"`
			ClientID int64 `query:"client" doc:"0 for all"`
			AtLeast  int64 `query:"atLeast" doc:"minor units, of an engagement"`
		}) (*wip.UnbilledList, error) {
			return wip.Unbilled(ctx, s.app, actor, wip.Filter{UpTo: in.UpTo, LeadID: in.LeadID, ClientID: in.ClientID, AtLeast: in.AtLeast})
		})
	operation(s, api, http.MethodGet, "/wip/engagements/{id}", "unbilledEntries", "The unbilled entries of an engagement",
		func(ctx context.Context, actor app.Actor, in *struct {
			byID
			upTo
		}) ([]wip.UnbilledEntry, error) {
			return wip.Entries(ctx, s.app, actor, in.ID, in.UpTo)
		})
	operation(s, api, http.MethodPost, "/wip/tally", "tally", "What drafts of a selection would come to",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				UpTo          day.Day `json:"upTo" format:"date"`
				EngagementIDs []int64 `json:"engagementIds" maxItems:"10000"`
			}
		}) (*wip.Tally, error) {
			return wip.Add(ctx, s.app, actor, in.Body.UpTo, in.Body.EngagementIDs)
		})
}
