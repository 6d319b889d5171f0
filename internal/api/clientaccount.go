package api

import (
	"context"
	"net/http"

	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/clientaccount"

	"github.com/danielgtaylor/huma/v2"
)

// The inputs of who opens, or has opened, a client's account.
type (
	guestAsking struct {
		Guest
		Body struct {
			Mail string `json:"mail" maxLength:"200" doc:"nothing: that to which the link was mailed"`
		}
	}
	guestCoded struct {
		Guest
		Body struct {
			Code string `json:"code" maxLength:"20"`
		}
	}
	guestPicking struct {
		Guest
		Body struct {
			ID int64 `json:"id"`
		}
	}
)

// registerClientAccount has all that a client has with the firm, which opens from the page of an invoice with a code by mail.
func (s *server) registerClientAccount(api huma.API) {
	open(s, api, http.MethodPost, "/invoice/account-code", "askAccountCode", "Mail the code that opens the account",
		func(ctx context.Context, in *guestAsking) (*answer[nothing], error) {
			if s.guests.often(&in.Guest, "account code") {
				return nil, app.Refuse(app.Conflict, "Several codes were mailed already. Look at the latest mail, or try again in ten minutes.")
			}
			return done(clientaccount.AskCode(ctx, s.app, in.Secret, in.Body.Mail))
		})
	open(s, api, http.MethodPost, "/invoice/account", "openAccount", "Open the account with the code",
		func(ctx context.Context, in *guestCoded) (*answer[clientaccount.OpenedLink], error) {
			return answered(clientaccount.Open(ctx, s.app, in.Secret, in.Body.Code))
		})
	open(s, api, http.MethodGet, "/account", "readClientAccount", "All that a client has with the firm, for who opened it",
		func(ctx context.Context, in *Guest) (*answer[*clientaccount.ClientAccount], error) {
			return answered(clientaccount.Read(ctx, s.app, in.Secret))
		})
	for _, what := range []struct {
		path, name, summary string
		act                 func(context.Context, *app.App, string, int64) (clientaccount.OpenedLink, error)
	}{
		{"invoice", "openAccountInvoice", "Open an invoice from the account", clientaccount.OpenInvoice},
		{"proposal", "openAccountProposal", "Open a proposal from the account", clientaccount.OpenProposal},
		{"questions", "openAccountQuestions", "Open a questionnaire from the account", clientaccount.OpenQuestions},
	} {
		open(s, api, http.MethodPost, "/account/"+what.path, what.name, what.summary,
			func(ctx context.Context, in *guestPicking) (*answer[clientaccount.OpenedLink], error) {
				return answered(what.act(ctx, s.app, in.Secret, in.Body.ID))
			})
	}
	open(s, api, http.MethodGet, "/account/statement", "readAccountStatement", "The statement of one of the accounts, as PDF",
		func(ctx context.Context, in *struct {
			Guest
			EntityID int64  `query:"entity"`
			Currency string `query:"currency" maxLength:"3"`
		}) (*download, error) {
			return attached(clientaccount.Statement(ctx, s.app, in.Secret, in.EntityID, money.Currency(in.Currency)))
		})
	open(s, api, http.MethodPost, "/account/end-method", "endMethod", "End a way of paying that was kept",
		func(ctx context.Context, in *guestPicking) (*answer[nothing], error) {
			return done(clientaccount.EndMethod(ctx, s.app, in.Secret, in.Body.ID))
		})
	open(s, api, http.MethodPost, "/account/closing", "closeAccount", "Close the account, and what was opened from it",
		func(ctx context.Context, in *Guest) (*answer[nothing], error) {
			return done(clientaccount.Leave(ctx, s.app, in.Secret))
		})
}
