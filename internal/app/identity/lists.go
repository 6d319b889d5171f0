package identity

import (
	"context"
	"encoding/json"
	"fmt"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

// ListShape is what a person has made of a list.
type ListShape struct {
	Hidden []string       `json:"hidden" maxItems:"60" doc:"the columns that they left out"`
	Widths map[string]int `json:"widths" doc:"of columns, in pixels; 0: as wide as at first"`
	Order  *ListOrder     `json:"order,omitempty" doc:"none: as the rows come"`
}

// ListOrder is the column by which a list stands.
type ListOrder struct {
	Column string `json:"column" maxLength:"60"`
	Down   bool   `json:"down"`
}

// Bounds, far above what lists need: how many are kept, and the bytes of one.
const (
	mostLists = 300
	mostShape = 10_000
)

// listsOf reads what a person has made of their lists, by the names of the lists.
func listsOf(tx *store.DB, personID int64) (map[string]ListShape, error) {
	rows, err := store.ListsOf(tx, personID)
	if err != nil {
		return nil, err
	}
	lists := make(map[string]ListShape, len(rows))
	for _, row := range rows {
		var shape ListShape
		if err := json.Unmarshal(row.Shape, &shape); err != nil {
			return nil, fmt.Errorf("read the list %s of person %d: %w", row.List, personID, err)
		}
		lists[row.List] = shape
	}
	return lists, nil
}

// KeepList keeps what the actor makes of a list, so that it stands so wherever they sign in; of
// a list that stands as at first nothing is kept.
func KeepList(ctx context.Context, a *app.App, actor app.Actor, list string, shape ListShape) error {
	kept, err := json.Marshal(shape)
	if err != nil {
		return fmt.Errorf("write the shape of the list %s: %w", list, err)
	}
	if len(kept) > mostShape {
		return app.Refuse(app.Invalid, "This is more than is kept of a list: put it back as at first.")
	}
	return a.Store.Write(ctx, store.Everything, func(tx *store.DB) error {
		if len(shape.Hidden) == 0 && len(shape.Widths) == 0 && shape.Order == nil {
			return store.DropList(tx, actor.PersonID, list)
		}
		lists, err := store.ListsOf(tx, actor.PersonID)
		if err != nil {
			return err
		}
		if len(lists) >= mostLists {
			return app.Refuse(app.Invalid, "What you made of %d lists is kept, which is the most: put one that you no longer use back as at first.",
				mostLists)
		}
		return store.KeepList(tx, actor.PersonID, list, kept)
	})
}
