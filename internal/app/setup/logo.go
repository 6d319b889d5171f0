package setup

import (
	"context"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Limits on a logo.
const (
	maxLogoBytes  = 2 << 20
	maxLogoPixels = 4000 * 4000
	// Printed at most 80 by 26 mm, a logo is sharp with this many points; every document
	// has it inside.
	logoWidth, logoHeight = 900, 300
)

// SetLogo keeps the firm's logo: a PNG or JPEG by its content, drawn anew as PNG,
// so that nothing hidden in the file comes along. No bytes take it away.
func SetLogo(ctx context.Context, a *app.App, r app.Request, content []byte) error {
	drawn, err := redrawn(content)
	if err != nil {
		return err
	}
	_, err = app.Do(ctx, a, r, "set the logo", nil, func(tx *app.Tx) (struct{}, error) {
		firm, err := store.TheFirm(tx.DB)
		if err != nil {
			return struct{}{}, err
		}
		firm.Logo = ""
		tx.Describe(nil, nil, "Took the logo away")
		if len(drawn) > 0 {
			tx.Describe(nil, nil, "Changed the logo")
			if firm.Logo, err = a.Store.Keep(tx.DB, drawn, "image/png", tx.Now); err != nil {
				return struct{}{}, err
			}
		}
		tx.LinkTo(app.OfFirm, 1)
		return struct{}{}, store.Save(tx.DB, firm)
	})
	return err
}

func redrawn(content []byte) ([]byte, error) {
	if len(content) == 0 {
		return nil, nil
	}
	return app.Reencode("logo", content, maxLogoBytes, maxLogoPixels, logoWidth, logoHeight)
}

// Logo reads the firm's logo as PNG; nothing if there is none.
func Logo(ctx context.Context, a *app.App) ([]byte, error) {
	firm, err := store.TheFirm(a.Store.Read(ctx, store.Everything))
	if err != nil || firm.Logo == "" {
		return nil, err
	}
	return a.Store.Content(firm.Logo)
}
