package banking_test

import (
	"encoding/csv"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"dorvet/core/bank"
	"dorvet/core/day"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/app/banking"
	"dorvet/internal/app/invoices"
	"dorvet/internal/app/receivables"
	"dorvet/internal/apptest"
)

func must(t *testing.T, err error) {
	t.Helper()
	if err != nil {
		t.Fatal(err)
	}
}

// firm has an account whose CSV files have day, amount, text, party, their account.
func firm(t *testing.T) (*app.App, int64) {
	t.Helper()
	a := apptest.Firm(t)
	return a, apptest.Add(t, a, "bank-accounts", "name", "Current", "entity", "Firm", "currency", "EUR", "iban", "GB82 WEST 1234 5698 7654 32",
		"day_column", "Day", "amount_column", "Amount", "text_column", "Text", "party_column", "Party", "party_account_column", "Account")
}

func tables(content []byte) ([]string, [][]string, bool, error) {
	rows, err := csv.NewReader(strings.NewReader(string(content))).ReadAll()
	if err != nil || len(rows) == 0 {
		return nil, nil, false, err
	}
	return rows[0], rows[1:], true, nil
}

// file is a CSV file of rows.
func file(account int64, rows ...string) banking.BankFile {
	return banking.BankFile{Name: "november.csv", AccountID: account,
		Content: []byte("Day,Amount,Text,Party,Account\n" + strings.Join(rows, "\n") + "\n")}
}

func read(t *testing.T, a *app.App, files ...banking.BankFile) []banking.FoundStatement {
	t.Helper()
	found, err := banking.Read(t.Context(), a, apptest.Admin, files, tables)
	must(t, err)
	return found
}

func entries(t *testing.T, a *app.App, state string) []banking.BankEntry {
	t.Helper()
	list, err := banking.Entries(t.Context(), a, apptest.Admin.Actor, 0, state)
	must(t, err)
	return list
}

func take(t *testing.T, a *app.App, e *banking.BankEntry, at int) *banking.BankEntry {
	t.Helper()
	p := e.Proposals[at]
	in := banking.Taking{Version: e.Version, As: p.As, ClientID: p.ClientID, PaymentID: p.PaymentID, RequestID: p.RequestID, TransferIDs: p.TransferIDs,
		PaidBackID: p.PaidBackID}
	for _, on := range p.On {
		in.On = append(in.On, receivables.PaidInvoice{InvoiceID: on.InvoiceID, Amount: on.Amount.Typed()})
	}
	taken, err := banking.Take(t.Context(), a, apptest.Admin, e.ID, in)
	must(t, err)
	return taken
}

func open(t *testing.T, a *app.App, id int64) string {
	t.Helper()
	inv, err := invoices.One(t.Context(), a, apptest.Admin.Actor, id)
	must(t, err)
	return inv.Open.String()
}

// A statement is read once: again it adds nothing, overlapping it adds what is new; one between two that is missing is told, with the
// difference; nothing of several files is taken where one is wrong.
func TestAStatementIsReadOnceAndInOrder(t *testing.T) {
	a, account := firm(t)
	november := file(account, "2026-11-03,100.00,a,,", "2026-11-04,-20.00,fee,,")
	tried, err := banking.Try(t.Context(), a, apptest.Admin.Actor, []banking.BankFile{november}, tables)
	must(t, err)
	if tried[0].New != 2 || tried[0].Closing.String() != "80.00" || len(entries(t, a, "")) != 0 {
		t.Errorf("%+v", tried)
	}
	read(t, a, november)
	if again := read(t, a, november); again[0].New != 0 || len(entries(t, a, "")) != 2 {
		t.Errorf("read twice: %+v", again)
	}
	overlapping := read(t, a, file(account, "2026-11-04,-20.00,fee,,", "2026-11-05,5.00,b,,"))
	if overlapping[0].New != 1 || overlapping[0].Opening.String() != "80.00" || overlapping[0].Closing.String() != "85.00" {
		t.Errorf("%+v", overlapping)
	}
	camt := func(opening, closing, amount string) banking.BankFile {
		return banking.BankFile{Name: "s.xml", Content: []byte(`<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.08">
			<BkToCstmrStmt><Stmt><Id>S</Id><Acct><Id><IBAN>GB82WEST12345698765432</IBAN></Id><Ccy>EUR</Ccy></Acct>
			<Bal><Tp><CdOrPrtry><Cd>OPBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">` + opening + `</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-06</Dt></Dt></Bal>
			<Bal><Tp><CdOrPrtry><Cd>CLBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">` + closing + `</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-11-07</Dt></Dt></Bal>
			<Ntry><Amt Ccy="EUR">` + amount + `</Amt><CdtDbtInd>CRDT</CdtDbtInd><Sts><Cd>BOOK</Cd></Sts><BookgDt><Dt>2026-11-07</Dt></BookgDt></Ntry>
			</Stmt></BkToCstmrStmt></Document>`)}
	}
	_, err = banking.Read(t.Context(), a, apptest.Admin, []banking.BankFile{file(account, "2026-11-06,1.00,c,,"), camt("90", "95", "5")}, tables)
	if said := apptest.RefusalOf(t, err); said == nil || !strings.Contains(said.Error(), "4.00 apart") || len(entries(t, a, "")) != 3 {
		t.Errorf("%v", err)
	}
	read(t, a, camt("85", "90", "5"))
	for name, f := range map[string]banking.BankFile{"a stranger's": {Content: []byte(strings.Replace(string(camt("90", "95", "5").Content), "GB82", "GB83", 1))},
		"still to come": file(account, "2027-01-04,1.00,a,,"), "of no account": file(0, "2026-11-30,1.00,a,,"), "no day": file(account, "soon,1.00,a,,"),
		"another column": {AccountID: account, Content: []byte("Tag,Amount\n")}} {
		if found, err := banking.Try(t.Context(), a, apptest.Admin.Actor, []banking.BankFile{f}, tables); err != nil || found[0].Problem == "" {
			t.Errorf("%s: %+v, %v", name, found, err)
		}
	}
	apptest.Whole(t, a)
}

// What is certain is taken together; what is not is looked at; each can be undone, and nothing is left over.
func TestEntriesBecomeWhatTheyAre(t *testing.T) {
	a, account := firm(t)
	survey := apptest.Issued(t, a, apptest.Survey) // 246.00
	study := apptest.Issued(t, a, apptest.Study)
	read(t, a, file(account, "2026-12-01,246.00,"+paymentmethod.Reference(survey.Document.Number)+",Alder,DE1", "2026-12-01,-3.50,monthly fee,,",
		"2026-12-01,"+study.Open.String()+",thanks,Unknown,DE1"))
	done, err := banking.TakeCertain(t.Context(), a, apptest.Admin, account)
	must(t, err)
	if done.Entries != 1 || open(t, a, survey.ID) != "0.00" || open(t, a, study.ID) == "0.00" {
		t.Errorf("%+v", done)
	}
	left := entries(t, a, "open")
	if len(left) != 2 || left[0].Proposals == nil || len(left[0].Proposals) != 0 {
		t.Fatalf("%+v", left)
	}
	// The account is known from the first payment on.
	if p := left[1].Proposals; len(p) == 0 || p[0].Sureness == bank.Certain || p[0].ClientID != survey.ClientID && p[0].ClientID != study.ClientID {
		t.Errorf("%+v", p)
	}
	aside, err := banking.SetAside(t.Context(), a, apptest.Admin, left[0].ID, left[0].Version, "fees of the bank")
	must(t, err)
	if aside.State != "aside" || aside.Said != "fees of the bank" {
		t.Errorf("%+v", aside)
	}
	if _, err := banking.SetAside(t.Context(), a, apptest.Admin, left[0].ID, aside.Version, "again"); apptest.RefusalOf(t, err) == nil {
		t.Error("it is set aside twice")
	}
	apptest.Whole(t, a)
	taken := entries(t, a, "taken")[0]
	undone, err := banking.Undo(t.Context(), a, apptest.Admin, taken.ID, taken.Version)
	must(t, err)
	if p := entries(t, a, "open")[1].Proposals; len(p) > 0 && strings.Contains(p[0].Reason, "account is theirs") {
		t.Errorf("an account is known of a payment that was undone: %+v", p)
	}
	if undone.State != "open" || open(t, a, survey.ID) != "246.00" || undone.Proposals[0].Sureness != bank.Certain {
		t.Errorf("%+v", undone)
	}
	if _, err := banking.Undo(t.Context(), a, apptest.Admin, taken.ID, undone.Version); apptest.RefusalOf(t, err) == nil {
		t.Error("it is undone twice")
	}
	if _, err := banking.Take(t.Context(), a, apptest.Admin, taken.ID, banking.Taking{Version: undone.Version - 1, As: "invoices"}); err == nil {
		t.Error("a stale entry is taken")
	}
	// Reversing the payment by hand opens the entry again, too.
	again := take(t, a, undone, 0)
	all, err := receivables.Payments(t.Context(), a, apptest.Admin.Actor, survey.ClientID)
	must(t, err)
	_, err = receivables.Reverse(t.Context(), a, apptest.Admin, all[0].ID, "a mistake")
	must(t, err)
	if e := entries(t, a, "open"); len(e) != 2 || e[0].ID != again.ID {
		t.Errorf("%+v", e)
	}
	apptest.Whole(t, a)
}

// What was recorded by hand is met, not paid again; what the bank sends back reverses its payment; a deposit is held; money paid back is met.
func TestWhatWasRecordedIsMet(t *testing.T) {
	a, account := firm(t)
	inv := apptest.Issued(t, a, apptest.Survey)
	_, err := receivables.Receive(t.Context(), a, apptest.Admin, receivables.TypedPayment{ClientID: inv.ClientID, Day: apptest.Today, Amount: "246",
		Method: "transfer", On: []receivables.PaidInvoice{{InvoiceID: inv.ID}}})
	must(t, err)
	asked, err := receivables.RequestDeposit(t.Context(), a, apptest.Admin, receivables.TypedRequest{ClientID: inv.ClientID, Amount: "500"})
	must(t, err)
	read(t, a, file(account, "2026-12-01,246.00,"+inv.Document.Number+",Alder,DE1", "2026-12-01,500.00,Deposit "+asked.Number+",Alder,DE1"))
	list := entries(t, a, "open")
	if p := list[0].Proposals; p[0].As != banking.AsMet || p[0].Sureness == bank.Certain {
		t.Fatalf("%+v", p)
	}
	if met := take(t, a, &list[0], 0); met.State != "taken" || open(t, a, inv.ID) != "0.00" {
		t.Errorf("%+v", met)
	}
	if p := list[1].Proposals; p[0].As != banking.AsFunds || p[0].RequestID != asked.ID {
		t.Fatalf("%+v", p)
	}
	take(t, a, &list[1], 0)
	credits, err := receivables.Credits(t.Context(), a, apptest.Admin.Actor, inv.ClientID)
	must(t, err)
	if len(credits) != 0 {
		t.Errorf("it was paid twice: %+v", credits)
	}
	apptest.Whole(t, a)
	// An undone meeting leaves the payment as it was.
	met := entries(t, a, "taken")[0]
	undone, err := banking.Undo(t.Context(), a, apptest.Admin, met.ID, met.Version)
	must(t, err)
	if open(t, a, inv.ID) != "0.00" {
		t.Error("undoing reversed a payment that it had not made")
	}
	take(t, a, undone, 0)
	back := banking.BankFile{Content: []byte(`<Document xmlns="urn:iso:std:iso:20022:tech:xsd:camt.053.001.02"><BkToCstmrStmt><Stmt><Id>S</Id>
		<Acct><Id><IBAN>GB82WEST12345698765432</IBAN></Id><Ccy>EUR</Ccy></Acct>
		<Bal><Tp><CdOrPrtry><Cd>OPBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">746</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-12-01</Dt></Dt></Bal>
		<Bal><Tp><CdOrPrtry><Cd>CLBD</Cd></CdOrPrtry></Tp><Amt Ccy="EUR">500</Amt><CdtDbtInd>CRDT</CdtDbtInd><Dt><Dt>2026-12-01</Dt></Dt></Bal>
		<Ntry><Amt Ccy="EUR">246</Amt><CdtDbtInd>DBIT</CdtDbtInd><Sts>BOOK</Sts><BookgDt><Dt>2026-12-01</Dt></BookgDt>
		<NtryDtls><TxDtls><RmtInf><Ustrd>` + inv.Document.Number + `</Ustrd></RmtInf><RtrInf><Rsn><Cd>MD06</Cd></Rsn></RtrInf></TxDtls></NtryDtls></Ntry>
		</Stmt></BkToCstmrStmt></Document>`)}
	read(t, a, back)
	returned := entries(t, a, "open")[0]
	if p := returned.Proposals; len(p) == 0 || p[0].As != banking.AsReturned || p[0].Sureness != bank.Likely {
		t.Fatalf("%+v", returned)
	}
	take(t, a, &returned, 0)
	if open(t, a, inv.ID) != "246.00" || len(entries(t, a, "open")) != 0 {
		t.Errorf("%s is open", open(t, a, inv.ID))
	}
	apptest.Whole(t, a)
}

// A transfer between the firm's accounts is found and ticked off by its entry, and no other way as long as the entry says so.
func TestATransferIsTickedByTheStatement(t *testing.T) {
	a, account := firm(t)
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin, receivables.TypedFunds{ClientID: 1, Day: apptest.Today, Amount: "100",
		Method: "transfer"})
	must(t, err)
	inv := apptest.Issued(t, a, apptest.Survey)
	made := func() []receivables.Transfer {
		t.Helper()
		list, err := receivables.Transfers(t.Context(), a, apptest.Admin.Actor, false)
		must(t, err)
		return list
	}
	if len(made()) != 1 || inv.Open.String() != "146.00" {
		t.Fatalf("%+v, %s open", made(), inv.Open)
	}
	id := made()[0].ID
	read(t, a, file(account, "2026-12-01,-100.00,to the current account,,", "2026-12-01,-99.00,something else,,"))
	list := entries(t, a, "open")
	if p := list[0].Proposals; len(p) != 1 || p[0].As != banking.AsTransfer || len(list[1].Proposals) != 0 {
		t.Fatalf("%+v", list)
	}
	in := banking.Taking{Version: list[1].Version, As: banking.AsTransfer, TransferIDs: []int64{id}}
	if _, err := banking.Take(t.Context(), a, apptest.Admin, list[1].ID, in); apptest.RefusalOf(t, err) == nil {
		t.Error("a transfer of 100.00 is ticked by 99.00")
	}
	taken := take(t, a, &list[0], 0)
	if len(made()) != 0 || taken.Said != "1 transfer made" {
		t.Errorf("%+v, %+v", made(), taken)
	}
	apptest.Whole(t, a)
	if err := receivables.MarkTransfers(t.Context(), a, apptest.Admin, []int64{id}, false); apptest.RefusalOf(t, err) == nil {
		t.Error("a transfer that the bank has made is said not to be made")
	}
	_, err = banking.Undo(t.Context(), a, apptest.Admin, taken.ID, taken.Version)
	must(t, err)
	if len(made()) != 1 {
		t.Errorf("%+v", made())
	}
	apptest.Whole(t, a)
}

// A transfer leaves one account and comes on the other: each of its entries is known, the first ticks it off, and it stays made until none
// says so any more; one that was ticked off by hand is met.
func TestATransferHasTwoEntries(t *testing.T) {
	a, current := firm(t)
	clients := apptest.Add(t, a, "bank-accounts", "name", "Clients", "entity", "Firm", "currency", "EUR", "clients_money", "yes",
		"day_column", "Day", "amount_column", "Amount", "text_column", "Text", "party_column", "Party", "party_account_column", "Account")
	_, err := receivables.ReceiveFunds(t.Context(), a, apptest.Admin, receivables.TypedFunds{ClientID: 1, Day: apptest.Today, Amount: "300", Method: "transfer"})
	must(t, err)
	apptest.Issued(t, a, apptest.Survey) // 246.00
	toMake := func() int {
		t.Helper()
		list, err := receivables.Transfers(t.Context(), a, apptest.Admin.Actor, false)
		must(t, err)
		return len(list)
	}
	read(t, a, file(clients, "2026-12-01,-246.00,out,,"), file(current, "2026-12-01,246.00,in,,"))
	of := func(amount string) *banking.BankEntry {
		t.Helper()
		for _, e := range entries(t, a, "") {
			if e.Amount.String() == amount {
				return &e
			}
		}
		t.Fatal(amount)
		return nil
	}
	out, in := take(t, a, of("−246.00"), 0), (*banking.BankEntry)(nil)
	if p := of("246.00").Proposals; toMake() != 0 || len(p) == 0 || p[0].As != banking.AsTransfer {
		t.Fatalf("%d to make, %+v", toMake(), p)
	}
	in = take(t, a, of("246.00"), 0)
	apptest.Whole(t, a)
	_, err = banking.Undo(t.Context(), a, apptest.Admin, out.ID, out.Version)
	must(t, err)
	if toMake() != 0 {
		t.Error("the other account says that it was made")
	}
	_, err = banking.Undo(t.Context(), a, apptest.Admin, in.ID, in.Version)
	must(t, err)
	apptest.Whole(t, a)
	list, err := receivables.Transfers(t.Context(), a, apptest.Admin.Actor, true)
	must(t, err)
	must(t, receivables.MarkTransfers(t.Context(), a, apptest.Admin, []int64{list[0].ID}, true))
	again := take(t, a, of("−246.00"), 0)
	_, err = banking.Undo(t.Context(), a, apptest.Admin, again.ID, again.Version)
	must(t, err)
	if toMake() != 0 {
		t.Error("what was ticked off by hand is to make again")
	}
	apptest.Whole(t, a)
}

// What comes on the clients' account is held for them, even where it names an invoice: only a bill and its transfer make it the firm's.
func TestClientsMoneyIsHeldWhateverItNames(t *testing.T) {
	a, _ := firm(t)
	clients := apptest.Add(t, a, "bank-accounts", "name", "Clients", "entity", "Firm", "currency", "EUR", "clients_money", "yes",
		"day_column", "Day", "amount_column", "Amount", "text_column", "Text", "party_column", "Party", "party_account_column", "Account")
	inv := apptest.Issued(t, a, apptest.Survey)
	read(t, a, file(clients, "2026-12-01,246.00,"+paymentmethod.Reference(inv.Document.Number)+",Alder,DE1"))
	if done, err := banking.TakeCertain(t.Context(), a, apptest.Admin, clients); err != nil || done.Entries != 0 {
		t.Errorf("%+v, %v", done, err)
	}
	e := entries(t, a, "open")[0]
	if p := e.Proposals; len(p) != 1 || p[0].As != banking.AsFunds || p[0].Sureness != bank.Likely || !e.Held {
		t.Fatalf("%+v", e)
	}
	in := banking.Taking{Version: e.Version, As: banking.AsInvoices, ClientID: inv.ClientID}
	if _, err := banking.Take(t.Context(), a, apptest.Admin, e.ID, in); apptest.RefusalOf(t, err) == nil {
		t.Error("it pays an invoice")
	}
	take(t, a, &e, 0)
	held, err := receivables.FundsHeld(t.Context(), a, apptest.Admin.Actor, inv.ClientID)
	must(t, err)
	if len(held) != 1 || held[0].Held.String() != "246.00" || open(t, a, inv.ID) != "246.00" {
		t.Errorf("%+v, %s open", held, open(t, a, inv.ID))
	}
	apptest.Whole(t, a)
}

// A year of a busy account in one file is read, and read again.
func TestALongStatementIsRead(t *testing.T) {
	a, account := firm(t)
	rows := []string{}
	for i := range 33_000 {
		rows = append(rows, fmt.Sprintf("2026-11-03,1.00,%d,,", i))
	}
	for _, fresh := range []int{len(rows), 0} {
		if found := read(t, a, file(account, rows...)); found[0].New != fresh {
			t.Errorf("%d are new, not %d", found[0].New, fresh)
		}
	}
}

// By hand an entry is split over invoices of one client; never over more than came, another's, or another currency.
func TestAnEntryIsSplitByHand(t *testing.T) {
	a, account := firm(t)
	one, two := apptest.Issued(t, a, apptest.Survey), apptest.Issued(t, a, apptest.Study)
	read(t, a, file(account, "2026-12-01,100.00,,,"))
	e := entries(t, a, "open")[0]
	on := func(id int64, amount string) []receivables.PaidInvoice {
		return []receivables.PaidInvoice{{InvoiceID: id, Amount: amount}}
	}
	for name, in := range map[string]banking.Taking{
		"more than came":    {ClientID: one.ClientID, On: on(one.ID, "100.01")},
		"words":             {ClientID: one.ClientID, On: on(one.ID, "much")},
		"nothing":           {ClientID: one.ClientID, On: on(one.ID, "0")},
		"no client":         {ClientID: 999},
		"another's payment": {As: banking.AsMet, PaymentID: 1},
		"no transfer":       {As: banking.AsTransfer},
		"what never came":   {As: banking.AsReturned, PaymentID: 1},
		"something else":    {As: "gift", ClientID: one.ClientID},
		"another's invoice": {ClientID: one.ClientID + 100*two.ClientID, On: on(two.ID, "1")},
	} {
		if in.Version = e.Version; in.As == "" {
			in.As = banking.AsInvoices
		}
		if _, err := banking.Take(t.Context(), a, apptest.Admin, e.ID, in); apptest.RefusalOf(t, err) == nil {
			t.Errorf("%s is taken: %v", name, err)
		}
	}
	taken, err := banking.Take(t.Context(), a, apptest.Admin, e.ID, banking.Taking{Version: e.Version, As: banking.AsInvoices, ClientID: one.ClientID,
		On: on(one.ID, "60")})
	must(t, err)
	credits, err := receivables.Credits(t.Context(), a, apptest.Admin.Actor, one.ClientID)
	must(t, err)
	if taken.State != "taken" || open(t, a, one.ID) != "186.00" || len(credits) != 1 || credits[0].Credit.String() != "40.00" {
		t.Errorf("%+v, %+v", taken, credits)
	}
	apptest.Whole(t, a)
}

// Property: statements of random payments, read in any order of files, twice, with entries taken and undone at random, keep every rule.
func TestBankEntriesAddUpInWhateverOrder(t *testing.T) {
	a, account := firm(t)
	inv := apptest.Issued(t, a, apptest.Survey)
	r := rand.New(rand.NewPCG(5, 6))
	files := []banking.BankFile{}
	for d := range 6 {
		rows := []string{}
		for n := range 1 + r.IntN(4) {
			rows = append(rows, fmt.Sprintf("%s,%d.00,%s %d,Alder,DE%d", day.Of(2026, 11, 10+d), 1+r.IntN(90), inv.Document.Number, n, r.IntN(2)))
		}
		files = append(files, file(account, rows...))
	}
	read(t, a, files...)
	for range 60 {
		list := entries(t, a, "")
		e := &list[r.IntN(len(list))]
		var err error
		switch {
		case e.State != "open":
			_, err = banking.Undo(t.Context(), a, apptest.Admin, e.ID, e.Version)
		case r.IntN(4) == 0:
			_, err = banking.SetAside(t.Context(), a, apptest.Admin, e.ID, e.Version, "not ours")
		case r.IntN(8) == 0:
			_, err = banking.TakeCertain(t.Context(), a, apptest.Admin, 0)
		case len(e.Proposals) > 0:
			take(t, a, e, r.IntN(len(e.Proposals)))
		}
		must(t, err)
		read(t, a, files[r.IntN(len(files))])
	}
	apptest.Whole(t, a)
}

// What was written off and comes after all is found by its number, and recovered; it is never taken by itself.
func TestWhatWasWrittenOffComesAfterAll(t *testing.T) {
	a, account := firm(t)
	inv := apptest.Issued(t, a, apptest.Survey) // 246.00
	_, err := receivables.WriteOff(t.Context(), a, apptest.Admin, inv.ID, receivables.GivingUp{Reason: "unwilling"})
	must(t, err)
	read(t, a, file(account, "2026-12-01,300.00,"+inv.Document.Number+",Alder,DE1"))
	if done, err := banking.TakeCertain(t.Context(), a, apptest.Admin, account); err != nil || done.Entries != 0 {
		t.Errorf("%+v, %v", done, err)
	}
	e := entries(t, a, "open")[0]
	if p := e.Proposals; len(p) == 0 || p[0].Sureness != bank.Likely || p[0].Credit.String() != "54.00" {
		t.Fatalf("%+v", e)
	}
	taken := take(t, a, &e, 0)
	apptest.Whole(t, a)
	lost := func() string {
		t.Helper()
		now, err := invoices.One(t.Context(), a, apptest.Admin.Actor, inv.ID)
		must(t, err)
		return now.WrittenOff.String()
	}
	if lost() != "0.00" {
		t.Errorf("%s is still lost", lost())
	}
	_, err = banking.Undo(t.Context(), a, apptest.Admin, taken.ID, taken.Version)
	must(t, err)
	apptest.Whole(t, a)
	if lost() != "246.00" {
		t.Errorf("%s is lost again", lost())
	}
}
