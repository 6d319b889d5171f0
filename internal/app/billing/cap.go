package billing

import (
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// cutAtCap leaves of an engagement's work what its cap lets be billed: the oldest
// first; at the boundary a portion is cut. What is over stays unbilled, marked.
func cutAtCap(tx *app.Tx, e *store.Engagement, portions []store.PortionRow) ([]store.PortionRow, error) {
	if e.Arrangement != setup.Capped || e.Fee == nil {
		return portions, nil
	}
	before, err := store.FeesOn(tx.DB, e.ID)
	if err != nil {
		return nil, err
	}
	agreed := make([]int64, len(portions))
	for i := range portions {
		if underFee(&portions[i]) {
			agreed[i] = portions[i].Agreed
		}
	}
	under := []store.PortionRow{}
	for i, fits := range core.UnderCap(*e.Fee-before, agreed) {
		p := portions[i]
		switch {
		case agreed[i] <= 0 || fits == agreed[i]:
		case fits == 0:
			if err := store.MarkOverCap(tx.DB, p.ID); err != nil {
				return nil, err
			}
			continue
		default:
			if err := cut(tx, &p.Portion, fits); err != nil {
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
	over, err := divide(tx, p, first, rest)
	if err != nil {
		return err
	}
	return store.MarkOverCap(tx.DB, over.ID)
}

// divide makes two portions of one, with its movements.
func divide(tx *app.Tx, p *store.Portion, first, rest core.Piece) (*store.Portion, error) {
	part, err := store.NextPart(tx.DB, p)
	if err != nil {
		return nil, err
	}
	over := *p
	over.Row, over.Part = store.Row{}, part
	over.Minutes, over.Standard, over.Agreed = rest.Minutes, rest.Standard, rest.Agreed
	if err := store.Insert(tx.DB, &over); err != nil {
		return nil, err
	}
	leaves := over
	leaves.ID = p.ID
	tx.Move("divided", tx.Today, leaves, p.Bucket(), core.InRecorded, nil)
	tx.Move("divided", tx.Today, over, core.InRecorded, over.Bucket(), nil)
	p.Minutes, p.Standard, p.Agreed = first.Minutes, first.Standard, first.Agreed
	return &over, store.Save(tx.DB, p)
}

// join makes one portion again of the parts of a source that are all unbilled.
func join(tx *app.Tx, of *store.Portion) error {
	parts, err := store.Siblings(tx.DB, of)
	if err != nil {
		return err
	}
	for len(parts) > 0 {
		first, later := &parts[0], []store.Portion{}
		for i := range parts[1:] {
			p := parts[1+i]
			if p.Hold != first.Hold || p.HoldUntil != first.HoldUntil {
				later = append(later, p)
				continue
			}
			whole := first.Piece().Plus(p.Piece())
			tx.Move("joined", tx.Today, p, p.Bucket(), core.InRecorded, nil)
			joins := p
			joins.ID = first.ID
			tx.Move("joined", tx.Today, joins, core.InRecorded, first.Bucket(), nil)
			p.Removed = true
			if err := store.Save(tx.DB, &p); err != nil {
				return err
			}
			first.Minutes, first.Standard, first.Agreed = whole.Minutes, whole.Standard, whole.Agreed
		}
		first.OverCap = false
		if err := store.Save(tx.DB, first); err != nil {
			return err
		}
		parts = later
	}
	return nil
}
