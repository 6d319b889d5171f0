package api

import "dorvet/internal/app"

var (
	everyone  = []app.Role{app.Administrator, app.Lead, app.Staff, app.Owner}
	recorders = everyone
	reviewers = []app.Role{app.Administrator, app.Lead, app.Owner}
	readers   = []app.Role{app.Administrator, app.Owner}
	leaders   = []app.Role{app.Administrator, app.Lead}
	billers   = []app.Role{app.Administrator}
)

// allowed is the one place that says which roles may do what: every operation
// by its name. An operation that is not here can't be registered. What is the
// actor's own, or of engagements they lead, is sorted out in the acts. Records
// of the set-up are sorted by kind as well, below.
var allowed = map[string][]app.Role{
	"readSession": everyone,
	"signOut":     everyone,
	"readRail":    everyone,
	"find":        everyone,
	"listChoices": everyone,
	"listNotices": everyone,
	"putAway":     everyone,

	"listSessions":       everyone,
	"endSession":         everyone,
	"changePassword":     everyone,
	"readSecondFactor":   everyone,
	"setSecondFactor":    everyone,
	"removeSecondFactor": everyone,
	"invite":             billers,
	"clearSecondFactor":  billers,

	"readIndex":      readers,
	"describeKind":   reviewers,
	"listRecords":    reviewers,
	"listOptions":    reviewers,
	"readRecord":     reviewers,
	"recordHistory":  reviewers,
	"addRecord":      leaders,
	"setField":       leaders,
	"retireRecord":   leaders,
	"removeRecord":   leaders,
	"copyEngagement": billers,
	"askRate":        reviewers,
	"previewRerate":  leaders,
	"rerate":         billers,
	"undoRerate":     billers,
	"listClients":    reviewers,
	"readClient":     reviewers,
	"readEngagement": reviewers,
	"checkImport":    billers,
	"import":         billers,
	"listImports":    billers,
	"undoImport":     billers,
	"exportRecords":  readers,
	"setLogo":        billers,
	"removeLogo":     billers,
	"readLogo":       everyone,

	"listProposals":      reviewers,
	"readProposal":       reviewers,
	"listVersions":       reviewers,
	"proposalHistory":    reviewers,
	"previewPage":        reviewers,
	"readCalendar":       reviewers,
	"readSigned":         reviewers,
	"readPlan":           reviewers,
	"readProposalFile":   reviewers,
	"keepProposalFile":   leaders,
	"beginProposal":      leaders,
	"saveProposal":       leaders,
	"deleteProposal":     leaders,
	"restoreVersion":     leaders,
	"copyProposal":       leaders,
	"priceProposal":      leaders,
	"askFee":             leaders,
	"lineFromCatalogue":  leaders,
	"previewMail":        leaders,
	"sendProposal":       leaders,
	"withdrawProposal":   leaders,
	"endLinks":           leaders,
	"recordAcceptance":   leaders,
	"answerQuestion":     leaders,
	"askClient":          leaders,
	"listQuestionnaires": reviewers,
	"listMails":          billers,
	"readMail":           billers,

	"readWeek":        recorders,
	"weekHistory":     recorders,
	"listWeeks":       everyone,
	"submitWeek":      recorders,
	"takeBackWeek":    recorders,
	"approveWeek":     leaders,
	"sendBackWeek":    leaders,
	"remindOfWeek":    leaders,
	"listTimers":      recorders,
	"startTimer":      recorders,
	"changeTimer":     recorders,
	"pauseTimer":      recorders,
	"resumeTimer":     recorders,
	"stopTimer":       recorders,
	"discardTimer":    recorders,
	"listWork":        everyone,
	"groupWork":       everyone,
	"numberWork":      everyone,
	"exportWork":      everyone,
	"previewTogether": recorders,
	"changeTogether":  recorders,
	"undoTogether":    recorders,
	"valuePurchase":   recorders,
	"recordPurchase":  recorders,
	"readPurchase":    recorders,
	"changePurchase":  recorders,
	"removePurchase":  recorders,
	"purchaseHistory": recorders,
	"keepReceipt":     recorders,
	"readReceipt":     recorders,
	"entryFiles":      recorders,
	"valueEntry":      recorders,
	"recordEntry":     recorders,
	"changeEntry":     recorders,
	"bringBackEntry":  recorders,
	"removeEntry":     recorders,
	"readEntry":       recorders,
	"entryHistory":    recorders,

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
	"setTerms":       billers,
	"deleteDraft":    billers,
	"issueInvoice":   billers,
}

// ofKind says who reads and who changes the records of a kind, of those whom the
// operation lets through. Leads see only what concerns engagements they lead.
var ofKind = map[string]struct{ read, change []app.Role }{
	"firm": {readers, billers}, "entities": {readers, billers}, "series": {readers, billers}, "offices": {reviewers, billers},
	"holidays": {reviewers, billers}, "exchange-rates": {readers, billers}, "people": {readers, billers}, "grades": {reviewers, billers},
	"proposal-texts": {reviewers, billers}, "questionnaires": {reviewers, billers},
	"expense-categories": {everyone, billers},
	"services":           {reviewers, billers}, "bundles": {reviewers, billers}, "rates": {readers, billers}, "rate-cards": {readers, billers},
	"tax-codes": {readers, billers}, "tax-rates": {readers, billers}, "own-fields": {readers, billers},
	"client-statuses": {reviewers, billers}, "onboarding-steps": {readers, billers},
	"clients": {reviewers, billers}, "contacts": {reviewers, leaders}, "client-notes": {reviewers, leaders}, "client-steps": {reviewers, leaders},
	"engagements": {reviewers, billers}, "engagement-templates": {reviewers, billers}, "phases": {reviewers, leaders}, "budgets": {reviewers, leaders},
}

// public operations need no sign-in; those of clients need the secret of a link.
var public = map[string]bool{"signIn": true, "readWelcome": true, "begin": true, "readInvitation": true, "acceptInvitation": true,
	"readClientPage": true, "chooseOnPage": true, "markSeen": true, "sendCode": true, "keepWay": true, "acceptProposal": true, "declineProposal": true,
	"askAboutProposal": true, "passOn": true, "mailNewer": true, "readSignedCopy": true, "readTermsFile": true, "readQuestions": true, "answerQuestions": true}
