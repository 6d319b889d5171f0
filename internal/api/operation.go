package api

import (
	"context"
	"crypto/sha256"
	"errors"
	"fmt"
	"net/http"
	"slices"

	"dorvet/core/day"
	"dorvet/internal/app"
	"dorvet/internal/app/identity"

	"github.com/danielgtaylor/huma/v2"
)

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
func operation[In, Out any](s *server, api huma.API, method, path, name, summary string,
	act func(context.Context, app.Actor, *In) (Out, error)) {
	options := []func(*huma.Operation){}
	if method == http.MethodGet && !everFresh[name] {
		options = append(options, func(o *huma.Operation) { o.Middlewares = append(o.Middlewares, s.revalidated) })
	}
	guarded(s, api, method, path, name, summary, func(ctx context.Context, actor app.Actor, in *In) (*answer[Out], error) {
		out, err := act(ctx, actor, in)
		return &answer[Out]{out}, err
	}, options...)
}

// everFresh are the readings that say something else although nothing was written: of the
// clock, of chance, of work that is under way.
var everFresh = map[string]bool{"readSession": true, "listSessions": true, "readSecondFactor": true, "readJob": true, "listTimers": true}

// revalidated lets a browser keep an answer and ask whether it still holds: it depends on
// who asks, on the day, and on what was written since.
func (s *server) revalidated(ctx huma.Context, next func(huma.Context)) {
	actor := ctx.Context().Value(actorKey{}).(app.Actor)
	actor.Proved = false // no reading asks for it
	seen := sha256.Sum256(fmt.Append(nil, s.began, s.app.Store.Changes(), s.app.Clock.Today(), actor))
	tag := fmt.Sprintf(`W/"%x"`, seen[:12])
	ctx.SetHeader("ETag", tag)
	ctx.SetHeader("Cache-Control", "private, no-cache")
	if ctx.Header("If-None-Match") == tag {
		ctx.SetStatus(http.StatusNotModified)
		return
	}
	next(ctx)
}

// operationRaw registers an operation that answers in a form of its own.
func operationRaw[In, Out any](s *server, api huma.API, path, name, summary string,
	act func(context.Context, app.Actor, *In) (*Out, error)) {
	guarded(s, api, http.MethodGet, path, name, summary, act)
}

// keyHeader has the key of a try: asked again under it, an act is done once and answers
// the same. Every act takes one; what only reads or tries takes none.
const keyHeader = "Idempotency-Key"

var keyParameter = &huma.Param{Name: keyHeader, In: "header", Required: true, Description: "the same key does the same thing once",
	Schema: &huma.Schema{Type: huma.TypeString, MinLength: new(8), MaxLength: new(100)}}

// keyed makes an operation take the key of a try, and passes it on to the acts.
func keyed(api huma.API, o *huma.Operation) {
	o.Parameters = append(o.Parameters, keyParameter)
	o.Middlewares = append(o.Middlewares, func(ctx huma.Context, next func(huma.Context)) {
		key := ctx.Header(keyHeader)
		if len(key) < 8 || len(key) > 100 {
			huma.WriteErr(api, ctx, http.StatusUnprocessableEntity, "An act needs a key of 8 to 100 characters in the header "+
				keyHeader+": a new one for each try.")
			return
		}
		next(huma.WithContext(ctx, app.WithKey(ctx.Context(), key)))
	})
}

// actorKey is under which the context of a request has who asks.
type actorKey struct{}

// signedIn lets only the roles through that the table names, before anything that they
// send is read.
func (s *server) signedIn(api huma.API, roles []app.Role) func(huma.Context, func(huma.Context)) {
	return func(ctx huma.Context, next func(huma.Context)) {
		if ctx.Header(unattendedHeader) != "" || ctx.Operation().OperationID == "followChanges" {
			ctx = huma.WithContext(ctx, app.Unattended(ctx.Context()))
		}
		actor, err := s.actor(ctx.Context())
		if err == nil && !slices.Contains(roles, actor.Role) {
			err = problem(ctx.Context(), s.noted(ctx.Context(), actor, ctx.Operation().OperationID, ctx.Operation().Summary, nil,
				errNotYours))
		}
		if status := huma.StatusError(nil); errors.As(err, &status) {
			huma.WriteErr(api, ctx, status.GetStatus(), status.Error())
			return
		}
		next(huma.WithValue(ctx, actorKey{}, actor))
	}
}

// unattendedHeader is sent by pages that ask by themselves: what they follow, when nobody has touched them for a while.
const unattendedHeader = "Dorvet-Unattended"

var errNotYours = app.Refuse(app.Forbidden, "This is not among what your role may do. Ask a billing administrator.")

// guarded registers an operation of signed-in people.
func guarded[In, Out any](s *server, api huma.API, method, path, name, summary string,
	act func(context.Context, app.Actor, *In) (*Out, error), options ...func(*huma.Operation)) {
	roles, listed := allowed[name]
	if !listed {
		panic("operation " + name + " is not in the table of roles")
	}
	described := huma.Operation{OperationID: name, Method: method, Path: apiPrefix + path, Summary: summary,
		Middlewares: huma.Middlewares{s.signedIn(api, roles)}}
	if method != http.MethodGet && !onlyReads[name] {
		keyed(api, &described)
	}
	for _, option := range options {
		option(&described)
	}
	huma.Register(api, described,
		func(ctx context.Context, in *In) (*Out, error) {
			if err := tidy(in); err != nil {
				return nil, problem(ctx, err)
			}
			actor := ctx.Value(actorKey{}).(app.Actor)
			out, err := act(ctx, actor, in)
			if err = s.noted(ctx, actor, name, summary, in, err); err != nil {
				return nil, problem(ctx, err)
			}
			return out, nil
		})
}

// actor is who is signed in.
func (s *server) actor(ctx context.Context) (app.Actor, error) {
	if personID := s.sessions.GetInt64(ctx, sessionPerson); personID != 0 {
		actor, err := identity.Actor(ctx, s.app, personID, s.sessions.GetInt64(ctx, sessionNumber))
		if !errors.Is(err, identity.ErrNobody) {
			return actor, problem(ctx, err)
		}
	}
	return app.Actor{}, huma.NewError(http.StatusUnauthorized, "You are not signed in, or not any more. Sign in, then go on.")
}
