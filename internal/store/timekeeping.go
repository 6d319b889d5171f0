package store

import (
	"dorvet/core/day"
	"dorvet/core/wip"

	"gorm.io/gorm"
)

// EntryRow is a time entry with the names around it and where it stands.
type EntryRow struct {
	TimeEntry
	Engagement, Client, Service string
	Phase                       string
	Initials                    string
	Billing                     wip.Billing
	InvoiceID                   int64
	NumberText                  string
}

const entryRows = `SELECT t.*, e.name AS engagement, c.name AS client, s.name AS service, COALESCE(f.name, '') AS phase, w.initials, p.billing,
		COALESCE(i.id, 0) AS invoice_id, COALESCE(i.number_text, '') AS number_text
	FROM time_entries t JOIN engagements e ON e.id = t.engagement_id JOIN clients c ON c.id = e.client_id
	JOIN services s ON s.id = t.service_id LEFT JOIN phases f ON f.id = t.phase_id JOIN people w ON w.id = t.person_id
	JOIN portions p ON p.source = 'time' AND p.source_id = t.id
	LEFT JOIN invoice_lines l ON l.id = p.line_id LEFT JOIN invoices i ON i.id = l.invoice_id
	WHERE NOT t.removed `

// EntriesOf reads a person's entries of some days, oldest first.
func EntriesOf(tx *gorm.DB, personID int64, from, to day.Day) ([]EntryRow, error) {
	rows := []EntryRow{}
	err := tx.Raw(entryRows+"AND t.person_id = ? AND t.day BETWEEN ? AND ? ORDER BY c.name, e.name, s.name, t.day, t.id",
		personID, from.String(), to.String()).Scan(&rows).Error
	return rows, err
}

// EntryByID reads one entry, or ErrNotFound.
func EntryByID(tx *gorm.DB, id int64) (*EntryRow, error) {
	rows := []EntryRow{}
	err := tx.Raw(entryRows+"AND t.id = ?", id).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	return &rows[0], nil
}

// PortionOf is the one portion of a time entry.
func PortionOf(tx *gorm.DB, entryID int64) (*Portion, error) {
	portion := new(Portion)
	err := tx.First(portion, "source = 'time' AND source_id = ?", entryID).Error
	return portion, err
}

// WorkedMinutes sums worked minutes of some days by person.
func WorkedMinutes(tx *gorm.DB, from, to day.Day) (map[int64]int, error) {
	rows := []struct {
		PersonID int64
		Minutes  int
	}{}
	err := tx.Raw(`SELECT person_id, SUM(worked_minutes) AS minutes FROM time_entries
		WHERE NOT removed AND day BETWEEN ? AND ? GROUP BY person_id`, from.String(), to.String()).Scan(&rows).Error
	sums := map[int64]int{}
	for _, row := range rows {
		sums[row.PersonID] = row.Minutes
	}
	return sums, err
}

// RecordersOf are the people who may record on an engagement; none: everyone.
func RecordersOf(tx *gorm.DB, engagementID int64) ([]int64, error) {
	ids := []int64{}
	err := tx.Raw("SELECT person_id FROM engagement_people WHERE engagement_id = ?", engagementID).Scan(&ids).Error
	return ids, err
}

// UnbilledEntries reads the entries of an engagement and some days that are on
// no draft and not billed, oldest first.
func UnbilledEntries(tx *gorm.DB, engagementID int64, from, to day.Day) ([]EntryRow, error) {
	rows := []EntryRow{}
	err := tx.Raw(entryRows+"AND t.engagement_id = ? AND t.day BETWEEN ? AND ? AND p.billing IN ('unbilled', 'not_billable') ORDER BY t.day, t.id",
		engagementID, from.String(), to.String()).Scan(&rows).Error
	return rows, err
}

// Revalued is a portion that an act valued anew; Since counts its movements
// after that act.
type Revalued struct {
	PortionID, EngagementID int64
	Since                   int
	Billing                 wip.Billing
}

// RevaluedBy reads the portions that an act valued anew.
func RevaluedBy(tx *gorm.DB, actID int64, kind string) ([]Revalued, error) {
	rows := []Revalued{}
	err := tx.Raw(`SELECT p.id AS portion_id, p.engagement_id, p.billing,
			(SELECT COUNT(*) FROM work_movements n WHERE n.portion_id = p.id AND n.act_id > @act) AS since
		FROM portions p WHERE p.id IN (SELECT portion_id FROM work_movements WHERE act_id = @act AND kind = @kind)`,
		map[string]any{"act": actID, "kind": kind}).Scan(&rows).Error
	return rows, err
}
