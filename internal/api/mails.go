package api

import (
	"context"
	"net/http"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/simulator"

	"github.com/danielgtaylor/huma/v2"
)

// Mailbox shows the mails that the mail stand-in was given.
type Mailbox interface {
	Mails(most int) ([]simulator.Delivered, error)
	Open(name string) (*simulator.Opened, error)
}

const mostMails = 200

// errOfAllEntities keeps the stand-in's mails, which do not say whose they are, from who is
// limited to issuing entities.
var errOfAllEntities = app.Refuse(app.Forbidden,
	"You are limited to some issuing entities, and mails are of all of them: ask an administrator who is not limited.")

func (s *server) registerMails(api huma.API) {
	operation(s, api, http.MethodGet, "/mails", "listMails", "Mails that the mail stand-in keeps, latest first",
		func(_ context.Context, actor app.Actor, _ *nothing) ([]simulator.Delivered, error) {
			if actor.Entities != nil {
				return nil, errOfAllEntities
			}
			if s.options.Mailbox == nil {
				return []simulator.Delivered{}, nil
			}
			return s.options.Mailbox.Mails(mostMails)
		})
	operation(s, api, http.MethodGet, "/mails/undelivered", "listUndelivered", "Mails that were tried and not taken, latest first",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]correspondence.Undelivered, error) {
			return correspondence.UndeliveredMails(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/mails/undelivered/{id}/again", "sendAgain", "Send a mail once more",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, correspondence.SendAgain(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodGet, "/mails/{name}", "readMail", "A mail as it went out",
		func(_ context.Context, actor app.Actor, in *struct {
			Name string `path:"name" maxLength:"40"`
		}) (*simulator.Opened, error) {
			if actor.Entities != nil {
				return nil, errOfAllEntities
			}
			if s.options.Mailbox == nil {
				return nil, app.Refuse(app.NotFound, "Mails go to a mail server here and are not kept.")
			}
			mail, err := s.options.Mailbox.Open(in.Name)
			if err != nil {
				return nil, app.Refuse(app.NotFound, "There is no such mail.")
			}
			return mail, nil
		})
}
