package invoice

import (
	"slices"
	"strconv"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/tax"
	"dorvet/core/wording"
)

// Printed is a document in words: every label and figure as the client reads it.
// Paper and screen show the same.
type Printed struct {
	Kind      string                  `json:"kind"`
	Look      Look                    `json:"look"`
	Language  string                  `json:"language"`
	Title     string                  `json:"title"`
	Number    string                  `json:"number"`
	IsDraft   bool                    `json:"isDraft"`
	Issuer    Party                   `json:"issuer"`
	Client    Party                   `json:"client"`
	Facts     []Fact                  `json:"facts"`
	Opening   string                  `json:"opening"`
	Closing   string                  `json:"closing"`
	Note      string                  `json:"note"`
	Columns   []PrintedColumn         `json:"columns"`
	Sections  []PrintedSection        `json:"sections"`
	Sums      []Fact                  `json:"sums"`
	Due       Fact                    `json:"due"`
	Notices   []string                `json:"notices"`
	HowToPay  string                  `json:"howToPay"`
	Parts     []PrintedPart           `json:"parts" doc:"instalments, if there are several"`
	Account   []Fact                  `json:"account" doc:"where to pay to"`
	Scan      string                  `json:"scan" doc:"what stands under the code to pay by, or nothing"`
	Code      string                  `json:"-"` // what is in that code
	Balances  []Fact                  `json:"balances"`
	Statement *PrintedSection         `json:"statement,omitempty" doc:"of expenses"`
	Carried   string                  `json:"-"`
	Brought   string                  `json:"-"`
	Page      func(n, all int) string `json:"-"`
}

// Fact is a label and what it says.
type Fact struct {
	Label  string `json:"label"`
	Text   string `json:"text"`
	Strong bool   `json:"strong"`
}

// PrintedColumn is a column of the lines that is shown, with its head.
type PrintedColumn struct {
	Name string `json:"name" enum:"date,who,picture,text,hours,rate,amount"`
	Head string `json:"head"`
}

// PrintedSection is a section in words.
type PrintedSection struct {
	Title string        `json:"title"`
	Lines []PrintedLine `json:"lines"`
	Sum   *Fact         `json:"sum,omitempty"`
}

// PrintedLine is a line in words.
type PrintedLine struct {
	Day     string    `json:"day"`
	Who     string    `json:"who"`
	Text    string    `json:"text"`
	Runs    []TextRun `json:"runs" doc:"the text by its emphasis"`
	Hours   string    `json:"hours"`
	Rate    string    `json:"rate"`
	Amount  string    `json:"amount"`
	Note    string    `json:"note"`
	Picture string    `json:"picture" doc:"digest, or nothing"`
	Covered bool      `json:"covered"`
	Running string    `json:"-"` // what the lines of the section come to with this one
}

// PrintedPart is an instalment in words.
type PrintedPart struct {
	Which  string `json:"which"`
	By     string `json:"by"`
	Amount string `json:"amount"`
}

// Print says a document in its words.
func (d *Document) Print() Printed {
	w := d.Words()
	p := Printed{Kind: d.Kind, Look: d.Look, Language: string(d.Language.Known()), Title: d.Title(), Number: d.Number,
		IsDraft: d.Number == "" && !d.isAccount(),
		Issuer:  d.Issuer, Client: d.Client, Opening: d.Opening, Closing: d.Closing, Note: d.Note,
		Columns: d.columns(w), Sections: d.sections(w), Sums: d.sums(w), Notices: d.notices(w), Parts: []PrintedPart{}, Account: []Fact{},
		Balances: d.balances(w), Statement: d.statement(w),
		Carried: w.Say(wording.Carried), Brought: w.Say(wording.Brought),
		Page: func(n, all int) string { return w.Say(wording.Page, "n", strconv.Itoa(n), "all", strconv.Itoa(all)) }}
	if p.IsDraft {
		p.Number = w.Say(wording.Draft)
	}
	p.Facts, p.Due = d.facts(w, p.Number), Fact{w.Say(wording.AmountDue), w.Figure(d.Totals.Due), true}
	switch d.Kind {
	case "credit_note":
		p.Due.Label = w.Say(wording.Credited)
		return p
	case "expenses", "reconciliation":
		p.Due.Label = w.Say(wording.Total)
		return p
	}
	d.howToPay(w, &p)
	return p
}

// isAccount reports whether a document says how things stand on a day, and asks for nothing.
func (d *Document) isAccount() bool { return d.Kind == "statement" || d.Kind == "reconciliation" }

// facts are those of the head: a credit note names its invoice in place of a due
// day.
func (d *Document) facts(w wording.Words, number string) []Fact {
	if d.isAccount() {
		return []Fact{{w.Say(wording.Dated), w.Day(d.Dated), true}}
	}
	facts := []Fact{{w.Say(wording.Number), number, true}, {w.Say(wording.Dated), w.Day(d.Dated), false}}
	add := func(label wording.Label, text string) {
		if text != "" {
			facts = append(facts, Fact{w.Say(label), text, false})
		}
	}
	if d.Kind == "credit_note" {
		add(wording.Credits, d.Credits)
		return facts
	}
	add(wording.Due, w.Day(d.Due))
	if d.Kind == "deposit_request" {
		return facts
	}
	add(wording.TermsHead, d.Terms)
	add(wording.UpTo, w.Day(d.UpTo))
	add(wording.YourReference, d.Reference)
	return facts
}

func (d *Document) columns(w wording.Words) []PrintedColumn {
	all := []PrintedColumn{{"date", w.Say(wording.DateHead)}, {"who", w.Say(wording.WhoHead)}, {"picture", ""},
		{"text", w.Say(wording.Description)},
		{"hours", w.Say(wording.HoursHead)},
		{"rate", w.Say(wording.RateHead)}, {"amount", w.Say(wording.AmountHead) + " " + string(d.Currency)}}
	return slices.DeleteFunc(all, func(c PrintedColumn) bool { return c.Name != "text" && c.Name != "amount" && !d.fills(c.Name) })
}

// fills reports whether a column is shown and has something in it: an empty one
// would only take room from the text.
func (d *Document) fills(column string) bool {
	if !d.Shows(column) {
		return false
	}
	for _, s := range d.Sections {
		for _, l := range s.Lines {
			if column == "date" && !l.Day.IsZero() || column == "who" && l.Who != "" || column == "hours" && l.Hours != "" ||
				column == "rate" && l.Rate != "" || column == "picture" && l.Picture != "" {
				return true
			}
		}
	}
	return false
}

func (d *Document) sections(w wording.Words) []PrintedSection {
	list := make([]PrintedSection, 0, len(d.Sections))
	for _, s := range d.Sections {
		printed := PrintedSection{Title: s.Title, Lines: make([]PrintedLine, 0, len(s.Lines))}
		if s.Reference != "" {
			printed.Title += ", " + w.Say(wording.YourReference) + " " + s.Reference
		}
		running := money.Zero(d.Currency)
		for _, l := range s.Lines {
			running.Minor += l.Amount.Minor
			printed.Lines = append(printed.Lines, d.line(w, l, running))
		}
		if len(d.Sections) > 1 {
			printed.Sum = &Fact{w.Say(wording.SumOf, "what", s.Title), w.Figure(s.Sum), true}
		}
		list = append(list, printed)
	}
	return list
}

func (d *Document) line(w wording.Words, l DocumentLine, running money.Amount) PrintedLine {
	p := PrintedLine{Text: Plain(l.Text), Runs: Runs(l.Text), Note: l.Note, Amount: w.Figure(l.Amount), Covered: l.Covered,
		Running: w.Figure(running)}
	if l.Covered {
		p.Amount = ""
	}
	if d.Shows("date") && !l.Day.IsZero() {
		p.Day = w.ShortDay(l.Day)
		if !l.Until.IsZero() {
			p.Day += " – " + w.ShortDay(l.Until)
		}
	}
	if d.Shows("who") {
		p.Who = initialled(l.Who)
	}
	if d.Shows("picture") {
		p.Picture = l.Picture
	}
	if d.Shows("hours") {
		p.Hours = l.Hours
	}
	if d.Shows("rate") {
		p.Rate = l.Rate
	}
	return p
}

// initialled is "I. Okafor" for Ines Okafor: the column is narrow.
func initialled(name string) string {
	for i, r := range name {
		if r == ' ' && i > 0 {
			return string([]rune(name)[0]) + "." + name[i:]
		}
	}
	return name
}

func (d *Document) sums(w wording.Words) []Fact {
	t := d.Totals
	if d.isAccount() || d.Kind == "expenses" {
		return []Fact{}
	}
	facts := []Fact{{w.Say(wording.Subtotal), w.Figure(t.Lines), false}}
	some := func(label string, a money.Amount) {
		if !a.IsZero() {
			facts = append(facts, Fact{label, w.Figure(a), false})
		}
	}
	some(w.Say(wording.Discount), t.Discount.Neg())
	some(w.Say(wording.Surcharge, "percent", w.Percent(t.Percent)), t.Surcharge)
	for _, code := range t.Taxes {
		for _, part := range code.Parts {
			facts = append(facts, Fact{w.Say(wording.TaxOn, "tax", part.Name, "percent", w.Percent(part.Percent), "base",
				w.Figure(part.Base)),
				w.Figure(part.Tax), false})
		}
	}
	facts = append(facts, Fact{w.Say(wording.Total) + " " + string(d.Currency), w.Figure(t.Total), true})
	some(w.Say(wording.Withheld), t.Withholding.Neg())
	some(w.Say(wording.YourCredit), t.Credit.Neg())
	some(w.Say(wording.FromFunds), t.Funds.Neg())
	return facts
}

// notices are what the law asks to be said about taxes: of reverse charge, in the
// language of the document too.
func (d *Document) notices(w wording.Words) []string {
	list := []string{}
	for _, code := range d.Totals.Taxes {
		said := code.Notice
		if code.Category == tax.ReverseCharge && d.Language.Known() != wording.English {
			said = strings.Trim(w.Say(wording.ReverseCharge)+" · "+said, " ·")
		}
		if said != "" && !slices.Contains(list, said) {
			list = append(list, said)
		}
	}
	return list
}

func (d *Document) howToPay(w wording.Words, p *Printed) {
	due := d.Totals.Due
	if len(d.Payable) == 1 && !due.IsZero() {
		p.HowToPay = w.Say(wording.PayBy, "amount", w.Money(d.Payable[0].Amount), "day", w.Day(d.Payable[0].Due))
	}
	if all := len(d.Payable); all > 1 {
		p.HowToPay = w.Say(wording.PayIn, "n", strconv.Itoa(all))
		for i, part := range d.Payable {
			p.Parts = append(p.Parts, PrintedPart{w.Say(wording.PartOf, "n", strconv.Itoa(i+1), "all", strconv.Itoa(all)),
				w.Say(wording.ByDay, "day", w.Day(part.Due)), w.Figure(part.Amount)})
		}
	}
	if due.IsZero() {
		return
	}
	for _, f := range []Fact{{w.Say(wording.Bank), d.Bank.Name, false}, {"IBAN", spaced(d.Bank.IBAN), false}, {"BIC", d.Bank.BIC, false},
		{w.Say(wording.Reference), p.Number, false}, {w.Say(wording.Creditor), unlessDraft(p, d.CreditorReference()), false}} {
		if f.Text != "" && d.Bank.IBAN != "" {
			p.Account = append(p.Account, f)
		}
	}
	if d.Look.Code && !p.IsDraft {
		if p.Code = d.TransferCode(); p.Code != "" {
			p.Scan = w.Say(wording.Scan)
		}
	}
}

// unlessDraft is a text that needs the number, which a draft has not.
func unlessDraft(p *Printed, text string) string {
	if p.IsDraft {
		return ""
	}
	return text
}

// spaced is an IBAN in fours, as it is printed.
func spaced(iban string) string {
	compact := strings.ReplaceAll(iban, " ", "")
	parts := []string{}
	for len(compact) > 4 {
		parts, compact = append(parts, compact[:4]), compact[4:]
	}
	return strings.Join(append(parts, compact), " ")
}

// balances are the statement of what is held for the client, and what they owe
// already.
func (d *Document) balances(w wording.Words) []Fact {
	facts := []Fact{}
	if f := d.Funds; f != nil {
		head := Fact{w.Say(wording.Held), w.Figure(f.Opening), true}
		if f.Opening.IsZero() && len(f.Movements) > 0 {
			head.Text = ""
		}
		facts = append(facts, head)
		for _, m := range f.Movements {
			facts = append(facts, Fact{w.Day(m.Day) + " · " + m.Text, w.Figure(m.Amount), false})
		}
		if len(f.Movements) > 0 {
			facts = append(facts, Fact{w.Say(wording.StillHeld), w.Figure(f.Closing), false})
		}
	}
	if d.Earlier != nil {
		facts = append(facts, Fact{w.Say(wording.Earlier), w.Figure(*d.Earlier), false})
	}
	return append(facts, d.Foot...)
}

// first is the first day of work on the document, and last the last; nothing where
// no line has a day.
func (d *Document) Worked() (first, last day.Day) {
	for _, b := range d.Billed {
		if b.Day.IsZero() {
			continue
		}
		if first.IsZero() || b.Day < first {
			first = b.Day
		}
		last = max(last, b.Day)
	}
	return first, last
}
