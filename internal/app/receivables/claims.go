package receivables

import (
	"cmp"
	"maps"
	"slices"
	"strings"

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
	var found map[int64]*claims
	var err error
	if clientID != 0 {
		found, err = readClaims(tx, only(clientID))
	} else {
		found, err = app.PerClient(a, tx, "claims", "", func(clientIDs []int64) (map[int64]*claims, error) { return readClaims(tx, clientIDs) })
	}
	return slices.SortedFunc(maps.Values(found), func(a, b *claims) int {
		return cmp.Or(strings.Compare(a.Client, b.Client), cmp.Compare(a.ClientID, b.ClientID))
	}), err
}

func readClaims(tx *store.DB, clientIDs []int64) (map[int64]*claims, error) {
	found := map[int64]*claims{}
	of := func(clientID int64, client string) *claims {
		if found[clientID] == nil {
			found[clientID] = &claims{ClientID: clientID, Client: client}
		}
		return found[clientID]
	}
	open, err := store.OpenInstalments(tx, clientIDs)
	if err != nil {
		return nil, err
	}
	for i := range open {
		c := of(open[i].ClientID, open[i].Client)
		c.Open = append(c.Open, open[i])
	}
	credits, err := store.AllCredits(tx, clientIDs)
	if err != nil {
		return nil, err
	}
	for _, credit := range credits {
		c := of(credit.ClientID, credit.Client)
		c.Credits = append(c.Credits, credit)
	}
	held, err := store.FundsHeld(tx, clientIDs)
	for i := range held {
		c := of(held[i].ClientID, held[i].Client)
		c.Held = append(c.Held, held[i])
	}
	return found, err
}

// allOpen is what is open of all claims, one client after the other.
func allOpen(of []*claims) []store.OpenInstalment {
	rows := []store.OpenInstalment{}
	for i := range of {
		rows = append(rows, of[i].Open...)
	}
	return rows
}
