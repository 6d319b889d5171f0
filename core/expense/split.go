package expense

import (
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Left is what remains of a whole after its shares: negative if they are more.
func Left(whole money.Amount, shares []money.Amount) (money.Amount, error) {
	shared, err := money.Sum(whole.Currency, shares...)
	if err != nil {
		return whole, err
	}
	return whole.Sub(shared)
}

// AddUp is an error, which says by how much, unless the shares come to the whole.
func AddUp(whole money.Amount, shares []money.Amount) error {
	left, err := Left(whole, shares)
	switch {
	case err != nil:
		return err
	case left.Minor > 0:
		return refusal.Errorf("%s of %s is not shared out yet: add a share, or raise one", left, whole)
	case left.Minor < 0:
		return refusal.Errorf("the shares are %s more than the %s that there is to share: lower one", left.Neg(), whole)
	}
	return nil
}
