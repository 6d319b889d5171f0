package invoices

import (
	"slices"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/issuing"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Related is what stands around a draft: what else could be on it, what is held for
// its client, and what they owe.
type Related struct {
	Engagements []DraftWork          `json:"engagements" doc:"that can stand on it"`
	Charges     []ChargeToCome       `json:"charges" doc:"not billed yet"`
	Advances    []AdvanceLeft        `json:"advances" doc:"invoiced ahead, not come back yet"`
	Schedules   []NamedSchedule      `json:"schedules" doc:"to choose from"`
	TaxCodes    []profiles.TaxChoice `json:"taxCodes"`
	LineKinds   []string             `json:"lineKinds" doc:"what lines by hand are for"`
	Held        money.Amount         `json:"held" doc:"of funds, before what this draft takes"`
	Applied     money.Amount         `json:"applied" doc:"of funds, by this draft"`
	Credit      money.Amount         `json:"credit" doc:"of the client, before what this draft takes"`
	Owed        money.Amount         `json:"owed" doc:"on other invoices"`
	Parts       []ScheduledParts     `json:"parts" doc:"how the amount due would be paid"`
}

// DraftWork is an engagement on a draft, and how its fee stands.
type DraftWork struct {
	ID       int64         `json:"id"`
	Name     string        `json:"name"`
	On       bool          `json:"on" doc:"something of it is on the draft"`
	Fee      *money.Amount `json:"fee,omitempty" doc:"fixed fee, or cap"`
	Capped   bool          `json:"capped"`
	Fixed    bool          `json:"fixed"`
	Billed   money.Amount  `json:"billed" doc:"of the fee, with what is on drafts"`
	Covered  money.Amount  `json:"covered" doc:"time behind issued fees, at standard"`
	Variance money.Amount  `json:"variance" doc:"issued fees less the time that they cover, life to date"`
}

// ChargeToCome is a charge that could be put on a draft.
type ChargeToCome struct {
	ID     int64        `json:"id"`
	Text   string       `json:"text"`
	When   string       `json:"when" doc:"a day, or what must happen"`
	Due    bool         `json:"due"`
	Amount money.Amount `json:"amount"`
	Open   bool         `json:"open" doc:"its price is given when it is billed"`
}

// AdvanceLeft is what is left of an advance.
type AdvanceLeft struct {
	LineID int64        `json:"lineId"`
	Number string       `json:"number"`
	Left   money.Amount `json:"left"`
}

// NamedSchedule is a payment schedule by its name.
type NamedSchedule struct {
	Name  string `json:"name"`
	Parts string `json:"parts"`
}

// ScheduledParts is an instalment of a draft.
type ScheduledParts struct {
	Due    day.Day      `json:"due"`
	Words  string       `json:"words"`
	Amount money.Amount `json:"amount"`
	Moved  bool         `json:"moved" doc:"its day would be before the invoice, and was moved to it"`
}

// addDraft adds what only a draft has.
func (v *Invoice) addDraft(tx *store.DB, inv *store.InvoiceRow) (err error) {
	if v.NextNumber = inv.NumberText; inv.Number == nil {
		series, err := store.Get[store.Series](tx, inv.SeriesID)
		if err != nil {
			return err
		}
		v.NextNumber = issuing.NumberText(series)
	}
	if v.Choices, err = choicesOf(tx, &inv.Invoice); err != nil {
		return err
	}
	parts, problem, err := papers.Payable(tx, &inv.Invoice, inv.Amount(inv.Due))
	if err != nil {
		return err
	}
	v.Problem = problem
	for _, part := range parts {
		v.Around.Parts = append(v.Around.Parts, ScheduledParts{part.Due, part.Words, part.Amount, part.Moved})
	}
	for _, step := range []func(*store.DB, *store.Invoice) error{v.Around.addWork, v.Around.addCharges, v.Around.addMoney,
		v.Around.addLists} {
		if err := step(tx, &inv.Invoice); err != nil {
			return err
		}
	}
	return nil
}

// nothingAround is what stands around an invoice that is no draft.
func nothingRelated(inv *store.Invoice) Related {
	none := inv.Amount(0)
	return Related{Engagements: []DraftWork{}, Charges: []ChargeToCome{}, Advances: []AdvanceLeft{}, Schedules: []NamedSchedule{},
		TaxCodes: []profiles.TaxChoice{}, LineKinds: []string{},
		Parts: []ScheduledParts{}, Held: none, Applied: none, Credit: none, Owed: none}
}

func (a *Related) addWork(tx *store.DB, inv *store.Invoice) error {
	rows, err := store.EngagementRowsOf(tx, inv.ClientID)
	if err != nil {
		return err
	}
	on, err := store.EngagementsOf(tx, inv.ID)
	if err != nil {
		return err
	}
	for _, e := range rows {
		if e.EntityID != inv.EntityID || e.Numbered != inv.SeriesID || e.Currency != inv.Currency {
			continue
		}
		work := DraftWork{ID: e.ID, Name: e.Name, On: slices.Contains(on, e.ID), Capped: e.Arrangement == setup.Capped,
			Fixed:  e.Arrangement == setup.FixedFee,
			Billed: inv.Amount(0), Covered: inv.Amount(0), Variance: inv.Amount(0)}
		if err := work.addFee(tx, inv, &e.Engagement); err != nil {
			return err
		}
		a.Engagements = append(a.Engagements, work)
	}
	return nil
}

func (w *DraftWork) addFee(tx *store.DB, inv *store.Invoice, e *store.Engagement) error {
	if e.Fee == nil || !w.Capped && !w.Fixed {
		return nil
	}
	fee := inv.Amount(*e.Fee)
	w.Fee = &fee
	if w.Capped {
		billed, err := store.FeesOn(tx, []int64{e.ID}, 0)
		w.Billed = inv.Amount(billed[e.ID])
		return err
	}
	billed, err := store.ProgressOn(tx, e.ID, 0)
	if err != nil {
		return err
	}
	w.Billed = inv.Amount(billed)
	covered, err := store.CoveredStandard(tx, e.ID)
	if err != nil {
		return err
	}
	issued, err := store.BilledSums(tx, []int64{e.ID})
	if err != nil {
		return err
	}
	w.Covered = inv.Amount(covered)
	w.Variance, err = invoice.Variance(inv.Amount(issued[e.ID].Fees), w.Covered)
	return err
}

func (a *Related) addCharges(tx *store.DB, inv *store.Invoice) error {
	ids := []int64{}
	for _, w := range a.Engagements {
		ids = append(ids, w.ID)
	}
	charges, err := store.PlannedCharges(tx, ids)
	if err != nil {
		return err
	}
	for _, c := range charges {
		if c.Kind == "deposit" || c.Paused {
			continue
		}
		planned := ChargeToCome{ID: c.ID, Text: drafts.ChargeText(&c, wording.Words{}), When: c.Event, Amount: inv.Amount(c.Amount),
			Open: c.Open}
		if !c.BillDay.IsZero() {
			planned.When, planned.Due = c.BillDay.Long(), c.BillDay <= inv.Dated
		}
		a.Charges = append(a.Charges, planned)
	}
	advances, err := store.OpenAdvances(tx, ids, 0)
	for _, advance := range advances {
		a.Advances = append(a.Advances, AdvanceLeft{advance.ID, advance.NumberText, inv.Amount(advance.Left)})
	}
	return err
}

func (a *Related) addMoney(tx *store.DB, inv *store.Invoice) error {
	all, err := store.FundsOfAccount(tx, inv.Account(), inv.ID)
	if err != nil {
		return err
	}
	held := int64(0)
	for _, p := range all {
		held += max(p.Held-p.Reserved, 0)
	}
	credit, err := store.CreditOf(tx, inv.Account(), inv.ID)
	if err != nil {
		return err
	}
	owed, err := store.OwedBefore(tx, inv.Account(), inv.ID)
	a.Held, a.Applied, a.Credit, a.Owed = inv.Amount(held), inv.Amount(inv.Funds), inv.Amount(credit.Free()), inv.Amount(owed)
	return err
}

func (a *Related) addLists(tx *store.DB, inv *store.Invoice) error {
	schedules, err := store.All[store.PaymentSchedule](tx, "name")
	if err != nil {
		return err
	}
	for _, s := range schedules {
		if s.Active {
			a.Schedules = append(a.Schedules, NamedSchedule{s.Name, s.Parts})
		}
	}
	if a.TaxCodes, err = profiles.TaxChoices(tx, inv.TaxDay); err != nil {
		return err
	}
	kinds, err := store.All[store.LineKind](tx, "id")
	for _, k := range kinds {
		if k.Active {
			a.LineKinds = append(a.LineKinds, k.Name)
		}
	}
	return err
}
