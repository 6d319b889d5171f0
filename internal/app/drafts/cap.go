package drafts

import (
	"fmt"
	"math"
	"slices"

	"dorvet/core/draft"
	"dorvet/internal/app"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// fits is how much of the agreed value of portions, by their numbers, caps let be
// billed; one that is not named is billed whole.
type fits map[int64]int64

// of is how much of a portion fits.
func (f fits) of(p *store.PortionRow) int64 {
	if value, is := f[p.ID]; is {
		return value
	}
	return p.Agreed
}

// underCap says how much of portions of an engagement its cap lets stand on an invoice
// beside other lines: fees after discount count, the oldest first.
func underCap(tx *app.Tx, inv *store.Invoice, e *store.Engagement, portions []store.PortionRow, others []store.InvoiceLine) (fits, error) {
	question, err := asked(tx, inv, others)
	if err != nil {
		return nil, err
	}
	if question.Caps, err = unbilled.CapsLeft(tx.DB, []*store.Engagement{e}, inv.ID); err != nil {
		return nil, err
	}
	inAnOrder := slices.ContainsFunc(others, func(l store.InvoiceLine) bool { return l.Position > 0 })
	for i := range portions {
		item := unbilled.OfPortion(&portions[i])
		if inAnOrder { // what is new comes last
			item.Position = math.MaxInt
		}
		question.Items = append(question.Items, item)
	}
	values, err := draft.Fits(question)
	if err != nil {
		return nil, app.InField("value", err)
	}
	fit := fits{}
	for i := range portions {
		fit[portions[i].ID] = values[len(others)+i]
	}
	return fit, nil
}

// cutAtCaps leaves of portions what fits; at the boundary one is cut. What is over
// stays unbilled, marked.
func cutAtCaps(tx *app.Tx, portions []store.PortionRow, fit fits) ([]store.PortionRow, error) {
	under := []store.PortionRow{}
	for _, p := range portions {
		switch value := fit.of(&p); {
		case p.Agreed <= 0 || value == p.Agreed:
		case value == 0:
			if err := store.MarkOverCap(tx.DB, p.ID); err != nil {
				return nil, err
			}
			continue
		default:
			if err := cut(tx, &p.Portion, value); err != nil {
				return nil, err
			}
		}
		under = append(under, p)
	}
	return under, nil
}

// cut divides a portion at an agreed value. The rest is a portion of its own, over
// the cap; the movements say so without changing what is unbilled.
func cut(tx *app.Tx, p *store.Portion, agreed int64) error {
	first, rest, err := p.Piece().Cut(agreed)
	if err != nil {
		return err
	}
	over, err := wip.Divide(tx, p, first, rest)
	if err != nil {
		return err
	}
	return store.MarkOverCap(tx.DB, over.ID)
}

// fitAgain cuts the work on a draft anew at the caps of its engagements, after its
// discount has changed: less of it may fit, or more of what was left.
func fitAgain(tx *app.Tx, inv *store.Invoice) error {
	ids, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	slices.Sort(ids)
	for _, id := range ids {
		e, err := store.Get[store.Engagement](tx.DB, id)
		if err != nil {
			return err
		}
		if !unbilled.IsCapped(e) {
			continue
		}
		if err := fitAgainOf(tx, inv, e); err != nil {
			return fmt.Errorf("fit work under the cap of engagement %d: %w", e.ID, err)
		}
	}
	return nil
}

func fitAgainOf(tx *app.Tx, inv *store.Invoice, e *store.Engagement) error {
	on, err := store.PortionsOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	on = slices.DeleteFunc(on, func(p store.PortionRow) bool {
		return p.EngagementID != e.ID || !underFee(&p) || p.Agreed <= 0 || p.Covered
	})
	over, err := overCap(tx, inv, e)
	if err != nil {
		return err
	}
	lines, err := store.LinesOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	others := slices.DeleteFunc(lines, func(l store.InvoiceLine) bool {
		return slices.ContainsFunc(on, func(p store.PortionRow) bool { return *p.LineID == l.ID })
	})
	fit, err := underCap(tx, inv, e, slices.Concat(on, over), others)
	if err != nil {
		return err
	}
	// What is cut differently goes off the draft, where its parts are joined, and comes
	// back as far as it fits.
	again := map[sourceOf]bool{}
	for i := range over {
		again[sourceOfPortion(&over[i])] = true
	}
	changed := slices.ContainsFunc(over, func(p store.PortionRow) bool { return fit.of(&p) > 0 })
	for i := range on {
		if p := &on[i]; fit.of(p) != p.Agreed {
			again[sourceOfPortion(p)], changed = true, true
		}
	}
	if !changed {
		return nil
	}
	for i := range on {
		if again[sourceOfPortion(&on[i])] {
			if err := Release(tx, &on[i].Portion); err != nil {
				return err
			}
		}
	}
	back, err := unbilledUnderFee(tx, inv, e)
	if err != nil {
		return err
	}
	_, err = AddPortions(tx, inv, slices.DeleteFunc(back, func(p store.PortionRow) bool { return !again[sourceOfPortion(&p)] }))
	return err
}

// sourceOf is what a portion is a part of.
type sourceOf struct {
	kind string
	id   int64
}

func sourceOfPortion(p *store.PortionRow) sourceOf { return sourceOf{p.Source, p.SourceID} }

// unbilledUnderFee reads the unbilled work of an engagement that counts against its cap
// and can be billed.
func unbilledUnderFee(tx *app.Tx, inv *store.Invoice, e *store.Engagement) ([]store.PortionRow, error) {
	rows, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{UpTo: inv.UpToDay, EngagementIDs: []int64{e.ID}})
	return slices.DeleteFunc(rows, func(p store.PortionRow) bool {
		return !underFee(&p) || !unbilled.Billable(&p, tx.Today)
	}), err
}

// overCap reads what of it a cap left.
func overCap(tx *app.Tx, inv *store.Invoice, e *store.Engagement) ([]store.PortionRow, error) {
	rows, err := unbilledUnderFee(tx, inv, e)
	return slices.DeleteFunc(rows, func(p store.PortionRow) bool { return !p.OverCap }), err
}
