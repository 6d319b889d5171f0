package receivable

import "dorvet/core/money"

// Settled is what settling a part of an open amount takes off the books, in minor units of
// the firm's currency: at the rate at which it is owed, and what the day's rate makes of it
// otherwise.
type Settled struct {
	AtBook     int64 // off what is owed
	Difference int64 // a result of exchange: positive is a gain
}

// Settle says what a part of an open amount takes off. What is owed stands in the books at
// atBook for the whole; came is the rate of the day on which money came in, or 0 where it
// came in at the rate of the invoice. The last part takes all that is left, so that nothing
// of rounding stays.
//
//	USD 100.00 owed at 90.00, 50.00 come in at 0.95: 45.00 off what is owed, a gain of 2.50
func Settle(part money.Amount, open, atBook int64, came money.ExchangeRate, firm money.Currency) (s Settled, err error) {
	if s.AtBook, err = money.MulDiv(atBook, part.Minor, open); err != nil || came == 0 {
		return s, err
	}
	worth, err := part.Convert(came, firm)
	s.Difference = worth.Minor - s.AtBook
	return s, err
}
