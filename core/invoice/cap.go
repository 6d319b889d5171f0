package invoice

import "slices"

// Cap is the most that some lines of an invoice may come to, after their share of the
// discount: what is left of the most that a client pays for fees.
type Cap struct {
	Left  int64 // minor units
	Fixed []int // places of lines that count and can't be cut
	Lines []int // places of lines that are cut, the oldest first
}

// passes is how often caps are looked at again: cutting under one moves the shares of
// a discount on the lines of another by a unit at most.
const passes = 4

// near is how far around a gross amount the one is that a discount leaves just so.
const near = 5

// UnderCaps says how much of each line's amount fits under the caps: the oldest first,
// so that the lines of a cap come to just what is left of it after discount, or to less
// if there is no more. Lines of nothing or less fit always.
//
//	a cap of 900.00, a discount of 10 %, work of 1,200.00: 1,000.00 is billed
func UnderCaps(asked Asked, caps []Cap) ([]int64, error) {
	whole := make([]int64, len(asked.Lines))
	for i, line := range asked.Lines {
		whole[i] = line.Amount.Minor
	}
	asked.Lines = slices.Clone(asked.Lines)
	fitting := slices.Clone(whole)
	for range passes {
		before := slices.Clone(fitting)
		for _, c := range caps {
			if err := c.fit(asked, whole, fitting); err != nil {
				return nil, err
			}
		}
		if slices.Equal(before, fitting) {
			break
		}
	}
	return fitting, nil
}

// fit finds the most of a cap's lines that comes to no more than is left of it.
func (c Cap) fit(asked Asked, whole, fitting []int64) error {
	all := int64(0)
	for _, at := range c.Lines {
		all += max(whole[at], 0)
	}
	if after, err := c.after(asked, whole, fitting, all); err != nil || after <= c.Left {
		return err // nothing is to be cut
	}
	low, high := int64(0), all // low fits, or nothing does
	for low < high {
		middle := low + (high-low+1)/2
		after, err := c.after(asked, whole, fitting, middle)
		switch {
		case err != nil:
			return err
		case after <= c.Left:
			low = middle
		default:
			high = middle - 1
		}
	}
	// A unit more or less may move a unit of the shares: the least that comes to just
	// what is left is near, else the most that is no more.
	best, most := int64(0), int64(-1)
	for gross := max(low-near, 0); gross <= min(low+near, all); gross++ {
		after, err := c.after(asked, whole, fitting, gross)
		if err != nil {
			return err
		}
		if after <= c.Left && after > most {
			best, most = gross, after
		}
	}
	_, err := c.after(asked, whole, fitting, best)
	return err
}

// after fills the lines up to so much, the oldest first, and says what they and the
// fixed ones come to after discount.
func (c Cap) after(asked Asked, whole, fitting []int64, gross int64) (int64, error) {
	for _, at := range c.Lines {
		fitting[at] = min(whole[at], gross)
		gross -= max(fitting[at], 0)
	}
	for i := range asked.Lines {
		asked.Lines[i].Amount.Minor = fitting[i]
	}
	shares, err := Discounts(asked)
	sum := int64(0)
	for _, at := range slices.Concat(c.Fixed, c.Lines) {
		sum += fitting[at] - shares[at]
	}
	return sum, err
}

// Discounts are the shares of the discount that lines have. A discount of an amount
// that is more than its base takes all of it.
func Discounts(asked Asked) ([]int64, error) {
	shares := make([]int64, len(asked.Lines))
	if asked.Discount == (Discount{}) {
		return shares, nil
	}
	base := int64(0)
	for _, line := range asked.Lines {
		if asked.Discount.counts(line.Kind) {
			base += line.Amount.Minor
		}
	}
	if asked.Discount.Percent == 0 {
		asked.Discount.Amount = min(asked.Discount.Amount, max(base, 0))
	}
	c := calculation{asked: asked, bases: make([]int64, len(asked.Lines)), totals: Totals{Shares: make([]LineShare, len(asked.Lines))}}
	if err := c.addLines(); err != nil {
		return shares, err
	}
	if err := c.takeDiscount(); err != nil {
		return shares, err
	}
	for i, share := range c.totals.Shares {
		shares[i] = share.Discount
	}
	return shares, nil
}

// Brought is what each line brings to the net: its amount less its share of discount,
// plus its share of surcharge.
func (t Totals) Brought(lines []Line) []int64 {
	brought := make([]int64, len(lines))
	for i, line := range lines {
		brought[i] = line.Amount.Minor
		if i < len(t.Shares) {
			brought[i] += t.Shares[i].Surcharge - t.Shares[i].Discount
		}
	}
	return brought
}
