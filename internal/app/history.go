package app

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"dorvet/core/day"
	"dorvet/internal/store"
)

// HistoryRow is one act in the history of a thing: who, when, what, why.
type HistoryRow struct {
	Day     day.Day   `json:"day" doc:"the business date"`
	At      time.Time `json:"at"`
	Who     string    `json:"who"`
	Summary string    `json:"summary"`
	Reason  string    `json:"reason,omitempty"`
	Before  string    `json:"before,omitempty" doc:"what it was, as JSON"`
	After   string    `json:"after,omitempty" doc:"what it became, as JSON"`
}

// The things that have a history.
const (
	OfEntry    = "time_entry"
	OfInvoice  = "invoice"
	OfRun      = "billing run"
	OfPayment  = "payment"
	OfFirm     = "firm"
	OfWeek     = "week"
	OfPurchase = "purchase"
)

// recording are the acts whose sentences say nothing of what work is worth; those of the
// others are told without it to who may not see it.
var recording = []string{"record time", "change time", "remove time", "bring back time", "change together", "undo change together",
	"stop timer", "record purchase", "change purchase", "remove purchase",
	"submit week", "take week back", "approve week", "send week back", "remind of time"}

// decided are those of which the sentence is told, and nothing beside it.
var decided = []string{"decide on work", "take back a decision"}

// worthTold are what is kept before and after of what work is worth.
var worthTold = []string{"value", "flat amount", "mark-up", "cost"}

// conceal takes out of a row what work is worth.
func (r *HistoryRow) conceal(kind string) {
	switch {
	case slices.Contains(decided, kind):
		r.Reason, r.Before, r.After = "", "", ""
	case !slices.Contains(recording, kind):
		r.Summary, r.Reason, r.Before, r.After = "It was billed, or what is billed was changed", "", "", ""
	}
	for _, kept := range []*string{&r.Before, &r.After} {
		said := map[string]string{}
		if err := json.Unmarshal([]byte(*kept), &said); err != nil { // a figure, or nothing
			*kept = ""
			continue
		}
		for _, worth := range worthTold {
			delete(said, worth)
		}
		*kept = asJSON(said)
	}
}

// History is everything that was done to a thing, latest first.
func (a *App) History(ctx context.Context, actor Actor, subject string, id int64) ([]HistoryRow, error) {
	acts, err := store.ActsOn(a.Read(ctx, actor), subject, id)
	if err != nil {
		return nil, Missing(err, subject)
	}
	rows := make([]HistoryRow, 0, len(acts))
	for _, act := range acts {
		row := HistoryRow{act.BusinessDay, act.At, act.Who, act.Summary, act.Reason, act.Before, act.After}
		if !actor.SeesValues() {
			row.conceal(act.Kind)
		}
		rows = append(rows, row)
	}
	return rows, nil
}

// Counted is a number of things in the words of a history: 1 draft, 3 drafts.
func Counted(n int, one, many string) string {
	if n == 1 {
		return "1 " + one
	}
	return fmt.Sprintf("%d %s", n, many)
}
