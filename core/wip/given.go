package wip

import "dorvet/core/money"

// Given is by how much agreed value differs from standard, by why: both are
// negative where something is given away. Standard plus both is agreed.
type Given struct {
	NoCharge money.Amount `json:"noCharge"` // work at no charge, at standard
	Rates    money.Amount `json:"rates"`    // agreed rates other than standard
}

// Give tells what is given away of work, of which some (at standard) is at no charge.
func Give(standard, agreed, atNoCharge money.Amount) (Given, error) {
	given := Given{NoCharge: atNoCharge.Neg()}
	charged, err := standard.Sub(atNoCharge)
	if err != nil {
		return Given{}, err
	}
	given.Rates, err = agreed.Sub(charged)
	return given, err
}
