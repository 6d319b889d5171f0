package delivery

import (
	"cmp"
	"maps"
	"slices"
	"strconv"
	"strings"
	"time"

	core "dorvet/core/delivery"

	"dorvet/core/invoice"
	"dorvet/core/letter"
	"dorvet/core/money"
	"dorvet/core/profile"
	"dorvet/core/wording"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// What is in a letter: its words, from the texts of the set-up, the profile or this letter alone.

// Placeholder is what can stand in a letter, with what it says of the letter that is tried.
type Placeholder struct {
	Name  string `json:"name"`
	Value string `json:"value"`
}

// severalKind is the kind of the text of a letter that brings several documents.
const severalKind = "several"

// textFor is the text of a kind of letter in a language: of that language, else the one for any.
func textFor(texts []store.LetterText, kind string, language wording.Language) *store.LetterText {
	var found *store.LetterText
	for i := range texts {
		if t := &texts[i]; t.Kind == kind && (t.Language == string(language.Known()) || t.Language == "" && found == nil) {
			found = t
		}
	}
	return found
}

// packet is what goes to the same people by the same way: one invoice, or several.
type packet struct {
	invoices []store.InvoiceRow
	docs     []*invoice.Document
	profile  profile.Profile
	to       []core.Addressee
	way      core.Way
	kind     core.Kind
	problem  string // why it can't go, and what to do
}

// values are what stands in the places of a letter's text.
func (p *packet) values(tx *store.DB, to core.Addressee, word string) (map[string]string, error) {
	first, w := p.docs[0], p.docs[0].Words()
	entity, err := store.Get[store.IssuingEntity](tx, p.invoices[0].EntityID)
	if err != nil {
		return nil, err
	}
	sum := money.Zero(first.Currency)
	list := []string{}
	for i, doc := range p.docs {
		sum.Minor += doc.Totals.Total.Minor
		list = append(list, doc.Number+", "+w.Day(doc.Dated)+", "+w.Money(doc.Totals.Total)+": {"+mark(len(p.docs), i)+"}")
	}
	values := map[string]string{"name": cmp.Or(to.Name, first.Client.Name), "client": first.Client.Name, "firm": entity.LegalName,
		"number": first.Number, "dated": w.Day(first.Dated), "due": w.Day(first.Due), "amount": w.Money(sum), "what": what(first),
		"payable": payable(first), "count": strconv.Itoa(len(p.docs)), "list": strings.Join(list, "\n"), "word": strings.TrimSpace(word),
		"signature": cmp.Or(entity.Signature, entity.LegalName), "link": "{link}", "account": ""}
	if p.profile.Yes("account_summary") {
		values["account"], err = accountOf(tx, &p.invoices[0].Invoice, w)
	}
	return values, err
}

// mark is where the link to one of several documents is put.
func mark(of, at int) string {
	if of == 1 {
		return "link"
	}
	return "link" + strconv.Itoa(at+1)
}

// what says what an invoice is for: the titles of its parts.
func what(doc *invoice.Document) string {
	titles := []string{}
	for _, s := range doc.Sections {
		if title := strings.TrimSpace(s.Title); title != "" && !slices.Contains(titles, title) {
			titles = append(titles, title)
		}
	}
	if len(titles) == 0 {
		return doc.Title()
	}
	return strings.Join(titles, ", ")
}

// payable says what is to be paid and by when, in the client's language.
func payable(doc *invoice.Document) string {
	w, parts := doc.Words(), []string{}
	for _, p := range doc.Payable {
		parts = append(parts, w.Money(p.Amount)+" "+w.Say(wording.ByDay, "day", w.Day(p.Due)))
	}
	if len(parts) == 0 {
		return ""
	}
	return w.Say(wording.AmountDue) + ": " + strings.Join(parts, "; ") + "."
}

// accountOf says what is owed on earlier invoices and what is held, in the client's language.
func accountOf(tx *store.DB, inv *store.Invoice, w wording.Words) (string, error) {
	owed, err := store.OwedBy(tx, []int64{inv.ClientID})
	if err != nil {
		return "", err
	}
	funds, err := store.FundsOfAccount(tx, inv.Account(), 0)
	if err != nil {
		return "", err
	}
	held := int64(0)
	for _, f := range funds {
		held += f.Held
	}
	lines := []string{}
	if earlier := owed[inv.Account()] - inv.Open; earlier != 0 {
		lines = append(lines, w.Say(wording.Earlier)+": "+w.Money(inv.Amount(earlier)))
	}
	if held != 0 {
		lines = append(lines, w.Say(wording.Held)+": "+w.Money(inv.Amount(held)))
	}
	return strings.Join(lines, "\n"), nil
}

// written is a letter to one person, whose values are given: subject, text, and what is left open in them.
func (p *packet) written(texts []store.LetterText, values map[string]string, s Handover) (subject, body string, open []string) {
	subject, body = s.Subject, s.Text
	if text := p.text(texts); text != nil {
		subject = cmp.Or(s.Subject, p.own("mail_subject"), text.Subject)
		body = cmp.Or(s.Text, p.own("mail_text"), text.Text)
	}
	body = strings.ReplaceAll(body, "\r\n", "\n")
	if values["word"] != "" && !strings.Contains(body, "{word}") {
		body = values["word"] + "\n\n" + body
	}
	if len(p.docs) == 1 && !strings.Contains(body, "{link}") {
		body += "\n\n{link}"
	}
	for _, empty := range []string{"account", "word", "payable"} { // they may have nothing to say
		if values[empty] == "" {
			body = letter.Without(body, empty)
		}
	}
	subject, openSubject := letter.Fill(subject, values)
	body, openBody := letter.Fill(body, values)
	open = slices.DeleteFunc(append(openSubject, openBody...), func(name string) bool { return strings.HasPrefix(name, "link") })
	return subject, letter.Tidied(body), open
}

// own is a text of the client's profile, which speaks of one invoice.
func (p *packet) own(name string) string {
	if len(p.docs) > 1 || p.kind != core.Invoice {
		return ""
	}
	return p.profile.Text(name)
}

// text is what the letter says unless it is told otherwise.
func (p *packet) text(texts []store.LetterText) *store.LetterText {
	kind := string(p.kind)
	if len(p.docs) > 1 {
		kind = severalKind
	}
	return textFor(texts, kind, p.docs[0].Language)
}

// WordsOf are the words in which an invoice speaks to its client.
func WordsOf(tx *store.DB, inv *store.Invoice) (wording.Words, error) {
	doc, err := papers.DocumentOf(tx, inv)
	if err != nil {
		return wording.Words{}, err
	}
	return doc.Words(), nil
}

// links are made when the letter leaves: one to the page of each document.
func (p *packet) links(now time.Time) []store.MailLink {
	links := []store.MailLink{}
	for i, inv := range p.invoices {
		links = append(links, store.MailLink{Mark: mark(len(p.docs), i), Purpose: store.ForInvoice, SubjectID: inv.ID,
			ExpiresAt: now.AddDate(0, 0, max(p.profile.Number("page_days"), 1))})
	}
	return links
}

// shown is a body with the addresses that its links will have, as far as they can be told before they are made.
func (p *packet) shown(body, address string) string {
	for i := range p.docs {
		body = strings.ReplaceAll(body, "{"+mark(len(p.docs), i)+"}", address+correspondence.PageOf(store.ForInvoice)+"…")
	}
	return body
}

// placeholders are all that can stand in a letter, with what each says.
func placeholders(values map[string]string) []Placeholder {
	list := []Placeholder{}
	for _, name := range slices.Sorted(maps.Keys(values)) {
		list = append(list, Placeholder{name, values[name]})
	}
	return list
}

// profileOf is the billing profile by which an invoice is handed over: of its engagement, where it is of one alone.
func profileOf(tx *store.DB, inv *store.Invoice, engagements []int64) (profile.Profile, error) {
	engagement := int64(0)
	if len(engagements) == 1 {
		engagement = engagements[0]
	}
	return profiles.Profile(tx, inv.ClientID, engagement)
}
