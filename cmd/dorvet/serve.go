package main

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/http"
	"net/url"
	"os"
	"os/signal"
	"path/filepath"
	"runtime/debug"
	"sync"
	"syscall"
	"time"

	"dorvet/core/day"
	"dorvet/internal/api"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/demo"
	"dorvet/internal/store"
	"dorvet/web"

	"github.com/spf13/cobra"
)

func serveCommand(set *settings) *cobra.Command {
	return &cobra.Command{Use: "serve", Short: "Serve the data in a folder", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			data, err := store.Open(cmd.Context(), set.Data)
			if err != nil {
				return err
			}
			defer data.Close()
			token, err := firstStart(cmd, data)
			if err != nil {
				return err
			}
			listener, err := listen(set)
			if err != nil {
				return err
			}
			return served{listener: listener, data: data, clock: app.WallClock{Store: data}, token: token}.serve(cmd, set)
		}}
}

func demoCommand(set *settings) *cobra.Command {
	today, scale, stress, only := demo.Today.String(), 1, 1, false
	cmd := &cobra.Command{Use: "demo", Short: "Serve the demo firm on this machine, made when it is not there yet", Args: cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			pinned, err := day.Parse(today)
			if err != nil {
				return err
			}
			if err := onlyLoopback(set.Address); err != nil {
				return err
			}
			listener, err := listen(set) // before the demo is made, which takes a while
			if err != nil {
				return err
			}
			defer listener.Close()
			if _, err := os.Stat(filepath.Join(set.Data, "dorvet.db")); os.IsNotExist(err) {
				cmd.Println("Making the demo firm …")
				if err := demo.Seed(cmd.Context(), set.Data, newApp(app.WallClock{})); err != nil {
					return err
				}
				if more := max(scale, stress); more > 1 {
					cmd.Printf("Multiplying it to about %d time entries …\n", 6000*more)
					if err := demo.Scale(cmd.Context(), set.Data, more, stress > 1); err != nil {
						return err
					}
				}
			}
			if only {
				return nil
			}
			data, err := store.Open(cmd.Context(), set.Data)
			if err != nil {
				return err
			}
			defer data.Close()
			accounts := []api.Account{}
			for _, a := range demo.Accounts() {
				accounts = append(accounts, api.Account{Role: a.Role, Name: a.Name, Mail: a.Mail, Password: a.Pass})
			}
			set.SMTP, set.Reports = "", "" // the demo never mails anybody
			return served{listener: listener, data: data, clock: app.PinnedClock{Date: pinned}, accounts: accounts}.serve(cmd, set)
		}}
	cmd.Flags().IntVar(&scale, "scale", scale, "when it is made: how much load, in steps of 6,000 time entries of a growing firm")
	cmd.Flags().IntVar(&stress, "scale-clients", stress, "when it is made: the same, but with the same people and ever more clients")
	cmd.Flags().BoolVar(&only, "make-only", false, "make it, and do not serve it")
	cmd.Flags().StringVar(&today, "today", today, "business date to which the demo is pinned")
	return cmd
}

// onlyLoopback refuses to show the demo, whose passwords are known, to others.
func onlyLoopback(address string) error {
	host, _, err := net.SplitHostPort(address)
	if err != nil {
		return fmt.Errorf("the address %q is not host:port, like 127.0.0.1:8700", address)
	}
	if ip := net.ParseIP(host); host != "localhost" && (ip == nil || !ip.IsLoopback()) {
		return fmt.Errorf("the demo serves this machine only, because its passwords are known: use 127.0.0.1 or localhost in place of %q",
			host)
	}
	return nil
}

// hosts are the names under which the server is reached: that of DORVET_URL, and the
// address itself where it is one.
func hosts(set *settings) []string {
	names := []string{}
	if at, err := url.Parse(set.URL); err == nil && at.Hostname() != "" {
		names = append(names, at.Hostname())
	}
	if host, _, err := net.SplitHostPort(set.Address); err == nil && host != "" {
		names = append(names, host)
	}
	return names
}

// firstStart prints the token with which the firm is begun, where there is none yet:
// whoever reads what the server prints may do that, and nobody who only finds its
// address.
func firstStart(cmd *cobra.Command, data *store.Store) (token string, err error) {
	if _, err = store.TheFirm(data.Read(cmd.Context(), store.Everything)); !errors.Is(err, store.ErrNotFound) {
		return "", err
	}
	token = rand.Text()
	cmd.Println("There is no firm in this folder yet: open the address below to begin one.")
	cmd.Printf("  set-up token   %s\n", token)
	return token, nil
}

// listen takes the address, so that one that is taken is told at once.
func listen(set *settings) (net.Listener, error) {
	listener, err := net.Listen("tcp", set.Address)
	if errors.Is(err, syscall.EADDRINUSE) {
		return nil, fmt.Errorf("something serves %s already: stop it, or give another address with --addr", set.Address)
	}
	if err != nil {
		return nil, fmt.Errorf("listen on %s: %w", set.Address, err)
	}
	return listener, nil
}

// lookAfter looks at the data at the start and once a day: that statements find the short
// way, that uploads that nothing names and answers that nobody asks for again are gone, and
// that its pages are whole.
func lookAfter(ctx context.Context, a *app.App) {
	daily := time.NewTicker(24 * time.Hour)
	defer daily.Stop()
	for {
		yesterday := a.Clock.Now().Add(-24 * time.Hour)
		err := a.Store.Optimize(ctx)
		_, swept := a.Store.SweepUploads(ctx, yesterday)
		if err = errors.Join(err, swept, a.Store.ForgetTries(ctx, yesterday)); err != nil && ctx.Err() == nil {
			slog.Error("the data was not looked after", "error", err)
		}
		if err := a.Store.Look(ctx); err != nil && ctx.Err() == nil { // last: it reads everything
			slog.Error("the database is damaged", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-daily.C:
		}
	}
}

// served is what a server serves.
type served struct {
	listener net.Listener
	data     *store.Store
	clock    app.Clock
	accounts []api.Account // of the demo
	token    string        // of a first start
}

// serve answers requests until it is told to stop, then lets the running ones end.
func (s served) serve(cmd *cobra.Command, set *settings) error {
	leaveGarbage()
	data, listener := s.data, s.listener
	if err := data.Own(); err != nil {
		return err
	}
	a, mails, err := outside(set, data, s.clock)
	if err != nil {
		return err
	}
	defer mails.Close()
	a.SetupToken = s.token
	options := api.Options{Version: version(), Accounts: s.accounts, Pages: web.Pages(), Secure: set.Secure}
	if mails.sink != nil {
		options.Mailbox = mails.sink
	}
	options.Hosts = hosts(set)
	if options.Proxies, err = proxies(set.Proxies); err != nil {
		return err
	}
	ctx, stop := signal.NotifyContext(cmd.Context(), os.Interrupt, syscall.SIGTERM)
	defer stop()
	options.Stopping = ctx.Done()
	handler, err := api.New(a, options)
	if err != nil {
		return err
	}
	if err := papers.Tidy(cmd.Context(), a); err != nil {
		return err
	}
	defer a.Jobs.Stop()
	if a.Address == "" {
		a.Address = "http://" + listener.Addr().String()
	}
	var background sync.WaitGroup
	background.Go(func() { deliver(ctx, a) })
	background.Go(func() { lookAfter(ctx, a) })
	defer background.Wait()
	server := &http.Server{Handler: handler, ReadHeaderTimeout: 10 * time.Second, ReadTimeout: time.Minute, WriteTimeout: 2 * time.Minute,
		IdleTimeout: 2 * time.Minute}
	cmd.Printf("Dorvet serves http://%s\n", listener.Addr())
	for _, account := range s.accounts {
		cmd.Printf("  %-14s %s   %s\n", account.Role, account.Mail, account.Password)
	}
	ended := make(chan error, 1)
	go func() { ended <- server.Serve(listener) }()
	select {
	case err := <-ended:
		stop()
		return err
	case <-ctx.Done():
	}
	grace, cancel := context.WithTimeout(context.Background(), 15*time.Second)
	defer cancel()
	return errors.Join(server.Shutdown(grace), ignoreClosed(<-ended))
}

// leaveGarbage lets garbage lie twice as long as Go does by itself, unless the environment says how long: documents and
// answers are large and short-lived, and to look for them takes a tenth of the time of issuing. It costs a third more memory.
func leaveGarbage() {
	if os.Getenv("GOGC") == "" {
		debug.SetGCPercent(200)
	}
}

func ignoreClosed(err error) error {
	if errors.Is(err, http.ErrServerClosed) {
		return nil
	}
	return err
}
