package setup

import (
	"strings"

	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// wordingKind are the firm's own words on documents.
func wordingKind() kind {
	type W = store.Wording
	languages, labels := []string{}, []string{}
	for _, l := range wording.Languages {
		languages = append(languages, string(l), l.Name())
	}
	for _, label := range wording.Labels() {
		labels = append(labels, string(label), wording.Standard(wording.English, label))
	}
	d := &definition[W]{
		Kind: Kind{Name: "wordings", One: "word on documents", Many: "words on documents", First: []string{"language", "label", "text"}, Files: true,
			About: "Documents speak the client's language. Any word on them can be put in your own; what stands in braces is filled in."},
		fields: group("Word",
			choice("language", "Language", func(w *W) *string { return (*string)(&w.Language) }, languages...).needed().column(),
			choice("label", "In place of", func(w *W) *string { return (*string)(&w.Label) }, labels...).needed().column(),
			line("text", "Say", func(w *W) *string { return &w.Text }).needed().column()),
		blank: func(*env) (W, error) { return W{Language: wording.English}, nil },
		check: func(_ *env, w *W) error { return app.InField("text", wording.Check(w.Label, w.Text)) },
	}
	return d.ready()
}

// accountKind are the bookkeeper's numbers for what the money ledger moves: what
// can be posted is there from the beginning.
func accountKind() kind {
	type A = store.LedgerAccount
	d := &definition[A]{
		Kind: Kind{Name: "ledger-accounts", One: "account of the journal", Many: "accounts of the journal",
			About: "Under which number your bookkeeper has what the journal posts. Tax codes can have accounts of their own."},
		fields: group("Account", readOnly(line("name", "What is posted", func(a *A) *string { return &a.Name })),
			line("account", "Account", func(a *A) *string { return &a.Account }).hint("as your bookkeeper writes it, like 4000").column()),
		blank: func(*env) (A, error) { return A{}, nil },
		check: func(_ *env, a *A) error {
			if a.Posting == "" {
				return app.Refuse(app.Invalid, "What the journal posts is there already: give each its account.")
			}
			if strings.ContainsAny(a.Account, ",;\t\"") {
				return app.RefuseField("account", "%q can't be an account: leave out commas, semicolons and quotes.", a.Account)
			}
			return nil
		},
	}
	return d.ready()
}

// Wording is how the firm words the labels of a language in its own way.
func Wording(tx *store.DB, l wording.Language) (map[wording.Label]string, error) {
	rows, err := store.All[store.Wording](tx, "id")
	own := map[wording.Label]string{}
	for _, row := range rows {
		if row.Language == l {
			own[row.Label] = row.Text
		}
	}
	return own, err
}
