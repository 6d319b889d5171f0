package billing

import (
	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

// cutAtCap leaves of an engagement's work what its cap lets be billed: the oldest
// first; at the boundary a portion is cut. What is over stays unbilled, marked.
func cutAtCap(tx *app.Tx, e *store.Engagement, portions []store.PortionRow) ([]store.PortionRow, error) {
	if e.Arrangement != setup.Capped || e.Fee == nil {
		return portions, nil
	}
	fits, err := underCap(tx.DB, e, portions)
	if err != nil {
		return nil, err
	}
	under := []store.PortionRow{}
	for i, p := range portions {
		switch {
		case p.Agreed <= 0 || fits[i] == p.Agreed:
		case fits[i] == 0:
			if err := store.MarkOverCap(tx.DB, p.ID); err != nil {
				return nil, err
			}
			continue
		default:
			if err := cut(tx, &p.Portion, fits[i]); err != nil {
				return nil, err
			}
		}
		under = append(under, p)
	}
	return under, nil
}

// underCap is how much of each portion's value a cap lets be billed.
func underCap(tx *gorm.DB, e *store.Engagement, portions []store.PortionRow) ([]int64, error) {
	fits := make([]int64, len(portions))
	for i := range portions {
		fits[i] = portions[i].Agreed
	}
	if e.Arrangement != setup.Capped || e.Fee == nil {
		return fits, nil
	}
	before, err := store.FeesOn(tx, e.ID)
	if err != nil {
		return nil, err
	}
	under, at := []int64{}, []int{}
	for i := range portions {
		if underFee(&portions[i]) {
			under, at = append(under, portions[i].Agreed), append(at, i)
		}
	}
	for n, value := range core.UnderCap(*e.Fee-before, under) {
		fits[at[n]] = value
	}
	return fits, nil
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
