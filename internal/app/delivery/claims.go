package delivery

import (
	"context"
	"strings"
	"time"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/papers"
	"dorvet/internal/store"
)

// Claiming is what a client says on the page of an invoice.
type Claiming struct {
	Kind    store.ClaimKind `json:"kind" enum:"question,dispute,promise"`
	Section int             `json:"section" doc:"of the page, from 0; -1: of all of it"`
	Line    int             `json:"line"`
	Text    string          `json:"text" maxLength:"2000"`
	Day     day.Day         `json:"day,omitempty" format:"date" doc:"of a promise: when it will be paid"`
}

// Claim is what a client said, and what became of it.
type Claim struct {
	ID       int64           `json:"id"`
	Version  int64           `json:"version"`
	Kind     store.ClaimKind `json:"kind" enum:"question,dispute,promise"`
	Line     string          `json:"line" doc:"its text; nothing: all of the invoice"`
	Section  int             `json:"section"`
	Place    int             `json:"place" doc:"of the line in its section, from 0; -1: all of it"`
	Amount   money.Amount    `json:"amount" doc:"what is disputed, gross"`
	Text     string          `json:"text"`
	Day      day.Day         `json:"day"`
	Name     string          `json:"name"`
	At       time.Time       `json:"at"`
	Outcome  store.Outcome   `json:"outcome" enum:",answered,kept,written_down,credited,moved,withdrawn"`
	Answer   string          `json:"answer"`
	Answered *time.Time      `json:"answeredAt,omitempty"`
	NoteID   int64           `json:"noteId" doc:"the credit note that came of it, or 0"`
	Old      bool            `json:"old" doc:"it was said of a version before this one"`
}

// Claims lists what the client said of an invoice.
func Claims(ctx context.Context, a *app.App, actor app.Actor, id int64) ([]Claim, error) {
	tx := a.Read(ctx, actor)
	inv, err := papers.Visible(tx, id)
	if err != nil {
		return nil, err
	}
	return claimsOf(tx, &inv.Invoice)
}

func claimsOf(tx *store.DB, inv *store.Invoice) ([]Claim, error) {
	rows, err := store.ClaimsOn(tx, inv.ID)
	list := []Claim{}
	for i := range rows {
		list = append(list, claimView(&rows[i], inv.Currency))
		list[i].Old = rows[i].Revision != inv.Revision
	}
	return list, err
}

func claimView(c *store.Claim, currency money.Currency) Claim {
	return Claim{ID: c.ID, Version: c.Version, Kind: c.Kind, Line: c.LineText, Section: c.Section, Place: c.Line,
		Amount: money.Amount{Minor: c.Amount, Currency: currency}, Text: c.Text, Day: c.Day, Name: c.Name, At: c.At, Outcome: c.Outcome,
		Answer: c.Answer, Answered: c.AnsweredAt, NoteID: store.OrZero(c.NoteID)}
}

// said is the line that a claim is about, with what of it is disputed: of all of the invoice it is what is still owed.
func said(inv *store.Invoice, doc *invoice.Document, c Claiming) (text string, disputed money.Amount, err error) {
	disputed = money.Zero(inv.Currency)
	if c.Section < 0 || c.Line < 0 {
		if c.Kind == store.Disputed {
			disputed.Minor = inv.Open
		}
		return "", disputed, nil
	}
	if c.Section >= len(doc.Sections) || c.Line >= len(doc.Sections[c.Section].Lines) {
		return "", disputed, app.Refuse(app.Conflict, "This line is not on the invoice any more: load the page again.")
	}
	line := doc.Sections[c.Section].Lines[c.Line]
	if c.Kind != store.Disputed {
		return line.Text, disputed, nil
	}
	if len(line.Of) == 0 {
		return "", disputed, app.Refuse(app.Conflict, "This line can't be disputed by itself: dispute the invoice, and say which line it is.")
	}
	disputed, err = doc.GrossOf(line.Of)
	if err == nil && disputed.Minor <= 0 {
		err = app.Refuse(app.Conflict, "There is nothing to pay on this line: ask about it instead.")
	}
	return line.Text, disputed, err
}

// claim keeps what a client says of an invoice, and tells who is responsible.
func claim(tx *app.Tx, g *guest, c Claiming) error {
	inv := &g.invoice.Invoice
	c.Text = strings.TrimSpace(c.Text)
	if err := g.mayClaim(tx.Today, c); err != nil {
		return err
	}
	doc, err := papers.DocumentOf(tx.DB, inv)
	if err != nil {
		return err
	}
	text, disputed, err := said(inv, doc, c)
	if err != nil {
		return err
	}
	disputed.Minor = min(disputed.Minor, inv.Open)
	row := &store.Claim{InvoiceID: inv.ID, Revision: inv.Revision, Kind: c.Kind, Section: c.Section, Line: c.Line, LineText: text,
		Amount: disputed.Minor, Text: c.Text, Name: g.link.Name, Mail: g.link.Mail, At: tx.Now}
	switch c.Kind {
	case store.Question:
		tx.Describe(nil, nil, "Asked about %s: %s", inv.NumberText, about(text, c.Text))
	case store.Promise:
		row.Day = c.Day
		tx.Describe(nil, nil, "Says that %s will be paid on %s", inv.NumberText, c.Day.Long())
	case store.Disputed:
		tx.Describe(nil, disputed.String(), "Disputes %s of %s: %s", disputed, inv.NumberText, about(text, c.Text))
	}
	if err := store.Insert(tx.DB, row); err != nil {
		return err
	}
	if err := dispute(tx, inv); err != nil {
		return err
	}
	return g.tell(tx, row)
}

func about(line, text string) string {
	if line == "" {
		return text
	}
	return "“" + line + "”: " + text
}

// dispute writes on an invoice what its open claims dispute, together: no more than is owed.
func dispute(tx *app.Tx, inv *store.Invoice) error {
	claims, err := store.ClaimsOn(tx.DB, inv.ID)
	if err != nil {
		return err
	}
	reasons, sum, whole := []string{}, int64(0), false
	for _, c := range claims {
		if c.Kind == store.Disputed && c.Outcome == "" {
			reasons, sum, whole = append(reasons, about(c.LineText, c.Text)), sum+c.Amount, whole || c.Line < 0
		}
	}
	disputed, amount := strings.Join(reasons, "; "), min(sum, inv.Open)
	if whole || amount == inv.Open {
		amount = 0
	}
	if disputed == inv.Disputed && amount == inv.DisputedAmount {
		return nil
	}
	inv.Disputed, inv.DisputedAmount = disputed, amount
	return store.Save(tx.DB, inv)
}

// OpenClaim is what clients said that nobody has answered.
type OpenClaim struct {
	Claim
	InvoiceID int64  `json:"invoiceId"`
	Number    string `json:"number"`
	Client    string `json:"client"`
}

// OpenClaims lists what clients said that nobody has answered, oldest first.
func OpenClaims(ctx context.Context, a *app.App, actor app.Actor) ([]OpenClaim, error) {
	rows, err := store.OpenClaims(a.Read(ctx, actor))
	list := []OpenClaim{}
	for i := range rows {
		c := &rows[i]
		list = append(list, OpenClaim{claimView(&c.Claim, c.Currency), c.InvoiceID, c.Number, c.Client})
	}
	return list, err
}
