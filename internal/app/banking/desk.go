package banking

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/bank"
	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/core/paymentmethod"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// BankEntry is an entry of a bank with what it may be, or what it was taken for.
type BankEntry struct {
	ID        int64           `json:"id"`
	Version   int64           `json:"version"`
	AccountID int64           `json:"accountId"`
	Account   string          `json:"account"`
	Held      bool            `json:"held" doc:"what is on its account is held for clients"`
	Booked    day.Day         `json:"booked"`
	Amount    money.Amount    `json:"amount" doc:"negative: it went out"`
	Party     string          `json:"party"`
	From      string          `json:"from" doc:"their account"`
	Text      string          `json:"text"`
	Reference string          `json:"reference" doc:"the creditor reference, as it is printed"`
	Returned  string          `json:"returned" doc:"why something came back, or nothing"`
	State     string          `json:"state" enum:"open,taken,aside"`
	Said      string          `json:"said" doc:"what it was taken for, or set aside as"`
	Client    string          `json:"client"`
	ClientID  int64           `json:"clientId"`
	PaymentID int64           `json:"paymentId" doc:"that it was taken for, or 0"`
	Proposals []EntryProposal `json:"proposals" doc:"of an open one, the surest first"`
}

// What an entry can be taken for.
const (
	AsInvoices = "invoices"  // it pays invoices
	AsFunds    = "funds"     // it is held for a client
	AsMet      = "met"       // a payment that was recorded before
	AsReturned = "returned"  // a payment came back
	AsTransfer = "transfer"  // transfers between the firm's accounts
	AsPaidBack = "paid_back" // what a person laid out, paid back
)

// EntryProposal is what an entry may be, and why.
type EntryProposal struct {
	Sureness    bank.Sureness `json:"sureness" enum:"certain,likely,perhaps"`
	As          string        `json:"as" enum:"invoices,funds,met,returned,transfer,paid_back"`
	ClientID    int64         `json:"clientId"`
	Client      string        `json:"client"`
	On          []EntryPut    `json:"on"`
	Credit      money.Amount  `json:"credit" doc:"what becomes credit of the client"`
	PaymentID   int64         `json:"paymentId"`
	RequestID   int64         `json:"requestId" doc:"the deposit request that it answers, or 0"`
	TransferIDs []int64       `json:"transferIds"`
	PaidBackID  int64         `json:"paidBackId" doc:"what a person was paid back; or 0"`
	Reason      string        `json:"reason"`
}

// EntryPut is what of an entry goes on an invoice.
type EntryPut struct {
	InvoiceID int64        `json:"invoiceId"`
	Number    string       `json:"number"`
	Amount    money.Amount `json:"amount"`
}

// Entries lists the entries of an account, or of all (0): open ones with what they may be.
func Entries(ctx context.Context, a *app.App, actor app.Actor, accountID int64, state string) ([]BankEntry, error) {
	tx := a.Read(ctx, actor)
	rows, err := store.BankEntries(tx, store.EntryFilter{AccountID: accountID, State: state})
	if err != nil {
		return nil, err
	}
	d := newDesk(tx)
	list := make([]BankEntry, 0, len(rows))
	for i := range rows {
		e, err := d.entry(&rows[i])
		if err != nil {
			return nil, err
		}
		list = append(list, *e)
	}
	return list, nil
}

// BankStatement is a statement that was read, and how far its entries are.
type BankStatement struct {
	ID      int64        `json:"id"`
	Account string       `json:"account"`
	Number  string       `json:"number"`
	From    day.Day      `json:"from"`
	To      day.Day      `json:"to"`
	Opening money.Amount `json:"opening"`
	Closing money.Amount `json:"closing"`
	Entries int          `json:"entries"`
	Open    int          `json:"open"`
	Aside   int          `json:"aside"`
	File    string       `json:"file"`
}

// Statements lists what was read, the newest first.
func Statements(ctx context.Context, a *app.App, actor app.Actor, accountID int64) ([]BankStatement, error) {
	rows, err := store.BankStatements(a.Read(ctx, actor), accountID)
	list := make([]BankStatement, 0, len(rows))
	for _, s := range rows {
		list = append(list, BankStatement{s.ID, s.Account, s.Number, s.FromDay, s.ToDay, money.Amount{Minor: s.Opening, Currency: s.Currency},
			money.Amount{Minor: s.Closing, Currency: s.Currency}, s.Entries, s.Open, s.Asides, s.FileName})
	}
	return list, err
}

// side is an issuing entity in a currency: entries of its accounts pay nothing else.
type side struct {
	entityID int64
	currency money.Currency
}

// known is what entries of a side are compared with.
type known struct {
	finder    *bank.Finder
	numbers   map[int64]string // of open invoices
	clients   map[int64]string
	unmatched []store.PaymentRow
	standing  []store.PaymentRow
	requests  []store.RequestRow
	transfers []store.MetTransfer
	laidOut   []store.UnmetReimbursement
	lost      []store.Invoice // of which something is written off, and nothing owed
}

// desk finds what entries may be; what they are compared with is read once for each side.
type desk struct {
	tx    *store.DB
	sides map[side]*known
}

func newDesk(tx *store.DB) *desk { return &desk{tx, map[side]*known{}} }

// lookBack is how long before an entry a payment may have been recorded that it is, or that came back.
const lookBack = 120

func (d *desk) known(e *store.BankEntryRow) (*known, error) {
	of := side{e.EntityID, e.Currency}
	if k := d.sides[of]; k != nil {
		return k, nil
	}
	k := &known{numbers: map[int64]string{}, clients: map[int64]string{}}
	parts, err := store.OpenParts(d.tx, of.entityID, of.currency)
	if err != nil {
		return nil, err
	}
	invoices := []bank.Open{}
	for _, p := range parts {
		if n := len(invoices); n == 0 || invoices[n-1].InvoiceID != p.InvoiceID {
			invoices = append(invoices, bank.Open{InvoiceID: p.InvoiceID, ClientID: p.ClientID, Number: p.NumberText,
				Reference: paymentmethod.Reference(p.NumberText)})
			k.numbers[p.InvoiceID] = p.NumberText
		}
		last := &invoices[len(invoices)-1]
		last.Parts = append(last.Parts, p.Open)
	}
	rows, err := store.Payers(d.tx, of.entityID)
	if err != nil {
		return nil, err
	}
	payers := []bank.Payer{}
	for _, r := range rows {
		if n := len(payers); n == 0 || payers[n-1].ClientID != r.ID {
			payers = append(payers, bank.Payer{ClientID: r.ID, Names: []string{r.Name, r.InvoiceName}})
			k.clients[r.ID] = r.Name
		}
		if r.Account != "" {
			last := &payers[len(payers)-1]
			last.Accounts = append(last.Accounts, r.Account)
		}
	}
	k.finder = bank.NewFinder(of.currency, invoices, payers)
	d.sides[of] = k
	return k, d.readOthers(k, of, e.BookedDay)
}

// readOthers reads what else an entry may be of: payments that were recorded, deposits asked for, transfers to make.
func (d *desk) readOthers(k *known, of side, oldest day.Day) (err error) {
	if k.unmatched, err = store.UnmatchedPayments(d.tx, of.entityID, of.currency, oldest.AddDays(-lookBack)); err != nil {
		return err
	}
	if k.standing, err = store.PaymentsSince(d.tx, of.entityID, of.currency, oldest.AddDays(-lookBack)); err != nil {
		return err
	}
	requests, err := store.Requests(d.tx, 0)
	if err != nil {
		return err
	}
	for _, r := range requests {
		if r.State == "open" && r.EntityID == of.entityID && r.Currency == of.currency {
			k.requests = append(k.requests, r)
		}
	}
	if k.laidOut, err = store.UnmetReimbursements(d.tx, of.entityID, of.currency, oldest.AddDays(-lookBack)); err != nil {
		return err
	}
	if k.lost, err = store.LostOf(d.tx, of.entityID, of.currency); err != nil {
		return err
	}
	k.transfers, err = store.UnmetTransfers(d.tx, of.entityID, of.currency, oldest.AddDays(-lookBack))
	return err
}

func (d *desk) entry(row *store.BankEntryRow) (*BankEntry, error) {
	e := &BankEntry{ID: row.ID, Version: row.Version, AccountID: row.AccountID, Account: row.Account, Held: row.ClientsMoney,
		Booked: row.BookedDay,
		Amount: money.Amount{Minor: row.Amount, Currency: row.Currency}, Party: row.Party, From: row.PartyAccount, Text: row.Text,
		Reference: row.Creditor, State: row.State, Said: saidOf(row), Client: row.Client, ClientID: row.ClientID,
		PaymentID: row.PaymentID, Proposals: []EntryProposal{}}
	if row.Returned {
		e.Returned = cmp.Or(row.Reason, "it came back")
	}
	if row.State != store.EntryOpen {
		return e, nil
	}
	k, err := d.known(row)
	if err != nil {
		return nil, err
	}
	e.Proposals = k.propose(row)
	return e, nil
}

// saidOf says what an entry was taken for.
func saidOf(row *store.BankEntryRow) string {
	switch {
	case row.State == store.EntryAside:
		return row.Aside
	case row.State == store.EntryOpen:
		return ""
	case row.Transfers > 0:
		return app.Counted(row.Transfers, "transfer", "transfers") + " made"
	case row.PaidBack != "":
		return "paid back to " + row.PaidBack
	case row.Purpose == store.ForFunds:
		return "held for them"
	case row.Purpose == store.ForInvoices && row.Amount < 0:
		return "came back"
	case row.Purpose != store.ForInvoices:
		return "paid back to them"
	case row.On == "":
		return "credit"
	}
	return strings.ReplaceAll(row.On, ",", ", ")
}

// propose says what an open entry may be: what was recorded already before what would be recorded now.
func (k *known) propose(row *store.BankEntryRow) []EntryProposal {
	list := k.recorded(row)
	if row.Amount < 0 {
		list = append(list, k.cameBack(row)...)
		list = append(list, k.transferred(row)...)
		list = append(list, k.paidBack(row)...)
	} else {
		if !row.ClientsMoney {
			list = append(list, k.transferred(row)...)
		}
		list = append(list, k.deposits(row)...)
		list = append(list, k.afterAll(row)...)
		for _, p := range k.finder.Propose(said(row)) {
			if v := k.view(row, &p); !row.ClientsMoney {
				list = append(list, v)
			} else if !slices.ContainsFunc(list, func(other EntryProposal) bool { return other.ClientID == v.ClientID }) {
				list = append(list, k.toBeHeld(row, &v))
			}
		}
		if len(k.recorded(row)) > 0 { // it may be there already: nothing is taken by itself
			for i := range list {
				if list[i].Sureness == bank.Certain {
					list[i].Sureness = bank.Likely
				}
			}
		}
	}
	slices.SortStableFunc(list, func(a, b EntryProposal) int { return cmp.Compare(a.rank(), b.rank()) })
	return list[:min(len(list), 6)]
}

func (p *EntryProposal) rank() int {
	return slices.Index([]bank.Sureness{bank.Certain, bank.Likely, bank.Perhaps}, p.Sureness)
}

func said(row *store.BankEntryRow) *bank.Entry {
	return &bank.Entry{Minor: row.Amount, Creditor: row.Creditor, EndToEnd: row.EndToEnd, Text: row.Text, Party: row.Party,
		PartyAccount: row.PartyAccount}
}

func (k *known) view(row *store.BankEntryRow, p *bank.Proposal) EntryProposal {
	v := k.blank(row, p.Sureness, AsInvoices, p.ClientID, "%s", p.Reason)
	v.Credit.Minor = row.Amount
	for _, on := range p.On {
		v.On = append(v.On, EntryPut{on.InvoiceID, k.numbers[on.InvoiceID], money.Amount{Minor: on.Minor, Currency: row.Currency}})
		v.Credit.Minor -= on.Minor
	}
	return v
}

// toBeHeld is what pays invoices on the firm's own account, on one whose money is the clients': there it is held until a bill takes it.
func (k *known) toBeHeld(row *store.BankEntryRow, v *EntryProposal) EntryProposal {
	sure := v.Sureness
	if sure == bank.Certain {
		sure = bank.Likely
	}
	return k.blank(row, sure, AsFunds, v.ClientID, "%s; it came on the clients' account, to be held", v.Reason)
}

func (k *known) blank(row *store.BankEntryRow, sure bank.Sureness, as string, clientID int64, reason string, values ...any) EntryProposal {
	return EntryProposal{Sureness: sure, As: as, ClientID: clientID, Client: k.clients[clientID], On: []EntryPut{}, TransferIDs: []int64{},
		Credit: money.Zero(row.Currency), Reason: fmt.Sprintf(reason, values...)}
}
