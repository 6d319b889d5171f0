package store

import (
	"dorvet/core/day"
	"dorvet/core/wip"
)

// EntryRow is a time entry with the names around it and where it stands.
type EntryRow struct {
	TimeEntry
	Engagement, Client, Service string
	EngagementCode, ServiceCode string
	Arrangement                 string
	LeadID, EntityID, ClientID  int64 // of the engagement
	Phase                       string
	Initials, Person            string
	Billing                     wip.Billing
	Hold                        wip.Hold
	HoldUntil                   day.Day `gorm:"serializer:day"`
	InvoiceID                   int64
	NumberText                  string
	Files                       int
	Decided                     bool // divided, written down or up, or put at no charge in the review of work
}

const entryRows = `SELECT t.*, e.name AS engagement, e.code AS engagement_code, s.code AS service_code, e.arrangement, e.lead_id,
	e.entity_id, e.client_id, c.name AS client, s.name AS service, COALESCE(f.name, '') AS phase,
		w.initials, w.name AS person, p.billing, p.hold, p.hold_until, COALESCE(i.id, 0) AS invoice_id, COALESCE(i.number_text,
			'') AS number_text,
		EXISTS (SELECT 1 FROM portions q WHERE q.source = 'time' AND q.source_id = t.id AND q.removed = FALSE AND (q.part > 0
			OR q.adjusted <> 0
			OR q.own_rate IS NOT NULL OR q.treatment <> t.treatment)) AS decided,
		(SELECT COUNT(*) FROM source_files g WHERE g.source = 'time' AND g.source_id = t.id) AS files
	FROM time_entries t JOIN engagements e ON e.id = t.engagement_id JOIN clients c ON c.id = e.client_id
	JOIN services s ON s.id = t.service_id LEFT JOIN phases f ON f.id = t.phase_id JOIN people w ON w.id = t.person_id
	JOIN portions p ON p.source = 'time' AND p.source_id = t.id AND p.part = 0
	LEFT JOIN invoice_lines l ON l.id = p.line_id LEFT JOIN invoices i ON i.id = l.invoice_id
	WHERE t.removed = FALSE `

// EntriesOf reads a person's entries of some days, oldest first.
func EntriesOf(tx *DB, personID int64, from, to day.Day) ([]EntryRow, error) {
	rows := []EntryRow{}
	err := tx.gorm.Raw(entryRows+"AND t.person_id = ? AND t.day BETWEEN ? AND ? ORDER BY c.name, e.name, s.name, t.day, t.id",
		personID, from.String(), to.String()).Scan(&rows).Error
	return rows, err
}

// EntryByID reads one entry, or ErrNotFound.
func EntryByID(tx *DB, id int64) (*EntryRow, error) {
	rows := []EntryRow{}
	err := tx.gorm.Raw(entryRows+"AND t.id = ?", id).Scan(&rows).Error
	if err == nil && len(rows) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	return &rows[0], nil
}

// EntriesByID reads entries by their numbers, oldest first.
func EntriesByID(tx *DB, ids []int64) ([]EntryRow, error) {
	rows := []EntryRow{}
	err := tx.gorm.Raw(entryRows+"AND t.id IN ? ORDER BY t.day, t.id", many(ids)).Scan(&rows).Error
	return rows, err
}

// PortionOf is the portion of a time entry: the first part of one that is divided,
// which stands for all of it where entries are listed.
func PortionOf(tx *DB, entryID int64) (*Portion, error) {
	return portionOf(tx, "time", entryID)
}

// PortionOfExpense is the one portion of an expense on an engagement.
func PortionOfExpense(tx *DB, expenseID int64) (*Portion, error) {
	return portionOf(tx, "expense", expenseID)
}

// RemovedPortionOf is the portion of a time entry that was removed.
func RemovedPortionOf(tx *DB, entryID int64) (*Portion, error) {
	portion := new(Portion)
	err := tx.gorm.First(portion, "source = 'time' AND source_id = ? AND removed = TRUE AND part = 0", entryID).Error
	return portion, err
}

func portionOf(tx *DB, source string, id int64) (*Portion, error) {
	portion := new(Portion)
	err := tx.gorm.First(portion, "source = ? AND source_id = ? AND removed = FALSE AND part = 0", source, id).Error
	return portion, err
}

// RecordersOf are the people who may record on an engagement; none: everyone.
func RecordersOf(tx *DB, engagementID int64) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw("SELECT person_id FROM engagement_people WHERE engagement_id = ?", engagementID).Scan(&ids).Error
	return ids, err
}

// UnbilledEntries reads the entries of an engagement and some days that are on
// no draft and not billed, and about which nothing was decided, oldest first.
func UnbilledEntries(tx *DB, engagementID int64, from, to day.Day) ([]EntryRow, error) {
	rows := []EntryRow{}
	err := tx.gorm.Raw(entryRows+"AND t.engagement_id = ? AND t.day BETWEEN ? AND ? AND p.billing IN ('unbilled', 'not_billable') AND NOT "+
		"decided ORDER BY t.day, t.id",
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
func RevaluedBy(tx *DB, actID int64, kind string) ([]Revalued, error) {
	rows := []Revalued{}
	err := tx.gorm.Raw(`SELECT p.id AS portion_id, p.engagement_id, p.billing,
			(SELECT COUNT(*) FROM work_movements n WHERE n.portion_id = p.id AND n.act_id > @act) AS since
		FROM portions p WHERE p.id IN (SELECT portion_id FROM work_movements WHERE act_id = @act AND kind = @kind)`,
		map[string]any{"act": actID, "kind": kind}).Scan(&rows).Error
	return rows, err
}

// WorkedDay is what a person worked on a day, on engagements that may be seen,
// and how many entries of it wait for approval.
type WorkedDay struct {
	PersonID           int64
	Day                day.Day `gorm:"serializer:day"`
	Minutes, Submitted int
}

// WorkedDays sums worked minutes of some days by person and day.
func WorkedDays(tx *DB, from, to day.Day) ([]WorkedDay, error) {
	rows := []WorkedDay{}
	err := tx.gorm.Raw(`SELECT t.person_id, t.day, SUM(t.worked_minutes) AS minutes, SUM(t.approval = 'submitted') AS submitted
		FROM time_entries t WHERE t.removed = FALSE AND t.day BETWEEN @from AND @to`+ledBy(tx, "t.engagement_id")+`
		GROUP BY t.person_id, t.day`,
		tx.scoped(map[string]any{"from": from.String(), "to": to.String()})).Scan(&rows).Error
	return rows, err
}

// Workforce reads people by name: who they are, and how long they work.
func Workforce(tx *DB) ([]Person, error) {
	people := []Person{}
	err := tx.gorm.Select("id", "name", "initials", "weekly_minutes", "office_id", "active").Order("name").Find(&people).Error
	return people, err
}

// SheetOf is where a person's week stands.
func SheetOf(tx *DB, personID int64, monday day.Day) (*WeekSheet, error) {
	sheets := []WeekSheet{}
	err := tx.gorm.Limit(1).Find(&sheets, "person_id = ? AND monday = ?", personID, monday.String()).Error
	if err != nil || len(sheets) == 0 {
		return &WeekSheet{PersonID: personID, Monday: monday, State: "open"}, err
	}
	return &sheets[0], nil
}

// SheetsOf are the sheets of a week that are not just open.
func SheetsOf(tx *DB, monday day.Day) (map[int64]WeekSheet, error) {
	sheets := []WeekSheet{}
	err := tx.gorm.Find(&sheets, "monday = ?", monday.String()).Error
	byPerson := map[int64]WeekSheet{}
	for _, s := range sheets {
		byPerson[s.PersonID] = s
	}
	return byPerson, err
}

// SetApproval brings the entries of a person's week, on engagements that may be
// seen, from one approval to another.
func SetApproval(tx *DB, personID int64, monday day.Day, from []string, to string) error {
	return tx.gorm.Exec(`UPDATE main.time_entries SET approval = @to, version = version + 1
		WHERE person_id = @person AND day BETWEEN @from AND @until AND removed = FALSE AND approval IN @was
		AND (@all AND person_id = @me OR engagement_id IN (SELECT e.id FROM engagements e WHERE `+inSight+`))`,
		tx.scoped(map[string]any{"to": to, "me": tx.scope.PersonID, "person": personID, "from": monday.String(),
			"until": monday.AddDays(6).String(), "was": from})).Error
}

// Unapproved counts the entries of a person's week that are not approved, those beyond
// the scope too: a week is approved when all of it is.
func Unapproved(tx *DB, personID int64, monday day.Day) (int64, error) {
	return Count(tx, "SELECT COUNT(*) FROM main.time_entries WHERE person_id = ? AND day BETWEEN ? AND ? AND removed = FALSE AND "+
		"approval <> 'approved'",
		personID, monday.String(), monday.AddDays(6).String())
}

// SubmittedWeek counts entries of a week that wait for approval.
type SubmittedWeek struct {
	Monday  day.Day `gorm:"serializer:day"`
	Entries int
}

// SubmittedWeeks are the weeks with entries that wait for approval, on engagements
// that may be seen.
func SubmittedWeeks(tx *DB) ([]SubmittedWeek, error) {
	rows := []SubmittedWeek{}
	err := tx.gorm.Raw(`SELECT s.monday, COUNT(*) AS entries FROM week_sheets s
		JOIN time_entries t ON t.person_id = s.person_id AND t.day BETWEEN s.monday AND date(s.monday, '+6 days') AND t.removed = FALSE
			AND t.approval = 'submitted'
		JOIN engagements e ON e.id = t.engagement_id WHERE s.state = 'submitted'
			AND `+inSight+` GROUP BY s.monday ORDER BY s.monday`, tx.scoped(nil)).Scan(&rows).Error
	return rows, err
}

// LeadsOn are the leads of the engagements on which a person worked in a week.
func LeadsOn(tx *DB, personID int64, monday day.Day) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw(`SELECT DISTINCT e.lead_id FROM time_entries t JOIN engagements e ON e.id = t.engagement_id
		WHERE t.person_id = ? AND t.day BETWEEN ? AND ? AND t.removed = FALSE
			ORDER BY e.lead_id`, personID, monday.String(), monday.AddDays(6).String()).Scan(&ids).Error
	return ids, err
}

// FilesOf are what is attached to an entry or a purchase, in order.
func FilesOf(tx *DB, source string, id int64) ([]SourceFile, error) {
	files := []SourceFile{}
	err := tx.gorm.Order("position").Find(&files, "source = ? AND source_id = ?", source, id).Error
	return files, err
}

// SetFiles replaces what is attached.
func SetFiles(tx *DB, source string, id int64, files []SourceFile) error {
	if err := tx.gorm.Exec("DELETE FROM main.source_files WHERE source = ? AND source_id = ?", source, id).Error; err != nil {
		return err
	}
	for i := range files {
		files[i].Source, files[i].SourceID, files[i].Position = source, id, i+1
	}
	return Insert(tx, files)
}

// SuccessorOf is the entry or expense that came back from one, or 0.
func SuccessorOf(tx *DB, table string, id int64) (successor int64, err error) {
	err = tx.gorm.Raw("SELECT COALESCE(MAX(id), 0) FROM "+table+" WHERE returned_from = ? AND removed = FALSE", id).Scan(&successor).Error
	return successor, err
}

// ChangesOf are the entries that an act changed together, as they were.
func ChangesOf(tx *DB, actID int64) ([]ChangedTogether, error) {
	kept := []ChangedTogether{}
	err := tx.gorm.Order("entry_id").Find(&kept, "act_id = ?", actID).Error
	return kept, err
}

// ForgetChanges forgets what an act changed, once it is undone.
func ForgetChanges(tx *DB, actID int64) error {
	return tx.gorm.Exec("DELETE FROM main.changes_together WHERE act_id = ?", actID).Error
}

// PersonDay is a day of a person.
type PersonDay struct {
	PersonID int64
	Day      day.Day `gorm:"serializer:day"`
}

// ChargedOfDays are the minutes that the client of an engagement is charged for, by person and
// day, over all of the client's work but one entry.
func ChargedOfDays(tx *DB, engagementID int64, from, to day.Day, butID int64) (map[PersonDay]int, error) {
	rows := []struct {
		PersonDay
		Minutes int
	}{}
	err := tx.gorm.Raw(`SELECT t.person_id, t.day, SUM(t.billed_minutes) AS minutes FROM engagements e
		CROSS JOIN time_entries t ON t.engagement_id = e.id
		WHERE e.client_id = (SELECT client_id FROM engagements WHERE id = ?) AND t.day BETWEEN ? AND ? AND t.id <> ? AND t.removed = FALSE
			AND t.treatment IN ('billable', 'out_of_scope') GROUP BY t.person_id, t.day`, engagementID, from.String(), to.String(),
		butID).Scan(&rows).Error
	minutes := map[PersonDay]int{}
	for _, row := range rows {
		minutes[row.PersonDay] = row.Minutes
	}
	return minutes, err
}
