package store

import (
	"time"

	"dorvet/core/worktime"
)

// TimerRow is a timer with the names around it and its runs so far.
type TimerRow struct {
	Timer
	Engagement, Client, Service, Phase string
	Runs                               []worktime.Run `gorm:"-"`
}

const timerRows = `SELECT m.*, e.name AS engagement, c.name AS client, s.name AS service, COALESCE(f.name, '') AS phase
	FROM timers m JOIN engagements e ON e.id = m.engagement_id JOIN clients c ON c.id = e.client_id JOIN services s ON s.id = m.service_id
	LEFT JOIN phases f ON f.id = m.phase_id WHERE NOT m.stopped `

// TimersOf reads a person's timers, the one that runs first.
func TimersOf(tx *DB, personID int64) ([]TimerRow, error) {
	return timersWith(tx, "AND m.person_id = ? ORDER BY m.running_since IS NULL, m.id DESC", personID)
}

// TimerByID reads a timer that was not stopped, or ErrNotFound.
func TimerByID(tx *DB, id int64) (*TimerRow, error) {
	rows, err := timersWith(tx, "AND m.id = ?", id)
	if err == nil && len(rows) == 0 {
		err = ErrNotFound
	}
	if err != nil {
		return nil, err
	}
	return &rows[0], nil
}

func timersWith(tx *DB, where string, value any) ([]TimerRow, error) {
	rows := []TimerRow{}
	if err := tx.gorm.Raw(timerRows+where, value).Scan(&rows).Error; err != nil {
		return nil, err
	}
	for i := range rows {
		runs := []TimerRun{}
		if err := tx.gorm.Order("began_at").Find(&runs, "timer_id = ?", rows[i].ID).Error; err != nil {
			return nil, err
		}
		for _, run := range runs {
			rows[i].Runs = append(rows[i].Runs, worktime.Run{Began: run.BeganAt, Ended: run.EndedAt})
		}
	}
	return rows, nil
}

// RunsUntil are the runs of a timer, the present one up to an instant.
func (r *TimerRow) RunsUntil(now time.Time) []worktime.Run {
	if r.RunningSince == nil {
		return r.Runs
	}
	return append(r.Runs[:len(r.Runs):len(r.Runs)], worktime.Run{Began: *r.RunningSince, Ended: now})
}
