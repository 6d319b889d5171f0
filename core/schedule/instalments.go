package schedule

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/refusal"
)

// Plan is a payment schedule: the parts in which an amount due is paid. No part
// means all of it on the terms. It is typed and kept as one short line:
//
//	rest issue; rest monthly; rest monthly     three equal parts, a month apart
//	30% issue; 40% middle; 30% end             in percent, which add up to 100
//	500.00 issue; rest 30d                     amounts, and one part that is the rest
type Plan []Part

// Part is one instalment: how much, and when.
type Part struct {
	Percent money.Percent // of the whole, if it is not zero
	Amount  string        // as typed with a decimal point; nothing: a percentage or the rest
	When    When
}

// IsRest reports whether the part is what the others leave, shared equally
// among parts like it.
func (p Part) IsRest() bool { return p.Percent == 0 && p.Amount == "" }

// When is the word for a day: issue, terms, 30d, 2w, 1m, 2027-01-31, start,
// middle, end or monthly.
type When string

var (
	// Parts are parted by semicolons, or by commas that no figure has within it.
	betweenParts = regexp.MustCompile(`;|,\s`)
	equalParts   = regexp.MustCompile(`^(\d{1,3}) (?:equal|parts|equal parts|instalments)(?:,? monthly|,? a month apart)?$`)
	whenInWords  = regexp.MustCompile(`^(?:in |after )?(\d{1,3}) ?(d|w|m)(?:ays?|eeks?|onths?)?$`)
	afterIssue   = regexp.MustCompile(`^(\d{1,3})([dwm])$`)
	isoDay       = regexp.MustCompile(`^\d{4}-\d{2}-\d{2}$`)
	whenWords    = map[When]string{"issue": "on the invoice date", "terms": "on the payment terms", "start": "at the start of the work",
		"middle": "midway to the end of the work",
		"end":    "at the end of the work", "monthly": "a month after the one before"}
	units = map[string]string{"d": "days", "w": "weeks", "m": "months"}
)

// mostParts is how many instalments there can be.
const mostParts = 60

// ParsePlan reads a schedule in the spelling of [Plan], or as it is said: 3 equal, monthly;
// 50% now, rest in 30 days. Numbers have the mark.
func ParsePlan(typed string, mark money.Mark) (Plan, error) {
	plan := Plan{}
	typed = strings.TrimSpace(typed)
	if found := equalParts.FindStringSubmatch(strings.ToLower(typed)); found != nil {
		n, err := strconv.Atoi(found[1])
		if err != nil || n < 1 || n > mostParts {
			return nil, refusal.Errorf("%s instalments are too many: give at most %d", found[1], mostParts)
		}
		for range n {
			plan = append(plan, Part{When: "monthly"})
		}
		plan[0].When = "issue"
		return plan, nil
	}
	for _, text := range betweenParts.Split(typed, -1) {
		if text = strings.TrimSpace(text); text == "" {
			continue
		}
		part, err := parsePart(text, mark)
		if err != nil {
			return nil, err
		}
		plan = append(plan, part)
	}
	if len(plan) > mostParts {
		return nil, refusal.Errorf("%d instalments are too many: give at most %d", len(plan), mostParts)
	}
	return plan, plan.check()
}

func parsePart(text string, mark money.Mark) (part Part, err error) {
	share, when, _ := strings.Cut(text, " ")
	if part.When, err = parseWhen(when); err != nil {
		return part, refusal.Errorf("instalment %q: %w", text, err)
	}
	if percent, is := strings.CutSuffix(share, "%"); is {
		n, err := money.ParseFixed(percent, mark, 4)
		if err != nil || n <= 0 || n > int64(money.Hundred) {
			return part, refusal.Errorf("instalment %q: a percentage is more than 0 and at most 100", text)
		}
		part.Percent = money.Percent(n)
		return part, nil
	}
	if share == "rest" || share == "equal" {
		return part, nil
	}
	n, err := money.ParseFixed(share, mark, 4)
	if err != nil || n <= 0 {
		return part, refusal.Errorf("instalment %q: write how much and when, like “30%% issue”, “500.00 30d” or “rest end”", text)
	}
	part.Amount = money.TypeFixed(n, money.Point, 4, 0)
	return part, nil
}

func parseWhen(typed string) (When, error) {
	when := When(strings.ToLower(strings.TrimSpace(typed)))
	switch when {
	case "":
		when = "terms"
	case "now", "at once", "today", "on the invoice date":
		when = "issue"
	}
	if found := whenInWords.FindStringSubmatch(string(when)); found != nil {
		when = When(found[1] + found[2])
	}
	for word, words := range whenWords {
		if string(when) == words {
			when = word
		}
	}
	if isoDay.MatchString(string(when)) {
		_, err := day.Parse(string(when))
		return when, err
	}
	if _, known := whenWords[when]; known || afterIssue.MatchString(string(when)) {
		return when, nil
	}
	return when, refusal.Errorf("%q is no day: write issue, terms, 30d, 2w, 1m, 2027-01-31, start, middle, end or monthly", typed)
}

// check refuses percentages that can't add up, whatever the amount is.
func (p Plan) check() error {
	percent, others := money.Percent(0), false
	for _, part := range p {
		percent += part.Percent
		others = others || part.Percent == 0
	}
	switch {
	case percent > money.Hundred:
		return refusal.Errorf("the instalments add up to %s %%: take %s %% away", percent, percent-money.Hundred)
	case percent > 0 && percent < money.Hundred && !others:
		return refusal.Errorf("the instalments add up to %s %%: %s %% is missing", percent, money.Hundred-percent)
	}
	return nil
}

// String spells the plan as it is kept.
func (p Plan) String() string {
	parts := []string{}
	for _, part := range p {
		share := "rest"
		switch {
		case part.Percent != 0:
			share = part.Percent.String() + "%"
		case part.Amount != "":
			share = part.Amount
		}
		parts = append(parts, share+" "+string(part.When))
	}
	return strings.Join(parts, "; ")
}

// Words say the plan: 50 % on the invoice date; the rest 30 days after the invoice.
func (p Plan) Words() string {
	said := make([]string, len(p))
	for i, part := range p {
		said[i] = part.words(p.rests())
	}
	return strings.Join(said, "; ")
}

// Around is what the days of instalments are counted from. Start and end are of
// the work, and may be missing.
type Around struct {
	Issued, Start, End day.Day
	Terms              Terms
}

// Instalment is a part with its amount and day. Moved says that its day would
// have been before the invoice, and was moved to it.
type Instalment struct {
	Due    day.Day
	Amount money.Amount
	Words  string // how much and when, as agreed
	Moved  bool
}

// Divide computes the instalments of an amount due: they always add up to it.
// Without parts it is one instalment, on the terms.
func (p Plan) Divide(due money.Amount, around Around) ([]Instalment, error) {
	if len(p) == 0 {
		return []Instalment{{Due: around.Terms.Due(around.Issued), Amount: due}}, nil
	}
	amounts, err := p.amounts(due)
	if err != nil {
		return nil, err
	}
	list := make([]Instalment, len(p))
	anchor, months, rests := around.Issued, 0, p.rests()
	for i, part := range p {
		on := day.Day(0)
		if part.When == "monthly" {
			months++
			on = anchor.AddMonths(months)
		} else if on, err = around.on(part.When); err != nil {
			return nil, err
		} else if months == 0 {
			anchor = max(on, around.Issued)
		}
		list[i] = Instalment{Due: max(on, around.Issued), Amount: amounts[i], Words: part.words(rests), Moved: on < around.Issued}
	}
	return list, nil
}

// amounts divides by percent through the rule of splitting; fixed amounts stand,
// and what is left is shared equally by the parts without one.
func (p Plan) amounts(due money.Amount) ([]money.Amount, error) {
	weights, places, percents, left := []int64{}, []int{}, int64(0), due
	amounts := make([]money.Amount, len(p))
	for i, part := range p {
		amounts[i] = money.Zero(due.Currency)
		if part.Amount != "" {
			fixed, err := fixedAmount(part.Amount, due.Currency)
			if err != nil {
				return nil, err
			}
			amounts[i] = fixed
			left.Minor -= fixed.Minor
			continue
		}
		places, percents = append(places, i), percents+int64(part.Percent)
		weights = append(weights, int64(part.Percent))
	}
	if percents == int64(money.Hundred) && len(places) == len(p) {
		return due.Split(weights)
	}
	return amounts, p.shareRest(due, left, amounts)
}

func (p Plan) shareRest(due, left money.Amount, amounts []money.Amount) error {
	rest := []int{}
	for i, part := range p {
		if part.IsRest() {
			rest = append(rest, i)
			continue
		}
		if part.Percent != 0 {
			of, err := part.Percent.Of(due)
			if err != nil {
				return err
			}
			amounts[i] = of
			left.Minor -= of.Minor
		}
	}
	switch {
	case len(rest) == 0 && left.Minor != 0:
		return refusal.Errorf("the instalments miss the amount due, %s, by %s: make one of them the rest", due, left)
	case left.Minor < 0 && due.Minor >= 0:
		return refusal.Errorf("the instalments take %s more than the amount due, %s: make one of them smaller", left.Neg(), due)
	case len(rest) == 0:
		return nil
	}
	shares, err := left.Split(make([]int64, len(rest)))
	for n, i := range rest {
		amounts[i] = shares[n]
	}
	return err
}

func fixedAmount(text string, c money.Currency) (money.Amount, error) {
	decimals, err := c.Decimals()
	if err != nil {
		return money.Amount{}, err
	}
	minor, err := money.ParseFixed(text, money.Point, decimals)
	if err != nil {
		return money.Amount{}, refusal.Errorf("%s has %d decimals: %q can't be paid in it", c, decimals, text)
	}
	return money.Amount{Minor: minor, Currency: c}, nil
}

// on is the day that a word means, which may be before the issue date.
func (a Around) on(when When) (day.Day, error) {
	if found := afterIssue.FindStringSubmatch(string(when)); found != nil {
		n, err := strconv.Atoi(found[1])
		switch found[2] {
		case "w":
			return a.Issued.AddDays(7 * n), err
		case "m":
			return a.Issued.AddMonths(n), err
		}
		return a.Issued.AddDays(n), err
	}
	switch when {
	case "issue":
		return a.Issued, nil
	case "terms":
		return a.Terms.Due(a.Issued), nil
	case "start":
		return known(a.Start, "start")
	case "end":
		return known(a.End, "end")
	case "middle":
		end, err := known(a.End, "end")
		return a.Issued.AddDays(int(end-a.Issued) / 2), err
	}
	return day.Parse(string(when))
}

func known(d day.Day, word string) (day.Day, error) {
	if d.IsZero() {
		return 0, refusal.Errorf("the work has no %s day: set one on the engagement, or date the instalment otherwise", word)
	}
	return d, nil
}

// rests counts the parts that share what the others leave.
func (p Plan) rests() (n int) {
	for _, part := range p {
		if part.IsRest() {
			n++
		}
	}
	return n
}

// words say how much and when; a rest that is shared is an equal part.
func (p Part) words(rests int) string {
	share := "the rest"
	if rests > 1 {
		share = "an equal part"
	}
	switch {
	case p.Percent != 0:
		share = p.Percent.String() + " %"
	case p.Amount != "":
		share = p.Amount
	}
	if when, known := whenWords[p.When]; known {
		return share + " " + when
	}
	if found := afterIssue.FindStringSubmatch(string(p.When)); found != nil {
		return fmt.Sprintf("%s %s %s after the invoice", share, found[1], units[found[2]])
	}
	on, err := day.Parse(string(p.When))
	if err != nil {
		return share + " on " + string(p.When)
	}
	return share + " on " + on.Long()
}
