package issuing

import (
	"cmp"
	"fmt"
	"slices"
	"strconv"

	"dorvet/core/day"
	"dorvet/core/delivery"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/typeface"
	"dorvet/internal/app"
	"dorvet/internal/app/correspondence"
	"dorvet/internal/app/drafts"
	"dorvet/internal/app/papers"
	"dorvet/internal/app/profiles"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// DraftFinding is what a check found on a draft, with how to mend it.
type DraftFinding struct {
	Code      string        `json:"code"`
	Level     invoice.Level `json:"level" enum:"block,warn"`
	Title     string        `json:"title"`
	Text      string        `json:"text" doc:"what was found, and what to do"`
	LineID    int64         `json:"lineId" doc:"on which it is, or 0"`
	PortionID int64         `json:"portionId" doc:"or 0"`
	SubjectID int64         `json:"subjectId" doc:"with the code, it names the finding"`
	Remedies  []Remedy      `json:"remedies"`
	Missing   *MissingField `json:"missing,omitempty"`
}

// FindingsOf looks at drafts and tells what was found on each that is not left as
// it is.
func FindingsOf(a *app.App, tx *store.DB, drafts []store.Invoice) (map[int64][]DraftFinding, error) {
	found := map[int64][]DraftFinding{}
	if len(drafts) == 0 {
		return found, nil
	}
	l, err := newLooking(tx, drafts, a)
	if err != nil {
		return nil, err
	}
	for _, check := range invoice.Checks {
		level := check.Taken(l.levels[check.Code])
		if level == invoice.Off {
			continue
		}
		rows, err := l.run(check.Code)
		if err != nil {
			return nil, fmt.Errorf("check %s: %w", check.Code, err)
		}
		for _, row := range rows {
			finding := l.finding(check, level, row)
			if !l.waived[store.FindingWaiver{InvoiceID: row.InvoiceID, Code: check.Code, SubjectID: finding.SubjectID}] {
				found[row.InvoiceID] = append(found[row.InvoiceID], finding)
			}
		}
	}
	for _, own := range found { // what blocks comes first
		slices.SortStableFunc(own, func(a, b DraftFinding) int { return cmp.Compare(a.Level, b.Level) })
	}
	return found, nil
}

// looking is drafts while they are looked at.
type looking struct {
	tx      *store.DB
	today   day.Day
	stays   bool // mails have no server to go to
	ids     []int64
	clients []int64 // of them, each once
	drafts  map[int64]*store.Invoice
	levels  map[string]invoice.Level
	waived  map[store.FindingWaiver]bool
}

func newLooking(tx *store.DB, drafts []store.Invoice, a *app.App) (*looking, error) {
	l := &looking{tx: tx, today: a.Clock.Today(), stays: a.MailStays, drafts: map[int64]*store.Invoice{}}
	for i := range drafts {
		l.ids = append(l.ids, drafts[i].ID)
		l.drafts[drafts[i].ID] = &drafts[i]
		if !slices.Contains(l.clients, drafts[i].ClientID) {
			l.clients = append(l.clients, drafts[i].ClientID)
		}
	}
	var err error
	if l.levels, err = store.CheckLevels(tx); err != nil {
		return nil, err
	}
	l.waived, err = store.Waived(tx, l.ids)
	return l, err
}

// run makes a check: one statement, or rules that look at the billing profile.
func (l *looking) run(code string) ([]store.FindingRow, error) {
	rules := map[string]func() ([]store.FindingRow, error){"instalments": l.instalments, "surcharge": l.surcharge, "budget": l.budget,
		"unbilled_limit": l.unbilledLimit, "credit_limit": l.creditLimit, "unprintable": l.unprintable, drafts.OtherTax: l.otherTax,
		"client_rules": l.clientRules, "no_addressee": l.noAddressee, "no_mail_server": l.noMailServer}
	if rule, is := rules[code]; is {
		return rule()
	}
	return store.Findings(l.tx, code, l.ids)
}

func (l *looking) instalments() (found []store.FindingRow, err error) {
	for _, id := range l.ids {
		inv := l.drafts[id]
		if inv.Choices.Text("schedule") == "" {
			continue
		}
		_, problem, err := papers.Payable(l.tx, inv, inv.Amount(inv.Due))
		if err != nil {
			return nil, err
		}
		if problem != "" {
			found = append(found, store.FindingRow{InvoiceID: id, Text: problem})
		}
	}
	return found, nil
}

// unprintable finds texts with characters that the typeface of their draft lacks.
func (l *looking) unprintable() ([]store.FindingRow, error) {
	texts, err := store.TextsOf(l.tx, l.ids)
	if err != nil {
		return nil, err
	}
	found := []store.FindingRow{}
	look := func(id, lineID int64, text string) {
		if r, missing := typeface.Missing(l.drafts[id].Choices.Text("typeface"), text); missing {
			found = append(found, store.FindingRow{InvoiceID: id, LineID: lineID, Text: fmt.Sprintf("“%c” stands in “%s”", r, text)})
		}
	}
	for _, text := range texts {
		look(text.InvoiceID, text.LineID, text.Text)
	}
	for _, id := range l.ids {
		for _, name := range []string{"opening_text", "closing_text", "note_text", "title"} {
			look(id, 0, l.drafts[id].Choices.Text(name))
		}
	}
	return found, nil
}

// nearest gives what the profile of each draft's client and engagement has of an item.
func (l *looking) nearest(item string, each func(id int64, engagements []int64, value string) error) error {
	agreed, err := profiles.Nearest(l.tx, item, l.clients...)
	if err != nil {
		return err
	}
	for _, id := range l.ids {
		engagements, err := store.EngagementsOf(l.tx, id)
		if err != nil {
			return err
		}
		if err := each(id, engagements, agreed(l.drafts[id].ClientID, drafts.OnlyOne(engagements))); err != nil {
			return err
		}
	}
	return nil
}

// surcharge finds drafts without the surcharge that was agreed.
func (l *looking) surcharge() (found []store.FindingRow, err error) {
	err = l.nearest("surcharge", func(id int64, _ []int64, value string) error {
		percent, err := money.ParseFixed(value, money.Point, 4)
		if err == nil && percent > 0 && l.drafts[id].Choices.Percent("surcharge") == 0 {
			found = append(found, store.FindingRow{InvoiceID: id, Text: value + " %"})
		}
		return nil
	})
	return found, err
}

// mailed are the drafts that go by mail, with their engagements.
func (l *looking) mailed(each func(id int64, engagements []int64) error) error {
	return l.nearest("delivery", func(id int64, engagements []int64, way string) error {
		if way != "" && way != string(delivery.Mail) {
			return nil
		}
		return each(id, engagements)
	})
}

// noAddressee finds drafts that are to be mailed and would go to nobody; who has no address at all is found by another check.
func (l *looking) noAddressee() (found []store.FindingRow, err error) {
	without, err := store.WithoutContact(l.tx, l.clients)
	if err != nil {
		return nil, err
	}
	err = l.mailed(func(id int64, engagements []int64) error {
		client := l.drafts[id].ClientID
		if without[client] {
			return nil
		}
		to, err := correspondence.Addressees(l.tx, delivery.Invoice, client, engagements)
		if err == nil && len(to) == 0 {
			found = append(found, store.FindingRow{InvoiceID: id})
		}
		return err
	})
	return found, err
}

// noMailServer finds drafts that are to be mailed while mails stay on this machine.
func (l *looking) noMailServer() (found []store.FindingRow, err error) {
	if !l.stays {
		return nil, nil
	}
	err = l.mailed(func(id int64, _ []int64) error {
		found = append(found, store.FindingRow{InvoiceID: id})
		return nil
	})
	return found, err
}

// otherTax finds recorded work that is taxed otherwise than its client has it now.
func (l *looking) otherTax() ([]store.FindingRow, error) {
	other, names, err := drafts.OtherwiseTaxed(l.tx, l.ids)
	found := []store.FindingRow{}
	for _, g := range other {
		found = append(found, store.FindingRow{InvoiceID: g.InvoiceID, EngagementID: g.EngagementID,
			Text: names[g.TaxCodeID] + " in place of " + names[g.Now]})
	}
	return found, err
}

// sums are what is on the drafts, by engagement, and these.
func (l *looking) sums() (sums []store.DraftSum, engagements []int64, err error) {
	sums, err = store.DraftSums(l.tx, l.ids)
	for _, s := range sums {
		engagements = append(engagements, s.EngagementID)
	}
	return sums, engagements, err
}

func (l *looking) budget() ([]store.FindingRow, error) {
	sums, engagements, err := l.sums()
	if err != nil {
		return nil, err
	}
	shares, err := setup.BudgetShares(l.tx, engagements, l.today)
	found := []store.FindingRow{}
	for _, s := range sums {
		if share, has := shares[s.EngagementID]; has && share.Share > money.Hundred {
			found = append(found, store.FindingRow{InvoiceID: s.InvoiceID, EngagementID: s.EngagementID, Text: share.Used + " of " +
				share.Limit})
		}
	}
	return found, err
}

func (l *looking) unbilledLimit() ([]store.FindingRow, error) {
	sums, err := store.DraftSums(l.tx, l.ids)
	if err != nil {
		return nil, err
	}
	limit, err := profiles.Nearest(l.tx, "unbilled_limit", l.clients...)
	found := []store.FindingRow{}
	for _, s := range sums {
		if over(limit(s.ClientID, s.EngagementID), money.Amount{Minor: s.Amount, Currency: s.Currency}) {
			found = append(found, store.FindingRow{InvoiceID: s.InvoiceID, EngagementID: s.EngagementID,
				Text: limit(s.ClientID, s.EngagementID) + " at most"})
		}
	}
	return found, err
}

func (l *looking) creditLimit() ([]store.FindingRow, error) {
	limit, err := profiles.Nearest(l.tx, "credit_limit", l.clients...)
	if err != nil {
		return nil, err
	}
	limited, clients := []*store.Invoice{}, []int64{}
	for _, id := range l.ids {
		if inv := l.drafts[id]; limit(inv.ClientID, 0) != "" {
			limited, clients = append(limited, inv), append(clients, inv.ClientID)
		}
	}
	owed, err := store.OwedBy(l.tx, clients)
	found := []store.FindingRow{}
	for _, inv := range limited {
		if would := inv.Amount(owed[inv.Account()] + inv.Due); over(limit(inv.ClientID, 0), would) {
			found = append(found, store.FindingRow{InvoiceID: inv.ID,
				Text: fmt.Sprintf("%s owed with this, %s at most", would, limit(inv.ClientID, 0))})
		}
	}
	return found, err
}

// over reports whether an amount is above a limit of the billing profile; nothing
// and zero are no limit.
func over(limit string, amount money.Amount) bool {
	most, err := money.ParseFixed(limit, money.Point, 4)
	if limit == "" || err != nil || most == 0 {
		return false
	}
	above, err := amount.AtLeast(most + 1)
	return err == nil && above
}

// finding words what a check found, with its remedies.
func (l *looking) finding(check invoice.Check, level invoice.Level, row store.FindingRow) DraftFinding {
	inv := l.drafts[row.InvoiceID]
	f := DraftFinding{Code: check.Code, Level: level, Title: check.Title, LineID: row.LineID, PortionID: row.PortionID,
		SubjectID: row.PortionID + row.EngagementID, Remedies: []Remedy{}}
	if f.SubjectID == 0 {
		f.SubjectID = row.LineID
	}
	words := row.Text
	switch check.Code {
	case "funds", "credit", "cap":
		words = inv.Amount(row.Amount).String()
		if check.Code == "cap" {
			words += " of " + row.Text
		}
	case "open_price", "no_text", "duplicate", "late_entry":
		words = "“" + row.Text + "”"
	case "stays":
		words = app.Counted(int(row.Amount), "entry", "entries")
	case "old_rate":
		words = "In force since " + dated(row.Text) + ", " + app.Counted(int(row.Amount), "entry", "entries")
	case "date_order":
		words = "The invoice before it is dated " + dated(row.Text)
	}
	f.Text = check.Remedy
	if words != "" {
		f.Text = words + ". " + check.Remedy
	}
	if field, is := missing[check.Code]; is {
		f.Missing = &MissingField{"entities", row.EntityID, field}
	}
	f.Remedies = append(f.Remedies, remedies[check.Code]...)
	for i := range f.Remedies {
		if f.Remedies[i].To == "client" {
			f.Remedies[i].To = "/clients/" + strconv.FormatInt(inv.ClientID, 10)
		}
	}
	if level == invoice.Warn || !check.Always {
		f.Remedies = append(f.Remedies, leave[check.Code])
	}
	return f
}

// dated is an ISO date as people read it.
func dated(iso string) string {
	on, err := day.Parse(iso)
	if err != nil {
		return iso
	}
	return on.Long()
}
