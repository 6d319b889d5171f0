package demo

import (
	"context"
	"errors"

	"dorvet/internal/store"
)

// Of each step of the scale: how many time entries it stands for, and how many
// unbilled ones are added; each engagement that has some of those has entriesEach.
const (
	perScale    = 6000
	unbilledPer = 100
	entriesEach = 25
)

// Scale multiplies the billed history of the demo firm in a folder, for tests under
// load.
func Scale(ctx context.Context, folder string, scale int) error {
	data, err := store.Open(ctx, folder)
	if err != nil {
		return err
	}
	return errors.Join(data.Unsynced(ctx), data.Multiply(ctx,
		store.Load{Entries: perScale * scale, Unbilled: unbilledPer * scale, Each: entriesEach}), data.Close())
}
