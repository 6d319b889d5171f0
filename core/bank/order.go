package bank

import (
	"encoding/xml"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"dorvet/core/day"
	"dorvet/core/money"
)

// Order is what a bank is asked to pay, from one account, on one day.
type Order struct {
	ID       string // at most 35 characters, never used twice
	Made     time.Time
	On       day.Day // on which it is to leave
	Payer    Holder
	Currency money.Currency
	Payments []Ordered // one at least
}

// Holder is who an account belongs to. Without a BIC the bank finds it by the IBAN.
type Holder struct{ Name, IBAN, BIC string }

// Ordered is one payment of an order, in minor units, with a reference that comes back in the statement, at most 35 characters.
type Ordered struct {
	To       Holder
	Minor    int64
	EndToEnd string
	Text     string
}

// The elements of ISO 20022 pain.001.001.09, customer credit transfer initiation, in their order.
type (
	orderFile struct {
		XMLName xml.Name   `xml:"urn:iso:std:iso:20022:tech:xsd:pain.001.001.09 Document"`
		Head    orderHead  `xml:"CstmrCdtTrfInitn>GrpHdr"`
		Batch   orderBatch `xml:"CstmrCdtTrfInitn>PmtInf"`
	}
	orderHead struct {
		ID    string `xml:"MsgId"`
		Made  string `xml:"CreDtTm"`
		Count int    `xml:"NbOfTxs"`
		Sum   string `xml:"CtrlSum"`
		From  string `xml:"InitgPty>Nm"`
	}
	orderBatch struct {
		ID       string         `xml:"PmtInfId"`
		Method   string         `xml:"PmtMtd"`
		Together bool           `xml:"BtchBookg"`
		Count    int            `xml:"NbOfTxs"`
		Sum      string         `xml:"CtrlSum"`
		Service  *orderCode     `xml:"PmtTpInf>SvcLvl"`
		On       string         `xml:"ReqdExctnDt>Dt"`
		Name     string         `xml:"Dbtr>Nm"`
		Account  orderAccount   `xml:"DbtrAcct>Id"`
		Bank     orderBank      `xml:"DbtrAgt>FinInstnId"`
		Bearer   string         `xml:"ChrgBr"`
		Payments []orderPayment `xml:"CdtTrfTxInf"`
	}
	orderCode struct {
		Code string `xml:"Cd"`
	}
	orderAccount struct {
		IBAN string `xml:"IBAN"`
	}
	orderBank struct {
		BIC   string   `xml:"BICFI,omitempty"`
		Other *orderID `xml:"Othr"`
	}
	orderID struct {
		ID string `xml:"Id"`
	}
	orderAmount struct {
		Currency money.Currency `xml:"Ccy,attr"`
		Amount   string         `xml:",chardata"`
	}
	orderPayment struct {
		ID       string       `xml:"PmtId>InstrId"`
		EndToEnd string       `xml:"PmtId>EndToEndId"`
		Amount   orderAmount  `xml:"Amt>InstdAmt"`
		Bank     *orderBank   `xml:"CdtrAgt>FinInstnId"`
		Name     string       `xml:"Cdtr>Nm"`
		Account  orderAccount `xml:"CdtrAcct>Id"`
		Text     string       `xml:"RmtInf>Ustrd"`
	}
)

// File is an order as ISO 20022 pain.001.001.09. Names and texts are written in the characters that all banks of the euro area take
// (European Payments Council, EPC217-08), and cut to the lengths that they take.
func (o Order) File() ([]byte, error) {
	sum, payments := int64(0), []orderPayment{}
	for i, p := range o.Payments {
		sum += p.Minor
		one := orderPayment{ID: o.numbered(i + 1), EndToEnd: latin(p.EndToEnd, 35), Amount: orderAmount{o.Currency, o.amount(p.Minor)},
			Name: latin(p.To.Name, 70), Account: orderAccount{p.To.IBAN}, Text: latin(p.Text, 140)}
		if p.To.BIC != "" {
			one.Bank = &orderBank{BIC: p.To.BIC}
		}
		payments = append(payments, one)
	}
	name := latin(o.Payer.Name, 70)
	batch := orderBatch{ID: o.numbered(0), Method: "TRF", Count: len(payments), Sum: o.amount(sum), On: o.On.String(), Name: name,
		Account: orderAccount{o.Payer.IBAN}, Bank: orderBank{BIC: o.Payer.BIC}, Bearer: "SLEV", Payments: payments}
	if o.Payer.BIC == "" {
		batch.Bank.Other = &orderID{"NOTPROVIDED"}
	}
	if o.Currency == "EUR" {
		batch.Service = &orderCode{"SEPA"}
	}
	content, err := xml.MarshalIndent(orderFile{Head: orderHead{latin(o.ID, 35), o.Made.UTC().Format("2006-01-02T15:04:05"), len(payments), batch.Sum,
		name}, Batch: batch}, "", "  ")
	return append([]byte(xml.Header), content...), err
}

func (o Order) amount(minor int64) string {
	return money.Amount{Minor: minor, Currency: o.Currency}.Typed()
}

// numbered is the number of a part of an order: 0 is all of it.
func (o Order) numbered(part int) string {
	number := "." + strconv.Itoa(part)
	return latin(o.ID, 35-len(number)) + number
}

// plainly are letters that banks do not take, as they are written otherwise.
var plainly = strings.NewReplacer("ä", "ae", "ö", "oe", "ü", "ue", "Ä", "Ae", "Ö", "Oe", "Ü", "Ue", "ß", "ss", "æ", "ae", "Æ", "Ae", "ø", "o", "Ø", "O",
	"å", "a", "Å", "A", "é", "e", "è", "e", "ê", "e", "ë", "e", "É", "E", "È", "E", "à", "a", "â", "a", "á", "a", "ã", "a", "ç", "c", "Ç", "C", "ñ", "n",
	"Ñ", "N", "í", "i", "î", "i", "ï", "i", "ó", "o", "ô", "o", "õ", "o", "ò", "o", "ú", "u", "ù", "u", "û", "u", "ł", "l", "Ł", "L", "ś", "s", "Ś", "S",
	"ż", "z", "Ż", "Z", "ź", "z", "ć", "c", "ń", "n", "ą", "a", "ę", "e", "ý", "y", "ð", "d", "þ", "th", "č", "c", "š", "s", "ž", "z", "ř", "r", "’", "'",
	"‘", "'", "–", "-", "—", "-", "&", "+", "\n", " ", "\u00a0", " ", "\u202f", " ")

// latin is a text in the characters that all banks take, at most so many: what they do not take is a space.
func latin(text string, most int) string {
	kept := strings.Map(func(r rune) rune {
		if r < utf8.RuneSelf && (r >= '0' && r <= '9' || r >= 'a' && r <= 'z' || r >= 'A' && r <= 'Z' || strings.ContainsRune("/-?:().,'+ ", r)) {
			return r
		}
		return ' '
	}, plainly.Replace(text))
	kept = strings.Join(strings.Fields(kept), " ")
	return strings.TrimSpace(kept[:min(len(kept), most)])
}
