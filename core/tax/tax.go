// Package tax knows tax codes, whose rates change by date, and computes the tax
// on a taxable amount: rounded once per code, never per line.
//
// A code may carry a second tax, side by side on the same base or compound on
// the base plus the first tax as rounded:
//
//	1,000.00 at 5 % and 8 %: 50.00 + 80.00; compound: 50.00 + 84.00
package tax

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Code is a tax code with its rates by date. Prices are net of tax.
type Code struct {
	Code     string   `json:"code"`
	Name     string   `json:"name"`   // as it is printed: "VAT"
	Notice   string   `json:"notice"` // the legal text that an exemption or reverse charge must carry
	Rates    []Dated  `json:"rates"`
	Second   *Second  `json:"second,omitempty"`
	Category Category `json:"category"`
}

// Category is the kind of taxation, by the codes of UNTDID 5305 that EN 16931 uses.
type Category string

// The categories in use: standard (and reduced) rates, exempt, reverse charge.
const (
	StandardRated Category = "S"
	Exempt        Category = "E"
	ReverseCharge Category = "AE"
)

// Dated is a rate and the day from which it holds.
type Dated struct {
	From    day.Day       `json:"from"`
	Percent money.Percent `json:"percent"`
}

// Second is a second tax on the same code.
type Second struct {
	Name     string  `json:"name"`
	Rates    []Dated `json:"rates"`
	Compound bool    `json:"compound"`
}

// Named is the name of a code with its rates on a day: VAT 23 %.
func (c Code) Named(on day.Day) string {
	name := named(c.Name, c.Rates, on)
	if c.Second != nil {
		name += " and " + named(c.Second.Name, c.Second.Rates, on)
	}
	return name
}

func named(name string, rates []Dated, on day.Day) string {
	if percent, ok := latest(rates, on); ok && percent != 0 {
		return name + " " + percent.String() + " %"
	}
	return name
}

// SecondOn says on what second taxes count, whatever their codes say.
type SecondOn string

// As the code says; on the taxable amount, beside the first tax; or on that and the
// first tax.
const (
	AsCoded  SecondOn = "code"
	Beside   SecondOn = "beside"
	OnTheTax SecondOn = "compound"
)

// Taken gives codes whose second taxes count as is said. The codes themselves stay.
func (on SecondOn) Taken(codes map[string]Code) map[string]Code {
	if on != Beside && on != OnTheTax {
		return codes
	}
	taken := make(map[string]Code, len(codes))
	for name, code := range codes {
		if code.Second != nil {
			second := *code.Second
			second.Compound = on == OnTheTax
			code.Second = &second
		}
		taken[name] = code
	}
	return taken
}

// Part is one tax: percent of base, rounded once.
type Part struct {
	Name    string        `json:"name"`
	Percent money.Percent `json:"percent"`
	Base    money.Amount  `json:"base"`
	Tax     money.Amount  `json:"tax"`
}

// On computes the code's taxes on a taxable amount at the tax date. It is an
// error if no rate has begun on that day.
func (c Code) On(date day.Day, taxable money.Amount) ([]Part, error) {
	first, err := part(c.Code, c.Name, c.Rates, date, taxable)
	if err != nil || c.Second == nil {
		return []Part{first}, err
	}
	base := taxable
	if c.Second.Compound {
		if base, err = taxable.Add(first.Tax); err != nil {
			return nil, err
		}
	}
	second, err := part(c.Code, c.Second.Name, c.Second.Rates, date, base)
	return []Part{first, second}, err
}

func part(code, name string, rates []Dated, date day.Day, base money.Amount) (Part, error) {
	percent, ok := latest(rates, date)
	if !ok {
		return Part{}, refusal.Errorf("tax code %s has no rate on %s: add the rate that holds from that day or before", code, date.Long())
	}
	tax, err := percent.Of(base)
	return Part{name, percent, base, tax}, err
}

func latest(rates []Dated, date day.Day) (percent money.Percent, ok bool) {
	from := day.Day(0)
	for _, r := range rates {
		if r.From <= date && (!ok || r.From > from) {
			percent, from, ok = r.Percent, r.From, true
		}
	}
	return percent, ok
}
