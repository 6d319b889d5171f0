package store

import (
	"errors"

	"dorvet/core/profile"
)

// ProfileLayers reads the layers of the billing profiles of some clients and
// engagements, for whom they are put together without another query: the firm's first,
// then the tax code that is proposed for the client's country, the client's and the
// engagement's own, which holds for its client alone: who else pays some of it has terms of
// their own. A number of 0 leaves that layer out.
func ProfileLayers(tx *DB, clientIDs, engagementIDs []int64) (func(clientID, engagementID int64) []profile.Layer, error) {
	rows := []struct {
		Scope                profile.Scope
		SubjectID, OwnerID   int64
		Subject, Name, Value string
	}{}
	err := tx.gorm.Raw(`SELECT v.scope, 0 AS subject_id, 0 AS owner_id, '' AS subject, v.name, v.value FROM profile_values v WHERE v.scope = 'firm'
		UNION ALL SELECT 'place', c.id, c.id, c.country, 'tax_code', t.code FROM clients c
			JOIN tax_codes t ON t.active AND ' ' || t.places || ' ' LIKE '% ' || c.country || ' %'
			WHERE c.id IN @clients AND c.country <> ''
		UNION ALL SELECT v.scope, c.id, c.id, c.name, v.name, v.value FROM profile_values v JOIN clients c ON c.id = v.subject_id
			WHERE v.scope = 'client' AND v.subject_id IN @clients
		UNION ALL SELECT v.scope, e.id, e.client_id, e.name, v.name, v.value FROM profile_values v JOIN engagements e ON e.id = v.subject_id
			WHERE v.scope = 'engagement' AND v.subject_id IN @engagements`,
		map[string]any{"clients": many(clientIDs), "engagements": many(engagementIDs)}).Scan(&rows).Error
	type of struct {
		scope profile.Scope
		id    int64
	}
	layers, owner := map[of]profile.Layer{}, map[of]int64{}
	for _, row := range rows {
		key := of{row.Scope, row.SubjectID}
		owner[key] = row.OwnerID
		if _, is := layers[key]; !is {
			layers[key] = profile.Layer{Scope: row.Scope, Subject: row.Subject, Values: map[string]string{}}
		}
		layers[key].Values[row.Name] = row.Value
	}
	return func(clientID, engagementID int64) []profile.Layer {
		own := []profile.Layer{}
		for _, key := range []of{{profile.Firm, 0}, {profile.Place, clientID}, {profile.Client, clientID},
			{profile.Engagement, engagementID}} {
			if layer, is := layers[key]; is && (key.scope != profile.Engagement || clientID == 0 || owner[key] == clientID) {
				own = append(own, layer)
			}
		}
		return own
	}, err
}

// SetProfileValue sets a value on a layer, or gives it back.
func SetProfileValue(tx *DB, scope profile.Scope, subjectID int64, name, value string, giveBack bool) error {
	if giveBack {
		return tx.gorm.Exec("DELETE FROM main.profile_values WHERE scope = ? AND subject_id = ? AND name = ?", scope, subjectID, name).Error
	}
	return tx.gorm.Exec(`INSERT INTO main.profile_values (scope, subject_id, name, value) VALUES (?, ?, ?, ?)
		ON CONFLICT (scope, subject_id, name) DO UPDATE SET value = excluded.value`, scope, subjectID, name, value).Error
}

// OwnValueRow is a field of the firm's own with what stands in it.
type OwnValueRow struct {
	OwnField
	Value string
}

// OwnFields reads the fields that the firm defined for a subject.
func OwnFields(tx *DB, subject string) ([]OwnField, error) {
	fields := []OwnField{}
	if subject == "" {
		return fields, nil
	}
	err := tx.gorm.Order("id").Find(&fields, "subject = ? AND active", subject).Error
	return fields, err
}

// OwnValues reads those fields with what stands in them for one record.
func OwnValues(tx *DB, subject string, id int64) ([]OwnValueRow, error) {
	rows := []OwnValueRow{}
	if subject == "" {
		return rows, nil
	}
	err := tx.gorm.Raw(`SELECT f.*, COALESCE(v.value, '') AS value FROM own_fields f LEFT JOIN own_values v ON v.field_id = f.id
		AND v.subject_id = ?
		WHERE f.subject = ? AND f.active ORDER BY f.id`, id, subject).Scan(&rows).Error
	return rows, err
}

// SetOwnValue writes what stands in a field of the firm's own.
func SetOwnValue(tx *DB, fieldID, subjectID int64, value string) error {
	return tx.gorm.Exec(`INSERT INTO main.own_values (field_id, subject_id, value) VALUES (?, ?, ?)
		ON CONFLICT (field_id, subject_id) DO UPDATE SET value = excluded.value`, fieldID, subjectID, value).Error
}

// ForgetLayers takes away the profile and own fields of a record that goes.
func ForgetLayers(tx *DB, scope profile.Scope, subject string, id int64) error {
	return errors.Join(
		tx.gorm.Exec("DELETE FROM main.profile_values WHERE scope = ? AND subject_id = ?", scope, id).Error,
		tx.gorm.Exec("DELETE FROM main.own_values WHERE subject_id = ? AND field_id IN (SELECT id FROM own_fields WHERE subject = ?)", id,
			subject).Error)
}

// TaxCodeByKey is the number of a tax code.
func TaxCodeByKey(tx *DB, code string) (int64, error) {
	record := new(TaxCode)
	err := tx.gorm.First(record, "code = ?", code).Error
	return record.ID, err
}

// ExemptCode is the first tax code in use that is exempt, or ErrNotFound.
func ExemptCode(tx *DB) (int64, error) {
	record := new(TaxCode)
	err := tx.gorm.Order("id").First(record, "category = 'E' AND active").Error
	return record.ID, err
}
