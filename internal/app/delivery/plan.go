// Package delivery hands documents over: who gets an invoice and by which way, what the letter says, what became of it, and what
// its client sees of it on a page of their own.
package delivery

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"

	core "dorvet/core/delivery"

	"dorvet/core/invoice"
	"dorvet/core/profile"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// Handover says how documents are handed over, where it is not as their profile has it.
type Handover struct {
	Way     core.Way `json:"way" enum:",mail,print,post,download" doc:"nothing: as the profile says"`
	To      string   `json:"to" maxLength:"1000" doc:"addresses in place of the contacts"`
	Copies  string   `json:"copies" maxLength:"1000" doc:"besides those of the contacts"`
	Subject string   `json:"subject" maxLength:"300" doc:"of this letter alone; nothing: as its text has it"`
	Text    string   `json:"text" maxLength:"20000" doc:"of this letter alone, with places; nothing: as its text has it"`
	Word    string   `json:"word" maxLength:"5000" doc:"a personal word above it"`
	Attach  *Attach  `json:"attach,omitempty" doc:"nothing: as the profile says"`
	Keep    bool     `json:"keep" doc:"the way holds for the client from now on"`
}

// Attach says which files go along.
type Attach struct {
	PDF       bool        `json:"pdf"`
	EInvoice  bool        `json:"eInvoice"`
	Expenses  bool        `json:"expenses" doc:"a statement of them"`
	Receipts  bool        `json:"receipts" doc:"as one PDF"`
	Enclosure bool        `json:"enclosure" doc:"the firm's own file that the profile names"`
	Others    []OtherFile `json:"others,omitempty" maxItems:"20" doc:"files that whoever sends it has uploaded"`
}

// OtherFile is a file of one's own that goes along.
type OtherFile struct {
	Digest string `json:"digest" pattern:"^[0-9a-f]{64}$"`
	Name   string `json:"name" maxLength:"200"`
}

// Letter is what would go out, or why it can't.
type Letter struct {
	InvoiceIDs   []int64       `json:"invoiceIds"`
	Numbers      string        `json:"numbers"`
	Client       string        `json:"client"`
	Way          core.Way      `json:"way" enum:"mail,print,post,download"`
	WayFrom      string        `json:"wayFrom" doc:"where the way is from, in words"`
	To           []Recipient   `json:"to"`
	From         string        `json:"from"`
	Copy         string        `json:"copy" doc:"an address of the firm's that gets a copy"`
	Subject      string        `json:"subject"`
	Body         string        `json:"body"`
	Files        []string      `json:"files"`
	Attach       Attach        `json:"attach"`
	Problem      string        `json:"problem" doc:"why it can't go, and what to do; or nothing"`
	Stays        bool          `json:"stays" doc:"mails are kept on this machine, because no mail server is set"`
	Placeholders []Placeholder `json:"placeholders"`
	Template     string        `json:"template" doc:"the text as it is kept, with its places"`
}

// Recipient is somebody who would get it, and why they do.
type Recipient struct {
	Name   string `json:"name"`
	Mail   string `json:"mail"`
	Copies string `json:"copies"`
	Whence string `json:"whence"`
}

// Preview shows the letters that would go out, with the drafts among them as they would be.
func Preview(ctx context.Context, a *app.App, actor app.Actor, ids []int64, s Handover) ([]Letter, error) {
	tx := a.Read(ctx, actor)
	packets, err := packed(tx, ids, s)
	if err != nil {
		return nil, err
	}
	texts, err := store.LetterTexts(tx)
	if err != nil {
		return nil, err
	}
	letters := []Letter{}
	for _, p := range packets {
		l, err := p.letter(a, tx, texts, s)
		if err != nil {
			return nil, err
		}
		letters = append(letters, *l)
	}
	return letters, nil
}

// packed puts invoices together that go to the same people in one letter, in the order of clients and numbers.
func packed(tx *store.DB, ids []int64, s Handover) ([]*packet, error) {
	packets := []*packet{}
	for _, id := range slices.Compact(slices.Sorted(slices.Values(ids))) {
		p, err := packetOf(tx, id, s)
		if err != nil {
			return nil, err
		}
		at := slices.IndexFunc(packets, func(other *packet) bool { return other.takes(p) })
		if at < 0 {
			packets = append(packets, p)
			continue
		}
		packets[at].Invoices, packets[at].docs = append(packets[at].Invoices, p.Invoices...), append(packets[at].docs, p.docs...)
	}
	return packets, nil
}

// takes reports whether another packet goes into this one's letter: to the same people, of the same issuing entity, in the same language
// and currency, where the client wants it so.
func (p *packet) takes(other *packet) bool {
	return p.profile.Text("letters") == "together" && p.way == core.Mail && other.way == core.Mail && p.Problem == "" && other.Problem == "" &&
		p.ClientID == other.ClientID && p.EntityID == other.EntityID && p.Invoices[0].Currency == other.Invoices[0].Currency &&
		p.Kind == other.Kind && p.Words.Language == other.Words.Language && slices.Equal(p.to, other.to)
}

// kindOf is what an invoice is when it is handed over.
func kindOf(inv *store.Invoice) core.Kind {
	if inv.Kind == invoice.CreditNote {
		return core.CreditNote
	}
	return core.Invoice
}

// packetOf is an invoice, or a draft, as it would be handed over.
func packetOf(tx *store.DB, id int64, s Handover) (*packet, error) {
	row, err := papers.Visible(tx, id)
	if err != nil {
		return nil, err
	}
	doc, err := papers.DocumentOf(tx, &row.Invoice)
	if err != nil {
		return nil, err
	}
	engagements, err := store.EngagementsOf(tx, id)
	if err != nil {
		return nil, err
	}
	return wrapped(tx, &Parcel{Kind: kindOf(&row.Invoice), EntityID: row.EntityID, ClientID: row.ClientID, Engagements: engagements,
		Client: row.Client, Invoices: []store.InvoiceRow{*row}, Words: doc.Words()}, []*invoice.Document{doc}, s)
}

// hindered says why a packet can't be handed over by its way, and what to do; or nothing.
func (p *packet) hindered(tx *store.DB) (string, error) {
	switch {
	case p.Problem != "":
		return p.Problem, nil
	case len(p.docs) > 0 && p.Invoices[0].Kind == invoice.Opening:
		return "It was issued before, and has no document here.", nil
	case p.way == core.Mail && len(p.to) == 0:
		return "Nobody at " + p.Client + " has a mail address to which " + gets[p.Kind] + " go: give a contact one, or choose another way.", nil
	case p.way == core.Post && len(p.docs) > 0 && strings.TrimSpace(strings.Join(p.docs[0].Client.Address, "")) == "":
		return "The document names no address of " + p.Client + ": choose another way, or give it one and correct the invoice.", nil
	case p.way != core.Mail:
		return "", nil
	}
	_, problem, err := sender(tx, p.EntityID)
	return problem, err
}

// gets is how contacts say that they receive a kind.
var gets = map[core.Kind]string{core.Invoice: "invoices", core.CreditNote: "invoices", core.Deposit: "invoices", core.Receipt: "invoices",
	core.Statement: "statements", core.Reminder: "reminders"}

// sender is from whom a letter of an issuing entity comes, or why it can come from nobody.
func sender(tx *store.DB, entityID int64) (from, problem string, err error) {
	address, err := correspondence.Sender(tx, &entityID)
	if refused := new(app.Refusal); errors.As(err, &refused) {
		return "", refused.Words(), nil
	}
	return address.String(), "", err
}

// letter is the letter of a packet as it would go out, to the first who gets it.
func (p *packet) letter(a *app.App, tx *store.DB, texts []store.LetterText, s Handover) (*Letter, error) {
	way := p.profile.Of("delivery")
	l := &Letter{Client: p.Client, Numbers: p.numbers(), Way: p.way, WayFrom: fromWords(way.Won), InvoiceIDs: []int64{}, To: []Recipient{},
		Files: []string{}, Problem: p.Problem, Stays: a.MailStays, Copy: p.profile.Text("copy_to"), Placeholders: []Placeholder{}}
	if s.Way != "" && string(s.Way) != way.Won.Value {
		l.WayFrom = "this letter alone"
	}
	for i := range p.Invoices {
		l.InvoiceIDs = append(l.InvoiceIDs, p.Invoices[i].ID)
	}
	first := core.Addressee{}
	for i, to := range p.to {
		if i == 0 {
			first = to
		}
		l.To = append(l.To, Recipient(to))
	}
	values, err := p.values(tx, first, s.Word)
	if err != nil {
		return nil, err
	}
	var open []string
	l.Subject, l.Body, open = p.written(texts, values, s)
	if len(open) > 0 && l.Problem == "" && p.way == core.Mail && !p.isDraft() {
		l.Problem = fmt.Sprintf("The letter has places that nothing stands in: {%s}. Change its text.", strings.Join(open, "}, {"))
	}
	l.Body = p.shown(l.Body, a.Address)
	l.Placeholders = placeholders(values)
	if text := p.text(texts); text != nil {
		l.Template = text.Text
		if own := p.own("mail_text"); own != "" {
			l.Template = own
		}
	}
	if l.From, _, err = sender(tx, p.EntityID); err != nil {
		return nil, err
	}
	l.Attach = p.attach(s)
	l.Files, err = p.fileNames(a, tx, l.Attach)
	return l, err
}

func (p *packet) isDraft() bool {
	return slices.ContainsFunc(p.Invoices, func(i store.InvoiceRow) bool { return i.State.IsDraft() })
}

// numbers is what a packet brings, by its name.
func (p *packet) numbers() string {
	if p.Name != "" {
		return p.Name
	}
	numbers := []string{}
	for i := range p.Invoices {
		if p.Invoices[i].State.IsDraft() {
			numbers = append(numbers, "draft")
			continue
		}
		numbers = append(numbers, p.Invoices[i].NumberText)
	}
	return strings.Join(numbers, ", ")
}

// fromWords says where a value of the profile is from.
func fromWords(s profile.Source) string {
	switch s.Scope {
	case profile.Client, profile.Engagement:
		return "from " + s.Subject
	case profile.Firm:
		return "from the firm"
	}
	return "as usual"
}
