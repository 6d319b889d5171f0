package receivables

import (
	"cmp"
	"maps"
	"slices"
	"strings"

	"dorvet/core/day"
	"dorvet/core/receivable"
	"dorvet/internal/app"
	"dorvet/internal/store"
)

// claims are what a client owes, and what lies there for it.
type claims struct {
	ClientID int64
	Client   string
	Open     []store.OpenInstalment // by the day on which it is due
	Credits  []store.Credits
	Held     []store.ClientFundsRow
}

// claimsOf are the claims on one client, or on all (0), in the order of their names.
func claimsOf(a *app.App, tx *store.DB, clientID int64) ([]*claims, error) {
	if clientID != 0 {
		found, err := readClaims(tx, only(clientID))
		return byName(found), err
	}
	found, err := app.PerClient(a, tx, "claims", "", func(clientIDs []int64) (map[int64]*claims, error) { return readClaims(tx, clientIDs) })
	return byName(found), err
}

// claimsOn are the claims as they stood at the end of a day before today.
func claimsOn(tx *store.DB, clientID int64, on day.Day) ([]*claims, error) {
	all, err := store.OpenInstalmentsOn(tx, only(clientID), on)
	if err != nil {
		return nil, err
	}
	credits, err := store.AllCreditsOn(tx, only(clientID), on)
	if err != nil {
		return nil, err
	}
	// What was paid before its invoice was dated is credit on the days between, never negative aging.
	open := []store.OpenInstalment{}
	for i := range all {
		if row := &all[i]; row.Open > 0 {
			open = append(open, *row)
		} else {
			credits = append(credits, store.Credits{ClientID: row.ClientID, EntityID: row.EntityID, Client: row.Client, Currency: row.Currency,
				Credit: -row.Open})
		}
	}
	held, err := store.FundsHeldOn(tx, only(clientID), on)
	return byName(gathered(open, credits, held)), err
}

func byName(found map[int64]*claims) []*claims {
	return slices.SortedFunc(maps.Values(found), func(a, b *claims) int {
		return cmp.Or(strings.Compare(a.Client, b.Client), cmp.Compare(a.ClientID, b.ClientID))
	})
}

func readClaims(tx *store.DB, clientIDs []int64) (map[int64]*claims, error) {
	open, err := store.OpenInstalments(tx, clientIDs)
	if err != nil {
		return nil, err
	}
	credits, err := store.AllCredits(tx, clientIDs)
	if err != nil {
		return nil, err
	}
	held, err := store.FundsHeld(tx, clientIDs)
	return gathered(open, credits, held), err
}

// gathered are claims by client.
func gathered(open []store.OpenInstalment, credits []store.Credits, held []store.ClientFundsRow) map[int64]*claims {
	found := map[int64]*claims{}
	of := func(clientID int64, client string) *claims {
		if found[clientID] == nil {
			found[clientID] = &claims{ClientID: clientID, Client: client}
		}
		return found[clientID]
	}
	setAside(open)
	for i := range open {
		c := of(open[i].ClientID, open[i].Client)
		c.Open = append(c.Open, open[i])
	}
	for _, credit := range credits {
		c := of(credit.ClientID, credit.Client)
		c.Credits = append(c.Credits, credit)
	}
	for i := range held {
		c := of(held[i].ClientID, held[i].Client)
		c.Held = append(c.Held, held[i])
	}
	return found
}

// setAside says of each instalment how much of it is disputed.
func setAside(rows []store.OpenInstalment) {
	ofInvoice := map[int64][]int{}
	for i := range rows {
		if rows[i].Disputed != "" {
			ofInvoice[rows[i].InvoiceID] = append(ofInvoice[rows[i].InvoiceID], i)
		}
	}
	for _, places := range ofInvoice {
		open, all := []receivable.Open{}, int64(0)
		for _, i := range places {
			open, all = append(open, receivable.Open{Due: rows[i].DueDay, Owed: rows[i].Open}), all+rows[i].Open
		}
		disputed := rows[places[0]].DisputedAmount
		if disputed == 0 { // all of it
			disputed = all
		}
		for n, aside := range receivable.Aside(open, disputed) {
			rows[places[n]].Aside = aside
		}
	}
}

// allOpen is what is open of all claims, one client after the other.
func allOpen(of []*claims) []store.OpenInstalment {
	rows := []store.OpenInstalment{}
	for i := range of {
		rows = append(rows, of[i].Open...)
	}
	return rows
}
