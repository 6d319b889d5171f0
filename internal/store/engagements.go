package store

import (
	"errors"
	"fmt"

	"dorvet/core/budget"
	"dorvet/core/day"
	"dorvet/core/money"
)

// StatusOf is the status of a client, or nil.
func StatusOf(tx *DB, clientID int64) (*ClientStatus, error) {
	found := []ClientStatus{}
	err := tx.gorm.Raw("SELECT s.* FROM client_statuses s JOIN clients c ON c.status_id = s.id WHERE c.id = ?", clientID).Scan(&found).Error
	if err != nil || len(found) == 0 {
		return nil, err
	}
	return &found[0], nil
}

// WarnedClients are the statuses that warn, by client.
func WarnedClients(tx *DB) (map[int64]string, error) {
	rows := []struct {
		ID   int64
		Name string
	}{}
	err := tx.gorm.Raw("SELECT c.id, s.name FROM clients c JOIN client_statuses s ON s.id = c.status_id WHERE s.warns").Scan(&rows).Error
	warned := map[int64]string{}
	for _, row := range rows {
		warned[row.ID] = row.Name
	}
	return warned, err
}

// YearlyOf reads the active engagements of a client that are made again each year.
func YearlyOf(tx *DB, clientID int64) ([]Engagement, error) {
	rows := []Engagement{}
	err := tx.gorm.Order("id").Find(&rows, "client_id = ? AND renews = 'year' AND active", clientID).Error
	return rows, err
}

// PhasesOf reads the phases of an engagement, each before its tasks.
func PhasesOf(tx *DB, engagementID int64) ([]Phase, error) {
	phases := []Phase{}
	err := tx.gorm.Order("COALESCE(parent_id, id), parent_id IS NOT NULL, id").Find(&phases, "engagement_id = ?", engagementID).Error
	return phases, err
}

// BudgetsOf reads the active budgets of engagements.
func BudgetsOf(tx *DB, engagementIDs []int64) ([]Budget, error) {
	budgets := []Budget{}
	err := tx.gorm.Order("engagement_id, phase_id, id").Find(&budgets, "active AND engagement_id IN ?", many(engagementIDs)).Error
	return budgets, err
}

// CopyLayers gives an engagement the profile and the own fields of another, and
// those who may record on it.
func CopyLayers(tx *DB, from, to int64) error {
	return errors.Join(
		tx.gorm.Exec(`INSERT INTO main.profile_values (scope, subject_id, name, value)
			SELECT scope, ?, name, value FROM profile_values WHERE scope = 'engagement' AND subject_id = ?`, to, from).Error,
		tx.gorm.Exec(`INSERT INTO main.own_values (field_id, subject_id, value) SELECT v.field_id, ?, v.value FROM own_values v
			JOIN own_fields f ON f.id = v.field_id AND f.subject = 'engagement' WHERE v.subject_id = ?`, to, from).Error,
		tx.gorm.Exec("INSERT INTO main.engagement_people (engagement_id, person_id) SELECT ?, person_id FROM engagement_people "+
			"WHERE engagement_id = ?", to, from).Error)
}

// SameRate reports whether another rate holds for the same from the same day.
func SameRate(tx *DB, r *Rate) (bool, error) { return rateLike(tx, r, "= ?") }

// AnotherRate reports whether another rate holds for the same, from another day.
func AnotherRate(tx *DB, r *Rate) (bool, error) { return rateLike(tx, r, "<> ?") }

func rateLike(tx *DB, r *Rate, from string) (bool, error) {
	n, err := Count(tx, `SELECT COUNT(*) FROM rates WHERE id <> ? AND kind = ? AND level = ? AND card = ? AND currency = ?
		AND service_id IS ? AND grade_id IS ? AND person_id IS ? AND client_id IS ? AND engagement_id IS ? AND phase_id IS ?
			AND card_id IS ? AND from_day `+from,
		r.ID, r.Kind, r.Level, r.Card, r.Currency, r.ServiceID, r.GradeID, r.PersonID, r.ClientID, r.EngagementID, r.PhaseID, r.CardID,
		r.FromDay.String())
	return n > 0, err
}

// What a budget counts, by day. A phase has the time of its tasks too.
const (
	timeUses = `SELECT t.day AS day, SUM(%s) AS amount FROM time_entries t LEFT JOIN phases f ON f.id = t.phase_id
		WHERE t.removed = FALSE AND t.engagement_id = @engagement AND (@phase = 0 OR f.id = @phase OR f.parent_id = @phase) GROUP BY t.day
			ORDER BY t.day`
	expenseUses = `SELECT x.day AS day, SUM(x.cost) AS amount FROM expenses x LEFT JOIN phases f ON f.id = x.phase_id
		WHERE x.removed = FALSE AND x.engagement_id = @engagement AND (@phase = 0 OR f.id = @phase OR f.parent_id = @phase) GROUP BY x.day
			ORDER BY x.day`
	invoiceUses = "SELECT i.dated AS day, SUM(" + netOfLine + `) AS amount FROM invoice_lines l JOIN invoices i ON i.id = l.invoice_id
		WHERE ` + isIssued + " AND l.engagement_id = @engagement GROUP BY i.dated ORDER BY i.dated"
)

// BudgetUses reads what was used of a budget, by day, in its unit.
func BudgetUses(tx *DB, b *Budget) ([]budget.Use, error) {
	query := fmt.Sprintf(timeUses, "t.agreed")
	switch b.Measure {
	case budget.Hours:
		query = fmt.Sprintf(timeUses, "t.worked_minutes")
	case budget.Expenses:
		query = expenseUses
	case budget.Total:
		query = "SELECT day, SUM(amount) AS amount FROM (SELECT * FROM (" + query + ") UNION ALL SELECT * FROM (" +
			expenseUses + ")) GROUP BY day ORDER BY day"
	case budget.Invoiced:
		query = invoiceUses
	}
	phase := int64(0)
	if b.PhaseID != nil {
		phase = *b.PhaseID
	}
	rows := []struct {
		Day    day.Day `gorm:"serializer:day"`
		Amount int64
	}{}
	err := tx.gorm.Raw(query, map[string]any{"engagement": b.EngagementID, "phase": phase}).Scan(&rows).Error
	uses := make([]budget.Use, len(rows))
	for i, row := range rows {
		uses[i] = budget.Use{Day: row.Day, Amount: row.Amount}
	}
	return uses, err
}

// AlertsTold are the shares of a budget that were told in a period.
func AlertsTold(tx *DB, budgetID int64, start day.Day) (map[money.Percent]bool, error) {
	shares := []money.Percent{}
	err := tx.gorm.Raw("SELECT threshold FROM budget_alerts WHERE budget_id = ? AND period_start = ?", budgetID,
		start.String()).Scan(&shares).Error
	told := map[money.Percent]bool{}
	for _, share := range shares {
		told[share] = true
	}
	return told, err
}

// ToldOf are the people whom a budget tells of its alerts.
func ToldOf(tx *DB, budgetID int64) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw("SELECT person_id FROM budget_people WHERE budget_id = ? ORDER BY person_id", budgetID).Scan(&ids).Error
	return ids, err
}

// PayersOf reads who pays engagements together, by engagement.
func PayersOf(tx *DB, engagementIDs []int64) (map[int64][]Payer, error) {
	rows, of := []Payer{}, map[int64][]Payer{}
	err := tx.gorm.Order("id").Find(&rows, "engagement_id IN ?", many(engagementIDs)).Error
	for _, p := range rows {
		of[p.EngagementID] = append(of[p.EngagementID], p)
	}
	return of, err
}
