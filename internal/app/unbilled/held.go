package unbilled

import (
	"slices"

	"dorvet/core/funds"
	"dorvet/internal/store"
)

// Money is what a client has with the firm that a bill may take.
type Money struct {
	Credit    int64                  // minor units, free
	FundsHeld []store.ClientFundsRow // in the order in which they are taken
}

// MoneyFor reads what a bill of some engagements may take, beside what other drafts have
// reserved: credit of the client, funds of the engagements, then what is held for the
// client as such.
func MoneyFor(tx *store.DB, account store.Account, engagementIDs []int64, butInvoiceID int64) (Money, error) {
	credit, err := store.CreditOf(tx, account, butInvoiceID)
	if err != nil {
		return Money{}, err
	}
	held, err := store.FundsOfAccount(tx, account, butInvoiceID)
	return Money{credit.Free(), fundsFor(held, engagementIDs)}, err
}

func fundsFor(held []store.ClientFundsRow, engagementIDs []int64) []store.ClientFundsRow {
	own := []store.ClientFundsRow{}
	for _, p := range held {
		if p.EngagementID == nil || slices.Contains(engagementIDs, *p.EngagementID) {
			own = append(own, p)
		}
	}
	return own
}

// InOrder are the funds as the core asks for them.
func (m Money) InOrder() []funds.Held {
	list := make([]funds.Held, len(m.FundsHeld))
	for i, p := range m.FundsHeld {
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
	held     map[store.Account][]store.ClientFundsRow
}

func newHeld(tx *store.DB) *held {
	return &held{tx: tx, credit: map[store.Account]funds.Held{}, held: map[store.Account][]store.ClientFundsRow{}}
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
	if _, read := h.held[account]; !read {
		if h.credit[account], err = store.CreditOf(h.tx, account, 0); err != nil {
			return m, err
		}
		if h.held[account], err = store.FundsOfAccount(h.tx, account, 0); err != nil {
			return m, err
		}
	}
	return Money{h.credit[account].Free(), fundsFor(h.held[account], engagementIDs)}, nil
}

// take notes what a bill takes of an account.
func (h *held) take(account store.Account, b *Bill) {
	credit := h.credit[account]
	credit.Reserved += b.Totals.Credit.Minor
	h.credit[account] = credit
	for i, amount := range b.Funds {
		for n := range h.held[account] {
			if p := &h.held[account][n]; p.ID == b.fundsHeld[i].ID {
				p.Reserved += amount
			}
		}
	}
}
