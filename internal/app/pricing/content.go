// Package pricing is the room of proposals: priced in tiers, sent, answered, and
// made into engagements with their plan of bills.
package pricing

import (
	"encoding/json"
	"fmt"
	"slices"
	"strings"

	core "dorvet/core/pricing"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
)

// Content is everything that a proposal says; each version is kept whole.
type Content struct {
	Name       string     `json:"name"`
	Title      string     `json:"title"`
	ValidUntil day.Day    `json:"validUntil"`
	ShownFor   day.Day    `json:"shownFor,omitempty"` // the assumed start; no day: today
	Shows      string     `json:"shows"`
	Pays       string     `json:"pays"`
	Ways       []string   `json:"ways"`
	DueIn      string     `json:"dueIn,omitempty"`  // when bills are due, as it is kept; empty: as the client's are
	PaidIn     string     `json:"paidIn,omitempty"` // the instalments of a bill, as they are kept
	Opening    string     `json:"opening"`
	Terms      string     `json:"terms"`
	After      string     `json:"after"`
	Subject    string     `json:"subject"`
	Mail       string     `json:"mail"`
	TermsFile  KeptFile   `json:"termsFile,omitzero"`
	LeadID     int64      `json:"leadId"` // who leads the work, and sees the proposal
	Offer      core.Offer `json:"offer"`
}

// What the client sees of prices, and when a way of paying is asked.
const (
	showsPrices = "prices"
	showsTotals = "totals"
	paysNever   = "no"
	paysLater   = "later"
	paysNow     = "now"
)

// ForClient is the title that the client reads: as it was typed, else made of the services.
// The name is ours alone.
func (c Content) ForClient() string {
	if c.Title != "" {
		return c.Title
	}
	names := []string{}
	for _, l := range c.Offer.Lines {
		if !slices.Contains(names, l.Description) {
			names = append(names, l.Description)
		}
	}
	title := strings.Join(names, " and ")
	switch {
	case len(names) == 0:
		return "Our proposal"
	case len(names) > 2:
		title = fmt.Sprintf("%s, %s and %d more", names[0], names[1], len(names)-2)
	}
	if runes := []rune(title); len(runes) > mostTitle {
		title = string(runes[:mostTitle-1]) + "…"
	}
	return title
}

// mostTitle leaves room for what is said beside a title in the name of an engagement.
const mostTitle = 160

func readContent(text string) (Content, error) {
	c := Content{}
	err := json.Unmarshal([]byte(text), &c)
	return c, err
}

func (c Content) text() string {
	text, err := json.Marshal(c)
	if err != nil {
		panic(err) // plain values
	}
	return string(text)
}

// TypedProposal is the content as it is typed and shown in the fields of the editor.
type TypedProposal struct {
	Name       string      `json:"name" maxLength:"200"`
	Lead       string      `json:"lead" maxLength:"100" doc:"initials or name of who leads the work"`
	Title      string      `json:"title" maxLength:"200"`
	ValidUntil string      `json:"validUntil" maxLength:"30"`
	Starts     string      `json:"starts" maxLength:"30" doc:"empty: when accepted"`
	ShownFor   string      `json:"shownFor" maxLength:"30" doc:"the assumed start; empty: today"`
	Term       string      `json:"term" maxLength:"10" doc:"months at least; empty: open-ended"`
	Shows      string      `json:"shows" enum:"prices,totals"`
	Pays       string      `json:"pays" enum:"no,later,now"`
	Ways       []string    `json:"ways" maxItems:"2"`
	DueIn      string      `json:"dueIn" maxLength:"100" doc:"when bills are due, like 30 days; empty: as the client's are"`
	PaidIn     string      `json:"paidIn" maxLength:"300" doc:"the instalments of a bill; empty: as the client's are"`
	Discount   string      `json:"discount" maxLength:"30" doc:"on the whole: 5 % or an amount"`
	Suggested  int         `json:"suggested" minimum:"0" maximum:"5" doc:"from 1; 0: none"`
	Opening    string      `json:"opening" maxLength:"10000"`
	Terms      string      `json:"terms" maxLength:"60000"`
	After      string      `json:"after" maxLength:"10000"`
	Subject    string      `json:"subject" maxLength:"300"`
	Mail       string      `json:"mail" maxLength:"10000"`
	TermsFile  KeptFile    `json:"termsFile" doc:"a document of terms, beside their text or in its place"`
	Tiers      []TypedTier `json:"tiers" minItems:"1" maxItems:"5"`
	Lines      []TypedLine `json:"lines" maxItems:"200"`
}

// TypedTier is a column as typed.
type TypedTier struct {
	Name string `json:"name" maxLength:"100"`
	Note string `json:"note" maxLength:"200"`
}

// TypedLine is a service as typed.
type TypedLine struct {
	ServiceID   int64    `json:"serviceId"`
	Description string   `json:"description" maxLength:"300"`
	About       string   `json:"about" maxLength:"2000" doc:"what the client gets"`
	Text        string   `json:"text" maxLength:"5000" doc:"its own terms"`
	Kind        string   `json:"kind" enum:"fixed,unit,hourly,bands,open"`
	Quantity    string   `json:"quantity" maxLength:"30"`
	Unit        string   `json:"unit" maxLength:"30"`
	Price       string   `json:"price" maxLength:"30"`
	Bands       string   `json:"bands" maxLength:"500"`
	Discount    string   `json:"discount" maxLength:"30"`
	TaxCode     string   `json:"taxCode" maxLength:"30"`
	When        string   `json:"when" maxLength:"300"`
	Expected    string   `json:"expected" maxLength:"300"`
	Work        string   `json:"work" maxLength:"200"`
	Shares      string   `json:"shares" maxLength:"50" doc:"lines of the same name share their rule"`
	Said        string   `json:"said,omitempty" maxLength:"500" doc:"price and rule in words, as typed under the line: they win over the fields"`
	Cells       []string `json:"cells" maxItems:"5"`
}

// parse reads what was typed. The refusal names the field, such as
// lines.2.cells.1.
func (b *proposalContext) parse(t TypedProposal) (Content, error) {
	c := Content{Name: strings.TrimSpace(t.Name), Title: strings.TrimSpace(t.Title), Shows: t.Shows, Pays: t.Pays, Ways: t.Ways,
		Opening: t.Opening, Terms: t.Terms, After: t.After,
		Subject: strings.Join(strings.Fields(t.Subject), " "), Mail: t.Mail, TermsFile: t.TermsFile}
	if err := checkFile(b.tx, "termsFile", t.TermsFile); err != nil {
		return c, err
	}
	c.Offer = core.Offer{Currency: b.currency, Suggested: t.Suggested}
	if c.Ways == nil {
		c.Ways = []string{}
	}
	for _, way := range c.Ways {
		if way != "card" && way != "debit" {
			return c, app.RefuseField("ways", "%q is no way of paying: choose card or bank debit.", way)
		}
	}
	if c.Pays == paysNow && len(c.Ways) == 0 {
		return c, app.RefuseField("ways", "A way of paying is asked for, and none is offered: choose card, bank debit or both.")
	}
	if err := b.parsePayment(t, &c); err != nil {
		return c, err
	}
	if lead, known := b.worker(t.Lead); known && lead.PersonID != 0 {
		c.LeadID = lead.PersonID
	} else {
		return c, app.RefuseField("lead", "Nobody here is called %q: give the initials of who leads the work.", t.Lead)
	}
	if c.Name == "" {
		return c, app.RefuseField("name", "The proposal needs a name for us: give one.")
	}
	if err := b.parseDays(t, &c); err != nil {
		return c, err
	}
	for _, tier := range t.Tiers {
		c.Offer.Tiers = append(c.Offer.Tiers, core.Tier{Name: strings.TrimSpace(tier.Name), Note: strings.TrimSpace(tier.Note)})
	}
	for i, typed := range t.Lines {
		l, err := b.parseLine(typed, fmt.Sprintf("lines.%d", i), len(t.Tiers))
		if err != nil {
			return c, err
		}
		c.Offer.Lines = append(c.Offer.Lines, l)
	}
	shareRules(t.Lines, c.Offer.Lines)
	return c, app.InField("lines", c.Offer.Check())
}

// shareRules gives the rule that was just said of a line to all that share it.
func shareRules(typed []TypedLine, lines []core.Line) {
	for i, t := range typed {
		for n := range lines {
			if t.Said != "" && t.Shares != "" && typed[n].Shares == t.Shares && lines[n].Kind != core.Open {
				lines[n].Rule = lines[i].Rule
			}
		}
	}
}

func (b *proposalContext) parseDays(t TypedProposal, c *Content) (err error) {
	for _, field := range []struct {
		name, text string
		to         *day.Day
	}{{"validUntil", t.ValidUntil, &c.ValidUntil}, {"starts", t.Starts, &c.Offer.StartsOn}, {"shownFor", t.ShownFor, &c.ShownFor}} {
		if strings.TrimSpace(field.text) == "" {
			continue
		}
		if *field.to, err = day.ParseTyped(field.text, b.today); err != nil {
			return app.InField(field.name, err)
		}
	}
	if c.ValidUntil.IsZero() {
		return app.RefuseField("validUntil", "Until when is it valid? Give a day, like +30d.")
	}
	if text := strings.TrimSpace(strings.TrimSuffix(strings.TrimSpace(t.Term), "months")); text != "" {
		n, err := money.ParseFixed(text, b.mark, 0)
		if err != nil || n < 0 || n > 600 {
			return app.RefuseField("term", "%q is no term: give months, like 12, or nothing for an open end.", t.Term)
		}
		c.Offer.TermMonths = int(n)
	}
	c.Offer.Discount, err = b.parseDiscount(t.Discount)
	return app.InField("discount", err)
}

func (b *proposalContext) parseDiscount(text string) (core.Discount, error) {
	text = strings.TrimSpace(text)
	if text == "" {
		return core.Discount{}, nil
	}
	if percent, is := strings.CutSuffix(text, "%"); is {
		n, err := money.ParseFixed(strings.TrimSpace(percent), b.mark, 4)
		return core.Discount{Percent: money.Percent(n)}, err
	}
	n, err := money.ParseFixed(text, b.mark, b.decimals)
	return core.Discount{Amount: n}, err
}

func (b *proposalContext) parseLine(t TypedLine, at string, tiers int) (core.Line, error) {
	l := core.Line{ServiceID: t.ServiceID, Description: strings.Join(strings.Fields(t.Description), " "),
		About: strings.TrimSpace(t.About), Text: strings.TrimSpace(t.Text), Kind: core.Kind(t.Kind),
		Unit: strings.TrimSpace(t.Unit), TaxCode: t.TaxCode, Work: strings.TrimSpace(t.Work), Shares: t.Shares}
	if _, known := b.codes[t.TaxCode]; !known {
		return l, app.RefuseField(at+".taxCode", "There is no tax code %q: choose one of the firm's.", t.TaxCode)
	}
	if len(t.Cells) != tiers {
		return l, app.RefuseField(at, "This line has %d cells for %d tiers: load the page again.", len(t.Cells), tiers)
	}
	var err error
	steps := []struct {
		field string
		read  func() error
	}{
		{"quantity", func() error { l.Quantity, err = b.parseNumber(t.Quantity); return err }},
		{"price", func() error { return b.parsePrice(t, &l) }},
		{"bands", func() error {
			if l.Kind == core.Bands {
				l.Bands, err = core.ParseBands(t.Bands, b.mark)
			}
			return err
		}},
		{"discount", func() error { l.Discount, err = b.parseDiscount(t.Discount); return err }},
		{"when", func() error {
			if l.Rule, err = core.ParseRule(t.When, b.today); t.Said == "" {
				return err
			}
			return l.Hear(t.Said, b.mark, b.today)
		}},
		{"expected", func() error { l.Expected, err = core.ParseExpected(t.Expected, b.mark, b.worker); return err }},
	}
	for i, text := range t.Cells {
		steps = append(steps, struct {
			field string
			read  func() error
		}{fmt.Sprintf("cells.%d", i), func() error {
			cell, err := core.ParseCell(text, l, b.mark)
			l.Cells = append(l.Cells, cell)
			return err
		}})
	}
	for _, step := range steps {
		if err := step.read(); err != nil {
			return l, app.InField(at+"."+step.field, err)
		}
	}
	settle(&l)
	return l, app.InField(at+"."+faulty(l), l.Check())
}

// settle takes the first price that is typed into a cell of a line without one as
// the line's own; cells with the line's price follow it.
func settle(l *core.Line) {
	if l.Kind != core.Fixed {
		return
	}
	for i := range l.Cells {
		c := &l.Cells[i]
		if c.Price != nil && l.Price == nil && c.Quantity == 0 {
			l.Price = c.Price
		}
		if c.Price != nil && l.Price != nil && *c.Price == *l.Price {
			c.Price = nil
		}
	}
}

// faulty is the field to which the fault of a line as a whole belongs.
func faulty(l core.Line) string {
	switch {
	case l.Description == "":
		return "description"
	case l.Kind == core.Bands && l.Rule.Check() == nil:
		return "bands"
	}
	return "when"
}

func (b *proposalContext) parseNumber(text string) (int64, error) {
	if strings.TrimSpace(text) == "" {
		return 0, nil
	}
	return money.ParseFixed(strings.TrimSpace(strings.TrimSuffix(text, "h")), b.mark, 4)
}

func (b *proposalContext) parsePrice(t TypedLine, l *core.Line) error {
	if strings.TrimSpace(t.Price) == "" || l.Kind == core.Open || l.Kind == core.Bands {
		return nil
	}
	n, err := money.ParseFixed(t.Price, b.mark, 4)
	l.Price = new(money.Rate(n))
	return err
}

// typed writes content as it is typed again.
func (b *proposalContext) typed(c Content) TypedProposal {
	o := c.Offer
	t := TypedProposal{Name: c.Name, Lead: b.workerName(core.Worker{PersonID: c.LeadID}), Title: c.Title, ValidUntil: c.ValidUntil.String(),
		Starts: o.StartsOn.String(), ShownFor: c.ShownFor.String(), Shows: c.Shows, Pays: c.Pays, Ways: slices.Clone(c.Ways),
		DueIn: dueInWords(c.DueIn), PaidIn: c.PaidIn,
		Discount: b.typedDiscount(o.Discount), Suggested: o.Suggested, Opening: c.Opening, Terms: c.Terms, After: c.After,
		Subject: c.Subject,
		Mail:    c.Mail, TermsFile: c.TermsFile, Tiers: []TypedTier{}, Lines: []TypedLine{}}
	if o.TermMonths > 0 {
		t.Term = fmt.Sprint(o.TermMonths)
	}
	for _, tier := range o.Tiers {
		t.Tiers = append(t.Tiers, TypedTier(tier))
	}
	for _, l := range o.Lines {
		t.Lines = append(t.Lines, b.typedLine(l))
	}
	return t
}

func (b *proposalContext) typedDiscount(d core.Discount) string {
	switch {
	case d.Percent != 0:
		return money.TypeFixed(int64(d.Percent), b.mark, 4, 0) + " %"
	case d.Amount != 0:
		return money.TypeFixed(d.Amount, b.mark, b.decimals, b.decimals)
	}
	return ""
}

func (b *proposalContext) typedLine(l core.Line) TypedLine {
	t := TypedLine{ServiceID: l.ServiceID, Description: l.Description, About: l.About, Text: l.Text,
		Kind: string(l.Kind), Unit: l.Unit, TaxCode: l.TaxCode, Work: l.Work, Shares: l.Shares,
		Bands: core.TypeBands(l.Bands, b.mark, b.decimals), Discount: b.typedDiscount(l.Discount), When: l.Rule.String(),
		Expected: core.TypeExpected(l.Expected, b.mark, b.workerName), Cells: []string{}}
	if l.Quantity != 0 {
		t.Quantity = money.TypeFixed(l.Quantity, b.mark, 4, 0)
	}
	if l.Price != nil {
		t.Price = money.TypeFixed(int64(*l.Price), b.mark, 4, b.decimals)
	}
	for _, c := range l.Cells {
		t.Cells = append(t.Cells, c.Typed(l, b.mark, b.decimals))
	}
	return t
}
