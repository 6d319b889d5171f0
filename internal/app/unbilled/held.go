package unbilled

import (
	"slices"

	"dorvet/core/funds"
	"dorvet/internal/store"
)

// Money is what a client has with the firm that a bill may take.
type Money struct {
	Credit int64            // minor units, free
	Purses []store.PurseRow // in the order in which they are taken
}

// MoneyFor reads what a bill of some engagements may take, beside what other drafts have
// reserved: credit of the client, purses of the engagements, then what is held for the
// client as such.
func MoneyFor(tx *store.DB, account store.Account, engagementIDs []int64, butInvoiceID int64) (Money, error) {
	credit, err := store.CreditOf(tx, account, butInvoiceID)
	if err != nil {
		return Money{}, err
	}
	purses, err := store.PursesOf(tx, account, butInvoiceID)
	return Money{credit.Free(), pursesFor(purses, engagementIDs)}, err
}

func pursesFor(purses []store.PurseRow, engagementIDs []int64) []store.PurseRow {
	own := []store.PurseRow{}
	for _, p := range purses {
		if p.EngagementID == nil || slices.Contains(engagementIDs, *p.EngagementID) {
			own = append(own, p)
		}
	}
	return own
}

// InOrder are the purses as the core asks for them.
func (m Money) InOrder() []funds.Held {
	list := make([]funds.Held, len(m.Purses))
	for i, p := range m.Purses {
		list[i] = funds.Held{ID: p.ID, Held: p.Held, Reserved: p.Reserved}
	}
	return list
}

// held is the money of clients while drafts are looked at one after the other: what one
// takes, the next finds gone.
type held struct {
	tx       *store.DB
	accounts map[store.Account]bool // that have anything; nil: not read yet
	credit   map[store.Account]funds.Held
	purses   map[store.Account][]store.PurseRow
}

func newHeld(tx *store.DB) *held {
	return &held{tx: tx, credit: map[store.Account]funds.Held{}, purses: map[store.Account][]store.PurseRow{}}
}

func (h *held) of(account store.Account, engagementIDs []int64) (m Money, err error) {
	if h.accounts == nil {
		if h.accounts, err = store.AccountsWithMoney(h.tx); err != nil {
			return m, err
		}
	}
	if !h.accounts[account] { // of many, few have a client with money
		return m, nil
	}
	if _, read := h.purses[account]; !read {
		if h.credit[account], err = store.CreditOf(h.tx, account, 0); err != nil {
			return m, err
		}
		if h.purses[account], err = store.PursesOf(h.tx, account, 0); err != nil {
			return m, err
		}
	}
	return Money{h.credit[account].Free(), pursesFor(h.purses[account], engagementIDs)}, nil
}

// take notes what a draft takes.
func (h *held) take(d *Draft) {
	account := d.account()
	credit := h.credit[account]
	credit.Reserved += d.Totals.Credit.Minor
	h.credit[account] = credit
	for i, amount := range d.Funds {
		for n := range h.purses[account] {
			if p := &h.purses[account][n]; p.ID == d.Purses[i].ID {
				p.Reserved += amount
			}
		}
	}
}
