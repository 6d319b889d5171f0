package main

import (
	"context"
	"crypto/rand"
	"errors"
	"fmt"
	"log/slog"
	"net"
	"net/netip"
	"path/filepath"
	"strings"
	"time"

	"dorvet/core/letter"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/banking"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/paying"
	"dorvet/internal/app/receivables"
	"dorvet/internal/documents"
	"dorvet/internal/simulator"
	"dorvet/internal/smtp"
	"dorvet/internal/store"
)

// mailing is how mails leave and reports on them come back.
type mailing struct {
	sink    *simulator.Sink // the stand-in, where no mail server is set
	reports *smtp.Reports   // nil where none come
}

// Close ends the conversations: the stand-in reports on what it took before nobody listens.
func (m *mailing) Close() error {
	var err error
	if m.sink != nil {
		err = m.sink.Close()
	}
	if m.reports != nil {
		err = errors.Join(err, m.reports.Close())
	}
	return err
}

// outside joins the program to the world outside: a mail server, or the stand-in
// that keeps mails beside the data; the stand-in of a payment service.
func outside(set *settings, data *store.Store, clock app.Clock) (*app.App, *mailing, error) {
	joined, m := newApp(clock), new(mailing)
	a := &joined
	a.Store, a.Clock, a.Queued, a.Address = data, clock, make(chan struct{}, 1), strings.TrimSuffix(set.URL, "/")
	server := smtp.Server{Address: set.SMTP, User: set.SMTPUser, Password: set.SMTPPassword, Return: set.Return}
	at := set.Reports
	if set.SMTP == "" {
		server.Return, at = "reports@localhost", "127.0.0.1:0"
	}
	if at != "" {
		listener, err := net.Listen("tcp", at)
		if err != nil {
			return nil, nil, fmt.Errorf("listen for reports on mails at %s: %w", at, err)
		}
		m.reports, at = smtp.ListenForReports(listener, func(r letter.Report) error {
			return correspondence.TakeReport(context.Background(), a, r)
		}), listener.Addr().String()
	}
	if set.SMTP == "" {
		var err error
		if m.sink, server.Address, err = simulator.OpenSink(filepath.Join(data.Folder(), "mail"), at); err != nil {
			return nil, nil, errors.Join(err, m.Close())
		}
		a.MailStays = true
	}
	a.Mail = server.Send
	simulatePayments(a)
	return a, m, nil
}

// simulatePayments lets the stand-in of the payment service say what became of payments, under a secret of this start.
func simulatePayments(a *app.App) {
	a.GatewaySecret = rand.Text()
	a.Gateway = &simulator.Payments{Now: time.Now, Tell: func(key string, c paymentmethod.Charged) {
		notice, err := paying.Notice(key, c)
		if err == nil {
			err = paying.TakeNotice(context.Background(), a, notice, paying.Sign(a.GatewaySecret, notice))
		}
		if err != nil {
			slog.Error("what became of a payment was not noted", "error", err)
		}
	}}
}

// newApp is an app with what draws its documents and keeps cards.
func newApp(clock app.Clock) app.App {
	return app.App{
		Render: documents.PDF, Drawing: documents.Drawing, RenderProposal: documents.Proposal, Bind: documents.Bound,
		Gather: documents.Gathered, Code: documents.Code,
		Formats: documents.Formats{}, Jobs: new(app.Jobs), Kept: new(app.Kept), Gateway: &simulator.Payments{Now: clock.Now},
	}
}

// retry is how often it is looked whether the time of a mail has come again, and what has become of payments.
const retry = 15 * time.Second

// deliver sends mails as they are queued, until the context ends.
func deliver(ctx context.Context, a *app.App) {
	again := time.NewTicker(retry)
	defer again.Stop()
	for {
		if err := correspondence.MailNotices(ctx, a); err != nil && ctx.Err() == nil {
			slog.Error("notices could not be mailed", "error", err)
		}
		if err := correspondence.Deliver(ctx, a); err != nil && ctx.Err() == nil {
			slog.Error("mails could not be delivered", "error", err)
		}
		if err := paying.FollowUp(ctx, a); err != nil && ctx.Err() == nil {
			slog.Error("payments could not be followed up", "error", err)
		}
		if err := receivables.RemindAtHour(ctx, a); err != nil && ctx.Err() == nil {
			slog.Error("reminders could not be sent", "error", err)
		}
		if err := banking.TellUnreconciled(ctx, a); err != nil && ctx.Err() == nil {
			slog.Error("reconciliation could not be asked for", "error", err)
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
