package pricing

import (
	"context"
	"errors"
	"fmt"
	"strings"
	"time"

	core "dorvet/core/pricing"

	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// ofProposal is the subject under which a proposal's history stands.
const ofProposal = "proposal"

// Begun says for whom a proposal is begun: a client, or a prospect made in place.
type Begun struct {
	ClientID int64  `json:"clientId,omitempty"`
	Prospect string `json:"prospect,omitempty" maxLength:"200" doc:"the name of somebody new"`
	Name     string `json:"name" maxLength:"200" doc:"for us; empty: the client's name and the year"`
}

// ProposalMade is a proposal that was made.
type ProposalMade struct {
	ID int64 `json:"id"`
}

// Begin makes a draft with one tier and no service yet.
func Begin(ctx context.Context, a *app.App, r app.Request, begun Begun) (ProposalMade, error) {
	return app.Do(ctx, a, r, "begin proposal", begun, func(tx *app.Tx) (ProposalMade, error) {
		client, err := clientFor(tx, begun)
		if err != nil {
			return ProposalMade{}, err
		}
		b, err := newProposalContext(tx.DB, tx.Today, client.ID, client.Currency, tx.Actor.SeesCosts())
		if err != nil {
			return ProposalMade{}, err
		}
		c, err := b.blank(client, b.leadFor(tx.Actor, client), strings.TrimSpace(begun.Name))
		if err != nil {
			return ProposalMade{}, err
		}
		p, err := insert(tx, client, c, nil)
		if err != nil {
			return ProposalMade{}, err
		}
		tx.Describe(nil, nil, "Began the proposal %s, %s", p.NumberText, p.Name)
		return ProposalMade{p.ID}, nil
	})
}

// clientFor finds the client, or makes a prospect.
func clientFor(tx *app.Tx, begun Begun) (*store.Client, error) {
	id := begun.ClientID
	if name := strings.TrimSpace(begun.Prospect); id == 0 {
		if name == "" {
			return nil, app.RefuseField("prospect", "For whom is it? Choose a client, or type the name of somebody new.")
		}
		made, err := registry.Make(tx, "clients", map[string]string{"name": name, "status": "prospect", "onboarded": "yes"})
		if refused := new(app.Refusal); errors.As(err, &refused) { // the name of the client, not of the proposal
			return nil, app.RefuseField("prospect", "%s", refused.Sentence)
		}
		if err != nil {
			return nil, err
		}
		id = made
	}
	client, err := store.Get[store.Client](tx.DB, id)
	if err == nil && !client.Active {
		err = app.RefuseField("clientId", "%s is inactive: take the client back first.", client.Name)
	}
	return client, app.Missing(err, "client")
}

// leadFor is who leads new work for a client: a lead's own; of an administrator,
// whoever is responsible for the client, if that is somebody who leads.
func (b *proposalContext) leadFor(actor app.Actor, client *store.Client) int64 {
	for _, p := range b.people {
		if actor.Role == app.Administrator && client.ResponsibleID != nil && p.ID == *client.ResponsibleID && p.Active &&
			p.Role == string(app.Lead) {
			return p.ID
		}
	}
	return actor.PersonID
}

// blank is what a new proposal says.
func (b *proposalContext) blank(client *store.Client, lead int64, name string) (Content, error) {
	if name == "" {
		name = fmt.Sprintf("%s %d", client.Name, b.today.Time().Year())
	}
	c := Content{Name: name, LeadID: lead, ValidUntil: b.today.AddDays(b.firm.ProposalDays), Shows: showsPrices,
		Pays: paysLater,
		Ways: []string{"card", "debit"}, Subject: "Our proposal: {title}",
		Offer: core.Offer{Currency: b.currency, Tiers: []core.Tier{{Name: "Proposal"}}, Lines: []core.Line{}}}
	opening := "opening_new"
	known, err := store.Knows(b.tx, client.ID)
	if err != nil {
		return c, err
	}
	if known {
		opening = "opening_known"
	}
	for _, part := range []struct {
		purpose string
		to      *string
	}{{opening, &c.Opening}, {"terms", &c.Terms}, {"after_signing", &c.After}, {"mail", &c.Mail}} {
		text, err := b.text(part.purpose)
		if err != nil {
			return c, err
		}
		*part.to = text
	}
	if b.firm.ProposalText != "" {
		c.Opening = b.firm.ProposalText
	}
	return c, nil
}

// insert writes a new proposal with its next number and first version.
func insert(tx *app.Tx, client *store.Client, c Content, from *store.Proposal) (*store.Proposal, error) {
	entity, err := entityOf(tx, from)
	if err != nil {
		return nil, err
	}
	p := &store.Proposal{EntityID: entity.ID, ClientID: client.ID, Number: entity.ProposalNext,
		NumberText: fmt.Sprintf("%s%d", entity.ProposalPrefix, entity.ProposalNext),
		Currency:   c.Offer.Currency, State: core.Draft, Draft: 1, MadeAt: tx.Now}
	if from != nil {
		p.MadeFromID = &from.ID
	}
	entity.ProposalNext++
	if err := store.Save(tx.DB, entity); err != nil {
		return nil, err
	}
	if err := take(tx, p, c); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, p); err != nil {
		return nil, err
	}
	tx.LinkTo(ofProposal, p.ID)
	tx.LinkTo("clients", client.ID)
	return p, store.Insert(tx.DB, &store.ProposalDraft{ProposalID: p.ID, Draft: 1, Content: c.text(), At: tx.Now,
		PersonID: tx.Actor.PersonID})
}

func entityOf(tx *app.Tx, from *store.Proposal) (*store.IssuingEntity, error) {
	if from != nil {
		return store.Get[store.IssuingEntity](tx.DB, from.EntityID)
	}
	person, err := store.Get[store.Person](tx.DB, tx.Actor.PersonID)
	if err != nil {
		return nil, err
	}
	return store.Get[store.IssuingEntity](tx.DB, person.EntityID)
}

// take writes on the proposal's row what lists show of its content.
func take(tx *app.Tx, p *store.Proposal, c Content) error {
	p.Name, p.Title, p.ValidUntil, p.SavedAt, p.LeadID = c.Name, c.ForClient(), c.ValidUntil, tx.Now, c.LeadID
	b, err := newProposalContext(tx.DB, tx.Today, p.ClientID, p.Currency, tx.Actor.SeesCosts())
	if err != nil {
		return err
	}
	s, err := b.setting(core.Offer{}, tx.Today)
	if err != nil {
		return err
	}
	r, err := core.Compute(c.Offer, core.Choice{Tier: max(c.Offer.Suggested-1, 0)}, s)
	p.FirstYear = r.FirstYear.Net.Minor
	return app.InField("lines", err)
}

// together is how long changes of one person make one version.
const together = 10 * time.Minute

// Saving is typed content with the version that was seen.
type Saving struct {
	ID      int64
	Version int64
	Typed   TypedProposal
}

// Save keeps what was typed in a draft. Changes that follow each other closely
// make one version; the history has each.
func Save(ctx context.Context, a *app.App, r app.Request, s Saving) (*Proposal, error) {
	return app.Do(ctx, a, r, "change proposal", s, func(tx *app.Tx) (*Proposal, error) {
		return change(tx, s.ID, s.Version, func(b *proposalContext, was Content) (Content, error) { return b.parse(s.Typed) })
	})
}

// Restore takes an earlier version again, as a new one.
func Restore(ctx context.Context, a *app.App, r app.Request, id, version int64, draft int) (*Proposal, error) {
	return app.Do(ctx, a, r, "take a version again", []any{id, version, draft}, func(tx *app.Tx) (*Proposal, error) {
		return change(tx, id, version, func(*proposalContext, Content) (Content, error) {
			earlier, err := store.DraftOf(tx.DB, id, draft)
			if err != nil {
				return Content{}, app.Missing(err, "version")
			}
			return readContent(earlier.Content)
		})
	})
}

// change replaces the content of a draft by another.
func change(tx *app.Tx, id, version int64, make func(*proposalContext, Content) (Content, error)) (*Proposal, error) {
	p, err := opened(tx, id, version, core.Change)
	if err != nil {
		return nil, err
	}
	was, draft, err := contentOf(tx.DB, p)
	if err != nil {
		return nil, err
	}
	b, err := newProposalContext(tx.DB, tx.Today, p.ClientID, p.Currency, tx.Actor.SeesCosts())
	if err != nil {
		return nil, err
	}
	c, err := make(b, was)
	if err != nil {
		return nil, err
	}
	before, after := b.difference(was, c)
	if len(after) == 0 && len(before) == 0 {
		return b.view(p, c)
	}
	tx.Describe(before, after, "Changed %s", changed(before, after))
	tx.LinkTo(ofProposal, p.ID)
	if err := keepDraft(tx, p, draft, c); err != nil {
		return nil, err
	}
	if _, err := visibleProposal(tx.DB, tx.Actor, p.ID); err != nil {
		return nil, app.RefuseField("lead", "You would not see it any more: only an administrator gives a proposal to another lead.")
	}
	return b.view(p, c)
}

// opened reads a proposal for an act, in the version that was seen.
func opened(tx *app.Tx, id, version int64, act core.Act) (*store.Proposal, error) {
	p, err := visibleProposal(tx.DB, tx.Actor, id)
	if err != nil {
		return nil, err
	}
	if p.Version != version {
		return nil, store.ErrStale
	}
	_, err = p.State.On(tx.Today, p.ValidUntil).After(act)
	return p, app.AsConflict(err)
}

func keepDraft(tx *app.Tx, p *store.Proposal, newest *store.ProposalDraft, c Content) error {
	sameHand := newest.PersonID == tx.Actor.PersonID && tx.Now.Sub(newest.At) < together
	row := store.ProposalDraft{ProposalID: p.ID, Draft: p.Draft, Content: c.text(), At: tx.Now, PersonID: tx.Actor.PersonID}
	if sameHand {
		row.ID = newest.ID
		if err := store.WriteDraft(tx.DB, &row); err != nil {
			return err
		}
	} else {
		p.Draft++
		row.Draft = p.Draft
		if err := store.Insert(tx.DB, &row); err != nil {
			return err
		}
	}
	if err := take(tx, p, c); err != nil {
		return err
	}
	return store.Save(tx.DB, p)
}

// Delete throws a draft away that was never sent.
func Delete(ctx context.Context, a *app.App, r app.Request, id, version int64) error {
	_, err := app.Do(ctx, a, r, "delete proposal", []any{id, version}, func(tx *app.Tx) (struct{}, error) {
		p, err := opened(tx, id, version, core.Delete)
		if err != nil {
			return struct{}{}, err
		}
		c, _, err := contentOf(tx.DB, p)
		if err != nil {
			return struct{}{}, err
		}
		tx.Describe(c, nil, "Deleted the draft %s, %s", p.NumberText, p.Name)
		tx.LinkTo(ofProposal, p.ID)
		tx.LinkTo("clients", p.ClientID)
		return struct{}{}, store.DropProposal(tx.DB, p.ID)
	})
	return err
}
