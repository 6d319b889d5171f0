package billing

import (
	"encoding/json"

	"dorvet/core/draft"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/tax"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// content is what stands on an invoice: read once for all that is made of it, its
// totals, its document and its explanation.
type content struct {
	lines       []store.InvoiceLine
	portions    []store.PortionRow
	engagements map[int64]*store.Engagement
	codes       map[int64]tax.Code
	decided     *decisions
	drawn       *drawing // where it was made ready before
}

// drawing is what is frozen of an invoice, but for its number.
type drawing struct {
	totals invoice.Totals
	doc    *invoice.Document
	why    []byte // its explanation, as JSON
}

// draw makes ready what is frozen of an invoice.
func (c *content) draw(tx *store.DB, inv *store.Invoice) (*drawing, error) {
	if c.drawn != nil {
		return c.drawn, nil
	}
	d := new(drawing)
	var err error
	if d.totals, err = c.totals(inv); err != nil {
		return nil, err
	}
	if d.doc, err = compose(tx, inv, c, d.totals); err != nil {
		return nil, err
	}
	d.why, err = json.Marshal(explainDown(inv, c, d.totals))
	return d, err
}

func contentOf(tx *store.DB, invoiceID int64) (*content, error) {
	c := new(content)
	var err error
	if c.lines, err = store.LinesOf(tx, invoiceID); err != nil {
		return nil, err
	}
	if c.portions, err = store.PortionsOn(tx, invoiceID); err != nil {
		return nil, err
	}
	if c.engagements, err = engagementsNamed(tx, c.lines); err != nil {
		return nil, err
	}
	if c.codes, err = store.TaxCodes(tx); err != nil {
		return nil, err
	}
	c.decided, err = decisionsOn(tx, invoiceID)
	return c, err
}

// totals are what the content comes to, with the money that is reserved for the
// invoice.
func (c *content) totals(inv *store.Invoice) (invoice.Totals, error) {
	terms, err := draft.TermsOf(inv.Choices, inv.Currency)
	if err != nil {
		return invoice.Totals{}, err
	}
	return invoice.Compute(terms.On(invoice.Asked{Currency: inv.Currency, TaxDate: inv.TaxDay, Codes: unbilled.CodesByName(c.codes),
		Lines: coreLines(c.lines, c.codes), Credit: inv.Credit, Funds: inv.Funds}))
}

// coreLines are lines that are there as the core computes totals from them.
func coreLines(lines []store.InvoiceLine, codes map[int64]tax.Code) []invoice.Line {
	list := make([]invoice.Line, len(lines))
	for i, l := range lines {
		list[i] = invoice.Line{Kind: l.Kind, TaxCode: codes[l.TaxCodeID].Code, Amount: money.Amount{Minor: l.Amount, Currency: l.Currency}}
	}
	return list
}

// advances sums the lines that invoice ahead, or take that back.
func (c *content) advances() (sum int64) {
	for _, l := range c.lines {
		if l.Kind == invoice.Advance {
			sum += l.Amount
		}
	}
	return sum
}
