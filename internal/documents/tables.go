package documents

import (
	"errors"
	"io"
	"iter"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/safetext"
	"dorvet/internal/sheets"
)

// open is an invoice as JSON, and what the tables are made from: amounts are decimal
// text, days are ISO 8601.
type open struct {
	Format      string       `json:"format"` // dorvet-invoice-1
	Kind        string       `json:"kind"`
	Number      string       `json:"number"`
	Credits     string       `json:"credits,omitempty"`
	Dated       day.Day      `json:"dated"`
	Due         day.Day      `json:"due"`
	Terms       string       `json:"terms,omitempty"`
	UpTo        day.Day      `json:"upTo"`
	Currency    string       `json:"currency"`
	Reference   string       `json:"reference,omitempty"`
	Language    string       `json:"language"`
	Issuer      openParty    `json:"issuer"`
	Client      openParty    `json:"client"`
	Bank        invoice.Bank `json:"bank"`
	Opening     string       `json:"opening,omitempty"`
	Closing     string       `json:"closing,omitempty"`
	Note        string       `json:"note,omitempty"`
	Lines       []openLine   `json:"lines"`
	Subtotal    string       `json:"subtotal"`
	Discount    string       `json:"discount"`
	Surcharge   string       `json:"surcharge"`
	Net         string       `json:"net"`
	Taxes       []openTax    `json:"taxes"`
	Tax         string       `json:"tax"`
	Total       string       `json:"total"`
	Withholding string       `json:"withholding"`
	Credit      string       `json:"credit"`
	Funds       string       `json:"funds"`
	AmountDue   string       `json:"amountDue"`
	Instalments []openPart   `json:"instalments"`
}

type openParty struct {
	Code      string   `json:"code,omitempty"`
	Name      string   `json:"name"`
	Address   []string `json:"address"`
	Country   string   `json:"country,omitempty"`
	TaxNumber string   `json:"taxNumber,omitempty"`
	Mail      string   `json:"mail,omitempty"`
}

type openLine struct {
	Position   int     `json:"position"`
	Kind       string  `json:"kind"`
	Engagement string  `json:"engagement"`
	Code       string  `json:"engagementCode"`
	Reference  string  `json:"reference,omitempty"`
	Day        day.Day `json:"day,omitempty"`
	Who        string  `json:"who,omitempty"`
	Service    string  `json:"service,omitempty"`
	Text       string  `json:"text"`
	Minutes    int     `json:"minutes,omitempty"`
	Quantity   string  `json:"quantity,omitempty"`
	Unit       string  `json:"unit,omitempty"`
	Price      string  `json:"price,omitempty"`
	Amount     string  `json:"amount"`
	Discount   string  `json:"discount"`
	Surcharge  string  `json:"surcharge"`
	TaxCode    string  `json:"taxCode"`
}

type openTax struct {
	Code     string `json:"code"`
	Category string `json:"category"`
	Name     string `json:"name"`
	Percent  string `json:"percent"`
	Base     string `json:"base"`
	Tax      string `json:"tax"`
}

type openPart struct {
	Due    day.Day `json:"due"`
	Amount string  `json:"amount"`
}

func decimal(a money.Amount) string {
	d, err := a.Currency.Decimals()
	if err != nil {
		d = 2
	}
	return money.TypeFixed(a.Minor, money.Point, d, d)
}

func openOf(doc *invoice.Document) open {
	t := doc.Totals
	o := open{Format: "dorvet-invoice-1", Kind: doc.Kind, Number: safetext.Line(doc.Number), Credits: safetext.Line(doc.Credits),
		Dated: doc.Dated, Due: doc.Due, Terms: safetext.Line(doc.Terms), UpTo: doc.UpTo,
		Currency: string(doc.Currency), Reference: safetext.Line(doc.Reference), Language: string(doc.Language.Known()),
		Issuer: openPartyOf(doc.Issuer), Client: openPartyOf(doc.Client), Bank: doc.Bank,
		Opening: safetext.Lines(doc.Opening), Closing: safetext.Lines(doc.Closing), Note: safetext.Lines(doc.Note), Lines: openLines(doc),
		Taxes: []openTax{}, Instalments: []openPart{},
		Subtotal: decimal(t.Lines), Discount: decimal(t.Discount), Surcharge: decimal(t.Surcharge), Net: decimal(t.Net),
		Tax:         decimal(t.Tax),
		Total:       decimal(t.Total),
		Withholding: decimal(t.Withholding), Credit: decimal(t.Credit), Funds: decimal(t.Funds), AmountDue: decimal(t.Due)}
	for _, code := range t.Taxes {
		for _, part := range code.Parts {
			o.Taxes = append(o.Taxes, openTax{code.Code, string(code.Category), part.Name,
				money.TypeFixed(int64(part.Percent), money.Point, 4, 0),
				decimal(part.Base), decimal(part.Tax)})
		}
	}
	for _, part := range doc.Payable {
		o.Instalments = append(o.Instalments, openPart{part.Due, decimal(part.Amount)})
	}
	return o
}

func openPartyOf(p invoice.Party) openParty {
	address := []string{}
	for _, l := range filled(p.Address...) {
		address = append(address, safetext.Line(l))
	}
	return openParty{safetext.Line(p.Code), safetext.Line(p.Name), address, p.Country, safetext.Line(p.TaxNumber), safetext.Line(p.Mail)}
}

// openLines are the lines as they were billed; of an invoice of before they were
// kept, as they were printed.
func openLines(doc *invoice.Document) []openLine {
	lines := []openLine{}
	for i := range doc.Billed {
		b := &doc.Billed[i]
		l := openLine{Position: i + 1, Kind: string(b.Kind), Engagement: safetext.Line(b.Engagement), Code: b.Code,
			Reference: safetext.Line(b.Reference), Day: b.Day, Who: safetext.Line(b.Worked.Name),
			Service: safetext.Line(b.Service + b.Category),
			Text:    safetext.Line(b.Text), Minutes: b.Minutes, Unit: safetext.Line(b.Unit), Amount: decimal(b.Amount), TaxCode: b.TaxCode}
		if b.Minutes > 0 {
			l.Unit = "h"
		}
		if b.Quantity != 0 {
			l.Quantity = money.TypeFixed(b.Quantity, money.Point, 4, 0)
		}
		if b.Price != nil {
			l.Price = money.TypeFixed(int64(*b.Price), money.Point, 4, 2)
		}
		share := invoice.LineShare{}
		if i < len(doc.Totals.Shares) {
			share = doc.Totals.Shares[i]
		}
		l.Discount, l.Surcharge = decimal(money.Amount{Minor: share.Discount, Currency: doc.Currency}),
			decimal(money.Amount{Minor: share.Surcharge, Currency: doc.Currency})
		lines = append(lines, l)
	}
	if len(lines) > 0 {
		return lines
	}
	none := decimal(money.Zero(doc.Currency))
	for _, s := range doc.Sections {
		for _, l := range s.Lines {
			lines = append(lines, openLine{Position: len(lines) + 1, Engagement: safetext.Line(s.Title),
				Reference: safetext.Line(s.Reference),
				Day:       l.Day, Who: safetext.Line(l.Who), Text: safetext.Line(l.Text),
				Amount: decimal(l.Amount), Discount: none, Surcharge: none})
		}
	}
	return lines
}

// The heads of the tables.
var (
	invoiceHead = []any{"Number", "Kind", "Dated", "Due", "Client code", "Client", "Issued by", "Currency", "Subtotal", "Discount",
		"Surcharge", "Net", "Tax", "Total", "Withheld", "Credit", "Funds", "Amount due"}
	lineHead = []any{"Number", "Dated", "Client code", "Client", "Currency", "Position", "Kind", "Engagement code", "Engagement",
		"Reference", "Day", "Who", "Service", "Text", "Minutes", "Quantity", "Unit", "Price", "Amount", "Discount", "Surcharge", "Tax code"}
)

func (o *open) row() []any {
	n := func(text string) sheets.Number { return sheets.Number(text) }
	return []any{o.Number, o.Kind, o.Dated, o.Due, o.Client.Code, o.Client.Name, o.Issuer.Name, o.Currency, n(o.Subtotal), n(o.Discount),
		n(o.Surcharge), n(o.Net), n(o.Tax), n(o.Total),
		n(o.Withholding), n(o.Credit), n(o.Funds), n(o.AmountDue)}
}

func (o *open) lineRow(l *openLine) []any {
	on, minutes := "", any("")
	if !l.Day.IsZero() {
		on = l.Day.String()
	}
	if l.Minutes > 0 {
		minutes = sheets.Number(money.TypeFixed(int64(l.Minutes), money.Point, 0, 0))
	}
	number := func(text string) any {
		if text == "" {
			return ""
		}
		return sheets.Number(text)
	}
	return []any{o.Number, o.Dated, o.Client.Code, o.Client.Name, o.Currency,
		sheets.Number(money.TypeFixed(int64(l.Position), money.Point, 0, 0)), l.Kind, l.Code, l.Engagement, l.Reference, on, l.Who,
		l.Service,
		l.Text,
		minutes, number(l.Quantity), l.Unit, number(l.Price), number(l.Amount), number(l.Discount), number(l.Surcharge), l.TaxCode}
}

func linesAsCSV(w io.Writer, docs iter.Seq2[invoice.Document, error]) error {
	rows, flush := sheets.NewCSV(w)
	if err := rows.Row(lineHead...); err != nil {
		return err
	}
	for doc, err := range docs {
		if err != nil {
			return err
		}
		if err := writeLines(rows, openOf(&doc)); err != nil {
			return err
		}
	}
	return flush()
}

func writeLines(rows sheets.Rows, o open) error {
	for i := range o.Lines {
		if err := rows.Row(o.lineRow(&o.Lines[i])...); err != nil {
			return err
		}
	}
	return nil
}

// asBook writes a workbook of two tables, the invoices and their lines.
func asBook(w io.Writer, docs iter.Seq2[invoice.Document, error]) (err error) {
	book := sheets.NewBook()
	defer func() { err = errors.Join(err, book.Close()) }()
	invoices, err := book.Sheet("Invoices")
	if err != nil {
		return err
	}
	if err := invoices.Row(invoiceHead...); err != nil {
		return err
	}
	lines, err := book.Sheet("Lines")
	if err != nil {
		return err
	}
	if err := lines.Row(lineHead...); err != nil {
		return err
	}
	for doc, err := range docs {
		if err != nil {
			return err
		}
		o := openOf(&doc)
		if err := errors.Join(invoices.Row(o.row()...), writeLines(lines, o)); err != nil {
			return err
		}
	}
	return book.Write(w)
}
