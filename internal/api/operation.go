package api

import (
	"context"
	"net/http"
	"slices"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"

	"github.com/danielgtaylor/huma/v2"
)

// Keyed is embedded in the input of every act that creates or issues.
type Keyed struct {
	Key string `header:"Idempotency-Key" required:"true" minLength:"8" maxLength:"100" doc:"the same key does the same thing once"`
}

// ByID is embedded in the input of what names one thing.
type ByID struct {
	ID int64 `path:"id" minimum:"1"`
}

// isoDay is a day in an address; huma takes day.Day, a number, for one there.
type isoDay string

func (d isoDay) day(field string) (day.Day, error) {
	parsed, err := day.Parse(string(d))
	return parsed, app.InField(field, err)
}

// orNone reads a day that may be left out.
func (d isoDay) orNone(field string) (day.Day, error) {
	if d == "" {
		return 0, nil
	}
	return d.day(field)
}

type answer[T any] struct{ Body T }

// nothing is the body of an act that answers nothing.
type nothing struct{}

// operation registers an operation of signed-in people that answers with JSON.
func operation[In, Out any](s *server, api huma.API, method, path, name, summary string, act func(context.Context, app.Actor, *In) (Out, error)) {
	guarded(s, api, method, path, name, summary, func(ctx context.Context, actor app.Actor, in *In) (*answer[Out], error) {
		out, err := act(ctx, actor, in)
		return &answer[Out]{out}, err
	})
}

// operationRaw registers an operation that answers in a form of its own.
func operationRaw[In, Out any](s *server, api huma.API, path, name, summary string, act func(context.Context, app.Actor, *In) (*Out, error)) {
	guarded(s, api, http.MethodGet, path, name, summary, act)
}

// guarded lets only the roles through that the table names.
func guarded[In, Out any](s *server, api huma.API, method, path, name, summary string, act func(context.Context, app.Actor, *In) (*Out, error), options ...func(*huma.Operation)) {
	roles, listed := allowed[name]
	if !listed {
		panic("operation " + name + " is not in the table of roles")
	}
	described := huma.Operation{OperationID: name, Method: method, Path: apiPrefix + path, Summary: summary}
	for _, option := range options {
		option(&described)
	}
	huma.Register(api, described,
		func(ctx context.Context, in *In) (*Out, error) {
			actor, err := s.actor(ctx)
			if err != nil {
				return nil, err
			}
			if !slices.Contains(roles, actor.Role) {
				return nil, huma.NewError(http.StatusForbidden, "This is not among what your role may do. Ask a billing administrator.")
			}
			out, err := act(ctx, actor, in)
			if err != nil {
				return nil, problem(err)
			}
			return out, nil
		})
}

// actor is who is signed in.
func (s *server) actor(ctx context.Context) (app.Actor, error) {
	personID := s.sessions.GetInt64(ctx, sessionPerson)
	if personID != 0 {
		if actor, _, err := setup.Actor(ctx, s.app, personID, s.sessions.GetInt64(ctx, sessionNumber)); err == nil {
			return actor, nil
		}
	}
	return app.Actor{}, huma.NewError(http.StatusUnauthorized, "You are not signed in, or not any more. Sign in, then go on.")
}
