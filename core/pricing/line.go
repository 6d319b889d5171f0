package pricing

import (
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Kind is how a line is priced.
type Kind string

// The kinds. An open line is priced when it is billed and counts as zero.
const (
	Fixed   Kind = "fixed"
	PerUnit Kind = "unit"
	Hourly  Kind = "hourly"
	Bands   Kind = "bands"
	Open    Kind = "open"
)

// One is the quantity 1: quantities have four decimals.
const One = 1_0000

// Line is a service of a proposal.
type Line struct {
	ServiceID   int64       `json:"serviceId,omitempty"` // of the catalogue, or 0
	Description string      `json:"description"`
	About       string      `json:"about,omitempty"` // what the client gets
	Text        string      `json:"text,omitempty"`  // its own terms
	Kind        Kind        `json:"kind"`
	Quantity    int64       `json:"quantity,omitempty"` // ten-thousandths; 0: one, or the expected hours
	Unit        string      `json:"unit,omitempty"`
	Price       *money.Rate `json:"price,omitempty"` // fixed, per unit or per hour
	Bands       []Band      `json:"bands,omitempty"`
	Discount    Discount    `json:"discount,omitzero"`
	TaxCode     string      `json:"taxCode"`
	Rule        Rule        `json:"rule"`
	Expected    []Expected  `json:"expected,omitempty"` // time each time, per unit
	Work        string      `json:"work,omitempty"`     // the engagement that it belongs to, if not the proposal's own
	Shares      string      `json:"shares,omitempty"`   // lines of the same name share their rule
	Cells       []Cell      `json:"cells"`              // one a tier
}

// Band is a slice of a quantity with its own price; the last has no end.
type Band struct {
	UpTo  int64      `json:"upTo,omitempty"` // ten-thousandths, from the beginning; 0: the rest
	Price money.Rate `json:"price"`
}

// Discount is a percentage or an amount; a percentage counts first.
type Discount struct {
	Percent money.Percent `json:"percent,omitempty"`
	Amount  int64         `json:"amount,omitempty"` // minor units
}

// of is what the discount takes from an amount.
func (d Discount) of(a money.Amount) (money.Amount, error) {
	if d.Percent != 0 {
		return d.Percent.Of(a)
	}
	if d.Amount > a.Minor {
		return a, refusal.Errorf("a discount of %s is more than the %s that it is taken from: give at most that",
			money.Amount{Minor: d.Amount, Currency: a.Currency}, a)
	}
	return money.Amount{Minor: d.Amount, Currency: a.Currency}, nil
}

// State is whether a line is in a tier.
type State string

// A line is in a tier, can be chosen there, or is not in it.
const (
	In       State = "in"
	Optional State = "optional"
	Out      State = "out"
)

// Cell is a line in a tier, with its own quantity or price there.
type Cell struct {
	State    State       `json:"state"`
	Quantity int64       `json:"quantity,omitempty"` // ten-thousandths; 0: the line's
	Price    *money.Rate `json:"price,omitempty"`    // nil: the line's
	Asks     bool        `json:"asks,omitempty"`     // the client chooses the quantity
}

// Priced is what a line comes to each time in a tier.
type Priced struct {
	Kind     Kind
	Quantity int64 // ten-thousandths; 0 where only time gives it
	Minutes  int64 // of an hourly line without a quantity
	Price    money.Rate
	Slices   []Slice
	Gross    money.Amount // before the line's discount
	Discount money.Amount
	Net      money.Amount
}

// Slice is the part of a quantity that falls into a band.
type Slice struct {
	Quantity int64
	Price    money.Rate
}

// price computes a line in a tier: quantity × price rounded once, less the
// discount. chosen is the quantity that the client chose, or 0.
func (l Line) price(c Cell, chosen int64, currency money.Currency) (Priced, error) {
	p := Priced{Kind: l.Kind, Quantity: firstOf(chosen, c.Quantity, l.Quantity), Gross: money.Zero(currency),
		Discount: money.Zero(currency),
		Net:      money.Zero(currency)}
	if price := c.Price; price != nil {
		p.Price = *price
	} else if l.Price != nil {
		p.Price = *l.Price
	}
	var err error
	switch l.Kind {
	case Open:
		return p, nil
	case Hourly:
		if p.Quantity == 0 {
			p.Minutes = l.minutes()
			p.Gross, err = p.Price.ForMinutes(p.Minutes, 0, currency)
			break
		}
		p.Gross, err = p.Price.ForQuantity(p.Quantity, 0, currency)
	case Bands:
		p.Quantity = firstOf(p.Quantity, One)
		p.Slices = slicesOf(p.Quantity, l.Bands)
		p.Gross, err = addSlices(p.Slices, currency)
	default:
		p.Quantity = firstOf(p.Quantity, One)
		p.Gross, err = p.Price.ForQuantity(p.Quantity, 0, currency)
	}
	if err != nil {
		return p, err
	}
	if p.Discount, err = l.Discount.of(p.Gross); err != nil {
		return p, err
	}
	p.Net, err = p.Gross.Sub(p.Discount)
	return p, err
}

func firstOf(numbers ...int64) int64 {
	for _, n := range numbers {
		if n != 0 {
			return n
		}
	}
	return 0
}

func slicesOf(quantity int64, bands []Band) []Slice {
	slices, from := []Slice{}, int64(0)
	for _, b := range bands {
		to := quantity
		if b.UpTo != 0 {
			to = min(quantity, b.UpTo)
		}
		if to > from {
			slices = append(slices, Slice{to - from, b.Price})
			from = to
		}
	}
	return slices
}

// addSlices sums quantity × price exactly and rounds once.
func addSlices(slices []Slice, c money.Currency) (money.Amount, error) {
	exact := int64(0) // in millionths of a hundredth of the unit of account, 10^-8
	for _, s := range slices {
		part, err := money.MulDiv(s.Quantity, int64(s.Price), 1)
		if err != nil {
			return money.Amount{}, err
		}
		if exact += part; exact < 0 {
			return money.Amount{}, money.ErrOverflow
		}
	}
	decimals, err := c.Decimals()
	if err != nil {
		return money.Amount{}, err
	}
	divisor := int64(1)
	for range 8 - decimals {
		divisor *= 10
	}
	minor, err := money.MulDiv(exact, 1, divisor)
	return money.Amount{Minor: minor, Currency: c}, err
}

// Check refuses a line that can't be priced.
func (l Line) Check() error {
	switch {
	case l.Description == "":
		return refusal.Errorf("the service has no name: give one")
	case l.Quantity < 0 || l.Discount.Percent < 0 || l.Discount.Percent > money.Hundred || l.Discount.Amount < 0 ||
		(l.Price != nil && *l.Price < 0):
		return refusal.Errorf("a quantity, price or discount of %s is negative or too large", l.Description)
	case l.Kind == Open && l.Rule.When != ByHand:
		return refusal.Errorf("an open price is billed by hand: nobody knows it before")
	case l.Rule.When == AsWorked && l.Kind != Hourly:
		return refusal.Errorf("only what is priced by the hour is billed as worked")
	case l.Kind == Bands && len(l.Bands) == 0:
		return refusal.Errorf("the price bands are missing: write, for example, “first 10 at 40, then 35”")
	}
	for i, b := range l.Bands {
		last := i == len(l.Bands)-1
		if (b.UpTo == 0) != last || (i > 0 && !last && b.UpTo <= l.Bands[i-1].UpTo) || b.Price < 0 {
			return refusal.Errorf("each price band goes further than the one before, and the last has no end: write, for " +
				"example, “first 10 at " +
				"40, next 40 at 35, rest at 30”")
		}
	}
	for _, c := range l.Cells {
		if c.Quantity < 0 || (c.Price != nil && *c.Price < 0) {
			return refusal.Errorf("a quantity or price of %s is negative", l.Description)
		}
	}
	return l.Rule.Check()
}
