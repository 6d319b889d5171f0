package papers

import (
	"slices"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/profile"
	"dorvet/core/wording"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// dress gives a document its language, the firm's words in it, and its look.
func dress(tx *store.DB, doc *invoice.Document, c profile.BillingTerms, client *store.Client) (err error) {
	doc.Language = languageOf(c, client)
	doc.Look = invoice.Look{Design: c.Text("design"), Paper: c.Text("paper"), Typeface: c.Text("typeface"), Colour: c.Text("colour"),
		Title: c.Text("title"),
		Code:  c.Text("payment_code") == "yes", Statement: c.Text("expense_statement") == "yes"}
	own := strings.Split(c.Text("head_lines"), "\n")
	doc.Look.Lines = strings.Join(own[:min(len(own), 2)], "\n")
	if doc.Look.Head, err = pictureNamed(tx, c.Text("head_picture")); err != nil {
		return err
	}
	if doc.Wording, err = setup.Wording(tx, doc.Language); err != nil || c.Text("logo") != "yes" {
		return err
	}
	firm, err := store.TheFirm(tx)
	if err == nil {
		doc.Look.Logo = firm.Logo
	}
	return err
}

// pictureNamed is the digest of a picture by its name; nothing where there is none any more.
func pictureNamed(tx *store.DB, name string) (string, error) {
	if name == "" {
		return "", nil
	}
	pictures, err := store.All[store.Picture](tx, "id")
	for _, p := range pictures {
		if p.Name == name {
			return p.Digest, nil
		}
	}
	return "", err
}

// picturesOf are the pictures beside lines, by their numbers; nothing is read where no line
// has one.
func picturesOf(tx *store.DB, lines []store.InvoiceLine) (map[int64]store.Picture, error) {
	if !slices.ContainsFunc(lines, func(l store.InvoiceLine) bool { return l.PictureID != nil }) {
		return nil, nil
	}
	pictures, err := store.All[store.Picture](tx, "id")
	byID := map[int64]store.Picture{}
	for _, p := range pictures {
		byID[p.ID] = p
	}
	return byID, err
}

// languageOf is the language of a client's documents.
func languageOf(c profile.BillingTerms, client *store.Client) wording.Language {
	language := wording.Language(c.Text("language"))
	if language == "client" {
		language = wording.Language(client.Language)
	}
	return language.Known()
}

// WordsOf are the words in which a draft speaks.
func WordsOf(tx *store.DB, inv *store.Invoice) (wording.Words, error) {
	client, err := store.Get[store.Client](tx, inv.ClientID)
	if err != nil {
		return wording.Words{}, err
	}
	w := wording.Words{Language: languageOf(inv.Choices, client)}
	w.Own, err = setup.Wording(tx, w.Language)
	return w, err
}

// WordsFor are the words in which the firm speaks to a client, and the colour of its documents.
func WordsFor(tx *store.DB, clientID int64) (w wording.Words, colour string, err error) {
	client, err := store.Get[store.Client](tx, clientID)
	if err != nil {
		return w, "", err
	}
	p, err := profiles.Profile(tx, clientID, 0)
	if err != nil {
		return w, "", err
	}
	w.Language = languageOf(p.Choices(), client)
	w.Own, err = setup.Wording(tx, w.Language)
	return w, p.Text("colour"), err
}
