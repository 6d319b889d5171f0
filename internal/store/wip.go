package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/wip"

	"gorm.io/gorm"
)

// UnbilledFilter says which unbilled work is meant; zero values ask for all.
type UnbilledFilter struct {
	UpTo          day.Day
	Sight         Sight
	ClientID      int64
	EngagementIDs []int64
}

// where is the filter as conditions, over portions p and engagements e. Time
// under a fixed or recurring fee is covered by the fee and not billed by itself.
func (f UnbilledFilter) where(tx *gorm.DB) *gorm.DB {
	q := tx.Table("portions p").Joins("JOIN engagements e ON e.id = p.engagement_id").
		Where("p.billing = 'unbilled' AND p.removed = FALSE AND p.worked_day <= ?", f.UpTo.String()).
		Where("e.arrangement NOT IN ('fixed', 'recurring')")
	if f.Sight.Limited() {
		q = q.Where(inSight, f.Sight.Arguments())
	}
	if f.ClientID != 0 {
		q = q.Where("e.client_id = ?", f.ClientID)
	}
	if f.EngagementIDs != nil {
		q = q.Where("p.engagement_id IN ?", f.EngagementIDs)
	}
	return q
}

// UnbilledDay is the unbilled work of one engagement and day, summed.
type UnbilledDay struct {
	EngagementID          int64
	WorkedDay             day.Day `gorm:"serializer:day"`
	Minutes               int
	Agreed, Standard      int64
	AtNoCharge            int64 // of Standard
	Entries, WithoutRates int
}

// UnbilledDays reads unbilled work by engagement and day.
func UnbilledDays(tx *gorm.DB, f UnbilledFilter) ([]UnbilledDay, error) {
	rows := []UnbilledDay{}
	err := f.where(tx).Select(`p.engagement_id, p.worked_day, SUM(p.minutes) AS minutes, SUM(p.agreed) AS agreed,
		SUM(p.standard) AS standard, SUM(CASE WHEN p.treatment = 'no_charge' THEN p.standard ELSE 0 END) AS at_no_charge, COUNT(*) AS entries, SUM(p.without_rate) AS without_rates`).
		Group("p.engagement_id, p.worked_day").Order("p.engagement_id, p.worked_day").Scan(&rows).Error
	return rows, err
}

// EngagementRow is an engagement with the names around it.
type EngagementRow struct {
	Engagement
	Client, ClientCode, Lead string
	Numbered                 int64 // the series in which its invoices are numbered
	Combined                 bool
	LastBilled               day.Day `gorm:"serializer:day"`
}

// EngagementRows reads engagements by client and name; nil asks for all.
func EngagementRows(tx *gorm.DB, ids []int64) ([]EngagementRow, error) {
	q := engagementRows(tx)
	if ids != nil {
		q = q.Where("e.id IN ?", ids)
	}
	rows := []EngagementRow{}
	err := q.Scan(&rows).Error
	return rows, err
}

// EngagementRowsOf reads the engagements of a client that may be seen.
func EngagementRowsOf(tx *gorm.DB, clientID int64, sight Sight) ([]EngagementRow, error) {
	q := engagementRows(tx).Where("e.client_id = ?", clientID).Where(inSight, sight.Arguments())
	rows := []EngagementRow{}
	err := q.Scan(&rows).Error
	return rows, err
}

func engagementRows(tx *gorm.DB) *gorm.DB {
	return tx.Table("engagements e").Select(`e.*, c.name AS client, c.code AS client_code, w.name AS lead,
			COALESCE((SELECT v.value FROM profile_values v WHERE v.name = 'combined' AND (v.scope = 'engagement' AND v.subject_id = e.id
				OR v.scope = 'client' AND v.subject_id = c.id OR v.scope = 'firm')
				ORDER BY CASE v.scope WHEN 'engagement' THEN 1 WHEN 'client' THEN 2 ELSE 3 END LIMIT 1), 'yes') = 'yes' AS combined,
			COALESCE(e.series_id, (SELECT MIN(s.id) FROM series s WHERE s.entity_id = e.entity_id AND s.kind = 'invoice'), 0) AS numbered,
			(SELECT MAX(i.dated) FROM invoice_engagements x JOIN invoices i ON i.id = x.invoice_id
				WHERE x.engagement_id = e.id AND i.state IN ('issued', 'part_paid', 'paid')) AS last_billed`).
		Joins("JOIN clients c ON c.id = e.client_id JOIN people w ON w.id = e.lead_id").Order("c.name, e.name, e.id")
}

// UnbilledPortions reads unbilled portions of time with what a line or a list
// needs of their entries, oldest first.
func UnbilledPortions(tx *gorm.DB, f UnbilledFilter) ([]PortionRow, error) {
	rows := []PortionRow{}
	err := f.where(tx).Select(portionColumns).Joins(portionJoins).Order("p.worked_day, p.id").Scan(&rows).Error
	return rows, err
}

// PortionRow is a portion of time with its entry's words and rate.
type PortionRow struct {
	Portion
	EntryID     int64
	PersonID    int64
	Person      string
	Initials    string
	Service     string
	Text        string
	Valued      wip.Valued `gorm:"serializer:json"`
	LineText    string
	LineVersion int64
}

const (
	portionColumns = `p.*, t.id AS entry_id, t.person_id, w.name AS person, w.initials, s.name AS service, t.text, t.valued`
	portionJoins   = `JOIN time_entries t ON t.id = p.source_id AND p.source = 'time'
		JOIN people w ON w.id = t.person_id JOIN services s ON s.id = t.service_id`
)

// PortionsOn reads the portions on the lines of an invoice.
func PortionsOn(tx *gorm.DB, invoiceID int64) ([]PortionRow, error) {
	rows := []PortionRow{}
	err := tx.Table("portions p").Select(portionColumns+", l.text AS line_text, l.version AS line_version").Joins(portionJoins).
		Joins("JOIN invoice_lines l ON l.id = p.line_id").Where("l.invoice_id = ?", invoiceID).
		Order("p.worked_day, p.id").Scan(&rows).Error
	return rows, err
}

// OpenSum is the unreserved, unbilled work in one currency.
type OpenSum struct {
	Currency money.Currency
	Agreed   int64
	Oldest   day.Day `gorm:"serializer:day"`
}

// UnbilledSums reads all unbilled work by currency.
func UnbilledSums(tx *gorm.DB, f UnbilledFilter) ([]OpenSum, error) {
	rows := []OpenSum{}
	err := f.where(tx).Select("p.currency, SUM(p.agreed) AS agreed, MIN(p.worked_day) AS oldest").Group("p.currency").Scan(&rows).Error
	return rows, err
}
