package api

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"slices"
	"sync"
	"time"

	"dorvet/core/refusal"
	"dorvet/internal/app"
	"dorvet/internal/app/identity"
)

// exports are the operations by which data leaves the house.
var exports = []string{"exportRecords", "exportWork", "exportJournal", "makeFile", "makeDocuments", "readMade"}

// watch writes into the security log what of requests belongs there.
type watch struct {
	mutex sync.Mutex
	last  map[string]time.Time
}

// seldom is how often the same line of a person is written at most.
const seldom = time.Minute

// due reports whether a line is written: the same of a person once a minute.
func (w *watch) due(line string, now time.Time) bool {
	w.mutex.Lock()
	defer w.mutex.Unlock()
	if w.last == nil || len(w.last) > 10_000 {
		w.last = map[string]time.Time{}
	}
	if now.Sub(w.last[line]) < seldom {
		return false
	}
	w.last[line] = now
	return true
}

// noted writes what became of an operation into the security log, if it belongs there. An
// export or a look at bank details that can't be logged does not happen.
func (s *server) noted(ctx context.Context, actor app.Actor, name, summary string, in any, err error) error {
	entry := identity.Entry{PersonID: actor.PersonID, Whence: s.whence(ctx), Said: summary}
	var refused *refusal.Refusal
	switch {
	case errors.As(err, &refused) && refused.Kind == app.Forbidden:
		entry.Kind = identity.Refused
	case err != nil:
		return err
	case slices.Contains(exports, name):
		entry.Kind = identity.Exported
	case readsBank(name, in):
		entry.Kind, entry.Said = identity.ReadBank, "of issuing entities"
	default:
		return nil
	}
	if !s.watch.due(fmt.Sprint(entry.Kind, entry.Said, actor.PersonID), time.Now()) {
		return err
	}
	if problem := identity.Log(ctx, s.app, entry); problem != nil && err == nil {
		return problem
	} else if problem != nil {
		slog.Error("a refusal was not logged", "error", problem)
	}
	return err
}

// readsBank reports whether an operation answers with bank details.
func readsBank(name string, in any) bool {
	switch asked := in.(type) {
	case *recordInput:
		return name == "readRecord" && asked.Kind == "entities"
	case *listInput:
		return asked.Kind == "entities"
	}
	return false
}
