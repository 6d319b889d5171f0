package store

import (
	"maps"
	"slices"
)

// Sight is what somebody may see: the engagements of some leads, in some issuing
// entities. Nil means all of them.
type Sight struct{ Leads, Entities []int64 }

// inSight holds for an engagement e that may be seen.
const inSight = "(@all OR e.lead_id IN @leads) AND (@everywhere OR e.entity_id IN @entities)"

// with adds what a condition on sight needs to the arguments of a query.
func (s Sight) with(arguments map[string]any) map[string]any {
	maps.Copy(arguments, s.Arguments())
	return arguments
}

// Arguments are what a condition on sight names.
func (s Sight) Arguments() map[string]any {
	return map[string]any{"leads": s.Leads, "all": s.Leads == nil, "entities": s.Entities, "everywhere": s.Entities == nil}
}

// Limited reports whether not everything may be seen.
func (s Sight) Limited() bool { return s.Leads != nil || s.Entities != nil }

// Sees reports whether an engagement may be seen.
func (s Sight) Sees(e *Engagement) bool {
	return (s.Leads == nil || slices.Contains(s.Leads, e.LeadID)) && s.SeesEntity(e.EntityID)
}

// SeesEntity reports whether something of an issuing entity may be seen.
func (s Sight) SeesEntity(id int64) bool { return s.Entities == nil || slices.Contains(s.Entities, id) }
