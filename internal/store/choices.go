package store

import (
	"encoding/json"
	"fmt"

	"dorvet/core/day"
	"dorvet/core/money"
)

// Choice is an engagement on which a person may record time.
type Choice struct {
	EngagementID int64         `json:"engagementId"`
	Engagement   string        `json:"engagement"`
	ClientID     int64         `json:"clientId"`
	Client       string        `json:"client"`
	Arrangement  string        `json:"arrangement"`
	Open         bool          `json:"open" doc:"to new time; others only to look for"`
	Billable     bool          `json:"billable"`
	Currency     string        `json:"currency"`
	ServiceID    int64         `json:"serviceId" doc:"that recording begins with, or 0"`
	Phases       []PhaseChoice `json:"phases" gorm:"-"`
}

// PhaseChoice is an open phase, or a task named with its phase.
type PhaseChoice struct {
	ID           int64  `json:"id"`
	EngagementID int64  `json:"-"`
	Name         string `json:"name"`
}

// MostChoices is how many choices are read together: of more, one types what is meant.
const MostChoices = 200

// ChoiceFilter says which engagements can be chosen; zero values ask for all.
type ChoiceFilter struct {
	Recorder  int64 // on which of them somebody may not record is not open; 0: nobody asks
	Open      bool  // only open ones
	Words     []string
	ClientIDs []int64
	IDs       []int64 // these, whatever else is asked
	First     []int64 // come before all others, in this order
}

// Choices reads engagements by client and name, with their phases, as many as are read together.
func Choices(tx *DB, f ChoiceFilter) ([]Choice, error) {
	asked, named := "TRUE", map[string]any{"person": f.Recorder, "ids": many(f.IDs), "clients": many(f.ClientIDs), "most": MostChoices}
	if f.ClientIDs != nil {
		asked += " AND e.client_id IN @clients"
	}
	if f.Open {
		asked += " AND " + openTo
	}
	for at, word := range f.Words {
		asked += fmt.Sprintf(` AND (e.name LIKE @word%[1]d ESCAPE '\' OR c.name LIKE @word%[1]d ESCAPE '\'
			OR e.code LIKE @word%[1]d ESCAPE '\')`, at)
		named[fmt.Sprintf("word%d", at)] = within(word)
	}
	if f.IDs != nil {
		asked = "e.id IN @ids"
	}
	first, err := json.Marshal(f.First)
	if err != nil {
		return nil, err
	}
	named["first"] = string(first)
	choices := []Choice{}
	err = tx.gorm.Raw(`SELECT e.id AS engagement_id, e.name AS engagement, c.id AS client_id, c.name AS client, e.arrangement, e.billable,
		e.currency, COALESCE(e.service_id, 0) AS service_id, `+openTo+` AS open
		FROM engagements e JOIN clients c ON c.id = e.client_id LEFT JOIN json_each(@first) l ON l.value = e.id
		WHERE `+asked+" ORDER BY l.key IS NULL, l.key, c.name, e.name, e.id LIMIT @most", named).Scan(&choices).Error
	if err != nil {
		return nil, err
	}
	return choices, addPhases(tx, choices)
}

// openTo holds for an engagement e of a client c on which @person may record.
const openTo = `(e.active AND c.active AND e.closed_day = '' AND (@person = 0
	OR NOT EXISTS (SELECT 1 FROM engagement_people p WHERE p.engagement_id = e.id)
	OR EXISTS (SELECT 1 FROM engagement_people p WHERE p.engagement_id = e.id AND p.person_id = @person)))`

func addPhases(tx *DB, choices []Choice) error {
	at, ids := map[int64]int{}, make([]int64, len(choices))
	for i := range choices {
		choices[i].Phases = []PhaseChoice{}
		at[choices[i].EngagementID], ids[i] = i, choices[i].EngagementID
	}
	phases := []PhaseChoice{}
	err := tx.gorm.Raw(`SELECT f.id, f.engagement_id, COALESCE(p.name || ', ', '') || f.name AS name FROM phases f
		LEFT JOIN phases p ON p.id = f.parent_id
		WHERE f.active AND f.status <> 'done' AND f.engagement_id IN ? ORDER BY f.engagement_id, COALESCE(f.parent_id, f.id),
			f.parent_id IS NOT NULL, f.id`, many(ids)).Scan(&phases).Error
	for _, p := range phases {
		of := &choices[at[p.EngagementID]]
		of.Phases = append(of.Phases, p)
	}
	return err
}

// LastRecordedOn are the engagements on which a person recorded last since a day, the last one first.
func LastRecordedOn(tx *DB, personID int64, since day.Day) ([]int64, error) {
	ids := []int64{}
	err := tx.gorm.Raw(`SELECT engagement_id FROM time_entries WHERE person_id = ? AND day >= ? AND removed = FALSE
		GROUP BY engagement_id ORDER BY MAX(day) DESC, MAX(id) DESC LIMIT 20`, personID, since.String()).Scan(&ids).Error
	return ids, err
}

// ClientChoice is a client for which something can be sought.
type ClientChoice struct {
	ID   int64  `json:"id"`
	Name string `json:"name"`
}

// ClientChoices reads clients that have engagements by name, as many as are read together: those with all words in name
// or code, or some.
func ClientChoices(tx *DB, words []string, ids []int64) ([]ClientChoice, error) {
	asked, named := "EXISTS (SELECT 1 FROM engagements e WHERE e.client_id = c.id)", map[string]any{"ids": many(ids), "most": MostChoices}
	for at, word := range words {
		asked += fmt.Sprintf(` AND (c.name LIKE @word%[1]d ESCAPE '\' OR c.code LIKE @word%[1]d ESCAPE '\')`, at)
		named[fmt.Sprintf("word%d", at)] = within(word)
	}
	if ids != nil {
		asked = "c.id IN @ids"
	}
	choices := []ClientChoice{}
	err := tx.gorm.Raw("SELECT c.id, c.name FROM clients c WHERE "+asked+" ORDER BY c.name, c.id LIMIT @most", named).Scan(&choices).Error
	return choices, err
}

// EngagementCurrencies are the currencies of all engagements.
func EngagementCurrencies(tx *DB) ([]money.Currency, error) {
	currencies := []money.Currency{}
	err := tx.gorm.Raw("SELECT DISTINCT currency FROM engagements ORDER BY currency").Scan(&currencies).Error
	return currencies, err
}
