package api

import (
	"context"
	"net/http"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"

	"github.com/danielgtaylor/huma/v2"
)

// registerDraft has what is done to a draft beyond its entries: how it begins, its
// lines, fees and choices.
func (s *server) registerDraft(api huma.API) {
	onInvoice(s, api, http.MethodPost, "/invoices", "beginInvoice", "Begin an invoice outside of any run",
		func(ctx context.Context, r app.Request, in *struct {
			Body drafts.Beginning
		}) (*drafts.Changed, error) {
			return drafts.Begin(ctx, s.app, r, in.Body)
		})
	operation(s, api, http.MethodGet, "/clients/{id}/offer", "readOffer", "What a client has to be billed",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
		}) (*drafts.UnbilledSummary, error) {
			return drafts.SummaryOf(ctx, s.app, actor, in.ID, 0)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/taken-up", "takeUp", "Put on a draft what is unbilled of its client",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body struct {
				Take     string `json:"take" enum:"all,time,expenses,fees"`
				PersonID int64  `json:"personId"`
			}
		}) (*drafts.Changed, error) {
			return drafts.AddUnbilled(ctx, s.app, r, in.edit(), in.Body.Take, in.Body.PersonID)
		})
	s.registerLines(api)
}

// registerLines has the lines of a draft, and what it took over from the billing profile.
func (s *server) registerLines(api huma.API) {
	onInvoice(s, api, http.MethodPut, "/invoices/{id}/coming-back", "comeBack", "Let an invoice come back: its lines become a plan",
		func(ctx context.Context, r app.Request, in *struct {
			ByID
			Body drafts.Return
		}) (*drafts.Changed, error) {
			return drafts.ComeBack(ctx, s.app, r, in.ID, in.Body)
		})
	onInvoice(s, api, http.MethodDelete, "/invoices/{id}/coming-back", "stayAway", "Take away what is still planned of an invoice",
		func(ctx context.Context, r app.Request, in *ByID) (*drafts.Changed, error) {
			return drafts.StayAway(ctx, s.app, r, in.ID)
		})
	operation(s, api, http.MethodPost, "/invoices/{id}/template", "keepTemplate",
		"Keep the lines, texts and look of an invoice for others to begin with",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Name string `json:"name" maxLength:"100"`
			}
		}) (nothing, error) {
			_, err := drafts.KeepTemplate(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Name)
			return nothing{}, err
		})
	operation(s, api, http.MethodGet, "/invoices/{id}/line-choices", "lineChoices", "What a line of a draft can begin with",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]drafts.LineChoice, error) {
			return drafts.LineChoices(ctx, s.app, actor, in.ID)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/lines", "addLine", "Add a line by hand",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body drafts.LineTyped
		}) (*drafts.Changed, error) {
			return drafts.AddLine(ctx, s.app, r, in.edit(), in.Body)
		})
	onInvoice(s, api, http.MethodPut, "/invoices/{id}/lines/{line}", "changeLine", "Change a line",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Line int64 `path:"line"`
			Body drafts.LineTyped
		}) (*drafts.Changed, error) {
			return drafts.ChangeLine(ctx, s.app, r, in.edit(), in.Line, in.Body)
		})
	onInvoice(s, api, http.MethodPut, "/invoices/{id}/tax", "setTax", "Give lines of a draft another tax",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body drafts.TaxTyped
		}) (*drafts.Changed, error) {
			return drafts.SetTax(ctx, s.app, r, in.edit(), in.Body)
		})
	onInvoice(s, api, http.MethodPut, "/invoices/{id}/order", "orderLines", "Put the lines of a draft into an order",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body struct {
				LineIDs []int64 `json:"lineIds" maxItems:"5000"`
			}
		}) (*drafts.Changed, error) {
			return drafts.Order(ctx, s.app, r, in.edit(), in.Body.LineIDs)
		})
	onInvoice(s, api, http.MethodPut, "/invoices/{id}/choices", "setChoice", "Change a choice of a draft, for it alone or from now on",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body drafts.ChoiceChange
		}) (*drafts.Changed, error) {
			return drafts.SetChoice(ctx, s.app, r, in.edit(), in.Body)
		})
	onInvoice(s, api, http.MethodPut, "/invoices/{id}/dates", "setDates", "Change the dates of a draft",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body drafts.Dates
		}) (*drafts.Changed, error) {
			return drafts.SetDates(ctx, s.app, r, in.edit(), in.Body)
		})
	s.registerFees(api)
}

func (s *server) registerFees(api huma.API) {
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/progress", "billProgress", "Bill a part of a fixed fee",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body struct {
				EngagementID int64  `json:"engagementId"`
				Typed        string `json:"typed" maxLength:"30" doc:"60% done, or an amount"`
			}
		}) (*drafts.Changed, error) {
			return drafts.AddProgress(ctx, s.app, r, in.edit(), in.Body.EngagementID, in.Body.Typed)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/advances/{line}", "takeBackAdvance", "Take an advance back on a draft",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Line int64 `path:"line"`
		}) (*drafts.Changed, error) {
			return drafts.Recoup(ctx, s.app, r, in.edit(), in.Line)
		})
	onInvoice(s, api, http.MethodPost, "/deposits/{charge}/advance", "invoiceDeposit", "Begin an advance invoice for an agreed deposit",
		func(ctx context.Context, r app.Request, in *struct {
			Charge int64 `path:"charge"`
		}) (*drafts.Changed, error) {
			return drafts.BeginAdvance(ctx, s.app, r, in.Charge)
		})
}

// registerAfterwards has what is done to an invoice that was issued.
func (s *server) registerAfterwards(api huma.API) {
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/reopening", "reopenInvoice", "Make an issued invoice a draft again",
		func(ctx context.Context, r app.Request, in *Edited) (*drafts.Changed, error) {
			return issuing.Reopen(ctx, s.app, r, in.edit())
		})
	operation(s, api, http.MethodGet, "/invoices/{id}/creditable", "listCreditable", "What can be credited of an invoice",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]issuing.Creditable, error) {
			return issuing.CreditableLines(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodPost, "/invoices/{id}/credit/preview", "previewCredit", "What a credit note would come to",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body issuing.Crediting
		}) (*invoice.Totals, error) {
			return issuing.PreviewCredit(ctx, s.app, actor, in.ID, in.Body)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/credit", "creditInvoice", "Issue a credit note",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body issuing.Crediting
		}) (*drafts.Changed, error) {
			return issuing.Credit(ctx, s.app, r, in.edit(), in.Body)
		})
	onInvoice(s, api, http.MethodPut, "/invoices/{id}/dispute", "disputeInvoice", "Note that an invoice is disputed, or no more",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body struct {
				Reason string `json:"reason" maxLength:"500"`
			}
		}) (*drafts.Changed, error) {
			return issuing.Dispute(ctx, s.app, r, in.edit(), in.Body.Reason)
		})
}
