package pricing

import (
	"strings"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/tax"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// proposalContext is what reading, pricing and showing a proposal needs to know.
type proposalContext struct {
	costs    bool // whether who asks sees what work costs the firm
	tx       *store.DB
	firm     *store.Firm
	today    day.Day
	mark     money.Mark
	currency money.Currency
	decimals int
	codes    map[string]tax.Code
	codeIDs  map[string]int64
	people   []store.Person
	grades   []store.Grade
	rates    []store.Rate
}

func newProposalContext(tx *store.DB, today day.Day, clientID int64, currency money.Currency, costs bool) (*proposalContext, error) {
	b := &proposalContext{costs: costs, tx: tx, today: today, currency: currency, codes: map[string]tax.Code{}, codeIDs: map[string]int64{}}
	var err error
	if b.firm, err = store.TheFirm(tx); err != nil {
		return nil, err
	}
	b.mark = b.firm.Mark()
	if b.decimals, err = currency.Decimals(); err != nil {
		return nil, err
	}
	codes, err := store.TaxCodes(tx)
	if err != nil {
		return nil, err
	}
	for id, code := range codes {
		b.codes[code.Code], b.codeIDs[code.Code] = code, id
	}
	seconds, err := profiles.Nearest(tx, "second_tax", clientID)
	if err != nil {
		return nil, err
	}
	b.codes = tax.SecondOn(seconds(clientID, 0)).Taken(b.codes)
	if b.people, err = store.All[store.Person](tx, "id"); err != nil {
		return nil, err
	}
	if b.grades, err = store.All[store.Grade](tx, "id"); err != nil {
		return nil, err
	}
	b.rates, err = store.StandardRates(tx)
	return b, err
}

// worker finds a person by initials or name, or a grade by its name.
func (b *proposalContext) worker(text string) (core.Worker, bool) {
	text = strings.TrimSpace(text)
	for _, p := range b.people {
		if p.Active && (strings.EqualFold(p.Initials, text) || strings.EqualFold(p.Name, text)) {
			return core.Worker{PersonID: p.ID}, true
		}
	}
	for _, g := range b.grades {
		if strings.EqualFold(g.Name, text) {
			return core.Worker{GradeID: g.ID}, true
		}
	}
	return core.Worker{}, false
}

func (b *proposalContext) workerName(w core.Worker) string {
	for _, p := range b.people {
		if w.PersonID == p.ID {
			return p.Initials
		}
	}
	for _, g := range b.grades {
		if w.GradeID == g.ID {
			return g.Name
		}
	}
	return ""
}

// setting is what an offer is computed in, if it is accepted on a day.
func (b *proposalContext) setting(o core.Offer, accepted day.Day) (core.Setting, error) {
	s := core.Setting{Accepted: accepted, Codes: b.codes, Hours: map[core.Worker]core.HourRates{}, CostCurrency: b.firm.Currency,
		CostExchange: money.Par}
	for _, l := range o.Lines {
		for _, e := range l.Expected {
			s.Hours[e.Worker] = b.hourRates(e.Worker, accepted)
		}
	}
	if o.Currency == b.firm.Currency || len(s.Hours) == 0 {
		return s, nil
	}
	x, _, err := setup.Exchange(b.tx, b.firm, o.Currency, b.today)
	if err != nil {
		return s, err
	}
	s.CostExchange, err = x.Inverse()
	return s, err
}

// hourRates are what an hour of somebody costs, and what anybody would pay.
func (b *proposalContext) hourRates(w core.Worker, on day.Day) core.HourRates {
	grade := w.GradeID
	for _, p := range b.people {
		if p.ID == w.PersonID && p.GradeID != nil {
			grade = *p.GradeID
		}
	}
	rows := map[string][]rate.Row{}
	for _, r := range b.rates {
		if (r.GradeID != nil && *r.GradeID != grade) || (r.PersonID != nil && *r.PersonID != w.PersonID) {
			continue
		}
		row := rate.Row{Level: r.Level, From: r.FromDay, Currency: r.Currency, None: r.PerHour == nil}
		if r.PerHour != nil {
			row.PerHour = *r.PerHour
		}
		rows[r.Kind] = append(rows[r.Kind], row)
	}
	found := core.HourRates{}
	if perHour, ok := rate.Standard(on, b.firm.Currency, rows["cost"]).PerHour(); ok {
		found.Cost = &perHour
	}
	if perHour, ok := rate.Standard(on, b.currency, rows["bill"]).PerHour(); ok {
		found.Standard = &perHour
	}
	return found
}

// seen reads a proposal that the actor may see.
func visibleProposal(tx *store.DB, actor app.Actor, id int64) (*store.Proposal, error) {
	p, err := store.ProposalSeen(tx, id)
	return p, app.Missing(err, "proposal")
}

// opening reads a proposal that the actor may see, its newest content, and the
// book for it.
func opening(tx *store.DB, today day.Day, actor app.Actor, id int64) (*proposalContext, *store.Proposal, Content, error) {
	p, err := visibleProposal(tx, actor, id)
	if err != nil {
		return nil, nil, Content{}, err
	}
	c, _, err := contentOf(tx, p)
	if err != nil {
		return nil, nil, Content{}, err
	}
	b, err := newProposalContext(tx, today, p.ClientID, p.Currency, actor.SeesCosts())
	return b, p, c, err
}

// contentOf reads the newest version of a proposal's content.
func contentOf(tx *store.DB, p *store.Proposal) (Content, *store.ProposalDraft, error) {
	draft, err := store.DraftOf(tx, p.ID, p.Draft)
	if err != nil {
		return Content{}, nil, err
	}
	c, err := readContent(draft.Content)
	return c, draft, err
}
