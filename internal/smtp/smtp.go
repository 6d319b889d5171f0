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
// machine. Return is the address at which reports on letters come in: the key of a letter is put into it, as in
// reports+key@firm.example; without it nothing is reported.
type Server struct{ Address, User, Password, Return string }

const patience = 20 * time.Second

// Send gives a letter to the server.
func (s Server) Send(ctx context.Context, l letter.Letter) error {
	if err := l.Check(); err != nil {
		return err
	}
	message, err := compose(l, s.Return)
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
	if s.Return != "" {
		options = append(options, mail.WithDSNMailReturnType(mail.DSNMailReturnHeadersOnly),
			mail.WithDSNRcptNotifyType(mail.DSNRcptNotifySuccess, mail.DSNRcptNotifyFailure, mail.DSNRcptNotifyDelay))
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

func compose(l letter.Letter, reports string) (*mail.Msg, error) {
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
	for _, c := range l.Blind {
		if err := m.AddBccFormat(c.Name, c.Address); err != nil {
			return nil, err
		}
	}
	if reports != "" && l.ReturnKey != "" {
		if err := m.EnvelopeFrom(returnTo(reports, l.ReturnKey)); err != nil {
			return nil, err
		}
	}
	if l.EndsAt != "" { // RFC 8058
		m.SetGenHeader(mail.HeaderListUnsubscribe, "<"+l.EndsAt+">")
		m.SetGenHeader(mail.HeaderListUnsubscribePost, "List-Unsubscribe=One-Click")
	}
	m.Subject(l.Subject)
	m.SetDateWithValue(l.At)
	_, domain, _ := strings.Cut(l.From.Address, "@")
	m.SetMessageIDWithValue(l.ID + "@" + domain)
	m.SetBodyString(mail.TypeTextPlain, l.Body)
	m.AddAlternativeString(mail.TypeTextHTML, letter.HTML(l.Body, l.Accent))
	for _, f := range l.Files {
		if err := m.AttachReader(f.Name, bytes.NewReader(f.Content), mail.WithFileContentType(mail.ContentType(f.MediaType))); err != nil {
			return nil, err
		}
	}
	return m, nil
}

// returnTo is the address of reports with a key in it.
func returnTo(reports, key string) string {
	local, domain, _ := strings.Cut(reports, "@")
	return local + "+" + key + "@" + domain
}

// keyIn is the key in an address of reports, or nothing.
func keyIn(address string) string {
	local, _, _ := strings.Cut(strings.Trim(address, "<>"), "@")
	_, key, _ := strings.Cut(local, "+")
	return strings.ToLower(key)
}
