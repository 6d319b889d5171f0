package api

import (
	"context"
	"net"
	"net/http"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/identity"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/httprate"
)

const (
	sessionPerson = "person"
	sessionNumber = "session"
	cleanUp       = 10 * time.Minute
)

func newSessions(a *app.App, secure bool) (*scs.SessionManager, error) {
	writer, reader, err := a.Store.Pools()
	if err != nil {
		return nil, err
	}
	sessions := scs.New()
	sessions.Store = splitStore{sqlite3store.NewWithCleanupInterval(writer, cleanUp), sqlite3store.NewWithCleanupInterval(reader, 0)}
	sessions.Lifetime = identity.Lasts
	sessions.Cookie.Name = "dorvet"
	sessions.Cookie.Secure = secure
	sessions.HashTokenInStore = true
	return sessions, nil
}

// splitStore reads sessions beside the one connection that writes.
type splitStore struct {
	*sqlite3store.SQLite3Store
	reader *sqlite3store.SQLite3Store
}

// Find implements scs.Store.
func (s splitStore) Find(token string) ([]byte, bool, error) { return s.reader.Find(token) }

// newThrottle slows down who signs in from one address again and again; guesses at an
// account are slowed where they are looked at.
func newThrottle() *httprate.RateLimiter { return httprate.NewRateLimiter(60, time.Minute) }

// asking notes who asks, of operations without a sign-in.
type asking struct {
	address string
	writer  http.ResponseWriter
	request *http.Request
}

// Resolve implements huma.Resolver.
func (a *asking) Resolve(ctx huma.Context) []error {
	a.request, a.writer = humachi.Unwrap(ctx)
	a.address, _, _ = net.SplitHostPort(a.request.RemoteAddr)
	return nil
}

type signInInput struct {
	asking
	Body struct {
		Mail     string `json:"mail" maxLength:"200"`
		Password string `json:"password" maxLength:"200"`
		Code     string `json:"code,omitempty" maxLength:"20" doc:"of the second factor, once it is asked for, or a recovery code"`
	}
}

// Welcome is what the sign-in page shows.
type Welcome struct {
	Begun    bool      `json:"begun" doc:"whether there is a firm; else it is made first"`
	Firm     string    `json:"firm"`
	Accounts []Account `json:"accounts" doc:"of the demo, else none"`
}

func (s *server) registerSession(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "readWelcome", Method: http.MethodGet, Path: apiPrefix + "/welcome",
		Summary: "What the sign-in page shows", MaxBodyBytes: publicLimit},
		func(ctx context.Context, _ *nothing) (*answer[Welcome], error) {
			firm, begun, err := identity.TheFirm(ctx, s.app)
			if err != nil {
				return nil, problem(ctx, err)
			}
			accounts := s.options.Accounts
			if accounts == nil {
				accounts = []Account{}
			}
			return &answer[Welcome]{Welcome{begun, firm, accounts}}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "signIn", Method: http.MethodPost, Path: apiPrefix + "/session", Summary: "Sign in",
		MaxBodyBytes: publicLimit}, s.signIn)
	operation(s, api, http.MethodGet, "/session", "readSession", "Who is signed in",
		func(ctx context.Context, actor app.Actor, _ *nothing) (*identity.Session, error) {
			return identity.SessionOf(ctx, s.app, actor)
		})
	operation(s, api, http.MethodDelete, "/session", "signOut", "Sign out",
		func(ctx context.Context, actor app.Actor, _ *nothing) (nothing, error) {
			if err := identity.SignOut(ctx, s.app, actor, s.whence(ctx)); err != nil {
				return nothing{}, err
			}
			return nothing{}, s.sessions.Destroy(ctx)
		})
}

func (s *server) signIn(ctx context.Context, in *signInInput) (*answer[*identity.Session], error) {
	if s.signIns.OnLimit(in.writer, in.request, in.address) {
		return nil, huma.NewError(http.StatusTooManyRequests, "There were too many attempts to sign in. Wait a minute, then try again.")
	}
	person, err := identity.SignIn(ctx, s.app, s.whence(ctx), in.Body.Mail, in.Body.Password, in.Body.Code)
	if err != nil {
		return nil, problem(ctx, err)
	}
	return s.begin(ctx, person, &in.asking)
}

// begin begins a session of a person.
func (s *server) begin(ctx context.Context, personID int64, from *asking) (*answer[*identity.Session], error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, problem(ctx, err)
	}
	number, device, err := identity.Begin(ctx, s.app, personID, s.whence(ctx))
	if err != nil {
		return nil, problem(ctx, err)
	}
	if device != "" {
		http.SetCookie(from.writer, &http.Cookie{Name: deviceCookie, Value: device, Path: apiPrefix, MaxAge: int(deviceLasts / time.Second),
			HttpOnly: true, Secure: s.options.Secure, SameSite: http.SameSiteStrictMode})
	}
	s.sessions.Put(ctx, sessionPerson, personID)
	s.sessions.Put(ctx, sessionNumber, number)
	actor, err := identity.Actor(ctx, s.app, personID, number)
	if err != nil {
		return nil, problem(ctx, err)
	}
	session, err := identity.SessionOf(ctx, s.app, actor)
	if err != nil {
		return nil, problem(ctx, err)
	}
	return &answer[*identity.Session]{session}, nil
}

// The cookie by which a device is known that somebody has signed in with before: guesses of
// others do not make it wait.
const (
	deviceCookie = "dorvet-device"
	deviceLasts  = 365 * 24 * time.Hour
)

// whence is where a request comes from, and in which session.
func (s *server) whence(ctx context.Context) identity.Whence {
	from, _ := ctx.Value(whenceKey{}).(identity.Whence)
	from.Session = s.sessions.GetInt64(ctx, sessionNumber)
	return from
}

// whenceKey is under which the context of a request has where it comes from.
type whenceKey struct{}

// whenced notes where a request comes from.
func whenced(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		from := identity.Whence{Browser: r.UserAgent()}
		from.Address, _, _ = net.SplitHostPort(r.RemoteAddr)
		if cookie, err := r.Cookie(deviceCookie); err == nil {
			from.Device = cookie.Value
		}
		next.ServeHTTP(w, r.WithContext(context.WithValue(r.Context(), whenceKey{}, from)))
	})
}
