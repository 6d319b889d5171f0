package api

import "dorvet/internal/app"

var (
	everyone  = []app.Role{app.Administrator, app.Lead, app.Staff, app.Owner}
	recorders = everyone
	reviewers = []app.Role{app.Administrator, app.Lead, app.Owner}
	billers   = []app.Role{app.Administrator}
)

// allowed is the one place that says which roles may do what: every operation
// by its name. An operation that is not here can't be registered. What is the
// actor's own, or of engagements they lead, is sorted out in the acts.
var allowed = map[string][]app.Role{
	"readSession": everyone,
	"signOut":     everyone,
	"readRail":    everyone,
	"find":        everyone,
	"listChoices": everyone,

	"readWeek":     recorders,
	"valueEntry":   recorders,
	"recordEntry":  recorders,
	"changeEntry":  recorders,
	"removeEntry":  recorders,
	"readEntry":    recorders,
	"entryHistory": recorders,

	"listUnbilled":    reviewers,
	"unbilledEntries": reviewers,
	"tally":           reviewers,

	"makeDrafts":     billers,
	"listDrafts":     reviewers,
	"listRegister":   reviewers,
	"readInvoice":    reviewers,
	"invoiceHistory": reviewers,
	"readDocument":   reviewers,
	"takeOut":        billers,
	"putOn":          billers,
	"setText":        billers,
	"deleteDraft":    billers,
	"issueInvoice":   billers,
}

// public operations need no sign-in.
var public = map[string]bool{"signIn": true, "readWelcome": true}
