package main

import (
	"context"
	"fmt"
	"log/slog"
	"net/netip"
	"path/filepath"
	"strings"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/documents"
	"dorvet/internal/simulator"
	"dorvet/internal/smtp"
	"dorvet/internal/store"
)

// outside joins the program to the world outside: a mail server, or the stand-in
// that keeps mails beside the data; the stand-in of a payment service.
func outside(set *settings, data *store.Store, clock app.Clock) (*app.App, *simulator.Sink, error) {
	joined := newApp(clock)
	a := &joined
	a.Store, a.Clock, a.Queued, a.Address = data, clock, make(chan struct{}, 1), strings.TrimSuffix(set.URL, "/")
	if set.SMTP != "" {
		a.Mail = smtp.Server{Address: set.SMTP, User: set.SMTPUser, Password: set.SMTPPassword}.Send
		return a, nil, nil
	}
	sink, address, err := simulator.OpenSink(filepath.Join(data.Folder(), "mail"))
	if err != nil {
		return nil, nil, err
	}
	a.Mail, a.MailStays = smtp.Server{Address: address}.Send, true
	return a, sink, nil
}

// newApp is an app with what draws its documents and keeps cards.
func newApp(clock app.Clock) app.App {
	return app.App{
		Render: documents.PDF, Drawing: documents.Drawing, RenderProposal: documents.Proposal, Bind: documents.Bound,
		Formats: documents.Formats{}, Jobs: new(app.Jobs), Kept: new(app.Kept), Gateway: simulator.Payments{Now: clock.Now},
	}
}

// retry is how often it is looked whether the time of a mail has come again.
const retry = 15 * time.Second

// deliver sends mails as they are queued, until the context ends.
func deliver(ctx context.Context, a *app.App) {
	again := time.NewTicker(retry)
	defer again.Stop()
	for {
		if err := correspondence.Deliver(ctx, a); err != nil && ctx.Err() == nil {
			slog.Error("mails could not be delivered", "error", err)
		}
		select {
		case <-ctx.Done():
			return
		case <-a.Queued:
		case <-again.C:
		}
	}
}

// proxies reads the networks of trusted proxies.
func proxies(text string) ([]netip.Prefix, error) {
	found := []netip.Prefix{}
	for _, part := range strings.FieldsFunc(text, func(r rune) bool { return r == ',' || r == ' ' }) {
		prefix, err := netip.ParsePrefix(part)
		if err != nil {
			return nil, fmt.Errorf("%q is no network of proxies: write it like 10.0.0.0/8: %w", part, err)
		}
		found = append(found, prefix)
	}
	return found, nil
}
