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
	Initials                    string
	Billing                     wip.Billing
	InvoiceID                   int64
	NumberText                  string
}

const entryRows = `SELECT t.*, e.name AS engagement, c.name AS client, s.name AS service, w.initials, p.billing,
		COALESCE(i.id, 0) AS invoice_id, COALESCE(i.number_text, '') AS number_text
	FROM time_entries t JOIN engagements e ON e.id = t.engagement_id JOIN clients c ON c.id = e.client_id
	JOIN services s ON s.id = t.service_id JOIN people w ON w.id = t.person_id
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
