package issuing

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Crediting is what is credited of an issued invoice, as typed.
type Crediting struct {
	Dated  day.Day        `json:"dated,omitempty" format:"date" doc:"nothing: today"`
	Reason string         `json:"reason" maxLength:"500"`
	Lines  []CreditedLine `json:"lines" maxItems:"2000" minItems:"1"`
}

// CreditedLine is what of a line is credited. What is to be billed again becomes
// unbilled; else it is a concession: it stays billed, and revenue falls.
type CreditedLine struct {
	LineID int64  `json:"lineId"`
	Amount string `json:"amount" maxLength:"30" doc:"nothing: all that is left of it"`
	Again  bool   `json:"again" doc:"bill again; else a concession"`
}

// Creditable is a line of an issued invoice, with what can be credited of it.
type Creditable struct {
	LineID   int64        `json:"lineId"`
	Text     string       `json:"text"`
	Amount   money.Amount `json:"amount"`
	Credited money.Amount `json:"credited"`
	Left     money.Amount `json:"left"`
	MayAgain bool         `json:"mayAgain" doc:"there is work, or a charge, that can be billed again"`
}

// CreditableLines reads what can be credited of an invoice.
func CreditableLines(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]Creditable, error) {
	tx := a.Read(ctx, actor)
	inv, err := papers.Visible(tx, id)
	if err != nil {
		return nil, err
	}
	return CreditableOf(tx, &inv.Invoice)
}

// CreditableOf are the lines of an invoice, in their order, with what can be credited of each.
func CreditableOf(tx *store.DB, inv *store.Invoice) ([]Creditable, error) {
	lines, err := store.LinesOf(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	credited, err := store.CreditedLines(tx, inv.ID)
	list := make([]Creditable, 0, len(lines))
	for _, l := range lines {
		list = append(list, Creditable{LineID: l.ID, Text: l.Text, Amount: inv.Amount(l.Amount), Credited: inv.Amount(credited[l.ID]),
			Left:     inv.Amount(l.Amount - credited[l.ID]),
			MayAgain: l.Kind != invoice.ByHand && l.Kind != invoice.Advance})
	}
	return list, err
}

// crediting carries a credit note from what was typed to what is booked.
type crediting struct {
	of     *store.Invoice
	lines  []store.InvoiceLine
	now    []int64
	again  []bool
	totals invoice.Totals
}

// PreviewCredit says what a credit note would come to.
func PreviewCredit(ctx context.Context, a *app.App, actor app.Actor, id int64, in Crediting) (*invoice.Totals, error) {
	tx := a.Read(ctx, actor)
	if _, err := papers.Visible(tx, id); err != nil {
		return nil, err
	}
	inv, err := store.Get[store.Invoice](tx, id)
	if err != nil {
		return nil, err
	}
	c, err := readCredit(tx, inv, in)
	if err != nil {
		return nil, err
	}
	return &c.totals, nil
}

// Credit issues a credit note on an invoice. What it comes to settles what is
// still owed on it; beyond that it is credit of the client.
func Credit(ctx context.Context, a *app.App, r app.Request, e drafts.Edit, in Crediting) (*drafts.Changed, error) {
	input := struct {
		drafts.Edit
		Crediting
	}{e, in}
	return app.Do(ctx, a, r, "credit invoice", input, func(tx *app.Tx) (*drafts.Changed, error) {
		inv, err := drafts.Step(tx, e, invoice.Credit)
		if err != nil {
			return nil, err
		}
		note, err := CreditWithin(tx, a, inv, in)
		if err != nil {
			return nil, err
		}
		return drafts.ChangedBy(tx, note), nil
	})
}

// CreditWithin issues a credit note within an act that took the invoice to it by [drafts.Step].
func CreditWithin(tx *app.Tx, a *app.App, inv *store.Invoice, in Crediting) (*store.Invoice, error) {
	if strings.TrimSpace(in.Reason) == "" {
		return nil, app.RefuseField("reason", "Say why it is credited: the client reads it, and it stands in the history.")
	}
	c, err := readCredit(tx.DB, inv, in)
	if err != nil {
		return nil, err
	}
	note, err := c.issue(tx, a, in)
	if err != nil {
		return nil, err
	}
	tx.Describe(inv.Amount(inv.Total).String(), c.totals.Total.String(), "Credited %s of %s by %s: %s", c.totals.Total, inv.NumberText,
		note.NumberText, in.Reason)
	return note, c.post(tx, note)
}

// readCredit reads what was typed, and asks the core what it comes to.
func readCredit(tx *store.DB, inv *store.Invoice, in Crediting) (*crediting, error) {
	if inv.Kind != invoice.Ordinary || !inv.State.IsIssued() {
		return nil, app.Refuse(app.Conflict, "Only an invoice that was issued here can be credited.")
	}
	if inv.WrittenOff != 0 {
		return nil, app.Refuse(app.Conflict, "%s of %s is written off as bad debt: take that back first, then credit it.", inv.Amount(inv.WrittenOff),
			inv.NumberText)
	}
	c := &crediting{of: inv}
	var err error
	if c.lines, err = store.LinesOf(tx, inv.ID); err != nil {
		return nil, err
	}
	credited, err := store.CreditedLines(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	if err := c.read(tx, in, credited); err != nil {
		return nil, err
	}
	original, err := papers.DocumentOf(tx, inv)
	if err != nil {
		return nil, err
	}
	earlier, err := earlierCredits(tx, inv.ID)
	if err != nil {
		return nil, err
	}
	codes, err := store.TaxCodes(tx)
	if err != nil {
		return nil, err
	}
	before := make([]int64, len(c.lines))
	for i, l := range c.lines {
		before[i] = credited[l.ID]
	}
	c.totals, err = invoice.Crediting{Of: original.Totals, Lines: papers.CoreLines(c.lines, codes), Before: before, Earlier: earlier,
		Now: c.now}.Credit()
	return c, app.InField("lines", err)
}

func (c *crediting) read(tx *store.DB, in Crediting, credited map[int64]int64) error {
	var err error
	c.now, c.again = make([]int64, len(c.lines)), make([]bool, len(c.lines))
	for _, typed := range in.Lines {
		i := slices.IndexFunc(c.lines, func(l store.InvoiceLine) bool { return l.ID == typed.LineID })
		if i < 0 {
			return app.Refuse(app.Conflict, "A line that was chosen is not on this invoice: load the page again.")
		}
		c.now[i], c.again[i] = c.lines[i].Amount-credited[typed.LineID], typed.Again
		if typed.Amount != "" {
			if c.now[i], err = setup.MinorUnits(tx, typed.Amount, c.of.Currency); err != nil {
				return app.InField("lines", err)
			}
		}
		if c.lines[i].ChargeID != nil && typed.Again && c.now[i] != c.lines[i].Amount {
			return app.RefuseField("lines", "“%s” is billed again as a whole: credit all of it, or make it a concession.", c.lines[i].Text)
		}
	}
	return nil
}

// earlierCredits adds up the credit notes that an invoice has.
func earlierCredits(tx *store.DB, invoiceID int64) (invoice.Earlier, error) {
	earlier := invoice.Earlier{Tax: map[string][]int64{}}
	notes, err := store.CreditNotesOf(tx, invoiceID)
	for i := range notes {
		doc, err := papers.DocumentOf(tx, &notes[i])
		if err != nil {
			return earlier, err
		}
		earlier.Withholding += doc.Totals.Withholding.Minor
		for _, code := range doc.Totals.Taxes {
			if earlier.Tax[code.Code] == nil {
				earlier.Tax[code.Code] = make([]int64, len(code.Parts))
			}
			for n, part := range code.Parts {
				earlier.Tax[code.Code][n] += part.Tax.Minor
			}
		}
	}
	return earlier, err
}
