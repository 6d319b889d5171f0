package invoice

import (
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Progressed is what a progress bill of a fixed fee takes: percent done × fee,
// less what was billed before.
type Progressed struct {
	Fee    money.Amount  `json:"fee"`
	Before money.Amount  `json:"before"`
	Done   money.Percent `json:"done"`
	Bill   money.Amount  `json:"bill"`
}

// ByPercent bills a fee up to a percentage done. It is an error if more was
// billed before.
func ByPercent(fee, before money.Amount, done money.Percent) (Progressed, error) {
	p := Progressed{Fee: fee, Before: before, Done: done}
	if done < 0 || done > money.Hundred {
		return p, refusal.Errorf("%s %% is out of range: give 0 to 100 %%", done)
	}
	reached, err := done.Of(fee)
	if err != nil {
		return p, err
	}
	if p.Bill, err = reached.Sub(before); err == nil && p.Bill.Minor < 0 {
		err = refusal.Errorf("%s %% of %s is %s, and %s is billed already: give a higher percentage", done, fee, reached, before)
	}
	return p, err
}

// ByAmount bills an amount of a fee, and says how much is done then.
func ByAmount(fee, before, bill money.Amount) (Progressed, error) {
	p := Progressed{Fee: fee, Before: before, Bill: bill}
	reached, err := before.Add(bill)
	if err != nil {
		return p, err
	}
	if fee.Minor > 0 {
		share, err := money.MulDiv(reached.Minor, int64(money.Hundred), fee.Minor)
		if err != nil {
			return p, err
		}
		p.Done = money.Percent(share)
	}
	switch {
	case bill.Minor < 0:
		return p, refusal.Errorf("a progress bill is never negative: give %s or more", money.Zero(bill.Currency))
	case reached.Minor > fee.Minor:
		return p, refusal.Errorf("%s is billed already and the fee is %s: give at most %s", before, fee,
			money.Amount{Minor: fee.Minor - before.Minor, Currency: fee.Currency})
	}
	return p, nil
}

// Variance is what fees brought above or below the standard value of the time
// that they cover, life to date. Without time it is a fee billed ahead.
func Variance(billed, covered money.Amount) (money.Amount, error) { return billed.Sub(covered) }
