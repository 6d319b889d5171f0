package unbilled

import (
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
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
	Separate      []int64   `json:"apart,omitempty" maxItems:"10000" doc:"engagements with an invoice of their own, whatever their client has"`
	Combined      []int64   `json:"together,omitempty" maxItems:"10000" doc:"engagements on one invoice, whatever their client has"`
}

// Leaving is what of an engagement is left unbilled.
type Leaving struct {
	EngagementID int64 `json:"engagementId"`
	Time         bool  `json:"time,omitempty"`
	Expenses     bool  `json:"expenses,omitempty"`
	Charges      bool  `json:"charges,omitempty"`
}

// part reports whether a part of the work is left.
func (l Leaving) part(p *store.PartSum) bool {
	if p.Taxed == "time" {
		return l.Time
	}
	return l.Expenses
}

func (l Leaving) portion(p *store.PortionRow) bool {
	if p.IsExpense() {
		return l.Expenses
	}
	return l.Time
}

// Complete refuses a selection without days, and fills in what follows.
func (s *Selection) Complete() error {
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

// Key is what shares one invoice.
type Key struct {
	ClientID, EntityID, SeriesID int64
	EngagementID                 int64 // 0 where the client's engagements are combined
	Currency                     money.Currency
}

// Group says on which invoice an engagement's work goes: one of the client, or
// one of its own, as it is where a discount holds for it alone; never two issuing
// entities, series or currencies on one.
func (s *Selection) Group(e *store.EngagementRow) Key {
	key := Key{ClientID: e.ClientID, EntityID: e.EntityID, SeriesID: e.Numbered, Currency: e.Currency}
	combined := (e.Combined || slices.Contains(s.Combined, e.ID)) && !slices.Contains(s.Separate, e.ID)
	if !combined || e.OwnPrice {
		key.EngagementID = e.ID
	}
	return key
}

// grouped are the engagements of each draft, in the order in which drafts are made.
func (s *Selection) grouped(engagements []store.EngagementRow) ([]Key, map[Key][]store.EngagementRow) {
	order, groups := []Key{}, map[Key][]store.EngagementRow{}
	for i := range engagements {
		key := s.Group(&engagements[i])
		if groups[key] == nil {
			order = append(order, key)
		}
		groups[key] = append(groups[key], engagements[i])
	}
	return order, groups
}
