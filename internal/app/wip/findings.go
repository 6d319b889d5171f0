package wip

import (
	"fmt"
	"maps"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Warning is something about unbilled work that costs money if nobody looks at it,
// and what to do about it.
type Warning struct {
	Code   string `json:"code"`
	Title  string `json:"title"`
	Remedy string `json:"remedy"`
	Weight string `json:"weight" enum:"note,warning" doc:"a note is no finding: it only says what will happen"`
	To     string `json:"to" doc:"where the remedy is, or nothing"`
}

// old is the age in days from which unbilled work is a finding; nearly is the
// share of a budget or cap from which it is nearly used up.
const (
	old    = 90
	nearly = 90 * money.Hundred / 100
)

// look adds to the work of some clients, or of all (nil), how budgets stand, what is held, and the findings.
func look(tx *store.DB, clients map[int64]*ClientWork, clientIDs []int64, today day.Day) error {
	engagements := []*store.Engagement{}
	for _, c := range clients {
		for n := range c.Engagements {
			engagements = append(engagements, &c.Engagements[n].row.Engagement)
		}
	}
	fees, err := feesOf(tx, engagements)
	if err != nil {
		return err
	}
	shares, err := usedOf(tx, engagements, fees, today)
	if err != nil {
		return err
	}
	limit, err := profiles.Nearest(tx, "unbilled_limit", clientIDs...)
	if err != nil {
		return err
	}
	for _, c := range clients {
		for n := range c.Engagements {
			e := &c.Engagements[n]
			if share, has := shares[e.EngagementID]; has {
				e.Budget = &share
			}
			e.find(fees[e.EngagementID], today, limit(c.ClientID, e.EngagementID))
		}
	}
	return lookAtClients(tx, clients)
}

func lookAtClients(tx *store.DB, clients map[int64]*ClientWork) error {
	ids := slices.Collect(maps.Keys(clients))
	funds, err := store.HeldByClient(tx, ids)
	if err != nil {
		return err
	}
	for _, held := range funds {
		c := clients[held.ClientID]
		c.Funds = append(c.Funds, money.Amount{Minor: held.Amount, Currency: held.Currency})
	}
	without, err := store.WithoutContact(tx, ids)
	for id := range without {
		c := clients[id]
		c.Findings = append(c.Findings, Warning{"no_contact", "No billing contact.",
			"Nobody can get the invoice: give the client a contact or an address.", "warning", fmt.Sprintf("/clients/%d", id)})
	}
	return err
}

// find looks for what is wrong with an engagement's work.
func (w *EngagementWork) find(fee *FeeProgress, today day.Day, limit string) {
	tell := func(code, title, remedy string) {
		w.Findings = append(w.Findings, Warning{code, title, remedy, "warning", remedyAt[code]})
	}
	if w.refused != nil {
		tell("refused", "Can't be billed as it is.", w.refused.Error())
	}
	if w.Forgotten.Minor > 0 {
		tell("purchases", fmt.Sprintf("Purchases not charged: %s.", w.Forgotten),
			"They are from before the last bill, and were not on it: bill them, or write them off.")
	}
	if w.WithoutRate > 0 {
		tell("without_rate", fmt.Sprintf("Without a rate: %s.", entries(w.WithoutRate)),
			"It can't be billed until a rate holds: set one for the person, client or engagement, then re-rate.")
	}
	if w.Oldest > old {
		tell("old", fmt.Sprintf("%d days old.", w.Oldest),
			"Old work is the hardest to collect: bill it, write it off, or ask the lead why it waits.")
	}
	switch {
	case w.OverCap.Minor > 0:
		tell("cap", fmt.Sprintf("Cap reached. %s left of %s.", w.CapLeft, w.Fee),
			fmt.Sprintf("%s of this stays unbilled: agree on a higher cap, or write it off.", w.OverCap))
	case w.Budget != nil && w.Budget.Of != ofFee && w.Budget.Of != ofCap && w.Budget.Share > money.Hundred:
		tell("budget", fmt.Sprintf("Budget passed: %s of %s.", w.Budget.Used, w.Budget.Limit),
			"Tell the client before the bill does, or write something down.")
	case w.CapLeft != nil && w.nearlyCapped():
		tell("cap_near", fmt.Sprintf("Cap nearly reached. %s left of %s before this.", w.CapLeft, w.Fee),
			"Agree on a higher cap before the next work is done.")
	}
	w.findFee(fee, tell)
	if most, err := money.ParseFixed(limit, money.Point, 4); err == nil && limit != "" && most > 0 {
		if over, err := w.unbilled().AtLeast(most + 1); err == nil && over {
			tell("limit", "Over the limit on unbilled work.", fmt.Sprintf("%s is agreed at most: bill it now.", limit))
		}
	}
	switch {
	case w.unbilled().IsZero():
	case !w.row.ClosedDay.IsZero() && w.row.ClosedDay <= today:
		tell("finished", "Finished, not invoiced.", fmt.Sprintf("It was closed on %s: send the last bill.", w.row.ClosedDay.Long()))
	case w.row.Stage == setup.Finished:
		tell("finished", "Finished, not invoiced.", "Its stage is finished: send the last bill.")
	}
}

// remedyAt is where a remedy is found.
var remedyAt = map[string]string{"without_rate": "/set-up/rates"}

// nearlyCapped reports whether this bill would nearly use up the cap.
func (w *EngagementWork) nearlyCapped() bool {
	used, err := money.MulDiv(w.Fee.Minor-w.CapLeft.Minor+w.Time.Minor, int64(money.Hundred), max(w.Fee.Minor, 1))
	return err == nil && money.Percent(used) >= nearly
}

// findFee tells of a fixed fee that the work behind it has used up.
func (w *EngagementWork) findFee(fee *FeeProgress, tell func(code, title, remedy string)) {
	if fee != nil && fee.WorkedShare >= money.Hundred {
		tell("fee_used", fmt.Sprintf("Fixed fee used up: %s worked for %s.", fee.Worked, fee.Fee),
			"What comes on top is a loss: agree on an extra, or record it as out of scope.")
	}
}
