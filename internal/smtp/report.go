package smtp

import (
	"bufio"
	"bytes"
	"errors"
	"fmt"
	"io"
	"log/slog"
	"mime"
	"mime/multipart"
	"net"
	"net/mail"
	"net/textproto"
	"strings"
	"time"

	"dorvet/core/letter"

	"github.com/emersion/go-smtp"
)

const (
	reportLimit = 1 << 20
	talkTime    = 30 * time.Second
)

// Reports is where mail servers say what became of letters: a server of its own, that takes nothing but such reports.
type Reports struct {
	server *smtp.Server
	closed chan struct{}
}

// ListenForReports takes reports on a listener, until it is closed.
func ListenForReports(listener net.Listener, take func(letter.Report) error) *Reports {
	r := &Reports{closed: make(chan struct{})}
	r.server = smtp.NewServer(smtp.BackendFunc(func(*smtp.Conn) (smtp.Session, error) { return &reporting{take: take}, nil }))
	r.server.Domain, r.server.MaxMessageBytes, r.server.MaxRecipients = "localhost", reportLimit, 10
	r.server.ReadTimeout, r.server.WriteTimeout = talkTime, talkTime
	go func() {
		if err := r.server.Serve(listener); err != nil && !errors.Is(err, smtp.ErrServerClosed) {
			slog.Error("reports on mails are taken no more", "error", err)
		}
		close(r.closed)
	}()
	return r
}

// Close stops taking reports.
func (r *Reports) Close() error {
	err := r.server.Close()
	<-r.closed
	return err
}

// reporting is one conversation.
type reporting struct {
	take func(letter.Report) error
	key  string
}

// Mail implements smtp.Session. Who sends a report has no address (RFC 3464), and some have one.
func (*reporting) Mail(string, *smtp.MailOptions) error { return nil }

// Rcpt implements smtp.Session.
func (r *reporting) Rcpt(to string, _ *smtp.RcptOptions) error {
	if r.key = keyIn(to); r.key == "" {
		return &smtp.SMTPError{Code: 550, EnhancedCode: smtp.EnhancedCode{5, 1, 1}, Message: "only reports on letters are taken here"}
	}
	return nil
}

// Reset implements smtp.Session.
func (r *reporting) Reset() { r.key = "" }

// Logout implements smtp.Session.
func (*reporting) Logout() error { return nil }

// Data implements smtp.Session.
func (r *reporting) Data(content io.Reader) error {
	raw, err := io.ReadAll(content)
	if err != nil {
		return err
	}
	reports, err := ReadReport(raw)
	if err != nil { // an answer of a person's, or of a machine that says nothing: taken, and left
		slog.Info("a mail to the address of reports is no report", "error", err)
		return nil
	}
	for _, report := range reports {
		report.ReturnKey = r.key
		if err := r.take(report); err != nil {
			slog.Error("a report was not noted", "error", err)
			return &smtp.SMTPError{Code: 451, EnhancedCode: smtp.EnhancedCode{4, 3, 0}, Message: "try again later"}
		}
	}
	return nil
}

var errNoReport = errors.New("it is no delivery report")

// ReadReport reads a delivery status notification (RFC 3464): one report for each recipient that it tells of.
func ReadReport(raw []byte) ([]letter.Report, error) {
	message, err := mail.ReadMessage(bytes.NewReader(raw))
	if err != nil {
		return nil, fmt.Errorf("read a report: %w", err)
	}
	media, parameters, err := mime.ParseMediaType(message.Header.Get("Content-Type"))
	if err != nil || media != "multipart/report" || !strings.EqualFold(parameters["report-type"], "delivery-status") {
		return nil, errNoReport
	}
	parts := multipart.NewReader(message.Body, parameters["boundary"])
	for {
		part, err := parts.NextPart()
		if errors.Is(err, io.EOF) {
			return nil, errNoReport
		}
		if err != nil {
			return nil, fmt.Errorf("read a report: %w", err)
		}
		if media, _, _ := mime.ParseMediaType(part.Header.Get("Content-Type")); media == "message/delivery-status" {
			return statuses(part)
		}
	}
}

// statuses reads the groups of fields of a report: the first is of the message, each other of a recipient.
func statuses(part io.Reader) ([]letter.Report, error) {
	fields, reports := textproto.NewReader(bufio.NewReader(part)), []letter.Report{}
	for first := true; ; first = false {
		group, err := fields.ReadMIMEHeader()
		if !first && len(group) > 0 {
			r := letter.Report{Action: letter.Action(strings.ToLower(strings.TrimSpace(group.Get("Action")))),
				Status: strings.TrimSpace(group.Get("Status")), Recipient: typed(group, "Original-Recipient", "Final-Recipient")}
			r.Said = typed(group, "Diagnostic-Code")
			reports = append(reports, r)
		}
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, fmt.Errorf("read a report: %w", err)
		}
	}
	if len(reports) == 0 {
		return nil, errNoReport
	}
	return reports, nil
}

// typed is the value of the first field that is there, without its type, as in rfc822; name@firm.example.
func typed(group textproto.MIMEHeader, names ...string) string {
	for _, name := range names {
		if _, value, is := strings.Cut(group.Get(name), ";"); is {
			return strings.TrimSpace(value)
		}
	}
	return ""
}
