package api

import (
	"context"
	"errors"
	"fmt"
	"html/template"
	"log/slog"
	"mime"
	"net"
	"net/http"
	"strconv"

	core "dorvet/core/delivery"
	"dorvet/core/money"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/receivables"

	"github.com/danielgtaylor/huma/v2"
	"github.com/go-chi/chi/v5"
)

// ManyInvoices is embedded in the input of what is done to many invoices.
type ManyInvoices struct {
	IDs []int64 `json:"ids" minItems:"1" maxItems:"2000"`
}

// ManySending is the body of what hands many invoices over.
type ManySending struct {
	ManyInvoices
	Sending delivery.Handover `json:"sending"`
}

func (s *server) registerDelivery(api huma.API) {
	operation(s, api, http.MethodGet, "/invoices/{id}/delivery", "readDelivery",
		"How an invoice stands with its client, and how it would be handed over",
		func(ctx context.Context, actor app.Actor, in *ByID) (*delivery.Standing, error) {
			return delivery.Of(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodPost, "/invoices/{id}/delivery/preview", "previewLetter", "The letter that would go out",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body delivery.Handover
		}) ([]delivery.Letter, error) {
			return delivery.Preview(ctx, s.app, actor, []int64{in.ID}, in.Body)
		})
	operation(s, api, http.MethodPost, "/invoices/{id}/delivery", "sendInvoice", "Hand an invoice over",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body delivery.Handover
		}) (delivery.Sent, error) {
			return delivery.Send(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body)
		})
	operation(s, api, http.MethodPost, "/deliveries/preview", "previewLetters", "The letters in which many invoices would go out",
		func(ctx context.Context, actor app.Actor, in *struct{ Body ManySending }) ([]delivery.Letter, error) {
			return delivery.Preview(ctx, s.app, actor, in.Body.IDs, in.Body.Sending)
		})
	operation(s, api, http.MethodPost, "/deliveries", "sendMany", "Hand many invoices over in the background",
		func(ctx context.Context, actor app.Actor, in *struct{ Body ManySending }) (*app.Job, error) {
			return delivery.BeginSend(ctx, s.app, app.Request{Actor: actor}, in.Body.IDs, in.Body.Sending)
		})
	operation(s, api, http.MethodGet, "/deliveries", "listDeliveries", "What went to clients, latest first: by mail, by post or by hand",
		func(ctx context.Context, actor app.Actor, in *struct {
			ClientID int64  `query:"client" doc:"0 for all"`
			Kind     string `query:"kind" enum:",invoice,credit_note,deposit,receipt,statement,reminder,proposal,questionnaire,answer,code,word"`
			State    string `query:"state" enum:",queued,taken,arrived,failed,called_back,posted,saved"`
			Page
		}) (*delivery.Letters, error) {
			return delivery.List(ctx, s.app, actor, delivery.LetterFilter{ClientID: in.ClientID, Kind: in.Kind, State: core.State(in.State)},
				in.Offset, in.Limit)
		})
	operation(s, api, http.MethodPost, "/deliveries/posted", "notePosted", "Note that invoices left the house on paper",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				ManyInvoices
				Day isoDay `json:"day" format:"date"`
			}
		}) (delivery.Sent, error) {
			on, err := in.Body.Day.day("day")
			if err != nil {
				return delivery.Sent{}, err
			}
			return delivery.Posted(ctx, s.app, app.Request{Actor: actor}, in.Body.IDs, on)
		})
	operation(s, api, http.MethodPost, "/deliveries/{id}/call-back", "callBack", "Call back what has not left yet",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, delivery.CallBack(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	s.registerClientLetters(api)
	s.registerInvoicePage(api)
}

// registerClientLetters has the letters that bring no invoice.
func (s *server) registerClientLetters(api huma.API) {
	operation(s, api, http.MethodPost, "/letters/preview", "previewClientLetter", "A deposit request, statement or reminder as it would go out",
		func(ctx context.Context, actor app.Actor, in *struct{ Body receivables.Lettering }) ([]delivery.Letter, error) {
			return receivables.PreviewLetter(ctx, s.app, actor, in.Body)
		})
	operation(s, api, http.MethodPost, "/letters", "sendClientLetter", "Send a deposit request, a statement or a reminder",
		func(ctx context.Context, actor app.Actor, in *struct{ Body receivables.Lettering }) (delivery.Sent, error) {
			return receivables.SendLetter(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operationRaw(s, api, "/clients/{id}/statement.pdf", "readStatement", "The statement of a client's account, as open items today",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			EntityID int64  `query:"entity" doc:"0: of their last invoice, or the only one"`
			Currency string `query:"currency" maxLength:"3" doc:"nothing: the client's"`
		}) (*pdfFile, error) {
			name, content, err := receivables.StatementFile(ctx, s.app, actor, in.ID, in.EntityID, money.Currency(in.Currency))
			return &pdfFile{"application/pdf", mime.FormatMediaType("attachment", map[string]string{"filename": name}), content}, err
		})
	operationRaw(s, api, "/clients/{id}/statement", "readPeriodStatement", "The account of a client as movements of a period: PDF, CSV, XLSX",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Period
			EntityID int64  `query:"entity" doc:"0: of their last invoice, or the only one"`
			Currency string `query:"currency" maxLength:"3" doc:"nothing: the client's"`
			Form     string `query:"form" enum:"pdf,csv,xlsx" default:"pdf"`
		}) (*download, error) {
			from, to, err := in.days()
			if err != nil {
				return nil, err
			}
			period := receivables.AccountPeriod{ClientID: in.ID, EntityID: in.EntityID, Currency: money.Currency(in.Currency), From: from, To: to}
			if in.Form == "pdf" {
				return attached(receivables.PeriodStatement(ctx, s.app, actor, period))
			}
			header, rows, err := receivables.PeriodTable(ctx, s.app, actor, period)
			if err != nil {
				return nil, err
			}
			return written(fmt.Sprintf("account %s to %s", from, to), in.Form, header, rows)
		})
	operation(s, api, http.MethodPost, "/mails/{id}/call-back", "callBackMail", "Call back a mail that has not left yet",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, correspondence.CallBackMail(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
}

// registerInvoicePage has what the firm does around the client's page of an invoice.
func (s *server) registerInvoicePage(api huma.API) {
	operation(s, api, http.MethodGet, "/invoices/{id}/page", "previewInvoicePage", "The client's page of an invoice, as it is on a day",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			On isoDay `query:"on" doc:"nothing: today"`
		}) (*delivery.InvoicePage, error) {
			on, err := in.On.orNone("on")
			if err != nil {
				return nil, err
			}
			return delivery.PreviewPage(ctx, s.app, actor, in.ID, on)
		})
	operation(s, api, http.MethodPost, "/invoices/{id}/links", "linkInvoice", "Make a link to the client's page, to be given by hand",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Name string `json:"name" maxLength:"200" doc:"to whom it is given"`
			}
		}) (delivery.Linked, error) {
			return delivery.NewLink(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Name)
		})
	operation(s, api, http.MethodDelete, "/invoices/{id}/links", "endInvoiceLinks", "End all links to the client's page",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, delivery.EndLinks(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodGet, "/invoices/{id}/claims", "listClaims", "What the client said of an invoice",
		func(ctx context.Context, actor app.Actor, in *ByID) ([]delivery.Claim, error) {
			return delivery.Claims(ctx, s.app, actor, in.ID)
		})
	operation(s, api, http.MethodPost, "/invoices/{id}/claims/{claim}/answer", "answerClaim", "Answer what the client said",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			ClaimID int64 `path:"claim"`
			Body    delivery.Answering
		}) ([]delivery.Claim, error) {
			return delivery.Answer(ctx, s.app, app.Request{Actor: actor}, in.ID, in.ClaimID, in.Body)
		})
	operation(s, api, http.MethodGet, "/claims", "listOpenClaims", "What clients said that nobody has answered",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]delivery.OpenClaim, error) {
			return delivery.OpenClaims(ctx, s.app, actor)
		})
}

// endRemindersPage is what a mail program shows that asks for the address itself: nothing is ended by looking.
var endRemindersPage = template.Must(template.New("").Parse(`<!doctype html><html lang="{{.Language}}"><meta charset="utf-8">
<meta name="viewport" content="width=device-width"><title>{{.Firm}}</title>
<body style="font:16px/1.5 sans-serif;color:#1B2A2E;background:#FFFEFB;max-width:34em;margin:3em auto;padding:0 1em"><main><h1
style="font-size:1.2em">{{.Firm}}</h1>{{if .Ended}}<p>{{.Done}}</p>{{else}}<p>{{.Question}}</p>
<form method="post"><button style="font:inherit;padding:.4em 1em">{{.Button}}</button></form>{{end}}</main></html>`))

// registerEndReminders ends reminders by one click in a mail program (RFC 8058): its address alone says whose, and opens nothing.
func (s *server) registerEndReminders(router chi.Router) {
	const path = apiPrefix + "/public/reminders/{secret}"
	router.Get(path, func(w http.ResponseWriter, r *http.Request) { s.reminders(w, r, false) })
	router.Post(path, func(w http.ResponseWriter, r *http.Request) { s.reminders(w, r, true) })
}

func (s *server) reminders(w http.ResponseWriter, r *http.Request, end bool) {
	if address, _, _ := net.SplitHostPort(r.RemoteAddr); s.guests.address.OnLimit(w, r, address) {
		writeProblem(w, http.StatusTooManyRequests, "There were too many requests. Wait a minute, then try again.")
		return
	}
	secret := chi.URLParam(r, "secret")
	page, err := delivery.ReadReminders(r.Context(), s.app, secret)
	if err == nil && end {
		err = delivery.EndReminders(r.Context(), s.app, secret)
	}
	if err != nil {
		var said huma.StatusError
		if !errors.As(problem(r.Context(), err), &said) {
			said = huma.Error500InternalServerError("It could not be done.")
		}
		writeProblem(w, said.GetStatus(), said.Error())
		return
	}
	w.Header().Set("Content-Type", "text/html; charset=utf-8")
	if err := endRemindersPage.Execute(w, struct {
		*delivery.RemindersPage
		Ended bool
	}{page, end}); err != nil {
		slog.Warn("the page that ends reminders was not written", "error", err)
	}
}

type guestClaiming struct {
	Guest
	Body delivery.Claiming
}

// registerInvoiceGuests has what clients do on the page of an invoice.
func (s *server) registerInvoiceGuests(api huma.API) {
	open(s, api, http.MethodGet, "/invoice", "readInvoicePage", "An invoice, for who holds a link",
		func(ctx context.Context, in *Guest) (*answer[*delivery.InvoicePage], error) {
			return answered(delivery.ReadPage(ctx, s.app, in.Secret))
		})
	open(s, api, http.MethodPost, "/invoice/opened", "markInvoiceOpened", "Note that the page was opened",
		func(ctx context.Context, in *Guest) (*answer[nothing], error) {
			return done(delivery.MarkOpened(ctx, s.app, in.Secret, false))
		})
	open(s, api, http.MethodGet, "/invoice/files/{which}", "readInvoiceFile", "A file of the page: pdf, xml, or a receipt by its place",
		func(ctx context.Context, in *struct {
			Guest
			Which string `path:"which" maxLength:"6"`
		}) (*download, error) {
			which, place := in.Which, 0
			if n, err := strconv.Atoi(which); err == nil {
				which, place = "receipt", n
			}
			f, err := delivery.PageFile(ctx, s.app, in.Secret, which, place)
			if err != nil {
				return nil, err
			}
			return &download{f.MediaType, mime.FormatMediaType("attachment", map[string]string{"filename": f.Name}), f.Content}, nil
		})
	open(s, api, http.MethodPost, "/invoice/claims", "sayOnInvoice", "Ask about a line, dispute it, or say when it will be paid",
		func(ctx context.Context, in *guestClaiming) (*answer[nothing], error) {
			if s.guests.often(&in.Guest, "say") {
				return nil, app.Refuse(app.Conflict, "Several messages came from here already. Wait ten minutes, then go on.")
			}
			return done(delivery.Say(ctx, s.app, in.Secret, in.Body))
		})
	s.registerPaying(api)
	huma.Register(api, huma.Operation{OperationID: "isItOurs", Method: http.MethodPost, Path: apiPrefix + "/public/document",
		Summary: "Whether a document was issued here, by its digest", MaxBodyBytes: publicLimit},
		func(ctx context.Context, in *struct {
			asking
			Body struct {
				Digest string `json:"digest" minLength:"64" maxLength:"64" pattern:"^[0-9a-f]+$" doc:"SHA-256 of the file, in hexadecimal"`
			}
		}) (*answer[*delivery.Known], error) {
			if s.guests.documents.OnLimit(in.writer, in.request, in.address) {
				return nil, huma.NewError(http.StatusTooManyRequests, "There were too many requests. Wait a minute, then try again.")
			}
			known, err := delivery.IsOurs(ctx, s.app, in.Body.Digest)
			if err != nil {
				return nil, problem(ctx, err)
			}
			return &answer[*delivery.Known]{known}, nil
		})
}
