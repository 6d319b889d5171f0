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
	"dorvet/core/wording"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/papers"
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

// textFor is the text of a kind of letter in a language and a tone: of that language before the one for any, and among those of that
// tone before the usual one.
func textFor(texts []store.LetterText, kind string, language wording.Language, tone string) *store.LetterText {
	var found *store.LetterText
	best := 0
	for i := range texts {
		t := &texts[i]
		if t.Kind != kind || t.Language != "" && t.Language != string(language.Known()) || t.Tone != "" && t.Tone != tone {
			continue
		}
		fits := 1
		if t.Language != "" {
			fits += 2
		}
		if t.Tone != "" {
			fits++
		}
		if fits > best {
			found, best = t, fits
		}
	}
	return found
}

// ofInvoices are what stands in the places of a letter that brings invoices.
func (p *packet) ofInvoices() map[string]string {
	first, w := p.docs[0], p.Words
	sum := money.Zero(first.Currency)
	list := []string{}
	for i, doc := range p.docs {
		sum.Minor += doc.Totals.Total.Minor
		list = append(list, doc.Number+", "+w.Day(doc.Dated)+", "+w.Money(doc.Totals.Total)+": {"+Mark(len(p.docs), i)+"}")
	}
	return map[string]string{"client": first.Client.Name, "number": first.Number, "dated": w.Day(first.Dated), "due": w.Day(first.Due),
		"amount": w.Money(sum), "what": what(first), "payable": payable(first), "count": strconv.Itoa(len(p.docs)),
		"list": strings.Join(list, "\n"), "link": "{link}"}
}

// Mark is where the link to one of several documents is put.
func Mark(of, at int) string {
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
	for name, value := range values { // what has nothing to say leaves no place
		if value == "" {
			body = letter.Without(body, name)
		}
	}
	subject, openSubject := letter.Fill(subject, values)
	body, openBody := letter.Fill(body, values)
	open = slices.DeleteFunc(append(openSubject, openBody...), func(name string) bool { return strings.HasPrefix(name, "link") })
	return subject, letter.Tidied(body), open
}

// own is a text of the client's profile, which speaks of one invoice.
func (p *packet) own(name string) string {
	if len(p.docs) != 1 || p.Kind != core.Invoice {
		return ""
	}
	return p.profile.Text(name)
}

// text is what the letter says unless it is told otherwise.
func (p *packet) text(texts []store.LetterText) *store.LetterText {
	kind := string(p.Kind)
	if len(p.docs) > 1 {
		kind = severalKind
	}
	return textFor(texts, kind, p.Words.Language, p.Tone)
}

// WordsOf are the words in which an invoice speaks to its client.
func WordsOf(tx *store.DB, inv *store.Invoice) (wording.Words, error) {
	doc, err := papers.DocumentOf(tx, inv)
	if err != nil {
		return wording.Words{}, err
	}
	return doc.Words(), nil
}

// links are made when the letter leaves: one to the page of each document that its text leads to.
func (p *packet) links(now time.Time, body string) []store.MailLink {
	links := []store.MailLink{}
	for i, inv := range p.Invoices {
		if mark := Mark(len(p.Invoices), i); strings.Contains(body, "{"+mark+"}") {
			links = append(links, store.MailLink{Mark: mark, Purpose: store.ForInvoice, SubjectID: inv.ID,
				ExpiresAt: now.AddDate(0, 0, max(p.pageDays(&inv.Invoice), 1))})
		}
	}
	return links
}

// pageDays is how long links to an invoice work: as it says itself, or as its profile does.
func (p *packet) pageDays(inv *store.Invoice) int {
	if days, err := strconv.Atoi(inv.Choices.Text("page_days")); err == nil {
		return days
	}
	return p.profile.Number("page_days")
}

// shown is a body with the addresses that its links will have, as far as they can be told before they are made.
func (p *packet) shown(body, address string) string {
	for i := range p.Invoices {
		body = strings.ReplaceAll(body, "{"+Mark(len(p.Invoices), i)+"}", address+correspondence.PageOf(store.ForInvoice)+"…")
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
