package setup

import (
	"strings"

	"dorvet/core/wording"
	"dorvet/internal/app"
	"dorvet/internal/app/registry"
	"dorvet/internal/store"
)

// wordingKind are the firm's own words on documents.
func wordingKind() registry.AnyKind {
	type W = store.Wording
	languages, labels := []string{}, []string{}
	for _, l := range wording.Languages {
		languages = append(languages, string(l), l.Name())
	}
	for _, label := range wording.Labels() {
		labels = append(labels, string(label), wording.Standard(wording.English, label))
	}
	d := &registry.Definition[W]{
		Kind: registry.Kind{Name: "wordings", One: "word on documents", Many: "words on documents",
			First: []string{"language", "label", "text"},
			Files: true,
			About: "Documents speak the client's language. Any word on them can be put in your own; what stands in braces is filled in."},
		Table: registry.Group("Word",
			registry.Choice("language", "Language", func(w *W) *string { return (*string)(&w.Language) }, languages...).Required().Listed(),
			registry.Choice("label", "In place of", func(w *W) *string { return (*string)(&w.Label) }, labels...).Required().Listed(),
			registry.Line("text", "Say", func(w *W) *string { return &w.Text }).Required().Listed()),
		Blank: func(*registry.Env) (W, error) { return W{Language: wording.English}, nil },
		Check: func(_ *registry.Env, w *W) error { return app.InField("text", wording.Check(w.Label, w.Text)) },
	}
	return d.Ready()
}

// letterTextKind is what letters say that hand documents over.
func letterTextKind() registry.AnyKind {
	type L = store.LetterText
	languages := []string{"", "any that has no text of its own"}
	for _, l := range wording.Languages {
		languages = append(languages, string(l), l.Name())
	}
	d := &registry.Definition[L]{
		Kind: registry.Kind{Name: "letter-texts", One: "letter", Many: "letters", First: []string{"name", "kind", "language", "subject", "text"},
			About: "What mails say that bring documents, by what they bring and in the client's language. Names in braces are filled in; " +
				"an invoice shows them all, tried on itself, beside its letter."},
		Table: registry.Group("Letter", registry.Line("name", "Name", func(l *L) *string { return &l.Name }).Required(),
			registry.Choice("kind", "Brings", func(l *L) *string { return &l.Kind }, "invoice", "an invoice", "several", "several invoices",
				"credit_note", "a credit note", "deposit", "a deposit request", "receipt", "a receipt", "statement", "a statement of account",
				"reminder", "a reminder").Listed(),
			registry.Choice("language", "Language", func(l *L) *string { return &l.Language }, languages...).Listed(),
			registry.Choice("tone", "Tone", func(l *L) *string { return &l.Tone }, "", "as ever", "warm", "warm", "firm", "firm").Listed(),
			registry.Line("subject", "Subject", func(l *L) *string { return &l.Subject }).Required().Listed(),
			registry.Lines("text", "Text", func(l *L) *string { return &l.Text }).Required().Hinted("{name} {client} {firm} {number} {dated} "+
				"{due} {amount} {what} {payable} {account} {word} {link} {signature}; of several, and a reminder, {count} {list}; of a receipt {day} {rest}; of a statement {late}")),
		Blank:  func(*registry.Env) (L, error) { return L{Kind: "invoice", Active: true}, nil },
		Active: func(l *L) *bool { return &l.Active },
	}
	return d.Ready()
}

// accountKind are the bookkeeper's numbers for what the money ledger moves: what
// can be posted is there from the beginning.
func accountKind() registry.AnyKind {
	type A = store.LedgerAccount
	d := &registry.Definition[A]{
		Kind: registry.Kind{Name: "ledger-accounts", One: "account of the journal", Many: "accounts of the journal",
			About: "Under which number your bookkeeper has what the journal posts. Tax codes can have accounts of their own."},
		Table: registry.Group("Account", readOnly(registry.Line("name", "What is posted", func(a *A) *string { return &a.Name })),
			registry.Line("account", "Account", func(a *A) *string { return &a.Account }).Hinted("as your bookkeeper writes it, like 4000").Listed()),
		Blank: func(*registry.Env) (A, error) { return A{}, nil },
		Check: func(_ *registry.Env, a *A) error {
			if a.Posting == "" {
				return app.Refuse(app.Invalid, "What the journal posts is there already: give each its account.")
			}
			if strings.ContainsAny(a.Account, ",;\t\"") {
				return app.RefuseField("account", "%q can't be an account: leave out commas, semicolons and quotes.", a.Account)
			}
			return nil
		},
	}
	return d.Ready()
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
