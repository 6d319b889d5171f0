package timekeeping

import (
	"fmt"
	"strings"

	"dorvet/core/wip"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// asked says what the client asks of entries and this one does not keep; what is not
// billed asks nothing.
func asked(tx *store.DB, entry *store.TimeEntry) (string, error) {
	g, err := store.Get[store.Engagement](tx, entry.EngagementID)
	if err != nil {
		return "", err
	}
	p, err := profiles.ProfileOf(tx, g)
	if err != nil {
		return "", err
	}
	rules := profiles.RulesOf(p)
	if rules.None() || entry.Treatment != wip.Billable {
		return "", nil
	}
	service, err := store.Get[store.Service](tx, entry.ServiceID)
	if err != nil {
		return "", err
	}
	others, err := store.ChargedOfDays(tx, g.ID, entry.Day, entry.Day, entry.ID)
	if err != nil {
		return "", err
	}
	ruled := wip.Ruled{Text: entry.Text, Kind: service.Name,
		DayMinutes: others[store.PersonDay{PersonID: entry.PersonID, Day: entry.Day}] + entry.BilledMinutes}
	if won := entry.Valued.Rate.Won; won != nil && entry.Flat == nil {
		ruled.PerHour = won.PerHour
	}
	broken := rules.Broken(ruled)
	if len(broken) == 0 {
		return "", nil
	}
	return "Not as the client asks: " + strings.Join(broken, "; ") + ".", nil
}

// warning says what to ask before more is recorded on an engagement whose work is over.
func warning(tx *store.DB, engagementID int64) (string, error) {
	g, err := store.Get[store.Engagement](tx, engagementID)
	if err != nil || g.Stage != setup.Finished && g.Stage != setup.Closed {
		return "", err
	}
	lead, err := store.Get[store.Person](tx, g.LeadID)
	if err != nil {
		return "", err
	}
	return fmt.Sprintf("%s is finished: ask %s before you record more on it.", g.Name, lead.Name), nil
}
