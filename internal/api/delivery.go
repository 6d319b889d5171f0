package api

import (
	"context"
	"mime"
	"net/http"
	"strconv"

	core "dorvet/core/delivery"

	"dorvet/internal/app"
	"dorvet/internal/app/delivery"

	"github.com/danielgtaylor/huma/v2"
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
	operation(s, api, http.MethodGet, "/deliveries", "listDeliveries", "What was handed over, latest first",
		func(ctx context.Context, actor app.Actor, in *struct {
			ClientID int64  `query:"client" doc:"0 for all"`
			State    string `query:"state" enum:",queued,taken,arrived,failed,called_back,posted,saved"`
			Page
		}) ([]delivery.Handing, error) {
			return delivery.List(ctx, s.app, actor, in.ClientID, core.State(in.State), in.Offset, in.Limit)
		})
	operation(s, api, http.MethodGet, "/deliveries/paper", "listOnPaper", "What is to be printed, posted or fetched and has not left yet",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]delivery.Handing, error) {
			return delivery.OnPaper(ctx, s.app, actor)
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
	s.registerInvoicePage(api)
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
