package papers

import (
	"context"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"

	"dorvet/core/invoice"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// VerifyRendering proves that what was frozen still makes the file that was kept: it draws the
// newest revisions again, those of the present way of drawing, and compares digests.
// Each that differs is a breach, in words.
func VerifyRendering(ctx context.Context, a *app.App, most int) (drawn int, breaches []string, err error) {
	revisions, err := store.RevisionsDrawn(a.Store.Read(ctx, store.Everything), a.Drawing, most)
	if err != nil {
		return 0, nil, err
	}
	for i := range revisions {
		r := &revisions[i]
		if err := ctx.Err(); err != nil {
			return drawn, breaches, err
		}
		doc := new(invoice.Document)
		if err := json.Unmarshal([]byte(r.Content), doc); err != nil {
			return drawn, breaches, fmt.Errorf("read revision %d: %w", r.ID, err)
		}
		file, err := Drawn(a, doc)
		if err != nil {
			return drawn, breaches, fmt.Errorf("draw revision %d: %w", r.ID, err)
		}
		drawn++
		if sum := sha256.Sum256(file); hex.EncodeToString(sum[:]) != r.Digest {
			breaches = append(breaches, fmt.Sprintf("the same revision makes the same file: revision %d: %s makes another file than "+
				"the one that was kept", r.ID, doc.Number))
		}
	}
	return drawn, breaches, nil
}
