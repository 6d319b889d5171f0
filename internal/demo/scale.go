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
	unbilledPer = 250
	entriesEach = 25
)

// Scale multiplies the billed history of the demo firm in a folder, for tests under
// load: to a firm that has so much, or for stress to one that has clients above all.
func Scale(ctx context.Context, folder string, scale int, stress bool) error {
	load := store.Load{Entries: perScale * scale, Unbilled: unbilledPer * scale, Each: entriesEach,
		Shape: store.OfAFirm(perScale * scale)}
	if stress {
		load.Shape = store.Stress
	}
	return Multiply(ctx, folder, load)
}

// Multiply multiplies the billed history of the demo firm in a folder.
func Multiply(ctx context.Context, folder string, load store.Load) error {
	data, err := store.Open(ctx, folder)
	if err != nil {
		return err
	}
	return errors.Join(data.Unsynced(ctx), data.Multiply(ctx, load), data.Optimize(ctx), data.Close())
}
