package receivable

import (
	"fmt"
	"math/big"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// LateTerms are what a client owes for paying late. All that is set counts together; the zero value charges nothing.
type LateTerms struct {
	Monthly   money.Percent // of what is open, simple, by 30 days
	Yearly    money.Percent // of what is open, by 365 days
	Reference bool          // the yearly percentage is on top of the reference rate of each day
	LeapYears bool          // a leap year has 366 days
	Flat      int64         // once an invoice, in minor units
	Grace     int           // days after the due day that cost nothing
}

// Charge reports whether anything is charged at all.
func (t LateTerms) Charge() bool {
	return t.Monthly != 0 || t.Yearly != 0 || t.Reference || t.Flat != 0
}

// ReferenceRate is a yearly percentage that holds from a day on.
type ReferenceRate struct {
	From    day.Day
	Percent money.Percent
}

// Owed is what was open of an instalment from a day on, in minor units.
type Owed struct {
	From  day.Day
	Minor int64
}

// LateInstalment is an instalment with all that was ever open of it, the earliest first. What is paid on a day was missing on that day:
// less is open from the next one on.
type LateInstalment struct {
	Due  day.Day
	Open []Owed
}

// Late is an invoice that is, or was, paid late.
type Late struct {
	Terms    LateTerms
	Rates    []ReferenceRate // the earliest first
	Parts    []LateInstalment
	Currency money.Currency
	// Counts of Of is the share of what is open on which charges count: late charges on it, and their tax, do not. Of 0: all of it.
	Counts, Of int64
}

// Accrued is what an invoice has come to in late charges, rounded once, and how.
type Accrued struct {
	Amount money.Amount
	Steps  []explain.Step
}

// Accrue is what an invoice has come to in late charges up to a day, that day counted. Days count from the day after the due day and the days
// of grace. Where what is open, the reference rate or, with leap years, the year changes, a new stretch begins.
//
//	1,000.00 due on 31 March, paid on 30 April, 8 points above a reference rate of 2.15 %: 1,000.00 × 10.15 % × 30 / 365 = 8.34
//
// Source: rules of this product, receivables. Directive 2011/7/EU, articles 2 (6) and 6 (1), has such a rate, and a fixed sum. Without a
// reference rate for one of the days it is refused.
func (l Late) Accrue(asOf day.Day) (Accrued, error) {
	exact, late := new(big.Rat), false
	a := Accrued{Amount: money.Zero(l.Currency)}
	for _, part := range l.Parts {
		for _, s := range l.stretches(part, asOf) {
			late = true
			cost, said, err := l.cost(s)
			if err != nil {
				return a, err
			}
			exact.Add(exact, cost)
			if cost.Sign() != 0 {
				open := money.Amount{Minor: s.open, Currency: l.Currency}
				a.Steps = append(a.Steps, explain.Step{Label: fmt.Sprintf("%s open, %s to %s", open, s.from.Long(), s.to.Long()), Detail: said,
					Figure: l.exactly(cost)})
			}
		}
	}
	a.Amount.Minor = rounded(exact)
	if l.Terms.Flat != 0 && late {
		flat := money.Amount{Minor: l.Terms.Flat, Currency: l.Currency}
		a.Steps = append(a.Steps, explain.Step{Label: "Once for the invoice", Figure: flat.String()})
		a.Amount.Minor += flat.Minor
	}
	return a, nil
}

// stretch is some days, both counted, on which the same was open and all rates the same.
type stretch struct {
	from, to day.Day
	open     int64 // on which charges count or not
}

func (s stretch) days() int64 { return int64(s.to-s.from) + 1 }

// stretches are those of an instalment on which something was open that costs something.
func (l Late) stretches(part LateInstalment, asOf day.Day) []stretch {
	first := part.Due.AddDays(l.Terms.Grace + 1)
	begins := []day.Day{first}
	for _, o := range part.Open {
		begins = append(begins, o.From)
	}
	if l.Terms.Reference {
		for _, r := range l.Rates {
			begins = append(begins, r.From)
		}
	}
	if l.Terms.LeapYears {
		for year := first.Time().Year() + 1; year <= asOf.Time().Year(); year++ {
			begins = append(begins, day.Of(year, 1, 1))
		}
	}
	slices.Sort(begins)
	begins = slices.DeleteFunc(slices.Compact(begins), func(d day.Day) bool { return d < first || d > asOf })
	list := []stretch{}
	for i, from := range begins {
		s := stretch{from: from, to: asOf}
		if i+1 < len(begins) {
			s.to = begins[i+1] - 1
		}
		for _, o := range part.Open {
			if o.From <= from {
				s.open = o.Minor
			}
		}
		if l.Of != 0 && l.Counts == 0 { // nothing but late charges is open: not even the fixed sum is due on them
			continue
		}
		if n := len(list) - 1; n >= 0 && list[n].open == s.open && !l.cutAt(from) && list[n].to == from-1 {
			list[n].to = s.to
		} else if s.open > 0 {
			list = append(list, s)
		}
	}
	return list
}

// cutAt reports whether a new rate, or a year of another length, begins on a day.
func (l Late) cutAt(on day.Day) bool {
	return l.Terms.Reference && slices.ContainsFunc(l.Rates, func(r ReferenceRate) bool { return r.From == on }) ||
		l.Terms.LeapYears && on.Time().YearDay() == 1
}

// cost is what a stretch costs, exactly, in minor units, and how that is said.
func (l Late) cost(s stretch) (*big.Rat, string, error) {
	said := []string{}
	perHundred := new(big.Rat)
	add := func(percent money.Percent, days int64) {
		perHundred.Add(perHundred, new(big.Rat).Mul(big.NewRat(int64(percent), int64(money.Hundred)), big.NewRat(s.days(), days)))
	}
	if l.Terms.Monthly != 0 {
		add(l.Terms.Monthly, 30)
		said = append(said, l.Terms.Monthly.String()+" % for 30 days")
	}
	if l.Terms.Yearly != 0 || l.Terms.Reference {
		yearly, err := l.yearly(s.from)
		if err != nil {
			return nil, "", err
		}
		days := int64(365)
		if year := s.from.Time().Year(); l.Terms.LeapYears && day.Of(year, 12, 31).Time().YearDay() == 366 {
			days = 366
		}
		add(yearly, days)
		said = append(said, fmt.Sprintf("%s %% for %d", yearly, days))
	}
	cost := perHundred.Mul(perHundred, new(big.Rat).SetInt64(s.open))
	if l.Of != 0 {
		cost.Mul(cost, big.NewRat(l.Counts, l.Of))
	}
	days := "1 day"
	if s.days() != 1 {
		days = fmt.Sprintf("%d days", s.days())
	}
	return cost, days + " at " + strings.Join(said, " and "), nil
}

// yearly is the percentage of a year that holds on a day.
func (l Late) yearly(on day.Day) (money.Percent, error) {
	if !l.Terms.Reference {
		return l.Terms.Yearly, nil
	}
	for _, r := range slices.Backward(l.Rates) {
		if r.From <= on {
			return r.Percent + l.Terms.Yearly, nil
		}
	}
	return 0, refusal.Errorf("no reference rate is known for %s in %s: add one under Set-up, Reference rates", on.Long(), l.Currency)
}

// exactly writes minor units with two decimals more than the currency has.
func (l Late) exactly(minor *big.Rat) string {
	decimals, err := l.Currency.Decimals()
	if err != nil {
		return minor.FloatString(2)
	}
	scale := new(big.Int).Exp(big.NewInt(10), big.NewInt(int64(decimals)), nil)
	return new(big.Rat).Quo(minor, new(big.Rat).SetInt(scale)).FloatString(decimals + 2)
}

// rounded is a number of minor units, half away from zero.
func rounded(r *big.Rat) int64 {
	whole, _ := new(big.Int).SetString(r.FloatString(0), 10) // which rounds that way
	return whole.Int64()
}
