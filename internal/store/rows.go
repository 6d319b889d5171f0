package store

import (
	"context"
	"encoding"
	"fmt"
	"reflect"

	"dorvet/core/day"

	"gorm.io/gorm/schema"
)

// Row is what every row that people edit has: a number, and a version that
// counts its changes.
type Row struct {
	ID      int64 `gorm:"primaryKey" json:"id"`
	Version int64 `json:"version"`
}

// Head is the row's number and version.
func (r *Row) Head() *Row { return r }

// Editable is a row that people edit.
type Editable interface{ Head() *Row }

// Get reads the row of a number, or ErrNotFound.
func Get[T any](tx *DB, id int64) (*T, error) {
	record := new(T)
	err := tx.gorm.First(record, "id = ?", id).Error
	return record, err
}

// All reads every row of a table in an order.
func All[T any](tx *DB, order string) ([]T, error) {
	records := []T{}
	err := tx.gorm.Order(order).Find(&records).Error
	return records, err
}

// Insert adds rows (a pointer to one, or a slice) and gives them their numbers.
func Insert(tx *DB, records any) error {
	if v := reflect.ValueOf(records); v.Kind() == reflect.Slice && v.Len() == 0 {
		return nil
	}
	return tx.gorm.CreateInBatches(records, 500).Error
}

// Save writes a changed row, if its version is still the one that was read;
// otherwise ErrStale, and nothing is written.
func Save(tx *DB, record Editable) error {
	row := record.Head()
	seen := row.Version
	row.Version++
	result := tx.gorm.Model(record).Where("version = ?", seen).Select("*").Updates(record)
	if result.Error == nil && result.RowsAffected == 0 {
		row.Version = seen
		return ErrStale
	}
	return result.Error
}

func init() {
	schema.RegisterSerializer("day", dayText{})
}

// dayText keeps a day as ISO text.
type dayText struct{}

// Scan implements schema.SerializerInterface.
func (dayText) Scan(ctx context.Context, field *schema.Field, dst reflect.Value, value any) error {
	var text []byte
	switch v := value.(type) {
	case nil:
	case string:
		text = []byte(v)
	case []byte:
		text = v
	default:
		return fmt.Errorf("%v is no day", value)
	}
	var d day.Day
	if err := d.UnmarshalText(text); err != nil {
		return err
	}
	field.ReflectValueOf(ctx, dst).SetInt(int64(d))
	return nil
}

// Value implements schema.SerializerInterface.
func (dayText) Value(_ context.Context, _ *schema.Field, _ reflect.Value, value any) (any, error) {
	text, err := value.(encoding.TextMarshaler).MarshalText()
	return string(text), err
}

// OrZero is a number that a row may lack; 0 says that it does.
func OrZero(id *int64) int64 {
	if id == nil {
		return 0
	}
	return *id
}
