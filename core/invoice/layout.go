package invoice

import (
	"regexp"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/wording"
	"dorvet/core/worktime"
)

// Layout is how the lines of an invoice are put together. It never changes an
// amount: a group's amount is the sum of the amounts in it.
type Layout struct {
	First By // sections
	Then  By // lines in a section
	// Expenses is what the lines of expenses are grouped by, in a section of their own;
	// nothing: they stand with the others.
	Expenses By
	Columns  []string
	Hours    string // as worked, or rounded for display: tenth, quarter, half, whole
	Text     string // of a line, with {text}, {who}, {initials}, {service}, {phase}, {date}, {reference}, {hours}
	Sum      string // the text of an invoice of one sum
	Words    wording.Words
}

// By is what lines are grouped by.
type By string

// The groups. Everything is one group of all; Entries is no group at all, each
// line by itself.
const (
	Everything   By = "sum"
	Entries      By = "entries"
	ByEngagement By = "engagement"
	ByPhase      By = "phase"
	ByService    By = "service"
	ByPerson     By = "person"
	ByDate       By = "date"
	ByMonth      By = "month"
	ByReference  By = "reference"
	ByCategory   By = "category" // of expenses
)

// Together is the choice that expenses stand with the other lines.
const Together By = "together"

// Item is a line before it is put into groups, with everything that it can be
// grouped by. Covered work stands on a fee and has no amount of its own.
type Item struct {
	Kind                                                                Kind
	Engagement, Reference, Phase, Service, Category, Who, Initials, Ref string
	Day                                                                 day.Day
	Text, Note, Rate                                                    string
	Minutes                                                             int
	Quantity                                                            string
	Amount                                                              money.Amount
	Covered                                                             bool
	Picture                                                             string            // digest
	Until                                                               day.Day           // the last day, where it spans several
	Own                                                                 map[string]string // fields of the firm's own, by name
	Billed                                                              []int             // its place in Document.Billed; none of covered work
}

// Arrange puts items, in their order, into sections and lines. Groups stand in
// the order in which their first item does.
func (l Layout) Arrange(c money.Currency, items []Item) ([]Section, error) {
	if l.Expenses == "" || l.Expenses == Together {
		return l.arrange(c, items)
	}
	expenses, others := []Item{}, []Item{}
	for _, item := range items {
		if item.Kind == Expense {
			expenses = append(expenses, item)
		} else {
			others = append(others, item)
		}
	}
	sections, err := l.arrange(c, others)
	if err != nil || len(expenses) == 0 {
		return sections, err
	}
	title := l.Words.Say(wording.Expenses)
	own := Section{Title: title, Sum: money.Zero(c), Lines: []DocumentLine{}}
	within := Layout{First: l.Expenses, Hours: l.Hours, Text: l.Text, Sum: title, Words: l.Words}
	err = within.fill(&own, expenses)
	return append(sections, own), err
}

// arrange puts items together that all follow one rule.
func (l Layout) arrange(c money.Currency, items []Item) ([]Section, error) {
	sections, places := []Section{}, map[string]int{}
	within := map[string][]Item{}
	titles := []string{}
	for _, item := range items {
		title, reference := l.sectionOf(item)
		if _, known := places[title]; !known {
			places[title] = len(sections)
			sections, titles = append(sections, Section{Title: title, Reference: reference, Sum: money.Zero(c), Lines: []DocumentLine{}}),
				append(titles, title)
		}
		within[title] = append(within[title], item)
	}
	for i := range sections {
		if err := l.fill(&sections[i], within[titles[i]]); err != nil {
			return nil, err
		}
	}
	return sections, nil
}

// sectionOf is the title of the section in which an item stands. An invoice that
// has one level has sections by engagement for single lines, and none for sums.
func (l Layout) sectionOf(item Item) (title, reference string) {
	switch {
	case l.First == Everything || l.Then == "" && l.First != Entries:
		return "", ""
	case l.First == Entries || l.First == ByEngagement:
		return item.Engagement, item.Reference
	}
	return l.groupOf(item, l.First), ""
}

func (l Layout) fill(s *Section, items []Item) (err error) {
	by := l.Then
	switch {
	case l.First == Everything:
		by = Everything
	case l.First == Entries:
		by = Entries
	case by == "":
		by = l.First
	}
	places, minutes := map[string]int{}, []int{}
	for _, item := range items {
		if s.Sum, err = s.Sum.Add(item.Amount); err != nil {
			return err
		}
		if by == Entries || item.Kind == Advance && by != Everything {
			s.Lines, minutes = append(s.Lines, l.single(item)), append(minutes, 0)
			continue
		}
		name := l.groupOf(item, by)
		if by == Everything {
			name = l.Sum
		}
		n, known := places[name]
		if !known {
			n = len(s.Lines)
			places[name] = n
			s.Lines, minutes = append(s.Lines, DocumentLine{Text: name, Amount: money.Zero(item.Amount.Currency)}), append(minutes, 0)
		}
		minutes[n] += item.Minutes
		s.Lines[n].Of = append(s.Lines[n].Of, item.Billed...)
		if s.Lines[n].Amount, err = s.Lines[n].Amount.Add(item.Amount); err != nil {
			return err
		}
	}
	for n, sum := range minutes {
		if sum > 0 {
			s.Lines[n].Hours = l.hours(sum)
		}
	}
	return nil
}

// single is a line that stands for one item.
func (l Layout) single(item Item) DocumentLine {
	line := DocumentLine{Day: item.Day, Until: item.Until, Who: item.Who, Text: l.textOf(item), Rate: item.Rate,
		Hours: item.Quantity, Amount: item.Amount,
		Note: item.Note, Covered: item.Covered, Picture: item.Picture, Of: item.Billed}
	if item.Minutes > 0 {
		line.Hours = l.hours(item.Minutes)
	}
	if item.Kind == Expense && line.Note == "" && l.First != ByCategory && !strings.Contains(line.Text, item.Category) {
		line.Note = item.Category
	}
	return line
}

// ownField is where a field of the firm's own stands in a text: {own.Name}.
var ownField = regexp.MustCompile(`\{own\.[^}]*\}`)

func (l Layout) textOf(item Item) string {
	if l.Text == "" || item.Kind != Time && item.Kind != Expense {
		return item.Text
	}
	service := item.Service
	if item.Kind == Expense {
		service = item.Category
	}
	hours := ""
	if item.Minutes > 0 {
		hours = l.hours(item.Minutes)
	}
	text := strings.NewReplacer("{text}", item.Text, "{who}", item.Who, "{initials}", item.Initials, "{service}", service, "{phase}",
		item.Phase,
		"{date}", l.Words.Day(item.Day), "{reference}", item.Ref, "{hours}", hours).Replace(l.Text)
	text = ownField.ReplaceAllStringFunc(text, func(field string) string { return item.Own[field[len("{own."):len(field)-1]] })
	// What is missing leaves no loose joint behind.
	parts := slices.DeleteFunc(strings.Split(text, " · "), func(part string) bool { return strings.TrimSpace(part) == "" })
	if text = strings.Trim(strings.Join(parts, " · "), " ,:;–-"); text == "" {
		return item.Text
	}
	return text
}

// groupOf is the name of the item's group. What has no such thing stands under
// what kind of line it is.
func (l Layout) groupOf(i Item, by By) string {
	name := ""
	if own, is := strings.CutPrefix(string(by), profile.OwnPrefix); is {
		name = i.Own[own]
	}
	switch by {
	case ByEngagement:
		name = i.Engagement
	case ByPhase:
		name = i.Phase
	case ByService:
		name = i.Service
	case ByPerson:
		name = i.Who
	case ByDate:
		name = l.Words.Day(i.Day)
	case ByMonth:
		name = l.Words.Month(i.Day)
	case ByReference:
		name = i.Ref
	case ByCategory:
		name = i.Category
	}
	if name != "" {
		return name
	}
	switch {
	case i.Kind == Expense:
		return l.Words.Say(wording.Expenses)
	case i.Kind == Time:
		return l.Words.Say(wording.Services)
	}
	return i.Text
}

// hours shows minutes, rounded half up for display if so chosen.
func (l Layout) hours(minutes int) string {
	step := map[string]int{"tenth": 6, "quarter": 15, "half": 30, "whole": 60}[l.Hours]
	if step == 0 {
		return l.Words.Count(worktime.Hours(minutes))
	}
	hundredths := (2*minutes + step) / (2 * step) * step * 100 / 60
	return l.Words.Count(money.TypeFixed(int64(hundredths), money.Point, 2, map[string]int{"tenth": 1, "quarter": 2, "half": 1}[l.Hours]))
}

// Shows reports whether a column is printed.
func (d *Document) Shows(column string) bool { return slices.Contains(d.Columns, column) }
