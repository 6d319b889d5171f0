package api

import (
	"context"
	"net/http"

	"dorvet/internal/app"
	"dorvet/internal/app/delivery"
	"dorvet/internal/app/receivables"

	"github.com/danielgtaylor/huma/v2"
)

// lettersTo are the accounts to which letters go in one job.
type lettersTo struct {
	Body struct {
		Accounts []receivables.LetterTo `json:"accounts" minItems:"1" maxItems:"5000"`
	}
}

func (s *server) registerReminding(api huma.API) {
	operation(s, api, http.MethodGet, "/reminders", "listReminders", "What plans of reminders do today, and who is passed over",
		func(ctx context.Context, actor app.Actor, _ *struct{}) ([]receivables.ToRemind, error) {
			return receivables.Reminders(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/reminders/preview", "previewReminder", "The letter of the plan to an account, as it would go out",
		func(ctx context.Context, actor app.Actor, in *struct{ Body receivables.LetterTo }) ([]delivery.Letter, error) {
			return receivables.PreviewReminder(ctx, s.app, actor, in.Body)
		})
	operation(s, api, http.MethodPost, "/reminders", "sendReminders", "Send the letters of plans to some accounts, in the background",
		func(ctx context.Context, actor app.Actor, in *lettersTo) (*app.Job, error) {
			return receivables.BeginReminders(ctx, s.app, app.Request{Actor: actor}, in.Body.Accounts)
		})
	operation(s, api, http.MethodPost, "/statements", "sendStatements", "Send statements of account to some clients, in the background",
		func(ctx context.Context, actor app.Actor, in *lettersTo) (*app.Job, error) {
			return receivables.BeginStatements(ctx, s.app, app.Request{Actor: actor}, in.Body.Accounts)
		})
	operation(s, api, http.MethodPost, "/reminder-holds", "holdReminders", "Leave a client, or an invoice, alone",
		func(ctx context.Context, actor app.Actor, in *struct{ Body receivables.Holding }) (nothing, error) {
			return nothing{}, receivables.Hold(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodDelete, "/reminder-holds/{id}", "liftHold", "Let reminders go on",
		func(ctx context.Context, actor app.Actor, in *ByID) (nothing, error) {
			return nothing{}, receivables.Lift(ctx, s.app, app.Request{Actor: actor}, in.ID)
		})
	operation(s, api, http.MethodGet, "/calls", "listCalls", "Whom to call about what is late, those first whose call is worth most",
		func(ctx context.Context, actor app.Actor, _ *struct{}) ([]receivables.ToCall, error) {
			return receivables.WhomToCall(ctx, s.app, actor)
		})
	operation(s, api, http.MethodPost, "/calls", "recordCall", "Keep what came of a call",
		func(ctx context.Context, actor app.Actor, in *struct{ Body receivables.Calling }) (nothing, error) {
			return nothing{}, receivables.RecordCall(ctx, s.app, app.Request{Actor: actor}, in.Body)
		})
	operation(s, api, http.MethodGet, "/cash", "foreseeCash", "What is likely to come, week by week",
		func(ctx context.Context, actor app.Actor, _ *struct{}) (*receivables.CashToCome, error) {
			return receivables.ToCome(ctx, s.app, actor)
		})
	operation(s, api, http.MethodGet, "/clients/{id}/dealings", "readDealings", "All that was said with a client about money",
		func(ctx context.Context, actor app.Actor, in *ByID) (*receivables.ClientDealings, error) {
			return receivables.Dealings(ctx, s.app, actor, in.ID)
		})
}
