package pricing

import (
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Worker is by whom time is expected: a person, or anybody of a grade; both 0:
// anybody.
type Worker struct {
	PersonID int64 `json:"personId,omitempty"`
	GradeID  int64 `json:"gradeId,omitempty"`
}

// Expected is time that a line takes each time, per unit.
type Expected struct {
	Worker
	Minutes int64 `json:"minutes"`
}

// HourRates are what an hour of somebody costs, in the firm's currency, and what
// anybody would be charged for it, in the offer's. Nil: no rate is known.
type HourRates struct{ Cost, Standard *money.Rate }

// Earning is what a choice earns: of the whole term, or else the first year.
type Earning struct {
	Minutes  int64
	Cost     money.Amount // in the offer's currency
	Standard money.Amount
	Net      money.Amount
	// Margin is (net − cost) / net, AgainstStandard net / standard; in percent,
	// with four decimals. A margin is known only where the cost of all the time is.
	Margin, AgainstStandard *money.Percent
	WithoutCost             int64 // minutes for which no cost is known
	ByLine                  []LineEarning
}

// LineEarning is the part of one line.
type LineEarning struct {
	Line     int
	Minutes  int64
	Cost     money.Amount
	Standard money.Amount
	Net      money.Amount
	Each     money.Amount // cost of one time
	Worth    money.Amount // one time, at standard rates
	Margin   *money.Percent
}

func (l Line) minutes() int64 {
	sum := int64(0)
	for _, e := range l.Expected {
		sum += e.Minutes
	}
	return sum
}

// earns compares fees with the time that they are expected to take.
func (o Offer) earns(s Setting, r Result) (Earning, error) {
	sum := r.FirstYear
	if r.WholeTerm != nil {
		sum = *r.WholeTerm
	}
	e := Earning{Cost: money.Zero(o.Currency), Standard: money.Zero(o.Currency), Net: sum.Net, ByLine: []LineEarning{}}
	charges := r.charges()
	for _, l := range r.Lines {
		if !l.Chosen || len(o.Lines[l.Line].Expected) == 0 {
			continue
		}
		part, unknown, err := o.lineEarns(s, l, filter(charges, func(c Charge) bool { return c.Line == l.Line }))
		if err != nil {
			return e, err
		}
		e.ByLine = append(e.ByLine, part)
		e.Minutes += part.Minutes
		e.WithoutCost += unknown
		e.Cost.Minor += part.Cost.Minor
		e.Standard.Minor += part.Standard.Minor
	}
	if e.WithoutCost == 0 {
		e.Margin = share(e.Net.Minor-e.Cost.Minor, e.Net.Minor, e.Minutes)
	}
	e.AgainstStandard = share(e.Net.Minor, e.Standard.Minor, e.Minutes)
	return e, nil
}

func share(part, whole, minutes int64) *money.Percent {
	if whole <= 0 || minutes == 0 {
		return nil
	}
	n, err := money.MulDiv(part, int64(money.Hundred), whole)
	if err != nil {
		return nil
	}
	p := money.Percent(n)
	return &p
}

// lineEarns adds the time of all times that a line is done. A part of a period
// takes the same part of the time.
func (o Offer) lineEarns(s Setting, l InTier, charges []Charge) (part LineEarning, unknown int64, err error) {
	line := o.Lines[l.Line]
	part = LineEarning{Line: l.Line, Cost: money.Zero(o.Currency), Standard: money.Zero(o.Currency), Net: money.Zero(o.Currency),
		Each: money.Zero(o.Currency), Worth: money.Zero(o.Currency)}
	units := int64(One)
	if line.Kind == PerUnit || line.Kind == Bands {
		units = l.Priced.Quantity
	}
	once := Worked{Days: 1, Whole: 1}
	for _, c := range charges {
		part.Net.Minor += c.Net.Minor
	}
	for _, e := range line.Expected {
		rates := s.Hours[e.Worker]
		for i, w := range append([]Worked{once}, workedOf(charges)...) {
			minutes, err := w.minutes(e.Minutes, units)
			if err != nil {
				return part, 0, err
			}
			cost, standard, err := s.valueOf(minutes, rates, o.Currency)
			if err != nil {
				return part, 0, err
			}
			if i == 0 {
				part.Each.Minor += cost.Minor
				part.Worth.Minor += standard.Minor
				continue
			}
			if rates.Cost == nil {
				unknown += minutes
			}
			part.Minutes += minutes
			part.Cost.Minor += cost.Minor
			part.Standard.Minor += standard.Minor
		}
	}
	if unknown == 0 {
		part.Margin = share(part.Net.Minor-part.Cost.Minor, part.Net.Minor, part.Minutes)
	}
	return part, unknown, nil
}

// Worked is the part of a whole period in which work is done.
type Worked struct{ Days, Whole int64 }

func workedOf(charges []Charge) []Worked {
	all := make([]Worked, 0, len(charges))
	for _, c := range charges {
		if c.Period == nil {
			all = append(all, Worked{1, 1})
		} else {
			all = append(all, Worked{c.Period.Days, c.Period.Whole})
		}
	}
	return all
}

// minutes is the time of a unit × units × the part of the period, in whole minutes.
func (w Worked) minutes(each, units int64) (int64, error) {
	n, err := money.MulDiv(each, units, One)
	if err != nil {
		return 0, err
	}
	return money.MulDiv(n, w.Days, w.Whole)
}

func (s Setting) valueOf(minutes int64, rates HourRates, c money.Currency) (cost, standard money.Amount, err error) {
	cost, standard = money.Zero(c), money.Zero(c)
	if rates.Cost != nil {
		own, err := rates.Cost.ForMinutes(minutes, 0, s.CostCurrency)
		if err != nil {
			return cost, standard, err
		}
		if cost, err = own.Convert(s.CostExchange, c); err != nil {
			return cost, standard, err
		}
	}
	if rates.Standard != nil {
		standard, err = rates.Standard.ForMinutes(minutes, 0, c)
	}
	return cost, standard, err
}

// FeeFor is the net fee with which a cost leaves a margin: cost / (1 − margin),
// raised to the step that the firm sets (0: none).
func FeeFor(cost money.Amount, margin money.Percent, step int64) (money.Amount, error) {
	if margin < 0 || margin >= money.Hundred {
		return cost, refusal.Errorf("a margin of %s %% can't be reached: give 0 to less than 100 %%", margin)
	}
	fee := cost
	left := int64(money.Hundred - margin)
	minor, err := money.MulDiv(cost.Minor, int64(money.Hundred), left)
	if err != nil {
		return fee, err
	}
	reached, err := money.MulDiv(minor, left, 1)
	if err != nil {
		return fee, err
	}
	needed, err := money.MulDiv(cost.Minor, int64(money.Hundred), 1)
	if err != nil {
		return fee, err
	}
	if reached < needed {
		minor++
	}
	if step > 0 && minor%step != 0 {
		minor += step - minor%step
	}
	fee.Minor = minor
	return fee, nil
}
