package reports

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"dorvet/core/explain"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/receivables"
	"dorvet/internal/app/registry"
	"dorvet/internal/app/setup"
	"dorvet/internal/store"
)

// ClientFilter says which clients are listed, and in which order.
type ClientFilter struct {
	Standing string // nothing: active ones; taken_on, settled, past, all
	Status   string // its words; nothing: any
	Industry string
	Text     string // all its words are in name, code, status, or who cares for them
	By       string // a column; nothing: by name
	Down     bool
	OpenID   int64 // whose place in the list is asked for
}

// ClientList is a part of the clients that are asked for, in their order, with what all of them come to and, in the
// firm's currency at today's rates, what everything comes to.
type ClientList struct {
	Clients []ClientStanding `json:"clients"`
	Total   int              `json:"total" doc:"how many are asked for"`
	Among   int              `json:"among" doc:"how many there would be, whatever text is sought"`
	Place   int              `json:"place" doc:"of the one that is open, from 0; -1 if it is not among them"`
	ToBill  explain.Totals   `json:"toBill" doc:"of those that are asked for, as what follows"`
	Open    explain.Totals   `json:"open"`
	Overdue explain.Totals   `json:"overdue"`

	Statuses   []string         `json:"statuses" doc:"that clients have"`
	Industries []string         `json:"industries"`
	Unbilled   explain.Total    `json:"unbilled" doc:"of all clients, as what follows"`
	Owed       explain.Total    `json:"owed"`
	Late       explain.Total    `json:"late"`
	Without    []money.Currency `json:"without" doc:"currencies without a rate, left out of the sums"`
}

// Clients lists clients that an actor may see, from one on.
func Clients(ctx context.Context, a *app.App, actor app.Actor, f ClientFilter, offset, limit int) (*ClientList, error) {
	tx := a.Read(ctx, actor)
	all, err := allStandings(a, tx, actor)
	if err != nil {
		return nil, err
	}
	list := &ClientList{Statuses: words(all, func(c *standing) string { return c.Status }),
		Industries: words(all, func(c *standing) string { return c.Industry })}
	if err := list.addFirm(a, tx, actor, all); err != nil {
		return nil, err
	}
	shown, err := list.choose(all, f)
	if err != nil {
		return nil, err
	}
	for _, c := range shown[min(offset, len(shown)):min(offset+limit, len(shown))] {
		list.Clients = append(list.Clients, c.ClientStanding)
	}
	return list, nil
}

// choose are the clients that are asked for, in their order; what they come to is added up.
func (l *ClientList) choose(all []*standing, f ClientFilter) ([]*standing, error) {
	stands, known := standingsAsked[f.Standing]
	if !known {
		return nil, app.RefuseField("standing", "%q is no choice of clients: choose taken_on, settled, past or all.", f.Standing)
	}
	order, known := clientOrders[f.By]
	if !known {
		return nil, app.RefuseField("by", "%q is no column of clients.", f.By)
	}
	sought, shown := strings.Fields(strings.ToLower(f.Text)), []*standing{}
	for _, c := range all {
		if !stands(c) || f.Status != "" && c.Status != f.Status || f.Industry != "" && c.Industry != f.Industry {
			continue
		}
		l.Among++
		if c.says(sought) {
			shown = append(shown, c)
		}
	}
	if f.By != "" || f.Down {
		slices.SortStableFunc(shown, func(a, b *standing) int {
			if f.Down {
				a, b = b, a
			}
			return order(a, b)
		})
	}
	l.Total, l.Clients = len(shown), []ClientStanding{}
	l.Place = slices.IndexFunc(shown, func(c *standing) bool { return c.ID == f.OpenID })
	return shown, l.addUp(shown)
}

// standingsAsked are the choices of clients by how they stand.
var standingsAsked = map[string]func(*standing) bool{
	"":         func(c *standing) bool { return c.Active },
	"taken_on": func(c *standing) bool { return c.Active && c.Onboarding },
	"settled":  func(c *standing) bool { return c.Active && !c.Onboarding },
	"past":     func(c *standing) bool { return !c.Active },
	"all":      func(*standing) bool { return true },
}

// says reports whether all words are in what a client is found by.
func (c *standing) says(words []string) bool {
	said := strings.ToLower(strings.Join([]string{c.Name, c.Code, c.Responsible, c.CaredForBy, c.Status}, " "))
	return !slices.ContainsFunc(words, func(word string) bool { return !strings.Contains(said, word) })
}

// clientOrders are the columns by which clients are ordered.
var clientOrders = map[string]func(a, b *standing) int{
	"":            func(a, b *standing) int { return registry.CompareNames(a.lower, b.lower) },
	"status":      func(a, b *standing) int { return registry.CompareNames(a.Status, b.Status) },
	"responsible": func(a, b *standing) int { return registry.CompareNames(a.Responsible, b.Responsible) },
	"engagements": func(a, b *standing) int { return cmp.Compare(a.Engagements, b.Engagements) },
	"unbilled":    func(a, b *standing) int { return cmp.Compare(first(a.Unbilled), first(b.Unbilled)) },
	"oldest":      func(a, b *standing) int { return cmp.Compare(a.OldestDays, b.OldestDays) },
	"owed":        func(a, b *standing) int { return cmp.Compare(first(a.Owed), first(b.Owed)) },
	"late":        func(a, b *standing) int { return cmp.Compare(first(a.Late), first(b.Late)) },
	"billed":      func(a, b *standing) int { return cmp.Compare(a.LastBilled, b.LastBilled) },
}

func first(totals explain.Totals) int64 {
	if len(totals) == 0 {
		return 0
	}
	return totals[0].Minor
}

// addUp sums what the clients that are asked for come to, by currency.
func (l *ClientList) addUp(shown []*standing) error {
	l.ToBill, l.Open, l.Overdue = explain.Totals{}, explain.Totals{}, explain.Totals{}
	for _, c := range shown {
		for _, sum := range []struct {
			into  *explain.Totals
			label string
			of    explain.Totals
		}{{&l.ToBill, "To bill, net", c.Unbilled}, {&l.Open, "Owed, gross", c.Owed}, {&l.Overdue, "Late", c.Late}} {
			for _, own := range sum.of {
				if err := sum.into.Add(sum.label, explain.Step{Label: c.Name}, own.Amount); err != nil {
					return err
				}
			}
		}
	}
	l.ToBill, l.Open, l.Overdue = l.ToBill.Shortened(), l.Open.Shortened(), l.Overdue.Shortened()
	return nil
}

// addFirm says what all clients come to, in the firm's currency.
func (l *ClientList) addFirm(a *app.App, tx *store.DB, actor app.Actor, all []*standing) error {
	firm, err := store.TheFirm(tx)
	if err != nil {
		return err
	}
	sums := explain.Totals{}
	for _, c := range all {
		for _, own := range c.Unbilled {
			if err := sums.Add("To bill, net", explain.Step{Label: c.Name}, own.Amount); err != nil {
				return err
			}
		}
	}
	toAll, without, err := setup.InFirm(tx, firm, a.Clock.Today(), "To bill to all, net", sums)
	if err != nil {
		return err
	}
	owed := receivables.NothingOwed(firm.Currency)
	if actor.Role != app.Lead { // what is owed is not among what a lead sees
		if owed, err = receivables.StandingOn(a, tx, firm, a.Clock.Today()); err != nil {
			return err
		}
	}
	l.Unbilled, l.Owed, l.Late, l.Without = toAll, owed.Total, owed.Late, []money.Currency{}
	for _, currency := range slices.Concat(without, owed.Without) {
		if !slices.Contains(l.Without, currency) {
			l.Without = append(l.Without, currency)
		}
	}
	return nil
}

// words are those that clients have, each once.
func words(all []*standing, of func(*standing) string) []string {
	found := []string{}
	for _, c := range all {
		if word := of(c); word != "" && !slices.Contains(found, word) {
			found = append(found, word)
		}
	}
	slices.Sort(found)
	return found
}
