package receivable

import "dorvet/core/money"

// LostTax is how much of what is lost of an invoice is tax, in minor units: by the shares that net and each tax have of the invoice, so that
// tax by tax adds up. Several losses are counted together, so that one after the other they come to the same.
//
//	net 1,000.00, tax 230.00; 615.00 lost: 115.00
//
// Source: rules of this product, bad debt; the split is that of [money.Split].
func LostTax(lost, net int64, taxes []int64) (int64, error) {
	parts, err := money.Split(lost, append([]int64{net}, taxes...))
	if err != nil {
		return 0, err
	}
	tax := int64(0)
	for _, part := range parts[1:] {
		tax += part
	}
	return tax, nil
}
