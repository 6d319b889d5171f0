package pricing

import (
	"context"
	"time"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// Proposal is a proposal in the editor.
type Proposal struct {
	ID         int64                `json:"id"`
	Version    int64                `json:"version"`
	Number     string               `json:"number"`
	Draft      int                  `json:"draft" doc:"the version of its content"`
	State      core.ProposalState   `json:"state"`
	SavedAt    time.Time            `json:"savedAt"`
	ClientID   int64                `json:"clientId"`
	Client     string               `json:"client"`
	Prospect   bool                 `json:"prospect"`
	LeadID     int64                `json:"leadId"`
	Lead       string               `json:"lead"`
	Currency   money.Currency       `json:"currency"`
	FirstYear  money.Amount         `json:"firstYear" doc:"of the suggested tier, or as it was agreed; net"`
	SentDay    day.Day              `json:"sentDay"`
	SeenAt     *time.Time           `json:"seenAt,omitempty"`
	Replaces   int64                `json:"replaces,omitempty"`
	ReplacedBy int64                `json:"replacedBy,omitempty"`
	Grid       Grid                 `json:"grid"`
	Answer     *AnswerView          `json:"answer,omitempty"`
	Questions  []QuestionView       `json:"questions"`
	Passings   []Passing            `json:"passings" doc:"to whom the client asks to pass it on"`
	Links      []LinkView           `json:"links"`
	Mails      []MailView           `json:"mails"`
	TaxCodes   []profiles.TaxChoice `json:"taxCodes" doc:"that lines can have"`
	Contacts   []ContactView        `json:"contacts" doc:"who at the client gets proposals"`
}

// ContactView is somebody to whom it can be sent.
type ContactView struct {
	Name string `json:"name"`
	Mail string `json:"mail"`
}

// One opens a proposal.
func One(ctx context.Context, a *app.App, actor app.Actor, id int64) (*Proposal, error) {
	return one(a.Read(ctx, actor), a.Clock.Today(), actor, id)
}

func one(tx *store.DB, today day.Day, actor app.Actor, id int64) (*Proposal, error) {
	b, p, c, err := opening(tx, today, actor, id)
	if err != nil {
		return nil, err
	}
	return b.view(p, c)
}

func (b *proposalContext) view(p *store.Proposal, c Content) (*Proposal, error) {
	client, err := store.Get[store.Client](b.tx, p.ClientID)
	if err != nil {
		return nil, err
	}
	lead, err := store.Get[store.Person](b.tx, p.LeadID)
	if err != nil {
		return nil, err
	}
	status, err := store.StatusOf(b.tx, p.ClientID)
	if err != nil {
		return nil, err
	}
	v := &Proposal{ID: p.ID, Version: p.Version, Number: p.NumberText, Draft: p.Draft, State: p.State.On(b.today, p.ValidUntil),
		SavedAt: p.SavedAt, ClientID: p.ClientID, Client: client.Name,
		Prospect: status != nil && status.Name == "prospect", LeadID: p.LeadID, Lead: lead.Name, Currency: p.Currency,
		FirstYear: money.Amount{Minor: p.FirstYear, Currency: p.Currency}, SentDay: p.SentDay, SeenAt: p.SeenAt}
	if p.ReplacesID != nil {
		v.Replaces = *p.ReplacesID
	}
	if p.State == core.Accepted { // as it was on the day on which it was agreed
		c.ShownFor = p.AnsweredDay
	}
	grid, err := b.gridWith(p, c)
	if err != nil {
		return nil, err
	}
	v.Grid = *grid
	return v, b.related(p, client, v)
}

// gridWith is the grid with what its texts leave open.
func (b *proposalContext) gridWith(p *store.Proposal, c Content) (*Grid, error) {
	g, err := b.grid(c)
	if err != nil {
		return nil, app.InField("lines", err)
	}
	open, err := b.openPlaces(p, c, "", true)
	g.Findings = append(g.Findings, open...)
	return g, err
}

// PriceTyped shows what typed content comes to, and keeps nothing.
func PriceTyped(ctx context.Context, a *app.App, actor app.Actor, id int64, t TypedProposal) (*Grid, error) {
	b, p, _, err := opening(a.Read(ctx, actor), a.Clock.Today(), actor, id)
	if err != nil {
		return nil, err
	}
	c, err := b.parse(t)
	if err != nil {
		return nil, err
	}
	return b.gridWith(p, c)
}
