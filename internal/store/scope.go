package store

import (
	"fmt"
	"maps"
	"slices"

	"gorm.io/gorm"
)

// DB is the data as somebody may see it: a reader, or the transaction of an act. No query
// is made without one, and whoever opens one says for whom.
type DB struct {
	gorm  *gorm.DB
	scope AccessScope
}

// AccessScope is what somebody may see and change.
//
// Entities are the issuing entities to which they are limited: what belongs to others is
// not there at all on a DB of that scope, whatever the query, and what all entities share
// can be read and not changed (scope_rules.go). Leads are those whose engagements they
// review and bill: the queries of lists look at it; recording, which goes beyond, says so
// ([DB.AnyLead]). Nil means all of them.
type AccessScope struct {
	PersonID        int64
	Leads, Entities []int64
}

// Everything is the scope of the program itself, and of who is not limited.
var Everything = AccessScope{}

// Sees reports whether an engagement is in the scope.
func (s AccessScope) Sees(e *Engagement) bool {
	return (s.Leads == nil || slices.Contains(s.Leads, e.LeadID)) && (s.Entities == nil || slices.Contains(s.Entities, e.EntityID))
}

// Key tells apart scopes that see different things.
func (s AccessScope) Key() string {
	leads := "everybody's"
	if s.Leads != nil { // of nobody is not of everybody
		leads = fmt.Sprint(s.Leads)
	}
	if s.Entities == nil {
		return leads
	}
	return fmt.Sprint(leads, s.Entities, s.PersonID)
}

// Scope is what may be seen and changed here.
func (db *DB) Scope() AccessScope { return db.scope }

// AnyLead is the same data with the engagements of all leads, such as for recording time.
func (db *DB) AnyLead() *DB { return db.LedBy(nil) }

// LedBy is the same data with the engagements of some leads; nil: of all.
func (db *DB) LedBy(leads []int64) *DB {
	other := *db
	other.scope.Leads = leads
	return &other
}

// SQL is for tests, which look at rows and break them: it takes the test.
func (db *DB) SQL(test interface {
	Helper()
	Chdir(string)
}) *gorm.DB {
	test.Helper()
	return db.gorm
}

// inSight holds for an engagement e that is in the scope.
const inSight = "(@all OR e.lead_id IN @leads)"

// ledBy is a condition more: that a column names an engagement of @leads, where the scope is limited to some.
func ledBy(db *DB, column string) string {
	if db.scope.Leads == nil {
		return ""
	}
	return " AND " + column + " IN (SELECT e.id FROM engagements e WHERE e.lead_id IN @leads)"
}

// scoped adds what a condition on the scope names to the arguments of a query.
func (db *DB) scoped(arguments map[string]any) map[string]any {
	if arguments == nil {
		arguments = map[string]any{}
	}
	maps.Copy(arguments, map[string]any{"leads": db.scope.Leads, "all": db.scope.Leads == nil})
	return arguments
}
