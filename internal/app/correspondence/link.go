package correspondence

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"maps"
	"slices"
	"time"

	"dorvet/internal/app"
	"dorvet/internal/store"
)

const linkBits = 256

// NewSecret makes the secret of a link, and the digest that is kept of it.
func NewSecret() (secret, digest string) {
	raw := make([]byte, linkBits/8)
	rand.Read(raw) // never fails
	secret = base64.RawURLEncoding.EncodeToString(raw)
	return secret, Digest(secret)
}

// Digest is what is kept of a secret.
func Digest(secret string) string {
	sum := sha256.Sum256([]byte(secret))
	return hex.EncodeToString(sum[:])
}

// pages are the addresses of what links open. The secret stands after the #, so
// that no server's log has it; but for the one that ends reminders, which mail programs ask for by themselves (RFC 8058): it opens nothing.
var pages = map[string]string{store.ForProposal: "/proposal#", store.ForQuestionnaire: "/questions#", store.ForInvoice: "/invoice#",
	store.ForAccount: "/client#", store.ForReminders: "/api/public/reminders/"}

// IsPage reports whether a path is that of a page for who holds a link.
func IsPage(path string) bool {
	return slices.Contains(slices.Collect(maps.Values(pages)), path+"#")
}

// PageOf is the address of the page that links of a purpose open, before their secret.
func PageOf(purpose string) string { return pages[purpose] }

// MakeLink makes a link for somebody without an account, and gives its address,
// which is shown or mailed once and never kept.
func MakeLink(a *app.App, tx *store.DB, l *store.Link) (address string, err error) {
	secret, digest := NewSecret()
	l.Digest, l.MadeAt = digest, a.Clock.Now()
	return a.Address + pages[l.Purpose] + secret, store.Insert(tx, l)
}

// OpenLink finds the link of a secret, if it still works.
func OpenLink(a *app.App, tx *store.DB, purpose, secret string) (*store.Link, error) {
	link, err := store.LinkOf(tx, Digest(secret))
	if err := app.Unless(err, app.Refuse(app.NotFound, "This link does not work any more. Ask whoever sent it for a new one."), func() bool {
		return link.Purpose == purpose && link.WithdrawnAt == nil && !a.Clock.Now().After(link.ExpiresAt)
	}); err != nil {
		return nil, err
	}
	return link, nil
}

// LinkLife is how long a link works after the last day of what it opens, so
// that it can still say that the day is over.
const LinkLife = 180 * 24 * time.Hour
