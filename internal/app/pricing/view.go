package pricing

import (
	"fmt"
	"slices"
	"strings"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/store"
)

// Grid is the content with its figures, which follow what is typed.
type Grid struct {
	Typed    TypedProposal `json:"typed"`
	Lines    []LineView    `json:"lines"`
	Totals   []TotalRow    `json:"totals"`
	Tiers    []TierFact    `json:"tiers"`
	Start    day.Day       `json:"start" doc:"the first day of service, assumed if it starts when accepted"`
	Assumed  bool          `json:"assumed"`
	Findings []Finding     `json:"findings"`
}

// LineView is a line with what stands in its cells.
type LineView struct {
	Said  string     `json:"said" doc:"price and rule in words"`
	Cells []CellView `json:"cells"`
}

// CellView is what stands in a cell, and under it.
type CellView struct {
	State core.State `json:"state" enum:"in,optional,out"`
	Main  string     `json:"main"`
	Under string     `json:"under,omitempty"`
	Typed string     `json:"typed" doc:"what is edited: the price of a fixed line, or what stands in the cell"`
}

// TotalRow is a row of totals, a figure for each tier.
type TotalRow struct {
	Name    string   `json:"name" doc:"by which its explanation is asked"`
	Label   string   `json:"label"`
	Tone    string   `json:"tone" enum:"plain,strong,soft"`
	Figures []string `json:"figures"`
}

// TierFact is what a tier comes to and earns.
type TierFact struct {
	FirstYear money.Amount  `json:"firstYear"`
	Cost      *money.Amount `json:"cost,omitempty" doc:"of the expected time, for who may see it"`
	Minutes   int64         `json:"minutes"`
	Margin    string        `json:"margin,omitempty" doc:"percent, rounded for reading"`
}

// Finding is something to look at before the proposal is sent. Stops is whether
// it can't be sent like this.
type Finding struct {
	Where    string `json:"where" doc:"the field, such as lines.2.when"`
	Sentence string `json:"sentence"`
	Stops    bool   `json:"stops"`
}

// priced is an offer computed for every tier: with no option, and with all.
type priced struct {
	none, all []core.Result
}

func (b *proposalContext) price(c Content) (priced, error) {
	accepted := b.today
	if !c.ShownFor.IsZero() {
		accepted = c.ShownFor
	}
	s, err := b.setting(c.Offer, accepted)
	if err != nil {
		return priced{}, err
	}
	p := priced{}
	for tier := range c.Offer.Tiers {
		none, err := core.Compute(c.Offer, core.Choice{Tier: tier}, s)
		if err != nil {
			return p, err
		}
		all, err := core.Compute(c.Offer, core.Choice{Tier: tier, Everything: true}, s)
		if err != nil {
			return p, err
		}
		p.none, p.all = append(p.none, none), append(p.all, all)
	}
	return p, nil
}

// grid shows content with its figures. Of what earns, only those see who may.
func (b *proposalContext) grid(c Content) (*Grid, error) {
	p, err := b.price(c)
	if err != nil {
		return nil, err
	}
	g := &Grid{Typed: b.typed(c), Lines: []LineView{}, Totals: totalRows(c.Offer, p, b.costs), Tiers: []TierFact{}, Start: p.none[0].Start,
		Assumed: p.none[0].Assumed, Findings: []Finding{}}
	for i, l := range c.Offer.Lines {
		view := LineView{Said: l.Say(b.mark, b.decimals), Cells: []CellView{}}
		for tier, cell := range l.Cells {
			view.Cells = append(view.Cells, b.cellView(l, cell, priceIn(p.none[tier], i)))
		}
		g.Lines = append(g.Lines, view)
	}
	for _, r := range p.none {
		fact := TierFact{FirstYear: r.FirstYear.Net, Minutes: r.Earns.Minutes}
		if b.costs {
			fact.Cost = &r.Earns.Cost
		}
		if b.costs && r.Earns.Margin != nil {
			fact.Margin = rounded(*r.Earns.Margin)
		}
		g.Tiers = append(g.Tiers, fact)
	}
	g.Findings = b.findings(c, p)
	return g, nil
}

func priceIn(r core.Result, line int) core.Priced {
	i := slices.IndexFunc(r.Lines, func(l core.InTier) bool { return l.Line == line })
	if i < 0 {
		return core.Priced{}
	}
	return r.Lines[i].Priced
}

func (b *proposalContext) cellView(l core.Line, c core.Cell, p core.Priced) CellView {
	v := CellView{State: c.State, Typed: c.Typed(l, b.mark, b.decimals)}
	if c.State == core.In && l.Kind == core.Fixed && c.Price == nil && c.Quantity == 0 && l.Price != nil {
		v.Typed = money.TypeFixed(int64(*l.Price), b.mark, 4, b.decimals)
	}
	switch {
	case c.State == core.Out:
		v.Main = "not in it"
		return v
	case l.Kind == core.Open:
		v.Main = "when billed"
	case l.Kind == core.Fixed && p.Quantity == core.One:
		v.Main = p.Net.String()
	case p.Quantity == 0: // an hourly line, by its expected time
		v.Main, v.Under = p.Net.String(), fmt.Sprintf("%s h at %s", hours(p.Minutes), p.Price)
	default:
		v.Main, v.Under = quantityWords(l, p.Quantity), p.Net.String()
	}
	if c.Asks {
		v.Under = strings.TrimSpace("client chooses " + v.Under)
	}
	return v
}

func quantityWords(l core.Line, quantity int64) string {
	unit := l.Unit
	switch {
	case l.Kind == core.Hourly:
		unit = "h"
	case unit == "":
		return core.Quantity(quantity) + " ×"
	case quantity != core.One:
		unit += "s"
	}
	return core.Quantity(quantity) + " " + unit
}

func hours(minutes int64) string {
	tenths, _ := money.MulDiv(minutes, 100, 60)
	return money.TypeFixed(tenths, money.Point, 2, 0)
}

// rounded is a percentage in whole percent, for reading.
func rounded(p money.Percent) string {
	n, _ := money.MulDiv(int64(p), 1, 1_0000)
	return fmt.Sprint(n)
}

// ratio is a percentage as a factor with two decimals, for reading.
func ratio(p money.Percent) string {
	n, _ := money.MulDiv(int64(p), 1, 1_0000)
	return money.TypeFixed(n, money.Point, 2, 2)
}

// firstTerms are the terms that a new firm begins with, as long as nobody changed them.
const firstTerms = "1. {firm} does for {client} the work described above, from {start}.\n" +
	"2. Prices are net of tax. Prices hold for {term}.\n3. Bills are due {payment_terms}.\n4. Either side may end recurring work with a month's notice, after the least term."

// findings are what should be looked at before it is sent.
func (b *proposalContext) findings(c Content, p priced) []Finding {
	found := []Finding{}
	add := func(stops bool, where, sentence string, values ...any) {
		found = append(found, Finding{where, fmt.Sprintf(sentence, values...), stops})
	}
	if len(c.Offer.Lines) == 0 {
		add(true, "lines", "There is no service yet: add the first.")
	}
	if c.ValidUntil < b.today {
		add(true, "validUntil", "It was valid until %s: give a later day.", c.ValidUntil.Long())
	}
	for i, tier := range c.Offer.Tiers {
		if tier.Name == "" && len(c.Offer.Tiers) > 1 {
			add(true, fmt.Sprintf("tiers.%d", i), "Tier %d has no name: the client chooses by it.", i+1)
		}
		if len(c.Offer.Lines) > 0 && len(p.none[i].Lines) == 0 {
			add(true, fmt.Sprintf("tiers.%d", i), "Nothing is in the tier %s.", tier.Name)
		}
	}
	for i, l := range c.Offer.Lines {
		if l.Kind != core.Open && l.Kind != core.Bands && l.Price == nil &&
			slices.ContainsFunc(l.Cells, func(c core.Cell) bool { return c.State != core.Out && c.Price == nil }) {
			add(true, fmt.Sprintf("lines.%d.price", i), "%s has no price.", l.Description)
		}
		if l.Kind == core.Hourly && l.Quantity == 0 && len(l.Expected) == 0 &&
			slices.ContainsFunc(l.Cells, func(c core.Cell) bool { return c.State != core.Out && c.Quantity == 0 }) {
			add(true, fmt.Sprintf("lines.%d.expected", i), "%s is priced by the hour, and no hours are expected.", l.Description)
		}
	}
	if c.Terms == firstTerms {
		add(false, "terms", "These terms came with the program: have a lawyer read them before a client signs, and keep your own "+
			"under Set-up.")
	}
	if b.costs && slices.ContainsFunc(p.all, func(r core.Result) bool { return r.Earns.WithoutCost > 0 }) {
		add(false, "lines", "Some expected time has no cost rate: the margin is not known.")
	}
	return found
}

// text is a template of a purpose: the first.
func (b *proposalContext) text(purpose string) (string, error) {
	texts, err := store.TextsFor(b.tx, purpose)
	if err != nil || len(texts) == 0 {
		return "", err
	}
	return texts[0].Text, nil
}
