package billing

import (
	"context"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"

	"gorm.io/gorm"
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
	tx := a.Store.Read(ctx)
	inv, err := visible(tx, actor, id)
	if err != nil {
		return nil, err
	}
	lines, err := store.LinesOf(tx, id)
	if err != nil {
		return nil, err
	}
	credited, err := store.CreditedLines(tx, id)
	list := make([]Creditable, 0, len(lines))
	for _, l := range lines {
		list = append(list, Creditable{LineID: l.ID, Text: l.Text, Amount: inv.Amount(l.Amount), Credited: inv.Amount(credited[l.ID]), Left: inv.Amount(l.Amount - credited[l.ID]),
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
	tx := a.Store.Read(ctx)
	if _, err := visible(tx, actor, id); err != nil {
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
func Credit(ctx context.Context, a *app.App, r app.Request, e Edit, in Crediting) (*Invoice, error) {
	input := struct {
		Edit
		Crediting
	}{e, in}
	return app.Do(ctx, a, r, "credit invoice", input, func(tx *app.Tx) (*Invoice, error) {
		inv, err := step(tx, e, invoice.Credit)
		if err != nil {
			return nil, err
		}
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
		if err := c.book(tx, note); err != nil {
			return nil, err
		}
		tx.Tell(inv.Amount(inv.Total).String(), c.totals.Total.String(), "Credited %s of %s by %s: %s", c.totals.Total, inv.NumberText, note.NumberText, in.Reason)
		return Shown(tx, note.ID)
	})
}

// readCredit reads what was typed, and asks the core what it comes to.
func readCredit(tx *gorm.DB, inv *store.Invoice, in Crediting) (*crediting, error) {
	if inv.Kind != invoice.Ordinary || !inv.State.IsIssued() {
		return nil, app.Refuse(app.Conflict, "Only an invoice that was issued here can be credited.")
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
	original, err := documentOf(tx, inv)
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
	c.totals, err = invoice.Crediting{Of: original.Totals, Lines: coreLines(c.lines, codes), Before: before, Earlier: earlier, Now: c.now}.Credit()
	return c, app.InField("lines", err)
}

func (c *crediting) read(tx *gorm.DB, in Crediting, credited map[int64]int64) error {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return err
	}
	decimals, err := c.of.Currency.Decimals()
	if err != nil {
		return err
	}
	c.now, c.again = make([]int64, len(c.lines)), make([]bool, len(c.lines))
	for _, typed := range in.Lines {
		i := slices.IndexFunc(c.lines, func(l store.InvoiceLine) bool { return l.ID == typed.LineID })
		if i < 0 {
			return app.Refuse(app.Conflict, "A line that was chosen is not on this invoice: load the page again.")
		}
		c.now[i], c.again[i] = c.lines[i].Amount-credited[typed.LineID], typed.Again
		if typed.Amount != "" {
			if c.now[i], err = money.ParseFixed(typed.Amount, firm.Mark(), decimals); err != nil {
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
func earlierCredits(tx *gorm.DB, invoiceID int64) (invoice.Earlier, error) {
	earlier := invoice.Earlier{Tax: map[string][]int64{}}
	notes, err := store.CreditNotesOf(tx, invoiceID)
	for i := range notes {
		doc, err := documentOf(tx, &notes[i])
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

// issue makes the credit note with its number, lines and document.
func (c *crediting) issue(tx *app.Tx, a *app.App, in Crediting) (*store.Invoice, error) {
	series, err := store.CreditSeries(tx.DB, c.of.EntityID)
	if err != nil {
		return nil, err
	}
	note := *c.of
	note.Row, note.Kind, note.SeriesID, note.Number, note.NumberText, note.Revision, note.CreditsID = store.Row{}, invoice.CreditNote, series.ID, nil, "", 0, &c.of.ID
	note.Dated, note.State, note.Open, note.Credited, note.Credit, note.Funds, note.Disputed, note.Reopened = in.Dated, invoice.Paid, 0, 0, 0, 0, "", false
	if note.Dated.IsZero() {
		note.Dated = tx.Today
	}
	note.DueDay = note.Dated
	t := c.totals
	note.Lines, note.Net, note.Tax, note.Total, note.Due, note.Withholding = t.Lines.Minor, t.Net.Minor, t.Tax.Minor, t.Total.Minor, t.Due.Minor, t.Withholding.Minor
	if t.Total.Minor <= 0 {
		return nil, app.RefuseField("lines", "Nothing would be credited: choose lines, or give amounts.")
	}
	if err := c.dated(tx, &note); err != nil {
		return nil, err
	}
	if err := number(tx, &note); err != nil {
		return nil, err
	}
	if err := c.inFirm(tx, &note); err != nil {
		return nil, err
	}
	if err := store.Insert(tx.DB, &note); err != nil {
		return nil, err
	}
	tx.Concerns(app.OfInvoice, note.ID)
	if err := c.insert(tx, &note); err != nil {
		return nil, err
	}
	doc, err := composeNote(tx.DB, &note, c.of, t, in.Reason)
	if err != nil {
		return nil, err
	}
	if err := keepRevision(tx, a, &note, doc, t.Explain()); err != nil {
		return nil, err
	}
	return &note, store.Save(tx.DB, &note)
}

// dated refuses a date of a credit note that breaks the order of its series, or is
// in a closed period.
func (c *crediting) dated(tx *app.Tx, note *store.Invoice) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	switch {
	case note.Dated < c.of.Dated:
		return app.RefuseField("dated", "The invoice is dated %s: date its credit note then or later.", c.of.Dated.Long())
	case note.Dated <= firm.ClosingDay:
		return app.RefuseField("dated", "The period up to %s is closed: date the credit note later.", firm.ClosingDay.Long())
	}
	return inOrder(tx, note)
}

// inFirm values the note at the rate of its invoice, so that what is taken back is
// what was booked.
func (c *crediting) inFirm(tx *app.Tx, note *store.Invoice) error {
	firm, err := store.TheFirm(tx.DB)
	if err != nil {
		return err
	}
	net, err := c.totals.Net.Convert(note.ExchangeRate, firm.Currency)
	if err != nil {
		return err
	}
	total, err := c.totals.Total.Convert(note.ExchangeRate, firm.Currency)
	note.NetFirm, note.TotalFirm = net.Minor, total.Minor
	return err
}

func (c *crediting) insert(tx *app.Tx, note *store.Invoice) error {
	lines := []store.InvoiceLine{}
	for i, l := range c.lines {
		if c.now[i] == 0 && !c.again[i] {
			continue
		}
		credited := l
		credited.Row, credited.CreditsLineID, credited.Again, credited.Amount = store.Row{}, &c.lines[i].ID, c.again[i], c.now[i]
		credited.ChargeID, credited.AdvanceLineID, credited.Position, credited.Done = nil, nil, len(lines)+1, nil
		if c.now[i] != l.Amount {
			credited.Minutes, credited.Quantity, credited.UnitPrice, credited.PerHour = 0, nil, nil, nil
		}
		credited.InvoiceID = note.ID
		lines = append(lines, credited)
	}
	if err := store.Insert(tx.DB, lines); err != nil {
		return err
	}
	for _, l := range lines {
		if err := store.NameEngagement(tx.DB, note.ID, l.EngagementID); err != nil {
			return err
		}
	}
	return nil
}

// book posts the note: revenue and tax fall, the client has credit, of which as
// much as is owed settles the invoice; what is billed again is unbilled.
func (c *crediting) book(tx *app.Tx, note *store.Invoice) error {
	p, err := postingOf(tx, note)
	if err != nil {
		return err
	}
	advance := int64(0)
	for i, l := range c.lines {
		if l.Kind == invoice.Advance {
			advance += c.now[i]
		}
	}
	t := c.totals
	post := func(kind, from, to string, minor, firm int64) {
		tx.Post(p.movement(kind, from, to, minor, firm))
	}
	advanceFirm, withheldFirm := p.inFirm(advance), p.inFirm(t.Withholding.Minor)
	post("credited_net", app.Issued, app.Revenue, t.Net.Minor-advance, note.NetFirm-advanceFirm)
	post("credited_advance", app.Issued, app.Advances, advance, advanceFirm)
	post("credited_tax", app.Issued, app.TaxPayable, t.Tax.Minor, note.TotalFirm-note.NetFirm)
	post("credited_withheld", app.Withheld, app.Issued, t.Withholding.Minor, withheldFirm)
	post("credit", app.Credit, app.Issued, t.Due.Minor, note.TotalFirm-withheldFirm)
	if p.err != nil {
		return p.err
	}
	for i := range c.lines {
		if !c.again[i] {
			continue
		}
		if err := c.billAgain(tx, note, i); err != nil {
			return err
		}
	}
	c.of.Credited += t.Total.Minor
	if settles := min(t.Due.Minor, c.of.Open); settles > 0 {
		err = Settle(tx, c.of, settles, Settlement{Kind: "credit_note", Bucket: app.Credit, Day: note.Dated})
	} else {
		err = store.Save(tx.DB, c.of)
	}
	if err != nil {
		return err
	}
	return Refresh(tx, accountOf(c.of))
}

// billAgain makes the work behind a credited line unbilled; of a line that is
// credited in part, so much of it.
func (c *crediting) billAgain(tx *app.Tx, note *store.Invoice, i int) error {
	line := &c.lines[i]
	portions, err := store.PortionsOnLine(tx.DB, line.ID)
	if err != nil {
		return err
	}
	left := c.now[i]
	whole := left == line.Amount || line.Kind.Covers() && left == 0
	if line.Kind.Covers() && !whole {
		return nil // the fee that is left covers the time
	}
	for n := range portions {
		p := &portions[n]
		if !whole && p.Agreed > left {
			first, rest, err := p.Piece().Cut(p.Agreed - left)
			if err != nil {
				return err
			}
			if p, err = divide(tx, p, first, rest); err != nil {
				return err
			}
		}
		left -= p.Agreed
		if err := giveBack(tx, note, p); err != nil {
			return err
		}
		if !whole && left <= 0 {
			break
		}
	}
	if line.ChargeID != nil && whole {
		return store.PlanCharge(tx.DB, *line.ChargeID)
	}
	return nil
}

func giveBack(tx *app.Tx, note *store.Invoice, p *store.Portion) (err error) {
	from := p.Bucket()
	if p.Billing, err = p.Billing.After(wip.BillAgain); err != nil {
		return app.AsConflict(err)
	}
	p.Covered, p.LineID = false, nil
	tx.Move("credited to bill again", note.Dated, *p, from, p.Bucket(), &note.ID)
	if p.Source == "time" {
		tx.Concerns(app.OfEntry, p.SourceID)
	}
	if err := store.Save(tx.DB, p); err != nil {
		return err
	}
	return join(tx, p)
}
