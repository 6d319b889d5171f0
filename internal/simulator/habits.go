package simulator

import (
	"fmt"
	"log/slog"
	"strings"

	"github.com/emersion/go-smtp"
)

// A habit is what becomes of mails to an address, by the word with which it begins: so that everything that can happen to a
// mail can be tried. All others arrive.
type habit struct {
	word   string
	code   int // with which it is refused at once; 0: it is taken
	times  int // how often; 0: always
	action string
	status string
	said   string
}

var habits = []habit{
	{"refused.", 550, 0, "", "5.1.1", "there is nobody of this name"},
	{"later.", 451, 2, "", "4.3.0", "too busy, try again later"},
	{"bounced.", 0, 0, "failed", "5.1.1", "there is nobody of this name"},
	{"full.", 0, 0, "failed", "5.2.2", "the mailbox is full"},
	{"slow.", 0, 0, "delayed", "4.4.1", "their server does not answer"},
}

var arrives = habit{action: "delivered", status: "2.0.0"}

func habitOf(address string) habit {
	for _, h := range habits {
		if strings.HasPrefix(strings.ToLower(address), h.word) {
			return h
		}
	}
	return arrives
}

// receives refuses an addressee, or puts them off.
func (s *Sink) receives(address string) error {
	h := habitOf(address)
	if h.code == 0 {
		return nil
	}
	s.mutex.Lock()
	defer s.mutex.Unlock()
	if s.put[address]++; h.times > 0 && s.put[address] > h.times {
		return nil
	}
	enhanced := smtp.EnhancedCode{}
	fmt.Sscanf(h.status, "%d.%d.%d", &enhanced[0], &enhanced[1], &enhanced[2])
	return &smtp.SMTPError{Code: h.code, EnhancedCode: enhanced, Message: h.said}
}

// report says what became of a mail, to where its sender wants to hear it (RFC 3464).
func (s *Sink) report(from string, to []string) {
	if s.reportsTo == "" || from == "" || !strings.Contains(from, "+") {
		return
	}
	s.reporting.Go(func() {
		for _, address := range to {
			h := habitOf(address)
			if h.code != 0 {
				h = arrives
			}
			if err := s.say(from, address, h); err != nil {
				slog.Warn("the mail stand-in could not report", "error", err)
			}
		}
	})
}

func (s *Sink) say(from, address string, h habit) error {
	said := ""
	if h.said != "" {
		said = "Diagnostic-Code: smtp; " + h.said + "\r\n"
	}
	text := "From: Mail stand-in <postmaster@localhost>\r\nTo: <" + from + ">\r\nSubject: What became of your mail\r\nMIME-Version: 1.0\r\n" +
		"Content-Type: multipart/report; report-type=delivery-status; boundary=part\r\n\r\n" +
		"--part\r\nContent-Type: text/plain\r\n\r\nYour mail to " + address + ": " + h.action + ". " + h.said + "\r\n" +
		"--part\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; localhost\r\n\r\n" +
		"Final-Recipient: rfc822; " + address + "\r\nAction: " + h.action + "\r\nStatus: " + h.status + "\r\n" + said + "\r\n--part--\r\n"
	client, err := smtp.Dial(s.reportsTo)
	if err != nil {
		return err
	}
	defer client.Close()
	if err := client.SendMail("", []string{from}, strings.NewReader(text)); err != nil {
		return err
	}
	return client.Quit()
}
