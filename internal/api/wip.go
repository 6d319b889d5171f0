package api

import (
	"context"
	"net/http"

	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"

	"github.com/danielgtaylor/huma/v2"
)

// WorkDays is embedded in the input of what looks at work of some days.
type WorkDays struct {
	UpTo        isoDay `query:"upTo" required:"true" format:"date" doc:"cut-off: the last day of work"`
	From        isoDay `query:"from" doc:"the first day of work; nothing: since the last bill"`
	ChargesUpTo isoDay `query:"chargesUpTo" doc:"charges due up to it; nothing: today"`
}

func (d *WorkDays) filter() (f wip.Filter, err error) {
	if f.UpTo, err = d.UpTo.day("upTo"); err != nil {
		return f, err
	}
	if f.From, err = d.From.orNone("from"); err != nil {
		return f, err
	}
	f.ChargesUpTo, err = d.ChargesUpTo.orNone("chargesUpTo")
	return f, err
}

// OnWork is a decision on portions of work.
type OnWork struct {
	PortionIDs []int64      `json:"portionIds" minItems:"1" maxItems:"2000"`
	Decision   wip.Decision `json:"decision"`
}

// ByAct is embedded in the input of what takes an act back.
type ByAct struct {
	Act int64 `path:"act" minimum:"1"`
}

func (s *server) registerWIP(api huma.API) {
	operation(s, api, http.MethodGet, "/wip", "listUnbilled", "Everything unbilled, by client and engagement",
		func(ctx context.Context, actor app.Actor, in *struct {
			WorkDays
			LeadID      int64  `query:"lead" doc:"0 for all"`
			ClientID    int64  `query:"client" doc:"0 for all"`
			Arrangement string `query:"arrangement" doc:"nothing for every one"`
			Cycle       string `query:"cycle" doc:"nothing for every one"`
			Group       string `query:"group" maxLength:"100" doc:"an industry, department or work type of clients; nothing for every one"`
			AtLeast     string `query:"atLeast" maxLength:"30" doc:"an amount of an engagement, as typed"`
			Order       string `query:"order" enum:",value,oldest,last_billed,budget" doc:"nothing: by the names of clients"`
		}) (*wip.UnbilledList, error) {
			f, err := in.filter()
			if err != nil {
				return nil, err
			}
			f.LeadID, f.ClientID, f.Arrangement, f.Cycle = in.LeadID, in.ClientID, in.Arrangement, in.Cycle
			f.Group, f.AtLeast, f.Order = in.Group, in.AtLeast, in.Order
			return wip.Unbilled(ctx, s.app, actor, f)
		})
	operation(s, api, http.MethodGet, "/wip/engagements/{id}", "unbilledEntries",
		"The unbilled entries of an engagement, and what was decided on them",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			WorkDays
		}) (*wip.UnbilledEntries, error) {
			f, err := in.filter()
			if err != nil {
				return nil, err
			}
			return wip.Entries(ctx, s.app, actor, in.ID, f)
		})
	operation(s, api, http.MethodPost, "/wip/tally", "tally", "What drafts of a selection would come to",
		func(ctx context.Context, actor app.Actor, in *struct{ Body unbilled.Selection }) (*runs.Tally, error) {
			return runs.Preview(ctx, s.app, actor, in.Body)
		})
	operation(s, api, http.MethodGet, "/wip/board", "readBoard", "Engagements by where they stand",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]wip.BoardRow, error) {
			return wip.Board(ctx, s.app, actor)
		})
	s.registerDecisions(api)
}

func (s *server) registerDecisions(api huma.API) {
	operation(s, api, http.MethodPost, "/wip/decisions/preview", "previewDecision", "What a decision on unbilled work would do",
		func(ctx context.Context, actor app.Actor, in *struct{ Body OnWork }) (*wip.Taken, error) {
			return wip.Preview(ctx, s.app, actor, in.Body.PortionIDs, in.Body.Decision)
		})
	operation(s, api, http.MethodPost, "/wip/decisions", "decide",
		"Hold, write down or up, write off, put at no charge, divide or move unbilled work",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body OnWork
		}) (*wip.Taken, error) {
			return wip.Decide(ctx, s.app, app.Request{Actor: actor}, in.Body.PortionIDs, in.Body.Decision)
		})
	operation(s, api, http.MethodPost, "/wip/decisions/{act}/undo", "undoDecision", "Take a decision on work back",
		func(ctx context.Context, actor app.Actor, in *ByAct) (nothing, error) {
			return nothing{}, drafts.Undo(ctx, s.app, app.Request{Actor: actor}, in.Act)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/decisions", "decideOnDraft", "Decide on work that is on a draft",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body OnWork
		}) (*drafts.Changed, error) {
			return drafts.DecideOn(ctx, s.app, r, in.edit(), in.Body.PortionIDs, in.Body.Decision)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/decisions/{act}/undo", "undoOnDraft", "Take a decision on a draft's work back",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			ByAct
		}) (*drafts.Changed, error) {
			return drafts.UndoOn(ctx, s.app, r, in.edit(), in.Act)
		})
}
