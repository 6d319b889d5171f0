package wip

import (
	"slices"

	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Divide makes two portions of one, with its movements. The rest is as the
// portion was, but on no draft.
func Divide(tx *app.Tx, p *store.Portion, first, rest core.Piece) (*store.Portion, error) {
	part, err := store.NextPart(tx.DB, p)
	if err != nil {
		return nil, err
	}
	off := *p
	off.Row, off.Part = store.Row{}, part
	if p.Billing == core.Reserved {
		off.Billing, off.LineID, off.Covered = core.Unbilled, nil, false
	}
	off.Adjusted, off.AdjustedMinutes = 0, 0
	off.Minutes, off.Standard, off.Agreed = rest.Minutes, rest.Standard, rest.Agreed
	if err := store.Insert(tx.DB, &off); err != nil {
		return nil, err
	}
	leaves := off
	leaves.ID = p.ID
	tx.Move("divided", tx.Today, leaves, p.Bucket(), core.InRecorded, nil)
	tx.Move("divided", tx.Today, off, core.InRecorded, off.Bucket(), nil)
	p.Minutes, p.Standard, p.Agreed = first.Minutes, first.Standard, first.Agreed
	return &off, store.Save(tx.DB, p)
}

// Join makes one portion again of the parts of a source that are unbilled and
// alike: what somebody divided or decided stays apart.
func Join(tx *app.Tx, of *store.Portion) error {
	parts, err := store.Siblings(tx.DB, of)
	if err != nil {
		return err
	}
	if err := forgetPayers(tx, parts); err != nil {
		return err
	}
	for len(parts) > 0 {
		first, later := &parts[0], []store.Portion{}
		for i := range parts[1:] {
			p := parts[1+i]
			if p.Hold != first.Hold || p.HoldUntil != first.HoldUntil || p.Apart != first.Apart || p.Treatment != first.Treatment ||
				store.OrZero(p.PayerID) != store.OrZero(first.PayerID) {
				later = append(later, p)
				continue
			}
			if err := reunite(tx, first, &p); err != nil {
				return err
			}
		}
		first.OverCap = false
		if err := store.Save(tx.DB, first); err != nil {
			return err
		}
		parts = later
	}
	return nil
}

// forgetPayers makes parts of nobody that were one payer's each, once none of them is
// billed or on a draft: they are divided anew.
func forgetPayers(tx *app.Tx, parts []store.Portion) error {
	if !slices.ContainsFunc(parts, func(p store.Portion) bool { return p.PayerID != nil }) {
		return nil
	}
	paid, err := store.IsPaidInParts(tx.DB, &parts[0])
	if err != nil || paid {
		return err
	}
	for i := range parts {
		parts[i].PayerID = nil
	}
	return nil
}

// reunite puts a part back into the portion that it came off. The portion has
// still to be saved.
func reunite(tx *app.Tx, p, part *store.Portion) error {
	whole := p.Piece().Plus(part.Piece())
	tx.Move("joined", tx.Today, *part, part.Bucket(), core.InRecorded, nil)
	joins := *part
	joins.ID = p.ID
	tx.Move("joined", tx.Today, joins, core.InRecorded, p.Bucket(), nil)
	part.Removed = true
	p.Minutes, p.Standard, p.Agreed = whole.Minutes, whole.Standard, whole.Agreed
	p.Adjusted, p.AdjustedMinutes = p.Adjusted+part.Adjusted, p.AdjustedMinutes+part.AdjustedMinutes
	return store.Save(tx.DB, part)
}
