package drafts

import (
	"context"
	"fmt"
	"maps"
	"slices"

	core "dorvet/core/wip"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/wip"
	"dorvet/internal/store"
)

// Rows are rows of a draft: entries that are on it, and lines without an entry.
type Rows struct {
	PortionIDs []int64 `json:"portionIds" maxItems:"5000"`
	LineIDs    []int64 `json:"lineIds" maxItems:"5000"`
}

// Back is what is put on a draft, for the first time or again: unbilled entries,
// planned charges, and lines as they are typed.
type Back struct {
	PortionIDs []int64     `json:"portionIds" maxItems:"5000"`
	ChargeIDs  []int64     `json:"chargeIds" maxItems:"1000"`
	Lines      []LineTyped `json:"lines" maxItems:"1000"`
	Release    bool        `json:"release" doc:"entries that are on hold are released"`
}

// TakeOut takes rows off a draft: what they bill is unbilled again.
func TakeOut(ctx context.Context, a *app.App, r app.Request, e Edit, rows Rows) (*Changed, error) {
	return Change(ctx, a, r, "take out of draft", e, rows, func(tx *app.Tx, inv *store.Invoice) error {
		took := []said{}
		for _, id := range rows.PortionIDs {
			one, err := takeOutPortion(tx, inv, id)
			if err != nil {
				return err
			}
			took = append(took, one)
		}
		for _, id := range rows.LineIDs {
			one, err := takeOutLine(tx, inv, id)
			if err != nil {
				return err
			}
			took = append(took, one)
		}
		each, sentence, err := inHistory("Took out", took)
		tx.Describe(each, nil, "%s", sentence)
		return err
	})
}

// said is a row that was taken out or put on: its text, and how the history names it
// when it is the only one.
type said struct{ text, whole string }

// inHistory is how the history tells of rows: each of them, and a sentence.
func inHistory(did string, rows []said) (each any, sentence string, err error) {
	if len(rows) == 0 {
		return nil, "", app.Refuse(app.Invalid, "Choose at least one line.")
	}
	if len(rows) == 1 {
		return rows[0].text, did + " " + rows[0].whole, nil
	}
	texts := make([]string, len(rows))
	for i := range rows {
		texts[i] = rows[i].whole
	}
	return texts, fmt.Sprintf("%s %d lines", did, len(rows)), nil
}

func takeOutPortion(tx *app.Tx, inv *store.Invoice, id int64) (said, error) {
	portion, err := store.Get[store.Portion](tx.DB, id)
	if err != nil {
		return said{}, app.Missing(err, "entry")
	}
	if _, err := portion.Billing.After(core.Release); err != nil {
		return said{}, app.AsConflict(err)
	}
	line, err := store.Get[store.InvoiceLine](tx.DB, *portion.LineID)
	if err != nil {
		return said{}, err
	}
	if line.InvoiceID != inv.ID {
		return said{}, app.Refuse(app.Conflict, "This entry is on another draft: load the page again.")
	}
	if portion.Source == "time" {
		tx.LinkTo(app.OfEntry, portion.SourceID)
	}
	return said{line.Text, line.Text + " of " + portion.WorkedDay.Long()}, Release(tx, portion)
}

// takeOutLine takes a line off a draft with all that is on it.
func takeOutLine(tx *app.Tx, inv *store.Invoice, id int64) (said, error) {
	line, err := lineOn(tx, inv, id)
	if err != nil {
		return said{}, err
	}
	portions, err := store.PortionsOn(tx.DB, inv.ID)
	if err != nil {
		return said{}, err
	}
	if err := store.RemoveLine(tx.DB, line); err != nil {
		return said{}, err
	}
	for i := range portions {
		if *portions[i].LineID != id {
			continue
		}
		Concerns(tx, &portions[i])
		if err := wip.Join(tx, &portions[i].Portion); err != nil {
			return said{}, err
		}
	}
	return said{line.Text, "“" + line.Text + "”, " + inv.Amount(line.Amount).String()}, CoverBy(tx, inv, line.EngagementID)
}

// TakeOutEngagement takes everything of an engagement off a draft.
func TakeOutEngagement(tx *app.Tx, inv *store.Invoice, engagementID int64) error {
	lines, err := store.LinesOf(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	for i := range lines {
		if lines[i].EngagementID != engagementID {
			continue
		}
		if _, err := takeOutLine(tx, inv, lines[i].ID); err != nil {
			return err
		}
	}
	return nil
}

// PutOn puts on a draft what is unbilled of its engagements, planned charges, and lines
// by hand.
func PutOn(ctx context.Context, a *app.App, r app.Request, e Edit, back Back) (*Changed, error) {
	return Change(ctx, a, r, "put on draft", e, back, func(tx *app.Tx, inv *store.Invoice) error {
		put, err := putOnPortions(tx, inv, back.PortionIDs, back.Release)
		if err != nil {
			return err
		}
		for _, id := range back.ChargeIDs {
			charge, err := billedBy(tx, inv, id)
			if err != nil {
				return err
			}
			if err := putCharges(tx, inv, []store.Charge{*charge}); err != nil {
				return err
			}
			put = append(put, said{charge.Text, "“" + charge.Text + "”, " + inv.Amount(charge.Amount).String()})
		}
		for _, typed := range back.Lines {
			line, err := byHand(tx, inv, typed)
			if err != nil {
				return err
			}
			if err := insertLines(tx, inv, []store.InvoiceLine{*line}); err != nil {
				return err
			}
			put = append(put, said{line.Text, "“" + line.Text + "”, " + inv.Amount(line.Amount).String()})
		}
		each, sentence, err := inHistory("Put on", put)
		tx.Describe(nil, each, "%s", sentence)
		return err
	})
}

// putOnPortions puts entries on a draft, as far as the caps of their engagements go.
func putOnPortions(tx *app.Tx, inv *store.Invoice, ids []int64, release bool) ([]said, error) {
	if len(ids) == 0 {
		return nil, nil
	}
	engagements, err := store.EngagementsOf(tx.DB, inv.ID)
	if err != nil {
		return nil, err
	}
	open, err := store.UnbilledPortions(tx.DB, store.UnbilledFilter{UpTo: inv.UpToDay, EngagementIDs: engagements})
	if err != nil {
		return nil, err
	}
	put, byEngagement, held := []said{}, map[int64][]store.PortionRow{}, []*store.Portion{}
	for _, p := range open {
		if !slices.Contains(ids, p.ID) {
			continue
		}
		if p.WithoutRate {
			return nil, app.Refuse(app.Conflict, "No rate holds for “%s”: set one, then put it on.", papers.LineText(p))
		}
		if p.Hold.Holds(p.HoldUntil, tx.Today) {
			held = append(held, &p.Portion)
		}
		byEngagement[p.EngagementID] = append(byEngagement[p.EngagementID], p)
		put = append(put, said{papers.LineText(p), papers.LineText(p) + " of " + p.WorkedDay.Long()})
	}
	if len(put) < len(ids) {
		return nil, app.Refuse(app.Conflict, "An entry of these is not unbilled any more: load the page again.")
	}
	switch {
	case len(held) > 0 && !release:
		return nil, app.Refuse(app.Conflict, "%s on hold: release it, then put it on.", app.Counted(len(held), "entry is", "entries are"))
	case len(held) > 0:
		if _, err := wip.Take(tx, held, wip.Decision{Kind: wip.Release}); err != nil {
			return nil, err
		}
	}
	fit := 0
	for _, id := range slices.Sorted(maps.Keys(byEngagement)) {
		added, err := AddPortions(tx, inv, byEngagement[id])
		if err != nil {
			return nil, err
		}
		fit += added
	}
	if fit > 0 && fit < len(put) {
		tx.AddAside("as far as the cap goes")
	}
	if fit == 0 {
		return nil, app.Refuse(app.Conflict, "The cap of its engagement is reached: agree on a higher one and set it first, then put this on.")
	}
	return put, nil
}
