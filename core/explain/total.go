package explain

import (
	"cmp"
	"fmt"
	"slices"

	"dorvet/core/money"
)

// Total is a sum that stands on a page, with what it was made of.
type Total struct {
	money.Amount
	Explanation Step `json:"explanation"`

	at map[string]int // of steps, by their words
	of []int64        // what each step comes to
}

// NoTotal is nothing yet, of what a label says.
func NoTotal(label string, currency money.Currency) Total {
	none := money.Zero(currency)
	return Total{Amount: none, Explanation: Step{Label: label, Figure: none.String()}}
}

// Add adds what comes to an amount of the same currency. What has the same words is one step, and
// what comes to nothing is none.
func (t *Total) Add(step Step, amount money.Amount) (err error) {
	if t.Amount, err = t.Amount.Add(amount); err != nil || amount.Minor == 0 {
		return err
	}
	words := step.Label + "\n" + step.Detail
	at, known := t.at[words]
	if !known {
		if t.at == nil {
			t.at = map[string]int{}
		}
		at, t.at[words] = len(t.of), len(t.of)
		t.of, t.Explanation.Steps = append(t.of, 0), append(t.Explanation.Steps, step)
	}
	t.of[at] += amount.Minor
	t.Explanation.Steps[at].Figure = money.Amount{Minor: t.of[at], Currency: t.Currency}.String()
	t.Explanation.Figure = t.String()
	return nil
}

// told is how many steps are told one by one: more are not read.
const told = 60

// Shortened tells the greatest steps one by one, and the others as one.
func (t Total) Shortened() Total {
	if len(t.of) <= told {
		return t
	}
	greatest := make([]int, len(t.of))
	for i := range greatest {
		greatest[i] = i
	}
	slices.SortStableFunc(greatest, func(a, b int) int { return cmp.Compare(max(t.of[b], -t.of[b]), max(t.of[a], -t.of[a])) })
	others := greatest[told:]
	greatest = greatest[:told]
	slices.Sort(greatest)
	short := NoTotal(t.Explanation.Label, t.Currency)
	short.Amount, short.Explanation.Figure = t.Amount, t.Explanation.Figure
	for _, at := range greatest {
		short.Explanation.Steps = append(short.Explanation.Steps, t.Explanation.Steps[at])
	}
	rest := money.Zero(t.Currency)
	for _, at := range others {
		rest.Minor += t.of[at]
	}
	short.Explanation.Steps = append(short.Explanation.Steps, Step{Label: fmt.Sprintf("%d others", len(others)), Figure: rest.String()})
	return short
}

// Totals are sums of what a label says, one for each currency in the order in which they came.
type Totals []Total

// Add adds what comes to an amount, to the total of its currency.
func (t *Totals) Add(label string, step Step, amount money.Amount) error {
	at := slices.IndexFunc(*t, func(of Total) bool { return of.Currency == amount.Currency })
	if at < 0 {
		at = len(*t)
		*t = append(*t, NoTotal(label, amount.Currency))
	}
	return (*t)[at].Add(step, amount)
}

// Shortened are the totals with no more steps than are read.
func (t Totals) Shortened() Totals {
	short := make(Totals, len(t))
	for i := range t {
		short[i] = t[i].Shortened()
	}
	return short
}

// ByCurrency are the totals in the order of their currencies, with no more steps than are read.
func (t Totals) ByCurrency() Totals {
	short := t.Shortened()
	slices.SortFunc(short, func(a, b Total) int { return cmp.Compare(a.Currency, b.Currency) })
	return short
}

// Amounts are the sums alone.
func (t Totals) Amounts() []money.Amount {
	amounts := make([]money.Amount, len(t))
	for i := range t {
		amounts[i] = t[i].Amount
	}
	return amounts
}
