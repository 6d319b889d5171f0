// Package invoices reads invoices: the drafts that are still to be issued, the register of
// all that ever were, and one of them whole, with everything that belongs to it.
package invoices

import (
	"context"
	"errors"
	"slices"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/schedule"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/ledger"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// Invoice is one invoice, whole.
type Invoice struct {
	Summary
	Lines        []Line                 `json:"lines"`
	LeftOut      []Line                 `json:"leftOut" doc:"unbilled entries that could be put on this draft"`
	Standard     explain.Total          `json:"standard"`
	Given        FromStandard           `json:"given" doc:"what lies between standard and net"`
	FromStandard explain.Step           `json:"fromStandard" doc:"how net came from standard"`
	Realisation  money.Percent          `json:"realisation" doc:"fees after discount over the standard value of the time, in ten-thousandths of a percent"`
	Document     invoice.Document       `json:"-"`
	Printed      invoice.Printed        `json:"document" doc:"as the client reads it"`
	FirstDue     day.Day                `json:"firstDue" doc:"of the first instalment"`
	Terms        string                 `json:"terms" doc:"in words; nothing where it was taken over"`
	AmountDue    money.Amount           `json:"amountDue"`
	Explanation  explain.Step           `json:"explanation"`
	Returns      *Returns               `json:"returns,omitempty" doc:"how it comes back, if it does"`
	HasFile      bool                   `json:"hasFile"`
	NextNumber   string                 `json:"nextNumber" doc:"of a draft: the number that it would get now, or has"`
	Problem      string                 `json:"problem" doc:"why a draft can't be issued as it is"`
	TaxDate      day.Day                `json:"taxDate"`
	Choices      []InvoiceChoice        `json:"choices" doc:"of a draft"`
	Around       Related                `json:"around" doc:"of a draft: what else it could have"`
	Money        []ledger.MoneyLine     `json:"money" doc:"what settled it, oldest first"`
	Instalments  []OwedPart             `json:"instalments" doc:"of an issued invoice"`
	Notes        []Summary              `json:"notes" doc:"its credit notes"`
	Credits      *Summary               `json:"credits,omitempty" doc:"of a credit note: its invoice"`
	Disputed     string                 `json:"disputed" doc:"why"`
	WrittenOff   money.Amount           `json:"writtenOff" doc:"as bad debt, with its tax"`
	Findings     []issuing.DraftFinding `json:"findings" doc:"of a draft: what is to be settled before it is issued"`
	Approvals    []issuing.LeadSaid     `json:"approvals" doc:"of a draft: what its leads were asked, and said"`
	Responsible  string                 `json:"responsible" doc:"for the client"`
	Introduced   string                 `json:"introduced" doc:"who brought the client in"`
	ActID        int64                  `json:"actId" doc:"of the act that was just done, or 0"`

	writtenDown map[int64]store.WrittenDown // by portion
}

// Line is a line of an invoice, an entry behind a fee, or what is left out.
type Line struct {
	LineID       int64          `json:"lineId" doc:"0 if left out"`
	LineVersion  int64          `json:"lineVersion"`
	Kind         invoice.Kind   `json:"kind" enum:"time,fixed,recurring,progress,expense,by_hand,advance,late"`
	PortionID    int64          `json:"portionId" doc:"0 of a line without an entry"`
	Source       string         `json:"source" enum:"time,expense,none"`
	EntryID      int64          `json:"entryId" doc:"of time, or 0"`
	PurchaseID   int64          `json:"purchaseId" doc:"of an expense, or 0"`
	OfKind       string         `json:"ofKind" doc:"what a line by hand is for; nothing: a service"`
	ChargeID     int64          `json:"chargeId" doc:"of a planned fee, or 0"`
	PersonID     int64          `json:"personId"`
	Engagement   string         `json:"engagement"`
	EngagementID int64          `json:"engagementId"`
	Day          day.Day        `json:"day"`
	Initials     string         `json:"initials"`
	Text         string         `json:"text"`
	Minutes      int            `json:"minutes"`
	PerHour      money.Rate     `json:"perHour" doc:"in ten-thousandths"`
	Quantity     string         `json:"quantity" doc:"of a line by hand, as typed"`
	Unit         string         `json:"unit"`
	Price        string         `json:"price" doc:"of one, as typed"`
	TaxCode      string         `json:"taxCode"`
	Category     string         `json:"category" doc:"of an expense"`
	Picture      string         `json:"picture" doc:"beside it, by its name"`
	Treatment    core.Treatment `json:"treatment" enum:"billable,out_of_scope,no_charge,not_billable"`
	Covered      bool           `json:"covered" doc:"by the fee on whose line it is"`
	OverCap      bool           `json:"overCap" doc:"left out because of a cap"`
	Part         string         `json:"part" doc:"what part of its entry it is, in words; nothing: all of it"`
	WasMinutes   int            `json:"wasMinutes" doc:"before it was written down, or 0"`
	WasAmount    money.Amount   `json:"wasAmount" doc:"before it was written down or up"`
	Decision     *Decided       `json:"decision,omitempty" doc:"the last one on it, that can be taken back"`
	Hold         string         `json:"hold" doc:"of what is left out: nothing, released, or the day of release"`
	Confirmed    bool           `json:"confirmed" doc:"an open price waits to be given"`
	Standard     money.Amount   `json:"standard"`
	Amount       money.Amount   `json:"amount"`
	Explanation  explain.Step   `json:"explanation"`
}

// Decided is a decision on an entry: who took it, and why.
type Decided struct {
	ActID  int64  `json:"actId"`
	Said   string `json:"said"`
	Reason string `json:"reason"`
	Person string `json:"person"`
}

// OwedPart is an instalment and what is open of it.
type OwedPart struct {
	Due      day.Day      `json:"due"`
	Words    string       `json:"words"`
	Amount   money.Amount `json:"amount"`
	Open     money.Amount `json:"open"`
	DaysLate int          `json:"daysLate" doc:"0 if it is not"`
}

// Returns is how an invoice comes back: what of it is still planned.
type Returns struct {
	Bills int     `json:"bills"`
	Next  day.Day `json:"next"`
	Last  day.Day `json:"last"`
}

// One reads an invoice that the actor may see.
func One(ctx context.Context, a *app.App, actor app.Actor, id int64) (*Invoice, error) {
	tx, today := a.Read(ctx, actor), a.Clock.Today()
	inv, err := papers.Visible(tx, id)
	if err != nil {
		return nil, err
	}
	v := &Invoice{Summary: summary(inv, today), HasFile: inv.State.IsIssued() && inv.Kind != invoice.Opening, TaxDate: inv.TaxDay,
		Disputed: inv.Disputed, WrittenOff: inv.Amount(inv.WrittenOff),
		Choices: []InvoiceChoice{}, Around: nothingRelated(&inv.Invoice), Money: []ledger.MoneyLine{}, Instalments: []OwedPart{},
		Notes:    []Summary{},
		Findings: []issuing.DraftFinding{}, Approvals: []issuing.LeadSaid{}}
	on, err := papers.ContentOf(tx, &inv.Invoice)
	if err != nil {
		return nil, err
	}
	if err := v.addLines(tx, inv, on, today); err != nil {
		return nil, err
	}
	doc, err := papers.DocumentWith(tx, &inv.Invoice, on)
	if err != nil {
		return nil, err
	}
	v.Document, v.Printed = *doc, doc.Print()
	v.FirstDue, v.Terms, v.AmountDue = doc.Due, termsFor(&inv.Invoice, doc), doc.Totals.Due
	if inv.State.IsDraft() { // as it is now, whatever was last saved
		v.Net, v.Tax, v.Total = doc.Totals.Net, doc.Totals.Tax, doc.Totals.Total
	}
	if err := v.addGiven(inv); err != nil {
		return nil, err
	}
	if inv.State.IsDraft() {
		err = errors.Join(v.addDraft(tx, inv), v.addReview(a, tx, inv))
	} else {
		err = v.addMoney(tx, inv, today)
	}
	if err != nil {
		return nil, err
	}
	planned, err := store.ReturningOf(tx, id)
	if err != nil {
		return nil, err
	}
	if planned.Bills > 0 {
		v.Returns = &Returns{planned.Bills, planned.Next, planned.Last}
	}
	v.Explanation, err = papers.ExplanationOf(tx, &inv.Invoice, on)
	return v, err
}

// termsFor are the terms of an invoice in the words of the desks, whatever language its
// document speaks.
func termsFor(inv *store.Invoice, doc *invoice.Document) string {
	if doc.Terms == "" {
		return ""
	}
	if len(doc.Payable) > 1 {
		return app.Counted(len(doc.Payable), "instalment", "instalments")
	}
	terms, err := schedule.ParseTerms(inv.Terms)
	if err != nil {
		return doc.Terms
	}
	return terms.String()
}

func (v *Invoice) addLines(tx *store.DB, inv *store.InvoiceRow, on *papers.Content, today day.Day) error {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return err
	}
	kinds, err := kindsOf(tx, on.Lines)
	if err != nil {
		return err
	}
	v.Lines, v.writtenDown = make([]Line, 0, len(on.Lines)), on.Decided.Down
	for _, row := range on.Lines {
		line := lineView(row, on.Engagements[row.EngagementID].Name, on.Codes[row.TaxCodeID].Code, firm.Mark())
		line.OfKind, line.Picture = kinds[store.OrZero(row.LineKindID)], on.Pictures[store.OrZero(row.PictureID)].Name
		behind := []Line{}
		for i := range on.Portions {
			p := &on.Portions[i]
			if *p.LineID == row.ID && row.Kind.Covers() {
				behind = append(behind, withDecision(on.Decided, portionView(p, line.Engagement), p))
			} else if *p.LineID == row.ID {
				of := withDecision(on.Decided, portionView(p, line.Engagement), p)
				of.Kind, of.TaxCode, of.Confirmed, of.Amount = line.Kind, line.TaxCode, true, line.Amount
				line = of
			}
		}
		v.Lines = append(append(v.Lines, line), behind...)
	}
	return v.addLeftOut(tx, inv, today)
}

// kindsOf are the names of the kinds of lines by hand, by their numbers.
func kindsOf(tx *store.DB, lines []store.InvoiceLine) (map[int64]string, error) {
	names := map[int64]string{}
	if !slices.ContainsFunc(lines, func(l store.InvoiceLine) bool { return l.LineKindID != nil }) {
		return names, nil
	}
	kinds, err := store.All[store.LineKind](tx, "id")
	for _, k := range kinds {
		names[k.ID] = k.Name
	}
	return names, err
}

func (v *Invoice) addLeftOut(tx *store.DB, inv *store.InvoiceRow, today day.Day) error {
	v.LeftOut = []Line{}
	if !inv.State.IsDraft() {
		return nil
	}
	ids, err := store.EngagementsOf(tx, inv.ID)
	if err != nil {
		return err
	}
	engagements, err := store.EngagementRows(tx, ids)
	if err != nil {
		return err
	}
	names := map[int64]string{}
	for _, e := range engagements {
		names[e.ID] = e.Name
	}
	out, err := store.UnbilledPortions(tx, store.UnbilledFilter{UpTo: inv.UpToDay, EngagementIDs: ids})
	for i := range out {
		line := portionView(&out[i], names[out[i].EngagementID])
		line.Hold = wip.HoldText(&out[i].Portion, today)
		v.LeftOut = append(v.LeftOut, line)
	}
	return err
}

func lineView(row store.InvoiceLine, engagement, taxCode string, mark money.Mark) Line {
	none := money.Zero(row.Currency)
	line := Line{LineID: row.ID, LineVersion: row.Version, Kind: row.Kind, Source: "none", Engagement: engagement,
		EngagementID: row.EngagementID, Day: row.Day,
		Text: row.Text, Minutes: row.Minutes, TaxCode: taxCode,
		Treatment: row.Treatment, Confirmed: row.Confirmed, Unit: row.Unit, Standard: none,
		Amount: money.Amount{Minor: row.Amount, Currency: row.Currency}}
	if row.UnitPrice != nil {
		line.Quantity, line.Price = money.TypeFixed(*row.Quantity, mark, 4, 0), money.TypeFixed(int64(*row.UnitPrice), mark, 4, 2)
	}
	line.ChargeID = store.OrZero(row.ChargeID)
	line.WasAmount = line.Amount
	line.Explanation = explain.Step{Label: row.Text, Detail: papers.LineDetail(row), Figure: line.Amount.String()}
	return line
}

// partOf says which part of its entry a portion is that is worth so much.
func partOf(p *store.PortionRow, worth int64) string {
	switch {
	case p.PayerID != nil:
		return "one payer's share"
	case p.Part > 0 || worth != p.AgreedWhole:
		return "part, at the cap"
	}
	return ""
}

func portionView(p *store.PortionRow, engagement string) Line {
	line := Line{LineVersion: p.LineVersion, Kind: invoice.Time, PortionID: p.ID, Source: p.Source, PurchaseID: p.PurchaseID,
		PersonID: p.PersonID, Engagement: engagement, EngagementID: p.EngagementID,
		Day: p.WorkedDay, Initials: p.Initials, Text: papers.LineText(*p), Minutes: p.Minutes, Treatment: p.Treatment, Covered: p.Covered,
		OverCap: p.OverCap, Confirmed: true,
		Part:     partOf(p, p.Agreed),
		Standard: money.Amount{Minor: p.Standard, Currency: p.Currency}, Amount: money.Amount{Minor: p.Agreed, Currency: p.Currency},
		Explanation: p.Explain()}
	if p.IsExpense() {
		line.Kind, line.Category = invoice.Expense, p.Service
		if units, unit, price := p.Units(); units != 0 {
			line.Quantity, line.Unit = money.TypeFixed(units, money.Point, 4, 0), unit
			if price != nil {
				line.PerHour = *price
			}
		}
	} else {
		line.EntryID = p.SourceID
	}
	if p.LineID != nil {
		line.LineID = *p.LineID
		if !p.Covered {
			line.Text = p.LineText
		}
	}
	if perHour := drafts.ShownRate(p); perHour != nil && !p.IsExpense() {
		line.PerHour = *perHour
	}
	line.WasAmount = line.Amount
	return line
}
