package api

import (
	"context"
	"fmt"
	"net/http"
	"strings"
	"time"

	"dorvet/internal/app"

	"github.com/danielgtaylor/huma/v2"
)

const (
	// changesApart is how long after a change the next is told: of a hundred acts a second pages hear once.
	changesApart = time.Second
	// changesLast is how long an answer goes on, within the time that a request has; then the page asks again.
	changesLast = requestTimeout - 10*time.Second
)

// followChanges tells open pages how often something was written, as server-sent events: at once, and then when it
// is written again. Who takes no events hears it once.
func (s *server) followChanges(_ context.Context, _ app.Actor, in *struct {
	Accept string `header:"Accept"`
}) (*huma.StreamResponse, error) {
	return &huma.StreamResponse{Body: func(ctx huma.Context) {
		ctx.SetHeader("Content-Type", "text/event-stream")
		ctx.SetHeader("Cache-Control", "no-store")
		until := time.After(changesLast)
		for {
			next := s.app.Store.NextChange()
			if _, err := fmt.Fprintf(ctx.BodyWriter(), "retry: 500\ndata: %s-%d\n\n", s.began, s.app.Store.Changes()); err != nil {
				return
			}
			w, is := ctx.BodyWriter().(http.ResponseWriter)
			if !is || !strings.Contains(in.Accept, "text/event-stream") || http.NewResponseController(w).Flush() != nil {
				return
			}
			for _, wait := range []<-chan time.Time{time.After(changesApart), nil} {
				changed := next
				if wait != nil {
					changed = nil
				}
				select {
				case <-ctx.Context().Done():
					return
				case <-until:
					return
				case <-wait:
				case <-changed:
				}
			}
		}
	}}, nil
}
