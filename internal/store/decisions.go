package store

import (
	"time"
)

// DecisionsBy reads what an act decided and what of it still stands, the last
// first.
func DecisionsBy(tx *DB, actID int64) ([]Decision, error) {
	rows := []Decision{}
	err := tx.gorm.Order("id DESC").Find(&rows, "act_id = ? AND NOT undone", actID).Error
	return rows, err
}

// DecidedLater reports whether something was decided on a portion after a
// decision, and stands.
func DecidedLater(tx *DB, d *Decision) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM decisions WHERE portion_id = ? AND id > ? AND NOT undone", d.PortionID, d.ID)
	return n > 0, err
}

// HasDecision reports whether a decision stands on a portion.
func HasDecision(tx *DB, portionID int64) (bool, error) {
	n, err := Count(tx, "SELECT COUNT(*) FROM decisions WHERE portion_id = ? AND NOT undone", portionID)
	return n > 0, err
}

// Undo notes that a decision does not stand any more.
func Undo(tx *DB, decisionID int64) error {
	return tx.gorm.Exec("UPDATE main.decisions SET undone = TRUE WHERE id = ?", decisionID).Error
}

// StandingDecision is a decision that stands, with who took it and why.
type StandingDecision struct {
	Decision
	SourceID int64
	Source   string
	At       time.Time
	Person   string
	Reason   string
	Latest   bool // nothing was decided on the portion since
}

// DecisionsOn reads the decisions that stand on work of an engagement which is
// not billed, the latest first.
func DecisionsOn(tx *DB, engagementID int64) ([]StandingDecision, error) {
	rows := []StandingDecision{}
	err := tx.gorm.Raw(`SELECT d.*, p.source, p.source_id, a.at, COALESCE(w.name, '') AS person, a.reason,
			NOT EXISTS (SELECT 1 FROM decisions l WHERE l.portion_id = d.portion_id AND l.id > d.id AND NOT l.undone) AS latest
		FROM portions p JOIN decisions d ON d.portion_id = p.id AND NOT d.undone JOIN acts a ON a.id = d.act_id
			LEFT JOIN people w ON w.id = a.person_id
		WHERE p.engagement_id = ? AND p.billing IN ('unbilled', 'reserved', 'written_off') AND p.removed = FALSE
			ORDER BY d.id DESC`, engagementID).Scan(&rows).Error
	return rows, err
}

// WrittenDown is what came off portions of a draft or an invoice, at the hours and
// value that it was recorded with.
type WrittenDown struct {
	PortionID        int64
	Minutes          int
	Standard, Agreed int64
}

// WrittenDownOn sums what was written down of the portions on an invoice.
func WrittenDownOn(tx *DB, invoiceID int64) (map[int64]WrittenDown, error) {
	rows := []WrittenDown{}
	err := tx.gorm.Raw(`SELECT p.id AS portion_id, SUM(r.minutes) AS minutes, SUM(r.standard) AS standard, SUM(r.agreed) AS agreed
		FROM invoice_lines l JOIN portions p ON p.line_id = l.id JOIN decisions d ON d.portion_id = p.id AND NOT d.undone
		JOIN portions r ON r.id = d.rest_id AND r.written_down AND r.removed = FALSE WHERE l.invoice_id = ?
			GROUP BY p.id`, invoiceID).Scan(&rows).Error
	down := map[int64]WrittenDown{}
	for _, row := range rows {
		down[row.PortionID] = row
	}
	return down, err
}

// Siblings reads the portions of one source that are unbilled, the first part
// first. Parts on which a decision stands are left alone.
func Siblings(tx *DB, p *Portion) ([]Portion, error) {
	parts := []Portion{}
	err := tx.gorm.Order("part").Find(&parts, `source = ? AND source_id = ? AND removed = FALSE AND billing = 'unbilled'
		AND (part = 0 OR NOT EXISTS (SELECT 1 FROM decisions d WHERE d.portion_id = portions.id
			AND NOT d.undone))`, p.Source, p.SourceID).Error
	return parts, err
}

// IsPaidInParts reports whether a part of what a portion is of is a payer's, on a draft or
// billed.
func IsPaidInParts(tx *DB, p *Portion) (is bool, err error) {
	err = tx.gorm.Raw(`SELECT EXISTS (SELECT 1 FROM portions WHERE source = ? AND source_id = ? AND removed = FALSE
		AND billing IN ('reserved', 'billed') AND payer_id IS NOT NULL)`, p.Source, p.SourceID).Scan(&is).Error
	return is, err
}

// NextPart is the number of a source's next part.
func NextPart(tx *DB, p *Portion) (next int, err error) {
	err = tx.gorm.Raw("SELECT MAX(part) + 1 FROM portions WHERE source = ? AND source_id = ?", p.Source, p.SourceID).Scan(&next).Error
	return next, err
}

// DecisionsOnInvoice reads the decisions that stand on portions of an invoice, the
// latest last.
func DecisionsOnInvoice(tx *DB, invoiceID int64) ([]StandingDecision, error) {
	rows := []StandingDecision{}
	err := tx.gorm.Raw(`SELECT d.*, p.source, p.source_id, a.at, COALESCE(w.name, '') AS person, a.reason, TRUE AS latest
		FROM invoice_lines l JOIN portions p ON p.line_id = l.id JOIN decisions d ON d.portion_id = p.id AND NOT d.undone
		JOIN acts a ON a.id = d.act_id LEFT JOIN people w ON w.id = a.person_id WHERE l.invoice_id = ?
			ORDER BY d.id`, invoiceID).Scan(&rows).Error
	return rows, err
}
