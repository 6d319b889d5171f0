package store

import (
	"dorvet/core/invoice"
)

// SetMember makes an engagement a member of a run, or changes what of it is taken.
func SetMember(tx *DB, m RunMember) error {
	return tx.gorm.Exec(`INSERT INTO main.run_members (run_id, engagement_id, time, expenses, charges) VALUES (?, ?, ?, ?, ?)
		ON CONFLICT (run_id, engagement_id) DO UPDATE SET time = time OR excluded.time, expenses = expenses
			OR excluded.expenses, charges = charges OR excluded.charges`,
		m.RunID, m.EngagementID, m.Time, m.Expenses, m.Charges).Error
}

// MembersOf reads the members of a run.
func MembersOf(tx *DB, runID int64) ([]RunMember, error) {
	rows := []RunMember{}
	err := tx.gorm.Order("engagement_id").Find(&rows, "run_id = ?", runID).Error
	return rows, err
}

// LeaveRun takes the engagements of an invoice out of its run.
func LeaveRun(tx *DB, runID, invoiceID int64) error {
	return tx.gorm.Exec(`DELETE FROM main.run_members WHERE run_id = ? AND engagement_id IN (SELECT engagement_id FROM invoice_engagements
		WHERE invoice_id = ?)
		AND engagement_id NOT IN (SELECT x.engagement_id FROM invoice_engagements x JOIN invoices i ON i.id = x.invoice_id
			WHERE i.run_id = ? AND i.id <> ? AND i.state <> 'deleted')`, runID, invoiceID, runID, invoiceID).Error
}

// MemberRow is a member of a run with the invoice that it is on, if there is one.
type MemberRow struct {
	EngagementID, ClientID, InvoiceID int64
	Engagement, Client, NumberText    string
	State                             invoice.State
}

// MemberRows reads the members of a run, by client, each with its invoices of the run.
func MemberRows(tx *DB, runID int64) ([]MemberRow, error) {
	rows := []MemberRow{}
	err := tx.gorm.Raw(`SELECT m.engagement_id, e.name AS engagement, c.id AS client_id, c.name AS client, COALESCE(i.id, 0) AS invoice_id,
			COALESCE(i.number_text, '') AS number_text, COALESCE(i.state, '') AS state
		FROM run_members m JOIN engagements e ON e.id = m.engagement_id JOIN clients c ON c.id = e.client_id
		LEFT JOIN invoices i ON i.run_id = m.run_id AND i.state <> 'deleted'
			AND EXISTS (SELECT 1 FROM invoice_engagements x WHERE x.invoice_id = i.id AND x.engagement_id = m.engagement_id)
		WHERE m.run_id = ? ORDER BY c.name, e.name, e.id, i.id`, runID).Scan(&rows).Error
	return rows, err
}

// DropMember takes an engagement out of a run.
func DropMember(tx *DB, runID, engagementID int64) error {
	return tx.gorm.Exec("DELETE FROM main.run_members WHERE run_id = ? AND engagement_id = ?", runID, engagementID).Error
}

// RunRow is a run with how many invoices it has, and how far they are.
type RunRow struct {
	BillingRun
	Person                                       string
	Drafts, Asked, Approved, Issued, Engagements int
	Numbered                                     int // drafts that were issued before, and keep their number
	NetFirm                                      int64
}

// Runs reads the runs that are not deleted, the latest first.
func Runs(tx *DB) ([]RunRow, error) { return runsWith(tx, 0) }

// RunByID reads one run, or ErrNotFound.
func RunByID(tx *DB, id int64) (*RunRow, error) {
	rows, err := runsWith(tx, id)
	if err == nil && len(rows) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	return &rows[0], nil
}

func runsWith(tx *DB, id int64) ([]RunRow, error) {
	rows := []RunRow{}
	err := tx.gorm.Raw(`SELECT r.*, COALESCE(w.name, '') AS person, COALESCE(SUM(i.state = 'draft'), 0) AS drafts,
		COALESCE(SUM(i.state = 'in_approval'), 0) AS asked,
			COALESCE(SUM(i.state = 'approved'), 0) AS approved, COALESCE(SUM(i.state IN ('issued', 'part_paid', 'paid')), 0) AS issued,
				COALESCE(SUM(i.net_firm), 0) AS net_firm,
			COALESCE(SUM(i.state IN ('draft', 'in_approval', 'approved') AND i.number IS NOT NULL), 0) AS numbered,
			(SELECT COUNT(*) FROM run_members m WHERE m.run_id = r.id) AS engagements
		FROM billing_runs r LEFT JOIN people w ON w.id = r.person_id LEFT JOIN invoices i ON i.run_id = r.id AND i.state <> 'deleted'
		WHERE NOT r.deleted AND (@id = 0 OR r.id = @id) GROUP BY r.id ORDER BY r.id DESC`, map[string]any{"id": id}).Scan(&rows).Error
	return rows, err
}

// DraftsOfRun reads what of a run has still to be issued, in the order of its
// making.
func DraftsOfRun(tx *DB, runID int64) ([]Invoice, error) {
	rows := []Invoice{}
	err := tx.gorm.Order("id").Find(&rows, "run_id = ? AND state IN ?", runID,
		[]invoice.State{invoice.Draft, invoice.InApproval, invoice.Approved}).Error
	return rows, err
}
