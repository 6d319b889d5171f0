package delivery

import (
	"context"
	"encoding/base64"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/wording"
	"dorvet/core/worktime"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// InvoicePage is an invoice as its client sees it, in their language. Figures are text: the client's page computes nothing.
type InvoicePage struct {
	Firm        string            `json:"firm"`
	Address     []string          `json:"address"`
	Mail        string            `json:"mail"`
	Colour      string            `json:"colour"`
	Logo        string            `json:"logo" doc:"as a data URL, or nothing"`
	What        string            `json:"what" doc:"what it is for"`
	Printed     invoice.Printed   `json:"printed" doc:"as it is on paper; without lines, where they are not shown"`
	Made        [][]MadeOf        `json:"made" doc:"of what each line is made, by section"`
	Notice      string            `json:"notice" enum:",changing,replaced,credited,credited_part,closed,paid,disputed" doc:"to be known first"`
	Total       string            `json:"total"`
	Open        string            `json:"open" doc:"still to be paid; nothing if it is not"`
	Late        bool              `json:"late"`
	Instalments []InvoicePagePart `json:"instalments"`
	History     []InvoiceEvent    `json:"history"`
	Code        string            `json:"code" doc:"to pay by, as a data URL, or nothing"`
	EInvoice    bool              `json:"eInvoice" doc:"it can be had as structured data"`
	Receipts    []string          `json:"receipts" doc:"names of files"`
	Claims      []Claim           `json:"claims"`
	MayAsk      bool              `json:"mayAsk"`
	MayDispute  bool              `json:"mayDispute"`
}

// MadeOf is of what one printed line is made.
type MadeOf struct {
	Of       []MadeOfEntry `json:"of" doc:"none, where it is what it says"`
	Disputes bool          `json:"disputes" doc:"it can be disputed by itself"`
}

// MadeOfEntry is work or an expense behind a line.
type MadeOfEntry struct {
	Day    string `json:"day"`
	Who    string `json:"who"`
	Text   string `json:"text"`
	Hours  string `json:"hours"`
	Rate   string `json:"rate"`
	Amount string `json:"amount"`
}

// InvoicePagePart is an instalment.
type InvoicePagePart struct {
	Due    string `json:"due"`
	Amount string `json:"amount"`
	Open   string `json:"open" doc:"nothing: it is settled"`
	Late   bool   `json:"late"`
}

// InvoiceEvent is something that happened to the invoice.
type InvoiceEvent struct {
	Day    string `json:"day"`
	What   string `json:"what" enum:"issued,sent,posted,payment,funds_applied,credit_used,credit_note,withheld,reversed"`
	Amount string `json:"amount"`
	Number string `json:"number" doc:"of a credit note"`
}

// ReadPage shows an invoice to whoever holds a link. It changes nothing.
func ReadPage(ctx context.Context, a *app.App, secret string) (*InvoicePage, error) {
	tx := a.Store.Read(ctx, store.Everything)
	g, err := openGuest(a, tx, secret)
	if err != nil {
		return nil, err
	}
	return g.page(a, tx, a.Clock.Today())
}

// PreviewPage shows the page of an invoice, or of a draft as it would be, to the firm, on a day.
func PreviewPage(ctx context.Context, a *app.App, actor app.Actor, id int64, on day.Day) (*InvoicePage, error) {
	tx := a.Read(ctx, actor)
	inv, err := papers.Visible(tx, id)
	if err != nil {
		return nil, err
	}
	engagements, err := store.EngagementsOf(tx, id)
	if err != nil {
		return nil, err
	}
	g := &guest{invoice: inv, link: &store.Link{}}
	if g.profile, err = profileOf(tx, inv.ClientID, engagements); err != nil {
		return nil, err
	}
	if on.IsZero() {
		on = a.Clock.Today()
	}
	return g.page(a, tx, on)
}

// shownDocument is what a page shows: the newest revision that was issued, or a draft that never was.
func (g *guest) shownDocument(tx *store.DB) (*invoice.Document, error) {
	inv := g.invoice.Invoice
	if inv.State.IsDraft() && inv.Revision > 0 && g.link.ID != 0 { // it is being changed: its client sees what they were sent
		inv.State = invoice.Issued
	}
	return papers.DocumentOf(tx, &inv)
}

func (g *guest) page(a *app.App, tx *store.DB, on day.Day) (*InvoicePage, error) {
	doc, err := g.shownDocument(tx)
	if err != nil {
		return nil, err
	}
	w, inv := doc.Words(), &g.invoice.Invoice
	p := &InvoicePage{Firm: doc.Issuer.Name, Address: doc.Issuer.Address, Mail: doc.Issuer.Mail, Colour: doc.Look.Colour, What: what(doc),
		Printed: doc.Print(), Total: w.Money(doc.Totals.Total), Instalments: []InvoicePagePart{}, History: []InvoiceEvent{}, Receipts: []string{}}
	if p.Logo, err = g.logo(a, tx, doc); err != nil {
		return nil, err
	}
	p.show(g.profile.Text("page_lines"), doc, w)
	if err := g.addMoney(a, tx, p, doc, on); err != nil {
		return nil, err
	}
	if err := g.addFiles(a, tx, p, doc); err != nil {
		return nil, err
	}
	p.Claims, err = claimsOf(tx, inv)
	issued := inv.State.IsIssued() && g.profile.Yes("page_answers")
	p.MayAsk, p.MayDispute = issued, issued && inv.Open > 0 && inv.Kind == invoice.Ordinary
	p.Notice = g.notice()
	return p, err
}

func asURL(png []byte) string {
	return "data:image/png;base64," + base64.StdEncoding.EncodeToString(png)
}

func (g *guest) logo(a *app.App, tx *store.DB, doc *invoice.Document) (string, error) {
	firm, err := store.TheFirm(tx)
	if err != nil || firm.Logo == "" || doc.Look.Logo == "" {
		return "", err
	}
	picture, err := a.Store.Content(doc.Look.Logo)
	return asURL(picture), err
}

// LogoOf is the logo of the firm as a data URL, or nothing.
func LogoOf(a *app.App, firm *store.Firm) (string, error) {
	if firm.Logo == "" {
		return "", nil
	}
	picture, err := a.Store.Content(firm.Logo)
	return asURL(picture), err
}

// notice is what is to be known first.
func (g *guest) notice() string {
	inv := g.invoice
	switch {
	case inv.State.IsDraft() && inv.Revision > 0:
		return "changing"
	case g.sent != 0 && g.sent < inv.Revision:
		return "replaced"
	case inv.WrittenOff != 0 && inv.Open == 0:
		return "closed"
	case inv.Credited != 0 && inv.Open == 0:
		return "credited"
	case inv.Credited != 0:
		return "credited_part"
	case inv.Disputed != "":
		return "disputed"
	case inv.State == invoice.Paid:
		return "paid"
	}
	return ""
}

// show leaves of the lines what the client is to see, and adds of what each is made.
func (p *InvoicePage) show(shows string, doc *invoice.Document, w wording.Words) {
	p.Made = [][]MadeOf{}
	if shows == "sums" {
		p.Printed.Sections = []invoice.PrintedSection{}
		return
	}
	for _, s := range doc.Sections {
		lines := []MadeOf{}
		for _, l := range s.Lines {
			made := MadeOf{Of: []MadeOfEntry{}, Disputes: len(l.Of) > 0 && l.Amount.Minor > 0}
			if shows == "entries" && len(l.Of) > 1 {
				for _, place := range l.Of {
					made.Of = append(made.Of, entryOf(&doc.Billed[place], w, doc))
				}
			}
			lines = append(lines, made)
		}
		p.Made = append(p.Made, lines)
	}
}

func entryOf(b *invoice.Billed, w wording.Words, doc *invoice.Document) MadeOfEntry {
	e := MadeOfEntry{Text: b.Text, Amount: w.Figure(b.Amount)}
	if !b.Day.IsZero() {
		e.Day = w.ShortDay(b.Day)
	}
	if doc.Shows("who") {
		e.Who = b.Worked.Name
	}
	if doc.Shows("hours") && b.Minutes > 0 {
		e.Hours = w.Count(worktime.Hours(b.Minutes))
	}
	if doc.Shows("rate") && b.Price != nil {
		e.Rate = w.Rate(*b.Price)
	}
	return e
}
