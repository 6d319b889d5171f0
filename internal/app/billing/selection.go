package billing

import (
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// Selection says what to make drafts of, together: a billing run.
type Selection struct {
	RunID         int64     `json:"runId,omitempty" doc:"to which the drafts are added; 0: a new run"`
	Name          string    `json:"name,omitempty" maxLength:"100" doc:"of the run; nothing: from the cut-off"`
	From          day.Day   `json:"from,omitempty" format:"date" doc:"the first day of work; nothing: since the last bill"`
	UpTo          day.Day   `json:"upTo" format:"date" doc:"cut-off: the last day of work"`
	ChargesUpTo   day.Day   `json:"chargesUpTo,omitempty" format:"date" doc:"charges due up to it; nothing: the invoice date"`
	Dated         day.Day   `json:"dated" format:"date" doc:"invoice date"`
	Terms         string    `json:"terms,omitempty" maxLength:"40" doc:"nothing: each client's own"`
	Text          string    `json:"text,omitempty" maxLength:"2000" doc:"opening text; nothing: each client's own"`
	EngagementIDs []int64   `json:"engagementIds" maxItems:"10000"`
	Leave         []Leaving `json:"leave,omitempty" maxItems:"10000" doc:"what of an engagement is left; all of it is taken else"`
	Apart         []int64   `json:"apart,omitempty" maxItems:"10000" doc:"engagements with an invoice of their own, whatever their client has"`
	Together      []int64   `json:"together,omitempty" maxItems:"10000" doc:"engagements on one invoice, whatever their client has"`
}

// Leaving is what of an engagement is left unbilled.
type Leaving struct {
	EngagementID int64 `json:"engagementId"`
	Time         bool  `json:"time,omitempty"`
	Expenses     bool  `json:"expenses,omitempty"`
	Charges      bool  `json:"charges,omitempty"`
}

// complete refuses a selection without days, and fills in what follows.
func (s *Selection) complete() error {
	if s.UpTo.IsZero() || s.Dated.IsZero() {
		return app.RefuseField("upTo", "Give the last day of work and the invoice date, like 2026-11-30.")
	}
	if !s.From.IsZero() && s.From > s.UpTo {
		return app.RefuseField("from", "The first day of work, %s, is after the last, %s.", s.From.Long(), s.UpTo.Long())
	}
	if s.ChargesUpTo.IsZero() {
		s.ChargesUpTo = s.Dated
	}
	slices.Sort(s.EngagementIDs)
	s.EngagementIDs = slices.Compact(s.EngagementIDs)
	return nil
}

// left is what of an engagement is left.
func (s *Selection) left() map[int64]Leaving {
	left := map[int64]Leaving{}
	for _, l := range s.Leave {
		left[l.EngagementID] = l
	}
	return left
}

// draftOf is what shares one invoice.
type draftOf struct {
	ClientID, EntityID, SeriesID int64
	EngagementID                 int64 // 0 where the client's engagements are combined
	Currency                     money.Currency
}

// group says on which invoice an engagement's work goes: one of the client, or
// one of its own, as it is where a discount holds for it alone; never two issuing
// entities, series or currencies on one.
func (s *Selection) group(e *store.EngagementRow) draftOf {
	key := draftOf{ClientID: e.ClientID, EntityID: e.EntityID, SeriesID: e.Numbered, Currency: e.Currency}
	combined := (e.Combined || slices.Contains(s.Together, e.ID)) && !slices.Contains(s.Apart, e.ID)
	if !combined || e.OwnPrice {
		key.EngagementID = e.ID
	}
	return key
}

// grouped are the engagements of each draft, in the order in which drafts are made.
func (s *Selection) grouped(engagements []store.EngagementRow) ([]draftOf, map[draftOf][]store.EngagementRow) {
	order, groups := []draftOf{}, map[draftOf][]store.EngagementRow{}
	for i := range engagements {
		key := s.group(&engagements[i])
		if groups[key] == nil {
			order = append(order, key)
		}
		groups[key] = append(groups[key], engagements[i])
	}
	return order, groups
}

// work is what a selection finds unbilled: portions that can be billed by
// themselves, those that a fee covers, and charges, by engagement.
type work struct {
	engagements []store.EngagementRow
	portions    map[int64][]store.PortionRow
	charges     map[int64][]store.Charge
}

// found reads what of a selection can be billed now.
func (s *Selection) found(tx *app.Tx) (*work, error) {
	w := &work{charges: map[int64][]store.Charge{}}
	var err error
	if w.engagements, err = store.EngagementRows(tx.DB, s.EngagementIDs); err != nil {
		return nil, err
	}
	sight := tx.Actor.Scope()
	w.engagements = slices.DeleteFunc(w.engagements, func(e store.EngagementRow) bool { return !sight.Sees(&e.Engagement) })
	ids, left := idsOf(w.engagements), s.left()
	if w.portions, err = s.portions(tx, ids); err != nil {
		return nil, err
	}
	charges, err := wip.ChargesDue(tx, ids, s.ChargesUpTo)
	for _, c := range charges {
		if !left[c.EngagementID].Charges {
			w.charges[c.EngagementID] = append(w.charges[c.EngagementID], c)
		}
	}
	return w, err
}

// portions are the parts of unbilled work that a selection takes, by engagement, the
// oldest first.
func (s *Selection) portions(tx *app.Tx, engagementIDs []int64) (map[int64][]store.PortionRow, error) {
	rows, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{From: s.From, UpTo: s.UpTo, EngagementIDs: engagementIDs})
	taken, left := map[int64][]store.PortionRow{}, s.left()
	for _, p := range rows {
		leaves := left[p.EngagementID]
		if p.WithoutRate || p.Hold.Holds(p.HoldUntil, tx.Today) || p.IsExpense() && leaves.Expenses || !p.IsExpense() && leaves.Time {
			continue
		}
		taken[p.EngagementID] = append(taken[p.EngagementID], p)
	}
	return taken, err
}

// has reports whether something of an engagement can be billed.
func (w *work) has(e *store.EngagementRow) bool {
	return len(w.portions[e.ID]) > 0 || len(w.charges[e.ID]) > 0
}

// portionsOf are the portions of some engagements.
func (w *work) portionsOf(engagements []store.EngagementRow) (all []store.PortionRow) {
	for _, e := range engagements {
		all = append(all, w.portions[e.ID]...)
	}
	return all
}

// chargeLines are the lines that the charges of some engagements would have.
func (w *work) chargeLines(inv *store.Invoice, engagements []store.EngagementRow) (lines []store.InvoiceLine) {
	for _, e := range engagements {
		for i := range w.charges[e.ID] {
			lines = append(lines, chargeLine(inv, &w.charges[e.ID][i], wording.Words{}))
		}
	}
	return lines
}

func engagementsIn(rows []store.EngagementRow) []*store.Engagement {
	list := make([]*store.Engagement, len(rows))
	for i := range rows {
		list[i] = &rows[i].Engagement
	}
	return list
}
