package store

import (
	"context"
	"encoding/json"

	"gorm.io/gorm"
	"gorm.io/gorm/clause"
)

// many are numbers that a statement looks for, however many they are: a statement has
// no more than 32,766 places for values, and a firm may have more engagements.
type many []int64

// few is up to how many numbers have a place each in a statement, which SQLite plans
// best; more are one value, a list.
const few = 1000

// ofClients is a condition more: that a column names one of @clients, where some are asked for (nil: all are).
func ofClients(clientIDs []int64, column string) string {
	if clientIDs == nil {
		return ""
	}
	return " AND " + column + " IN @clients"
}

// ofThem are the values that [ofClients] asks for, where nothing else has values.
func ofThem(clientIDs []int64) []any {
	if clientIDs == nil {
		return nil
	}
	return []any{map[string]any{"clients": many(clientIDs)}}
}

// GormValue implements gorm.Valuer.
func (m many) GormValue(context.Context, *gorm.DB) clause.Expr {
	if len(m) <= few {
		return clause.Expr{SQL: "?", Vars: []any{[]int64(m)}}
	}
	list, err := json.Marshal([]int64(m))
	if err != nil {
		panic(err) // numbers are always written
	}
	return clause.Expr{SQL: "(SELECT value FROM json_each(?))", Vars: []any{string(list)}}
}
