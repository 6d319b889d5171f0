package pricing

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// When is the moment at which a line is billed.
type When string

// The moments. By hand is when the firm says so; as worked is hourly work that
// is billed from the time recorded.
const (
	OnAcceptance When = "acceptance"
	OnDay        When = "day"
	AtMilestone  When = "milestone"
	Recurring    When = "recurring"
	ByHand       When = "hand"
	AsWorked     When = "as_worked"
)

// Unit is what periods are counted in.
type Unit string

// A quarter is three months, a year twelve.
const (
	Week  Unit = "week"
	Month Unit = "month"
)

// Rule says when a line is billed. The zero value is no rule.
type Rule struct {
	When    When          `json:"when"`
	Deposit money.Percent `json:"deposit,omitempty"` // requested on acceptance, a part of the later bill
	// the bill date; of a recurring line the first day of its first period, if it is not the start
	Day       day.Day `json:"day,omitempty"`
	Milestone string  `json:"milestone,omitempty"`
	Every     int     `json:"every,omitempty"` // units in a period
	Unit      Unit    `json:"unit,omitempty"`
	Arrears   bool    `json:"arrears,omitempty"` // at the end of each period
	BillDay   int     `json:"billDay,omitempty"` // 1 to 31, or 1 (Monday) to 7 for weeks; 0: the period's first or last day
	Anchor    int     `json:"anchor,omitempty"`  // the day on which periods begin, as BillDay; 0: the day of the start
	Prorated  bool    `json:"prorated,omitempty"`
	Times     int     `json:"times,omitempty"`  // bills at most; 0: no limit
	ToTerm    bool    `json:"toTerm,omitempty"` // ends with the term
	Hand      bool    `json:"hand,omitempty"`   // of a recurring line: bills are made by hand
	Paused    bool    `json:"paused,omitempty"` // at first
}

// IsOnce reports whether the line is billed once.
func (r Rule) IsOnce() bool { return r.When != Recurring }

// Check refuses a rule that says nothing, or contradicts itself.
func (r Rule) Check() error {
	most := 31
	if r.Unit == Week {
		most = 7
	}
	switch {
	case r.When == "":
		return refusal.Errorf("when it is billed is missing: write, for example, “on acceptance” or “each month, in advance”")
	case r.When == OnDay && r.Day.IsZero():
		return refusal.Errorf("the day of the bill is missing: write, for example, “on 1 Mar 2027”")
	case r.When == AtMilestone && r.Milestone == "":
		return refusal.Errorf("the milestone is missing: write, for example, “when the report is delivered”")
	case r.Deposit < 0 || r.Deposit > money.Hundred:
		return refusal.Errorf("a deposit of %s %% is out of range: give more than 0 and at most 100 %%", r.Deposit)
	case r.Deposit != 0 && r.When != OnDay && r.When != AtMilestone && r.When != ByHand:
		return refusal.Errorf("a deposit is part of one later bill: say when the rest is billed, like “half as " +
			"deposit, the rest when the " +
			"report is delivered”")
	case r.When == Recurring && (r.Every < 1 || r.Every > 120 || (r.Unit != Week && r.Unit != Month)):
		return refusal.Errorf("how often it recurs is missing: write, for example, “each month” or “every 2 weeks”")
	case r.BillDay < 0 || r.BillDay > most || r.Anchor < 0 || r.Anchor > most:
		return refusal.Errorf("a day of the %s from 1 to %d is needed", r.Unit, most)
	case r.Times < 0 || r.Times > 1000:
		return refusal.Errorf("%d times is out of range: give 1 to 1000", r.Times)
	case r.Times > 0 && r.ToTerm:
		return refusal.Errorf("either a number of times or the end of the term ends it: take one of them away")
	}
	return nil
}

// Period is one period of a recurring line, both ends counted, with its bill
// date. A part of a whole period has fewer days than it.
type Period struct {
	From  day.Day `json:"from"`
	To    day.Day `json:"to"`
	Bill  day.Day `json:"bill"`
	Days  int64   `json:"days"`
	Whole int64   `json:"whole"`
}

// IsPart reports whether the price is prorated.
func (p Period) IsPart() bool { return p.Days < p.Whole }

// Periods lists the periods that begin from start on and before a day. end is
// the last day of the term, or no day; a rule that runs to the end of the term
// cuts its last period there.
func (r Rule) Periods(start, before, end day.Day) []Period {
	first := start
	if !r.Day.IsZero() {
		first = r.Day
	}
	g := r.grid(first)
	periods := []Period{}
	for k := g.firstIndex(r.Prorated); r.Times == 0 || len(periods) < r.Times; k++ {
		p := Period{From: max(g.boundary(k), first), To: g.boundary(k+1) - 1}
		if p.From >= before || (r.ToTerm && !end.IsZero() && p.From > end) {
			break
		}
		p.Whole = int64(p.To - g.boundary(k) + 1)
		if r.ToTerm && !end.IsZero() {
			p.To = min(p.To, end)
		}
		p.Days = int64(p.To - p.From + 1)
		p.Bill = r.billDay(p, g.boundary(k) < first)
		periods = append(periods, p)
	}
	return periods
}

// billDay is the day of a period's bill. A part at the beginning, in advance, is
// billed on the day on which it begins.
func (r Rule) billDay(p Period, partial bool) day.Day {
	base := p.From
	if r.Arrears {
		base = p.To
	}
	if r.BillDay == 0 || (partial && !r.Arrears) {
		return base
	}
	return nextOn(base, r.Unit, r.BillDay)
}

// grid holds the days on which periods begin. They are computed from the first
// one, so that an anchor on the 31st never drifts.
type grid struct {
	rule   Rule
	anchor int
	first  day.Day // first possible day
	zero   day.Day // the first anchor on or after it
}

func (r Rule) grid(first day.Day) grid {
	g := grid{rule: r, anchor: r.Anchor, first: first}
	switch {
	case g.anchor != 0:
	case r.Prorated && r.BillDay != 0:
		g.anchor = r.BillDay
	case r.Prorated:
		g.anchor = 1 // whole weeks or calendar months
	case r.Unit == Week:
		g.anchor = weekday(first)
	default:
		g.anchor = first.Time().Day()
	}
	g.zero = nextOn(first, r.Unit, g.anchor)
	return g
}

// firstIndex is the period with which the line begins: with proration the part
// before the first anchor, else the one of the first anchor.
func (g grid) firstIndex(prorated bool) int {
	if prorated && g.zero > g.first {
		return -1
	}
	return 0
}

func (g grid) boundary(k int) day.Day {
	if g.rule.Unit == Week {
		return g.zero.AddDays(7 * g.rule.Every * k)
	}
	return g.zero.OnDayOfMonth(1).AddMonths(g.rule.Every * k).OnDayOfMonth(g.anchor)
}

// nextOn is the first day on or after d that is a given day of the month,
// clamped in shorter months, or of the week.
func nextOn(d day.Day, unit Unit, n int) day.Day {
	if unit == Week {
		return d.AddDays((n - weekday(d) + 7) % 7)
	}
	if on := d.OnDayOfMonth(n); on >= d {
		return on
	}
	return d.OnDayOfMonth(1).AddMonths(1).OnDayOfMonth(n)
}

// weekday is 1 for Monday to 7 for Sunday, as in ISO 8601.
func weekday(d day.Day) int { return int(d-d.Monday()) + 1 }
