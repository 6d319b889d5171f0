package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/rate"
	"dorvet/core/tax"

	"gorm.io/gorm"
)

// TheFirm reads the firm's settings.
func TheFirm(tx *gorm.DB) (*Firm, error) { return Get[Firm](tx, 1) }

// PersonByMail finds an active person who may sign in.
func PersonByMail(tx *gorm.DB, mail string) (*Person, error) {
	person := new(Person)
	err := tx.First(person, "lower(mail) = lower(?) AND active", mail).Error
	return person, err
}

// TaxCodes reads all codes with their rates, by number of the code.
func TaxCodes(tx *gorm.DB) (map[int64]tax.Code, error) {
	records, err := All[TaxCode](tx, "id")
	if err != nil {
		return nil, err
	}
	rates, err := All[TaxRate](tx, "from_day")
	codes := map[int64]tax.Code{}
	for _, r := range records {
		code := tax.Code{Code: r.Code, Name: r.Name, Category: r.Category, Notice: r.Notice}
		for _, dated := range rates {
			if dated.TaxCodeID == r.ID {
				code.Rates = append(code.Rates, tax.Dated{From: dated.FromDay, Percent: dated.Percent})
			}
		}
		codes[r.ID] = code
	}
	return codes, err
}

// Exchange is the latest rate of a currency recorded for a day or before it, or
// ErrNotFound.
func Exchange(tx *gorm.DB, currency money.Currency, on day.Day) (*ExchangeRate, error) {
	record := new(ExchangeRate)
	err := tx.Order("day DESC").First(record, "currency = ? AND day <= ?", currency, on.String()).Error
	return record, err
}

// RateSubject is who works on what, for the rates that concern it.
type RateSubject struct {
	Currency                          money.Currency
	ServiceID, PersonID, EngagementID int64
}

// RatesFor reads the billing rates of every level that fit a subject.
func RatesFor(tx *gorm.DB, subject RateSubject) ([]rate.Row, error) {
	type found struct {
		Level    rate.Level
		Card     rate.Card
		Subject  string
		FromDay  day.Day `gorm:"serializer:day"`
		PerHour  *money.Rate
		Currency money.Currency
	}
	records := []found{}
	err := tx.Raw(`SELECT r.level, r.card, r.from_day, r.per_hour, r.currency,
			COALESCE(e.name, c.name, p.name, g.name, s.name, '') AS subject
		FROM rates r
		LEFT JOIN services s ON s.id = r.service_id LEFT JOIN grades g ON g.id = r.grade_id
		LEFT JOIN people p ON p.id = r.person_id LEFT JOIN clients c ON c.id = r.client_id
		LEFT JOIN engagements e ON e.id = r.engagement_id
		WHERE r.kind = 'bill' AND r.currency = @currency
		AND (r.service_id IS NULL OR r.service_id = @service)
		AND (r.grade_id IS NULL OR r.grade_id = (SELECT grade_id FROM people WHERE id = @person))
		AND (r.person_id IS NULL OR r.person_id = @person)
		AND (r.client_id IS NULL OR r.client_id = (SELECT client_id FROM engagements WHERE id = @engagement))
		AND (r.engagement_id IS NULL OR r.engagement_id = @engagement)`,
		map[string]any{"currency": subject.Currency, "service": subject.ServiceID, "person": subject.PersonID, "engagement": subject.EngagementID},
	).Scan(&records).Error
	rows := make([]rate.Row, 0, len(records))
	for _, r := range records {
		row := rate.Row{Level: r.Level, Card: r.Card, Subject: r.Subject, From: r.FromDay, Currency: r.Currency, None: r.PerHour == nil}
		if r.PerHour != nil {
			row.PerHour = *r.PerHour
		}
		rows = append(rows, row)
	}
	return rows, err
}

// Choice is an engagement on which a person may record time.
type Choice struct {
	EngagementID int64  `json:"engagementId"`
	Engagement   string `json:"engagement"`
	Client       string `json:"client"`
	Billable     bool   `json:"billable"`
	Currency     string `json:"currency"`
}

// Choices reads the open engagements, by client and name.
func Choices(tx *gorm.DB) ([]Choice, error) {
	choices := []Choice{}
	err := tx.Raw(`SELECT e.id AS engagement_id, e.name AS engagement, c.name AS client, e.billable, e.currency
		FROM engagements e JOIN clients c ON c.id = e.client_id
		WHERE e.active AND c.active ORDER BY c.name, e.name`).Scan(&choices).Error
	return choices, err
}

// Found is something that a search found.
type Found struct {
	Kind   string `json:"kind" enum:"client,engagement,invoice"`
	ID     int64  `json:"id"`
	Title  string `json:"title"`
	Beside string `json:"beside"`
}

// Find looks for clients, engagements and invoices by a part of name, code or
// number. Of engagements only those of a lead are found, unless leadID is 0.
func Find(tx *gorm.DB, text string, leadID int64) ([]Found, error) {
	found := []Found{}
	err := tx.Raw(`SELECT * FROM (
		SELECT 'client' AS kind, id, name AS title, code AS beside FROM clients WHERE (name LIKE @like OR code LIKE @like) AND @lead = 0
		UNION ALL
		SELECT 'engagement', e.id, e.name, c.name FROM engagements e JOIN clients c ON c.id = e.client_id
			WHERE (e.name LIKE @like OR e.code LIKE @like) AND (@lead = 0 OR e.lead_id = @lead)
		UNION ALL
		SELECT 'invoice', i.id, i.number_text, c.name FROM invoices i JOIN clients c ON c.id = i.client_id
			WHERE i.number_text <> '' AND i.number_text LIKE @like AND @lead = 0
		) ORDER BY kind, title LIMIT 20`, map[string]any{"like": "%" + text + "%", "lead": leadID}).Scan(&found).Error
	return found, err
}
