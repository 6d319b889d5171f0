package api

import (
	"context"
	"net/http"

	"dorvet/internal/app"
	"dorvet/internal/app/identity"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"

	"github.com/danielgtaylor/huma/v2"
)

type beginInput struct {
	asking
	Body setup.Start
}

type invitedInput struct {
	Secret string `header:"Link-Secret" required:"true" minLength:"20" maxLength:"100"`
}

type acceptInput struct {
	asking
	Secret string `header:"Link-Secret" required:"true" minLength:"20" maxLength:"100"`
	Body   struct {
		Password string `json:"password" maxLength:"200"`
	}
}

func (s *server) registerAccount(api huma.API) {
	s.registerInvitations(api)
	operation(s, api, http.MethodGet, "/account/sessions", "listSessions", "One's open sessions",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]identity.AppearsAs, error) {
			return identity.Sessions(ctx, s.app, actor, s.sessions.GetInt64(ctx, sessionNumber))
		})
	operation(s, api, http.MethodDelete, "/account/sessions/{id}", "endSession", "End a session",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, identity.EndSession(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodPut, "/account/lists/{list}", "keepList", "Keep what one makes of a list: columns, widths, order",
		func(ctx context.Context, actor app.Actor, in *struct {
			List string `path:"list" maxLength:"60"`
			Body identity.ListShape
		}) (nothing, error) {
			return nothing{}, identity.KeepList(ctx, s.app, actor, in.List, in.Body)
		})
	operation(s, api, http.MethodPut, "/account/hours", "readHoursAs", "Say how one reads hours",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				As identity.HoursAs `json:"as" enum:"decimal,clock,tenth,quarter"`
			}
		}) (nothing, error) {
			return nothing{}, identity.ReadHoursAs(ctx, s.app, actor, in.Body.As)
		})
	operation(s, api, http.MethodPut, "/account/notices", "mailNotices", "Say whether what one is told goes by mail, too",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				As string `json:"as" enum:",once,daily" doc:"at once, as one letter a day, or not"`
			}
		}) (nothing, error) {
			return nothing{}, identity.MailNoticesAs(ctx, s.app, actor, in.Body.As)
		})
	operation(s, api, http.MethodPut, "/account/password", "changePassword", "Change one's password",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				Old      string `json:"old" maxLength:"200"`
				Password string `json:"password" maxLength:"200"`
			}
		}) (nothing, error) {
			return nothing{}, identity.ChangePassword(ctx, s.app, app.Request{Actor: actor}, s.whence(ctx), in.Body.Old, in.Body.Password)
		})
	operation(s, api, http.MethodPost, "/account/confirmation", "confirmPassword", "Type the password once more, for what asks for it",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				Password string `json:"password" maxLength:"200"`
			}
		}) (nothing, error) {
			return nothing{}, identity.Confirm(ctx, s.app, actor, s.whence(ctx), in.Body.Password)
		})
	operation(s, api, http.MethodGet, "/account/second-factor", "readSecondFactor", "One's second factor, or a secret for one",
		func(ctx context.Context, actor app.Actor, _ *nothing) (*identity.SecondFactor, error) {
			return identity.SecondFactorOf(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPut, "/account/second-factor", "setSecondFactor", "Ask for a code at every sign-in",
		func(ctx context.Context, actor app.Actor, in *struct {
			Body struct {
				Secret string `json:"secret" maxLength:"100"`
				Code   string `json:"code" maxLength:"20"`
			}
		}) (identity.RecoveryCodes, error) {
			return identity.SetSecondFactor(ctx, s.app, app.Request{Actor: actor}, in.Body.Secret, in.Body.Code)
		})
	operation(s, api, http.MethodPost, "/account/recovery-codes", "renewRecoveryCodes",
		"Make new recovery codes; the old ones work no more",
		func(ctx context.Context, actor app.Actor, _ *nothing) (identity.RecoveryCodes, error) {
			return identity.RenewRecoveryCodes(ctx, s.app, app.Request{Actor: actor})
		})
	operation(s, api, http.MethodPost, "/account/second-factor/removal", "removeSecondFactor", "Ask for no code any more",
		func(ctx context.Context, actor app.Actor, _ *nothing) (nothing, error) {
			return nothing{}, identity.RemoveSecondFactor(ctx, s.app, app.Request{Actor: actor}, actor.PersonID)
		})
	operation(s, api, http.MethodGet, "/notices", "listNotices", "What one is told",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]identity.Notice, error) {
			return identity.Notices(ctx, s.app, actor)
		})
	operation(s, api, http.MethodDelete, "/notices/{id}", "putAway", "Put a notice away",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, identity.PutAway(ctx, s.app, actor, in.ID)
		})
}

func (s *server) registerInvitations(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "begin", Method: http.MethodPost, Path: apiPrefix + "/begin",
		Summary: "Make the firm and its first administrator", MaxBodyBytes: publicLimit},
		func(ctx context.Context, in *beginInput) (*answer[*identity.Session], error) {
			person, err := setup.Begin(ctx, s.app, in.Body)
			if err != nil {
				return nil, problem(ctx, err)
			}
			return s.begin(ctx, person, &in.asking)
		})
	huma.Register(api, huma.Operation{OperationID: "readInvitation", Method: http.MethodGet, Path: apiPrefix + "/invitation",
		Summary: "Whom a link is for", MaxBodyBytes: publicLimit},
		func(ctx context.Context, in *invitedInput) (*answer[identity.Invited], error) {
			invited, err := identity.ReadInvitation(ctx, s.app, in.Secret)
			if err != nil {
				return nil, problem(ctx, err)
			}
			return &answer[identity.Invited]{invited}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "acceptInvitation", Method: http.MethodPost, Path: apiPrefix + "/invitation",
		Summary: "Choose a password", MaxBodyBytes: publicLimit},
		func(ctx context.Context, in *acceptInput) (*answer[*identity.Session], error) {
			if s.signIns.OnLimit(in.writer, in.request, in.address) {
				return nil, huma.NewError(http.StatusTooManyRequests, "There were too many attempts. Wait a minute, then try again.")
			}
			accepted, err := identity.Accept(ctx, s.app, in.Secret, in.Body.Password)
			if err != nil {
				return nil, problem(ctx, err)
			}
			if accepted.NeedsCode {
				return nil, huma.NewError(http.StatusConflict, "Your password is set. Sign in with it and the code of your device.")
			}
			return s.begin(ctx, accepted.PersonID, &in.asking)
		})
	s.registerWatch(api)
}

// registerWatch has what administrators do about the doors: who comes in, what happened, what waits for a yes.
func (s *server) registerWatch(api huma.API) {
	operation(s, api, http.MethodPost, "/people/{id}/invitation", "invite", "Make a link with which a person chooses a password",
		func(ctx context.Context, actor app.Actor, in *ByID) (identity.Invitation, error) {
			return identity.Invite(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodDelete, "/people/{id}/sessions", "endSessionsOf",
		"End all sessions of somebody, and make their devices unknown",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, identity.EndAllOf(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodGet, "/security-log", "readSecurityLog",
		"Who signed in, what was refused, exported, or changed of what is guarded; latest first",
		func(ctx context.Context, actor app.Actor, in *struct {
			Before int64  `query:"before" doc:"the line before which to go on; 0 begins"`
			Kind   string `query:"kind" maxLength:"40"`
		}) ([]identity.SecurityLine, error) {
			return identity.ReadLog(ctx, s.app, actor, in.Before, in.Kind)
		})
	operation(s, api, http.MethodGet, "/changes", "listChanges", "Changes that wait for a second administrator",
		func(ctx context.Context, actor app.Actor, _ *nothing) ([]registry.WaitingChange, error) {
			return registry.Waiting(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/changes/{id}", "answerChange", "Agree to a change that waits, or refuse it",
		func(ctx context.Context, actor app.Actor, in *struct {
			ByID
			Body struct {
				Version int64 `json:"version"`
				Yes     bool  `json:"yes"`
			}
		}) (nothing, error) {
			return nothing{}, registry.AnswerChange(ctx, s.app, app.Request{Actor: actor}, in.ID, in.Body.Version, in.Body.Yes)
		})
	operation(s, api, http.MethodDelete, "/people/{id}/second-factor", "clearSecondFactor",
		"Take away a second factor whose device was lost",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			if in.ID == actor.PersonID {
				return nothing{}, app.Refuse(app.Invalid, "This is your own: remove it under your account.")
			}
			return nothing{}, identity.RemoveSecondFactor(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
}
