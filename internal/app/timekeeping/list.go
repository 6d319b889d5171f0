package timekeeping

import (
	"cmp"
	"context"
	"fmt"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// Filter says which entries or expenses are looked for, by the one selector that
// all lists have. Empty lists and zero days ask for all.
type Filter struct {
	Expenses                            bool
	From, To                            day.Day
	People, Clients, Engagements, Kinds []int64
	States                              []string
	Text                                string
	OldestFirst                         bool
}

// in is what is sought of what the actor may see: everything, or one's own and, for a
// lead, what was done on engagements that they lead.
func (s Filter) in(tx *store.DB, actor app.Actor, today day.Day) (*store.DB, store.WorkFilter) {
	f := store.WorkFilter{Expenses: s.Expenses, From: s.From, To: s.To, People: s.People, Clients: s.Clients, Engagements: s.Engagements,
		Kinds:  s.Kinds,
		States: s.States, Text: s.Text, OldestFirst: s.OldestFirst, Today: today}
	if s.Expenses {
		f.States = slices.DeleteFunc(slices.Clone(s.States), func(state string) bool { return slices.Contains(ofTimeAlone, state) })
	}
	if actor.Role == app.Administrator || actor.Role == app.Owner || actor.SeesTimes {
		return tx.AnyLead(), f
	}
	if f.OwnOf = actor.PersonID; actor.Role == app.Staff {
		tx = tx.LedBy([]int64{})
	}
	return tx, f
}

// ofTimeAlone are the states that expenses do not have.
var ofTimeAlone = []string{open, submitted, approved, "without_rate", "estimated"}

// IsWorkState reports whether work is found by such a state.
func IsWorkState(state string) bool { return store.IsWorkState(state) }

// WorkPage is a page of what was found, and what all of it adds up to.
type WorkPage struct {
	Entries  []Entry        `json:"entries"`
	Expenses []ExpenseLine  `json:"expenses"`
	Total    int            `json:"total" doc:"how many there are; this and the sums are on the first page alone"`
	Minutes  int            `json:"minutes" doc:"worked, in all"`
	Expected int            `json:"expected" doc:"minutes that it was said to take, where it was said"`
	Values   explain.Totals `json:"values" doc:"one for each currency; for those who may see it"`
}

// Most rows of a page.
const mostRows = 200

// Find reads a page of entries or expenses, by day.
func Find(ctx context.Context, a *app.App, actor app.Actor, s Filter, offset, limit int) (*WorkPage, error) {
	tx, f := s.in(a.Read(ctx, actor), actor, a.Clock.Today())
	page := &WorkPage{Entries: []Entry{}, Expenses: []ExpenseLine{}, Values: explain.Totals{}}
	if offset == 0 {
		if err := page.addUp(a, tx, f, actor); err != nil {
			return nil, err
		}
	}
	ids, err := store.WorkIDs(tx, f, offset, min(limit, mostRows))
	if err != nil || len(ids) == 0 {
		return page, err
	}
	place := map[int64]int{}
	for i, id := range ids {
		place[id] = i
	}
	if s.Expenses {
		rows, err := store.ExpensesByID(tx, ids)
		page.Expenses = make([]ExpenseLine, len(rows))
		for i := range rows {
			page.Expenses[place[rows[i].ID]] = expenseLine(&rows[i], actor)
		}
		return page, err
	}
	rows, err := store.EntriesByID(tx, ids)
	page.Entries = make([]Entry, len(rows))
	for i := range rows {
		entry := shown(&rows[i])
		page.Entries[place[rows[i].ID]] = *entry.conceal(actor)
	}
	return page, err
}

// summed are sums of what is sought, kept by client: of time, which is always of a client, unless words are sought.
func summed[T any](a *app.App, tx *store.DB, what string, f store.WorkFilter, read func(*store.DB, store.WorkFilter) ([]T, error),
	client func(*T) (id int64, name string)) ([]T, error) {
	if f.Expenses || f.Text != "" || len(f.Clients) > 0 || len(f.Engagements) > 0 {
		return read(tx, f)
	}
	byClient, err := app.PerClient(a, tx, what, fmt.Sprintf("%+v", f), func(clientIDs []int64) (map[int64]*[]T, error) {
		f := f
		f.Clients = clientIDs
		rows, err := read(tx, f)
		return app.ByClient(rows, func(row *T) int64 { id, _ := client(row); return id }), err
	})
	return app.Joined(byClient, func(row *T) string { _, name := client(row); return name }), err
}

// addUp counts and sums everything that is sought.
func (p *WorkPage) addUp(a *app.App, tx *store.DB, f store.WorkFilter, actor app.Actor) error {
	sums, err := summed(a, tx, "time", f, store.WorkSums, func(s *store.WorkSum) (int64, string) { return s.ClientID, s.Client })
	for _, sum := range sums {
		p.Total += sum.Count
		p.Minutes += sum.WorkedMinutes
		p.Expected += sum.ExpectedMinutes
		if !actor.SeesValues() {
			continue
		}
		step := explain.Step{Label: cmp.Or(sum.Engagement, ownCost), Detail: sum.Client}
		if err := p.Values.Add("Value, net", step, money.Amount{Minor: sum.Agreed, Currency: sum.Currency}); err != nil {
			return err
		}
	}
	p.Values = p.Values.ByCurrency()
	return err
}

// MostTogether is how many entries can be changed together.
const MostTogether = 10_000

// Numbers are the numbers of everything that is sought, so that all of it can be
// selected.
func Numbers(ctx context.Context, a *app.App, actor app.Actor, s Filter) ([]int64, error) {
	tx, f := s.in(a.Read(ctx, actor), actor, a.Clock.Today())
	ids, err := store.WorkIDs(tx, f, 0, MostTogether+1)
	if err == nil && len(ids) > MostTogether {
		err = app.Refuse(app.Invalid, "There are more than %d entries here: narrow the choice, then select all of it.", MostTogether)
	}
	return ids, err
}

// Group is work of a client or a person, or of one engagement of theirs, in four
// groups.
type Group struct {
	ID          int64   `json:"id" doc:"of the client, person or engagement; 0 is the firm's own cost"`
	Name        string  `json:"name"`
	Beside      string  `json:"beside" doc:"the client of an engagement under a person"`
	ToBill      InGroup `json:"toBill" doc:"billable by itself and not billed"`
	InFee       InGroup `json:"inFee" doc:"not billed; a fee covers it, or it is over a cap"`
	Billed      InGroup `json:"billed"`
	NotBillable InGroup `json:"notBillable"`
	Inner       []Group `json:"inner" doc:"engagements"`
}

// InGroup is what is in one of the groups.
type InGroup struct {
	Count   int            `json:"count"`
	Minutes int            `json:"minutes" doc:"worked"`
	Values  []money.Amount `json:"values" doc:"one for each currency"`
}

// Groups adds up what is sought by client or by person, each with its
// engagements.
func Groups(ctx context.Context, a *app.App, actor app.Actor, s Filter, byPerson bool) ([]Group, error) {
	tx, f := s.in(a.Read(ctx, actor), actor, a.Clock.Today())
	what, read := "groups", func(tx *store.DB, f store.WorkFilter) ([]store.GroupSum, error) {
		return store.GroupSums(tx, f, byPerson)
	}
	if byPerson {
		what = "groups by person"
	}
	sums, err := summed(a, tx, what, f, read, func(s *store.GroupSum) (int64, string) { return s.ClientID, s.Client })
	if err != nil {
		return nil, err
	}
	if byPerson {
		slices.SortStableFunc(sums, func(a, b store.GroupSum) int {
			return cmp.Or(strings.Compare(a.Person, b.Person), cmp.Compare(a.PersonID, b.PersonID))
		})
	}
	groups := []Group{}
	for _, sum := range sums {
		outer, inner := Group{ID: sum.ClientID, Name: sum.Client}, Group{ID: sum.EngagementID, Name: sum.Engagement}
		if byPerson {
			outer, inner.Beside = Group{ID: sum.PersonID, Name: sum.Person}, sum.Client
		}
		if sum.EngagementID == 0 {
			inner.Name = ownCost
			if !byPerson {
				outer.Name = ownCost
			}
		}
		into := groupIn(&groups, outer)
		for _, g := range []*Group{into, groupIn(&into.Inner, inner)} {
			if err := g.add(sum, actor.SeesValues()); err != nil {
				return nil, err
			}
		}
	}
	return groups, nil
}

// ownCost is what is not on any engagement.
const ownCost = "The firm's own cost"

// groupIn finds the last group of a list if it is the one meant, or begins it:
// sums come in the order of their groups.
func groupIn(groups *[]Group, g Group) *Group {
	if last := len(*groups) - 1; last >= 0 && (*groups)[last].ID == g.ID {
		return &(*groups)[last]
	}
	g.Inner = []Group{}
	for _, in := range []*InGroup{&g.ToBill, &g.InFee, &g.Billed, &g.NotBillable} {
		in.Values = []money.Amount{}
	}
	*groups = append(*groups, g)
	return &(*groups)[len(*groups)-1]
}

func (g *Group) add(sum store.GroupSum, values bool) (err error) {
	in := map[string]*InGroup{"to_bill": &g.ToBill, "in_fee": &g.InFee, "billed": &g.Billed, "not_billable": &g.NotBillable}[sum.Bucket]
	in.Count += sum.Count
	in.Minutes += sum.WorkedMinutes
	if values {
		in.Values, err = money.AddByCurrency(in.Values, money.Amount{Minor: sum.Agreed, Currency: sum.Currency})
	}
	return err
}
