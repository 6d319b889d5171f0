package api

import (
	"context"
	"net/http"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"

	"github.com/danielgtaylor/huma/v2"
)

// SecondFactorOffer is whether somebody has a second factor, and a secret to
// begin one with.
type SecondFactorOffer struct {
	Set    bool   `json:"set"`
	Secret string `json:"secret" doc:"base32, for an app on a phone; nothing if one is set"`
	URI    string `json:"uri" doc:"the same as an otpauth address"`
}

// NoticeRow is something that a person is told.
type NoticeRow struct {
	ID           int64  `json:"id"`
	Day          string `json:"day"`
	Sentence     string `json:"sentence"`
	EngagementID int64  `json:"engagementId" doc:"or 0"`
}

type beginInput struct {
	asking
	Body setup.Start
}

type invitedInput struct {
	Secret string `query:"secret" required:"true" minLength:"20" maxLength:"100"`
}

type acceptInput struct {
	asking
	Body struct {
		Secret   string `json:"secret" minLength:"20" maxLength:"100"`
		Password string `json:"password" maxLength:"200"`
	}
}

// Invited is whom a link is for.
type Invited struct {
	Name string `json:"name"`
	Mail string `json:"mail"`
	Firm string `json:"firm"`
}

func (s *server) registerAccount(api huma.API) {
	s.registerInvitations(api)
	operation(s, api, http.MethodGet, "/account/sessions", "listSessions", "One's open sessions",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]setup.AppearsAs, error) {
			return setup.Sessions(ctx, s.app, actor, s.sessions.GetInt64(ctx, sessionNumber))
		})
	operation(s, api, http.MethodDelete, "/account/sessions/{id}", "endSession", "End a session",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, setup.EndSession(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodPut, "/account/password", "changePassword", "Change one's password",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				Old      string `json:"old" maxLength:"200"`
				Password string `json:"password" maxLength:"200"`
			}
		}) (nothing, error) {
			return nothing{}, setup.ChangePassword(ctx, s.app, app.Request{Actor: actor}, in.Body.Old, in.Body.Password, s.sessions.GetInt64(ctx, sessionNumber))
		})
	operation(s, api, http.MethodGet, "/account/second-factor", "readSecondFactor", "One's second factor, or a secret for one",
		func(ctx context.Context, actor app.Actor, _ *nothing) (*SecondFactorOffer, error) {
			return s.secondFactor(ctx, actor)
		})
	operation(s, api, http.MethodPut, "/account/second-factor", "setSecondFactor", "Ask for a code at every sign-in",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				Secret string `json:"secret" maxLength:"100"`
				Code   string `json:"code" maxLength:"20"`
			}
		}) (nothing, error) {
			return nothing{}, setup.SetSecondFactor(ctx, s.app, app.Request{Actor: actor}, in.Body.Secret, in.Body.Code)
		})
	operation(s, api, http.MethodPost, "/account/second-factor/removal", "removeSecondFactor", "Ask for no code any more",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				Password string `json:"password" maxLength:"200"`
			}
		}) (nothing, error) {
			return nothing{}, setup.RemoveSecondFactor(ctx, s.app, app.Request{Actor: actor}, actor.PersonID, in.Body.Password)
		})
	operation(s, api, http.MethodGet, "/notices", "listNotices", "What one is told",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]NoticeRow, error) {
			return s.notices(ctx, actor)
		})
	operation(s, api, http.MethodDelete, "/notices/{id}", "putAway", "Put a notice away",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, setup.PutAway(ctx, s.app, actor, in.ID)
		})
}

func (s *server) registerInvitations(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "begin", Method: http.MethodPost, Path: apiPrefix + "/begin", Summary: "Make the firm and its first administrator", MaxBodyBytes: publicLimit},
		func(ctx context.Context, in *beginInput) (*answer[*Session], error) {
			person, err := setup.Begin(ctx, s.app, in.Body)
			if err != nil {
				return nil, problem(ctx, err)
			}
			return s.begin(ctx, person, &in.asking)
		})
	huma.Register(api, huma.Operation{OperationID: "readInvitation", Method: http.MethodGet, Path: apiPrefix + "/invitation", Summary: "Whom a link is for", MaxBodyBytes: publicLimit},
		func(ctx context.Context, in *invitedInput) (*answer[Invited], error) {
			person, err := setup.Invited(ctx, s.app, in.Secret)
			if err != nil {
				return nil, problem(ctx, err)
			}
			firm, err := store.TheFirm(s.app.Store.Read(ctx))
			if err != nil {
				return nil, problem(ctx, err)
			}
			return &answer[Invited]{Invited{person.Name, person.Mail, firm.Name}}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "acceptInvitation", Method: http.MethodPost, Path: apiPrefix + "/invitation", Summary: "Choose a password", MaxBodyBytes: publicLimit},
		func(ctx context.Context, in *acceptInput) (*answer[*Session], error) {
			if s.signIns.address.OnLimit(in.writer, in.request, in.address) {
				return nil, huma.NewError(http.StatusTooManyRequests, "There were too many attempts. Wait a minute, then try again.")
			}
			person, err := setup.Accept(ctx, s.app, in.Body.Secret, in.Body.Password)
			if err != nil {
				return nil, problem(ctx, err)
			}
			if person.SecondFactor != "" { // the code is still asked for
				return nil, huma.NewError(http.StatusConflict, "Your password is set. Sign in with it and the code of your device.")
			}
			return s.begin(ctx, person, &in.asking)
		})
	operation(s, api, http.MethodPost, "/people/{id}/invitation", "invite", "Make a link with which a person chooses a password",
		func(ctx context.Context, actor app.Actor, in *ByID) (setup.Invitation, error) {
			return setup.Invite(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodDelete, "/people/{id}/second-factor", "clearSecondFactor", "Take away a second factor whose device was lost",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			if in.ID == actor.PersonID {
				return nothing{}, app.Refuse(app.Invalid, "This is your own: remove it under your account, with your password.")
			}
			return nothing{}, setup.RemoveSecondFactor(ctx, s.app, app.Request{Actor: actor}, in.ID, "")
		})
}

func (s *server) secondFactor(ctx context.Context, actor app.Actor) (*SecondFactorOffer, error) {
	tx := s.app.Store.Read(ctx)
	person, err := store.Get[store.Person](tx, actor.PersonID)
	if err != nil || person.SecondFactor != "" {
		return &SecondFactorOffer{Set: err == nil}, err
	}
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	secret, err := setup.NewSecret()
	return &SecondFactorOffer{Secret: secret, URI: setup.SecretURI(firm.Name, person.Mail, secret)}, err
}

func (s *server) notices(ctx context.Context, actor app.Actor) ([]NoticeRow, error) {
	rows, err := store.NoticesOf(s.app.Store.Read(ctx), actor.PersonID)
	notices := make([]NoticeRow, 0, len(rows))
	for _, n := range rows {
		row := NoticeRow{ID: n.ID, Day: n.BusinessDay.Time().Format(time.DateOnly), Sentence: n.Sentence}
		if n.EngagementID != nil {
			row.EngagementID = *n.EngagementID
		}
		notices = append(notices, row)
	}
	return notices, err
}
