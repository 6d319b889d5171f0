// Package unbilled is what could be billed: what of some engagements is unbilled up to a
// day, and which drafts would come of it, to the cent. It reads, and asks core/draft.
//
// The list of work in progress adds it up, the tally of a run shows it, making drafts
// stores it: three views of one value, so that what was shown is what is made.
package unbilled

import (
	"slices"

	"dorvet/core/day"
	"dorvet/core/profile"
	"dorvet/core/tax"
	"dorvet/internal/app"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// Work is what a selection finds unbilled, and the drafts that would come of it.
type Work struct {
	Engagements []store.EngagementRow // that were asked for and may be seen
	Parts       map[int64][]store.PartSum
	Charges     map[int64][]store.Charge
	Left        map[int64]Leaving
	CapsLeft    map[int64]int64 // of those that have a cap, in minor units
	Drafts      []Draft         // in the order in which they are made; of each, something can be billed
}

// Read finds what of a selection can be billed, in the scope of who reads. It changes
// nothing: what plans still lack of charges is foreseen, and sums are read where they do.
func Read(tx *store.DB, today day.Day, s Selection) (*Work, error) {
	r := &reader{tx: tx, today: today, asked: s}
	r.charges = func(ids []int64) ([]store.Charge, error) { return ChargesForeseen(tx, ids, s.ChargesUpTo) }
	return r.read()
}

// ReadListed is Read for a list that knows its charges already.
func ReadListed(tx *store.DB, today day.Day, s Selection, charges []store.Charge) (*Work, error) {
	r := &reader{tx: tx, today: today, asked: s}
	r.charges = func(ids []int64) ([]store.Charge, error) {
		own, kept := map[int64]bool{}, []store.Charge{}
		for _, id := range ids {
			own[id] = true
		}
		for _, c := range charges {
			if own[c.EngagementID] {
				kept = append(kept, c)
			}
		}
		return kept, nil
	}
	return r.read()
}

// All finds everything that can be billed of the days of a selection, of some clients or of all
// (nil): what drafts of everything, dated today, would come to.
func All(tx *store.DB, today day.Day, s Selection, clientIDs []int64) (*Work, error) {
	s.Dated = today
	if s.ChargesUpTo.IsZero() {
		s.ChargesUpTo = today
	}
	if clientIDs != nil {
		rows, err := store.EngagementRowsOf(tx, clientIDs...)
		if err != nil {
			return nil, err
		}
		s.EngagementIDs = idsOf(rows)
		return Read(tx, today, s)
	}
	charges, err := ChargesForeseen(tx, nil, s.ChargesUpTo)
	if err != nil {
		return nil, err
	}
	if s.EngagementIDs, err = store.UnbilledEngagements(tx, store.UnbilledFilter{From: s.From, UpTo: s.UpTo}); err != nil {
		return nil, err
	}
	for _, c := range charges {
		s.EngagementIDs = append(s.EngagementIDs, c.EngagementID)
	}
	slices.Sort(s.EngagementIDs)
	s.EngagementIDs = slices.Compact(s.EngagementIDs)
	return ReadListed(tx, today, s, charges)
}

// Take is Read, to make the drafts: charges that are due are made, and every portion is
// there by itself, as it is stored on a line.
func Take(tx *app.Tx, s Selection) (*Work, error) {
	r := &reader{tx: tx.DB, today: tx.Today, asked: s, whole: true}
	r.charges = func(ids []int64) ([]store.Charge, error) { return ChargesDue(tx, ids, s.ChargesUpTo) }
	return r.read()
}

// reader is work while it is read.
type reader struct {
	tx    *store.DB
	today day.Day
	asked Selection
	whole bool // every portion by itself
	work  *Work

	charges  func(engagementIDs []int64) ([]store.Charge, error)
	codes    map[int64]tax.Code
	byName   map[string]tax.Code
	profiles func(clientID, engagementID int64) profile.Profile
	advances map[int64][]store.OpenAdvance
	payers   map[int64][]store.Payer
	portions map[int64][]store.PortionRow
	taxed    map[string]int64 // tax codes that were found already
	held     *held
}

func (r *reader) read() (*Work, error) {
	r.taxed, r.held = map[string]int64{}, newHeld(r.tx)
	r.work = &Work{Left: r.asked.left(), Parts: map[int64][]store.PartSum{}, Charges: map[int64][]store.Charge{}, Drafts: []Draft{}}
	if len(r.asked.EngagementIDs) == 0 {
		return r.work, nil
	}
	for _, step := range []func() error{r.readEngagements, r.readWork, r.readTerms, r.group} {
		if err := step(); err != nil {
			return nil, err
		}
	}
	for i := range r.work.Drafts {
		if err := r.compute(&r.work.Drafts[i]); err != nil {
			return nil, err
		}
	}
	return r.work, nil
}

func (r *reader) readEngagements() (err error) {
	if r.work.Engagements, err = store.EngagementRows(r.tx, r.asked.EngagementIDs); err != nil {
		return err
	}
	scope := r.tx.Scope()
	r.work.Engagements = slices.DeleteFunc(r.work.Engagements, func(e store.EngagementRow) bool {
		return !scope.Sees(&e.Engagement)
	})
	return nil
}

func (r *reader) readWork() error {
	ids := idsOf(r.work.Engagements)
	parts, err := store.PartSums(r.tx, store.UnbilledFilter{From: r.asked.From, UpTo: r.asked.UpTo, Today: r.today, EngagementIDs: ids})
	if err != nil {
		return err
	}
	for _, p := range parts {
		r.work.Parts[p.EngagementID] = append(r.work.Parts[p.EngagementID], p)
	}
	charges, err := r.charges(ids)
	for _, c := range charges {
		r.work.Charges[c.EngagementID] = append(r.work.Charges[c.EngagementID], c)
	}
	return err
}

func (r *reader) readTerms() (err error) {
	ids, clients := idsOf(r.work.Engagements), []int64{}
	for _, e := range r.work.Engagements {
		clients = append(clients, e.ClientID)
	}
	if r.payers, err = store.PayersOf(r.tx, ids); err != nil {
		return err
	}
	for _, payers := range r.payers {
		for _, p := range payers {
			clients = append(clients, p.ClientID)
		}
	}
	slices.Sort(clients)
	if r.profiles, err = profiles.Profiles(r.tx, slices.Compact(clients), ids); err != nil {
		return err
	}
	if r.codes, err = store.TaxCodes(r.tx); err != nil {
		return err
	}
	r.byName = CodesByName(r.codes)
	engagements := make([]*store.Engagement, len(r.work.Engagements))
	for i := range r.work.Engagements {
		engagements[i] = &r.work.Engagements[i].Engagement
	}
	if r.work.CapsLeft, err = CapsLeft(r.tx, engagements, 0); err != nil {
		return err
	}
	open, err := store.OpenAdvances(r.tx, ids, 0)
	r.advances = map[int64][]store.OpenAdvance{}
	for _, a := range open {
		r.advances[a.EngagementID] = append(r.advances[a.EngagementID], a)
	}
	return err
}

// group says which drafts there are, and reads portions where they are needed.
func (r *reader) group() error {
	billed := []store.EngagementRow{}
	for _, e := range r.work.Engagements {
		if r.has(e.ID) {
			billed = append(billed, e)
		}
	}
	order, groups := r.asked.grouped(billed)
	byItself := []int64{}
	for _, key := range order {
		d, err := r.begin(key, groups[key])
		if err != nil {
			return err
		}
		if r.whole || d.Asked.OneByOne() || len(r.payers[d.Engagements[0].ID]) > 0 {
			d.whole, byItself = true, append(byItself, idsOf(d.Engagements)...)
		}
		r.work.Drafts = append(r.work.Drafts, d)
	}
	return r.readPortions(byItself)
}

func (r *reader) readPortions(engagementIDs []int64) (err error) {
	if len(engagementIDs) == 0 {
		return nil
	}
	s := r.asked
	s.EngagementIDs = engagementIDs
	r.portions, err = s.Portions(r.tx, r.today)
	return err
}

// Portions are the parts of unbilled work that a selection takes, by engagement, the
// oldest first.
func (s *Selection) Portions(tx *store.DB, today day.Day) (map[int64][]store.PortionRow, error) {
	rows, err := store.UnbilledPortions(tx, store.UnbilledFilter{From: s.From, UpTo: s.UpTo, EngagementIDs: s.EngagementIDs})
	taken, left := map[int64][]store.PortionRow{}, s.left()
	for _, p := range rows {
		if Billable(&p, today) && !left[p.EngagementID].portion(&p) {
			taken[p.EngagementID] = append(taken[p.EngagementID], p)
		}
	}
	return taken, err
}

// Billable reports whether an unbilled portion can be put on a bill on a day.
func Billable(p *store.PortionRow, today day.Day) bool {
	return !p.WithoutRate && !p.Hold.Holds(p.HoldUntil, today)
}

// has reports whether something of an engagement can be billed, whatever its cap leaves.
func (r *reader) has(engagementID int64) bool {
	leaves := r.work.Left[engagementID]
	if len(r.work.Charges[engagementID]) > 0 && !leaves.Charges {
		return true
	}
	return slices.ContainsFunc(r.work.Parts[engagementID], func(p store.PartSum) bool { return p.Entries > 0 && !leaves.part(&p) })
}

// IsCapped reports whether the fees of an engagement have a cap.
func IsCapped(e *store.Engagement) bool { return e.Arrangement == setup.Capped && e.Fee != nil }

// CapsLeft is what is left of the caps of those engagements that have one, in minor units,
// beside one invoice.
func CapsLeft(tx *store.DB, engagements []*store.Engagement, butInvoiceID int64) (map[int64]int64, error) {
	left, ids := map[int64]int64{}, []int64{}
	for _, e := range engagements {
		if IsCapped(e) {
			left[e.ID], ids = *e.Fee, append(ids, e.ID)
		}
	}
	if len(ids) == 0 {
		return left, nil
	}
	billed, err := store.FeesOn(tx, ids, butInvoiceID)
	for id, fees := range billed {
		left[id] -= fees
	}
	return left, err
}

// account is whose money a draft may take.
func (k Key) account() store.Account {
	return store.Account{ClientID: k.ClientID, EntityID: k.EntityID, Currency: k.Currency}
}

func idsOf(engagements []store.EngagementRow) []int64 {
	ids := make([]int64, len(engagements))
	for i, e := range engagements {
		ids[i] = e.ID
	}
	return ids
}

// CodesByName are tax codes as the core asks for them.
func CodesByName(byID map[int64]tax.Code) map[string]tax.Code {
	codes := make(map[string]tax.Code, len(byID))
	for _, code := range byID {
		codes[code.Code] = code
	}
	return codes
}
