package receivables

import (
	"dorvet/core/day"
	"dorvet/internal/app/profiles"
	"dorvet/internal/store"
)

// passing is what no letter asks for, and why.
type passing struct {
	clients  map[int64]string // held as a whole
	invoices map[int64]string
	promised map[int64]day.Day // by invoice
}

// passingOver reads what is left alone on a day, of some clients or of all (nil).
func passingOver(tx *store.DB, clientIDs []int64, today day.Day) (passing, error) {
	p := passing{map[int64]string{}, map[int64]string{}, nil}
	holds, err := store.Holds(tx, clientIDs, today)
	if err != nil {
		return p, err
	}
	for _, h := range holds {
		if h.InvoiceID == nil {
			p.clients[h.ClientID] = heldWords(&h)
		} else {
			p.invoices[*h.InvoiceID] = heldWords(&h)
		}
	}
	silent, err := store.InvoicesNotReminded(tx, clientIDs)
	if err != nil {
		return p, err
	}
	for _, id := range silent {
		p.invoices[id] = "reminders of it are off"
	}
	p.promised, err = store.PromisedOn(tx, clientIDs, today)
	return p, err
}

func heldWords(h *store.ReminderHold) string {
	words := "left alone"
	if !h.Until.IsZero() {
		words += " until " + h.Until.Long()
	}
	return words + ": " + h.Reason
}

// why is why an instalment is not asked for; nothing: it is.
func (p passing) why(row *store.OpenInstalment, today day.Day) string {
	if held := p.invoices[row.InvoiceID]; held != "" {
		return held
	}
	if on, is := p.promised[row.InvoiceID]; is && on >= today {
		return "promised for " + on.Long()
	}
	return ""
}

// remindersOff says which of some clients, or of all (nil), get no reminders by letter. They may be called all the same.
func remindersOff(tx *store.DB, clientIDs []int64) (func(clientID int64) bool, error) {
	wants, err := profiles.Nearest(tx, "reminders", clientIDs...)
	return func(clientID int64) bool { return wants(clientID, 0) == "no" }, err
}
