package wip

import (
	"context"

	"dorvet/core/day"
	"dorvet/core/money"
	"dorvet/internal/app"
	"dorvet/internal/app/setup"
	"dorvet/internal/app/unbilled"
	"dorvet/internal/store"
)

// BoardRow is an engagement on the board: where it stands, and how much of what was
// planned is used.
type BoardRow struct {
	EngagementID int64              `json:"engagementId"`
	Engagement   string             `json:"engagement"`
	ClientID     int64              `json:"clientId"`
	Client       string             `json:"client"`
	Lead         string             `json:"lead"`
	Arrangement  string             `json:"arrangement"`
	Stage        string             `json:"stage" enum:"not_started,running,finished,closed" doc:"finished: nothing more is worked on it, or it is closed and not invoiced in full"`
	Minutes      int                `json:"minutes" doc:"worked"`
	Expected     int                `json:"expected" doc:"minutes, of its budget of hours; 0 if it has none"`
	ToBill       money.Amount       `json:"toBill" doc:"net: what a draft of everything would come to"`
	Since        day.Day            `json:"since" doc:"not started: opened; finished and closed: closed; running: last worked"`
	Budget       *setup.BudgetShare `json:"budget,omitempty"`
}

// Board reads the engagements by where they stand, the most used first.
func Board(ctx context.Context, a *app.App, actor app.Actor) ([]BoardRow, error) {
	tx, today := a.Read(ctx, actor), a.Clock.Today()
	byClient, err := app.PerClient(a, tx, "board", today.String(), func(clientIDs []int64) (map[int64]*[]BoardRow, error) {
		return boardOf(tx, clientIDs, today)
	})
	return app.Joined(byClient, func(r *BoardRow) string { return r.Client }), err
}

// boardOf are the engagements of some clients, or of all (nil), by client.
func boardOf(tx *store.DB, clientIDs []int64, today day.Day) (map[int64]*[]BoardRow, error) {
	rows, err := store.BoardRows(tx, clientIDs, today)
	if err != nil {
		return nil, err
	}
	engagements := make([]*store.Engagement, len(rows))
	for i := range rows {
		engagements[i] = &rows[i].Engagement
	}
	fees, err := feesOf(tx, engagements)
	if err != nil {
		return nil, err
	}
	budgets, err := usedOf(tx, engagements, fees, today)
	if err != nil {
		return nil, err
	}
	work, err := unbilled.All(tx, today, unbilled.Selection{UpTo: today}, clientIDs)
	if err != nil {
		return nil, err
	}
	shares := work.Shares()
	board := make([]BoardRow, 0, len(rows))
	for _, r := range rows {
		row := BoardRow{EngagementID: r.ID, Engagement: r.Name, ClientID: r.ClientID, Client: r.Client, Lead: r.Lead,
			Arrangement: r.Arrangement,
			Minutes:     r.Minutes, Expected: r.Expected,
			ToBill: money.Amount{Minor: shares[r.ID].Net, Currency: r.Currency}}
		row.Stage, row.Since = stage(&r, today)
		if share, has := budgets[r.ID]; has {
			row.Budget = &share
		}
		board = append(board, row)
	}
	return app.ByClient(board, func(r *BoardRow) int64 { return r.ClientID }), nil
}

// stage is where an engagement stands: what is closed but not invoiced in full is
// only finished, and so is what somebody says is finished.
func stage(r *store.BoardRow, today day.Day) (string, day.Day) {
	over := !r.Active || r.Stage == setup.Closed || !r.ClosedDay.IsZero() && r.ClosedDay <= today
	switch {
	case over && (r.Unbilled != 0 || r.Charges > 0):
		return setup.Finished, r.ClosedDay
	case over:
		return setup.Closed, r.ClosedDay
	case r.Stage == setup.Finished:
		return setup.Finished, r.LastWorked
	case r.Minutes == 0:
		return setup.NotStarted, r.OpenedDay
	}
	return setup.Running, r.LastWorked
}
