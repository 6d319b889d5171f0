package pricing

import (
	"context"
	"fmt"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Copying says what is made from an old proposal.
type Copying struct {
	ClientID int64 `json:"clientId,omitempty" doc:"for another client; 0: the same"`
	Reread   bool  `json:"reread" doc:"take the prices that the catalogue has now"`
	Replaces bool  `json:"replaces" doc:"it takes the place of the old one when it is sent"`
}

// CopyMade is the new proposal, with the prices that are different in it.
type CopyMade struct {
	ID          int64        `json:"id"`
	Differences []Difference `json:"differences"`
}

// Difference is a price that is not what it was.
type Difference struct {
	Line string `json:"line"`
	Was  string `json:"was"`
	Is   string `json:"is"`
}

// Copy makes a new draft from an old proposal in any state.
func Copy(ctx context.Context, a *app.App, r app.Request, id int64, copied Copying) (CopyMade, error) {
	return app.Do(ctx, a, r, "copy proposal", []any{id, copied}, func(tx *app.Tx) (CopyMade, error) {
		old, err := visibleProposal(tx.DB, tx.Actor, id)
		if err != nil {
			return CopyMade{}, err
		}
		c, _, err := contentOf(tx.DB, old)
		if err != nil {
			return CopyMade{}, err
		}
		client, err := clientFor(tx, Begun{ClientID: firstID(copied.ClientID, old.ClientID)})
		if err != nil {
			return CopyMade{}, err
		}
		if client.Currency != old.Currency {
			return CopyMade{}, app.RefuseField("clientId", "%s is billed in %s, and these prices are in %s: begin a new proposal.",
				client.Name,
				client.Currency, old.Currency)
		}
		b, err := newProposalContext(tx.DB, tx.Today, old.ClientID, old.Currency, tx.Actor.SeesCosts())
		if err != nil {
			return CopyMade{}, err
		}
		renew(&c, b, old.Name)
		made := CopyMade{Differences: []Difference{}}
		if copied.Reread {
			if made.Differences, err = b.reread(&c.Offer); err != nil {
				return made, err
			}
		}
		return made.insert(tx, old, client, c, copied.Replaces)
	})
}

func firstID(ids ...int64) int64 {
	for _, id := range ids {
		if id != 0 {
			return id
		}
	}
	return 0
}

// renew makes an old content ready to be sent now. A start that is over is open
// again.
func renew(c *Content, b *proposalContext, name string) {
	c.Name, c.ValidUntil, c.ShownFor = name, b.today.AddDays(b.firm.ProposalDays), day.Day(0)
	if !c.Offer.StartsOn.IsZero() && c.Offer.StartsOn < b.today {
		c.Offer.StartsOn = 0
	}
}

func (made CopyMade) insert(tx *app.Tx, old *store.Proposal, client *store.Client, c Content, replaces bool) (CopyMade, error) {
	if replaces {
		if _, err := old.State.On(tx.Today, old.ValidUntil).After(core.Supersede); err != nil {
			return made, app.AsConflict(err)
		}
	}
	p, err := insert(tx, client, c, old)
	if err != nil {
		return made, err
	}
	if replaces {
		p.ReplacesID = &old.ID
		if err := store.Save(tx.DB, p); err != nil {
			return made, err
		}
	}
	tx.LinkTo(ofProposal, old.ID)
	tx.Describe(nil, nil, "Made %s from %s", p.NumberText, old.NumberText)
	made.ID = p.ID
	return made, nil
}

// reread takes the catalogue's present prices for lines that come from it, and
// tells what is different.
func (b *proposalContext) reread(o *core.Offer) ([]Difference, error) {
	found := []Difference{}
	for i := range o.Lines {
		l := &o.Lines[i]
		if l.ServiceID == 0 || l.Kind == core.Bands || l.Kind == core.Open {
			continue
		}
		service, err := store.Get[store.Service](b.tx, l.ServiceID)
		if err != nil {
			continue // gone from the catalogue: the old price stays
		}
		now := b.priceOf(service)
		if now == nil || (l.Price != nil && *l.Price == *now) {
			continue
		}
		was := "none"
		if l.Price != nil {
			was = l.Price.String()
		}
		found = append(found, Difference{l.Description, was, now.String()})
		l.Price = now
	}
	return found, nil
}

// priceOf is what the catalogue says that a service costs: its price, or the
// rate of an hour.
func (b *proposalContext) priceOf(s *store.Service) *money.Rate {
	if s.Kind == "time" {
		return b.hourRates(core.Worker{}, b.today).Standard
	}
	if s.Currency != b.currency {
		return nil
	}
	return s.Price
}

// FromCatalogue is a line as the catalogue has it.
func FromCatalogue(ctx context.Context, a *app.App, actor app.Actor, id, serviceID int64) (*TypedLine, error) {
	tx := a.Read(ctx, actor)
	b, p, _, err := opening(tx, a.Clock.Today(), actor, id)
	if err != nil {
		return nil, err
	}
	line, err := b.blankLine(p)
	if err != nil || serviceID == 0 {
		return line, err
	}
	service, err := store.Get[store.Service](tx, serviceID)
	if err != nil {
		return nil, app.Missing(err, "service")
	}
	kinds := map[string]core.Kind{"time": core.Hourly, "unit": core.PerUnit, "fixed": core.Fixed}
	line.About = service.About
	line.ServiceID, line.Description, line.Text, line.Kind, line.Unit = service.ID, service.Name, service.TermsText,
		string(kinds[service.Kind]), service.Unit
	if price := b.priceOf(service); price != nil {
		line.Price = money.TypeFixed(int64(*price), b.mark, 4, b.decimals)
	}
	if service.Minutes > 0 {
		line.Expected = b.typedHours(int64(service.Minutes))
	}
	if service.TaxCodeID != nil {
		for code, codeID := range b.codeIDs {
			if codeID == *service.TaxCodeID {
				line.TaxCode = code
			}
		}
	}
	return line, nil
}

// blankLine is a line with nothing in it but the client's tax code.
func (b *proposalContext) blankLine(p *store.Proposal) (*TypedLine, error) {
	taxCode, err := b.taxCodeOf(p.ClientID)
	return &TypedLine{Kind: string(core.Fixed), TaxCode: taxCode, When: "on acceptance", Cells: []string{}}, err
}

func (b *proposalContext) taxCodeOf(clientID int64) (string, error) {
	of, err := store.ProfileLayers(b.tx, []int64{clientID}, nil)
	if err != nil {
		return "", fmt.Errorf("read how the client is taxed: %w", err)
	}
	return profileText(of(clientID, 0), "tax_code"), nil
}
