package bank

import (
	"cmp"
	"fmt"
	"slices"
	"strings"
	"unicode"

	"dorvet/core/money"
)

// Sureness says how sure it is what an entry pays.
type Sureness string

// From the surest on. Certain ones are taken together; two equal candidates are never certain.
const (
	Certain Sureness = "certain" // our reference or number, and an amount that pays whole instalments
	Likely  Sureness = "likely"  // a known account and an amount that fits, or our reference with another amount
	Perhaps Sureness = "perhaps" // the amount alone, or a name
)

// Open is an invoice of which something is still to be paid, in the currency of the account.
type Open struct {
	InvoiceID, ClientID int64
	Number              string
	Reference           string  // its creditor reference
	Parts               []int64 // what is open of its instalments, the oldest first, in minor units
}

func (o *Open) open() (minor int64) {
	for _, part := range o.Parts {
		minor += part
	}
	return minor
}

// pays reports whether an amount is that of one or more whole instalments, from the oldest on.
func (o *Open) pays(minor int64) bool {
	sum := int64(0)
	for _, part := range o.Parts {
		if sum += part; sum == minor && part != 0 {
			return true
		}
	}
	return false
}

// Payer is a client who may have paid.
type Payer struct {
	ClientID int64
	Names    []string
	Accounts []string // from which they paid before
}

// Put is what of an entry goes on an invoice.
type Put struct{ InvoiceID, Minor int64 }

// Proposal is what an entry may pay, and why. What is not put on an invoice becomes credit of the client.
type Proposal struct {
	Sureness Sureness
	ClientID int64
	On       []Put
	Reason   string
}

// Finder finds what entries pay, among invoices of one issuing entity and currency.
type Finder struct {
	currency    money.Currency
	invoices    []Open // the oldest first
	payers      []Payer
	byReference map[string][]int
	byNumber    map[string][]int
	byClient    map[int64][]int
	byAccount   map[string][]int64
	byAmount    map[int64][]int // of the first instalments, and of all
}

// NewFinder is one for open invoices, the oldest first.
func NewFinder(in money.Currency, invoices []Open, payers []Payer) *Finder {
	f := &Finder{currency: in, invoices: invoices, payers: payers, byReference: map[string][]int{}, byNumber: map[string][]int{},
		byClient: map[int64][]int{}, byAccount: map[string][]int64{}, byAmount: map[int64][]int{}}
	for i := range invoices {
		o := &invoices[i]
		if o.Reference != "" {
			f.byReference[o.Reference] = append(f.byReference[o.Reference], i)
		}
		if telling(letters(o.Number)) {
			f.byNumber[letters(o.Number)] = append(f.byNumber[letters(o.Number)], i)
		}
		f.byClient[o.ClientID] = append(f.byClient[o.ClientID], i)
		f.byAmount[o.open()] = append(f.byAmount[o.open()], i)
		if len(o.Parts) > 1 {
			f.byAmount[o.Parts[0]] = append(f.byAmount[o.Parts[0]], i)
		}
	}
	for _, p := range payers {
		for _, account := range p.Accounts {
			f.byAccount[account] = append(f.byAccount[account], p.ClientID)
		}
	}
	return f
}

// Propose says what an entry that came in may pay, the surest first; nothing where nothing tells.
func (f *Finder) Propose(e *Entry) []Proposal {
	if e.Minor <= 0 {
		return nil
	}
	proposals := f.byWhatIsNamed(e)
	if len(proposals) == 0 {
		proposals = f.byKnownAccount(e)
	}
	if len(proposals) == 0 {
		proposals = f.byWhoPaid(e)
		for _, p := range f.byAmountAlone(e) {
			if !slices.ContainsFunc(proposals, func(other Proposal) bool { return slices.Equal(other.On, p.On) }) {
				proposals = append(proposals, p)
			}
		}
	}
	slices.SortStableFunc(proposals, func(a, b Proposal) int { return cmp.Compare(rank[a.Sureness], rank[b.Sureness]) })
	return proposals[:min(len(proposals), 5)]
}

var rank = map[Sureness]int{Certain: 0, Likely: 1, Perhaps: 2}

// byWhatIsNamed follows our references and numbers in what the payer wrote.
func (f *Finder) byWhatIsNamed(e *Entry) []Proposal {
	named, twice := f.named(e)
	if len(named) == 0 {
		return nil
	}
	if twice || f.ofSeveral(named) {
		proposals := []Proposal{}
		for _, at := range named {
			proposals = append(proposals, f.on(Perhaps, []int{at}, e.Minor, "%s is named, but it is not the only one that may be meant",
				f.invoices[at].Number))
		}
		return proposals
	}
	numbers, open := f.words(named), int64(0)
	for _, at := range named {
		open += f.invoices[at].open()
	}
	whole := e.Minor == open || len(named) == 1 && f.invoices[named[0]].pays(e.Minor)
	stranger := f.paidByAnother(e, f.invoices[named[0]].ClientID)
	switch {
	case whole && !stranger && e.Minor == open:
		return []Proposal{f.on(Certain, named, e.Minor, "%s, and %s is all that is open", numbers, f.amount(e.Minor))}
	case whole && !stranger:
		return []Proposal{f.on(Certain, named, e.Minor, "%s, and %s pays whole instalments of it", numbers, f.amount(e.Minor))}
	case whole:
		return []Proposal{f.on(Likely, named, e.Minor, "%s and its amount, but from an account that another client pays from", numbers)}
	case e.Minor < open:
		return []Proposal{f.on(Likely, named, e.Minor, "%s, but only %s of %s", numbers, f.amount(e.Minor), f.amount(open))}
	}
	return []Proposal{f.on(Likely, named, e.Minor, "%s, and %s more than is open", numbers, f.amount(e.Minor-open))}
}

// named are the invoices that an entry names, and whether one name is of two of them.
func (f *Finder) named(e *Entry) (named []int, twice bool) {
	add := func(found []int) {
		twice = twice || len(found) > 1
		for _, at := range found {
			if !slices.Contains(named, at) {
				named = append(named, at)
			}
		}
	}
	if e.Creditor != "" {
		add(f.byReference[e.Creditor])
	}
	words := wordsOf(e.Text + " " + e.EndToEnd)
	for i := range words {
		// People write SC 1046 and SC-1046, and banks break long references in parts.
		joined := ""
		for _, word := range words[i:min(len(words), i+7)] {
			joined += word
			add(f.byReference[joined])
			if len(joined) <= 12 {
				add(f.byNumber[joined])
			}
		}
	}
	slices.Sort(named)
	return named, twice
}

// ofSeveral reports whether invoices are of more than one client.
func (f *Finder) ofSeveral(named []int) bool {
	return slices.ContainsFunc(named, func(at int) bool { return f.invoices[at].ClientID != f.invoices[named[0]].ClientID })
}

// paidByAnother reports whether an account is known of other clients alone.
func (f *Finder) paidByAnother(e *Entry, clientID int64) bool {
	known := f.byAccount[e.PartyAccount]
	return len(known) > 0 && !slices.Contains(known, clientID)
}

// byKnownAccount looks for what a client who paid from this account before may pay.
func (f *Finder) byKnownAccount(e *Entry) []Proposal {
	clients := f.byAccount[e.PartyAccount]
	if e.PartyAccount == "" || len(clients) == 0 {
		return nil
	}
	proposals := []Proposal{}
	for _, clientID := range clients {
		on, several := f.fitting(f.byClient[clientID], e.Minor)
		switch {
		case on == nil:
			proposals = append(proposals, f.of(clientID, e.Minor, "the account is theirs, but the amount is none that they owe"))
		case several || len(clients) > 1:
			proposals = append(proposals, f.on(Perhaps, on, e.Minor,
				"the account is theirs, and the amount may be that of %s, but of others as well", f.words(on)))
		default:
			proposals = append(proposals, f.on(Likely, on, e.Minor, "the account is theirs, and %s is what is open on %s", f.amount(e.Minor),
				f.words(on)))
		}
	}
	return proposals
}

// mostTogether is how many open invoices of a client are tried together: of more, sums that fit by chance would outnumber the right one.
const mostTogether = 12

// fitting are the invoices that an amount pays, alone or together, and whether others would be paid by it as well. What pays the oldest
// ones goes before other sums.
func (f *Finder) fitting(of []int, minor int64) (on []int, several bool) {
	for _, at := range of {
		if f.invoices[at].pays(minor) {
			if on != nil {
				return on, true
			}
			on = []int{at}
		}
	}
	if on != nil {
		return on, false
	}
	sum := int64(0)
	for n, at := range of {
		if sum += f.invoices[at].open(); sum == minor {
			return of[:n+1], false
		}
	}
	of = of[:min(len(of), mostTogether)]
	for set := range 1 << len(of) {
		sum, chosen := int64(0), []int{}
		for n, at := range of {
			if set&(1<<n) != 0 {
				sum, chosen = sum+f.invoices[at].open(), append(chosen, at)
			}
		}
		if sum == minor && len(chosen) > 1 {
			if on != nil {
				return on, true
			}
			on = chosen
		}
	}
	return on, false
}

// byWhoPaid looks for clients of that name.
func (f *Finder) byWhoPaid(e *Entry) []Proposal {
	words := wordsOf(e.Party)
	if len(words) == 0 {
		return nil
	}
	proposals := []Proposal{}
	for i := range f.payers {
		p := &f.payers[i]
		if !slices.ContainsFunc(p.Names, func(name string) bool { return sameName(words, wordsOf(name)) }) {
			continue
		}
		own := f.byClient[p.ClientID]
		if on, several := f.fitting(own, e.Minor); on != nil && !several {
			proposals = append(proposals, f.on(Perhaps, on, e.Minor, "the name is theirs, and %s is what is open on %s",
				f.amount(e.Minor), f.words(on)))
			continue
		}
		proposals = append(proposals, f.of(p.ClientID, e.Minor, "the name is theirs"))
	}
	return proposals
}

// sameName reports whether one of two names has all words of the other, and two at least or one long one.
func sameName(a, b []string) bool {
	if len(a) > len(b) {
		a, b = b, a
	}
	for _, word := range a {
		if !slices.Contains(b, word) {
			return false
		}
	}
	return len(a) > 1 || len(a) == 1 && len(a[0]) >= 6
}

// byAmountAlone looks for the invoices of that amount.
func (f *Finder) byAmountAlone(e *Entry) []Proposal {
	proposals := []Proposal{}
	for _, at := range f.byAmount[e.Minor] {
		proposals = append(proposals, f.on(Perhaps, []int{at}, e.Minor, "the amount is what is open on %s", f.invoices[at].Number))
	}
	return proposals
}

// of puts an amount on what a client owes, the oldest first; they may owe nothing.
func (f *Finder) of(clientID, minor int64, reason string) Proposal {
	p := f.on(Perhaps, f.byClient[clientID], minor, "%s", reason)
	p.ClientID = clientID
	return p
}

// on puts an amount on invoices, the oldest first, as far as it goes.
func (f *Finder) on(sure Sureness, at []int, minor int64, reason string, values ...any) Proposal {
	p := Proposal{Sureness: sure, On: []Put{}, Reason: fmt.Sprintf(reason, values...)}
	for _, i := range at {
		o := &f.invoices[i]
		p.ClientID = o.ClientID
		if part := min(minor, o.open()); part > 0 {
			p.On, minor = append(p.On, Put{o.InvoiceID, part}), minor-part
		}
	}
	return p
}

func (f *Finder) words(at []int) string {
	numbers := []string{}
	for _, i := range at {
		numbers = append(numbers, f.invoices[i].Number)
	}
	return strings.Join(numbers, ", ")
}

func (f *Finder) amount(minor int64) money.Amount {
	return money.Amount{Minor: minor, Currency: f.currency}
}

// telling reports whether a number says by itself that an invoice is meant: a short one may stand in any text.
func telling(number string) bool {
	hasLetter := strings.ContainsFunc(number, unicode.IsLetter)
	return hasLetter && len(number) >= 4 || len(number) >= 6
}

// letters are the letters and digits of a text, in capitals.
func letters(text string) string { return strings.Join(wordsOf(text), "") }

// wordsOf are the words of a text in capitals, without what stands between them.
func wordsOf(text string) []string {
	return strings.FieldsFunc(strings.ToUpper(text), func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) })
}
