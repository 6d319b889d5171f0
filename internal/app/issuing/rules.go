package issuing

import (
	"slices"
	"strings"

	"dorvet/core/day"
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
		if row, breaks := broken(rules, s.EngagementID, portions); breaks {
			row.InvoiceID = s.InvoiceID
			found = append(found, row)
		}
	}
	return found, nil
}

// broken says what of an engagement on a draft breaks rules, from its first line on.
func broken(rules core.Rules, engagementID int64, portions []store.PortionRow) (store.FindingRow, bool) {
	type personDay struct {
		person int64
		day    day.Day
	}
	minutes := map[personDay]int{}
	for i := range portions {
		p := &portions[i]
		minutes[personDay{p.PersonID, p.WorkedDay}] += p.Minutes
	}
	row, texts, entries := store.FindingRow{EngagementID: engagementID}, []string{}, 0
	for i := range portions {
		p := &portions[i]
		if p.EngagementID != engagementID || p.Treatment == core.NoCharge {
			continue
		}
		e := core.Ruled{Text: p.Text, Kind: p.Service, DayMinutes: minutes[personDay{p.PersonID, p.WorkedDay}]}
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
