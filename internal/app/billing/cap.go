package billing

import (
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/wip"
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
	over, err := wip.Divide(tx, p, first, rest)
	if err != nil {
		return err
	}
	return store.MarkOverCap(tx.DB, over.ID)
}
