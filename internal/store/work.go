package store

import (
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"

	"gorm.io/gorm"
)

// WorkFilter says which entries or expenses are meant; empty lists and zero days
// ask for all.
type WorkFilter struct {
	Expenses                            bool // in place of time
	From, To                            day.Day
	People, Clients, Engagements, Kinds []int64 // Kinds are services, or categories of expenses
	States                              []string
	Text                                string
	OldestFirst                         bool
	OwnOf                               int64   // whoever sees only their own: theirs, and what was done on engagements in the scope
	Today                               day.Day // on which holds are looked at
}

// source is where rows of the filter's kind are read from, as t, with who they
// are of as person_id, what kind they are as kind_id, and their words as said.
func (f WorkFilter) source() string {
	if f.Expenses {
		return `(SELECT x.*, 0 AS worked_minutes, 0 AS expected_minutes, u.person_id, u.category_id AS kind_id, '' AS approval,
			x.text || ' ' || u.text || ' ' || u.supplier AS said FROM expenses x JOIN purchases u ON u.id = x.purchase_id
				WHERE x.removed = FALSE) t`
	}
	return "(SELECT *, service_id AS kind_id, text AS said FROM time_entries WHERE removed = FALSE) t"
}

// states are conditions on a row t and its portion p.
var states = map[string]string{
	"unbilled":     "p.billing = 'unbilled'",
	"on_draft":     "p.billing = 'reserved'",
	"to_bill":      "p.billing IN ('unbilled', 'reserved') AND NOT " + inFee("p"),
	"in_fee":       "p.billing IN ('unbilled', 'reserved') AND " + inFee("p"),
	"billed":       "p.billing IN ('billed', 'written_off')",
	"not_billable": "COALESCE(p.billing, 'not_billable') = 'not_billable'",
	"on_hold":      "p.billing = 'unbilled' AND " + onHold,
	"without_rate": "p.without_rate AND p.billing = 'unbilled'",
	"estimated":    "t.expected_minutes > 0",
	"open":         "t.approval = 'open'",
	"submitted":    "t.approval = 'submitted'",
	"approved":     "t.approval = 'approved'",
}

// inFee holds for a portion that is not billed by itself: a fee covers it, or a cap leaves it.
func inFee(portion string) string {
	return strings.ReplaceAll(`({p}.over_cap OR {p}.source = 'time' AND {p}.treatment <> 'out_of_scope' AND EXISTS (SELECT 1 FROM engagements g
		WHERE g.id = {p}.engagement_id AND (g.arrangement IN ('fixed', 'recurring') OR {p}.billing = 'unbilled'
			AND g.arrangement = 'capped' AND g.fee <= COALESCE((SELECT SUM(`+feeOfLine+`) FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id
				WHERE l.engagement_id = g.id AND `+countsToCap+`), 0))))`, "{p}", portion)
}

// IsWorkState reports whether work is found by such a state.
func IsWorkState(state string) bool { return states[state] != "" }

// where is the filter as conditions on t; the portion is looked at only where a
// state asks for it.
func (f WorkFilter) where(tx *DB) *gorm.DB {
	q := tx.gorm.Table(f.source())
	if !f.From.IsZero() {
		q = q.Where("t.day >= ?", f.From.String())
	}
	if !f.To.IsZero() {
		q = q.Where("t.day <= ?", f.To.String())
	}
	for column, ids := range map[string][]int64{"t.person_id": f.People, "t.engagement_id": f.Engagements, "t.kind_id": f.Kinds} {
		if len(ids) > 0 {
			q = q.Where(column+" IN ?", many(ids))
		}
	}
	if len(f.Clients) > 0 {
		q = q.Where("t.engagement_id IN (SELECT id FROM engagements WHERE client_id IN ?)", f.Clients)
	}
	if f.Text != "" {
		q = q.Where("t.said LIKE ? ESCAPE '\\'", within(f.Text))
	}
	if f.OwnOf != 0 {
		q = q.Where("(t.person_id = @own OR t.engagement_id IN (SELECT e.id FROM engagements e WHERE "+inSight+"))",
			tx.scoped(map[string]any{"own": f.OwnOf}))
	}
	if len(f.States) == 0 {
		return q
	}
	anyOf := []string{}
	for _, state := range f.States {
		if condition, known := states[state]; known {
			anyOf = append(anyOf, condition)
		}
	}
	// Named values are taken only where a condition names them: this one always does.
	return f.joinPortion(q).Where("(@today <> '' AND ("+strings.Join(anyOf, " OR ")+"))", map[string]any{"today": f.Today.String()})
}

// within is a pattern for LIKE … ESCAPE '\' of what has a text in it, whatever characters it has.
func within(text string) string {
	return "%" + strings.NewReplacer(`\`, `\\`, "%", `\%`, "_", `\_`).Replace(text) + "%"
}

// joinPortion joins the first part, which stands for all of an entry.
func (f WorkFilter) joinPortion(q *gorm.DB) *gorm.DB {
	return q.Joins("LEFT JOIN portions p ON p.source = ? AND p.source_id = t.id AND p.part = 0 AND p.removed = FALSE", f.portionSource())
}

func (f WorkFilter) portionSource() string {
	if f.Expenses {
		return "expense"
	}
	return "time"
}

// WorkSum is how many rows there are of an engagement, or of none, and what they add up to, in one
// currency.
type WorkSum struct {
	EngagementID, ClientID int64
	Client, Engagement     string
	Currency               money.Currency
	Count                  int
	WorkedMinutes          int
	ExpectedMinutes        int // where somebody said how long it would take
	Agreed                 int64
}

// months are the months of which a filter finds all time, where it says no more than from when to when, and on which
// engagements: of those it is kept what they come to.
func (f WorkFilter) months(tx *DB) (*gorm.DB, bool) {
	q, whole := tx.gorm.Table("time_months t"), !f.Expenses && len(f.People)+len(f.Kinds)+len(f.States) == 0 && f.Text == "" && f.OwnOf == 0
	if !f.From.IsZero() {
		whole = whole && f.From == f.From.OnDayOfMonth(1)
		q = q.Where("t.month >= ?", f.From.String()[:7])
	}
	if !f.To.IsZero() {
		whole = whole && f.To == f.To.EndOfMonth()
		q = q.Where("t.month <= ?", f.To.String()[:7])
	}
	if len(f.Engagements) > 0 {
		q = q.Where("t.engagement_id IN ?", many(f.Engagements))
	}
	if len(f.Clients) > 0 {
		q = q.Where("t.engagement_id IN (SELECT id FROM engagements WHERE client_id IN ?)", f.Clients)
	}
	return q.Where("t.entries > 0"), whole
}

// WorkSums adds up what a filter finds, by currency and engagement.
func WorkSums(tx *DB, f WorkFilter) ([]WorkSum, error) {
	sums := []WorkSum{}
	count, rows := "COUNT(*)", f.where(tx)
	if months, whole := f.months(tx); whole {
		count, rows = "SUM(t.entries)", months
	}
	found := rows.Select("t.engagement_id, t.currency, " + count + " AS count, SUM(t.worked_minutes) AS worked_minutes, " +
		"SUM(t.expected_minutes) AS expected_minutes, SUM(t.agreed) AS agreed").
		Group("t.currency, t.engagement_id")
	err := tx.gorm.Table("(?) s", found).Select("s.*, COALESCE(e.client_id, 0) AS client_id, COALESCE(e.name, '') AS engagement, COALESCE(c.name, '') AS client").
		Joins("LEFT JOIN engagements e ON e.id = s.engagement_id LEFT JOIN clients c ON c.id = e.client_id").
		Order("s.currency, c.name, e.name").Scan(&sums).Error
	return sums, err
}

// WorkIDs reads the numbers of a page of what a filter finds, by day.
func WorkIDs(tx *DB, f WorkFilter, offset, limit int) ([]int64, error) {
	order := "t.day DESC, t.id DESC"
	if f.OldestFirst {
		order = "t.day, t.id"
	}
	ids := []int64{}
	err := f.where(tx).Select("t.id").Order(order).Offset(offset).Limit(limit).Scan(&ids).Error
	return ids, err
}

// GroupSum is what a client's engagement, or a person's, has in one group.
type GroupSum struct {
	EngagementID, ClientID, PersonID int64
	Engagement, Client, Person       string
	Bucket                           string // to_bill, in_fee, billed, not_billable
	Currency                         money.Currency
	Count, WorkedMinutes             int
	Agreed                           int64
}

// GroupSums adds up what a filter finds by engagement, by person too if asked,
// in four groups. What is on a draft is not billed yet. An entry that a cap has
// divided counts in two groups, each with its part of the value.
func GroupSums(tx *DB, f WorkFilter, byPerson bool) ([]GroupSum, error) {
	q := f.where(tx).Joins("LEFT JOIN portions o ON o.source = ? AND o.source_id = t.id AND o.removed = FALSE", f.portionSource())
	person, names, order, group := "0", "''", "c.name, e.name, e.id", "t.engagement_id, t.currency, bucket"
	if byPerson {
		q, person, names, order = q.Joins("JOIN people w ON w.id = t.person_id"), "t.person_id", "w.name", "w.name, c.name, e.name, e.id"
		group = "t.person_id, " + group
	}
	sums := []GroupSum{}
	err := q.Select(`t.engagement_id, e.client_id, e.name AS engagement, c.name AS client, ` + person + ` AS person_id, ` +
		names + ` AS person, t.currency,
			CASE WHEN o.billing IN ('unbilled', 'reserved') AND ` + inFee("o") + ` THEN 'in_fee'
				WHEN o.billing IN ('unbilled', 'reserved') THEN 'to_bill' WHEN o.billing IN ('billed', 'written_off') THEN 'billed'
				ELSE 'not_billable' END AS bucket,
			COUNT(*) AS count, SUM(CASE WHEN COALESCE(o.part, 0) = 0 THEN t.worked_minutes ELSE 0 END) AS worked_minutes,
				SUM(COALESCE(o.agreed,
				t.agreed)) AS agreed`).
		Joins("LEFT JOIN engagements e ON e.id = t.engagement_id LEFT JOIN clients c ON c.id = e.client_id").
		Group(group).Order(order).Scan(&sums).Error
	return sums, err
}
