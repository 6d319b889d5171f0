// Package billingfile writes invoices as LEDES 1998B, the open standard of the
// legal trade: lines of 24 fields parted by |, each ended by [].
//
// Units times unit cost plus adjustment is the total of a line; the totals of the
// lines are that of the invoice. The format has no place for tax, for letters
// beyond ASCII, and for expenses and fees without their codes: what can't be said
// is refused in words.
package billingfile

import (
	"fmt"
	"io"
	"strings"
	"unicode"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/safetext"

	"golang.org/x/text/unicode/norm"
)

// Fields are the names of the fields, in their order.
var Fields = []string{"INVOICE_DATE", "INVOICE_NUMBER", "CLIENT_ID", "LAW_FIRM_MATTER_ID", "INVOICE_TOTAL", "BILLING_START_DATE",
	"BILLING_END_DATE", "INVOICE_DESCRIPTION",
	"LINE_ITEM_NUMBER", "EXP/FEE/INV_ADJ_TYPE", "LINE_ITEM_NUMBER_OF_UNITS", "LINE_ITEM_ADJUSTMENT_AMOUNT", "LINE_ITEM_TOTAL",
	"LINE_ITEM_DATE", "LINE_ITEM_TASK_CODE", "LINE_ITEM_EXPENSE_CODE",
	"LINE_ITEM_ACTIVITY_CODE", "TIMEKEEPER_ID", "LINE_ITEM_DESCRIPTION", "LAW_FIRM_ID", "LINE_ITEM_UNIT_COST", "TIMEKEEPER_NAME",
	"TIMEKEEPER_CLASSIFICATION", "CLIENT_MATTER_ID"}

// The types of lines: fees, expenses, and adjustments of either on the whole invoice.
const (
	fee               = "F"
	expense           = "E"
	feeAdjustment     = "IF"
	expenseAdjustment = "IE"
)

// Supports is a safetext.Unsayable if the format has no place for something on the
// document, or nil.
func Supports(doc *invoice.Document) error {
	_, err := rows(doc)
	return err
}

// Head writes what a file begins with.
func Head(w io.Writer) error {
	_, err := fmt.Fprintf(w, "LEDES1998B[]\r\n%s[]\r\n", strings.Join(Fields, "|"))
	return err
}

// Write writes the lines of an invoice.
func Write(w io.Writer, doc *invoice.Document) error {
	lines, err := rows(doc)
	if err != nil {
		return err
	}
	for _, fields := range lines {
		if _, err := fmt.Fprintf(w, "%s[]\r\n", strings.Join(fields, "|")); err != nil {
			return err
		}
	}
	return nil
}

// item is a line of the file before it is written.
type item struct {
	of         *invoice.Billed
	kind       string
	units      int64 // ten-thousandths
	cost       money.Rate
	adjustment int64
	total      int64
	text       string
}

func refuse(format string, args ...any) error {
	return &safetext.Unsayable{Sentence: fmt.Sprintf(format, args...)}
}

func rows(doc *invoice.Document) ([][]string, error) {
	decimals, err := doc.Currency.Decimals()
	if err != nil {
		return nil, err
	}
	switch {
	case doc.Kind != "invoice":
		return nil, refuse("LEDES 1998B has invoices only: send the PDF.")
	case doc.Number == "":
		return nil, refuse("A draft has no number yet: issue it first.")
	case len(doc.Billed) == 0 || len(doc.Billed) != len(doc.Totals.Shares):
		return nil, refuse("Its lines were not kept for the billing file when it was issued: send the PDF.")
	case !doc.Totals.Tax.IsZero():
		return nil, refuse("It has %s of tax, and LEDES 1998B has no place for tax: send the e-invoice or the PDF.", doc.Totals.Tax)
	case !doc.Totals.Withholding.IsZero():
		return nil, refuse("%s is withheld, and LEDES 1998B has no place for that: send the PDF.", doc.Totals.Withholding)
	case decimals > 2:
		return nil, refuse("%s has %d decimals, and LEDES 1998B takes two: send the PDF.", doc.Currency, decimals)
	}
	items, err := itemsOf(doc)
	if err != nil {
		return nil, err
	}
	sum := int64(0)
	for _, i := range items {
		sum += i.total
	}
	if sum != doc.Totals.Net.Minor {
		return nil, fmt.Errorf("the lines of %s come to %d, not %d", doc.Number, sum, doc.Totals.Net.Minor)
	}
	list := make([][]string, len(items))
	for n, i := range items {
		if list[n], err = i.fields(doc, n+1, decimals); err != nil {
			return nil, err
		}
	}
	return list, nil
}

// itemsOf are the lines, and the discount and surcharge on each engagement's fees and
// expenses as adjustments.
func itemsOf(doc *invoice.Document) ([]item, error) {
	items := []item{}
	type on struct{ code, kind, text string }
	adjusted, order, of := map[on]int64{}, []on{}, map[on]*invoice.Billed{}
	for n := range doc.Billed {
		b := &doc.Billed[n]
		i, err := itemOf(b)
		if err != nil {
			return nil, err
		}
		items = append(items, i)
		kind := feeAdjustment
		if i.kind == expense {
			kind = expenseAdjustment
		}
		for text, minor := range map[string]int64{"Discount": -doc.Totals.Shares[n].Discount, "Surcharge": doc.Totals.Shares[n].Surcharge} {
			if minor == 0 {
				continue
			}
			key := on{b.Code, kind, text}
			if of[key] == nil {
				of[key] = b
			}
			adjusted[key] += minor
		}
	}
	for n := range doc.Billed { // in the order of the lines
		for _, kind := range []string{feeAdjustment, expenseAdjustment} {
			for _, text := range []string{"Discount", "Surcharge"} {
				if key := (on{doc.Billed[n].Code, kind, text}); of[key] == &doc.Billed[n] {
					order = append(order, key)
				}
			}
		}
	}
	for _, key := range order {
		items = append(items, item{of: of[key], kind: key.kind, adjustment: adjusted[key], total: adjusted[key], text: key.text})
	}
	return items, nil
}

func itemOf(b *invoice.Billed) (item, error) {
	i := item{of: b, kind: fee, total: b.Amount.Minor, text: b.Text}
	switch {
	case b.Kind == invoice.Expense:
		i.kind = expense
		if b.Expense == "" {
			return i, refuse("The expense “%s” has no expense code: give its category %s one under Set-up, like E110, then issue again.",
				b.Text,
				b.Category)
		}
	case b.Kind == invoice.Advance:
		i.kind, i.adjustment = feeAdjustment, i.total
		return i, nil
	case b.Kind == invoice.Time && (b.Task == "" || b.Activity == ""):
		return i, refuse("The service %s has no task and activity code: give it both under Set-up, like L120 and A104, then issue again.",
			b.Service)
	}
	i.units, i.cost = 10_000, money.Rate(b.Amount.Minor)
	decimals, err := b.Amount.Currency.Decimals()
	if err != nil {
		return i, err
	}
	for range 4 - decimals {
		i.cost *= 10
	}
	if b.Price == nil {
		return i, nil
	}
	units := b.Quantity
	if b.Minutes > 0 {
		if units, err = money.MulDiv(int64(b.Minutes), 10_000, 60); err != nil {
			return i, err
		}
	}
	made, err := b.Price.ForQuantity(units, 0, b.Amount.Currency)
	if err != nil || units == 0 {
		return i, err
	}
	// What quantity times price misses is an adjustment of the line.
	i.units, i.cost, i.adjustment = units, *b.Price, b.Amount.Minor-made.Minor
	return i, nil
}

// keeper is who a line is of: of time who worked, else who leads the engagement.
func (i *item) keeper() invoice.Timekeeper {
	if i.of.Kind == invoice.Time {
		return i.of.Worked
	}
	return i.of.Lead
}

func (i *item) fields(doc *invoice.Document, number, decimals int) ([]string, error) {
	first, last := doc.Worked()
	if first.IsZero() {
		first, last = doc.Dated, doc.Dated
	}
	amount := func(minor int64) string { return money.TypeFixed(minor, money.Point, decimals, 2) }
	keeper, task, activity, expenseCode := i.keeper(), "", "", ""
	on := i.of.Day
	if on.IsZero() {
		on = doc.Dated
	}
	switch i.kind {
	case fee:
		task, activity = i.of.Task, i.of.Activity
	case expense:
		keeper, expenseCode = invoice.Timekeeper{}, i.of.Expense
	default:
		keeper = invoice.Timekeeper{}
	}
	units, cost := money.TypeFixed(i.units, money.Point, 4, 2), money.TypeFixed(int64(i.cost), money.Point, 4, 2)
	if i.units == 0 {
		units, cost = "", ""
	}
	fields := []string{date(doc.Dated), doc.Number, doc.Client.Code, i.of.Code, amount(doc.Totals.Net.Minor), date(first), date(last),
		doc.Client.Name, fmt.Sprint(number), i.kind,
		units, amount(i.adjustment), amount(i.total), date(on), task, expenseCode, activity, keeper.Initials, i.text, doc.Issuer.TaxNumber,
		cost,
		keeper.Name, keeper.Class, i.of.Reference}
	for n := range fields {
		text, err := ascii(fields[n])
		if err != nil {
			return nil, err
		}
		fields[n] = text
	}
	return fields, nil
}

func date(d day.Day) string { return d.Time().Format("20060102") }

// spelt are letters and signs that have no plain one under their mark.
var spelt = strings.NewReplacer("ß", "ss", "ẞ", "SS", "ł", "l", "Ł", "L", "ø", "o", "Ø", "O", "æ", "ae", "Æ", "AE", "œ", "oe", "Œ", "OE",
	"đ", "d", "Đ", "D", "þ", "th", "Þ", "Th", "ı", "i",
	"–", "-", "—", "-", "−", "-", "‘", "'", "’", "'", "‚", "'", "“", `"`, "”", `"`, "„", `"`, "…", "...", "·", "-", "•", "-", "×", "x", "€",
	"EUR", "£", "GBP", "№", "No.",
	"|", "/", "[]", "()", "\u00a0", " ", "\u202f", " ")

// ascii is a text in the letters that the format has, without its separators. Marks
// over letters go; what is no Latin letter at all is refused.
func ascii(text string) (string, error) {
	plainly := spelt.Replace(safetext.Line(text))
	plainly = strings.Map(func(r rune) rune {
		if unicode.Is(unicode.Mn, r) {
			return -1
		}
		return r
	}, norm.NFKD.String(plainly))
	for _, r := range plainly {
		if r > unicode.MaxASCII {
			return "", refuse("LEDES 1998B has plain Latin letters only, and “%s” has “%c”: change that text, then issue "+
				"again, or send the PDF.",
				text, r)
		}
	}
	return strings.Join(strings.Fields(strings.ReplaceAll(plainly, "[]", "()")), " "), nil
}
