// Package rate finds which of many rates holds for an hour of work, and keeps
// those that it beat.
//
// Rates are set on levels, from the firm's to the single entry's. On every
// level several can follow each other by date: the latest that has begun
// holds. The most specific level that has a value in the engagement's currency
// wins. A level may name a card, whose rows are by grade, person or service;
// inside a card service beats person beats grade.
//
// The firm charges 110.00, the grade 120.00, the person 130.00 since January:
// an hour costs 130.00, which beats 120.00 and 110.00.
package rate

import (
	"cmp"
	"slices"

	"dorvet/core/day"
	"dorvet/core/money"
)

// Level is where a rate is set; a higher level is more specific and wins.
type Level int

// The levels, from least to most specific.
const (
	Firm Level = iota + 1
	Service
	Grade
	Person
	Client
	Engagement
	EngagementService
	Phase
	Task
	EngagementPerson
	Entry
)

var levelNames = []string{"", "firm", "service", "grade", "person", "client", "engagement",
	"service on the engagement", "phase", "task", "person on the engagement", "entry"}

// String is the level's name in words.
func (l Level) String() string { return levelNames[l] }

// Card says by what a row of a rate card is chosen; NoCard is a single value.
type Card int

// Inside a card a higher value beats a lower one; a single value is beaten by
// any row of a card that fits.
const (
	NoCard Card = iota
	CardGrade
	CardPerson
	CardService
)

// Row is one rate that fits the question: the store has already left out what
// concerns other people, clients and engagements.
type Row struct {
	Level    Level          `json:"level"`
	Card     Card           `json:"card,omitempty"`
	Subject  string         `json:"subject"` // whose it is, in words: "T. Brandt"
	From     day.Day        `json:"from"`
	PerHour  money.Rate     `json:"perHour"`
	None     bool           `json:"none,omitempty"`   // no rate on this level from this day on
	Chosen   bool           `json:"chosen,omitempty"` // somebody let it win over those that are more specific
	Currency money.Currency `json:"currency"`
}

// Resolution is the answer: the row that won, and those it beat, most specific
// first. Without any rate Won is nil.
type Resolution struct {
	On     day.Day `json:"on"`
	Won    *Row    `json:"won,omitempty"`
	Beaten []Row   `json:"beaten,omitempty"`
}

// PerHour is the winning rate; ok is false if there is none.
func (r Resolution) PerHour() (rate money.Rate, ok bool) {
	if r.Won == nil {
		return 0, false
	}
	return r.Won.PerHour, true
}

// Beat puts a row that is more specific than all others above them.
func (r Resolution) Beat(row Row) Resolution {
	beaten := r.Beaten
	if r.Won != nil {
		beaten = append([]Row{*r.Won}, beaten...)
	}
	return Resolution{On: r.On, Won: &row, Beaten: beaten}
}

// Prefer lets the rate of a level win over more specific ones, which stand among those that
// it beat. Where that level has none, nothing changes.
func (r Resolution) Prefer(level Level) Resolution {
	i := slices.IndexFunc(r.Beaten, func(row Row) bool { return row.Level == level })
	if i < 0 || r.Won == nil || r.Won.Level == level {
		return r
	}
	won := r.Beaten[i]
	won.Chosen = true
	return Resolution{On: r.On, Won: &won, Beaten: slices.Concat([]Row{*r.Won}, r.Beaten[:i], r.Beaten[i+1:])}
}

// All are the rates that fit, the winner first.
func (r Resolution) All() []Row {
	if r.Won == nil {
		return nil
	}
	return slices.Concat([]Row{*r.Won}, r.Beaten)
}

// LevelNamed is the level of a name, as [Level.String] gives it; 0 where there is none.
func LevelNamed(name string) Level { return Level(slices.Index(levelNames[1:], name) + 1) }

// Resolve finds the rate that holds on a day in a currency. Rows may come in
// any order.
func Resolve(on day.Day, currency money.Currency, rows []Row) Resolution {
	return resolve(on, currency, rows, func(Row) bool { return true })
}

// Standard finds what the firm would charge anybody: as [Resolve], of the rates
// of firm, grade and person only.
func Standard(on day.Day, currency money.Currency, rows []Row) Resolution {
	return resolve(on, currency, rows, func(r Row) bool {
		return r.Level == Firm || r.Level == Grade || r.Level == Person
	})
}

func resolve(on day.Day, currency money.Currency, rows []Row, counts func(Row) bool) Resolution {
	type place struct {
		level Level
		card  Card
	}
	holding := map[place]Row{}
	for _, row := range rows {
		if row.Currency != currency || row.From > on || !counts(row) {
			continue
		}
		at := place{row.Level, row.Card}
		if earlier, taken := holding[at]; !taken || earlier.From < row.From {
			holding[at] = row
		}
	}
	ranked := make([]Row, 0, len(holding))
	for _, row := range holding {
		if !row.None {
			ranked = append(ranked, row)
		}
	}
	slices.SortFunc(ranked, func(a, b Row) int {
		return cmp.Or(cmp.Compare(b.Level, a.Level), cmp.Compare(b.Card, a.Card))
	})
	answer := Resolution{On: on}
	if len(ranked) > 0 {
		answer.Won, answer.Beaten = &ranked[0], ranked[1:]
	}
	return answer
}
