package store

// ApprovalRow is what a lead was asked and said, with names.
type ApprovalRow struct {
	Approval
	Lead, By string
}

// ApprovalsOf reads what the leads of a draft were asked, and said.
func ApprovalsOf(tx *DB, invoiceID int64) ([]ApprovalRow, error) {
	rows := []ApprovalRow{}
	err := tx.gorm.Raw(`SELECT a.*, l.name AS lead, COALESCE(b.name, '') AS "by" FROM approvals a JOIN people l ON l.id = a.lead_id
		LEFT JOIN people b ON b.id = a.by_id AND a.by_id <> a.lead_id
		WHERE a.invoice_id = ? ORDER BY l.name`, invoiceID).Scan(&rows).Error
	return rows, err
}

// KeepApproval notes what a lead was asked, or said.
func KeepApproval(tx *DB, a Approval) error {
	return tx.gorm.Exec(`INSERT INTO main.approvals (invoice_id, lead_id, state, note, by_id, at) VALUES (?, ?, ?, ?, ?, ?)
		ON CONFLICT (invoice_id, lead_id) DO UPDATE SET state = excluded.state, note = excluded.note, by_id = excluded.by_id,
			at = excluded.at`,
		a.InvoiceID, a.LeadID, a.State, a.Note, a.ByID, a.At).Error
}

// ForgetApprovals forgets what was said about a draft that has changed; a note with
// which it was sent back stays until it is asked again.
func ForgetApprovals(tx *DB, invoiceID int64) error {
	return tx.gorm.Exec("DELETE FROM main.approvals WHERE invoice_id = ? AND state <> 'sent_back'", invoiceID).Error
}

// LeadsOf are the leads of the engagements on an invoice.
func LeadsOf(tx *DB, invoiceID int64) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw("SELECT DISTINCT e.lead_id FROM invoice_engagements x JOIN engagements e ON e.id = x.engagement_id WHERE "+
		"x.invoice_id = ? ORDER BY 1", invoiceID).Scan(&ids).Error
	return ids, err
}
