package pricing

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// String says a rule in the words in which it can be typed again:
//
//	on acceptance
//	50 % as deposit on acceptance, the rest when the baseline is delivered
//	each quarter, in arrears, on the 10th, first one prorated
func (r Rule) String() string {
	words := r.base()
	if r.Deposit != 0 {
		words = fmt.Sprintf("%s %% as deposit on acceptance, the rest %s", r.Deposit, words)
	}
	if r.Paused {
		words += ", paused at first"
	}
	return words
}

func (r Rule) base() string {
	switch r.When {
	case OnAcceptance:
		return "on acceptance"
	case OnDay:
		return "on " + r.Day.Long()
	case AtMilestone:
		return "when " + r.Milestone
	case ByHand:
		return "by hand"
	case AsWorked:
		return "as worked"
	case Recurring:
		return r.recurring()
	}
	return ""
}

func (r Rule) recurring() string {
	parts := []string{Frequency{r.Every, r.Unit}.String(), "in advance"}
	if r.Arrears {
		parts[1] = "in arrears"
	}
	if r.BillDay != 0 {
		parts = append(parts, "on "+dayWords(r.Unit, r.BillDay))
	}
	if r.Anchor != 0 {
		parts = append(parts, "periods from "+dayWords(r.Unit, r.Anchor))
	}
	if !r.Day.IsZero() {
		parts = append(parts, "from "+r.Day.Long())
	}
	for _, say := range []struct {
		it    bool
		words string
	}{{r.Prorated, "first one prorated"}, {r.Times > 0, strconv.Itoa(r.Times) + " times"}, {r.ToTerm, "until the end of the term"},
		{r.Hand, "by hand"}} {
		if say.it {
			parts = append(parts, say.words)
		}
	}
	return strings.Join(parts, ", ")
}

// Frequency is how often something recurs.
type Frequency struct {
	Every int  `json:"every"`
	Unit  Unit `json:"unit"`
}

// String says it: each month, each quarter, every 2 weeks.
func (f Frequency) String() string {
	if one := f.one(); one != "" {
		return "each " + one
	}
	return fmt.Sprintf("every %d %ss", f.Every, f.Unit)
}

func (f Frequency) one() string {
	switch f {
	case Frequency{1, Week}:
		return "week"
	case Frequency{1, Month}:
		return "month"
	case Frequency{3, Month}:
		return "quarter"
	case Frequency{12, Month}:
		return "year"
	}
	return ""
}

var weekdayNames = []string{"", "Mondays", "Tuesdays", "Wednesdays", "Thursdays", "Fridays", "Saturdays", "Sundays"}

func dayWords(unit Unit, n int) string {
	if unit == Week {
		return weekdayNames[n]
	}
	return "the " + ordinal(n)
}

func ordinal(n int) string {
	suffix := "th"
	if n%100 < 11 || n%100 > 13 {
		switch n % 10 {
		case 1:
			suffix = "st"
		case 2:
			suffix = "nd"
		case 3:
			suffix = "rd"
		}
	}
	return strconv.Itoa(n) + suffix
}

// phrase is something that can be said in a rule, and what it sets.
type phrase struct {
	pattern *regexp.Regexp
	set     func(r *Rule, found []string, today day.Day) error
}

func say(pattern string, set func(*Rule, []string, day.Day) error) phrase {
	return phrase{regexp.MustCompile(`^(?:` + pattern + `)(?:[\s,;]+|$)`), set}
}

func sets(set func(*Rule)) func(*Rule, []string, day.Day) error {
	return func(r *Rule, _ []string, _ day.Day) error { set(r); return nil }
}

const (
	dated    = `(\d{4}-\d{2}-\d{2}|\d{1,2} [a-z]{3,9} \d{4})`
	weekdays = `(mon|tue|tues|wed|wednes|thu|thurs|fri|sat|satur|sun)(?:day)?s?`
)

// phrases in the order in which they are tried: the longer before what they
// begin with.
var phrases = []phrase{
	say(`once|billed|the rest|and|automatically`, sets(func(*Rule) {})),
	say(`(half|a third|a quarter|[\d.]+ ?%)(?: (?:is|of it))? (?:as )?(?:a )?deposit(?: on acceptance)?`, setDeposit),
	say(`(?:on|at|upon) acceptance|when accepted`, sets(func(r *Rule) { r.When = OnAcceptance })),
	say(`as worked|by the hour`, sets(func(r *Rule) { r.When = AsWorked })),
	say(`by hand|when we say so`, sets(func(r *Rule) {
		if r.Hand = r.When == Recurring; !r.Hand {
			r.When = ByHand
		}
	})),
	say(`(?:each|every|per) (week|month|quarter|year)|(weekly|monthly|quarterly|yearly|annually)|(half-yearly|each half-year|every half-year)`, setFrequency),
	say(`every (\d{1,3}) (week|month|quarter|year)s?`, setFrequencyOf),
	say(`in advance|at the beginning`, sets(func(r *Rule) { r.Arrears = false })),
	say(`in arrears?|at the end(?: of (?:it|each|the period))?`, sets(func(r *Rule) { r.Arrears = true })),
	say(`(?:on )?the last day(?: of the month)?`, sets(func(r *Rule) { r.BillDay = 31 })),
	say(`on `+dated, setDay),
	say(`(?:periods )?from the (\d{1,2})(?:st|nd|rd|th)?`, setAnchor),
	say(`periods from `+weekdays, setAnchorWeekday),
	say(`(?:from|starting|beginning) (?:on )?`+dated, setDay),
	say(`on the (\d{1,2})(?:st|nd|rd|th)?`, setBillDay),
	say(`on `+weekdays, setBillWeekday),
	say(`(?:the )?first (?:one |period |bill )?prorated|prorated`, sets(func(r *Rule) { r.Prorated = true })),
	say(`(\d{1,4}) (?:times|bills)`, setTimes),
	say(`(?:until|to) the end of the term`, sets(func(r *Rule) { r.ToTerm = true })),
	say(`paused(?: at first)?|start paused`, sets(func(r *Rule) { r.Paused = true })),
}

var (
	milestone = regexp.MustCompile(`(?i)^(?:when|once) (.+?)((?:,\s*(?:paused at first|paused))?)$`)
	typedOnce = regexp.MustCompile(`(?i)^once,?\s+`)
)

// ParseRule reads a rule from words, in any order that makes sense; today is
// for days that are typed relative to it. What can't be read is named.
func ParseRule(typed string, today day.Day) (Rule, error) {
	r := Rule{}
	rest := strings.TrimSpace(typedOnce.ReplaceAllString(strings.TrimSpace(typed), ""))
	for rest != "" {
		if found := milestone.FindStringSubmatch(rest); found != nil && !strings.HasPrefix(strings.ToLower(rest), "when accepted") &&
			!strings.HasPrefix(strings.ToLower(rest), "when we say") {
			r.When, r.Milestone, rest = AtMilestone, strings.TrimSpace(found[1]), strings.TrimLeft(found[2], ", ")
			continue
		}
		taken, err := r.take(rest, today)
		if err != nil {
			return Rule{}, err
		}
		if taken == 0 {
			return Rule{}, refusal.Errorf("“%s” is not understood: write, for example, “on acceptance”, “when the report is "+
				"delivered”, “each "+
				"quarter, in arrears, on the 10th, first one prorated” or “half as deposit, the rest on 1 Mar 2027”", rest)
		}
		rest = strings.TrimLeft(rest[taken:], " ,;")
	}
	return r, r.Check()
}

// take reads the phrase with which a text begins and tells its length.
func (r *Rule) take(text string, today day.Day) (int, error) {
	lower := strings.ToLower(text)
	for _, p := range phrases {
		if found := p.pattern.FindStringSubmatch(lower); found != nil && len(lower) == len(text) {
			return len(found[0]), p.set(r, found, today)
		}
	}
	return 0, nil
}

func setDeposit(r *Rule, found []string, _ day.Day) error {
	shares := map[string]money.Percent{"half": 50_0000, "a third": 33_3333, "a quarter": 25_0000}
	share, known := shares[found[1]]
	if !known {
		n, err := money.ParseFixed(strings.TrimSuffix(found[1], "%"), money.Point, 4)
		if err != nil {
			return err
		}
		share = money.Percent(n)
	}
	if share <= 0 {
		return refusal.Errorf("a deposit of %s %% is nothing: give more than 0, or leave the deposit away", share)
	}
	r.Deposit = share
	return nil
}

func setFrequency(r *Rule, found []string, _ day.Day) error {
	frequencies := map[string]Frequency{"week": {1, Week}, "month": {1, Month}, "quarter": {3, Month}, "year": {12, Month},
		"weekly": {1, Week}, "monthly": {1, Month}, "quarterly": {3, Month}, "yearly": {12, Month}, "annually": {12, Month}}
	f, known := frequencies[found[1]+found[2]]
	if !known {
		f = Frequency{6, Month}
	}
	r.When, r.Every, r.Unit = Recurring, f.Every, f.Unit
	return nil
}

func setFrequencyOf(r *Rule, found []string, _ day.Day) error {
	n, err := strconv.Atoi(found[1])
	months := map[string]int{"month": 1, "quarter": 3, "year": 12}[found[2]]
	r.When, r.Every, r.Unit = Recurring, n*months, Month
	if months == 0 {
		r.Every, r.Unit = n, Week
	}
	return err
}

// setDay is the bill date of what is billed once, and the beginning of what
// recurs.
func setDay(r *Rule, found []string, today day.Day) error {
	text := found[1]
	for _, layout := range []string{"2 Jan 2006", "2 January 2006"} {
		if t, err := time.Parse(layout, text); err == nil { // the names of months are read in any case
			text = t.Format(time.DateOnly)
		}
	}
	d, err := day.ParseTyped(text, today)
	if r.Day = d; r.When == "" {
		r.When = OnDay
	}
	return err
}

func numbered(to func(*Rule) *int) func(*Rule, []string, day.Day) error {
	return func(r *Rule, found []string, _ day.Day) error {
		n, err := strconv.Atoi(found[1])
		if err == nil && n == 0 {
			err = refusal.Errorf("“%s” is not understood: days and times count from 1", strings.TrimSpace(found[0]))
		}
		*to(r) = n
		return err
	}
}

func namedWeekday(to func(*Rule) *int) func(*Rule, []string, day.Day) error {
	return func(r *Rule, found []string, _ day.Day) error {
		*to(r) = 1 + strings.Index("mon tue wed thu fri sat sun", found[1][:3])/4
		return nil
	}
}

var (
	setBillDay       = numbered(func(r *Rule) *int { return &r.BillDay })
	setAnchor        = numbered(func(r *Rule) *int { return &r.Anchor })
	setTimes         = numbered(func(r *Rule) *int { return &r.Times })
	setBillWeekday   = namedWeekday(func(r *Rule) *int { return &r.BillDay })
	setAnchorWeekday = namedWeekday(func(r *Rule) *int { return &r.Anchor })
)
