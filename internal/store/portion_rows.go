package store

import (
	"encoding/json"

	"dorvet/core/day"
	"dorvet/core/expense"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/core/wip"

	"gorm.io/gorm"
)

// PortionRow is a portion with the words and the value of the entry or expense
// that it is of.
type PortionRow struct {
	Portion
	PurchaseID   int64 // of an expense
	PersonID     int64
	Person       string
	Initials     string
	Service      string // or the category of an expense
	Phase        string
	Reference    string
	Text         string
	Returns      bool
	Disbursement bool // of an expense
	Codes        FileCodes
	ValuedAt     *money.Rate // of time: an hour; nothing for a flat amount, or without a rate
	AgreedWhole  int64       // of the whole source, of which this may be a part
	Until        day.Day     // of time: its last day, where it spans several
	LineText     string
	LineVersion  int64

	valued []byte // how the source's value was made, as JSON: opened only to be explained
	paid   []byte // what the receipt of an expense says, as JSON
	own    []byte // the firm's own fields of time, as JSON
}

// Own are the firm's own fields of time, by their numbers.
func (p *PortionRow) Own() map[string]string {
	own := map[string]string{}
	if len(p.own) > len("{}") && json.Unmarshal(p.own, &own) != nil {
		return nil
	}
	return own
}

// Units are those of an expense that was counted, like 40 km, and what one of them comes to:
// nothing where this is not all of it, and no price where units × price is not its value.
func (p *PortionRow) Units() (units int64, unit string, price *money.Rate) {
	paid, valued := expense.Paid{}, expense.Valued{}
	if !p.IsExpense() || p.Agreed != p.AgreedWhole || json.Unmarshal(p.paid, &paid) != nil || paid.Units == 0 || paid.PerUnit == nil ||
		json.Unmarshal(p.valued, &valued) != nil || valued.Shared {
		return 0, "", nil
	}
	each, err := valued.PerUnit(paid)
	if err != nil {
		return paid.Units, paid.Unit, nil
	}
	return paid.Units, paid.Unit, each
}

// FileCodes are the standard codes by which files name what was done, and by whom.
type FileCodes struct{ Task, Activity, Expense, Class string }

// IsExpense reports whether the portion is of an expense, not of time.
func (p *PortionRow) IsExpense() bool { return p.Source == "expense" }

// Explain says how the source's value was made.
func (p *PortionRow) Explain() explain.Step {
	lost := explain.Step{Label: "Value", Detail: "how it was made can't be read any more",
		Figure: money.Amount{Minor: p.Agreed, Currency: p.Currency}.String()}
	if p.IsExpense() {
		valued := expense.Valued{}
		if json.Unmarshal(p.valued, &valued) != nil {
			return lost
		}
		return valued.Explain()
	}
	valued := wip.Valued{}
	if json.Unmarshal(p.valued, &valued) != nil {
		return lost
	}
	return valued.Explain()
}

const (
	portionColumns = `p.id, p.version, p.source, p.source_id, p.engagement_id, p.worked_day, p.treatment, p.minutes, p.standard, p.agreed,
		p.currency, p.without_rate, p.hold, p.hold_until,
		p.billing, p.line_id, p.removed, p.covered, p.part, p.over_cap, p.written_down, p.adjusted, p.adjusted_minutes, p.own_rate, p.apart,
		p.payer_id,
		COALESCE(x.purchase_id, 0), w.id, w.name, w.initials, COALESCE(s.name, g.name), COALESCE(f.name, ''), COALESCE(t.reference,
			u.reference,
			''),
		CASE WHEN t.id IS NOT NULL THEN t.text WHEN x.text <> '' THEN x.text WHEN u.text <> '' THEN u.text ELSE u.supplier END,
		COALESCE(t.returns, x.returns), COALESCE(x.valued ->> '$.disbursement', FALSE), CASE
			WHEN t.flat IS NULL THEN t.valued ->> '$.rate.won.perHour' END, COALESCE(t.agreed, x.agreed), COALESCE(t.valued, x.valued),
		u.paid, COALESCE(t.until_day, ''), COALESCE(t.own, '{}'),
		COALESCE(s.task_code, ''), COALESCE(s.activity_code, ''), COALESCE(g.expense_code, ''), COALESCE(r.file_class, 'OT')`
	portionJoins = `LEFT JOIN time_entries t ON p.source = 'time' AND t.id = p.source_id LEFT JOIN services s ON s.id = t.service_id
		LEFT JOIN expenses x ON p.source = 'expense' AND x.id = p.source_id LEFT JOIN purchases u ON u.id = x.purchase_id
		LEFT JOIN expense_categories g ON g.id = u.category_id JOIN people w ON w.id = COALESCE(t.person_id, u.person_id)
		LEFT JOIN grades r ON r.id = w.grade_id
		LEFT JOIN phases f ON f.id = COALESCE(t.phase_id, x.phase_id)`
)

// fields are where portionColumns go, in their order.
func (p *PortionRow) fields() []any {
	return []any{&p.ID, &p.Version, &p.Source, &p.SourceID, &p.EngagementID, dayInto{&p.WorkedDay}, &p.Treatment, &p.Minutes, &p.Standard,
		&p.Agreed, &p.Currency, &p.WithoutRate, &p.Hold, dayInto{&p.HoldUntil},
		&p.Billing, &p.LineID, &p.Removed, &p.Covered, &p.Part, &p.OverCap, &p.WrittenDown, &p.Adjusted, &p.AdjustedMinutes, &p.OwnRate,
		&p.Apart, &p.PayerID,
		&p.PurchaseID, &p.PersonID, &p.Person, &p.Initials, &p.Service, &p.Phase, &p.Reference, &p.Text, &p.Returns, &p.Disbursement,
		&p.ValuedAt, &p.AgreedWhole, &p.valued, &p.paid, dayInto{&p.Until}, &p.own,
		&p.Codes.Task, &p.Codes.Activity, &p.Codes.Expense, &p.Codes.Class}
}

// dayInto reads a day that is kept as ISO text.
type dayInto struct{ day *day.Day }

// Scan implements sql.Scanner.
func (d dayInto) Scan(value any) error {
	switch v := value.(type) {
	case string:
		return d.day.UnmarshalText([]byte(v))
	case []byte:
		return d.day.UnmarshalText(v)
	}
	*d.day = 0
	return nil
}

// portionRows reads portions p column by column: a run reads tens of thousands, for
// which GORM takes five times as long.
func portionRows(query *gorm.DB, more string, also func(*PortionRow) []any) ([]PortionRow, error) {
	found, err := query.Select(portionColumns + more).Joins(portionJoins).Order("p.worked_day, p.id").Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	rows := []PortionRow{}
	for found.Next() {
		p := PortionRow{}
		if err := found.Scan(append(p.fields(), also(&p)...)...); err != nil {
			return nil, err
		}
		rows = append(rows, p)
	}
	return rows, found.Err()
}

func nothing(*PortionRow) []any { return nil }

// UnbilledPortions reads unbilled portions with what a line or a list needs of
// their sources, oldest first.
func UnbilledPortions(tx *DB, f UnbilledFilter) ([]PortionRow, error) {
	return portionRows(f.where(tx), "", nothing)
}

// PortionsOn reads the portions on the lines of an invoice.
func PortionsOn(tx *DB, invoiceID int64) ([]PortionRow, error) {
	return portionRows(tx.gorm.Table("portions p").Joins("JOIN invoice_lines l ON l.id = p.line_id").Where("l.invoice_id = ?", invoiceID),
		", l.text, l.version", func(p *PortionRow) []any { return []any{&p.LineText, &p.LineVersion} })
}

// PortionsByID reads portions with the words and values of their sources, oldest
// first.
func PortionsByID(tx *DB, ids []int64) ([]PortionRow, error) {
	return portionRows(tx.gorm.Table("portions p").Where("p.id IN ?", many(ids)), "", nothing)
}
