package pricing

import (
	"context"
	"encoding/base64"
	"errors"
	"fmt"
	"strings"

	core "dorvet/core/pricing"
	"dorvet/core/wording"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// What clients do, through a link and without an account.

// guest is who holds a link, with the proposal that it opens.
type guest struct {
	link     *store.Link
	proposal *store.Proposal
}

func openGuest(a *app.App, tx *store.DB, secret string) (*guest, error) {
	link, err := correspondence.OpenLink(a, tx, store.ForProposal, secret)
	if err != nil {
		return nil, err
	}
	p, err := store.Get[store.Proposal](tx, link.SubjectID)
	if err == nil {
		p.State = p.State.On(a.Clock.Today(), p.ValidUntil)
	}
	return &guest{link, p}, err
}

func (g *guest) request() app.Request {
	return app.Request{Actor: app.Actor{Outsider: fmt.Sprintf("%s (%s)", g.link.Name, g.link.Mail)}}
}

// may refuses an act that the proposal's state does not allow, in a sentence.
func (g *guest) may(act core.Act) error {
	_, err := g.proposal.State.After(act)
	return app.AsConflict(err)
}

// ReadPage shows the proposal to whoever holds a link, before anything is chosen with the firm's
// colour and logo. It changes nothing.
func ReadPage(ctx context.Context, a *app.App, secret string, chosen *Chosen) (*Page, error) {
	tx := a.Store.Read(ctx, store.Everything)
	g, err := openGuest(a, tx, secret)
	if err != nil {
		return nil, err
	}
	page, err := pageOf(tx, a, g.proposal, chosen)
	if err != nil || chosen != nil { // the logo is there already
		return page, err
	}
	b, err := newProposalContext(tx, a.Clock.Today(), g.proposal.ClientID, g.proposal.Currency, false)
	if err != nil {
		return nil, err
	}
	colour, logo, err := b.look(a, g.proposal.ClientID)
	if page.Colour = colour; len(logo) > 0 {
		page.Logo = "data:image/png;base64," + base64.StdEncoding.EncodeToString(logo)
	}
	return page, err
}

// PreviewPage shows the page of a draft to whoever prices it.
func PreviewPage(ctx context.Context, a *app.App, actor app.Actor, id int64, chosen *Chosen) (*Page, error) {
	tx := a.Read(ctx, actor)
	p, err := visibleProposal(tx, actor, id)
	if err != nil {
		return nil, err
	}
	p.State = p.State.On(a.Clock.Today(), p.ValidUntil)
	return pageOf(tx, a, p, chosen)
}

func pageOf(tx *store.DB, a *app.App, p *store.Proposal, chosen *Chosen) (*Page, error) {
	c, _, err := contentOf(tx, p)
	if err != nil {
		return nil, err
	}
	b, err := newProposalContext(tx, a.Clock.Today(), p.ClientID, p.Currency, false)
	if err != nil {
		return nil, err
	}
	on := a.Clock.Today()
	if p.State == core.Draft && !c.ShownFor.IsZero() {
		on = c.ShownFor
	}
	answer, err := store.AnswerOf(tx, p.ID)
	if err != nil {
		return nil, err
	}
	choice := core.Choice{Tier: max(c.Offer.Suggested-1, 0)}
	switch {
	case answer != nil && answer.Accepted:
		on = answer.Day
		if c, err = readContent(answer.Content); err != nil { // as it was agreed, whatever has changed since
			return nil, err
		}
		choice, err = readChoice(answer.Choice)
	case chosen != nil:
		choice, err = b.choice(c.Offer, *chosen)
	}
	if err != nil {
		return nil, app.InField("quantities", err)
	}
	page, err := b.page(p, c, choice, on)
	if err != nil {
		return nil, app.InField("lines", err)
	}
	return page, b.tell(p, c, answer, page)
}

// tell adds to a page what was answered and asked.
func (b *proposalContext) tell(p *store.Proposal, c Content, answer *store.ProposalAnswer, page *Page) error {
	if p.State != core.Draft && !p.State.IsOut() {
		_, why := p.State.After(core.Accept)
		page.Notice = wording.Capital(why.Error()) + "."
	}
	questions, err := store.QuestionsOn(b.tx, p.ID)
	if err != nil {
		return err
	}
	for _, q := range questions {
		page.Asked = append(page.Asked, PageQuestion{q.Text, q.Answer})
	}
	if answer == nil {
		return nil
	}
	values, err := b.values(p, c, answer.Name)
	if err != nil {
		return err
	}
	after, _ := letter.Fill(c.After, values)
	way, err := paymentMethodWords(b.tx, answer.PaymentMethodID)
	page.Answer = &PageAnswer{answer.Accepted, answer.Name, answer.Day, after, way}
	return err
}

// MarkSeen notes that the page was opened by its script: a mail scanner, which
// only fetches, does not set it.
func MarkSeen(ctx context.Context, a *app.App, secret string) error {
	g, err := openGuest(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil || (g.link.SeenAt != nil && g.proposal.SeenAt != nil) {
		return err
	}
	_, err = app.Do(ctx, a, g.request(), "see proposal", nil, func(tx *app.Tx) (struct{}, error) {
		g, err := openGuest(a, tx.DB, secret)
		if err != nil {
			return struct{}{}, err
		}
		tx.Describe(nil, nil, "Opened %s", g.proposal.NumberText)
		tx.LinkTo(ofProposal, g.proposal.ID)
		if g.link.SeenAt == nil {
			g.link.SeenAt = &tx.Now
		}
		p := g.proposal
		if p.SeenAt == nil {
			p.SeenAt = &tx.Now
			if p.State == core.Sent {
				p.State = core.Seen
			}
			if p.State == core.Expired { // by the day, not by an act
				p.State = core.Seen
			}
			if err := store.Save(tx.DB, p); err != nil {
				return struct{}{}, err
			}
		}
		return struct{}{}, store.SetLinkSeen(tx.DB, g.link)
	})
	return err
}

// MailNewer mails a link to the version that has taken a proposal's place, to
// whoever holds a link to the old one.
func MailNewer(ctx context.Context, a *app.App, secret string) error {
	return doneAsGuest(ctx, a, secret, "ask for the newer version", "", func(tx *app.Tx, g *guest) error {
		newer, err := outInPlaceOf(tx.DB, g.proposal.ID)
		if err != nil {
			return err
		}
		tx.Describe(nil, nil, "Asked for the newer version of %s", g.proposal.NumberText)
		tx.LinkTo(ofProposal, newer.ID)
		end := linkEnd(newer.ValidUntil)
		return correspondence.Queue(tx, store.Mail{ClientID: &newer.ClientID, ProposalID: &newer.ID, ToName: g.link.Name, ToMail: g.link.Mail,
			Subject: "The newer version: " + newer.Title,
			Body: fmt.Sprintf("Dear %s,\n\nthis is the version that has taken the place of “%s”: {link}\n", g.link.Name,
				g.proposal.Title),
			Links: correspondence.OneLink(store.ForProposal, newer.ID, end)})
	})
}

// outInPlaceOf follows those that took a proposal's place to the last that was
// sent.
func outInPlaceOf(tx *store.DB, id int64) (*store.Proposal, error) {
	var found *store.Proposal
	for {
		next, err := store.ReplacedBy(tx, id)
		if err != nil {
			return nil, err
		}
		p, err := store.Get[store.Proposal](tx, next)
		if errors.Is(err, store.ErrNotFound) {
			break // nothing took its place
		}
		if err != nil {
			return nil, err
		}
		if p.State == core.Draft {
			break
		}
		found, id = p, p.ID
	}
	if found == nil {
		return nil, app.Refuse(app.NotFound, "There is no newer version that was sent.")
	}
	return found, nil
}

// AskQuestion keeps a client's question and tells the lead.
func AskQuestion(ctx context.Context, a *app.App, secret, text string) error {
	text = strings.TrimSpace(text)
	if text == "" {
		return app.RefuseField("text", "Type your question first.")
	}
	return doneAsGuest(ctx, a, secret, "ask about proposal", core.Ask, func(tx *app.Tx, g *guest) error {
		p := g.proposal
		tx.Describe(nil, nil, "Asked: %s", text)
		tx.Notify(p.LeadID, nil, "%s asks about %s: %s", g.link.Name, p.NumberText, text)
		return store.Insert(tx.DB, &store.ProposalQuestion{ProposalID: p.ID, Name: g.link.Name, Mail: g.link.Mail, Text: text, At: tx.Now})
	})
}

// asGuest runs an act of whoever holds a link, if the proposal's state allows it (no act
// needs nothing of it). What the link opens is read in the transaction: one that was
// withdrawn meanwhile opens nothing.
func asGuest[T any](ctx context.Context, a *app.App, secret, kind string, needs core.Act, act func(*app.Tx, *guest) (T, error)) (none T,
	err error) {
	g, err := openGuest(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return none, err
	}
	return app.Do(ctx, a, g.request(), kind, nil, func(tx *app.Tx) (T, error) {
		g, err := openGuest(a, tx.DB, secret)
		if err != nil {
			return none, err
		}
		tx.LinkTo(ofProposal, g.proposal.ID)
		if needs != "" {
			if err := g.may(needs); err != nil {
				return none, err
			}
		}
		return act(tx, g)
	})
}

// doneAsGuest is [asGuest] of an act that answers nothing.
func doneAsGuest(ctx context.Context, a *app.App, secret, kind string, needs core.Act, act func(*app.Tx, *guest) error) error {
	_, err := asGuest(ctx, a, secret, kind, needs, func(tx *app.Tx, g *guest) (struct{}, error) { return struct{}{}, act(tx, g) })
	return err
}
