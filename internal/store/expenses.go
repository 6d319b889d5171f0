package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/wip"
)

// ExpenseRow is a share of a purchase with what is around it and where it stands.
type ExpenseRow struct {
	Expense
	PersonID                   int64
	Initials, Person           string
	Category, Supplier         string
	PurchaseText, PaidBy       string
	Engagement, Client, Phase  string
	EngagementCode, Reference  string
	PurchaseDay                day.Day `gorm:"serializer:day"`
	ClientID, LeadID, EntityID int64
	Billing                    wip.Billing
	Hold                       wip.Hold
	HoldUntil                  day.Day `gorm:"serializer:day"`
	InvoiceID                  int64
	NumberText                 string
	Files                      int
	Decided                    bool // divided, written down or up, or put at no charge in the review of work
}

const expenseRows = `SELECT t.*, u.person_id, w.initials, w.name AS person, g.name AS category, u.supplier, u.text AS purchase_text,
	u.paid_by,
		COALESCE(e.name, '') AS engagement, COALESCE(e.code, '') AS engagement_code, u.reference, u.day AS purchase_day,
			COALESCE(e.client_id,
			0) AS client_id, COALESCE(e.lead_id, 0) AS lead_id, COALESCE(e.entity_id, 0) AS entity_id,
		COALESCE(c.name, '') AS client, COALESCE(f.name, '') AS phase, COALESCE(p.billing, 'not_billable') AS billing, COALESCE(p.hold,
			'none') AS hold, COALESCE(p.hold_until, '') AS hold_until,
		COALESCE(i.id, 0) AS invoice_id, COALESCE(i.number_text, '') AS number_text,
		EXISTS (SELECT 1 FROM portions q WHERE q.source = 'expense' AND q.source_id = t.id AND q.removed = FALSE AND (q.part > 0
			OR q.adjusted <> 0 OR q.own_rate IS NOT NULL OR q.treatment <> t.treatment)) AS decided,
		(SELECT COUNT(*) FROM source_files k WHERE k.source = 'purchase' AND k.source_id = u.id) AS files
	FROM expenses t JOIN purchases u ON u.id = t.purchase_id JOIN people w ON w.id = u.person_id
		JOIN expense_categories g ON g.id = u.category_id
	LEFT JOIN engagements e ON e.id = t.engagement_id LEFT JOIN clients c ON c.id = e.client_id LEFT JOIN phases f ON f.id = t.phase_id
	LEFT JOIN portions p ON p.source = 'expense' AND p.source_id = t.id AND p.part = 0 AND p.removed = FALSE
	LEFT JOIN invoice_lines l ON l.id = p.line_id LEFT JOIN invoices i ON i.id = l.invoice_id
	WHERE t.removed = FALSE `

// SharesOf reads the shares of a purchase, in their order.
func SharesOf(tx *DB, purchaseID int64) ([]ExpenseRow, error) {
	return expensesWith(tx, "AND t.purchase_id = ? ORDER BY t.position, t.id", purchaseID)
}

// ExpensesByID reads expenses by their numbers.
func ExpensesByID(tx *DB, ids []int64) ([]ExpenseRow, error) {
	return expensesWith(tx, "AND t.id IN ?", many(ids))
}

func expensesWith(tx *DB, where string, value any) ([]ExpenseRow, error) {
	rows := []ExpenseRow{}
	err := tx.gorm.Raw(expenseRows+where, value).Scan(&rows).Error
	return rows, err
}

// FileUses are the entries and purchases that have a file.
func FileUses(tx *DB, digest string) ([]SourceFile, error) {
	uses := []SourceFile{}
	err := tx.gorm.Find(&uses, "digest = ?", digest).Error
	return uses, err
}

// PurchaseLeft is a purchase of which a share is on no engagement yet.
type PurchaseLeft struct {
	ID, PersonID                   int64
	Day                            day.Day `gorm:"serializer:day"`
	Person, Initials               string
	Category, Supplier, Text, Unit string
	Units                          int64 // ten-thousandths; 0: an amount
	Cost, Left                     int64
	Currency                       money.Currency
}

// PurchasesLeft reads the purchases of which something was used on engagements and
// something is left, and since a day those of which nothing was used, newest first.
func PurchasesLeft(tx *DB, since day.Day) ([]PurchaseLeft, error) {
	rows := []PurchaseLeft{}
	err := tx.gorm.Raw(`SELECT u.id, u.person_id, w.name AS person, w.initials, u.day, g.name AS category, u.supplier, u.text,
			COALESCE(u.paid ->> '$.unit', '') AS unit, COALESCE(u.paid ->> '$.units', 0) AS units, u.cost, u.currency,
			SUM(CASE WHEN t.engagement_id IS NULL THEN t.cost ELSE 0 END) AS left
		FROM purchases u JOIN expenses t ON t.purchase_id = u.id AND t.removed = FALSE JOIN people w ON w.id = u.person_id
			JOIN expense_categories g ON g.id = u.category_id
		WHERE u.removed = FALSE GROUP BY u.id
		HAVING left > 0 AND (left < u.cost OR u.day >= ?) ORDER BY u.day DESC, u.id DESC LIMIT 1000`, since.String()).Scan(&rows).Error
	return rows, err
}
