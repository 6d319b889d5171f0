package issuing

import (
	"slices"
	"strings"

	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// clientRules finds work on drafts that is not as the client asks, told once for each
// engagement.
func (l *looking) clientRules() ([]store.FindingRow, error) {
	sums, engagements, err := l.sums()
	if err != nil {
		return nil, err
	}
	of, err := profiles.Profiles(l.tx, l.clients, engagements)
	if err != nil {
		return nil, err
	}
	found := []store.FindingRow{}
	for _, s := range sums {
		rules := profiles.RulesOf(of(s.ClientID, s.EngagementID))
		if rules.None() {
			continue
		}
		portions, err := store.PortionsOn(l.tx, s.InvoiceID)
		if err != nil {
			return nil, err
		}
		charged, err := chargedOf(l.tx, rules, s.EngagementID, portions)
		if err != nil {
			return nil, err
		}
		if row, breaks := broken(rules, s.EngagementID, portions, charged); breaks {
			row.InvoiceID = s.InvoiceID
			found = append(found, row)
		}
	}
	return found, nil
}

// chargedOf is what the client is charged for on the days of a draft, where a rule asks: the
// same as is said while it is recorded.
func chargedOf(tx *store.DB, rules core.Rules, engagementID int64, portions []store.PortionRow) (map[store.PersonDay]int, error) {
	if rules.MostMinutes == 0 || len(portions) == 0 {
		return nil, nil
	}
	first, last := portions[0].WorkedDay, portions[0].WorkedDay
	for _, p := range portions {
		first, last = min(first, p.WorkedDay), max(last, p.WorkedDay)
	}
	return store.ChargedOfDays(tx, engagementID, first, last, 0)
}

// broken says what of an engagement on a draft breaks rules, from its first line on.
func broken(rules core.Rules, engagementID int64, portions []store.PortionRow, charged map[store.PersonDay]int) (store.FindingRow, bool) {
	row, texts, entries := store.FindingRow{EngagementID: engagementID}, []string{}, 0
	for i := range portions {
		p := &portions[i]
		if p.EngagementID != engagementID || p.Treatment == core.NoCharge {
			continue
		}
		e := core.Ruled{Text: p.Text, Kind: p.Service, DayMinutes: charged[store.PersonDay{PersonID: p.PersonID, Day: p.WorkedDay}]}
		if p.IsExpense() {
			e.DayMinutes = 0
		} else if p.ValuedAt != nil {
			e.PerHour = money.Rate(*p.ValuedAt)
		}
		told := rules.Broken(e)
		if len(told) == 0 {
			continue
		}
		entries++
		if row.LineID == 0 {
			row.LineID = *p.LineID
		}
		for _, text := range told {
			if !slices.Contains(texts, text) {
				texts = append(texts, text)
			}
		}
	}
	if more := len(texts) - 3; more > 0 {
		texts = append(texts[:3], app.Counted(more, "more", "more"))
	}
	row.Text = app.Counted(entries, "entry", "entries") + ": " + strings.Join(texts, "; ")
	return row, entries > 0
}
