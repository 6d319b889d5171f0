// Package einvoice writes and reads invoices as structured data: Cross Industry
// Invoice D16B in the profile of EN 16931-1, the European standard. Comments name
// the terms of the standard (BT: a business term, BR: a business rule).
//
// What the standard has no place for is refused in words: compound and second
// taxes, withholding, currencies of three decimals, parties without a country.
package einvoice

import (
	"fmt"
	"regexp"
	"strings"

	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/safetext"
	"dorvet/core/tax"
)

// FileName is the name that the hybrid format asks for inside a PDF.
const FileName = "factur-x.xml"

// TypeCode of UNTDID 1001 that EN 16931 allows.
const (
	commercialInvoice = "380"
	creditNote        = "381"
	prepayment        = "386"
)

// of is an invoice that is being said.
type of struct {
	*invoice.Document
	type_    string
	decimals int
	rates    map[string]rated // by tax code
	taxes    []taxSum
}

// rated is how a tax code is said: category and rate.
type rated struct {
	category string
	percent  money.Percent
	reason   string
}

// taxSum is a row of the tax breakdown: BG-23.
type taxSum struct {
	rated
	base, tax           int64
	discount, surcharge int64
}

// Supports is a safetext.Unsayable if the standard has no place for something on the
// document, or nil.
func Supports(doc *invoice.Document) error {
	_, err := said(doc)
	return err
}

func said(doc *invoice.Document) (*of, error) {
	refuse := func(format string, args ...any) error {
		return &safetext.Unsayable{Sentence: fmt.Sprintf(format, args...)}
	}
	o := &of{Document: doc, type_: commercialInvoice, rates: map[string]rated{}}
	var err error
	if o.decimals, err = doc.Currency.Decimals(); err != nil {
		return nil, err
	}
	switch {
	case doc.Kind == "credit_note":
		o.type_ = creditNote
	case doc.Kind != "invoice":
		return nil, refuse("This is no tax invoice, and e-invoices are: send the PDF.")
	case doc.Number == "":
		return nil, refuse("A draft has no number yet: issue it first.")
	}
	switch {
	case len(doc.Billed) == 0 || len(doc.Billed) != len(doc.Totals.Shares):
		return nil, refuse("Its lines were not kept for e-invoices when it was issued: send the PDF.")
	case !doc.Totals.Withholding.IsZero():
		return nil, refuse("%s is withheld, and EN 16931 has no place for withholding: send the PDF.", doc.Totals.Withholding)
	case o.decimals > 2:
		return nil, refuse("%s has %d decimals, and EN 16931 takes two at most: send the PDF.", doc.Currency, o.decimals)
	case doc.Issuer.Country == "":
		return nil, refuse("The issuing entity %s has no country: give it one under Set-up, then issue again.", doc.Issuer.Name)
	case doc.Client.Country == "":
		return nil, refuse("The client %s has no country: give it one on its record, then issue again.", doc.Client.Name)
	case strings.TrimSpace(doc.Issuer.TaxNumber) == "":
		return nil, refuse("The issuing entity %s has no tax number: give it one under Set-up, then issue again.", doc.Issuer.Name)
	}
	if err := o.sumTaxes(refuse); err != nil {
		return nil, err
	}
	if o.type_ == commercialInvoice && o.isPrepayment() {
		o.type_ = prepayment
	}
	return o, nil
}

func (o *of) isPrepayment() bool {
	for _, b := range o.Billed {
		if b.Kind != invoice.Advance || b.Amount.Minor < 0 {
			return false
		}
	}
	return true
}

// sumTaxes makes the tax breakdown, which has one row for each category and rate.
func (o *of) sumTaxes(refuse func(string, ...any) error) error {
	for _, code := range o.Totals.Taxes {
		if len(code.Parts) != 1 {
			return refuse("The tax code %s has a second tax, and EN 16931 has one tax a line: send the PDF.", code.Code)
		}
		r := rated{string(code.Category), code.Parts[0].Percent, safetext.Line(code.Notice)}
		switch {
		case code.Category == tax.StandardRated && r.percent == 0:
			r.category = "Z"
		case code.Category != tax.StandardRated && r.percent != 0:
			return refuse("The tax code %s is not of the standard kind but takes %s %%, which EN 16931 does not know: mend the "+
				"code, then issue again.", code.Code, r.percent)
		case code.Category == tax.Exempt && r.reason == "":
			r.reason = "Exempt from tax"
		case code.Category == tax.ReverseCharge && r.reason == "":
			r.reason = "Reverse charge"
		}
		if code.Category == tax.ReverseCharge && vatNumber(o.Client.TaxNumber) == "" {
			return refuse("%s is billed under reverse charge, for which EN 16931 asks for the client's tax number with its "+
				"country before it, "+
				"like NO123456789: give it on the client's record, then issue again.", o.Client.Name)
		}
		o.rates[code.Code] = r
		row := o.rowOf(r)
		row.base, row.tax = row.base+code.Taxable.Minor, row.tax+code.Parts[0].Tax.Minor
	}
	for i, b := range o.Billed {
		if _, known := o.rates[b.TaxCode]; !known {
			return refuse("The line “%s” has no tax code that was kept with it: send the PDF.", b.Text)
		}
		row := o.rowOf(o.rates[b.TaxCode])
		row.discount += o.Totals.Shares[i].Discount
		row.surcharge += o.Totals.Shares[i].Surcharge
	}
	for _, row := range o.taxes { // BR-CO-17
		if whole, err := row.percent.Of(money.Amount{Minor: row.base, Currency: o.Currency}); err != nil || whole.Minor != row.tax {
			return refuse("Two tax codes of %s %% are rounded apart, and EN 16931 has one row for each rate: use one "+
				"code, then issue again.",
				row.percent)
		}
	}
	return nil
}

// rowOf is the row of a category and rate; the first reason given stays.
func (o *of) rowOf(r rated) *taxSum {
	for i := range o.taxes {
		if o.taxes[i].category == r.category && o.taxes[i].percent == r.percent {
			return &o.taxes[i]
		}
	}
	o.taxes = append(o.taxes, taxSum{rated: r})
	return &o.taxes[len(o.taxes)-1]
}

var (
	vatPattern = regexp.MustCompile(`^[A-Z]{2}[0-9A-Z]{2,14}$`)
	vatWords   = regexp.MustCompile(`(?i)^(vat|tax|tva|ust-?id(nr)?|mwst|iva|nip|no|number|reg)\b[ .:]*`)
)

// vatNumber is a tax number as BT-31 and BT-48 have it: the country's two letters
// first (BR-CO-09), without spaces; nothing where it is not like that.
func vatNumber(text string) string {
	text = strings.TrimSpace(text)
	for {
		shorter := vatWords.ReplaceAllString(text, "")
		if shorter == text || vatPattern.MatchString(compact(text)) && !vatPattern.MatchString(compact(shorter)) {
			break
		}
		text = shorter
	}
	if c := compact(text); vatPattern.MatchString(c) && strings.ContainsAny(c, "0123456789") {
		return c
	}
	return ""
}

func compact(text string) string {
	return strings.ToUpper(strings.NewReplacer(" ", "", ".", "", "-", "", "/", "").Replace(text))
}
