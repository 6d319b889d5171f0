package demo

import (
	"context"
	"os"
	"path/filepath"
	"testing"

	"dorvet/core/invoice"
	"dorvet/core/payway"
	"dorvet/core/pricing"
	"dorvet/internal/app"
	"dorvet/internal/store"

	"gorm.io/gorm"
)

func outside() app.App {
	return app.App{Render: func(doc invoice.Document) ([]byte, error) { return []byte(doc.Number), nil }, RenderProposal: func(doc pricing.Document) ([]byte, error) { return []byte(doc.Number), nil }, Ways: ways{}}
}

// ways keeps any card.
type ways struct{ app.Ways }

func (ways) KeepCard(context.Context, payway.Card) (payway.Kept, error) {
	return payway.Kept{Token: "token", LastFour: "0019"}, nil
}

func seeded(t *testing.T) *store.Store {
	t.Helper()
	folder := filepath.Join(t.TempDir(), "demo")
	if err := Seed(t.Context(), folder, outside()); err != nil {
		t.Fatal(err)
	}
	if left, err := os.ReadDir(filepath.Dir(folder)); err != nil || len(left) != 1 {
		t.Errorf("the seed leaves %v behind, %v", left, err)
	}
	data, err := store.Open(t.Context(), folder)
	if err != nil {
		t.Fatal(err)
	}
	t.Cleanup(func() { data.Close() })
	return data
}

// sums are figures that any other data would not have.
func sums(t *testing.T, tx *gorm.DB) (found struct{ Entries, Agreed, Standard, Total int64 }) {
	t.Helper()
	err := tx.Raw(`SELECT COUNT(*) AS entries, SUM(agreed) AS agreed, SUM(standard) AS standard, (SELECT SUM(total) FROM invoices) AS total FROM time_entries`).Scan(&found).Error
	if err != nil {
		t.Fatal(err)
	}
	return found
}

func TestTheSameSeedGivesTheSameFirmAndItAddsUp(t *testing.T) {
	first, second := seeded(t), seeded(t)
	a, b := sums(t, first.Read(t.Context())), sums(t, second.Read(t.Context()))
	if a != b || a.Entries < 900 {
		t.Errorf("%+v and %+v", a, b)
	}
	if breaches, err := first.Check(first.Read(t.Context())); err != nil || len(breaches) > 0 {
		t.Errorf("%v, %v", breaches, err)
	}
}
