package pricing

import (
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
)

// Result is what a choice comes to.
type Result struct {
	Lines      []InTier
	Acceptance Sum // billed on acceptance
	Once       Sum // everything billed once
	Deposits   money.Amount
	Recurring  []PerPeriod
	Yearly     Sum  // what recurs, in the first year
	FirstYear  Sum  // once, and every period that begins within twelve months
	WholeTerm  *Sum // nil for an open-ended term
	Calendar   []Bill
	HasOpen    bool // plus what is priced when billed
	Start      day.Day
	Accepted   day.Day
	Assumed    bool // the start is assumed: it is the day of acceptance
	Earns      Earning
}

// PerPeriod is what one whole period of a frequency comes to.
type PerPeriod struct {
	Frequency
	Times int          // bills in the term, else in the first year; 0 if its lines differ
	InAll money.Amount // of these bills; shares of a discount may make it another than Times × Net
	Sum
}

// Compute prices a choice of a checked offer and makes its calendar of bills.
func Compute(o Offer, c Choice, s Setting) (Result, error) {
	lines, err := o.linesIn(c)
	if err != nil {
		return Result{}, err
	}
	start, horizon := o.start(s), o.start(s).AddMonths(12)
	if end := o.end(s); !end.IsZero() {
		horizon = max(horizon, end+1)
	}
	charges, err := o.charges(s, lines, horizon)
	if err != nil {
		return Result{}, err
	}
	r := Result{Lines: lines, Start: start, Accepted: s.Accepted, Assumed: o.StartsOn.IsZero(), Deposits: money.Zero(o.Currency)}
	if err := r.add(o, s, charges); err != nil {
		return Result{}, err
	}
	r.Earns, err = o.earns(s, r)
	return r, err
}

func (r *Result) add(o Offer, s Setting, charges []Charge) error {
	yearEnd := r.Start.AddMonths(12)
	inYear := func(c Charge) bool { return c.Period == nil || c.Period.From < yearEnd }
	// Every total is a part of the calendar, so that parts add up to their whole.
	end := o.end(s)
	calendar, err := o.sum(s, filter(charges, func(c Charge) bool { return end.IsZero() || c.Period == nil || c.Period.From <= end }))
	if err != nil {
		return err
	}
	if r.Calendar = calendar.Bills; !end.IsZero() {
		r.WholeTerm = &calendar
	}
	for _, part := range []struct {
		to     *Sum
		counts func(Charge) bool
	}{
		{&r.Acceptance, func(c Charge) bool {
			return c.Once && c.Bill == s.Accepted && o.Lines[c.Line].Rule.When == OnAcceptance
		}},
		{&r.Once, func(c Charge) bool { return c.Once }},
		{&r.Yearly, func(c Charge) bool { return !c.Once && inYear(c) }},
		{&r.FirstYear, inYear},
	} {
		if *part.to, err = o.part(s, calendar, part.counts); err != nil {
			return err
		}
	}
	for _, c := range charges {
		r.Deposits.Minor += c.Deposit.Minor
		r.HasOpen = r.HasOpen || c.Open
	}
	r.Recurring, err = o.perPeriod(s, r.Lines, r.charges())
	return err
}

// charges are those of the calendar.
func (r Result) charges() []Charge {
	all := []Charge{}
	for _, b := range r.Calendar {
		all = append(all, b.Charges...)
	}
	return all
}

func filter(charges []Charge, counts func(Charge) bool) []Charge {
	return slices.DeleteFunc(slices.Clone(charges), func(c Charge) bool { return !counts(c) })
}

// perPeriod sums, for each frequency, the lines that recur so, for one whole
// period; the shortest comes first.
func (o Offer) perPeriod(s Setting, lines []InTier, charges []Charge) ([]PerPeriod, error) {
	all := []PerPeriod{}
	for _, l := range lines {
		f := Frequency{l.Rule.Every, l.Rule.Unit}
		if !l.Chosen || l.Rule.IsOnce() || slices.ContainsFunc(all, func(p PerPeriod) bool { return p.Frequency == f }) {
			continue
		}
		one := []Charge{}
		for _, same := range lines {
			if same.Chosen && !same.Rule.IsOnce() && (Frequency{same.Rule.Every, same.Rule.Unit}) == f {
				one = append(one, Charge{Line: same.Line, Bill: s.Accepted, Net: same.Priced.Net, Estimate: same.AsWorked()})
			}
		}
		sum, err := o.sum(s, one)
		if err != nil {
			return nil, err
		}
		in := money.Zero(o.Currency)
		for _, c := range filter(charges, func(c Charge) bool { return ofLines(one, c) }) {
			in.Minor += c.left()
		}
		all = append(all, PerPeriod{f, timesOf(one, charges), in, sum})
	}
	slices.SortStableFunc(all, func(a, b PerPeriod) int { return a.days() - b.days() })
	return all, nil
}

// Expected reports whether some of it is billed by the hours worked.
func (p PerPeriod) Expected() bool {
	return slices.ContainsFunc(p.Bills, func(b Bill) bool {
		return slices.ContainsFunc(b.Charges, func(c Charge) bool { return c.Estimate })
	})
}

func ofLines(lines []Charge, c Charge) bool {
	return slices.ContainsFunc(lines, func(l Charge) bool { return l.Line == c.Line })
}

// timesOf is how often each of some lines is billed, or 0 if they differ.
func timesOf(lines, charges []Charge) int {
	times := -1
	for _, l := range lines {
		n := len(filter(charges, func(c Charge) bool { return c.Line == l.Line }))
		if times >= 0 && n != times {
			return 0
		}
		times = n
	}
	return times
}

func (f Frequency) days() int {
	if f.Unit == Week {
		return 7 * f.Every
	}
	return 30 * f.Every
}
