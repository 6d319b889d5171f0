package api

import (
	"context"
	"errors"
	"net"
	"net/http"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"

	"github.com/alexedwards/scs/sqlite3store"
	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/httprate"
)

const (
	sessionPerson = "person"
	sessionNumber = "session"
	sessionTime   = 12 * time.Hour
	cleanUp       = 10 * time.Minute
)

func newSessions(s *store.Store, secure bool) (*scs.SessionManager, error) {
	writer, err := s.Writer().DB()
	if err != nil {
		return nil, err
	}
	reader, err := s.Read(context.Background()).DB()
	if err != nil {
		return nil, err
	}
	sessions := scs.New()
	sessions.Store = splitStore{sqlite3store.NewWithCleanupInterval(writer, cleanUp), sqlite3store.NewWithCleanupInterval(reader, 0)}
	sessions.Lifetime = sessionTime
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

// throttle slows down guessing of passwords, per account and per address.
type throttle struct{ account, address *httprate.RateLimiter }

func newThrottle() *throttle {
	return &throttle{httprate.NewRateLimiter(10, time.Minute), httprate.NewRateLimiter(60, time.Minute)}
}

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
		Code     string `json:"code,omitempty" maxLength:"20" doc:"of the second factor, once it is asked for"`
	}
}

func (t *throttle) full(in *signInInput) bool {
	return t.address.OnLimit(in.writer, in.request, in.address) ||
		t.account.OnLimit(in.writer, in.request, strings.ToLower(strings.TrimSpace(in.Body.Mail)))
}

// Session is who is signed in, and what every page needs to know.
type Session struct {
	PersonID       int64                  `json:"personId"`
	Name           string                 `json:"name"`
	Initials       string                 `json:"initials"`
	Role           app.Role               `json:"role" enum:"administrator,lead,staff,owner"`
	Firm           string                 `json:"firm"`
	Currency       money.Currency         `json:"currency"`
	Mark           string                 `json:"mark" doc:"decimal mark in what people type"`
	Today          day.Day                `json:"today" doc:"the business date"`
	EngagementWord string                 `json:"engagementWord" doc:"the firm's own"`
	PhaseWord      string                 `json:"phaseWord"`
	SeesValues     bool                   `json:"seesValues" doc:"rates, and what time is worth"`
	Decimals       map[money.Currency]int `json:"decimals" doc:"of the currencies that are not of two"`
}

// Welcome is what the sign-in page shows.
type Welcome struct {
	Begun    bool      `json:"begun" doc:"whether there is a firm; else it is made first"`
	Firm     string    `json:"firm"`
	Accounts []Account `json:"accounts" doc:"of the demo, else none"`
}

func (s *server) registerSession(api huma.API) {
	huma.Register(api, huma.Operation{OperationID: "readWelcome", Method: http.MethodGet, Path: apiPrefix + "/welcome", Summary: "What the sign-in page shows", MaxBodyBytes: publicLimit},
		func(ctx context.Context, _ *nothing) (*answer[Welcome], error) {
			firm, err := store.TheFirm(s.app.Store.Read(ctx))
			if err != nil && !errors.Is(err, store.ErrNotFound) {
				return nil, problem(ctx, err)
			}
			accounts := s.options.Accounts
			if accounts == nil {
				accounts = []Account{}
			}
			return &answer[Welcome]{Welcome{err == nil, firm.Name, accounts}}, nil
		})
	huma.Register(api, huma.Operation{OperationID: "signIn", Method: http.MethodPost, Path: apiPrefix + "/session", Summary: "Sign in", MaxBodyBytes: publicLimit}, s.signIn)
	operation(s, api, http.MethodGet, "/session", "readSession", "Who is signed in",
		func(ctx context.Context, actor app.Actor, _ *nothing) (*Session, error) {
			person, err := store.Get[store.Person](s.app.Store.Read(ctx), actor.PersonID)
			if err != nil {
				return nil, err
			}
			return s.session(ctx, person)
		})
	operation(s, api, http.MethodDelete, "/session", "signOut", "Sign out",
		func(ctx context.Context, actor app.Actor, _ *nothing) (nothing, error) {
			if err := setup.EndSession(ctx, s.app, app.Request{Actor: actor}, s.sessions.GetInt64(ctx, sessionNumber)); err != nil {
				return nothing{}, err
			}
			return nothing{}, s.sessions.Destroy(ctx)
		})
}

func (s *server) signIn(ctx context.Context, in *signInInput) (*answer[*Session], error) {
	if s.signIns.full(in) {
		return nil, huma.NewError(http.StatusTooManyRequests, "There were too many attempts to sign in. Wait a minute, then try again.")
	}
	person, err := setup.SignIn(ctx, s.app, in.Body.Mail, in.Body.Password, in.Body.Code)
	if err != nil {
		return nil, problem(ctx, err)
	}
	return s.begin(ctx, person, &in.asking)
}

// begin signs a person in.
func (s *server) begin(ctx context.Context, person *store.Person, from *asking) (*answer[*Session], error) {
	if err := s.sessions.RenewToken(ctx); err != nil {
		return nil, problem(ctx, err)
	}
	now := s.app.Clock.Now()
	number, err := setup.SignedIn(ctx, s.app, store.SignedIn{PersonID: person.ID, BeganAt: now, ExpiresAt: now.Add(sessionTime), Address: from.address, Browser: from.request.UserAgent()})
	if err != nil {
		return nil, problem(ctx, err)
	}
	s.sessions.Put(ctx, sessionPerson, person.ID)
	s.sessions.Put(ctx, sessionNumber, number)
	session, err := s.session(ctx, person)
	if err != nil {
		return nil, problem(ctx, err)
	}
	return &answer[*Session]{session}, nil
}

func (s *server) session(ctx context.Context, person *store.Person) (*Session, error) {
	firm, err := store.TheFirm(s.app.Store.Read(ctx))
	if err != nil {
		return nil, err
	}
	number := s.sessions.GetInt64(ctx, sessionNumber)
	actor, _, err := setup.Actor(ctx, s.app, person.ID, number)
	if err != nil {
		return nil, err
	}
	return &Session{EngagementWord: firm.EngagementWord, PhaseWord: firm.PhaseWord, SeesValues: actor.SeesValues(), PersonID: person.ID, Name: person.Name, Initials: person.Initials, Role: actor.Role, Firm: firm.Name,
		Currency: firm.Currency, Mark: firm.DecimalMark, Today: s.app.Clock.Today(), Decimals: money.UnusualDecimals()}, nil
}
