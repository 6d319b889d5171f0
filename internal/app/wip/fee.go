package wip

import (
	"dorvet/core/day"
	"dorvet/core/money"
	core "dorvet/core/wip"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// FeeProgress is how a fixed fee stands: worked against billed and agreed. It is measured over
// all the work there is, whatever is looked at.
type FeeProgress struct {
	Fee         money.Amount  `json:"fee"`
	Worked      money.Amount  `json:"worked" doc:"standard value of all the time behind it"`
	Billed      money.Amount  `json:"billed" doc:"of it, on issued invoices less credits"`
	WorkedShare money.Percent `json:"workedShare" doc:"worked of the fee, in ten-thousandths of a percent"`
	BilledShare money.Percent `json:"billedShare"`
	Done        money.Percent `json:"done"`
	DoneFrom    core.DoneFrom `json:"doneFrom" enum:"typed,phases,hours,unknown" doc:"who says how much is done"`
	Expected    *money.Amount `json:"expected,omitempty" doc:"result at the end: fee less what the work comes to at this pace; where it is known how much is done"`
}

// feesOf reads how the fixed fees of engagements stand, by engagement; those without are left
// out.
func feesOf(tx *store.DB, engagements []*store.Engagement) (map[int64]*FeeProgress, error) {
	fixed, ids := []*store.Engagement{}, []int64{}
	for _, e := range engagements {
		if e.Arrangement == setup.FixedFee && e.Fee != nil && *e.Fee != 0 {
			fixed, ids = append(fixed, e), append(ids, e.ID)
		}
	}
	fees := map[int64]*FeeProgress{}
	if len(ids) == 0 {
		return fees, nil
	}
	behind, err := store.BehindFees(tx, ids)
	if err != nil {
		return nil, err
	}
	billed, err := store.BilledSums(tx, ids)
	if err != nil {
		return nil, err
	}
	for _, e := range fixed {
		work, amount := behind[e.ID], func(minor int64) money.Amount { return money.Amount{Minor: minor, Currency: e.Currency} }
		done, from := core.DoneOf(e.Done, work.Phases, work.PhasesDone, work.Minutes, work.Expected)
		s, err := core.Stand(amount(*e.Fee), amount(work.Standard), amount(billed[e.ID].Fees), done)
		if err != nil {
			return nil, err
		}
		fee := &FeeProgress{s.Fee, s.Worked, s.Billed, s.WorkedShare, s.BilledShare, done, from, nil}
		if from != core.Unknown {
			fee.Expected = &s.Expected
		}
		fees[e.ID] = fee
	}
	return fees, nil
}

// What is used where there is no budget.
const (
	ofFee = "the fee"
	ofCap = "the cap"
)

// usedOf is how much of what was planned each of some engagements has used: of its budget or,
// where it has none, of its fixed fee or its cap.
func usedOf(tx *store.DB, engagements []*store.Engagement, fees map[int64]*FeeProgress,
	today day.Day) (map[int64]setup.BudgetShare, error) {
	ids, capped := []int64{}, []*store.Engagement{}
	for _, e := range engagements {
		if ids = append(ids, e.ID); unbilled.IsCapped(e) && *e.Fee > 0 {
			capped = append(capped, e)
		}
	}
	shares, err := setup.BudgetShares(tx, ids, today)
	if err != nil {
		return nil, err
	}
	for id, fee := range fees {
		if _, has := shares[id]; !has {
			shares[id] = setup.BudgetShare{Share: fee.WorkedShare, Used: fee.Worked.String(), Limit: fee.Fee.String(), Of: ofFee}
		}
	}
	left, err := unbilled.CapsLeft(tx, capped, 0)
	if err != nil {
		return nil, err
	}
	open, err := store.UnbilledFees(tx, ids)
	for _, e := range capped {
		if _, has := shares[e.ID]; has || err != nil {
			continue
		}
		limit := money.Amount{Minor: *e.Fee, Currency: e.Currency}
		worked := money.Amount{Minor: *e.Fee - left[e.ID] + open[e.ID], Currency: e.Currency}
		share, err := money.MulDiv(worked.Minor, int64(money.Hundred), limit.Minor)
		if err != nil {
			return nil, err
		}
		shares[e.ID] = setup.BudgetShare{Share: money.Percent(share), Used: worked.String(), Limit: limit.String(), Of: ofCap}
	}
	return shares, err
}
