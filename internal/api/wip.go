package api

import (
	"context"
	"net/http"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/wip"

	"github.com/danielgtaylor/huma/v2"
)

// CutOff is embedded in the input of what looks at work up to a day.
type CutOff struct {
	UpTo isoDay `query:"upTo" required:"true" format:"date" doc:"cut-off: the last day of work"`
}

func (s *server) registerWIP(api huma.API) {
	operation(s, api, http.MethodGet, "/wip", "listUnbilled", "Everything unbilled, by client and engagement",
		func(ctx context.Context, actor app.Actor, in *struct {
			CutOff
			LeadID   int64  `query:"lead" doc:"0 for all"`
			ClientID int64  `query:"client" doc:"0 for all"`
			AtLeast  string `query:"atLeast" maxLength:"30" doc:"an amount of an engagement, as typed"`
		}) (*wip.UnbilledList, error) {
			upTo, err := in.UpTo.day("upTo")
			if err != nil {
				return nil, err
			}
			return wip.Unbilled(ctx, s.app, actor, wip.Filter{UpTo: upTo, LeadID: in.LeadID, ClientID: in.ClientID, AtLeast: in.AtLeast})
		})
	operation(s, api, http.MethodGet, "/wip/engagements/{id}", "unbilledEntries", "The unbilled entries of an engagement",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			CutOff
		}) (*wip.UnbilledEntries, error) {
			upTo, err := in.UpTo.day("upTo")
			if err != nil {
				return nil, err
			}
			return wip.Entries(ctx, s.app, actor, in.ID, upTo)
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
