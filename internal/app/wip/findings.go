package wip

import (
	"fmt"

	"dorvet/core/day"
	"dorvet/core/money"
	core "dorvet/core/wip"
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

// look adds to a list how budgets stand, what is held, and the findings.
func (l *UnbilledList) look(tx *store.DB, today day.Day) error {
	ids, clients := []int64{}, []int64{}
	for _, c := range l.Clients {
		clients = append(clients, c.ClientID)
		for _, e := range c.Engagements {
			ids = append(ids, e.EngagementID)
		}
	}
	budgets, err := setup.BudgetShares(tx, ids, today)
	if err != nil {
		return err
	}
	funds, err := store.HeldByClient(tx)
	if err != nil {
		return err
	}
	without, err := store.WithoutContact(tx, clients)
	if err != nil {
		return err
	}
	limit, err := profiles.Nearest(tx, "unbilled_limit")
	if err != nil {
		return err
	}
	for i := range l.Clients {
		c := &l.Clients[i]
		for _, held := range funds {
			if held.ClientID == c.ClientID {
				c.Funds = append(c.Funds, money.Amount{Minor: held.Amount, Currency: held.Currency})
			}
		}
		if without[c.ClientID] {
			c.Findings = append(c.Findings, Warning{"no_contact", "No billing contact.",
				"Nobody can get the invoice: give the client a contact or an address.", "warning", fmt.Sprintf("/clients/%d", c.ClientID)})
		}
		for n := range c.Engagements {
			e := &c.Engagements[n]
			if share, has := budgets[e.EngagementID]; has {
				e.Budget = &share
			}
			if err := e.find(tx, today, limit(c.ClientID, e.EngagementID)); err != nil {
				return err
			}
		}
	}
	return nil
}

// find looks for what is wrong with an engagement's work.
func (w *EngagementWork) find(tx *store.DB, today day.Day, limit string) error {
	tell := func(code, title, remedy string) {
		w.Findings = append(w.Findings, Warning{code, title, remedy, "warning", ""})
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
	case w.Budget != nil && w.Budget.Share > money.Hundred:
		tell("budget", fmt.Sprintf("Budget passed: %s of %s.", w.Budget.Used, w.Budget.Limit),
			"Tell the client before the bill does, or write something down.")
	case w.CapLeft != nil && w.nearlyCapped():
		tell("cap_near", fmt.Sprintf("Cap nearly reached. %s left of %s before this.", w.CapLeft, w.Fee),
			"Agree on a higher cap before the next work is done.")
	}
	if w.Arrangement == setup.FixedFee && w.Fee != nil {
		if err := w.findFee(tx, tell); err != nil {
			return err
		}
	}
	if most, err := money.ParseFixed(limit, money.Point, 4); err == nil && limit != "" && most > 0 {
		if over, err := w.unbilled().AtLeast(most + 1); err == nil && over {
			tell("limit", "Over the limit on unbilled work.", fmt.Sprintf("%s is agreed at most: bill it now.", limit))
		}
	}
	if !w.row.ClosedDay.IsZero() && w.row.ClosedDay <= today && !w.unbilled().IsZero() {
		tell("finished", "Finished, not invoiced.", fmt.Sprintf("It was closed on %s: send the last bill.", w.row.ClosedDay.Long()))
	}
	return nil
}

// nearlyCapped reports whether this bill would nearly use up the cap.
func (w *EngagementWork) nearlyCapped() bool {
	used, err := money.MulDiv(w.Fee.Minor-w.CapLeft.Minor+w.Time.Minor, int64(money.Hundred), max(w.Fee.Minor, 1))
	return err == nil && money.Percent(used) >= nearly
}

// findFee tells of a fixed fee that the work behind it has used up.
func (w *EngagementWork) findFee(tx *store.DB, tell func(code, title, remedy string)) error {
	fee, err := feeOf(tx, &w.row.Engagement, w.BehindFee)
	if err != nil || fee == nil || w.Fee.Minor == 0 {
		return err
	}
	if w.Budget == nil {
		w.Budget = &setup.BudgetShare{Share: fee.WorkedShare, Used: fee.Worked.String(), Limit: w.Fee.String(), Of: "the fee"}
	}
	if fee.WorkedShare >= money.Hundred {
		tell("fee_used", fmt.Sprintf("Fixed fee used up: %s worked for %s.", fee.Worked, w.Fee),
			"What comes on top is a loss: agree on an extra, or record it as out of scope.")
	}
	return nil
}

// FeeProgress is how a fixed fee stands: worked against billed and agreed.
type FeeProgress struct {
	Fee         money.Amount  `json:"fee"`
	Worked      money.Amount  `json:"worked" doc:"standard value of all the time behind it"`
	Billed      money.Amount  `json:"billed" doc:"of it, with what is on drafts"`
	WorkedShare money.Percent `json:"workedShare" doc:"worked of the fee, in ten-thousandths of a percent"`
	BilledShare money.Percent `json:"billedShare"`
	Done        money.Percent `json:"done" doc:"as the phases and tasks say; without any, as was billed"`
	Expected    money.Amount  `json:"expected" doc:"result at the end: fee less what the work comes to at this pace"`
}

// feeOf reads how the fixed fee of an engagement stands, with unbilled work behind
// it; nil where it has none.
func feeOf(tx *store.DB, e *store.Engagement, behind money.Amount) (*FeeProgress, error) {
	if e.Arrangement != setup.FixedFee || e.Fee == nil || *e.Fee == 0 {
		return nil, nil
	}
	billed, err := store.ProgressOn(tx, e.ID, 0)
	if err != nil {
		return nil, err
	}
	covered, err := store.CoveredStandard(tx, e.ID)
	if err != nil {
		return nil, err
	}
	reserved, err := store.CoveredOnDrafts(tx, e.ID)
	if err != nil {
		return nil, err
	}
	done, known, err := store.TasksDone(tx, e.ID)
	if err != nil {
		return nil, err
	}
	amount := func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: e.Currency} }
	s, err := core.Stand(amount(*e.Fee), amount(covered+reserved+behind.Minor), amount(billed), done, known)
	return &FeeProgress{s.Fee, s.Worked, s.Billed, s.WorkedShare, s.BilledShare, s.Done, s.Expected}, err
}
