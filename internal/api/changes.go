package api

import (
	"context"
	"fmt"
	"io"
	"net/http"
	"strings"
	"time"

	"dorvet/internal/app"

	"github.com/danielgtaylor/huma/v2"
)

// tellOthers is how long after an event the next tells what others wrote: whoever looks after everything hears soon, the
// hundreds who record their time seldom, so that a save of one is not a reading of all.
var tellOthers = map[app.Role]time.Duration{app.Administrator: 2 * time.Second, app.Owner: 2 * time.Second, app.Lead: 10 * time.Second,
	app.Staff: time.Minute}

const (
	// tellOwn is within how long one hears that one's own act was written.
	tellOwn = 200 * time.Millisecond
	// changesLast is how long an answer goes on, within the time that a request has; then the page asks again.
	changesLast = requestTimeout - 10*time.Second
)

// following is what a page has been told.
type following struct {
	count, own int64
	at         time.Time
}

// followChanges tells open pages how often something was written, as server-sent events: at once, and then when it is
// written again. Who takes no events hears it once.
func (s *server) followChanges(_ context.Context, actor app.Actor, in *struct {
	Accept string `header:"Accept"`
}) (*huma.StreamResponse, error) {
	return &huma.StreamResponse{Body: func(ctx huma.Context) {
		ctx.SetHeader("Content-Type", "text/event-stream")
		ctx.SetHeader("Cache-Control", "no-store")
		ctx.SetHeader("X-Accel-Buffering", "no") // proxies pass it on as it comes
		told, until := following{}, time.Now().Add(changesLast)
		for time.Now().Before(until) {
			next := s.app.Store.NextChange()
			if err := s.tellChange(ctx.BodyWriter(), actor, &told); err != nil {
				return
			}
			w, is := ctx.BodyWriter().(http.ResponseWriter)
			if !is || !strings.Contains(in.Accept, "text/event-stream") || http.NewResponseController(w).Flush() != nil ||
				!s.awaited(ctx.Context(), next, told, actor, until) {
				return
			}
		}
	}}, nil
}

// tellChange tells a page what it has not been told, if it is time to.
func (s *server) tellChange(w io.Writer, actor app.Actor, told *following) (err error) {
	now := following{s.app.Store.Changes(), s.app.Store.ChangesBy(actor.PersonID), time.Now()}
	whose := "others"
	if now.count-told.count == now.own-told.own {
		whose = "own"
	}
	if now.count == told.count && !told.at.IsZero() || now.own == told.own && now.at.Sub(told.at) < tellOthers[actor.Role] {
		return nil
	}
	*told = now
	_, err = fmt.Fprintf(w, "retry: 500\nevent: %s\ndata: %s-%d\n\n", whose, s.began, now.count)
	return err
}

// awaited waits until there may be something to tell; false says that nobody listens any more.
func (s *server) awaited(ctx context.Context, next <-chan struct{}, told following, actor app.Actor, until time.Time) bool {
	later := time.Until(until)
	if s.app.Store.Changes() != told.count { // of others, to be told when it is time
		later = min(later, time.Until(told.at.Add(tellOthers[actor.Role])))
	}
	for _, phase := range []struct {
		next <-chan struct{}
		wait time.Duration
	}{{next, max(later, tellOwn)}, {nil, tellOwn}} {
		select {
		case <-ctx.Done():
			return false
		case <-s.options.Stopping:
			return false
		case <-time.After(phase.wait):
			return true
		case <-phase.next: // what comes at once is told together
		}
	}
	return true
}
