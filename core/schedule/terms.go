// Package schedule says when money is due: payment terms, and the
// instalments of an invoice.
//
// Terms are written in one short word, which is also how they are kept:
//
//	receipt       on receipt: the day of the invoice itself
//	30d           30 days after it
//	2m            the same day two months later, clamped to the month's end
//	eom+15d       the end of its month, then 15 days
//	30d+eom       30 days, then the end of that month
//	day15         the next 15th of a month; an invoice of the 15th is due a month later
package schedule

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/refusal"
	"dorvet/core/wording"
)

// Terms are payment terms; the zero value is on receipt.
type Terms struct {
	kind kind
	n    int
}

type kind int

const (
	onReceipt kind = iota
	days
	months
	endOfMonthThenDays
	daysThenEndOfMonth
	dayOfMonth
)

var spellings = []struct {
	kind    kind
	pattern *regexp.Regexp
	words   string
}{
	{days, regexp.MustCompile(`^(\d{1,3})d$`), "%d days"},
	{months, regexp.MustCompile(`^(\d{1,2})m$`), "%d months"},
	{endOfMonthThenDays, regexp.MustCompile(`^eom\+(\d{1,3})d$`), "end of month, then %d days"},
	{daysThenEndOfMonth, regexp.MustCompile(`^(\d{1,3})d\+eom$`), "%d days, then end of month"},
	{dayOfMonth, regexp.MustCompile(`^day([1-9]|[12]\d|3[01])$`), "the next day %d of a month"},
}

// ParseTerms reads terms in the spelling of the package comment.
func ParseTerms(text string) (Terms, error) {
	if text == "receipt" {
		return Terms{}, nil
	}
	if text == "eom" {
		return Terms{endOfMonthThenDays, 0}, nil
	}
	for _, s := range spellings {
		if found := s.pattern.FindStringSubmatch(text); found != nil {
			n, err := strconv.Atoi(found[1])
			return Terms{s.kind, n}, err
		}
	}
	return Terms{}, refusal.Errorf("payment terms %q are not known: write receipt, 30d, 2m, eom, eom+15d, 30d+eom or day15", text)
}

// said are terms in words, and how each is spelled: what [Terms.String] prints among them.
var said = []struct {
	pattern  *regexp.Regexp
	spelling string
}{
	{regexp.MustCompile(`^(?:on|due on|upon)? ?receipt$|^at once$|^now$|^immediately$`), "receipt"},
	{regexp.MustCompile(`^(?:end of (?:the )?month|eom)$`), "eom"},
	{regexp.MustCompile(`^(?:end of (?:the )?month|eom)(?:,? then| ?\+) ?(\d{1,3}) ?(?:days?|d)$`), "eom+${1}d"},
	{regexp.MustCompile(`^(\d{1,3}) ?(?:days?|d)(?:,? then (?:the )?end of (?:the )?month| ?\+ ?eom)$`), "${1}d+eom"},
	{regexp.MustCompile(`^(?:net |within |in )?(\d{1,3}) ?(?:days?|d)$`), "${1}d"},
	{regexp.MustCompile(`^net (\d{1,3})$`), "${1}d"},
	{regexp.MustCompile(`^(?:within |in )?(\d{1,2}) ?(?:months?|m)$`), "${1}m"},
	{regexp.MustCompile(`^(?:the )?(?:next )?(?:day ?)?([1-9]|[12]\d|3[01])(?:st|nd|rd|th|\.)(?: of (?:a|the) month)?$`), "day$1"},
	{regexp.MustCompile(`^(?:the next )?day ?([1-9]|[12]\d|3[01])(?: of a month)?$`), "day$1"},
}

var inWeeks = regexp.MustCompile(`^(?:within |in )?(\d{1,2}) ?(?:weeks?|w)$`)

// ReadTerms reads terms as people type them and as pages print them (45 days, 2 weeks, net
// 30, end of month, the 20th), and gives the spelling in which they are kept.
func ReadTerms(typed string) (string, error) {
	text := strings.Join(strings.Fields(strings.ToLower(typed)), " ")
	if found := inWeeks.FindStringSubmatch(text); found != nil {
		weeks, err := strconv.Atoi(found[1])
		return fmt.Sprintf("%dd", 7*weeks), err
	}
	for _, s := range said {
		if found := s.pattern.FindStringSubmatchIndex(text); found != nil {
			spelling := string(s.pattern.ExpandString(nil, s.spelling, text, found))
			_, err := ParseTerms(spelling)
			return spelling, err
		}
	}
	return "", refusal.Errorf("payment terms %q are not known: write receipt, 30 days, 2 weeks, 2 months, end of month, eom + 15d, "+
		"30d + eom or 20th", typed)
}

// Due is the day on which an invoice of the given day must be paid, never
// before that day.
func (t Terms) Due(issued day.Day) day.Day {
	switch t.kind {
	case days:
		return issued.AddDays(t.n)
	case months:
		return issued.AddMonths(t.n)
	case endOfMonthThenDays:
		return issued.EndOfMonth().AddDays(t.n)
	case daysThenEndOfMonth:
		return issued.AddDays(t.n).EndOfMonth()
	case dayOfMonth:
		if due := issued.OnDayOfMonth(t.n); due > issued {
			return due
		}
		return issued.OnDayOfMonth(1).AddMonths(1).OnDayOfMonth(t.n)
	}
	return issued
}

// String says the terms in words.
func (t Terms) String() string {
	if t.kind == endOfMonthThenDays && t.n == 0 {
		return "end of month"
	}
	for _, s := range spellings {
		if s.kind == t.kind {
			words := fmt.Sprintf(s.words, t.n)
			if t.n == 1 && s.kind != dayOfMonth {
				return strings.NewReplacer("days", "day", "months", "month").Replace(words)
			}
			return words
		}
	}
	return "on receipt"
}

// In says the terms in the language of a document.
func (t Terms) In(w wording.Words) string {
	n := strconv.Itoa(t.n)
	switch {
	case t.kind == days && t.n == 1:
		return w.Say(wording.OneDay)
	case t.kind == days:
		return w.Say(wording.Days, "n", n)
	case t.kind == months && t.n == 1:
		return w.Say(wording.OneMonth)
	case t.kind == months:
		return w.Say(wording.Months, "n", n)
	case t.kind == endOfMonthThenDays && t.n == 0:
		return w.Say(wording.EndOfMonth)
	case t.kind == endOfMonthThenDays:
		return w.Say(wording.EndOfMonthDays, "n", n)
	case t.kind == daysThenEndOfMonth:
		return w.Say(wording.DaysEndOfMonth, "n", n)
	case t.kind == dayOfMonth:
		return w.Say(wording.DayOfMonth, "n", n)
	}
	return w.Say(wording.OnReceipt)
}
