package pricing

import (
	"context"
	"fmt"
	"net/mail"
	"slices"
	"strings"
	"time"

	core "dorvet/core/pricing"

	"dorvet/core/letter"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/store"
)

// A link signs, and the code before it goes to the address of the link: so a link is mailed
// only to those whom the firm knows, and to others when the lead has said yes.

// Passing is somebody to whom a proposal is to be passed on.
type Passing struct {
	ID      int64     `json:"id"`
	Version int64     `json:"version"`
	By      string    `json:"by"`
	Name    string    `json:"name"`
	Mail    string    `json:"mail"`
	Word    string    `json:"word"`
	At      time.Time `json:"at"`
}

// Passed says what has come of passing a proposal on.
type Passed struct {
	Sent bool `json:"sent" doc:"whether it is on its way; else the firm is asked first"`
}

// PassOn passes a proposal on to whoever signs at the client's. Contacts of the client get
// a link of their own at once, and where the firm allows it other addresses of the
// client's own domain; for anybody else the lead is asked.
func PassOn(ctx context.Context, a *app.App, secret, name, address, word string) (Passed, error) {
	name, address, word = strings.Join(strings.Fields(name), " "), strings.TrimSpace(address), strings.TrimSpace(word)
	if name == "" {
		return Passed{}, app.RefuseField("name", "Who is it? Give a name.")
	}
	if _, err := mail.ParseAddress(address); err != nil {
		return Passed{}, app.RefuseField("mail", "%q is no mail address: write it like name@client.example.", address)
	}
	return asGuest(ctx, a, secret, "pass proposal on", core.Ask, func(tx *app.Tx, g *guest) (Passed, error) {
		row := &store.ProposalPassing{ProposalID: g.proposal.ID, ByName: g.link.Name, ByMail: g.link.Mail, Name: name, Mail: address,
			Word: word,
			At:   tx.Now, State: "asked"}
		known, err := reaches(tx, g.proposal, address)
		if err != nil {
			return Passed{}, err
		}
		if known {
			tx.Describe(nil, nil, "Passed %s on to %s, %s", g.proposal.NumberText, name, address)
			return Passed{Sent: true}, passTo(tx, g.proposal, row)
		}
		return Passed{}, askToPass(tx, g.proposal, row)
	})
}

// askToPass asks the lead whether a proposal goes to somebody whom the firm does not know;
// what was asked for already is asked once.
func askToPass(tx *app.Tx, p *store.Proposal, row *store.ProposalPassing) error {
	waiting, err := store.PassingsOf(tx.DB, p.ID)
	if err != nil || slices.ContainsFunc(waiting, func(w store.ProposalPassing) bool { return letter.SameAddress(w.Mail, row.Mail) }) {
		return err
	}
	tx.Describe(nil, nil, "Asked to pass %s on to %s, %s", p.NumberText, row.Name, row.Mail)
	tx.Notify(p.LeadID, nil, "%s asks to pass %s on to %s, %s: say yes or no beside the proposal.", row.ByName, p.NumberText, row.Name,
		row.Mail)
	return store.Insert(tx.DB, row)
}

// reaches reports whether a proposal may go to an address without asking.
func reaches(tx *app.Tx, p *store.Proposal, address string) (bool, error) {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return false, err
	}
	known, err := store.AddressesOf(tx.DB, p.ClientID)
	if err != nil {
		return false, err
	}
	return slices.ContainsFunc(known, func(one string) bool { return letter.SameAddress(one, address) }) || firm.PassWithinDomain &&
		letter.SameHouse(address, known), nil
}

// passTo mails somebody a link of their own.
func passTo(tx *app.Tx, p *store.Proposal, to *store.ProposalPassing) error {
	body := fmt.Sprintf("Dear %s,\n\n%s passes the proposal “%s” on to you: {link}\n", to.Name, to.ByName, p.Title)
	if to.Word != "" {
		body += "\n" + to.Word + "\n"
	}
	end := linkEnd(p.ValidUntil)
	return correspondence.Queue(tx, store.Mail{ClientID: &p.ClientID, ProposalID: &p.ID, ToName: to.Name, ToMail: to.Mail,
		Subject: "A proposal for you to sign: " + p.Title, Body: body,
		Links: correspondence.OneLink(store.ForProposal, p.ID, end)})
}

// AnswerPassing mails the link that a client asked to pass on, or refuses to.
func AnswerPassing(ctx context.Context, a *app.App, r app.Request, id, passingID, version int64, yes bool) (*Proposal, error) {
	return app.Do(ctx, a, r, "answer passing on", []any{id, passingID, version, yes}, func(tx *app.Tx) (*Proposal, error) {
		p, err := visibleProposal(tx.DB, tx.Actor, id)
		if err != nil {
			return nil, err
		}
		row, err := store.Get[store.ProposalPassing](tx.DB, passingID)
		if err := app.Unless(err, app.Missing(store.ErrNotFound, "request"), func() bool { return row.ProposalID == p.ID }); err != nil {
			return nil, err
		}
		if row.Version != version || row.State != "asked" {
			return nil, store.ErrStale
		}
		row.State, row.PersonID = "refused", &tx.Actor.PersonID
		tx.Describe(nil, nil, "Refused to pass %s on to %s, %s", p.NumberText, row.Name, row.Mail)
		if yes {
			if _, err := p.State.On(tx.Today, p.ValidUntil).After(core.Ask); err != nil {
				return nil, app.AsConflict(err)
			}
			row.State = "sent"
			tx.Describe(nil, nil, "Passed %s on to %s, %s", p.NumberText, row.Name, row.Mail)
			if err := passTo(tx, p, row); err != nil {
				return nil, err
			}
		}
		tx.LinkTo(ofProposal, p.ID)
		if err := store.Save(tx.DB, row); err != nil {
			return nil, err
		}
		return one(tx.DB, tx.Today, tx.Actor, id)
	})
}
