package store

import (
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/rate"
	"dorvet/core/tax"
)

// TheFirm reads the firm's settings.
func TheFirm(tx *DB) (*Firm, error) { return Get[Firm](tx, 1) }

// PersonByMail finds an active person who may sign in.
func PersonByMail(tx *DB, mail string) (*Person, error) {
	person := new(Person)
	err := tx.gorm.First(person, "lower(mail) = lower(?) AND active", mail).Error
	return person, err
}

// TaxCodes reads all codes with their rates, by number of the code.
func TaxCodes(tx *DB) (map[int64]tax.Code, error) {
	records, err := All[TaxCode](tx, "id")
	if err != nil {
		return nil, err
	}
	rates, err := All[TaxRate](tx, "from_day")
	codes := map[int64]tax.Code{}
	for _, r := range records {
		code := tax.Code{Code: r.Code, Name: r.Name, Category: r.Category, Notice: r.Notice}
		if r.SecondName != "" {
			code.Second = &tax.Second{Name: r.SecondName, Compound: r.SecondCompound}
		}
		for _, dated := range rates {
			if dated.TaxCodeID == r.ID {
				code.Rates = append(code.Rates, tax.Dated{From: dated.FromDay, Percent: dated.Percent})
				if code.Second != nil {
					code.Second.Rates = append(code.Second.Rates, tax.Dated{From: dated.FromDay, Percent: dated.SecondPercent})
				}
			}
		}
		codes[r.ID] = code
	}
	return codes, err
}

// Exchange is the latest rate of a currency recorded for a day or before it, or
// ErrNotFound.
func Exchange(tx *DB, currency money.Currency, on day.Day) (*ExchangeRate, error) {
	record := new(ExchangeRate)
	err := tx.gorm.Order("day DESC").First(record, "currency = ? AND day <= ?", currency, on.String()).Error
	return record, err
}

// RateSubject is who works on what, for the rates that concern it.
type RateSubject struct {
	Kind                                       string // bill, cost
	Currency                                   money.Currency
	ServiceID, PersonID, EngagementID, PhaseID int64
}

// around is what a subject belongs to.
type around struct{ ClientID, GradeID, ParentID int64 }

// naming is a rate card and the level on which a profile names it.
type naming struct {
	Scope profile.Scope
	ID    int64
	Name  string
}

var cardLevel = map[profile.Scope]rate.Level{profile.Firm: rate.Firm, profile.Client: rate.Client, profile.Engagement: rate.Engagement}

// fittingRate is a rate with the name of whose it is.
type fittingRate struct {
	Rate
	Subject string
}

// RatesFor reads the rates of every level that fit a subject. Rates of a card
// hold on the levels on which profiles name the card. Several small queries:
// SQLite plans one large one anew each time, which takes longer than all of them.
func RatesFor(tx *DB, subject RateSubject) ([]rate.Row, error) {
	of := around{}
	err := tx.gorm.Raw(`SELECT e.client_id, COALESCE(p.grade_id, 0) AS grade_id, COALESCE(f.parent_id, 0) AS parent_id
		FROM engagements e JOIN people p ON p.id = ? LEFT JOIN phases f ON f.id = ?
			WHERE e.id = ?`, subject.PersonID, subject.PhaseID, subject.EngagementID).Scan(&of).Error
	if err != nil {
		return nil, err
	}
	cards := []naming{}
	err = tx.gorm.Raw(`SELECT v.scope, k.id, k.name FROM profile_values v JOIN rate_cards k ON k.name = v.value
		WHERE v.name = 'rate_card' AND (v.scope = 'firm' OR v.scope = 'client' AND v.subject_id = ? OR v.scope = 'engagement'
			AND v.subject_id = ?)`,
		of.ClientID, subject.EngagementID).Scan(&cards).Error
	if err != nil {
		return nil, err
	}
	found, err := fittingRates(tx, subject, of)
	rows := make([]rate.Row, 0, len(found))
	for _, r := range found {
		if r.CardID == nil {
			rows = append(rows, rowOf(r, r.Level, r.Subject))
			continue
		}
		for _, card := range cards {
			if card.ID == *r.CardID {
				rows = append(rows, rowOf(r, cardLevel[card.Scope], r.Subject+", card "+card.Name))
			}
		}
	}
	return rows, err
}

func fittingRates(tx *DB, subject RateSubject, of around) ([]fittingRate, error) {
	found := []fittingRate{}
	err := tx.gorm.Raw(`SELECT r.*, CASE WHEN r.card_id IS NOT NULL THEN COALESCE(s.name, p.name, g.name, '') WHEN r.level = 7 THEN s.name
		WHEN r.level = 10 THEN p.name
			ELSE COALESCE(f.name, e.name, c.name, p.name, g.name, s.name, '') END AS subject
		FROM rates r LEFT JOIN services s ON s.id = r.service_id LEFT JOIN grades g ON g.id = r.grade_id
			LEFT JOIN people p ON p.id = r.person_id
		LEFT JOIN clients c ON c.id = r.client_id LEFT JOIN engagements e ON e.id = r.engagement_id LEFT JOIN phases f ON f.id = r.phase_id
		WHERE r.kind = ? AND r.currency = ? AND (r.service_id IS NULL OR r.service_id = ?) AND (r.grade_id IS NULL OR r.grade_id = ?)
		AND (r.person_id IS NULL OR r.person_id = ?) AND (r.client_id IS NULL OR r.client_id = ?)
		AND (r.engagement_id IS NULL OR r.engagement_id = ?) AND (r.phase_id IS NULL OR r.phase_id IN (?, ?))`,
		subject.Kind, subject.Currency, subject.ServiceID, of.GradeID, subject.PersonID, of.ClientID, subject.EngagementID, subject.PhaseID,
		of.ParentID).Scan(&found).Error
	return found, err
}

func rowOf(r fittingRate, level rate.Level, subject string) rate.Row {
	row := rate.Row{Level: level, Card: r.Card, Subject: subject, From: r.FromDay, Currency: r.Currency, None: r.PerHour == nil}
	if r.PerHour != nil {
		row.PerHour = *r.PerHour
	}
	return row
}

// Found is something that a search found.
type Found struct {
	Kind   string `json:"kind" enum:"client,contact,engagement,person,invoice,proposal"`
	ID     int64  `json:"id"`
	Title  string `json:"title"`
	Beside string `json:"beside"`
}

// Find looks for clients, contacts, engagements, people, invoices and proposals
// by a part of name, code or number, of those that may be seen.
func Find(tx *DB, text string) ([]Found, error) {
	found := []Found{}
	like := within(text)
	err := tx.gorm.Raw(`SELECT kind, id, title, beside FROM (
		SELECT 1 AS place, 'client' AS kind, id, name AS title, code AS beside FROM clients c
			WHERE (name LIKE @like ESCAPE '\' OR code LIKE @like ESCAPE '\')
			AND (@all OR responsible_id IN @leads OR id IN (SELECT client_id FROM engagements WHERE lead_id IN @leads))
		UNION ALL
		SELECT 2, 'engagement', e.id, e.name, c.name || ' · ' || e.code FROM engagements e JOIN clients c ON c.id = e.client_id
			WHERE (e.name LIKE @like ESCAPE '\' OR e.code LIKE @like ESCAPE '\' OR e.reference LIKE @like ESCAPE '\') AND `+inSight+`
		UNION ALL
		SELECT 3, 'person', id, name, initials FROM people WHERE (name LIKE @like ESCAPE '\' OR initials LIKE @like ESCAPE '\') AND @all
		UNION ALL
		SELECT 4, 'contact', k.client_id, k.name, c.name FROM contacts k JOIN clients c ON c.id = k.client_id
			WHERE k.name LIKE @like ESCAPE '\'
			AND @all
		UNION ALL
		SELECT 5, 'invoice', i.id, i.number_text, c.name FROM invoices i JOIN clients c ON c.id = i.client_id
			WHERE i.number_text LIKE @like ESCAPE '\' AND i.number_text <> '' AND @all
		UNION ALL
		SELECT 6, 'proposal', p.id, p.name, c.name || ' · ' || p.number_text FROM proposals p JOIN clients c ON c.id = p.client_id
			WHERE (p.name LIKE @like ESCAPE '\' OR p.title LIKE @like ESCAPE '\' OR p.number_text LIKE @like ESCAPE '\')
				AND `+inProposalSight+`
		) ORDER BY place, title LIMIT 20`, tx.scoped(map[string]any{"like": like})).Scan(&found).Error
	return found, err
}

// Timekeeper is a person, and how files classify them.
func Timekeeper(tx *DB, personID int64) (*Person, string, error) {
	person, err := Get[Person](tx, personID)
	if err != nil || person.GradeID == nil {
		return person, "OT", err
	}
	grade, err := Get[Grade](tx, *person.GradeID)
	if err != nil {
		return person, "", err
	}
	return person, grade.FileClass, nil
}
