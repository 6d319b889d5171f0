package store

import "dorvet/core/day"

// DueCharges reads the charges of engagements (nil: of all) that are planned,
// automatic, and to be billed on a day or before it.
func DueCharges(tx *DB, engagementIDs []int64, upTo day.Day) ([]Charge, error) {
	charges := []Charge{}
	q := tx.gorm.Where(`state = 'planned' AND kind <> 'deposit' AND NOT by_hand AND NOT paused
		AND (bill_day <> '' AND bill_day <= ? OR reached_day <> '' AND reached_day <= ?)`, upTo.String(), upTo.String())
	if engagementIDs != nil {
		q = q.Where("engagement_id IN ?", many(engagementIDs))
	}
	err := q.Order("engagement_id, bill_day, id").Find(&charges).Error
	return charges, err
}

// PlannedCharges reads every charge of engagements that is not billed or on a draft.
func PlannedCharges(tx *DB, engagementIDs []int64) ([]Charge, error) {
	charges := []Charge{}
	err := tx.gorm.Order("CASE WHEN bill_day = '' THEN 1 ELSE 0 END, bill_day, id").Find(&charges,
		"engagement_id IN ? AND state = 'planned'",
		many(engagementIDs)).Error
	return charges, err
}

// ReserveCharge marks a planned charge as on a draft; false says that it is not
// planned any more.
func ReserveCharge(tx *DB, id int64) (bool, error) {
	result := tx.gorm.Exec("UPDATE main.charges SET state = 'reserved', version = version + 1 WHERE id = ? AND state = 'planned'", id)
	return result.RowsAffected == 1, result.Error
}

// PlanLines reads the lines that were agreed for engagements, by engagement.
func PlanLines(tx *DB, engagementIDs []int64) (map[int64][]PlanLine, error) {
	lines, of := []PlanLine{}, map[int64][]PlanLine{}
	err := tx.gorm.Order("position").Find(&lines, "engagement_id IN ?", many(engagementIDs)).Error
	for _, l := range lines {
		of[l.EngagementID] = append(of[l.EngagementID], l)
	}
	return of, err
}

// RecurringCharges reads the recurring charges of engagements, in any state, by
// engagement.
func RecurringCharges(tx *DB, engagementIDs []int64) (map[int64][]Charge, error) {
	charges, of := []Charge{}, map[int64][]Charge{}
	err := tx.gorm.Order("from_day, id").Find(&charges, "engagement_id IN ? AND kind = 'recurring'", many(engagementIDs)).Error
	for _, c := range charges {
		of[c.EngagementID] = append(of[c.EngagementID], c)
	}
	return of, err
}

// GoingOn reads the engagements whose charges can go on without an end: active
// ones with a recurring fee, or lines that were agreed. Nil asks for all.
func GoingOn(tx *DB, engagementIDs []int64) ([]Engagement, error) {
	rows := []Engagement{}
	q := tx.gorm.Where("active AND (arrangement = 'recurring' OR proposal_id IS NOT NULL)")
	if engagementIDs != nil {
		q = q.Where("id IN ?", many(engagementIDs))
	}
	err := q.Order("id").Find(&rows).Error
	return rows, err
}

// PlanCharge makes a charge planned again.
func PlanCharge(tx *DB, id int64) error {
	return tx.gorm.Exec("UPDATE main.charges SET state = 'planned', version = version + 1 WHERE id = ?", id).Error
}

// Returning is what is still planned of an invoice that comes back.
type Returning struct {
	Bills      int
	Next, Last day.Day `gorm:"serializer:day"`
}

// ReturningOf reads what is still planned of an invoice that comes back.
func ReturningOf(tx *DB, invoiceID int64) (*Returning, error) {
	r := new(Returning)
	err := tx.gorm.Raw(`SELECT COUNT(DISTINCT bill_day) AS bills, COALESCE(MIN(bill_day), '') AS next, COALESCE(MAX(bill_day), '') AS last
		FROM charges WHERE like_id = ? AND state = 'planned'`, invoiceID).Scan(r).Error
	return r, err
}

// DropReturning takes away what is still planned of an invoice that comes back.
func DropReturning(tx *DB, invoiceID int64) error {
	return tx.gorm.Exec("DELETE FROM main.charges WHERE like_id = ? AND state = 'planned'", invoiceID).Error
}
