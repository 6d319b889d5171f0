// Package api is HTTP: the contract (OpenAPI 3.1), sessions, roles, and one
// file of operations for each room. It has no rules of its own.
package api

import (
	"crypto/rand"
	"encoding/json"
	"io"
	"io/fs"
	"log/slog"
	"mime"
	"net"
	"net/http"
	"net/netip"
	"path/filepath"
	"runtime/debug"
	"slices"
	"strings"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"

	"github.com/alexedwards/scs/v2"
	"github.com/danielgtaylor/huma/v2"
	"github.com/danielgtaylor/huma/v2/adapters/humachi"
	"github.com/go-chi/chi/v5"
	"github.com/go-chi/chi/v5/middleware"
	"github.com/go-chi/httprate"
	"github.com/klauspost/compress/gzip"
)

// Options are what a server is made with.
type Options struct {
	Version string
	// Accounts are shown on the sign-in page of the demo.
	Accounts []Account
	// Pages are the built web pages.
	Pages fs.FS
	// Secure marks cookies for HTTPS only.
	Secure bool
	// Stopping is closed when the program stops: what goes on until then ends.
	Stopping <-chan struct{}
	// Mailbox shows the mails of the mail stand-in; nil where there is none.
	Mailbox Mailbox
	// Proxies are the addresses of proxies whose word is taken for from where a
	// request comes.
	Proxies []netip.Prefix
	// Hosts are the names under which the server is reached, besides those of this
	// machine itself.
	Hosts []string
}

// Account is a sign-in of the demo.
type Account struct {
	Role     app.Role `json:"role"`
	Name     string   `json:"name"`
	Mail     string   `json:"mail"`
	Password string   `json:"password"`
}

type server struct {
	app      *app.App
	options  Options
	sessions *scs.SessionManager
	signIns  *httprate.RateLimiter
	watch    watch
	guests   *guests
	began    string // of this start: what is counted begins anew with each
}

const (
	bodyLimit      = 1 << 20
	publicLimit    = 64 << 10 // of who is not signed in
	fileLimit      = 20 << 20
	requestTimeout = 60 * time.Second
	apiPrefix      = "/api"
)

// New makes the handler of everything that Dorvet serves.
func New(a *app.App, options Options) (http.Handler, error) {
	s := &server{app: a, options: options, signIns: newThrottle(), guests: newGuests(), began: rand.Text()}
	var err error
	if s.sessions, err = newSessions(a, options.Secure); err != nil {
		return nil, err
	}
	router := chi.NewRouter()
	router.Use(numbered, recovered, s.hosts, s.from, headers, whenced, limited, middleware.Timeout(requestTimeout),
		packed(),
		http.NewCrossOriginProtection().Handler, s.sessions.LoadAndSave)
	router.Get("/healthz", s.health)
	s.register(contract(router, options.Version))
	s.registerEndReminders(router)
	router.NotFound(s.pages)
	router.MethodNotAllowed(func(w http.ResponseWriter, r *http.Request) {
		writeProblem(w, http.StatusMethodNotAllowed, "This address does not take "+r.Method+".")
	})
	return router, nil
}

// packed compresses answers, with the library whose gzip takes a third of the time of Go's own.
func packed() func(http.Handler) http.Handler {
	compressor := middleware.NewCompressor(5, "application/json", "application/problem+json", "text/csv", "text/html")
	compressor.SetEncoder("gzip", func(w io.Writer, level int) io.Writer {
		packer, err := gzip.NewWriterLevel(w, level)
		if err != nil {
			panic(err) // the level is one that there is
		}
		return packer
	})
	return compressor.Handler
}

// Contract is the OpenAPI document of all operations, as YAML or JSON.
func Contract(version string) ([]byte, error) {
	s := &server{signIns: newThrottle(), guests: newGuests()}
	api := contract(chi.NewRouter(), version)
	s.register(api)
	return json.MarshalIndent(api.OpenAPI(), "", "  ")
}

func contract(router chi.Router, version string) huma.API {
	config := huma.DefaultConfig("Dorvet", version)
	config.CreateHooks = nil
	config.DocsPath, config.SchemasPath = "", ""
	config.OpenAPIPath = apiPrefix + "/openapi"
	return humachi.New(router, config)
}

func (s *server) register(api huma.API) {
	s.registerSession(api)
	s.registerAccount(api)
	s.registerRecords(api)
	s.registerSetup(api)
	s.registerFiles(api)
	s.registerPricing(api)
	s.registerGuests(api)
	s.registerInvoiceGuests(api)
	s.registerClientAccount(api)
	s.registerDelivery(api)
	s.registerMails(api)
	s.registerTimekeeping(api)
	s.registerWeeks(api)
	s.registerTimers(api)
	s.registerWork(api)
	s.registerPurchases(api)
	s.registerWIP(api)
	s.registerBilling(api)
	s.registerReceivables(api)
	s.registerBanking(api)
	s.registerReminding(api)
	s.registerReports(api)
}

// health answers when the disk and the data are as they should be.
func (s *server) health(w http.ResponseWriter, r *http.Request) {
	if problem := s.app.Store.Health(r.Context()); problem != "" {
		writeProblem(w, http.StatusServiceUnavailable, problem)
		return
	}
	w.Write([]byte("ready\n"))
}

// pages serves the built web pages; every address that is no file is the
// application, which finds its own way.
func (s *server) pages(w http.ResponseWriter, r *http.Request) {
	if strings.HasPrefix(r.URL.Path, apiPrefix+"/") {
		writeProblem(w, http.StatusNotFound, "There is nothing at this address.")
		return
	}
	path := strings.TrimPrefix(r.URL.Path, "/")
	if info, err := fs.Stat(s.options.Pages, path); err != nil || info.IsDir() {
		path = "index.html"
	}
	if strings.HasPrefix(path, "assets/") { // the same for everybody, for ever
		w.Header().Set("Cache-Control", "public, max-age=31536000, immutable")
		w.Header().Del("Vary")
		w.Header().Del("Request-Number")
	} else if w.Header().Get("Cache-Control") == "" {
		w.Header().Set("Cache-Control", "no-cache")
	}
	http.ServeFileFS(w, r, s.options.Pages, s.packed(w, r, path))
}

// packings are the forms in which the build has packed the pages, the smallest first.
var packings = []struct{ name, suffix string }{{"br", ".br"}, {"gzip", ".gz"}}

// packed is the packed form of a file, if there is one that the browser takes.
func (s *server) packed(w http.ResponseWriter, r *http.Request, path string) string {
	kind := mime.TypeByExtension(filepath.Ext(path))
	for _, p := range packings {
		if !strings.Contains(r.Header.Get("Accept-Encoding"), p.name) {
			continue
		}
		if _, err := fs.Stat(s.options.Pages, path+p.suffix); err == nil && kind != "" {
			w.Header().Set("Content-Encoding", p.name)
			w.Header().Set("Content-Type", kind)
			w.Header().Add("Vary", "Accept-Encoding")
			return path + p.suffix
		}
	}
	return path
}

// limited refuses bodies that are too large; files may be larger.
func limited(next http.Handler) http.Handler {
	small, large := middleware.RequestSize(bodyLimit)(next), middleware.RequestSize(fileLimit)(next)
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		if strings.HasPrefix(r.URL.Path, apiPrefix+filesPrefix) {
			large.ServeHTTP(w, r)
			return
		}
		small.ServeHTTP(w, r)
	})
}

// recovered turns a panic into a failure with its number, and its place into the log.
func recovered(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		defer func() {
			if cause := recover(); cause != nil && cause != http.ErrAbortHandler {
				slog.Error("a request broke off", "request", requestNumber(r.Context()), "cause", cause, "stack", string(debug.Stack()))
				writeProblem(w, http.StatusInternalServerError, "Something went wrong here. Tell whoever runs Dorvet the number "+
					requestNumber(r.Context())+".")
			}
		}()
		next.ServeHTTP(w, r)
	})
}

// hosts answers only under the names that are configured: another site that leads its
// name here gets nothing.
func (s *server) hosts(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		host := r.Host
		if name, _, err := net.SplitHostPort(host); err == nil {
			host = name
		}
		address, err := netip.ParseAddr(strings.Trim(host, "[]"))
		own := host == "localhost" || err == nil && address.IsLoopback()
		if !own && !slices.ContainsFunc(s.options.Hosts, func(name string) bool { return strings.EqualFold(name, host) }) {
			writeProblem(w, http.StatusMisdirectedRequest,
				"Dorvet is not served under this name: whoever runs it sets DORVET_URL to the address under which it is reached.")
			return
		}
		if s.options.Secure {
			w.Header().Set("Strict-Transport-Security", "max-age=31536000")
		}
		next.ServeHTTP(w, r)
	})
}

func headers(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		h := w.Header()
		h.Set("X-Content-Type-Options", "nosniff")
		if strings.HasPrefix(r.URL.Path, "/assets/") { // parts of pages, which say what holds for all of them
			next.ServeHTTP(w, r)
			return
		}
		h.Set("Content-Security-Policy", "default-src 'self'; img-src 'self' data: blob:; "+
			"style-src 'self' 'unsafe-inline'; frame-ancestors 'none'; base-uri 'none'; form-action 'self'")
		h.Set("X-Frame-Options", "DENY")
		h.Set("Referrer-Policy", "same-origin")
		if strings.HasPrefix(r.URL.Path, apiPrefix+"/") {
			h.Set("Cache-Control", "no-store")
			if !forClients(r.URL.Path) { // an answer is no page: it loads nothing
				h.Set("Content-Security-Policy", "default-src 'none'; frame-ancestors 'none'")
			}
		}
		if forClients(r.URL.Path) {
			h.Set("Cache-Control", "no-store")
			h.Set("Referrer-Policy", "no-referrer")
			h.Set("X-Robots-Tag", "noindex, nofollow")
		}
		next.ServeHTTP(w, r)
	})
}

// forClients reports whether a page or an answer is for who holds a link.
func forClients(path string) bool {
	return correspondence.IsPage(path) || strings.HasPrefix(path, apiPrefix+"/public/")
}

// from takes a trusted proxy's word for the address of a request, and nobody
// else's.
func (s *server) from(next http.Handler) http.Handler {
	return http.HandlerFunc(func(w http.ResponseWriter, r *http.Request) {
		peer, err := netip.ParseAddrPort(r.RemoteAddr)
		if err == nil && slices.ContainsFunc(s.options.Proxies, func(p netip.Prefix) bool { return p.Contains(peer.Addr().Unmap()) }) {
			hops := strings.Split(r.Header.Get("X-Forwarded-For"), ",")
			if said, err := netip.ParseAddr(strings.TrimSpace(hops[len(hops)-1])); err == nil {
				r.RemoteAddr = netip.AddrPortFrom(said, peer.Port()).String()
			}
		}
		next.ServeHTTP(w, r)
	})
}

func writeProblem(w http.ResponseWriter, status int, sentence string) {
	w.Header().Set("Content-Type", "application/problem+json")
	w.WriteHeader(status)
	json.NewEncoder(w).Encode(newProblem(status, sentence))
}
