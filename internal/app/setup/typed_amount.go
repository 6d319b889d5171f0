package setup

import (
	"dorvet/core/money"
	"dorvet/internal/store"
)

// MinorUnits reads an amount as the firm types it, in minor units of a currency.
func MinorUnits(tx *store.DB, typed string, c money.Currency) (int64, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return 0, err
	}
	decimals, err := c.Decimals()
	if err != nil {
		return 0, err
	}
	return money.ParseFixed(typed, firm.Mark(), decimals)
}

// TypedAmount is an amount as it can be typed again with the firm's decimal mark.
func TypedAmount(tx *store.DB, a money.Amount) (string, error) {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return "", err
	}
	decimals, err := a.Currency.Decimals()
	return money.TypeFixed(a.Minor, firm.Mark(), decimals, decimals), err
}
