// Package smtp sends letters to a mail server, by SMTP.
package smtp

import (
	"bytes"
	"context"
	"fmt"
	"net"
	"strconv"
	"strings"
	"time"

	"dorvet/core/letter"

	"github.com/wneessen/go-mail"
)

// Server is a mail server: host:port, and an account there if it needs one.
// Without an account the conversation is plain, as with a server on the same
// machine.
type Server struct{ Address, User, Password string }

const patience = 20 * time.Second

// Send gives a letter to the server.
func (s Server) Send(ctx context.Context, l letter.Letter) error {
	if err := l.Check(); err != nil {
		return err
	}
	message, err := compose(l)
	if err != nil {
		return fmt.Errorf("compose a mail: %w", err)
	}
	host, portText, err := net.SplitHostPort(s.Address)
	if err != nil {
		return fmt.Errorf("the mail server %q is not host:port: %w", s.Address, err)
	}
	port, err := strconv.Atoi(portText)
	if err != nil {
		return fmt.Errorf("the mail server %q has no port: %w", s.Address, err)
	}
	options := []mail.Option{mail.WithPort(port), mail.WithTimeout(patience), mail.WithTLSPolicy(mail.NoTLS), mail.WithHELO("localhost")}
	if s.User != "" {
		options = append(options, mail.WithTLSPolicy(mail.TLSMandatory), mail.WithSMTPAuth(mail.SMTPAuthPlain), mail.WithUsername(s.User),
			mail.WithPassword(s.Password))
	}
	client, err := mail.NewClient(host, options...)
	if err != nil {
		return fmt.Errorf("reach the mail server: %w", err)
	}
	if err := client.DialAndSendWithContext(ctx, message); err != nil {
		return fmt.Errorf("send a mail: %w", err)
	}
	return nil
}

func compose(l letter.Letter) (*mail.Msg, error) {
	m := mail.NewMsg()
	if err := m.FromFormat(l.From.Name, l.From.Address); err != nil {
		return nil, err
	}
	if err := m.AddToFormat(l.To.Name, l.To.Address); err != nil {
		return nil, err
	}
	for _, c := range l.Copies {
		if err := m.AddCcFormat(c.Name, c.Address); err != nil {
			return nil, err
		}
	}
	m.Subject(l.Subject)
	m.SetDateWithValue(l.At)
	_, domain, _ := strings.Cut(l.From.Address, "@")
	m.SetMessageIDWithValue(l.ID + "@" + domain)
	m.SetBodyString(mail.TypeTextPlain, l.Body)
	if len(l.Attachment) > 0 {
		if err := m.AttachReader(l.AttachmentName, bytes.NewReader(l.Attachment), mail.WithFileContentType("application/pdf")); err != nil {
			return nil, err
		}
	}
	return m, nil
}
