package delivery

import (
	"context"
	"errors"
	"fmt"
	"strings"

	core "dorvet/core/delivery"
	"dorvet/core/wording"

	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// Sent says how many letters are on their way, and by which way.
type Sent struct {
	Letters int      `json:"letters"`
	Way     core.Way `json:"way" enum:"mail,print,post,download"`
	said    string   // in the history: sent SC1046 to ann@client.example
}

// Send hands one invoice over.
func Send(ctx context.Context, a *app.App, r app.Request, id int64, s Handover) (Sent, error) {
	return app.Do(ctx, a, r, "hand over", []any{id, s}, func(tx *app.Tx) (Sent, error) {
		packets, err := packed(tx.DB, []int64{id}, s)
		if err != nil {
			return Sent{}, err
		}
		if s.Keep && s.Way != "" {
			if err := profiles.KeepProfile(tx, packets[0].ClientID, nil, "delivery", string(s.Way)); err != nil {
				return Sent{}, err
			}
		}
		sent, err := packets[0].send(a, tx, s)
		tx.Describe(nil, nil, "%s", wording.Capital(sent.said))
		return sent, err
	})
}

// IssueAndSend issues a draft and hands the invoice over, both or neither.
func IssueAndSend(ctx context.Context, a *app.App, r app.Request, e drafts.Edit) (*drafts.Changed, error) {
	return app.Do(ctx, a, r, "issue invoice", []any{e, "and send"}, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := issuing.IssueWithin(tx, a, e)
		if err != nil {
			return nil, err
		}
		p, err := packetOf(tx.DB, inv.ID, Handover{})
		if err != nil {
			return nil, err
		}
		sent, err := p.send(a, tx, Handover{})
		if refused := new(app.Refusal); errors.As(err, &refused) {
			return nil, app.Refuse(app.Conflict, "%s Or issue it alone, and hand it over later.", refused.Sentence)
		}
		tx.AddAside(sent.said)
		return drafts.ChangedBy(tx, inv), err
	})
}

// BeginIssueAndSend issues drafts and hands over what was issued, in one job.
func BeginIssueAndSend(ctx context.Context, a *app.App, r app.Request, edits []drafts.Edit) (*app.Job, error) {
	return issuing.BeginIssueThen(ctx, a, r, edits, func(ctx context.Context, issued []int64) (string, error) {
		packets, err := packed(a.Read(ctx, r.Actor), issued, Handover{})
		if err != nil {
			return "", err
		}
		return sendAll(ctx, a, r, packets, Handover{}, func(int) {})
	})
}

// BeginSend hands many invoices over in the background, a letter at a time: one that can't go is left, and told.
func BeginSend(ctx context.Context, a *app.App, r app.Request, ids []int64, s Handover) (*app.Job, error) {
	before, try, err := a.Jobs.Try(ctx, a, r, "hand over", []any{ids, s})
	if before != nil || err != nil {
		return before, err
	}
	if s.To != "" || s.Subject != "" || s.Text != "" {
		return nil, app.Refuse(app.Invalid, "Addresses and texts are of one letter: open its invoice to give them.")
	}
	packets, err := packed(a.Read(ctx, r.Actor), ids, s)
	if err != nil {
		return nil, err
	}
	return a.Jobs.Begin(a, r, try, "hand over", 0, len(packets), "", func(ctx context.Context, _ int64, tell app.Progress) (string, error) {
		return sendAll(ctx, a, r, packets, s, tell)
	})
}

// sendAll sends packets, each as an act of its own, and says what became of them.
func sendAll(ctx context.Context, a *app.App, r app.Request, packets []*packet, s Handover, tell app.Progress) (string, error) {
	result := many{ways: map[core.Way]int{}}
	for i, p := range packets {
		if ctx.Err() != nil {
			break
		}
		if err := result.send(context.WithoutCancel(ctx), a, r, p, s); err != nil {
			return "", err
		}
		tell(i + 1)
	}
	return result.said(len(packets)), nil
}

// many is what has become of many letters.
type many struct {
	ways map[core.Way]int
	not  []string
}

func (m *many) send(ctx context.Context, a *app.App, r app.Request, p *packet, s Handover) error {
	ids := []int64{}
	for i := range p.Invoices {
		ids = append(ids, p.Invoices[i].ID)
	}
	sent, err := app.Do(ctx, a, app.Request{Actor: r.Actor}, "hand over", nil, func(tx *app.Tx) (Sent, error) {
		fresh, err := packed(tx.DB, ids, s)
		if err != nil {
			return Sent{}, err
		}
		if len(fresh) != 1 {
			return Sent{}, app.Refuse(app.Conflict, "What goes into one letter has changed meanwhile: send them again.")
		}
		if err := fresh[0].notYet(); err != nil {
			return Sent{}, err
		}
		sent, err := fresh[0].send(a, tx, s)
		tx.Describe(nil, nil, "%s", wording.Capital(sent.said))
		return sent, err
	})
	if refused := new(app.Refusal); errors.As(err, &refused) {
		m.not = append(m.not, p.numbers()+", "+p.Client+": "+refused.Sentence)
		return nil
	}
	m.ways[sent.Way] += sent.Letters
	return err
}

// notYet refuses what is with its client already: many are chosen in one go, and nobody wants to get a bill twice.
func (p *packet) notYet() error {
	for i := range p.Invoices {
		if h := p.Invoices[i].Handed; h.IsOut() || h == core.Standing(core.Queued) {
			return app.Refuse(app.Conflict, "%s was handed over already: open it to send it again.", p.Invoices[i].NumberText)
		}
	}
	return nil
}

var wayWords = map[core.Way]string{core.Mail: "by mail", core.Print: "to be printed", core.Post: "for the post", core.Download: "to be fetched"}

func (m *many) said(of int) string {
	said := []string{}
	for _, way := range []core.Way{core.Mail, core.Post, core.Print, core.Download} {
		if n := m.ways[way]; n > 0 {
			said = append(said, fmt.Sprintf("%s %s", app.Counted(n, "letter", "letters"), wayWords[way]))
		}
	}
	words := "Nothing was handed over."
	if len(said) > 0 {
		words = strings.Join(said, ", ") + "."
	}
	for i, why := range m.not {
		if i == 5 {
			return words + fmt.Sprintf(" And %d more of %d.", len(m.not)-i, of)
		}
		words += " " + why
	}
	return words
}

// send queues the letters of a packet, one to each who gets it, or notes that it is to be printed or fetched.
func (p *packet) send(a *app.App, tx *app.Tx, s Handover) (Sent, error) {
	if p.isDraft() {
		return Sent{}, app.Refuse(app.Conflict, "It is a draft: issue it first.")
	}
	if p.Problem != "" {
		return Sent{}, app.Refuse(app.Conflict, "%s", p.Problem)
	}
	tx.LinkTo("clients", p.ClientID)
	for i := range p.Invoices {
		tx.LinkTo(app.OfInvoice, p.Invoices[i].ID)
	}
	if p.way != core.Mail {
		_, err := p.deliver(tx, core.Addressee{Name: p.Client})
		return Sent{1, p.way, p.numbers() + " is " + wayWords[p.way]}, err
	}
	texts, err := store.LetterTexts(tx.DB)
	if err != nil {
		return Sent{}, err
	}
	files, err := p.files(a, tx, p.attach(s))
	if err != nil {
		return Sent{}, err
	}
	names := []string{}
	for i, to := range p.to {
		if err := p.mail(tx, texts, to, s, files, i == 0); err != nil {
			return Sent{}, err
		}
		names = append(names, to.Mail)
	}
	return Sent{len(p.to), core.Mail, "sent " + p.numbers() + " to " + strings.Join(names, ", ")}, nil
}

// deliver notes one attempt to hand a packet to somebody.
func (p *packet) deliver(tx *app.Tx, to core.Addressee) (*store.Delivery, error) {
	d := &store.Delivery{EntityID: p.EntityID, ClientID: p.ClientID, ActID: tx.ActID, Kind: p.Kind, Way: p.way, State: core.Queued,
		ToName: to.Name, ToMail: to.Mail, Name: p.Name, DepositID: p.DepositID, MadeAt: tx.Now}
	if err := store.Insert(tx.DB, d); err != nil || len(p.Invoices) == 0 {
		return d, err
	}
	within, ids := []store.Delivered{}, []int64{}
	for i := range p.Invoices {
		within = append(within, store.Delivered{DeliveryID: d.ID, InvoiceID: p.Invoices[i].ID, Revision: p.Invoices[i].Revision})
		ids = append(ids, p.Invoices[i].ID)
	}
	if err := store.Insert(tx.DB, within); err != nil {
		return nil, err
	}
	return d, correspondence.Stand(tx.DB, ids)
}

// mail queues the letter to one person; a copy for the firm goes with the first.
func (p *packet) mail(tx *app.Tx, texts []store.LetterText, to core.Addressee, s Handover, files []store.MailFile, first bool) error {
	values, err := p.values(tx.DB, to, s.Word)
	if err != nil {
		return err
	}
	subject, body, open := p.written(texts, values, s)
	if len(open) > 0 {
		return app.RefuseField("text", "The letter has places that nothing stands in: {%s}. Change its text.", strings.Join(open, "}, {"))
	}
	d, err := p.deliver(tx, to)
	if err != nil {
		return err
	}
	copies := []string{}
	for _, c := range []string{to.Copies, s.Copies} {
		if strings.TrimSpace(c) != "" {
			copies = append(copies, c)
		}
	}
	m := store.Mail{ClientID: &p.ClientID, DeliveryID: &d.ID, EntityID: &p.EntityID, EndsReminders: p.Kind == core.Reminder, ToName: to.Name, ToMail: to.Mail,
		Copies: strings.Join(copies, ", "), Subject: subject, Body: body, Links: p.links(tx.Now, body), Files: files}
	if first {
		m.Blind = p.profile.Text("copy_to")
	}
	return correspondence.Queue(tx, m)
}
