package api

import (
	"context"
	"mime"
	"net/http"
	"path/filepath"

	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/runs"
	"dorvet/internal/app/unbilled"

	"github.com/danielgtaylor/huma/v2"
)

// Edited is embedded in the input of what changes a draft.
type Edited struct {
	ByID
	VersionQuery
}

func (in Edited) edit() drafts.Edit { return drafts.Edit{ID: in.ID, Version: in.Version} }

func (s *server) registerBilling(api huma.API) {
	s.registerInvoices(api)
	s.registerDraft(api)
	s.registerAfterwards(api)
	s.registerRuns(api)
	operation(s, api, http.MethodPost, "/drafts", "makeDrafts", "Make drafts of unbilled work",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body unbilled.Selection
		}) ([]runs.Made, error) {
			return runs.MakeDrafts(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/taken-out", "takeOut", "Take entries and lines out of a draft",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body drafts.Rows
		}) (*drafts.Changed, error) {
			return drafts.TakeOut(ctx, s.app, r, in.edit(), in.Body)
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/put-on", "putOn", "Put unbilled entries, planned charges and lines on a draft",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Body drafts.Back
		}) (*drafts.Changed, error) {
			return drafts.PutOn(ctx, s.app, r, in.edit(), in.Body)
		})
	onInvoice(s, api, http.MethodPut, "/invoices/{id}/lines/{line}/text", "setText", "Change the text of a line",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Line int64 `path:"line"`
			Body struct {
				Text string `json:"text" maxLength:"500"`
			}
		}) (*drafts.Changed, error) {
			return drafts.SetText(ctx, s.app, r, in.edit(), in.Line, in.Body.Text)
		})
	operation(s, api, http.MethodDelete, "/invoices/{id}", "deleteDraft", "Delete a draft; its entries are unbilled again",
		func(ctx context.Context, actor app.Actor, in *Edited) (nothing, error) {
			return nothing{}, drafts.Delete(ctx, s.app, app.Request{Actor: actor}, in.edit())
		})
	onInvoice(s, api, http.MethodPost, "/invoices/{id}/issue", "issueInvoice", "Issue a draft",
		func(ctx context.Context, r app.Request, in *struct {
			Edited
			Send bool `query:"send" doc:"and hand it over as its profile says, both or neither"`
		}) (*drafts.Changed, error) {
			if in.Send {
				return delivery.IssueAndSend(ctx, s.app, r, in.edit())
			}
			return issuing.Issue(ctx, s.app, r, in.edit())
		})
}

func (s *server) registerInvoices(api huma.API) {
	operation(s, api, http.MethodGet, "/drafts", "listDrafts", "What is still to be issued",
		func(ctx context.Context, actor app.Actor, in *struct {
			RunID        int64 `query:"run" doc:"of one run; 0 for all"`
			EngagementID int64 `query:"engagement" doc:"0 for all"`
		}) ([]invoices.Summary, error) {
			return invoices.Drafts(ctx, s.app, actor, invoices.Filter{RunID: in.RunID, EngagementID: in.EngagementID})
		})
	operation(s, api, http.MethodGet, "/invoices", "listRegister", "Every invoice ever issued, by page",
		func(ctx context.Context, actor app.Actor, in *struct {
			ClientID     int64  `query:"client" doc:"0 for all"`
			EngagementID int64  `query:"engagement" doc:"0 for all"`
			LeadID       int64  `query:"lead" doc:"of one of its engagements; 0 for all"`
			RunID        int64  `query:"run" doc:"0 for all"`
			State        string `query:"state" doc:"open, late, paid, credited, disputed, credit_note or opening; nothing for all"`
			Handed       string `query:"handed" enum:",not_yet,queued,on_paper,failed,out,opened,fetched,unopened,settled" doc:"how far it has come to its client"`
			From         isoDay `query:"from" doc:"dated; nothing: from ever"`
			To           isoDay `query:"to" doc:"dated; nothing: to this day"`
			AtLeast      string `query:"atLeast" maxLength:"30" doc:"total, each in its own currency; nothing for all"`
			Text         string `query:"text" maxLength:"200" doc:"words that are in number, client or engagement"`
			Order        string `query:"order" doc:"number, due, client or open; nothing: the newest first"`
			By           string `query:"by" doc:"number, client, dated, due, late, net, tax, total or open, in place of an order"`
			Down         bool   `query:"down" doc:"by it, the greatest first"`
			Offset       int    `query:"offset" minimum:"0"`
			Limit        int    `query:"limit" minimum:"1" maximum:"2000" default:"100"`
		}) (*invoices.RegisterPart, error) {
			f := invoices.Filter{ClientID: in.ClientID, EngagementID: in.EngagementID, LeadID: in.LeadID, RunID: in.RunID, State: in.State, Handed: in.Handed,
				AtLeast: in.AtLeast, Text: in.Text, Order: in.Order, By: in.By, Down: in.Down}
			var err error
			if f.From, err = in.From.orNone("from"); err != nil {
				return nil, err
			}
			if f.To, err = in.To.orNone("to"); err != nil {
				return nil, err
			}
			return invoices.RegisterPage(ctx, s.app, actor, f, in.Offset, in.Limit)
		})
	operation(s, api, http.MethodGet, "/invoices/{id}", "readInvoice", "A draft or invoice, whole",
		func(ctx context.Context, actor app.Actor, in *ByID) (*invoices.Invoice, error) {
			return invoices.One(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodGet, "/invoices/{id}/history", "invoiceHistory", "What was done to an invoice",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]app.HistoryRow, error) {
			if _, err := invoices.One(ctx, s.app, actor, in.ID); err != nil {
				return nil, err
			}
			return s.app.History(ctx, actor, app.OfInvoice, in.ID)
		})
	s.registerDocument(api)
	s.registerForms(api)
}

// registerDocument answers with a file in place of JSON.
func (s *server) registerDocument(api huma.API) {
	operationRaw(s, api, "/invoices/{id}/document.pdf", "readDocument", "The document of an invoice or draft",
		func(ctx context.Context, actor app.Actor, in *ByID) (*pdfFile, error) {
			name, content, err := papers.File(ctx, s.app, actor, in.ID)
			disposition := mime.FormatMediaType("attachment", map[string]string{"filename": name})
			return &pdfFile{"application/pdf", disposition, content}, err
		})
}

// registerForms are the open formats of an invoice, and the look of documents.
func (s *server) registerForms(api huma.API) {
	operation(s, api, http.MethodGet, "/invoices/{id}/forms", "listForms",
		"In which forms an invoice can be had, and in which not, and why",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]papers.FormState, error) {
			return papers.FormsOf(ctx, s.app, actor, in.ID)
		})
	guarded(s, api, http.MethodPost, "/invoices/{id}/files/{form}", "makeFile", "An issued invoice as a file in an open format",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Form string `path:"form" enum:"pdf,cii,ledes,csv,xlsx,json"`
		}) (*pdfFile, error) {
			name, content, err := papers.FileIn(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Form)
			return &pdfFile{mediaTypes[filepath.Ext(name)], mime.FormatMediaType("attachment", map[string]string{"filename": name}),
				content}, err
		})
	operationRaw(s, api, "/look/sample.pdf", "readSample", "An invoice that nobody gets, in the firm's look or one that is tried on",
		func(ctx context.Context, actor app.Actor, in *struct {
			Design    string `query:"design" enum:"letter,column,band"`
			Colour    string `query:"colour" maxLength:"7"`
			Typeface  string `query:"typeface" enum:"sans,serif,mixed"`
			Paper     string `query:"paper" enum:"a4,letter"`
			Logo      string `query:"logo" enum:"yes,no"`
			Title     string `query:"title" maxLength:"60"`
			Language  string `query:"language" enum:"client,en,de,fr,es,pl,el"`
			Code      string `query:"payment_code" enum:"yes,no"`
			Statement string `query:"expense_statement" enum:"yes,no"`
			Head      string `query:"head_picture" maxLength:"200"`
			Lines     string `query:"head_lines" maxLength:"400"`
		}) (*pdfFile, error) {
			tried := map[string]string{}
			for name, value := range map[string]string{"design": in.Design, "colour": in.Colour, "typeface": in.Typeface, "paper": in.Paper,
				"logo": in.Logo, "title": in.Title, "language": in.Language,
				"payment_code": in.Code, "expense_statement": in.Statement, "head_picture": in.Head, "head_lines": in.Lines} {
				if value != "" {
					tried[name] = value
				}
			}
			content, err := papers.Sample(ctx, s.app, actor, tried)
			return &pdfFile{"application/pdf", "attachment; filename=sample.pdf", content}, err
		})
}

// pdfFile is a document that is downloaded.
type pdfFile struct {
	ContentType string `header:"Content-Type"`
	Disposition string `header:"Content-Disposition"`
	Body        []byte
}

// onInvoice registers an act on an invoice, and answers with the invoice as it is then.
func onInvoice[In any](s *server, api huma.API, method, path, name, summary string,
	act func(context.Context, app.Request, *In) (*drafts.Changed, error)) {
	operation(s, api, method, path, name, summary, func(ctx context.Context, actor app.Actor, in *In) (*invoices.Invoice, error) {
		done, err := act(ctx, app.Request{Actor: actor}, in)
		if err != nil {
			return nil, err
		}
		shown, err := invoices.One(ctx, s.app, actor, done.ID)
		if err == nil {
			shown.ActID = done.ActID
		}
		return shown, err
	})
}
