// Package reminder says when a client is reminded of what is late: a plan of steps, and which of them an instalment has come to.
package reminder

import (
	"cmp"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/refusal"
)

// Plan is the steps of a firm or client, the earliest first; none: nobody is reminded by plan.
type Plan []Step

// Step is one of a plan.
type Step struct {
	Days      int    // after the due day; negative: before it
	Tone      string // warm or firm; nothing: plain
	Invoices  bool   // they go along once more
	Statement bool   // of the account goes along
	Charge    bool   // from it on paying late is charged, as the terms of the invoice say
	ByHand    bool   // a person sends it
}

// how is how a step is typed: 14, 3 before, 30 firm statement charge, 45 firm invoices by hand.
var how = regexp.MustCompile(`^(\d{1,3})(?: days?)?(?: (before|late|after))?((?: (?:warm|plain|firm|invoices|statement|charge|by hand))*)$`)

// Read reads a plan as it is typed: steps separated by semicolons, each so many days after the due day, or before it. The error says how.
func Read(text string) (Plan, error) {
	plan := Plan{}
	for _, part := range strings.Split(text, ";") {
		typed := strings.Join(strings.Fields(strings.ToLower(strings.ReplaceAll(part, "+", " "))), " ")
		if typed == "" {
			continue
		}
		found := how.FindStringSubmatch(typed)
		if found == nil {
			return nil, refusal.Errorf("%q is no step of a plan: write days after the due day, then how, like 3 before warm; 14; "+
				"30 firm statement; 45 firm invoices by hand", strings.TrimSpace(part))
		}
		step := Step{Invoices: strings.Contains(found[3], "invoices"), Statement: strings.Contains(found[3], "statement"),
			Charge: strings.Contains(found[3], "charge"), ByHand: strings.Contains(found[3], "by hand")}
		step.Days, _ = strconv.Atoi(found[1]) // three digits at most
		if found[2] == "before" {
			step.Days = -step.Days
		}
		for _, tone := range []string{"warm", "firm"} {
			if strings.Contains(found[3], tone) {
				step.Tone = tone
			}
		}
		plan = append(plan, step)
	}
	slices.SortStableFunc(plan, func(a, b Step) int { return cmp.Compare(a.Days, b.Days) })
	for i := 1; i < len(plan); i++ {
		if plan[i].Days == plan[i-1].Days {
			return nil, refusal.Errorf("Two steps are of the same day, %s: leave one of them away", plan[i].day())
		}
	}
	return plan, nil
}

func (p Plan) String() string {
	said := []string{}
	for _, s := range p {
		said = append(said, s.String())
	}
	return strings.Join(said, "; ")
}

func (s Step) String() string {
	words := []string{s.day()}
	for _, w := range []struct {
		is   bool
		word string
	}{{s.Tone != "", s.Tone}, {s.Invoices, "invoices"}, {s.Statement, "statement"}, {s.Charge, "charge"}, {s.ByHand, "by hand"}} {
		if w.is {
			words = append(words, w.word)
		}
	}
	return strings.Join(words, " ")
}

// Words is a step as it is read: 30 days late, firm, with a statement, by hand.
func (s Step) Words() string {
	words := []string{strconv.Itoa(s.Days) + " days late"}
	switch {
	case s.Days == 0:
		words[0] = "on the due day"
	case s.Days == 1:
		words[0] = "1 day late"
	case s.Days < 0:
		words[0] = strconv.Itoa(-s.Days) + " days before"
	}
	for _, w := range []struct {
		is   bool
		word string
	}{{s.Tone != "", s.Tone}, {s.Invoices, "with the invoices"}, {s.Statement, "with a statement"}, {s.Charge, "charged for"}, {s.ByHand, "by hand"}} {
		if w.is {
			words = append(words, w.word)
		}
	}
	return strings.Join(words, ", ")
}

func (s Step) day() string {
	if s.Days < 0 {
		return strconv.Itoa(-s.Days) + " before"
	}
	return strconv.Itoa(s.Days)
}

// Reached is how far an instalment has come: the highest step of which a letter went out, and the day of the last letter about its
// invoice.
type Reached struct {
	Days int
	Any  bool // whether any did
	Last day.Day
}

// Due is the step to which an instalment moves on a day: the highest that is due, if it is above the one that was reached. It never moves
// back, and never twice in one day.
func (p Plan) Due(due, today day.Day, r Reached) (Step, bool) {
	if r.Last >= today {
		return Step{}, false
	}
	late := int(today - due)
	for _, s := range slices.Backward(p) {
		if s.Days <= late {
			return s, !r.Any || s.Days > r.Days
		}
	}
	return Step{}, false
}

// Next is the day on which an invoice moves on, if nothing is paid: the first after a day; or none.
func (p Plan) Next(due, after day.Day, r Reached) (day.Day, bool) {
	for _, s := range p {
		if on := due.AddDays(s.Days); on > after && (!r.Any || s.Days > r.Days) {
			return on, true
		}
	}
	return day.Day(0), false
}

// ChargesFrom is from how many days after the due day on paying late is charged; or never.
func (p Plan) ChargesFrom() (days int, ever bool) {
	for _, s := range p {
		if s.Charge {
			return s.Days, true
		}
	}
	return 0, false
}
