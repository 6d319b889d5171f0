package invoice

import (
	"fmt"

	"dorvet/core/money"
)

// GrossOf is what some lines come to with their tax, by their places in Billed: after their shares of discount and surcharge, with the tax
// of each code shared over its lines by what of them is taxed, by largest remainder. All lines together come to the total. Lines that
// take something back carry their own tax.
//
//	three lines of 33.33 at 23 %: 41.00, 41.00, 40.99 make 122.99
func (d *Document) GrossOf(places []int) (money.Amount, error) {
	gross := money.Zero(d.Currency)
	nets, err := d.nets()
	if err != nil {
		return gross, err
	}
	taxes := make([]int64, len(nets))
	for _, code := range d.Totals.Taxes {
		tax := money.Zero(d.Currency)
		for _, part := range code.Parts {
			if tax, err = tax.Add(part.Tax); err != nil {
				return gross, err
			}
		}
		if err := d.shareTax(code.Code, nets, tax.Minor, taxes); err != nil {
			return gross, err
		}
	}
	for _, place := range places {
		if place < 0 || place >= len(nets) {
			return gross, fmt.Errorf("an invoice of %d lines has no line %d", len(nets), place)
		}
		if gross, err = gross.Add(money.Amount{Minor: nets[place] + taxes[place], Currency: d.Currency}); err != nil {
			return gross, err
		}
	}
	return gross, nil
}

// nets are the lines after their shares of discount and surcharge.
func (d *Document) nets() ([]int64, error) {
	if len(d.Totals.Shares) != len(d.Billed) {
		return nil, fmt.Errorf("%s was frozen before the shares of its lines were kept", d.Number)
	}
	nets := make([]int64, len(d.Billed))
	for i, b := range d.Billed {
		nets[i] = b.Amount.Minor - d.Totals.Shares[i].Discount + d.Totals.Shares[i].Surcharge
	}
	return nets, nil
}

// shareTax shares the tax of a code over its lines.
func (d *Document) shareTax(code string, nets []int64, tax int64, taxes []int64) error {
	weights, base, places := []int64{}, int64(0), []int{}
	for i, b := range d.Billed {
		if b.TaxCode == code {
			base += nets[i]
		}
	}
	rest := tax
	for i, b := range d.Billed {
		switch {
		case b.TaxCode != code || nets[i] == 0 || base == 0:
		case nets[i] < 0:
			own, err := money.MulDiv(tax, nets[i], base)
			if err != nil {
				return err
			}
			taxes[i], rest = own, rest-own
		default:
			weights, places = append(weights, nets[i]), append(places, i)
		}
	}
	if len(weights) == 0 {
		return nil
	}
	shares, err := money.Split(rest, weights)
	for n, share := range shares {
		taxes[places[n]] = share
	}
	return err
}
