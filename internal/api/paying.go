package api

import (
	"context"
	"net/http"

	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/paying"

	"github.com/danielgtaylor/huma/v2"
)

type guestPaying struct {
	Guest
	Body paying.Typing
}

// registerPaying has what clients pay on the page of an invoice, and what the payment service says of it.
func (s *server) registerPaying(api huma.API) {
	open(s, api, http.MethodGet, "/invoice/offer", "readPayOffer", "What can be paid on the page of an invoice now, and what it costs",
		func(ctx context.Context, in *struct {
			Guest
			Amount string `query:"amount" maxLength:"30" doc:"nothing: what is offered first"`
			Gift   string `query:"gift" maxLength:"30" doc:"of thanks"`
			Kind   string `query:"kind" enum:",card,debit"`
		}) (*answer[*paying.Offer], error) {
			return answered(paying.Read(ctx, s.app, in.Secret, paying.Typing{Amount: in.Amount, Gift: in.Gift,
				Method: paymentmethod.GivenMethod{Kind: in.Kind}}))
		})
	open(s, api, http.MethodPost, "/invoice/payments", "payInvoice", "Pay on the page of an invoice",
		func(ctx context.Context, in *guestPaying) (*answer[*paying.Offer], error) {
			if s.guests.often(&in.Guest, "pay") {
				return nil, app.Refuse(app.Conflict, "It was tried several times already. Wait ten minutes, or pay by transfer.")
			}
			return answered(paying.Pay(ctx, s.app, in.Secret, in.Body))
		})
	huma.Register(api, huma.Operation{OperationID: "notePayment", Method: http.MethodPost, Path: apiPrefix + "/public/payment-notices",
		Summary: "What the payment service says of a payment, signed", MaxBodyBytes: publicLimit},
		func(ctx context.Context, in *struct {
			Signature string `header:"Signature" required:"true" maxLength:"200" doc:"HMAC-SHA256 of the body, in hexadecimal"`
			RawBody   []byte `contentType:"application/json"`
		}) (*answer[nothing], error) {
			if err := paying.TakeNotice(ctx, s.app, in.RawBody, in.Signature); err != nil {
				return nil, problem(ctx, err)
			}
			return &answer[nothing]{}, nil
		})
}
