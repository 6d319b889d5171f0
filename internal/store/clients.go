package store

import (
	"dorvet/core/day"
)

// ClientHead is a client in the list of clients.
type ClientHead struct {
	ID                  int64
	Code, Name, Status  string
	Industry            string
	Warns, Active       bool
	Onboarded           bool
	Responsible         string // initials
	ResponsibleName     string
	OpenSteps, AllSteps int
	Engagements         int
	LastBilled          day.Day `gorm:"serializer:day"`
}

// ClientHeads reads clients with what surrounds them; nil asks for all that may
// be seen.
func ClientHeads(tx *DB, clientIDs []int64) ([]ClientHead, error) {
	rows := []ClientHead{}
	err := tx.gorm.Raw(`SELECT c.id, c.code, c.name, c.industry, c.active, c.onboarded, COALESCE(s.name, '') AS status, COALESCE(s.warns,
		FALSE) AS warns,
		COALESCE(p.initials, '') AS responsible, COALESCE(p.name, '') AS responsible_name,
			COALESCE(t.open_steps, 0) AS open_steps, COALESCE(t.all_steps, 0) AS all_steps, COALESCE(g.engagements, 0) AS engagements,
				COALESCE((SELECT MAX(i.dated) FROM invoices i WHERE i.client_id = c.id AND i.kind = 'invoice'
					AND i.state IN ('issued', 'part_paid', 'paid')), '') AS last_billed
		FROM clients c LEFT JOIN client_statuses s ON s.id = c.status_id LEFT JOIN people p ON p.id = c.responsible_id
		LEFT JOIN (SELECT client_id, SUM(done_day = '') AS open_steps, COUNT(*) AS all_steps FROM client_steps
			WHERE TRUE`+ofClients(clientIDs, "client_id")+` GROUP BY client_id) t ON t.client_id = c.id
		LEFT JOIN (SELECT client_id, COUNT(*) AS engagements FROM engagements WHERE active`+ofClients(clientIDs, "client_id")+`
			GROUP BY client_id) g ON g.client_id = c.id
		WHERE TRUE`+ofClients(clientIDs, "c.id")+` AND (@all OR c.responsible_id IN @leads OR c.second_id IN @leads OR c.id IN (SELECT client_id
			FROM engagements WHERE lead_id IN @leads))`,
		tx.scoped(map[string]any{"clients": many(clientIDs)})).Scan(&rows).Error
	return rows, err
}

// EngagementSum is what was done on an engagement, or on a phase of it: minutes
// worked, agreed value, and how much of that is billed.
type EngagementSum struct {
	EngagementID, PhaseID   int64
	ParentID                int64 // of the phase, if it is a task
	Minutes, Agreed, Billed int64
}

// EngagementSums sums the time of a client's engagements.
func EngagementSums(tx *DB, clientID int64) ([]EngagementSum, error) {
	rows := []EngagementSum{}
	err := tx.gorm.Raw(engagementSums+" WHERE t.removed = FALSE AND t.engagement_id IN (SELECT id FROM engagements WHERE client_id = ?) "+
		"GROUP BY t.engagement_id", clientID).Scan(&rows).Error
	return rows, err
}

// Entries first, whatever the statistics: those of an engagement are few, portions many.
const engagementSums = `SELECT t.engagement_id, COALESCE(t.phase_id, 0) AS phase_id,
	COALESCE((SELECT f.parent_id FROM phases f WHERE f.id = t.phase_id), 0) AS parent_id, SUM(CASE WHEN p.part = 0 THEN t.worked_minutes
	ELSE 0 END) AS minutes, SUM(p.agreed) AS agreed,
	SUM(CASE WHEN p.billing = 'billed' THEN p.agreed ELSE 0 END) AS billed
	FROM time_entries t CROSS JOIN portions p ON p.source = 'time' AND p.source_id = t.id AND p.removed = FALSE`

// PersonSum is what somebody has done on an engagement.
type PersonSum struct {
	Name            string
	Minutes, Agreed int64
}

// WorthByPerson reads the time of an engagement and its agreed value, person by person.
func WorthByPerson(tx *DB, engagementID int64) ([]PersonSum, error) {
	rows := []PersonSum{}
	err := tx.gorm.Raw(`SELECT w.name, s.minutes, s.agreed FROM (SELECT t.person_id,
			SUM(CASE WHEN p.part = 0 THEN t.worked_minutes ELSE 0 END) AS minutes,
			SUM(p.agreed) AS agreed
		FROM time_entries t JOIN portions p ON p.source = 'time' AND p.source_id = t.id AND p.removed = FALSE
		WHERE t.removed = FALSE AND t.engagement_id = ? GROUP BY t.person_id) s
		JOIN people w ON w.id = s.person_id ORDER BY s.agreed DESC, w.name`,
		engagementID).Scan(&rows).Error
	return rows, err
}

// PhaseSums sums the time of an engagement by phase and task, each by itself; 0 is time on none.
func PhaseSums(tx *DB, engagementID int64) ([]EngagementSum, error) {
	rows := []EngagementSum{}
	err := tx.gorm.Raw(engagementSums+" WHERE t.removed = FALSE AND t.engagement_id = ? GROUP BY COALESCE(t.phase_id, 0)",
		engagementID).Scan(&rows).Error
	return rows, err
}

// LooksAfter names who is responsible for a client, and who brought them in.
func LooksAfter(tx *DB, clientID int64) (responsible, introduced string, err error) {
	row := struct{ Responsible, Introduced string }{}
	err = tx.gorm.Raw(`SELECT COALESCE(r.name, '') AS responsible, COALESCE(o.name, '') AS introduced FROM clients c
		LEFT JOIN people r ON r.id = c.responsible_id LEFT JOIN people o ON o.id = c.originator_id
			WHERE c.id = ?`, clientID).Scan(&row).Error
	return row.Responsible, row.Introduced, err
}

// ClientOfName is an active client of a name, in whatever case, but for one; nil where there is none.
func ClientOfName(tx *DB, name string, butID int64) (*Client, error) {
	found := []Client{}
	err := tx.gorm.Raw("SELECT * FROM clients WHERE LOWER(name) = LOWER(?) AND active AND id <> ? ORDER BY id LIMIT 1", name, butID).
		Scan(&found).Error
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// ClientsNamed are clients with a tax number, compact and in capitals, or a name on
// invoices; nothing finds none.
func ClientsNamed(tx *DB, taxNumber, invoiceName string) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw(`SELECT id FROM clients WHERE @number <> '' AND REPLACE(REPLACE(REPLACE(UPPER(tax_number), ' ', ''), '.', ''), '-',
		'') = @number OR @name <> '' AND LOWER(invoice_name) = LOWER(@name)`,
		map[string]any{"number": taxNumber, "name": invoiceName}).Scan(&ids).Error
	return ids, err
}
