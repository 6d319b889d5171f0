package pricing

import (
	"context"
	"strings"
	"time"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/letter"
	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// Sending says how a proposal goes out.
type Sending struct {
	Version int64  `json:"version"`
	Name    string `json:"name" maxLength:"200" doc:"of whoever gets it"`
	Mail    string `json:"mail" maxLength:"200" doc:"the code before a signature goes there, too"`
	Copies  string `json:"copies" maxLength:"500"`
	Word    string `json:"word" maxLength:"5000" doc:"a personal word above the mail"`
	Mailed  bool   `json:"mailed" doc:"false: only a link is made, to be given by hand"`
}

// SentOut is what sending gave: the link, where it is to be given by hand.
type SentOut struct {
	Link string `json:"link,omitempty"`
}

// HasSecret implements app.Secretive.
func (s SentOut) HasSecret() bool { return s.Link != "" }

// Send puts a proposal out: by mail, or by a link that is given by hand. What it
// replaces is superseded. Sent again it is only mailed again.
func Send(ctx context.Context, a *app.App, r app.Request, id int64, s Sending) (SentOut, error) {
	return app.Do(ctx, a, r, "send proposal", []any{id, s}, func(tx *app.Tx) (SentOut, error) {
		p, err := opened(tx, id, s.Version, core.Send)
		if err != nil {
			return SentOut{}, err
		}
		c, b, err := sendable(a, tx, p, s)
		if err != nil {
			return SentOut{}, err
		}
		if p.State == core.Draft {
			if err := goOut(tx, p); err != nil {
				return SentOut{}, err
			}
		}
		if err := store.Save(tx.DB, p); err != nil {
			return SentOut{}, err
		}
		tx.LinkTo(ofProposal, p.ID)
		tx.LinkTo("clients", p.ClientID)
		if !s.Mailed {
			tx.Describe(nil, nil, "Put %s out with a link for %s", p.NumberText, s.Name)
			link, err := correspondence.MakeLink(a, tx.DB, &store.Link{Purpose: store.ForProposal, SubjectID: p.ID, Name: s.Name, Mail: s.Mail,
				ExpiresAt: linkEnd(c.ValidUntil)})
			return SentOut{link}, err
		}
		tx.Describe(nil, nil, "Sent %s to %s, %s", p.NumberText, s.Name, s.Mail)
		m, err := b.mail(p, c, s)
		if err != nil {
			return SentOut{}, err
		}
		return SentOut{}, correspondence.Queue(tx, m)
	})
}

// linkEnd is when a link to a proposal stops working: well after its last day,
// so that it can still say that the day is over.
func linkEnd(validUntil day.Day) time.Time { return validUntil.Time().Add(correspondence.LinkLife) }

// sendable refuses what is not complete, before anybody sees it.
func sendable(a *app.App, tx *app.Tx, p *store.Proposal, s Sending) (Content, *proposalContext, error) {
	c, _, err := contentOf(tx.DB, p)
	if err != nil {
		return c, nil, err
	}
	b, err := newProposalContext(tx.DB, tx.Today, p.ClientID, p.Currency, tx.Actor.SeesCosts())
	if err != nil {
		return c, nil, err
	}
	if strings.TrimSpace(s.Name) == "" || strings.TrimSpace(s.Mail) == "" {
		return c, nil, app.RefuseField("mail", "Who gets it? Give a name and a mail address: the code before the signature goes there.")
	}
	priced, err := b.price(c)
	if err != nil {
		return c, nil, app.InField("lines", err)
	}
	open, err := b.openPlaces(p, c, s.Name, s.Mailed)
	if err != nil {
		return c, nil, err
	}
	if err := refuseOpen(append(b.findings(c, priced), open...)); err != nil {
		return c, nil, err
	}
	doc, err := b.document(a, p, c, core.Choice{}, tx.Today, nil)
	if err == nil {
		_, err = a.RenderProposal(doc)
	}
	return c, b, app.InField("lines", err)
}

// goOut makes a draft a sent proposal, in the place of what it replaces.
func goOut(tx *app.Tx, p *store.Proposal) error {
	p.State, p.SentDay, p.SentAt = core.Sent, tx.Today, &tx.Now
	if p.ReplacesID == nil {
		return nil
	}
	old, err := store.Get[store.Proposal](tx.DB, *p.ReplacesID)
	if err != nil {
		return err
	}
	if old.State, err = old.State.After(core.Supersede); err != nil {
		return app.AsConflict(err)
	}
	tx.LinkTo(ofProposal, old.ID)
	return store.Save(tx.DB, old)
}

// mail is the mail with a proposal. Its link is made when it is delivered.
func (b *proposalContext) mail(p *store.Proposal, c Content, s Sending) (store.Mail, error) {
	values, err := b.values(p, c, s.Name)
	if err != nil {
		return store.Mail{}, err
	}
	values["link"] = "{link}"
	subject, _ := letter.Fill(c.Subject, values)
	body, _ := letter.Fill(c.Mail, values)
	if !strings.Contains(body, "{link}") {
		body += "\n\n{link}"
	}
	if word := strings.TrimSpace(s.Word); word != "" {
		body = word + "\n\n" + body
	}
	end := linkEnd(c.ValidUntil)
	return store.Mail{ClientID: &p.ClientID, ProposalID: &p.ID, ToName: s.Name, ToMail: s.Mail, Copies: s.Copies, Subject: subject,
		Body:  body,
		Links: correspondence.OneLink(store.ForProposal, p.ID, end)}, nil
}

// MailPreview is the mail as it would go out.
type MailPreview struct {
	Subject string `json:"subject"`
	Body    string `json:"body"`
	Problem string `json:"problem,omitempty" doc:"why no mail can go out, and what to do"`
	Stays   bool   `json:"stays" doc:"mails are kept on this machine, because no mail server is set"`
}

// PreviewMail shows the mail to somebody.
func PreviewMail(ctx context.Context, a *app.App, actor app.Actor, id int64, s Sending) (*MailPreview, error) {
	b, p, c, err := opening(a.Read(ctx, actor), a.Clock.Today(), actor, id)
	if err != nil {
		return nil, err
	}
	m, err := b.mail(p, c, s)
	if err != nil {
		return nil, err
	}
	preview := &MailPreview{Subject: m.Subject, Body: strings.ReplaceAll(m.Body, "{link}", a.Address+"/proposal#…"), Stays: a.MailStays}
	if _, err = correspondence.Sender(b.tx, nil); refusal.Is(err) {
		preview.Problem, err = err.Error(), nil
	}
	return preview, err
}

// Withdraw takes a proposal back that is out; its links say so.
func Withdraw(ctx context.Context, a *app.App, r app.Request, id, version int64) (*Proposal, error) {
	return app.Do(ctx, a, r, "withdraw proposal", []any{id, version, r.Reason}, func(tx *app.Tx) (*Proposal, error) {
		p, err := opened(tx, id, version, core.Withdraw)
		if err != nil {
			return nil, err
		}
		p.State = core.Withdrawn
		tx.Describe(nil, nil, "Withdrew %s", p.NumberText)
		tx.LinkTo(ofProposal, p.ID)
		tx.LinkTo("clients", p.ClientID)
		if err := store.Save(tx.DB, p); err != nil {
			return nil, err
		}
		return one(tx.DB, tx.Today, tx.Actor, id)
	})
}

// EndLinks makes all links to a proposal stop working.
func EndLinks(ctx context.Context, a *app.App, r app.Request, id int64) error {
	_, err := app.Do(ctx, a, r, "end links", id, func(tx *app.Tx) (struct{}, error) {
		p, err := visibleProposal(tx.DB, tx.Actor, id)
		if err != nil {
			return struct{}{}, err
		}
		tx.Describe(nil, nil, "Ended all links to %s", p.NumberText)
		tx.LinkTo(ofProposal, p.ID)
		return struct{}{}, store.WithdrawLinks(tx.DB, store.ForProposal, p.ID, tx.Now)
	})
	return err
}
