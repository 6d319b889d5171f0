package store

import (
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"

	"gorm.io/gorm"
)

// UnbilledFilter says which unbilled work is meant; zero values ask for all.
type UnbilledFilter struct {
	From          day.Day // no day: from the beginning
	UpTo          day.Day
	Today         day.Day // on which holds are looked at
	ClientIDs     []int64
	EngagementIDs []int64
	Behind        bool // in place of what is billed by itself: time that a fee covers
}

// where is the filter as conditions, over portions p and engagements e. Time
// under a fixed or recurring fee is covered by the fee and not billed by itself,
// unless it is outside of its scope.
func (f UnbilledFilter) where(tx *DB) *gorm.DB {
	byItself := "(e.arrangement NOT IN ('fixed', 'recurring') OR p.source <> 'time' OR p.treatment = 'out_of_scope')"
	if f.Behind {
		byItself = "NOT " + byItself
	}
	q := tx.gorm.Table("portions p").Joins("JOIN engagements e ON e.id = p.engagement_id").
		Where("p.billing = 'unbilled' AND p.removed = FALSE AND p.worked_day <= ?", f.UpTo.String()).Where(byItself)
	if !f.From.IsZero() {
		q = q.Where("p.worked_day >= ?", f.From.String())
	}
	if tx.scope.Leads != nil {
		q = q.Where(inSight, tx.scoped(nil))
	}
	if f.ClientIDs != nil {
		q = q.Where("e.client_id IN ?", many(f.ClientIDs))
	}
	if f.EngagementIDs != nil {
		q = q.Where("p.engagement_id IN ?", many(f.EngagementIDs))
	}
	return q
}

// UnbilledDay is the unbilled work of one engagement and day, summed; what is on
// hold stands apart.
type UnbilledDay struct {
	EngagementID          int64
	WorkedDay             day.Day `gorm:"serializer:day"`
	Minutes               int
	Agreed, Standard      int64
	AtNoCharge            int64 // of Standard
	Expenses              int64 // of Agreed
	Entries, WithoutRates int
	Held                  int64 // agreed
	HeldEntries           int
}

// UnbilledDays reads unbilled work by engagement and day, column by column: a list has tens
// of thousands.
func UnbilledDays(tx *DB, f UnbilledFilter) ([]UnbilledDay, error) {
	found, err := f.where(tx).Select(unbilledColumns, map[string]any{"today": f.Today.String()}).
		Group("p.engagement_id, p.worked_day").Order("p.engagement_id, p.worked_day").Rows()
	if err != nil {
		return nil, err
	}
	defer found.Close()
	rows := []UnbilledDay{}
	for found.Next() {
		d := UnbilledDay{}
		if err := found.Scan(&d.EngagementID, dayInto{&d.WorkedDay}, &d.Minutes, &d.Agreed, &d.Standard, &d.AtNoCharge, &d.Expenses,
			&d.Entries, &d.WithoutRates, &d.Held, &d.HeldEntries); err != nil {
			return nil, err
		}
		rows = append(rows, d)
	}
	return rows, found.Err()
}

var unbilledColumns = strings.ReplaceAll(`p.engagement_id, p.worked_day, SUM(CASE WHEN {held} THEN 0 ELSE p.minutes END),
	SUM(CASE WHEN {held} THEN 0 ELSE p.agreed END), SUM(CASE WHEN {held} THEN 0 ELSE p.standard END),
	SUM(CASE WHEN {held} OR p.treatment <> 'no_charge' THEN 0 ELSE p.standard END),
	SUM(CASE WHEN {held} OR p.source <> 'expense' THEN 0 ELSE p.agreed END), SUM(CASE WHEN {held} THEN 0 ELSE 1 END),
	SUM(CASE WHEN {held} THEN 0 ELSE p.without_rate END), SUM(CASE WHEN {held} THEN p.agreed ELSE 0 END),
	SUM(CASE WHEN {held} THEN 1 ELSE 0 END)`, "{held}", onHold)

// onHold holds for a portion p that waits on the day @today: as [wip.Hold.Holds].
const onHold = "(p.hold = 'until_released' OR p.hold = 'until_day' AND p.hold_until > @today)"

// EngagementRow is an engagement with the names around it.
type EngagementRow struct {
	Engagement
	Client, ClientCode, Lead string
	Industry, Department     string // of the client, as its work type
	WorkType                 string
	Numbered                 int64 // the series in which its invoices are numbered
	Combined                 bool
	OwnPrice                 bool    // it has a discount, surcharge, withholding or payers of its own, so that its invoice is its own
	Payers                   int     // who pay it together; 0: its client alone
	LastBilled               day.Day `gorm:"serializer:day"`
}

// EngagementRows reads engagements by client and name; nil asks for all.
func EngagementRows(tx *DB, ids []int64) ([]EngagementRow, error) {
	q := engagementRows(tx)
	if ids != nil {
		q = q.Where("e.id IN ?", many(ids))
	}
	rows := []EngagementRow{}
	err := q.Scan(&rows).Error
	return rows, err
}

// EngagementRowsOf reads the engagements of clients that may be seen.
func EngagementRowsOf(tx *DB, clientIDs ...int64) ([]EngagementRow, error) {
	q := engagementRows(tx).Where("e.client_id IN ?", many(clientIDs)).Where(inSight, tx.scoped(nil))
	rows := []EngagementRow{}
	err := q.Scan(&rows).Error
	return rows, err
}

// EngagementsOfClients are the numbers of the engagements of some clients, whoever leads them.
func EngagementsOfClients(tx *DB, clientIDs []int64) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw("SELECT id FROM engagements WHERE client_id IN ? ORDER BY id", many(clientIDs)).Scan(&ids).Error
	return ids, err
}

func engagementRows(tx *DB) *gorm.DB {
	return tx.gorm.Table("engagements e").Select(`e.*, c.name AS client, c.code AS client_code, c.industry, c.department, c.work_type,
		w.name AS lead,
			COALESCE((SELECT v.value FROM profile_values v WHERE v.scope = 'engagement' AND v.subject_id = e.id AND v.name = 'combined'),
				(SELECT v.value FROM profile_values v WHERE v.scope = 'client' AND v.subject_id = c.id AND v.name = 'combined'),
				(SELECT v.value FROM profile_values v WHERE v.scope = 'firm' AND v.name = 'combined'), 'yes') = 'yes' AS combined,
			EXISTS (SELECT 1 FROM profile_values o WHERE o.scope = 'engagement' AND o.subject_id = e.id
				AND o.name IN ('discount', 'discount_amount', 'discount_on', 'surcharge', 'withholding', 'second_tax'))
				OR EXISTS (SELECT 1 FROM engagement_payers y WHERE y.engagement_id = e.id) AS own_price,
			(SELECT COUNT(*) FROM engagement_payers y WHERE y.engagement_id = e.id) AS payers,
			COALESCE(e.series_id, (SELECT MIN(s.id) FROM series s WHERE s.entity_id = e.entity_id AND s.kind = 'invoice'), 0) AS numbered,
			(SELECT MAX(x.billed_day) FROM invoice_engagements x WHERE x.engagement_id = e.id) AS last_billed`).
		Joins("JOIN clients c ON c.id = e.client_id JOIN people w ON w.id = e.lead_id").Order("c.name, e.name, e.id")
}

// UnbilledEngagements are the engagements of which some work is unbilled.
func UnbilledEngagements(tx *DB, f UnbilledFilter) ([]int64, error) {
	ids := []int64{}
	err := f.where(tx).Distinct("p.engagement_id").Scan(&ids).Error
	return ids, err
}

// OldestUnbilled is the day of the oldest work that is billed by itself and unbilled, of some
// clients or of all (nil), by client.
func OldestUnbilled(tx *DB, clientIDs []int64, upTo day.Day) (map[int64]day.Day, error) {
	rows := []struct {
		ClientID int64
		Oldest   day.Day `gorm:"serializer:day"`
	}{}
	err := UnbilledFilter{UpTo: upTo, ClientIDs: clientIDs}.where(tx).Select("e.client_id, MIN(p.worked_day) AS oldest").
		Group("e.client_id").Scan(&rows).Error
	oldest := map[int64]day.Day{}
	for _, row := range rows {
		oldest[row.ClientID] = row.Oldest
	}
	return oldest, err
}

// HeldByClient sums what is held for some clients, by client and currency.
func HeldByClient(tx *DB, clientIDs []int64) ([]HeldSum, error) {
	rows := []HeldSum{}
	err := tx.gorm.Raw(`SELECT client_id, currency, SUM(held) AS amount FROM client_funds WHERE held > 0 AND client_id IN ?
		GROUP BY client_id, currency ORDER BY currency`, many(clientIDs)).Scan(&rows).Error
	return rows, err
}

// HeldSum is what is held for a client in a currency.
type HeldSum struct {
	ClientID int64
	Currency money.Currency
	Amount   int64
}

// WithoutContact are those of some clients to whom no invoice can be sent: nobody gets
// invoices by mail, and there is no address to which they could be posted.
func WithoutContact(tx *DB, clientIDs []int64) (map[int64]bool, error) {
	ids := []int64{}
	err := tx.gorm.Raw(`SELECT c.id FROM clients c WHERE c.id IN ? AND c.mail = '' AND c.address = '' AND c.billing_address = ''
		AND NOT EXISTS (SELECT 1 FROM contacts k WHERE k.client_id = c.id AND k.active AND k.gets_invoices
			AND k.mail <> '')`, many(clientIDs)).Scan(&ids).Error
	without := map[int64]bool{}
	for _, id := range ids {
		without[id] = true
	}
	return without, err
}

// OwnValue is a value of the billing profile that a client, an engagement or the firm has
// of its own, with the client whose it is.
type OwnValue struct {
	Scope              profile.Scope
	SubjectID, OwnerID int64
	Value              string
}

// ProfileOwn reads the values that some clients (none: all) and their engagements have
// of an item of the billing profile, and the firm's.
func ProfileOwn(tx *DB, name string, clientIDs []int64) ([]OwnValue, error) {
	rows := []OwnValue{}
	query := `SELECT v.scope, v.subject_id, v.value, e.client_id AS owner_id FROM profile_values v
		LEFT JOIN engagements e ON v.scope = 'engagement' AND e.id = v.subject_id WHERE v.name = @name`
	if len(clientIDs) > 0 {
		query = `SELECT scope, subject_id, value, 0 AS owner_id FROM profile_values WHERE scope = 'firm' AND name = @name
			UNION ALL SELECT scope, subject_id, value, 0 FROM profile_values WHERE scope = 'client' AND subject_id IN @clients AND name = @name
			UNION ALL SELECT v.scope, v.subject_id, v.value, e.client_id FROM engagements e CROSS JOIN profile_values v
				ON v.scope = 'engagement' AND v.subject_id = e.id AND v.name = @name
				WHERE e.client_id IN @clients`
	}
	err := tx.gorm.Raw(query, map[string]any{"name": name, "clients": many(clientIDs)}).Scan(&rows).Error
	return rows, err
}

// BehindFee is the work behind a fixed fee: its standard value without what is at no charge,
// the minutes worked and expected, how many of the phases and tasks are done.
type BehindFee struct {
	EngagementID, Standard int64
	Minutes, Expected      int
	Phases, PhasesDone     int
}

// BehindFees reads the work behind the fixed fees of some engagements: unbilled, on drafts and
// billed.
func BehindFees(tx *DB, engagementIDs []int64) (map[int64]BehindFee, error) {
	rows := []BehindFee{}
	err := tx.gorm.Raw(behindFees, many(engagementIDs)).Scan(&rows).Error
	found := map[int64]BehindFee{}
	for _, row := range rows {
		found[row.EngagementID] = row
	}
	return found, err
}

// What is unbilled and what fees cover are summed apart, each by its own index: with an OR
// between them SQLite would walk all time that was ever recorded, once for each engagement.
const behindFees = `SELECT e.id AS engagement_id,
			COALESCE((SELECT SUM(p.standard) FROM portions p WHERE p.engagement_id = e.id AND p.billing = 'unbilled' AND p.removed = FALSE
				AND p.source = 'time' AND p.treatment NOT IN ('out_of_scope', 'no_charge')), 0)
			+ COALESCE((SELECT SUM(p.standard) FROM portions p WHERE p.engagement_id = e.id AND p.covered AND p.billing IN ('reserved', 'billed')
				AND p.removed = FALSE AND p.source = 'time' AND p.treatment NOT IN ('out_of_scope', 'no_charge')), 0) AS standard,
			COALESCE((SELECT SUM(t.worked_minutes) FROM time_months t WHERE t.engagement_id = e.id), 0) AS minutes,
			` + expectedMinutes + ` AS expected, COUNT(f.id) AS phases, COALESCE(SUM(f.status = 'done'), 0) AS phases_done
		FROM engagements e LEFT JOIN phases f ON f.engagement_id = e.id AND f.active
			AND NOT EXISTS (SELECT 1 FROM phases c WHERE c.parent_id = f.id AND c.active)
		WHERE e.id IN ? GROUP BY e.id`

// UnbilledFees sums, by engagement, the unbilled time that a cap covers, as agreed.
func UnbilledFees(tx *DB, engagementIDs []int64) (map[int64]int64, error) {
	rows := []struct{ EngagementID, Sum int64 }{}
	err := tx.gorm.Raw(`SELECT engagement_id, SUM(agreed) AS sum FROM portions WHERE engagement_id IN ? AND source = 'time'
		AND billing = 'unbilled' AND removed = FALSE AND treatment <> 'out_of_scope' GROUP BY engagement_id`,
		many(engagementIDs)).Scan(&rows).Error
	sums := map[int64]int64{}
	for _, row := range rows {
		sums[row.EngagementID] = row.Sum
	}
	return sums, err
}

// expectedMinutes are what the budget of an engagement e expects; 0 where it has none of hours.
const expectedMinutes = `COALESCE((SELECT b.minutes FROM budgets b WHERE b.engagement_id = e.id AND b.active AND b.phase_id IS NULL
	AND b.minutes > 0 ORDER BY b.id LIMIT 1), 0)`

// PartSum is the unbilled work of an engagement that is taxed alike: time, expenses,
// or disbursements. What is on hold stands apart.
type PartSum struct {
	EngagementID                   int64
	Taxed                          string // as time, expense or disbursement
	Minutes, Entries, WithoutRates int
	Agreed                         int64
	AtNoCharge                     int64 // at standard
	Held                           int64
}

// PartSums adds up what a filter finds, by engagement and by how it is taxed. Time is added up plainly, which SQLite does
// four times as fast; what of it is not simply added up is few, and put right in the same statement.
func PartSums(tx *DB, f UnbilledFilter) ([]PartSum, error) {
	// The plus: by what is unbilled, not by what is time.
	plain := f.where(tx).Where("+p.source = 'time'").Select(plainColumns).Group("p.engagement_id")
	apart := f.where(tx).Where(unusual).Joins("LEFT JOIN expenses x ON p.source = 'expense' AND x.id = p.source_id").
		Select(partColumns, map[string]any{"today": f.Today.String()}).Group("p.engagement_id, taxed")
	rows := []PartSum{}
	err := tx.gorm.Raw(`SELECT engagement_id, taxed, SUM(minutes) AS minutes, SUM(entries) AS entries, SUM(without_rates) AS without_rates,
		SUM(agreed) AS agreed, SUM(at_no_charge) AS at_no_charge, SUM(held) AS held
		FROM (? UNION ALL ?) GROUP BY engagement_id, taxed ORDER BY engagement_id, taxed`, plain, apart).Scan(&rows).Error
	return rows, err
}

const plainColumns = `p.engagement_id, 'time' AS taxed, SUM(p.minutes) AS minutes, COUNT(*) AS entries, 0 AS without_rates,
	SUM(p.agreed) AS agreed, 0 AS at_no_charge, 0 AS held`

// unusual holds for a portion p that is not simply added up; it is the condition of an index.
const unusual = "(p.source <> 'time' OR p.hold <> 'none' OR p.without_rate OR p.treatment = 'no_charge')"

var partColumns = strings.NewReplacer("{held}", onHold, "{left}", "("+onHold+" OR p.without_rate)").Replace(`p.engagement_id,
	CASE WHEN p.source = 'time' THEN 'time' WHEN x.valued ->> '$.disbursement' THEN 'disbursement' ELSE 'expense' END AS taxed,
	SUM(CASE WHEN {left} THEN 0 ELSE p.minutes END - CASE WHEN p.source = 'time' THEN p.minutes ELSE 0 END) AS minutes,
	SUM(CASE WHEN {left} THEN 0 ELSE 1 END - (p.source = 'time')) AS entries,
	SUM(CASE WHEN {held} THEN 0 ELSE p.without_rate END) AS without_rates,
	SUM(CASE WHEN {left} THEN 0 ELSE p.agreed END - CASE WHEN p.source = 'time' THEN p.agreed ELSE 0 END) AS agreed,
	SUM(CASE WHEN {left} OR p.treatment <> 'no_charge' THEN 0 ELSE p.standard END) AS at_no_charge,
	SUM(CASE WHEN {held} THEN p.agreed ELSE 0 END) AS held`)

// BoardRow is an engagement with what was worked, what of it is unbilled, and how
// many charges are still to be billed.
type BoardRow struct {
	Engagement
	Client, Lead               string
	Minutes, Expected, Charges int
	Unbilled                   int64
	LastWorked                 day.Day `gorm:"serializer:day"`
}

// BoardRows reads the billable engagements of some clients, or of all (nil); closed ones for a quarter after they
// were closed, or as long as something of them is unbilled.
func BoardRows(tx *DB, clientIDs []int64, today day.Day) ([]BoardRow, error) {
	rows := []BoardRow{}
	err := tx.gorm.Raw(`SELECT * FROM (SELECT e.*, c.name AS client, w.name AS lead,
			COALESCE((SELECT SUM(t.worked_minutes) FROM time_months t WHERE t.engagement_id = e.id), 0) AS minutes,
			COALESCE((SELECT MAX(t.day) FROM time_entries t WHERE t.engagement_id = e.id AND t.removed = FALSE), '') AS last_worked,
			`+expectedMinutes+` AS expected, (SELECT COUNT(*) FROM charges g WHERE g.engagement_id = e.id AND g.state = 'planned' AND g.kind <> 'deposit' AND NOT g.paused
				AND g.bill_day <= @today) AS charges,
			COALESCE((SELECT SUM(p.agreed) FROM portions p WHERE p.engagement_id = e.id AND p.billing = 'unbilled'
				AND p.removed = FALSE), 0) AS unbilled
		FROM engagements e JOIN clients c ON c.id = e.client_id JOIN people w ON w.id = e.lead_id
		WHERE e.billable`+ofClients(clientIDs, "e.client_id")+` AND `+inSight+` AND (e.closed_day = '' OR e.closed_day >= @lately OR e.active OR EXISTS (SELECT 1 FROM portions p
			WHERE p.engagement_id = e.id AND p.billing = 'unbilled' AND p.removed = FALSE AND p.agreed <> 0))) ORDER BY client, name, id`,
		tx.scoped(map[string]any{"today": today.String(), "lately": today.AddDays(-90).String(), "clients": many(clientIDs)})).
		Scan(&rows).Error
	return rows, err
}
