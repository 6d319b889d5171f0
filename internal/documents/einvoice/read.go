package einvoice

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"io"
	"path"
	"strings"
	"time"

	"dorvet/core/money"
	"dorvet/core/safetext"

	"dorvet/core/refusal"
)

// Limits on what is read.
const (
	maxFile  = 5 << 20
	maxFiles = 2000
)

// Read is what an e-invoice says of what is owed.
type Read struct {
	Number, Type         string
	Dated, Due           string // ISO 8601, or nothing
	Currency             money.Currency
	Seller, SellerNumber string
	Buyer, BuyerNumber   string
	Total, Payable       string // as typed with a point
}

// cii are the parts of a Cross Industry Invoice that are read, by local name.
type cii struct {
	XMLName  xml.Name `xml:"CrossIndustryInvoice"`
	Document struct {
		ID       string `xml:"ID"`
		TypeCode string `xml:"TypeCode"`
		Issued   string `xml:"IssueDateTime>DateTimeString"`
	} `xml:"ExchangedDocument"`
	Trade struct {
		Agreement struct {
			Seller ciiParty `xml:"SellerTradeParty"`
			Buyer  ciiParty `xml:"BuyerTradeParty"`
		} `xml:"ApplicableHeaderTradeAgreement"`
		Settlement struct {
			Currency string   `xml:"InvoiceCurrencyCode"`
			Due      []string `xml:"SpecifiedTradePaymentTerms>DueDateDateTime>DateTimeString"`
			Sums     struct {
				Net     string `xml:"TaxBasisTotalAmount"`
				Tax     []sum  `xml:"TaxTotalAmount"`
				Total   string `xml:"GrandTotalAmount"`
				Prepaid string `xml:"TotalPrepaidAmount"`
				Rounded string `xml:"RoundingAmount"`
				Payable string `xml:"DuePayableAmount"`
			} `xml:"SpecifiedTradeSettlementHeaderMonetarySummation"`
		} `xml:"ApplicableHeaderTradeSettlement"`
	} `xml:"SupplyChainTradeTransaction"`
}

type sum struct {
	Currency string `xml:"currencyID,attr"`
	Text     string `xml:",chardata"`
}

type ciiParty struct {
	Name    string `xml:"Name"`
	Numbers []struct {
		Scheme string `xml:"schemeID,attr"`
		Text   string `xml:",chardata"`
	} `xml:"SpecifiedTaxRegistration>ID"`
}

// Parse reads an e-invoice. What is no Cross Industry Invoice, or does not add up, is
// refused in words.
func Parse(data []byte) (*Read, error) {
	if len(data) > maxFile {
		return nil, refusal.Errorf("the e-invoice is larger than 5 MB: choose another file")
	}
	var in cii
	if err := xml.Unmarshal(data, &in); err != nil {
		return nil, refusal.Errorf("the file is no e-invoice that can be read: it must be a Cross Industry Invoice (CII) in XML and UTF-8")
	}
	s := in.Trade.Settlement
	r := &Read{Number: line(in.Document.ID), Type: line(in.Document.TypeCode), Currency: money.Currency(line(s.Currency)),
		Seller: line(in.Trade.Agreement.Seller.Name), Buyer: line(in.Trade.Agreement.Buyer.Name),
		SellerNumber: in.Trade.Agreement.Seller.number(), BuyerNumber: in.Trade.Agreement.Buyer.number()}
	if r.Number == "" {
		return nil, refusal.Errorf("the e-invoice has no number (BT-1): choose another file")
	}
	var err error
	if r.Dated, err = isoDate(in.Document.Issued); err != nil || r.Dated == "" {
		return nil, refusal.Errorf("the e-invoice %s has no date that can be read (BT-2): choose another file", r.Number)
	}
	for _, due := range s.Due { // of several, the last: until then it is not late
		day, err := isoDate(due)
		if err != nil {
			return nil, refusal.Errorf("the e-invoice %s is due on %q, which is no date: choose another file", r.Number, due)
		}
		r.Due = max(r.Due, day)
	}
	return r, r.addUp(&in)
}

// addUp proves BR-CO-15 and BR-CO-16: a file that does not add up says nothing that
// can be owed.
func (r *Read) addUp(in *cii) error {
	decimals, err := r.Currency.Decimals()
	if err != nil {
		return refusal.Errorf("the e-invoice %s is in %q, which is no currency: choose another file", r.Number, r.Currency)
	}
	s, broken := in.Trade.Settlement.Sums, error(nil)
	minor := func(text string) int64 {
		if text = strings.TrimSpace(text); text == "" {
			return 0
		}
		// More decimals than the currency has are fine if they are zeros.
		if whole, fraction, found := strings.Cut(text, "."); found && len(fraction) > decimals &&
			strings.Trim(fraction[decimals:], "0") == "" {
			text = strings.TrimSuffix(whole+"."+fraction[:decimals], ".")
		}
		n, err := money.ParseFixed(text, money.Point, decimals)
		if err != nil && broken == nil {
			broken = refusal.Errorf("the e-invoice %s has the amount %q, which can't be read: choose another file", r.Number, text)
		}
		return n
	}
	tax := int64(0)
	for _, t := range s.Tax {
		if t.Currency == "" || t.Currency == string(r.Currency) {
			tax += minor(t.Text)
		}
	}
	total, payable, net, due := minor(s.Total), minor(s.Payable), minor(s.Net), minor(s.Total)-minor(s.Prepaid)+minor(s.Rounded)
	switch {
	case broken != nil:
		return broken
	case s.Payable == "" || s.Total == "":
		return refusal.Errorf("the e-invoice %s does not say what is to be paid (BT-112, BT-115): choose another file", r.Number)
	case net+tax != total && s.Net != "":
		return refusal.Errorf("the e-invoice %s does not add up: %s and tax of %s are not %s. Ask for one that does", r.Number, s.Net,
			money.TypeFixed(tax, money.Point, decimals, decimals), s.Total)
	case due != payable:
		return refusal.Errorf("the e-invoice %s does not add up: %s less %s paid is not %s. Ask for one that does", r.Number, s.Total,
			s.Prepaid,
			s.Payable)
	}
	r.Total, r.Payable = money.TypeFixed(total, money.Point, decimals, decimals), money.TypeFixed(payable, money.Point, decimals, decimals)
	return nil
}

func line(text string) string { return strings.TrimSpace(safetext.Line(text)) }

// number is the VAT number of a party, or its other tax number.
func (p ciiParty) number() string {
	other := ""
	for _, n := range p.Numbers {
		if n.Scheme == "VA" {
			return line(n.Text)
		}
		other = line(n.Text)
	}
	return other
}

func isoDate(text string) (string, error) {
	if text = strings.TrimSpace(text); text == "" {
		return "", nil
	}
	day, err := time.Parse("20060102", text)
	return day.Format(time.DateOnly), err
}

// The columns of a table of e-invoices, as an import of open invoices has them.
var Columns = []string{"Client", "Client's tax number", "Number", "Dated", "Due", "Still owed", "Currency", "Document", "Issued by"}

// Is reports whether a file is an e-invoice, or an archive of some.
func Is(data []byte) bool {
	data = bytes.TrimPrefix(bytes.TrimSpace(data), []byte("\xef\xbb\xbf"))
	return bytes.HasPrefix(data, []byte("<")) || len(xmlFiles(data)) > 0
}

func xmlFiles(data []byte) []*zip.File {
	archive, err := zip.NewReader(bytes.NewReader(data), int64(len(data)))
	if err != nil {
		return nil
	}
	files := []*zip.File{}
	for _, f := range archive.File {
		if strings.EqualFold(path.Ext(f.Name), ".xml") && !strings.Contains(f.Name, "/") && !strings.HasPrefix(f.Name, "[") {
			files = append(files, f)
		}
	}
	return files
}

// Table reads an e-invoice, or an archive of some, as rows of Columns.
func Table(data []byte) ([][]string, error) {
	files := xmlFiles(data)
	if len(files) == 0 {
		row, err := row(data)
		return [][]string{row}, err
	}
	if len(files) > maxFiles {
		return nil, refusal.Errorf("the archive has more than %d e-invoices: split it", maxFiles)
	}
	rows := [][]string{}
	for _, f := range files {
		content, err := unzipped(f)
		if err != nil {
			return nil, refusal.Errorf("%s in the archive can't be read: make the archive again", f.Name)
		}
		row, err := row(content)
		if err != nil {
			return nil, refusal.Errorf("%s: %w", f.Name, err)
		}
		rows = append(rows, row)
	}
	return rows, nil
}

func unzipped(f *zip.File) ([]byte, error) {
	r, err := f.Open()
	if err != nil {
		return nil, err
	}
	defer r.Close()
	return io.ReadAll(io.LimitReader(r, maxFile+1))
}

func row(data []byte) ([]string, error) {
	r, err := Parse(data)
	if err != nil {
		return nil, err
	}
	document := "invoice"
	if r.Type == creditNote {
		document = "credit note"
	}
	issuer := r.Seller
	if r.SellerNumber != "" {
		issuer = r.SellerNumber
	}
	return []string{r.Buyer, r.BuyerNumber, r.Number, r.Dated, r.Due, r.Payable, string(r.Currency), document, issuer}, nil
}
