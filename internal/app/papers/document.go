package papers

import (
	"encoding/json"
	"maps"
	"slices"
	"strconv"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/schedule"
	core "dorvet/core/wip"
	"dorvet/core/wording"
	"dorvet/internal/store"
)

// DocumentOf is what the client sees: of an issued invoice the frozen
// revision, of a draft what it would be.
func DocumentOf(tx *store.DB, inv *store.Invoice) (*invoice.Document, error) {
	on := new(Content)
	if inv.State.IsDraft() {
		var err error
		if on, err = ContentOf(tx, inv); err != nil {
			return nil, err
		}
	}
	return DocumentWith(tx, inv, on)
}

// DocumentWith is documentOf, of a draft whose content is read already.
func DocumentWith(tx *store.DB, inv *store.Invoice, on *Content) (*invoice.Document, error) {
	if inv.Kind == invoice.Opening {
		return openingDocument(tx, inv)
	}
	if inv.State.IsIssued() {
		revision, err := store.RevisionOf(tx, inv.ID)
		if err != nil {
			return nil, err
		}
		doc := new(invoice.Document)
		err = json.Unmarshal([]byte(revision.Content), doc)
		if doc.Columns == nil { // frozen before there was a choice
			doc.Columns = []string{"date", "who", "hours", "rate"}
		}
		return doc, err
	}
	totals, err := on.Totals(inv)
	if err != nil {
		return nil, err
	}
	doc, err := compose(tx, inv, on, totals)
	if err == nil {
		doc.Number = "" // of a reopened one, too: it is a draft until it is issued again
	}
	return doc, err
}

// Letterhead is a document with its parties and dates, without lines.
func Letterhead(tx *store.DB, inv *store.Invoice, totals invoice.Totals) (*invoice.Document, error) {
	entity, err := store.Get[store.IssuingEntity](tx, inv.EntityID)
	if err != nil {
		return nil, err
	}
	client, err := store.Get[store.Client](tx, inv.ClientID)
	if err != nil {
		return nil, err
	}
	doc := &invoice.Document{
		Kind: string(inv.Kind), Number: inv.NumberText, Dated: inv.Dated, Due: inv.DueDay, UpTo: inv.UpToDay, Currency: inv.Currency,
		Totals: totals,
		Issuer: invoice.Party{Name: entity.LegalName, Address: lines(entity.Address), TaxNumber: entity.TaxNumber, Mail: entity.Mail,
			Country: entity.Country, Code: entity.Name},
		Client: invoice.Party{Name: client.InvoiceName, Address: lines(client.InvoiceAddress()), TaxNumber: client.TaxNumber,
			Mail: client.Mail, Country: client.Country, Code: client.Code},
		Bank:     invoice.Bank{Name: entity.BankName, IBAN: entity.IBAN, BIC: entity.BIC},
		Sections: []invoice.Section{}, Payable: []invoice.Instalment{}, Columns: []string{},
	}
	return doc, dress(tx, doc, inv.Choices, client)
}

func lines(address string) []string { return strings.Split(address, "\n") }

func compose(tx *store.DB, inv *store.Invoice, on *Content, totals invoice.Totals) (*invoice.Document, error) {
	doc, err := Letterhead(tx, inv, totals)
	if err != nil {
		return nil, err
	}
	c := inv.Choices
	doc.Opening, doc.Closing, doc.Note, doc.Columns = c.Text("opening_text"), c.Text("closing_text"), c.Text("note_text"),
		strings.Fields(c.Text("columns"))
	if err := addPayable(tx, inv, doc); err != nil {
		return nil, err
	}
	if doc.Sections, err = layoutOf(inv, doc.Words()).Arrange(inv.Currency, itemsOf(inv, on, doc.Words())); err != nil {
		return nil, err
	}
	refer(doc, on.Engagements)
	if doc.Billed, err = billedOf(tx, on); err != nil {
		return nil, err
	}
	return doc, addBalances(tx, inv, doc)
}

// refer puts the client's reference into the head of a document that has just one,
// or whose sections have no place for theirs.
func refer(doc *invoice.Document, engagements map[int64]*store.Engagement) {
	references := []string{}
	for _, id := range slices.Sorted(maps.Keys(engagements)) {
		if r := engagements[id].Reference; r != "" && !slices.Contains(references, r) {
			references = append(references, r)
		}
	}
	placed := slices.ContainsFunc(doc.Sections, func(s invoice.Section) bool { return s.Reference != "" })
	if len(references) > 1 && placed {
		return
	}
	doc.Reference = strings.Join(references, ", ")
	for i := range doc.Sections {
		doc.Sections[i].Reference = ""
	}
}

// layoutOf is how the invoice's choices put its lines together.
func layoutOf(inv *store.Invoice, w wording.Words) invoice.Layout {
	c := inv.Choices
	l := invoice.Layout{First: invoice.By(c.Text("layout")), Then: invoice.By(c.Text("layout_then")),
		Expenses: invoice.By(c.Text("layout_expenses")), Text: c.Text("line_text"),
		Hours: c.Text("hours_shown"), Words: w,
		Sum: strings.ReplaceAll(c.Text("sum_text"), "{up_to}", w.Day(inv.UpToDay))}
	if l.Sum == "" {
		l.Sum = w.Say(wording.OneSum, "up_to", w.Day(inv.UpToDay))
	}
	if l.Then == "sums" {
		l.Then = ""
	}
	return l
}

// addPayable says how the amount due is paid. A schedule that does not fit is a
// finding of the draft; meanwhile it shows as one amount on the terms.
func addPayable(tx *store.DB, inv *store.Invoice, doc *invoice.Document) error {
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return err
	}
	w := doc.Words()
	doc.Terms = terms.In(w)
	parts, problem, err := Payable(tx, inv, doc.Totals.Due)
	if err != nil {
		return err
	}
	if problem != "" {
		parts = []schedule.Instalment{{Due: terms.Due(inv.Dated), Amount: doc.Totals.Due}}
	}
	for _, part := range parts {
		doc.Payable = append(doc.Payable, invoice.Instalment{Due: part.Due, Amount: part.Amount, Words: part.Words})
	}
	if len(parts) > 1 {
		doc.Terms = w.Say(wording.Instalments, "n", strconv.Itoa(len(parts)))
	}
	doc.Due = parts[0].Due
	for _, part := range parts {
		doc.Due = min(doc.Due, part.Due)
	}
	return nil
}

// addBalances adds the statement of the client's funds, and what they owe already,
// where the choices ask for them.
func addBalances(tx *store.DB, inv *store.Invoice, doc *invoice.Document) error {
	if inv.Choices.Text("earlier_balance") == "yes" {
		owed, err := store.OwedBefore(tx, inv.Account(), inv.ID)
		if err != nil {
			return err
		}
		amount := inv.Amount(owed)
		doc.Earlier = &amount
	}
	if inv.Choices.Text("funds_statement") != "yes" {
		return nil
	}
	all, err := store.FundsOfAccount(tx, inv.Account(), inv.ID)
	if err != nil {
		return err
	}
	statement, err := heldFor(tx, inv, all, doc.Words())
	if err == nil && statement != nil {
		doc.Funds = statement
	}
	return err
}

// itemsOf are the lines of an invoice with everything that they can be grouped by,
// and the time behind fees where it is to be printed.
func itemsOf(inv *store.Invoice, on *Content, w wording.Words) []invoice.Item {
	byLine := map[int64][]store.PortionRow{}
	for _, p := range on.Portions {
		byLine[*p.LineID] = append(byLine[*p.LineID], p)
	}
	items := []invoice.Item{}
	for n, row := range on.Lines {
		e := on.Engagements[row.EngagementID]
		item := itemOf(row, e, w)
		item.Billed = []int{n}
		if behind := byLine[row.ID]; len(behind) > 0 && !row.Kind.Covers() {
			describe(&item, &behind[0], on, w)
		}
		item.Picture = on.Pictures[store.OrZero(row.PictureID)].Digest
		items = append(items, item)
		if !row.Kind.Covers() || inv.Choices.Text("covered_shown") != "yes" {
			continue
		}
		for i := range byLine[row.ID] {
			items = append(items, coveredItem(&byLine[row.ID][i], e, on, w))
		}
	}
	return items
}

// engagementsNamed are the engagements of lines as a client knows them: who pays a share of
// one has a reference of their own for it.
func engagementsNamed(tx *store.DB, clientID int64, rows []store.InvoiceLine) (map[int64]*store.Engagement, error) {
	found, ids := map[int64]*store.Engagement{}, []int64{}
	for _, row := range rows {
		if found[row.EngagementID] != nil {
			continue
		}
		e, err := store.Get[store.Engagement](tx, row.EngagementID)
		if err != nil {
			return nil, err
		}
		found[row.EngagementID], ids = e, append(ids, row.EngagementID)
		if e.ClientID != clientID {
			e.Reference = ""
		}
	}
	payers, err := store.PayersOf(tx, ids)
	for id, of := range payers {
		for _, p := range of {
			if p.ClientID == clientID && p.Reference != "" {
				found[id].Reference = p.Reference
			}
		}
	}
	return found, err
}

func itemOf(row store.InvoiceLine, e *store.Engagement, w wording.Words) invoice.Item {
	item := invoice.Item{Kind: row.Kind, Engagement: e.Name, Reference: e.Reference, Day: row.Day, Text: row.Text, Minutes: row.Minutes,
		Amount: money.Amount{Minor: row.Amount, Currency: row.Currency}}
	switch {
	case row.PerHour != nil:
		item.Rate = w.Rate(*row.PerHour)
	case row.UnitPrice != nil:
		item.Rate = w.Rate(*row.UnitPrice)
		item.Quantity = counted(w, *row.Quantity, row.Unit)
	}
	if row.Treatment == core.NoCharge {
		item.Rate, item.Note = "", w.Say(wording.NoCharge)
	}
	return item
}

// counted is a quantity, in ten-thousandths, with its unit.
func counted(w wording.Words, quantity int64, unit string) string {
	return strings.TrimSpace(w.Count(money.TypeFixed(quantity, money.Point, 4, 0)) + " " + unit)
}

// describe adds what the source of a line can be grouped by.
func describe(item *invoice.Item, p *store.PortionRow, on *Content, w wording.Words) {
	item.Until = p.Until
	for id, value := range p.Own() {
		if item.Own == nil {
			item.Own = map[string]string{}
		}
		item.Own[on.Own[id]] = value
	}
	item.Phase, item.Ref = p.Phase, p.Reference
	if p.IsExpense() {
		item.Category = p.Service
		if units, unit, price := p.Units(); units != 0 {
			item.Quantity = counted(w, units, unit)
			if price != nil {
				item.Rate = w.Rate(*price)
			}
		}
		return
	}
	item.Service, item.Who, item.Initials = p.Service, p.Person, p.Initials
}

func coveredItem(p *store.PortionRow, e *store.Engagement, on *Content, w wording.Words) invoice.Item {
	item := invoice.Item{Kind: invoice.Time, Engagement: e.Name, Reference: e.Reference, Day: p.WorkedDay, Text: LineText(*p),
		Minutes: p.Minutes,
		Amount:  money.Zero(p.Currency), Note: w.Say(wording.InTheFee), Covered: true}
	describe(&item, p, on, w)
	return item
}

// ComposeNote is the document of a credit note.
func ComposeNote(tx *store.DB, note, of *store.Invoice, totals invoice.Totals, reason string) (*invoice.Document, error) {
	note.Choices = of.Choices // it looks like the invoice that it credits
	doc, err := Letterhead(tx, note, totals)
	if err != nil {
		return nil, err
	}
	doc.Credits, doc.CreditsDate, doc.Opening, doc.Columns, doc.Terms = of.NumberText, of.Dated, reason, []string{"date", "hours", "rate"},
		""
	w := doc.Words()
	rows, err := store.LinesOf(tx, note.ID)
	if err != nil {
		return nil, err
	}
	engagements, err := engagementsNamed(tx, note.ClientID, rows)
	if err != nil {
		return nil, err
	}
	items := []invoice.Item{}
	for _, row := range rows {
		items = append(items, itemOf(row, engagements[row.EngagementID], w))
	}
	if doc.Sections, err = (invoice.Layout{First: invoice.Entries, Words: w}).Arrange(note.Currency, items); err != nil {
		return nil, err
	}
	refer(doc, engagements)
	codes, err := store.TaxCodes(tx)
	if err != nil {
		return nil, err
	}
	doc.Billed, err = billedOf(tx, &Content{Lines: rows, Engagements: engagements, Codes: codes})
	return doc, err
}

// openingDocument shows what is known of an old invoice.
func openingDocument(tx *store.DB, inv *store.Invoice) (*invoice.Document, error) {
	none := inv.Amount(0)
	doc, err := Letterhead(tx, inv, invoice.Totals{Lines: inv.Amount(inv.Net), Discount: none, Surcharge: none, Fees: none,
		Net: inv.Amount(inv.Net), Tax: none, Taxes: []invoice.TaxOfCode{},
		Total: inv.Amount(inv.Total), Withholding: none, Credit: none, Funds: none, Due: inv.Amount(inv.Due)})
	if err == nil {
		doc.Payable = []invoice.Instalment{{Due: inv.DueDay, Amount: inv.Amount(inv.Due)}}
	}
	return doc, err
}

// LineText is what the client reads of a portion, unless somebody wrote otherwise.
func LineText(p store.PortionRow) string {
	if p.Text != "" {
		return p.Text
	}
	return p.Service
}
