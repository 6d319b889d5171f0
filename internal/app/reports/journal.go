package reports

import (
	"cmp"
	"context"
	"encoding/json"
	"fmt"
	"iter"
	"maps"
	"runtime"
	"slices"
	"strings"
	"sync"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/invoice"
	"dorvet/core/journal"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"

	"golang.org/x/sync/errgroup"
)

// Journal is a part of what a bookkeeper posts for a period, in the firm's currency, with what all of it comes to.
type Journal struct {
	From     day.Day       `json:"from"`
	To       day.Day       `json:"to"`
	Lines    []JournalLine `json:"lines"`
	Total    int           `json:"total" doc:"how many lines are asked for"`
	Among    int           `json:"among" doc:"how many there would be, whatever text is sought"`
	Entries  int           `json:"entries" doc:"of the lines that are asked for, as what follows"`
	Debit    explain.Total `json:"debit" doc:"by account; where no text is sought, the same is credited"`
	Credit   explain.Total `json:"credit"`
	Unmapped []string      `json:"unmapped" doc:"what was posted in the period and has no account yet"`
}

// JournalLine is one side of an entry.
type JournalLine struct {
	Entry      int64        `json:"entry" doc:"the same for all lines that balance"`
	Begins     bool         `json:"begins" doc:"the entry begins with it"`
	Place      int          `json:"place" doc:"in the list, from 0"`
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

// JournalFilter says of which days a journal is, both counted, and what its lines name.
type JournalFilter struct {
	From, To day.Day
	Text     string // all its words are in document, client, posting or account
}

// JournalOf reads the lines of a journal from one on.
func JournalOf(ctx context.Context, a *app.App, actor app.Actor, f JournalFilter, offset, limit int) (*Journal, error) {
	b, err := bookOf(ctx, a, actor, f.From, f.To)
	if err != nil {
		return nil, err
	}
	j := &Journal{From: f.From, To: f.To, Lines: []JournalLine{}, Unmapped: b.unmapped()}
	debits, credits := map[string]int64{}, map[string]int64{}
	sought, last := strings.Fields(strings.ToLower(f.Text)), (*entry)(nil)
	for e, l := range b.lines() {
		j.Among++
		if !b.says(e, l, sought) {
			continue
		}
		if j.Total++; e != last {
			j.Entries++
		}
		if l.Firm > 0 {
			debits[l.Posting] += l.Firm
		} else {
			credits[l.Posting] -= l.Firm
		}
		if j.Total > offset && len(j.Lines) < limit {
			line := b.line(e, l)
			line.Begins, line.Place = e != last, j.Total-1
			j.Lines = append(j.Lines, line)
		}
		last = e
	}
	if j.Debit, err = b.sum("Debit", debits); err != nil {
		return nil, err
	}
	j.Credit, err = b.sum("Credit", credits)
	return j, err
}

// book are the entries of a period in their order, with the accounts to which they are posted.
type book struct {
	entries  []*entry
	accounts *accounts
	currency money.Currency // the firm's
}

// entry is what one act did to one document on a day: its lines balance.
type entry struct {
	act                                       int64
	day                                       day.Day
	invoiceID, paymentID                      int64 // or 0
	document, clientCode, client, text, lower string
	currency                                  money.Currency
	lines                                     []journal.Line
}

func bookOf(ctx context.Context, a *app.App, actor app.Actor, from, to day.Day) (*book, error) {
	if to < from {
		return nil, app.RefuseField("to", "%s is before %s: give a later day.", to.Long(), from.Long())
	}
	tx := a.Read(ctx, actor)
	firm, err := store.TheFirm(tx)
	if err != nil {
		return nil, err
	}
	b := &book{currency: firm.Currency}
	if b.accounts, err = accountsOf(tx); err != nil {
		return nil, err
	}
	byClient, err := app.PerClient(a, tx, "journal", fmt.Sprint(from, to), func(clientIDs []int64) (map[int64]*[]*entry, error) {
		return entries(a, tx, from, to, clientIDs)
	})
	if err != nil {
		return nil, err
	}
	for _, own := range byClient {
		b.entries = append(b.entries, *own...)
	}
	slices.SortFunc(b.entries, func(a, b *entry) int {
		return cmp.Or(cmp.Compare(a.day, b.day), cmp.Compare(a.act, b.act), cmp.Compare(a.invoiceID, b.invoiceID),
			cmp.Compare(a.paymentID, b.paymentID))
	})
	return b, nil
}

// entries are those of some clients, or all (nil), by client.
func entries(a *app.App, tx *store.DB, from, to day.Day, clientIDs []int64) (map[int64]*[]*entry, error) {
	rows, err := store.MoneyBetween(tx, from, to, clientIDs)
	if err != nil {
		return nil, err
	}
	parts, err := app.Once(a, "parts of what was frozen", revisionsOf(rows), func(ids []int64) (map[int64]journal.Parts, error) {
		return partsOf(tx, ids)
	})
	if err != nil {
		return nil, err
	}
	byClient := map[int64]*[]*entry{}
	for group := range entriesOf(rows) {
		e, err := enter(parts[group[0].RevisionID], group)
		if err != nil {
			return nil, fmt.Errorf("enter %s: %w", group[0].Summary, err)
		}
		id := group[0].ClientID
		if byClient[id] == nil {
			byClient[id] = new([]*entry)
		}
		*byClient[id] = append(*byClient[id], e)
	}
	return byClient, nil
}

// entriesOf are movements by act and document: each lot balances.
func entriesOf(rows []store.JournalRow) func(yield func([]store.JournalRow) bool) {
	key := func(r *store.JournalRow) [4]int64 {
		return [4]int64{r.ActID, int64(r.EffectiveDay), number(r.InvoiceID), number(r.PaymentID)}
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

func number(id *int64) int64 {
	if id == nil {
		return 0
	}
	return *id
}

func enter(parts journal.Parts, group []store.JournalRow) (*entry, error) {
	first, movements := &group[0], make([]journal.Movement, len(group))
	for i, r := range group {
		movements[i] = journal.Movement{From: r.FromBucket, To: r.ToBucket, Amount: r.Amount, Firm: r.FirmAmount}
	}
	lines, err := journal.Enter(movements, parts)
	return &entry{act: first.ActID, day: first.EffectiveDay, invoiceID: number(first.InvoiceID), paymentID: number(first.PaymentID),
		document: first.Document, clientCode: first.ClientCode, client: first.Client, text: first.Summary,
		lower: strings.ToLower(first.Document + " " + first.Client), currency: first.Currency, lines: lines}, err
}

// lines are all lines of a book, each with its entry.
func (b *book) lines() iter.Seq2[*entry, *journal.Line] {
	return func(yield func(*entry, *journal.Line) bool) {
		for _, e := range b.entries {
			for i := range e.lines {
				if !yield(e, &e.lines[i]) {
					return
				}
			}
		}
	}
}

// line is a line as it is posted.
func (b *book) line(e *entry, l *journal.Line) JournalLine {
	name, account := b.accounts.of(l.Posting)
	code, _ := journal.TaxCode(l.Posting)
	none := money.Zero(b.currency)
	line := JournalLine{Entry: e.act, Day: e.day, InvoiceID: e.invoiceID, Document: e.document, ClientCode: e.clientCode,
		Client: e.client, Text: e.text, Posting: name, Account: account, TaxCode: code, Debit: none, Credit: none,
		Amount: money.Amount{Minor: l.Amount, Currency: e.currency}}
	if l.Firm > 0 {
		line.Debit.Minor = l.Firm
	} else {
		line.Credit.Minor = -l.Firm
	}
	return line
}

// says reports whether all words are in what a line is found by.
func (b *book) says(e *entry, l *journal.Line, words []string) bool {
	if len(words) == 0 {
		return true
	}
	name, account := b.accounts.of(l.Posting)
	said := e.lower + " " + strings.ToLower(name+" "+account)
	return !slices.ContainsFunc(words, func(word string) bool { return !strings.Contains(said, word) })
}

// unmapped are the postings that have no account.
func (b *book) unmapped() []string {
	names, known := []string{}, map[string]bool{}
	for _, l := range b.lines() {
		if known[l.Posting] {
			continue
		}
		known[l.Posting] = true
		if name, account := b.accounts.of(l.Posting); account == "" {
			names = append(names, name)
		}
	}
	return names
}

// sum adds up what is debited or credited, by account.
func (b *book) sum(label string, of map[string]int64) (explain.Total, error) {
	total := explain.NoTotal(label, b.currency)
	for _, posting := range slices.Sorted(maps.Keys(of)) {
		name, account := b.accounts.of(posting)
		if err := total.Add(explain.Step{Label: name, Detail: account}, money.Amount{Minor: of[posting], Currency: b.currency}); err != nil {
			return total, err
		}
	}
	return total, nil
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
	b, err := bookOf(ctx, a, actor, from, to)
	if err != nil {
		return nil, nil, err
	}
	if unmapped := b.unmapped(); len(unmapped) > 0 {
		return nil, nil, app.Refuse(app.Conflict, "These have no account yet: %s. Give each one under Set-up, Accounts of "+
			"the journal or Tax codes, then make the file again.", strings.Join(unmapped, "; "))
	}
	header = []string{"Entry", "Date", "Document", "Client code", "Client", "Text", "Account", "Name", "Debit", "Credit",
		"Amount in currency", "Currency", "Tax code"}
	for e, own := range b.lines() {
		l := b.line(e, own)
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
