package wip

import "dorvet/core/money"

// Standing is how a fixed fee stands: what was worked behind it at standard, what
// of it is billed, how much is done, and what result is to be expected.
type Standing struct {
	Fee, Worked, Billed      money.Amount
	WorkedShare, BilledShare money.Percent
	Done                     money.Percent
	// Expected is the fee less what the work will have come to when it is done, if
	// it goes on as it went: worked / done. It is negative where the fee is overrun.
	Expected money.Amount
}

// Stand sets the work behind a fee against it. Done is how much of the work is
// finished; where nobody knows, what was billed stands for it, and before anything
// was billed, what was worked, at most all of it. A fee of nothing has no shares.
//
//	fee 48,000, worked 24,000, 40 % done: 60,000 at the end, 12,000 lost
func Stand(fee, worked, billed money.Amount, done money.Percent, known bool) (Standing, error) {
	s := Standing{Fee: fee, Worked: worked, Billed: billed, Done: done, Expected: fee}
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
	if !known {
		if s.Done = s.BilledShare; s.Done == 0 {
			s.Done = min(s.WorkedShare, money.Hundred)
		}
	}
	if s.Done <= 0 {
		return s, nil
	}
	atEnd, err := money.MulDiv(worked.Minor, int64(money.Hundred), int64(s.Done))
	if err != nil {
		return s, err
	}
	s.Expected, err = fee.Sub(money.Amount{Minor: atEnd, Currency: fee.Currency})
	return s, err
}
