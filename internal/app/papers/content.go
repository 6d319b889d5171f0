// Package papers is what leaves the house: the document of an invoice or draft, composed
// once from what stands on it, in every form in which it can be had.
//
// The document is a value ([invoice.Document]); files are drawn and written from it by what
// the application was given ([app.App.Render], [app.App.Formats]). Issuing freezes it, so
// that an invoice reads in ten years as it did when it was sent.
package papers

import (
	"encoding/json"
	"slices"
	"strconv"

	"dorvet/core/draft"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/tax"
	"dorvet/internal/app"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// Content is what stands on an invoice: read once for all that is made of it, its
// totals, its document and its explanation.
type Content struct {
	Lines       []store.InvoiceLine
	Portions    []store.PortionRow
	Engagements map[int64]*store.Engagement
	Pictures    map[int64]store.Picture // beside lines
	Own         map[string]string       // names of the firm's own fields of entries, by their numbers
	Codes       map[int64]tax.Code
	Decided     *Decisions
	Drawn       *drawing // where it was made ready before
}

// drawing is what is frozen of an invoice, but for its number.
type drawing struct {
	Totals invoice.Totals
	Doc    *invoice.Document
	Why    []byte // its explanation, as JSON
}

// Draw makes ready what is frozen of an invoice.
func (c *Content) Draw(tx *store.DB, inv *store.Invoice) (*drawing, error) {
	if c.Drawn != nil {
		return c.Drawn, nil
	}
	d := new(drawing)
	var err error
	if d.Totals, err = c.Totals(inv); err != nil {
		return nil, err
	}
	if d.Doc, err = compose(tx, inv, c, d.Totals); err != nil {
		return nil, err
	}
	d.Why, err = json.Marshal(explainDown(inv, c, d.Totals))
	return d, err
}

// ContentOf reads what stands on an invoice.
func ContentOf(tx *store.DB, inv *store.Invoice) (*Content, error) {
	c := new(Content)
	var err error
	if c.Lines, err = store.LinesOf(tx, inv.ID); err != nil {
		return nil, err
	}
	if c.Portions, err = store.PortionsOn(tx, inv.ID); err != nil {
		return nil, err
	}
	if c.Engagements, err = engagementsNamed(tx, inv.ClientID, c.Lines); err != nil {
		return nil, err
	}
	if c.Own, err = ownNames(tx, c.Portions); err != nil {
		return nil, err
	}
	if c.Pictures, err = picturesOf(tx, c.Lines); err != nil {
		return nil, err
	}
	if c.Codes, err = store.TaxCodes(tx); err != nil {
		return nil, err
	}
	c.Decided, err = decisionsOn(tx, inv.ID)
	return c, err
}

// Totals are what the content comes to, with the money that is reserved for the
// invoice.
func (c *Content) Totals(inv *store.Invoice) (invoice.Totals, error) {
	terms, err := draft.TermsOf(inv.Choices, inv.Currency)
	if err != nil {
		return invoice.Totals{}, err
	}
	return invoice.Compute(terms.On(invoice.Asked{Currency: inv.Currency, TaxDate: inv.TaxDay, Codes: unbilled.CodesByName(c.Codes),
		Lines: CoreLines(c.Lines, c.Codes), Credit: inv.Credit, Funds: inv.Funds}))
}

// CoreLines are lines that are there as the core computes totals from them.
func CoreLines(lines []store.InvoiceLine, codes map[int64]tax.Code) []invoice.Line {
	list := make([]invoice.Line, len(lines))
	for i, l := range lines {
		list[i] = invoice.Line{Kind: l.Kind, TaxCode: codes[l.TaxCodeID].Code, Amount: money.Amount{Minor: l.Amount, Currency: l.Currency}}
	}
	return list
}

// Advances sums the lines that invoice ahead, or take that back.
func (c *Content) Advances() (sum int64) {
	for _, l := range c.Lines {
		if l.Kind == invoice.Advance {
			sum += l.Amount
		}
	}
	return sum
}

// Visible reads an invoice, or refuses it to who may not see it.
func Visible(tx *store.DB, id int64) (*store.InvoiceRow, error) {
	rows, err := store.Invoices(tx, store.InvoiceFilter{ID: id, States: slices.Concat(invoice.DraftStates, invoice.IssuedStates)}, "i.id")
	if err == nil && len(rows) == 0 {
		err = store.ErrNotFound
	}
	if err != nil {
		return nil, app.Missing(err, "invoice")
	}
	return &rows[0], nil
}

// ownNames are the names of the firm's own fields of entries; nothing is read where no
// portion has one.
func ownNames(tx *store.DB, portions []store.PortionRow) (map[string]string, error) {
	if !slices.ContainsFunc(portions, func(p store.PortionRow) bool { return len(p.Own()) > 0 }) {
		return nil, nil
	}
	fields, err := store.OwnFields(tx, "entry")
	names := map[string]string{}
	for _, f := range fields {
		names[strconv.FormatInt(f.ID, 10)] = f.Name
	}
	return names, err
}
