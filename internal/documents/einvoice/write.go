package einvoice

import (
	"bytes"
	"encoding/xml"
	"fmt"
	"strings"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/money"
	"dorvet/core/paymentmethod"
	"dorvet/core/safetext"
	"dorvet/core/wording"
)

// element is a part of the file.
type element struct {
	name       string
	attributes []string // name, value
	text       string
	children   []element
}

func leaf(name, text string, attributes ...string) element {
	return element{name: name, text: text, attributes: attributes}
}

func branch(name string, children ...element) element {
	return element{name: name, children: children}
}

// maybe is a leaf where there is a text, else nothing.
func maybe(name, text string) element {
	if text == "" {
		return element{}
	}
	return leaf(name, text)
}

func (e element) encode(to *xml.Encoder) error {
	if e.name == "" {
		return nil
	}
	start := xml.StartElement{Name: xml.Name{Local: e.name}}
	for i := 0; i < len(e.attributes); i += 2 {
		start.Attr = append(start.Attr, xml.Attr{Name: xml.Name{Local: e.attributes[i]}, Value: e.attributes[i+1]})
	}
	if err := to.EncodeToken(start); err != nil {
		return err
	}
	if e.text != "" {
		if err := to.EncodeToken(xml.CharData(e.text)); err != nil {
			return err
		}
	}
	for _, child := range e.children {
		if err := child.encode(to); err != nil {
			return err
		}
	}
	return to.EncodeToken(start.End())
}

// Write says a document, or refuses what Supports refuses.
func Write(doc *invoice.Document) ([]byte, error) {
	o, err := said(doc)
	if err != nil {
		return nil, err
	}
	const standard = "urn:un:unece:uncefact:data:standard:"
	root := branch("rsm:CrossIndustryInvoice",
		// BT-24
		branch("rsm:ExchangedDocumentContext", branch("ram:GuidelineSpecifiedDocumentContextParameter",
			leaf("ram:ID", "urn:cen.eu:en16931:2017"))),
		o.document(),
		branch("rsm:SupplyChainTradeTransaction", append(o.lines(), o.agreement(), o.delivery(), o.settlement())...))
	root.attributes = []string{"xmlns:rsm", standard + "CrossIndustryInvoice:100", "xmlns:ram",
		standard + "ReusableAggregateBusinessInformationEntity:100",
		"xmlns:qdt", standard + "QualifiedDataType:100", "xmlns:udt", standard + "UnqualifiedDataType:100"}
	var out bytes.Buffer
	out.WriteString(xml.Header)
	to := xml.NewEncoder(&out)
	to.Indent("", " ")
	if err := root.encode(to); err != nil {
		return nil, fmt.Errorf("write the e-invoice: %w", err)
	}
	err = to.Close()
	return out.Bytes(), err
}

func (o *of) amount(minor int64) string {
	return money.TypeFixed(minor, money.Point, o.decimals, o.decimals)
}

// date is in the form 102 of UNTDID 2379: YYYYMMDD.
func date(name string, d day.Day) element {
	if d.IsZero() {
		return element{}
	}
	return branch(name, leaf("udt:DateTimeString", d.Time().Format("20060102"), "format", "102"))
}

func (o *of) document() element {
	// BT-1, BT-3, BT-2
	e := branch("rsm:ExchangedDocument", leaf("ram:ID", safetext.Line(o.Number)), leaf("ram:TypeCode", o.type_),
		date("ram:IssueDateTime", o.Dated))
	for _, note := range []string{o.Opening, o.Closing, o.Note} {
		if text := strings.TrimSpace(safetext.Lines(note)); text != "" {
			e.children = append(e.children, branch("ram:IncludedNote", leaf("ram:Content", text))) // BT-22
		}
	}
	return e
}

func (o *of) lines() []element {
	list := []element{}
	for i := range o.Billed {
		b := &o.Billed[i]
		r := o.rates[b.TaxCode]
		quantity, unit, price := o.priced(b)
		name := safetext.Line(b.Text)
		if strings.TrimSpace(name) == "" { // BR-25
			name = safetext.Line(b.Engagement)
		}
		list = append(list, branch("ram:IncludedSupplyChainTradeLineItem",
			branch("ram:AssociatedDocumentLineDocument", leaf("ram:LineID", fmt.Sprint(i+1))), // BT-126
			// BT-153, BT-154
			branch("ram:SpecifiedTradeProduct", leaf("ram:Name", name), maybe("ram:Description", safetext.Line(described(b)))),
			branch("ram:SpecifiedLineTradeAgreement", branch("ram:NetPriceProductTradePrice", leaf("ram:ChargeAmount", price))), // BT-146
			// BT-129, BT-130
			branch("ram:SpecifiedLineTradeDelivery", leaf("ram:BilledQuantity", quantity, "unitCode", unit)),
			branch("ram:SpecifiedLineTradeSettlement",
				// BT-151, BT-152
				branch("ram:ApplicableTradeTax", leaf("ram:TypeCode", "VAT"), leaf("ram:CategoryCode", r.category),
					leaf("ram:RateApplicablePercent", percent(r.percent))),
				period(b.Day, b.Day),
				// BT-131
				branch("ram:SpecifiedTradeSettlementLineMonetarySummation", leaf("ram:LineTotalAmount", o.amount(b.Amount.Minor))))))
	}
	return list
}

// described is for what a line was done, and by whom.
func described(b *invoice.Billed) string {
	return strings.Trim(b.Engagement+" · "+b.Worked.Name, " ·")
}

func percent(p money.Percent) string { return money.TypeFixed(int64(p), money.Point, 4, 2) }

func period(from, to day.Day) element { // BG-14, BG-26
	if from.IsZero() {
		return element{}
	}
	return branch("ram:BillingSpecifiedPeriod", date("ram:StartDateTime", from), date("ram:EndDateTime", to))
}

// Codes of UN/ECE Recommendation 20.
const (
	hour = "HUR"
	one  = "C62"
)

var units = map[string]string{"h": hour, "hour": hour, "hours": hour, "day": "DAY", "days": "DAY", "km": "KMT", "month": "MON",
	"months": "MON", "piece": "H87", "pieces": "H87", "page": "ZP", "pages": "ZP"}

// priced is a line as quantity and price. One whose quantity times price misses its
// amount goes out as one of it; a price is never negative (BR-27), a quantity is.
func (o *of) priced(b *invoice.Billed) (quantity, unit, price string) {
	if b.Price != nil && *b.Price >= 0 {
		tenThousandths, code := b.Quantity, units[strings.ToLower(b.Unit)]
		if b.Minutes > 0 {
			code = hour
			if n, err := money.MulDiv(int64(b.Minutes), 10_000, 60); err == nil {
				tenThousandths = n
			}
		}
		if code == "" {
			code = one
		}
		if made, err := b.Price.ForQuantity(tenThousandths, 0, b.Amount.Currency); err == nil && made == b.Amount {
			return money.TypeFixed(tenThousandths, money.Point, 4, 0), code, money.TypeFixed(int64(*b.Price), money.Point, 4, 2)
		}
	}
	if b.Amount.Minor < 0 {
		return "-1", one, o.amount(-b.Amount.Minor)
	}
	return "1", one, o.amount(b.Amount.Minor)
}

func (o *of) agreement() element {
	order := element{}
	if o.Reference != "" {
		order = branch("ram:BuyerOrderReferencedDocument", leaf("ram:IssuerAssignedID", safetext.Line(o.Reference))) // BT-13
	}
	return branch("ram:ApplicableHeaderTradeAgreement", maybe("ram:BuyerReference", safetext.Line(o.Reference)), // BT-10
		party("ram:SellerTradeParty", o.Issuer, true), party("ram:BuyerTradeParty", o.Client, false), order)
}

// party is BG-4 or BG-7, with its address of three lines at most.
func party(name string, p invoice.Party, seller bool) element {
	e, vat := branch(name), vatNumber(p.TaxNumber)
	switch {
	case !seller:
		e.children = append(e.children, maybe("ram:ID", safetext.Line(p.Code))) // BT-46
	case vat == "": // without it a seller is known by another number: BT-29, BR-CO-26
		e.children = append(e.children, leaf("ram:ID", safetext.Line(p.TaxNumber)))
	}
	e.children = append(e.children, leaf("ram:Name", safetext.Line(p.Name)))
	address, lines := branch("ram:PostalTradeAddress"), []string{}
	for _, line := range p.Address {
		if line = strings.TrimSpace(safetext.Line(line)); line != "" {
			lines = append(lines, line)
		}
	}
	if len(lines) > 3 {
		lines = append(lines[:2], strings.Join(lines[2:], ", "))
	}
	for i, line := range lines {
		address.children = append(address.children, leaf("ram:Line"+[]string{"One", "Two", "Three"}[i], line))
	}
	address.children = append(address.children, leaf("ram:CountryID", p.Country)) // BT-40, BT-55
	e.children = append(e.children, address)
	if mail := safetext.Line(p.Mail); strings.Contains(mail, "@") {
		e.children = append(e.children, branch("ram:URIUniversalCommunication", leaf("ram:URIID", mail, "schemeID", "EM"))) // BT-34, BT-49
	}
	if vat != "" {
		e.children = append(e.children, branch("ram:SpecifiedTaxRegistration", leaf("ram:ID", vat, "schemeID", "VA"))) // BT-31, BT-48
	} else if seller {
		// BT-32
		e.children = append(e.children, branch("ram:SpecifiedTaxRegistration",
			leaf("ram:ID", safetext.Line(p.TaxNumber), "schemeID", "FC")))
	}
	return e
}

func (o *of) delivery() element {
	_, last := o.Worked()
	if last.IsZero() {
		return element{name: "ram:ApplicableHeaderTradeDelivery"}
	}
	// BT-72
	return branch("ram:ApplicableHeaderTradeDelivery", branch("ram:ActualDeliverySupplyChainEvent", date("ram:OccurrenceDateTime", last)))
}

func (o *of) settlement() element {
	// BT-83, BT-5
	e := branch("ram:ApplicableHeaderTradeSettlement", leaf("ram:PaymentReference", o.paymentReference()),
		leaf("ram:InvoiceCurrencyCode", string(o.Currency)), o.means())
	for _, t := range o.taxes {
		e.children = append(e.children, branch("ram:ApplicableTradeTax", leaf("ram:CalculatedAmount", o.amount(t.tax)),
			leaf("ram:TypeCode", "VAT"), maybe("ram:ExemptionReason", o.reason(t)),
			// BT-117, BT-120, BT-116, BT-118, BT-119
			leaf("ram:BasisAmount", o.amount(t.base)), leaf("ram:CategoryCode", t.category),
			leaf("ram:RateApplicablePercent", percent(t.percent))))
	}
	first, last := o.Worked()
	e.children = append(e.children, period(first, last))
	for _, t := range o.taxes {
		e.children = append(e.children, o.allowance(t, "false", t.discount, "Discount"), o.allowance(t, "true", t.surcharge, "Surcharge"))
	}
	e.children = append(e.children, o.terms(), o.summation())
	if o.Credits != "" { // BG-3
		before := branch("ram:InvoiceReferencedDocument", leaf("ram:IssuerAssignedID", safetext.Line(o.Credits)))
		if !o.CreditsDate.IsZero() {
			before.children = append(before.children, branch("ram:FormattedIssueDateTime",
				leaf("qdt:DateTimeString", o.CreditsDate.Time().Format("20060102"), "format", "102")))
		}
		e.children = append(e.children, before)
	}
	return e
}

// reason is said only where a tax is not taken.
func (o *of) reason(t taxSum) string {
	if t.category == "S" || t.category == "Z" {
		return ""
	}
	return t.reason
}

func (o *of) means() element {
	if o.Bank.IBAN == "" {
		return element{}
	}
	code := "30" // credit transfer
	if o.Currency == "EUR" && (paymentmethod.Account{IBAN: o.Bank.IBAN, Holder: o.Issuer.Name}).Check() == nil {
		code = "58" // SEPA credit transfer
	}
	account := paymentmethod.Account{IBAN: safetext.Line(o.Bank.IBAN)}.Compact()
	// BT-81, BT-84, BT-85
	e := branch("ram:SpecifiedTradeSettlementPaymentMeans", leaf("ram:TypeCode", code),
		branch("ram:PayeePartyCreditorFinancialAccount", leaf("ram:IBANID", account),
			leaf("ram:AccountName", safetext.Line(o.Issuer.Name))))
	if bic := strings.TrimSpace(safetext.Line(o.Bank.BIC)); bic != "" {
		e.children = append(e.children, branch("ram:PayeeSpecifiedCreditorFinancialInstitution", leaf("ram:BICID", bic))) // BT-86
	}
	return e
}

// allowance is what a discount takes off, or a surcharge adds, at one rate: BG-20,
// BG-21.
func (o *of) allowance(t taxSum, adds string, minor int64, reason string) element {
	if minor == 0 {
		return element{}
	}
	return branch("ram:SpecifiedTradeAllowanceCharge", branch("ram:ChargeIndicator", leaf("udt:Indicator", adds)),
		leaf("ram:ActualAmount", o.amount(minor)), leaf("ram:Reason", reason),
		branch("ram:CategoryTradeTax", leaf("ram:TypeCode", "VAT"), leaf("ram:CategoryCode", t.category),
			leaf("ram:RateApplicablePercent", percent(t.percent))))
}

// terms say when to pay: one day (BT-9), or of instalments each with its amount
// (BT-20), for which the standard has no terms of their own. Of a credit note they say
// against what it is set: an amount due without terms breaks BR-CO-25.
func (o *of) terms() element {
	if o.type_ == creditNote {
		return branch("ram:SpecifiedTradePaymentTerms",
			leaf("ram:Description", safetext.Line(o.Words().Say(wording.Credits)+" "+o.Credits)))
	}
	if len(o.Payable) == 0 {
		return element{}
	}
	if len(o.Payable) == 1 {
		return branch("ram:SpecifiedTradePaymentTerms", maybe("ram:Description", safetext.Line(o.Terms)),
			date("ram:DueDateDateTime", o.Payable[0].Due))
	}
	parts := []string{}
	for _, p := range o.Payable {
		parts = append(parts, fmt.Sprintf("%s %s %s", o.Currency, o.amount(p.Amount.Minor), p.Due))
	}
	return branch("ram:SpecifiedTradePaymentTerms", leaf("ram:Description", strings.Join(parts, "; ")))
}

func (o *of) summation() element {
	t := o.Totals
	discount, surcharge, net := int64(0), int64(0), int64(0)
	for _, row := range o.taxes {
		discount, surcharge, net = discount+row.discount, surcharge+row.surcharge, net+row.base
	}
	return branch("ram:SpecifiedTradeSettlementHeaderMonetarySummation",
		leaf("ram:LineTotalAmount", o.amount(t.Lines.Minor)),                                // BT-106
		leaf("ram:ChargeTotalAmount", o.amount(surcharge)),                                  // BT-108
		leaf("ram:AllowanceTotalAmount", o.amount(discount)),                                // BT-107
		leaf("ram:TaxBasisTotalAmount", o.amount(net)),                                      // BT-109
		leaf("ram:TaxTotalAmount", o.amount(t.Tax.Minor), "currencyID", string(o.Currency)), // BT-110
		leaf("ram:GrandTotalAmount", o.amount(t.Total.Minor)),                               // BT-112
		leaf("ram:TotalPrepaidAmount", o.amount(t.Credit.Minor+t.Funds.Minor)),              // BT-113
		leaf("ram:DuePayableAmount", o.amount(t.Due.Minor)))                                 // BT-115
}

// paymentReference is the creditor reference (ISO 11649) by which the payment finds its invoice, as on paper and in the code to pay by; else
// the number.
func (o *of) paymentReference() string {
	if reference := paymentmethod.Reference(o.Number); reference != "" {
		return reference
	}
	return safetext.Line(o.Number)
}
