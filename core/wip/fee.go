package wip

import "dorvet/core/money"

// Standing is how a fixed fee stands: what was worked behind it at standard, what
// of it is billed, and what result is to be expected.
type Standing struct {
	Fee, Worked, Billed      money.Amount
	WorkedShare, BilledShare money.Percent
	// Expected is the fee less what the work will have come to when it is done, if
	// it goes on as it went: worked / done. It is negative where the fee is overrun.
	Expected money.Amount
}

// DoneFrom is who says how much of the work behind a fee is done.
type DoneFrom string

// Who says it. Value worked or billed never does: a fee that is half used up is not half done.
const (
	Typed    DoneFrom = "typed"  // on the engagement
	ByPhases DoneFrom = "phases" // that are done, of all
	ByHours  DoneFrom = "hours"  // worked, of those expected
	Unknown  DoneFrom = "unknown"
)

// DoneOf is how much of the work is done, and who says so: what was typed (0: nothing was), else
// the phases and tasks that are done, else hours worked of those expected, at most all of it.
func DoneOf(typed money.Percent, phases, phasesDone, minutes, expected int) (money.Percent, DoneFrom) {
	of := func(part, whole int) money.Percent {
		return money.Percent(int64(part) * int64(money.Hundred) / int64(whole))
	}
	switch {
	case typed > 0:
		return typed, Typed
	case phases > 0 && phasesDone > 0:
		return of(phasesDone, phases), ByPhases
	case expected > 0 && minutes > 0:
		return min(of(minutes, expected), money.Hundred), ByHours
	}
	return 0, Unknown
}

// Stand sets the work behind a fee against it. Before anything is done, the fee is all that is
// expected. A fee of nothing has no shares.
//
//	fee 48,000, worked 24,000, 40 % done: 60,000 at the end, 12,000 lost
func Stand(fee, worked, billed money.Amount, done money.Percent) (Standing, error) {
	s := Standing{Fee: fee, Worked: worked, Billed: billed, Expected: fee}
	if fee.Minor == 0 {
		return s, nil
	}
	for share, of := range map[*money.Percent]money.Amount{&s.WorkedShare: worked, &s.BilledShare: billed} {
		n, err := money.MulDiv(of.Minor, int64(money.Hundred), fee.Minor)
		if err != nil {
			return s, err
		}
		*share = money.Percent(n)
	}
	if done <= 0 {
		return s, nil
	}
	atEnd, err := money.MulDiv(worked.Minor, int64(money.Hundred), int64(done))
	if err != nil {
		return s, err
	}
	s.Expected, err = fee.Sub(money.Amount{Minor: atEnd, Currency: fee.Currency})
	return s, err
}
