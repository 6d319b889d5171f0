package pricing

import (
	"fmt"
	"slices"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/letter"
	"dorvet/core/money"
	"dorvet/core/refusal"
	"dorvet/internal/store"
)

// Page is a proposal as the client sees it. Figures are text: the client's page
// computes nothing.
type Page struct {
	Firm       string             `json:"firm"`
	Address    string             `json:"address"`
	Web        string             `json:"web"`
	Number     string             `json:"number"`
	Title      string             `json:"title"`
	For        string             `json:"for"`
	Lead       string             `json:"lead"`
	State      core.ProposalState `json:"state"`
	Notice     string             `json:"notice,omitempty" doc:"why it can't be answered any more, and what to do"`
	ValidUntil day.Day            `json:"validUntil"`
	Currency   money.Currency     `json:"currency"`
	Colour     string             `json:"colour" doc:"of the firm, like #0F5F68; not beside figures"`
	Logo       string             `json:"logo" doc:"of the firm, as a data URL; not beside figures"`
	Opening    string             `json:"opening"`
	Terms      string             `json:"terms"`
	TermsFile  string             `json:"termsFile" doc:"the name of a document of terms, if there is one"`
	Start      day.Day            `json:"start"`
	Assumed    bool               `json:"assumed" doc:"the start is the day of acceptance; shown as if accepted today"`
	Term       string             `json:"term"`
	Pays       string             `json:"pays" enum:"no,later,now"`
	Ways       []string           `json:"ways"`
	Payment    string             `json:"payment" doc:"when each bill is due, and in which instalments it is paid"`
	Prices     bool               `json:"prices" doc:"whether each line shows its price"`
	Tiers      []PageTier         `json:"tiers"`
	Chosen     PageChoice         `json:"chosen"`
	Asked      []PageQuestion     `json:"asked"`
	Answer     *PageAnswer        `json:"answer,omitempty"`
}

// PageTier is a version to choose, with its own figure before options.
type PageTier struct {
	Name      string     `json:"name"`
	Note      string     `json:"note"`
	Suggested bool       `json:"suggested"`
	Figure    string     `json:"figure" doc:"first year before tax, without options"`
	Most      string     `json:"most,omitempty" doc:"with every option, where that is more"`
	Lines     []PageLine `json:"lines"`
}

// PageLine is a service in a tier.
type PageLine struct {
	Line        int    `json:"line"`
	Description string `json:"description"`
	About       string `json:"about" doc:"what the client gets"`
	Text        string `json:"text" doc:"its own terms"`
	When        string `json:"when"`
	Amount      string `json:"amount" doc:"each time, before tax; empty where prices do not show"`
	Made        string `json:"made,omitempty" doc:"how the amount comes about, like 12 h × 110.00"`
	Quantity    string `json:"quantity"`
	Optional    bool   `json:"optional"`
	Asks        bool   `json:"asks" doc:"the client chooses the quantity"`
	FirstYear   string `json:"firstYear,omitempty" doc:"what an option adds"`
}

// PageChoice is what the present choice comes to.
type PageChoice struct {
	Tier       int               `json:"tier"`
	Options    []int             `json:"options"`
	Quantities map[string]string `json:"quantities"`
	Rows       []PageRow         `json:"rows"`
	Discount   []PageRow         `json:"discount" doc:"on the whole: what it was before, and what comes off"`
	Net        string            `json:"net"`
	NetLabel   string            `json:"netLabel"`
	Taxes      []PageRow         `json:"taxes"`
	Gross      string            `json:"gross"`
	Whole      []PageRow         `json:"whole" doc:"the whole term, where it is not a year"`
	Open       bool              `json:"open" doc:"plus what is priced when billed"`
	Bills      []PageBill        `json:"bills"`
}

// PageRow is a label and a figure.
type PageRow struct {
	Label  string `json:"label"`
	Figure string `json:"figure"`
}

// PageBill is a bill that will come, or a deposit that is asked.
type PageBill struct {
	When    string `json:"when"`
	What    string `json:"what"`
	Net     string `json:"net"`
	Gross   string `json:"gross"`
	Deposit bool   `json:"deposit"`
}

// PageQuestion is what was asked, and the answer.
type PageQuestion struct {
	Text   string `json:"text"`
	Answer string `json:"answer"`
}

// PageAnswer is what the client answered.
type PageAnswer struct {
	Accepted bool    `json:"accepted"`
	Name     string  `json:"name"`
	Day      day.Day `json:"day"`
	After    string  `json:"after"`
	Way      string  `json:"way"`
}

// Chosen is what a client has chosen on the page.
type Chosen struct {
	Tier       int               `json:"tier" minimum:"0" maximum:"4"`
	Options    []int             `json:"options" maxItems:"200"`
	Quantities map[string]string `json:"quantities" doc:"as typed, by line"`
}

// choice reads what was chosen. What is not offered is refused.
func (b *proposalContext) choice(o core.Offer, chosen Chosen) (core.Choice, error) {
	c := core.Choice{Tier: chosen.Tier, Quantities: map[int]int64{}}
	if c.Tier < 0 || c.Tier >= len(o.Tiers) {
		return c, refusal.Errorf("there is no such version to choose")
	}
	for _, i := range chosen.Options {
		if i < 0 || i >= len(o.Lines) || o.Lines[i].Cells[c.Tier].State != core.Optional {
			continue // an option of another tier
		}
		c.Options = append(c.Options, i)
	}
	slices.Sort(c.Options)
	c.Options = slices.Compact(c.Options)
	for i, l := range o.Lines {
		text, typed := chosen.Quantities[fmt.Sprint(i)]
		if !typed || !l.Cells[c.Tier].Asks {
			continue
		}
		n, err := money.ParseFixed(text, b.mark, 4)
		if err != nil || n <= 0 || n > 1_000_000*core.One {
			return c, refusal.Errorf("%q is no quantity of %s: give a number above 0", text, l.Description)
		}
		c.Quantities[i] = n
	}
	return c, nil
}

// page shows a proposal as the client will see it, or sees it.
func (b *proposalContext) page(p *store.Proposal, c Content, choice core.Choice, on day.Day) (*Page, error) {
	s, err := b.setting(core.Offer{}, on)
	if err != nil {
		return nil, err
	}
	values, err := b.values(p, c, "")
	if err != nil {
		return nil, err
	}
	fill := func(text string) string { filled, _ := letter.Fill(text, values); return filled }
	page := &Page{Firm: b.firm.Name, Address: b.firm.Address, Web: b.firm.Web, Number: p.NumberText, Title: c.ForClient(),
		For: values["client"], Lead: values["lead"], State: p.State,
		ValidUntil: c.ValidUntil, Currency: c.Offer.Currency, Opening: fill(c.Opening), Terms: fill(c.Terms), TermsFile: c.TermsFile.Name,
		Pays: c.Pays, Ways: c.Ways, Payment: values["payment"], Prices: c.Shows == showsPrices,
		Term: values["term"], Tiers: []PageTier{}, Asked: []PageQuestion{}}
	for tier := range c.Offer.Tiers {
		t, err := b.pageTier(c, s, tier)
		if err != nil {
			return nil, err
		}
		page.Tiers = append(page.Tiers, t)
	}
	r, err := core.Compute(c.Offer, choice, s)
	if err != nil {
		return nil, err
	}
	page.Start, page.Assumed = r.Start, r.Assumed
	page.Chosen = b.pageChoice(c.Offer, choice, r)
	return page, nil
}

func (b *proposalContext) pageTier(c Content, s core.Setting, tier int) (PageTier, error) {
	o := c.Offer
	t := PageTier{Name: o.Tiers[tier].Name, Note: o.Tiers[tier].Note, Suggested: o.Suggested == tier+1, Lines: []PageLine{}}
	none, err := core.Compute(o, core.Choice{Tier: tier}, s)
	if err != nil {
		return t, err
	}
	all, err := core.Compute(o, core.Choice{Tier: tier, Everything: true}, s)
	if err != nil {
		return t, err
	}
	t.Figure = none.FirstYear.Net.String()
	if all.FirstYear.Net != none.FirstYear.Net {
		t.Most = all.FirstYear.Net.String()
	}
	for _, l := range none.Lines {
		line := o.Lines[l.Line]
		shown := PageLine{Line: l.Line, Description: line.Description, About: line.About, Text: line.Text, When: b.whenFor(c, line),
			Optional: l.State == core.Optional, Asks: l.Asks, Quantity: b.typedQuantity(l.Priced.Quantity)}
		if c.Shows == showsPrices {
			shown.Amount, shown.Made = l.Priced.Net.String(), line.Made(l.Priced, b.decimals)
			if shown.Made != "" && line.Kind != core.Bands {
				shown.When = b.whenAlone(line) // the price is said already
			}
			if l.Priced.Kind == core.Open {
				shown.Amount = "priced when billed"
			}
		}
		if shown.Optional {
			alone, err := core.Compute(o, core.Choice{Tier: tier, Options: []int{l.Line}}, s)
			if err != nil {
				return t, err
			}
			adds, err := alone.FirstYear.Net.Sub(none.FirstYear.Net)
			if err != nil {
				return t, err
			}
			shown.FirstYear = adds.String()
		}
		t.Lines = append(t.Lines, shown)
	}
	return t, nil
}

// whenAlone says when a line is billed, and no price.
func (b *proposalContext) whenAlone(l core.Line) string {
	l.Kind = core.Fixed
	return l.ForClient(b.decimals)
}

// whenFor says when a line is billed; where prices do not show, no more than that.
func (b *proposalContext) whenFor(c Content, l core.Line) string {
	if c.Shows != showsPrices {
		return b.whenAlone(l)
	}
	return l.ForClient(b.decimals)
}

func (b *proposalContext) typedQuantity(n int64) string {
	if n == 0 {
		return ""
	}
	return money.TypeFixed(n, b.mark, 4, 0)
}

func (b *proposalContext) pageChoice(o core.Offer, choice core.Choice, r core.Result) PageChoice {
	shown := PageChoice{Tier: choice.Tier, Options: choice.Options, Quantities: map[string]string{}, Rows: payRows(o, r),
		Net: r.FirstYear.Net.String(), NetLabel: "First year, before tax",
		Taxes: taxRows(r.FirstYear), Gross: r.FirstYear.Gross.String(), Whole: []PageRow{}, Discount: []PageRow{},
		Open: r.HasOpen, Bills: billRows(o, r)}
	if shown.Options == nil {
		shown.Options = []int{}
	}
	for i, n := range choice.Quantities {
		shown.Quantities[fmt.Sprint(i)] = b.typedQuantity(n)
	}
	if isWhole(r) {
		shown.NetLabel = wholeLabel(o)
	}
	if off := r.FirstYear.Off(); !off.IsZero() {
		before := money.Amount{Minor: r.FirstYear.Net.Minor + off.Minor, Currency: off.Currency}
		shown.Discount = []PageRow{{"Before the discount", before.String()}, {discountLabel(o), off.Neg().String()}}
	}
	if r.WholeTerm != nil && r.WholeTerm.Net != r.FirstYear.Net {
		shown.Whole = []PageRow{{fmt.Sprintf("All %d months, before tax", o.TermMonths), r.WholeTerm.Net.String()},
			{"with tax", r.WholeTerm.Gross.String()}}
	}
	return shown
}

// discountLabel names the discount on the whole.
func discountLabel(o core.Offer) string {
	if o.Discount.Percent != 0 {
		return fmt.Sprintf("Discount of %s %%", o.Discount.Percent)
	}
	return "Discount"
}
