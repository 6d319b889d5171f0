package app

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"runtime/debug"
	"sync"
	"time"

	"dorvet/internal/store"
)

// Job is long work that tells how far it is, and can be cancelled. Each of its
// steps is whole: whenever it stops, what was done is done and the rest is not.
type Job struct {
	ID       int64      `json:"id"`
	Kind     string     `json:"kind"`
	State    string     `json:"state" enum:"running,done,cancelled,failed,interrupted"`
	Whole    int        `json:"whole" doc:"steps in all"`
	Done     int        `json:"done"`
	Said     string     `json:"said" doc:"what was done, when it has stopped"`
	FileName string     `json:"fileName" doc:"of what it made, or nothing"`
	BeganAt  time.Time  `json:"beganAt"`
	EndedAt  *time.Time `json:"endedAt,omitempty"`
}

// Jobs are the jobs that run, each with what cancels it.
type Jobs struct {
	mutex   sync.Mutex
	cancels map[int64]context.CancelFunc
	running sync.WaitGroup
}

// often is how often the data is told how far a job is: each time costs a commit.
const often = 200 * time.Millisecond

// Progress is told after every step of a job.
type Progress func(done int)

// Try is one try to begin a job, under the key of its request.
type Try struct{ asked store.Idempotency }

// Try looks whether a job was begun under the key of a request already: then it is that
// job, as it is now.
func (j *Jobs) Try(ctx context.Context, a *App, r Request, kind string, input any) (before *Job, try Try, err error) {
	if r.Key == "" {
		r.Key = keyFrom(ctx)
	}
	try.asked = keyedBy(r, "begin "+kind, input)
	id := int64(0)
	known, err := answered(a.Read(ctx, r.Actor), try.asked, &id)
	if err != nil || !known {
		return nil, try, err
	}
	before, err = j.Read(ctx, a, r.Actor, id)
	return before, try, err
}

// Begin starts a job in the background; work is done when it returns, and says
// what it did. A cancelled one gets a cancelled context, and still says so.
func (j *Jobs) Begin(a *App, r Request, try Try, kind string, subjectID int64, whole int, fileName string,
	work func(ctx context.Context, job int64, tell Progress) (said string, err error)) (*Job, error) {
	row := &store.Job{Kind: kind, PersonID: r.Actor.PersonID, SubjectID: subjectID, State: "running", Whole: whole, FileName: fileName,
		BeganAt: a.Clock.Now()}
	err := a.Store.Write(context.Background(), store.Everything, func(tx *store.DB) error {
		if err := store.Insert(tx, row); err != nil || try.asked.Key == "" {
			return err
		}
		try.asked.Result, try.asked.At = asJSON(row.ID), row.BeganAt
		return store.Insert(tx, &try.asked)
	})
	if err != nil {
		return nil, err
	}
	ctx, cancel := context.WithCancel(context.Background())
	j.mutex.Lock()
	if j.cancels == nil {
		j.cancels = map[int64]context.CancelFunc{}
	}
	j.cancels[row.ID] = cancel
	j.mutex.Unlock()
	j.running.Go(func() {
		done, told := 0, time.Now()
		said, err := guarded(func() (string, error) {
			return work(ctx, row.ID, func(n int) {
				if done = n; time.Since(told) >= often {
					told = time.Now()
					j.step(a, row.ID, done)
				}
			})
		})
		j.end(a, row.ID, done, said, err, ctx.Err() != nil)
		cancel()
	})
	return jobView(row), nil
}

// Aside does something short after the answer was given, so that its outcome and the time that it takes tell nothing to who asked. A
// failure is logged.
func (j *Jobs) Aside(what string, work func() error) {
	j.running.Go(func() {
		if _, err := guarded(func() (string, error) { return "", work() }); err != nil {
			slog.Error("what was to be done aside failed", "what", what, "error", err)
		}
	})
}

// guarded turns a panic of a job into its failure: the others go on.
func guarded(work func() (string, error)) (said string, err error) {
	defer func() {
		if cause := recover(); cause != nil {
			err = fmt.Errorf("the job broke off: %v\n%s", cause, debug.Stack())
		}
	}()
	return work()
}

func (j *Jobs) step(a *App, id int64, done int) {
	if err := a.Store.Write(context.Background(), store.Everything,
		func(tx *store.DB) error { return store.JobStep(tx, id, done) }); err != nil {
		slog.Warn("how far a job is was not noted", "job", id, "error", err)
	}
}

func (j *Jobs) end(a *App, id int64, done int, said string, err error, cancelled bool) {
	state := "done"
	switch {
	case cancelled:
		state = "cancelled"
	case err != nil:
		state, said = "failed", failed(id, err)
	}
	err = a.Store.Write(context.Background(), store.Everything,
		func(tx *store.DB) error { return store.EndJob(tx, id, done, state, said, a.Clock.Now()) })
	if err != nil {
		slog.Error("the end of a job was not noted", "job", id, "state", state, "error", err)
	}
	j.mutex.Lock()
	delete(j.cancels, id)
	j.mutex.Unlock()
}

// failed says to who began a job why it stopped; a failure goes into the log under the
// number of the job.
func failed(id int64, err error) string {
	var refused *Refusal
	if errors.As(err, &refused) {
		return refused.Words()
	}
	slog.Error("a job failed", "job", id, "error", err)
	if trouble := store.Trouble(err); trouble != "" {
		return trouble + " What was done before stays."
	}
	return fmt.Sprintf("Something went wrong; what was done before stays. Tell whoever runs Dorvet that it was job %d: what "+
		"happened stands in its log.", id)
}

// Cancel stops a job after the step that it is at.
func (j *Jobs) Cancel(ctx context.Context, a *App, actor Actor, id int64) error {
	if _, err := j.Read(ctx, a, actor, id); err != nil {
		return err
	}
	j.mutex.Lock()
	defer j.mutex.Unlock()
	if cancel := j.cancels[id]; cancel != nil {
		cancel()
	}
	return nil
}

// Read tells how far a job of the actor's is.
func (j *Jobs) Read(ctx context.Context, a *App, actor Actor, id int64) (*Job, error) {
	row, err := store.JobOf(a.Read(ctx, actor), actor.PersonID, id)
	if err != nil {
		return nil, Missing(err, "job")
	}
	return jobView(row), nil
}

// Stop cancels every job and waits until they have stopped.
func (j *Jobs) Stop() {
	j.mutex.Lock()
	for _, cancel := range j.cancels {
		cancel()
	}
	j.mutex.Unlock()
	j.running.Wait()
}

// Wait waits until no job runs.
func (j *Jobs) Wait() { j.running.Wait() }

func jobView(row *store.Job) *Job {
	return &Job{ID: row.ID, Kind: row.Kind, State: row.State, Whole: row.Whole, Done: row.Done, Said: row.Said, FileName: row.FileName,
		BeganAt: row.BeganAt, EndedAt: row.EndedAt}
}
