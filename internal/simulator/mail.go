// Package simulator is the small outside world that ships with Dorvet: a mail
// server that keeps what it is given, and a payment service that knows test
// numbers. Real ones take their place behind the same interfaces.
package simulator

import (
	"errors"
	"fmt"
	"io"
	"net"
	"net/mail"
	"os"
	"path/filepath"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/emersion/go-smtp"
)

// Sink is a mail server on this machine that keeps every mail as a file of its
// own, in a folder, and sends nothing on. It says what became of each, as real servers do.
type Sink struct {
	folder string
	server *smtp.Server
	closed chan struct{}
	// reportsTo is where it says what became of mails, host:port; nothing: it says nothing.
	reportsTo string
	reporting sync.WaitGroup

	mutex sync.Mutex
	count int
	put   map[string]int // how often an address was put off
}

const (
	mailLimit = 25 << 20
	talkTime  = 30 * time.Second
	suffix    = ".eml"
)

// OpenSink starts a sink on a free port of this machine; mails go to a folder. Reports on them go to a server, host:port.
func OpenSink(folder, reportsTo string) (sink *Sink, address string, err error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, "", fmt.Errorf("make the folder of mails: %w", err)
	}
	kept, err := os.ReadDir(folder)
	if err != nil {
		return nil, "", fmt.Errorf("read the folder of mails: %w", err)
	}
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	if err != nil {
		return nil, "", fmt.Errorf("open the mail sink: %w", err)
	}
	sink = &Sink{folder: folder, count: len(kept), closed: make(chan struct{}), reportsTo: reportsTo,
		put: map[string]int{}}
	sink.server = smtp.NewServer(sink)
	sink.server.Domain, sink.server.MaxMessageBytes, sink.server.EnableDSN = "localhost", mailLimit, true
	sink.server.ReadTimeout, sink.server.WriteTimeout = talkTime, talkTime
	go func() {
		sink.server.Serve(listener)
		close(sink.closed)
	}()
	return sink, listener.Addr().String(), nil
}

// Close stops the sink.
func (s *Sink) Close() error {
	err := s.server.Close()
	<-s.closed
	s.reporting.Wait()
	return err
}

// NewSession implements smtp.Backend.
func (s *Sink) NewSession(*smtp.Conn) (smtp.Session, error) { return &session{sink: s}, nil }

type session struct {
	sink *Sink
	from string
	to   []string
}

// Mail implements smtp.Session: any sender is taken.
func (s *session) Mail(from string, _ *smtp.MailOptions) error {
	s.from, s.to = from, nil
	return nil
}

// Rcpt implements smtp.Session: who is refused or put off is known by their name (see habits).
func (s *session) Rcpt(to string, _ *smtp.RcptOptions) error {
	if err := s.sink.receives(to); err != nil {
		return err
	}
	s.to = append(s.to, to)
	return nil
}

// Reset implements smtp.Session.
func (s *session) Reset() { s.from, s.to = "", nil }

// Logout implements smtp.Session.
func (*session) Logout() error { return nil }

// Data implements smtp.Session: the mail is written and synced before it is
// said to be taken.
func (s *session) Data(r io.Reader) error {
	content, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	if err := s.sink.keep(content); err != nil {
		return err
	}
	s.sink.report(s.from, slices.Clone(s.to))
	return nil
}

func (s *Sink) keep(content []byte) error {
	s.mutex.Lock()
	defer s.mutex.Unlock()
	s.count++
	path := filepath.Join(s.folder, fmt.Sprintf("%06d%s", s.count, suffix))
	file, err := os.OpenFile(path, os.O_WRONLY|os.O_CREATE|os.O_EXCL, 0o600)
	if err != nil {
		return err
	}
	_, err = file.Write(content)
	return errors.Join(err, file.Sync(), file.Close())
}

// Delivered is a mail that was delivered.
type Delivered struct {
	Name    string    `json:"name" doc:"of its file"`
	At      time.Time `json:"at"`
	To      string    `json:"to"`
	Subject string    `json:"subject"`
}

// Mails lists the latest mails, newest first, at most so many.
func (s *Sink) Mails(most int) ([]Delivered, error) {
	files, err := os.ReadDir(s.folder)
	if err != nil {
		return nil, err
	}
	slices.Reverse(files)
	mails := []Delivered{}
	for _, f := range files[:min(most, len(files))] {
		raw, err := s.Raw(f.Name())
		if err != nil {
			return nil, err
		}
		message, err := mail.ReadMessage(strings.NewReader(string(raw)))
		if err != nil {
			continue
		}
		at, _ := message.Header.Date()
		mails = append(mails, Delivered{f.Name(), at, people(message.Header.Get("To")), decoded(message.Header.Get("Subject"))})
	}
	return mails, nil
}

// Raw is a mail as it was taken.
func (s *Sink) Raw(name string) ([]byte, error) {
	if filepath.Base(name) != name || !strings.HasSuffix(name, suffix) {
		return nil, os.ErrNotExist
	}
	return os.ReadFile(filepath.Join(s.folder, name))
}
