// Package delivery knows to whom a document is handed, and how far it has come: plain values, and what is
// allowed of them.
package delivery

import (
	"net/mail"
	"slices"
	"strings"

	"dorvet/core/refusal"
)

// Kind is what is handed over.
type Kind string

// The kinds of what is handed over.
const (
	Invoice    Kind = "invoice"
	CreditNote Kind = "credit_note"
	Deposit    Kind = "deposit"
	Receipt    Kind = "receipt"
	Statement  Kind = "statement"
	Reminder   Kind = "reminder"
)

// Way is how something is handed over.
type Way string

// The ways: printed and given by hand, or put into the post, it leaves the house on paper.
const (
	Mail     Way = "mail"
	Print    Way = "print"
	Post     Way = "post"
	Download Way = "download"
)

// Contact is somebody at the client, with what they receive.
type Contact struct {
	Name, Mail, Copies string
	EngagementID       int64 // 0: of the client
	Gets               []Kind
}

// Addressee is one person to whom something is handed.
type Addressee struct {
	Name, Mail string
	Copies     string // addresses that get the same mail
	Whence     string // why them, in words
}

// To are those who get a document: contacts of one of its engagements who receive the kind, else contacts of the client who
// do, else the client itself. Nobody is an answer, too. Each address is named once.
//
// Source: rules of this product, handing documents over.
func To(kind Kind, engagementIDs []int64, contacts []Contact, client Contact) []Addressee {
	receives := func(c Contact) bool { return c.Mail != "" && slices.Contains(c.Gets, group(kind)) }
	found := []Addressee{}
	add := func(c Contact, whence string) {
		if !slices.ContainsFunc(found, func(a Addressee) bool { return strings.EqualFold(a.Mail, c.Mail) }) {
			found = append(found, Addressee{c.Name, c.Mail, c.Copies, whence})
		}
	}
	for _, c := range contacts {
		if c.EngagementID != 0 && slices.Contains(engagementIDs, c.EngagementID) && receives(c) {
			add(c, "contact of the engagement")
		}
	}
	if len(found) > 0 {
		return found
	}
	for _, c := range contacts {
		if c.EngagementID == 0 && receives(c) {
			add(c, "contact of the client")
		}
	}
	if len(found) == 0 && client.Mail != "" {
		add(client, "the client's own address")
	}
	return found
}

// group is by which kind of letter a contact says whether they receive it: who gets invoices gets all that belongs to them.
func group(kind Kind) Kind {
	switch kind {
	case CreditNote, Deposit, Receipt:
		return Invoice
	}
	return kind
}

// Typed reads who was typed in place of those: one address or several, each with a name if there is one.
func Typed(text string) ([]Addressee, error) {
	list, err := mail.ParseAddressList(text)
	if err != nil {
		return nil, refusal.Errorf("%q is no list of mail addresses: write them like one@firm.example, two@firm.example", text)
	}
	found := []Addressee{}
	for _, a := range list {
		found = append(found, Addressee{Name: a.Name, Mail: a.Address, Whence: "typed"})
	}
	return found, nil
}

// State is how far a delivery has come.
type State string

// The states. Taken is by the mail server, arrived in the mailbox; saved is fetched by the firm, to be given by hand.
const (
	Queued     State = "queued"
	Taken      State = "taken"
	Arrived    State = "arrived"
	Failed     State = "failed"
	CalledBack State = "called_back"
	Posted     State = "posted"
	Saved      State = "saved"
)

// IsOut reports whether the document has left the house, so that what it says stands.
func (s State) IsOut() bool {
	return s == Taken || s == Arrived || s == Posted || s == Saved
}

// Call is what can be done to a delivery.
type Call string

// What can be done to a delivery.
const (
	CallBack Call = "call back"
	Again    Call = "send again"
	Stamp    Call = "post"
)

// After is the state after a call, or a refusal that says what to do instead.
func (s State) After(c Call) (State, error) {
	switch {
	case c == CallBack && s == Queued:
		return CalledBack, nil
	case c == CallBack && s.IsOut():
		return s, refusal.Errorf("it has left already and can't be called back: make a credit note, or write to them")
	case c == CallBack:
		return s, refusal.Errorf("it is not on its way: there is nothing to call back")
	case c == Again && s == Queued:
		return s, refusal.Errorf("it is on its way: wait until the mail server took it or it failed")
	case c == Again:
		return Queued, nil
	case c == Stamp && s == Queued:
		return Posted, nil
	}
	return s, refusal.Errorf("it was handed over already")
}

// Step is a delivery of a document as it is now, with what the client did on its page.
type Step struct {
	State           State
	Opened, Fetched bool
}

// Standing is how far a document has come to its client: nothing, a State, Opened, Fetched, or Before.
type Standing string

// What the page says beyond the states, and what was issued before deliveries were noted.
const (
	Nowhere Standing = ""
	Opened  Standing = "opened"
	Fetched Standing = "fetched"
	Before  Standing = "before"
)

// furthest are the states from what says least of where a document is to what says most.
var furthest = []Standing{Nowhere, Standing(Failed), Standing(Queued), Standing(Saved), Standing(Posted), Standing(Taken),
	Standing(Arrived), Opened, Fetched}

// Handed is how far a document has come by several deliveries of it: as far as the one that has come furthest. What was
// called back counts for nothing.
func Handed(steps []Step) Standing {
	best := 0
	for _, s := range steps {
		now := Standing(s.State)
		switch {
		case s.Fetched:
			now = Fetched
		case s.Opened:
			now = Opened
		}
		best = max(best, slices.Index(furthest, now))
	}
	return furthest[best]
}

// IsOut reports whether the document has left the house.
func (s Standing) IsOut() bool {
	return slices.Index(furthest, s) >= slices.Index(furthest, Standing(Saved))
}
