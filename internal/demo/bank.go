package demo

import (
	"cmp"
	"errors"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app/banking"
	"dorvet/internal/app/receivables"
	"dorvet/internal/store"
)

// booked is an entry of a bank, as the demo's banks write them.
type booked struct {
	on                     day.Day
	minor                  int64
	reference, text, party string
	account                string // from or to which
	returned               string
}

const (
	currentIBAN = "IE89DEMO00000000000001"
	clientsIBAN = "IE62DEMO00000000000002"
)

// accountOf is an invented account from which a client pays, always the same.
func accountOf(client string) string {
	n := 0
	for _, r := range client {
		n = (n*31 + int(r)) % 1_000_000
	}
	for check := 2; check < 98; check++ {
		iban := fmt.Sprintf("IE%02dCLNT%014d", check, n)
		if (paymentmethod.Account{IBAN: iban, Holder: client}).Check() == nil {
			return iban
		}
	}
	return ""
}

// paidBy is what a client pays, from an account of theirs.
func paidBy(client string, on day.Day, minor int64, text string) booked {
	return booked{on: on, minor: minor, text: text, party: client, account: accountOf(client)}
}

// byBank reports whether a payment came over the bank.
func byBank(p *receivables.Payment) bool { return p.Method == "transfer" || p.Method == "debit" }

// bank reads what the banks say of November: on the current account the first half is told already, the second waits with entries of every
// kind; on the clients' account deposits came in and transfers went out.
func (s *seeder) bank() error {
	if err := s.adds("bank-accounts", []string{"name", "Current account", "entity", "Skerrow Coastal", "currency", "EUR", "iban", currentIBAN,
		"day_column", "Date", "amount_column", "Amount", "text_column", "Details", "party_column", "Name", "party_account_column", "Account",
		"balance_column", "Balance"},
		[]string{"name", "Clients’ account", "entity", "Skerrow Coastal", "currency", "EUR", "iban", clientsIBAN, "clients_money", "yes"}); err != nil {
		return err
	}
	payments, err := receivables.Payments(s.ctx, s.app, s.admin.Actor, 0)
	if err != nil {
		return err
	}
	first, second, clients := s.recordedByHand(payments)
	open, err := s.newOnAccount(payments)
	if err != nil {
		return err
	}
	first = append(first, booked{on: day.Of(2026, 11, 2), minor: -12_40, text: "Account fee October", party: "Harbourside Credit"},
		booked{on: day.Of(2026, 11, 12), minor: -4_80, text: "Charge for paper transfers", party: "Harbourside Credit"})
	// In April to July bills took what was held; all of it was moved in one go in November.
	clients = append(clients, booked{on: day.Of(2026, 11, 26), minor: -12_000_00, text: "To the current account", party: "Skerrow Coastal Ltd",
		account: currentIBAN})
	clients = append(clients, paidBy("Halvick Ferries", day.Of(2026, 11, 27), 1_800_00, "Deposit D2"),
		paidBy("Brannoch Oyster Growers", day.Of(2026, 11, 28), 950_00, "for the dive"),
		booked{on: day.Of(2026, 11, 30), minor: -1_362_00, text: "To the current account", party: "Skerrow Coastal Ltd", account: currentIBAN},
		booked{on: day.Of(2026, 11, 30), minor: -2_138_00, text: "To the current account", party: "Skerrow Coastal Ltd", account: currentIBAN})
	files := []banking.BankFile{}
	opening := int64(84_210_55)
	for _, half := range []struct {
		number   string
		entries  []booked
		from, to day.Day
	}{{"21", first, day.Of(2026, 11, 1), day.Of(2026, 11, 14)}, {"22", append(second, open...), day.Of(2026, 11, 15), day.Of(2026, 11, 30)}} {
		content, closing := camt(currentIBAN, half.number, half.from, half.to, opening, half.entries)
		files, opening = append(files, banking.BankFile{Name: "current-" + half.number + ".xml", Content: content}), closing
	}
	lay, err := s.layThere(day.Of(2026, 10, 31))
	if err != nil {
		return err
	}
	content, _ := camt(clientsIBAN, "11", day.Of(2026, 11, 1), day.Of(2026, 11, 30), lay, clients)
	files = append(files, banking.BankFile{Name: "clients-11.xml", Content: content})
	if _, err := banking.Read(s.ctx, s.app, s.admin, files, nil); err != nil {
		return err
	}
	return s.told()
}

// layThere is what lay on the clients' account at the end of a day: what was held then, and what bills had taken and was not moved yet.
func (s *seeder) layThere(on day.Day) (minor int64, err error) {
	tx := s.app.Store.Read(s.ctx, store.Everything)
	held, err := store.FundsHeldOn(tx, nil, on)
	if err != nil {
		return 0, err
	}
	for i := range held {
		if held[i].Currency == "EUR" {
			minor += held[i].Held
		}
	}
	transfers, err := store.Transfers(tx, true)
	for i := range transfers {
		if t := &transfers[i]; t.Currency == "EUR" && t.Day <= on && (t.DoneDay.IsZero() || t.DoneDay > on) {
			minor += t.Amount
		}
	}
	return minor, err
}

// recordedByHand are the entries of payments of November that somebody recorded: in the first half, in the second, on the clients' account.
func (s *seeder) recordedByHand(payments []receivables.Payment) (first, second, clients []booked) {
	for _, p := range payments {
		if p.Day < day.Of(2026, 11, 1) || p.Reversed || p.Reverses != 0 || p.Amount.Currency != "EUR" || !byBank(&p) {
			continue
		}
		e := paidBy(p.Client, p.Day, p.Amount.Minor, p.Reference)
		switch {
		case p.Purpose == "funds":
			clients = append(clients, e)
		case p.Purpose != "invoices" || strings.HasPrefix(p.Reference, "T"): // those came through the payment service
		case p.Day <= day.Of(2026, 11, 14):
			first = append(first, e)
		default:
			second = append(second, e)
		}
	}
	return first, second, clients
}

// newOnAccount are entries that nobody has recorded: payments by reference, in part, from a known account, by amount or name alone; what came
// back; and what is none of clients'.
func (s *seeder) newOnAccount(payments []receivables.Payment) ([]booked, error) {
	owed, err := receivables.Owed(s.ctx, s.app, s.admin.Actor, receivables.Filter{})
	if err != nil {
		return nil, err
	}
	known := map[string]bool{}
	for _, p := range payments {
		known[p.Client] = known[p.Client] || p.Day >= day.Of(2026, 11, 1) && p.Day <= day.Of(2026, 11, 14) && byBank(&p)
	}
	entries, on, named := []booked{}, day.Of(2026, 11, 16), 0
	for _, c := range owed.Clients {
		if c.Total.Currency != "EUR" || len(c.Open) == 0 || c.Open[0].Part != "" || !c.Disputed.IsZero() {
			continue
		}
		e := paidBy(c.Client, on.AddDays(len(entries)), c.Open[0].Open.Minor, "")
		switch {
		case known[c.Client]:
		case named < 3:
			named, e.reference = named+1, paymentmethod.Reference(c.Open[0].Number)
		case named < 5:
			named, e.text = named+1, "invoice "+c.Open[0].Number+" less what we spoke of"
			e.minor -= 100_00
		case named == 5:
			named, e.account, e.minor = named+1, "", e.minor/2
		case named == 6:
			named, e.account, e.party = named+1, "", "A. Holder"
		default:
			continue
		}
		if entries = append(entries, e); len(entries) > 12 {
			break
		}
	}
	if named < 7 {
		return nil, errors.New("the demo has too few open invoices for its bank")
	}
	last := slices.IndexFunc(payments, func(p receivables.Payment) bool {
		return p.Method == "debit" && p.Purpose == "invoices" && !p.Reversed && p.Amount.Currency == "EUR" && p.Amount.Minor > 0
	})
	return append(entries,
		booked{on: day.Of(2026, 11, 27), minor: -payments[last].Amount.Minor, text: payments[last].Reference, party: payments[last].Client,
			account: accountOf(payments[last].Client), returned: "AM04"},
		booked{on: day.Of(2026, 11, 27), minor: -18_200_00, text: "Wages November", party: "Staff"},
		booked{on: day.Of(2026, 11, 30), minor: -12_40, text: "Account fee November", party: "Harbourside Credit"},
		booked{on: day.Of(2026, 11, 30), minor: 75_00, text: "toll paid twice", party: "Weir Road Tolls"}), nil
}

// told takes what was recorded in the first half for what it is, and sets the fees of the bank aside.
func (s *seeder) told() error {
	entries, err := banking.Entries(s.ctx, s.app, s.admin.Actor, 0, "open")
	if err != nil {
		return err
	}
	for _, e := range entries {
		switch {
		case e.Booked > day.Of(2026, 11, 14) || e.Account != "Current account":
		case e.Amount.Minor < 0:
			_, err = banking.SetAside(s.ctx, s.app, s.admin, e.ID, e.Version, "fees of the bank")
		case len(e.Proposals) > 0 && e.Proposals[0].As == banking.AsMet:
			_, err = banking.Take(s.ctx, s.app, s.admin, e.ID, banking.Taking{Version: e.Version, As: banking.AsMet, PaymentID: e.Proposals[0].PaymentID})
		}
		if err != nil {
			return fmt.Errorf("tell what the entry %d is: %w", e.ID, err)
		}
	}
	return nil
}

// camt is a statement as a bank sends it (ISO 20022 camt.053.001.08), with what it ends with.
func camt(iban, number string, from, to day.Day, opening int64, entries []booked) (content []byte, closing int64) {
	slices.SortStableFunc(entries, func(a, b booked) int { return cmp.Compare(a.on, b.on) })
	body := new(strings.Builder)
	closing = opening
	for i, e := range entries {
		closing += e.minor
		party := "Dbtr"
		if e.minor < 0 {
			party = "Cdtr"
		}
		fmt.Fprintf(body, "<Ntry>%s<Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>%s</Dt></BookgDt><AcctSvcrRef>%s-%d</AcctSvcrRef><NtryDtls><TxDtls>"+
			"<RltdPties><%s><Pty><Nm>%s</Nm></Pty></%s><%sAcct><Id><IBAN>%s</IBAN></Id></%sAcct></RltdPties><RmtInf>", amountIn(e.minor), e.on, number, i+1,
			party, e.party, party, party, e.account, party)
		if e.text != "" {
			fmt.Fprintf(body, "<Ustrd>%s</Ustrd>", e.text)
		}
		if e.reference != "" {
			fmt.Fprintf(body, "<Strd><CdtrRefInf><Ref>%s</Ref></CdtrRefInf></Strd>", e.reference)
		}
		body.WriteString("</RmtInf>")
		if e.returned != "" {
			fmt.Fprintf(body, "<RtrInf><Rsn><Cd>%s</Cd></Rsn></RtrInf>", e.returned)
		}
		body.WriteString("</TxDtls></NtryDtls></Ntry>\n")
	}
	balance := func(code string, minor int64, on day.Day) string {
		return fmt.Sprintf("<Bal><Tp><CdOrPrtry><Cd>%s</Cd></CdOrPrtry></Tp>%s<Dt><Dt>%s</Dt></Dt></Bal>", code, amountIn(minor), on)
	}
	return fmt.Appendf(nil, "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<Document xmlns=\"urn:iso:std:iso:20022:tech:xsd:camt.053.001.08\">"+
		"<BkToCstmrStmt><Stmt><Id>%s-%s</Id><ElctrncSeqNb>%s</ElctrncSeqNb><Acct><Id><IBAN>%s</IBAN></Id><Ccy>EUR</Ccy></Acct>%s%s\n%s"+
		"</Stmt></BkToCstmrStmt></Document>\n",
		iban, number, number, iban, balance("OPBD", opening, from), balance("CLBD", closing, to), body), closing
}

// amountIn is an amount with its sign, as the standard writes it.
func amountIn(minor int64) string {
	sign := "CRDT"
	if minor < 0 {
		sign = "DBIT"
	}
	return fmt.Sprintf(`<Amt Ccy="EUR">%s</Amt><CdtDbtInd>%s</CdtDbtInd>`, money.Amount{Minor: max(minor, -minor), Currency: "EUR"}.Typed(), sign)
}
