package reports

import (
	"context"
	"encoding/json"
	"fmt"
	"runtime"
	"slices"
	"strings"
	"sync"

	"dorvet/core/day"
	"dorvet/core/invoice"
	"dorvet/core/journal"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"

	"golang.org/x/sync/errgroup"
)

// Journal is what a bookkeeper posts for a period, in the firm's currency.
type Journal struct {
	From     day.Day       `json:"from"`
	To       day.Day       `json:"to"`
	Lines    []JournalLine `json:"lines"`
	Entries  int           `json:"entries"`
	Debit    money.Amount  `json:"debit" doc:"the same as is credited"`
	Unmapped []string      `json:"unmapped" doc:"what was posted and has no account yet"`
}

// JournalLine is one side of an entry.
type JournalLine struct {
	Entry      int64        `json:"entry" doc:"the same for all lines that balance"`
	Day        day.Day      `json:"day"`
	InvoiceID  int64        `json:"invoiceId" doc:"or 0"`
	Document   string       `json:"document"`
	ClientCode string       `json:"clientCode"`
	Client     string       `json:"client"`
	Text       string       `json:"text"`
	Posting    string       `json:"posting"`
	Account    string       `json:"account"`
	TaxCode    string       `json:"taxCode"`
	Debit      money.Amount `json:"debit"`
	Credit     money.Amount `json:"credit"`
	Amount     money.Amount `json:"amount" doc:"in the currency of the document, negative where credited"`
}

// JournalOf reads the journal of a period: both days count.
func JournalOf(ctx context.Context, a *app.App, actor app.Actor, from, to day.Day) (*Journal, error) {
	if to < from {
		return nil, app.RefuseField("to", "%s is before %s: give a later day.", to.Long(), from.Long())
	}
	tx := a.Read(ctx, actor)
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	k, err := accountsOf(tx)
	if err != nil {
		return nil, err
	}
	rows, err := store.MoneyBetween(tx, from, to)
	if err != nil {
		return nil, err
	}
	parts, err := app.Once(a, "parts of what was frozen", revisionsOf(rows), func(ids []int64) (map[int64]journal.Parts, error) {
		return partsOf(tx, ids)
	})
	if err != nil {
		return nil, err
	}
	j := &Journal{From: from, To: to, Lines: []JournalLine{}, Debit: money.Zero(firm.Currency), Unmapped: []string{}}
	for group := range entriesOf(rows) {
		if err := j.enter(firm, k, parts[group[0].RevisionID], group); err != nil {
			return nil, fmt.Errorf("enter %s: %w", group[0].Summary, err)
		}
	}
	return j, nil
}

// entriesOf are movements by act and document: each lot balances.
func entriesOf(rows []store.JournalRow) func(yield func([]store.JournalRow) bool) {
	key := func(r *store.JournalRow) [4]int64 {
		k := [4]int64{r.ActID, int64(r.EffectiveDay)}
		if r.InvoiceID != nil {
			k[2] = *r.InvoiceID
		}
		if r.PaymentID != nil {
			k[3] = *r.PaymentID
		}
		return k
	}
	return func(yield func([]store.JournalRow) bool) {
		for from := 0; from < len(rows); {
			to := from + 1
			for to < len(rows) && key(&rows[to]) == key(&rows[from]) {
				to++
			}
			if !yield(rows[from:to]) {
				return
			}
			from = to
		}
	}
}

func (j *Journal) enter(firm *store.Firm, k *accounts, parts journal.Parts, group []store.JournalRow) error {
	first, movements := &group[0], make([]journal.Movement, len(group))
	for i, r := range group {
		movements[i] = journal.Movement{From: r.FromBucket, To: r.ToBucket, Amount: r.Amount, Firm: r.FirmAmount}
	}
	lines, err := journal.Enter(movements, parts)
	if err != nil {
		return err
	}
	none := money.Zero(firm.Currency)
	j.Entries++
	for _, l := range lines {
		name, account := k.of(l.Posting)
		if account == "" && !slices.Contains(j.Unmapped, name) {
			j.Unmapped = append(j.Unmapped, name)
		}
		code, _ := journal.TaxCode(l.Posting)
		line := JournalLine{Entry: first.ActID, Day: first.EffectiveDay, Document: first.Document, ClientCode: first.ClientCode,
			Client: first.Client, Text: first.Summary, Posting: name, Account: account,
			TaxCode: code, Debit: none, Credit: none, Amount: money.Amount{Minor: l.Amount, Currency: first.Currency}}
		if first.InvoiceID != nil {
			line.InvoiceID = *first.InvoiceID
		}
		if l.Firm > 0 {
			line.Debit.Minor = l.Firm
			j.Debit.Minor += l.Firm
		} else {
			line.Credit.Minor = -l.Firm
		}
		j.Lines = append(j.Lines, line)
	}
	return nil
}

// partsTogether is how many documents are read and parted at once.
const partsTogether = 500

// revisionsOf are the documents that movements are of, as they were frozen then: of an opening balance there is none.
func revisionsOf(rows []store.JournalRow) []int64 {
	ids := []int64{}
	for i := range rows {
		if rows[i].RevisionID != 0 {
			ids = append(ids, rows[i].RevisionID)
		}
	}
	slices.Sort(ids)
	return slices.Compact(ids)
}

// partsOf are the parts of documents, by revision. A year has tens of thousands, which are parted on all cores.
func partsOf(tx *store.DB, ids []int64) (map[int64]journal.Parts, error) {
	parts, lock := map[int64]journal.Parts{}, sync.Mutex{}
	var cores errgroup.Group
	cores.SetLimit(runtime.GOMAXPROCS(0))
	for some := range slices.Chunk(ids, partsTogether) {
		cores.Go(func() error {
			contents, err := store.RevisionContents(tx, some)
			if err != nil {
				return fmt.Errorf("read documents of the journal: %w", err)
			}
			for id, content := range contents {
				doc := new(invoice.Document)
				if err := json.Unmarshal(content, doc); err != nil {
					return fmt.Errorf("read revision %d: %w", id, err)
				}
				own := journal.PartsOf(doc)
				lock.Lock()
				parts[id] = own
				lock.Unlock()
			}
			return nil
		})
	}
	return parts, cores.Wait()
}

// accounts are the bookkeeper's numbers.
type accounts struct {
	rows  map[string]store.LedgerAccount
	codes map[string]store.TaxCode
}

func accountsOf(tx *store.DB) (*accounts, error) {
	k := &accounts{map[string]store.LedgerAccount{}, map[string]store.TaxCode{}}
	rows, err := store.All[store.LedgerAccount](tx, "id")
	if err != nil {
		return nil, err
	}
	for _, row := range rows {
		k.rows[row.Posting] = row
	}
	codes, err := store.All[store.TaxCode](tx, "id")
	for _, code := range codes {
		k.codes[code.Code] = code
	}
	return k, err
}

// of is the name of a posting and its account: of a tax code its own, or else that of
// all taxes.
func (k *accounts) of(posting string) (name, account string) {
	if code, isTax := journal.TaxCode(posting); isTax {
		if own := k.codes[code].Account; own != "" {
			return "Tax " + code, own
		}
		return "Tax " + code, k.rows[journal.Tax].Account
	}
	if row, known := k.rows[posting]; known {
		return row.Name, row.Account
	}
	return posting, ""
}

// JournalTable is the journal as a table: it is refused while something that was
// posted has no account.
func JournalTable(ctx context.Context, a *app.App, actor app.Actor, from, to day.Day) (header []string, rows [][]string, err error) {
	j, err := JournalOf(ctx, a, actor, from, to)
	if err != nil {
		return nil, nil, err
	}
	if len(j.Unmapped) > 0 {
		return nil, nil, app.Refuse(app.Conflict, "These have no account yet: %s. Give each one under Set-up, Accounts of "+
			"the journal or Tax "+
			"codes, then make the file again.", strings.Join(j.Unmapped, "; "))
	}
	header = []string{"Entry", "Date", "Document", "Client code", "Client", "Text", "Account", "Name", "Debit", "Credit",
		"Amount in currency", "Currency", "Tax code"}
	for _, l := range j.Lines {
		rows = append(rows, []string{fmt.Sprint(l.Entry), l.Day.String(), l.Document, l.ClientCode, l.Client, l.Text, l.Account, l.Posting,
			pointed(l.Debit), pointed(l.Credit), pointed(l.Amount), string(l.Amount.Currency), l.TaxCode})
	}
	return header, rows, nil
}

// pointed is an amount with a point and nothing between thousands; zero is nothing.
func pointed(a money.Amount) string {
	if a.IsZero() {
		return ""
	}
	return a.Typed()
}
