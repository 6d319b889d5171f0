package pricing

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/identity"
	"dorvet/internal/store"
)

// Signing is an acceptance on the client's page.
type Signing struct {
	Chosen          Chosen `json:"chosen"`
	Gross           string `json:"gross" maxLength:"40" doc:"the total that was shown, so that nothing else is signed"`
	Name            string `json:"name" maxLength:"200" doc:"typed as a signature"`
	Code            string `json:"code" maxLength:"20"`
	PaymentMethodID int64  `json:"wayId,omitempty"`
}

func readChoice(text string) (core.Choice, error) {
	c := core.Choice{}
	err := json.Unmarshal([]byte(text), &c)
	return c, err
}

// Accept signs a proposal through a link. Of several at once, one is taken.
func Accept(ctx context.Context, a *app.App, secret, address string, s Signing) error {
	g, err := openGuest(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return err
	}
	if err := g.may(core.Accept); err != nil {
		return err
	}
	if len(strings.TrimSpace(s.Name)) < 2 {
		return app.RefuseField("name", "Type your name: it stands for your signature.")
	}
	if err := useCode(ctx, a, secret, s.Code); err != nil {
		return err
	}
	return doneAsGuest(ctx, a, secret, "accept proposal", core.Accept, func(tx *app.Tx, g *guest) error {
		answer := store.ProposalAnswer{Name: strings.TrimSpace(s.Name), Mail: g.link.Mail, Address: address}
		if s.PaymentMethodID != 0 {
			if err := takePaymentMethod(tx, g.proposal, s.PaymentMethodID); err != nil {
				return err
			}
			answer.PaymentMethodID = &s.PaymentMethodID
		}
		g.link.CodeDigest = "" // a code signs once
		if err := store.SetCode(tx.DB, g.link); err != nil {
			return err
		}
		return accept(tx, a, g.proposal, answer, s.Chosen, s.Gross)
	})
}

// takePaymentMethod makes the way of paying count that was given on the page.
func takePaymentMethod(tx *app.Tx, p *store.Proposal, id int64) error {
	way, err := store.Get[store.PaymentMethod](tx.DB, id)
	if err := app.Unless(err, app.RefuseField("wayId", "Give the way of paying again."),
		func() bool { return way.ClientID == p.ClientID }); err != nil {
		return err
	}
	way.Active = true
	if err := store.Save(tx.DB, way); err != nil || way.Kind != "debit" {
		return err
	}
	client, err := store.Get[store.Client](tx.DB, p.ClientID)
	if err != nil {
		return err
	}
	return identity.TellAdministrators(tx, "An account to debit was given",
		fmt.Sprintf("%s gave an account to debit, ending in %s, with the acceptance of %s.", client.Name, way.LastFour, p.NumberText))
}

// ByHand is an acceptance that was given elsewhere.
type ByHand struct {
	Version  int64    `json:"version"`
	Chosen   Chosen   `json:"chosen"`
	Name     string   `json:"name" maxLength:"200" doc:"who accepted"`
	Day      day.Day  `json:"day" format:"date"`
	Evidence string   `json:"evidence" maxLength:"5000" doc:"how it is known: a letter, a call, a signed copy"`
	File     KeptFile `json:"file,omitzero" doc:"the letter or the signed copy itself"`
}

// Record records an acceptance that was given elsewhere, with its evidence.
func Record(ctx context.Context, a *app.App, r app.Request, id int64, h ByHand) (*Proposal, error) {
	return app.Do(ctx, a, r, "record acceptance", []any{id, h}, func(tx *app.Tx) (*Proposal, error) {
		p, err := opened(tx, id, h.Version, core.Accept)
		if err != nil {
			return nil, err
		}
		switch {
		case strings.TrimSpace(h.Name) == "":
			return nil, app.RefuseField("name", "Who accepted? Give the name.")
		case strings.TrimSpace(h.Evidence) == "":
			return nil, app.RefuseField("evidence", "How is it known? Say where the letter, mail or signed copy is.")
		case h.Day.IsZero() || h.Day > tx.Today:
			return nil, app.RefuseField("day", "On which day was it accepted? Give today or a day before.")
		}
		if err := checkFile(tx.DB, "file", h.File); err != nil {
			return nil, err
		}
		tx.LinkTo(ofProposal, p.ID)
		answer := store.ProposalAnswer{Name: strings.TrimSpace(h.Name), Day: h.Day, Evidence: strings.TrimSpace(h.Evidence),
			EvidenceFile: h.File.Digest, EvidenceName: h.File.Name, PersonID: &tx.Actor.PersonID}
		if err := accept(tx, a, p, answer, h.Chosen, ""); err != nil {
			return nil, err
		}
		return one(tx.DB, tx.Today, tx.Actor, id)
	})
}

// accept freezes everything agreed and makes of it what is to be done: client,
// engagements, plan of bills, budget. It is one transaction with the answer.
func accept(tx *app.Tx, a *app.App, p *store.Proposal, answer store.ProposalAnswer, chosen Chosen, shown string) error {
	c, _, err := contentOf(tx.DB, p)
	if err != nil {
		return err
	}
	b, err := newProposalContext(tx.DB, tx.Today, p.ClientID, p.Currency, tx.Actor.SeesCosts())
	if err != nil {
		return err
	}
	choice, err := b.choice(c.Offer, chosen)
	if err != nil {
		return app.InField("quantities", err)
	}
	if answer.Day.IsZero() {
		answer.Day = tx.Today
	}
	s, err := b.setting(c.Offer, answer.Day)
	if err != nil {
		return err
	}
	result, err := core.Compute(c.Offer, choice, s)
	if err != nil {
		return app.InField("lines", err)
	}
	switch {
	case shown != "" && shown != result.FirstYear.Gross.String():
		return app.Refuse(app.Conflict, "The total is %s now, not %s as it was shown. Load the page again and look once more.",
			result.FirstYear.Gross, shown)
	case c.Pays == paysNow && answer.PaymentMethodID == nil && answer.PersonID == nil:
		return app.RefuseField("wayId", "A way of paying is asked for here: give a card or an account first.")
	}
	plan, err := b.agree(tx, p, c, result)
	if err != nil {
		return err
	}
	answer.ProposalID, answer.Accepted, answer.Tier, answer.At = p.ID, true, choice.Tier, tx.Now
	answer.Planned, answer.Deposits = plan.planned, plan.deposits
	if err := freeze(tx, a, b, p, c, choice, &answer); err != nil {
		return err
	}
	p.State, p.AnsweredDay, p.AnsweredAt, p.FirstYear = core.Accepted, answer.Day, &tx.Now, result.FirstYear.Net.Minor
	tx.Describe(nil, nil, "Accepted %s, %s: %s, %s in the first year before tax. Signed by %s", p.NumberText, p.Title,
		c.Offer.Tiers[choice.Tier].Name, result.FirstYear.Net, answer.Name)
	tx.LinkTo("clients", p.ClientID)
	if tx.Actor.PersonID != p.LeadID {
		tx.Notify(p.LeadID, &plan.engagements[0], "%s has accepted %s, %s: %s in the first year.", answer.Name, p.NumberText, p.Title,
			result.FirstYear.Net)
	}
	return store.Save(tx.DB, p)
}

// freeze keeps the answer with all that was agreed, as data and as a document
// with the record of the signature, and mails the document to who signed.
func freeze(tx *app.Tx, a *app.App, b *proposalContext, p *store.Proposal, c Content, choice core.Choice,
	answer *store.ProposalAnswer) error {
	text, err := json.Marshal(choice)
	if err != nil {
		return err
	}
	values, err := b.values(p, c, answer.Name)
	if err != nil {
		return err
	}
	c.Terms, _ = letter.Fill(c.Terms, values)
	c.Opening, _ = letter.Fill(c.Opening, values)
	c.After, _ = letter.Fill(c.After, values)
	answer.Choice, answer.Content = string(text), c.text()
	doc, err := b.document(a, p, c, choice, answer.Day, answer)
	if err != nil {
		return err
	}
	file, err := a.RenderProposal(doc)
	if err != nil {
		return app.InField("name", err)
	}
	if answer.Document, err = a.Store.Keep(tx.DB, file, "application/pdf", tx.Now); err != nil {
		return err
	}
	if err := store.Insert(tx.DB, answer); err != nil {
		if store.IsDuplicate(err) {
			return app.Refuse(app.Conflict, "This proposal was answered already.")
		}
		return err
	}
	if answer.Mail == "" {
		return nil
	}
	return correspondence.Queue(tx, store.Mail{ClientID: &p.ClientID, ProposalID: &p.ID, ToName: answer.Name, ToMail: answer.Mail, Subject: "Signed: " +
		p.Title,
		Body:  fmt.Sprintf("Dear %s,\n\n%s\n\nYour signed copy is attached.\n", answer.Name, c.After),
		Files: []store.MailFile{{Digest: answer.Document, Name: p.NumberText + " signed.pdf", MediaType: "application/pdf"}}})
}

// Decline answers no, with a reason.
func Decline(ctx context.Context, a *app.App, secret, address, reason string) error {
	return doneAsGuest(ctx, a, secret, "decline proposal", core.Decline, func(tx *app.Tx, g *guest) error {
		p := g.proposal
		draft, err := store.DraftOf(tx.DB, p.ID, p.Draft)
		if err != nil {
			return err
		}
		reason = strings.TrimSpace(reason)
		answer := store.ProposalAnswer{ProposalID: p.ID, Choice: "{}", Name: g.link.Name, Mail: g.link.Mail, At: tx.Now, Day: tx.Today,
			Address: address, Reason: reason, Content: draft.Content}
		if err := store.Insert(tx.DB, &answer); err != nil {
			return err
		}
		p.State, p.AnsweredDay, p.AnsweredAt = core.Declined, tx.Today, &tx.Now
		tx.Describe(nil, nil, "Declined %s: %s", p.NumberText, reasonOr(reason))
		tx.LinkTo("clients", p.ClientID)
		tx.Notify(p.LeadID, nil, "%s has declined %s, %s: %s", g.link.Name, p.NumberText, p.Title, reasonOr(reason))
		return store.Save(tx.DB, p)
	})
}

func reasonOr(reason string) string {
	if reason == "" {
		return "no reason given"
	}
	return reason
}

// Signed is the document of an accepted proposal, for whoever holds a link.
func Signed(ctx context.Context, a *app.App, secret string) (name string, content []byte, err error) {
	g, err := openGuest(a, a.Store.Read(ctx, store.Everything), secret)
	if err != nil {
		return "", nil, err
	}
	return signedCopy(a, a.Store.Read(ctx, store.Everything), g.proposal)
}

// SignedFor is the document of an accepted proposal, for people of the firm.
func SignedFor(ctx context.Context, a *app.App, actor app.Actor, id int64) (name string, content []byte, err error) {
	p, err := visibleProposal(a.Read(ctx, actor), actor, id)
	if err != nil {
		return "", nil, err
	}
	return signedCopy(a, a.Read(ctx, actor), p)
}

func signedCopy(a *app.App, tx *store.DB, p *store.Proposal) (string, []byte, error) {
	answer, err := store.AnswerOf(tx, p.ID)
	if err != nil {
		return "", nil, err
	}
	if answer == nil || answer.Document == "" {
		return "", nil, app.Refuse(app.NotFound, "This proposal was not accepted: there is no signed copy.")
	}
	content, err := a.Store.Content(answer.Document)
	return p.NumberText + "-signed.pdf", content, err
}
