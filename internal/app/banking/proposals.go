package banking

import (
	"fmt"
	"maps"
	"slices"
	"strings"

	"dorvet/core/bank"
	"dorvet/core/day"
	"dorvet/core/paymentmethod"
	"dorvet/internal/store"
)

// nearby is how many days a payment that was recorded by hand may be away from its entry.
const nearby = 10

// recorded are payments of the same amount that were recorded by hand, in the days around.
func (k *known) recorded(row *store.BankEntryRow) []EntryProposal {
	list := []EntryProposal{}
	for i := range k.unmatched {
		p := &k.unmatched[i]
		if p.Amount != row.Amount || p.Day < row.BookedDay.AddDays(-nearby) || p.Day > row.BookedDay.AddDays(nearby) {
			continue
		}
		what := ""
		if p.OnInvoices != "" {
			what = ", for " + strings.ReplaceAll(p.OnInvoices, ",", ", ")
		}
		v := k.blank(row, bank.Likely, AsMet, p.ClientID, "recorded already, on %s%s", p.Day.Long(), what)
		v.Client, v.PaymentID = p.Client, p.ID
		list = append(list, v)
	}
	if len(list) > 1 {
		for i := range list {
			list[i].Sureness = bank.Perhaps
		}
	}
	return list
}

// cameBack are the payments that a returned debit may be of: of that amount, and named by our reference, the nearest first.
func (k *known) cameBack(row *store.BankEntryRow) []EntryProposal {
	list := []EntryProposal{}
	if !row.Returned {
		return list
	}
	for i := len(k.standing) - 1; i >= 0; i-- {
		p := &k.standing[i]
		if p.Amount != -row.Amount || p.Day > row.BookedDay {
			continue
		}
		sure := bank.Perhaps
		named := func(what string) bool { return what != "" && strings.Contains(row.EndToEnd+" "+row.Text, what) }
		if named(p.Reference) || slices.ContainsFunc(strings.Split(p.OnInvoices, ","), named) {
			sure = bank.Likely
		}
		v := k.blank(row, sure, AsReturned, p.ClientID, "the payment of %s on %s came back", p.Day.Long(),
			strings.ReplaceAll(p.OnInvoices, ",", ", "))
		v.Client, v.PaymentID = p.Client, p.ID
		list = append(list, v)
	}
	return list
}

// moves reports whether an entry moves so much from the clients' account to the firm's, negative: back. On an account of the firm's own both
// its sides are let pass: it may be the only one that Dorvet knows.
func moves(e *store.BankEntry, clientsMoney bool, minor int64) bool {
	return minor == -e.Amount || !clientsMoney && minor == e.Amount
}

// transferred are transfers of that amount, that leave the clients' account or come on the firm's: one, all that are to be made, or all that somebody marked as made on one day nearby.
func (k *known) transferred(row *store.BankEntryRow) []EntryProposal {
	list, together := []EntryProposal{}, map[day.Day][]store.MetTransfer{}
	for _, t := range k.transfers {
		if row.ClientsMoney && t.Left || !row.ClientsMoney && t.Came { // each has an entry on both accounts
			continue
		}
		if !t.DoneDay.IsZero() && (t.DoneDay < row.BookedDay.AddDays(-nearby) || t.DoneDay > row.BookedDay.AddDays(nearby)) {
			continue
		}
		together[t.DoneDay] = append(together[t.DoneDay], t)
		if moves(&row.BankEntry, row.ClientsMoney, t.Amount) {
			v := k.blank(row, bank.Likely, AsTransfer, 0, "the transfer for %s of %s", t.NumberText, t.Client)
			v.TransferIDs = []int64{t.ID}
			list = append(list, v)
		}
	}
	for _, made := range slices.Sorted(maps.Keys(together)) {
		sum, all := int64(0), []int64{}
		for _, t := range together[made] {
			sum, all = sum+t.Amount, append(all, t.ID)
		}
		if len(all) < 2 || !moves(&row.BankEntry, row.ClientsMoney, sum) {
			continue
		}
		v := k.blank(row, bank.Likely, AsTransfer, 0, "all %d transfers that were to be made", len(all))
		if !made.IsZero() {
			v.Reason = fmt.Sprintf("the %d transfers that were marked as made on %s", len(all), made.Long())
		}
		v.TransferIDs = all
		list = append([]EntryProposal{v}, list...)
	}
	return list
}

// deposits are deposits that were asked for, of that amount or by their number.
func (k *known) deposits(row *store.BankEntryRow) []EntryProposal {
	list := []EntryProposal{}
	words := strings.Fields(strings.ToUpper(row.Text + " " + row.EndToEnd))
	for _, r := range k.requests {
		named := slices.Contains(words, strings.ToUpper(r.NumberText))
		if r.Amount-r.Received != row.Amount {
			continue
		}
		sure, reason := bank.Perhaps, "the amount is that of the deposit "
		if named {
			sure, reason = bank.Likely, "its number and its amount are those of the deposit "
		}
		v := k.blank(row, sure, AsFunds, r.ClientID, "%s", reason+r.NumberText)
		v.Client, v.RequestID = r.Client, r.ID
		list = append(list, v)
	}
	return list
}

// afterAll are invoices that were written off, named by their number or our reference: it comes after all.
func (k *known) afterAll(row *store.BankEntryRow) []EntryProposal {
	list := []EntryProposal{}
	if row.ClientsMoney {
		return list
	}
	words := strings.Fields(strings.ToUpper(row.Text + " " + row.EndToEnd))
	for i := range k.lost {
		inv := &k.lost[i]
		if !slices.Contains(words, strings.ToUpper(inv.NumberText)) && row.Creditor != paymentmethod.Reference(inv.NumberText) {
			continue
		}
		v := k.blank(row, bank.Likely, AsInvoices, inv.ClientID, "it names %s, which was written off: it comes after all", inv.NumberText)
		on := inv.Amount(min(row.Amount, inv.WrittenOff))
		v.On, v.Credit.Minor = []EntryPut{{inv.ID, inv.NumberText, on}}, row.Amount-on.Minor
		list = append(list, v)
	}
	return list
}

// paidBack is what people were paid back of that amount; the reference of an order makes it likely whatever else is of that amount.
func (k *known) paidBack(row *store.BankEntryRow) []EntryProposal {
	list := []EntryProposal{}
	for i := range k.laidOut {
		r := &k.laidOut[i]
		if r.Amount != -row.Amount {
			continue
		}
		sure, named := bank.Perhaps, row.EndToEnd == endToEnd(&store.Ordered{ReimbursementID: &r.ID})
		if named || r.Day >= row.BookedDay.AddDays(-nearby) && r.Day <= row.BookedDay.AddDays(nearby) {
			sure = bank.Likely
		}
		v := k.blank(row, sure, AsPaidBack, 0, "paid back to %s on %s for expenses", r.Person, r.Day.Long())
		if v.PaidBackID = r.ID; named {
			return []EntryProposal{v}
		}
		list = append(list, v)
	}
	return list
}
