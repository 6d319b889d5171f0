// Package letter is a mail before it is sent: plain values, and what RFC 5322
// asks of them. A header never has a line break.
package letter

import (
	"net/mail"
	"slices"
	"strings"
	"time"

	"dorvet/core/refusal"
)

// Letter is one mail to one person, with copies.
type Letter struct {
	From, To      mail.Address
	Copies, Blind []mail.Address // copies that all see, and that nobody sees
	Subject, Body string         // plain text; a form of it that can be shown follows from it
	Accent        string         // the colour of its links, #0F5F68
	At            time.Time
	ID            string // the left part of the message's id, unique
	Files         []File
	EndsAt        string // an address that ends letters of this kind with one click (RFC 8058), or nothing
	ReturnKey     string // under which reports on it come back, or nothing
}

// File is one that is attached.
type File struct {
	Name, MediaType string
	Content         []byte
}

// Check refuses what can't be sent: no addressee, an address that is none, a
// subject with a line break.
func (l Letter) Check() error {
	for _, a := range slices.Concat([]mail.Address{l.From, l.To}, l.Copies, l.Blind) {
		if _, err := mail.ParseAddress(a.Address); err != nil {
			return refusal.Errorf("%q is no mail address: write it like name@firm.example", a.Address)
		}
		if strings.ContainsAny(a.Name+a.Address, "\r\n") {
			return refusal.Errorf("the name %q has a line break: take it out", a.Name)
		}
	}
	if l.Subject == "" || strings.ContainsAny(l.Subject, "\r\n") {
		return refusal.Errorf("the subject is one line: give one")
	}
	return nil
}

// Addresses reads one address or several, with commas; nothing is none.
func Addresses(text string) ([]mail.Address, error) {
	if strings.TrimSpace(text) == "" {
		return nil, nil
	}
	parsed, err := mail.ParseAddressList(text)
	if err != nil {
		return nil, refusal.Errorf("%q is no list of mail addresses: write them like one@firm.example, two@firm.example", text)
	}
	all := make([]mail.Address, len(parsed))
	for i, a := range parsed {
		all[i] = *a
	}
	return all, nil
}
